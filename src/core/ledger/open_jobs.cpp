#include "ledger/open_jobs.hpp"

#include <algorithm>

#include "bench/done_steps.hpp"
#include "job/parts.hpp"
#include "ledger/shop_books.hpp"
#include "ledger/shopping.hpp"
#include "stages/materials.hpp"

namespace palinform {

bool has_work_left(const Job& job, int moulds_standing) {
  const Ends ends = job.days.ends;
  if (ends == Ends::both || ends == Ends::castings) return pulls_to_go(job) > 0;
  return ends != Ends::mould || moulds_standing < job.days.moulds;
}

Result<OpenShop> open_shop(Workshop& w, const Shop& shop, const OpenShopAsked& asked, const Progress& progress) {
  const auto rows = w.jobs();
  if (!rows) return rows.error();
  OpenShop out;
  out.now = asked.now;
  const Books books = books_of(w, asked.today);
  out.shop.people = books.equipment.people;
  out.shop.holidays = books.others.holidays;
  out.shop.places = books.others.places;
  std::map<std::string, JobCard> kept;
  if (const auto cards = w.cards())
    for (const std::string& text : *cards)
      if (const auto c = card_from_json(text)) kept[c->job_id] = *c;
  std::map<std::string, BenchRun> runs;
  if (const auto all = w.runs())
    for (const RunRow& r : *all)
      if (auto run = run_from_json(r.document)) runs[r.job_id] = *std::move(run);
  std::map<std::string, int> stands;
  if (const auto moulds = w.moulds())
    for (const MouldRecord& m : *moulds)
      if (m.retired_on.empty()) ++stands[m.job_id];

  struct Wanted {
    Job job;
    WallMinute start = 0;
    Begun begun;
    bool any = false;
  };
  std::vector<Wanted> wanted;
  for (const JobRow& row : *rows) {
    if (!row.open()) continue;
    if (progress.cancelled()) return Error::stopped();
    OpenJobNow now;
    now.id = row.id, now.name = row.name, now.client = row.client, now.copies = row.copies, now.made = row.castings;
    if (const auto t = parse_wall_time(row.promised + "T00:00")) now.due = *t + day_min;
    if (const auto it = runs.find(row.id); it != runs.end()) now.run = it->second;
    Wanted want;
    auto job = w.load_job(row.id);
    if (!job) {
      now.refused = job.error().text();
    } else {
      now.mesh = job->original.mesh.hash;
      if (now.mesh.empty() && job->original.has_shape()) {
        now.drawn = job->original.drawn;
        now.mesh = "drawn " + hash_of(job->original.drawn).hex();
      }
      const std::vector<PartCount> counts = part_counts(*job);
      now.made = counts[place_in_hand(*job)].made;
      if (counts.size() > 1) now.parts = counts;
      job->mix = with_copies(std::move(job->mix), shop);
      if (has_work_left(*job, stands[row.id])) {
        want.job = *std::move(job);
        want.any = true;
        const auto start = parse_wall_time(want.job.days.start);
        want.start = start.value_or(asked.now);
        want.begun.now = asked.now;
        const std::string key = card_key(want.job, shop);
        if (asked.in_hand && asked.in_hand->job_id == row.id && asked.in_hand->key == key) {
          now.card = *asked.in_hand, now.card_there = true;
          if (const auto it = kept.find(row.id); !w.read_only() && (it == kept.end() || it->second.key != key))
            (void)w.keep_card(row.id, card_to_json(now.card));
        } else if (const auto it = kept.find(row.id); it != kept.end())
          now.card = it->second, now.card_there = it->second.key == key;
      } else {
        now.card.job_id = row.id;
        now.card.knots.fill(Knot::settled);
        now.card.figures.fill("–");
        now.card_there = true;
      }
    }
    out.jobs.push_back(std::move(now));
    wanted.push_back(std::move(want));
  }
  if (asked.so_far) asked.so_far(out);
  for (size_t j = 0; j < out.jobs.size() && asked.work_out; ++j) {
    OpenJobNow& now = out.jobs[j];
    if (now.card_there || !wanted[j].any || !now.refused.empty()) continue;
    const Progress part = progress.part(static_cast<double>(j) / static_cast<double>(out.jobs.size()),
                                        static_cast<double>(j + 1) / static_cast<double>(out.jobs.size()));
    auto card = plan_card(
        wanted[j].job, shop, [&w](const std::string& hash) { return w.mesh(hash); }, asked.store, asked.study, books,
        part);
    if (progress.cancelled()) return Error::stopped();
    if (!card) {
      now.refused = card.error().text();
      continue;
    }
    now.card = *std::move(card);
    now.card_there = true;
    if (!w.read_only()) (void)w.keep_card(now.id, card_to_json(now.card));
    if (asked.so_far) asked.so_far(out);
  }
  std::vector<JobNeeds> needs;
  for (size_t j = 0; j < out.jobs.size(); ++j) {
    OpenJobNow& now = out.jobs[j];
    if (!now.card_there || !wanted[j].any) continue;
    // A mould that stands takes no more rubber, castings that are made no more resin.
    const MixSetup& mix = wanted[j].job.mix;
    std::vector<Need> left = now.card.needs;
    for (Need& n : left)
      if (n.material_id == mix.resin_id)
        n.mass_g *= std::max(0.0, 1 - static_cast<double>(now.made) / std::max(1, now.copies));
    if (stands[now.id] >= wanted[j].job.days.moulds)
      std::erase_if(left, [&](const Need& n) { return n.material_id != mix.resin_id; });
    needs.push_back({now.name, std::move(left)});
    if (!now.card.planned || wanted[j].job.days.start.empty()) continue;
    OpenJob open{now.id,
                 now.name,
                 now.card.steps,
                 wanted[j].job.days.bench,
                 wanted[j].start,
                 now.due,
                 std::move(wanted[j].begun)};
    if (now.run) open.begun.done = done_steps(*now.run, open.steps, asked.zone_s);
    if (open.begun.done.empty())
      open.begun.done = done_by_books(open.steps, now.card.step_kinds, stands[now.id], now.made, now.copies, asked.now);
    now.in_plan = out.shop.jobs.size();
    out.shop.jobs.push_back(std::move(open));
  }
  auto plan = plan_whole_shop(out.shop, progress);
  if (!plan) return plan.error();
  out.plan = *std::move(plan);
  out.wall = wall_of(out.jobs, out.shop, out.plan, shopping_list(needs, books.lots, shelf_facts(shop), asked.today),
                     asked.now, asked.zone_s);
  out.planned = true;
  return out;
}

}  // namespace palinform
