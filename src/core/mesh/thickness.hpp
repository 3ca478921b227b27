#pragma once
/// How thick the part is at a place of its skin.
#include <optional>

#include "mesh/rays.hpp"

namespace palinform {

/// Wall under a point: straight in from the surface, square to it, to the other side. Nothing where the ray meets none.
struct Wall {
  Vec3 from_mm, to_mm;
  double thickness_mm = 0;
};
std::optional<Wall> wall_at(const TriMesh& mesh, const RayScene& rays, const Vec3& near_mm);

/// Local section: diameter of the largest ball inside that touches the skin at the point, found by casting rays into
/// the half-space behind it; each hit q bounds the ball's radius by |q − p|² / (2·(p − q)·n). Deterministic.
std::optional<double> section_at_mm(const TriMesh& mesh, const RayScene& rays, const Vec3& near_mm, int ray_count = 96);

}  // namespace palinform
