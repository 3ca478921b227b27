#include "protocol.hpp"

#include <charconv>
#include <cmath>

#include "base/text.hpp"

namespace palinform {
namespace {

unsigned checksum(std::string_view text) {
  unsigned x = 0;
  for (const char c : text) x ^= static_cast<unsigned char>(c);
  return x;
}
std::string with_checksum(const std::string& text) {
  constexpr const char* digits = "0123456789ABCDEF";
  const unsigned x = checksum(text);
  return text + " *" + digits[x >> 4] + digits[x & 15] + "\r\n";
}

}  // namespace

std::optional<DeviceReading> parse_device_line(std::string_view raw) {
  while (!raw.empty() && (raw.back() == '\r' || raw.back() == '\n' || raw.back() == ' ')) raw.remove_suffix(1);
  bool checked = false;
  if (const size_t star = raw.rfind(" *"); star != std::string_view::npos) {
    const std::string_view digits = raw.substr(star + 2);
    unsigned told = 0;
    const auto end = std::from_chars(digits.data(), digits.data() + digits.size(), told, 16);
    if (digits.size() != 2 || end.ptr != digits.data() + 2 || told != checksum(raw.substr(0, star)))
      return std::nullopt;
    raw = raw.substr(0, star);
    checked = true;
  }
  const std::string line = trim(raw);
  if (line == "E") return DeviceReading{DeviceReading::Kind::over_range, 0, false, checked};
  if (line.size() < 5 || line[1] != ' ') return std::nullopt;
  const size_t unit = line.find_last_of(' ');
  if (unit < 2) return std::nullopt;
  const auto value = parse_number(std::string_view(line).substr(2, unit - 2));
  const std::string_view name = std::string_view(line).substr(unit + 1);
  if (!value) return std::nullopt;
  if ((line[0] == 'S' || line[0] == 'U') && name == "g" && std::abs(*value) <= most_grams)
    return DeviceReading{DeviceReading::Kind::scale, *value, line[0] == 'S', checked};
  if (line[0] == 'C' && name == "mm" && *value >= 0 && *value <= most_caliper_mm)
    return DeviceReading{DeviceReading::Kind::calipers, *value, true, checked};
  if (line[0] == 'G' && name == "kPa" && *value >= -102 && *value <= most_kpa)
    return DeviceReading{DeviceReading::Kind::pot, *value, true, checked};
  if (line[0] == 'V' && name == "kPa" && *value >= 0 && *value <= 110)
    return DeviceReading{DeviceReading::Kind::vacuum, *value, true, checked};
  if (line[0] == 'R' && name == "C" && *value >= -40 && *value <= 80)
    return DeviceReading{DeviceReading::Kind::room, *value, true, checked};
  return std::nullopt;
}

std::string scale_line(double grams, bool stable, int decimals) {
  std::string figure = fixed(grams, decimals);
  if (figure.size() < 8) figure.insert(0, 8 - figure.size(), ' ');
  return with_checksum(std::string(stable ? "S " : "U ") + figure + " g");
}
std::string gauge_line(double kpa, bool absolute) {
  return with_checksum(std::string(absolute ? "V " : "G ") + fixed(kpa, 1) + " kPa");
}
std::string room_line(double celsius) { return with_checksum("R " + fixed(celsius, 1) + " C"); }
std::string calipers_line(double mm) { return with_checksum("C " + fixed(mm, 2) + " mm"); }

}  // namespace palinform
