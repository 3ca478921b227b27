#pragma once
/// Tables as text, in and out (RFC 4180 quoting).
#include <string>
#include <string_view>
#include <vector>

namespace palinform {

/// `line` of a row is where it begins, from 1.
struct CsvRow {
  size_t line = 1;
  std::vector<std::string> cells;
};
/// Splits one table into rows of cells; rows without any cell are left out.
std::vector<CsvRow> split_csv(std::string_view text, char separator);
/// Comma, semicolon or tab: whichever the first line has most of.
char csv_separator(std::string_view first_line);

/// One row a line, cells quoted where they must be.
std::string csv_text(const std::vector<std::vector<std::string>>& rows, std::string_view line_end = "\r\n");

}  // namespace palinform
