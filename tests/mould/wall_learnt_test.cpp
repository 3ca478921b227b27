// Walls that a shop's own moulds have earned.
#include <catch2/catch.hpp>

#include "stages/wall.hpp"

namespace tests_mould_wall_learnt {

using namespace palinform;

namespace {
BlockLife lived(double wall_mm, double part_mm = 100, double shore_a = 30) {
  return {wall_mm, part_mm, shore_a, 12, false};
}
}  // namespace

TEST_CASE("three moulds that lived with a thinner wall teach it; two are chance", "[mould]") {
  const WallLearning how;
  CHECK_FALSE(learnt_wall({lived(8), lived(8.5)}, 100, 30, 12, how));
  const auto three = learnt_wall({lived(8), lived(9), lived(8.5)}, 100, 30, 12, how);
  REQUIRE(three);
  CHECK(three->wall_mm == 9);  // as thin as all three, no thinner
  CHECK(three->moulds == 3);
  const auto five = learnt_wall({lived(8), lived(9), lived(8.5), lived(8), lived(7)}, 100, 30, 12, how);
  REQUIRE(five);
  CHECK(five->wall_mm == 8);
}

TEST_CASE("what is not like the mould in hand teaches nothing about it", "[mould]") {
  const WallLearning how;
  const std::vector<BlockLife> three{lived(8), lived(8), lived(8)};
  CHECK(learnt_wall(three, 100, 30, 12, how));
  CHECK(learnt_wall(three, 150, 30, 12, how));
  CHECK_FALSE(learnt_wall(three, 170, 30, 12, how));  // another size of part
  CHECK_FALSE(learnt_wall(three, 55, 30, 12, how));
  CHECK_FALSE(learnt_wall(three, 100, 15, 12, how));  // another rubber
  CHECK_FALSE(learnt_wall(three, 100, 30, 8, how));   // no thinner than the rule
  std::vector<BlockLife> young = three;
  young[0].pulls = 9;
  CHECK_FALSE(learnt_wall(young, 100, 30, 12, how));
}

TEST_CASE("a mould that did not last forbids its own wall and thinner ones", "[mould]") {
  const WallLearning how;
  std::vector<BlockLife> lives{lived(8), lived(8), lived(8), lived(10), lived(10), lived(10)};
  CHECK(learnt_wall(lives, 100, 30, 12, how)->wall_mm == 8);
  lives.push_back({8, 100, 30, 3, true});
  CHECK(learnt_wall(lives, 100, 30, 12, how)->wall_mm == 10);
  lives.push_back({11, 100, 30, 3, true});
  CHECK_FALSE(learnt_wall(lives, 100, 30, 12, how));
  // One that still stands and is young says nothing yet.
  CHECK(learnt_wall({lived(8), lived(8), lived(8), {8, 100, 30, 2, false}}, 100, 30, 12, how));
}

TEST_CASE("the job's wall follows what was learnt until one is typed", "[mould]") {
  Shop shop = starting_shop();
  Job job;
  const Vec3 size{100, 40, 30};
  const WallChoice rule = wall_of(job, shop, size);
  CHECK(rule.learnt_from == 0);
  shop.blocks = {lived(8, 100, 40), lived(8, 100, 40), lived(8, 100, 40), lived(8, 100, 40)};
  const WallChoice own = wall_of(job, shop, size);
  CHECK(own.wall_mm == 8);
  CHECK(own.rule_mm == 8);
  CHECK(own.floor_mm == 8);
  CHECK(own.learnt_from == 4);
  CHECK(rule.wall_mm > own.wall_mm);
  job.mould.wall_mm = 15;
  CHECK(wall_of(job, shop, size).wall_mm == 15);
}

}  // namespace tests_mould_wall_learnt
