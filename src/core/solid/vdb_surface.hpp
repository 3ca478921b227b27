#pragma once
// For .cpp files that hold OpenVDB grids: the grid's zero surface as a mesh that can be trusted.
#include <openvdb/openvdb.h>

#include "base/progress.hpp"
#include "base/result.hpp"
#include "mesh/tri_mesh.hpp"

namespace palinform::vdb {

/// The surface at `at_mm`. Where two sheets of it meet in one voxel the mesher makes edges of four faces or faces of no
/// area: then a surface a few hundredths of a voxel beside is taken. Specks under (3 voxels)³ and slivers of void go;
/// outside looks out.
Result<TriMesh> sound_surface(const openvdb::FloatGrid& field, double at_mm, double voxel_mm, const Progress& progress);

}  // namespace palinform::vdb
