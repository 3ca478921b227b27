#pragma once
/// Faces that a file states exactly (STEP), beside the triangles that only approach them.
#include <string_view>

#include "base/hash.hpp"
#include "base/names.hpp"
#include "base/vec.hpp"

namespace palinform {

enum class FaceKind { plane, bore, boss, free };
template <>
inline constexpr std::array names<FaceKind>{"plane"sv, "bore"sv, "boss"sv, "free"sv};

struct ExactFace {
  FaceKind kind = FaceKind::plane;
  Vec3 point_mm;   ///< on the plane, or on the axis halfway along the face
  Vec3 direction;  ///< outward normal of the plane, or the axis
  double diameter_mm = 0;
  double depth_mm = 0;  ///< extent along the axis
  bool operator==(const ExactFace&) const = default;
  static void fields(auto& s, auto&& f) {
    f("kind", s.kind);
    f("point_mm", s.point_mm);
    f("direction", s.direction);
    f("diameter_mm", s.diameter_mm, Within{0, 1e5});
    f("depth_mm", s.depth_mm, Within{0, 1e5});
  }
};

}  // namespace palinform
