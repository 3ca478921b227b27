#pragma once
/// Rays against one mesh (Embree). Built once, then read by any number of threads. Coordinates are taken about the
/// mesh's box centre, since Embree works in single precision.
#include <memory>
#include <optional>
#include <span>
#include <vector>

#include "base/progress.hpp"
#include "base/result.hpp"
#include "mesh/tri_mesh.hpp"

namespace palinform {

struct RayHit {
  double t_mm = 0;  ///< distance along the unit direction
  uint32_t triangle = 0;
  bool entering = false;  ///< the ray goes into the solid here
};

struct SurfacePoint {
  Vec3 point_mm;
  uint32_t triangle = 0;
  double distance_mm = 0;
};

class RayScene {
 public:
  static Result<std::shared_ptr<const RayScene>> build(const TriMesh& mesh);
  ~RayScene();
  RayScene(const RayScene&) = delete;
  RayScene& operator=(const RayScene&) = delete;

  std::optional<RayHit> first_hit(const Vec3& from_mm, const Vec3& unit_dir, double t_min_mm = 0) const;
  /// Every crossing with t ≥ 0, nearest first. Crossings of an edge shared by two faces count once.
  std::vector<RayHit> all_hits(const Vec3& from_mm, const Vec3& unit_dir) const;
  /// Closest point of the surface.
  SurfacePoint closest(const Vec3& p_mm) const;

  struct Ray {
    float origin[3];  ///< mm, already about `centre()`
    float dir[3];
    float t_min, t_max;
  };
  /// blocked[i] = 1 where ray i meets anything. Sixteen at a time.
  void occluded(std::span<const Ray> rays, uint8_t* blocked, bool coherent = false) const;

  const Vec3& centre() const { return centre_; }
  double diagonal_mm() const { return diagonal_mm_; }
  void* embree_scene() const;  ///< RTCScene, for picture/

 private:
  struct Scene;
  explicit RayScene(std::unique_ptr<Scene> scene);
  std::unique_ptr<Scene> scene_;
  Vec3 centre_;
  double diagonal_mm_ = 0;
};

}  // namespace palinform
