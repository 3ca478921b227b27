// Several parts in one job, in the window: added, taken in hand, counted; what stands in the box, what is reckoned.
#include "job/parts.hpp"
#include "shell/parts_card.hpp"
#include "window.hpp"

namespace tests_app_parts {

namespace {

void look(Open& o, const char* name) {
  if (const char* dir = std::getenv("PALINFORM_LOOK"))
    o.window->grab().save(QString::fromUtf8(dir) + "/" + QString::fromUtf8(name) + ".png");
}

}  // namespace

TEST_CASE("parts: the other hand stands beside it in one box, each in hand by a click", "[app][mould]") {
  Open o;  // the drum latch, right hand
  o.window->go(Stage::mould);
  o.settle_picture();
  const auto block = [&] { return o.desk().plan().fresh(results::mould)->block().rubber_mm3; };
  const auto casting = [&] {
    for (const PourMix& p : o.desk().plan().fresh(results::mix)->pours)
      if (p.is_resin) return p.volume_mm3;
    return 0.0;
  };
  const double rubber = block(), resin = casting();
  const auto hand = [&] { return o.desk().job().part_at; };
  CHECK(o.find<QPushButton>("parts-button")->text().contains("One part"));
  o.click(o.find<QPushButton>("parts-button"));
  auto* card = o.window->findChild<PartsCard*>();
  REQUIRE(card->isVisible());
  CHECK_FALSE(o.find<QPushButton>("part-out")->isEnabled());
  look(o, "parts_one");
  o.click(o.find<QPushButton>("part-hand"));
  o.settle_picture();
  CHECK(hand() == 1);
  CHECK(part_names(o.desk().job()).size() == 2);
  REQUIRE(o.desk().plan().fresh(results::mould));
  CHECK(block() > 1.4 * rubber);
  CHECK(casting() > 1.6 * resin);
  // Both bodies are in the picture, and the procedure counts both.
  CHECK(o.window->mould()->view()->scene().bodies.size() >= 4);
  CHECK(o.desk().plan().fresh(results::procedure)->facts.a_pull == 2);
  o.type_into(o.find<QLineEdit>("part-name"), "Left");
  o.settle();
  CHECK(o.desk().job().part_name == "Left");
  look(o, "parts_two");
  o.click(o.find<QPushButton>("parts-close"));
  // Sizes of the other hand are its own.
  const std::string id = o.desk().job().original.sizes.front().id;
  o.click(o.find<QPushButton>("part-1"));
  o.settle_picture();
  CHECK(hand() == 0);
  CHECK(o.desk().job().original.sizes.front().id != id);
  look(o, "parts_back");
  o.desk().undo();
  o.settle();
  CHECK(hand() == 1);
  // A form that takes one part says so.
  Job next = o.desk().job();
  next.mould.form = "cut";
  o.desk().edit(next, "form");
  o.settle();
  CHECK(o.card("parts-form"));
  o.desk().undo();
  o.settle();
  CHECK_FALSE(o.card("parts-form"));
  // It travels, with both hands.
  const std::string file = o.dir / "hands.palinform";
  o.desk().export_job(QString::fromStdString(file));
  o.settle();
  o.desk().import_job(QString::fromStdString(file));
  o.settle();
  CHECK(part_names(o.desk().job()).size() == 2);
  CHECK(o.desk().job().part_name == "Left");
}

TEST_CASE("parts: one more from a file; taken out again it is gone", "[app][mould]") {
  Open o;
  const std::string file = o.dir / "peg.stl";
  REQUIRE(save_mesh(shapes::box({0, 0, 0}, {18, 12, 9}, 3), file));
  o.desk().add_part(QString::fromStdString(file));
  o.settle();
  CHECK(o.desk().job().part_name == "peg");
  CHECK(o.desk().job().original.mesh.file == "peg.stl");
  CHECK(o.desk().job().original.sizes.empty());
  REQUIRE(o.desk().plan().fresh(results::mould));
  CHECK(o.desk().plan().fresh(results::mould)->others_mm3 > 1000);
  o.click(o.find<QPushButton>("parts-button"));
  look(o, "parts_file");
  o.click(o.find<QPushButton>("part-out"));
  o.settle();
  CHECK(part_names(o.desk().job()).size() == 1);
  CHECK_FALSE(o.desk().job().original.sizes.empty());
  CHECK_FALSE(o.desk().plan().fresh(results::mould)->set);
}

TEST_CASE("halves: another rubber for side b, blocks and stages from this form's own card", "[app][mould]") {
  Open o(true, "5a17e0d4b2c94f6e8a1bb2c3d4e5f602");
  o.window->go(Stage::mould);
  Job next = o.desk().job();
  next.mould.form = "two-part";
  o.desk().edit(next, "form");
  o.settle_picture();
  o.click(o.find<QPushButton>("open-form-own"));
  auto* second = o.find<QComboBox>("silicone-b");
  REQUIRE(second->isVisible());
  REQUIRE(second->count() > 2);
  second->setCurrentIndex(1);
  emit second->activated(1);
  o.settle_quick();
  CHECK_FALSE(o.desk().job().mix.silicone_b_id.empty());
  CHECK(o.desk().job().mix.rubber_b);
  CHECK(o.desk().plan().fresh(results::mix)->rubber_b_g > 0);
  o.click(o.find<QPushButton>("box-dams"));
  o.click(o.find<QPushButton>("stage-a"));
  o.settle_picture();
  CHECK(o.desk().job().mould.dams);
  CHECK(o.desk().job().mould.stage_a);
  CHECK(o.find<QLabel>("halves-told")->isVisible());
  look(o, "halves_own");
  const auto mould = o.desk().plan().fresh(results::mould);
  REQUIRE(mould);
  double poured = 0;
  for (const PourMix& p : o.desk().plan().fresh(results::mix)->pours)
    if (!p.is_resin) poured += p.volume_mm3;
  CHECK(poured == Approx(mould->block().rubber_mm3).epsilon(1e-6));
  // Brushed instead: its second stage is gone, its coats are there to be set, skin and backing stand in the picture.
  o.click(o.find<QPushButton>("brushed-a"));
  o.settle_picture();
  CHECK(o.desk().job().mould.brushed == Brushed::a);
  CHECK_FALSE(o.desk().job().mould.stage_a);
  CHECK_FALSE(o.find<QPushButton>("stage-a")->isChecked());
  const auto forms = o.desk().plan().fresh(results::forms);
  REQUIRE(forms);
  REQUIRE(forms->brushed);
  int skin = 0, backing = 0;
  for (const Body& b : o.window->mould()->view()->scene().bodies)
    skin += b.shape == forms->brushed->rubber, backing += b.shape == forms->brushed->backing;
  CHECK(skin == 1);
  CHECK(backing == 1);
  look(o, "halves_brushed");
  bool told = false;
  for (const QLabel* l : o.window->findChildren<QLabel*>())
    told |= l->isVisible() && l->text().contains(QStringLiteral("half a brushed"));
  CHECK(told);
  const double thick = forms->plan().skin_mm;
  o.click(o.find<QPushButton>("coat-more"));
  o.settle_quick();
  CHECK(o.desk().plan().fresh(results::forms)->plan().skin_mm > thick);
  o.click(o.find<QPushButton>("brushed-none"));
  o.settle_quick();
  CHECK_FALSE(o.desk().plan().fresh(results::forms)->brushed);
}

}  // namespace tests_app_parts
