#pragma once
/// The narrowest places of what passes through a part, whatever its outline and however it bends (M4).
///
/// The open space is cut into cells, each with its clearance: how far it is from the part. Cells are taken in from the
/// widest down. A cell that closes a ring which runs round a handle of the part is the waist of an opening: no wider
/// way through it is left. Whether a ring does is told by how often it runs through surfaces hung into the loops of
/// the part's skin (linking numbers). A cell that joins two spaces, both much wider, is the waist of a way into a
/// hollow.
#include <vector>

#include "base/progress.hpp"
#include "base/result.hpp"
#include "mesh/rays.hpp"
#include "mesh/topology.hpp"

namespace palinform {

struct Waist {
  Vec3 at_mm;                 ///< in the middle of it, to a cell
  Vec3 way;                   ///< unit, roughly, the way through
  double radius_mm = 0;       ///< clearance there, to a cell
  bool hollow = false;        ///< joins a hollow to the rest; else goes round a handle
  std::vector<Vec3> near_mm;  ///< places on the way close by, the nearest first: a waist may lie just off a mouth
};

struct WaistOptions {
  int cells = 112;     ///< along the largest extent
  double wider = 1.6;  ///< a hollow and what it opens to are at least so many times wider than the way in
  size_t most = 64;    ///< handles; a part with more is a scan's froth, and refused
};

struct Waists {
  std::vector<Waist> waists;  ///< widest first
  size_t handles = 0;         ///< of the part
  size_t unseen = 0;          ///< handles whose opening is narrower than about two cells
  double pitch_mm = 0;
};

/// Of a closed mesh. O(cells); a part without handles has none, told at once.
Result<Waists> find_waists(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays,
                           const WaistOptions& options = {}, const Progress& progress = Progress::none());

}  // namespace palinform
