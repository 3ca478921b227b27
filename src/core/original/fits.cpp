#include "original/fits.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"

namespace palinform {
namespace {

std::string without(std::string text, std::string_view piece) {
  for (size_t at; (at = text.find(piece)) != std::string::npos;) text.erase(at, piece.size());
  return text;
}
void replace_all(std::string& text, std::string_view from, std::string_view to) {
  for (size_t at = 0; (at = text.find(from, at)) != std::string::npos; at += to.size())
    text.replace(at, from.size(), to);
}

}  // namespace

Result<ClassedSize> classed_size(std::string_view text) {
  const std::string s = trim(without(std::string(text), "Ø"));
  size_t split = 0;
  while (split < s.size() && !std::isalpha(static_cast<unsigned char>(s[split]))) ++split;
  const auto nominal = parse_number(s.substr(0, split));
  if (!nominal || !(*nominal > 0))
    return Error{"there is no nominal size", s.empty() ? "fit" : s, "Write the size, then the class: 25H7."};
  const auto c = tolerance_class(s.substr(split));
  if (!c) return c.error();
  const auto d = iso286(*nominal, *c);
  if (!d) return d.error();
  return ClassedSize{*nominal, *c, {*nominal + d->lower_mm, *nominal + d->upper_mm}};
}

std::string_view Fit::nature() const {
  return clearance_min_mm >= 0 ? "always clears" : clearance_max_mm <= 0 ? "always grips" : "may clear or grip";
}

Result<Fit> read_fit(std::string_view text) {
  const size_t stroke = text.find('/');
  if (stroke == std::string_view::npos)
    return Error{"a fit needs a hole and a shaft", trim(text), "Write it with a stroke between: 25H7/g6."};
  const auto hole = classed_size(text.substr(0, stroke));
  if (!hole) return hole.error();
  std::string rest = trim(text.substr(stroke + 1));
  if (!rest.empty() && std::isalpha(static_cast<unsigned char>(rest.front()))) rest = fixed(hole->nominal_mm, 6) + rest;
  const auto shaft = classed_size(rest);
  if (!shaft) return shaft.error();
  if (!hole->tolerance.hole || shaft->tolerance.hole)
    return Error{"the hole's class is written in capitals and stands first, the shaft's in small letters after it",
                 trim(text), "For example 25H7/g6."};
  if (std::abs(hole->nominal_mm - shaft->nominal_mm) > 1e-9)
    return Error{"hole and shaft have different nominal sizes", trim(text), "A fit has one nominal size."};
  Fit f{hole->nominal_mm, hole->tolerance, shaft->tolerance, hole->limits, shaft->limits, 0, 0};
  f.clearance_min_mm = f.hole.lower_mm - f.shaft.upper_mm;
  f.clearance_max_mm = f.hole.upper_mm - f.shaft.lower_mm;
  return f;
}

Result<LimitsForMate> limits_for_mate(const Limits& mate, bool hole, FitWish wish, const FitRules& rules) {
  if (!std::isfinite(mate.lower_mm) || !std::isfinite(mate.upper_mm) || !(mate.lower_mm > 0))
    return Error{"the mate's size must be above zero", "mate", "Type what it measures, in millimetres."};
  if (mate.lower_mm > mate.upper_mm)
    return Error{"the mate's lower limit lies above its upper limit", "mate", "Swap them."};
  const double size = 0.5 * (mate.lower_mm + mate.upper_mm);
  LimitsForMate out;
  if (wish == FitWish::snaps) {
    out.clearance_min_mm = -rules.snap_grip_max_pct / 100 * size;
    out.clearance_max_mm = -rules.snap_grip_min_pct / 100 * size;
  } else {
    const std::string& wanted = wish == FitWish::slides  ? rules.slides
                                : wish == FitWish::turns ? rules.turns
                                                         : rules.presses;
    const auto fit = read_fit(fixed(size, 6) + wanted);
    if (!fit) return fit.error();
    out.clearance_min_mm = fit->clearance_min_mm;
    out.clearance_max_mm = fit->clearance_max_mm;
  }
  out.limits = hole ? Limits{mate.upper_mm + out.clearance_min_mm, mate.lower_mm + out.clearance_max_mm}
                    : Limits{mate.upper_mm - out.clearance_max_mm, mate.lower_mm - out.clearance_min_mm};
  const double left = out.limits.upper_mm - out.limits.lower_mm;
  if (left <= 0)
    return Error{"the mate alone varies by " + fixed(mate.upper_mm - mate.lower_mm, 3) +
                     " mm, more than the whole range a part that " + std::string(name_of(wish)) + " may have (" +
                     fixed(out.clearance_max_mm - out.clearance_min_mm, 3) + " mm)",
                 "mate", "Measure the one mate it must fit, or choose a looser fit."};
  if (!(out.limits.lower_mm > 0)) return Error{"no size is left for the part", "mate", "Check the mate's size."};
  out.how = std::string(name_of(wish)) + (hole ? " on" : " in") + " a mate of " + fixed(mate.lower_mm, 3) +
            (mate.upper_mm > mate.lower_mm ? " to " + fixed(mate.upper_mm, 3) : "") + " mm";
  return out;
}

Result<LimitsRead> read_limits(std::string_view text, double nominal, LimitsOf of, double leg) {
  std::string s = trim(text);
  replace_all(s, "−", "-");  // the real minus sign
  replace_all(s, "–", "..");
  const Error unread{"these do not read as limits", s,
                     "Write ±0.1, or +0.1 0, or 7.9..8.1, or a class: H7, g6, or m for ISO 2768 medium."};
  const auto general = [&](char grade) -> Result<LimitsRead> {
    if (of == LimitsOf::angle) {
      const auto half = iso2768_angle_deg(leg, grade);
      if (!half) return half.error();
      return LimitsRead{{nominal - *half, nominal + *half}, std::string("ISO 2768-") + grade};
    }
    const auto d = of == LimitsOf::radius ? iso2768_radius(nominal, grade) : iso2768(nominal, grade);
    if (!d) return d.error();
    return LimitsRead{{nominal + d->lower_mm, nominal + d->upper_mm}, std::string("ISO 2768-") + grade};
  };
  if (s.empty()) return unread;
  if (!(nominal > 0)) return Error{"the nominal size must be above zero", "limits", "Type the nominal size first."};
  const std::string low = lower_ascii(s);
  if (low.starts_with("iso 2768") || low.starts_with("iso2768") || low.starts_with("2768")) return general(low.back());
  if (s.size() == 1 && std::string_view("fmcv").find(s[0]) != std::string_view::npos) return general(s[0]);
  if (std::isalpha(static_cast<unsigned char>(s[0]))) {
    if (of == LimitsOf::angle) return unread;
    const auto c = tolerance_class(s);
    if (!c) return c.error();
    const auto d = iso286(nominal, *c);
    if (!d) return d.error();
    return LimitsRead{{nominal + d->lower_mm, nominal + d->upper_mm}, c->text()};
  }
  const bool both = s.starts_with("±") || s.starts_with("+-") || s.starts_with("+/-");
  if (both) {
    const auto half = parse_number(s.substr(s.starts_with("+/-") ? 3 : 2));
    if (!half || *half < 0) return unread;
    return LimitsRead{{nominal - *half, nominal + *half}, ""};
  }
  if (const size_t dots = s.find(".."); dots != std::string::npos) {
    const auto a = parse_number(s.substr(0, dots)), b = parse_number(s.substr(dots + 2));
    if (!a || !b) return unread;
    if (*a > *b) return Error{"the lower limit " + s.substr(0, dots) + " lies above the upper limit", s, "Swap them."};
    return LimitsRead{{*a, *b}, ""};
  }
  replace_all(s, "/", " ");
  const auto values = parse_numbers(s);
  if (!values || values->size() != 2) return unread;
  double a = (*values)[0], b = (*values)[1];
  // Two deviations, or the limits themselves: told apart by whether they lie nearer to nought or to the nominal.
  const bool deviations = std::abs(a) < 0.5 * nominal && std::abs(b) < 0.5 * nominal;
  if (deviations) {
    if (a < b) std::swap(a, b);  // written upper first, either way is meant the same
    return LimitsRead{{nominal + b, nominal + a}, ""};
  }
  if (a > b)
    return Error{"the lower limit " + fixed(a, 3) + " lies above the upper limit " + fixed(b, 3), "limits",
                 "Swap them."};
  return LimitsRead{{a, b}, ""};
}

}  // namespace palinform
