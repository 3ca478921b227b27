#include "procedure/sound.hpp"

#include <algorithm>
#include <cctype>
#include <cmath>
#include <map>
#include <set>

#include "base/text.hpp"

namespace palinform {
namespace {

bool done(const ProcedureStep& s) { return s.skipped.empty(); }

void ids_and_waits(const Procedure& p, std::vector<std::string>& out) {
  std::map<std::string, const ProcedureStep*> seen;
  for (const ProcedureStep& s : p.steps) {
    const auto earlier = [&](const std::string& id) {
      const auto it = seen.find(id);
      if (it == seen.end())
        out.push_back("\"" + s.name + "\" waits for \"" + id + "\", which does not come before it");
      else if (done(s) && !done(*it->second) && it->second->wait_min > 0 && it->second->fills())
        out.push_back("\"" + s.name + "\" needs \"" + it->second->name + "\", which is left out");
    };
    for (const std::string& id : s.after) earlier(id);
    if (s.window) {
      earlier(s.window->after);
      if (s.window->latest_min && *s.window->latest_min < s.window->earliest_min - 1e-9)
        out.push_back("\"" + s.name + "\" may begin no earlier than " + fixed(s.window->earliest_min, 0) +
                      " min and no later than " + fixed(*s.window->latest_min, 0) + " min after");
    }
    if (!s.same_as.empty()) earlier(s.same_as);
    if (!seen.emplace(s.id, &s).second) out.push_back("two steps are called \"" + s.id + "\"");
    if (s.hands_min < 0 || s.wait_min < 0) out.push_back("\"" + s.name + "\" takes less than no time");
  }
}

void things(const Procedure& p, std::vector<std::string>& out) {
  std::map<std::pair<Thing, int>, std::string> in;
  for (const ProcedureStep& s : p.steps) {
    if (!done(s)) continue;
    for (const Placing& x : s.out) {
      if (!in.erase({x.thing, x.number}))
        out.push_back("\"" + s.name + "\" takes out the " + std::string(name_of(x.thing)) + ", which is not in");
    }
    for (const Placing& x : s.in)
      if (!in.emplace(std::pair{x.thing, x.number}, s.name).second)
        out.push_back("\"" + s.name + "\" puts in the " + std::string(name_of(x.thing)) + " a second time");
  }
  for (const auto& [what, by] : in)
    out.push_back("the " + std::string(name_of(what.first)) + " put in by \"" + by + "\" stays in for ever");
}

/// Cups, in order and whole; each pour with the mass it was given.
void cups(const Procedure& p, const ProcedureFacts& f, std::vector<std::string>& out) {
  struct Group {
    double g = 0;
    int cups = 0;
  };
  std::map<std::pair<std::string, std::pair<int, int>>, Group> made;  // pour, mould, casting
  for (size_t i = 0; i < p.steps.size(); ++i) {
    const ProcedureStep& s = p.steps[i];
    if (s.pour.empty()) continue;
    if (!done(s)) {
      out.push_back("\"" + s.name + "\" cannot be left out: the mix would not be whole");
      continue;
    }
    if (s.act != Act::weigh) {
      const ProcedureStep& before = p.steps[i - 1];
      if (i == 0 || before.pour != s.pour || before.cup != s.cup || !s.at_once)
        out.push_back("\"" + s.name + "\" does not follow its own cup at once");
      continue;
    }
    int stage = 0;
    size_t k = i + 1;
    for (; k < p.steps.size() && p.steps[k].pour == s.pour && p.steps[k].cup == s.cup && p.steps[k].act != Act::weigh;
         ++k) {
      const ProcedureStep& next = p.steps[k];
      const int now = next.act == Act::stir || next.act == Act::knead    ? 1
                      : next.act == Act::degas || next.act == Act::stand ? 2
                      : next.fills()                                     ? 3
                                                                         : 0;
      if (now == 0 || now < stage || (stage == 0 && now != 1))
        out.push_back("\"" + next.name + "\" comes at the wrong place in its cup");
      stage = now;
    }
    if (stage != 3) out.push_back("\"" + s.name + "\" is weighed and goes nowhere");
    Group& g = made[{s.pour, {s.casting ? 0 : s.mould, s.casting}}];
    ++g.cups;
    for (const Amount& a : s.amounts) g.g += a.g;
  }
  const auto expect = [&](const PourFacts& pour, int mould, int casting) {
    const auto it = made.find({pour.name, {mould, casting}});
    const std::string whose = casting ? "casting " + std::to_string(casting) : "mould " + std::to_string(mould);
    if (it == made.end()) {
      out.push_back("pour " + pour.name + " of " + whose + " is not there");
      return;
    }
    if (it->second.cups != pour.cups ||
        (!pour.no_figures && std::abs(it->second.g - pour.each_g * pour.cups) > 1e-6 * (1 + pour.each_g * pour.cups)))
      out.push_back("pour " + pour.name + " of " + whose + " is mixed as " + significant(it->second.g, 4) + " g for " +
                    significant(pour.each_g * pour.cups, 4) + " g");
    made.erase(it);
  };
  if (f.ends == Ends::both || f.ends == Ends::mould)
    for (int m = 1; m <= f.moulds; ++m) {
      for (const PourFacts& pour : f.rubber) expect(pour, m, 0);
      if (f.form == Form::skin || !f.brushed.empty())
        for (const PourFacts& pour : f.jacket) expect(pour, m, 0);
    }
  if (f.ends == Ends::both || f.ends == Ends::castings)
    for (int n = 1; n <= (f.copies + f.a_pull - 1) / f.a_pull; ++n) expect(f.casting, 0, n);
  for (const auto& [key, group] : made) out.push_back("pour " + key.first + " is in nobody's mould");
}

/// Nothing is opened or demoulded before what was filled is cured; what is filled has its master or its mould.
void cures(const Procedure& p, const ProcedureFacts& f, std::vector<std::string>& out) {
  std::map<std::string, const ProcedureStep*> by_id;
  for (const ProcedureStep& s : p.steps) by_id.emplace(s.id, &s);
  // All that a step waits for, whole.
  std::map<std::string, std::set<std::string>> over;
  const ProcedureStep* before = nullptr;
  for (const ProcedureStep& s : p.steps) {
    std::set<std::string>& mine = over[s.id];
    const auto add = [&](const std::string& id) {
      mine.insert(id);
      mine.insert(over[id].begin(), over[id].end());
    };
    for (const std::string& id : s.after) add(id);
    if (s.at_once && before) add(before->id);
    if (s.window) mine.insert(over[s.window->after].begin(), over[s.window->after].end());
    before = &s;
  }
  const auto opens = [](Act a) {
    return a == Act::unbox || a == Act::open || a == Act::cut_open || a == Act::demould || a == Act::draw_pins;
  };
  for (size_t i = 0; i < p.steps.size(); ++i) {
    const ProcedureStep& s = p.steps[i];
    if (!done(s) || !(s.act == Act::turn || opens(s.act))) continue;
    for (size_t k = 0; k < i; ++k) {
      const ProcedureStep& fill = p.steps[k];
      if (!fill.fills() || fill.mould != s.mould || fill.casting != s.casting) continue;
      // The last of the cups at once carries the cure; coats under it are over with it.
      bool covered = over[s.id].count(fill.id) > 0;
      for (size_t later = k + 1; later < i && !covered; ++later)
        covered =
            over[s.id].count(p.steps[later].id) && (over[p.steps[later].id].count(fill.id) ||
                                                    (p.steps[later].window && p.steps[later].window->after == fill.id));
      for (size_t later = k + 1; later < i && !covered; ++later)
        covered = p.steps[later].fills() && over[s.id].count(p.steps[later].id) && p.steps[later].mould == fill.mould &&
                  p.steps[later].casting == fill.casting;
      if (!covered) out.push_back("\"" + s.name + "\" does not wait for \"" + fill.name + "\" to cure");
    }
  }
  // What was filled is opened, and nothing is filled that was opened before.
  for (size_t k = 0; k < p.steps.size(); ++k) {
    const ProcedureStep& fill = p.steps[k];
    if (!done(fill) || !fill.fills()) continue;
    const Act last = fill.casting ? Act::demould : Act::open;
    bool opened = false;
    for (size_t i = 0; i < p.steps.size(); ++i) {
      const ProcedureStep& s = p.steps[i];
      if (!done(s) || s.mould != fill.mould || s.casting != fill.casting) continue;
      if (i < k && opens(s.act)) out.push_back("\"" + fill.name + "\" comes after \"" + s.name + "\"");
      opened = opened || (i > k && s.act == last);
    }
    if (!opened) out.push_back("\"" + fill.name + "\" is never opened");
  }
  double least = 0;
  for (const ProcedureStep& s : p.steps) {
    if (s.act == Act::demould) {
      least = 0;
      for (const ProcedureStep& k : p.steps)
        if (k.casting == s.casting && k.block == Block::cast) least = std::max(least, k.wait_min);
      if (!s.changed && least + 1e-9 < f.resin_cure.demould_min)
        out.push_back("\"" + s.name + "\" comes before the casting lets go");
    }
    if (s.act == Act::open && f.form != Form::cup_core && !f.rubber.empty()) {
      least = 0;
      for (const ProcedureStep& k : p.steps)
        if (k.mould == s.mould && !k.casting && (k.fills() || k.act == Act::set_keys))
          least = std::max(least, k.changed ? 1e12 : k.wait_min);
      if (least + 1e-9 < f.rubber_cure.demould_min) out.push_back("\"" + s.name + "\" comes before the rubber lets go");
    }
  }
  // Rubber on rubber.
  for (int m = 1; m <= f.moulds; ++m) {
    bool first = false, released = false;
    for (const ProcedureStep& s : p.steps) {
      if (s.mould != m || s.casting || !done(s)) continue;
      if (s.act == Act::turn) first = true;
      if (s.act == Act::release) released = true;
      if (first && !released && s.fills() && s.act != Act::lay_jacket) {
        out.push_back("\"" + s.name + "\" comes onto rubber that was not released");
        first = false;
      }
    }
  }
}

}  // namespace

std::vector<std::string> faults_of(const Procedure& p, const ProcedureFacts& f) {
  std::vector<std::string> out;
  ids_and_waits(p, out);
  things(p, out);
  cups(p, f, out);
  cures(p, f, out);
  return out;
}

std::vector<std::string> words_it_lacks(const ProcedureFacts& f) {
  std::vector<std::string> out;
  const auto lacks = [&](bool has, std::initializer_list<const char*> words) {
    if (!has) out.insert(out.end(), words.begin(), words.end());
  };
  const bool makes = f.ends == Ends::both || f.ends == Ends::mould,
             casts = f.ends == Ends::both || f.ends == Ends::castings;
  const bool board = f.way == Way::splitter_board || f.way == Way::printed_board;
  lacks(has_gate(f), {"gate"});
  lacks(has_gate(f) && f.vents > 0, {"vent", "vents"});
  lacks(has_keys(f) || f.form == Form::skin || !f.brushed.empty(), {"key", "keys"});
  lacks(!f.pins.empty(), {"pin", "pins"});
  lacks(makes && f.dams > 0, {"dam", "dams"});
  lacks(makes && has_bed(f.form) && board, {"board", "boards"});
  lacks(makes && has_bed(f.form) && (!board || !f.stopped.empty()), {"clay"});
  lacks(makes && has_box(f.form), {"box"});
  lacks(f.form == Form::skin, {"jacket", "skins"});
  lacks(f.form == Form::skin || !f.brushed.empty(), {"skin"});
  lacks(!f.brushed.empty(), {"backing"});
  lacks(f.form == Form::cup_core, {"core"});
  lacks(casts && closes(f) && f.clamp_n > 0 && f.form != Form::squeeze && f.form != Form::cup_core,
        {"clamp", "clamps", "bands"});
  lacks(casts && by_pot(f.fill), {"pot", "pressure"});
  lacks(f.form == Form::strip, {"well", "bar", "nubs"});
  lacks(!f.inserts.empty(), {"insert", "inserts"});
  lacks((f.taped > 0 && makes) || f.openings_said > 0, {"opening", "openings"});
  return out;
}

std::string lacking_word(const ProcedureStep& s, const std::vector<std::string>& words) {
  const auto plain = [](std::string text) {
    for (char& c : text)
      c = std::isalpha(static_cast<unsigned char>(c)) ? static_cast<char>(std::tolower(static_cast<unsigned char>(c)))
                                                      : ' ';
    return " " + text + " ";
  };
  const std::string said = plain(s.name + " " + s.what + " " + s.why + " " + s.look_for);
  std::string cautions;
  for (const std::string& c : s.cautions) cautions += plain(c);
  for (const std::string& w : words) {
    if (said.find(" " + w + " ") != std::string::npos) return w;
    // A caution of a sheet may well speak of the skin of a hand.
    if (w != "skin" && cautions.find(" " + w + " ") != std::string::npos) return w;
  }
  return "";
}

}  // namespace palinform
