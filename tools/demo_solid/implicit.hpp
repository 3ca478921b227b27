#pragma once
/// Solids given by a function, meshed through an OpenVDB level set.
#include <functional>

#include "mesh/tri_mesh.hpp"

namespace palinform {

/// Distance-like function: negative inside, positive outside, about 1 mm per mm near the surface.
using Implicit = std::function<double(const Vec3&)>;

/// Meshes the zero surface inside `box_mm`: level set at `voxel_mm`, dual quads, each point moved onto the zero of
/// `solid` (so flats and bores are true to a few µm; edges stay broken by about half a voxel). Closed and manifold.
TriMesh mesh_implicit(const Implicit& solid, const Box3& box_mm, double voxel_mm);

}  // namespace palinform
