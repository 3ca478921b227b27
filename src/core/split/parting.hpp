#pragma once
/// The split for one pull: faces given to side a (+pull) or b by exact minimum cut, the line between them, what locks
/// (M2, M3).
#include <optional>
#include <vector>

#include "base/finding.hpp"
#include "base/names.hpp"
#include "base/progress.hpp"
#include "base/result.hpp"
#include "mesh/rays.hpp"
#include "mesh/topology.hpp"
#include "split/cut_labels.hpp"

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
  double score = 0;  ///< lower is better; pull_search.hpp says what goes in
  double locked_area_mm2 = 0, line_mm = 0, height_mm = 0;
  bool exact = false;  ///< from the exact line on the whole mesh, else from samples
};

/// How the line was found: where the skin is cheapest to part, or where a plane meets it (plane_line.hpp).
enum class LineKind : uint8_t { surface, plane };
template <>
inline constexpr std::array names<LineKind>{"surface"sv, "plane"sv};

struct Split {
  Vec3 pull{0, 0, 1};
  LineKind kind = LineKind::surface;
  std::vector<uint8_t> side;  ///< per face: 0 a, 1 b
  std::vector<bool> locked;   ///< per face
  double locked_area_mm2 = 0;
  std::vector<LockedRegion> regions;  ///< of at least 0.1 mm², largest first
  std::vector<PartingLoop> loops;     ///< longest first
  double line_mm = 0;
  double height_range_mm = 0;             ///< how far the outer line climbs along the pull
  double shut_off_range_mm = 0;           ///< … and that shut-off which climbs most
  std::vector<PullCandidate> candidates;  ///< best first; only from a search
  double steepest_deg = 0;                ///< of the outer line against the plane across the pull
  double sharp_share = 0;                 ///< of the line that lies on sharp edges
  double show_share = 0;                  ///< of the line that crosses show faces
};

/// Shares of each face that leave toward +pull and −pull: the rays of one pull, kept for every stroke of the brush.
struct Releases {
  Vec3 pull{0, 0, 1};
  std::vector<float> up, down;
};
Result<Releases> releases_along(const TriMesh& mesh, const RayScene& rays, const Vec3& pull,
                                const Progress& progress = Progress::none());

/// Labels and line from the rays of one pull. A face that can leave both ways goes where the line is cheapest (ties: a,
/// so the line drops to the lower edge); so does a locked face. The line is smoothed on the surface; where a plane
/// parts the part as well, it is taken unless its line is dearer (M22).
Result<Split> split_from(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays, const Releases& r,
                         const FaceWishes& wishes = {}, const CutPrices& prices = {},
                         const Progress& progress = Progress::none());

/// Both at once.
Result<Split> split_along(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays, const Vec3& pull,
                          const Progress& progress = Progress::none());

/// "+z", "−x", or the vector.
std::string axis_name(const Vec3& pull);

}  // namespace palinform
