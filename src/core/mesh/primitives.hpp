#pragma once
/// Plain closed bodies as meshes: rods, balls, boxes; what channels, pins, bars and frames are put together from.
#include "mesh/tri_mesh.hpp"

namespace palinform {

/// Round bar from `foot_mm` along unit `draw`; its radius runs from `foot_radius_mm` to `head_radius_mm`.
TriMesh rod(const Vec3& foot_mm, const Vec3& draw, double length_mm, double foot_radius_mm, double head_radius_mm,
            uint32_t sides = 64);
/// Ball of 20·4^`times` faces, their corners on the sphere.
TriMesh ball(const Vec3& centre_mm, double radius_mm, int times = 3);
/// Box with its edges along a frame's rows (a rotation); corners given in that frame, the mesh in the frame's world.
TriMesh box_in_frame(const Transform& frame, const Vec3& low_mm, const Vec3& high_mm);
/// The triangles of `b` beside those of `a`; the two are not united.
void append(TriMesh& a, const TriMesh& b);

}  // namespace palinform
