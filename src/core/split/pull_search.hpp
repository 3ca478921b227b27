#pragma once
/// The best direction to pull (M2): the half-globe searched on samples, the best few settled by exact lines.
#include <vector>

#include "split/bores.hpp"
#include "split/parting.hpp"

namespace palinform {

/// Weights of the score, each on a figure between about 0 and 1. Editable; defaults are rules of thumb.
struct PullWeights {
  double locked = 12;    ///< share of the surface that locks
  double line = 0.5;     ///< line length over the girth of a ball of the part's diagonal
  double flat = 0.6;     ///< climb of the line over the part's diagonal
  double height = 0.32;  ///< part's height along the pull over its diagonal
  double show = 1;       ///< share of the line across show faces
  double odd = 0.03;     ///< off every natural direction (axes, flat faces, bores): such a mould is hard to set up
  bool operator==(const PullWeights&) const = default;
  static void fields(auto& s, auto&& f) {
    f("locked", s.locked, Within{0, 1000});
    f("line", s.line, Within{0, 1000});
    f("flat", s.flat, Within{0, 1000});
    f("height", s.height, Within{0, 1000});
    f("show", s.show, Within{0, 1000});
    f("odd", s.odd, Within{0, 1000});
  }
};

struct PullSearchOptions {
  int directions = 520;  ///< over the half-globe
  int samples = 4000;    ///< faces of the simplified copy that carry the search
  int settle = 3;        ///< best directions settled by the exact line
  PullWeights weights;
};

/// One direction of the map, on the half-globe.
struct RosePoint {
  Vec3 pull;
  double score = 0, locked_share = 0;
};

struct PullSearch {
  std::vector<RosePoint> rose;            ///< every direction tried, in the order tried
  std::vector<PullCandidate> candidates;  ///< distinct ones, best first
  size_t samples = 0;                     ///< faces of the simplified copy
  Split best;                             ///< exact, for candidates[0]
  Releases releases;                      ///< of it
};

/// Candidates: a Fibonacci half-globe, the axes, flat faces' normals, bores' axes; the best are refined nearby. Samples
/// carry the search, the whole mesh settles it. Deterministic.
Result<PullSearch> search_pull(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays,
                               const std::vector<Bore>& bores, const FaceWishes& wishes = {},
                               const PullSearchOptions& options = {}, const Progress& progress = Progress::none());

}  // namespace palinform
