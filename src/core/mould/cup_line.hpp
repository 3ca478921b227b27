#pragma once
/// How high the rubber stands in a cup before the core goes in (M5).
#include "mesh/rays.hpp"
#include "split/pins.hpp"

namespace palinform {

/// The bore's own way up: out of its mouth.
Vec3 out_of_mouth(const RayScene& rays, const Bore& bore);

/// Height over the cup's floor at which `poured_mm3` stand while the bore is still open: by the part's sections along
/// the bore with the bore's own added. As high as the part where it holds no more.
Result<double> cup_line_mm(const TriMesh& mesh, const RayScene& rays, const Bore& bore, double poured_mm3,
                           const Progress& progress = Progress::none());

}  // namespace palinform
