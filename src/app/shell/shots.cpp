#include "shell/shots.hpp"

#include <cstdio>
#include <QApplication>
#include <QDir>
#include <QElapsedTimer>
#include <QPixmap>
#include <QSlider>
#include <QThread>

#include "bench/bench_page.hpp"
#include "flow/flow_page.hpp"
#include "ledger/ledger_page.hpp"
#include "ledger/shelf_view.hpp"
#include "mix/mix_page.hpp"
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
  const char* names[stage_count] = {"original", "size", "split", "mould", "flow",
                                    "mix",      "days", "bench", "check", "ledger"};
  wait();
  for (int i = 0; i < stage_count; ++i) {
    w.go(static_cast<Stage>(i));
    if (static_cast<Stage>(i) != Stage::bench) shot(names[i]);  // its window is shot below
  }
  // The mirrored latch: its master, and materials by need; the collar without a mesh.
  const std::string bracket = w.desk().job().id;
  const auto open = [&](const char* name) {
    if (const auto rows = w.desk().workshop().jobs())
      for (const JobRow& r : *rows)
        if (r.name == name) w.desk().open_job(r.id);
    wait();
  };
  const auto press = [&](const char* name) {
    if (auto* b = w.findChild<QPushButton*>(QLatin1String(name))) b->click();
    wait();
  };
  w.go(Stage::original);
  open("Drum latch, left hand");
  w.go(Stage::size);
  press("size-choose");
  shot("size-choose");
  press("size-chain");
  w.desk().open_job(bracket);
  w.go(Stage::split);
  wait();
  press("open-ways");
  shot("split-ways");
  press("open-ways");
  w.go(Stage::mould);
  wait();
  w.mould()->opening()->setValue(60);
  w.mould()->show_board(true);
  wait();
  w.mould()->view()->fit();
  shot("mould-board");
  w.mould()->show_board(false);
  w.mould()->opening()->setValue(0);
  press("open-forms");
  shot("mould-forms");
  press("open-forms");
  w.set_dusk_theme(true);
  w.ledger()->show_view(1);
  w.ledger()->shelf()->open(w.desk().job().mix.silicone_id);
  w.go(Stage::ledger);
  shot("bottle-dusk");
  w.set_dusk_theme(false);
  w.ledger()->shelf()->open({});
  shot("shelf");
  w.ledger()->show_view(0);
  w.go(Stage::mix);
  {
    // As a bench without care would have it.
    Job careless = w.desk().job();
    careless.original.finish.master_material = "printed-photopolymer";
    careless.original.finish.contacts.clay = Clay::sulphur;
    careless.original.finish.contacts.gloves = Gloves::latex;
    careless.original.finish.contacts.stick = Stick::wood;
    w.desk().edit(careless, QStringLiteral("contacts"));
    w.mix()->show_view(1);
    shot("mix-meets");
    w.mix()->show_view(0);
    w.desk().undo();
  }
  // Flow as planned, half full; a skin in its jacket.
  w.go(Stage::flow);
  wait();
  press("take-plan");
  w.flow()->filled()->setValue(55);
  shot("flow-planned");
  w.flow()->filled()->setValue(100);
  w.desk().undo();
  w.go(Stage::mould);
  {
    Job skin = w.desk().job();
    skin.mould.form = "skin";
    w.desk().edit(skin, QStringLiteral("form"));
    wait();
    w.mould()->opening()->setValue(60);
    w.mould()->view()->fit();
    shot("mould-jacket");
    w.mould()->opening()->setValue(0);
    w.desk().undo();
  }
  // The bench at its second weighing, with two thirds of B in the cup.
  w.go(Stage::bench);
  w.bench()->start(false);
  if (BenchWindow* bench = w.bench()->window()) {
    bench->resize(1280, 800);
    for (int i = 0;
         i < 60 && w.desk().run() && !w.desk().run()->screens[static_cast<size_t>(w.desk().run()->at)].ends_pot_life;
         ++i) {
      const BenchScreen& s = w.desk().run()->screens[static_cast<size_t>(w.desk().run()->at)];
      if (s.starts_pot_life && s.target_g) {
        bench->type_scale(*s.target_g);
        w.desk().bench_next(*s.target_g);
        break;
      }
      w.desk().bench_next(std::nullopt);
    }
    const BenchScreen& b = w.desk().run()->screens[static_cast<size_t>(w.desk().run()->at)];
    if (b.target_g) bench->type_scale(*b.from_g + 0.8 * (*b.target_g - *b.from_g));
    QApplication::processEvents(QEventLoop::AllEvents, 100);
    if (!bench->grab().save(dir + QStringLiteral("/bench-window.png"))) ok = false;
    bench->close();
    w.desk().end_bench();
  }
  return ok ? 0 : 1;
}

}  // namespace palinform::app
