#pragma once
/// Which way up a part hangs from its bar (M6).
#include <functional>
#include <vector>

#include "mesh/rays.hpp"

namespace palinform {

/// Where a strip's nub meets the part: its highest place along `up`, the side the resin comes from; of places as high
/// the one nearest to their middle.
Vec3 nub_place(const TriMesh& mesh, const RayScene& rays, const Vec3& up);

/// Where struts would meet the part, hung that way up.
using StrutsFor = std::function<std::vector<Vec3>(const Vec3& up)>;

/// The way up in the rubber pour that keeps least air when resin comes in by the nub, then the other way up: the part's
/// axes and diagonals in the frame of `pull`, and the pull itself, which wins where they are equal. A sweep each. Air
/// leaves by struts as well, where there are some; each of them counts like 0.2 % of the part left as air.
Result<Vec3> strip_up(const TriMesh& mesh, const RayScene& rays, const Vec3& pull, const StrutsFor& struts = {},
                      const Progress& progress = Progress::none());

}  // namespace palinform
