#include "findings/openings.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"
#include "findings/tell.hpp"
#include "stages/openings.hpp"

namespace palinform {
namespace {

using Kind = OpeningChoice::Kind;

/// Could a straight slide of the narrowest outline be drawn out of that mouth? Along its corners nothing is in the way.
bool draws_out(const OriginalResult& m, const Opening& o, int mouth) {
  if (!o.straight) return false;
  const Vec3 draw = mouth == 1 ? -o.axis() : o.axis();
  const double inset = 0.02 * o.width_mm;
  for (size_t i = 0; i < o.outline_mm.size(); i += 1 + o.outline_mm.size() / 48) {
    const Vec3 from = o.outline_mm[i] + unit(o.at_mm() - o.outline_mm[i]) * inset;
    if (m.rays->first_hit(from, draw, 0)) return false;
  }
  return true;
}

/// Said anew it takes the place of what was said, wherever in the opening that was.
Remedy settle(const Opening& o, const OpeningChoice* now, Kind kind, std::string words, int mouth = 1,
              double dimple_mm = 0, bool two = false) {
  return {std::move(words), edits::SettleOpening{std::string(name_of(kind)), now ? now->at_mm : o.at_mm(), mouth, 0.5,
                                                 dimple_mm, o.round_mm, two}};
}

/// The hardest Shore A whose pegs bear that much length over width.
std::string bears(const FlexRule& rule, double ratio) {
  const auto shore = rule.hardest_for(ratio);
  return shore ? "rubber of " + fixed(*shore, 0) + " A or softer bends out of that" : "no rubber bends out of that";
}

/// A slide that follows its opening may be held by it: told with the way out that frees it.
template <class At>
void slide_shape(std::vector<Finding>& out, At at, const Opening& o, const OpeningChoice* c, const OpeningGround& g) {
  if (is_prism(o) && !c->two) return;
  const PinPlan *mine = nullptr, *second = nullptr;
  for (const PinPlan& p : g.slides) {
    const bool here =
        std::abs(dot(p.draw, o.axis())) > 0.99 && length(cross(p.foot_mm - o.at_mm(), o.axis())) < o.long_mm;
    if (here) (mine ? second : mine) = &p;
  }
  if (!mine) return;
  // Some of its wall leans the wrong way by a chamfer or by noise: a hundredth of it is none.
  const double wall = o.outline_length_mm * o.length_mm();
  const auto held = [&](const PinPlan* p) { return p && p->body && p->locked_mm2 > 0.01 * wall; };
  if (held(mine) || held(second)) {
    Finding& f = at(tell(out, "opening-slide", Severity::stop, "The slide of " + o.name + " is held by its own opening",
                         fixed(std::max(mine->locked_mm2, second ? second->locked_mm2 : 0), 1) +
                             " mm² of its wall widen away from the mouth it is drawn out of."));
    if (!c->two) {
      f.remedies.push_back(
          settle(o, c, Kind::slide, "Draw it out of mouth " + std::to_string(3 - c->mouth), 3 - c->mouth));
      f.remedies.push_back(settle(o, c, Kind::slide, "Two slides that meet in it", 1, 0, true));
    }
    f.remedies.push_back(settle(o, c, Kind::fill, "Fill it, open it later"));
  } else if (!mine->body) {
    at(tell(out, "opening-slide-plain", Severity::caution, "A plain slide does not fill " + o.name,
            "The opening is not as wide all along: round the bar rubber gets in, and the casting keeps only its "
            "narrowest outline true."))
        .remedies = {settle(o, c, Kind::slide, "Two slides that meet in it", 1, 0, true)};
  }
}

}  // namespace

std::vector<Finding> opening_findings(const OpeningGround& g, const Shop& shop) {
  std::vector<Finding> out;
  const Shown& shown = shop.shown;
  const Openings& all = g.openings.found;
  if (!g.openings.refused.empty()) {
    tell(out, "opening-unseen", Severity::note, "Openings are not listed", g.openings.refused);
    return out;
  }
  for (const Error& e : g.master.unfilled) {
    Finding& f = tell(out, "opening-open", Severity::stop, "An opening cannot be closed as asked", e.text());
    f.where.step = e.where;
    f.answerable = false;
  }
  const SplitRules& rules = shop.rules.split;
  const double shore = g.undercuts.shore_a;
  for (size_t k = 0; k < all.openings.size(); ++k) {
    const Opening& o = all.openings[k];
    const OpeningChoice* c = choice_for(all, k, g.choices);
    if (c && c->closes()) continue;
    const bool pinned = std::any_of(g.treated.begin(), g.treated.end(), [&](const BoreTreatment& b) {
      return b.radius_mm <= 0 && opening_at(all, b.point_mm) == k;
    });
    const bool told_as_bore = !c && std::any_of(g.bores.begin(), g.bores.end(),
                                                [&](const Bore& b) { return opening_at(all, b.centroid_mm) == k; });
    if (pinned || told_as_bore) continue;
    const bool across = !along_pull(o, g.pull);
    const std::string size = words_of(o, shown);
    const auto at = [&](Finding& f) -> Finding& {
      f.where.point_mm = o.at_mm();
      f.where.step = o.name;
      return f;
    };
    const int easier = draws_out(g.master, o, 1) ? 1 : draws_out(g.master, o, 2) ? 2 : 0;
    if (c && c->kind == Kind::slide) {
      if (!o.straight)
        at(tell(out, "opening-slide", Severity::stop, "The slide of " + o.name + " cannot be drawn: the opening bends",
                size + ". Fill it, or let rubber meet in it."))
            .remedies = {settle(o, c, Kind::fill, "Fill it, open it later"),
                         settle(o, c, Kind::meet, "Rubber meets half-way")};
      else if (!draws_out(g.master, o, c->mouth)) {
        Finding& f = at(tell(out, "opening-slide", Severity::stop,
                             "The slide of " + o.name + " runs into the part as it is drawn",
                             "Out of mouth " + std::to_string(c->mouth) + " the part itself is in its way."));
        if (easier) f.remedies = {settle(o, c, Kind::slide, "Draw it out of mouth " + std::to_string(easier), easier)};
      } else {
        slide_shape(out, at, o, c, g);
      }
      continue;
    }
    // Rubber stands in it, by choice or because nobody has said otherwise.
    const double peg = c ? peg_mm(o, c) : across ? o.length_mm() : 0.5 * o.length_mm();
    const double ratio = peg / o.width_mm;
    std::vector<Remedy> remedies;
    if (c && c->kind == Kind::slit && c->share != 0.5)
      remedies.push_back(settle(o, c, Kind::slit, "Slit it half-way"));
    else if (!c || c->film_share() != 0.5)
      remedies.push_back(settle(o, c, Kind::meet, "Rubber meets half-way"));
    if (easier)
      remedies.push_back(settle(
          o, c, Kind::slide, o.round_mm ? "Hard pin Ø" + shown.length_figure(*o.round_mm, 2) : "A hard slide", easier));
    remedies.push_back(settle(o, c, Kind::fill, "Fill it, open it later"));
    if (o.round_mm && o.straight)
      remedies.push_back(settle(o, c, Kind::plug, "Plug, drill later", 1, std::round(*o.round_mm / 4 * 10) / 10));
    if (!c && across) remedies.push_back(settle(o, c, Kind::slit, "Slit the rubber in it"));
    if (across && !c) {
      at(tell(out, "opening-across", Severity::caution, o.name + " runs across the pull",
              size + ". Rubber joined through it would have to be torn: say what is to become of it."))
          .remedies = std::move(remedies);
    } else if (across && ratio > rules.flex.ratio(shore)) {
      at(tell(out, "opening-peg", Severity::caution, "The rubber in " + o.name + " does not bend out",
              "It stands " + shown.length(peg, 1) + " in, " + significant(ratio, 2) + " times the width of " +
                  shown.length(o.width_mm, 1) + "; " + bears(rules.flex, ratio) + " (rule of thumb), this is " +
                  fixed(shore, 0) + " A."))
          .remedies = std::move(remedies);
    } else if (ratio > rules.thin.slender_peg) {
      at(tell(out, "opening-peg", Severity::caution, "The rubber in " + o.name + " will wobble",
              "A peg of " + shown.length(peg, 1) + ", " + significant(ratio, 2) + " times the width of " +
                  shown.length(o.width_mm, 1) + ": over " + significant(rules.thin.slender_peg, 2) +
                  " it leans, traps air at its foot and tears (rule of thumb)."))
          .remedies = std::move(remedies);
    }
    if (c && c->kind == Kind::slit && c->step_mm > slit_step_most_mm(o, *c))
      at(tell(out, "opening-slit", Severity::caution, "The stepped slit of " + o.name + " runs out of mouth 2",
              "Its second half lies " + shown.length(c->step_mm, 1) + " farther in, and the opening goes on for " +
                  shown.length((1 - c->share) * o.length_mm(), 1) + " only."))
          .remedies = {settle(o, c, Kind::slit, "Slit it straight, half-way")};
    if (c && c->kind == Kind::plate) {
      const double step = plate_step_mm(g.master, o, c->mouth);
      if (step > 0.3)
        at(tell(out, "opening-plate", Severity::note,
                "A flat plate on " + o.name + " stands off by up to " + shown.length(step, 1),
                "The skin round mouth " + std::to_string(c->mouth) +
                    " is not flat: bend the sheet, or fill under it with clay, else a step of that height is left."));
    }
  }
  for (const OpeningChoice& c : g.choices) {
    if (opening_at(all, c.at_mm)) continue;
    Finding& f = tell(out, "opening-gone", Severity::caution, "What was said of an opening finds none there any more",
                      "It was to be: " + std::string(words_of(c.kind)) +
                          ". The master has changed since; say it of the opening that is meant.");
    f.where.point_mm = c.at_mm;
    f.remedies = {{"Forget it", edits::SettleOpening{"", c.at_mm}}};
  }
  if (all.unseen > 0)
    tell(out, "opening-narrow", Severity::note,
         counted(static_cast<long long>(all.unseen), "opening is", "openings are") + " too narrow to be followed",
         "Narrower than about " + shown.length(all.narrowest_mm, 1) +
             ". Rubber that stands in such slits tears: look for them, and tape or fill them on the master.");
  return out;
}

}  // namespace palinform
