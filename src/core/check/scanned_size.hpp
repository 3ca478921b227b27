#pragma once
/// A size measured again in a scan that lies on its master (M27).
#include <span>
#include <string>
#include <vector>

#include "check/deviation.hpp"
#include "original/size.hpp"

namespace palinform {

struct ScannedSize {
  std::string size_id;
  double mm = 0, u_mm = 0;  ///< standard uncertainty: the scatter over both ends, and half the fit's
  size_t points = 0;        ///< places looked at, both ends together
};

/// Each size whose line ends on the master's skin (within 0.5 mm): its length there, and how far the scan's skin lies
/// off along the line at both ends, by rays beside it within `reach_mm`; the middle half of them counts. Sizes that the
/// scan does not show at an end are left out. Refused where the scan cannot be looked at.
Result<std::vector<ScannedSize>> sizes_from_scan(std::span<const MeasuredSize> sizes, const RayScene& master_rays,
                                                 const TriMesh& scan, const Laid& laid, double fit_rms_mm,
                                                 double reach_mm);

}  // namespace palinform
