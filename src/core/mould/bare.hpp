#pragma once
/// A block mould reckoned from outer measures and volume alone, for a part without a mesh (M5).
#include "mould/box.hpp"

namespace palinform {

/// Box of extent + walls, lying flat (the smallest measure upright), split at half height; each pour takes half of what
/// the part leaves. No halves, no parting surface.
Mould bare_mould(const Vec3& extent_mm, double part_mm3, double wall_mm);

/// Pictures of it: the part's box, and each half of the rubber as a tub around half of that box. In the mould's frame.
struct BareShapes {
  TriMesh part, half_a, half_b;
};
BareShapes bare_shapes(const Vec3& extent_mm, const Mould& mould);

}  // namespace palinform
