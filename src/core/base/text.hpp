#pragma once
/// Numbers and names as people read them. Always a full stop as decimal mark, whatever the locale.
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace palinform {

/// `digits` decimals, with a real minus sign off: plain ASCII, as in files. "-0.00" becomes "0.00".
std::string fixed(double value, int digits);
/// As `fixed`, thousands apart by a no-break space: 12 400. Never by a comma, which elsewhere marks decimals.
std::string grouped(double value, int digits = 0);
/// Enough decimals for `significant` figures, at most 6 decimals, no exponent: 84, 1.94, 0.0058.
std::string significant(double value, int significant_figures);
/// Up to `digits` decimals, no trailing noughts: 0.25, 12, -3.5.
std::string shortest(double value, int digits = 3);
/// Full number text or nothing: no trailing rubbish, no NaN or infinity. Accepts a comma as decimal mark, spaces around
/// and spaces that group thousands. What can be read two ways is none: see two_readings().
std::optional<double> parse_number(std::string_view text);
/// "1,200" may be 1.2 or 1200: both, in digits, where a text can be read so.
std::optional<std::pair<double, double>> two_readings(std::string_view text);
/// Numbers separated by spaces or semicolons; nothing if any piece is no number.
std::optional<std::vector<double>> parse_numbers(std::string_view text);
std::string trim(std::string_view text);
std::string lower_ascii(std::string_view text);
/// The file's name without its folders.
std::string base_name(std::string_view path);
/// "1 copy", "3 copies": count with its noun.
/// "one", "one and two", "one, two and three".
std::string in_a_row(const std::vector<std::string>& words);
std::string counted(long long n, std::string_view one, std::string_view many);

}  // namespace palinform
