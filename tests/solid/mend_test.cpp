#include <catch2/catch.hpp>
#include <numbers>
#include <random>

#include "shapes.hpp"
#include "solid/mend.hpp"
#include "solid/unite.hpp"

namespace tests_solid_mend {

using namespace palinform;

TEST_CASE("a sound mesh is left as it is", "[solid]") {
  const TriMesh m = shapes::bored_box({30, 20, 6}, 4, 2, 48);
  const auto r = mend(m);
  REQUIRE(r);
  CHECK(r->report.method == MendReport::Method::nothing);
  CHECK(r->mesh == m);
}

TEST_CASE("holes, flipped faces, doubled points: mended exactly", "[solid]") {
  TriMesh m = shapes::icosphere(20, 4);
  const double volume = measure(m).volume_mm3;
  std::mt19937 rnd(3);
  m.triangles.erase(m.triangles.begin() + 100, m.triangles.begin() + 104);
  for (int i = 0; i < 50; ++i)
    std::swap(m.triangles[rnd() % m.triangles.size()][0], m.triangles[rnd() % m.triangles.size()][0]);
  m = shapes::icosphere(20, 4);
  m.triangles.erase(m.triangles.begin() + 100, m.triangles.begin() + 104);
  for (size_t t = 0; t < m.triangles.size(); t += 7) std::swap(m.triangles[t][0], m.triangles[t][1]);
  const auto r = mend(m);
  REQUIRE(r);
  CHECK(r->report.method == MendReport::Method::exact);
  CHECK(r->report.before.open_edges > 0);
  CHECK(r->report.after.sound());
  CHECK(check_soundness(r->mesh)->sound());
  CHECK(measure(r->mesh).volume_mm3 == Approx(volume).epsilon(2e-3));
  CHECK(r->report.words().find("hole") != std::string::npos);
  CHECK(r->report.words().find("Volume") != std::string::npos);
}

TEST_CASE("overlapping shells become one, exactly", "[solid]") {
  // Two cubes of 10 that share a corner block of 5: volume 2000 − 125. And a third piece apart.
  TriMesh m = shapes::joined(shapes::box({0, 0, 0}, {10, 10, 10}, 1), shapes::box({5, 5, 5}, {15, 15, 15}, 1));
  m = shapes::joined(m, shapes::box({40, 0, 0}, {44, 4, 4}));
  CHECK(check_soundness(m)->self_intersections > 0);
  const auto r = mend(m);
  REQUIRE(r);
  CHECK(r->report.method == MendReport::Method::exact);
  CHECK(r->report.united_pieces == 1);
  CHECK(check_soundness(r->mesh)->sound());
  CHECK(measure(r->mesh).volume_mm3 == Approx(2000 - 125 + 64).epsilon(1e-9));
  const auto both = unite(shapes::icosphere(10, 3), transformed(shapes::icosphere(10, 3), shapes::odd_turn()));
  if (both) CHECK(check_soundness(*both)->sound());
}

TEST_CASE("what exact repair cannot do is wrapped, and the cost is told", "[solid]") {
  // A sphere with a hole too wide for filling in a rule of 2,000 edges is not at hand; a bow-tie of two open shells
  // that cut one another is: neither encloses anything by itself.
  TriMesh a = shapes::icosphere(20, 4), b = shapes::icosphere(20, 4);
  for (Vec3& p : b.points) p.x += 14, p.y += 0.3;
  TriMesh m = shapes::joined(a, b);
  // Tear slots into both where they meet.
  std::vector<Triangle> kept;
  for (size_t t = 0; t < m.triangles.size(); ++t)
    if (!(std::abs(m.centre(t).x - 7) < 1.0 && m.centre(t).z > 0)) kept.push_back(m.triangles[t]);
  m.triangles = kept;
  const auto refused = mend(m, {.may_wrap = false});
  const auto r = mend(m);
  REQUIRE(r);
  CHECK(check_soundness(r->mesh)->sound());
  // Two balls of radius 20, centres 14 apart: V = 2·V1 − lens.
  const double d = std::hypot(14, 0.3), lens = std::numbers::pi * (4 * 20 + d) * std::pow(2 * 20 - d, 2) / 12;
  const double truth = 2 * 4.0 / 3 * std::numbers::pi * 8000 - lens;
  CHECK(measure(r->mesh).volume_mm3 == Approx(truth).epsilon(0.02));
  if (r->report.method == MendReport::Method::wrapped) {
    CHECK_FALSE(refused);
    CHECK(r->report.off_p95_mm < 2 * r->report.voxel_mm);
    CHECK(r->report.words().find("Wrapped") != std::string::npos);
    CHECK(r->report.words().find("mm") != std::string::npos);
  }
}

TEST_CASE("the wrap keeps size and volume within its voxel", "[solid]") {
  for (const bool turn : {false, true}) {
    TriMesh m = shapes::bored_box({30, 20, 6}, 4, 2, 64);
    if (turn) m = transformed(m, shapes::odd_turn());
    const double volume = measure(m).volume_mm3, area = measure(m).area_mm2;
    for (const double h : {0.5, 0.25}) {
      const auto w = wrap(m, {h, volume});
      REQUIRE(w);
      CHECK(check_soundness(w->mesh, false)->open_edges == 0);
      CHECK(std::abs(measure(w->mesh).volume_mm3 - volume) < 0.2 * h * area);
      CHECK(w->off_p95_mm < 0.5 * h);
      CHECK(w->bridged_mm == Approx(3 * h));
      const auto sound = check_soundness(w->mesh);
      CHECK(sound->components == 1);
    }
  }
}

TEST_CASE("a wrap closes a wide hole by widening its bridge", "[solid]") {
  TriMesh m = shapes::icosphere(20, 5);
  std::vector<Triangle> kept;
  for (size_t t = 0; t < m.triangles.size(); ++t)
    if (!(m.centre(t).z > 19.85)) kept.push_back(m.triangles[t]);  // a cap of 2.4 mm radius off
  m.triangles = kept;
  const auto w = wrap(m, {0.4, 4.0 / 3 * std::numbers::pi * 8000});
  REQUIRE(w);
  CHECK(w->bridged_mm > 1.2);
  CHECK(measure(w->mesh).volume_mm3 == Approx(4.0 / 3 * std::numbers::pi * 8000).epsilon(0.02));
  CHECK_FALSE(wrap(shapes::box({0, 0, 0}, {100, 100, 100}), {0.001, 1e6}));  // too fine
  Progress stop;
  stop.cancel();
  const auto s = wrap(m, {0.4, 0}, stop);
  REQUIRE_FALSE(s);
  CHECK(s.error().cancelled);
}

TEST_CASE("a scan in site coordinates wraps as it does at the origin", "[solid]") {
  TriMesh m = shapes::icosphere(12, 4);
  std::erase_if(m.triangles, [&](const Triangle& t) { return m.points[t[0]].z > 11.9; });
  const auto near = wrap(m, {0.4, 0});
  const Vec3 site{512'345.678, 5'403'210.123, 431.5};
  const auto far = wrap(transformed(m, Transform::move(site)), {0.4, 0});
  REQUIRE(near);
  REQUIRE(far);
  CHECK(measure(far->mesh).volume_mm3 == Approx(measure(near->mesh).volume_mm3).epsilon(1e-4));
  CHECK(far->off_p95_mm == Approx(near->off_p95_mm).margin(1e-3));
  CHECK(length(measure(far->mesh).centroid_mm - measure(near->mesh).centroid_mm - site) < 1e-3);
}

TEST_CASE("sheets are told from solids with holes", "[solid]") {
  TriMesh one;
  one.points = {{0, 0, 0}, {30, 0, 0}, {0, 20, 0}};
  one.triangles = {{0, 1, 2}};
  CHECK(is_sheet(one));
  CHECK(is_sheet(shapes::joined(one, shapes::turned_over(transformed(one, Transform::move({0, 0, 5}))))));
  TriMesh bowl = shapes::icosphere(12, 4);
  CHECK_FALSE(is_sheet(bowl));
  std::erase_if(bowl.triangles, [&](const Triangle& t) { return bowl.points[t[0]].z > 0; });
  CHECK_FALSE(is_sheet(bowl));  // half a ball may be closed
  TriMesh box = shapes::box({0, 0, 0}, {10, 10, 10});
  box.triangles.pop_back();
  CHECK_FALSE(is_sheet(box));
  const auto refused = mend(one);
  REQUIRE_FALSE(refused);
  CHECK(refused.error().text().find("sheet") != std::string::npos);
}

}  // namespace tests_solid_mend
