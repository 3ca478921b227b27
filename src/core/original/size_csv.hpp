#pragma once
/// Sizes as a table: comma-separated text in and out, for spreadsheets and for people who measured on paper.
#include <string>
#include <string_view>
#include <vector>

#include "original/size.hpp"

namespace palinform {

/// One line of heads, one line a size. Columns: name, kind, formed_by, nominal_mm, lower_mm, upper_mm, readings_mm
/// (separated by spaces), resolution_mm, instrument_u_mm, pin_mm, stock_mm, section_mm, limits_from, finish.
std::string sizes_to_csv(const std::vector<MeasuredSize>& sizes);

/// Reads what `sizes_to_csv` writes and what spreadsheets make of it: comma, semicolon or tab between columns, quotes,
/// a decimal comma where the columns are not separated by commas, a byte-order mark, heads in any order and case.
/// `name` and `nominal_mm` are needed; a column `limits` may stand for lower_mm and upper_mm ("±0.1", "H7"). Sizes
/// without limits get guessed ones. Refused with the line's number: an unknown head, a line with more cells than
/// heads, a cell that is no number, a size that fails check_size. `file` stands in messages.
Result<std::vector<MeasuredSize>> sizes_from_csv(std::string_view text, const std::string& file);

}  // namespace palinform
