#pragma once
/// How far a scan lies off its master, point by point, once it is laid on it (M27).
#include <optional>
#include <string>
#include <vector>

#include "base/progress.hpp"
#include "base/result.hpp"
#include "check/align.hpp"

namespace palinform {

struct DeviationPlace {
  Vec3 at_mm;  ///< on the master
  double mm = 0;
};

struct Deviation {
  std::vector<float> mm;  ///< per point of the scan; above nought outside the master
  double mean_mm = 0, rms_mm = 0, p95_abs_mm = 0, min_mm = 0, max_mm = 0;  ///< by area
  double covered_share = 0;                                                ///< of the master's skin that the scan shows
  bool same_part = true;              ///< else its rms is beyond a twentieth of the part's size
  std::vector<DeviationPlace> worst;  ///< the farthest off, one for each place, most first
};

/// Signed distances of every point of `scan`, as `laid`, by the master's normals. Coverage is looked for both ways, so
/// that half a scan is told as half: `laid_rays`, where they stand already, are those of the scan as it is laid.
Result<Deviation> deviation_of(const TriMesh& master, const RayScene& master_rays, const TriMesh& scan,
                               const Laid& laid, const Progress& progress = Progress::none(),
                               std::shared_ptr<const RayScene> laid_rays = nullptr);
/// The scan where it lies on the master.
TriMesh laid_mesh(TriMesh scan, const Laid& laid);

/// Share of the scan's skin within ±`limit_mm`.
double within_limit_share(const TriMesh& scan, const std::vector<float>& mm, double limit_mm);

struct HistogramBin {
  double from_mm = 0, to_mm = 0, share = 0;
};
/// `bins` of equal width over ±`reach_mm`, shares by area; what lies beyond counts at the ends.
std::vector<HistogramBin> deviation_histogram(const TriMesh& scan, const std::vector<float>& mm, double reach_mm,
                                              int bins);

/// The scan where it lies on the master, binary PLY: x, y, z and `deviation`, float, mm, per vertex.
std::string deviation_ply(const TriMesh& scan, const Laid& laid, const std::vector<float>& mm);

}  // namespace palinform
