// Mould: the real window driven by clicks and keys; asserts what a user would see.
#include "window.hpp"

namespace tests_app_mould {

TEST_CASE("the mould opens by its slider, and the canvas answers mouse and keys", "[app][mould]") {
  Open o;
  o.window->go(Stage::mould);
  o.settle_picture();
  const QImage shut = o.window->mould()->view()->grab().toImage();
  o.window->mould()->opening()->setFocus();
  for (int i = 0; i < 6; ++i) QTest::keyClick(o.window->mould()->opening(), Qt::Key_PageUp);
  QTest::qWait(150);
  o.settle_picture();
  CHECK(o.window->mould()->view()->grab().toImage() != shut);
  PartView* view = o.window->mould()->view();
  // Left alone the picture is refined: edges are smoothed, what is pointed at stays.
  const Picture first = view->picture();
  const int usual = std::exchange(PartView::settled_passes, 7);
  view->set_camera(view->camera());
  o.settle_picture();
  PartView::settled_passes = usual;
  CHECK(view->passes() == 7);
  CHECK(view->picture().argb != first.argb);
  CHECK(view->picture().triangle == first.triangle);
  const Camera before = view->camera();
  QTest::mousePress(view, Qt::LeftButton, {}, QPoint(300, 300));
  QTest::mouseMove(view, QPoint(340, 320));
  QTest::mouseMove(view, QPoint(380, 330));
  QTest::mouseRelease(view, Qt::LeftButton, {}, QPoint(380, 330));
  CHECK_FALSE(view->camera() == before);
  view->setFocus();
  const Camera turned = view->camera();
  QTest::keyClick(view, Qt::Key_Left);
  CHECK_FALSE(view->camera() == turned);
  QTest::keyClick(view, Qt::Key_Home);
  CHECK(view->camera().mm_per_px > 0);
}

TEST_CASE("mould: the wall slides, the halves carry keys and channels, a skin gets its jacket", "[app][mould]") {
  Open o;
  o.window->go(Stage::mould);
  o.settle();
  const auto rubber = [&] { return o.desk().plan().fresh(results::mould)->mould.rubber_mm3; };
  const double before = rubber();
  o.find<QSlider>("wall-slide")->setValue(20);
  o.settle();
  CHECK(o.desk().job().mould.wall_mm == 20);
  CHECK(rubber() > 1.5 * before);
  o.desk().undo();
  o.settle_picture();
  CHECK(rubber() == before);
  // While it is dragged the mould is worked out on a coarser grid; let go, as before.
  const int columns = o.desk().plan().fresh(results::mould)->mould.nu;
  auto* slide = o.find<QSlider>("wall-slide");
  slide->setSliderDown(true);
  slide->setValue(14);
  o.settle_quick();
  const auto held = o.desk().plan().fresh(results::mould);
  CHECK(held->mould.nu < 0.7 * columns);
  const double coarse = held->mould.rubber_mm3;
  slide->setSliderDown(false);
  o.settle_quick();
  CHECK(o.desk().plan().fresh(results::mould)->mould.nu >= columns);
  CHECK(o.desk().plan().fresh(results::mould)->mould.wall_mm == 14);
  CHECK(rubber() == Approx(coarse).epsilon(0.01));
  o.desk().undo();
  o.settle_picture();
  CHECK(rubber() == before);
  const auto solids = o.desk().plan().fresh(results::solids);
  REQUIRE(solids);
  CHECK(solids->pieces.size() == 2);
  CHECK(o.window->mould()->view()->scene().bodies.size() == 3);
  Job next = o.desk().job();
  next.mould.form = "skin";
  o.desk().edit(next, "form");
  o.settle_picture();
  const auto built = o.desk().plan().fresh(results::board);
  REQUIRE(built);
  CHECK(built->cup_a);
  CHECK(built->cup_b);
  CHECK(built->bolts_mm.size() >= 4);
  CHECK(o.window->mould()->view()->scene().bodies.size() == 4);
}

TEST_CASE("Mould: a form is chosen, keys are dragged with a live check, files come out", "[app][mould]") {
  Open o;
  o.window->go(Stage::mould);
  o.settle_picture();
  MouldPage* page = o.window->mould();
  const auto keys = [&] { return o.desk().plan().fresh(results::keys); };
  REQUIRE(keys());
  CHECK(keys()->plan.assembly_unique);
  // The odd key is dragged onto the pattern: the mould closes both ways, and that is a stop at once.
  o.click(o.find<QPushButton>("keys-move"));
  page->view()->look(-62, 40);
  o.settle_picture();
  const auto plan = keys()->plan;
  const auto r = o.desk().plan().fresh(results::mould);
  const Vec3 mirrored{-plan.keys[1].at_mm.x, -plan.keys[1].at_mm.y, plan.keys[3].at_mm.z};
  const auto px = [&](const Vec3& in_frame) {
    const auto q = page->view()->camera().project(r->mould.frame.direction_back(in_frame));
    return QPoint(static_cast<int>(q.x), static_cast<int>(q.y));
  };
  const QPoint from = px(plan.keys[3].at_mm), to = px(mirrored);
  QTest::mousePress(page->view(), Qt::LeftButton, {}, from);
  for (int k = 1; k <= 8; ++k) QTest::mouseMove(page->view(), from + (to - from) * k / 8);
  QTest::mouseRelease(page->view(), Qt::LeftButton, {}, to);
  o.settle();
  REQUIRE(o.desk().job().mould.key_places.size() == 4);
  FindingCard* both = o.card("keys-both-ways");
  REQUIRE(both);
  CHECK(o.window->strand()->button(Stage::mould)->state().knot == Knot::stopped);
  o.desk().undo();  // the whole drag is one step
  o.settle();
  CHECK(o.desk().job().mould.key_places.empty());
  CHECK_FALSE(o.card("keys-both-ways"));
  o.click(o.find<QPushButton>("keys-rim"));
  o.settle();
  CHECK(o.desk().job().mould.keys == "rim");
  // Another form, by its card: its pour reaches the tally.
  const std::string figure = o.window->strand()->button(Stage::mix)->state().figure;
  o.click(o.find<QPushButton>("open-forms"));
  CHECK_FALSE(o.find<QPushButton>("form-two-part")->isEnabled());
  o.click(o.find<QPushButton>("form-skin"));
  o.settle();
  CHECK(o.desk().job().mould.form == "skin");
  CHECK(o.window->strand()->button(Stage::mix)->state().figure != figure);
  o.desk().undo();
  o.settle();
  o.click(o.find<QPushButton>("open-forms"));
  o.click(o.find<QPushButton>("open-box"));
  o.click(o.find<QPushButton>("box-bricks"));
  o.settle();
  CHECK(o.desk().job().mould.box == "bricks");
  CHECK(o.desk().plan().fresh(results::forms)->box.bricks > 10);
  CHECK_FALSE(o.find<QPushButton>("panels-sheet")->isEnabled());
  o.click(o.find<QPushButton>("box-screwed"));
  o.settle();
  o.type_into(o.find<QLineEdit>("build-voxel"), "0.8");
  o.settle();
  CHECK(o.desk().job().mould.build.voxel_mm == Approx(0.8));
  const shapes::TempDir dir;
  page->write_panels(QString::fromStdString(dir / "cut.dxf"));
  o.settle();
  CHECK(std::filesystem::file_size(dir / "cut.dxf") > 1000);
  page->write_build(QString::fromStdString(dir / "build"));
  o.settle();
  for (const char* name : {"parting_board.stl", "box_frame.stl", "rubber_half_a.stl", "rubber_half_b.stl",
                           "stepped_rim.dxf", "panels.svg"})
    CHECK(std::filesystem::exists(std::filesystem::path(dir.str()) / "build" / name));
}

TEST_CASE("Mould: the shop's boxes are offered with their rubber; plates, walls and masters follow", "[app][mould]") {
  Open o;
  Equipment shop = o.desk().equipment();
  shop.boxes = {{"Tide box", 180, 120, 130}, {"Low tray", 260, 200, 30}, {"L-boards", 320, 220, 160, true}};
  REQUIRE(o.desk().keep_equipment(shop));
  o.window->go(Stage::mould);
  o.settle_quick();
  o.click(o.find<QPushButton>("open-box"));
  o.settle_quick();
  const auto rubber = [&] { return o.desk().plan().fresh(results::forms)->plan().rubber_mm3; };
  const double made = rubber();
  // Clamped boards take no more than a box made to measure; a box fixed in its size does.
  REQUIRE(o.find<QPushButton>("own-box-0")->text().startsWith("L-boards"));
  REQUIRE(o.find<QPushButton>("own-box-1")->text().startsWith("Tide box"));
  CHECK(o.find<QLabel>("own-told")->text().contains("Low tray is"));
  o.click(o.find<QPushButton>("own-box-1"));
  o.settle_quick();
  CHECK(o.desk().job().mould.own_box.name == "Tide box");
  CHECK(rubber() > 1.2 * made);
  CHECK(o.card("box-plates"));
  if (const char* dir = std::getenv("PALINFORM_LOOK")) {
    o.settle_picture();
    o.window->grab().save(QString::fromUtf8(dir) + "/boxes.png");
  }
  o.click(o.find<QPushButton>("own-plates"));
  o.settle_quick();
  CHECK(rubber() == Approx(made).epsilon(1e-6));
  CHECK(o.desk().plan().fresh(results::procedure)->facts.dams > 0);
  // One too low is refused, in words, with the way out.
  o.type_into(o.find<QLineEdit>("own-inside-2"), "30");
  o.settle_quick();
  REQUIRE(o.card("box-low"));
  o.click(o.find<QPushButton>("own-box-none"));
  o.settle_quick();
  CHECK_FALSE(o.card("box-low"));
  o.type_into(o.find<QLineEdit>("box-masters"), "3");
  o.settle_quick();
  CHECK(o.desk().plan().fresh(results::mix)->castings_a_pull == 3);
  CHECK(rubber() > 2 * made);
  CHECK(rubber() < 3 * made);
  o.settle_picture();
  CHECK(o.window->mould()->view()->scene().bodies.size() == 5);
  if (const char* dir = std::getenv("PALINFORM_LOOK")) o.window->grab().save(QString::fromUtf8(dir) + "/masters.png");
  o.type_into(o.find<QLineEdit>("wall-top"), "20");
  o.settle();
  CHECK(o.desk().plan().fresh(results::mould)->block().walls.top_mm == 20);
}

}  // namespace tests_app_mould
