#pragma once
/// Which sizes speak of a bore.
#include <cmath>

#include "original/size.hpp"

namespace palinform {

/// A bore's diameter, near enough that of a bore found at `at_mm`, measured within reach of it.
inline bool speaks_of_bore(const MeasuredSize& s, double diameter_mm, const Vec3& at_mm) {
  return s.kind == SizeKind::bore && std::abs(s.nominal_mm - diameter_mm) < 0.05 * s.nominal_mm &&
         length((s.from_mm + s.to_mm) * 0.5 - at_mm) < 6 * s.nominal_mm;
}

}  // namespace palinform
