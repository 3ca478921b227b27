#pragma once
/// Faces that a file states exactly (STEP), beside the triangles that only approach them.
#include <string_view>

#include "base/hash.hpp"
#include "base/vec.hpp"

namespace palinform {

enum class FaceKind { plane, bore, boss, free };
std::string_view name_of(FaceKind k);  ///< "plane", "bore", "boss", "free"

struct ExactFace {
  FaceKind kind = FaceKind::plane;
  Vec3 point_mm;   ///< on the plane, or on the axis halfway along the face
  Vec3 direction;  ///< outward normal of the plane, or the axis
  double diameter_mm = 0;
  double depth_mm = 0;  ///< extent along the axis
  bool operator==(const ExactFace&) const = default;
  void hash_into(Hasher& h) const { h.add(kind).add(point_mm).add(direction).add(diameter_mm).add(depth_mm); }
};

}  // namespace palinform
