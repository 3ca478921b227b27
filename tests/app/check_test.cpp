// Check in the real window: a casting with a bubble, its cause, the change, and the next one healed; scans; run charts.
#include "window.hpp"

#include "job/apply.hpp"
#include "mesh/save.hpp"

namespace tests_app_check {

namespace {

void look(Open& o, const char* name) {
  if (const char* dir = std::getenv("PALINFORM_LOOK")) {
    o.window->resize(1280, 800);
    o.settle_picture();
    o.window->grab().save(QString::fromUtf8(dir) + "/" + name + ".png");
  }
}

/// Where the canvas shows a place.
QPointF on_canvas(PartView* view, const Vec3& at) {
  const auto q = view->camera().project(at);
  return {q.x, q.y};
}

}  // namespace

TEST_CASE("check: a casting without sizes is looked at; a bubble, its cause, the change, healed on the next",
          "[app][check]") {
  Open o;
  // No sizes, and the vents are gone: air stays.
  Job job = o.desk().job();
  job.original.sizes.clear();
  job.check.castings.clear();
  job.flow.vents = {};
  job.flow.gate.reset();
  REQUIRE(o.desk().edit(job, "no vents"));
  o.settle();
  auto next = edited(o.desk().job(), edits::SetGate{{46, 0, 3}});
  REQUIRE(o.desk().edit(*next, "gate"));
  o.settle();
  const auto flow = o.desk().plan().fresh(results::flow);
  REQUIRE(flow);
  o.window->go(Stage::check);
  o.settle();
  auto* begin = o.find<QPushButton>("new-casting");
  CHECK(begin->isEnabled());
  o.click(begin);
  o.settle();
  REQUIRE(o.desk().job().check.castings.size() == 1);
  LookView* view = o.window->check()->look();
  REQUIRE(view->isVisible());
  o.settle_picture();
  o.click(o.find<QPushButton>("fault-void"));
  o.settle();
  REQUIRE(o.desk().job().check.castings[0].faults.size() == 1);
  // Clicked where Flow has its largest pocket: the part is turned until that place shows.
  Vec3 apex = flow->pockets.front().vent_mm;
  double most = -1;
  for (const PocketSeen& p : flow->pockets)
    if (p.pocket.volume_mm3 > most) most = p.pocket.volume_mm3, apex = p.vent_mm;
  view->view()->look(40, 50);
  o.settle_picture();
  const QPointF at = on_canvas(view->view(), apex);
  QTest::mouseClick(view->view(), Qt::LeftButton, {}, at.toPoint());
  o.settle();
  const FaultSeen seen = o.desk().job().check.castings[0].faults.at(0);
  REQUIRE(seen.at_mm);
  o.type_into(o.find<QLineEdit>("fault-0-size"), "3");
  o.settle();
  CHECK(o.desk().job().check.castings[0].faults[0].size_mm == 3);
  const auto whys = o.desk().plan().fresh(results::whys);
  REQUIRE(whys);
  const Why& why = whys->castings.at(0).whys.at(0);
  CHECK(why.causes.front().cause == Cause::no_way_out);
  look(o, "check-look");
  // It is told among the findings, with the same change.
  REQUIRE(o.card("check-fault"));
  // One press: a vent more, and it is written down what it is for.
  const size_t vents = o.desk().job().flow.vents.size();
  o.click(o.find<QPushButton>("fault-0-change"));
  o.settle();
  CHECK(o.desk().job().flow.vents.size() == vents + 1);
  REQUIRE(o.desk().job().check.changes.size() == 1);
  CHECK_FALSE(o.find<QPushButton>("fault-0-change")->isEnabled());
  // The cause is confirmed, and the shop keeps it.
  const auto before = o.desk().equipment().causes;
  o.click(o.find<QPushButton>("fault-0-was-no-way-out"));
  o.settle();
  CHECK(o.desk().job().check.castings[0].faults[0].confirmed);
  CHECK(o.desk().equipment().causes != before);
  CHECK_FALSE(o.card("check-fault"));
  // The next casting says what was changed, and that it helped once nothing is seen on it.
  o.click(o.find<QPushButton>("new-casting"));
  o.settle();
  REQUIRE(o.desk().job().check.castings.size() == 2);
  CHECK(o.find<QLabel>("change-told")->text().contains("Tick what is seen"));
  o.click(o.find<QPushButton>("fault-none"));
  o.settle();
  CHECK(o.find<QLabel>("change-told")->text().contains("It helped"));
  CHECK(o.desk().job().check.castings[1].worth == Worth::good);
  look(o, "check-healed");
  // Undone, it is as before; closed and opened again, all of it is there.
  const Job kept = o.desk().job();
  o.start(kept.id);
  CHECK(o.desk().job().check == kept.check);
}

TEST_CASE("check: by pull, a size's chart and the faults below it", "[app][check]") {
  Open o(true, "5a17e0d4b2c94f6e8a1bb2c3d4e5f603");
  o.window->go(Stage::check);
  o.settle();
  o.click(o.find<QPushButton>("check-pulls"));
  o.settle();
  RunView* runs = o.window->check()->by_pull();
  REQUIRE(runs->isVisible());
  REQUIRE(runs->chart());
  CHECK(runs->chart()->mean_mm == Approx(40.71).margin(0.01));
  CHECK(o.find<QLabel>("run-told")->text().contains("6 castings"));
  look(o, "check-pulls");
  o.click(o.find<QPushButton>("run-s2"));
  CHECK(runs->chart()->mean_mm == Approx(8.465).margin(0.01));
}

TEST_CASE("check: a scan is laid on the original, mapped, and read as sizes", "[app][check]") {
  Open o(true, "5a17e0d4b2c94f6e8a1bb2c3d4e5f603");
  o.window->go(Stage::check);
  o.settle();
  o.click(o.find<QPushButton>("casting-4"));
  o.click(o.find<QPushButton>("check-scan"));
  o.settle();
  const auto scan = o.desk().plan().fresh(results::scans[0]);
  REQUIRE(scan);
  CHECK(scan->number == 5);
  CHECK(scan->aligned.rms_mm < 0.05);
  CHECK(scan->deviation.covered_share > 0.98);
  REQUIRE(scan->scale);
  CHECK(scan->scale->x == Approx(0.9965).margin(8e-4));
  CHECK(o.find<QLabel>("scan-told")->text().contains("of the skin within"));
  look(o, "check-scan");
  // Read as sizes by a press: the thickness, 0.35 % less and sunk a little in the middle.
  REQUIRE_FALSE(scan->sizes.empty());
  const double reach = scan->sizes[0].mm;
  CHECK(scan->sizes[0].size_id == "s2");
  CHECK(reach == Approx(8.4 * 0.9965 - 0.13).margin(0.06));
  o.click(o.find<QPushButton>("scan-take"));
  o.settle();
  bool taken = false;
  for (const CastReading& r : o.desk().job().check.castings[4].readings)
    if (r.size_id == scan->sizes[0].size_id) taken = r.values_mm.at(0) == Approx(reach).margin(1e-3);
  CHECK(taken);
  // On paper and as a workbook: whole files, whatever stands there.
  for (const char* end : {"/fa.pdf", "/fa.xlsx"}) {
    const std::string path = o.dir.str() + end;
    o.window->check()->write_first_article(QString::fromStdString(path));
    o.settle();
    const auto bytes = read_file(path);
    REQUIRE(bytes);
    CHECK(bytes->size() > 2000);
    CHECK(bytes->substr(0, 2) == (std::string(end).ends_with("pdf") ? "%P" : "PK"));
    CHECK_FALSE(std::filesystem::exists(path + ".part"));
  }
  // Of a casting without one it says what to do; one in inches is refused in words.
  o.click(o.find<QPushButton>("casting-1"));
  o.settle();
  CHECK(o.find<QPushButton>("scan-open")->isVisible());
  const auto original = o.desk().plan().fresh(results::original);
  const std::string inches = o.dir / "inches.stl";
  REQUIRE(save_mesh(scaled(*original->mesh, 1 / 25.4), inches));
  o.desk().scan_casting(QString::fromStdString(inches), 6);
  o.settle();
  CHECK(o.desk().plan().state(results::laid_scans[0]).state == Freshness::failed);
  CHECK(o.desk().plan().state(results::laid_scans[0]).error.what.find("inches") != std::string::npos);
}

TEST_CASE("check: a scan is seen as it was read while it is still being laid on the original", "[app][check]") {
  Open o(true, "5a17e0d4b2c94f6e8a1bb2c3d4e5f603");
  o.window->go(Stage::check);
  o.settle();
  o.click(o.find<QPushButton>("casting-1"));
  o.click(o.find<QPushButton>("check-scan"));
  o.settle();
  const auto original = o.desk().plan().fresh(results::original);
  REQUIRE(original);
  // Each face in four, twice: a scan that is not laid in an instant; and it lies elsewhere.
  TriMesh scan = transformed(*original->mesh, Transform::turn(unit(Vec3{1, 2, 3}), 0.8));
  for (int round = 0; round < 2; ++round) {
    TriMesh finer;
    for (size_t t = 0; t < scan.triangles.size(); ++t) {
      const Vec3 &a = scan.corner(t, 0), &b = scan.corner(t, 1), &c = scan.corner(t, 2);
      const auto first = static_cast<uint32_t>(finer.points.size());
      finer.points.insert(finer.points.end(), {a, b, c, (a + b) / 2, (b + c) / 2, (c + a) / 2});
      for (const auto& [i, j, k] : {std::array<uint32_t, 3>{0, 3, 5}, {3, 1, 4}, {5, 4, 2}, {3, 4, 5}})
        finer.triangles.push_back({first + i, first + j, first + k});
    }
    scan = std::move(finer);
  }
  for (Vec3& p : scan.points) p += Vec3{400, 50, -20};
  const std::string file = o.dir / "large.stl";
  REQUIRE(save_mesh(scan, file));
  const int number = o.desk().job().check.castings[1].number;
  o.desk().scan_casting(QString::fromStdString(file), number);
  QLabel* told = o.find<QLabel>("scan-told");
  REQUIRE(QTest::qWaitFor([&] { return told->text().contains("being laid on the original"); }, 60'000));
  auto* page = o.window->check();
  PartView* view = page->findChild<ScanView*>()->view();
  CHECK(view->isVisible());
  o.settle();
  CHECK(told->text().contains("of the skin within"));
  CHECK(view->isVisible());
}

TEST_CASE("split: a bar is cast in by presses, and a bore takes a thread", "[app][check]") {
  Open o(true, "5a17e0d4b2c94f6e8a1bb2c3d4e5f60e");
  o.window->go(Stage::split);
  o.settle_picture();
  o.click(o.find<QPushButton>("open-cast-in"));
  o.settle();
  // The posts' threads are listed with their way.
  auto* size = o.find<QComboBox>("thread-1-size");
  CHECK(size->currentText().startsWith("M4"));
  o.click(o.find<QPushButton>("thread-1-insert"));
  o.settle();
  REQUIRE(o.desk().job().split.inserts.size() == 1);
  CHECK(o.desk().job().split.inserts[0].name == "Bush M4");
  CHECK(o.desk().plan().fresh(results::inserts));
  look(o, "cast-in");
  o.click(o.find<QPushButton>("thread-1-cut"));
  o.settle();
  CHECK(o.desk().job().split.inserts.empty());
  o.click(o.find<QPushButton>("insert-add-bar"));
  o.settle();
  REQUIRE(o.desk().job().split.inserts.size() == 1);
  o.type_into(o.find<QLineEdit>("insert-1-across"), "2");
  o.settle();
  CHECK(o.desk().job().split.inserts[0].across_mm == 2);
  look(o, "cast-in-bar");
  o.click(o.find<QPushButton>("insert-1-drop"));
  o.settle();
  CHECK(o.desk().job().split.inserts.empty());
}

}  // namespace tests_app_check
