#include "mix/choose.hpp"

#include <algorithm>

#include "base/text.hpp"

namespace palinform {
namespace {

struct Weigher {
  Candidate& c;
  void met(bool ok, std::string good, std::string bad) {
    if (ok) {
      c.good.push_back(std::move(good));
    } else {
      c.bad.push_back(std::move(bad));
      ++c.missed;
    }
  }
};

void rank(std::vector<Candidate>& list) {
  std::stable_sort(list.begin(), list.end(),
                   [](const Candidate& a, const Candidate& b) { return a.missed < b.missed; });
}

std::string range_text(const std::optional<double>& low, const std::optional<double>& high) {
  if (low && high) return fixed(*low, 0) + "–" + fixed(*high, 0);
  return low ? "at least " + fixed(*low, 0) : "at most " + fixed(*high, 0);
}

}  // namespace

void RubberNeeds::hash_into(Hasher& h) const {
  h.add(shore_low).add(shore_high).add(pulls).add(undercut).add(see_through).add(work_min).add(master_inhibits);
}

double adiabatic_rise_k(const Resin& r) { return r.heat_of_reaction_j_g / r.heat_capacity_j_gk; }

std::vector<Candidate> resins_for(const Catalogue& catalogue, const ResinNeeds& n) {
  std::vector<Candidate> out;
  for (const Resin& r : catalogue.resins) {
    Candidate c{r.id, r.name, {}, {}, 0};
    Weigher w{c};
    const std::string own = r.shore_d ? fixed(*r.shore_d, 0) + " D" : fixed(r.shore_a.value_or(0), 0) + " A";
    if (n.shore_low || n.shore_high) {
      const std::optional<double> mine = n.shore_is_d ? r.shore_d : r.shore_a;
      const bool in = mine && *mine >= n.shore_low.value_or(-1) && *mine <= n.shore_high.value_or(1e9);
      w.met(in, own + ", as hard as asked",
            own + ", asked for " + range_text(n.shore_low, n.shore_high) + (n.shore_is_d ? " D" : " A"));
    }
    if (!n.flexibility.empty()) {
      const std::string kind = r.family.find("flex") != std::string::npos || (r.shore_a && !r.shore_d) ? "flexible"
                               : r.family.find("tough") != std::string::npos                           ? "tough"
                                                                                                       : "rigid";
      // Tough serves where rigid is asked for as well; not the other way round.
      const bool ok = kind == n.flexibility || (n.flexibility == "rigid" && kind == "tough");
      w.met(ok, kind, kind + ", not " + n.flexibility);
    }
    if (n.heat_c)
      w.met(r.heat_deflection_c >= *n.heat_c, "keeps its shape to " + fixed(r.heat_deflection_c, 0) + " °C",
            "gives way at " + fixed(r.heat_deflection_c, 0) + " °C, asked for " + fixed(*n.heat_c, 0) + " °C");
    if (!n.clarity.empty()) {
      const bool clear =
          r.clarity.find("clear") != std::string::npos || r.clarity.find("transparent") != std::string::npos;
      w.met(clear == (n.clarity == "clear"), r.clarity, r.clarity + ", not " + n.clarity);
    }
    if (!n.colour.empty()) {
      const bool same = lower_ascii(r.colour).find(lower_ascii(n.colour)) != std::string::npos;
      const bool tints = r.clarity != "opaque" || r.colour == "white" || r.colour == "natural" || r.colour == "ivory";
      w.met(same || tints, same ? r.colour : r.colour + ", takes pigment", r.colour + ", cannot become " + n.colour);
    }
    if (n.work_min)
      w.met(r.pot_life_min >= *n.work_min, fixed(r.pot_life_min, 0) + " min to work",
            fixed(r.pot_life_min, 0) + " min pot life, asked for " + fixed(*n.work_min, 0) + " min");
    if (n.section_mm) {
      const double rise = adiabatic_rise_k(r);
      if (*n.section_mm > r.thick_mm)
        w.met(rise < 80, "thick pours stay cool enough",
              fixed(*n.section_mm, 0) + " mm is thick for it: up to +" + fixed(rise, 0) +
                  " K of its own heat, more shrinkage");
      else if (*n.section_mm < 0.5 * r.reference_thickness_mm)
        w.met(false, "",
              "under " + fixed(r.reference_thickness_mm, 0) + " mm it cures slower than its data sheet says");
      else
        w.met(true, "made for " + fixed(*n.section_mm, 0) + " mm sections", "");
    }
    out.push_back(std::move(c));
  }
  rank(out);
  return out;
}

std::vector<Candidate> silicones_for(const Catalogue& catalogue, const RubberNeeds& n) {
  std::vector<Candidate> out;
  for (const Silicone& s : catalogue.silicones) {
    Candidate c{s.id, s.name, {}, {}, 0};
    Weigher w{c};
    if (n.shore_low || n.shore_high)
      w.met(s.shore_a >= n.shore_low.value_or(-1) && s.shore_a <= n.shore_high.value_or(1e9),
            fixed(s.shore_a, 0) + " A, as asked",
            fixed(s.shore_a, 0) + " A, asked for " + range_text(n.shore_low, n.shore_high) + " A");
    const int pulls = n.undercut ? s.usual_pulls_undercut : s.usual_pulls_simple;
    w.met(pulls >= n.pulls, "usually " + std::to_string(pulls) + " pulls" + (n.undercut ? " with undercuts" : ""),
          "usually " + std::to_string(pulls) + " pulls" + (n.undercut ? " with undercuts" : "") + ", " +
              std::to_string(n.pulls) + " are wanted");
    if (n.undercut)
      w.met(s.shore_a <= 35 && s.elongation_pct >= 300,
            "soft enough for undercuts (" + fixed(s.elongation_pct, 0) + " % stretch)",
            "stiff for undercuts (" + fixed(s.shore_a, 0) + " A, " + fixed(s.elongation_pct, 0) + " % stretch)");
    if (n.see_through)
      w.met(s.clarity == "clear" || s.clarity == "translucent", s.clarity + ": the knife can follow the line",
            s.clarity + ": the part cannot be seen for the cut");
    if (n.work_min)
      w.met(s.pot_life_min >= *n.work_min, fixed(s.pot_life_min, 0) + " min to work",
            fixed(s.pot_life_min, 0) + " min pot life, asked for " + fixed(*n.work_min, 0) + " min");
    if (n.master_inhibits)
      w.met(!s.addition_cure, "condensation cure: the master cannot stop it",
            "addition cure: this master's surface stops it unless it is sealed");
    if (!s.addition_cure) c.bad.push_back("shrinks " + fixed(s.shrink_pct, 2) + " %, and goes on for a week");
    out.push_back(std::move(c));
  }
  rank(out);
  return out;
}

}  // namespace palinform
