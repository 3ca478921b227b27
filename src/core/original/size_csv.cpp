#include "original/size_csv.hpp"

#include <algorithm>
#include <array>

#include "base/csv.hpp"
#include "base/text.hpp"
#include "original/fits.hpp"

namespace palinform {
namespace {

constexpr std::array<std::string_view, 15> heads{
    "name",     "kind",     "formed_by",   "nominal_mm",    "lower_mm",
    "upper_mm", "limits",   "readings_mm", "resolution_mm", "instrument_u_mm",
    "pin_mm",   "stock_mm", "section_mm",  "limits_from",   "finish"};

}  // namespace

std::string sizes_to_csv(const std::vector<MeasuredSize>& sizes) {
  std::vector<std::vector<std::string>> rows(1);
  for (const std::string_view h : heads)
    if (h != "limits") rows[0].emplace_back(h);
  const auto maybe = [](const std::optional<double>& v) { return v ? shortest(*v, 6) : std::string(); };
  for (const MeasuredSize& s : sizes) {
    std::string readings;
    for (const double r : s.readings_mm) readings += (readings.empty() ? "" : " ") + shortest(r, 6);
    rows.push_back({s.name, std::string(name_of(s.kind)), std::string(name_of(s.formed)), shortest(s.nominal_mm, 6),
                    shortest(s.lower_mm, 6), shortest(s.upper_mm, 6), readings, shortest(s.resolution_mm, 6),
                    shortest(s.instrument_u_mm, 6), maybe(s.pin_mm), maybe(s.stock_mm), maybe(s.section_mm),
                    s.limits_from, std::string(name_of(s.finish))});
  }
  return csv_text(rows, "\n");
}

Result<std::vector<MeasuredSize>> sizes_from_csv(std::string_view text, const std::string& file) {
  if (text.starts_with("\xEF\xBB\xBF")) text.remove_prefix(3);
  const char separator = csv_separator(text.substr(0, text.find('\n')));
  const auto rows = split_csv(text, separator);
  const auto bad = [&](size_t line, std::string what, std::string remedy) {
    return Error{"line " + std::to_string(line) + ": " + std::move(what), file, std::move(remedy)};
  };
  if (rows.empty()) return Error{"the table is empty", file, "Its first line names the columns: name, nominal_mm, …"};
  std::string known;
  for (const std::string_view h : heads) known += (known.empty() ? "" : ", ") + std::string(h);
  std::vector<std::string_view> column;
  for (const std::string& cell : rows[0].cells) {
    std::string h = lower_ascii(trim(cell));
    std::replace(h.begin(), h.end(), ' ', '_');
    const auto it = std::find(heads.begin(), heads.end(), h);
    if (it == heads.end())
      return bad(rows[0].line, "there is no column \"" + trim(cell) + "\"", "The columns are: " + known + ".");
    if (std::find(column.begin(), column.end(), *it) != column.end())
      return bad(rows[0].line, "the column \"" + h + "\" stands twice", "Keep one of them.");
    column.push_back(*it);
  }
  for (const std::string_view needed : {"name", "nominal_mm"})
    if (std::find(column.begin(), column.end(), needed) == column.end())
      return bad(rows[0].line, "the column \"" + std::string(needed) + "\" is missing",
                 "The columns are: " + known + ".");

  std::vector<MeasuredSize> out;
  for (size_t r = 1; r < rows.size(); ++r) {
    const CsvRow& row = rows[r];
    if (row.cells.size() > column.size())
      return bad(row.line,
                 counted(static_cast<long long>(row.cells.size()), "cell", "cells") + " under " +
                     counted(static_cast<long long>(column.size()), "head", "heads"),
                 separator == ',' ? "If the figures have decimal commas, separate the columns by semicolons." : "");
    const auto cell = [&](std::string_view name) -> std::string {
      for (size_t i = 0; i < column.size() && i < row.cells.size(); ++i)
        if (column[i] == name) return trim(row.cells[i]);
      return "";
    };
    Error fault;
    const auto number = [&](std::string_view name) -> std::optional<double> {
      const std::string c = cell(name);
      if (c.empty()) return std::nullopt;
      const auto v = parse_number(c);
      if (!v && fault.what.empty())
        fault =
            bad(row.line, "\"" + c + "\" under " + std::string(name) + " is no number", "Digits only, in millimetres.");
      return v;
    };
    MeasuredSize s;
    s.id = "s" + std::to_string(out.size() + 1);
    s.name = cell("name");
    if (s.name.empty()) return bad(row.line, "the size has no name", "Name it.");
    const std::string kind = lower_ascii(cell("kind")), formed = lower_ascii(cell("formed_by")),
                      finish = lower_ascii(cell("finish"));
    if (!kind.empty() && !named<SizeKind>(kind))
      return bad(row.line, "\"" + kind + "\" is no kind of size",
                 "Kinds are outer, bore, slot, centre, step, thickness, radius, angle.");
    if (!formed.empty() && !named<FormedBy>(formed))
      return bad(row.line, "\"" + formed + "\" forms no size", "Choose rubber, pin, across-line or open-face.");
    if (!finish.empty() && !named<Finishing>(finish))
      return bad(row.line, "\"" + finish + "\" is no finishing", "Choose none, ream, skim or shim.");
    s.kind = named<SizeKind>(kind).value_or(SizeKind::outer);
    s.formed = named<FormedBy>(formed).value_or(FormedBy::rubber);
    s.finish = named<Finishing>(finish).value_or(Finishing::none);
    const auto nominal = number("nominal_mm");
    if (!nominal && fault.what.empty()) return bad(row.line, "nominal_mm is empty", "Give the size in millimetres.");
    s.nominal_mm = nominal.value_or(0);
    const auto low = number("lower_mm"), high = number("upper_mm");
    s.resolution_mm = number("resolution_mm").value_or(0.01);
    s.instrument_u_mm = number("instrument_u_mm").value_or(0.01);
    s.pin_mm = number("pin_mm");
    s.stock_mm = number("stock_mm");
    s.section_mm = number("section_mm");
    s.limits_from = cell("limits_from");
    if (const std::string c = cell("readings_mm"); !c.empty()) {
      const auto list = parse_numbers(c);
      if (!list) return bad(row.line, "\"" + c + "\" under readings_mm are no numbers", "Separate them by spaces.");
      s.readings_mm = *list;
    }
    if (!fault.what.empty()) return fault;
    if (low || high) {
      if (!low || !high) return bad(row.line, "only one limit is given", "Give both, or none for a guess.");
      s.lower_mm = *low, s.upper_mm = *high;
    } else if (const std::string c = cell("limits"); !c.empty()) {
      const auto read = read_limits(c, s.nominal_mm,
                                    s.kind == SizeKind::radius  ? LimitsOf::radius
                                    : s.kind == SizeKind::angle ? LimitsOf::angle
                                                                : LimitsOf::length);
      if (!read) return bad(row.line, read.error().text(), "");
      s.lower_mm = read->limits.lower_mm, s.upper_mm = read->limits.upper_mm;
      s.limits_from = read->source;
    } else {
      guess_limits(s);
    }
    if (auto ok = check_size(s); !ok) return bad(row.line, ok.error().text(), "");
    out.push_back(std::move(s));
  }
  if (out.empty()) return Error{"there are heads but no sizes", file, "Add a line for each size."};
  return out;
}

}  // namespace palinform
