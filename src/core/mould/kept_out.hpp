#pragma once
/// Dams and second stages as part of a mould: what they keep free, and what each pour comes to then.
#include "mould/box.hpp"

namespace palinform {

/// Puts into the mould what its options ask for: `kept_out`, the pours' volumes and curves, box and rubber. Where dams
/// and the free room of a second stage meet, it counts once. A pour that one stage does as well stays as it is.
void keep_out(Mould& mould, const MouldOptions& options);

}  // namespace palinform
