#include "ledger/really_taken.hpp"

#include <algorithm>

#include "base/text.hpp"
#include "ledger/booked.hpp"

namespace palinform {

Result<ReallyTaken> really_taken(Workshop& w, const Shop& shop, const std::string& job_id) {
  const auto pours = w.pours(job_id);
  if (!pours) return pours.error();
  ReallyTaken out;
  for (const PourRecord& p : *pours) out.materials += p.mass_g * 1e-3 * price_per_kg(shop, p.material_id);
  std::vector<std::string> documents;
  if (const auto live = w.run_document(job_id); live && !live->empty()) documents.push_back(*live);
  if (auto done = w.done_runs(job_id)) documents.insert(documents.end(), done->begin(), done->end());
  for (const std::string& text : documents)
    if (const auto run = run_from_json(text)) out.hours += worked_h(*run);
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
    DoneAlike one{row.id, row.name, row.castings, 0, 0, *real, 0};
    if (const auto job = w.load_job(row.id))
      one.offered_hours = job->quote.hours, one.offered = job->quote.cost, one.asked = job->quote.total;
    out.push_back(std::move(one));
  }
  return out;
}

Result<std::vector<CustomerJobs>> customers_with_jobs(Workshop& w) {
  auto rows = w.jobs();
  if (!rows) return rows.error();
  const auto known = w.customers();
  std::vector<CustomerJobs> out;
  for (JobRow& row : *rows) {
    if (row.client.empty()) continue;
    const std::string name = lower_ascii(row.client);
    auto it = std::find_if(out.begin(), out.end(),
                           [&](const CustomerJobs& c) { return lower_ascii(c.customer.name) == name; });
    if (it == out.end()) {
      CustomerJobs c;
      c.customer.name = row.client;
      if (known)
        for (const Customer& k : *known)
          if (lower_ascii(k.name) == name) c.customer = k;
      it = out.insert(out.end(), std::move(c));
    }
    it->open += row.open();
    it->jobs.push_back(std::move(row));
  }
  return out;
}

}  // namespace palinform
