#pragma once
/// The smallest box round a part, and its extent in a frame.
#include "mesh/tri_mesh.hpp"

namespace palinform {

/// Frame along `up` whose first two axes lie along the smallest rectangle around the part seen that way: the box that
/// takes least rubber. Axes of frame_along() where they do as well within 1 %. Exact on the hull of the outline.
Transform frame_around(const TriMesh& mesh, const Vec3& up);

/// The part's extent along the axes of its smallest box, largest first: the same however it lies in its file. Boxes are
/// tried about the principal axes of its surface and the normals of its largest flat faces.
Vec3 own_size_mm(const TriMesh& mesh);

/// The part's extent in a frame.
Box3 box_in(const TriMesh& mesh, const Transform& frame);

}  // namespace palinform
