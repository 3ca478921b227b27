#include "split/bores.hpp"

#include <Eigen/Eigenvalues>

#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>
#include <numeric>
#include <optional>
#include <unordered_map>
#include <unordered_set>

namespace palinform {

namespace {

/// Cheap test before a whole patch is grown: does a circle of radius r about `middle` fit the wall near face t?
bool round_about(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays, uint32_t t, const Vec3& middle,
                 double r, Vec3& axis) {
  std::vector<uint32_t> near{t};
  for (size_t i = 0; i < near.size() && near.size() < 30; ++i)
    for (uint32_t h = 3 * near[i]; h < 3 * near[i] + 3; ++h) {
      if (!pairs.paired(h)) continue;
      const uint32_t o = pairs.twin[h] / 3;
      if (dot(mesh.normal(o), mesh.normal(near[i])) < 0.9 || std::find(near.begin(), near.end(), o) != near.end())
        continue;
      near.push_back(o);
    }
  Eigen::Matrix3d sum = Eigen::Matrix3d::Zero();
  for (const uint32_t k : near) {
    const Vec3 n = mesh.normal(k);
    const Eigen::Vector3d v(n.x, n.y, n.z);
    sum += v * v.transpose() / static_cast<double>(near.size());
  }
  const Eigen::SelfAdjointEigenSolver<Eigen::Matrix3d> eigen(sum);
  if (eigen.eigenvalues()[1] < 1e-4) return false;                           // flat
  if (eigen.eigenvalues()[0] > 0.25 * eigen.eigenvalues()[1]) return false;  // bent both ways
  const Eigen::Vector3d a = eigen.eigenvectors().col(0);
  axis = {a.x(), a.y(), a.z()};
  const Vec3 u = any_perpendicular(axis), v = cross(axis, u);
  int good = 0;
  constexpr int n = 16;
  for (int k = 0; k < n; ++k) {
    const double angle = 2 * M_PI * k / n;
    const auto hit = rays.first_hit(middle, u * std::cos(angle) + v * std::sin(angle), 0);
    good += hit && std::abs(hit->t_mm - r) < 0.08 * r;
  }
  return good >= n - 1;
}

/// A cylinder to grow a wall along, and how far from it faces may lie.
struct Mantle {
  Vec3 point, axis;
  double r = 0, lift = 1e9;       ///< mm; reach along the axis
  double lean = 0.1, off = 0.06;  ///< of a face's normal toward the axis; of its centre from r, as a share
};

/// Faces joined to `seed` on the mantle, fitted by themselves as a bore. `wall`: what was grown, fit or no fit.
std::optional<FaceFit> fit_wall(const TriMesh& mesh, const EdgePairs& pairs, uint32_t seed, const Mantle& c,
                                std::vector<uint32_t>& wall) {
  wall.assign(1, seed);
  std::unordered_set<uint32_t> in{seed};
  for (size_t q = 0; q < wall.size(); ++q)
    for (uint32_t h = 3 * wall[q]; h < 3 * wall[q] + 3; ++h) {
      if (!pairs.paired(h)) continue;
      const uint32_t o = pairs.twin[h] / 3;
      const Vec3 away = mesh.centre(o) - c.point;
      const double lift = dot(away, c.axis);
      // Long facets reach into the stretch though their middle lies outside.
      double low = lift, high = lift;
      for (int k = 0; k < 3; ++k) {
        const double corner = dot(mesh.corner(o, k) - c.point, c.axis);
        low = std::min(low, corner), high = std::max(high, corner);
      }
      if (low > c.lift || high < -c.lift || std::abs(dot(mesh.normal(o), c.axis)) > c.lean ||
          std::abs(length(away - c.axis * lift) - c.r) > c.off * c.r || !in.insert(o).second)
        continue;
      wall.push_back(o);
    }
  if (wall.size() < 8) return std::nullopt;
  TriMesh cut;
  std::unordered_map<uint32_t, uint32_t> to;
  for (const uint32_t k : wall) {
    Triangle t = mesh.triangles[k];
    for (uint32_t& v : t) {
      const auto [at, fresh] = to.try_emplace(v, static_cast<uint32_t>(cut.points.size()));
      if (fresh) cut.points.push_back(mesh.points[v]);
      v = at->second;
    }
    cut.triangles.push_back(t);
  }
  FaceFit f = fit_face(cut, pair_edges(cut), 0, 60);
  if (f.kind != FaceKind::bore) return std::nullopt;
  for (uint32_t& k : f.triangles) k = wall[k];
  std::sort(f.triangles.begin(), f.triangles.end());
  return f;
}

/// Does the bore end in the part that way: at a floor near its end, or at one behind a narrower bore that goes on?
bool ends_in_part(const RayScene& rays, const FaceFit& f, const Vec3& way) {
  const auto floor = rays.first_hit(f.point_mm, way, 0);
  const double end = 0.5 * f.depth_mm, r = 0.5 * f.diameter_mm;
  if (!floor) return false;
  if (floor->t_mm < end + 1.2 * r) return true;
  // Beyond its end: shut in all round, or out in the open before the next wall?
  const Vec3 u = any_perpendicular(way), v = cross(way, u);
  for (int step = 1; step < 8; ++step) {
    const Vec3 at = f.point_mm + way * (end + (floor->t_mm - end) * step / 8);
    for (int k = 0; k < 8; ++k) {
      const auto wall = rays.first_hit(at, u * std::cos(M_PI * k / 4) + v * std::sin(M_PI * k / 4), 0);
      if (!wall || wall->t_mm > 1.05 * r) return false;
    }
  }
  return true;
}

}  // namespace

Result<std::vector<Bore>> find_bores(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays,
                                     std::span<const ExactFace> exact, const Progress& progress) {
  const size_t n = mesh.triangles.size();
  std::vector<bool> seen(n, false);
  std::vector<Bore> out;
  const double diagonal = rays.diagonal_mm();
  // Large meshes: a bore worth speaking of has many faces, so a share of them finds it.
  const size_t stride = std::max<size_t>(1, n / 24'000), seeds = (n + stride - 1) / stride;
  struct Guess {
    bool good = false;
    Vec3 middle, axis;
    double r = 0;
  };
  std::vector<Guess> promising(seeds);
  tbb::parallel_for(tbb::blocked_range<size_t>(0, seeds, 64), [&](const auto& range) {
    for (size_t i = range.begin(); i < range.end() && !progress.cancelled(); ++i) {
      const auto t = static_cast<uint32_t>(i * stride);
      const Vec3 p = mesh.centre(t), normal = mesh.normal(t);
      const auto hit = rays.first_hit(p + normal * (1e-5 * diagonal), normal, 0);
      if (!hit || hit->t_mm > 0.5 * diagonal) continue;
      if (dot(mesh.normal(hit->triangle), normal) > -0.94) continue;  // not the wall across
      // The faces around give the axis; square to it, rays from the middle must meet the wall at one and the same
      // distance.
      Guess& g = promising[i];
      g.r = 0.5 * hit->t_mm;
      g.middle = p + normal * g.r;
      g.good = round_about(mesh, pairs, rays, t, g.middle, g.r, g.axis);
    }
  });
  if (progress.cancelled()) return Error::stopped();
  progress.report(0.5);
  std::vector<uint32_t> wall;
  for (size_t i = 0; i < seeds; ++i) {
    const auto t = static_cast<uint32_t>(i * stride);
    if (!promising[i].good || seen[t]) continue;
    if (progress.cancelled()) return Error::stopped();
    // The wall alone is grown and fitted: on a scan the smooth skin around runs on over everything. First near the
    // seed, for a good axis; then all of it along that axis.
    const Guess& g = promising[i];
    auto near = fit_wall(mesh, pairs, t, {g.middle, g.axis, g.r, 1.5 * g.r, 0.2, 0.15}, wall);
    for (const uint32_t k : wall) seen[k] = true;
    if (!near) continue;
    auto whole =
        fit_wall(mesh, pairs, t, {near->point_mm, near->direction, 0.5 * near->diameter_mm, 1e9, 0.1, 0.06}, wall);
    for (const uint32_t k : wall) seen[k] = true;
    if (!whole) whole = std::move(near);
    FaceFit f = *std::move(whole);
    if (f.fit_rms_mm > 0.0125 * f.diameter_mm) continue;  // a waist, no bore
    // All round, not the inside of a fillet or a slot's end.
    Vec3 sum;
    double area = 0;
    for (const uint32_t k : f.triangles) sum += mesh.area_vector(k) * 0.5, area += mesh.area_mm2(k);
    if (length(sum) > 0.15 * area) continue;
    f = snapped(std::move(f), exact);
    Bore b;
    b.axis = f.direction;
    b.diameter_mm = f.diameter_mm;
    b.fit_rms_mm = f.fit_rms_mm;
    b.depth_mm = f.depth_mm;
    b.centroid_mm = f.point_mm;
    b.triangles = f.triangles;
    b.through = true;
    for (const double way : {-1.0, 1.0})
      if (ends_in_part(rays, f, f.direction * way)) b.through = false;
    // One sense for the axis, so that the same part tells the same: its largest component is positive.
    int most = 0;
    for (int k = 1; k < 3; ++k)
      if (std::abs(b.axis[k]) > std::abs(b.axis[most]) + 1e-6) most = k;
    if (b.axis[most] < 0) b.axis = -b.axis;
    // A seed among faces that the first growth passed over finds the same bore again.
    const auto same = [&](const Bore& o) {
      return std::abs(dot(o.axis, b.axis)) > 0.999 && std::abs(o.diameter_mm - b.diameter_mm) < 0.02 * o.diameter_mm &&
             length(o.centroid_mm - b.centroid_mm) < 0.25 * o.diameter_mm;
    };
    if (std::none_of(out.begin(), out.end(), same)) out.push_back(std::move(b));
  }
  std::stable_sort(out.begin(), out.end(), [](const Bore& a, const Bore& b) { return a.diameter_mm > b.diameter_mm; });
  progress.report(1);
  return out;
}

std::vector<Vec3> flat_normals(const TriMesh& mesh, size_t most) {
  // Areas gathered on a fine grid of directions; the mean normal of the fullest cells.
  struct Bin {
    Vec3 sum;
    double area = 0;
  };
  constexpr int m = 48;
  std::vector<Bin> bins(6 * m * m);
  for (size_t t = 0; t < mesh.triangles.size(); ++t) {
    const Vec3 a = mesh.area_vector(t) * 0.5;
    const double area = length(a);
    if (!(area > 0)) continue;
    int axis = 0;
    for (int k = 1; k < 3; ++k)
      if (std::abs(a[k]) > std::abs(a[axis])) axis = k;
    const double u = a[(axis + 1) % 3] / std::abs(a[axis]), v = a[(axis + 2) % 3] / std::abs(a[axis]);
    const auto cell = [&](double x) { return std::clamp(static_cast<int>((x + 1) * 0.5 * m + 0.25), 0, m - 1); };
    Bin& b = bins[static_cast<size_t>(((axis * 2 + (a[axis] < 0)) * m + cell(u)) * m + cell(v))];
    b.sum += a;
    b.area += area;
  }
  std::vector<size_t> order(bins.size());
  std::iota(order.begin(), order.end(), size_t{0});
  std::stable_sort(order.begin(), order.end(), [&](size_t a, size_t b) { return bins[a].area > bins[b].area; });
  std::vector<Vec3> out;
  for (const size_t i : order) {
    if (out.size() >= most || !(bins[i].area > 0)) break;
    if (length(bins[i].sum) < 0.999 * bins[i].area) continue;  // curved
    const Vec3 d = unit(bins[i].sum);
    if (std::none_of(out.begin(), out.end(), [&](const Vec3& o) { return std::abs(dot(o, d)) > 0.9995; }))
      out.push_back(d);
  }
  return out;
}

}  // namespace palinform
