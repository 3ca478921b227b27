#pragma once
/// A plain value lists its fields once, and hash, JSON and check follow from that list:
///   struct Spot {
///     Vec3 point_mm;
///     double radius_mm = 2;
///     static void fields(auto& s, auto&& f) {
///       f("point_mm", s.point_mm);
///       f("radius_mm", s.radius_mm, Within{0, 1000});
///     }
///   };
/// The third argument is the field's rule; without one, numbers and places must be finite, texts within 200
/// letters and lists within 1000 entries.
#include <cstddef>
#include <string_view>

#include "base/result.hpp"

namespace palinform {

/// A number from `low` to `high`, both included.
struct Within {
  double low, high;
};
/// A list of so many entries at most, or a text of so many bytes.
struct AtMost {
  size_t count;
};
/// A text that names something, or an empty one.
struct Naming {
  bool (*known)(std::string_view);
  std::string_view what;  ///< "a form of mould"
};
/// Minutes since 1970 written as "2026-11-30T08:00".
struct AsWallTime {};

template <class T>
concept HasFields = requires(const T& t) {
  T::fields(t, [](auto&&...) {});
};

}  // namespace palinform
