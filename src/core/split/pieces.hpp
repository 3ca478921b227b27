#pragma once
/// More pieces than two: directions that free what neither half lets go (M4, remedy "third piece").
#include <vector>

#include "base/progress.hpp"
#include "base/result.hpp"
#include "split/parting.hpp"

namespace palinform {

/// A piece of its own that is drawn along `pull` and forms some of the faces that lock.
struct ExtraPiece {
  Vec3 pull;
  std::vector<uint32_t> triangles;  ///< it forms
  double area_mm2 = 0;              ///< of them
  double line_mm = 0;               ///< its border with the other pieces
  Vec3 centroid_mm;
  int bodies = 1;      ///< places apart from one another that it forms: as many slides with the same draw
  double draw_mm = 0;  ///< how far it slides before it is clear: the faces' extent along the pull
};

struct PiecesPlan {
  std::vector<ExtraPiece> pieces;  ///< given ones first, then those found, most area first
  double left_mm2 = 0;             ///< that locks even so
};

struct PiecesOptions {
  int directions = 520;       ///< over the whole globe
  int most = 4;               ///< pieces besides the two halves
  size_t samples = 3000;      ///< locked faces that carry the search
  double least_share = 0.04;  ///< of the locked area that a piece must free
};

/// Takes the locked faces of `split` in turn by the direction that frees most of them with the
/// shortest draw and fewest bodies. `given`: pulls that are decided already. Greedy, deterministic.
Result<PiecesPlan> find_pieces(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays, const Split& split,
                               const FaceWishes& wishes, const std::vector<Vec3>& given = {},
                               const PiecesOptions& options = {}, const Progress& progress = Progress::none());

}  // namespace palinform
