#pragma once
/// A mesh made ready for pictures: ray tree and shading normals. Built once per mesh, shared, never changed.
#include <memory>
#include <vector>

#include "base/result.hpp"
#include "mesh/rays.hpp"
#include "mesh/tri_mesh.hpp"

namespace palinform {

struct Shape {
  std::shared_ptr<const RayScene> rays;
  std::vector<Triangle> triangles;
  std::vector<uint32_t> corner_normals;  ///< three per triangle, packed by pack_normal
  Box3 box_mm;
};

/// Shading normals are averaged, weighted by corner angle, over faces bent by less than `crease_deg`; sharper edges
/// stay sharp.
Result<std::shared_ptr<const Shape>> make_shape(const TriMesh& mesh, double crease_deg = 40);
/// As above around a ray tree that exists already.
std::shared_ptr<const Shape> make_shape(const TriMesh& mesh, std::shared_ptr<const RayScene> rays,
                                        double crease_deg = 40);

/// Unit vector ↔ three signed 10-bit numbers (error under 0.1°).
uint32_t pack_normal(const Vec3& n);
Vec3 unpack_normal(uint32_t packed);

}  // namespace palinform
