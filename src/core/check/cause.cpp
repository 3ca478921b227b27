#include "check/cause.hpp"

#include <algorithm>
#include <cmath>
#include <functional>

#include "base/text.hpp"

namespace palinform {
namespace {

using C = Cause;

/// trade.md's table, likeliest first, and behind it what is rarer.
std::vector<Cause> order_of(Fault f) {
  switch (f) {
    case Fault::hollow:
      return {C::no_way_out, C::tilt, C::poured_fast, C::air_stirred_in, C::gelled_early};
    case Fault::pinholes:
      return {C::air_stirred_in, C::no_degas, C::moisture, C::poured_fast, C::old_lot};
    case Fault::pimples:
      return {C::rubber_bubbles, C::bits_on_land, C::worn_mould};
    case Fault::not_full:
      return {C::gelled_early, C::sprue_thin, C::air_lock, C::no_way_out, C::tilt};
    case Fault::flash:
      return {C::clamp, C::bits_on_land, C::overfilled, C::worn_mould, C::keys};
    case Fault::step:
      return {C::keys, C::wrong_way_round, C::bits_on_land, C::clamp};
    case Fault::tacky:
      return {C::ratio, C::stirring, C::cold, C::inhibition, C::old_lot};
    case Fault::soft:
      return {C::early_demould, C::ratio, C::cold, C::stirring, C::old_lot};
    case Fault::torn:
      return {C::thin_rubber, C::deep_undercut, C::early_demould, C::worn_mould};
    case Fault::skin:
      return {C::master_not_sealed, C::bits_on_land, C::overfilled};
    case Fault::warped:
      return {C::early_demould, C::uneven_section, C::heat, C::clamp};
    case Fault::small:
      return {C::shrinkage, C::warm_cure, C::clamp, C::worn_mould};
    case Fault::colour:
      return {C::pigment, C::batch_size, C::old_lot, C::stirring};
  }
  return {};
}

std::string pct(double v) { return significant(std::abs(v), 2) + " %"; }
std::string degrees_c(double v) { return fixed(v, 0) + " °C"; }

/// One piece of evidence: how strongly it speaks for a cause, and in which words.
struct Evidence {
  Cause cause = Cause::no_way_out;
  bool known = false;
  double ratio = 1;   ///< likelihood of it with the cause, over that without
  std::string words;  ///< what is known; or what would tell
};

/// Over a threshold `from` it speaks for, growing to `top` at `to`; log-linear between.
double rising(double x, double from, double to, double low, double top) {
  if (x <= from) return low;
  if (x >= to) return top;
  return low * std::pow(top / low, (x - from) / (to - from));
}

class Gathering {
 public:
  Gathering(const Seen& seen, const CastRecord& r, const CauseRules& rules) : seen_(seen), r_(r), k_(rules) {
    air(), mixing(), temperature(), time(), closing(), master_and_mould();
  }
  std::vector<Evidence> all;

 private:
  void known(Cause c, double ratio, std::string words) { all.push_back({c, true, ratio, std::move(words)}); }
  void unknown(Cause c, const char* find_out) { all.push_back({c, false, 1, find_out}); }

  void air() {
    if (seen_.pocket_distance_mm) {
      const double d = *seen_.pocket_distance_mm;
      const std::string where =
          "It lies " + significant(d, 2) + " mm from a pocket that Flow foresaw" +
          (!seen_.pocket_mm3          ? std::string()
           : *seen_.pocket_mm3 < 1000 ? ", of " + significant(*seen_.pocket_mm3, 2) + " mm³"
                                      : ", of " + significant(*seen_.pocket_mm3 * 1e-3, 2) + " ml");
      for (const Cause c : {C::no_way_out, C::air_lock}) {
        if (d <= k_.near_pocket_mm)
          known(c, k_.strong, where + ".");
        else
          known(c, d < 3 * k_.near_pocket_mm ? 1 : k_.against * 2, where + ": too far to be that.");
      }
    } else {
      unknown(C::no_way_out, "click where it lies: Flow knows where air stays");
    }
    if (r_.tilt_deg && r_.tilt_planned_deg) {
      const double off = std::abs(*r_.tilt_deg - *r_.tilt_planned_deg);
      const std::string told =
          "Tilted " + fixed(*r_.tilt_deg, 0) + "°, planned " + fixed(*r_.tilt_planned_deg, 0) + "°";
      known(C::tilt, off <= 2 ? k_.against : rising(off, 2, 8, k_.little, k_.strong), told + ".");
    } else {
      unknown(C::tilt, "measure the wedge's tilt");
    }
    const bool pressed = r_.pressure_kpa && *r_.pressure_kpa > 50;
    if (r_.degassed) {
      known(C::no_degas,
            *r_.degassed ? k_.against
            : pressed    ? 1
                         : k_.some,
            *r_.degassed ? "The resin was degassed."
            : pressed    ? "It was not degassed, but cured under pressure."
                         : "It was not degassed.");
      if (*r_.degassed) known(C::air_stirred_in, 0.4, "The resin was degassed after stirring.");
    } else {
      unknown(C::no_degas, "note whether the resin was degassed");
    }
    if (pressed) {
      const std::string told = "It cured under " + fixed(*r_.pressure_kpa, 0) + " kPa";
      known(C::air_stirred_in, k_.against * 2, told + ", which presses small bubbles away.");
      known(C::no_degas, k_.against * 2, told + ".");
      known(C::no_way_out, 0.6, told + ", which makes pockets smaller.");
    }
    if (r_.rubber_degassed)
      known(C::rubber_bubbles,
            *r_.rubber_degassed                        ? k_.against
            : r_.pressure_kpa && *r_.pressure_kpa <= 0 ? 1
            : pressed                                  ? k_.strong
                                                       : k_.little,
            *r_.rubber_degassed ? "The mould's rubber was degassed."
            : pressed           ? "The mould's rubber was not degassed, and the pot pressed its bubbles in."
                                : "The mould's rubber was not degassed.");
    else
      unknown(C::rubber_bubbles, "note whether the mould's rubber was degassed");
  }

  void mixing() {
    if (r_.ratio_off_pct) {
      const double tolerance = std::max(0.1, r_.ratio_tolerance_pct.value_or(2));
      const double times = std::abs(*r_.ratio_off_pct) / tolerance;
      const std::string told =
          "B was " + pct(*r_.ratio_off_pct) + (*r_.ratio_off_pct < 0 ? " short" : " over") + ", " +
          (times <= 1 ? "inside its tolerance of " : significant(times, 2) + " times its tolerance of ") +
          pct(tolerance);
      known(C::ratio, times <= 1 ? k_.against : rising(times, 1, 3, k_.little, k_.strong), told + ".");
    } else {
      unknown(C::ratio, "weigh the next cup: A and B off the scale");
    }
    if (r_.lot_days_past) {
      const double d = *r_.lot_days_past;
      known(C::old_lot, d <= 0 ? (d < -30 ? k_.against : 0.5) : rising(d, 0, 120, 1.5 * k_.some, k_.strong),
            d > 0 ? "The lot is " + counted(std::llround(d), "day", "days") + " past its date."
                  : "The lot has " + counted(std::llround(-d), "day", "days") + " to go.");
    } else {
      unknown(C::old_lot, "read the lot's date off its label");
    }
    if (r_.opened_days) {
      const double d = *r_.opened_days;
      const std::string told = "The bottle has been open " + counted(std::llround(d), "day", "days") + ".";
      known(C::moisture, d > 60 ? rising(d, 60, 240, k_.little, k_.strong * 0.7) : d < 14 ? 0.5 : 1, told);
      if (d > 120) known(C::old_lot, k_.little, told);
    } else {
      unknown(C::moisture, "look when the bottle was opened");
    }
    if (r_.patch_cured) {
      known(C::inhibition, *r_.patch_cured ? k_.against * 0.5 : k_.strong * 1.5,
            *r_.patch_cured ? "A patch test on the same surface cured."
                            : "A patch test on the same surface stayed tacky.");
    } else {
      std::string low = r_.surface;
      std::transform(low.begin(), low.end(), low.begin(),
                     [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
      const bool suspect = std::any_of(std::begin(inhibitors), std::end(inhibitors),
                                       [&](const char* w) { return low.find(w) != std::string::npos; });
      if (suspect)
        known(C::inhibition, r_.sealed && *r_.sealed ? k_.little : k_.some * 1.5,
              "The surface, " + r_.surface + ", is one that stops rubber curing.");
      unknown(C::inhibition, "make a patch test on the same surface");
    }
  }

  void temperature() {
    if (r_.room_c) {
      const double ref = r_.reference_c.value_or(23), off = *r_.room_c - ref;
      const std::string told = "The room had " + degrees_c(*r_.room_c) + ", the sheet speaks of " + degrees_c(ref);
      known(C::cold, off >= -2 ? k_.against : rising(-off, 2, 7, k_.little, k_.strong), told + ".");
      known(C::warm_cure, off <= 3 ? k_.against : rising(off, 3, 12, k_.little, k_.strong), told + ".");
      if (off > 5) known(C::heat, k_.little, told + ".");
    } else {
      unknown(C::cold, "measure the room");
      unknown(C::warm_cure, "measure the room");
    }
  }

  void time() {
    if (r_.minutes_b_to_filled && r_.pot_life_min && *r_.pot_life_min > 0) {
      // Ten kelvin halve it.
      const double warm = r_.room_c ? *r_.room_c - r_.reference_c.value_or(23) : 0;
      const double life = *r_.pot_life_min * std::pow(2.0, -warm / 10);
      const double share = *r_.minutes_b_to_filled / life;
      const std::string told = "From B to the last place filled " + significant(*r_.minutes_b_to_filled, 2) +
                               " min, of a pot life of " + significant(life, 2) + " min" +
                               (std::abs(warm) >= 1 && r_.room_c ? " at " + degrees_c(*r_.room_c) : std::string());
      known(C::gelled_early, share < 0.7 ? k_.against : rising(share, 0.7, 1.05, 1, k_.strong), told + ".");
      if (share < 0.15) known(C::poured_fast, k_.little, told + ".");
    } else {
      unknown(C::gelled_early, "time it from B touching A to the last vent");
    }
    if (r_.demould_h && r_.demould_needed_h && *r_.demould_needed_h > 0) {
      const double share = *r_.demould_h / *r_.demould_needed_h;
      known(C::early_demould, share >= 1 ? k_.against : rising(1 - share, 0, 0.25, k_.little, k_.strong),
            "Out after " + significant(*r_.demould_h, 2) + " h; it needs " + significant(*r_.demould_needed_h, 2) +
                " h.");
    } else {
      unknown(C::early_demould, "note when it comes out");
    }
  }

  void closing() {
    if (r_.clamp_n && r_.clamp_needed_n && *r_.clamp_needed_n > 0) {
      const double share = *r_.clamp_n / *r_.clamp_needed_n;
      known(C::clamp, share >= 0.95 ? k_.against : rising(1 - share, 0.05, 0.4, k_.little, k_.strong),
            "Held with " + significant(*r_.clamp_n, 2) + " N; the plan asks for " + significant(*r_.clamp_needed_n, 2) +
                " N.");
    } else {
      unknown(C::clamp, "count bands and weights on the mould");
    }
  }

  void master_and_mould() {
    if (r_.sealed) {
      known(C::master_not_sealed, *r_.sealed ? k_.against : k_.some * 1.5,
            *r_.sealed ? "The master was sealed." : "The master was not sealed.");
      known(C::inhibition, *r_.sealed ? 0.5 : 1.5,
            *r_.sealed ? "The master was sealed." : "The master was not sealed.");
    } else {
      unknown(C::master_not_sealed, "look whether the master is sealed down to its base");
    }
    if (r_.released && !*r_.released) {
      known(C::deep_undercut, 1.5, "No release was used.");
      known(C::thin_rubber, 1.5, "No release was used.");
    }
    if (r_.pull) {
      const double n = *r_.pull;
      known(C::worn_mould, n <= 5 ? k_.against : rising(n, 8, 30, 1, k_.strong),
            "It is pull " + fixed(n, 0) + " of its mould.");
      if (n <= 2) known(C::thin_rubber, 1.3, "It tore on pull " + fixed(n, 0) + ".");
    } else {
      unknown(C::worn_mould, "count the mould's pulls");
    }
  }

  static constexpr const char* inhibitors[] = {"sulphur", "sulfur",    "latex", "photopolymer",
                                               "amine",   "tin-cured", "print"};
  const Seen& seen_;
  const CastRecord& r_;
  const CauseRules& k_;
};

Change change_for(Cause c, Fault f) {
  Change x;
  x.cause = c;
  const auto say = [&](const char* what, const char* to_do) { x.what = what, x.to_do = to_do; };
  switch (c) {
    case C::no_way_out:
      say("Put a vent where it stays", "The air leaves there.");
      break;
    case C::tilt:
      say("Stand it at the planned tilt", "The air walks up to the vents.");
      break;
    case C::poured_fast:
      say("Pour slower, in a thin stream", "The stream carries no air in.");
      break;
    case C::air_stirred_in:
      say("Stir slowly, degas before the pour", "Fewer bubbles go in.");
      break;
    case C::no_degas:
      say("Degas the resin", "Small bubbles rise out before it is poured.");
      break;
    case C::moisture:
      say("Take a fresh bottle, A and mould dry", "No gas comes of damp.");
      break;
    case C::rubber_bubbles:
      say("Cast without the pot, and degas the next mould's rubber", "No bubble in the rubber is pressed in.");
      break;
    case C::gelled_early:
      say("Pour sooner, or take a slower grade", "It is full before it thickens.");
      break;
    case C::sprue_thin:
      say("A wider gate", "It fills faster.");
      break;
    case C::air_lock:
      say("Put a vent at the last place filled", "The air leaves there.");
      break;
    case C::clamp:
      say("Hold it shut with the planned force", "The land stays closed.");
      break;
    case C::bits_on_land:
      say("Brush and tape the land clean", "The halves meet.");
      break;
    case C::overfilled:
      say("Pour less over", "Nothing presses the halves apart.");
      break;
    case C::keys:
      say("Tape the halves edge on edge", "They cannot shift.");
      break;
    case C::wrong_way_round:
      say("Mark both halves on one side", "They go together one way.");
      break;
    case C::ratio:
      say("Weigh A and B again, off the scale", "The ratio holds.");
      break;
    case C::stirring:
      say("Stir longer, scrape, into a second cup", "No streaks of one part.");
      break;
    case C::cold:
      say("Cure at the sheet's temperature", "It cures through.");
      break;
    case C::inhibition:
      say("Wash, seal the surface, patch test first", "Nothing stops the cure.");
      break;
    case C::thin_rubber:
      say("A hard pin in place of thin rubber", "Nothing thin is left to tear.");
      break;
    case C::deep_undercut:
      say("A further piece, or softer rubber", "It bends out.");
      break;
    case C::early_demould:
      say("Leave it in longer",
          f == Fault::torn ? "The rubber is through before it is bent." : "It is hard before it is bent.");
      break;
    case C::master_not_sealed:
      say("Seal the master down to its base", "No rubber creeps under it.");
      break;
    case C::uneven_section:
      say("Cool it flat, weighed down", "It cannot bend as it cools.");
      break;
    case C::heat:
      say("Keep it from warmth until it is hard", "It does not soften and bend.");
      break;
    case C::shrinkage:
      say("Learn the shrinkage from the readings", "The sizes come out where they should.");
      break;
    case C::warm_cure:
      say("Gel it at the planned temperature", "The mould has its size as it gels.");
      break;
    case C::pigment:
      say("Weigh the pigment", "The same share goes in.");
      break;
    case C::batch_size:
      say("Weigh pigment as a share of the batch", "Large and small batches match.");
      break;
    case C::old_lot:
      say("Take a new lot", "It cures as its sheet says.");
      break;
    case C::worn_mould:
      say("Retire the mould", "A new one has its edges.");
      break;
  }
  return x;
}

}  // namespace

std::string_view words_of(Cause c) {
  constexpr std::array words{"No way out for the air"sv,
                             "Tilted otherwise than planned"sv,
                             "Poured too fast"sv,
                             "Air stirred in"sv,
                             "Not degassed"sv,
                             "Moisture"sv,
                             "Bubbles in the mould's rubber"sv,
                             "Gelled too early"sv,
                             "Gate too thin"sv,
                             "Air lock"sv,
                             "Held shut too weakly"sv,
                             "Bits on the land"sv,
                             "Poured too much"sv,
                             "Halves shifted"sv,
                             "Halves the wrong way round"sv,
                             "Ratio of A to B"sv,
                             "Stirred too little"sv,
                             "Too cold"sv,
                             "Something stops the cure"sv,
                             "Thin rubber"sv,
                             "Undercut too deep"sv,
                             "Out too early"sv,
                             "Master not sealed to its base"sv,
                             "Uneven sections"sv,
                             "Heat"sv,
                             "Shrinkage not allowed for"sv,
                             "Cured warm"sv,
                             "Pigment not weighed"sv,
                             "Another batch size"sv,
                             "Old lot"sv,
                             "Worn mould"sv};
  static_assert(words.size() == names<Cause>.size());
  return words[static_cast<size_t>(c)];
}

std::vector<std::pair<Cause, double>> usual_causes(Fault fault) {
  constexpr double by_rank[] = {0.5, 0.3, 0.2, 0.1, 0.06};
  std::vector<std::pair<Cause, double>> out;
  double sum = 0;
  size_t k = 0;
  for (const Cause c : order_of(fault)) {
    out.push_back({c, by_rank[std::min<size_t>(k++, 4)]});
    sum += out.back().second;
  }
  for (auto& [c, p] : out) p /= sum;
  return out;
}

Why why_of(const Seen& seen, const CastRecord& record, const std::vector<ConfirmedCause>& taught,
           const CauseRules& rules) {
  Why w;
  w.fault = seen.fault;
  // What the shop has confirmed counts beside the trade's order: counts of a Dirichlet distribution.
  std::vector<std::pair<Cause, double>> count = usual_causes(seen.fault);
  for (auto& [c, n] : count) n *= rules.prior_weight;
  for (const ConfirmedCause& t : taught) {
    if (t.fault != seen.fault || t.times <= 0) continue;
    const auto at = std::find_if(count.begin(), count.end(), [&](const auto& x) { return x.first == t.cause; });
    if (at == count.end())
      count.push_back({t.cause, static_cast<double>(t.times)});
    else
      at->second += t.times;
  }
  const Gathering gathered(seen, record, rules);
  double sum = 0;
  for (const auto& [cause, n] : count) {
    CauseFound f;
    f.cause = cause, f.p = n;
    for (const Evidence& e : gathered.all) {
      if (e.cause != cause || !e.known) continue;
      f.p *= e.ratio;
      if (e.ratio > 1)
        f.speaks_for.push_back(e.words);
      else if (e.ratio < 1)
        f.speaks_against.push_back(e.words);
    }
    for (const ConfirmedCause& t : taught)
      if (t.fault == seen.fault && t.cause == cause && t.times > 0)
        f.speaks_for.push_back("This shop has found it " + counted(t.times, "time", "times") + ".");
    sum += f.p;
    w.causes.push_back(std::move(f));
  }
  for (CauseFound& f : w.causes) f.p /= sum > 0 ? sum : 1;
  std::stable_sort(w.causes.begin(), w.causes.end(), [](const auto& a, const auto& b) { return a.p > b.p; });
  // What would decide between those still in question.
  for (const CauseFound& f : w.causes) {
    if (f.p < 0.03) continue;
    for (const Evidence& e : gathered.all)
      if (e.cause == f.cause && !e.known && std::find(w.unknown.begin(), w.unknown.end(), e.words) == w.unknown.end())
        w.unknown.push_back(e.words);
  }
  if (!w.causes.empty()) w.change = change_for(w.causes.front().cause, seen.fault);
  return w;
}

}  // namespace palinform
