#pragma once
/// Handles of a closed mesh: how many there are, and loops on the skin that run round them.
#include <vector>

#include "mesh/topology.hpp"

namespace palinform {

/// Sum of the genus of all pieces, by the Euler characteristic: a ball has none, a ring one, a frame of six windows
/// six.
size_t handles_of(const TriMesh& mesh, const EdgePairs& pairs);

/// Two closed chains of points for each handle, which together generate every loop of the skin that bounds nothing: the
/// edges that neither a spanning tree of the points nor one of the faces takes, each closed through the tree
/// (D. Eppstein, "Dynamic generators of topologically embedded graphs", 2003). The same mesh gives the same loops.
std::vector<std::vector<uint32_t>> handle_loops(const TriMesh& mesh, const EdgePairs& pairs);

}  // namespace palinform
