#include "shelf/family.hpp"

#include <algorithm>
#include <stdexcept>

#include "base/json_fields.hpp"

namespace palinform {

extern const std::string_view families_json;

namespace {

std::vector<Family> read_families() {
  std::vector<Family> out;
  for (const json::Given& e : json::Given::parse(families_json)) {
    Family f;
    json::Given usual = e;
    usual.erase("figures");
    json::read(usual, f.usual, "");
    f.id = f.usual.id;
    f.name = f.usual.name;
    f.kind = f.usual.kind;
    f.usual.family = f.id;
    for (const auto& [key, range] : e.at("figures").items()) {
      f.ranges[key] = {range.at(0), range.at(1), range.at(2)};
      f.usual.figures[key] = {range.at(1), std::nullopt, FigureSource::guess};
    }
    if (auto ok = check_material(f.usual); !ok) throw std::logic_error("built-in family: " + ok.error().text());
    out.push_back(std::move(f));
  }
  return out;
}

}  // namespace

const std::vector<Family>& families() {
  static const std::vector<Family> all = read_families();
  return all;
}

const Family* family(std::string_view id) {
  for (const Family& f : families())
    if (f.id == id) return &f;
  return nullptr;
}

Material from_family(const Family& f, const std::string& id, const std::string& name) {
  Material m = f.usual;
  m.id = id;
  m.name = name;
  return m;
}

Material with_guesses(Material m) {
  const Family* f = family(m.family);
  if (!f) return m;
  for (const auto& [key, figure] : f->usual.figures) m.figures.try_emplace(key, figure);
  if (m.times.empty()) m.times = f->usual.times;
  if (m.hazards.empty()) m.hazards = f->usual.hazards;
  if (m.clarity.empty()) m.clarity = f->usual.clarity;
  if (m.moisture_part.empty()) m.moisture_part = f->usual.moisture_part;
  if (m.tint_part.empty()) m.tint_part = f->usual.tint_part;
  return m;
}

}  // namespace palinform
