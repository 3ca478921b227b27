#pragma once
/// A body of a given box and volume, where nothing else is known of the part.
#include "base/names.hpp"
#include "base/result.hpp"
#include "mesh/tri_mesh.hpp"

namespace palinform {

/// `rounded`: a swollen box, fuller or leaner as the volume asks. `shell`: a box open below with a wall. `by_volume`:
/// rounded where it fills 45 % of its box or more, else a shell.
enum class StandIn { by_volume, rounded, shell };
template <>
inline constexpr std::array names<StandIn>{"by-volume"sv, "rounded"sv, "shell"sv};

/// Closed, its foot's middle at nought, its box exactly `extent_mm`, its volume `volume_mm3` to a millionth. Refused
/// where measures are not above nought or the volume does not fit into the box.
Result<TriMesh> stand_in_mesh(const Vec3& extent_mm, double volume_mm3, StandIn like);
/// What `by_volume` comes to.
StandIn stand_in_for(const Vec3& extent_mm, double volume_mm3, StandIn like);

}  // namespace palinform
