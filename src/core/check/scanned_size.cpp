#include "check/scanned_size.hpp"

#include <algorithm>
#include <cmath>
#include <optional>

namespace palinform {
namespace {

/// Along the line from `at`: where the skin is crossed nearest to it, within `slack_mm` either way.
std::optional<double> crossing(const RayScene& rays, const Vec3& at, const Vec3& along, double slack) {
  std::optional<double> best;
  for (const RayHit& h : rays.all_hits(at - along * slack, along)) {
    const double mm = h.t_mm - slack;
    if (mm <= slack && (!best || std::abs(mm) < std::abs(*best))) best = mm;
  }
  return best;
}

struct End {
  double mean = 0, u = 0;
  size_t n = 0;
};

End end_of(const RayScene& master, const RayScene& scan, const Vec3& at, const Vec3& along, double reach) {
  constexpr int looks = 61;
  const Vec3 a = any_perpendicular(along), b = cross(along, a);
  std::vector<double> off;
  for (int k = 0; k < looks; ++k) {
    // Spread evenly over the disc (golden spiral).
    const double r = reach * std::sqrt((k + 0.5) / looks), t = 2.399963229728653 * k;
    const Vec3 from = at + a * (r * std::cos(t)) + b * (r * std::sin(t));
    const auto on = crossing(master, from, along, 2 * reach);
    if (!on) continue;
    const auto seen = crossing(scan, from + along * *on, along, 2 * reach);
    if (seen) off.push_back(*seen);
  }
  End e;
  if (off.size() < 12) return e;
  // By an edge some meet another face: the middle half.
  std::sort(off.begin(), off.end());
  const size_t from = off.size() / 4, to = off.size() - off.size() / 4;
  double sum = 0, squares = 0;
  for (size_t i = from; i < to; ++i) sum += off[i], squares += off[i] * off[i];
  e.n = to - from;
  const double n = static_cast<double>(e.n);
  e.mean = sum / n;
  e.u = std::sqrt(std::max(0.0, (squares - sum * sum / n) / (n - 1)) / n);
  return e;
}

}  // namespace

Result<std::vector<ScannedSize>> sizes_from_scan(std::span<const MeasuredSize> sizes, const RayScene& master,
                                                 const TriMesh& scan, const Laid& laid, double rms, double reach) {
  TriMesh there = scan;
  for (Vec3& p : there.points) p = laid.point(p);
  const auto rays = RayScene::build(there);
  if (!rays) return rays.error();
  std::vector<ScannedSize> out;
  for (const MeasuredSize& s : sizes) {
    const Vec3 line = s.to_mm - s.from_mm;
    if (length(line) < 1e-6) continue;
    const SurfacePoint a = master.closest(s.from_mm), b = master.closest(s.to_mm);
    if (a.distance_mm > 0.5 || b.distance_mm > 0.5) continue;
    const Vec3 along = unit(line);
    const End from = end_of(master, **rays, a.point_mm, along, reach),
              to = end_of(master, **rays, b.point_mm, along, reach);
    if (from.n == 0 || to.n == 0) continue;
    ScannedSize x;
    x.size_id = s.id;
    x.mm = dot(b.point_mm - a.point_mm, along) + to.mean - from.mean;
    x.u_mm = std::sqrt(from.u * from.u + to.u * to.u + 0.25 * rms * rms);
    x.points = from.n + to.n;
    out.push_back(std::move(x));
  }
  return out;
}

}  // namespace palinform
