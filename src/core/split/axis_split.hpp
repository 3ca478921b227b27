#pragma once
/// The slice's split: the best of the six axis directions, faces given to side a (+pull) or b, the line between them.
/// The parting planner of the next issues replaces the search and the labelling; the result type stays.
#include <optional>
#include <vector>

#include "base/finding.hpp"
#include "base/progress.hpp"
#include "base/result.hpp"
#include "mesh/rays.hpp"
#include "mesh/topology.hpp"

namespace palinform {

enum class Side : uint8_t { a = 0, b = 1 };

struct PartingLoop {
  bool outer = true;  ///< inner loops are shut-offs
  bool closed = true;
  double length_mm = 0;
  std::vector<Vec3> points_mm;  ///< on the surface, in order, side a to the left seen against the pull
};

struct LockedRegion {  ///< faces that can leave toward neither side
  double area_mm2 = 0;
  Vec3 centroid_mm;
  std::vector<uint32_t> triangles;
};

struct PullCandidate {
  Vec3 pull;
  double locked_area_mm2 = 0, line_mm = 0, height_mm = 0;
};

struct Split {
  Vec3 pull{0, 0, 1};
  std::vector<uint8_t> side;  ///< per face: 0 a, 1 b
  std::vector<bool> locked;   ///< per face
  double locked_area_mm2 = 0;
  std::vector<LockedRegion> regions;  ///< of at least 0.1 mm², largest first
  std::vector<PartingLoop> loops;     ///< longest first
  double line_mm = 0;
  double height_range_mm = 0;             ///< how far the line climbs along the pull
  std::vector<PullCandidate> candidates;  ///< best first; only from the search
};

/// Labels and line for one pull. A face that can leave both ways joins the side it shares more border with (ties: a,
/// so the line drops to the lower edge); so does a locked face. The line is smoothed on the surface.
Result<Split> split_along(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays, const Vec3& pull,
                          Progress& progress = Progress::none());

/// Tries the axes and takes the one with least locked area, then the shortest line, then the lowest mould. Side a is
/// the one that more of the surface leaves toward. `mesh` must be closed.
Result<Split> best_axis_split(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays,
                              Progress& progress = Progress::none());

std::vector<Finding> split_findings(const Split& split);

/// "+z", "−x", or the vector.
std::string axis_name(const Vec3& pull);

}  // namespace palinform
