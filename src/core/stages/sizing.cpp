#include "stages/sizing.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"
#include "stages/materials.hpp"

namespace palinform {
namespace {

/// Total shrinkage of the catalogue's chain, %: rubber, heat and resin of one generation.
double total_pct(const ChainMaterials& m) {
  return 100 * (1 - (1 - m.sil_shrink_pct / 100) * (1 + m.sil_expansion_per_k * (m.gel_c - m.room_c)) *
                        (1 - m.res_shrink_pct / 100));
}

}  // namespace

std::optional<ChainMaterials> chain_materials(const Job& job, const Shop& shop, const MeasuredSize& size) {
  const Silicone* sil = shop.shelf.silicone(job.mix.silicone_id);
  const Resin* res = shop.shelf.resin(job.mix.resin_id);
  if (!sil || !res) return std::nullopt;
  const Rules& rules = shop.rules;
  ChainMaterials m;
  m.sil_shrink_pct = sil->shrink_pct;
  m.sil_shrink_u_pct = sil->shrink_u_pct;
  m.sil_expansion_per_k = sil->expansion_per_k;
  m.res_shrink_pct = shrink_at_section_pct(size.section_mm.value_or(rules.size.guessed_section_mm), res->thin_mm,
                                           res->shrink_thin_pct, res->thick_mm, res->shrink_thick_pct);
  m.res_shrink_u_pct = res->shrink_u_pct;
  if (job.size.learned && job.size.learned->silicone_id == sil->id && job.size.learned->resin_id == res->id) {
    // What was learnt is the total; its uncertainty stands for rubber and resin together.
    m.res_shrink_pct += job.size.learned->delta_pct;
    m.res_shrink_u_pct = job.size.learned->u_pct;
    m.sil_shrink_u_pct = 0;
  }
  m.gel_c = job.size.gel_c;
  m.gel_u_c = rules.size.gel_u_c;
  m.room_c = job.size.room_c;
  // A line that is kept open comes out as thick as its strip.
  m.flash_mm = rules.size.flash_mm + job.flow.edge_gap_mm;
  m.flash_u_mm = rules.size.flash_u_mm;
  m.pin_u_mm = rules.size.pin_u_mm;
  m.generations = job.size.generations;
  m.finish_u_mm = rules.size.finish_u_mm;
  m.finish_allowance_mm = rules.size.finish_allowance_mm;
  return m;
}

Job size_projection(const Job& job, const SectionsResult* sections) {
  Job only;
  only.original.sizes = job.original.sizes;
  if (sections && sections->section_mm.size() == only.original.sizes.size())
    for (size_t i = 0; i < only.original.sizes.size(); ++i)
      if (!only.original.sizes[i].section_mm) only.original.sizes[i].section_mm = sections->section_mm[i];
  only.mix = materials_only(job.mix);
  only.size.learned = job.size.learned;
  only.size.master = job.size.master;
  only.size.scale = job.size.scale;
  only.size.axis_scale = job.size.axis_scale;
  only.size.generations = job.size.generations;
  only.size.room_c = job.size.room_c;
  only.size.gel_c = job.size.gel_c;
  only.flow.edge_gap_mm = job.flow.edge_gap_mm;
  only.days.moulds = job.days.moulds;
  only.days.ends = job.days.ends;
  only.days.from_first_casting = job.days.copies_its_casting(job.mould.planned_form());
  return only;
}

SizeResult predict_sizes(const Job& job, const Shop& shop) {
  SizeResult r;
  r.scale = job.size.master_scale();
  for (const MeasuredSize& s : job.original.sizes) {
    const auto m = chain_materials(job, shop, s);
    if (!m) { return r; }
    r.inputs.push_back({s, *m});
    r.predictions.push_back(predict(s, *m, r.scale));
    if (job.days.copies_its_casting(job.mould.planned_form())) {
      ChainMaterials again = *m;
      ++again.generations;
      r.older.push_back(predict(s, again, r.scale));
    }
    if (!r.tightest || r.predictions.back().p_in_limits < r.predictions[*r.tightest].p_in_limits)
      r.tightest = r.predictions.size() - 1;
  }
  r.best_scale = best_scale(r.inputs, ScaleFreedom::one).x;
  r.best_axis_scale = MasterScale::all(r.best_scale);
  const ScaleFreedom freedom =
      job.size.master == MasterKind::scaled_per_axis ? ScaleFreedom::per_axis : ScaleFreedom::one;
  if (freedom == ScaleFreedom::per_axis) r.best_axis_scale = best_scale(r.inputs, freedom);
  r.limits = scale_limits(r.inputs, freedom);
  return r;
}

MasterScale rounded_scale(const MasterScale& s) {
  const auto r = [](double v) { return std::round(v * 1e5) / 1e5; };
  return {r(s.x), r(s.y), r(s.z)};
}

Job with_master(Job job, MasterKind kind, const Shop& shop, const SectionsResult* sections) {
  job.size.master = kind;
  const bool one = kind == MasterKind::scaled && job.size.scale == 1;
  const bool axes = kind == MasterKind::scaled_per_axis && job.size.axis_scale == MasterScale{};
  if (!one && !axes) return job;
  const SizeResult best = predict_sizes(size_projection(job, sections), shop);
  if (best.predictions.empty()) return job;
  if (one) job.size.scale = rounded_scale(MasterScale::all(best.best_scale)).x;
  if (axes) job.size.axis_scale = rounded_scale(best.best_axis_scale);
  return job;
}

ChooseResult choose_materials(const Job& job, const Shop& shop) {
  ChooseResult out;
  const auto worst = [&](Job other, MaterialChoice& c) {
    other.size.learned = job.size.learned;
    const SizeResult r = predict_sizes(other, shop);
    if (!r.tightest) return;
    c.worst_p = r.predictions[*r.tightest].p_in_limits;
    c.worst_size = other.original.sizes[*r.tightest].name;
  };
  ResinNeeds needs = job.mix.needs;
  for (Candidate& c : resins_for(shop.shelf, needs)) {
    MaterialChoice m{std::move(c), std::nullopt, ""};
    Job other = job;
    other.mix.resin_id = m.candidate.id;
    worst(std::move(other), m);
    out.resins.push_back(std::move(m));
  }
  RubberNeeds rubber;
  rubber.pulls = job.copies;
  const MasterMaterial* master = shop.shelf.master(job.original.finish.master_material);
  rubber.master_inhibits = master && master->inhibits_addition;
  for (Candidate& c : silicones_for(shop.shelf, rubber)) {
    MaterialChoice m{std::move(c), std::nullopt, ""};
    Job other = job;
    other.mix.silicone_id = m.candidate.id;
    worst(std::move(other), m);
    out.silicones.push_back(std::move(m));
  }
  return out;
}

std::optional<LearnedShrink> workshop_figure(const std::vector<LearnedRecord>& records, const Shop& shop,
                                             const std::string& silicone_id, const std::string& resin_id) {
  const Silicone* sil = shop.shelf.silicone(silicone_id);
  const Resin* res = shop.shelf.resin(resin_id);
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

Result<LearnResult> learn_from_castings(const Job& job, const Shop& shop, const std::vector<LearnedRecord>& records) {
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
      const auto m = chain_materials(plain, shop, *s);
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
  if (const auto f = workshop_figure(all, shop, job.mix.silicone_id, job.mix.resin_id)) out.adopted = *f;
  return out;
}

}  // namespace palinform
