#include "ledger/really_taken.hpp"

#include <map>

#include "base/text.hpp"
#include "ledger/booked.hpp"

namespace palinform {

std::vector<BenchRun> runs_of(Workshop& w, const std::string& job_id) {
  std::vector<std::string> documents;
  if (const auto live = w.run_document(job_id); live && !live->empty()) documents.push_back(*live);
  if (auto done = w.done_runs(job_id)) documents.insert(documents.end(), done->begin(), done->end());
  std::vector<BenchRun> out;
  for (const std::string& text : documents)
    if (auto run = run_from_json(text)) out.push_back(*std::move(run));
  return out;
}

Result<ReallyTaken> really_taken(Workshop& w, const Shop& shop, const std::string& job_id) {
  const auto pours = w.pours(job_id);
  if (!pours) return pours.error();
  ReallyTaken out;
  for (const PourRecord& p : *pours) out.materials += cost_of(p, shop);
  for (const BenchRun& run : runs_of(w, job_id)) out.hours += worked_h(run);
  return out;
}

std::string kind_of_moulds(const Job& job) {
  return job.mix.silicone_id + "/" + std::string(name_of(job.mould.planned_form()));
}

Result<std::vector<DoneAlike>> last_of_kind(Workshop& w, const Shop& shop, const std::string& kind,
                                            const std::string& but, size_t most) {
  const auto rows = w.jobs();
  if (!rows) return rows.error();
  std::vector<DoneAlike> out;
  size_t looked_at = 0;
  for (const JobRow& row : *rows) {
    if (row.kind != kind || row.id == but) continue;
    if (out.size() >= most || ++looked_at > 60) break;  // a shelf of plans that nobody carried out tells nothing
    const auto real = really_taken(w, shop, row.id);
    if (!real || !real->anything()) continue;
    DoneAlike one{row.id, row.name, row.castings, *real, 0, 0};
    if (const auto job = w.load_job(row.id)) one.offered_hours = job->quote.hours, one.asked = job->quote.total;
    out.push_back(std::move(one));
  }
  return out;
}

Result<std::vector<CustomerJobs>> customers_with_jobs(Workshop& w) {
  auto rows = w.jobs();
  if (!rows) return rows.error();
  std::map<std::string, Customer> known;  // by name, however it is written
  if (auto all = w.customers())
    for (Customer& c : *all) known[lower_ascii(c.name)] = std::move(c);
  std::vector<CustomerJobs> out;
  std::map<std::string, size_t> place;
  for (JobRow& row : *rows) {
    if (row.client.empty()) continue;
    const std::string name = lower_ascii(row.client);
    const auto [at, made] = place.emplace(name, out.size());
    if (made) {
      const auto k = known.find(name);
      out.push_back({k == known.end() ? Customer{row.client, "", ""} : k->second, {}, 0});
    }
    CustomerJobs& c = out[at->second];
    c.open += row.open();
    c.jobs.push_back(std::move(row));
  }
  return out;
}

}  // namespace palinform
