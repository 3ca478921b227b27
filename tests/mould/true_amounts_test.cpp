// What a form is said to take against the solids that are written for it.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>
#include <random>

#include "mould/forms.hpp"
#include "mould/jacket_amounts.hpp"
#include "mould/keys.hpp"
#include "mould/strip.hpp"
#include "shapes.hpp"
#include "split/bores.hpp"

namespace tests_mould_true_amounts {

using namespace palinform;

namespace {

struct Plans {
  TriMesh mesh;
  Split split;
  Mould mould;
  std::shared_ptr<const RayScene> rays;
  std::vector<Bore> bores;
  std::vector<FormPlan> forms;
  const FormPlan& of(Form f) const { return forms[static_cast<size_t>(f)]; }
};
Plans plan(TriMesh m, const Vec3& pull, FormFacts f = {}) {
  Plans p;
  p.mesh = std::move(m);
  const EdgePairs pairs = pair_edges(p.mesh);
  p.rays = *RayScene::build(p.mesh);
  p.split = *split_along(p.mesh, pairs, *p.rays, pull);
  f.walls = {10, 10, 10, {}};
  p.mould = *two_part_mould(p.mesh, p.split, MouldOptions());
  p.bores = *find_bores(p.mesh, pairs, *p.rays);
  auto forms = plan_forms(p.mesh, *p.rays, p.split, p.mould, p.bores, f, {});
  REQUIRE(forms);
  p.forms = *std::move(forms);
  return p;
}

}  // namespace

TEST_CASE("a strip's stated rubber and box are those of the rubber that is written", "[mould]") {
  const std::vector<TriMesh> parts{shapes::box({0, 0, 0}, {12, 8, 6}), shapes::box({0, 0, 0}, {4, 4, 15}),
                                   shapes::icosphere(5, 3),
                                   transformed(shapes::cylinder(3, 9, 32), shapes::odd_turn())};
  for (const TriMesh& m : parts)
    for (const int copies : {3, 7}) {
      FormFacts f;
      f.copies = copies;
      const Plans p = plan(m, {0, 0, 1}, f);
      const FormPlan& s = p.of(Form::strip);
      const std::vector<StripPart> hang{{&m, p.split.pull, copies}};
      const auto layout = *plan_strip(hang);
      const auto rubber = strip_rubber(hang, layout, *strip_bar(layout), 0.25);
      REQUIRE(rubber);
      const MeshMeasure built = measure(*rubber);
      CHECK(s.rubber_mm3 == Approx(built.volume_mm3).epsilon(0.01));
      const Vec3 size = built.box_mm.size();
      for (int k = 0; k < 3; ++k) CHECK(s.box_mm[k] == Approx(size[k]).margin(0.1));
      CHECK(s.resin_waste_mm3 * copies == Approx(layout.bar_mm3()));
    }
}

TEST_CASE("jacket, cup and core are told with their flanges: as built finer, to 5 %", "[mould]") {
  for (const TriMesh& m : {shapes::box({0, 0, 0}, {50, 35, 25}, 2), shapes::icosphere(22, 4)}) {
    const Plans p = plan(m, {0, 0, 1});
    const auto jacket = plan_jacket(m, p.mould);
    REQUIRE(jacket);
    for (const double voxel : {0.6, 1.1}) {
      const auto field = jacket_field(m, p.mould.frame, {}, voxel);
      REQUIRE(field);
      const auto counted = jacket_amounts(*field, p.mould, {});
      const auto built = plan_jacket(*field, p.mould, {});
      REQUIRE(built);
      const double near = voxel < 1 ? 0.01 : 0.02;  // the surface's own edges are rounded off by so much
      CHECK(counted.a_mm3 == Approx(built->a.volume_mm3).epsilon(near));
      CHECK(counted.b_mm3 == Approx(built->b.volume_mm3).epsilon(near));
      CHECK(counted.skin_mm3 == Approx(built->skin_mm3).epsilon(near));
    }
    // Every second point of a field is a field: the same distances, amounts within 3 %.
    const auto fine = jacket_field(m, p.mould.frame, {}, 0.6);
    const JacketField coarse = coarser(*fine, 2);
    CHECK(coarse.distance.voxel_mm == Approx(1.2));
    const Lattice &a = fine->distance, &b = coarse.distance;
    REQUIRE(b.ni * b.nj * b.nk > 1000);
    for (const auto& [i, j, k] :
         {std::array{0, 0, 0}, {b.ni / 2, b.nj / 3, b.nk / 2}, {b.ni - 1, b.nj - 1, b.nk - 1}}) {
      const int x = 2 * (b.i0 + i) - a.i0, y = 2 * (b.j0 + j) - a.j0, z = 2 * (b.k0 + k) - a.k0;
      CHECK(length(a.place_mm(x, y, z) - b.place_mm(i, j, k)) < 1e-9);
      CHECK(a.at(x, y, z) == b.at(i, j, k));
    }
    const auto by_fine = jacket_amounts(*fine, p.mould, {}), by_coarse = jacket_amounts(coarse, p.mould, {});
    CHECK(by_coarse.a_mm3 == Approx(by_fine.a_mm3).epsilon(0.03));
    CHECK(by_coarse.b_mm3 == Approx(by_fine.b_mm3).epsilon(0.03));
    CHECK(by_coarse.skin_mm3 == Approx(by_fine.skin_mm3).epsilon(0.03));
    CHECK(p.of(Form::skin).hard_mm3 == Approx(jacket->a.volume_mm3 + jacket->b.volume_mm3).epsilon(0.05));
    CHECK(p.of(Form::skin).rubber_mm3 == Approx(jacket->skin_mm3).epsilon(0.05));
  }
  FormFacts f;
  f.resin_is_rubber = true;
  const Plans p = plan(shapes::bored_box({12, 12, 20}, 6, 2, 64), {1, 0, 0}, f);
  REQUIRE_FALSE(p.bores.empty());
  const auto built = cup_and_core(p.mesh, *p.rays, p.split, *core_bore(p.bores), 2.5, 0.3);
  REQUIRE(built);
  double sum = 0;
  for (const TriMesh* m : {&built->cup_a, &built->cup_b, &built->core}) sum += measure(*m).volume_mm3;
  CHECK(p.of(Form::cup_core).hard_mm3 == Approx(sum).epsilon(0.05));
}

TEST_CASE("coats of a skin are the shells between its offsets, each its own", "[mould]") {
  for (const double r : {6.0, 15.0}) {
    const Plans p = plan(shapes::icosphere(r, 4), {0, 0, 1});
    const FormPlan& s = p.of(Form::skin);
    const int coats = 5;                   // 5 mm in coats of at most 1.2
    REQUIRE(s.pours.size() == 2 * coats);  // one side after the other
    for (int k = 0; k < coats; ++k) {
      const double inner = r + k, outer = r + k + 1;
      const double shell = 4.0 / 3 * std::numbers::pi * (outer * outer * outer - inner * inner * inner);
      INFO("radius " << r << " coat " << k + 1);
      const RubberPour &a = s.pours[static_cast<size_t>(k)], &b = s.pours[static_cast<size_t>(k + coats)];
      CHECK(a.name == "a coat " + std::to_string(k + 1));
      CHECK(b.name == "b coat " + std::to_string(k + 1));
      CHECK(a.side == "a");
      // A ball parts in the middle: each side has half. The last takes keys and fillings along.
      CHECK(a.volume_mm3 == Approx(b.volume_mm3).epsilon(0.05));
      if (k + 1 < coats) CHECK(a.volume_mm3 + b.volume_mm3 == Approx(shell).epsilon(0.03));
      if (k + 1 == coats) CHECK(a.volume_mm3 + b.volume_mm3 > 0.97 * shell);
      CHECK(a.fill_height_mm == Approx(1));
    }
    bool told = false;
    for (const std::string& w : s.reasons) told |= w.find("of 1.0 mm") != std::string::npos;
    CHECK(told);
  }
}

TEST_CASE("a part's own size, and the wall by it, are the same however it lies", "[mould]") {
  std::mt19937 rnd(19);
  std::uniform_real_distribution<double> u(-1, 1);
  const std::vector<std::pair<TriMesh, double>> parts{{shapes::cylinder(10, 200, 48), 200},
                                                      {shapes::box({0, 0, 0}, {120, 30, 12}), 120},
                                                      {shapes::icosphere(40, 4), 80},
                                                      {shapes::torus(40, 10, 64, 32), 100},
                                                      {shapes::bored_box({50, 15, 10}, 4, 2, 48), 100}};
  for (size_t k = 0; k < parts.size(); ++k)
    for (int round = 0; round < 12; ++round) {
      const Transform t = round ? Transform::turn(unit(Vec3{u(rnd), u(rnd), u(rnd)}), 3 * u(rnd)) : Transform{};
      const Vec3 size = own_size_mm(transformed(parts[k].first, t));
      INFO("part " << k << " round " << round);
      CHECK(size.x == Approx(parts[k].second).epsilon(0.01));
      CHECK(size.x >= size.y);
      CHECK(size.y >= size.z);
      CHECK(wall_by_rule_mm(size, 40, {}) == Approx(std::max(10.0, 0.12 * parts[k].second)).epsilon(0.01));
    }
}

TEST_CASE("a half pour lifts what stands in it, a whole pour all; keys stand off as the land allows", "[mould]") {
  // A T on its stem's end: line round the head, most of the volume on one side.
  const TriMesh m = shapes::box({0, 0, 0}, {40, 30, 20}, 2);
  const EdgePairs pairs = pair_edges(m);
  const Split s = *split_along(m, pairs, **RayScene::build(m), {0, 0, 1});
  MouldOptions options;
  options.wall_mm = 32, options.rubber_density_g_cm3 = 1.2, options.master_g = 10;
  const Mould block = *two_part_mould(m, s, options);
  REQUIRE(block.hold_down_n);
  REQUIRE(block.hold_down_whole_n);
  CHECK(block.sunk_mm3 <= block.part_mm3 + 1e-6);
  CHECK(*block.hold_down_n == Approx((1.2e-3 * block.sunk_mm3 - 10) * 1e-3 * 9.80665));
  CHECK(*block.hold_down_whole_n == Approx((1.2e-3 * 24'000 - 10) * 1e-3 * 9.80665).epsilon(0.001));
  // 32 mm of land are wide enough for the whole rule: 8 mm to the part, 4 to the wall.
  const KeyPlan wide = place_keys(block, KeyKind::studs);
  REQUIRE(wide.keys.size() == 4);
  const std::vector<float> off = part_distance(block);
  for (const Key& k : wide.keys) {
    const Vec3 lo = block.inner_mm.min, hi = block.inner_mm.max;
    const double wall = std::min({k.at_mm.x - lo.x, hi.x - k.at_mm.x, k.at_mm.y - lo.y, hi.y - k.at_mm.y});
    const int i = static_cast<int>((k.at_mm.x - block.u0_mm) / block.pitch_mm),
              j = static_cast<int>((k.at_mm.y - block.v0_mm) / block.pitch_mm);
    CHECK(wall - k.radius_mm >= 4 - 1e-6);
    CHECK(static_cast<double>(off[block.column(i, j)]) - k.radius_mm >= 8 - 0.6);
  }
  CHECK(wide.assembly_unique);
}

}  // namespace tests_mould_true_amounts
