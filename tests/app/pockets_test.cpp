// Split: a pocket clicked on the part, given a hard slide, drawn at an angle.
#include "solid/unite.hpp"
#include "split/holes_card.hpp"
#include "window.hpp"

namespace tests_app_pockets {

TEST_CASE("a pocket is clicked on the part, a slide forms it, and is drawn at any angle", "[app][split]") {
  Open o(false);
  o.desk().new_job();
  shapes::TempDir files;
  auto part = subtract(shapes::box({0, 0, 0}, {40, 30, 24}), shapes::box({22, 10, 8}, {41, 20, 16}));
  REQUIRE(part);
  REQUIRE(save_mesh(*part, files / "clip.stl"));
  o.desk().open_mesh(QString::fromStdString(files / "clip.stl"));
  o.settle_quick();
  Job along_z = o.desk().job();
  along_z.split.pull = Vec3{0, 0, 1};
  o.desk().edit(along_z, "pull");
  o.window->go(Stage::split);
  o.settle_quick();
  SplitPage* page = o.window->findChild<SplitPage*>();
  page->view()->look(5, 12);
  o.settle_picture(true);
  const auto q = page->view()->camera().project({22, 15, 9});  // the pocket's far wall
  page->click_opening(q.x, q.y);
  auto* slide = o.find<QPushButton>("locks-1-slide");
  CHECK(slide->isVisible());
  o.click(slide);
  o.settle_quick();
  REQUIRE(o.desk().job().split.pockets.size() == 1);
  const auto pins = o.desk().plan().fresh(results::pins);
  REQUIRE(pins);
  REQUIRE(pins->pockets.size() == 1);
  CHECK(pins->pockets[0].faces.area_mm2 == Approx(80 + 36 * 18));
  CHECK(o.desk().plan().fresh(results::split)->split.locked_area_mm2 < 1);
  CHECK(o.card_texts().contains("Slide 1 forms it, drawn along +x"));
  o.settle_picture(true);
  if (const char* dir = std::getenv("PALINFORM_LOOK")) o.window->grab().save(QString::fromUtf8(dir) + "/pocket.png");
  // Raised by ten degrees it leaves some of the roof; told on its row and as a finding.
  o.type_into(o.find<QLineEdit>("pocket-1-raised"), "10");
  o.settle_quick();
  CHECK(angles_of(o.desk().job().split.pockets[0].draw, {0, 0, 1}).raised_deg == Approx(10));
  CHECK(o.find<QPushButton>("pocket-slide-1-row")->text().contains("left locked"));
  REQUIRE(o.card("pocket-held"));
  o.settle_picture(true);
  if (const char* dir = std::getenv("PALINFORM_LOOK"))
    o.window->grab().save(QString::fromUtf8(dir) + "/pocket_held.png");
  o.type_into(o.find<QLineEdit>("pocket-1-raised"), "95");  // out of range: marked, nothing changes
  CHECK(angles_of(o.desk().job().split.pockets[0].draw, {0, 0, 1}).raised_deg == Approx(10));
  o.click(o.find<QPushButton>("pocket-1-none"));
  o.settle_quick();
  CHECK(o.desk().job().split.pockets.empty());
  CHECK(o.card_texts().contains("A place that neither half lets go"));
}

}  // namespace tests_app_pockets
