#include "check/scanned_size.hpp"

#include <Eigen/Dense>

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <optional>

#include "mesh/feature.hpp"

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

/// The cylinder of the master that a size's ends lie on, if they do.
std::optional<FaceFit> cylinder_of(const MeasuredSize& s, const ScanMaster& master, const SurfacePoint& a) {
  if (s.kind != SizeKind::bore && s.kind != SizeKind::outer && s.kind != SizeKind::radius) return std::nullopt;
  FaceFit f = fit_face(master.mesh, master.pairs, a.triangle);
  if (f.kind != FaceKind::bore && f.kind != FaceKind::boss) return std::nullopt;
  const double wanted = s.kind == SizeKind::radius ? 2 * s.nominal_mm : s.nominal_mm;
  if (std::abs(f.diameter_mm - wanted) > std::max(0.2, 0.03 * wanted)) return std::nullopt;
  // A boss has its diameter only where the other end lies on it too.
  if (s.kind == SizeKind::radius) return f;
  const Vec3 to = s.to_mm - f.point_mm, across = to - f.direction * dot(to, f.direction);
  if (std::abs(length(across) - 0.5 * f.diameter_mm) > std::max(0.2, 0.03 * wanted)) return std::nullopt;
  return f;
}

/// Radius, place and tilt of the scan's wall about the master's axis.
std::optional<ScannedSize> refitted(const FaceFit& f, const RayScene& scan, double slack) {
  struct Met {
    double x, y, z;  // across the axis, and along it as a share of the depth
  };
  std::vector<Met> met;
  constexpr int rings = 9, looks = 48;
  const double r0 = 0.5 * f.diameter_mm, deep = 0.8 * f.depth_mm;
  if (r0 < 0.05 || deep <= 0) return std::nullopt;
  const Vec3 a = any_perpendicular(f.direction), b = cross(f.direction, a);
  for (int k = 0; k < rings; ++k) {
    const double z = deep * ((k + 0.5) / rings - 0.5);
    for (int i = 0; i < looks; ++i) {
      const double t = 2 * std::numbers::pi * i / looks;
      const Vec3 out = a * std::cos(t) + b * std::sin(t);
      const Vec3 axis = f.point_mm + f.direction * z;
      if (const auto off = crossing(scan, axis + out * r0, out, slack))
        met.push_back({(r0 + *off) * std::cos(t), (r0 + *off) * std::sin(t), z / deep});
    }
  }
  // A wall seen on less than a third of the way round says little of its diameter.
  std::array<bool, 12> sectors{};
  for (const Met& m : met) {
    const double t = std::atan2(m.y, m.x) + std::numbers::pi;
    sectors[static_cast<size_t>(std::min(11.0, std::floor(t / (2 * std::numbers::pi) * 12)))] = true;
  }
  if (met.size() < 60 || std::count(sectors.begin(), sectors.end(), true) < 4) return std::nullopt;
  // Radius, then place and tilt of the axis; by Gauss and Newton, since a ring off its axis is no ring about it.
  using Vector5 = Eigen::Matrix<double, 5, 1>;
  Vector5 x{r0, 0, 0, 0, 0};
  const auto off_wall = [&](const Met& q, double* c, double* s) {
    const double u = q.x - x[1] - x[3] * q.z, v = q.y - x[2] - x[4] * q.z, r = std::hypot(u, v);
    if (c) *c = r > 0 ? u / r : 1, *s = r > 0 ? v / r : 0;
    return r - x[0];
  };
  double sigma = 0;
  std::vector<double> left;
  for (int round = 0; round < 6; ++round) {
    Eigen::Matrix<double, 5, 5> m = Eigen::Matrix<double, 5, 5>::Zero();
    Vector5 v = Vector5::Zero();
    size_t n = 0;
    for (const Met& q : met) {
      double c = 1, s = 0;
      const double r = off_wall(q, &c, &s);
      if (round > 1 && std::abs(r) > std::max(3 * sigma, 1e-6)) continue;
      ++n;
      const Vector5 row{1, c, s, c * q.z, s * q.z};
      m += row * row.transpose();
      v += row * r;
    }
    const Eigen::FullPivLU<Eigen::Matrix<double, 5, 5>> factors(m);
    if (n < 40 || !factors.isInvertible()) return std::nullopt;
    x += factors.solve(v);
    left.clear();
    for (const Met& q : met) left.push_back(off_wall(q, nullptr, nullptr));
    // By the middle of the sizes of what is left: a bubble on the wall does not widen it.
    std::vector<double> sizes;
    for (const double r : left) sizes.push_back(std::abs(r));
    std::nth_element(sizes.begin(), sizes.begin() + static_cast<std::ptrdiff_t>(sizes.size() / 2), sizes.end());
    sigma = 1.4826 * sizes[sizes.size() / 2];
  }
  std::sort(left.begin(), left.end());
  ScannedSize out;
  out.refitted = true;
  out.points = met.size();
  out.mm = 2 * x[0];
  out.u_mm = 2 * sigma / std::sqrt(static_cast<double>(met.size()) / 4);
  out.out_of_round_mm = left[left.size() - 1 - left.size() / 10] - left[left.size() / 10];
  return out;
}

}  // namespace

std::vector<ScannedSize> sizes_from_scan(std::span<const MeasuredSize> sizes, const ScanMaster& on,
                                         const RayScene& scan, double rms, double reach) {
  const RayScene& master = on.rays;
  std::vector<ScannedSize> out;
  for (const MeasuredSize& s : sizes) {
    const Vec3 line = s.to_mm - s.from_mm;
    if (length(line) < 1e-6) continue;
    const SurfacePoint a = master.closest(s.from_mm), b = master.closest(s.to_mm);
    if (a.distance_mm > 0.5 || b.distance_mm > 0.5) continue;
    if (const auto f = cylinder_of(s, on, a))
      if (auto x = refitted(*f, scan, std::min(2 * reach, 0.4 * f->diameter_mm))) {
        x->size_id = s.id;
        if (s.kind == SizeKind::radius) x->mm /= 2, x->u_mm /= 2;
        out.push_back(*std::move(x));
        continue;
      }
    const Vec3 along = unit(line);
    const End from = end_of(master, scan, a.point_mm, along, reach),
              to = end_of(master, scan, b.point_mm, along, reach);
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
