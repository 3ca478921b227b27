#include "check/scanned_size.hpp"

#include <cmath>

namespace palinform {
namespace {

struct End {
  Vec3 at, normal;
  double sum = 0, squares = 0;
  size_t n = 0;
  double mean() const { return sum / static_cast<double>(n); }
  double u() const {
    const double k = static_cast<double>(n), var = std::max(0.0, (squares - sum * sum / k) / (k - 1));
    return std::sqrt(var / k);
  }
};

}  // namespace

std::vector<ScannedSize> sizes_from_scan(std::span<const MeasuredSize> sizes, const TriMesh& master,
                                         const RayScene& rays, const TriMesh& scan, const Laid& laid,
                                         const std::vector<float>& mm, double rms, double reach) {
  struct Asked {
    const MeasuredSize* size;
    End end[2];
  };
  std::vector<Asked> asked;
  for (const MeasuredSize& s : sizes) {
    if (length(s.to_mm - s.from_mm) < 1e-6) continue;
    Asked a{&s, {}};
    bool there = true;
    for (int k = 0; k < 2; ++k) {
      const SurfacePoint on = rays.closest(k ? s.to_mm : s.from_mm);
      if (on.distance_mm > std::max(0.5, reach)) there = false;
      a.end[k].at = on.point_mm, a.end[k].normal = master.normal(on.triangle);
    }
    if (there) asked.push_back(a);
  }
  for (size_t i = 0; i < scan.points.size(); ++i) {
    const Vec3 p = laid.point(scan.points[i]);
    for (Asked& a : asked)
      for (End& e : a.end) {
        const Vec3 off = p - e.at;
        if (dot(off, off) > reach * reach) continue;
        // Across an edge lies another face, which says nothing of this one.
        const SurfacePoint near = rays.closest(p);
        if (dot(master.normal(near.triangle), e.normal) < 0.8) continue;
        const double v = static_cast<double>(mm[i]);
        e.sum += v, e.squares += v * v, ++e.n;
      }
  }
  std::vector<ScannedSize> out;
  for (const Asked& a : asked) {
    const End &from = a.end[0], &to = a.end[1];
    if (from.n < 5 || to.n < 5) continue;
    const Vec3 line = to.at - from.at, u = unit(line);
    ScannedSize s;
    s.size_id = a.size->id;
    s.mm = length(line) + to.mean() * dot(to.normal, u) - from.mean() * dot(from.normal, u);
    s.u_mm = std::sqrt(from.u() * from.u() + to.u() * to.u() + 0.25 * rms * rms);
    s.points = from.n + to.n;
    out.push_back(std::move(s));
  }
  return out;
}

}  // namespace palinform
