#pragma once
/// Changes to a master's shape that need no boolean: mirror, stock on a face, a bore plugged with a drilling dimple.
/// Each keeps a closed mesh closed.
#include "base/result.hpp"
#include "mesh/feature.hpp"
#include "mesh/topology.hpp"

namespace palinform {

/// The other hand: mirrored across the plane through the box's centre square to `axis` (0 x, 1 y, 2 z).
TriMesh mirrored(TriMesh mesh, int axis);

/// Lifts a flat patch by `mm` along its normal and walls the step in. `patch`: triangles of one flat face (fit_face).
/// Refused: no patch, a patch without a rim, mm outside 0 to half the mesh's extent.
Result<TriMesh> with_stock(const TriMesh& mesh, const EdgePairs& pairs, const FaceFit& patch, double mm);

/// Closes a bore: its wall (and floor, where blind) is taken out, each mouth is capped, and the cap carries a conical
/// dimple of `dimple_mm` across and 90° to start the drill in. No dimple where `dimple_mm` is 0.
/// Refused: the patch is no bore, its rim is not one or two closed loops, the dimple is wider than the bore.
Result<TriMesh> plugged(const TriMesh& mesh, const EdgePairs& pairs, const FaceFit& bore, double dimple_mm);

}  // namespace palinform
