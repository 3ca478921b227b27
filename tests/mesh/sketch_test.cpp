// A mesh in outline, and points made one.
#include "mesh/sketch.hpp"

#include <catch2/catch.hpp>
#include <map>
#include <random>

#include "mesh/weld.hpp"
#include "shapes.hpp"

namespace tests_mesh_sketch {

using namespace palinform;

TEST_CASE("a sketch has far fewer triangles, all its points are the mesh's, and it stands where the mesh does",
          "[mesh]") {
  const TriMesh ball = shapes::icosphere(30, 6);
  const TriMesh sketch = sketch_of(ball, 10'000, 40);
  CHECK(sketch.triangles.size() < ball.triangles.size() / 4);
  CHECK(sketch.triangles.size() > 5'000);
  std::map<std::array<double, 3>, bool> there;
  for (const Vec3& p : ball.points) there[{p.x, p.y, p.z}] = true;
  for (const Vec3& p : sketch.points) CHECK(there.contains({p.x, p.y, p.z}));
  const Box3 a = measure(ball).box_mm, b = measure(sketch).box_mm;
  const double cell = a.size().x / 40;
  CHECK(length(a.min - b.min) < 2 * cell);
  CHECK(length(a.max - b.max) < 2 * cell);
  CHECK(measure(sketch).area_mm2 == Approx(measure(ball).area_mm2).epsilon(0.05));
  // A light mesh is itself.
  CHECK(sketch_of(ball, ball.triangles.size(), 40) == ball);
}

TEST_CASE("equal points are one, in the order of their first occurrence, however many there are", "[mesh]") {
  std::mt19937 dice(7);
  for (const size_t n : {size_t{0}, size_t{1}, size_t{63}, size_t{64}, size_t{65}, size_t{20'000}}) {
    std::vector<Vec3> points(n);
    // Hardly any twice in one half, many times in the other: the table has to grow.
    for (size_t i = 0; i < n; ++i)
      points[i] = i % 2 ? Vec3{static_cast<double>(dice() % 5), -0.0, 1} : Vec3{static_cast<double>(dice()), 0.0, 2};
    std::vector<uint32_t> number(n);
    const std::vector<Vec3> kept = weld(
        n, [&](size_t i) { return points[i]; }, number.data());
    std::map<std::array<double, 3>, uint32_t> plain;
    std::vector<uint32_t> by_map;
    for (const Vec3& p : points)
      by_map.push_back(plain.try_emplace({p.x, p.y + 0.0, p.z}, static_cast<uint32_t>(plain.size())).first->second);
    CHECK(number == by_map);
    CHECK(kept.size() == plain.size());
    for (size_t i = 0; i < n; ++i) CHECK(kept[number[i]] == points[i]);
  }
}

}  // namespace tests_mesh_sketch
