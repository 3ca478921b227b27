#pragma once
/// What a gate or vent runs into on its way out of the mould, and where beside its foot it would not (M6).
#include <optional>
#include <vector>

#include "flow/channels.hpp"
#include "mould/keys.hpp"
#include "split/pins.hpp"

namespace palinform {

struct Crossing {
  enum class With { parting, pin, key } with = With::parting;
  size_t index = 0;  ///< of the pin or key
  Vec3 at_mm;        ///< part's frame
};

/// The parting surface is crossed where the channel passes from clear of it on one side to clear of it on the other,
/// inside the box; one that runs in it, half in each half, crosses nothing. Pins and keys are run into where less than
/// `clear_mm` of rubber is left between. In that order.
std::vector<Crossing> crossings_of(const Channel& channel, const Mould& mould, const std::vector<Key>& keys,
                                   const std::vector<PinPlan>& pins, double clear_mm);

/// The place on the part's skin nearest to the channel's foot, no farther than `within_mm`, from which a channel of the
/// same kind goes out clear of part, surface, pins and keys; nothing where there is none. Places are tried on rings, in
/// a fixed order.
std::optional<Vec3> clear_foot(const Channel& channel, const RayScene& rays, const TriMesh& mesh, const Vec3& up,
                               double top_mm, const Mould& mould, const std::vector<Key>& keys,
                               const std::vector<PinPlan>& pins, double clear_mm, double within_mm,
                               const ChannelRules& rules);

}  // namespace palinform
