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
  double mm = 0, u_mm = 0;  ///< standard uncertainty: the points' own scatter, and half the fit's
  size_t points = 0;        ///< of the scan, at both ends
};

/// Each size that has a line on the master: its length there, and how far the scan lies off along it at both ends, by
/// all points of the scan within `reach_mm` of them. Sizes with fewer than five points at an end are left out.
std::vector<ScannedSize> sizes_from_scan(std::span<const MeasuredSize> sizes, const TriMesh& master,
                                         const RayScene& master_rays, const TriMesh& scan, const Laid& laid,
                                         const std::vector<float>& deviation_mm, double fit_rms_mm, double reach_mm);

}  // namespace palinform
