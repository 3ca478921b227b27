#pragma once
/// Exact distances on a grid seen in plan (squared distance transform by lower envelopes of parabolas).
#include <cstdint>
#include <vector>

namespace palinform {

/// Squared distance, in cells, of every cell's middle to that of the nearest marked one; 0 in those, 1e12 where none is
/// marked. Rows of `nu` cells, `nv` of them. O(cells).
std::vector<double> plan_distance2(const std::vector<uint8_t>& marked, int nu, int nv);

}  // namespace palinform
