#include "shelf/shelf_file.hpp"

#include <algorithm>
#include <set>

#include "base/csv.hpp"
#include "base/json_fields.hpp"
#include "base/text.hpp"
#include "shelf/family.hpp"

namespace palinform {
namespace {

constexpr int shelf_schema = 1;
constexpr size_t most_materials = 5000;

/// Filled from the family, checked, each id once.
Result<std::vector<Material>> taken(std::vector<Material> given, const std::string& file) {
  std::set<std::string> ids;
  for (Material& m : given) {
    m = with_guesses(std::move(m));
    if (auto ok = check_material(m); !ok) return ok.error();
    if (!ids.insert(m.id).second) return Error{"the id \"" + m.id + "\" stands twice", file, "Give each its own."};
  }
  return given;
}

constexpr std::array heads{"id",      "kind",          "family", "name",         "mix_by",    "ratio_a", "ratio_b",
                           "percent", "tolerance_pct", "at_c",   "pot_life_min", "demould_h", "hazards", "guesses"};

std::string joined(const std::vector<std::string>& words) {
  std::string out;
  for (const std::string& w : words) out += (out.empty() ? "" : " ") + w;
  return out;
}
std::vector<std::string> words_in(const std::string& cell) {
  std::vector<std::string> out(1);
  for (const char c : cell)
    if (c == ' ') {
      if (!out.back().empty()) out.emplace_back();
    } else {
      out.back() += c;
    }
  if (out.back().empty()) out.pop_back();
  return out;
}

}  // namespace

std::string shelf_to_json(const std::vector<Material>& materials) {
  json::Json j{{"schema", shelf_schema}, {"materials", json::Json::array()}};
  for (const Material& m : materials) j["materials"].push_back(json::write(m));
  return j.dump(1) + "\n";
}

Result<std::vector<Material>> shelf_from_json(std::string_view text, const std::string& file) {
  const auto bad = [&](std::string what, std::string remedy) {
    return Error{std::move(what), file, std::move(remedy)};
  };
  json::Given j = json::Given::parse(text, nullptr, false);
  if (j.is_discarded()) return bad("it does not read as JSON", "Write materials as docs/shelf.md says.");
  if (j.is_object() && j.contains("materials")) {
    const auto schema = j.find("schema");
    if (schema != j.end() && (!schema->is_number_integer() || *schema < 1 || *schema > shelf_schema))
      return bad("these materials are of another version of the program",
                 "Export them again from a version that reads them.");
    json::Given list = j["materials"];
    j = std::move(list);
  }
  if (j.is_object()) j = json::Given::array({j});
  if (!j.is_array()) return bad("there is no list of materials in it", "Write materials as docs/shelf.md says.");
  if (j.size() > most_materials) return bad("there are more than " + grouped(most_materials) + " materials", "");
  std::vector<Material> given;
  for (size_t i = 0; i < j.size(); ++i) {
    Material m;
    try {
      json::read(j[i], m, "");
    } catch (const json::Bad& b) {
      return bad("material " + std::to_string(i + 1) + (b.path.empty() ? "" : ", " + b.path) + ": " + b.what,
                 "docs/shelf.md lists the fields.");
    }
    given.push_back(std::move(m));
  }
  return taken(std::move(given), file);
}

std::string shelf_to_csv(const std::vector<Material>& materials) {
  std::vector<std::vector<std::string>> rows(1);
  for (const char* h : heads) rows[0].emplace_back(h);
  for (const FigureRule& r : figure_rules()) rows[0].emplace_back(r.key);
  for (const Material& m : materials) {
    const bool times = !m.times.empty();
    std::vector<std::string> row{m.id,
                                 std::string(name_of(m.kind)),
                                 m.family,
                                 m.name,
                                 std::string(name_of(m.mixing.by)),
                                 shortest(m.mixing.a, 6),
                                 shortest(m.mixing.b, 6),
                                 shortest(m.mixing.percent, 6),
                                 shortest(m.mixing.tolerance_pct, 6),
                                 times ? shortest(m.times[0].at_c, 6) : "",
                                 times ? shortest(m.times[0].pot_life_min, 6) : "",
                                 times && m.times[0].demould_h ? shortest(*m.times[0].demould_h, 6) : "",
                                 joined(m.hazards),
                                 joined(guesses(m))};
    for (const FigureRule& r : figure_rules()) {
      const auto v = m.figure(r.key);
      row.push_back(v ? shortest(*v, 9) : "");
    }
    rows.push_back(std::move(row));
  }
  return csv_text(rows);
}

Result<std::vector<Material>> shelf_from_csv(std::string_view text, const std::string& file) {
  if (text.starts_with("\xEF\xBB\xBF")) text.remove_prefix(3);
  const auto rows = split_csv(text, csv_separator(text.substr(0, text.find('\n'))));
  const auto bad = [&](size_t line, std::string what) {
    return Error{"line " + std::to_string(line) + ": " + std::move(what), file, "docs/shelf.md lists the columns."};
  };
  if (rows.empty()) return Error{"the table is empty", file, "Its first line names the columns: id, kind, name, …"};
  if (rows.size() > most_materials) return Error{"there are more than " + grouped(most_materials) + " rows", file, ""};
  std::vector<std::string> columns;
  for (const std::string& cell : rows[0].cells) {
    const std::string h = lower_ascii(trim(cell));
    if (std::find(heads.begin(), heads.end(), h) == heads.end() && !figure_rule(h))
      return bad(rows[0].line, "there is no column \"" + trim(cell) + "\"");
    if (std::find(columns.begin(), columns.end(), h) != columns.end())
      return bad(rows[0].line, "the column \"" + h + "\" stands twice");
    columns.push_back(h);
  }
  for (const char* needed : {"id", "kind", "name"})
    if (std::find(columns.begin(), columns.end(), needed) == columns.end())
      return bad(rows[0].line, std::string("the column \"") + needed + "\" is missing");
  std::vector<Material> given;
  for (size_t r = 1; r < rows.size(); ++r) {
    const CsvRow& row = rows[r];
    if (row.cells.size() > columns.size()) return bad(row.line, "there are more cells than heads");
    std::map<std::string, std::string> cell;
    for (size_t i = 0; i < row.cells.size(); ++i)
      if (const std::string value = trim(row.cells[i]); !value.empty()) cell[columns[i]] = value;
    std::optional<Error> fault;
    const auto number = [&](const std::string& key) -> std::optional<double> {
      const auto at = cell.find(key);
      if (at == cell.end()) return std::nullopt;
      const auto v = parse_number(at->second);
      if (!v && !fault) fault = bad(row.line, "\"" + at->second + "\" under " + key + " is no number");
      return v;
    };
    Material m;
    m.id = cell["id"], m.family = cell["family"], m.name = cell["name"];
    const auto kind = named<MaterialKind>(lower_ascii(cell["kind"]));
    if (!kind) return bad(row.line, "\"" + cell["kind"] + "\" is no kind of material");
    m.kind = *kind;
    if (const std::string by = lower_ascii(cell["mix_by"]); !by.empty()) {
      const auto named_by = named<MixBy>(by);
      if (!named_by) return bad(row.line, "\"" + by + "\" is no way to measure parts");
      m.mixing.by = *named_by;
    }
    m.mixing.a = number("ratio_a").value_or(m.mixing.a);
    m.mixing.b = number("ratio_b").value_or(m.mixing.b);
    m.mixing.percent = number("percent").value_or(0);
    m.mixing.tolerance_pct = number("tolerance_pct").value_or(m.mixing.tolerance_pct);
    if (const auto pot = number("pot_life_min"))
      m.times = {{number("at_c").value_or(23), *pot, {}, {}, number("demould_h"), {}}};
    m.hazards = words_in(cell["hazards"]);
    const std::vector<std::string> guessed = words_in(cell["guesses"]);
    for (const FigureRule& rule : figure_rules()) {
      const std::string key(rule.key);
      if (const auto v = number(key))
        m.figures[key] = {*v, std::nullopt,
                          std::find(guessed.begin(), guessed.end(), key) != guessed.end() ? FigureSource::guess
                                                                                          : FigureSource::sheet};
    }
    if (fault) return *fault;
    if (auto ok = check_material(with_guesses(m)); !ok) return bad(row.line, ok.error().text());
    given.push_back(std::move(m));
  }
  return taken(std::move(given), file);
}

}  // namespace palinform
