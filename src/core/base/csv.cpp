#include "base/csv.hpp"

#include <algorithm>

#include "base/text.hpp"

namespace palinform {
namespace {

std::string quoted(const std::string& cell) {
  if (cell.find_first_of(",;\t\"\r\n") == std::string::npos) return cell;
  std::string out = "\"";
  for (const char c : cell) out += c == '"' ? std::string("\"\"") : std::string(1, c);
  return out + "\"";
}

}  // namespace

char csv_separator(std::string_view first_line) {
  const auto count = [&](char c) { return std::count(first_line.begin(), first_line.end(), c); };
  const auto commas = count(','), semicolons = count(';'), tabs = count('\t');
  return semicolons > commas && semicolons >= tabs ? ';' : tabs > commas ? '\t' : ',';
}

std::vector<CsvRow> split_csv(std::string_view text, char separator) {
  std::vector<CsvRow> rows;
  size_t line = 1;
  CsvRow row{line, {}};
  std::string cell;
  bool quoted_cell = false, any = false;
  const auto end_cell = [&] { row.cells.push_back(std::move(cell)), cell.clear(); };
  const auto end_row = [&] {
    end_cell();
    if (any) rows.push_back(std::move(row));
    row = {line, {}};
    any = false;
  };
  for (size_t i = 0; i < text.size(); ++i) {
    const char c = text[i];
    if (quoted_cell) {
      if (c == '"' && i + 1 < text.size() && text[i + 1] == '"') {
        cell += '"', ++i;
      } else if (c == '"') {
        quoted_cell = false;
      } else {
        line += c == '\n';
        cell += c;
      }
    } else if (c == '"' && trim(cell).empty()) {
      cell.clear();
      quoted_cell = any = true;
    } else if (c == separator) {
      end_cell();
      any = true;
    } else if (c == '\n') {
      ++line;
      end_row();
    } else if (c != '\r') {
      cell += c;
      any = any || c != ' ';
    }
  }
  end_row();
  return rows;
}

std::string csv_text(const std::vector<std::vector<std::string>>& rows, std::string_view line_end) {
  std::string out;
  for (const auto& row : rows) {
    for (size_t i = 0; i < row.size(); ++i) out += (i ? "," : "") + quoted(row[i]);
    out += line_end;
  }
  return out;
}

}  // namespace palinform
