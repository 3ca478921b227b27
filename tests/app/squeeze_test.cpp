// Flow of a squeeze mould in the window: its own controls and picture, nothing of a mould with a gate.
#include "flow/squeeze_bar.hpp"
#include "window.hpp"

namespace tests_app_squeeze {

TEST_CASE("squeeze: heap, end and over-pour are its own; no gate, vent, tilt or wedge is on the page", "[app][flow]") {
  Open o(true, "5a17e0d4b2c94f6e8a1bb2c3d4e5f60a");
  o.window->go(Stage::flow);
  o.settle_picture();
  const auto closing = [&] { return o.desk().plan().fresh(results::closing); };
  REQUIRE(closing());
  for (const char* name : {"tool-gate", "tool-vent", "take-plan", "turn-over", "aid-gravity"})
    CHECK_FALSE(o.find<QPushButton>(name)->isVisible());
  CHECK_FALSE(o.window->flow()->map()->isVisible());
  CHECK_FALSE(o.window->flow()->tilt()->isVisible());
  ClosingView* above = o.window->flow()->closing();
  REQUIRE(above->isVisible());
  CHECK(o.window->flow()->fill_words().contains("ml poured"));
  CHECK(o.card("flow-squeeze"));
  if (const char* dir = std::getenv("PALINFORM_LOOK")) o.window->grab().save(QString::fromUtf8(dir) + "/squeeze.png");
  // The slider opens it again: less and less of it is reached.
  o.window->flow()->filled()->setValue(40);
  o.settle_picture();
  CHECK(o.window->flow()->fill_words().contains("open"));
  if (const char* dir = std::getenv("PALINFORM_LOOK"))
    o.window->grab().save(QString::fromUtf8(dir) + "/squeeze_open.png");
  o.window->flow()->filled()->setValue(100);
  // A click heaps it there; the plan can be had back.
  const ClosingGrid& g = closing()->grid;
  const double u = g.u0_mm + 0.2 * g.nu * g.pitch_mm, v = g.v0_mm + 0.5 * g.nv * g.pitch_mm;
  const QPointF at = above->place_of(u, v);
  QTest::mouseClick(above, Qt::LeftButton, {}, at.toPoint());
  o.settle();
  REQUIRE(o.desk().job().flow.squeeze.heap);
  CHECK(std::abs(closing()->how.heap_mm.x - u) < 1);
  CHECK(std::abs(closing()->how.heap_mm.y - v) < 1);
  o.click(o.find<QPushButton>("down-left"));
  o.settle();
  CHECK(closing()->how.hinge_deg == 180.0);
  // The same at the bench: words follow from it.
  const auto work = o.desk().plan().fresh(results::procedure);
  REQUIRE(work);
  CHECK(work->facts.set_down == "the left end");
  CHECK(work->facts.squeeze_kg == closing()->weight_kg);
  o.click(o.find<QPushButton>("squeeze-planned"));
  o.settle();
  CHECK_FALSE(o.desk().job().flow.squeeze.heap);
  // Poured over: into Mix as well.
  const double before = o.desk().plan().fresh(results::mix)->pours.back().volume_mm3;
  o.type_into(o.find<QLineEdit>("squeeze-over"), "30");
  o.settle();
  CHECK(closing()->over_pct == 30);
  CHECK(o.desk().plan().fresh(results::mix)->pours.back().volume_mm3 > 1.1 * before);
  o.type_into(o.find<QLineEdit>("squeeze-over"), "");
  o.settle();
  CHECK_FALSE(o.desk().job().flow.squeeze.over_pct);
}

TEST_CASE("mould: each form's own: coats of a skin, cover of an open face, keys and rods of halves", "[app][mould]") {
  const auto grab = [](Open& o, const char* name) {
    if (const char* dir = std::getenv("PALINFORM_LOOK")) o.window->grab().save(QString::fromUtf8(dir) + name);
  };
  SECTION("skin") {
    Open o(true, "5a17e0d4b2c94f6e8a1bb2c3d4e5f60b");
    REQUIRE(o.desk().job().mould.form == "skin");
    o.window->go(Stage::mould);
    o.settle_quick();
    o.click(o.find<QPushButton>("open-form-own"));
    const auto forms = [&] { return o.desk().plan().fresh(results::forms); };
    REQUIRE(forms());
    const double before = forms()->plan().skin_mm, ml = forms()->plan().rubber_mm3;
    const size_t pours = forms()->plan().pours.size();
    grab(o, "/coats.png");
    o.click(o.find<QPushButton>("coat-more"));
    o.settle_quick();
    CHECK(forms()->plan().pours.size() == pours + 2);
    CHECK(forms()->plan().skin_mm == Approx(before + forms()->plan().pours.front().fill_height_mm).epsilon(0.02));
    CHECK(forms()->plan().rubber_mm3 > ml);
    o.type_into(o.find<QLineEdit>("coat-1"), "0.6");
    o.settle_quick();
    CHECK(forms()->plan().pours.front().fill_height_mm == Approx(0.6));
    // Dragged, the amounts follow, and one undo takes the whole drag back.
    auto* slide = o.find<QSlider>("coat-slide-1");
    REQUIRE(slide->isVisible());
    CHECK(slide->value() == 6);
    slide->setSliderDown(true);
    for (const int tenths : {8, 9, 11}) slide->setValue(tenths);
    o.settle_quick();
    CHECK(o.find<QSlider>("coat-slide-1") == slide);  // it stays under the hand
    CHECK(forms()->plan().pours.front().fill_height_mm == Approx(1.1));
    slide->setSliderDown(false);
    o.settle_quick();
    CHECK(o.find<QLineEdit>("coat-1")->text().startsWith("1.1"));
    o.desk().undo();
    o.settle_quick();
    CHECK(forms()->plan().pours.front().fill_height_mm == Approx(0.6));
    CHECK(slide->value() == 6);
    o.click(o.find<QPushButton>("coat-thick-1"));
    o.settle_quick();
    const auto work = o.desk().plan().fresh(results::procedure);
    REQUIRE(work);
    CHECK(work->facts.rubber.front().thickened);
    bool said = false;
    for (const ProcedureStep& s : work->procedure.steps)
      said |= s.act == Act::brush && s.what.starts_with("Thickened, 0.6 mm");
    CHECK(said);
    o.click(o.find<QPushButton>("coats-rule"));
    o.settle_quick();
    CHECK(forms()->plan().skin_mm == Approx(before));
    CHECK(forms()->plan().rubber_mm3 == Approx(ml).epsilon(1e-6));
  }
  SECTION("halves, then an open face") {
    Open o;
    o.window->go(Stage::mould);
    o.settle_quick();
    o.click(o.find<QPushButton>("open-form-own"));
    CHECK_FALSE(o.find<QPushButton>("cover-plate")->isVisible());
    o.type_into(o.find<QLineEdit>("key-mm"), "5");
    o.settle_quick();
    REQUIRE(o.desk().plan().fresh(results::keys));
    for (const Key& k : o.desk().plan().fresh(results::keys)->plan.keys) CHECK(k.radius_mm <= 2.51);
    o.click(o.find<QPushButton>("channels-cast-in"));
    o.settle_quick();
    CHECK(o.desk().plan().fresh(results::procedure)->facts.cast_in);
    grab(o, "/keys.png");
    Open lid(true, "5a17e0d4b2c94f6e8a1bb2c3d4e5f604");
    for (const auto& row : *lid.desk().workshop().jobs())
      if (const auto job = lid.desk().workshop().load_job(row.id); job && job->mould.form == "open")
        lid.desk().open_job(row.id);
    REQUIRE(lid.desk().job().mould.form == "open");
    lid.window->go(Stage::mould);
    lid.settle_quick();
    lid.click(lid.find<QPushButton>("open-form-own"));
    CHECK_FALSE(lid.find<QLineEdit>("key-mm")->isVisible());
    lid.click(lid.find<QPushButton>("cover-plate"));
    lid.settle_quick();
    const auto facts = lid.desk().plan().fresh(results::procedure)->facts;
    CHECK(facts.cover_plate);
    CHECK(facts.cover.find("plate of") != std::string::npos);
  }
}

}  // namespace tests_app_squeeze
