#include "rules/rule_lines.hpp"

#include <algorithm>
#include <array>
#include <cmath>

#include "base/json_fields.hpp"

namespace palinform {
namespace {

/// What a group of rules changes. The longest prefix that fits speaks.
struct Affects {
  std::string_view prefix, words;
};
constexpr std::array affects{
    Affects{"size", "how wide the predicted sizes spread, and where they lie"},
    Affects{"size.fits", "the fits that are proposed for a size and its mate"},
    Affects{"split.flex", "which undercuts the rubber lets go of, and so the ways and the forms"},
    Affects{"split.thin", "which pegs and fins of rubber are told as at risk"},
    Affects{"split.pin", "where pins are asked for in bores, and how long they are"},
    Affects{"split.insert", "what is told of cores and inserts that are cast in"},
    Affects{"split.thread", "how threads come into the casting"},
    Affects{"split.ways", "what each way to make the split costs"},
    Affects{"split", "which pull, which pieces and which form are offered"},
    Affects{"mould.wall", "how thick the rubber is, and so the box, the rubber and the money"},
    Affects{"mould.keys", "where keys stand and how large they are"},
    Affects{"mould.box", "the panels, bricks and tubs of the box"},
    Affects{"mould.forms", "what each form costs, and which is offered first"},
    Affects{"mould.jacket", "the jacket of a brushed skin"},
    Affects{"mould.strip", "the strip of small parts"},
    Affects{"mould", "clamps, dams and second stages of a pour"},
    Affects{"flow.channels", "gate, vents and what they hold"},
    Affects{"flow", "what air counts, how long filling takes, what is offered against it"},
    Affects{"mix", "what is weighed, how many cups it takes and how long each lasts"},
    Affects{"days", "how long each step takes, and so the hours, the day it is ready and the money"},
    Affects{"check", "which cause of a fault comes first"},
};
constexpr std::array stages{std::pair{"size", "Size"},  std::pair{"split", "Split"}, std::pair{"mould", "Mould"},
                            std::pair{"flow", "Flow"},  std::pair{"mix", "Mix"},     std::pair{"days", "Days"},
                            std::pair{"check", "Check"}};

std::string words_for(std::string_view path) {
  const Affects* best = nullptr;
  for (const Affects& a : affects)
    if (path.starts_with(a.prefix) && (!best || a.prefix.size() > best->prefix.size())) best = &a;
  return best ? std::string(best->words) : std::string("the plan");
}

template <class T>
void flatten(const T& now, const T& standard, const std::string& path, std::vector<RuleLine>& out) {
  // The two lists of fields are one list, so the second is walked in step with the first.
  std::vector<RuleLine> mine;
  const auto collect = [&](const T& of, bool first) {
    size_t n = 0;
    T::fields(of, [&](std::string_view key, const auto& v, auto... rule) {
      using V = std::remove_cvref_t<decltype(v)>;
      const std::string here = path.empty() ? std::string(key) : path + "." + std::string(key);
      if constexpr (std::is_arithmetic_v<V> && !std::same_as<V, bool> && sizeof...(rule) == 1) {
        if (!first) {
          mine[n++].standard = static_cast<double>(v);
          return;
        }
        RuleLine line;
        line.path = here;
        const FieldWords words = field_words(key);
        line.name = words.name;
        line.unit = words.unit;
        line.value = static_cast<double>(v);
        (
            [&](const auto& r) {
              if constexpr (std::same_as<std::remove_cvref_t<decltype(r)>, Within>)
                line.low = r.low, line.high = r.high;
            }(rule),
            ...);
        line.affects = words_for(here);
        for (const auto& [key_of_stage, name] : stages)
          if (here.starts_with(std::string(key_of_stage) + ".")) line.stage = name;
        mine.push_back(std::move(line));
      }
    });
  };
  collect(now, true);
  collect(standard, false);
  out.insert(out.end(), std::make_move_iterator(mine.begin()), std::make_move_iterator(mine.end()));
  // Groups within the group.
  T::fields(now, [&](std::string_view key, const auto& v, auto...) {
    using V = std::remove_cvref_t<decltype(v)>;
    if constexpr (HasFields<V>) {
      const std::string here = path.empty() ? std::string(key) : path + "." + std::string(key);
      T::fields(standard, [&](std::string_view other, const auto& w, auto...) {
        if constexpr (std::same_as<std::remove_cvref_t<decltype(w)>, V>)
          if (other == key) flatten(v, w, here, out);
      });
    }
  });
}

}  // namespace

std::vector<RuleLine> rule_lines(const Rules& now, const Rules& standard) {
  std::vector<RuleLine> out;
  flatten(now, standard, "", out);
  return out;
}

Result<Rules> with_rule(const Rules& rules, const std::string& path, double value) {
  if (!std::isfinite(value)) return Error{"a rule is a finite figure", path.substr(0, 80), ""};
  json::Given doc = json::Given::parse(write_rules(rules));
  json::Given* at = &doc;
  for (size_t from = 0; from <= path.size();) {
    const size_t dot = std::min(path.find('.', from), path.size());
    const auto next = at->is_object() ? at->find(path.substr(from, dot - from)) : at->end();
    if (next == at->end()) return Error{"there is no rule \"" + path.substr(0, 80) + "\"", "rules", ""};
    at = &*next;
    from = dot + 1;
  }
  if (!at->is_number()) return Error{"\"" + path + "\" is no figure", "rules", ""};
  *at = value;
  return read_rules(doc.dump());
}

}  // namespace palinform
