#include "mix/stock.hpp"

#include <algorithm>

#include "base/csv.hpp"
#include "base/text.hpp"

namespace palinform {

bool out_of_date(const Lot& l, const std::string& today) { return !l.expires_on.empty() && l.expires_on < today; }

std::string lots_csv(const std::vector<Lot>& lots) {
  std::vector<std::vector<std::string>> rows{{"lot", "material", "opened_on", "expires_on", "start_g", "left_g"}};
  for (const Lot& l : lots)
    rows.push_back({l.label, l.material_id, l.opened_on, l.expires_on, fixed(l.start_g, 1), fixed(l.left_g, 1)});
  return csv_text(rows);
}
std::string moulds_csv(const std::vector<MouldRecord>& moulds) {
  std::vector<std::vector<std::string>> rows{{"mould", "job", "made_on", "pulls", "retired_on", "why"}};
  for (const MouldRecord& m : moulds)
    rows.push_back({m.name, m.job_name, m.made_on, std::to_string(m.pulls), m.retired_on, m.retired_why});
  return csv_text(rows);
}
std::string pours_csv(const std::vector<PourRecord>& pours) {
  std::vector<std::vector<std::string>> rows{
      {"at", "job", "what", "material", "mass_g", "lot", "mould", "failed", "note"}};
  for (const PourRecord& p : pours)
    rows.push_back({p.at, p.job_name, p.what, p.material_id, fixed(p.mass_g, 1),
                    p.lot_id ? std::to_string(p.lot_id) : "", p.mould_id ? std::to_string(p.mould_id) : "",
                    p.failed ? "yes" : "no", p.note});
  return csv_text(rows);
}

const Trial* newest_trial(const std::vector<Trial>& trials, const std::vector<Lot>& lots, TrialKind kind,
                          const std::string& material_id, const std::string& surface) {
  const Trial* out = nullptr;
  for (const Trial& t : trials) {
    if (t.kind != kind || (kind == TrialKind::patch && t.surface != surface)) continue;
    const bool ours = std::any_of(lots.begin(), lots.end(), [&](const Lot& l) {
      return l.id == t.lot_id && l.material_id == material_id && l.left_g > 0;
    });
    // Of one day the later entry counts: they come in the order they were kept.
    if (ours && (!out || t.on >= out->on)) out = &t;
  }
  return out;
}

}  // namespace palinform
