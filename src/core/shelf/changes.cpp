#include "shelf/changes.hpp"

#include "base/text.hpp"
#include "shelf/figure_lines.hpp"

namespace palinform {
namespace {

std::string shown(const std::optional<double>& v) { return v ? shortest(*v, 5) : std::string("none"); }

}  // namespace

std::vector<std::string> changes_between(const Material& was, const Material& is) {
  std::vector<std::string> out;
  const auto told = [&](const std::string& what, const std::string& before, const std::string& after,
                        std::string_view unit = {}) {
    if (before != after)
      out.push_back(what + " " + before + " → " + after + (unit.empty() ? "" : " " + std::string(unit)));
  };
  if (was.mixing.by != is.mixing.by || was.mixing.a != is.mixing.a || was.mixing.b != is.mixing.b ||
      was.mixing.percent != is.mixing.percent)
    told("ratio", ratio_words(was.mixing), ratio_words(is.mixing));
  told("tolerance of the ratio", shortest(was.mixing.tolerance_pct, 4), shortest(is.mixing.tolerance_pct, 4), "%");
  if (was.mixing.at_percent != is.mixing.at_percent) out.push_back("the sheet's range of catalyst");
  told("a drop", shortest(was.mixing.drop_g, 4), shortest(is.mixing.drop_g, 4), "g");
  for (const TimesAt& t : is.times) {
    const TimesAt* before = nullptr;
    for (const TimesAt& b : was.times)
      if (b.at_c == t.at_c) before = &b;
    const std::string at = " at " + shortest(t.at_c, 4) + " °C";
    if (!before) {
      out.push_back("times" + at);
      continue;
    }
    told("pot life" + at, shown(before->pot_life_min), shown(t.pot_life_min), "min");
    told("gel" + at, shown(before->gel_min), shown(t.gel_min), "min");
    told("tack-free" + at, shown(before->tack_free_min), shown(t.tack_free_min), "min");
    told("demould" + at, shown(before->demould_h), shown(t.demould_h), "h");
    told("full cure" + at, shown(before->full_cure_h), shown(t.full_cure_h), "h");
  }
  if (is.times.size() < was.times.size()) out.push_back("times at fewer temperatures");
  for (const FigureRule& rule : figure_rules()) {
    const std::string key(rule.key);
    told(std::string(rule.words), shown(was.figure(key)), shown(is.figure(key)), rule.unit);
  }
  const auto word = [](const std::string& s) { return s.empty() ? std::string("none") : s; };
  told("colour", word(was.colour), word(is.colour));
  told("clarity", word(was.clarity), word(is.clarity));
  told("the part that hates moisture", word(was.moisture_part), word(is.moisture_part));
  told("the part pigment goes into", word(was.tint_part), word(is.tint_part));
  if (was.hazards != is.hazards) out.push_back("its cautions");
  return out;
}

}  // namespace palinform
