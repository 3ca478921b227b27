#include "original/size.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <utility>

#include "base/text.hpp"

namespace palinform {
std::string_view unit_of(SizeKind k) { return k == SizeKind::angle ? "°" : "mm"; }

ReadingMean mean_of_readings(const std::vector<double>& readings, double resolution, double instrument_u) {
  ReadingMean r;
  r.n = readings.size();
  if (r.n == 0) return r;
  for (const double v : readings) r.mean_mm += v / static_cast<double>(r.n);
  r.u_instrument_mm = std::hypot(resolution / std::sqrt(12.0), instrument_u);
  if (r.n > 1) {
    double sum = 0;
    for (const double v : readings) sum += (v - r.mean_mm) * (v - r.mean_mm);
    r.spread_mm = std::sqrt(sum / static_cast<double>(r.n - 1));
    r.type_a = true;
    r.u_spread_mm = r.spread_mm / std::sqrt(static_cast<double>(r.n));
  }
  r.u_mm = std::hypot(r.u_spread_mm, r.u_instrument_mm);
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
  }
  for (const auto& other : s.further_originals_mm) {
    if (other.empty())
      return bad("an original without a reading says nothing", "Type what it measures, or leave it out.");
    for (const double v : other)
      if (!std::isfinite(v) || v <= 0) return bad("a reading must be a number above zero", "Type it again.");
  }
  return {};
}

Vec3 scale_share_of(const MeasuredSize& s) {
  if (s.kind == SizeKind::angle) return {};
  if (length(s.scale_share) > 0) return s.scale_share;
  const Vec3 line = s.to_mm - s.from_mm;
  const double len = length(line);
  if (!(len > 1e-9)) return {1.0 / 3, 1.0 / 3, 1.0 / 3};
  const Vec3 d = line / len;
  return {d.x * d.x, d.y * d.y, d.z * d.z};
}

std::vector<ReadingDoubt> doubtful_readings(const MeasuredSize& s) {
  std::vector<ReadingDoubt> out;
  for (size_t i = 0; i < s.readings_mm.size(); ++i) {
    const double v = s.readings_mm[i];
    if (std::abs(v - s.nominal_mm) <= std::max(0.2 * s.nominal_mm, 1.0)) continue;
    ReadingDoubt d{i, v, std::nullopt, ""};
    const std::pair<double, const char*> slips[] = {{25.4, "inches"},
                                                    {1 / 25.4, "millimetres typed as inches"},
                                                    {10, s.kind == SizeKind::angle ? "" : "centimetres"},
                                                    {0.1, "a slipped decimal point"},
                                                    {100, "a slipped decimal point"},
                                                    {0.01, "a slipped decimal point"},
                                                    {0.001, "a slipped decimal point"}};
    for (const auto& [factor, words] : slips)
      if (!d.meant_mm && *words && std::abs(v * factor - s.nominal_mm) <= 0.05 * s.nominal_mm) {
        d.meant_mm = v * factor;
        d.guess = words;
      }
    out.push_back(std::move(d));
  }
  return out;
}

void guess_limits(MeasuredSize& s) {
  const double half = s.kind == SizeKind::angle ? 0.5 : std::round(std::max(0.1, 0.0025 * s.nominal_mm) * 100) / 100;
  s.lower_mm = s.nominal_mm - half;
  s.upper_mm = s.nominal_mm + half;
  s.limits_guessed = true;
}

std::string limits_text(const MeasuredSize& s) {
  const double up = s.upper_mm - s.nominal_mm, down = s.lower_mm - s.nominal_mm;
  const std::string n = (s.kind == SizeKind::bore     ? "Ø"
                         : s.kind == SizeKind::radius ? "R"
                                                      : "") +
                        shortest(s.nominal_mm);
  if (std::abs(up + down) < 5e-7) return n + " ±" + shortest(up);
  const auto part = [](double v) {
    return std::abs(v) < 5e-7 ? std::string("0") : (v > 0 ? "+" : "−") + shortest(std::abs(v));
  };
  return n + " " + part(up) + " " + part(down);
}

}  // namespace palinform
