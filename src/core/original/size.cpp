#include "original/size.hpp"

#include <array>
#include <cmath>
#include <utility>

#include "base/text.hpp"

namespace palinform {
namespace {

constexpr std::array<std::string_view, 6> kinds{"outer", "bore", "slot", "centre", "step", "thickness"};
constexpr std::array<std::string_view, 4> ways{"rubber", "pin", "across-line", "open-face"};

std::string shortest(double v) {  // up to three decimals, no trailing noughts
  std::string s = fixed(v, 3);
  while (s.ends_with('0')) s.pop_back();
  if (s.ends_with('.')) s.pop_back();
  return s;
}

}  // namespace

std::string_view name_of(SizeKind k) { return kinds[static_cast<size_t>(k)]; }
std::string_view name_of(FormedBy f) { return ways[static_cast<size_t>(f)]; }
std::optional<SizeKind> size_kind(std::string_view name) {
  for (size_t i = 0; i < kinds.size(); ++i)
    if (kinds[i] == name) return static_cast<SizeKind>(i);
  return std::nullopt;
}
std::optional<FormedBy> formed_by(std::string_view name) {
  for (size_t i = 0; i < ways.size(); ++i)
    if (ways[i] == name) return static_cast<FormedBy>(i);
  return std::nullopt;
}

void MeasuredSize::hash_into(Hasher& h) const {
  h.add(id)
      .add(name)
      .add(kind)
      .add(formed)
      .add(nominal_mm)
      .add(lower_mm)
      .add(upper_mm)
      .add(readings_mm)
      .add(resolution_mm);
  h.add(instrument_u_mm).add(pin_mm).add(stock_mm).add(section_mm).add(limits_guessed).add(from_mm).add(to_mm);
}

ReadingMean mean_of_readings(const std::vector<double>& readings, double resolution, double instrument_u) {
  ReadingMean r;
  r.n = readings.size();
  if (r.n == 0) return r;
  for (const double v : readings) r.mean_mm += v / static_cast<double>(r.n);
  double u2 = resolution * resolution / 12 + instrument_u * instrument_u;
  if (r.n > 1) {
    double sum = 0;
    for (const double v : readings) sum += (v - r.mean_mm) * (v - r.mean_mm);
    r.spread_mm = std::sqrt(sum / static_cast<double>(r.n - 1));
    r.type_a = true;
    u2 += r.spread_mm * r.spread_mm / static_cast<double>(r.n);
  }
  r.u_mm = std::sqrt(u2);
  return r;
}

double master_value_mm(const MeasuredSize& s) {
  return s.readings_mm.empty() ? s.nominal_mm
                               : mean_of_readings(s.readings_mm, s.resolution_mm, s.instrument_u_mm).mean_mm;
}
double master_u_mm(const MeasuredSize& s) {
  return mean_of_readings(s.readings_mm.empty() ? std::vector<double>{s.nominal_mm} : s.readings_mm, s.resolution_mm,
                          s.instrument_u_mm)
      .u_mm;
}

Status check_size(const MeasuredSize& s) {
  const auto bad = [&](std::string what, std::string remedy) {
    return Error{std::move(what), s.name.empty() ? "size" : s.name, std::move(remedy)};
  };
  for (const double v : {s.nominal_mm, s.lower_mm, s.upper_mm, s.resolution_mm, s.instrument_u_mm})
    if (!std::isfinite(v)) return bad("a figure is no number", "Type digits only.");
  if (!(s.nominal_mm > 0)) return bad("the nominal size must be above zero", "Type the size in millimetres.");
  if (s.lower_mm > s.upper_mm)
    return bad("the lower limit " + shortest(s.lower_mm) + " lies above the upper limit " + shortest(s.upper_mm),
               "Swap them.");
  if (s.resolution_mm < 0 || s.instrument_u_mm < 0)
    return bad("an instrument cannot have a negative uncertainty", "Type 0.01 for ordinary calipers.");
  for (const double v : s.readings_mm) {
    if (!std::isfinite(v) || v <= 0) return bad("a reading must be a number above zero", "Type it again.");
    if (v > 2 * s.nominal_mm || v < 0.5 * s.nominal_mm)
      return bad("the reading " + shortest(v) + " is far from the nominal " + shortest(s.nominal_mm),
                 "Is it in another unit, or of another size?");
  }
  return {};
}

void guess_limits(MeasuredSize& s) {
  const double half = std::round(std::max(0.1, 0.0025 * s.nominal_mm) * 100) / 100;
  s.lower_mm = s.nominal_mm - half;
  s.upper_mm = s.nominal_mm + half;
  s.limits_guessed = true;
}

std::string limits_text(const MeasuredSize& s) {
  const double up = s.upper_mm - s.nominal_mm, down = s.lower_mm - s.nominal_mm;
  const std::string n = (s.kind == SizeKind::bore ? "Ø" : "") + shortest(s.nominal_mm);
  if (std::abs(up + down) < 5e-7) return n + " ±" + shortest(up);
  const auto part = [](double v) {
    return std::abs(v) < 5e-7 ? std::string("0") : (v > 0 ? "+" : "−") + shortest(std::abs(v));
  };
  return n + " " + part(up) + " " + part(down);
}

}  // namespace palinform
