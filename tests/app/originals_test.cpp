// Original: other surviving originals, by hand and from their scans; their spread becomes the limits.
#include "check/tolerance_interval.hpp"
#include "original/originals_card.hpp"
#include "solid/columns.hpp"
#include "window.hpp"

namespace tests_app_originals {

TEST_CASE("other originals: scanned ones are read, one is read by hand, and their spread becomes limits",
          "[app][original]") {
  Open o(true, "5a17e0d4b2c94f6e8a1bb2c3d4e5f603");
  o.window->go(Stage::original);
  o.settle_quick();
  const auto original = o.desk().plan().fresh(results::original);
  REQUIRE(original);
  const double thick_mm = 8.4;
  shapes::TempDir files;
  const Transform turn = frame_along(unit(Vec3{0.4, 0.3, 0.8}));
  for (const auto& [name, scale] : {std::pair{"left.stl", 1.004}, {"spare.stl", 0.998}}) {
    REQUIRE(save_mesh(transformed(scaled(*original->mesh, scale), turn), files / name));
    o.desk().scan_original(QString::fromStdString(files / name));
    o.settle_quick();
  }
  REQUIRE(o.desk().job().original.others.size() == 2);
  CHECK(o.desk().job().original.others[0].name == "left");
  const MeasuredSize* s = o.desk().job().original.size("s2");
  REQUIRE(s);
  REQUIRE(s->further_originals_mm.size() == 2);
  CHECK(s->further_originals_mm[0].at(0) == Approx(thick_mm * 1.004).margin(0.02));
  CHECK(s->further_originals_mm[1].at(0) == Approx(thick_mm * 0.998).margin(0.02));
  // The card lists them with what was read, and what the spread says.
  o.window->original()->findChild<QAction*>("originals-open")->trigger();
  auto* card = o.window->original()->findChild<OriginalsCard*>();
  REQUIRE(card);
  CHECK(card->isVisible());
  auto* spread = card->findChild<QLabel*>("spread-s2");
  if (s->readings_mm.empty()) {
    CHECK_FALSE(spread);
    Job read = o.desk().job();
    for (MeasuredSize& m : read.original.sizes)
      if (m.id == "s2") m.readings_mm = {8.4, 8.41};
    o.desk().edit(read, "read");
    o.settle_quick();
    spread = card->findChild<QLabel*>("spread-s2");
  }
  REQUIRE(spread);
  CHECK(spread->text().contains("3 originals"));
  o.settle_picture(true);
  if (const char* dir = std::getenv("PALINFORM_LOOK")) o.window->grab().save(QString::fromUtf8(dir) + "/originals.png");
  o.click(o.find<QPushButton>("originals-take"));
  o.settle_quick();
  s = o.desk().job().original.size("s2");
  const auto by_hand = spread_of_originals(*s);
  REQUIRE(by_hand);
  CHECK(s->lower_mm == Approx(by_hand->interval.lower_mm));
  CHECK(s->limits_from.find("3 originals") != std::string::npos);
  // A name stays; taken out, the readings go with it.
  o.type_into(o.find<QLineEdit>("original-2-name"), "museum's left one");
  CHECK(o.desk().job().original.others[0].name == "museum's left one");
  o.type_into(o.find<QLineEdit>("original-2-note"), "lip worn");
  CHECK(o.desk().job().original.others[0].note == "lip worn");
  o.click(o.find<QPushButton>("original-2-drop"));
  o.settle_quick();
  CHECK(o.desk().job().original.others.size() == 1);
  CHECK(o.desk().job().original.size("s2")->further_originals_mm.size() == 1);
  // A scan of another part is refused in words and adds nothing.
  REQUIRE(save_mesh(shapes::box({0, 0, 0}, {70, 20, 40}), files / "box.stl"));
  o.desk().scan_original(QString::fromStdString(files / "box.stl"));
  o.settle_quick();
  CHECK(o.desk().job().original.others.size() == 1);
  CHECK_FALSE(o.window->message_text().isEmpty());
}

}  // namespace tests_app_originals
