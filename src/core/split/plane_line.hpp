#pragma once
/// A plane across the pull as parting line (M22): where the part allows one, the line lies flat, whatever the mesh's
/// edges do beside it.
#include <optional>
#include <vector>

#include "split/parting.hpp"

namespace palinform {

/// A part cut by a plane: sides by which side of it a face's middle lies, the line where the plane meets the skin.
struct PlaneLine {
  double height_mm = 0;  ///< along the pull
  std::vector<uint8_t> side;
  std::vector<PartingLoop> loops;            ///< lengths and points; which are outer is not said
  std::vector<std::vector<uint32_t>> faces;  ///< of each loop: the face that each stretch lies on
};

/// The plane that every face can leave from on its own side, but for what hangs over by no more than a hair and for
/// specks (under a thousandth of the skin). Of a wall that may go either way the lower edge is taken, as the line does
/// elsewhere; where faces meet in a round, the middle. Nothing where no plane does, or where a mark forbids it. Turning
/// the part turns the plane with it.
std::optional<PlaneLine> plane_line(const TriMesh& mesh, const EdgePairs& pairs, const Releases& r,
                                    const FaceWishes& wishes);

}  // namespace palinform
