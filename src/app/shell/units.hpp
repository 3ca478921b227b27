#pragma once
/// Figures as the person wants them: mm or in, g or oz, °C or °F. The core keeps mm, g, °C.
#include <optional>
#include <QString>

namespace palinform::app {

struct Units {
  bool inch = false, ounce = false, fahrenheit = false;
  QString money;  ///< the shop's own sign for money; empty: "money"
  bool operator==(const Units&) const = default;

  double length(double mm) const { return inch ? mm / 25.4 : mm; }
  double mm(double shown) const { return inch ? shown * 25.4 : shown; }
  /// `digits` decimals in mm; one more in inches.
  QString length_text(double mm, int digits) const;       ///< figure alone
  QString length_unit_text(double mm, int digits) const;  ///< with unit
  QString length_name() const { return inch ? QStringLiteral("in") : QStringLiteral("mm"); }
  double mass(double g) const { return ounce ? g / 28.349523125 : g; }
  double grams(double shown) const { return ounce ? shown * 28.349523125 : shown; }
  QString mass_text(double g, int digits) const;  ///< with unit
  QString mass_name() const { return ounce ? QStringLiteral("oz") : QStringLiteral("g"); }
  double temperature(double c) const { return fahrenheit ? c * 1.8 + 32 : c; }
  double celsius(double shown) const { return fahrenheit ? (shown - 32) / 1.8 : shown; }
  QString temperature_name() const { return fahrenheit ? QStringLiteral("°F") : QStringLiteral("°C"); }
  /// "61.20 money", or with the shop's sign: "€ 61.20".
  QString money_text(double amount, int digits) const;
  QString summary() const {
    return length_name() + QStringLiteral(" · ") + mass_name() + QStringLiteral(" · ") + temperature_name();
  }
};

QString qs(const std::string& s);

}  // namespace palinform::app
