#include "findings/size.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"

namespace palinform {

namespace {

std::string percent(double p) { return fixed(100 * p, 0) + " %"; }
bool is_hole(const MeasuredSize& s) { return s.kind == SizeKind::bore || s.kind == SizeKind::slot; }

/// Ways out for one size that may miss its limits, by hand or by another material.
std::vector<Remedy> size_remedies(const Job& job, const Shop& shop, const MeasuredSize& s, const Prediction& p,
                                  const SizeResult& all) {
  std::vector<Remedy> out;
  const double middle = 0.5 * (s.lower_mm + s.upper_mm);
  if (s.formed == FormedBy::pin || s.kind == SizeKind::angle) return out;
  if (is_hole(s))
    out.push_back({std::string("Hard pin ") + (s.kind == SizeKind::bore ? "Ø" : "") + fixed(middle, 2),
                   edits::PinSize{s.id, std::round(middle * 1000) / 1000}});
  // By hand afterwards: offered where the chain leaves stock for it.
  const auto by_hand = [&](Finishing f, const std::string& label) {
    MeasuredSize other = s;
    other.finish = f;
    const auto m = chain_materials(job, shop, other);
    if (m && predict(other, *m, all.scale).p_in_limits > p.p_in_limits + 0.02)
      out.push_back({label, edits::FinishSize{s.id, std::string(name_of(f))}});
  };
  if (s.kind == SizeKind::bore) {
    by_hand(Finishing::ream, "Undersize, ream to " + fixed(middle, 2));
  } else if (s.kind == SizeKind::slot) {
    by_hand(Finishing::ream, "Undersize, file out");
  } else if (s.kind != SizeKind::centre && s.kind != SizeKind::radius) {
    by_hand(Finishing::skim, "Skim to " + fixed(middle, 2));
    by_hand(Finishing::shim, "Shim to " + fixed(middle, 2));
  }
  const Resin* now = shop.shelf.resin(job.mix.resin_id);
  const Resin* better = nullptr;
  double better_p = p.p_in_limits + 0.05;
  for (const Resin& r : shop.shelf.resins) {
    // Only its like: a flexible resin is no answer to a rigid part that shrinks.
    if (!now || r.id == now->id || r.shore_d.has_value() != now->shore_d.has_value()) continue;
    Job other = job;
    other.mix.resin_id = r.id;
    other.size.learned.reset();
    const auto m = chain_materials(other, shop, s);
    if (!m) continue;
    const double q = predict(s, *m, all.scale).p_in_limits;
    if (q > better_p) better_p = q, better = &r;
  }
  if (better) out.push_back({better->name + ": " + percent(better_p), edits::TakeResin{better->id}});
  if (job.size.master == MasterKind::scaled && std::abs(job.size.scale - all.best_scale) > 5e-6)
    out.push_back({"Scale " + fixed(all.best_scale, 4), edits::ScaleMaster{all.best_scale}});
  if (job.size.master == MasterKind::original)
    out.push_back({"Print the master × " + fixed(all.best_scale, 4), edits::ScaleMaster{all.best_scale}});
  return out;
}

Finding size_finding(const Job& job, const Shop& shop, const MeasuredSize& s, const Prediction& p,
                     const SizeResult& all) {
  const bool misses = p.verdict == Verdict::misses;
  Finding f{misses ? "size-misses" : "size-risk", misses ? Severity::stop : Severity::caution, {}, "", "", {}};
  f.where.size = s.id;
  f.where.point_mm = (s.from_mm + s.to_mm) * 0.5;
  const double middle = 0.5 * (s.lower_mm + s.upper_mm), off = p.cast_mm - middle;
  const bool outside = p.predicted_mm < s.lower_mm || p.predicted_mm > s.upper_mm;
  const std::string unit(unit_of(s.kind));
  if (s.finish != Finishing::none) {
    f.what = s.name + " may leave nothing to " + std::string(name_of(s.finish));
    f.why = "It comes out of the mould at " + fixed(p.cast_mm, 3) + " ±" + fixed(2 * p.cast_u_mm, 3) + " mm; to " +
            std::string(name_of(s.finish)) + " it to " + fixed(middle, 3) + " mm it must be " +
            (s.finish == Finishing::skim ? "larger." : "smaller.");
  } else {
    f.what = outside  ? s.name + " will come out too " + (off < 0 ? "small" : "large")
             : misses ? s.name + " scatters wider than its limits"
                      : s.name + " is not safe";
    f.why = "Predicted " + fixed(p.predicted_mm, 3) + " ±" + fixed(2 * p.u_mm, 3) + " " + unit + "; the limits are " +
            fixed(s.lower_mm, 3) + " to " + fixed(s.upper_mm, 3) + " " + unit + ". It lands inside " +
            fixed(100 * p.p_in_limits, 0) + " times in 100.";
  }
  f.remedies = size_remedies(job, shop, s, p, all);
  return f;
}

/// Moulds taken from a casting give smaller castings: what holds out of the first may not hold out of the others.
std::optional<Finding> older_finding(const SizeResult& r, const Job& job) {
  std::vector<std::string> lost;
  size_t worst = 0;
  for (size_t i = 0; i < r.older.size(); ++i) {
    if (r.older[i].verdict == Verdict::holds || r.older[i].verdict == r.predictions[i].verdict) continue;
    if (lost.empty() || r.older[i].p_in_limits < r.older[worst].p_in_limits) worst = i;
    lost.push_back(job.original.sizes[i].name);
  }
  if (lost.empty()) return std::nullopt;
  const MeasuredSize& s = job.original.sizes[worst];
  const Prediction& p = r.older[worst];
  Finding f{"size-older", p.verdict == Verdict::misses ? Severity::stop : Severity::caution, {}, "", "", {}};
  f.where.size = s.id;
  f.where.point_mm = (s.from_mm + s.to_mm) * 0.5;
  f.magnitude = 1 - p.p_in_limits;
  f.what = counted(static_cast<long long>(lost.size()), "size", "sizes") + " will not hold out of " +
           (job.days.moulds == 2 ? std::string("mould 2") : "moulds 2 to " + std::to_string(job.days.moulds));
  f.why = "They are taken from a casting, which has shrunk once already. " + s.name + " comes to " +
          fixed(p.predicted_mm, 3) + " ±" + fixed(2 * p.u_mm, 3) + " " + std::string(unit_of(s.kind)) + " there, " +
          fixed(r.predictions[worst].predicted_mm, 3) + " out of mould 1: inside its limits " + percent(p.p_in_limits) +
          " of the time, not " + percent(r.predictions[worst].p_in_limits) + ".";
  f.remedies.push_back({"Take every mould from the master", edits::MakeMoulds{job.days.moulds, false}});
  f.remedies.push_back({"Make one mould", edits::MakeMoulds{1, false}});
  return f;
}

}  // namespace

std::vector<Finding> size_findings(const SizeResult& r, const Job& job, const Shop& shop,
                                   const std::vector<LearnedRecord>& records) {
  std::vector<Finding> out;
  if (r.predictions.size() < job.original.sizes.size()) {
    out.push_back({"size-no-material",
                   Severity::note,
                   {},
                   "Choose rubber and resin",
                   "The sizes of the casting follow from how both shrink.",
                   {},
                   false,
                   false});
    return out;
  }
  for (size_t i = 0; i < r.predictions.size(); ++i)
    if (r.predictions[i].verdict != Verdict::holds)
      out.push_back(size_finding(job, shop, job.original.sizes[i], r.predictions[i], r));
  if (auto f = older_finding(r, job)) out.push_back(*std::move(f));
  if (job.size.master != MasterKind::original)
    for (const ScaleConflict& c : r.limits.conflicts) {
      const MeasuredSize &more = job.original.sizes[c.wants_more], &less = job.original.sizes[c.wants_less];
      Finding f{
          "size-conflict", Severity::caution, {}, more.name + " and " + less.name + " want different scales", "", {}};
      f.where.size = more.id;
      f.where.step = less.id;
      f.where.point_mm = (more.from_mm + more.to_mm) * 0.5;
      f.why = more.name + " holds from scale " + fixed(c.low, 4) + " up, " + less.name + " only up to " +
              fixed(c.high, 4) + ". No one figure meets both; bring one in by hand.";
      for (const size_t i : {c.wants_more, c.wants_less})
        for (Remedy& q : size_remedies(job, shop, job.original.sizes[i], r.predictions[i], r))
          if (std::holds_alternative<edits::PinSize>(q.edit) || std::holds_alternative<edits::FinishSize>(q.edit)) {
            q.label = job.original.sizes[i].name + ": " + q.label;
            f.remedies.push_back(std::move(q));
          }
      if (job.size.master == MasterKind::scaled) f.remedies.push_back({"A scale for each axis", edits::ScalePerAxis{}});
      out.push_back(std::move(f));
    }
  if (const auto figure = workshop_figure(records, shop, job.mix.silicone_id, job.mix.resin_id);
      figure && (!job.size.learned || job.size.learned->silicone_id != figure->silicone_id ||
                 job.size.learned->resin_id != figure->resin_id)) {
    Finding f{"size-learned", Severity::note, {}, "The workshop has measured this pair", "", {}};
    f.where.material = figure->resin_id;
    f.why = "Its castings shrank " + fixed(std::abs(figure->delta_pct), 2) + " % " +
            (figure->delta_pct < 0 ? "less" : "more") + " than the catalogue says, known to ±" +
            fixed(2 * figure->u_pct, 2) + " % (" + figure->from + ").";
    f.remedies.push_back(
        {"Use the workshop's figure",
         edits::UseLearned{figure->silicone_id, figure->resin_id, figure->delta_pct, figure->u_pct, figure->from}});
    out.push_back(std::move(f));
  }
  return out;
}

}  // namespace palinform
