#pragma once
/// A block mould reckoned from outer measures and volume alone, for a part without a mesh (M5).
#include "mould/box.hpp"

namespace palinform {

/// Box of extent + walls, lying flat (the smallest measure upright), split at half height; each pour takes half of what
/// the part leaves. No halves, no parting surface.
Mould bare_mould(const Vec3& extent_mm, double part_mm3, double wall_mm);

}  // namespace palinform
