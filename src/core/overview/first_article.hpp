#pragma once
/// The first-article sheet of a casting: every size with its reading, its uncertainty and verdict, what is seen, what
/// it is worth, and lines to sign (M12).
#include <string>
#include <vector>

#include "base/drawing.hpp"
#include "base/shown.hpp"
#include "stages/results.hpp"

namespace palinform {

struct FirstArticle {
  struct Row {
    std::string name, formed_by;
    double nominal_mm = 0, lower_mm = 0, upper_mm = 0;
    std::optional<double> mean_mm, expanded_mm;
    int readings = 0;
    std::string verdict;  ///< "conforms", "fails", "undecided", "not measured"
  };
  std::string job, client, material, made_on, note, rule, worth, mate;
  int casting = 1;
  std::vector<Row> rows;
  std::vector<std::string> faults;    ///< "Void, Ø2.5 mm: no way out for the air"
  std::vector<std::string> how;       ///< how it came about, in words
  std::vector<std::string> scan;      ///< what its scan says
  std::vector<std::string> cautions;  ///< duties of the part
  std::string overall;
};

/// `casting`: index among the job's. Null results: nothing is said of them.
FirstArticle first_article(const Job& job, size_t casting, const CheckResult* check, const WhysResult* whys,
                           const ScanResult* scan, const std::string& material);

/// A4 pages to print and sign.
std::vector<Drawing> first_article_pages(const FirstArticle& a, const Shown& shown);

/// The same as a workbook, lengths in mm. Refused where it cannot be written; never half a file.
Status write_first_article_xlsx(const FirstArticle& a, const std::string& path);

}  // namespace palinform
