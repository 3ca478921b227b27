// Split: the real window driven by clicks and keys; asserts what a user would see.
#include "window.hpp"

namespace tests_app_split {

TEST_CASE("pull chips, wall and units follow through to what is shown", "[app][split]") {
  Open o;
  o.window->go(Stage::split);
  o.click(o.find<QPushButton>(QString::fromUtf8("pull-+y")));
  o.settle_quick();
  CHECK(o.desk().job().split.pull == Vec3{0, 1, 0});
  CHECK(o.desk().plan().fresh(results::split)->split.locked_area_mm2 > 1000);
  o.click(o.find<QPushButton>("pull-search"));
  o.settle_quick();
  CHECK_FALSE(o.desk().job().split.pull);
  o.window->go(Stage::mould);
  const double before = *tally_of(o.desk().job(), o.desk().plan()).rubber_g;
  o.type_into(o.find<QLineEdit>("wall"), "20");
  o.settle_quick();
  CHECK(*tally_of(o.desk().job(), o.desk().plan()).rubber_g > 1.5 * before);
  o.type_into(o.find<QLineEdit>("wall"), "");
  o.settle_quick();
  CHECK_FALSE(o.desk().job().mould.wall_mm);
  o.desk().set_units({true, true, true, {}});
  QTest::qWait(20);
  CHECK(o.window->tally_text().contains("oz"));
  o.type_into(o.find<QLineEdit>("wall"), "0.5");
  o.settle_quick();
  CHECK(*o.desk().job().mould.wall_mm == Approx(12.7));
  o.desk().set_units({});
}

TEST_CASE("pulls changed while the last one's work still runs, at whatever moment", "[app][split]") {
  Open o;
  o.window->go(Stage::split);
  // How far the work has come when it is called off: told by its own time, so each turn meets it somewhere else.
  const char* turns = std::getenv("PALINFORM_TURNS");
  for (int k = 0; k < (turns ? std::atoi(turns) : 4); ++k) {
    o.click(o.find<QPushButton>(k % 3 == 0 ? "pull-+y" : k % 3 == 1 ? "pull-+x" : "pull-+z"));
    QTest::qWait(40 + (k * 619) % 1800);
    o.click(o.find<QPushButton>("pull-search"));
    QTest::qWait((k * 271) % 400);
  }
  o.settle_quick();
  CHECK_FALSE(o.desk().job().split.pull);
  CHECK(o.window->strand()->button(Stage::split)->state().figure == "+z · no undercuts");
}

TEST_CASE("the pull is picked on the rose, the bore gets its pin, marks move the line", "[app][split]") {
  Open o;
  o.window->go(Stage::split);
  o.settle_picture(true);
  const auto split = [&] { return o.desk().plan().fresh(results::split); };
  REQUIRE(split());
  CHECK(split()->split.pull == Vec3{0, 0, 1});
  // Off to the side and back to the best by a click on its ring.
  PullRose* rose = o.window->findChild<PullRose*>();
  REQUIRE(rose);
  const QPointF side = rose->place_of(unit(Vec3{1, 0.2, 0.3}));
  QTest::mouseClick(rose, Qt::LeftButton, {}, side.toPoint());
  o.settle_quick();
  REQUIRE(o.desk().job().split.pull);
  CHECK(dot(*o.desk().job().split.pull, unit(Vec3{1, 0.2, 0.3})) > 0.99);
  CHECK(split()->split.locked_area_mm2 > 300);
  QTest::mouseClick(rose, Qt::LeftButton, {}, rose->place_of({0, 0, 1}).toPoint());
  o.settle_quick();
  CHECK_FALSE(o.desk().job().split.pull);
  for (const Vec3& d : {Vec3{0, 0, 1}, unit(Vec3{0.3, -0.5, 0.4}), unit(Vec3{-0.9, 0.1, 0.05})})
    CHECK(dot(*rose->direction_at(rose->place_of(d)), d) > 0.9999);
  // The demo's cross bore has its pin: taken out again in the card of holes, the bore locks.
  CHECK_FALSE(o.card("split-bore"));
  o.click(o.find<QPushButton>("open-holes"));
  o.click(o.find<QPushButton>("opening-2-row"));
  o.click(o.find<QPushButton>("opening-2-none"));
  o.settle_quick();
  CHECK(o.desk().job().split.bores.empty());
  o.click(o.find<QPushButton>("open-holes"));
  // One button of the finding, and nothing locks any more; its size is formed by the pin.
  FindingCard* bore = o.card("split-bore");
  REQUIRE(bore);
  o.click(bore->findChildren<QPushButton*>("remedy-bore-pin").front());
  o.settle_quick();
  REQUIRE(o.desk().job().split.bores.size() == 1);
  CHECK_FALSE(o.card("split-bore"));
  CHECK(o.window->strand()->button(Stage::split)->state().figure == "+z · no undercuts");
  // A mark on the wall moves the line; wiped, it is back.
  const auto height = [&] {
    double sum = 0;
    for (const Vec3& p : split()->split.loops[0].points_mm)
      sum += p.z / static_cast<double>(split()->split.loops[0].points_mm.size());
    return sum;
  };
  const double before = height();
  CHECK(before < 1.5);  // the foot's lower edge
  o.click(o.find<QPushButton>("brush-b"));
  PartView* view = o.window->findChild<SplitPage*>()->view();
  view->look(-90, 20);
  o.settle_picture(true);
  const auto q = view->camera().project({-5, -12, 4.5});
  o.window->findChild<SplitPage*>()->stroke(q.x, q.y, true);
  o.settle_quick();
  REQUIRE(o.desk().job().split.marks.to_b.size() == 1);
  CHECK(height() > before + 3);  // over the mark, to the upper edge
  o.click(o.find<QPushButton>("brush-wipe"));
  o.settle_quick();
  CHECK(height() == Approx(before));
  // A stroke dragged along the wall is several marks and one step back.
  const auto from = view->camera().project({-20, -12, 4.5}).x, to = view->camera().project({10, -12, 4.5}).x;
  const Camera still = view->camera();
  QTest::mousePress(view, Qt::LeftButton, {}, QPoint(static_cast<int>(from), static_cast<int>(q.y)));
  for (int k = 1; k <= 10; ++k)
    QTest::mouseMove(view, QPoint(static_cast<int>(from + (to - from) * k / 10), static_cast<int>(q.y)));
  QTest::mouseRelease(view, Qt::LeftButton, {}, QPoint(static_cast<int>(to), static_cast<int>(q.y)));
  o.settle_quick();
  CHECK(o.desk().job().split.marks.to_b.size() >= 3);
  CHECK(view->camera().project({-5, -12, 4.5}).x == Approx(still.project({-5, -12, 4.5}).x));  // the part stood still
  CHECK(height() > before + 3);
  o.desk().undo();
  o.settle_quick();
  CHECK(o.desk().job().split.marks.empty());
  o.click(o.find<QPushButton>("brush-none"));
}

TEST_CASE("Split's cards: the ways, the weights, the sheets to work from", "[app][split]") {
  Open o;
  o.window->go(Stage::split);
  o.settle_quick();
  auto* page = o.window->findChild<SplitPage*>();
  o.click(o.find<QPushButton>("open-ways"));
  const auto ways = o.desk().plan().fresh(results::ways);
  REQUIRE(ways);
  REQUIRE(ways->chosen == Way::printed_board);
  CHECK_FALSE(o.find<QPushButton>("way-two-part-printed-board")->isEnabled());
  o.click(o.find<QPushButton>("way-two-part-clay-bed"));
  o.settle_quick();
  CHECK(o.desk().job().split.way == "clay-bed");
  CHECK(o.desk().job().mould.form == "two-part");
  CHECK_FALSE(o.find<QPushButton>("way-two-part-clay-bed")->isEnabled());
  o.click(o.find<QPushButton>("open-ways"));
  // A weight moves the scores; the usual ones bring them back.
  const auto score = [&] { return o.desk().plan().fresh(results::search)->candidates.at(0).score; };
  const double usual = score();
  o.click(o.find<QPushButton>("open-weights"));
  o.find<QSlider>("weight-1")->setValue(30);
  o.settle_quick();
  CHECK(o.desk().job().split.pull_weights.line == Approx(1.5));
  CHECK(score() > usual + 0.1);
  o.click(o.find<QPushButton>("weights-reset"));
  o.settle_quick();
  CHECK(score() == Approx(usual));
  // Sheets on disk.
  const shapes::TempDir dir;
  for (const char* name : {"bed.pdf", "bed.svg", "bed.dxf"}) {
    page->write_clay_sheet(QString::fromStdString(dir / name));
    o.settle_quick();
    CHECK(std::filesystem::file_size(dir / name) > 5000);
  }
  page->write_pin_sheet(QString::fromStdString(dir / "pins.pdf"));
  o.settle_quick();
  CHECK(std::filesystem::file_size(dir / "pins.pdf") > 3000);
}

TEST_CASE("openings: found, clicked on the part, dealt with by a press, their figures typed", "[app][split]") {
  Open o;
  o.window->go(Stage::split);
  o.settle_picture(true);
  const auto openings = o.desk().plan().fresh(results::openings);
  REQUIRE(openings);
  REQUIRE(openings->found.openings.size() == 2);
  // A click on the wide bore's wall opens the card at its row.
  SplitPage* page = o.window->findChild<SplitPage*>();
  page->view()->look(0, 89);
  o.settle_picture(true);
  const Opening& wide = openings->found.openings[0];
  REQUIRE(wide.round_mm);
  page->view()->look(30, 50);
  o.settle_picture(true);
  Vec3 far{};
  const Vec3 eye = page->view()->camera().toward_viewer();
  for (const Vec3& p : wide.outline_mm)
    if (dot(p - wide.at_mm(), eye) < dot(far, eye)) far = p - wide.at_mm();
  const Vec3 mouth = dot(wide.axis(), eye) > 0 ? wide.cuts.back().plane.point_mm : wide.cuts.front().plane.point_mm;
  const auto q = page->view()->camera().project(mouth + far * 0.98);
  page->click_opening(q.x, q.y);
  const auto* card = o.find<QPushButton>("opening-1-fill");
  REQUIRE(card);
  CHECK(card->isVisible());
  // Filled: the part is whole there, and back.
  const double before = o.desk().plan().fresh(results::master)->measure.volume_mm3;
  o.click(o.find<QPushButton>("opening-1-fill"));
  o.settle_quick();
  REQUIRE(o.desk().job().split.openings.size() == 1);
  CHECK(o.desk().plan().fresh(results::master)->measure.volume_mm3 == Approx(before + wide.volume_mm3).epsilon(2e-3));
  o.click(o.find<QPushButton>("opening-1-meet"));
  o.settle_quick();
  CHECK(o.desk().plan().fresh(results::master)->measure.volume_mm3 == before);
  o.type_into(o.find<QLineEdit>("opening-1-film"), "0.3");
  o.settle_quick();
  CHECK(o.desk().job().split.openings[0].film_mm == Approx(0.3));
  o.type_into(o.find<QLineEdit>("opening-1-at"), "4");
  o.settle_quick();
  CHECK(o.desk().job().split.openings[0].share == Approx(4 / wide.length_mm()).epsilon(1e-3));
  if (const char* dir = std::getenv("PALINFORM_LOOK")) {
    o.click(o.find<QPushButton>("opening-2-row"));
    o.click(o.find<QPushButton>("opening-2-slit"));
    o.settle_quick();
    o.settle_picture(true);
    o.type_into(o.find<QLineEdit>("opening-2-step"), "2");
    o.settle_quick();
    o.settle_picture(true);
    o.window->grab().save(QString::fromUtf8(dir) + "/openings.png");
    o.click(o.find<QPushButton>("opening-1-row"));
  }
  o.click(o.find<QPushButton>("opening-1-none"));
  o.settle_quick();
  CHECK(std::none_of(o.desk().job().split.openings.begin(), o.desk().job().split.openings.end(),
                     [&](const OpeningChoice& c) { return opening_at(openings->found, c.at_mm) == 0u; }));
}

}  // namespace tests_app_split
