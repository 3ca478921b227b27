#pragma once
/// The units in which a shop reads its figures; inside everything is mm, g and °C.
#include <string>

#include "base/fields.hpp"
#include "base/text.hpp"

namespace palinform {

struct Shown {
  bool inch = false, ounce = false, fahrenheit = false;
  bool operator==(const Shown&) const = default;
  static void fields(auto& s, auto&& f) {
    f("inch", s.inch);
    f("ounce", s.ounce);
    f("fahrenheit", s.fahrenheit);
  }
  const char* length_name() const { return inch ? "in" : "mm"; }
  const char* mass_name() const { return ounce ? "oz" : "g"; }
  /// A length without its unit: `digits` decimals in mm, two more in inches, where a hundredth is a quarter of a mm.
  std::string length_figure(double mm, int digits = 0) const {
    return inch ? fixed(mm / 25.4, digits + 2) : fixed(mm, digits);
  }
  std::string length(double mm, int digits = 0) const { return length_figure(mm, digits) + " " + length_name(); }
  /// Mass without its unit: `digits` decimals in grams, two more in ounces.
  std::string mass_figure(double g, int digits = 1) const {
    return ounce ? fixed(g / 28.349523125, digits + 2) : fixed(g, digits);
  }
  std::string mass(double g, int digits = 1) const { return mass_figure(g, digits) + " " + mass_name(); }
  std::string temperature(double c) const { return fahrenheit ? fixed(c * 1.8 + 32, 0) + " °F" : fixed(c, 0) + " °C"; }
};

}  // namespace palinform
