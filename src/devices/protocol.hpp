#pragma once
/// The plain serial protocol of the simulated devices and of the readers. Lines of ASCII ended by CR LF, 9600 baud,
/// 8N1.
///
/// Scale, several lines a second:   "S    684.2 g"  stable      "U    684.2 g"  still moving      "E"  over its range
///   commands to it:                "T" tare, "Z" zero
/// Calipers, one line a press:      "C 25.02 mm"
/// Gauge of a pressure pot:         "G 285.0 kPa"  over the air's       of a chamber: "V 4.0 kPa"  absolute
/// Thermometer, a few a minute:     "R 21.4 C"     of the room
/// Each may end with a checksum, " *5A": the exclusive or of all characters before the blank, as two hexadecimal
/// digits. A line whose checksum does not fit is no line; one without is read, and marked.
#include <optional>
#include <string>
#include <string_view>

namespace palinform {

struct DeviceReading {
  enum class Kind { scale, calipers, over_range, pot, vacuum, room } kind = Kind::scale;
  double value = 0;  ///< g, mm, kPa or °C
  bool stable = true;
  bool checked = false;  ///< its checksum was there and fits
};

/// No scale or calipers of a bench read more: what lies beyond is noise on the line.
constexpr double most_grams = 1e6, most_caliper_mm = 1e4, most_kpa = 5000;

/// One line without its end; nothing where it is none of the above.
std::optional<DeviceReading> parse_device_line(std::string_view line);
std::string scale_line(double grams, bool stable, int decimals = 1);
std::string calipers_line(double mm);
std::string gauge_line(double kpa, bool absolute);
std::string room_line(double celsius);

}  // namespace palinform
