#pragma once
/// The rubber halves and further pieces as sound solids: to look at, to weigh, to print as a check or as a hard
/// mould (M5).
#include <memory>
#include <vector>

#include "base/progress.hpp"
#include "base/result.hpp"
#include "mould/channel.hpp"
#include "mould/keys.hpp"
#include "mould/several.hpp"
#include "solid/lattice.hpp"
#include "split/pieces.hpp"
#include "split/pins.hpp"

namespace palinform {

struct HalfSolid {
  std::string name;  ///< "a", "b"; "c", "d"… the further pieces
  TriMesh mesh;      ///< in the part's own frame
  double volume_mm3 = 0;
};

struct HalvesOptions {
  double voxel_mm = 0.3;
  double slack_mm = pin_slack_mm;  ///< of sockets round pins, on the radius
};

struct Halves {
  std::vector<HalfSolid> halves;  ///< a, b, then one for each further piece
  double voxel_mm = 0;
  double box_mm3 = 0, part_mm3 = 0, pins_mm3 = 0;
  double channels_mm3 = 0;  ///< gate and vents, as far as they lie in the box
  double sockets_mm3 = 0;   ///< of inserts
  /// Box less part, pins, channels, sockets and halves: what the voxels lose or double, mm³.
  double unaccounted_mm3() const;
};

/// What stands out of the master into the rubber, which comes out as its socket: an insert's seats.
struct Socket {
  std::shared_ptr<const TriMesh> body;  ///< all of it, closed; in the part's own frame
  double in_rubber_mm3 = 0;             ///< of it, outside the part
};
/// What goes into a mould besides part and surface.
struct HalvesParts {
  std::vector<PinPlan> pins = {};
  std::vector<Channel> channels = {};
  std::vector<ExtraPiece> pieces = {};
  std::vector<Socket> sockets = {};
};
/// What belongs to one master of each part, at every master of a set: `of_part` in the order of the set's parts, each
/// in its part's own frame; further pieces only of the first.
HalvesParts at_each(const std::vector<HalvesParts>& of_part, const MasterSet& set);

/// The box cut along the parting surface with its keys; part, pins, channels and sockets taken out of both. A further
/// piece is the rubber over its faces and in what they enclose, straight out along its own pull through the box's wall.
/// Edges are true to half a voxel, upright walls of the surface to one.
Result<Halves> mould_halves(const TriMesh& mesh, const Mould& fine, const KeyPlan& keys, const HalvesParts& parts = {},
                            const HalvesOptions& options = {}, const Progress& progress = Progress::none());

/// How far from a place to outside of the box along unit `d`, all in the box's frame; nought from outside.
double way_out_mm(const Box3& box, const Vec3& from, const Vec3& d);

/// The space a piece fills and slides out through, below nought in it: over the outline of its faces seen along the
/// pull, hollows filled, from the faces (a hollow: from their lowest place) `way_mm` along the pull. In the frame of
/// frame_along(piece.pull). Coarser than `pitch_mm` where the piece is over 220 of them across.
Result<Lattice> piece_field(const TriMesh& mesh, const ExtraPiece& piece, double way_mm, double pitch_mm,
                            const Progress& progress = Progress::none());

}  // namespace palinform
