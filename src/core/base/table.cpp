#include "base/table.hpp"

#include <xlsxwriter.h>

#include <filesystem>

#include "base/csv.hpp"
#include "base/text.hpp"

namespace palinform {

std::string table_csv(const Table& table) {
  std::vector<std::vector<std::string>> rows{table.heads};
  for (const auto& row : table.rows) {
    rows.emplace_back();
    for (const Cell& c : row)
      rows.back().push_back(std::holds_alternative<double>(c) ? shortest(std::get<double>(c), 6)
                                                              : std::get<std::string>(c));
  }
  return csv_text(rows, "\r\n");
}

Status write_workbook(const std::vector<Table>& tables, const std::string& path) {
  // Through a neighbour file: a full disk leaves no half one.
  const std::string part = path + ".part";
  const Error refused{"the workbook cannot be written", base_name(path), "Check the folder and its room."};
  lxw_workbook* book = workbook_new(part.c_str());
  if (!book) return refused;
  lxw_format* head = workbook_add_format(book);
  format_set_bold(head);
  for (const Table& t : tables) {
    lxw_worksheet* sheet = workbook_add_worksheet(book, t.title.substr(0, 31).c_str());
    if (!sheet) continue;
    for (size_t k = 0; k < t.heads.size(); ++k) {
      const auto col = static_cast<lxw_col_t>(k);
      worksheet_set_column(sheet, col, col, k == 0 ? 28 : 16, nullptr);
      worksheet_write_string(sheet, 0, col, t.heads[k].c_str(), head);
    }
    lxw_row_t row = 1;
    for (const auto& cells : t.rows) {
      lxw_col_t col = 0;
      for (const Cell& c : cells) {
        if (const double* v = std::get_if<double>(&c))
          worksheet_write_number(sheet, row, col++, *v, nullptr);
        else
          worksheet_write_string(sheet, row, col++, std::get<std::string>(c).c_str(), nullptr);
      }
      ++row;
    }
    worksheet_freeze_panes(sheet, 1, 0);
  }
  std::error_code ec;
  if (workbook_close(book) != LXW_NO_ERROR) {
    std::filesystem::remove(part, ec);
    return refused;
  }
  std::filesystem::rename(part, path, ec);
  if (ec) return refused;
  return {};
}

}  // namespace palinform
