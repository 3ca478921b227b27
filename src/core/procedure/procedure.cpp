#include "procedure/procedure.hpp"

#include <algorithm>

#include "base/text.hpp"
#include "procedure/blocks.hpp"

namespace palinform {

std::string_view words_of(Block b) {
  constexpr std::string_view words[] = {"prepare", "make the bed",    "box",  "mix",     "cure",   "turn",  "release",
                                        "open",    "dress the mould", "cast", "demould", "finish", "check", "hand on"};
  return words[static_cast<size_t>(b)];
}

std::string_view words_of(Ends e) {
  constexpr std::string_view words[] = {"mould and castings", "mould only", "castings only", "master only"};
  return words[static_cast<size_t>(e)];
}

namespace blocks {

ProcedureStep& Writing::add(Act act, Block block, std::string stem, std::string step_name, std::string what,
                            double hands_min, double wait_min) {
  ProcedureStep s;
  const std::string number = casting                 ? "-" + std::to_string(casting)
                             : mould && f.moulds > 1 ? "-" + std::to_string(mould)
                                                     : "";
  s.id = stem + number;
  s.stem = std::move(stem);
  s.act = act, s.block = block;
  s.name = std::move(step_name), s.what = std::move(what);
  s.hands_min = hands_min, s.wait_min = wait_min;
  s.mould = mould, s.casting = casting;
  if (casting)
    s.part = "casting " + std::to_string(casting);
  else if (mould && f.moulds > 1)
    s.part = "mould " + std::to_string(mould);
  s.after = last;
  last = {s.id};
  steps.push_back(std::move(s));
  return steps.back();
}

ProcedureStep& Writing::at_once(Act act, Block block, std::string stem, std::string step_name, std::string what,
                                double hands_min, double wait_min) {
  ProcedureStep& s = add(act, block, std::move(stem), std::move(step_name), std::move(what), hands_min, wait_min);
  s.after.clear();
  s.at_once = true;
  return s;
}

std::string Writing::of_mould() const { return mould && f.moulds > 1 ? " of mould " + std::to_string(mould) : ""; }

std::string channels_words(const ProcedureFacts& f) {
  if (!has_gate(f)) return "";
  return (f.gates > 1 ? counted(f.gates, "gate", "gates") : std::string("the gate")) +
         (f.vents > 0 ? " and " + counted(f.vents, "vent", "vents") : std::string());
}

std::string pins_words(const ProcedureFacts& f) {
  std::string s;
  for (size_t i = 0; i < f.pins.size(); ++i) s += (i == 0 ? "" : ", then ") + f.pins[i];
  return s;
}

}  // namespace blocks

Procedure procedure(const ProcedureFacts& f, const StepMinutes& t) {
  blocks::Writing w{f, t, {}, {}, 0, 0};
  const std::vector<std::string> cups = blocks::test_cups(w);
  // Cup and core are printed from the mesh: no master comes to the bench.
  if (f.ends == Ends::master || (f.ends != Ends::castings && f.form != Form::cup_core)) blocks::prepare_master(w);
  if (f.ends == Ends::master) {
    w.add(Act::label, Block::hand_on, "hand-on", "Hand the master on",
          "Wrap it, write on it what it was sealed with and when, and how much it is scaled.", t.label_min)
        .why = "Whoever makes the mould must know what lies on its surface.";
    return {std::move(w.steps)};
  }
  w.last.insert(w.last.end(), cups.begin(), cups.end());
  std::vector<std::string> master_free = w.last, ready;
  const bool copied = copies_its_casting(f);
  const auto make_moulds = [&](int from, int to) {
    for (w.mould = from; w.mould <= to; ++w.mould) {
      w.last = f.ends == Ends::castings ? cups : master_free;
      if (f.ends == Ends::castings)
        blocks::look_over_mould(w);
      else
        blocks::make_mould(w);
      w.steps.back().holds = "mould " + std::to_string(w.mould);
      ready.push_back(w.steps.back().id);
      // One master: the next mould is begun when this one has let it go.
      for (const ProcedureStep& s : w.steps)
        if (s.act == Act::open && s.mould == w.mould) master_free = {s.id};
    }
    w.mould = 0;
  };
  make_moulds(1, copied ? 1 : f.moulds);
  if (f.ends == Ends::mould) {
    w.last = ready;
    w.add(Act::label, Block::hand_on, "hand-on", "Hand the mould on",
          "Write on it what it is for, the rubber and the day; add its sheet: what to cast in it, ratio, release, when "
          "to demould, pulls to expect, care.",
          t.label_min)
        .why = "Who casts in it has not seen it made.";
    return {std::move(w.steps)};
  }
  const int pulls = (f.copies + f.a_pull - 1) / std::max(1, f.a_pull);
  std::vector<std::string> out;
  for (w.casting = 1; w.casting <= pulls; ++w.casting) {
    // The first is the test: nothing else is cast before it was looked at.
    w.last = w.casting > 1 ? std::vector<std::string>{"check-1"} : std::vector<std::string>{};
    blocks::make_casting(w);
    out.push_back(w.steps.back().id);
    if (w.casting > 1) continue;
    blocks::finish_castings(w, 1);
    blocks::check_castings(w, 1);
    if (!copied) continue;
    w.casting = 0;
    blocks::casting_as_master(w);
    master_free = w.last;
    make_moulds(2, f.moulds);
    w.casting = 1;
  }
  w.casting = 0;
  if (pulls > 1) {
    w.last.assign(out.begin() + 1, out.end());
    blocks::finish_castings(w, pulls - 1);
    blocks::check_castings(w, pulls - 1);
  }
  return {std::move(w.steps)};
}

HandsNeeded hands_needed(const Procedure& p) {
  HandsNeeded h;
  for (const ProcedureStep& s : p.steps) {
    if (!s.skipped.empty()) continue;
    if (s.mould == 1) h.mould_min += s.hands_min;
    if (s.casting == 1) h.casting_min += s.hands_min;
  }
  return h;
}

}  // namespace palinform
