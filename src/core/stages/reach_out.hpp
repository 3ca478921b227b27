#pragma once
/// Pins and slides in a box of the shop's own, which may stand farther off than the wall asks.
#include "mould/walls.hpp"
#include "split/pins.hpp"

namespace palinform {

/// Those that would end in the rubber, or stand out of it by less than half their grip, go on until all of the grip is
/// outside. `walls`: with the inside of the box that is given.
void reach_out(std::vector<PinPlan>& pins, const TriMesh& mesh, const Vec3& pull, const Walls& walls);

}  // namespace palinform
