#include <catch2/catch.hpp>
#include <cmath>
#include <map>
#include <numbers>
#include <random>
#include <set>

#include "flow/cavity.hpp"
#include "flow/channels.hpp"
#include "flow/plan.hpp"
#include "flow/roofs.hpp"
#include "flow/sweep.hpp"
#include "shapes.hpp"

namespace tests_flow_flow {

using namespace palinform;

namespace {

Sweep sweep(const Cavity& c, const Vec3& up, const std::vector<AirHole>& vents) { return *sweep_air(c, up, vents); }

/// The same by brute force: for every level, flood the cells above it from the vents that are still clear; air that
/// cannot be reached when its own level floods is trapped. Whole cells only, so it must be asked at axis-up.
double flooded_by_hand(const Cavity& c, const std::set<uint32_t>& vents) {
  // Layers of k from low to high: the liquid stands below layer k; cells at or above k are still air.
  std::vector<bool> trapped(c.size(), false);
  for (int k = 0; k <= c.nz; ++k) {
    std::vector<bool> seen(c.size(), false);
    std::vector<uint32_t> stack;
    const auto layer = [&](uint32_t g) { return static_cast<int>(c.lattice[g][2]); };
    for (const uint32_t v : vents)
      if (layer(v) >= k && !trapped[v] && !seen[v]) seen[v] = true, stack.push_back(v);
    while (!stack.empty()) {
      const uint32_t g = stack.back();
      stack.pop_back();
      for (const uint32_t o : c.cell[g].beside) {
        if (o == Cavity::outside || layer(o) < k || seen[o] || trapped[o]) continue;
        seen[o] = true;
        stack.push_back(o);
      }
    }
    for (uint32_t g = 0; g < c.size(); ++g)
      if (layer(g) >= k && !seen[g]) trapped[g] = true;
  }
  double n = 0;
  for (const bool t : trapped) n += t;
  return n;
}

}  // namespace

TEST_CASE("M6: a box vented in the middle of its roof keeps nothing", "[flow]") {
  const auto c = fill_with_cells(shapes::box({0, 0, 0}, {40, 40, 20}), 1);
  REQUIRE(c);
  CHECK(c->total_mm3() == Approx(32000));
  const Sweep s = sweep(*c, {0, 0, 1}, {{{20, 20, 20}, 0}});
  CHECK(s.trapped_mm3 == Approx(0).margin(1e-6));
  CHECK(s.pockets.empty());
  // Vent half-way up a wall: all above it stays.
  CHECK(sweep(*c, {0, 0, 1}, {{{0, 20, 10}, 0}}).trapped_mm3 == Approx(16000).epsilon(0.01));
  // No vent at all: nothing can come in.
  const Sweep shut = sweep(*c, {0, 0, 1}, {});
  CHECK(shut.trapped_mm3 == Approx(32000));
  CHECK_FALSE(shut.pockets[0].saddle_mm);
}

TEST_CASE("M6: a sloped roof traps just the wedge above the vent's level", "[flow]") {
  // Box tilted about y: the roof's middle vent leaves the triangular prism above its level.
  for (const double tilt : {5.0, 12.0, 25.0}) {
    const double t = tilt * std::numbers::pi / 180;
    const Vec3 up{std::sin(t), 0, std::cos(t)};
    // Vent at the roof's middle line x = 20 (all along y it is one level): wedge of legs 20·cos, 20·sin over 40 wide,
    // cut by the end wall: triangle with base 20 along the roof and height 20·tan t down the wall.
    const double wedge = 0.5 * 20 * 20 * std::tan(t) * 40;
    double last = 1e300;
    for (const double h : {2.0, 1.0, 0.5}) {
      const auto c = fill_with_cells(shapes::box({0, 0, 0}, {40, 40, 20}), h);
      const double off = std::abs(sweep(*c, up, {{{20, 20, 20}, 0}}).trapped_mm3 - wedge);
      INFO("tilt " << tilt << " voxel " << h << " off " << off << " of " << wedge);
      CHECK(off < 0.10 * wedge * h + 40 * h * 3);  // first order in the voxel
      CHECK(off <= last * 1.2 + 1);
      last = off;
    }
  }
}

TEST_CASE("M6: of two towers joined at the bottom, the one without a vent keeps its air above the joint", "[flow]") {
  const int n = 30;
  std::vector<uint8_t> in(static_cast<size_t>(n * 10 * 40), 0);
  const auto put = [&](int x0, int x1, int z0, int z1) {
    for (int z = z0; z < z1; ++z)
      for (int y = 0; y < 10; ++y)
        for (int x = x0; x < x1; ++x) in[static_cast<size_t>((z * 10 + y) * n + x)] = 1;
  };
  put(0, 10, 0, 40);
  put(20, 30, 0, 30);
  put(10, 20, 0, 8);
  const Cavity c = cavity_of(n, 10, 40, 1, in);
  const Sweep s = sweep(c, {0, 0, 1}, {{{5, 5, 40}, 0}});
  REQUIRE(s.pockets.size() == 1);
  CHECK(s.trapped_mm3 == Approx(10 * 10 * (30 - 8)));
  CHECK(s.pockets[0].apex_mm.z == Approx(30));
  CHECK(s.pockets[0].saddle_mm->z == Approx(7.5));
  CHECK(sweep(c, {0, 0, 1}, {{{5, 5, 40}, 0}, {{25, 5, 30}, 0}}).trapped_mm3 == Approx(0).margin(1e-9));
  // Upside down it is a fork: both ends fill from what is now the top, the long arm's foot is deepest.
  CHECK(sweep(c, {0, 0, -1}, {{{15, 5, 0}, 0}}).trapped_mm3 == Approx(0).margin(1e-9));
}

TEST_CASE("the sweep agrees with flooding by hand on 1,000 random cavities", "[flow]") {
  std::mt19937 rnd(77);
  for (int round = 0; round < 1000; ++round) {
    const int nx = 3 + static_cast<int>(rnd() % 5), ny = 2 + static_cast<int>(rnd() % 4),
              nz = 3 + static_cast<int>(rnd() % 6);
    std::vector<uint8_t> in(static_cast<size_t>(nx * ny * nz));
    for (auto& v : in) v = rnd() % 100 < 62;
    const Cavity c = cavity_of(nx, ny, nz, 1, in);
    if (c.size() == 0) continue;
    std::vector<AirHole> vents;
    std::set<uint32_t> cells;
    for (uint32_t k = 0; k < 1 + rnd() % 3; ++k) {
      const auto g = static_cast<uint32_t>(rnd() % c.size());
      cells.insert(g);
      vents.push_back({c.centre(g) + Vec3{0, 0, 0.5}, 0});  // mouth at the cell's top: the whole cell lets air out
    }
    const Sweep s = sweep(c, {0, 0, 1}, vents);
    CHECK(s.trapped_mm3 == Approx(flooded_by_hand(c, cells)).margin(1e-9));
    double sum = 0;
    for (const Pocket& p : s.pockets) sum += p.volume_mm3;
    CHECK(sum == Approx(s.trapped_mm3));
  }
}

/// Trapped air by its plain meaning, for any up and with cells counted in part: at every level, from the highest down,
/// flood the uncovered cells from the vents that are still open; what is reached for the first time while it was
/// already uncovered keeps what of it stands over that level. Quadratic: for small grids.
double flooded_at_every_level(const Cavity& c, const Vec3& up, const std::vector<AirHole>& openings) {
  Descent d;
  descend(c, unit(up), d);
  const auto vents = vent_cells(c, d, unit(up), openings);
  std::set<int64_t, std::greater<>> levels;
  for (const uint32_t l : d.level) levels.insert(l);
  for (const VentCell& v : vents) levels.insert(v.level);
  const size_t n = c.size();
  std::vector<uint8_t> free(n, 0);
  double trapped = 0;
  const auto flood = [&](int64_t level, bool with_cells_of_it) {
    std::vector<uint8_t> reached(n, 0);
    std::vector<uint32_t> stack;
    const auto uncovered = [&](uint32_t k) { return with_cells_of_it ? d.level[k] >= level : d.level[k] > level; };
    const auto reach = [&](uint32_t k) {
      if (uncovered(k) && !reached[k]) reached[k] = 1, stack.push_back(k);
    };
    for (const VentCell& v : vents)
      if (v.level >= level) reach(v.cell);
    for (uint32_t k = 0; k < n; ++k)
      if (free[k]) reach(k);
    while (!stack.empty()) {
      const uint32_t k = stack.back();
      stack.pop_back();
      for (const uint32_t o : c.cell[k].beside)
        if (o != Cavity::outside) reach(o);
    }
    for (uint32_t k = 0; k < n; ++k)
      if (reached[k] && !free[k]) {
        free[k] = 1;
        trapped += d.share_above(c, k, level);
      }
  };
  for (const int64_t level : levels) flood(level, true);
  for (uint32_t k = 0; k < n; ++k) trapped += !free[k];
  return trapped * std::pow(c.voxel_mm, 3);
}

TEST_CASE("the sweep and the roofs agree with flooding at every level, tilted, on 1,000 random cavities", "[flow]") {
  std::mt19937 rnd(4242);
  std::uniform_real_distribution<double> u(-1, 1);
  RoofMemory memory;
  size_t told = 0;
  for (int round = 0; round < 1000; ++round) {
    const int nx = 2 + static_cast<int>(rnd() % 5), ny = 2 + static_cast<int>(rnd() % 5),
              nz = 2 + static_cast<int>(rnd() % 5);
    std::vector<uint8_t> in(static_cast<size_t>(nx * ny * nz));
    for (auto& v : in) v = rnd() % 100 < 60;
    const Cavity c = cavity_of(nx, ny, nz, 0.7, in);
    if (c.size() == 0) continue;
    const Vec3 up = unit(Vec3{u(rnd), u(rnd), u(rnd)});
    std::vector<AirHole> vents;
    for (uint32_t k = 0; k < rnd() % 4; ++k)
      vents.push_back({c.centre(static_cast<uint32_t>(rnd() % c.size())) + Vec3{u(rnd), u(rnd), u(rnd)} * 0.3, 0});
    const double hand = flooded_at_every_level(c, up, vents);
    INFO("round " << round);
    CHECK(sweep(c, up, vents).trapped_mm3 == Approx(hand).margin(1e-9));
    // Without a vent of one's own choosing, the roofs say the same; and each vent at the next roof takes its volume
    // off.
    auto roofs = find_roofs(c, up, vents, 0, memory);
    CHECK(left_with_vents_mm3(roofs, 0) == Approx(hand).margin(1e-9));
    told += roofs.size();
    double last = hand;
    for (size_t k = 1; k <= roofs.size(); ++k) {
      const double now = left_with_vents_mm3(roofs, k);
      CHECK(now <= last + 1e-9);
      last = now;
    }
    CHECK(last == Approx(0).margin(1e-9));
    // A vent at each of the first two apexes, swept for itself.
    std::vector<AirHole> more = vents;
    Descent d;
    descend(c, up, d);
    for (size_t k = 0; k < std::min<size_t>(2, roofs.size()); ++k)
      more.push_back({c.centre(roofs[k].apex), 1e-6});  // the whole of that cell is open
    CHECK(flooded_at_every_level(c, up, more) ==
          Approx(left_with_vents_mm3(roofs, std::min<size_t>(2, roofs.size()))).margin(1e-4));
  }
  CHECK(told > 3000);
}

TEST_CASE("M6: U-tube, tilted slab and labyrinth by hand", "[flow]") {
  // U-tube 4 × 4 in section: legs 20 and 14 high, vent on the long one. Upright, the short leg keeps what stands over
  // the cross piece's roof; upside down nothing stays but in the bend if the vent is not there.
  std::vector<uint8_t> in(static_cast<size_t>(16 * 4 * 20), 0);
  const auto put = [&](int x0, int x1, int z0, int z1) {
    for (int z = z0; z < z1; ++z)
      for (int y = 0; y < 4; ++y)
        for (int x = x0; x < x1; ++x) in[static_cast<size_t>((z * 4 + y) * 16 + x)] = 1;
  };
  put(0, 4, 0, 20), put(12, 16, 0, 14), put(4, 12, 0, 4);
  const Cavity tube = cavity_of(16, 4, 20, 1, in);
  CHECK(sweep(tube, {0, 0, 1}, {{{2, 2, 20}, 0}}).trapped_mm3 == Approx(4 * 4 * (14 - 4)));
  CHECK(sweep(tube, {0, 0, -1}, {{{2, 2, 20}, 0}}).trapped_mm3 == Approx(16 * 4 * 4 + 4 * 4 * 10 + 4 * 4 * 16));
  // A slab on its edge, tilted: vent in the middle of the long top edge leaves a triangle of slope tan t.
  for (const double tilt : {3.0, 8.0}) {
    const double t = tilt * std::numbers::pi / 180;
    const auto slab = fill_with_cells(shapes::box({0, 0, 0}, {60, 3, 30}), 0.5);
    const double kept = sweep(*slab, {std::sin(t), 0, std::cos(t)}, {{{30, 1.5, 30}, 0}}).trapped_mm3;
    CHECK(kept == Approx(0.5 * 30 * 30 * std::tan(t) * 3).epsilon(0.06));
  }
  // A labyrinth: three rooms one over the other, joined at alternate ends; the vent at the top room's far end frees all
  // but the ceilings' far corners, which lie level with the doors: nothing stays.
  std::vector<uint8_t> maze(static_cast<size_t>(20 * 3 * 17), 0);
  const auto room = [&](int x0, int x1, int z0, int z1) {
    for (int z = z0; z < z1; ++z)
      for (int y = 0; y < 3; ++y)
        for (int x = x0; x < x1; ++x) maze[static_cast<size_t>((z * 3 + y) * 20 + x)] = 1;
  };
  room(0, 20, 0, 5), room(0, 20, 6, 11), room(0, 20, 12, 17), room(18, 20, 5, 6), room(0, 2, 11, 12);
  const Cavity rooms = cavity_of(20, 3, 17, 1, maze);
  CHECK(sweep(rooms, {0, 0, 1}, {{{19, 1.5, 17}, 0}}).trapped_mm3 == Approx(0).margin(1e-9));
  // Leaning toward the closed end of the middle room, that end keeps a wedge; the roofs name the same places.
  const Vec3 up = unit(Vec3{0.2, 0, 1});
  const Sweep leaning = sweep(rooms, up, {{{19, 1.5, 17}, 0}});
  CHECK(leaning.trapped_mm3 > 20);
  RoofMemory memory;
  const auto roofs = find_roofs(rooms, up, {{{19, 1.5, 17}, 0}}, 1, memory);
  REQUIRE(!roofs.empty());
  CHECK(length(rooms.centre(roofs[0].apex) - leaning.pockets[0].apex_mm) < 1.1);
}

TEST_CASE("M6: the error falls with the voxel, first order", "[flow]") {
  // A ball vented at its side: the cap over the vent stays, h²(3r − h)π/3.
  const TriMesh ball = shapes::icosphere(10, 5);
  const double cap = std::numbers::pi / 3 * 25 * (30 - 5);
  const Vec3 up = unit(Vec3{0.3, 0.2, 1});
  const Vec3 side = unit(any_perpendicular(up)) * std::sqrt(75.0) + up * 5;
  double coarse = 0, fine = 0;
  for (const double h : {0.8, 0.4, 0.2}) {
    const double off = std::abs(sweep(*fill_with_cells(ball, h), up, {{side, 0}}).trapped_mm3 - cap);
    CHECK(off < 0.12 * h * cap);
    (h == 0.8 ? coarse : fine) = off;
  }
  CHECK(fine < 0.6 * coarse + 1);
}

TEST_CASE("the plan: an L stands so that one vent does; its figure is the sweep's own; turned, it stays the same",
          "[flow]") {
  // Two prongs of one height: level they want a vent each, tilted one prong still is a roof of its own.
  const TriMesh fork = [] {
    TriMesh m = shapes::box({0, 0, 0}, {40, 10, 8}, 4);
    return m;
  }();
  const auto rays = *RayScene::build(fork);
  const auto cavity = *fill_with_cells(fork, 0.6);
  FlowPlanOptions o;
  o.azimuths = 16;
  const auto p = plan_flow(fork, *rays, cavity, o);
  REQUIRE(p);
  CHECK(p->left_mm3 == 0);
  REQUIRE(p->vents.size() == 1);
  REQUIRE(p->gate);
  CHECK(p->gate->clear);
  CHECK(p->gate->height_share < 0.36);
  CHECK(p->tried.size() == 1 + 9 * 16);
  std::vector<AirHole> vents;
  for (const Vec3& v : p->vents) vents.push_back({v, 0});
  CHECK(sweep(cavity, p->up, vents).trapped_mm3 == Approx(p->sweep.trapped_mm3));
  // What the person keeps is kept, and barred places stay without a vent.
  FlowPlanOptions kept = o;
  kept.vents = {{20, 5, 8}};
  kept.gate = Vec3{0, 5, 4};
  kept.max_tilt_deg = 10;
  const auto q = plan_flow(fork, *rays, cavity, kept);
  REQUIRE(q);
  CHECK(q->vents.front() == Vec3{20, 5, 8});
  CHECK(q->gate->at_mm == Vec3{0, 5, 4});
  CHECK(q->tilt_deg <= 10);
  FlowPlanOptions barred = o;
  barred.max_tilt_deg = 0;
  barred.no_vent = {p->vents.front(), {20, 5, 8}};
  barred.no_vent_mm = 60;
  const auto none = plan_flow(fork, *rays, cavity, barred);
  REQUIRE(none);
  CHECK(none->vents.empty());
  CHECK(none->left_mm3 > 1000);
  // Scarred faces are avoided: the top dear, the vent goes to a side edge or the plan leans.
  FlowPlanOptions dear = o;
  dear.scar.assign(fork.triangles.size(), 0);
  for (size_t t = 0; t < fork.triangles.size(); ++t)
    if (fork.normal(t).z > 0.9) dear.scar[t] = 10;
  const auto away = plan_flow(fork, *rays, cavity, dear);
  REQUIRE(away);
  for (const Vec3& v : away->vents) CHECK(v.z < 8 + 1e-6);
  CHECK_FALSE(plan_flow(fork, *rays, cavity, [&] {
    auto bad = o;
    bad.base_up = {};
    return bad;
  }()));
  CHECK_FALSE(plan_flow(fork, *rays, cavity, [&] {
    auto bad = o;
    bad.max_tilt_deg = 200;
    return bad;
  }()));
  Progress stop;
  stop.cancel();
  CHECK(plan_flow(fork, *rays, cavity, o, stop).error().cancelled);
  // Part and base turned together: the same tilt, vents and air, to within the grid.
  const Transform t = shapes::odd_turn();
  const TriMesh other = transformed(fork, t);
  FlowPlanOptions turned = o;
  turned.base_up = t.direction({0, 0, 1});
  const auto r = plan_flow(other, **RayScene::build(other), *fill_with_cells(other, 0.6), turned);
  REQUIRE(r);
  CHECK(r->vents.size() == p->vents.size());
  CHECK(r->left_mm3 == 0);
}

TEST_CASE("channels: straight up where nothing is in the way, beside the part where it is", "[flow]") {
  const TriMesh m = shapes::box({0, 0, 0}, {30, 20, 10}, 2);
  const auto rays = *RayScene::build(m);
  const Box3 box = measure(m).box_mm;
  const Channel up = plan_channel(*rays, box, {15, 10, 10}, {0, 0, 1}, {0, 0, 1}, 40, false, "vent 1");
  CHECK(up.clear);
  REQUIRE(up.path_mm.size() == 2);
  CHECK(up.path_mm.back().z == Approx(40));
  CHECK(up.volume_mm3() == Approx(std::numbers::pi * 1 * up.length_mm()));
  const Channel side = plan_channel(*rays, box, {30, 10, 2}, {1, 0, 0}, {0, 0, 1}, 40, true, "gate");
  CHECK(side.clear);
  CHECK(side.path_mm.back().z == Approx(40));
  CHECK(side.path_mm.back().x > 30 + 2.5);
  const Channel under = plan_channel(*rays, box, {15, 10, 0}, {0, 0, -1}, {0, 0, 1}, 40, true, "gate");
  CHECK(under.clear);
  CHECK(under.path_mm.size() == 4);
  CHECK(rays->closest(under.path_mm[2]).distance_mm > 2.5);
  // Funnel and tube by hand.
  const double tube = std::numbers::pi * 6.25 * (side.length_mm() - 12),
               funnel = std::numbers::pi / 3 * 12 * (6.5 * 6.5 + 6.5 * 2.5 + 2.5 * 2.5);
  CHECK(side.volume_mm3() == Approx(tube + funnel));
  // Inside a closed hollow nothing gets out.
  const TriMesh hollow = shapes::joined(shapes::box({-20, -20, -20}, {20, 20, 20}),
                                        shapes::turned_over(shapes::box({-5, -5, -5}, {5, 5, 5})));
  CHECK_FALSE(plan_channel(**RayScene::build(hollow), measure(hollow).box_mm, {0, 0, 5}, {0, 0, -1}, {0, 0, 1}, 40,
                           false, "vent")
                  .clear);
}

TEST_CASE("the rubber's space: box less part; an overhang keeps air, a plain block none", "[flow]") {
  const auto space = [](const TriMesh& part, bool upper, double ground) {
    Box3 in = measure(part).box_mm;
    in.min = in.min - Vec3{10, 10, 10}, in.max = in.max + Vec3{10, 10, 10};
    return *rubber_space(
        part, in, [ground](double, double) { return ground; }, upper, false, 1);
  };
  const auto top_open = [](const Cavity& c) {
    std::vector<AirHole> out;
    double top = -1e300;
    for (uint32_t g = 0; g < c.size(); ++g) top = std::max(top, c.cube_centre(g).z);
    for (uint32_t g = 0; g < c.size(); ++g)
      if (c.cube_centre(g).z > top - 0.1) out.push_back({c.cube_centre(g) + Vec3{0, 0, 0.5}, 0});
    return out;
  };
  const TriMesh block = shapes::box({0, 0, 0}, {20, 20, 10});
  const Cavity plain = space(block, true, 5);
  CHECK(plain.total_mm3() == Approx(40 * 40 * 15 - 20 * 20 * 5).epsilon(0.01));
  CHECK(sweep(plain, {0, 0, 1}, top_open(plain)).trapped_mm3 == Approx(0).margin(1e-6));
  CHECK(space(block, false, 5).total_mm3() == Approx(40 * 40 * 15 - 20 * 20 * 5).epsilon(0.01));
  // A cup upside down over the surface: the hollow under it keeps its air.
  const TriMesh cup =
      shapes::joined(shapes::box({0, 0, 10}, {20, 20, 14}),
                     shapes::joined(shapes::box({0, 0, 2}, {20, 3, 10.01}),
                                    shapes::joined(shapes::box({0, 17, 2}, {20, 20, 10.01}),
                                                   shapes::joined(shapes::box({0, 2.99, 2}, {3, 17.01, 10.01}),
                                                                  shapes::box({17, 2.99, 2}, {20, 17.01, 10.01})))));
  const Cavity under = space(cup, true, 0);
  CHECK(sweep(under, {0, 0, 1}, top_open(under)).trapped_mm3 == Approx(14 * 14 * 8).epsilon(0.1));
  CHECK_FALSE(rubber_space(
      block, Box3{{0, 0, 0}, {1, 1, 1}}, [](double, double) { return 0.0; }, true, false, 0));
}

TEST_CASE("a vent more never traps more; turning part and up together changes nothing", "[flow]") {
  const TriMesh m = shapes::torus(20, 6, 64, 32);
  const auto c = fill_with_cells(m, 0.8);
  std::mt19937 rnd(5);
  std::uniform_real_distribution<double> u(-1, 1);
  for (int i = 0; i < 20; ++i) {
    const Vec3 up = unit(Vec3{u(rnd), u(rnd), u(rnd)});
    std::vector<AirHole> vents;
    double last = 1e300;
    for (int k = 0; k < 5; ++k) {
      const double a = 3 * u(rnd);
      vents.push_back({{26 * std::cos(a), 26 * std::sin(a), 0}, 0});
      const double now = sweep(*c, up, vents).trapped_mm3;
      CHECK(now <= last + 1e-9);
      last = now;
    }
  }
  // Ring on edge, vent at the very top: nothing stays; vent on the side: all above it on the far... both sides.
  const Transform t = shapes::odd_turn();
  const auto turned = fill_with_cells(transformed(m, t), 0.8);
  const double a = sweep(*c, {1, 0, 0}, {{{0, 26, 0}, 0}}).trapped_mm3;
  const double b = sweep(*turned, t.direction({1, 0, 0}), {{t.point({0, 26, 0}), 0}}).trapped_mm3;
  CHECK(a > 1000);
  CHECK(b == Approx(a).epsilon(0.03));
  CHECK(sweep(*c, {1, 0, 0}, {{{26, 0, 0}, 0}}).trapped_mm3 < 20);
  CHECK(sweep(*turned, t.direction({1, 0, 0}), {{t.point({26, 0, 0}), 0}}).trapped_mm3 < 30);
}

TEST_CASE("a stepped roof, a bell and a comb keep what they must", "[flow]") {
  // Comb: five teeth upwards from a common base, vent on the middle one.
  std::vector<uint8_t> in(static_cast<size_t>(25 * 4 * 20), 0);
  for (int z = 0; z < 20; ++z)
    for (int y = 0; y < 4; ++y)
      for (int x = 0; x < 25; ++x)
        if (z < 6 || (x / 5 % 1 == 0 && x % 5 < 3 && z < 12 + x / 5)) in[static_cast<size_t>((z * 4 + y) * 25 + x)] = 1;
  const Cavity comb = cavity_of(25, 4, 20, 1, in);
  const Sweep s = sweep(comb, {0, 0, 1}, {{{11.5, 2, 14}, 0}});
  REQUIRE(s.pockets.size() == 4);
  double expected = 0;
  for (const int tooth : {0, 1, 3, 4}) expected += 3 * 4 * (12 + tooth - 6);
  CHECK(s.trapped_mm3 == Approx(expected));
  CHECK(s.pockets[0].volume_mm3 >= s.pockets[3].volume_mm3);
  CHECK_FALSE(sweep_air(comb, {0, 0, 0}, {}));
  Progress p;
  p.cancel();
  CHECK(sweep_air(comb, {0, 0, 1}, {}, p).error().cancelled);
}

TEST_CASE("an open disc lets out what lies beneath it", "[flow]") {
  const auto c = fill_with_cells(shapes::cylinder(10, 20, 64), 0.5);
  CHECK(sweep(*c, {0, 0, 1}, {{{0, 0, 20}, 9}}).trapped_mm3 == Approx(0).margin(0.5));
  CHECK_FALSE(fill_with_cells(shapes::cylinder(10, 20, 64), 0));
  CHECK_FALSE(fill_with_cells(shapes::cylinder(10, 20, 64), 0.001));
}

TEST_CASE("cells count the solid to first order", "[flow]") {
  const TriMesh ball = shapes::icosphere(10, 4);
  const double v = measure(ball).volume_mm3;
  for (const double h : {1.0, 0.5, 0.25}) CHECK(fill_with_cells(ball, h)->total_mm3() == Approx(v).epsilon(0.03 * h));
  const auto c = fill_with_cells(ball, 0.5);
  CHECK(length(c->centre(c->nearest_cell({0, 0, 10})) - Vec3{0, 0, 10}) < 1);
  CHECK(length(c->centre(c->nearest_cell({0, 0, 50})) - Vec3{0, 0, 10}) < 1);
  CHECK(voxel_for(1000, 1000) == Approx(1));
}

TEST_CASE("M7: pressure, vacuum, altitude", "[flow]") {
  CHECK(air_pressure_kpa(0) == Approx(101.325));
  CHECK(air_pressure_kpa(1500) == Approx(84.556).epsilon(1e-3));
  CHECK(under_pressure_mm3(1, 400, 0) == Approx(0.202).margin(5e-4));
  CHECK(under_pressure_mm3(1, 0, 0) == 1);
  CHECK(pressure_for_kpa(1, 0.202, 0) == Approx(400).epsilon(0.01));
  CHECK(under_pressure_mm3(7, pressure_for_kpa(7, 0.1, 800), 800) == Approx(0.1));
  CHECK(pressure_for_kpa(0.05, 0.1, 0) == 0);
  CHECK(after_vacuum_mm3(84, 4, 0) == Approx(84 * 4 / 101.325));
  CHECK(after_vacuum_mm3(84, 4, 2000) > after_vacuum_mm3(84, 4, 0));
  CHECK(vacuum_gauge_kpa(4, 0) == Approx(97.325));
  CHECK(vacuum_gauge_kpa(0, 2000) == Approx(air_pressure_kpa(2000)));  // a gauge never reads more
  CHECK(ball_diameter_mm(84) == Approx(5.43).margin(0.01));
}

TEST_CASE("tilting is about the pull, by azimuth", "[flow]") {
  CHECK(length(tilted_up({0, 0, 1}, 0, 123) - Vec3{0, 0, 1}) < 1e-12);
  for (double a = 0; a < 360; a += 37) {
    const Vec3 u = tilted_up({0, 1, 0}, 30, a);
    CHECK(dot(u, Vec3{0, 1, 0}) == Approx(std::cos(30 * std::numbers::pi / 180)));
    CHECK(length(u) == Approx(1));
  }
}

}  // namespace tests_flow_flow
