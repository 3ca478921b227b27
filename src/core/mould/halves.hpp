#pragma once
/// The rubber halves as sound solids: to look at, to weigh, to print as a check or as a hard mould (M5).
#include <vector>

#include "base/progress.hpp"
#include "base/result.hpp"
#include "mould/keys.hpp"
#include "split/pins.hpp"

namespace palinform {

struct HalfSolid {
  std::string name;  ///< "a", "b"
  TriMesh mesh;      ///< in the part's own frame
  double volume_mm3 = 0;
};

struct HalvesOptions {
  double voxel_mm = 0.3;
  double pin_slack_mm = 0.05;  ///< of sockets around pins, on the radius
};

struct Halves {
  std::vector<HalfSolid> halves;  ///< a, then b
  double voxel_mm = 0;
  double box_mm3 = 0, part_mm3 = 0, pins_mm3 = 0;
  /// Box less part, pins and halves: what the voxels lose or double, mm³.
  double unaccounted_mm3() const;
};

/// The box cut along the parting surface with its keys; part and pins taken out of both. Edges are true to half a
/// voxel, upright walls of the surface to one.
Result<Halves> mould_halves(const TriMesh& mesh, const Mould& fine, const KeyPlan& keys,
                            const std::vector<PinPlan>& pins, const HalvesOptions& options = {},
                            Progress& progress = Progress::none());

}  // namespace palinform
