#pragma once
/// The dated copies beside a workshop: what each holds, one put back, and what can be saved of a damaged file.
#include <string>
#include <vector>

#include "base/result.hpp"

namespace palinform {

struct CopyOf {
  std::string day, path;  ///< "2026-11-26"
  int jobs = 0, castings = 0, pours = 0;
  std::string last_edit;  ///< when and what; empty: none
  std::string fault;      ///< why it cannot be used; empty: it reads back whole
};
/// Newest first.
std::vector<CopyOf> copies_of(const std::string& workshop);

/// Puts the copy of that day in the workshop's place. The file that was there is kept beside it; gives its path.
/// Refused: no such copy, one that does not read back, a workshop that a window has open.
Result<std::string> put_back(const std::string& workshop, const std::string& day, const std::string& now);

struct Salvaged {
  int jobs = 0, castings = 0, rows = 0;
  int lost = 0;                     ///< rows that were there by their number and could not be read, or were not as written
  std::vector<std::string> tables;  ///< that could not be read at all
};
/// Reads whatever rows of a damaged workshop can be read and are as they were written into a new one at `into`. The
/// damaged file is opened for reading only. Refused where there is a file at `into`, or nothing can be read.
Result<Salvaged> salvage(const std::string& damaged, const std::string& into);

}  // namespace palinform
