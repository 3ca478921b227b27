#include "meeting/meeting.hpp"

#include <algorithm>
#include <map>
#include <stdexcept>

#include "base/json_fields.hpp"

namespace palinform {

extern const std::string_view meetings_json;

namespace {

struct Table {
  std::map<std::string, std::vector<std::string>, std::less<>> surfaces;
  std::vector<MeetingRule> rules;
};

const Table& table() {
  static const Table t = [] {
    Table out;
    const json::Given given = json::Given::parse(meetings_json);
    for (const auto& [id, traits] : given.at("surfaces").items())
      out.surfaces[id] = traits.get<std::vector<std::string>>();
    for (const json::Given& r : given.at("rules")) {
      MeetingRule rule;
      json::read(r, rule, "");
      if (rule.id.empty() || rule.a.empty() || rule.b.empty() || rule.why.empty() || rule.remedy.empty())
        throw std::logic_error("built-in meetings: a rule is not whole");
      out.rules.push_back(std::move(rule));
    }
    return out;
  }();
  return t;
}

bool has(const Party& p, const std::string& trait) {
  return std::find(p.traits.begin(), p.traits.end(), trait) != p.traits.end();
}

}  // namespace

std::string_view words_of(Does d) {
  constexpr std::array words{"stays wet", "grows together", "bubbles", "wears the mould", "does not hold"};
  return words[static_cast<size_t>(d)];
}

const std::vector<MeetingRule>& meeting_rules() { return table().rules; }

const std::vector<std::string>& traits_of_surface(std::string_view surface) {
  static const std::vector<std::string> none;
  const auto at = table().surfaces.find(surface);
  return at == table().surfaces.end() ? none : at->second;
}

std::vector<std::string> known_surfaces() {
  std::vector<std::string> out;
  for (const auto& [id, traits] : table().surfaces) out.push_back(id);
  return out;
}

std::vector<Met> meetings(std::span<const Party> parties, const Between& between, std::span<const MeetingRule> rules) {
  std::vector<Met> out;
  for (const MeetingRule& rule : rules)
    for (size_t i = 0; i < parties.size(); ++i)
      for (size_t k = 0; k < parties.size(); ++k) {
        if (i == k || !has(parties[i], rule.a) || !has(parties[k], rule.b)) continue;
        Met m{i, k, &rule, {}, false};
        for (const Settles s : rule.settled_by) {
          if (s == Settles::release && between.released) m.settled = "released";
          if (s == Settles::barrier && between.barrier) m.settled = "a barrier lies between";
          if (s == Settles::sealed && between.sealed) m.settled = "sealed";
          if (s == Settles::patch_test && between.patch) {
            // What was tried counts for more than what is believed, either way.
            if (between.patch->cured)
              m.settled = between.patch->words;
            else
              m.hardened = true;
          }
        }
        if (m.hardened) m.settled.clear();
        out.push_back(std::move(m));
      }
  return out;
}

}  // namespace palinform
