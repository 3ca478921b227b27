#include "overview/first_article.hpp"

#include <xlsxwriter.h>

#include <algorithm>
#include <cmath>
#include <filesystem>

#include "base/text.hpp"
#include "mesh/save.hpp"

namespace palinform {

FirstArticle first_article(const Job& job, size_t casting, const CheckResult* check, const WhysResult* whys,
                           const ScanResult* scan, const std::string& material) {
  FirstArticle a;
  a.job = job.name, a.client = job.client, a.material = material;
  if (casting >= job.check.castings.size()) return a;
  const Casting& c = job.check.castings[casting];
  a.casting = c.number, a.made_on = c.made_on, a.note = c.note;
  a.rule = job.check.rule == DecisionRule::guard ? "guard band of U inside the limits (ISO 14253-1)" : "plain limits";
  a.worth = words_of(c.worth);
  if (c.worth == Worth::repaired && c.repair_min > 0) a.worth += ", " + fixed(c.repair_min, 0) + " min";
  a.mate = c.mate == Mate::untried ? "not tried" : name_of(c.mate);
  const CheckedCasting* checked = check && casting < check->castings.size() ? &check->castings[casting] : nullptr;
  for (size_t i = 0; i < job.original.sizes.size(); ++i) {
    const MeasuredSize& s = job.original.sizes[i];
    FirstArticle::Row r;
    r.name = s.name, r.formed_by = name_of(s.formed);
    r.nominal_mm = s.nominal_mm, r.lower_mm = s.lower_mm, r.upper_mm = s.upper_mm;
    r.verdict = "not measured";
    if (checked && i < checked->sizes.size() && checked->sizes[i].judgement.reading.n > 0) {
      const Judgement& j = checked->sizes[i].judgement;
      r.mean_mm = j.reading.mean_mm, r.expanded_mm = j.expanded_mm;
      r.readings = static_cast<int>(j.reading.n);
      r.verdict = name_of(j.verdict);
    }
    a.rows.push_back(std::move(r));
  }
  a.overall = checked && checked->measured > 0 ? std::string(name_of(checked->overall)) : "not measured";
  for (size_t k = 0; k < c.faults.size(); ++k) {
    const FaultSeen& f = c.faults[k];
    std::string s(words_of(f.fault));
    if (f.size_mm > 0) s += ", " + significant(f.size_mm, 2) + " mm";
    if (f.confirmed) {
      if (const auto cause = named<Cause>(f.cause)) s += ": " + std::string(words_of(*cause));
    } else if (whys) {
      for (const auto& of : whys->castings)
        if (of.number == c.number && k < of.whys.size() && !of.whys[k].causes.empty())
          s += ": likely " + lower_ascii(std::string(words_of(of.whys[k].causes.front().cause))) + ", " +
               fixed(100 * of.whys[k].causes.front().p, 0) + " %";
    }
    a.faults.push_back(std::move(s));
  }
  const CastRecord& r = c.record;
  const auto say = [&](const std::optional<double>& v, const char* before, int digits, const char* unit) {
    if (v) a.how.push_back(before + fixed(*v, digits) + unit);
  };
  say(r.ratio_off_pct, "B off by ", 1, " %");
  say(r.room_c, "room ", 0, " °C");
  say(r.minutes_b_to_filled, "from B to filled ", 1, " min");
  say(r.pressure_kpa, "pot at ", 0, " kPa");
  say(r.demould_h, "out after ", 1, " h");
  if (r.degassed) a.how.push_back(*r.degassed ? "resin degassed" : "resin not degassed");
  if (scan && scan->number == c.number) {
    a.scan.push_back(fixed(100 * scan->within_share, 0) + " % of the skin within ±" + fixed(scan->limit_mm, 2) +
                     " mm; rms " + fixed(scan->deviation.rms_mm, 3) + " mm; " +
                     fixed(100 * scan->deviation.covered_share, 0) + " % of the part shown");
    for (const ScannedSize& s : scan->sizes)
      if (const MeasuredSize* size = job.original.size(s.size_id))
        a.scan.push_back(size->name + " " + fixed(s.mm, 3) + " ±" + fixed(2 * s.u_mm, 3) + " mm");
  }
  for (const Duty d : job.original.duties)
    a.cautions.push_back("The part " + std::string(words_of(d)) + ": safety depends on it.");
  return a;
}

std::vector<Drawing> first_article_pages(const FirstArticle& a, const Shown& shown) {
  constexpr size_t rows_a_page = 26;
  std::vector<Drawing> out;
  const size_t pages = std::max<size_t>(1, (a.rows.size() + rows_a_page - 1) / rows_a_page);
  for (size_t page = 0; page < pages; ++page) {
    Drawing d;
    d.title = "First article · " + a.job;
    d.width_mm = 210, d.height_mm = 297;
    const auto text = [&](double x, double y, const std::string& s, double size, int side = -1) {
      d.labels.push_back({{x, y}, s, size, side});
    };
    const auto rule = [&](double y) { d.strokes.push_back({Pen::measure, {{18, y}, {192, y}}, false}); };
    double y = 276;
    text(18, y, "First article", 7);
    text(192, y, "Casting " + std::to_string(a.casting) + (a.made_on.empty() ? "" : " of " + a.made_on), 3.6, 1);
    y -= 9;
    text(18, y,
         a.job + (a.client.empty() ? "" : ", for " + a.client) + (a.material.empty() ? "" : ", in " + a.material), 3.6);
    y -= 6;
    text(18, y, "Judged by " + a.rule + ". Overall: " + a.overall + ".", 3);
    y -= 8;
    const double column[] = {18, 78, 100, 134, 152, 170};
    const char* heads[] = {"Size", "Nominal", "Limits", "Reading", "± U", "Verdict"};
    for (int k = 0; k < 6; ++k) text(column[k], y, heads[k], 2.8);
    y -= 2;
    rule(y);
    y -= 5;
    for (size_t i = page * rows_a_page; i < std::min(a.rows.size(), (page + 1) * rows_a_page); ++i) {
      const FirstArticle::Row& r = a.rows[i];
      text(column[0], y, r.name, 3);
      text(column[1], y, shown.length_figure(r.nominal_mm, 3), 3);
      text(column[2], y, shown.length_figure(r.lower_mm, 3) + " – " + shown.length_figure(r.upper_mm, 3), 3);
      text(column[3], y, r.mean_mm ? shown.length_figure(*r.mean_mm, 3) : "–", 3);
      text(column[4], y, r.expanded_mm ? shown.length_figure(*r.expanded_mm, 3) : "–", 3);
      text(column[5], y, r.verdict, 3);
      y -= 5;
    }
    if (page + 1 == pages) {
      y -= 3;
      rule(y + 2);
      const auto list = [&](const char* head, const std::vector<std::string>& lines, const char* none) {
        y -= 4;
        text(18, y, head, 3.2);
        y -= 4.6;
        if (lines.empty()) text(22, y, none, 2.8), y -= 4.2;
        for (const std::string& s : lines) text(22, y, s, 2.8), y -= 4.2;
      };
      list("What is seen", a.faults, "nothing amiss");
      if (!a.scan.empty()) list("Scan", a.scan, "");
      if (!a.how.empty()) list("How it came about", a.how, "");
      if (!a.cautions.empty()) list("Safety", a.cautions, "");
      y -= 4;
      text(18, y, "Worth: " + a.worth + ".  On its mate: " + a.mate + (a.note.empty() ? "." : ".  " + a.note), 3);
      rule(30);
      for (const auto& [x, who] :
           {std::pair{18.0, "Measured by, day"}, {80.0, "Checked by, day"}, {142.0, "Released by, day"}})
        text(x, 25, who, 2.8);
    }
    text(192, 12, shown.inch ? "inch" : "mm", 2.6, 1);
    text(18, 12, "Page " + std::to_string(page + 1) + " of " + std::to_string(pages), 2.6);
    out.push_back(std::move(d));
  }
  return out;
}

Status write_first_article_xlsx(const FirstArticle& a, const std::string& path) {
  // Through a neighbour file: a full disk leaves no half one.
  const std::string part = path + ".part";
  lxw_workbook* book = workbook_new(part.c_str());
  const Error refused{"the workbook cannot be written", base_name(path), "Check the folder and its room."};
  if (!book) return refused;
  lxw_worksheet* sheet = workbook_add_worksheet(book, "First article");
  lxw_format* head = workbook_add_format(book);
  format_set_bold(head);
  lxw_format* mm = workbook_add_format(book);
  format_set_num_format(mm, "0.000");
  worksheet_set_column(sheet, 0, 0, 26, nullptr);
  worksheet_set_column(sheet, 1, 8, 13, nullptr);
  lxw_row_t row = 0;
  const auto pair = [&](const char* what, const std::string& value) {
    worksheet_write_string(sheet, row, 0, what, head);
    worksheet_write_string(sheet, row++, 1, value.c_str(), nullptr);
  };
  pair("Job", a.job);
  pair("Client", a.client);
  pair("Material", a.material);
  pair("Casting", std::to_string(a.casting));
  pair("Made on", a.made_on);
  pair("Judged by", a.rule);
  pair("Overall", a.overall);
  pair("Worth", a.worth);
  pair("On its mate", a.mate);
  ++row;
  const char* heads[] = {"Size",        "Formed by", "Nominal, mm", "Lower, mm", "Upper, mm",
                         "Reading, mm", "U, mm",     "Readings",    "Verdict"};
  for (lxw_col_t k = 0; k < 9; ++k) worksheet_write_string(sheet, row, k, heads[k], head);
  ++row;
  for (const FirstArticle::Row& r : a.rows) {
    worksheet_write_string(sheet, row, 0, r.name.c_str(), nullptr);
    worksheet_write_string(sheet, row, 1, r.formed_by.c_str(), nullptr);
    worksheet_write_number(sheet, row, 2, r.nominal_mm, mm);
    worksheet_write_number(sheet, row, 3, r.lower_mm, mm);
    worksheet_write_number(sheet, row, 4, r.upper_mm, mm);
    if (r.mean_mm) worksheet_write_number(sheet, row, 5, *r.mean_mm, mm);
    if (r.expanded_mm) worksheet_write_number(sheet, row, 6, *r.expanded_mm, mm);
    worksheet_write_number(sheet, row, 7, r.readings, nullptr);
    worksheet_write_string(sheet, row, 8, r.verdict.c_str(), nullptr);
    ++row;
  }
  for (const auto& [what, lines] :
       {std::pair{"Seen", &a.faults}, {"Scan", &a.scan}, {"How it came about", &a.how}, {"Safety", &a.cautions}}) {
    if (lines->empty()) continue;
    ++row;
    worksheet_write_string(sheet, row, 0, what, head);
    for (const std::string& s : *lines) worksheet_write_string(sheet, row++, 1, s.c_str(), nullptr);
  }
  if (workbook_close(book) != LXW_NO_ERROR) {
    std::error_code ec;
    std::filesystem::remove(part, ec);
    return refused;
  }
  std::error_code ec;
  std::filesystem::rename(part, path, ec);
  return ec ? Status(refused) : Status();
}

}  // namespace palinform
