#include "mesh/smooth_face.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "mesh/feature.hpp"
#include "mesh/flood.hpp"

namespace palinform {

std::vector<uint32_t> smooth_face(const TriMesh& mesh, const EdgePairs& pairs, uint32_t seed, double crease_deg) {
  FaceFit fit = fit_face(mesh, pairs, seed, crease_deg);
  if (fit.kind == FaceKind::bore || fit.kind == FaceKind::boss) return fit.triangles;
  const double bend = std::cos(crease_deg * std::numbers::pi / 180), flat = std::cos(2 * std::numbers::pi / 180);
  std::vector<uint32_t> smooth;
  std::vector<bool> seen(mesh.triangles.size());
  double all = 0;
  flood_unseen(
      pairs, seen, seed,
      [&](uint32_t t) {
        smooth.push_back(t);
        all += mesh.area_mm2(t);
      },
      [&](uint32_t a, uint32_t b) { return dot(mesh.normal(a), mesh.normal(b)) > bend; });
  std::sort(smooth.begin(), smooth.end());
  // The flats in it, each grown from its first triangle.
  std::vector<bool> taken(mesh.triangles.size(), true);
  for (const uint32_t t : smooth) taken[t] = false;
  std::vector<uint32_t> curved, own;
  for (const uint32_t first : smooth) {
    if (taken[first]) continue;
    const Vec3 n = mesh.normal(first);
    std::vector<uint32_t> patch;
    double area = 0;
    bool holds_seed = false;
    flood_unseen(
        pairs, taken, first,
        [&](uint32_t t) {
          patch.push_back(t);
          area += mesh.area_mm2(t);
          holds_seed = holds_seed || t == seed;
        },
        [&](uint32_t, uint32_t b) { return dot(mesh.normal(b), n) > flat; });
    const bool real = area >= all / 12;
    if (real && holds_seed) {
      std::sort(patch.begin(), patch.end());
      return patch;
    }
    if (!real) curved.insert(curved.end(), patch.begin(), patch.end());
  }
  std::sort(curved.begin(), curved.end());
  // Curved skin on the far side of a flat is another face.
  std::vector<bool> stays(mesh.triangles.size());
  for (const uint32_t t : curved) stays[t] = true;
  std::vector<bool> reached(mesh.triangles.size());
  std::vector<uint32_t> out;
  flood_unseen(
      pairs, reached, seed, [&](uint32_t t) { out.push_back(t); },
      [&](uint32_t a, uint32_t b) { return stays[b] && dot(mesh.normal(a), mesh.normal(b)) > bend; });
  std::sort(out.begin(), out.end());
  return out;
}

}  // namespace palinform
