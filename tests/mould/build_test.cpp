// What is built from the mould: keys, parting board, halves, forms, panels.
#include <dl_creationadapter.h>
#include <dl_dxf.h>
#include <catch2/catch.hpp>
#include <numbers>

#include "findings/mould.hpp"
#include "mesh/load.hpp"
#include "mesh/soundness.hpp"
#include "mould/dams.hpp"
#include "mould/forms.hpp"
#include "mould/halves.hpp"
#include "mould/jacket.hpp"
#include "mould/panels.hpp"
#include "mould/parting_board.hpp"
#include "mould/punch_sheet.hpp"
#include "mould/section.hpp"
#include "mould/stages.hpp"
#include "mould/strip.hpp"
#include "mould/whole.hpp"
#include "procedure/procedure.hpp"
#include "shapes.hpp"
#include "solid/carve.hpp"
#include "solid/height_field.hpp"
#include "split/pull_search.hpp"
#include "stages/building.hpp"

namespace tests_mould_build {

using namespace palinform;

namespace {

struct Part {
  TriMesh mesh;
  EdgePairs pairs;
  std::shared_ptr<const RayScene> rays;
  Split split;
  explicit Part(TriMesh m, const Vec3& pull = {0, 0, 1})
      : mesh(std::move(m)),
        pairs(pair_edges(mesh)),
        rays(*RayScene::build(mesh)),
        split(*split_along(mesh, pairs, *rays, pull)) {}
  Mould mould(double wall = 12, double pitch = 0) const {
    MouldOptions o;
    o.wall_mm = wall;
    return *(pitch > 0 ? fine_mould(mesh, split, o, pitch) : two_part_mould(mesh, split, o));
  }
};
TriMesh demo_mesh(const char* name) {
  return load_mesh(std::string(PALINFORM_DEMO_MESHES) + "/" + name, LengthUnit::mm)->mesh;
}
bool sound(const TriMesh& m) {
  const auto s = check_soundness(m);
  return s && s->sound();
}

struct Outlines : DL_CreationAdapter {
  int open = 0, closed = 0;
  std::vector<DL_VertexData> points;
  void addPolyline(const DL_PolylineData& d) override { (d.flags & 1 ? closed : open)++; }
  void addVertex(const DL_VertexData& v) override { points.push_back(v); }
};

/// Hand minutes of a form by its procedure, with nothing besides.
double plain_hands(const FormPlan& p, Way bed) {
  ProcedureFacts f;
  f.form = p.form, f.way = bed;
  f.ends = Ends::mould;
  f.key_count = 4;
  f.a_pull = p.castings_a_pull;
  for (const RubberPour& r : p.pours) {
    f.rubber.emplace_back();
    f.rubber.back().name = r.name, f.rubber.back().side = r.side;
    f.rubber.back().pour_min = r.side.empty() ? 2 : 12;
  }
  return hands_needed(procedure(f, {})).mould_min;
}

}  // namespace

TEST_CASE("carving: a ball out of a block, grown or not; volumes add up and results are sound", "[mould]") {
  const TriMesh block = shapes::box({-20, -20, -20}, {20, 20, 20}), ball = shapes::icosphere(10, 4);
  const double v = measure(ball).volume_mm3;
  for (const double grow : {0.0, 1.0}) {
    const auto c = carved({block}, {ball}, grow, 0.4);
    REQUIRE(c);
    CHECK(sound(*c));
    CHECK(measure(*c).volume_mm3 == Approx(64'000 - v * std::pow(1 + grow / 10, 3)).epsilon(0.002));
  }
  // Two blocks that overlap are one; nothing is left where they met.
  const auto both = carved({shapes::box({0, 0, 0}, {10, 10, 10}), shapes::box({6, 2, 2}, {20, 8, 8})}, {}, 0, 0.25);
  REQUIRE(both);
  CHECK(sound(*both));
  CHECK(measure(*both).volume_mm3 == Approx(1000 + 10 * 36).epsilon(0.01));
  const auto g = grown(ball, 2, 0.4);
  CHECK(measure(*g).volume_mm3 == Approx(v * std::pow(1.2, 3)).epsilon(0.005));
  CHECK_FALSE(carved({block}, {ball}, 0, 0));
  CHECK_FALSE(carved({block}, {ball}, 0, 1e-3));
  CHECK_FALSE(carved({}, {ball}, 0, 0.4));
}

TEST_CASE("a solid under heights is closed and holds what it should", "[mould]") {
  const HeightField f = sample_heights(0, 0, 30, 20, 0.7, [](double u, double) { return 5 + 0.2 * u; });
  for (const bool below : {true, false}) {
    const TriMesh m = height_solid(f, below ? 0 : 20, below);
    CHECK(sound(m));
    CHECK(measure(m).volume_mm3 == Approx(below ? 30 * 20 * 8 : 30 * 20 * 12).epsilon(1e-6));
  }
}

TEST_CASE("keys: clear of part and wall, unlike themselves turned, and holding every way", "[mould]") {
  for (const auto& half : {Vec3{30, 20, 10}, Vec3{25, 25, 8}}) {  // the second box is square: quarter turns too
    const Part p(shapes::box(-half, half, 4));
    const Mould m = p.mould();
    for (const KeyKind kind : {KeyKind::studs, KeyKind::bars, KeyKind::pins}) {
      const KeyPlan k = place_keys(m, kind);
      REQUIRE(k.keys.size() == 4);
      CHECK(k.assembly_unique);
      CHECK(key_findings(k, {}).empty());
      for (const Key& key : k.keys) {
        CHECK(key.clearance_mm >= 2 - 1e-6);
        // Measured by hand: to the part's side and to the wall.
        const double to_part = std::max(std::abs(key.at_mm.x) - half.x, std::abs(key.at_mm.y) - half.y),
                     to_wall = std::min(half.x + 12 - std::abs(key.at_mm.x), half.y + 12 - std::abs(key.at_mm.y));
        CHECK(std::min(to_part, to_wall) - key.radius_mm >= 1.4);
      }
      CHECK(k.stiffness_u > 1);
      CHECK(k.stiffness_v > 1);
      CHECK(k.stiffness_turn_mm > half.x);
    }
    // Four in a rectangle by hand: the turned half closes, and that is a stop.
    std::vector<Vec3> corners;
    for (const double a : {-1.0, 1.0})
      for (const double b : {-1.0, 1.0}) corners.push_back({a * (half.x + 6), b * (half.y + 6), 0});
    const KeyPlan square = place_keys(m, KeyKind::studs, {}, corners);
    CHECK_FALSE(square.assembly_unique);
    const auto found = key_findings(square, {});
    REQUIRE(found.size() == 1);
    CHECK(found[0].code == "keys-both-ways");
    CHECK(found[0].severity == Severity::stop);
    // On the part itself: too near.
    const auto near = key_findings(place_keys(m, KeyKind::studs, {}, {{half.x, 0, 0}, {-half.x - 6, half.y, 0}}), {});
    REQUIRE_FALSE(near.empty());
    CHECK(near[0].code == "keys-near");
  }
  // A narrow land leaves no room to shift a key: one is made smaller instead.
  const Part narrow(shapes::box({-20, -15, -10}, {20, 15, 10}, 4));
  const KeyPlan odd = place_keys(narrow.mould(10), KeyKind::studs);
  REQUIRE(odd.keys.size() == 4);
  CHECK(odd.assembly_unique);
  CHECK(odd.keys[3].radius_mm < 0.8 * odd.keys[0].radius_mm);
  const Part p(shapes::box({-30, -20, -10}, {30, 20, 10}, 4));
  CHECK(key_findings(place_keys(p.mould(3), KeyKind::studs), {}).at(0).code == "keys-none");
  for (const KeyKind ring : {KeyKind::bed, KeyKind::rim}) {
    const KeyPlan k = place_keys(p.mould(), ring);
    const Box3 in = p.mould().inner_mm;
    CHECK(k.bump_mm(in.min.x + 0.5, 0, in) == Approx(4));
    CHECK(k.bump_mm(0, 0, in) == 0);
    CHECK(k.bump_mm(in.max.x - 1, in.max.y - 1, in) == 0);  // the low corner
  }
  KeyRules steep;
  steep.draft_deg = 5;
  CHECK(key_findings(place_keys(p.mould(), KeyKind::studs, steep), steep).at(0).code == "keys-lock");
}

TEST_CASE("the parting board: sound, flat below, nothing overhangs, clear of the master; turned the same", "[mould]") {
  struct Try {
    TriMesh mesh;
    const char* what;
  };
  for (const Try& t :
       {Try{shapes::icosphere(15, 4), "ball"}, Try{shapes::torus(16, 5, 96, 48), "ring"},
        Try{shapes::box({-20, -12, -6}, {20, 12, 6}, 4), "box"},
        Try{shapes::bored_box({15, 12, 8}, 4, 2, 64), "plate with a bore"},
        Try{demo_mesh("pen_arm_bracket.stl"), "bracket"}, Try{demo_mesh("dial_pointer.stl"), "pointer"}}) {
    INFO(t.what);
    const Part p(t.mesh);
    const KeyPlan keys = place_keys(p.mould(), KeyKind::studs);
    const auto b = parting_board(p.mesh, *p.rays, p.mould(12, 0.3), keys);
    REQUIRE(b);
    REQUIRE(b->tiles.size() == 1);
    const TriMesh& m = b->tiles[0].mesh;
    CHECK(sound(m));
    CHECK(b->clearance_mm >= 0.2);  // asked for 0.25
    CHECK(b->clearance_mm < 0.75);  // and not far more: it holds the master
    size_t overhangs = 0;
    double under = 0, foot = 0;
    for (size_t f = 0; f < m.triangles.size(); ++f) {
      const Vec3 n = m.normal(f);
      if (n.z < -0.01) {
        foot += m.area_mm2(f);
        for (int k = 0; k < 3; ++k)
          if (std::abs(m.corner(f, k).z - b->base_mm) > 1e-6) ++overhangs;
        under = std::max(under, 1.0);
      }
    }
    CHECK(overhangs == 0);  // the only faces that look down are the flat underside
    CHECK(foot == Approx(b->tiles[0].extent_mm.x * b->tiles[0].extent_mm.y).epsilon(1e-6));
    CHECK(b->print_h == Approx(b->volume_mm3 / 180 / 60));
  }
  const TriMesh bracket = demo_mesh("pen_arm_bracket.stl");
  const Transform t = shapes::odd_turn();
  const Part as_is(bracket), turned(transformed(bracket, t), t.direction({0, 0, 1}));
  const auto a = parting_board(as_is.mesh, *as_is.rays, as_is.mould(12, 0.3), place_keys(as_is.mould(), KeyKind::rim)),
             b = parting_board(turned.mesh, *turned.rays, turned.mould(12, 0.3),
                               place_keys(turned.mould(), KeyKind::rim));
  // The frame across the pull may lie otherwise, and with it the box; what lies under the part does not.
  CHECK(b->clearance_mm >= 0.2);
  CHECK(sound(b->tiles[0].mesh));
  CHECK(std::abs(a->steepest_deg - b->steepest_deg) < 25);
}

TEST_CASE("a board larger than the printer comes in tiles that add up", "[mould]") {
  const Part p(shapes::box({-40, -20, -6}, {40, 20, 6}, 4));
  const KeyPlan keys = place_keys(p.mould(), KeyKind::studs);
  BoardOptions b;
  const auto whole = parting_board(p.mesh, *p.rays, p.mould(12, 0.3), keys, b);
  b.bed_u_mm = 70;
  b.bed_v_mm = 60;
  const auto tiles = parting_board(p.mesh, *p.rays, p.mould(12, 0.3), keys, b);
  REQUIRE(tiles);
  CHECK(tiles->tiles.size() == 4);
  for (const BoardTile& t : tiles->tiles) {
    CHECK(sound(t.mesh));
    CHECK(t.extent_mm.x <= 70);
    CHECK(t.extent_mm.y <= 60);
  }
  CHECK(tiles->volume_mm3 == Approx(whole->volume_mm3).epsilon(0.01));
  b.floor_mm = 0;
  CHECK_FALSE(parting_board(p.mesh, *p.rays, p.mould(12, 0.3), keys, b));
}

TEST_CASE("halves: sound, together with the part they fill the box, and they do not overlap", "[mould]") {
  for (const bool turn : {false, true}) {
    const Transform t = turn ? shapes::odd_turn() : Transform{};
    const Part p(transformed(shapes::bored_box({15, 12, 8}, 4, 2, 64), t), t.direction({0, 0, 1}));
    const KeyPlan keys = place_keys(p.mould(10), KeyKind::studs);
    const auto h = mould_halves(p.mesh, p.mould(10, 0.4), keys, {}, {0.4, 0.05});
    REQUIRE(h);
    REQUIRE(h->halves.size() == 2);
    for (const HalfSolid& x : h->halves) CHECK(sound(x.mesh));
    CHECK(std::abs(h->unaccounted_mm3()) < 0.01 * h->box_mm3);
    CHECK(h->box_mm3 - h->part_mm3 == Approx(p.mould(10).rubber_mm3).epsilon(0.01));
    // No point of one half lies deeper in the other than a voxel.
    const auto other = *RayScene::build(h->halves[1].mesh);
    size_t deep = 0, tried = 0;
    for (size_t i = 0; i < h->halves[0].mesh.points.size(); i += 37) {
      const Vec3 q = h->halves[0].mesh.points[i];
      const auto hits = other->all_hits(q, unit(Vec3{0.31, 0.52, 0.79}));
      ++tried;
      if (hits.size() % 2 == 1 && other->closest(q).distance_mm > 0.4) ++deep;
    }
    CHECK(tried > 200);
    CHECK(deep == 0);
  }
}

TEST_CASE("a pin takes its place in both halves", "[mould]") {
  const Part p(shapes::bored_box({20, 15, 10}, 4, 1, 64));
  const auto bores = *find_bores(p.mesh, p.pairs, *p.rays);
  REQUIRE(bores.size() == 1);
  const PinPlan pin = plan_pin(*p.rays, bores[0], 12, std::nullopt, "Pin 1");
  const KeyPlan none = place_keys(p.mould(), KeyKind::wave);
  const auto without = mould_halves(p.mesh, p.mould(12, 0.4), none, {}, {0.4, 0.05}),
             with = mould_halves(p.mesh, p.mould(12, 0.4), none, {.pins = {pin}}, {0.4, 0.05});
  REQUIRE(with);
  const auto sum = [](const Halves& h) { return h.halves[0].volume_mm3 + h.halves[1].volume_mm3; };
  // Rubber loses the bore's peg and the pin's sockets in the walls.
  const double r = 0.5 * pin.diameter_mm + 0.05;
  CHECK(sum(*without) - sum(*with) ==
        Approx(std::numbers::pi * r * r * (pin.forms_mm + pin.tail_mm + pin.head_mm)).epsilon(0.06));
  for (const HalfSolid& h : with->halves) CHECK(sound(h.mesh));
}

TEST_CASE("gate and vents are cut into the halves, and their volume is told", "[mould]") {
  const Part p(shapes::box({0, 0, 0}, {30, 20, 10}, 3));
  const KeyPlan none = place_keys(p.mould(), KeyKind::wave);
  Channel gate{"gate", true, {{15, 10, 9}, {15, 10, 60}}, 5, 13, 12, true};
  gate.path_mm.back().z = 22;  // the box's top: part 10 + wall 12
  const auto without = mould_halves(p.mesh, p.mould(12, 0.4), none, {}, {0.4, 0.05}),
             with = mould_halves(p.mesh, p.mould(12, 0.4), none, {.channels = {gate}}, {0.4, 0.05});
  REQUIRE(with);
  for (const HalfSolid& h : with->halves) CHECK(sound(h.mesh));
  const double lost = without->halves[0].volume_mm3 - with->halves[0].volume_mm3;
  // From the wall up: the foot lies a millimetre inside the part.
  const double by_hand = gate.volume_mm3() - std::numbers::pi * 6.25 * 1;
  CHECK(lost == Approx(by_hand).epsilon(0.05));
  CHECK(with->channels_mm3 == Approx(gate.volume_mm3()).epsilon(0.02));
  CHECK(with->halves[1].volume_mm3 == Approx(without->halves[1].volume_mm3).epsilon(1e-3));
}

TEST_CASE("what stands out of the master leaves its socket in the rubber, at each master of the box", "[mould]") {
  const Part p(shapes::box({0, 0, 0}, {30, 20, 12}, 3));
  // A rod on the line, through both end walls of the part and 5 mm out of either.
  const auto rod = std::make_shared<const TriMesh>(shapes::box({-5, 8, 4}, {35, 12, 8}));
  const Socket socket{rod, 2 * 5 * 16.0};
  const KeyPlan none = place_keys(p.mould(), KeyKind::wave);
  const auto sum = [](const Halves& h) { return h.halves[0].volume_mm3 + h.halves[1].volume_mm3; };
  const auto without = mould_halves(p.mesh, p.mould(12, 0.4), none, {}, {0.4, 0.05}),
             with = mould_halves(p.mesh, p.mould(12, 0.4), none, {.sockets = {socket}}, {0.4, 0.05});
  REQUIRE((without && with));
  for (const HalfSolid& h : with->halves) CHECK(sound(h.mesh));
  CHECK(with->sockets_mm3 == 160);
  CHECK(sum(*without) - sum(*with) == Approx(160).epsilon(0.08));
  CHECK(with->unaccounted_mm3() == Approx(without->unaccounted_mm3()).margin(20));
  // Two in one box have two sockets, each beside its own master.
  const auto set = master_set({{&p.mesh, &p.split, 2}}, 12);
  REQUIRE(set);
  const HalvesParts each = at_each({{.sockets = {socket}}}, *set);
  REQUIRE(each.sockets.size() == 2);
  for (size_t k = 0; k < 2; ++k) {
    CHECK(each.sockets[k].in_rubber_mm3 == 160);
    const Vec3 at = measure(*each.sockets[k].body).box_mm.centre() - set->masters[k].place.point({15, 10, 6});
    CHECK(length(at) < 1e-6);
  }
  // The same of rubber in one piece, with one master and with two.
  for (const int masters : {1, 2}) {
    const auto plain = rubber_whole(p.mesh, p.mould(), Form::cut, {}, {}, 0.5, Progress::none(), masters),
               held = rubber_whole(p.mesh, p.mould(), Form::cut, {}, {}, 0.5, Progress::none(), masters, {socket});
    REQUIRE((plain && held));
    CHECK(sound(*held));
    CHECK(measure(*plain).volume_mm3 - measure(*held).volume_mm3 == Approx(160 * masters).epsilon(0.1));
  }
}

TEST_CASE("what stands out of the master leaves its socket in a brushed skin, and in the jacket behind it", "[mould]") {
  const Part p(shapes::box({0, 0, 0}, {30, 20, 12}, 3));
  const auto rod = std::make_shared<const TriMesh>(shapes::box({-5, 8, 4}, {35, 12, 8}));
  MouldOptions how;
  how.wall_mm = 12;
  BuildOrder order;
  order.form = Form::skin, order.skin_mm = 3;
  // In the rod where the skin is, and where the jacket is behind it.
  const Vec3 in_skin{-1.5, 10.1, 6.1}, in_jacket{-4.2, 10.1, 6.1};
  const auto holds = [](const TriMesh& m, const Vec3& at) {
    return (*RayScene::build(m))->all_hits(at, unit(Vec3{0.31, 0.42, 0.85})).size() % 2 == 1;
  };
  double skin_mm3[2] = {};
  for (const bool held : {false, true}) {
    if (held) order.parts.sockets = {{rod, 2 * 5 * 16.0}};
    const auto built = build_files(p.mesh, *p.rays, p.split, how, {}, {}, {}, order, "skin", Progress::none());
    REQUIRE(built);
    for (const Finding& f : built->findings) CHECK(f.code != "build-unsound");
    bool jacket_there = false;
    for (const BuiltMesh& b : built->meshes) {
      if (b.name == "skin") {
        skin_mm3[held] = b.volume_mm3;
        CHECK(holds(b.mesh, in_skin) == !held);
        CHECK_FALSE(holds(b.mesh, {15, 10, 6}));  // the casting's own space
      } else if (b.name.starts_with("jacket")) {
        jacket_there |= holds(b.mesh, in_jacket);
      }
    }
    CHECK(jacket_there == !held);
  }
  CHECK(skin_mm3[0] - skin_mm3[1] == Approx(2 * 3 * 16).margin(0.02 * skin_mm3[0]));
}

TEST_CASE("further pieces: solids that fill the box with the halves, each free along its own pull", "[mould]") {
  // A block with a blind bore from the side: a piece of its own draws out of it.
  const Part p(shapes::bored_box({20, 15, 12}, 5, 1, 64));
  const auto found = find_pieces(p.mesh, p.pairs, *p.rays, p.split, {});
  REQUIRE(found);
  REQUIRE(found->pieces.size() >= 1);
  const KeyPlan none = place_keys(p.mould(), KeyKind::wave);
  const auto h = mould_halves(p.mesh, p.mould(12, 0.7), none, {.pieces = found->pieces}, {0.7, 0.05});
  REQUIRE(h);
  REQUIRE(h->halves.size() == 2 + found->pieces.size());
  for (const HalfSolid& x : h->halves) {
    CHECK(sound(x.mesh));
    CHECK(x.volume_mm3 > 10);
  }
  CHECK(std::abs(h->unaccounted_mm3()) < 0.015 * h->box_mm3);
  // Moved a little along its pull, the piece nowhere runs into the part.
  const ExtraPiece& e = found->pieces[0];
  size_t inside = 0;
  const TriMesh& solid = h->halves[2].mesh;
  for (size_t k = 0; k < solid.points.size(); k += 23) {
    const Vec3 q = solid.points[k] + e.pull * 3;
    const SurfacePoint near = p.rays->closest(q);
    if (p.rays->all_hits(q, unit(Vec3{0.31, 0.52, 0.79})).size() % 2 == 1 && near.distance_mm > 0.8) ++inside;
  }
  CHECK(inside == 0);
}

TEST_CASE("the jacket: shells sound, off the skin, drawing off, with bolts through both; turned the same", "[mould]") {
  for (const bool turn : {false, true}) {
    const Transform t = turn ? shapes::odd_turn() : Transform{};
    const Part p(transformed(shapes::torus(18, 7, 64, 32), t), t.direction({0, 0, 1}));
    const Mould m = p.mould();
    JacketRules r;
    const auto j = plan_jacket(p.mesh, m, r, 1.0);
    REQUIRE(j);
    CHECK(sound(j->a.mesh));
    CHECK(sound(j->b.mesh));
    CHECK(sound(j->skin));
    CHECK(j->bolts_mm.size() >= 4);
    CHECK(j->pry_mm.size() >= 2);
    CHECK(j->keys_mm.size() >= 4);
    // Skin by hand: torus tube grown by the skin, 2π²R((r+s)² − r²); keys and the filled hole come on top.
    const double skin = 2 * std::numbers::pi * std::numbers::pi * 18 * (12 * 12 - 7 * 7);
    CHECK(j->skin_mm3 > skin * 0.98);
    CHECK(j->skin_mm3 < skin * 1.3 + 2500);
    // Nothing of a shell stands between the skin and the way out: along the pull no ray from the shell's inner side
    // meets the skin. Sampled on shell a.
    const auto skin_rays = *RayScene::build(j->skin);
    size_t under = 0, tried = 0;
    for (size_t k = 0; k < j->a.mesh.points.size(); k += 41) {
      const Vec3 q = j->a.mesh.points[k] + m.frame.rows[2] * 1.2;
      ++tried;
      const auto hit = skin_rays->first_hit(q, m.frame.rows[2]);
      under += hit && hit->entering && hit->t_mm > 0.5;
    }
    CHECK(tried > 100);
    CHECK(under == 0);
    // A bolt's hole goes through both flanges: its axis meets neither shell.
    const auto a = *RayScene::build(j->a.mesh), b = *RayScene::build(j->b.mesh);
    for (const Vec3& bolt : j->bolts_mm) {
      CHECK_FALSE(a->first_hit(bolt, m.frame.rows[2]));
      CHECK_FALSE(b->first_hit(bolt, -m.frame.rows[2]));
    }
  }
}

TEST_CASE("the strip: as many parts as asked, hung on one bar; rubber adds up", "[mould]") {
  const TriMesh part = shapes::box({-4, -1, 0}, {4, 1, 12}, 2);
  for (const int many : {1, 7}) {
    const auto s = plan_strip({{&part, {0, 0, 1}, many}});
    REQUIRE(s);
    CHECK(s->places.size() == static_cast<size_t>(many));
    const auto bar = strip_bar(*s);
    REQUIRE(bar);
    CHECK(sound(*bar));
    CHECK(measure(*bar).volume_mm3 == Approx(s->bar_mm3()).epsilon(0.01));
    const auto rubber = strip_rubber({{&part, {0, 0, 1}, many}}, *s, *bar, 0.4);
    REQUIRE(rubber);
    CHECK(sound(*rubber));
    CHECK(measure(*rubber).volume_mm3 == Approx(s->rubber_mm3()).epsilon(0.01));
    // Copies stand clear of each other, the box and the bar's top.
    if (many > 1) CHECK(length(s->places[1].place.shift - s->places[0].place.shift) >= 2 + 5 - 1e-9);
  }
  CHECK_FALSE(plan_strip({{&part, {0, 0, 1}, 0}}));
}

TEST_CASE("a pin as a solid: sound, its volume by hand less flat and chamfers", "[mould]") {
  const Part p(shapes::bored_box({20, 15, 10}, 4, 1, 64));
  const auto bores = *find_bores(p.mesh, p.pairs, *p.rays);
  const PinPlan pin = plan_pin(*p.rays, bores[0], 12, std::nullopt, "Pin 1");
  const TriMesh m = pin_mesh(pin);
  CHECK(sound(m));
  const double round = std::numbers::pi / 4 * pin.diameter_mm * pin.diameter_mm * pin.length_mm();
  CHECK(measure(m).volume_mm3 < round);
  CHECK(measure(m).volume_mm3 > 0.9 * round);
}

TEST_CASE("every form on six shapes: figures that hang together, and what is built of it is sound", "[mould]") {
  struct Case {
    const char* name;
    TriMesh mesh;
    Vec3 pull;
    std::optional<Vec3> flat;
  };
  std::vector<Case> cases;
  cases.push_back({"block", shapes::box({0, 0, 0}, {30, 20, 12}, 3), {0, 0, 1}, Vec3{0, 0, -1}});
  cases.push_back({"ball", shapes::icosphere(12, 4), {0, 0, 1}, std::nullopt});
  cases.push_back({"ring", shapes::torus(16, 5, 64, 32), {0, 0, 1}, std::nullopt});
  cases.push_back({"round bar", shapes::cylinder(8, 30, 64), {1, 0, 0}, Vec3{0, 0, -1}});
  cases.push_back({"bored block", shapes::bored_box({15, 12, 10}, 5, 2, 64), {0, 0, 1}, Vec3{0, 0, -1}});
  const Transform t = shapes::odd_turn();
  cases.push_back({"turned block", transformed(shapes::box({0, 0, 0}, {30, 20, 12}, 3), t), t.direction({0, 0, 1}),
                   t.direction({0, 0, -1})});
  std::vector<double> block;
  for (const Case& c : cases) {
    INFO(c.name);
    const Part p(c.mesh, c.pull);
    const Mould m = p.mould();
    CHECK(m.box_mm3 == Approx(m.part_mm3 + m.rubber_mm3).epsilon(0.005));
    const auto bores = *find_bores(p.mesh, p.pairs, *p.rays);
    FormFacts f;
    f.walls = {12, 12, 12, {}};
    f.copies = 6;
    f.see_through = true;
    f.flat_normal = c.flat;
    f.resin_is_rubber = true;
    f.hands_min = plain_hands;
    const auto plans = plan_forms(p.mesh, **RayScene::build(p.mesh), p.split, m, bores, f, {});
    REQUIRE(plans);
    REQUIRE(plans->size() == static_cast<size_t>(form_count));
    int recommended = 0;
    for (const FormPlan& q : *plans) {
      INFO(name_of(q.form));
      CHECK(std::isfinite(q.cost));
      CHECK_FALSE(q.reasons.empty());
      if (!q.works) continue;
      CHECK(q.hands_min > 0);
      CHECK(q.pulls > 0);
      double sum = 0;
      for (const RubberPour& r : q.pours) {
        CHECK(r.volume_mm3 > 0);
        sum += r.volume_mm3;
      }
      CHECK(sum == Approx(q.rubber_mm3));
      recommended += q.recommended;
    }
    CHECK(recommended == 1);
    std::vector<double> figures;
    for (const FormPlan& q : *plans) figures.push_back(q.rubber_mm3);
    if (c.name == std::string("block")) block = figures;
    if (c.name == std::string("turned block"))
      for (size_t k = 0; k < figures.size(); ++k) CHECK(figures[k] == Approx(block[k]).epsilon(0.03));
    // What is poured whole: block less part; open stands on its flat face.
    for (const Form form : {Form::cut, Form::open, Form::putty}) {
      if (form == Form::open && !c.flat) continue;
      const auto rubber = rubber_whole(p.mesh, m, form, c.flat, {}, 1.2);
      REQUIRE(rubber);
      CHECK(sound(*rubber));
      CHECK(measure(*rubber).volume_mm3 == Approx(plans->at(static_cast<size_t>(form)).rubber_mm3).epsilon(0.05));
    }
    CHECK_FALSE(rubber_whole(p.mesh, m, Form::two_part, c.flat, {}, 1.2));
    const KeyPlan keys = place_keys(m, KeyKind::studs);
    const auto h = mould_halves(p.mesh, p.mould(12, 1.0), keys, {}, {0.6, 0.05});
    REQUIRE(h);
    for (const HalfSolid& x : h->halves) CHECK(sound(x.mesh));
    CHECK(std::abs(h->unaccounted_mm3()) < 0.02 * h->box_mm3);
  }
}

TEST_CASE("forms: each from the part, the one that suits on top", "[mould]") {
  const auto plan = [](const Part& p, FormFacts f, const std::vector<Bore>& bores = {}) {
    f.walls = {12, 12, 12, {}};
    f.hands_min = plain_hands;
    auto r = plan_forms(p.mesh, **RayScene::build(p.mesh), p.split, p.mould(), bores, f, {});
    REQUIRE(r);
    return *std::move(r);
  };
  const auto of = [](const std::vector<FormPlan>& list, Form f) { return list[static_cast<size_t>(f)]; };
  const auto best = [](const std::vector<FormPlan>& list) {
    for (const FormPlan& p : list)
      if (p.recommended) return p.form;
    return Form::two_part;
  };
  const Part ball(shapes::icosphere(15, 4));
  FormFacts f;
  auto r = plan(ball, f);
  const double v = measure(ball.mesh).volume_mm3;
  CHECK(best(r) == Form::two_part);
  CHECK(of(r, Form::two_part).rubber_mm3 == Approx(54.0 * 54 * 54 - v).epsilon(0.003));
  CHECK(of(r, Form::cut).rubber_mm3 == Approx(54.0 * 54 * 54 - v).epsilon(0.003));
  CHECK(of(r, Form::cut).pours.size() == 1);
  CHECK_FALSE(of(r, Form::cut).works);  // opaque rubber
  CHECK_FALSE(of(r, Form::open).works);
  // Skin 5 mm thick round a ball: its coats are the shells between the offsets; the jacket has its flange too.
  const FormPlan skin = of(r, Form::skin);
  const double shell = v * (std::pow(20.0 / 15, 3) - 1);
  REQUIRE(skin.pours.size() == 10);  // five a side
  const auto coat = [&](double k) { return v * (std::pow((15 + k) / 15, 3) - std::pow((14 + k) / 15, 3)); };
  CHECK(skin.pours[0].volume_mm3 + skin.pours[5].volume_mm3 == Approx(coat(1)).epsilon(0.02));
  CHECK(skin.pours[3].volume_mm3 + skin.pours[8].volume_mm3 == Approx(coat(4)).epsilon(0.02));
  CHECK(skin.rubber_mm3 > shell);
  CHECK(skin.hard_mm3 > 1.5 * v * (std::pow(24.0 / 15, 3) - std::pow(20.0 / 15, 3)));
  CHECK(of(r, Form::putty).works);
  f.see_through = true;
  f.copies = 2;
  // A knife would do; its risk is dearer than a second pour over a flat line.
  CHECK(of(plan(ball, f), Form::cut).works);
  CHECK(best(plan(ball, f)) == Form::two_part);
  f.undercuts = 1;
  CHECK_FALSE(of(plan(ball, f), Form::putty).works);
  // Flat back: open face, cheaper than all; its rubber is box less part.
  const Part tile(shapes::box({0, 0, 0}, {40, 30, 8}, 4));
  FormFacts flat;
  flat.flat_normal = Vec3{0, 0, -1};
  r = plan(tile, flat);
  CHECK(best(r) == Form::open);
  CHECK(of(r, Form::open).rubber_mm3 == Approx(64.0 * 54 * 20 - 40 * 30 * 8).epsilon(0.005));
  CHECK(of(r, Form::open).line_mm == 0);
  flat.copies = 12;  // tiny and many: a strip
  const Part chip(shapes::box({0, 0, 0}, {20, 8, 2}, 2));
  r = plan(chip, flat);
  CHECK(of(r, Form::strip).works);
  CHECK(of(r, Form::strip).castings_a_pull == 12);
  CHECK(best(r) == Form::strip);
  flat.need_help = 1;
  flat.extra_pieces = 1;
  flat.flat_normal.reset();
  r = plan(chip, flat);
  CHECK_FALSE(of(r, Form::two_part).works);
  CHECK(of(r, Form::pieces).works);
}

TEST_CASE("the crank sleeve: a rubber casting wants cup and core, and both print", "[mould]") {
  const Part p(demo_mesh("crank_sleeve.stl"), {1, 0, 0});
  const auto bores = *find_bores(p.mesh, p.pairs, *p.rays);
  REQUIRE_FALSE(bores.empty());
  FormFacts f;
  f.resin_is_rubber = true;
  const auto r = plan_forms(p.mesh, **RayScene::build(p.mesh), p.split, p.mould(), bores, f, {});
  REQUIRE(r);
  CHECK((*r)[static_cast<size_t>(Form::cup_core)].recommended);
  const auto c = cup_and_core(p.mesh, *p.rays, p.split, bores[0], 2.5, 0.5);
  REQUIRE(c);
  for (const TriMesh* m : {&c->cup_a, &c->cup_b, &c->core}) CHECK(sound(*m));
  // Closed up, cup and core leave the part's own room free: what the cup holds beyond its walls is the part.
  const double halves = measure(c->cup_a).volume_mm3 + measure(c->cup_b).volume_mm3;
  const MeshMeasure m = measure(p.mesh);
  const double outer0 = 0.5 * std::hypot(m.box_mm.size().x, m.box_mm.size().y) + 2.5, h = m.box_mm.size().z + 2.5,
               outer1 = outer0 + h * std::tan(2 * std::numbers::pi / 180);
  const double frustum = std::numbers::pi * h / 3 * (outer0 * outer0 + outer0 * outer1 + outer1 * outer1);
  const double bore = std::numbers::pi / 4 * bores[0].diameter_mm * bores[0].diameter_mm *
                      (m.box_mm.max.z - (m.box_mm.max.z - bores[0].depth_mm));
  CHECK(halves == Approx(frustum - m.volume_mm3 - bore).epsilon(0.02));
}

TEST_CASE("the box has a hole for each pin where it comes through, seen from outside", "[mould]") {
  Mould block;
  block.frame = frame_along({0, 0, 1});
  const Vec3 u = block.frame.direction_back({1, 0, 0}), v = block.frame.direction_back({0, 1, 0});
  block.inner_mm = {{-40, -30, 0}, {40, 30, 44}};
  const BoxPlan plan = plan_box({80, 60, 44}, 20, BoxStyle::screwed);
  PinPlan side, down, up;
  side.name = "Pin 1", side.draw = v, side.foot_mm = u * 10 + Vec3{0, 0, 25}, side.diameter_mm = 8;
  side.forms_mm = 20, side.head_mm = 10, side.grip_mm = 10;
  down = side, down.name = "Pin 2", down.draw = {0, 0, -1}, down.foot_mm = u * -20 + v * 5 + Vec3{0, 0, 30};
  up = side, up.name = "Pin 3", up.draw = {0, 0, 1};
  const BoxPlan with = with_pin_holes(plan, block, {side, down, up}, 0.5);
  size_t panels = 0, holes = 0;
  for (const CutPanel& p : with.panels) {
    panels += static_cast<size_t>(p.count);
    for (const PanelHole& h : p.pin_holes) {
      ++holes;
      double x0 = 1e9, x1 = -1e9, y0 = 1e9, y1 = -1e9;
      for (const Point2& q : h.outline)
        x0 = std::min(x0, q.x), x1 = std::max(x1, q.x), y0 = std::min(y0, q.y), y1 = std::max(y1, q.y);
      CHECK(x1 - x0 == Approx(9).margin(0.02));
      CHECK(y1 - y0 == Approx(9).margin(0.02));
      if (h.of == "Pin 1") {  // on the far side: seen from outside 30 mm from its left, and the sheet over it
        CHECK(p.name.starts_with("back"));
        CHECK(0.5 * (x0 + x1) == Approx(30 + p.thickness_mm).margin(0.02));
        CHECK(0.5 * (y0 + y1) == Approx(25).margin(0.02));
      } else {
        CHECK(h.of == "Pin 2");
        CHECK(p.name == "floor");
        CHECK(0.5 * (x0 + x1) == Approx(20 + p.thickness_mm).margin(0.02));
        CHECK(0.5 * (y0 + y1) == Approx(35 + p.thickness_mm).margin(0.02));
      }
    }
  }
  CHECK(panels == 5);
  CHECK(holes == 2);
  // One that ends in the rubber needs none.
  side.foot_mm = u * 10 + v * -25 + Vec3{0, 0, 25};
  for (const CutPanel& p : with_pin_holes(plan, block, {side}).panels) CHECK(p.pin_holes.empty());
}

TEST_CASE("the box: panels overlap, screws miss the split, bricks come whole, a tub is found", "[mould]") {
  const Vec3 inner{84, 64, 44};
  const BoxPlan s = plan_box(inner, 20, BoxStyle::screwed);
  REQUIRE(s.panels.size() == 3);
  CHECK(s.panels[0].overlaps);
  CHECK(s.panels[0].width_mm == Approx(84 + 12));
  CHECK(s.panels[1].width_mm == Approx(64));
  CHECK(s.panels[0].height_mm == Approx(52));
  for (const Point2& h : s.panels[0].holes_mm) CHECK(std::abs(h.y - 20) >= 5.99);
  CHECK(plan_box(inner, 20, BoxStyle::cut_in_two).panels[0].score_mm == 20);
  const BoxPlan b = plan_box({83, 61, 44}, 20, BoxStyle::bricks);
  CHECK(b.inner_mm.x == 88);
  CHECK(b.inner_mm.y == 64);
  CHECK(b.more_rubber_mm3 == Approx((88.0 * 64 - 83 * 61) * 44));
  CHECK(b.bricks == 5 * 12);  // 5 courses; (2·(88+64) + 64)/32 = 11.5 a course
  const BoxPlan tub = plan_box(inner, 20, BoxStyle::tub);
  CHECK(tub.works);
  CHECK(tub.inner_mm.x == 130);
  CHECK_FALSE(plan_box({400, 300, 200}, 20, BoxStyle::tub).works);
  // Drawings read back by another reader: closed outlines, true size.
  const shapes::TempDir dir;
  shapes::write_text(dir / "p.dxf", to_dxf(panel_drawing(s, "Test")));
  Outlines o;
  DL_Dxf reader;
  REQUIRE(reader.in(dir / "p.dxf", &o));
  CHECK(o.closed == 5);
  CHECK(o.open == 0);
  CHECK(o.points[1].x - o.points[0].x == Approx(96));
  shapes::write_text(dir / "r.dxf", to_dxf(rim_drawing({{0, 0, 0}, {84, 64, 44}}, 5, 3, 2, 0.2, "Test")));
  Outlines rim;
  REQUIRE(reader.in(dir / "r.dxf", &rim));
  CHECK(rim.closed == 3);
  CHECK(rim.points[1].x - rim.points[0].x == Approx(84.2));  // kerf half to each side
  CHECK(clamp_force(8000, 100, 1.05, 0).force_n == Approx(8000e-6 * 1050 * 9.80665 * 0.1));
  CHECK(clamp_force(8000, 100, 1.05, 300).force_n > 2000);
  CHECK(leak_list(BoxStyle::bricks).size() == 4);
}

TEST_CASE("a deep half in two stages: a tower at one end, by hand; a block has nothing to save", "[mould]") {
  const Part p(
      shapes::joined(shapes::box({0, 0, 0}, {60, 20, 10}, 3), shapes::box({0, 0, 10 - 1e-9}, {10, 20, 50}, 2)));
  const Mould m = p.mould(10);
  const StagedPour s = two_stage_pour(m, true);
  // Part 50 high, floor 10 under it, top 10 over: 70. Low end reaches 20 with floor, 30 with its wall: from 30 up only
  // the tower's 30 × 40 frame of 80 × 40 is needed: 50 × 40 × 40 saved.
  CHECK(s.height_mm == Approx(30).margin(70.0 / 40));
  CHECK(s.frame_u_mm == Approx(30).margin(2 * m.pitch_mm));
  CHECK(s.saved_mm3 == Approx(50 * 40 * 40).epsilon(0.06));
  const Part block(shapes::box({0, 0, 0}, {30, 20, 10}, 3));
  CHECK(two_stage_pour(block.mould(10), true).saved_mm3 == Approx(0).margin(900));
}

TEST_CASE("dams: an L leaves a corner, a block none", "[mould]") {
  const Part block(shapes::box({-30, -20, -8}, {30, 20, 8}, 4));
  CHECK(dam_saving(block.mould()).corners == 0);
  const auto l = carved({shapes::box({0, 0, 0}, {60, 60, 12})}, {shapes::box({15, 15, -1}, {61, 61, 13})}, 0, 0.5);
  REQUIRE(l);
  const Part ell(*l);
  const Mould m = ell.mould(10);
  const DamSaving d = dam_saving(m);
  CHECK(d.corners >= 1);
  // The notch of 45 × 45 and the walls beside it, less a wall's width along the L: 45 + 10 − 10 each way.
  CHECK(d.rubber_mm3 == Approx(45.0 * 45 * m.inner_mm.size().z).epsilon(0.12));
}

TEST_CASE("the section: the part cut exactly, at true scale, turned or not", "[mould]") {
  const TriMesh ball = shapes::icosphere(15, 5);
  for (const bool turn : {false, true}) {
    const Transform t = turn ? shapes::odd_turn() : Transform{};
    const TriMesh m = transformed(ball, t);
    Transform frame;
    frame.rows = {t.direction({1, 0, 0}), t.direction({0, 0, 1}), t.direction({0, 1, 0})};
    const auto cut = plane_cut(m, frame, 9 + dot(frame.rows[2], t.shift));
    REQUIRE(cut.size() == 1);
    double length_mm = 0;
    for (size_t i = 0; i < cut[0].size(); ++i) {
      const Point2 a = cut[0][i], b = cut[0][(i + 1) % cut[0].size()];
      length_mm += std::hypot(a.x - b.x, a.y - b.y);
    }
    CHECK(length_mm == Approx(2 * std::numbers::pi * 12).epsilon(0.003));  // √(15² − 9²) = 12
    CHECK(plane_cut(m, frame, 20 + dot(frame.rows[2], t.shift)).empty());
  }
  const TriMesh ring = shapes::torus(16, 5, 96, 48);
  Transform flat;
  CHECK(plane_cut(ring, flat, 0).size() == 2);
  const Part p(ball);
  const Drawing d = section_drawing(p.mesh, p.mould(), place_keys(p.mould(), KeyKind::studs), "Test");
  double left = 1e300, right = -1e300;
  for (const Stroke& s : d.strokes)
    if (s.pen == Pen::outline)
      for (const Point2& q : s.points) left = std::min(left, q.x), right = std::max(right, q.x);
  CHECK(right - left == Approx(30).epsilon(0.01));
}

TEST_CASE("a tube round a round part saves rubber, round a long one it does not", "[mould]") {
  const Part disc(shapes::cylinder(20, 8, 96));
  const double d = tube_for(disc.mesh, frame_along({0, 0, 1}), 10);
  CHECK(d == Approx(60).epsilon(1e-6));
  const BoxPlan p = plan_box({60, 60, 28}, 14, BoxStyle::tube, {}, d);
  CHECK(p.works);
  CHECK(p.more_rubber_mm3 == Approx((std::numbers::pi / 4 * 3600 - 3600) * 28));
  const Part bar(shapes::box({-40, -5, -4}, {40, 5, 4}, 2));
  CHECK(
      plan_box({100, 30, 28}, 14, BoxStyle::tube, {}, tube_for(bar.mesh, frame_along({0, 0, 1}), 10)).more_rubber_mm3 >
      0);
  CHECK_FALSE(plan_box({60, 60, 28}, 14, BoxStyle::tube).works);
}

TEST_CASE("the drill sheet: holes at their true places, seen from outside, leaning ones told", "[mould]") {
  const Part p(shapes::box({-15, -10, -6}, {15, 10, 6}));
  const Mould m = p.mould(12);
  const auto channel = [](const char* name, std::vector<Vec3> path, double diameter) {
    Channel c;
    c.name = name;
    c.path_mm = std::move(path);
    c.diameter_mm = diameter;
    return c;
  };
  const double top = m.inner_mm.max.z, high = top - m.inner_mm.min.z;
  const Vec3 foot = m.frame.direction_back({5, 3, 5}), out = m.frame.direction_back({5, 3, top + 8});
  const Channel upright = channel("gate", {foot, out}, 5);
  const auto at = leaves_at(m, upright, true);
  REQUIRE(at);
  CHECK(at->x == Approx(5));
  CHECK(at->y == Approx(3));
  CHECK(at->z == Approx(top));
  CHECK_FALSE(leaves_at(m, upright, false));
  // 45°: as far aside as it climbs.
  const Channel leaning =
      channel("vent 1", {m.frame.direction_back({0, 0, top - 10}), m.frame.direction_back({20, 0, top + 10})}, 2);
  const Channel sideways = channel("vent 2", {foot, m.frame.direction_back({200, 3, 5})}, 2);
  const Drawing d = punch_sheet(m, {upright, leaning, sideways}, "Latch");
  REQUIRE(d.rounds.size() == 2);  // the one through a side has no hole on this face
  CHECK(d.rounds[0].radius_mm == Approx(2.5));
  CHECK(d.rounds[1].centre.x - d.rounds[0].centre.x == Approx(10 - 5));
  CHECK(d.rounds[1].centre.y - d.rounds[0].centre.y == Approx(0 - 3));
  std::string words;
  for (const Label& l : d.labels) words += l.text + "\n";
  CHECK(words.find("upper face") != std::string::npos);
  CHECK(words.find("gate: Ø5.0 at ") != std::string::npos);
  CHECK(words.find("leaning 45° from upright") != std::string::npos);
  CHECK(words.find("vent 2: Ø2.0 leaves through a side") != std::string::npos);
  // Through the floor it is seen mirrored: right and left change places.
  const Vec3 down = m.frame.direction_back({5, 3, top - high - 8});
  const Drawing below = punch_sheet(m, {channel("gate", {foot, down}, 5)}, "Latch");
  REQUIRE(below.rounds.size() == 1);
  const double middle = 18 + 0.5 * m.inner_mm.size().x, off = 5 - 0.5 * (m.inner_mm.min.x + m.inner_mm.max.x);
  CHECK(d.rounds[0].centre.x - middle == Approx(off));
  CHECK(below.rounds[0].centre.x - middle == Approx(-off));
}

}  // namespace tests_mould_build
