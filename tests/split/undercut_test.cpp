#include <catch2/catch.hpp>
#include <numbers>

#include "ready_part.hpp"
#include "shapes.hpp"
#include "split/pull_search.hpp"
#include "split/undercuts.hpp"

namespace tests_split_undercut {

using namespace palinform;

namespace {

struct Part : ReadyPart {
  using ReadyPart::ReadyPart;
  std::vector<Undercut> undercuts(const Vec3& pull, double shore = 30, double pitch = 0.25) const {
    const auto s = split_along(mesh, pairs, *rays, pull);
    REQUIRE(s);
    UndercutOptions o;
    o.shore_a = shore;
    o.pitch_mm = pitch;
    auto u = find_undercuts(mesh, *s, o);
    REQUIRE(u);
    return *std::move(u);
  }
};

/// Outline in x–z, counter-clockwise, drawn along y from 0 to `length`; caps by fans of its triangulation `caps`.
TriMesh prism(const std::vector<std::pair<double, double>>& outline, const std::vector<Triangle>& caps, double len) {
  TriMesh m;
  const auto n = static_cast<uint32_t>(outline.size());
  for (const double y : {0.0, len})
    for (const auto& [x, z] : outline) m.points.push_back({x, y, z});
  for (uint32_t i = 0; i < n; ++i) {
    const uint32_t j = (i + 1) % n;
    m.triangles.push_back({i, j, j + n});
    m.triangles.push_back({i, j + n, i + n});
  }
  for (const Triangle& t : caps) {
    m.triangles.push_back({t[0], t[2], t[1]});
    m.triangles.push_back({t[0] + n, t[1] + n, t[2] + n});
  }
  if (measure(m).volume_mm3 < 0)
    for (Triangle& t : m.triangles) std::swap(t[1], t[2]);
  return m;
}

/// I-beam: flanges 20 wide and 3 thick, web 4 thick and 8 tall between them.
TriMesh i_beam(double len) {
  return prism({{-10, 0},
                {10, 0},
                {10, 3},
                {2, 3},
                {2, 11},
                {10, 11},
                {10, 14},
                {-10, 14},
                {-10, 11},
                {-2, 11},
                {-2, 3},
                {-10, 3}},
               {{0, 1, 2},
                {0, 2, 3},
                {0, 3, 10},
                {0, 10, 11},
                {3, 4, 9},
                {3, 9, 10},
                {4, 5, 6},
                {4, 6, 7},
                {4, 7, 9},
                {7, 8, 9}},
               len);
}

}  // namespace

TEST_CASE("the I-beam between its flanges: volume, reach, mouth, verdict", "[split]") {
  for (const bool turn : {false, true}) {
    const Transform t = turn ? shapes::odd_turn() : Transform{};
    const Part p(transformed(i_beam(40), t));
    REQUIRE(p.pairs.open_edges == 0);
    const auto u = p.undercuts(t.direction({0, 0, 1}));
    REQUIRE(u.size() == 2);  // one on either side of the web
    for (const Undercut& k : u) {
      CHECK(k.volume_mm3 == Approx(8 * 8 * 40).epsilon(0.03));
      CHECK(k.reach_mm == Approx(8).margin(0.6));
      CHECK(k.mouth_mm == Approx(8).margin(0.6));
      CHECK(k.area_mm2 == Approx(3 * 8 * 40).epsilon(0.03));
      CHECK(k.mouths.size() == 1);  // open along the side and round both ends: one mouth
      CHECK_FALSE(k.tunnel());
    }
    // Pulled sideways nothing locks.
    CHECK(p.undercuts(t.direction({1, 0, 0})).empty());
  }
  const Part p(i_beam(40));
  CHECK(p.undercuts({0, 0, 1}, 20)[0].flexes);        // ratio 1.0: soft rubber lets go
  CHECK_FALSE(p.undercuts({0, 0, 1}, 45)[0].flexes);  // firm rubber does not
  CHECK(*p.undercuts({0, 0, 1}, 45)[0].let_go_by_shore_a == Approx(30).margin(2.5));
}

TEST_CASE("a plate with a cross bore has a tunnel with its diameter and length", "[split]") {
  for (const bool turn : {false, true}) {
    const Transform t = turn ? shapes::odd_turn() : Transform{};
    const Part p(transformed(shapes::bored_box({20, 15, 10}, 4, 1, 64), t));
    const auto u = p.undercuts(t.direction({0, 0, 1}));
    REQUIRE(u.size() == 1);
    CHECK(u[0].tunnel());
    CHECK(u[0].mouths.size() == 2);
    CHECK(u[0].mouth_mm == Approx(8).margin(0.5));
    CHECK(u[0].length_mm == Approx(30).margin(0.6));
    CHECK(u[0].reach_mm == Approx(15).margin(0.8));  // the middle is farthest from both mouths
    CHECK(u[0].volume_mm3 == Approx(std::numbers::pi * 16 * 30).epsilon(0.03));
    CHECK(std::abs(dot(u[0].axis, t.direction({0, 1, 0}))) > 0.995);
    CHECK(p.undercuts(t.direction({0, 1, 0})).empty());
    const auto bores = find_bores(p.mesh, p.pairs, *p.rays);
    REQUIRE(bores);
    REQUIRE(bores->size() == 1);
    CHECK((*bores)[0].diameter_mm == Approx(8).margin(0.02));
    CHECK((*bores)[0].depth_mm == Approx(30).margin(0.01));
    CHECK((*bores)[0].through);
    CHECK(std::abs(dot((*bores)[0].axis, t.direction({0, 1, 0}))) > 0.9999);
  }
}

TEST_CASE("ten times the triangles, the same undercut", "[split]") {
  const auto few = Part(shapes::bored_box({20, 15, 10}, 4, 1, 40)).undercuts({0, 0, 1}),
             many = Part(shapes::bored_box({20, 15, 10}, 4, 1, 400)).undercuts({0, 0, 1});
  REQUIRE(few.size() == 1);
  REQUIRE(many.size() == 1);
  CHECK(few[0].volume_mm3 == Approx(many[0].volume_mm3).epsilon(0.02));
  CHECK(few[0].reach_mm == Approx(many[0].reach_mm).margin(0.5));
}

TEST_CASE("a sealed hollow has no mouth; a sphere and an open box have nothing", "[split]") {
  TriMesh hollow = shapes::joined(shapes::box({0, 0, 0}, {20, 20, 20}, 4),
                                  shapes::turned_over(shapes::box({6, 6, 6}, {14, 14, 14}, 2)));
  const auto u = Part(hollow).undercuts({0, 0, 1});
  REQUIRE(u.size() == 1);
  CHECK(u[0].sealed());
  CHECK(u[0].volume_mm3 == Approx(512).epsilon(0.03));
  CHECK(Part(shapes::icosphere(10, 4)).undercuts({0, 0, 1}).empty());
  // Open box, mouth up: a U in x–z drawn along y with closed ends is a tray; pulled up nothing locks.
  const TriMesh tray = prism({{0, 0}, {20, 0}, {20, 12}, {17, 12}, {17, 3}, {3, 3}, {3, 12}, {0, 12}},
                             {{0, 1, 4}, {0, 4, 5}, {1, 2, 3}, {1, 3, 4}, {0, 5, 6}, {0, 6, 7}}, 30);
  const Part p(tray);
  REQUIRE(p.pairs.open_edges == 0);
  CHECK(p.undercuts({0, 0, 1}).empty());
  CHECK_FALSE(p.undercuts({1, 0, 0}).empty());  // sideways its inside locks
}

TEST_CASE("the flexing rule is linear between its points and held beyond", "[split]") {
  const FlexRule r;
  CHECK(r.ratio(10) == 1.5);
  CHECK(r.ratio(30) == 1.0);
  CHECK(r.ratio(35) == Approx(0.85));
  CHECK(r.ratio(80) == 0.4);
  CHECK(*r.hardest_for(0.85) == Approx(35));
  CHECK(*r.hardest_for(0.1) == 50);
  CHECK_FALSE(r.hardest_for(2));
}

TEST_CASE("marks move the line, and contradictions are named", "[split]") {
  const Part p(shapes::box({0, 0, 0}, {30, 20, 10}, 10));
  const auto r = releases_along(p.mesh, *p.rays, {0, 0, 1});
  const auto height = [](const Split& s) {
    double sum = 0;
    for (const Vec3& q : s.loops[0].points_mm) sum += q.z / static_cast<double>(s.loops[0].points_mm.size());
    return sum;
  };
  const auto plain = split_from(p.mesh, p.pairs, *p.rays, *r);
  REQUIRE(plain);
  CHECK(height(*plain) == Approx(0).margin(0.2));  // ties: walls to a, the line on the lower edge
  SplitMarks m;
  m.to_b = {{{15, 0, 5}, 60}};  // the walls belong to b
  for (const Vec3& q : {Vec3{15, 20, 5}, Vec3{0, 10, 5}, Vec3{30, 10, 5}}) m.to_b.push_back({q, 4.9});
  const auto w = wishes_of(p.mesh, p.pairs, *p.rays, SplitMarks{{}, {}, {{{15, 0, 5}, 4}}, {}});
  REQUIRE(w);
  const auto moved = split_from(p.mesh, p.pairs, *p.rays, *r, *w);
  REQUIRE(moved);
  CHECK(height(*moved) > height(*plain) + 0.2);  // pushed up round the mark
  // The front wall kept clear: no line there.
  const auto clear = wishes_of(p.mesh, p.pairs, *p.rays, SplitMarks{{{{15, 20, 0.5}, 6}}, {}, {}, {}});
  const auto away = split_from(p.mesh, p.pairs, *p.rays, *r, *clear);
  REQUIRE(away);
  for (const PartingLoop& l : away->loops)
    for (const Vec3& q : l.points_mm) CHECK(length(q - Vec3{15, 20, 0.5}) > 4);
  const auto wrong = wishes_of(p.mesh, p.pairs, *p.rays, SplitMarks{{}, {{{15, 0, 5}, 3}}, {{{15, 0, 5}, 3}}, {}});
  REQUIRE_FALSE(wrong);
  CHECK(wrong.error().text().find("belongs to a") != std::string::npos);
  CHECK_FALSE(wishes_of(p.mesh, p.pairs, *p.rays, SplitMarks{{{{15, 0, 5}, 3}}, {}, {}, {{{15, 0, 5}, 3}}}));
}

}  // namespace tests_split_undercut
