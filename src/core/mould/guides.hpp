#pragma once
/// Guides at true scale for the hand: the knife's way round a block that is cut open, the plate over an open face.
#include "base/drawing.hpp"
#include "mould/box.hpp"
#include "split/ways.hpp"

namespace palinform {

/// The block's four sides unrolled, from the left front corner round: where the parting surface meets the outside, and
/// the wave along it that the blade follows, a whole number of teeth. To be wrapped round the block.
Drawing cut_guide(const Mould& mould, const WaveCut& wave, const std::string& job_name);

/// Length of the wave on that guide, mm.
double guide_length_mm(const Mould& mould, const WaveCut& wave);

/// The plate that ends an open face flat: its outline, and the casting's own under it. `open_normal`: outward, of the
/// open face; the plate stands over the part by `over_mm` all round.
Drawing cover_drawing(const TriMesh& mesh, const Vec3& open_normal, double over_mm, const std::string& job_name);

}  // namespace palinform
