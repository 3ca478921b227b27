#include "findings/mix.hpp"

#include <algorithm>
#include <cmath>
#include <map>
#include <utility>

#include "base/text.hpp"
#include "mix/dose.hpp"
#include "mix/shopping.hpp"
#include "shelf/changes.hpp"
#include "stages/materials.hpp"

namespace palinform {

std::vector<Finding> weighing_findings(const Weighing& w, double d, double tolerance_pct, const std::string& step) {
  std::vector<Finding> out;
  const double small = std::min(w.a_g, w.b_g);
  const double reached = std::abs(w.ratio_error_pct) + 2 * w.ratio_u_pct;
  if (unsafe_dose(w.ratio_error_pct, w.ratio_u_pct, tolerance_pct)) {
    // Nobody can accept this: only another way of measuring helps (M16).
    Finding f{"dose-unsafe", Severity::stop, {}, "This dose is not safe to weigh on this scale", "", {}};
    f.where.step = step;
    f.answerable = false;
    f.why = significant(small, 2) + " g on a scale of " + significant(d, 2) + " g: off by " +
            fixed(w.ratio_error_pct, 1) + " % and uncertain by ±" + fixed(2 * w.ratio_u_pct, 1) +
            " %; the material allows ±" + fixed(tolerance_pct, 1) + " %.";
    const bool b_small = w.b_g <= w.a_g;
    const double base = b_small ? w.a_g : w.b_g;
    const DoseHelp help = help_for_dose(base, small / base, d, tolerance_pct, 1.1, std::nullopt);
    if (help.division_g)
      f.remedies.push_back(
          {"A scale of " + shortest(*help.division_g, 3) + " g", edits::SetScaleDivision{*help.division_g}});
    // What is mixed over the need is thrown away, so a batch many times the need is no way out.
    const double more_pct = std::ceil(100 * (help.batch_g / w.total_g - 1));
    if (more_pct > 0 && more_pct <= 100)
      f.remedies.push_back(
          {"Mix " + significant(help.batch_g, 3) + " g, " + fixed(more_pct, 0) + " % more", edits::SetWaste{more_pct}});
    out.push_back(std::move(f));
  } else if (reached > tolerance_pct) {
    Finding f{"mix-ratio", Severity::caution, {}, "The scale cannot hold this ratio", "", {}};
    f.where.step = step;
    f.why = "Off by " + fixed(w.ratio_error_pct, 2) + " % and uncertain by ±" + fixed(2 * w.ratio_u_pct, 2) +
            " %; the material allows ±" + fixed(tolerance_pct, 1) + " %.";
    f.remedies = {{"Use a 0.01 g scale", edits::SetScaleDivision{0.01}}, {"Mix a little more", edits::SetWaste{15}}};
    if (d <= 0.01) f.remedies.erase(f.remedies.begin());
    out.push_back(std::move(f));
  }
  if (w.over_waste) {
    Finding f{"mix-over-waste", Severity::note, {}, "The scale has no reading that near", "", {}};
    f.where.step = step;
    f.why = significant(w.total_g, 4) + " g is the least that whole divisions of " + significant(d, 2) +
            " g make up; it is more than need and waste together.";
    f.remedies = {{"Use a finer scale", edits::SetScaleDivision{d / 10}}};
    out.push_back(std::move(f));
  }
  if (small < 20 * d) {
    Finding f{"mix-small-part", Severity::caution, {}, "One part is hardly a reading", "", {}};
    f.where.step = step;
    f.why =
        "The smaller part is " + significant(small, 3) + " g: fewer than 20 divisions of " + significant(d, 2) + " g.";
    f.remedies = {{"Use a finer scale", edits::SetScaleDivision{d / 10}}};
    out.push_back(std::move(f));
  }
  return out;
}

std::vector<Finding> stock_findings(const std::vector<Need>& needs, const std::vector<Lot>& lots,
                                    const std::string& today) {
  std::vector<Finding> out;
  for (const Need& n : needs) {
    double left = 0;
    bool any = false;
    for (const Lot& l : lots) {
      if (l.material_id != n.material_id || l.left_g <= 0) continue;
      any = true;
      const auto about = [&](const char* code, std::string what) -> Finding& {
        Finding f{code, Severity::caution, {}, std::move(what), "", {}};
        f.where.material = n.material_id;
        f.where.step = std::to_string(l.id);
        out.push_back(std::move(f));
        return out.back();
      };
      if (out_of_date(l, today)) {
        about("lot-out-of-date", "Lot " + l.label + " is out of date").why =
            n.material_name + ": good until " + l.expires_on +
            ". Old material may not cure, or not to its figures. Make a cup of it first, or open another.";
        continue;
      }
      left += l.left_g;
      const auto open = days_open(l, today);
      if (open && n.life_open_days > 0 && *open > n.life_open_days)
        about("lot-open-long", "Lot " + l.label + " has stood open for " + fixed(*open, 0) + " days").why =
            n.material_name + " keeps for " + fixed(n.life_open_days, 0) +
            " days once opened; wet air may have got at it. Make a cup of it first and enter how it cured in Mix.";
    }
    const auto drawn = draw_lots(lots, n.material_id, n.mass_g, today);
    if (drawn.size() > 1 && left >= n.mass_g) {
      Finding f{"lot-two", Severity::note,
                {},        n.material_name + " comes from " + std::to_string(drawn.size()) + " lots",
                "",        {}};
      f.where.material = n.material_id;
      for (const Draw& d : drawn) f.why += (f.why.empty() ? "" : ", then ") + grouped(d.g) + " g of " + d.label;
      f.why += ". Lots differ a little: do not mix A of one with B of the other.";
      out.push_back(std::move(f));
    }
    if (any && left < n.mass_g) {
      Finding f{"lot-short", Severity::caution, {}, "Not enough " + n.material_name, "", {}};
      f.where.material = n.material_id;
      f.why = grouped(n.mass_g) + " g are needed; the lots in date hold " + grouped(left) + " g.";
      if (const Packs p = packs_for(n.mass_g - left, n.pack_kg); !p.of.empty()) f.why += " Order " + p.words() + ".";
      out.push_back(std::move(f));
    }
  }
  return out;
}

namespace {

void tell_pour(const PourMix& p, const Job& job, std::vector<Finding>& findings) {
  for (Finding& f : weighing_findings(p.weighing, job.mix.scale_division_g, p.ratio_tolerance_pct, p.step)) {
    if (p.no_figures && f.code == "dose-unsafe") {
      // Grams in the reason or in a way out would tell the dose.
      f.why = "The peroxide cannot be measured within the " + fixed(p.ratio_tolerance_pct, 1) +
              " % its material allows: too much burns, too little never cures. No figure is shown for it.";
      for (Remedy& r : f.remedies)
        if (std::holds_alternative<edits::SetWaste>(r.edit)) r.label = "A larger batch";
    }
    findings.push_back(std::move(f));
  }
  if (p.batches.too_slow || p.batches.left_min < 0) {
    Finding f{"mix-pot-life", Severity::stop, {}, "It would gel in the cup", "", {}};
    f.where.step = p.step;
    f.why = "Stirring " + shortest(p.mix_min, 2) + " min" +
            (p.degas_min > 0 ? " and vacuum " + shortest(p.degas_min, 2) + " min" : "") +
            (p.wait_min > 0 ? " and rest " + shortest(p.wait_min, 2) + " min" : "") + " leave nothing of " +
            fixed(p.batches.pot_life_min, 1) + " min pot life at " + fixed(job.size.room_c, 0) + " °C for pouring.";
    if (p.degas_min > 0) f.remedies.push_back({"Skip the vacuum", edits::ClearAir{p.is_resin, "none"}});
    if (p.wait_min > 0) f.remedies.push_back({"Without the rest", edits::ClearAir{p.is_resin, "none"}});
    findings.push_back(std::move(f));
  } else if (p.batches.count > 1) {
    const bool many = p.batches.count > many_batches;
    Finding f{"mix-batches",
              many ? Severity::stop : Severity::note,
              {},
              counted(p.batches.count, "batch", "batches") + " for " + p.step,
              "",
              {}};
    f.where.step = p.step;
    f.why = p.batches.limited_by == Batches::By::cup
                ? "Foam to " + significant(p.foam_ratio, 2) + " × the height must fit a cup of " +
                      grouped(job.mix.cup_ml) + " ml (rule of thumb)."
                : "More would gel before it is poured.";
    if (many)
      f.why += " So many cups one after the other is no pour: take a larger cup, a slower grade or a smaller mould.";
    if (p.batches.limited_by == Batches::By::cup) {
      const double cup_ml = std::ceil(p.cup_ml_needed * p.batches.count / 100) * 100;
      f.remedies.push_back({"A cup of " + grouped(cup_ml) + " ml", edits::TakeCup{cup_ml}});
    }
    findings.push_back(std::move(f));
  }
  if (p.cups && !p.cups->fits && !p.batches.too_slow && p.batches.count <= many_batches) {
    Finding f{"cups-late", Severity::stop, {}, "The cups for " + p.step + " do not come in time", p.cups->why, {}};
    f.where.step = p.step;
    for (const CupsLever& l : p.cup_levers) {
      if (!l.fits) continue;
      if (l.what.find("person") != std::string::npos)
        f.remedies.push_back({"A second person", edits::AddHands{job.mix.people + 1}});
      else if (l.what.find("vacuum") != std::string::npos)
        f.remedies.push_back({"No vacuum", edits::ClearAir{p.is_resin, "none"}});
      else
        f.why += " Or " + l.what + ".";
    }
    findings.push_back(std::move(f));
  }
  if (!p.no_colour.empty()) {
    Finding f{"colour-refused", Severity::stop, {}, "The colour cannot be mixed so", p.no_colour + ".", {}};
    f.where.step = p.step;
    f.answerable = false;
    findings.push_back(std::move(f));
  }
  if (p.by_percent && !p.drops && 2 * p.weighing.ratio_u_pct > p.ratio_tolerance_pct && !p.no_figures)
    findings.back().why += " Or count it: weigh twenty drops together and write one's grams into its bottle.";
  for (const TintDose& d : p.tints) {
    if (!d.master_batch) continue;
    Finding f{"master-batch", Severity::note, {}, d.name + " is too little for the scale: a master batch", "", {}};
    f.where.step = p.step;
    f.where.material = d.name;
    f.why = significant(d.g, 2) + " g are wanted. Stir " + significant(d.stock_pigment_g, 3) + " g of it into " +
            significant(d.stock_part_g, 3) + " g of " + p.part(false) + ", and take " + significant(d.stock_use_g, 3) +
            " g of that.";
    findings.push_back(std::move(f));
  }
  for (const AdditionDose& a : p.adds) {
    const double d = job.mix.scale_division_g;
    if (a.g >= 20 * d) continue;
    Finding f{
        "addition-small", a.g < d ? Severity::stop : Severity::caution, {}, a.name + " is hardly a reading", "", {}};
    f.where.step = p.step, f.where.material = a.material_id;
    f.why = significant(a.g, 3) + " g: fewer than 20 divisions of " + significant(d, 2) +
            " g. Stir it into a larger lot of the part beforehand, or take a finer scale.";
    f.remedies = {{"Use a finer scale", edits::SetScaleDivision{d / 10}}};
    findings.push_back(std::move(f));
  }
  if (p.air == AirBy::self_clearing && p.self_clearing_mm <= 0) {
    Finding f{"not-self-clearing", Severity::caution, {}, p.material + " does not clear itself of air", "", {}};
    f.where.step = p.step;
    f.why = "Its sheet gives no thickness up to which it does. Degas it, or enter the figure in its bottle.";
    f.remedies = {{"Degas it", edits::ClearAir{p.is_resin, "vacuum"}}};
    findings.push_back(std::move(f));
  }
}

}  // namespace

namespace {

/// Coats of a side and the layers of its shell are much alike: what holds for several of them is told once, of the one
/// with the smallest dose, and the others are named.
void tell_pours(const std::vector<PourMix>& pours, const Job& job, std::vector<Finding>& findings) {
  struct Told {
    size_t at = 0;
    double total_g = 0;
    std::string name{};
    std::vector<std::string> others{};  // by name
  };
  std::map<std::string, Told> told;  // by side, material and code
  for (const PourMix& p : pours) {
    std::vector<Finding> of_it;
    tell_pour(p, job, of_it);
    for (Finding& f : of_it) {
      if (p.side.empty()) {
        findings.push_back(std::move(f));
        continue;
      }
      const auto [it, fresh] = told.try_emplace(p.side + "|" + p.material_id + "|" + f.code);
      Told& t = it->second;
      if (fresh) {
        t = {findings.size(), p.weighing.total_g, p.pour_name()};
        findings.push_back(std::move(f));
      } else if (p.weighing.total_g < t.total_g - 1e-9) {
        t.others.push_back(std::exchange(t.name, p.pour_name()));
        findings[t.at] = std::move(f);
        t.total_g = p.weighing.total_g;
      } else {
        t.others.push_back(p.pour_name());
      }
    }
  }
  for (auto& [key, t] : told) {
    if (t.others.empty()) continue;
    std::sort(t.others.begin(), t.others.end());
    findings[t.at].why += " That is " + t.name + "; so it is with " + in_a_row(t.others) + ".";
  }
}

}  // namespace

std::vector<Finding> mix_findings(const MixResult& r, const Job& job, const Shop& shop) {
  std::vector<Finding> out;
  if (job.mix.guessed) {
    Finding f{"mix-guessed", Severity::note, {}, "The shop's usual materials stand in", "", {}};
    f.why = shop.shelf.silicone(job.mix.silicone_id)->name + " and " + shop.shelf.resin(job.mix.resin_id)->name +
            ", a cup of " + grouped(job.mix.cup_ml) + " ml and a scale of " + significant(job.mix.scale_division_g, 2) +
            " g: nobody chose them for this job yet.";
    f.remedies = {{"They are right", edits::ConfirmMaterials{}}};
    out.push_back(std::move(f));
  }
  tell_pours(r.pours, job, out);
  const auto first = planned_rubber(job.mix, shop);
  if (const auto second = second_rubber(job, shop);
      first && second && std::abs(first->shrink_pct - second->shrink_pct) > 0.02) {
    Finding f{"two-rubbers", Severity::caution, {}, "The two halves shrink apart", "", {}};
    f.why = first->name + " shrinks by " + fixed(first->shrink_pct, 2) + " %, " + second->name + " by " +
            fixed(second->shrink_pct, 2) +
            " %. Sizes are reckoned with the first; those that side b forms differ by that much, and over a long "
            "line the halves stand off each other.";
    f.where.material = second->id;
    f.magnitude = std::abs(first->shrink_pct - second->shrink_pct);
    out.push_back(std::move(f));
  }
  for (const PourMix& p : r.pours)
    if (p.lumps && p.batches.count > 1) {
      const double each = p.mix_min + 2;  // kneaded, and pressed on
      const double most = 1 + std::floor((p.batches.pot_life_min - p.mix_min) / each);
      if (p.batches.count <= most * job.mix.people) continue;
      Finding f{"putty-bond", Severity::caution, {}, "The last lump would not bond to the first", "", {}};
      f.where.step = p.step;
      f.why = counted(p.batches.count, "lump", "lumps") + " of " + fixed(p.weighing.total_g, 0) + " g; in " +
              fixed(p.batches.pot_life_min, 1) + " min one pair of hands kneads and presses " + fixed(most, 0) + ".";
      const int hands = static_cast<int>(std::ceil(p.batches.count / std::max(1.0, most)));
      if (hands <= 9) f.remedies = {{counted(hands, "pair of hands", "pairs of hands"), edits::AddHands{hands}}};
      out.push_back(std::move(f));
    }
  return out;
}

std::vector<Finding> stirring_findings(const MixSetup& mix, const Shop& shop) {
  std::vector<Finding> out;
  MixSetup plain = mix;
  plain.rubber_adds.clear(), plain.resin_adds.clear();
  const auto tell = [&](const auto& material, const std::vector<Addition>& adds) {
    if (!material || adds.empty()) return;
    const auto s = stirred(*material, adds, shop.rules.mix);
    if (s) return;
    Finding f{"addition-solid", Severity::stop, {}, s.error().where + " makes a solid of it", s.error().what + ".", {}};
    f.where.material = adds.front().material_id;
    f.answerable = false;
    out.push_back(std::move(f));
  };
  tell(planned_rubber(plain, shop), mix.rubber_adds);
  tell(planned_resin(plain, shop), mix.resin_adds);
  return out;
}

std::vector<Finding> shelf_findings(const MixSetup& mix, const std::vector<Material>& now) {
  std::vector<Finding> out;
  for (const auto* copy : {&mix.rubber, &mix.resin}) {
    if (!*copy) continue;
    const Material& was = **copy;
    const auto at = std::find_if(now.begin(), now.end(), [&](const Material& m) { return m.id == was.id; });
    if (at == now.end() || at->retired) {
      if (at != now.end() && was.retired) continue;
      Finding f{"shelf-without", Severity::note, {}, was.name + " is no longer on the shelf", "", {}};
      f.where.material = was.id;
      f.why = "The job keeps the figures it was planned with.";
      out.push_back(std::move(f));
      continue;
    }
    const auto changes = changes_between(was, *at);
    if (changes.empty()) continue;
    Finding f{"shelf-changed", Severity::caution, {}, "The shelf has changed: take the new figures?", "", {}};
    f.where.material = was.id;
    f.why = was.name + ": ";
    for (size_t i = 0; i < changes.size() && i < 4; ++i) f.why += (i ? "; " : "") + changes[i];
    if (changes.size() > 4) f.why += "; and " + std::to_string(changes.size() - 4) + " more";
    f.why += ". The job is planned with the figures it had.";
    f.magnitude = static_cast<double>(changes.size());
    f.remedies = {{"Take the new figures", edits::TakeFigures{was.id}}};
    out.push_back(std::move(f));
  }
  return out;
}

}  // namespace palinform
