#include "flow/strip_up.hpp"

#include <algorithm>
#include <cmath>

#include "flow/sweep.hpp"
#include "solid/columns.hpp"

namespace palinform {

namespace {

/// Each is trimmed and dressed: it must free this share of the part of air (rule of thumb).
constexpr double strut_worth = 0.002;

}  // namespace

Vec3 nub_place(const TriMesh& mesh, const RayScene& rays, const Vec3& up) {
  double top = -1e300;
  for (const Vec3& p : mesh.points) top = std::max(top, dot(p, up));
  Vec3 middle;
  int n = 0;
  for (const Vec3& p : mesh.points)
    if (dot(p, up) > top - 0.1) middle = middle + p, ++n;
  return rays.closest(middle / std::max(1, n)).point_mm;
}

Result<Vec3> strip_up(const TriMesh& mesh, const RayScene& rays, const Vec3& pull, const StrutsFor& struts,
                      const Progress& progress) {
  constexpr double cells = 12'000;
  const double a_strut_mm3 = strut_worth * measure(mesh).volume_mm3;
  const auto cavity = fill_with_cells(mesh, std::max(0.03, voxel_for(measure(mesh).volume_mm3, cells)), progress);
  if (!cavity) return cavity.error();
  const Transform f = frame_along(pull);
  std::vector<Vec3> tried{pull, -pull};
  for (const double x : {0.0, 1.0, -1.0})
    for (const double y : {0.0, 1.0, -1.0})
      for (const double z : {0.0, 1.0, -1.0})
        if (x != 0 || y != 0) tried.push_back(unit(f.direction_back(Vec3{x, y, z})));
  Vec3 best = pull;
  double least = 1e300;
  for (const Vec3& up : tried) {
    if (progress.cancelled()) return Error::stopped();
    // The nub is at the lowest place of the rubber pour: the highest when resin comes in.
    const Vec3 over = -up;
    std::vector<AirHole> ways{{nub_place(mesh, rays, over), 0}};
    const std::vector<Vec3> stands = struts ? struts(up) : std::vector<Vec3>{};
    for (const Vec3& p : stands) ways.push_back({p, 0});
    const auto sweep = sweep_air(*cavity, over, ways);
    if (!sweep) return sweep.error();
    const double cost = sweep->trapped_mm3 + a_strut_mm3 * static_cast<double>(stands.size());
    // A tenth better at least, and more than a cell or two: else the first stands.
    if (cost < 0.9 * least - 2 * std::pow(cavity->voxel_mm, 3)) least = cost, best = up;
  }
  return best;
}

}  // namespace palinform
