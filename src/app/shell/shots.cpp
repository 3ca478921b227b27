#include "shell/shots.hpp"

#include <cstdio>
#include <QApplication>
#include <QDir>
#include <QElapsedTimer>
#include <QPixmap>
#include <QSlider>
#include <QThread>

#include "mould/mould_page.hpp"
#include "shell/desk.hpp"
#include "shell/main_window.hpp"
#include "shell/stage_page.hpp"

namespace palinform::app {

int take_shots(MainWindow& w, const QString& dir) {
  QDir().mkpath(dir);
  w.resize(1280, 800);
  bool ok = true;
  const auto wait = [&] {
    QElapsedTimer t;
    t.start();
    while (t.elapsed() < 20'000) {
      QApplication::processEvents(QEventLoop::AllEvents, 20);
      if (!w.desk().plan().busy() && !w.desk().errand().running && w.page(w.stage())->settled() && t.elapsed() > 150)
        break;
      QThread::msleep(5);
    }
  };
  const auto shot = [&](const char* name) {
    wait();
    const QString path = dir + QLatin1Char('/') + QLatin1String(name) + QStringLiteral(".png");
    if (!w.grab().save(path)) ok = false;
    std::printf("%s\n", path.toUtf8().constData());
  };
  const char* names[stage_count] = {"original", "size", "split", "mould", "flow", "mix", "days", "check"};
  wait();
  for (int i = 0; i < stage_count; ++i) {
    w.go(static_cast<Stage>(i));
    shot(names[i]);
  }
  w.go(Stage::mould);
  wait();
  w.mould()->opening()->setValue(70);
  w.mould()->view()->fit();
  QThread::msleep(120);
  shot("mould-opened");
  w.mould()->opening()->setValue(0);
  w.set_dusk_theme(true);
  w.go(Stage::split);
  shot("split-dusk");
  w.set_dusk_theme(false);
  return ok ? 0 : 1;
}

}  // namespace palinform::app
