#include "mould/cup_line.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "mould/smallest_box.hpp"
#include "solid/columns.hpp"

namespace palinform {

Vec3 out_of_mouth(const RayScene& rays, const Bore& bore) {
  return rays.first_hit(bore.centroid_mm, bore.axis, 1e-3) ? -bore.axis : bore.axis;
}

Result<double> cup_line_mm(const TriMesh& mesh, const RayScene& rays, const Bore& bore, double poured_mm3,
                           const Progress& progress) {
  const Transform frame = frame_along(out_of_mouth(rays, bore));
  const Box3 box = box_in(mesh, frame);
  const double pitch = std::max(box.size().x, box.size().y) / 240;
  const auto columns = build_columns(mesh, frame, pitch, 0, progress);
  if (!columns) return columns.error();
  constexpr int bins = 200;
  const double step = box.size().z / bins;
  std::vector<double> mm3(bins, 0);
  for (const Span& s : columns->span) spread_over(mm3, box.min.z, step, s.low_mm, s.high_mm, pitch * pitch);
  const double foot = frame.direction(bore.centroid_mm).z - 0.5 * bore.depth_mm;
  spread_over(mm3, box.min.z, step, std::max(foot, box.min.z), box.max.z,
              0.25 * std::numbers::pi * bore.diameter_mm * bore.diameter_mm);
  double sum = 0;
  for (int b = 0; b < bins; ++b) {
    const double here = mm3[static_cast<size_t>(b)];
    if (sum + here >= poured_mm3) return (b + (here > 0 ? (poured_mm3 - sum) / here : 0)) * step;
    sum += here;
  }
  return box.size().z;
}

}  // namespace palinform
