// Original: the real window driven by clicks and keys; asserts what a user would see.
#include "window.hpp"

namespace tests_app_original {

TEST_CASE("wrong figures are marked and change nothing", "[app][original]") {
  Open o;
  o.window->original()->select("s1");
  const Job before = o.desk().job();
  auto* lower = o.find<QLineEdit>("size-lower");
  o.type_into(lower, "93");  // above the upper limit
  CHECK(o.desk().job() == before);
  CHECK(o.window->message_text().contains("above the upper"));
  auto* nominal = o.find<QLineEdit>("size-nominal");
  o.type_into(nominal, "abc");
  CHECK(nominal->property("fault").toBool());
  CHECK(o.desk().job() == before);
  o.window->go(Stage::mix);
  auto* cup = o.find<QLineEdit>("cup");
  o.type_into(cup, "-5");
  CHECK(cup->property("fault").toBool());
  CHECK(o.desk().job() == before);
  QTest::keyClick(o.window.get(), Qt::Key_Escape);
  CHECK(o.window->message_text().isEmpty());
}

TEST_CASE("a bad mesh file is refused in words and the job keeps its own", "[app][original]") {
  Open o;
  const Job before = o.desk().job();
  shapes::TempDir files;
  shapes::write_text(files / "broken.stl", "this is no mesh");
  o.desk().open_mesh(QString::fromStdString(files / "broken.stl"));
  o.settle_quick();
  CHECK(o.window->message_text().contains("broken.stl"));
  CHECK(o.desk().job() == before);
}

TEST_CASE("a small mesh asks whether it is inches", "[app][original]") {
  Open o(false);
  o.desk().new_job();
  shapes::TempDir files;
  REQUIRE(save_mesh(shapes::box({0, 0, 0}, {2.4, 1, 1}, 2), files / "tiny.stl"));
  o.desk().open_mesh(QString::fromStdString(files / "tiny.stl"));
  o.settle_quick();
  auto* box = o.window->findChild<QMessageBox*>("unit-question");
  REQUIRE(box);
  CHECK(box->text().contains("2.40 mm"));
  for (QAbstractButton* b : box->buttons())
    if (b->text().startsWith("Yes")) o.click(b);
  o.settle_quick();
  CHECK(o.desk().job().original.mesh.unit == LengthUnit::inch);
  CHECK(o.desk().plan().fresh(results::original)->measure.box_mm.size().x == Approx(60.96));
}

TEST_CASE("an unsound mesh is a stop with the mending as a button", "[app][original]") {
  Open o(false);
  o.desk().new_job();
  shapes::TempDir files;
  TriMesh open = shapes::box({0, 0, 0}, {40, 20, 10}, 3);
  open.triangles.erase(open.triangles.begin(), open.triangles.begin() + 2);
  REQUIRE(save_mesh(open, files / "holed.stl"));
  o.desk().open_mesh(QString::fromStdString(files / "holed.stl"));
  o.settle_quick();
  auto* card = o.card("mesh-unsound");
  REQUIRE(card);
  CHECK(o.window->strand()->button(Stage::split)->state().knot == Knot::stopped);
  o.click(card->findChild<QPushButton*>("remedy-repair"));
  o.settle_quick();
  CHECK_FALSE(o.card("mesh-unsound"));
  CHECK(o.window->message_text().contains("1 hole filled"));
  CHECK(o.desk().plan().fresh(results::split));
}

TEST_CASE("limits are typed as a class, or come from the mate", "[app][original]") {
  Open o;
  o.window->go(Stage::original);
  o.window->original()->select("s2");  // the pen bore
  auto* limits = o.find<QLineEdit>("size-limits");
  o.type_into(limits, "H8");
  CHECK(o.desk().job().original.size("s2")->upper_mm == Approx(8.022));
  CHECK(o.desk().job().original.size("s2")->limits_from == "H8");
  o.type_into(limits, "q9");
  CHECK(limits->property("fault").toBool());
  CHECK(o.desk().job().original.size("s2")->upper_mm == Approx(8.022));
  o.click(o.find<QPushButton>("size-mate"));
  o.find<QLineEdit>("mate-size")->setText("7.98");
  o.click(o.find<QPushButton>("wish-slides"));
  CHECK(o.find<QLabel>("mate-told")->text().contains("clearance"));
  o.click(o.find<QPushButton>("mate-use"));
  const MeasuredSize* s = o.desk().job().original.size("s2");
  CHECK(s->lower_mm == Approx(7.98 + 0.013));
  CHECK(s->upper_mm == Approx(7.98 + 0.050));
  CHECK(s->limits_from.find("slides") != std::string::npos);
  o.desk().undo();
  CHECK(o.desk().job().original.size("s2")->limits_from == "H8");
}

TEST_CASE("two bores by clicks give their centre distance", "[app][original]") {
  Open o;
  o.window->go(Stage::original);
  PartView* view = o.window->original()->view();
  view->look(-90, 60);
  o.settle_picture(true);
  o.click(o.find<QPushButton>("add-size"));
  o.click(o.find<QPushButton>("measure-axes"));
  const size_t before = o.desk().job().original.sizes.size();
  const auto click = [&](const Vec3& p) {
    const auto q = view->camera().project(p);
    o.window->original()->canvas_clicked(q.x, q.y);
  };
  click({31, 4, 21.5});  // the pen bore's far wall
  click({-31, 0, 9});    // a flat: refused in words
  CHECK(o.desk().job().original.sizes.size() == before);
  click({31 + 9.5, -5.5, 15});  // the boss outside: one and the same axis
  CHECK(o.desk().job().original.sizes.size() == before);
}

TEST_CASE("the latch is mirrored, stocked and undone in the window; the file is written scaled", "[app][original]") {
  Open o(true, "5a17e0d4b2c94f6e8a1bb2c3d4e5f605");
  o.window->go(Stage::original);
  CHECK(o.card("mirror"));
  o.click(o.find<QPushButton>("master-chip"));
  o.settle_picture(true);
  CHECK(o.find<QLabel>("print-advice")->text().contains("1.00180"));
  CHECK(o.find<QLabel>("master-told")->text().contains("ml"));
  o.click(o.find<QPushButton>("step-drop-0"));
  o.settle_quick();
  CHECK(o.desk().job().original.master_steps.empty());
  CHECK_FALSE(o.card("mirror"));
  o.click(o.find<QPushButton>("mirror-y"));
  o.settle_picture(true);
  REQUIRE(o.desk().job().original.master_steps.size() == 1);
  const auto master = o.desk().plan().fresh(results::master);
  REQUIRE(master);
  // Stock on the underside, clicked from below.
  PartView* view = o.window->original()->view();
  view->look(-60, -50);
  o.settle_picture(true);
  o.type_into(o.find<QLineEdit>("stock-mm"), "0.5");
  o.click(o.find<QPushButton>("step-stock"));
  const auto q = view->camera().project({-4, 0, 0});
  o.window->original()->canvas_clicked(q.x, q.y);
  o.settle_quick();
  REQUIRE(o.desk().job().original.master_steps.size() == 2);
  const auto more = o.desk().plan().fresh(results::master);
  REQUIRE(more);
  CHECK(more->measure.box_mm.min.z == Approx(master->measure.box_mm.min.z - 0.5).margin(0.02));
  o.desk().undo();
  o.settle_quick();
  CHECK(o.desk().job().original.master_steps.size() == 1);
  o.desk().write_master(QString::fromStdString(o.dir / "latch.stl"));
  o.settle_quick();
  const auto written = load_mesh(o.dir / "latch.stl");
  REQUIRE(written);
  CHECK(measure(written->mesh).volume_mm3 == Approx(master->measure.volume_mm3 * std::pow(1.0018, 3)).epsilon(1e-4));
}

TEST_CASE("faces are marked and unmarked by clicks; finish is asked once", "[app][original]") {
  Open o(true, "5a17e0d4b2c94f6e8a1bb2c3d4e5f604");  // the spare bracket, just opened
  o.window->go(Stage::original);
  CHECK(o.card("finish-later"));
  o.click(o.find<QPushButton>("faces-chip"));
  PartView* view = o.window->original()->view();
  view->look(-90, 70);
  o.settle_picture(true);
  const auto click = [&] {
    const auto q = view->camera().project({10, -9, 9});
    o.window->original()->canvas_clicked(q.x, q.y);
    o.settle_picture(true);
  };
  o.click(o.find<QPushButton>("mark-show"));
  click();
  REQUIRE(o.desk().job().original.marks.size() == 1);
  CHECK(o.find<QLabel>("marks-told")->text().startsWith("1 show"));
  click();
  CHECK(o.desk().job().original.marks.empty());
  o.click(o.find<QPushButton>("later-paint"));
  o.settle_quick();
  CHECK(o.desk().job().original.finish.later == Later::paint);
  CHECK_FALSE(o.card("finish-later"));
  CHECK(o.card("finish-release"));
}

TEST_CASE("a size is typed where there is nothing to click on", "[app][original]") {
  Open o(false);
  o.desk().new_job();
  o.window->go(Stage::original);
  o.settle_quick();
  o.click(o.find<QPushButton>("add-size"));
  o.settle_quick();
  REQUIRE(o.desk().job().original.sizes.size() == 1);
  o.type_into(o.find<QLineEdit>("size-nominal"), "24");
  CHECK(o.desk().job().original.sizes[0].nominal_mm == 24);
}

TEST_CASE("sizes come from a table and go back to one; a wrong line is named", "[app][original]") {
  Open o;
  shapes::write_text(o.dir / "more.csv", "name,nominal_mm,limits\nNotch,4,H9\nLip,3,\u00b10.1\n");
  const size_t before = o.desk().job().original.sizes.size();
  o.desk().read_sizes(QString::fromStdString(o.dir / "more.csv"));
  CHECK(o.desk().job().original.sizes.size() == before + 2);
  CHECK(o.desk().job().original.sizes.back().upper_mm == Approx(3.1));
  shapes::write_text(o.dir / "bad.csv", "name,nominal_mm\nNotch,four\n");
  QString said;
  QObject::connect(&o.desk(), &Desk::message, [&](const QString& t, bool fault) {
    if (fault) said = t;
  });
  o.desk().read_sizes(QString::fromStdString(o.dir / "bad.csv"));
  CHECK(said.contains("line 2"));
  CHECK(o.desk().job().original.sizes.size() == before + 2);
  o.desk().write_sizes(QString::fromStdString(o.dir / "out.csv"));
  CHECK(read_file(o.dir / "out.csv")->find("Notch,outer") != std::string::npos);
}

}  // namespace tests_app_original
