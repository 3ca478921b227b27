#include "rules/equipment_lines.hpp"

#include <cmath>
#include <cstdio>
#include <functional>
#include <utility>

#include "base/text.hpp"

namespace palinform {
namespace {

std::string n(double v) { return shortest(v, 6); }

/// The numbers of a text in their order; units, commas before spaces, slashes and crosses stand between them.
Result<std::vector<double>> numbers_of(std::string_view text) {
  std::vector<double> out;
  std::string word;
  const auto end = [&]() -> bool {
    if (word.empty()) return true;
    while (!word.empty() && (word.back() == ',' || word.back() == '.')) word.pop_back();
    const auto v = parse_number(word);
    word.clear();
    if (v) out.push_back(*v);
    return v.has_value();
  };
  for (size_t i = 0; i <= text.size(); ++i) {
    const char c = i < text.size() ? text[i] : ' ';
    const bool digit = (c >= '0' && c <= '9') || c == '-';
    const bool sign = (c == '.' || c == ',') && !word.empty();
    if (digit || sign)
      word += c;
    else if (!end())
      return Error{"\"" + std::string(text.substr(0, 60)) + "\" does not read as figures", "the shop", ""};
  }
  if (out.empty() && !trim(text).empty())
    return Error{"\"" + std::string(text.substr(0, 60)) + "\" holds no figure", "the shop", ""};
  return out;
}

std::vector<std::string> split(std::string_view text, char by) {
  std::vector<std::string> out;
  for (size_t from = 0; from <= text.size();) {
    const size_t to = std::min(text.find(by, from), text.size());
    std::string part = trim(text.substr(from, to - from));
    if (!part.empty()) out.push_back(std::move(part));
    from = to + 1;
  }
  return out;
}

/// One whole number; an empty line is none.
std::function<Status(Equipment&, std::string_view, const std::string&)> whole_number(int Equipment::*into) {
  return [into](Equipment& e, std::string_view text, const std::string& hint) -> Status {
    const auto v = numbers_of(text);
    if (!v) return v.error();
    if (v->empty() && into != &Equipment::people) {
      e.*into = 0;
      return {};
    }
    if (v->size() != 1 || v->front() != std::floor(v->front()) || std::abs(v->front()) > 1000)
      return Error{"one whole number is wanted", "the shop", hint};
    e.*into = static_cast<int>(v->front());
    return {};
  };
}

/// Empty where it is not counted.
std::function<std::string(const Equipment&)> counted_or_none(int Equipment::*of) {
  return [of](const Equipment& e) { return e.*of > 0 ? std::to_string(e.*of) : std::string(); };
}

struct NamedLine {
  std::string name;
  std::vector<double> figures;
};
/// "name: figures; name: figures", each with from `least` to `most` figures.
Result<std::vector<NamedLine>> entries(std::string_view text, size_t least, size_t most, const std::string& hint) {
  std::vector<NamedLine> out;
  for (const std::string& one : split(text, ';')) {
    const size_t colon = one.rfind(':');
    if (colon == std::string::npos || colon == 0)
      return Error{"\"" + one.substr(0, 60) + "\" has no name and colon before its figures", "the shop", hint};
    auto figures = numbers_of(std::string_view(one).substr(colon + 1));
    if (!figures) return figures.error();
    if (figures->size() < least || figures->size() > most)
      return Error{
          "\"" + one.substr(0, 60) + "\" has " + counted(static_cast<long long>(figures->size()), "figure", "figures"),
          "the shop", hint};
    out.push_back({trim(one.substr(0, colon)), *std::move(figures)});
  }
  return out;
}

template <class T, class Text>
std::string joined(const std::vector<T>& list, const char* between, Text text) {
  std::string s;
  for (const T& t : list) s += (s.empty() ? "" : between) + text(t);
  return s;
}

std::string vessel_text(const OwnVessel& v, const char* unit) {
  return v.there() ? "Ø" + n(v.across_mm) + " × " + n(v.high_mm) + " mm, " + n(v.limit) + " " + unit : "";
}

std::string clock(int min) {
  return std::to_string(min / 60) + ":" + (min % 60 < 10 ? "0" : "") + std::to_string(min % 60);
}
std::string hours_text(const BenchHours& h) {
  constexpr const char* names_of_days[] = {"mon", "tue", "wed", "thu", "fri", "sat", "sun"};
  std::string s;
  for (size_t i = 0; i < 7; ++i)
    if (h.days[i]) s += (s.empty() ? "" : ",") + std::string(names_of_days[i]);
  return s + " " + clock(h.from_min) + "-" + clock(h.to_min);
}

struct Line {
  const char *key, *label, *hint;
  std::function<std::string(const Equipment&)> text;
  std::function<Status(Equipment&, std::string_view, const std::string&)> read;
};

const std::vector<Line>& lines() {
  const auto vessel = [](OwnVessel Equipment::*which) {
    return [which](Equipment& e, std::string_view text, const std::string& hint) -> Status {
      if (trim(text).empty()) {
        e.*which = {};
        return {};
      }
      const auto v = numbers_of(text);
      if (!v) return v.error();
      if (v->size() != 3) return Error{"three figures are wanted", "the shop", hint};
      e.*which = {(*v)[0], (*v)[1], (*v)[2]};
      return {};
    };
  };
  const auto sizes = [](std::vector<double> Equipment::*which) {
    return [which](Equipment& e, std::string_view text, const std::string&) -> Status {
      auto v = numbers_of(text);
      if (!v) return v.error();
      e.*which = *std::move(v);
      return {};
    };
  };
  const auto sizes_text = [](std::vector<double> Equipment::*which) {
    return [which](const Equipment& e) {
      const std::string s = joined(e.*which, ", ", n);
      return s.empty() ? s : s + " mm";
    };
  };
  static const std::vector<Line> all{
      {"scales", "Scales: division, most it carries", "Bench scale: 0.1 g, 3000 g; Letter scale: 0.01 g, 300 g",
       [](const Equipment& e) {
         return joined(e.scales, "; ", [](const OwnScale& s) {
           return s.name + ": " + n(s.division_g) + " g, " + n(s.capacity_g) + " g";
         });
       },
       [](Equipment& e, std::string_view text, const std::string& hint) -> Status {
         const auto list = entries(text, 2, 2, hint);
         if (!list) return list.error();
         e.scales.clear();
         for (const NamedLine& x : *list) e.scales.push_back({x.name, x.figures[0], x.figures[1]});
         return {};
       }},
      {"cups", "Cups: brim, empty, inside at bottom / top / height",
       "Beaker: 1000 ml, 46.2 g, 90 / 108 / 130 mm; Tumbler: 500 ml, 9.4 g",
       [](const Equipment& e) {
         return joined(e.cups, "; ", [](const OwnCup& c) {
           std::string s = c.name + ": " + n(c.brim_ml) + " ml, " + n(c.empty_g) + " g";
           if (c.bottom_mm && c.top_mm && c.high_mm)
             s += ", " + n(*c.bottom_mm) + " / " + n(*c.top_mm) + " / " + n(*c.high_mm) + " mm";
           return s;
         });
       },
       [](Equipment& e, std::string_view text, const std::string& hint) -> Status {
         const auto list = entries(text, 1, 5, hint);
         if (!list) return list.error();
         e.cups.clear();
         for (const NamedLine& x : *list) {
           if (x.figures.size() > 2 && x.figures.size() < 5)
             return Error{x.name + ": bottom, top and height are told together", "the shop", hint};
           OwnCup c{x.name, x.figures[0], x.figures.size() > 1 ? x.figures[1] : 0, {}, {}, {}};
           if (x.figures.size() == 5) c.bottom_mm = x.figures[2], c.top_mm = x.figures[3], c.high_mm = x.figures[4];
           e.cups.push_back(std::move(c));
         }
         return {};
       }},
      {"gauges", "Calipers and gauges: division, standard uncertainty", "Shop calipers: 0.01 mm, 0.012 mm",
       [](const Equipment& e) {
         return joined(e.gauges, "; ", [](const OwnGauge& g) {
           return g.name + ": " + n(g.resolution_mm) + " mm, " + n(g.u_mm) + " mm";
         });
       },
       [](Equipment& e, std::string_view text, const std::string& hint) -> Status {
         const auto list = entries(text, 2, 2, hint);
         if (!list) return list.error();
         const std::vector<OwnGauge> before = std::exchange(e.gauges, {});
         for (const NamedLine& x : *list) {
           OwnGauge g;
           // What else is known of one of that name stays.
           for (const OwnGauge& b : before)
             if (b.name == x.name) g = b;
           g.name = x.name, g.resolution_mm = x.figures[0], g.u_mm = x.figures[1];
           e.gauges.push_back(std::move(g));
         }
         return {};
       }},
      {"causes", "Causes of faults, as found here: how often", "tacky, ratio: 2; pinholes, no-degas: 1",
       [](const Equipment& e) {
         return joined(e.causes, "; ", [](const ConfirmedCause& c) {
           return std::string(name_of(c.fault)) + ", " + std::string(name_of(c.cause)) + ": " + std::to_string(c.times);
         });
       },
       [](Equipment& e, std::string_view text, const std::string& hint) -> Status {
         const auto list = entries(text, 1, 1, hint);
         if (!list) return list.error();
         e.causes.clear();
         for (const NamedLine& x : *list) {
           const size_t comma = x.name.find(',');
           const auto fault = named<Fault>(trim(x.name.substr(0, comma)));
           const auto cause = comma == std::string::npos ? std::nullopt : named<Cause>(trim(x.name.substr(comma + 1)));
           if (!fault || !cause)
             return Error{"\"" + x.name.substr(0, 60) + "\" is no fault and cause", "the shop", hint};
           if (x.figures[0] != std::floor(x.figures[0]) || x.figures[0] < 0 || x.figures[0] > 1e6)
             return Error{"a whole number of times is wanted", "the shop", hint};
           if (x.figures[0] > 0) e.causes.push_back({*fault, *cause, static_cast<int>(x.figures[0])});
         }
         return {};
       }},
      {"chamber", "Vacuum chamber: inside, best vacuum", "Ø250 × 280 mm, 2.5 kPa absolute",
       [](const Equipment& e) { return vessel_text(e.chamber, "kPa absolute"); }, vessel(&Equipment::chamber)},
      {"pot", "Pressure pot: inside, its plate", "Ø230 × 260 mm, 400 kPa",
       [](const Equipment& e) { return vessel_text(e.pot, "kPa"); }, vessel(&Equipment::pot)},
      {"oven", "Oven: inside, warmest", "Ø400 × 300 mm, 80 °C",
       [](const Equipment& e) { return vessel_text(e.oven, "°C"); }, vessel(&Equipment::oven)},
      {"boxes", "Boxes: inside (L-boards: the widest they open)",
       "Tide box: 180 × 120 × 90 mm; L-boards: 300 × 200 × 120 mm",
       [](const Equipment& e) {
         return joined(e.boxes, "; ", [](const OwnBox& b) {
           return b.name + ": " + n(b.long_mm) + " × " + n(b.wide_mm) + " × " + n(b.high_mm) + " mm";
         });
       },
       [](Equipment& e, std::string_view text, const std::string& hint) -> Status {
         const auto list = entries(text, 3, 3, hint);
         if (!list) return list.error();
         e.boxes.clear();
         for (const NamedLine& x : *list)
           e.boxes.push_back({x.name, x.figures[0], x.figures[1], x.figures[2],
                              lower_ascii(x.name).find("l-board") != std::string::npos});
         return {};
       }},
      {"drills", "Drills", "1.5, 2, 3, 4 mm", sizes_text(&Equipment::drills_mm), sizes(&Equipment::drills_mm)},
      {"rods", "Rods", "1.5, 2, 3 mm", sizes_text(&Equipment::rods_mm), sizes(&Equipment::rods_mm)},
      {"sheets", "Sheets", "3, 6, 9 mm", sizes_text(&Equipment::sheets_mm), sizes(&Equipment::sheets_mm)},
      {"syringes", "Syringes", "5, 10, 20 ml",
       [](const Equipment& e) { return joined(e.syringes_ml, ", ", n) + (e.syringes_ml.empty() ? "" : " ml"); },
       sizes(&Equipment::syringes_ml)},
      {"altitude", "Above the sea", "40 m", [](const Equipment& e) { return n(e.altitude_m) + " m"; },
       [](Equipment& e, std::string_view text, const std::string& hint) -> Status {
         const auto v = numbers_of(text);
         if (!v) return v.error();
         if (v->size() != 1) return Error{"one figure is wanted", "the shop", hint};
         e.altitude_m = v->front();
         return {};
       }},
      {"money", "Money sign", "kr", [](const Equipment& e) { return e.money; },
       [](Equipment& e, std::string_view text, const std::string&) -> Status {
         e.money = trim(text);
         return {};
       }},
      {"people", "People at the bench", "2", [](const Equipment& e) { return std::to_string(e.people); },
       whole_number(&Equipment::people)},
      {"fume-places", "Places with an extractor", "1", counted_or_none(&Equipment::fume_places),
       whole_number(&Equipment::fume_places)},
      {"clamps", "Sets of clamps or bands", "4", counted_or_none(&Equipment::clamp_sets),
       whole_number(&Equipment::clamp_sets)},
      {"hours", "Bench hours", "mon-fri 8:00-17:00", [](const Equipment& e) { return hours_text(e.hours); },
       [](Equipment& e, std::string_view text, const std::string& hint) -> Status {
         const std::string t = trim(text);
         const size_t space = t.rfind(' ');
         if (space == std::string::npos) return Error{"days and hours are wanted", "the shop", hint};
         const auto days = parse_days(trim(t.substr(0, space)));
         if (!days) return days.error();
         int h1 = 0, m1 = 0, h2 = 0, m2 = 0, used = 0;
         if (std::sscanf(t.c_str() + space + 1, "%2d:%2d-%2d:%2d%n", &h1, &m1, &h2, &m2, &used) != 4 ||
             static_cast<size_t>(used) != t.size() - space - 1 || m1 > 59 || m2 > 59 || h1 > 24 || h2 > 24)
           return Error{"\"" + t.substr(space + 1) + "\" are no hours", "the shop", hint};
         e.hours.days = *days;
         e.hours.from_min = 60 * h1 + m1, e.hours.to_min = 60 * h2 + m2;
         return {};
       }},
      {"holidays", "Days on which nobody is there", "2026-12-25; 2026-12-26",
       [](const Equipment& e) {
         std::string out;
         for (const std::string& day : e.holidays) out += (out.empty() ? "" : "; ") + day;
         return out;
       },
       [](Equipment& e, std::string_view text, const std::string& hint) -> Status {
         std::vector<std::string> days;
         for (size_t at = 0; at <= text.size();) {
           const size_t end = std::min(text.find(';', at), text.size());
           if (const std::string day = trim(text.substr(at, end - at)); !day.empty()) {
             if (day.size() != 10 || !parse_wall_time(day + "T00:00"))
               return Error{"\"" + day + "\" is no day", "the shop", hint};
             days.push_back(day);
           }
           at = end + 1;
         }
         std::sort(days.begin(), days.end());
         e.holidays = std::move(days);
         return {};
       }}};
  return all;
}

}  // namespace

std::vector<EquipmentLine> equipment_lines(const Equipment& e) {
  std::vector<EquipmentLine> out;
  for (const Line& l : lines()) out.push_back({l.key, l.label, l.hint, l.text(e)});
  return out;
}

Result<Equipment> with_equipment_line(Equipment e, const std::string& key, std::string_view text) {
  for (const Line& l : lines()) {
    if (key != l.key) continue;
    if (auto ok = l.read(e, text, "Write it like: " + std::string(l.hint)); !ok) return ok.error();
    if (auto ok = check_equipment(e); !ok) return ok.error();
    return e;
  }
  return Error{"there is no line \"" + key + "\"", "the shop", ""};
}

}  // namespace palinform
