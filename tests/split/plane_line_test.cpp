// A plane as parting line (M22): where one parts the part, the line lies flat in it, however the mesh's edges run.
#include <catch2/catch.hpp>
#include <numbers>

#include "ready_part.hpp"
#include "shapes.hpp"
#include "split/open_face.hpp"
#include "split/plane_line.hpp"
#include "split/pull_search.hpp"

namespace tests_split_plane_line {

using namespace palinform;

namespace {

struct Part : ReadyPart {
  using ReadyPart::ReadyPart;
  Split along(const Vec3& pull) const {
    auto s = split_along(mesh, pairs, *rays, pull);
    REQUIRE(s);
    return *std::move(s);
  }
  Split searched() const {
    auto s = search_pull(mesh, pairs, *rays, {});
    REQUIRE(s);
    return std::move(s->best);
  }
};

/// A spool: two flanges and a waist, rounded.
TriMesh spool() {
  std::vector<std::array<double, 2>> p{{0, 0}};
  for (int i = 0; i <= 40; ++i) {
    const double z = 30.0 * i / 40;
    p.push_back({9 + 6 * std::pow(std::abs(z - 15) / 15, 3), z});
  }
  p.push_back({0, 30});
  return shapes::turned(p, 97);
}

/// A round bar bent by a quarter turn in the plane z = 0.
TriMesh elbow(double bend, double r, uint32_t along, uint32_t around) {
  TriMesh m;
  for (uint32_t i = 0; i <= along; ++i) {
    const double a = 0.5 * std::numbers::pi * i / along;
    const Vec3 c{bend * std::cos(a), bend * std::sin(a), 0}, out{std::cos(a), std::sin(a), 0};
    for (uint32_t k = 0; k < around; ++k) {
      const double t = 2 * std::numbers::pi * (k + 0.4) / around;
      m.points.push_back(c + out * (r * std::cos(t)) + Vec3{0, 0, r * std::sin(t)});
    }
  }
  for (uint32_t i = 0; i < along; ++i)
    for (uint32_t k = 0; k < around; ++k) {
      const uint32_t n = (k + 1) % around, a = i * around + k, b = i * around + n, c = a + around, d = b + around;
      m.triangles.push_back({a, c, d});
      m.triangles.push_back({a, d, b});
    }
  for (const bool end : {false, true}) {
    const uint32_t first = end ? along * around : 0, hub = static_cast<uint32_t>(m.points.size());
    m.points.push_back(end ? Vec3{0, bend, 0} : Vec3{bend, 0, 0});
    for (uint32_t k = 0; k < around; ++k) {
      const uint32_t n = (k + 1) % around;
      m.triangles.push_back(end ? Triangle{hub, first + n, first + k} : Triangle{hub, first + k, first + n});
    }
  }
  if (measure(m).volume_mm3 < 0)
    for (Triangle& t : m.triangles) std::swap(t[1], t[2]);
  return m;
}

/// What hangs over on its side by more than a hair, mm².
double wrong_mm2(const Part& p, const Split& s) {
  const auto r = releases_along(p.mesh, *p.rays, s.pull);
  REQUIRE(r);
  double sum = 0;
  for (size_t t = 0; t < p.mesh.triangles.size(); ++t) {
    if (s.side[t] == 0 ? r->up[t] > 0.5f : r->down[t] > 0.5f) continue;
    if (std::abs(dot(p.mesh.normal(t), s.pull)) < 0.11)
      continue;  // a facet across the plane hangs over by less than a hair
    sum += p.mesh.area_mm2(t);
  }
  return sum;
}

}  // namespace

TEST_CASE("a ball and an egg are parted at their largest section, flat, whatever way they lie", "[split]") {
  const TriMesh ball = shapes::icosphere(15, 4);
  TriMesh egg = ball;
  for (Vec3& v : egg.points) v = {v.x * 1.6, v.y * 1.2, v.z};
  for (const Transform& t : {Transform{}, shapes::odd_turn()}) {
    const Part b(transformed(ball, t));
    const Split s = b.along(t.direction({0, 0, 1}));
    CHECK(s.kind == LineKind::plane);
    CHECK(s.height_range_mm < 1e-6);
    CHECK(s.steepest_deg < 0.01);
    REQUIRE(s.loops.size() == 1);
    CHECK(s.line_mm == Approx(2 * std::numbers::pi * 15).epsilon(0.005));
    const Part e(transformed(egg, t));
    const Split across = e.searched();
    CHECK(across.kind == LineKind::plane);
    CHECK(across.height_range_mm < 0.01);
    // Pulled along its shortest axis, as its principal axes have it.
    CHECK(std::abs(dot(across.pull, t.direction({0, 0, 1}))) > 0.99);
  }
}

TEST_CASE("a spool and a waisted knob part in a plane through their axis", "[split]") {
  const TriMesh knob =
      shapes::turned({{0, 0}, {6, 0}, {8, 3}, {5, 8}, {4.5, 11}, {9, 16}, {11, 20}, {9, 25}, {3, 27}, {0, 27}}, 97);
  for (const TriMesh& part : {spool(), knob})
    for (const Transform& t : {Transform{}, shapes::odd_turn()}) {
      const Part p(transformed(part, t));
      const Split s = p.searched();
      CHECK(std::abs(dot(s.pull, t.direction({0, 0, 1}))) < 0.02);
      CHECK(s.kind == LineKind::plane);
      CHECK(s.height_range_mm < 0.3);
      CHECK(wrong_mm2(p, s) < 0.01 * measure(p.mesh).area_mm2);
      // The plane goes through the axis.
      const Vec3 on_axis = t.direction({0, 0, 10}) + t.shift;
      for (const Vec3& q : s.loops.front().points_mm) CHECK(std::abs(dot(q - on_axis, s.pull)) < 0.35);
    }
}

TEST_CASE("a bent round bar parts in its plane of symmetry, end faces too", "[split]") {
  for (const Transform& t : {Transform{}, shapes::odd_turn()}) {
    const Part p(transformed(elbow(30, 5, 40, 63), t));
    const Split s = p.searched();
    CHECK(std::abs(dot(s.pull, t.direction({0, 0, 1}))) > 0.999);
    CHECK(s.kind == LineKind::plane);
    CHECK(s.height_range_mm < 0.3);
    CHECK(wrong_mm2(p, s) < 0.02 * measure(p.mesh).area_mm2);
  }
}

TEST_CASE("a plate with holes parts at its lower edge, each hole shut off there and counted apart", "[split]") {
  const Part p(shapes::bored_box({20, 15, 10}, 4, 2, 64));
  const Split s = p.along({0, 0, 1});
  CHECK(s.height_range_mm < 1e-3);
  CHECK(s.shut_off_range_mm < 1e-3);
  size_t inner = 0;
  for (const PartingLoop& l : s.loops) inner += !l.outer;
  CHECK(inner == 1);
}

TEST_CASE("a part with steps has no plane: its line climbs on its edges as before", "[split]") {
  const Part p(shapes::two_arms(20, 4, 6, 8));
  const auto r = releases_along(p.mesh, *p.rays, unit({1, 0, 1}));
  REQUIRE(r);
  CHECK_FALSE(plane_line(p.mesh, p.pairs, *r, {}));
}

TEST_CASE("marks go before a plane: kept clear, given to a side, or led elsewhere", "[split]") {
  const Part p(shapes::icosphere(15, 4));
  const auto r = releases_along(p.mesh, *p.rays, {0, 0, 1});
  REQUIRE(r);
  CHECK(plane_line(p.mesh, p.pairs, *r, {}));
  const auto wished = [&](SplitMarks m) {
    const auto w = wishes_of(p.mesh, p.pairs, *p.rays, m);
    REQUIRE(w);
    return plane_line(p.mesh, p.pairs, *r, *w);
  };
  SplitMarks clear, side, led;
  clear.keep_clear = {{{15, 0, 0}, 2}};
  CHECK_FALSE(wished(clear));
  side.to_a = {{{15, 0, 0}, 4}};  // hangs under the plane
  CHECK_FALSE(wished(side));
  led.line = {{{10, 0, 11}, 2}};
  CHECK_FALSE(wished(led));
  led.line = {{{15, 0, 0}, 2}};
  CHECK(wished(led));
}

}  // namespace tests_split_plane_line
