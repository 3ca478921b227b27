#pragma once
/// Standard limits: ISO 286 classes for holes and shafts, ISO 2768-1 general tolerances (M10).
/// The figures are the standards' published ones, kept as tables, since their rounding does not follow from the
/// formulae.
#include <optional>
#include <string>
#include <string_view>

#include "base/result.hpp"

namespace palinform {

/// Deviations from the nominal size, mm.
struct Deviations {
  double lower_mm = 0, upper_mm = 0;
  bool operator==(const Deviations&) const = default;
};

/// A tolerance class such as "H7" (capital: a hole) or "g6" (small: a shaft).
struct ToleranceClass {
  std::string letters;  ///< fundamental deviation: "H", "js"
  int grade = 7;        ///< IT grade
  bool hole = true;
  bool operator==(const ToleranceClass&) const = default;
  std::string text() const { return letters + std::to_string(grade); }
};

/// Reads "H7", "js6". Refuses, naming what is offered: holes D E F G H JS, shafts d e f g h js k n p s, IT5 to IT13.
Result<ToleranceClass> tolerance_class(std::string_view text);

/// Width of an IT grade for a nominal size of up to 500 mm (ISO 286-1, table 1), mm.
Result<double> it_grade_mm(double nominal_mm, int grade);

/// Deviations of a class at a nominal size above 0 and up to 500 mm (ISO 286-1, tables 1 to 5).
Result<Deviations> iso286(double nominal_mm, const ToleranceClass& c);

/// ISO 2768-1, table 1, linear sizes from 0.5 to 4000 mm. `grade`: 'f', 'm', 'c' or 'v'.
Result<Deviations> iso2768(double nominal_mm, char grade);
/// ISO 2768-1, table 2: edge radii and chamfers, from 0.5 mm.
Result<Deviations> iso2768_radius(double nominal_mm, char grade);
/// ISO 2768-1, table 3: angles, by the length of the shorter leg; ± degrees.
Result<double> iso2768_angle_deg(double shorter_leg_mm, char grade);

}  // namespace palinform
