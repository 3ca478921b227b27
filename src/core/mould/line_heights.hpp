#pragma once
/// The parting line as a height over the plan.
#include <algorithm>
#include <cmath>
#include <cstdint>
#include <vector>

#include "split/parting.hpp"

namespace palinform {

/// Height of the line at the point of it that is nearest in plan to (u, v).
class LineHeights {
 public:
  LineHeights(const Split& split, const Transform& frame) {
    for (const PartingLoop& loop : split.loops)
      for (size_t i = 0; i < loop.points_mm.size(); ++i) {
        points_.push_back(frame.direction(loop.points_mm[i]));
        world_.push_back(loop.points_mm[i]);
      }
    Box3 box;
    for (const Vec3& p : points_) box.add(p);
    if (points_.empty()) return;
    low_ = box.min;
    cell_ = std::max({box.size().x, box.size().y, 1e-3}) / 64;
    n_ = 66;
    grid_.resize(static_cast<size_t>(n_ * n_));
    for (uint32_t i = 0; i < points_.size(); ++i) grid_[index(points_[i].x, points_[i].y)].push_back(i);
  }
  bool empty() const { return points_.empty(); }
  /// Index of the nearest point in plan.
  size_t nearest(double u, double v) const {
    const int ci = clampi((u - low_.x) / cell_), cj = clampi((v - low_.y) / cell_);
    double best = 1e300;
    size_t found = 0;
    for (int ring = 0; ring <= n_; ++ring) {
      if (best < 1e299 && (ring - 1) * cell_ > std::sqrt(best)) break;
      for (int j = std::max(0, cj - ring); j <= std::min(n_ - 1, cj + ring); ++j) {
        // Along the ring only: its first and last row whole, of the others both ends.
        const int step = std::abs(j - cj) == ring ? 1 : std::max(1, 2 * ring);
        for (int i = ci - ring; i <= std::min(n_ - 1, ci + ring); i += step) {
          if (i < 0) continue;
          for (const uint32_t k : grid_[static_cast<size_t>(j * n_ + i)]) {
            const double du = points_[k].x - u, dv = points_[k].y - v, d = du * du + dv * dv;
            if (d < best || (d == best && k < found)) best = d, found = k;
          }
        }
      }
    }
    return found;
  }
  double height(double u, double v) const { return points_[nearest(u, v)].z; }
  const Vec3& point(size_t i) const { return points_[i]; }
  const Vec3& world(size_t i) const { return world_[i]; }

 private:
  int clampi(double x) const { return std::clamp(static_cast<int>(x) + 1, 0, n_ - 1); }
  size_t index(double u, double v) const {
    return static_cast<size_t>(clampi((v - low_.y) / cell_) * n_ + clampi((u - low_.x) / cell_));
  }
  std::vector<Vec3> points_, world_;
  std::vector<std::vector<uint32_t>> grid_;
  Vec3 low_;
  double cell_ = 1;
  int n_ = 0;
};

}  // namespace palinform
