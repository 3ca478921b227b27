#pragma once
/// Where to drill or punch for gate and vents: the box's outer face at true scale with a circle for each channel.
#include "base/drawing.hpp"
#include "mould/box.hpp"
#include "mould/channel.hpp"

namespace palinform {

/// Laid on the face the channels come out of, seen from outside: holes at their true size and place, with how far each
/// leans and which way. Channels that leave through another face are named in a line of their own.
Drawing punch_sheet(const Mould& mould, const std::vector<Channel>& channels, const std::string& job_name);

/// Place in the mould's frame where the channel leaves the box through its top (`upper`) or bottom face; none when it
/// leaves elsewhere.
std::optional<Vec3> leaves_at(const Mould& mould, const Channel& channel, bool upper);

}  // namespace palinform
