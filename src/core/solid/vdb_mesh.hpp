#pragma once
// For .cpp files of this room only: meshes to OpenVDB distance fields and back. Brings in OpenVDB's headers.
#include <openvdb/openvdb.h>
#include <openvdb/tools/MeshToVolume.h>
#include <openvdb/tools/VolumeToMesh.h>

#include <mutex>

#include "base/progress.hpp"
#include "mesh/tri_mesh.hpp"

namespace palinform::vdb {

inline void start() {
  static std::once_flag once;
  std::call_once(once, [] { openvdb::initialize(); });
}

/// Stops OpenVDB's tools when the Progress was cancelled, but between their steps only: asked inside one (without a
/// share done) they would call off the TBB group they run in, in which TBB 2021.8 was seen to crash
/// (`cancel_group_execution`).
struct Interrupter {
  const Progress& progress;
  void start(const char* = nullptr) {}
  void end() {}
  bool wasInterrupted(int percent = -1) { return percent >= 0 && progress.cancelled(); }
};

/// As many voxels to each side of a skin as its neighbours are known without a search of their own: all that cutting
/// and meshing at nought read.
constexpr double skin_band_voxels = 2;

inline openvdb::FloatGrid::Ptr distance_to(const TriMesh& mesh, double voxel, double outside_mm, double inside_mm,
                                           bool is_signed, const Progress& progress,
                                           openvdb::Int32Grid* nearest_triangle = nullptr) {
  std::vector<openvdb::Vec3s> points;
  std::vector<openvdb::Vec3I> faces;
  points.reserve(mesh.points.size());
  for (const Vec3& p : mesh.points)
    points.emplace_back(static_cast<float>(p.x / voxel), static_cast<float>(p.y / voxel),
                        static_cast<float>(p.z / voxel));
  for (const Triangle& t : mesh.triangles) faces.emplace_back(t[0], t[1], t[2]);
  openvdb::tools::QuadAndTriangleDataAdapter<openvdb::Vec3s, openvdb::Vec3I> adapter(points, faces);
  const auto grid_frame = openvdb::math::Transform::createLinearTransform(voxel);
  Interrupter stop{progress};
  return openvdb::tools::meshToVolume<openvdb::FloatGrid>(
      stop, adapter, *grid_frame, static_cast<float>(outside_mm / voxel), static_cast<float>(inside_mm / voxel),
      is_signed ? 0 : openvdb::tools::UNSIGNED_DISTANCE_FIELD, nearest_triangle);
}

inline TriMesh iso_surface(const openvdb::FloatGrid& grid, double iso_mm) {
  std::vector<openvdb::Vec3s> points;
  std::vector<openvdb::Vec4I> quads;
  openvdb::tools::volumeToMesh(grid, points, quads, iso_mm);
  TriMesh out;
  out.points.reserve(points.size());
  for (const auto& p : points) out.points.push_back({p.x(), p.y(), p.z()});
  out.triangles.reserve(quads.size() * 2);
  for (const auto& q : quads) {
    const double d02 = length(out.points[q[0]] - out.points[q[2]]), d13 = length(out.points[q[1]] - out.points[q[3]]);
    if (d02 <= d13) {
      out.triangles.push_back({q[0], q[2], q[1]});
      out.triangles.push_back({q[0], q[3], q[2]});
    } else {
      out.triangles.push_back({q[0], q[3], q[1]});
      out.triangles.push_back({q[1], q[3], q[2]});
    }
  }
  return out;
}

}  // namespace palinform::vdb
