// What the planner tells besides the line: witness, thin rubber, pins, more pieces, ways to split, the clay-up sheet.
#include <dl_creationadapter.h>
#include <dl_dxf.h>
#include <catch2/catch.hpp>
#include <numbers>
#include <sstream>

#include "demo_solid/implicit.hpp"
#include "findings/split.hpp"
#include "ready_part.hpp"
#include "shapes.hpp"
#include "split/clay_guide.hpp"
#include "split/pieces.hpp"
#include "split/pins.hpp"
#include "split/pull_search.hpp"
#include "split/thin_rubber.hpp"
#include "split/undercuts.hpp"
#include "split/ways.hpp"
#include "split/witness.hpp"

namespace tests_split_planner {

using namespace palinform;

namespace {

struct Part : ReadyPart {
  using ReadyPart::ReadyPart;
  Split along(const Vec3& pull) const {
    auto s = split_along(mesh, pairs, *rays, pull);
    REQUIRE(s);
    return *std::move(s);
  }
  std::vector<Undercut> undercuts(const Vec3& pull, double shore = 30, double pitch = 0) const {
    UndercutOptions o;
    o.shore_a = shore;
    o.pitch_mm = pitch;
    auto u = find_undercuts(mesh, along(pull), o);
    REQUIRE(u);
    return *std::move(u);
  }
  std::vector<Bore> bores() const {
    auto b = find_bores(mesh, pairs, *rays);
    REQUIRE(b);
    return *std::move(b);
  }
};

double block(const Vec3& p, const Vec3& low, const Vec3& high) {
  return std::max({low.x - p.x, p.x - high.x, low.y - p.y, p.y - high.y, low.z - p.z, p.z - high.z});
}
TriMesh solid(const Implicit& f, const Box3& around, double voxel = 0.4) { return mesh_implicit(f, around, voxel); }

/// A block 40 × 20 × 20 with a slot `wide` across x, `deep` from the top, all along y.
double slotted(const Vec3& p, double wide, double deep) {
  return std::max(block(p, {-20, -10, 0}, {20, 10, 20}), -std::max(std::abs(p.x) - 0.5 * wide, 20 - deep - p.z));
}
/// A hook: a post with an arm whose tip turns down.
double hook(const Vec3& p) {
  return std::min(
      {block(p, {-4, -4, 0}, {4, 4, 30}), block(p, {-4, -4, 24}, {24, 4, 30}), block(p, {18, -4, 14}, {24, 4, 30})});
}
/// A plate with a hole along z whose wall carries rings: what a thread is to the rubber.
double threaded(const Vec3& p) {
  const double r = std::hypot(p.x, p.y);
  return std::max(block(p, {-14, -14, 0}, {14, 14, 16}), 5 + 0.9 * std::sin(p.z * std::numbers::pi) - r);
}
/// An angle with one bore along z in its foot and one along x in its upright.
double angle(const Vec3& p) {
  const double body = std::min(block(p, {0, -12, 0}, {40, 12, 8}), block(p, {0, -12, 0}, {8, 12, 40}));
  return std::max({body, 4 - std::hypot(p.x - 26, p.y), 3 - std::hypot(p.z - 28, p.y)});
}
const Box3 room{{-30, -30, -4}, {46, 30, 46}};

/// What dxflib, an independent reader, finds in a DXF.
struct Heard : DL_CreationAdapter {
  int polylines = 0, vertices = 0, circles = 0, texts = 0;
  bool closed_all = true;
  double low_x = 1e300, high_x = -1e300;
  std::map<std::string, int> layers;
  void addPolyline(const DL_PolylineData& d) override {
    ++polylines;
    ++layers[attributes.getLayer()];
    if (attributes.getLayer() == "outline" && !(d.flags & 1)) closed_all = false;
  }
  void addVertex(const DL_VertexData& v) override {
    ++vertices;
    low_x = std::min(low_x, v.x);
    high_x = std::max(high_x, v.x);
  }
  void addCircle(const DL_CircleData&) override { ++circles; }
  void addText(const DL_TextData&) override { ++texts; }
};
Heard heard(const Drawing& d) {
  const shapes::TempDir dir;
  shapes::write_text(dir / "a.dxf", to_dxf(d));
  Heard h;
  DL_Dxf reader;
  REQUIRE(reader.in(dir / "a.dxf", &h));
  return h;
}

}  // namespace

TEST_CASE("a fin in a slot: thickness, length, and only the slender one is at risk", "[split]") {
  for (const bool turn : {false, true}) {
    const Transform t = turn ? shapes::odd_turn() : Transform{};
    const auto thin = [&](double wide, double deep) {
      const Part p(transformed(solid([&](const Vec3& q) { return slotted(q, wide, deep); }, room), t));
      auto r = find_thin_rubber(p.mesh, p.pairs, *p.rays, p.bores(), {}, 30);
      REQUIRE(r);
      return *std::move(r);
    };
    const auto slender = thin(2, 14);
    REQUIRE(slender.size() == 1);
    CHECK_FALSE(slender[0].peg);
    CHECK(slender[0].at_risk);
    CHECK(slender[0].thickness_mm == Approx(2).margin(0.15));
    CHECK(slender[0].length_mm == Approx(14).margin(2.2));  // ways run face by face, and rims count from three sides
    CHECK(thin(2, 5).empty());
  }
}

TEST_CASE("a peg in a bore is at risk by its slenderness, unless a pin takes its place", "[split]") {
  const Part p(shapes::bored_box({20, 15, 10}, 4, 1, 64));
  const auto bores = p.bores();
  const auto found = find_thin_rubber(p.mesh, p.pairs, *p.rays, bores, {}, 30);
  REQUIRE(found);
  REQUIRE(found->size() == 1);
  CHECK((*found)[0].peg);
  CHECK((*found)[0].slenderness() == Approx(30.0 / 8).epsilon(0.01));
  CHECK((*found)[0].at_risk);
  FaceWishes w;
  w.flags.assign(p.mesh.triangles.size(), 0);
  for (const uint32_t t : bores[0].triangles) w.flags[t] = FaceWishes::ignored;
  CHECK(find_thin_rubber(p.mesh, p.pairs, *p.rays, bores, w, 30)->empty());
}

TEST_CASE("the pin for a through bore and its drawing, read back by another reader", "[split]") {
  for (const bool turn : {false, true}) {
    const Transform t = turn ? shapes::odd_turn() : Transform{};
    const Part p(transformed(shapes::bored_box({20, 15, 10}, 4, 1, 64), t));
    const auto bores = p.bores();
    REQUIRE(bores.size() == 1);
    const PinPlan pin = plan_pin(*p.rays, bores[0], 12, std::nullopt, "Pin 1");
    CHECK(pin.diameter_mm == Approx(8).margin(0.02));
    CHECK(pin.forms_mm == Approx(30).margin(0.05));
    CHECK(pin.head_mm == 12);
    CHECK(pin.tail_mm >= 2);
    CHECK(pin.tail_mm <= 0.8 * 12 + 1e-9);  // stays inside the far wall
    CHECK(std::abs(dot(pin.draw, t.direction({0, 1, 0}))) > 0.9999);
    CHECK(pin.length_mm() == Approx(pin.tail_mm + pin.forms_mm + pin.head_mm + pin.grip_mm));
    const Drawing d = pin_drawing(pin, "Test");
    const Heard h = heard(d);
    CHECK(h.closed_all);
    CHECK(h.layers.at("outline") == 2);
    // The pin's outline is as long as the pin: true scale, millimetres.
    double low = 1e300, high = -1e300;
    for (const Point2& q : d.strokes[0].points) low = std::min(low, q.x), high = std::max(high, q.x);
    CHECK(high - low == Approx(pin.length_mm()));
    CHECK(to_svg(d).find("width=\"" + std::to_string(static_cast<int>(d.width_mm))) != std::string::npos);
    CHECK(plan_pin(*p.rays, bores[0], 12, 7.9, "Pin 1").diameter_mm == 7.9);
  }
  // A blind bore is drawn out of its mouth.
  const Part blind(solid(
      [](const Vec3& q) {
        return std::max(block(q, {-15, -15, 0}, {15, 15, 20}), -std::max(std::hypot(q.x, q.y) - 5, 6 - q.z));
      },
      {{-20, -20, -4}, {20, 20, 24}}));
  const auto bores = blind.bores();
  REQUIRE(bores.size() == 1);
  CHECK_FALSE(bores[0].through);
  const PinPlan pin = plan_pin(*blind.rays, bores[0], 10, std::nullopt, "Pin 1");
  CHECK(pin.draw.z > 0.999);
  CHECK(pin.tail_mm == 0);
}

TEST_CASE("a hook locks behind its tip along its post, and not sideways", "[split]") {
  for (const bool turn : {false, true}) {
    const Transform t = turn ? shapes::odd_turn() : Transform{};
    const Part p(transformed(solid(hook, room), t));
    const auto u = p.undercuts(t.direction({1, 0, 0}));
    REQUIRE(u.size() == 1);  // between post and tip
    CHECK(u[0].volume_mm3 == Approx(14 * 8 * 10).epsilon(0.06));
    CHECK(u[0].reach_mm == Approx(4).margin(0.9));  // out of either side: half the width
    CHECK(p.undercuts(t.direction({0, 1, 0})).empty());
    const auto found = search_pull(p.mesh, p.pairs, *p.rays, {}, {});
    REQUIRE(found);
    CHECK(found->best.locked_area_mm2 < 2);
    CHECK(std::abs(dot(found->best.pull, t.direction({1, 0, 0}))) < 0.1);  // flat on its side, or along the post
  }
}

TEST_CASE("a thread along the pull locks ring by ring; firm rubber is refused, a plug or pin offered", "[split]") {
  const Part p(solid(threaded, {{-18, -18, -3}, {18, 18, 19}}, 0.3));
  const auto u = p.undercuts({0, 0, 1}, 45);
  REQUIRE_FALSE(u.empty());
  double volume = 0;
  for (const Undercut& k : u) volume += k.volume_mm3;
  // Only what lies behind the narrowest ring locks: between r = 4.1 and the wave.
  const double wave = std::numbers::pi * 16 * (0.5 * 0.81 + 2 * 5 * 0.0 + 25 - 4.1 * 4.1);
  CHECK(volume > 0.6 * wave);
  CHECK(volume < 1.05 * wave);
}

TEST_CASE("two bores at right angles: one pull frees one, a pin takes the other", "[split]") {
  for (const bool turn : {false, true}) {
    const Transform t = turn ? shapes::odd_turn() : Transform{};
    const Part p(transformed(solid(angle, room), t));
    const auto bores = p.bores();
    REQUIRE(bores.size() == 2);
    CHECK(bores[0].diameter_mm == Approx(8).margin(0.05));
    CHECK(bores[1].diameter_mm == Approx(6).margin(0.05));
    const auto along_z = p.undercuts(t.direction({0, 0, 1}));
    REQUIRE(along_z.size() == 1);
    CHECK(along_z[0].tunnel());
    CHECK(along_z[0].mouth_mm == Approx(6).margin(0.7));
    const auto along_x = p.undercuts(t.direction({1, 0, 0}));
    REQUIRE(along_x.size() == 1);
    CHECK(along_x[0].mouth_mm == Approx(8).margin(0.7));
    const auto across = p.undercuts(t.direction({0, 1, 0}));
    CHECK(across.size() == 2);
  }
}

TEST_CASE("an I-beam pulled across its web wants two more pieces, and they free all of it", "[split]") {
  const auto beam = [](const Vec3& q) {
    return std::min({block(q, {-10, -20, 0}, {10, 20, 3}), block(q, {-10, -20, 11}, {10, 20, 14}),
                     block(q, {-2, -20, 0}, {2, 20, 14})});
  };
  for (const bool turn : {false, true}) {
    const Transform t = turn ? shapes::odd_turn() : Transform{};
    const Part p(transformed(solid(beam, {{-14, -24, -4}, {14, 24, 18}}), t));
    const Split s = p.along(t.direction({0, 0, 1}));
    const auto plan = find_pieces(p.mesh, p.pairs, *p.rays, s, {});
    REQUIRE(plan);
    REQUIRE(plan->pieces.size() == 2);
    CHECK(plan->left_mm2 < 0.03 * s.locked_area_mm2);
    double freed = 0;
    for (const ExtraPiece& e : plan->pieces) {
      CHECK(std::abs(dot(e.pull, t.direction({1, 0, 0}))) > 0.95);
      CHECK(e.line_mm > 80);
      CHECK(e.bodies == 1);
      CHECK(e.draw_mm == Approx(8).margin(1.2));
      freed += e.area_mm2;
    }
    CHECK(dot(plan->pieces[0].pull, plan->pieces[1].pull) < -0.9);
    CHECK(freed + plan->left_mm2 == Approx(2 * 3 * 8 * 40).epsilon(0.06));
    // A pull decided already is taken first.
    const auto given = find_pieces(p.mesh, p.pairs, *p.rays, s, {}, {t.direction({-1, 0, 0})});
    CHECK(dot(given->pieces[0].pull, t.direction({-1, 0, 0})) > 0.9999);
    CHECK(given->pieces.size() == 2);
  }
  // Nothing locked, nothing asked for.
  const Part ball(shapes::icosphere(10, 3));
  CHECK(find_pieces(ball.mesh, ball.pairs, *ball.rays, ball.along({0, 0, 1}), {})->pieces.empty());
}

TEST_CASE("witness: a ball's line is a witness all round, a box's line none", "[split]") {
  const Part ball(shapes::icosphere(20, 4));
  const Split s = ball.along({0, 0, 1});
  const auto w = witness_places(ball.mesh, *ball.rays, s, {});
  REQUIRE(w.size() == 1);
  CHECK(w[0].kind == WitnessPlace::Kind::smooth);
  CHECK(w[0].length_mm == Approx(s.line_mm).epsilon(0.02));
  const Part cube(shapes::box({0, 0, 0}, {30, 20, 10}, 8));
  CHECK(witness_places(cube.mesh, *cube.rays, cube.along({0, 0, 1}), {}).empty());
  // The same ball with its skin marked as a show face.
  FaceWishes show;
  show.flags.assign(ball.mesh.triangles.size(), FaceWishes::show);
  CHECK(witness_places(ball.mesh, *ball.rays, s, show).at(0).kind == WitnessPlace::Kind::show);
}

TEST_CASE("a line high on a ball leaves the lower half's rubber as a feather, told by its angle", "[split]") {
  const Part ball(shapes::icosphere(20, 5));
  for (const double latitude : {62.0, 40.0}) {
    Split s;
    PartingLoop loop;
    const double r = 20 * std::cos(latitude * std::numbers::pi / 180),
                 z = 20 * std::sin(latitude * std::numbers::pi / 180);
    for (int i = 0; i < 120; ++i) {
      const double a = i * std::numbers::pi / 60;
      loop.points_mm.push_back(ball.rays->closest({r * std::cos(a), r * std::sin(a), z}).point_mm);
    }
    loop.length_mm = 2 * std::numbers::pi * r;
    s.loops = {loop};
    const auto w = witness_places(ball.mesh, *ball.rays, s, {});
    REQUIRE(w.size() == 1);
    if (latitude > 55) {
      CHECK(w[0].kind == WitnessPlace::Kind::feather);
      CHECK(w[0].worst_deg == Approx(90 - latitude).margin(3));
      CHECK(witness_findings(w).size() == 1);
    } else {
      CHECK(w[0].kind == WitnessPlace::Kind::smooth);
      CHECK(witness_findings(w).empty());
    }
    // A bevel down along the middle of the free corner gives both rubber edges the same angle, as far as 30° go.
    for (const Station& st : stations_along(ball.mesh, *ball.rays, s, 0, 6)) {
      CHECK(st.height_mm == Approx(20 + z).margin(0.05));
      CHECK(st.bevel_deg == Approx(std::min(latitude, 30.0)).margin(2));
      CHECK(st.edge_deg == Approx(90 - latitude + std::min(latitude, 30.0)).margin(4));
    }
  }
}

TEST_CASE("stations: heights over the board along a leaning line", "[split]") {
  // A box's lower edge is level; its stations lie at height nought, evenly spaced.
  const Part cube(shapes::box({0, 0, 5}, {30, 20, 15}, 10));
  const Split s = cube.along({0, 0, 1});
  const auto st = stations_along(cube.mesh, *cube.rays, s, 0, 10);
  REQUIRE(st.size() == 10);
  for (size_t i = 0; i < st.size(); ++i) {
    CHECK(st[i].height_mm == Approx(0).margin(1e-6));
    CHECK(st[i].along_mm == Approx(10.0 * static_cast<double>(i)).margin(1e-6));
  }
}

TEST_CASE("the clay-up sheet: four views, the board, the line, a table; true scale", "[split]") {
  const Part cube(shapes::box({0, 0, 0}, {30, 20, 10}, 6));
  const ClayGuide g = clay_guide(cube.mesh, cube.pairs, *cube.rays, cube.along({0, 0, 1}), "Test", 12);
  CHECK(g.stations.size() == 12);
  Heard h = heard(g.sheet);
  CHECK(h.layers["parting-line"] > 0);
  CHECK(h.layers["edge"] > 0);
  CHECK(h.texts >= 12 * 4);
  // The front view's edges span the box's true length.
  double longest = 0;
  for (const Stroke& s : g.sheet.strokes)
    if (s.pen == Pen::edge && !s.closed) longest = std::max(longest, std::abs(s.points[1].x - s.points[0].x));
  CHECK(longest == Approx(5).margin(1e-6));  // the box is meshed in cells of 5 mm: each edge is drawn by itself
}

TEST_CASE("ways to split: what each needs, and the one that suits", "[split]") {
  WayFacts f;
  f.extent_mm = {60, 40, 20};
  f.part_mm3 = 20'000;
  f.line_mm = 200;
  const WayRates r;
  const auto of = [](const std::vector<WayPlan>& list, Way w) { return list[static_cast<size_t>(w)]; };
  auto w = ways_to_split(f, r);
  CHECK(of(w, Way::clay_bed).works);
  CHECK(of(w, Way::splitter_board).works);      // a flat line
  CHECK_FALSE(of(w, Way::pour_and_cut).works);  // not see-through
  CHECK_FALSE(of(w, Way::open_face).works);
  CHECK(of(w, Way::clay_bed).rubber_g == Approx((80.0 * 60 * 40 - 20'000) * 1e-3 * 1.1));
  CHECK(of(w, Way::clay_bed).hands_min > of(w, Way::splitter_board).hands_min);
  f.climb_mm = 8;
  CHECK_FALSE(of(ways_to_split(f, r), Way::splitter_board).works);
  f.see_through = true;
  CHECK(of(ways_to_split(f, r), Way::pour_and_cut).works);
  CHECK(of(ways_to_split(f, r), Way::pour_and_cut).days < of(ways_to_split(f, r), Way::clay_bed).days);
  f.flat_normal = Vec3{0, 0, -1};
  f.hidden_flat_mm2 = 1500;
  f.open_extent_mm = {60, 40, 20};
  CHECK(of(ways_to_split(f, r), Way::open_face).works);
  CHECK(of(ways_to_split(f, r), Way::clay_bed).extra_rubber_g > 0);
  f.open_flexes = false;
  f.need_help = 1;
  f.extra_pieces = 1;
  w = ways_to_split(f, r);
  CHECK_FALSE(of(w, Way::clay_bed).works);
  CHECK(of(w, Way::pieces).works);
  f.see_through = false;
  CHECK_FALSE(of(ways_to_split(f, r), Way::pour_and_cut).works);
  // The wave: whole teeth round the block, passes no deeper than asked.
  const WaveCut c = wave_cut(20, 60, 280, 9);
  CHECK(c.passes == 3);
  CHECK(c.pass_mm * c.passes == Approx(20));
  CHECK(std::fmod(280 / c.pitch_mm + 1e-6, 1.0) == Approx(0).margin(1e-4));
  CHECK(c.path_mm > 280);
}

TEST_CASE("the same part in sixteen times the triangles, or turned, gives the same split", "[split]") {
  const auto finer = [](TriMesh m) {
    for (int round = 0; round < 2; ++round) {
      TriMesh out;
      out.points = m.points;
      std::map<std::pair<uint32_t, uint32_t>, uint32_t> middle;
      const auto mid = [&](uint32_t a, uint32_t b) {
        const auto [it, made] = middle.try_emplace({std::min(a, b), std::max(a, b)}, out.points.size());
        if (made) out.points.push_back((m.points[a] + m.points[b]) * 0.5);
        return it->second;
      };
      for (const Triangle& t : m.triangles) {
        const uint32_t x = mid(t[0], t[1]), y = mid(t[1], t[2]), z = mid(t[2], t[0]);
        for (const Triangle& n : {Triangle{t[0], x, z}, Triangle{x, t[1], y}, Triangle{z, y, t[2]}, Triangle{x, y, z}})
          out.triangles.push_back(n);
      }
      m = std::move(out);
    }
    return m;
  };
  const auto beam = [](const Vec3& q) {
    return std::min({block(q, {-10, -14, 0}, {10, 14, 3}), block(q, {-10, -14, 11}, {10, 14, 14}),
                     block(q, {-2, -14, 0}, {2, 14, 14})});
  };
  const auto tray = [](const Vec3& q) {
    return std::max(block(q, {-14, -10, 0}, {14, 10, 12}), -block(q, {-11, -7, 3}, {11, 7, 20}));
  };
  struct Try {
    const char* what;
    TriMesh mesh;
    Vec3 pull;
  };
  const Try tries[] = {{"ball", shapes::icosphere(12, 3), {0, 0, 1}},
                       {"ring along its axis", shapes::torus(14, 4, 64, 32), {0, 0, 1}},
                       {"ring across its axis", shapes::torus(14, 4, 64, 32), {1, 0, 0}},
                       {"I-beam", solid(beam, {{-14, -18, -4}, {14, 18, 18}}, 0.8), {0, 0, 1}},
                       {"plate with a cross bore", shapes::bored_box({20, 15, 10}, 4, 1, 48), {0, 0, 1}},
                       {"thread", solid(threaded, {{-18, -18, -3}, {18, 18, 19}}, 0.9), {0, 0, 1}},
                       {"angle with two bores", solid(angle, room, 1.2), {0, 0, 1}},
                       {"open box on its side", solid(tray, {{-18, -14, -4}, {18, 14, 16}}, 1.2), {1, 0, 0}},
                       {"hook", solid(hook, room, 1.2), {1, 0, 0}}};
  for (const Try& t : tries) {
    INFO(t.what);
    const double pitch = std::string(t.what).starts_with("ring") ? 0 : 0.5;  // a grazing wall wants fine cells
    const Part few(t.mesh);
    const auto sum = [](const std::vector<Undercut>& list) {
      double v = 0;
      for (const Undercut& u : list) v += u.volume_mm3;
      return v;
    };
    const Split line = few.along(t.pull);
    const auto locked = few.undercuts(t.pull, 30, pitch);
    const Transform turn = shapes::odd_turn();
    for (const bool turned : {false, true}) {
      INFO(turned);
      const Part many(turned ? transformed(t.mesh, turn) : finer(t.mesh));
      const Vec3 pull = turned ? turn.direction(t.pull) : t.pull;
      const Split s = many.along(pull);
      CHECK(s.loops.size() == line.loops.size());
      CHECK(s.locked_area_mm2 == Approx(line.locked_area_mm2).epsilon(0.03).margin(6));
      const auto u = many.undercuts(pull, 30, pitch);
      CHECK(u.size() == locked.size());
      CHECK(sum(u) == Approx(sum(locked)).epsilon(0.06).margin(8));
    }
  }
}

TEST_CASE("a heavy mesh is searched on a lighter copy and parted on all of it", "[split]") {
  // The same waisted body in 20,000 and in 330,000 triangles.
  std::vector<std::array<double, 2>> few, many;
  const auto profile = [](int n, auto& out) {
    for (int i = 0; i <= n; ++i) {
      const double t = M_PI * i / n;
      out.push_back({std::sin(t) * (12 - 4 * std::sin(t) * std::sin(t) * std::sin(t)), 20 - 20 * std::cos(t)});
    }
    out.front()[0] = out.back()[0] = 0;
  };
  profile(80, few), profile(400, many);
  const auto found = [](const TriMesh& m) {
    const EdgePairs pairs = pair_edges(m);
    const auto rays = *RayScene::build(m);
    const auto r = search_pull(m, pairs, *rays, {});
    REQUIRE(r);
    CHECK(r->best.side.size() == m.triangles.size());
    return *r;
  };
  const TriMesh light = shapes::turned(few, 126), heavy = shapes::turned(many, 412);
  REQUIRE(heavy.triangles.size() > 300'000);
  const PullSearch a = found(light), b = found(heavy);
  CHECK(std::abs(a.best.pull.z) < 0.01);
  CHECK(std::abs(b.best.pull.z) < 0.01);
  CHECK(b.best.line_mm == Approx(a.best.line_mm).epsilon(0.01));
  CHECK(b.best.height_range_mm < 0.3);
  CHECK(b.best.locked_area_mm2 < 0.001 * measure(heavy).area_mm2);
}

}  // namespace tests_split_planner
