#include "split/pocket_faces.hpp"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <optional>

#include "mesh/closest_on_triangle.hpp"
#include "mesh/flood.hpp"
#include "split/draw_ways.hpp"
#include "split/leaving.hpp"

namespace palinform {
namespace {

/// All faces of the pocket, in order.
std::vector<uint32_t> pocket_of(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays,
                                const PocketSlide& slide) {
  const Vec3 pull = unit(slide.pull);
  const auto shut = [&](uint32_t t) { return !leaves(mesh, rays, t, pull) && !leaves(mesh, rays, t, -pull); };
  std::optional<uint32_t> seed = rays.closest(slide.at_mm).triangle;
  if (!shut(*seed)) {
    // Clicked beside it: the nearest face of a pocket, no farther off than a fiftieth of the part.
    const double reach = rays.diagonal_mm() / 50;
    const auto off_mm = [&](uint32_t t) {
      return length(closest_on_triangle(mesh.corner(t, 0), mesh.corner(t, 1), mesh.corner(t, 2), slide.at_mm) -
                    slide.at_mm);
    };
    double nearest = reach;
    std::optional<uint32_t> found;
    std::vector<bool> seen(mesh.triangles.size(), false);
    flood_unseen(
        pairs, seen, *seed,
        [&](uint32_t t) {
          if (off_mm(t) < nearest && shut(t)) nearest = off_mm(t), found = t;
        },
        [&](uint32_t, uint32_t t) { return off_mm(t) < reach; });
    seed = found;
  }
  std::vector<uint32_t> out;
  if (!seed) return out;
  std::vector<bool> seen(mesh.triangles.size(), false);
  flood_unseen(
      pairs, seen, *seed, [&](uint32_t t) { out.push_back(t); }, [&](uint32_t, uint32_t t) { return shut(t); });
  std::sort(out.begin(), out.end());
  return out;
}

double extent_along(const TriMesh& mesh, const std::vector<uint32_t>& faces, const Vec3& d) {
  const auto [low, high] = reach_along(mesh, faces, d);
  return std::max(0.0, high - low);
}

}  // namespace

PocketFaces pocket_faces(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays, const PocketSlide& slide) {
  PocketFaces out;
  const Vec3 draw = unit(slide.draw);
  const std::vector<uint32_t> all = pocket_of(mesh, pairs, rays, slide);
  const auto open = leaving(mesh, rays, all, draw);
  for (size_t i = 0; i < all.size(); ++i) {
    const uint32_t t = all[i];
    const double area = mesh.area_mm2(t);
    if (!open[i]) {
      out.held_mm2 += area;
      continue;
    }
    out.triangles.push_back(t);
    out.area_mm2 += area;
    out.centroid_mm += mesh.centre(t) * area;
    if (std::abs(dot(mesh.normal(t), draw)) < std::sin(0.5 * std::numbers::pi / 180)) out.parallel_mm2 += area;
  }
  if (out.area_mm2 > 0) out.centroid_mm = out.centroid_mm / out.area_mm2;
  out.deep_mm = extent_along(mesh, out.triangles, draw);
  return out;
}

Vec3 best_draw(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays, const PocketSlide& slide) {
  const Vec3 pull = unit(slide.pull);
  const std::vector<uint32_t> all = pocket_of(mesh, pairs, rays, slide);
  if (all.empty()) return unit(slide.draw);
  std::vector<uint32_t> some;  // which carry the search
  const size_t stride = std::max<size_t>(1, all.size() / 400);
  for (size_t i = 0; i < all.size(); i += stride) some.push_back(all[i]);
  const DrawWays all_ways = draw_ways(pull, 520);
  const std::vector<Vec3>& ways = all_ways.ways;
  std::vector<double> worth(ways.size(), 0);
  tbb::parallel_for(size_t{0}, ways.size(), [&](size_t w) {
    double area = 0;
    const auto open = leaving(mesh, rays, some, ways[w]);
    for (size_t i = 0; i < some.size(); ++i)
      if (open[i]) area += mesh.area_mm2(some[i]);
    worth[w] = area * (1 - 0.5 * std::min(1.0, extent_along(mesh, some, ways[w]) / rays.diagonal_mm())) *
               (1 - 0.05 * std::abs(dot(ways[w], pull))) * (w < all_ways.plain ? 1.02 : 1);
  });
  return ways[static_cast<size_t>(std::max_element(worth.begin(), worth.end()) - worth.begin())];
}

namespace {

/// Two directions across the pull: where +x lies, and a quarter turn on.
std::array<Vec3, 2> across_pull(const Vec3& pull) {
  const Vec3 side = std::abs(pull.x) > 0.9 ? Vec3{0, 1, 0} : Vec3{1, 0, 0};
  const Vec3 a = unit(side - pull * dot(side, pull));
  return {a, cross(pull, a)};
}

}  // namespace

Vec3 draw_of(const DrawAngles& angles, const Vec3& pull_given) {
  const Vec3 pull = unit(pull_given);
  const auto [a, b] = across_pull(pull);
  const double turned = angles.turned_deg * std::numbers::pi / 180, raised = angles.raised_deg * std::numbers::pi / 180;
  return unit((a * std::cos(turned) + b * std::sin(turned)) * std::cos(raised) + pull * std::sin(raised));
}

DrawAngles angles_of(const Vec3& draw_given, const Vec3& pull_given) {
  const Vec3 pull = unit(pull_given), draw = unit(draw_given);
  const auto [a, b] = across_pull(pull);
  const double up = std::clamp(dot(draw, pull), -1.0, 1.0);
  DrawAngles out{0, std::asin(up) * 180 / std::numbers::pi};
  if (std::abs(up) < 1 - 1e-9) out.turned_deg = std::atan2(dot(draw, b), dot(draw, a)) * 180 / std::numbers::pi;
  return out;
}

}  // namespace palinform
