#include "mesh/feature.hpp"
#include "mesh/flood.hpp"

#include <Eigen/Dense>

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <unordered_set>

namespace palinform {
namespace {

Vec3 from(const Eigen::Vector3d& v) { return {v.x(), v.y(), v.z()}; }
Eigen::Vector3d to(const Vec3& v) { return {v.x, v.y, v.z}; }

}  // namespace

FaceFit fit_face(const TriMesh& mesh, const EdgePairs& pairs, uint32_t seed, double crease_deg) {
  FaceFit out;
  const double bend = std::cos(crease_deg * std::numbers::pi / 180);
  const auto grow = [&](auto&& accepts) {
    constexpr size_t most = 400'000;
    std::unordered_set<uint32_t> seen{seed};
    std::vector<uint32_t> patch;
    flood_faces(
        pairs, seed, [&](uint32_t t) { patch.push_back(t); },
        [&](uint32_t t, uint32_t h) {
          const uint32_t other = pairs.twin[h] / 3;
          return seen.size() < most && accepts(t, other) && seen.insert(other).second;
        });
    std::sort(patch.begin(), patch.end());
    return patch;
  };

  // Plane: every face within 2° of the seed's normal, tried first, since it is the commonest and cheapest answer.
  const Vec3 seed_normal = mesh.normal(seed);
  const auto flat = grow(
      [&](uint32_t, uint32_t b) { return dot(mesh.normal(b), seed_normal) > std::cos(2 * std::numbers::pi / 180); });
  const auto smooth = grow([&](uint32_t a, uint32_t b) { return dot(mesh.normal(a), mesh.normal(b)) > bend; });
  double flat_area = 0, smooth_area = 0;
  for (const uint32_t t : flat) flat_area += mesh.area_mm2(t);
  for (const uint32_t t : smooth) smooth_area += mesh.area_mm2(t);

  const auto covariance = [&](const std::vector<uint32_t>& patch, auto&& of) {
    Eigen::Matrix3d c = Eigen::Matrix3d::Zero();
    for (const uint32_t t : patch) c += mesh.area_mm2(t) * of(t) * of(t).transpose();
    return Eigen::SelfAdjointEigenSolver<Eigen::Matrix3d>(c);
  };
  const auto fit_plane = [&] {
    out.kind = FaceKind::plane;
    out.triangles = flat;
    Eigen::Vector3d centre = Eigen::Vector3d::Zero();
    for (const uint32_t t : flat) centre += mesh.area_mm2(t) * to(mesh.centre(t));
    centre /= flat_area;
    Eigen::Vector3d normal = Eigen::Vector3d::Zero();
    for (const uint32_t t : flat) normal += to(mesh.area_vector(t));
    normal.normalize();
    double sum = 0;
    for (const uint32_t t : flat)
      for (int k = 0; k < 3; ++k) sum += std::pow((to(mesh.corner(t, k)) - centre).dot(normal), 2);
    out.point_mm = from(centre);
    out.direction = from(normal);
    out.fit_rms_mm = std::sqrt(sum / (3.0 * static_cast<double>(flat.size())));
  };

  // Cylinder: normals lie in a plane through the origin; its normal is the axis (least eigenvalue).
  const auto cylinder = [&](const std::vector<uint32_t>& patch) -> std::optional<FaceFit> {
    const auto eigen = covariance(patch, [&](uint32_t t) { return to(mesh.normal(t)); });
    const Eigen::Vector3d w = eigen.eigenvalues();
    if (w[2] <= 0 || w[0] > 0.004 * w.sum() || w[1] < 0.02 * w.sum()) return std::nullopt;
    const Eigen::Vector3d axis = eigen.eigenvectors().col(0), u = to(any_perpendicular(from(axis))), v = axis.cross(u);
    // Circle through the projected points, weighted by area (Kåsa's linear form about the centroid).
    Eigen::Matrix3d a = Eigen::Matrix3d::Zero();
    Eigen::Vector3d b = Eigen::Vector3d::Zero();
    double low = 1e300, high = -1e300;
    const Eigen::Vector3d origin = to(mesh.centre(patch[0]));
    for (const uint32_t t : patch) {
      const double weight = mesh.area_mm2(t);
      for (int k = 0; k < 3; ++k) {
        const Eigen::Vector3d p = to(mesh.corner(t, k)) - origin;
        const Eigen::Vector3d row(p.dot(u), p.dot(v), 1);
        a += weight * row * row.transpose();
        b += weight * row * (row[0] * row[0] + row[1] * row[1]);
        low = std::min(low, p.dot(axis));
        high = std::max(high, p.dot(axis));
      }
    }
    const Eigen::Vector3d s = a.ldlt().solve(b);
    const double cx = s[0] / 2, cy = s[1] / 2, r2 = s[2] + cx * cx + cy * cy;
    if (!(r2 > 0)) return std::nullopt;
    FaceFit f;
    const double r = std::sqrt(r2);
    double sum = 0, inward = 0, area = 0;
    for (const uint32_t t : patch) {
      for (int k = 0; k < 3; ++k) {
        const Eigen::Vector3d p = to(mesh.corner(t, k)) - origin;
        sum += std::pow(std::hypot(p.dot(u) - cx, p.dot(v) - cy) - r, 2);
      }
      const Eigen::Vector3d c = to(mesh.centre(t)) - origin - cx * u - cy * v, radial = c - axis * c.dot(axis);
      inward -= mesh.area_mm2(t) * to(mesh.normal(t)).dot(radial.normalized());
      area += mesh.area_mm2(t);
    }
    f.fit_rms_mm = std::sqrt(sum / (3.0 * static_cast<double>(patch.size())));
    if (f.fit_rms_mm > 0.03 * r || std::abs(inward) < 0.9 * area) return std::nullopt;
    f.kind = inward > 0 ? FaceKind::bore : FaceKind::boss;
    f.diameter_mm = 2 * r;
    f.depth_mm = high - low;
    f.direction = from(axis);
    f.point_mm = from(origin + cx * u + cy * v + axis * (0.5 * (low + high)));
    f.triangles = patch;
    return f;
  };

  if (flat_area >= 0.5 * smooth_area || flat.size() == smooth.size()) {
    fit_plane();
    return out;
  }
  if (auto c = cylinder(smooth)) return *c;
  // The smooth patch ran on over a broken edge. A neighbourhood just large enough to show the bend gives the axis; the
  // belt of faces square to that axis is then tried as the cylinder.
  const double seed_size = std::sqrt(mesh.area_mm2(seed));
  for (double reach = 1.5 * seed_size; reach < 60 * seed_size + 1; reach *= 1.6) {
    const auto near = grow([&](uint32_t a, uint32_t b) {
      return dot(mesh.normal(a), mesh.normal(b)) > bend && length(mesh.centre(b) - mesh.centre(seed)) < reach;
    });
    if (near.size() < 4) continue;
    const auto eigen = covariance(near, [&](uint32_t t) { return to(mesh.normal(t)); });
    const Eigen::Vector3d w = eigen.eigenvalues();
    if (w[1] < 0.015 * w.sum()) continue;
    if (w[0] > 0.1 * w[1]) break;  // bent both ways: no cylinder here
    const Vec3 axis = from(eigen.eigenvectors().col(0));
    const auto belt = grow([&](uint32_t a, uint32_t b) {
      return std::abs(dot(mesh.normal(b), axis)) < 0.06 && dot(mesh.normal(a), mesh.normal(b)) > bend;
    });
    if (belt.size() >= 8)
      if (auto c = cylinder(belt)) return *c;
  }
  if (flat.size() > 1 || flat_area > 0) fit_plane();
  if (flat_area < 0.2 * smooth_area) out.kind = FaceKind::free;
  return out;
}

FaceFit snapped(FaceFit fit, std::span<const ExactFace> exact) {
  if (fit.kind == FaceKind::free) return fit;
  const ExactFace* best = nullptr;
  double nearest = 1e300;
  for (const ExactFace& e : exact) {
    const double along = dot(e.direction, fit.direction);
    if (e.kind != fit.kind || std::abs(along) < std::cos(std::numbers::pi / 180)) continue;
    const Vec3 between = fit.point_mm - e.point_mm;
    double off = 0;
    if (fit.kind == FaceKind::plane) {
      off = std::abs(dot(between, e.direction));
      if (along < 0 || off > 0.1) continue;
      off += 1e-6 * length(between);  // of coplanar faces, the one here
    } else {
      if (std::abs(e.diameter_mm - fit.diameter_mm) > 0.02 * e.diameter_mm) continue;
      const double lift = dot(between, e.direction);
      if (std::abs(lift) > 0.5 * (e.depth_mm + fit.depth_mm)) continue;
      off = length(between - e.direction * lift);
      if (off > 0.02 * e.diameter_mm) continue;
    }
    if (off < nearest) nearest = off, best = &e;
  }
  if (!best) return fit;
  fit.exact = true;
  fit.fit_rms_mm = 0;
  fit.direction = best->direction;
  fit.diameter_mm = best->diameter_mm;
  if (fit.kind == FaceKind::plane) {
    fit.point_mm = fit.point_mm - best->direction * dot(fit.point_mm - best->point_mm, best->direction);
  } else {
    fit.point_mm = best->point_mm;
    fit.depth_mm = best->depth_mm;
  }
  return fit;
}

}  // namespace palinform
