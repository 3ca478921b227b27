// Size: the real window driven by clicks and keys; asserts what a user would see.
#include "window.hpp"

namespace tests_app_size {

TEST_CASE("dragging the scale moves every ladder and is one undo step", "[app][size]") {
  Open o;
  o.window->go(Stage::size);
  o.click(o.find<QPushButton>("master-scaled"));
  o.settle_quick();
  CHECK(o.desk().job().size.master == MasterKind::scaled);
  auto* slider = o.find<QSlider>("scale-slider");
  REQUIRE(slider->isVisible());
  const Job start = o.desk().job();
  const double p0 = o.desk().plan().fresh(results::size)->predictions[0].predicted_mm;
  QElapsedTimer t;
  t.start();
  for (int i = 0; i < 30; ++i) QTest::keyClick(slider, Qt::Key_Right);
  const double each_ms = static_cast<double>(t.elapsed()) / 30;
  INFO(each_ms << " ms a step");
  CHECK(each_ms < 500);  // a freeze fails; the figure itself belongs to bench/
  CHECK(o.desk().job().size.scale > start.size.scale);
  CHECK(o.desk().plan().fresh(results::size)->predictions[0].predicted_mm > p0);
  QTest::qWait(400);
  CHECK(o.desk().workshop().load_job(start.id)->size.scale == o.desk().job().size.scale);
  o.desk().undo();
  CHECK(o.desk().job().size.scale == start.size.scale);
}

TEST_CASE("a resin is picked by need, and castings teach", "[app][size]") {
  Open o(true, "5a17e0d4b2c94f6e8a1bb2c3d4e5f605");
  o.window->go(Stage::size);
  o.click(o.find<QPushButton>("size-choose"));
  o.settle_quick();
  o.click(o.find<QPushButton>("use-pu-tough-black"));
  o.settle_quick();
  CHECK(o.desk().job().mix.resin_id == "pu-tough-black");
  o.type_into(o.find<QLineEdit>("need-heat"), "90");
  o.settle_quick();
  CHECK(o.desk().job().mix.needs.heat_c == 90);
  o.click(o.find<QPushButton>("size-chain"));
  o.click(o.find<QPushButton>("master-axes"));
  o.settle_quick();
  CHECK(o.desk().job().size.master == MasterKind::scaled_per_axis);
  CHECK(o.desk().job().size.axis_scale != MasterScale{});
  o.click(o.find<QPushButton>("size-fits"));
  o.find<QLineEdit>("fit-text")->setText("40H7/s6");
  CHECK(o.find<QLabel>("fit-told")->text().contains("always grips"));

  o.desk().open_job("5a17e0d4b2c94f6e8a1bb2c3d4e5f601");
  o.settle_quick();
  o.click(o.find<QPushButton>("size-learnt"));
  auto* adopt = o.find<QPushButton>("learn-adopt");
  REQUIRE(adopt->isEnabled());
  o.click(adopt);  // without a reason it is not done
  CHECK_FALSE(o.desk().job().size.learned);
  o.find<QLineEdit>("learn-reason")->setText("test casting measured twice");
  o.click(adopt);
  o.settle_quick();
  REQUIRE(o.desk().job().size.learned);
  CHECK(o.find<QLabel>("learn-used")->text().contains("In use"));
  const auto kept = o.desk().workshop().learned();
  REQUIRE(kept);
  bool found = false;
  for (const LearnedRecord& r : *kept)
    found = found || (r.reason == "test casting measured twice" && r.adopted_at.size() > 10);
  CHECK(found);
  o.click(o.find<QPushButton>("learn-forget"));
  CHECK_FALSE(o.desk().job().size.learned);
}

}  // namespace tests_app_size
