#pragma once
/// Wall time: what a workshop's clock shows. No zone, no summer time.
#include <array>
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>

namespace palinform {

/// Minutes since 1 January 1970.
using WallMinute = int64_t;
constexpr int64_t day_min = 24 * 60;
constexpr std::array<std::string_view, 7> day_names{"mon", "tue", "wed", "thu", "fri", "sat", "sun"};

std::optional<WallMinute> parse_wall_time(std::string_view text);  ///< "2026-11-30T08:00" or with seconds
std::string wall_text(WallMinute t);                               ///< "2026-11-30T08:00"
int weekday_of(WallMinute t);                                      ///< 0 Monday … 6 Sunday
std::string short_text(WallMinute t);                              ///< "Thu 16:20"
/// Day number since 1970, also before it.
int64_t day_number(WallMinute t);

}  // namespace palinform
