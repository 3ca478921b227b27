#pragma once
/// The real window on a workshop of its own, for the tests that drive it by clicks and keys.
#include <catch2/catch.hpp>
#include <filesystem>
#include <QAbstractButton>
#include <QApplication>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QMessageBox>
#include <QPushButton>
#include <QSignalSpy>
#include <QSlider>
#include <QTest>
#include <QTimer>

#include <set>

#include "bench/bench_page.hpp"
#include "bench/device_hub.hpp"
#include "bench/tape_view.hpp"
#include "check/check_page.hpp"
#include "days/days_page.hpp"
#include "flow/flow_page.hpp"
#include "ledger/demo.hpp"
#include "ledger/ledger_page.hpp"
#include "mesh/save.hpp"
#include "mix/colour_view.hpp"
#include "mix/cup_view.hpp"
#include "mix/mix_page.hpp"
#include "mould/mould_page.hpp"
#include "original/original_page.hpp"
#include "overview/sheet.hpp"
#include "rough_study.hpp"
#include "shapes.hpp"
#include "shell/desk.hpp"
#include "shell/findings_panel.hpp"
#include "shell/main_window.hpp"
#include "shell/strand.hpp"
#include "split/split_page.hpp"
#include "theme/theme.hpp"
#include "view3d/part_view.hpp"

using namespace palinform;
using namespace palinform::app;

/// A window on a demo workshop of its own.
struct Open {
  shapes::TempDir dir;
  std::string path;
  std::unique_ptr<MainWindow> window;

  explicit Open(bool demo = true, const char* job = "5a17e0d4b2c94f6e8a1bb2c3d4e5f601") {
    path = dir / "workshop.sqlite";
    if (demo) REQUIRE(write_demo(dir.str(), std::filesystem::path(PALINFORM_DEMO_MESHES).parent_path().string()));
    start(demo ? job : "");
  }
  static std::unique_ptr<Desk> desk_on(const std::string& workshop) {
    // What one test has worked out the next one need not: results go by the hash of what they were made from.
    static const auto store = std::make_shared<ResultStore>(size_t{2} << 30);
    return std::make_unique<Desk>(*Workshop::open(workshop), starting_shop(), store, rough_study());
  }
  void start(const std::string& job) {
    window.reset();
    window = std::make_unique<MainWindow>(desk_on(path));
    if (!job.empty()) window->desk().open_job(job);
    window->show();
    REQUIRE(QTest::qWaitForWindowExposed(window.get()));
    settle();
  }
  void settle(int limit_ms = 300'000) {
    QElapsedTimer t;
    t.start();
    do QTest::qWait(10);
    while ((window->desk().plan().busy() || window->desk().errand().running) && t.elapsed() < limit_ms);
    if (t.elapsed() >= limit_ms) FAIL("the window was still at work after " << limit_ms / 1000 << " s");
    QTest::qWait(130);  // the findings are rebuilt at most ten times a second
  }
  /// Until nothing runs but what takes longest and this test does not ask for: solids to be written, air, filling.
  void settle_quick(int limit_ms = 300'000) {
    static const std::set<std::string_view> slow{"solids",  "soundness", "rubber-air", "cavity",
                                                 "network", "flow",      "air-plan",   "air-advice",
                                                 "filling", "other-air", "draws",      "choose"};
    const auto running = [&] {
      for (const SlotState& v : desk().plan().states())
        if (v.state == Freshness::running && !slow.contains(v.name)) return true;
      return desk().errand().running;
    };
    QElapsedTimer t, quiet;
    t.start(), quiet.start();
    while (quiet.elapsed() < 160 && t.elapsed() < limit_ms) {
      QTest::qWait(10);
      if (running()) quiet.restart();
    }
    if (t.elapsed() >= limit_ms) FAIL("the window was still at work after " << limit_ms / 1000 << " s");
  }
  void settle_picture(bool quick = false) {
    if (quick)
      settle_quick();
    else
      settle();
    REQUIRE(QTest::qWaitFor([&] { return window->page(window->stage())->settled(); }, 120'000));
  }
  Desk& desk() { return window->desk(); }
  template <class W>
  W* find(const QString& name) {
    W* w = window->findChild<W*>(name);
    INFO("looking for " << name.toStdString());
    REQUIRE(w);
    return w;
  }
  void click(QWidget* w) { QTest::mouseClick(w, Qt::LeftButton); }
  void type_into(QLineEdit* e, const QString& s) {
    e->setFocus();
    e->selectAll();
    if (s.isEmpty()) QTest::keyClick(e, Qt::Key_Delete);
    QTest::keyClicks(e, s);
    QTest::keyClick(e, Qt::Key_Return);
  }
  /// The card of a finding, whichever stage it is told at: another's is unfolded first, as a press on its line does.
  FindingCard* card(const QString& code) {
    for (const OpenFinding& f : findings_of(desk().job(), desk().plan()))
      if (QString::fromStdString(f.finding.key()).startsWith(code) && f.stage != window->stage())
        window->findings()->unfold(f.stage);
    QTest::qWait(20);
    for (FindingCard* c : window->findings()->findChildren<FindingCard*>())
      if (c->isVisible() && QString::fromStdString(c->finding().finding.key()).startsWith(code)) return c;
    return nullptr;
  }
  QString card_texts() {
    QString all;
    for (QLabel* l : window->findings()->findChildren<QLabel*>()) all += l->text() + "\n";
    return all;
  }
};
