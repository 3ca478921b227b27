#include "solid/carve.hpp"

#include <openvdb/tools/Composite.h>

#include <algorithm>
#include <cmath>

#include "base/text.hpp"
#include "mesh/topology.hpp"
#include "solid/lattice.hpp"
#include "solid/vdb_mesh.hpp"
#include "solid/vdb_surface.hpp"

namespace palinform {
namespace {

Status check(const TriMesh& m, double voxel) {
  const Vec3 size = measure(m).box_mm.size();
  if (!(voxel > 0)) return Error{"the voxel must be above nought", "solid", ""};
  if (size.x / voxel * (size.y / voxel) * (size.z / voxel) > 4e8)
    return Error{"a voxel of " + significant(voxel, 2) + " mm is too fine for this size", "solid",
                 "Use a coarser one."};
  return {};
}

size_t faults(const TriMesh& m) {
  const EdgePairs p = pair_edges(m);
  size_t flat = 0;
  for (size_t t = 0; t < m.triangles.size(); ++t) flat += !(m.area_mm2(t) > 1e-12);
  return p.open_edges + p.non_manifold_edges + flat;
}

}  // namespace

Result<TriMesh> vdb::sound_surface(const openvdb::FloatGrid& field, double at_mm, double voxel,
                                   const Progress& progress) {
  TriMesh best;
  size_t least = SIZE_MAX;
  for (const double shift : {0.0, 0.02, -0.02, 0.05, -0.05, 0.09, -0.09}) {
    if (progress.cancelled()) return Error::stopped();
    TriMesh m = iso_surface(field, at_mm + shift * voxel);
    drop_unused_points(m);
    const size_t n = faults(m);
    if (n < least) least = n, best = std::move(m);
    if (least == 0) break;
  }
  const EdgePairs pairs = pair_edges(best);
  const Components parts = components(best, pairs);
  std::vector<double> volume = component_volumes_mm3(best, parts);
  double sum = 0;
  for (const double v : volume) sum += v;
  if (sum < 0) {
    for (Triangle& t : best.triangles) std::swap(t[1], t[2]);
    for (double& v : volume) v = -v;
  }
  if (parts.count > 1) {
    const double speck = std::pow(3 * voxel, 3);
    std::vector<Triangle> kept;
    for (size_t t = 0; t < best.triangles.size(); ++t) {
      const double v = volume[parts.of_triangle[t]];
      if (v > speck || v < -40 * speck) kept.push_back(best.triangles[t]);
    }
    best.triangles = std::move(kept);
    drop_unused_points(best);
  }
  return best;
}

Result<TriMesh> carved(const std::vector<TriMesh>& blocks, const std::vector<TriMesh>& away, double grow_mm,
                       double voxel, const Progress& progress) {
  if (blocks.empty()) return Error{"there is no block to carve", "solid", ""};
  for (const TriMesh& b : blocks)
    if (auto ok = check(b, voxel); !ok) return ok.error();
  vdb::start();
  const double skin = vdb::skin_band_voxels * voxel;
  const auto body = vdb::distance_to(blocks[0], voxel, skin, skin, true, progress.part(0, 0.2));
  for (size_t k = 1; k < blocks.size(); ++k) {
    const auto more = vdb::distance_to(blocks[k], voxel, skin, skin, true, progress.part(0.2, 0.4));
    openvdb::tools::csgUnion(*body, *more);
  }
  progress.report(0.4);
  for (const TriMesh& m : away) {
    if (progress.cancelled()) return Error::stopped();
    const double band = grow_mm != 0 ? 3 * voxel + std::abs(grow_mm) : skin;
    auto taken = vdb::distance_to(m, voxel, band, band, true, progress.part(0.4, 0.7));
    if (progress.cancelled()) return Error::stopped();
    if (grow_mm != 0) {
      // The field itself, shifted: exact for a true distance field within its band.
      for (auto it = taken->beginValueOn(); it; ++it) it.setValue(it.getValue() - static_cast<float>(grow_mm));
      const float out_value = taken->background() - static_cast<float>(grow_mm);
      openvdb::tools::changeBackground(taken->tree(), std::max(out_value, static_cast<float>(3 * voxel)));
    }
    openvdb::tools::csgDifference(*body, *taken);
  }
  progress.report(0.7);
  return vdb::sound_surface(*body, 0, voxel, progress.part(0.7, 1));
}

double GrowthCurve::at_mm3(double by_mm) const {
  if (within_mm3.empty() || step_mm <= 0 || by_mm <= 0) return 0;
  const double at = by_mm / step_mm, last = static_cast<double>(within_mm3.size() - 1);
  if (at >= last) return within_mm3.back();
  const auto k = static_cast<size_t>(at);
  return within_mm3[k] + (at - static_cast<double>(k)) * (within_mm3[k + 1] - within_mm3[k]);
}

Result<GrowthCurve> growth_curve(const TriMesh& solid, double reach_mm, double voxel, const Progress& progress) {
  if (auto ok = check(solid, voxel); !ok) return ok.error();
  const double band = reach_mm + 2 * voxel;
  Box3 region = measure(solid).box_mm;
  region.add(region.min - Vec3{band, band, band});
  region.add(region.max + Vec3{band, band, band});
  const auto field = distance_lattice(solid, region, voxel, band, progress);
  if (!field) return field.error();
  constexpr int steps_a_voxel = 4;
  GrowthCurve out;
  out.step_mm = voxel / steps_a_voxel;
  const auto steps = static_cast<int>(std::ceil(reach_mm / out.step_mm)) + 1;
  // A cell whose middle lies at d is taken little by little while the distance goes from d − ½ to d + ½ of a voxel.
  // Shares in whole 1/64, so that the sum is the same in whatever order it is made.
  std::vector<int64_t> share(static_cast<size_t>(steps), 0), whole(static_cast<size_t>(steps) + 1, 0);
  for (const float value : field->value) {
    const double d = static_cast<double>(value);
    if (d <= -0.5 * voxel || d >= reach_mm + 0.5 * voxel) continue;
    const int from = std::max(0, static_cast<int>(std::ceil((d - 0.5 * voxel) / out.step_mm)));
    const int full = std::max(0, static_cast<int>(std::ceil((d + 0.5 * voxel) / out.step_mm)));
    for (int k = from; k < std::min(full, steps); ++k)
      share[static_cast<size_t>(k)] += std::lround(64 * std::clamp((k * out.step_mm - d) / voxel + 0.5, 0.0, 1.0));
    ++whole[static_cast<size_t>(std::min(full, steps))];
  }
  int64_t sum = 0;
  double first = 0;
  for (size_t k = 0; k < share.size(); ++k) {
    sum += 64 * whole[k];
    const double mm3 = static_cast<double>(sum + share[k]) / 64 * voxel * voxel * voxel;
    if (k == 0) first = mm3;  // the half of the skin's cells that lies in the solid
    out.within_mm3.push_back(mm3 - first);
  }
  return out;
}

Result<TriMesh> grown(const TriMesh& solid, double by_mm, double voxel, const Progress& progress) {
  if (auto ok = check(solid, voxel); !ok) return ok.error();
  const double band = std::abs(by_mm) + 2 * voxel;
  Box3 region = measure(solid).box_mm;
  const Vec3 beside{band + voxel, band + voxel, band + voxel};
  region.add(region.min - beside), region.add(region.max + beside);
  auto field = distance_lattice(solid, region, voxel, band, progress.part(0, 0.6));
  if (!field) return field.error();
  for (float& d : field->value) d -= static_cast<float>(by_mm);
  return lattice_surface(*field, progress.part(0.6, 1));
}

}  // namespace palinform
