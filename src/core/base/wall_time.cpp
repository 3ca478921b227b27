#include "base/wall_time.hpp"

#include <chrono>

namespace palinform {
namespace {

std::chrono::sys_days day_of(WallMinute t) { return std::chrono::sys_days(std::chrono::days(day_number(t))); }

std::string two(int64_t v) { return (v < 10 ? "0" : "") + std::to_string(v); }

std::string clock_text(WallMinute t) {
  const int64_t m = t - day_number(t) * day_min;
  return two(m / 60) + ":" + two(m % 60);
}

}  // namespace

int64_t day_number(WallMinute t) { return t >= 0 ? t / day_min : -((-t + day_min - 1) / day_min); }

std::optional<WallMinute> parse_wall_time(std::string_view s) {
  const auto digits = [&](size_t at, size_t n) -> int {
    int v = 0;
    for (size_t i = at; i < at + n; ++i) {
      if (i >= s.size() || s[i] < '0' || s[i] > '9') return -1;
      v = v * 10 + (s[i] - '0');
    }
    return v;
  };
  if (s.size() < 16 || s[4] != '-' || s[7] != '-' || (s[10] != 'T' && s[10] != ' ') || s[13] != ':')
    return std::nullopt;
  const int y = digits(0, 4), mo = digits(5, 2), d = digits(8, 2), h = digits(11, 2), mi = digits(14, 2);
  if (y < 1900 || mo < 1 || mo > 12 || d < 1 || d > 31 || h < 0 || h > 23 || mi < 0 || mi > 59) return std::nullopt;
  const std::chrono::year_month_day date{std::chrono::year(y), std::chrono::month(static_cast<unsigned>(mo)),
                                         std::chrono::day(static_cast<unsigned>(d))};
  if (!date.ok()) return std::nullopt;  // 31 February
  return std::chrono::sys_days(date).time_since_epoch().count() * day_min + h * 60 + mi;
}

std::string wall_text(WallMinute t) {
  const std::chrono::year_month_day date(day_of(t));
  return std::to_string(static_cast<int>(date.year())) + "-" + two(static_cast<unsigned>(date.month())) + "-" +
         two(static_cast<unsigned>(date.day())) + "T" + clock_text(t);
}
int weekday_of(WallMinute t) { return static_cast<int>(std::chrono::weekday(day_of(t)).iso_encoding()) - 1; }
std::string short_text(WallMinute t) {
  std::string day(day_names[static_cast<size_t>(weekday_of(t))]);
  day[0] = static_cast<char>(day[0] - 'a' + 'A');
  return day + " " + clock_text(t);
}

}  // namespace palinform
