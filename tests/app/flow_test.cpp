// Flow: the real window driven by clicks and keys; asserts what a user would see.
#include "window.hpp"

namespace tests_app_flow {

TEST_CASE("flow: air is got rid of in two clicks, tilting is live, a vent can be set and taken away by hand",
          "[app][flow]") {
  Open o;
  o.window->go(Stage::flow);
  o.settle_picture();
  const auto flow = [&] { return o.desk().plan().fresh(results::flow); };
  REQUIRE(flow());
  CHECK(flow()->left_mm3 > 1000);
  for (int clicks = 0; clicks < 2 && o.card("flow-air"); ++clicks) {
    o.click(o.card("flow-air")->findChild<QPushButton*>("remedy-vent"));
    o.settle();
  }
  CHECK_FALSE(o.card("flow-air"));
  for (const PocketSeen& p : flow()->pockets) CHECK_FALSE(p.visible);
  // Tilt by keys: the sweep follows.
  const Vec3 up = flow()->up;
  o.window->flow()->tilt()->setFocus();
  for (int i = 0; i < 5; ++i) QTest::keyClick(o.window->flow()->tilt(), Qt::Key_Right);
  o.settle_picture();
  CHECK(o.desk().job().flow.tilt_deg == 19);
  CHECK(length(flow()->up - up) > 0.05);
  // A vent by hand on the boss, then away again.
  const size_t before = o.desk().job().flow.vents.size();
  o.click(o.find<QPushButton>("tool-vent"));
  PartView* view = o.window->flow()->view();
  const auto at = view->camera().project(o.window->flow()->shown({24, 0, 23}));
  QTest::mouseClick(view, Qt::LeftButton, {}, QPoint(qRound(at.x), qRound(at.y)));
  o.settle_picture();
  REQUIRE(o.desk().job().flow.vents.size() == before + 1);
  o.click(o.find<QPushButton>("tool-take"));
  const auto vent = view->camera().project(o.window->flow()->shown(o.desk().job().flow.vents.back()));
  QTest::mouseClick(view, Qt::LeftButton, {}, QPoint(qRound(vent.x), qRound(vent.y)));
  o.settle();
  CHECK(o.desk().job().flow.vents.size() == before);
  // Undegassed rubber in the pot is a stop, and degassing answers it.
  o.click(o.find<QPushButton>("aid-pressure"));
  Job next = o.desk().job();
  next.mix.rubber_air = AirBy::none;
  o.desk().edit(next, "no vacuum");
  o.settle();
  REQUIRE(o.card("flow-undegassed"));
  CHECK(o.window->strand()->button(Stage::flow)->state().knot == Knot::stopped);
  o.click(o.card("flow-undegassed")->findChild<QPushButton*>("remedy-clear-air"));
  o.settle();
  CHECK_FALSE(o.card("flow-undegassed"));
}

TEST_CASE("flow: the plan is taken by one button and undone; what is kept or barred is heeded", "[app][flow]") {
  Open o;
  o.window->go(Stage::flow);
  o.settle_picture();
  const auto plan = [&] { return o.desk().plan().fresh(results::air_plan); };
  REQUIRE(plan());
  CHECK(plan()->plan.tried.size() >= 60);  // windows under test look roughly; all 434 are counted in core-flow
  const FlowSetup before = o.desk().job().flow;
  auto* take = o.find<QPushButton>("take-plan");
  REQUIRE(take->isEnabled());
  o.click(take);
  o.settle_picture();
  const FlowSetup& now = o.desk().job().flow;
  CHECK(now.tilt_deg == plan()->plan.tilt_deg);
  CHECK(now.vents == plan()->plan.vents);
  CHECK(now.gate == plan()->plan.gate->at_mm);
  CHECK_FALSE(o.card("flow-air"));
  CHECK_FALSE(o.card("flow-plan"));
  CHECK_FALSE(take->isEnabled());
  // The filling follows: a time, and the front at half of it stands between the part's ends.
  const auto fill = o.desk().plan().fresh(results::filling);
  REQUIRE(fill);
  REQUIRE(fill->time.full_min);
  CHECK(o.window->flow()->fill_words().contains("Full in"));
  o.window->flow()->filled()->setValue(50);
  o.settle_picture();
  CHECK(o.window->flow()->fill_words().contains("Filling"));
  CHECK(o.window->flow()->view()->scene().bodies[0].steps.size() == 2);
  o.window->flow()->filled()->setValue(100);
  o.desk().undo();
  o.settle();
  CHECK(o.desk().job().flow == before);
  // A place barred by hand, gate kept: the next plan puts no vent there and leaves the gate.
  o.click(take);
  o.settle_picture();
  REQUIRE_FALSE(o.desk().job().flow.vents.empty());
  const Vec3 vent = o.desk().job().flow.vents[0];
  Job next = o.desk().job();
  next.flow.no_vents = {vent};
  next.flow.keep_gate = true;
  next.flow.gate = Vec3{46, 0, 3};
  o.desk().edit(next, "barred");
  o.settle();
  REQUIRE(plan());
  for (const Vec3& v : plan()->plan.vents) CHECK(length(v - vent) >= 4);
  CHECK(plan()->plan.gate->at_mm == Vec3{46, 0, 3});
  CHECK(o.find<QPushButton>("keep-gate")->isChecked());
  o.type_into(o.find<QLineEdit>("most-tilt"), "0");
  o.settle();
  CHECK(plan()->plan.tilt_deg == 0);
  o.type_into(o.find<QLineEdit>("most-vents"), "90");
  CHECK(o.find<QLineEdit>("most-vents")->property("fault").toBool());
}

TEST_CASE("flow: a vent is dragged over the part, the map tilts, the rubber's own air is shown", "[app][flow]") {
  Open o;
  o.window->go(Stage::flow);
  o.settle_picture();
  FlowPage* page = o.window->flow();
  PartView* view = page->view();
  o.click(o.find<QPushButton>("tool-move"));
  const Vec3 vent = o.desk().job().flow.vents.at(0);
  const auto from = view->camera().project(page->shown(vent)), to = view->camera().project(page->shown({-20, 0, 9}));
  const auto px = [](const auto& q) { return QPoint(qRound(q.x), qRound(q.y)); };
  QTest::mousePress(view, Qt::LeftButton, {}, px(from));
  QTest::mouseMove(view, (px(from) + px(to)) / 2);
  QTest::mouseMove(view, px(to));
  QTest::mouseRelease(view, Qt::LeftButton, {}, px(to));
  o.settle_picture();
  CHECK(length(o.desk().job().flow.vents.at(0) - vent) > 5);
  o.desk().undo();
  o.settle();
  CHECK(o.desk().job().flow.vents.at(0) == vent);  // one drag is one step
  // The map: a click stands the mould so, arrows tilt further.
  const QPointF at = page->map()->place_of(30, 90);
  QTest::mouseClick(page->map(), Qt::LeftButton, {}, at.toPoint());
  o.settle();
  CHECK(o.desk().job().flow.tilt_deg == Approx(30));
  CHECK(o.desk().job().flow.azimuth_deg == Approx(90).margin(8));
  QTest::keyClick(page->map(), Qt::Key_Up);
  o.settle();
  CHECK(o.desk().job().flow.tilt_deg == Approx(31));
  CHECK(o.desk().plan().fresh(results::channels)->wedge_rise_mm > 10);
  o.click(o.find<QPushButton>("rubber-air"));
  o.settle_picture();
  CHECK(page->told().contains("pour a"));
  CHECK(page->told().contains("pour b"));
  // Squeeze: no gate is asked for, the weight is told.
  o.click(o.find<QPushButton>("rubber-air"));
  Job next = o.desk().job();
  next.mould.form = "squeeze";
  o.desk().edit(next, "form");
  o.settle_picture();
  CHECK(page->fill_words().contains("ml poured"));
  CHECK_FALSE(page->map()->isVisible());
  CHECK(o.card("flow-squeeze"));
  CHECK_FALSE(o.card("flow-no-gate"));
}

}  // namespace tests_app_flow
