#include "base/check_fields.hpp"

#include <algorithm>

namespace palinform {

FieldWords field_words(std::string_view key) {
  // Longer endings first: "_g_cm3" before "_g".
  constexpr std::pair<std::string_view, std::string_view> units[] = {{"_kpa_abs", "kPa absolute"},
                                                                     {"_g_cm3", "g/cm³"},
                                                                     {"_mm3", "mm³"},
                                                                     {"_mm2", "mm²"},
                                                                     {"_kpa", "kPa"},
                                                                     {"_deg", "°"},
                                                                     {"_pct", "%"},
                                                                     {"_min", "min"},
                                                                     {"_mm", "mm"},
                                                                     {"_ml", "ml"},
                                                                     {"_g", "g"},
                                                                     {"_c", "°C"},
                                                                     {"_h", "h"},
                                                                     {"_m", "m"}};
  FieldWords w{std::string(key), ""};
  for (const auto& [ending, unit] : units)
    if (key.size() > ending.size() && key.ends_with(ending)) {
      w.name.resize(key.size() - ending.size());
      w.unit = unit;
      break;
    }
  std::replace(w.name.begin(), w.name.end(), '_', ' ');
  return w;
}

namespace fields_detail {

Status number(double v, const Within& rule, std::string_view key, const Path& path) {
  if (v >= rule.low && v <= rule.high) return {};
  const FieldWords w = field_words(key);
  const auto told = [](double x) {
    return std::abs(x) >= 1e7 ? fixed(x / 1e6, 0) + " million" : std::abs(x) >= 1000 ? grouped(x) : shortest(x, 6);
  };
  return refused(path, "the " + w.name + " must be from " + told(rule.low) + " to " + told(rule.high) +
                           (w.unit.empty() ? "" : " " + w.unit));
}

Status text(const std::string& v, size_t most, std::string_view key, const Path& path) {
  if (v.size() > most)
    return refused(path, "the " + field_words(key).name + " is longer than " + std::to_string(most) + " letters");
  // A line break may stand in a note; nothing else that cannot be seen.
  if (std::any_of(v.begin(), v.end(),
                  [](char c) { return (static_cast<unsigned char>(c) < 32 && c != '\n' && c != '\t') || c == 127; }))
    return refused(path, "the " + field_words(key).name + " holds control characters");
  return {};
}

Status place(const Vec3& v, std::string_view key, const Path& path) {
  constexpr double far = 1e9;  // mm: a scan may stand in site coordinates
  if (finite(v) && std::abs(v.x) <= far && std::abs(v.y) <= far && std::abs(v.z) <= far) return {};
  return refused(path, "the " + field_words(key).name + " is at no usable place");
}

Status count(size_t n, size_t most, std::string_view key, const Path& path) {
  if (n <= most) return {};
  return refused(path, grouped(static_cast<double>(n)) + " " + field_words(key).name +
                           " are too many: " + grouped(static_cast<double>(most)) + " are read at most");
}

}  // namespace fields_detail
}  // namespace palinform
