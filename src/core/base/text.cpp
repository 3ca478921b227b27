#include "base/text.hpp"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <cstdio>

namespace palinform {

std::string fixed(double value, int digits) {
  char buffer[400];
  const auto end = std::to_chars(buffer, buffer + sizeof buffer, value, std::chars_format::fixed, digits);
  std::string s(buffer, end.ptr);
  if (s.starts_with('-') && s.find_first_not_of("-0.") == std::string::npos) s.erase(0, 1);
  return s;
}

std::string grouped(double value, int digits) {
  std::string s = fixed(value, digits);
  const size_t first = s.starts_with('-') ? 1 : 0;
  size_t at = s.find('.');
  if (at == std::string::npos) at = s.size();
  while (at > first + 3) s.insert(at -= 3, "\u00A0");
  return s;
}

std::string significant(double value, int figures) {
  if (value == 0 || !std::isfinite(value)) return fixed(value, 0);
  const int magnitude = static_cast<int>(std::floor(std::log10(std::abs(value))));
  return fixed(value, std::clamp(figures - 1 - magnitude, 0, 6));
}

std::string trim(std::string_view text) {
  const auto space = [](char c) { return c == ' ' || c == '\t' || c == '\r' || c == '\n'; };
  while (!text.empty() && space(text.front())) text.remove_prefix(1);
  while (!text.empty() && space(text.back())) text.remove_suffix(1);
  return std::string(text);
}

std::string shortest(double v, int digits) {
  std::string s = fixed(v, digits);
  if (s.find('.') != std::string::npos) {
    while (s.back() == '0') s.pop_back();
    if (s.back() == '.') s.pop_back();
  }
  return s;
}

std::optional<std::pair<double, double>> two_readings(std::string_view text) {
  const std::string s = trim(text);
  // Up to three digits, not a nought alone, then a comma and just three: a grouped thousand or three decimals.
  const size_t comma = s.find(',');
  if (comma == std::string::npos || s.find(',', comma + 1) != std::string::npos || s.find('.') != std::string::npos)
    return std::nullopt;
  const size_t first = s.starts_with('-') || s.starts_with('+') ? 1 : 0;
  const std::string before = s.substr(first, comma - first), after = s.substr(comma + 1);
  const auto digits = [](const std::string& d) { return d.find_first_not_of("0123456789") == std::string::npos; };
  if (before.empty() || before.size() > 3 || before[0] == '0' || after.size() != 3 || !digits(before) || !digits(after))
    return std::nullopt;
  const double sign = s[0] == '-' ? -1 : 1, whole = std::stod(before), part = std::stod(after);
  return std::pair{sign * (whole + part / 1000), sign * (whole * 1000 + part)};
}

std::optional<double> parse_number(std::string_view text) {
  std::string s = trim(text);
  if (s.starts_with('+')) s.erase(0, 1);
  if (two_readings(s)) return std::nullopt;
  // Spaces that group thousands: three digits after each.
  for (const std::string_view space : {"\u00A0", "\u2009", "\u202F", " "})
    for (size_t at = s.find(space); at != std::string::npos; at = s.find(space, at)) {
      const auto digit = [&](size_t i) { return i < s.size() && s[i] >= '0' && s[i] <= '9'; };
      const size_t next = at + space.size();
      if (at == 0 || !digit(at - 1) || !digit(next) || !digit(next + 1) || !digit(next + 2) || digit(next + 3))
        return std::nullopt;
      s.erase(at, space.size());
    }
  if (s.starts_with("\u2212")) s.replace(0, 3, "-");
  std::replace(s.begin(), s.end(), ',', '.');
  double v = 0;
  const auto end = std::from_chars(s.data(), s.data() + s.size(), v);
  if (s.empty() || end.ec != std::errc() || end.ptr != s.data() + s.size() || !std::isfinite(v)) return std::nullopt;
  return v;
}

std::optional<std::vector<double>> parse_numbers(std::string_view text) {
  std::vector<double> values;
  size_t at = 0;
  while (at < text.size()) {
    const size_t start = text.find_first_not_of(" \t\r\n;", at);
    if (start == std::string_view::npos) break;
    const size_t end = std::min(text.find_first_of(" \t\r\n;", start), text.size());
    const auto v = parse_number(text.substr(start, end - start));
    if (!v) return std::nullopt;
    values.push_back(*v);
    at = end;
  }
  return values;
}

std::string lower_ascii(std::string_view text) {
  std::string s(text);
  for (char& c : s)
    if (c >= 'A' && c <= 'Z') c = static_cast<char>(c - 'A' + 'a');
  return s;
}

std::string base_name(std::string_view path) {
  const size_t slash = path.find_last_of('/');
  return std::string(slash == std::string_view::npos ? path : path.substr(slash + 1));
}

std::string in_a_row(const std::vector<std::string>& words) {
  std::string out;
  for (size_t i = 0; i < words.size(); ++i) out += (i == 0 ? "" : i + 1 == words.size() ? " and " : ", ") + words[i];
  return out;
}

std::string counted(long long n, std::string_view one, std::string_view many) {
  return grouped(static_cast<double>(n)) + " " + std::string(n == 1 ? one : many);
}

}  // namespace palinform
