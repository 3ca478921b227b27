// Guides for the hand: the knife's way, the plate.
#include <catch2/catch.hpp>

#include "mould/guides.hpp"
#include "shapes.hpp"
#include "split/parting.hpp"

namespace tests_mould_guides {

using namespace palinform;

namespace {
Mould block_round(const TriMesh& mesh, double wall) {
  const auto pairs = pair_edges(mesh);
  const auto rays = RayScene::build(mesh);
  const auto split = split_along(mesh, pairs, **rays, {0, 0, 1});
  REQUIRE(split);
  MouldOptions o;
  o.wall_mm = wall;
  return *two_part_mould(mesh, *split, o);
}
const Stroke& of(const Drawing& d, Pen pen) {
  for (const Stroke& s : d.strokes)
    if (s.pen == pen) return s;
  FAIL("no such stroke");
  return d.strokes.front();
}
}  // namespace

TEST_CASE("the knife's guide is as long as the block is round, closes on itself and stays on it", "[mould]") {
  const Mould m = block_round(shapes::icosphere(15, 4), 12);
  const Vec3 s = m.inner_mm.size();
  const double round = 2 * (s.x + s.y);
  const WaveCut wave = wave_cut(m.wall_mm, s.z, round, 9);
  const Drawing d = cut_guide(m, wave, "Ball");
  CHECK(d.width_mm == Approx(round + 30));
  const auto& cut = of(d, Pen::edge).points;
  CHECK(cut.back().x - cut.front().x == Approx(round));
  CHECK(cut.back().y == Approx(cut.front().y).margin(0.3));
  // A ball parts at its equator, in the middle of the block: the wave goes half a tooth to either side.
  for (const Point2& p : of(d, Pen::line).points) CHECK(p.y - 24 == Approx(0.5 * s.z).margin(0.5));
  double low = 1e9, high = -1e9;
  for (const Point2& p : cut) low = std::min(low, p.y - 24), high = std::max(high, p.y - 24);
  CHECK(high - low == Approx(wave.height_mm).margin(0.6));
  CHECK(guide_length_mm(m, wave) ==
        Approx(round / wave.pitch_mm * 2 * std::hypot(0.5 * wave.pitch_mm, wave.height_mm)).epsilon(0.02));
}

TEST_CASE("the plate stands over the part all round; the casting's own edge is drawn under it", "[mould]") {
  const Drawing d = cover_drawing(shapes::box({0, 0, 0}, {40, 25, 6}, 2), {0, 0, 1}, 10, "Badge");
  const auto& plate = of(d, Pen::outline).points;
  CHECK(plate[2].x - plate[0].x == Approx(60));
  CHECK(plate[2].y - plate[0].y == Approx(45));
  double low = 1e9, high = -1e9;
  for (const Point2& p : of(d, Pen::hidden).points) low = std::min(low, p.x), high = std::max(high, p.x);
  CHECK(high - low == Approx(40));
  CHECK(low - plate[0].x == Approx(10));
}

}  // namespace tests_mould_guides
