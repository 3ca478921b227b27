#include "shelf/figure_lines.hpp"

#include <algorithm>
#include <cmath>
#include <set>

#include "base/text.hpp"

namespace palinform {
namespace {

struct TimeField {
  std::string_view key, words, unit;
};
constexpr TimeField time_fields[] = {{"pot_life_min", "pot life", "min"},
                                     {"gel_min", "gel", "min"},
                                     {"tack_free_min", "tack-free", "min"},
                                     {"demould_h", "demould", "h"},
                                     {"full_cure_h", "full cure", "h"}};

std::optional<double> time_of(const TimesAt& t, std::string_view key) {
  if (key == "pot_life_min") return t.pot_life_min;
  if (key == "gel_min") return t.gel_min;
  if (key == "tack_free_min") return t.tack_free_min;
  if (key == "demould_h") return t.demould_h;
  return t.full_cure_h;
}
bool set_time(TimesAt& t, std::string_view key, std::optional<double> v) {
  if (key == "pot_life_min") {
    if (v) t.pot_life_min = *v;
    return v.has_value();
  }
  if (key == "gel_min") return t.gel_min = v, true;
  if (key == "tack_free_min") return t.tack_free_min = v, true;
  if (key == "demould_h") return t.demould_h = v, true;
  if (key == "full_cure_h") return t.full_cure_h = v, true;
  return false;
}

/// "times.1.gel_min" of the list "times." → 1, "gel_min".
std::optional<std::pair<size_t, std::string>> listed_key(const std::string& key, std::string_view list) {
  if (!key.starts_with(list)) return std::nullopt;
  const size_t from = list.size(), dot = key.find('.', from);
  if (dot == std::string::npos || dot == from || dot > from + 2) return std::nullopt;
  size_t n = 0;
  for (size_t i = from; i < dot; ++i) {
    if (key[i] < '0' || key[i] > '9') return std::nullopt;
    n = 10 * n + static_cast<size_t>(key[i] - '0');
  }
  return std::pair{n, key.substr(dot + 1)};
}

void set_scale(FigureLine& line, double hard_low, double hard_high) {
  double low = hard_high, high = hard_low;
  const auto take = [&](double v) { low = std::min(low, v), high = std::max(high, v); };
  if (line.range) take(line.range->low), take(line.range->high);
  if (line.figure) take(line.figure->value);
  if (low > high) low = hard_low, high = hard_high;
  line.by_tens = low > 0 && high / low > 30;
  if (line.by_tens) {
    line.low = std::max(hard_low > 0 ? hard_low : low / 4, low / 1.5), line.high = std::min(hard_high, high * 1.5);
  } else {
    const double room = std::max(0.15 * (high - low), 0.05 * std::max(std::abs(high), 1e-9));
    line.low = std::max(hard_low, low - room), line.high = std::min(hard_high, high + room);
  }
  if (!(line.high > line.low)) line.low = hard_low, line.high = hard_high, line.by_tens = false;
}

Result<Material> checked(Material m) {
  if (auto ok = check_material(m); !ok) return ok.error();
  return m;
}

}  // namespace

double FigureLine::place(double v) const {
  const double t = by_tens ? std::log(std::max(v, 1e-12) / low) / std::log(high / low) : (v - low) / (high - low);
  return std::clamp(t, 0.0, 1.0);
}
double FigureLine::value_at(double t) const {
  t = std::clamp(t, 0.0, 1.0);
  const double v = by_tens ? low * std::pow(high / low, t) : low + t * (high - low);
  if (v == 0) return 0;
  const double step = std::pow(10, std::floor(std::log10(std::abs(by_tens ? v : high - low))) - 2);
  return std::clamp(std::round(v / step) * step, low, high);
}

std::vector<FigureLine> figure_lines(const Material& m) {
  std::vector<FigureLine> out;
  const Family* f = family(m.family);
  for (size_t i = 0; i < m.times.size(); ++i)
    for (const TimeField& field : time_fields) {
      FigureLine line;
      line.key = "times." + std::to_string(i) + "." + std::string(field.key);
      line.words = std::string(field.words) + " at " + shortest(m.times[i].at_c, 4) + " °C";
      line.unit = field.unit;
      const auto v = time_of(m.times[i], field.key);
      if (v) line.figure = Figure{*v, {}, FigureSource::sheet};
      // What the family says of that temperature stands in for a range: half and twice of it.
      if (f)
        for (const TimesAt& t : f->usual.times)
          if (t.at_c == m.times[i].at_c)
            if (const auto usual = time_of(t, field.key)) line.range = FamilyRange{*usual / 2, *usual, *usual * 2};
      if (!line.figure && !line.range) continue;
      set_scale(line, 0.01, 50'000);
      out.push_back(std::move(line));
    }
  if (m.times.empty() && cures(m.kind)) {
    FigureLine line;
    line.key = "times.0.pot_life_min";
    line.words = "pot life at 23 °C";
    line.unit = "min";
    set_scale(line, 0.1, 1000);
    out.push_back(std::move(line));
  }
  if (cures(m.kind)) {
    const auto of_mixing = [&](std::string key, std::string words, std::string unit, std::optional<double> v,
                               double low, double high) {
      FigureLine line;
      line.key = std::move(key), line.words = std::move(words), line.unit = std::move(unit);
      if (v) line.figure = Figure{*v, {}, FigureSource::sheet};
      set_scale(line, low, high);
      out.push_back(std::move(line));
    };
    of_mixing("mixing.tolerance_pct", "the ratio may be off by", "%", m.mixing.tolerance_pct, 0.05, 50);
    if (m.mixing.by == MixBy::drops)
      of_mixing("mixing.drop_g", "one drop weighs (weigh twenty)", "g",
                m.mixing.drop_g > 0 ? std::optional(m.mixing.drop_g) : std::nullopt, 1e-4, 1);
    for (size_t i = 0; i < m.mixing.at_percent.size(); ++i) {
      const AtPercent& at = m.mixing.at_percent[i];
      const std::string n = std::to_string(i), words = " at " + shortest(at.pct, 4) + " % of catalyst";
      of_mixing("percent." + n + ".pot_life_min", "pot life" + words, "min", at.pot_life_min, 0.1, 10'000);
      of_mixing("percent." + n + ".demould_h", "demould" + words, "h", at.demould_h, 0.01, 1000);
    }
  }
  // Without a family of its own: every figure that a family of its kind has.
  std::set<std::string> keys;
  for (const auto& [key, figure] : m.figures) keys.insert(key);
  for (const Family& other : families())
    if (&other == f || (!f && other.kind == m.kind))
      for (const auto& [key, range] : other.ranges) keys.insert(key);
  for (const FigureRule& rule : figure_rules()) {
    const std::string key(rule.key);
    if (!keys.contains(key)) continue;
    FigureLine line;
    line.key = key;
    line.words = rule.words;
    line.unit = rule.unit;
    if (const auto at = m.figures.find(key); at != m.figures.end()) line.figure = at->second;
    if (f)
      if (const auto at = f->ranges.find(key); at != f->ranges.end()) line.range = at->second;
    set_scale(line, rule.low, rule.high);
    out.push_back(std::move(line));
  }
  return out;
}

Result<Material> with_figure(Material m, const std::string& key, double value, FigureSource source) {
  if (key == "mixing.tolerance_pct") {
    m.mixing.tolerance_pct = value;
    return checked(std::move(m));
  }
  if (key == "mixing.drop_g") {
    const DropMass drop = stated_drop(value);
    m.mixing.drop_g = drop.g, m.mixing.drop_u_g = drop.u_g;
    return checked(std::move(m));
  }
  if (const auto p = listed_key(key, "percent.")) {
    if (p->first >= m.mixing.at_percent.size()) return Error{"there is no such percentage", m.name, ""};
    AtPercent& at = m.mixing.at_percent[p->first];
    if (p->second == "pot_life_min")
      at.pot_life_min = value;
    else if (p->second == "demould_h")
      at.demould_h = value;
    else
      return Error{"there is no such figure", m.name, ""};
    return checked(std::move(m));
  }
  if (const auto t = listed_key(key, "times.")) {
    if (m.times.empty() && t->first == 0 && t->second == "pot_life_min") m.times = {{23, value, {}, {}, {}, {}}};
    if (t->first >= m.times.size() || !set_time(m.times[t->first], t->second, value))
      return Error{"there is no such time", m.name, ""};
    return checked(std::move(m));
  }
  if (!figure_rule(key)) return Error{"there is no figure \"" + key.substr(0, 60) + "\"", m.name, ""};
  Figure& f = m.figures[key];
  f.value = value;
  f.source = source;
  return checked(std::move(m));
}

Result<Material> without_figure(Material m, const std::string& key) {
  if (key.starts_with("mixing.") || key.starts_with("percent."))
    return Error{"this cannot be left open", m.name, "Write another figure instead."};
  if (const auto t = listed_key(key, "times.")) {
    if (t->first >= m.times.size() || !set_time(m.times[t->first], t->second, std::nullopt))
      return Error{"a material without a pot life cannot be planned with", m.name, "Write another one instead."};
    return checked(std::move(m));
  }
  m.figures.erase(key);
  return checked(with_guesses(std::move(m)));
}

std::string ratio_words(const Mixing& m) {
  if (m.by == MixBy::percent || m.by == MixBy::drops)
    return shortest(m.percent, 4) + " %" + (m.by == MixBy::drops ? " in drops" : "");
  return shortest(m.a, 5) + " : " + shortest(m.b, 5) + (m.by == MixBy::volume ? " by volume" : " by weight");
}

Result<Material> with_ratio(Material m, std::string_view text) {
  const auto bad = [&] {
    return Error{"\"" + std::string(text.substr(0, 40)) + "\" is no ratio", m.name,
                 "Write 100 : 10 by weight, 1 : 1 by volume, 2 %, or 2 % in drops."};
  };
  std::string t = lower_ascii(trim(text));
  const auto ends = [&](std::string_view tail) {
    if (!t.ends_with(tail)) return false;
    t = trim(std::string_view(t).substr(0, t.size() - tail.size()));
    return true;
  };
  Mixing mix = m.mixing;
  if (const bool drops = ends("in drops") || ends("drops"); ends("%") || drops) {
    const auto pct = parse_number(t);
    if (!pct || !(*pct > 0)) return bad();
    mix.by = drops ? MixBy::drops : MixBy::percent;
    mix.percent = *pct;
  } else {
    mix.by = ends("by volume") ? MixBy::volume : MixBy::weight;
    if (mix.by == MixBy::weight) ends("by weight");
    const size_t colon = t.find(':');
    if (colon == std::string::npos) return bad();
    const auto a = parse_number(trim(std::string_view(t).substr(0, colon)));
    const auto b = parse_number(trim(std::string_view(t).substr(colon + 1)));
    if (!a || !b || !(*a > 0) || !(*b > 0)) return bad();
    mix.a = *a, mix.b = *b;
  }
  m.mixing = mix;
  return checked(std::move(m));
}

std::string new_material_id(const std::vector<Material>& shelf, std::string_view name) {
  std::string base;
  for (const char c : lower_ascii(name))
    if ((c >= 'a' && c <= 'z') || (c >= '0' && c <= '9'))
      base += c;
    else if (!base.empty() && base.back() != '-')
      base += '-';
  while (!base.empty() && base.back() == '-') base.pop_back();
  base = base.empty() ? "material" : base.substr(0, 60);
  const auto taken = [&](const std::string& id) {
    return std::any_of(shelf.begin(), shelf.end(), [&](const Material& m) { return m.id == id; });
  };
  std::string id = base;
  for (int n = 2; taken(id); ++n) id = base + "-" + std::to_string(n);
  return id;
}

Material copy_of(const Material& m, const std::string& id, const std::string& name) {
  Material out = m;
  out.id = id;
  out.name = name;
  out.version = 1;
  out.retired = false;
  return out;
}

Material from_nothing(MaterialKind kind, const std::string& id, const std::string& name) {
  Material m;
  m.id = id;
  m.kind = kind;
  m.name = name;
  m.mixing.a = m.mixing.b = 0;
  return m;
}

}  // namespace palinform
