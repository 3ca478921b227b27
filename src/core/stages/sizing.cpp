#include "stages/sizing.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"

namespace palinform {
namespace {

std::string percent(double p) { return fixed(100 * p, 0) + " %"; }
bool is_hole(const MeasuredSize& s) { return s.kind == SizeKind::bore || s.kind == SizeKind::slot; }

/// Ways out for one size that may miss its limits, by hand or by another material.
std::vector<Remedy> size_remedies(const Job& job, const Catalogue& catalogue, const MeasuredSize& s,
                                  const Prediction& p, const SizeResult& all) {
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
    const auto m = chain_materials(job, catalogue, other);
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
  const Resin* now = catalogue.resin(job.mix.resin_id);
  const Resin* better = nullptr;
  double better_p = p.p_in_limits + 0.05;
  for (const Resin& r : catalogue.resins) {
    // Only its like: a flexible resin is no answer to a rigid part that shrinks.
    if (!now || r.id == now->id || r.shore_d.has_value() != now->shore_d.has_value()) continue;
    Job other = job;
    other.mix.resin_id = r.id;
    other.size.learned.reset();
    const auto m = chain_materials(other, catalogue, s);
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

Finding size_finding(const Job& job, const Catalogue& catalogue, const MeasuredSize& s, const Prediction& p,
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
  f.remedies = size_remedies(job, catalogue, s, p, all);
  return f;
}

/// Total shrinkage of the catalogue's chain, %: rubber, heat and resin of one generation.
double total_pct(const ChainMaterials& m) {
  return 100 * (1 - (1 - m.sil_shrink_pct / 100) * (1 + m.sil_expansion_per_k * (m.gel_c - m.room_c)) *
                        (1 - m.res_shrink_pct / 100));
}

}  // namespace

std::optional<ChainMaterials> chain_materials(const Job& job, const Catalogue& catalogue, const MeasuredSize& size) {
  const Silicone* sil = catalogue.silicone(job.mix.silicone_id);
  const Resin* res = catalogue.resin(job.mix.resin_id);
  if (!sil || !res) return std::nullopt;
  const Rules& rules = catalogue.rules;
  ChainMaterials m;
  m.sil_shrink_pct = sil->shrink_pct;
  m.sil_shrink_u_pct = sil->shrink_u_pct;
  m.sil_expansion_per_k = sil->expansion_per_k;
  m.res_shrink_pct = shrink_at_section_pct(size.section_mm.value_or(rules.guessed_section_mm), res->thin_mm,
                                           res->shrink_thin_pct, res->thick_mm, res->shrink_thick_pct);
  m.res_shrink_u_pct = res->shrink_u_pct;
  if (job.size.learned && job.size.learned->silicone_id == sil->id && job.size.learned->resin_id == res->id) {
    // What was learnt is the total; its uncertainty stands for rubber and resin together.
    m.res_shrink_pct += job.size.learned->delta_pct;
    m.res_shrink_u_pct = job.size.learned->u_pct;
    m.sil_shrink_u_pct = 0;
  }
  m.gel_c = job.size.gel_c;
  m.gel_u_c = rules.gel_u_c;
  m.room_c = job.size.room_c;
  m.flash_mm = rules.flash_mm;
  m.flash_u_mm = rules.flash_u_mm;
  m.pin_u_mm = rules.pin_u_mm;
  m.generations = job.size.generations;
  m.finish_u_mm = rules.finish_u_mm;
  m.finish_allowance_mm = rules.finish_allowance_mm;
  return m;
}

Job size_projection(const Job& job, const SectionsResult* sections) {
  Job only;
  only.original.sizes = job.original.sizes;
  if (sections && sections->section_mm.size() == only.original.sizes.size())
    for (size_t i = 0; i < only.original.sizes.size(); ++i)
      if (!only.original.sizes[i].section_mm) only.original.sizes[i].section_mm = sections->section_mm[i];
  only.mix.silicone_id = job.mix.silicone_id;
  only.mix.resin_id = job.mix.resin_id;
  only.size.learned = job.size.learned;
  only.size.master = job.size.master;
  only.size.scale = job.size.scale;
  only.size.axis_scale = job.size.axis_scale;
  only.size.generations = job.size.generations;
  only.size.room_c = job.size.room_c;
  only.size.gel_c = job.size.gel_c;
  return only;
}

SizeResult predict_sizes(const Job& job, const Catalogue& catalogue, const std::vector<LearnedRecord>& records) {
  SizeResult r;
  r.scale = job.size.master_scale();
  for (const MeasuredSize& s : job.original.sizes) {
    const auto m = chain_materials(job, catalogue, s);
    if (!m) {
      r.findings.push_back({"size-no-material",
                            Severity::note,
                            {},
                            "Choose rubber and resin",
                            "The sizes of the casting follow from how both shrink.",
                            {},
                            false,
                            false});
      return r;
    }
    r.inputs.push_back({s, *m});
    r.predictions.push_back(predict(s, *m, r.scale));
    if (!r.tightest || r.predictions.back().p_in_limits < r.predictions[*r.tightest].p_in_limits)
      r.tightest = r.predictions.size() - 1;
  }
  r.best_scale = best_scale(r.inputs, ScaleFreedom::one).x;
  r.best_axis_scale = MasterScale::all(r.best_scale);
  const ScaleFreedom freedom =
      job.size.master == MasterKind::scaled_per_axis ? ScaleFreedom::per_axis : ScaleFreedom::one;
  if (freedom == ScaleFreedom::per_axis) r.best_axis_scale = best_scale(r.inputs, freedom);
  r.limits = scale_limits(r.inputs, freedom);
  for (size_t i = 0; i < r.predictions.size(); ++i)
    if (r.predictions[i].verdict != Verdict::holds)
      r.findings.push_back(size_finding(job, catalogue, job.original.sizes[i], r.predictions[i], r));
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
        for (Remedy& q : size_remedies(job, catalogue, job.original.sizes[i], r.predictions[i], r))
          if (std::holds_alternative<edits::PinSize>(q.edit) || std::holds_alternative<edits::FinishSize>(q.edit)) {
            q.label = job.original.sizes[i].name + ": " + q.label;
            f.remedies.push_back(std::move(q));
          }
      if (job.size.master == MasterKind::scaled) f.remedies.push_back({"A scale for each axis", edits::ScalePerAxis{}});
      r.findings.push_back(std::move(f));
    }
  if (const auto figure = workshop_figure(records, catalogue, job.mix.silicone_id, job.mix.resin_id);
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
    r.findings.push_back(std::move(f));
  }
  return r;
}

ChooseResult choose_materials(const Job& job, const Catalogue& catalogue) {
  ChooseResult out;
  const auto worst = [&](Job other, MaterialChoice& c) {
    other.size.learned = job.size.learned;
    const SizeResult r = predict_sizes(other, catalogue);
    if (!r.tightest) return;
    c.worst_p = r.predictions[*r.tightest].p_in_limits;
    c.worst_size = other.original.sizes[*r.tightest].name;
  };
  ResinNeeds needs = job.mix.needs;
  for (Candidate& c : resins_for(catalogue, needs)) {
    MaterialChoice m{std::move(c), std::nullopt, ""};
    Job other = job;
    other.mix.resin_id = m.candidate.id;
    worst(std::move(other), m);
    out.resins.push_back(std::move(m));
  }
  RubberNeeds rubber;
  rubber.pulls = job.copies;
  const MasterMaterial* master = catalogue.master(job.original.finish.master_material);
  rubber.master_inhibits = master && master->inhibits_addition;
  for (Candidate& c : silicones_for(catalogue, rubber)) {
    MaterialChoice m{std::move(c), std::nullopt, ""};
    Job other = job;
    other.mix.silicone_id = m.candidate.id;
    worst(std::move(other), m);
    out.silicones.push_back(std::move(m));
  }
  return out;
}

std::optional<LearnedShrink> workshop_figure(const std::vector<LearnedRecord>& records, const Catalogue& catalogue,
                                             const std::string& silicone_id, const std::string& resin_id) {
  const Silicone* sil = catalogue.silicone(silicone_id);
  const Resin* res = catalogue.resin(resin_id);
  if (!sil || !res) return std::nullopt;
  Estimate now{0, std::max(1e-4, std::hypot(sil->shrink_u_pct, res->shrink_u_pct))};
  int castings = 0, jobs = 0;
  std::string last;
  for (const LearnedRecord& r : records) {
    if (r.silicone_id != silicone_id || r.resin_id != resin_id || !(r.u_pct > 0)) continue;
    now = combine(now, {r.delta_pct, r.u_pct});
    castings += r.castings;
    ++jobs;
    last = std::max(last, r.adopted_at);
  }
  if (!jobs) return std::nullopt;
  return LearnedShrink{silicone_id, resin_id, now.value, now.u,
                       counted(castings, "casting", "castings") + " of " + counted(jobs, "job", "jobs") +
                           (last.size() >= 10 ? ", " + last.substr(0, 10) : "")};
}

Result<LearnResult> learn_from_castings(const Job& job, const Catalogue& catalogue,
                                        const std::vector<LearnedRecord>& records) {
  LearnResult out;
  const MasterScale scale = job.size.master_scale();
  Job plain = job;
  plain.size.learned.reset();  // the catalogue's own figure is where learning starts
  double catalogue_sum = 0;
  int news = 0;
  double u_prior = 0;
  for (const Casting& c : job.check.castings) {
    bool measured = false;
    for (const CastReading& r : c.readings) {
      const MeasuredSize* s = job.original.size(r.size_id);
      if (!s || r.values_mm.empty() || s->kind == SizeKind::angle || s->finish != Finishing::none) continue;
      const auto m = chain_materials(plain, catalogue, *s);
      if (!m) return Error{"choose rubber and resin first", "learning", ""};
      const ReadingMean mean = mean_of_readings(r.values_mm, s->resolution_mm, s->instrument_u_mm);
      LearnRow row;
      row.casting = c.number;
      row.name = s->name;
      row.formed = s->formed == FormedBy::pin && !s->pin_mm ? FormedBy::rubber : s->formed;
      row.master_mm = master_value_mm(*s) * scale.along(scale_share_of(*s));
      row.measured_mm = mean.mean_mm;
      row.u_mm = std::max(1e-4, std::hypot(mean.u_mm, master_u_mm(*s)));
      if (s->formed == FormedBy::open_face) row.stock_mm = s->stock_mm.value_or(0);
      if (row.formed != FormedBy::pin) {
        catalogue_sum += total_pct(*m) * std::max(1, job.size.generations);
        u_prior = std::hypot(m->sil_shrink_u_pct, m->res_shrink_u_pct);
        ++news;
      }
      out.rows.push_back(std::move(row));
      measured = true;
    }
    out.castings += measured;
  }
  if (news == 0)
    return Error{"no casting was measured at a size that rubber formed", "learning", "Measure a casting in Check."};
  out.catalogue_pct = catalogue_sum / news;
  Estimate prior{out.catalogue_pct, std::max(1e-4, u_prior)};
  for (const LearnedRecord& r : records)
    if (r.silicone_id == job.mix.silicone_id && r.resin_id == job.mix.resin_id && r.job_id != job.id && r.u_pct > 0)
      prior = combine(prior, {out.catalogue_pct + r.delta_pct, r.u_pct});
  out.prior_pct = prior;
  auto l = learn(out.rows, prior);
  if (!l) return l.error();
  out.learned = *std::move(l);
  const double n = std::max(1, job.size.generations);
  out.record = {job.mix.silicone_id,
                job.mix.resin_id,
                job.id,
                (out.learned.total_shrink_pct.value - out.catalogue_pct) / n,
                out.learned.total_shrink_pct.u / n,
                out.castings,
                static_cast<int>(out.learned.used),
                "",
                ""};
  std::vector<LearnedRecord> all;
  for (const LearnedRecord& r : records)
    if (r.job_id != job.id) all.push_back(r);
  all.push_back(out.record);
  if (const auto f = workshop_figure(all, catalogue, job.mix.silicone_id, job.mix.resin_id)) out.adopted = *f;
  return out;
}

}  // namespace palinform
