#pragma once
/// Spreading over a mesh from face to face across its paired edges.
#include "mesh/topology.hpp"

namespace palinform {

/// From `seed`: `visit(t)` for every face reached, `take(t, h)` for each paired half-edge h of it; true where the face
/// across is to be reached too. `take` must say so once for a face, and never for the seed. O(faces reached).
template <class Visit, class Take>
void flood_faces(const EdgePairs& pairs, uint32_t seed, Visit visit, Take take) {
  std::vector<uint32_t> open{seed};
  while (!open.empty()) {
    const uint32_t t = open.back();
    open.pop_back();
    visit(t);
    for (uint32_t h = 3 * t; h < 3 * t + 3; ++h)
      if (pairs.paired(h) && take(t, h)) open.push_back(pairs.twin[h] / 3);
  }
}

/// The same where what counts of a face is only whether it was reached: `seen` by face, `joins(t, other)`.
template <class Visit, class Joins>
void flood_unseen(const EdgePairs& pairs, std::vector<bool>& seen, uint32_t seed, Visit visit, Joins joins) {
  seen[seed] = true;
  flood_faces(pairs, seed, visit, [&](uint32_t t, uint32_t h) {
    const uint32_t other = pairs.twin[h] / 3;
    if (seen[other] || !joins(t, other)) return false;
    seen[other] = true;
    return true;
  });
}

}  // namespace palinform
