#pragma once
/// Lays a scan of a casting onto its master: coarse by principal axes, then point to plane, trimmed (M27).
#include <optional>
#include <span>
#include <vector>

#include "base/progress.hpp"
#include "base/result.hpp"
#include "mesh/rays.hpp"
#include "mesh/tri_mesh.hpp"

namespace palinform {

/// p ↦ scale · (R·p + t), the scale along the master's axes.
struct Laid {
  Transform motion;
  Vec3 scale{1, 1, 1};
  Vec3 point(const Vec3& p) const {
    const Vec3 q = motion.point(p);
    return {q.x * scale.x, q.y * scale.y, q.z * scale.z};
  }
};

/// A disc of the master that the fit goes by.
struct Datum {
  Vec3 at_mm;
  double radius_mm = 1;
};

struct AlignOptions {
  std::vector<Datum> datums;  ///< the last steps go by these alone; none: by the whole
  bool scale_free = false;    ///< a scale for each axis is sought too
  size_t points = 20'000;     ///< of the scan that the fit uses
};

struct Aligned {
  Laid laid;
  double rms_mm = 0;          ///< of what the fit used: within three robust sigmas
  double used_share = 1;      ///< of the points looked at
  std::optional<Vec3> scale;  ///< of the casting against the master, where it was left free
  double size_ratio = 1;      ///< of the two clouds, before anything was fitted
};

/// `master_rays` belong to `master`. Refused: a scan in other units (its size says so), one with too few points at the
/// datums. The same meshes give the same result, whatever the number of threads. About 2 s for a million triangles.
Result<Aligned> align_scan(const TriMesh& master, const RayScene& master_rays, const TriMesh& scan,
                           const AlignOptions& options = {}, const Progress& progress = Progress::none());

}  // namespace palinform
