#include "shell/units.hpp"

#include "base/text.hpp"

namespace palinform::app {

QString qs(const std::string& s) { return QString::fromStdString(s); }

QString Units::length_text(double mm, int digits) const { return qs(grouped(length(mm), inch ? digits + 1 : digits)); }
QString Units::length_unit_text(double mm, int digits) const {
  return length_text(mm, digits) + QLatin1Char(' ') + length_name();
}
QString Units::money_text(double amount, int digits) const {
  const QString figure = qs(grouped(amount, digits));
  return money.isEmpty() ? figure + QStringLiteral(" money") : money + QLatin1Char(' ') + figure;
}
QString Units::mass_text(double g, int digits) const {
  return qs(grouped(mass(g), ounce ? digits + 2 : digits)) + QLatin1Char(' ') + mass_name();
}

}  // namespace palinform::app
