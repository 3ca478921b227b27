#include "mould/smallest_box.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <Eigen/Eigenvalues>

#include "solid/columns.hpp"
#include "split/bores.hpp"

namespace palinform {

namespace {

/// Leaves out what lies well within the octagon of the points farthest out along eight ways: none of it is on the hull,
/// and of a mesh it is nearly everything.
void keep_outer(std::vector<std::pair<double, double>>& points) {
  if (points.size() < 100) return;
  constexpr std::array<std::pair<double, double>, 8> ways{
      {{1, 0}, {1, 1}, {0, 1}, {-1, 1}, {-1, 0}, {-1, -1}, {0, -1}, {1, -1}}};  // counter-clockwise
  std::array<std::pair<double, double>, 8> far;
  for (size_t k = 0; k < ways.size(); ++k) {
    double most = -1e300;
    for (const auto& p : points)
      if (const double at = ways[k].first * p.first + ways[k].second * p.second; at > most) most = at, far[k] = p;
  }
  // Lines a·x + b·y ≥ c hold within; what clears them all by a hair is no corner of the hull, nor on its edge.
  std::array<std::array<double, 3>, 8> lines;
  size_t count = 0;
  for (size_t k = 0; k < far.size(); ++k) {
    const auto &p = far[k], &q = far[(k + 1) % far.size()];
    const double a = p.second - q.second, b = q.first - p.first, l = std::hypot(a, b);
    if (l > 0) lines[count++] = {a / l, b / l, (a * p.first + b * p.second) / l};
  }
  const double hair = 1e-9 * (std::abs(far[0].first - far[4].first) + std::abs(far[2].second - far[6].second));
  if (count < 3) return;
  std::erase_if(points, [&](const auto& p) {
    for (size_t k = 0; k < count; ++k)
      if (lines[k][0] * p.first + lines[k][1] * p.second <= lines[k][2] + hair) return false;
    return true;
  });
}

}  // namespace

Vec3 own_size_mm(const TriMesh& mesh) {
  const MeshMeasure m = measure(mesh);
  Eigen::Matrix3d sum = Eigen::Matrix3d::Zero();
  for (size_t t = 0; t < mesh.triangles.size(); ++t) {
    // Second moment of a triangle about the centroid of the whole: exact by its corners' sum and its middle.
    const double area = mesh.area_mm2(t) / 12;
    const Vec3 middle = mesh.centre(t) - m.centroid_mm;
    const auto add = [&](const Vec3& v, double times) {
      const Eigen::Vector3d e(v.x, v.y, v.z);
      sum += e * e.transpose() * (area * times);
    };
    for (int k = 0; k < 3; ++k) add(mesh.corner(t, k) - m.centroid_mm, 1);
    add(middle, 9);
  }
  const Eigen::SelfAdjointEigenSolver<Eigen::Matrix3d> eigen(sum);
  std::vector<Vec3> ups = flat_normals(mesh, 12);
  for (int k = 0; k < 3; ++k) {
    const Eigen::Vector3d a = eigen.eigenvectors().col(k);
    ups.push_back(unit(Vec3{a.x(), a.y(), a.z()}));
  }
  Vec3 best;
  double smallest = 1e300;
  for (const Vec3& up : ups) {
    const Vec3 size = box_in(mesh, frame_around(mesh, up)).size();
    const double v = std::max(size.x, 1e-6) * std::max(size.y, 1e-6) * std::max(size.z, 1e-6);
    if (v < smallest * (1 - 1e-9)) smallest = v, best = size;
  }
  double s[3] = {best.x, best.y, best.z};
  std::sort(s, s + 3, std::greater<>());
  return {s[0], s[1], s[2]};
}

Box3 box_in(const TriMesh& mesh, const Transform& frame) {
  Box3 b;
  for (const Triangle& t : mesh.triangles)
    for (const uint32_t v : t) b.add(frame.direction(mesh.points[v]));
  return b;
}

Transform frame_around(const TriMesh& mesh, const Vec3& up) {
  const Transform plain = frame_along(up);
  std::vector<std::pair<double, double>> flat;
  flat.reserve(mesh.points.size());
  for (const Vec3& p : mesh.points) flat.emplace_back(dot(plain.rows[0], p), dot(plain.rows[1], p));
  keep_outer(flat);
  std::sort(flat.begin(), flat.end());
  flat.erase(std::unique(flat.begin(), flat.end()), flat.end());
  if (flat.size() < 3) return plain;
  // Hull by its lower and its upper chain.
  std::vector<std::pair<double, double>> hull(2 * flat.size());
  size_t n = 0;
  const auto left = [&](size_t a, size_t b, const std::pair<double, double>& c) {
    return (hull[b].first - hull[a].first) * (c.second - hull[a].second) -
           (hull[b].second - hull[a].second) * (c.first - hull[a].first);
  };
  for (const auto& q : flat) {
    while (n >= 2 && left(n - 2, n - 1, q) <= 0) --n;
    hull[n++] = q;
  }
  const size_t lower = n + 1;
  for (size_t k = flat.size() - 1; k-- > 0;) {
    while (n >= lower && left(n - 2, n - 1, flat[k]) <= 0) --n;
    hull[n++] = flat[k];
  }
  hull.resize(n - 1);
  // The smallest rectangle has a side along an edge of the hull.
  const auto area = [&](double c, double s) {
    double u0 = 1e300, u1 = -1e300, v0 = 1e300, v1 = -1e300;
    for (const auto& [x, y] : hull) {
      const double u = c * x + s * y, v = c * y - s * x;
      u0 = std::min(u0, u), u1 = std::max(u1, u), v0 = std::min(v0, v), v1 = std::max(v1, v);
    }
    return (u1 - u0) * (v1 - v0);
  };
  const double straight = area(1, 0);
  double best = straight, c = 1, s = 0;
  for (size_t k = 0; k < hull.size(); ++k) {
    const auto& a = hull[k];
    const auto& b = hull[(k + 1) % hull.size()];
    const double dx = b.first - a.first, dy = b.second - a.second, l = std::hypot(dx, dy);
    if (l < 1e-9) continue;
    const double now = area(dx / l, dy / l);
    if (now < best * (1 - 1e-9)) best = now, c = dx / l, s = dy / l;
  }
  if (best > 0.99 * straight) return plain;
  Transform out = plain;
  out.rows[0] = plain.rows[0] * c + plain.rows[1] * s;
  out.rows[1] = plain.rows[1] * c - plain.rows[0] * s;
  return out;
}

}  // namespace palinform
