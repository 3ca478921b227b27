#pragma once
/// Triangle meshes as plain data, and what is measured straight off them (M1).
#include <array>
#include <cstdint>
#include <vector>

#include "base/hash.hpp"
#include "base/result.hpp"
#include "base/vec.hpp"

namespace palinform {

using Triangle = std::array<uint32_t, 3>;

/// Points in millimetres; triangles index them, counter-clockwise seen from outside.
struct TriMesh {
  std::vector<Vec3> points;
  std::vector<Triangle> triangles;
  bool operator==(const TriMesh&) const = default;

  const Vec3& corner(size_t triangle, int k) const { return points[triangles[triangle][k]]; }
  /// Twice the area along the outward normal.
  Vec3 area_vector(size_t t) const { return cross(corner(t, 1) - corner(t, 0), corner(t, 2) - corner(t, 0)); }
  double area_mm2(size_t t) const { return 0.5 * length(area_vector(t)); }
  Vec3 normal(size_t t) const { return unit(area_vector(t)); }
  Vec3 centre(size_t t) const { return (corner(t, 0) + corner(t, 1) + corner(t, 2)) / 3.0; }
  void hash_into(Hasher& h) const;
};

struct MeshMeasure {
  double volume_mm3 = 0;  ///< divergence theorem; signed, and meaningful only where the mesh is closed
  double area_mm2 = 0;
  Vec3 centroid_mm;  ///< of the enclosed solid; of the surface where the volume is nil
  Box3 box_mm;
};

/// Volume, area, centroid and bounding box. O(n); sums are taken about the box centre so that a part far from the
/// origin loses no digits.
MeshMeasure measure(const TriMesh& mesh);

/// `mesh` with every point put through `t`; normals keep facing outward for a rigid or uniformly scaled transform.
TriMesh transformed(TriMesh mesh, const Transform& t);
/// Drops points that no triangle uses; the rest are numbered by their first use.
void drop_unused_points(TriMesh& mesh);
/// `mesh` with every coordinate times `factor` (> 0).
TriMesh scaled(TriMesh mesh, double factor);

/// What every road into the program asks of a mesh, whoever wrote it: every coordinate finite, every corner there,
/// faces, but no more than are read, and a box of 1 µm to 10 m.
Status check_mesh(const TriMesh& mesh, const std::string& name);
constexpr double largest_extent_mm = 10'000;
constexpr size_t most_triangles = 5'000'000;

}  // namespace palinform
