#pragma once
/// A table of words and figures, for files that others read: CSV and a workbook.
#include <string>
#include <variant>
#include <vector>

#include "base/result.hpp"

namespace palinform {

using Cell = std::variant<std::string, double>;

struct Table {
  std::string title;  ///< of its sheet in a workbook: at most 31 letters
  std::vector<std::string> heads;
  std::vector<std::vector<Cell>> rows;
};

/// Quoted where needed, one header line, CRLF; figures with a full stop.
std::string table_csv(const Table& table);
/// A workbook (XLSX) with a sheet for each. Refused where it cannot be written; never half a file.
Status write_workbook(const std::vector<Table>& tables, const std::string& path);

}  // namespace palinform
