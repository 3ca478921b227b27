#include "findings/mould.hpp"

#include <algorithm>
#include <cmath>
#include <set>

#include "base/text.hpp"
#include "findings/tell.hpp"
#include "job/parts.hpp"
#include "mould/stages.hpp"

namespace palinform {

std::vector<Finding> mould_findings(const Mould& m, double wall_rule, int learnt_from) {
  std::vector<Finding> out;
  if (m.wall_mm < wall_rule - 0.05) {
    Finding f{"mould-wall-thin", Severity::caution, {}, "The wall is thinner than the rule", "", {}};
    f.why = fixed(m.wall_mm, 1) + " mm against " + fixed(wall_rule, 1) +
            (learnt_from > 0 ? " mm, as the shop's own moulds taught."
                             : " mm (rule of thumb: size and softness of the rubber).") +
            " A thin wall bows when the mould is banded.";
    f.remedies = {{"Make it " + fixed(wall_rule, 1) + " mm", edits::SetWall{wall_rule}}};
    out.push_back(std::move(f));
  }
  if (m.steepest_deg > 60) {
    Finding f{"mould-steep", Severity::caution, {}, "The parting surface is steep", "", {}};
    f.why = "It climbs at " + fixed(m.steepest_deg, 0) +
            "° beside the part; over 60° the halves wedge and rub as they close.";
    out.push_back(std::move(f));
  }
  if (m.hold_down_n && *m.hold_down_n > 0.05) {
    Finding f{"mould-floats", Severity::caution, {}, "The master will float in the rubber", "", {}};
    f.why = "Hold it down with at least " + significant(*m.hold_down_n, 2) + " N (" +
            fixed(*m.hold_down_n / 9.80665 * 1000, 0) + " g).";
    out.push_back(std::move(f));
  }
  return out;
}

std::vector<Finding> key_findings(const KeyPlan& plan, const KeyRules& rules) {
  std::vector<Finding> out;
  const auto add = [&](const char* code, Severity severity, std::string what, std::string why) -> Finding& {
    return tell(out, code, severity, std::move(what), std::move(why));
  };
  const bool ring = plan.kind == KeyKind::bed || plan.kind == KeyKind::rim || plan.kind == KeyKind::wave;
  if (!ring && plan.keys.size() < 2) {
    Finding& f = add("keys-none", Severity::caution, "There is no room for two keys on the land",
                     "The halves would slip against each other. Make the wall wider, or use a stepped rim.");
    f.remedies = {{"Stepped rim", edits::PlaceKeys{"rim"}}};
    return out;
  }
  if (!plan.assembly_unique) {
    Finding& f = add("keys-both-ways", Severity::stop, "The mould closes the wrong way round too",
                     "The keys map onto themselves when one half is turned. Move one of them off the pattern.");
    f.remedies = {{"Place them anew", edits::PlaceKeys{std::string(name_of(plan.kind))}}};
  }
  if (plan.draft_deg < 10)
    add("keys-lock", Severity::caution, "The keys bind along the pull",
        "Their sides have " + fixed(plan.draft_deg, 0) +
            "° of draft; under 10° rubber on rubber binds (rule of thumb).");
  double nearest = 1e300;
  for (const Key& k : plan.keys) nearest = std::min(nearest, k.clearance_mm);
  if (!ring && nearest < rules.clearance_mm - 0.05) {
    Finding& f = add("keys-near", Severity::caution, "A key stands too near the part or the wall",
                     fixed(std::max(0.0, nearest), 1) + " mm are left; " + fixed(rules.clearance_mm, 1) +
                         " mm keep the rubber between from tearing (rule of thumb).");
    f.remedies = {{"Place them anew", edits::PlaceKeys{std::string(name_of(plan.kind))}}};
  }
  return out;
}

std::vector<Finding> rim_findings(const RimFit& rim, double clamp_n) {
  std::vector<Finding> out;
  if (!rim.enters())
    tell(out, "rim-tight", Severity::caution, "The rim does not go into its groove",
         "Its draft leaves " + fixed(rim.play_mm, 2) + " mm a side; the halves shrink apart by " +
             fixed(rim.misfit_mm, 2) +
             " mm at the ends of the longer side. More draft, less lip, or one rubber for both.");
  if (rim.holds_n < clamp_n)
    tell(out, "rim-bands", Severity::note, "The rim alone does not hold it shut",
         "Its flanks stick with about " + significant(rim.holds_n, 2) + " N (rule of thumb); the head wants " +
             significant(clamp_n, 2) + " N. Bands or clamps as well.");
  return out;
}

std::vector<Finding> draws_past_findings(const std::vector<NoWayOut>& stuck, const MasterSet& set,
                                         const std::vector<std::string>& names, const Shown& shown) {
  std::vector<Finding> out;
  std::set<std::string> told;
  for (const NoWayOut& s : stuck) {
    const size_t part = set.masters[s.master].part;
    const std::string pin = s.pin + (part < names.size() ? " of " + names[part] : "");
    // What meets a master is told first: farther apart it may be short as well.
    const bool meets = std::any_of(stuck.begin(), stuck.end(), [&](const NoWayOut& o) {
      return o.pin == s.pin && set.masters[o.master].part == part && o.meets;
    });
    if (meets != s.meets.has_value() || !told.insert(pin).second) continue;
    Finding& f = meets ? tell(out, "pin-meets-master", Severity::stop, pin + " is drawn into the master beside it",
                              "It leaves sideways, and another master of this box stands in its way. Set it to be "
                              "drawn another way, or take one master to a box.")
                       : tell(out, "pin-short", Severity::caution, pin + " ends in the rubber",
                              "Beside other masters the box's wall stands " + shown.length(s.short_mm, 1) +
                                  " farther off than it reaches: nothing is left to draw it by. Make it that much "
                                  "longer, or take one master to a box.");
    f.where.point_mm = s.at_mm;
    f.where.step = pin;
    const auto together =
        std::count_if(set.masters.begin(), set.masters.end(), [](const SetMaster& m) { return m.part == 0; });
    if (together > 1) f.remedies = {{"One master to a box", edits::MastersTogether{1}}};
    f.magnitude = meets ? 0 : s.short_mm;
  }
  return out;
}

std::vector<Finding> form_findings(const FormsResult& r, const MouldResult& mould, const Job& job, const Rules& rules) {
  std::vector<Finding> out;
  const Mould& m = mould.block();
  const auto add = [&](const char* code, Severity severity, std::string what, std::string why) -> Finding& {
    return tell(out, code, severity, std::move(what), std::move(why));
  };
  const FormPlan* best = nullptr;
  for (const FormPlan& p : r.plans)
    if (p.recommended) best = &p;
  const auto offer = [&](Finding& to) {
    if (best && best->form != r.form)
      to.remedies.push_back({std::string(words_of(best->form)), edits::TakeForm{std::string(name_of(best->form))}});
  };
  if (!r.plan().works)
    offer(add("form-no", Severity::stop, std::string(words_of(r.form)) + " does not suit this part",
              r.plan().reasons.empty() ? "" : r.plan().reasons.front() + "."));
  else if (best && best->form != r.form && job.mould.form.empty() &&
           best->cost < rules.mould.form_better_share * r.plan().cost)
    offer(add("form-better", Severity::note, std::string(words_of(best->form)) + " would be less work",
              (best->reasons.empty() ? "" : best->reasons.front() + ". ") + "Hands " + fixed(best->hands_min / 60, 1) +
                  " h against " + fixed(r.plan().hands_min / 60, 1) + " h (rules of thumb)."));
  if (r.parting_n > rules.mould.parting_by_hand_n && r.form == Form::cup_core)
    add("core-sticks", Severity::caution, "The core does not come out by hand",
        "About " + fixed(r.parting_n, 0) +
            " N to draw it (rule of thumb): a jack screw through its plate on the cup's rim, slowly, with release.");
  else if (r.parting_n > rules.mould.parting_by_hand_n)
    add("halves-stick", Severity::caution, "The halves will not come apart by hand",
        "About " + fixed(r.parting_n, 0) +
            " N over the land (rule of thumb). Leave pry slots at the "
            "corners and let air in from one side.");
  // In a box of the shop that is too long its plates come first: what they close off needs no blocks and no stages.
  const bool too_long = !r.box.own.empty() && !r.box.dammed && !r.box.plates.empty();
  if (r.dams.rubber_mm3 > rules.mould.dams_worth_share * m.rubber_mm3 && r.halved() && r.box.own.empty()) {
    std::string blocks;
    for (const Box3& b : r.dams.blocks_mm)
      blocks += (blocks.empty() ? "" : ", ") + fixed(b.size().x, 0) + " × " + fixed(b.size().y, 0);
    add("box-dams", Severity::note,
        counted(r.dams.corners, "block", "blocks") + " in the box's corners " +
            (r.dams.corners == 1 ? "saves " : "save ") + fixed(r.dams.rubber_mm3 * 1e-3, 0) + " ml",
        "Upright, as high as the box: " + blocks + " mm. They stay the wall away from the part.")
        .remedies = {{"Put them in", edits::PutDams{true}}};
  }
  if (r.halved() && !m.part_high_mm.empty() && !too_long)
    for (const bool upper : {true, false}) {
      if (m.pours.size() == 2 && m.pours[upper ? 0 : 1].stage_mm3 > 0) continue;
      if (r.brushes(upper)) continue;
      const StagedPour two = two_stage_pour(m, upper);
      if (two.saved_mm3 <
          std::max(1e3 * rules.mould.two_stage_worth_ml, rules.mould.two_stage_worth_share * m.rubber_mm3))
        continue;
      add("pour-stages", Severity::note,
          std::string("Pour ") + (upper ? "a" : "b") + " in two stages saves " + fixed(two.saved_mm3 * 1e-3, 0) + " ml",
          "All over to " + fixed(m.inner_mm.size().z - two.height_mm, 0) +
              " mm under its fill line; once it has gelled, a frame of " + fixed(two.frame_u_mm, 0) + " × " +
              fixed(two.frame_v_mm, 0) +
              " mm round what stands higher, and the rest. Rubber bonds to itself while it is fresh.")
          .remedies = {{"Pour it in two stages", edits::PourInStages{upper, true}}};
    }
  if (r.plan().boxes > 0 && !r.box.own.empty()) {
    const BoxPlan& box = r.box;
    if (!box.works) {
      Finding& f =
          add(box.told.ends_with("low") ? "box-low" : "box-small", Severity::stop, "This box does not hold the mould",
              box.told + ". Inside it should have " + fixed(r.needed_mm.x, 0) + " × " + fixed(r.needed_mm.y, 0) +
                  " mm, and " + fixed(r.needed_mm.z + rules.mould.box.rim_mm, 0) + " mm of height with its rim.");
      f.remedies = {{"A box made to measure", edits::TakeBox{}}};
      f.answerable = false;
    } else if (!box.plates.empty() && !box.dammed) {
      double saved = 0;
      for (const DamPlate& p : box.plates) saved += p.saves_mm3;
      if (saved > rules.mould.dams_worth_share * m.rubber_mm3) {
        std::string how;
        for (const DamPlate& p : box.plates)
          how += (how.empty() ? "" : "; ") + std::string("one of ") + fixed(p.wide_mm, 0) + " × " +
                 fixed(p.high_mm, 0) + " mm " + p.where + ", " + fixed(p.from_end_mm, 0) + " mm from its far " +
                 (p.where.starts_with("across") ? "end" : "side");
        Finding& f = add("box-plates", Severity::note,
                         "Dam plates save " + fixed(saved * 1e-3, 0) + " ml of rubber in this box", how + ".");
        f.remedies = {{"Put them in", edits::TakeBox{box.own, box.inner_mm, true}}};
      }
    }
  }
  if (!r.grooves.empty()) {
    const double ml = grooves_ml(r.grooves), minutes = rules.days.steps.by_syringe_min(r.grooves.size(), ml);
    Finding& f = add("grooves", Severity::note,
                     counted(static_cast<long long>(r.grooves.size()), "narrow place is", "narrow places are") +
                         " filled by syringe",
                     "Under " + fixed(rules.mould.groove_mm, 1) + " mm wide, the deepest " +
                         fixed(r.grooves.front().deep_mm, 0) + " mm under the rim: " + significant(ml, 2) +
                         " ml in all, the deepest first, about " + fixed(minutes, 0) +
                         " min of the pot life. A stream would shut air in there.");
    f.where.point_mm = r.grooves.front().at_mm;
  }
  if (job.mould.masters > 1 && !in_a_box(r.form) && !parts_on_bar(job))
    add("masters-form", Severity::caution, std::string(words_of(r.form)) + " takes one master",
        "Several in one box are for moulds poured in a box: two halves, open face, or whole. This one is reckoned for "
        "one.");
  if (!job.parts.empty() && !parts_together(job))
    add("parts-form", Severity::caution, std::string(words_of(r.form)) + " takes the part in hand alone",
        counted(static_cast<long long>(job.parts.size()), "other part needs", "other parts need") +
            " a mould of their own: no rubber, no resin and no step here is reckoned for them. In one box stand parts "
            "of a two-part block or a squeeze mould, on one bar those of a strip.")
        .remedies = {{"Two-part block", edits::TakeForm{std::string(name_of(Form::two_part))}}};
  if (r.plan().boxes > 0 && r.box.own.empty() && !r.box.works)
    add("box-no-tub", Severity::caution, "No tub on the list is large enough", r.box.told + ".");
  return out;
}

}  // namespace palinform
