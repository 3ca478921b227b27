// M8 against closed forms: what passes through sections of every shape, and how the front goes.
#include <catch2/catch.hpp>
#include <cmath>
#include <functional>
#include <numbers>

#include "flow/filling.hpp"
#include "shapes.hpp"

namespace tests_flow_filling {

using namespace palinform;

namespace {

constexpr double pi = std::numbers::pi;

FillNetwork network_of(const TriMesh& m, double cells) {
  auto n = fill_network(m, **RayScene::build(m), cells);
  REQUIRE(n);
  return *std::move(n);
}

/// Cells on either side of a plane along `axis`, by `at`.
double resistance(const FillNetwork& net, const Vec3& from, const Vec3& axis, double low, double high) {
  std::vector<uint32_t> a, b;
  for (uint32_t k = 0; k < net.cavity.size(); ++k) {
    const double x = dot(net.cavity.cube_centre(k) - from, axis);
    if (x < low) a.push_back(k);
    if (x > high) b.push_back(k);
  }
  const auto r = network_resistance(net, a, b);
  REQUIRE(r);
  return *r;
}

/// A duct of length 60 whose section is given; permeability per area by hand against the network's.
void check_duct(const TriMesh& along_x, double area_mm2, double k_mm2, double cells, const char* what) {
  for (int turn = 0; turn < 3; ++turn) {
    const Transform t = turn == 0   ? Transform{}
                        : turn == 1 ? shapes::odd_turn()
                                    : Transform::turn(unit(Vec3{0.2, 1, 0.4}), 0.6);
    const TriMesh m = transformed(along_x, t);
    const FillNetwork net = network_of(m, cells);
    const double h = net.cavity.voxel_mm;
    const Vec3 from = t.point({0, 0, 0}), axis = t.direction({1, 0, 0});
    // Between two cuts well inside, so that the ends' shape plays no part; the cuts are some cells' middles.
    const double r1 = resistance(net, from, axis, 10, 50), r2 = resistance(net, from, axis, 20, 40);
    const double per_mm = (r1 - r2) / 20;
    INFO(what << ", turn " << turn << ", " << net.cavity.size() << " cells of " << h << " mm");
    CHECK(per_mm == Approx(1 / (k_mm2 * area_mm2)).epsilon(0.15));
  }
}

FillConditions plain(double gate_level, double top) {
  FillConditions c;
  c.gate_level_mm = gate_level;
  c.sprue_top_mm = top;
  c.sprue_mm = 4;
  c.sprue_long_mm = 1e-3;  // the cavity alone
  c.viscosity_mpa_s = 1000;
  c.doubling_min = 1e9;
  c.density_g_cm3 = 1;
  return c;
}

double minutes(const TriMesh& m, const std::vector<Vec3>& gates, const FillConditions& c, double cells = 12'000,
               const Vec3& up = {0, 0, 1}) {
  const auto course = fill_course(network_of(m, cells), up, gates, c);
  REQUIRE(course);
  const FillTime t = fill_time(course->stages, c);
  REQUIRE(t.full_min);
  return *t.full_min;
}

}  // namespace

TEST_CASE("M8: sections from slab to tube pass what their closed forms say, whichever way they lie", "[flow]") {
  check_duct(shapes::box({0, 0, 0}, {60, 40, 2}, 4), 80, 4.0 / 12 * (1 - 0.63 * 2 / 40), 20'000, "slab");
  check_duct(shapes::box({0, 0, 0}, {60, 6, 6}, 2), 36, 36 / 28.454, 8'000, "square");
  check_duct(shapes::box({0, 0, 0}, {60, 12, 6}, 2), 72, 3 * 0.6860, 8'000, "1:2");
  check_duct(shapes::box({0, 0, 0}, {60, 15, 3}, 2), 45, 0.75 * 0.8740, 8'000, "1:5");
  const TriMesh rod = transformed(shapes::cylinder(3, 60, 48), Transform::turn({0, 1, 0}, pi / 2));
  check_duct(rod, 24 * 9 * std::sin(2 * pi / 48), 36.0 / 32, 8'000, "round");
  // Coarse: one cell across is still right.
  check_duct(shapes::box({0, 0, 0}, {60, 40, 1.5}, 4), 60, 1.5 * 1.5 / 12, 2'000, "slab, coarse");
  check_duct(rod, 24 * 9 * std::sin(2 * pi / 48), 36.0 / 32, 500, "round, coarse");
  CHECK(section_permeability_mm2(3, 1e9) == Approx(0.75));
}

TEST_CASE("M8: a plate lying flat, fed at one end, takes 6·μ·L²/(t²·Δp), not the time of a level front", "[flow]") {
  // The issue's own plate, viscosity held: at 2 Pa·s × 2^(2/2.4), Δp of its sprue over the floor.
  for (const double length_mm : {60.0, 150.0})
    for (const double t : {1.5, 3.0}) {
      const TriMesh plate = shapes::box({0, 0, 0}, {length_mm, 20, t}, 5);
      FillConditions c = plain(0, 60);
      // Fed across the whole end: the mouth's disc reaches all of it.
      c.sprue_mm = 20.5;
      const double mouth = 10.25 / 2;  // the disc's own mean reach
      const double free = length_mm - mouth, kpa = 60 * 9.81e-3, mu = 1e-3;
      const double by_hand = 6 * mu * free * free / (t * t * (1 - 0.63 * t / 20) * kpa) / 60;
      INFO(length_mm << " × " << t);
      CHECK(minutes(plate, {{0, 10, 0}}, c) == Approx(by_hand).epsilon(0.2));
    }
  const TriMesh plate = shapes::box({0, 0, 0}, {150, 40, 1.5}, 5);
  FillConditions c = plain(0, 61.5);
  c.sprue_mm = 8, c.sprue_long_mm = 61.5, c.density_g_cm3 = 1.08;
  c.viscosity_mpa_s = 2000 * std::pow(2.0, 2 / 2.4);
  const double constant = minutes(plate, {{4, 20, 0}}, c, 25'000);
  CHECK(constant > 5.3);
  CHECK(constant < 7.3);
  c.doubling_min = 2.4;  // pot life 6: it gels on the way
  const auto course = fill_course(network_of(plate, 25'000), {0, 0, 1}, {{4, 20, 0}}, c);
  REQUIRE(course);
  const FillTime gels = fill_time(course->stages, c);
  CHECK_FALSE(gels.full_min);
  CHECK(gels.filled_share > 0.4);
  CHECK(gels.filled_share < 0.9);
}

TEST_CASE("M8: the same plate in any turn of part and up takes the same time", "[flow]") {
  const TriMesh plate = shapes::box({0, 0, 0}, {80, 30, 2}, 5);
  const double flat = minutes(plate, {{0, 15, 0}}, plain(0, 60));
  for (const Transform& t : {shapes::odd_turn(), Transform::turn(unit(Vec3{1, 2, 3}), 1.1)}) {
    FillConditions c = plain(0, 60);
    const Vec3 up = t.direction({0, 0, 1}), gate = t.point({0, 15, 0});
    c.gate_level_mm = dot(gate, up), c.sprue_top_mm = c.gate_level_mm + 60;
    CHECK(minutes(transformed(plate, t), {gate}, c, 12'000, up) == Approx(flat).epsilon(0.1));
  }
}

TEST_CASE("M8: a disc fed at its centre, a ring, a tube, a stepped channel", "[flow]") {
  // Disc: t = 12μ/(2π t³ Δp) ∫ ln(r/r0)·2π r t dr = (6μ/(t²Δp))·[R² ln(R/r0) − (R² − r0²)/2].
  const double t = 2, R = 40, r0 = 4, kpa = 60 * 9.81e-3, mu = 1e-3;
  FillConditions c = plain(0, 60);
  c.sprue_mm = 2 * r0;
  const double disc = 6 * mu / (t * t * kpa) * (R * R * std::log(R / r0) - (R * R - r0 * r0) / 2) / 60;
  CHECK(minutes(shapes::cylinder(R, t, 96), {{0, 0, 0}}, c, 25'000) == Approx(disc).epsilon(0.15));
  // Ring of round section lying flat: two fronts meet opposite the gate; each a tube of length πR, 16μL²/(d²Δp).
  const double d = 6, ring_r = 20;
  c = plain(0, 60);
  c.sprue_mm = 7;
  const double way = pi * ring_r - 2.5;
  CHECK(minutes(shapes::torus(ring_r, d / 2, 96, 48), {{ring_r, 0, 3}}, c, 12'000) ==
        Approx(16 * mu * way * way / (d * d * kpa) / 60).epsilon(0.2));
  // Tube lying flat, fed at its end.
  const TriMesh rod = transformed(shapes::cylinder(3, 80, 48), Transform::turn({0, 1, 0}, pi / 2));
  const double tube = 16 * mu * 77 * 77 / (d * d * kpa) / 60;
  CHECK(minutes(rod, {{0, 0, 0}}, c) == Approx(tube).epsilon(0.2));
  // Channel 40 long of 4 mm, then 40 of 2 mm, both 20 wide: the thick part first, then ∫(R1 + R(x)) dV.
  const TriMesh step = shapes::stepped_channel(40, 4, 40, 2, 20);
  c.sprue_mm = 20.5;
  const double free1 = 40 - 5.1, r1 = 12 * mu * free1 / (20 * 64), v1 = free1 * 80;
  const double r2 = 12 * mu * 40 / (20 * 8), v2 = 40 * 40;
  const double stepped = (v1 * r1 / 2 + v2 * (r1 + r2 / 2)) / kpa / 60;
  CHECK(minutes(step, {{0, 10, 0}}, c) == Approx(stepped).epsilon(0.2));
}

TEST_CASE("M8: of two branches the thinner one is behind by the square of its thickness", "[flow]") {
  // Two arms 60 long, 3 and 1.5 mm thick, from one hub: x ∝ t, so when the thick arm is full the thin one is half full.
  const TriMesh arms = shapes::two_arms(60, 3, 1.5, 16);
  const FillNetwork net = network_of(arms, 20'000);
  FillConditions c = plain(0, 60);
  c.sprue_mm = 12;
  const auto course = fill_course(net, {0, 0, 1}, {{0, 8, 0}}, c, 80);
  REQUIRE(course);
  double thin_reach = 0;
  std::vector<uint16_t> at_end;
  for (uint32_t k = 0; k < net.cavity.size(); ++k)
    if (net.cavity.cube_centre(k).x > 58) at_end.push_back(course->reached[k]);
  std::sort(at_end.begin(), at_end.end());
  const uint16_t thick_end = at_end[at_end.size() / 2];
  for (uint32_t k = 0; k < net.cavity.size(); ++k)
    if (course->reached[k] <= thick_end) thin_reach = std::max(thin_reach, -net.cavity.cube_centre(k).x);
  CHECK(thin_reach == Approx(32).margin(5));
}

TEST_CASE("M8: a wide cavity fills level and as fast as the sprue lets it; a thin upright wall leans", "[flow]") {
  const TriMesh block = shapes::box({0, 0, 0}, {60, 40, 40}, 4);
  FillConditions c;
  c.gate_level_mm = 2, c.sprue_top_mm = 100, c.sprue_mm = 4, c.sprue_long_mm = 98, c.viscosity_mpa_s = 500;
  c.doubling_min = 1e9;
  const FillNetwork net = network_of(block, 8'000);
  const auto course = fill_course(net, {0, 0, 1}, {{0, 20, 2}}, c);
  REQUIRE(course);
  // Height of what is reached by each stage: level to a few cells.
  for (const uint16_t s : {10, 20, 30}) {
    double low = 1e300, high = -1e300;
    for (uint32_t k = 0; k < net.cavity.size(); ++k) {
      const double z = net.cavity.cube_centre(k).z;
      if (course->reached[k] <= s)
        high = std::max(high, z);
      else
        low = std::min(low, z);
    }
    CHECK(high - low < 5 * net.cavity.voxel_mm);
  }
  // ∫ dV/(head) with the sprue alone: V/Q where head falls from 98 to 60 evenly: mean of 1/h = ln(98/60)/38.
  const double sprue = 8 * 98 / (pi * 16), v = 96'000, mu = 500e-6, per_mm = 1.08 * 9.81e-3;
  const double by_hand = v * sprue * mu / per_mm * std::log(98.0 / 60) / 38 / 60;
  CHECK(*fill_time(course->stages, c).full_min == Approx(by_hand).epsilon(0.06));
  for (size_t k = 1; k < course->stages.size(); ++k)
    CHECK(course->stages[k].volume_mm3 >= course->stages[k - 1].volume_mm3);
  CHECK(course->stages.back().volume_mm3 == Approx(96'000).epsilon(1e-4));
}

TEST_CASE("M8: the levers help as they should; no gate and no cavity are refused", "[flow]") {
  const TriMesh m = shapes::box({0, 0, 0}, {80, 12, 40}, 6);
  const FillNetwork net = network_of(m, 6'000);
  FillConditions c;
  c.sprue_top_mm = 90;
  c.gate_level_mm = 2;
  const auto one = fill_course(net, {0, 0, 1}, {{0, 6, 2}}, c);
  FillConditions both = c;
  both.gates = 2;
  const auto two = fill_course(net, {0, 0, 1}, {{0, 6, 2}, {80, 6, 2}}, both);
  REQUIRE(one);
  REQUIRE(two);
  const double now = *fill_time(one->stages, c).full_min;
  const auto levers = fill_levers(one->stages, two->stages, c);
  REQUIRE(levers.size() == 5);
  CHECK(*levers[0].full_min < 0.7 * now);
  CHECK(*levers[0].full_min <= *levers[4].full_min);
  CHECK_FALSE(fill_course(net, {0, 0, 1}, {}, c));
  Progress stop;
  stop.cancel();
  CHECK(fill_course(net, {0, 0, 1}, {{0, 6, 2}}, c, 40, stop).error().cancelled);
  CHECK(std::isinf(*network_resistance(net, {}, {0})));
}

TEST_CASE("M8: a sprue's time is Hagen–Poiseuille's; thickening resin is bounded", "[flow]") {
  // A wide cavity behind a sprue of Ø4, 100 long: Q = π r⁴ ρ g h / (8 μ L), head constant to 1 %.
  FillConditions f;
  f.gate_level_mm = 0;
  f.sprue_top_mm = 1000;
  f.sprue_mm = 4;
  f.sprue_long_mm = 100;
  f.viscosity_mpa_s = 500;
  f.doubling_min = 1e9;
  f.density_g_cm3 = 1.1;
  const std::vector<FillStage> tank{{25'000, 0, 5}, {50'000, 0, 10}};
  const double q_mm3_s = std::numbers::pi * 16 * (1.1 * 9.81e-3 * 995) / (8 * 500e-6 * 100);
  CHECK(*fill_time(tank, f).full_min == Approx(50'000 / q_mm3_s / 60).epsilon(0.01));
  // Thickening: ∫dt/μ is bounded by τ/(μ0·ln 2); just under it is slow, over it never full.
  f.doubling_min = 1;
  const double plain = 50'000 / q_mm3_s;
  const double expected = -60 * std::log2(1 - plain * std::numbers::ln2 / 60) / 60;
  if (plain * std::numbers::ln2 < 60) CHECK(*fill_time(tank, f).full_min == Approx(expected).epsilon(0.02));
  f.viscosity_mpa_s = 1e6;
  const FillTime gels = fill_time(tank, f);
  CHECK_FALSE(gels.full_min);
  CHECK(gels.filled_share < 0.5);
  // No head, no flow.
  f.sprue_top_mm = -1;
  CHECK(fill_time(tank, f).filled_share == 0);
  CHECK(viscosity_at(300, 24, 23) == Approx(288));
  CHECK(fill_time({}, f).at_min.empty());
}

}  // namespace tests_flow_filling
