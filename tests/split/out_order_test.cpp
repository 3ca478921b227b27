// In which order things come apart: by hand.
#include <catch2/catch.hpp>

#include "mesh/primitives.hpp"
#include "ready_part.hpp"
#include "shapes.hpp"
#include "solid/unite.hpp"
#include "split/out_order.hpp"

namespace tests_split_out_order {

using namespace palinform;

namespace {

TriMesh without(TriMesh a, const TriMesh& b) {
  auto r = subtract(a, b);
  REQUIRE(r);
  return *std::move(r);
}

std::vector<std::string> names(const std::vector<ComesOut>& bodies, const OutOrder& o) {
  std::vector<std::string> out;
  for (const size_t k : o.order) out.push_back(bodies[k].name);
  return out;
}

}  // namespace

TEST_CASE("a pin through both halves goes first, then the halves", "[split]") {
  const TriMesh hole = rod({0, 0, 0}, {1, 0, 0}, 80, 3.05, 3.05);
  const ReadyPart a(without(shapes::box({10, -20, 0}, {60, 20, 20}), hole)),
      b(without(shapes::box({10, -20, -20}, {60, 20, 0}), hole)), pin(rod({12, 0, 0}, {1, 0, 0}, 60, 3, 3));
  const std::vector<ComesOut> bodies{{"a", &a.mesh, a.rays.get(), {0, 0, 1}, 2},
                                     {"b", &b.mesh, b.rays.get(), {0, 0, -1}, 3},
                                     {"pin", &pin.mesh, pin.rays.get(), {1, 0, 0}, 0}};
  const OutOrder o = out_order(bodies, 0.2);
  CHECK(o.stuck.empty());
  CHECK(names(bodies, o) == std::vector<std::string>{"pin", "a", "b"});
}

TEST_CASE("a pin whose way leads through another waits for it, whatever its turn", "[split]") {
  const ReadyPart first(rod({0, 0, 0}, {1, 0, 0}, 30, 3, 3)), across(rod({50, 0, -20}, {0, 0, 1}, 60, 3, 3));
  std::vector<ComesOut> bodies{{"first", &first.mesh, first.rays.get(), {1, 0, 0}, 0},
                               {"across", &across.mesh, across.rays.get(), {0, 0, 1}, 1}};
  CHECK(names(bodies, out_order(bodies, 0.2)) == std::vector<std::string>{"across", "first"});
  // Drawn the other way nothing is before it.
  bodies[0].way = {-1, 0, 0};
  CHECK(names(bodies, out_order(bodies, 0.2)) == std::vector<std::string>{"first", "across"});
}

TEST_CASE("two hooks that hold each other are stuck, and it is told where", "[split]") {
  // Each has a lip over the other's, seen along its own way.
  TriMesh l = *unite(shapes::box({0, 0, 0}, {10, 10, 30}), shapes::box({5, 0, 20}, {30, 10, 30}));
  TriMesh r = *unite(shapes::box({20, 0, 0}, {30, 10, 15}), shapes::box({12, 0, 5}, {25, 10, 15}));
  const ReadyPart left(l), right(r);
  // The left one is to go down, through what reaches under it; the right one up, through the left one's lip.
  const std::vector<ComesOut> bodies{{"left", &left.mesh, left.rays.get(), {0, 0, -1}, 0},
                                     {"right", &right.mesh, right.rays.get(), {0, 0, 1}, 0}};
  const OutOrder o = out_order(bodies, 0.2);
  REQUIRE(o.stuck.size() == 1);
  CHECK(o.order.size() == 2);
}

TEST_CASE("bodies that only touch along the way, or by a slack, do not hold each other", "[split]") {
  const ReadyPart socket(without(shapes::box({-20, -20, 0}, {20, 20, 30}), shapes::box({-5, -5, 10}, {5, 5, 31}))),
      peg(shapes::box({-5, -5, 10}, {5, 5, 40}));
  const std::vector<ComesOut> bodies{{"socket", &socket.mesh, socket.rays.get(), {0, 0, -1}, 1},
                                     {"peg", &peg.mesh, peg.rays.get(), {0, 0, 1}, 0}};
  const OutOrder o = out_order(bodies, 0.2);
  CHECK(o.stuck.empty());
  CHECK(names(bodies, o) == std::vector<std::string>{"peg", "socket"});
}

}  // namespace tests_split_out_order
