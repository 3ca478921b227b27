#include "protocol.hpp"

#include "base/text.hpp"

namespace palinform {

std::optional<DeviceReading> parse_device_line(std::string_view raw) {
  const std::string line = trim(raw);
  if (line == "E") return DeviceReading{DeviceReading::Kind::over_range, 0, false};
  if (line.size() < 5 || line[1] != ' ') return std::nullopt;
  const size_t unit = line.find_last_of(' ');
  const auto value = parse_number(std::string_view(line).substr(2, unit - 2));
  const std::string_view name = std::string_view(line).substr(unit + 1);
  if (!value) return std::nullopt;
  if ((line[0] == 'S' || line[0] == 'U') && name == "g")
    return DeviceReading{DeviceReading::Kind::scale, *value, line[0] == 'S'};
  if (line[0] == 'C' && name == "mm") return DeviceReading{DeviceReading::Kind::calipers, *value, true};
  return std::nullopt;
}

std::string scale_line(double grams, bool stable, int decimals) {
  std::string figure = fixed(grams, decimals);
  if (figure.size() < 8) figure.insert(0, 8 - figure.size(), ' ');
  return std::string(stable ? "S " : "U ") + figure + " g\r\n";
}
std::string calipers_line(double mm) { return "C " + fixed(mm, 2) + " mm\r\n"; }

}  // namespace palinform
