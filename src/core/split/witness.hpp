#pragma once
/// Where the parting line will show on the casting, and where the rubber along it comes out as a feather (M3).
#include <vector>

#include "base/finding.hpp"
#include "split/parting.hpp"

namespace palinform {

/// A run of the line that leaves something to see or to repair. Along a sharp edge it leaves nothing.
struct WitnessPlace {
  enum class Kind { feather, show, steep, smooth };  ///< worst first
  Kind kind = Kind::smooth;
  size_t loop = 0;     ///< of Split::loops
  double from_mm = 0;  ///< along the loop
  double length_mm = 0;
  Vec3 at_mm;            ///< middle of the run
  double worst_deg = 0;  ///< feather: the rubber's edge; steep: the climb; else 0
};
std::string_view words_of(WitnessPlace::Kind k);

struct WitnessOptions {
  double feather_deg = 35;    ///< an edge of rubber thinner than this tears and flashes (rule of thumb)
  double steep_deg = 60;      ///< over this the halves rub as they part
  double least_share = 0.01;  ///< runs shorter than this share of the part's largest extent are left out
};

/// Runs in the order of kind, then of length. Reads the line's own points; O(points of the line · log faces).
std::vector<WitnessPlace> witness_places(const TriMesh& mesh, const RayScene& rays, const Split& split,
                                         const FaceWishes& wishes, const WitnessOptions& options = {});

/// Height of the line over its lowest point along one loop, evenly spaced, and the bevel that suits the bed there.
struct Station {
  Vec3 at_mm;
  double along_mm = 0;   ///< from the loop's first point
  double height_mm = 0;  ///< along the pull, over the part's lowest place
  double bevel_deg = 0;  ///< of the bed away from the part: up is positive; halves the corner, held within ±30°
  double edge_deg = 90;  ///< the thinner of the two rubber edges at that bevel
};
std::vector<Station> stations_along(const TriMesh& mesh, const RayScene& rays, const Split& split, size_t loop,
                                    int count);

}  // namespace palinform
