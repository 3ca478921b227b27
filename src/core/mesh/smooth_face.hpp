#pragma once
/// The whole face a finger means: a flat, a bore's wall, or all of a curved face whatever facets it has.
#include <vector>

#include "mesh/topology.hpp"

namespace palinform {

/// Sorted triangles. From a real flat (a twelfth of the smooth skin it belongs to, or more) that flat; from a cylinder
/// its wall; else the skin that runs on without an edge bent by `crease_deg`, less the real flats it runs into.
std::vector<uint32_t> smooth_face(const TriMesh& mesh, const EdgePairs& pairs, uint32_t seed, double crease_deg = 25);

}  // namespace palinform
