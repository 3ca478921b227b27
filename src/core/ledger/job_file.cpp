#include "ledger/job_file.hpp"

#include <algorithm>
#include <set>

#include "base/table.hpp"
#include "base/text.hpp"
#include "base/zip.hpp"
#include "job/job.hpp"
#include "job/parts.hpp"
#include "ledger/archive.hpp"
#include "mesh/tri_mesh.hpp"
#include "original/size_csv.hpp"

namespace palinform {

Result<std::string> job_file(Workshop& w, const std::string& job_id,
                             const std::map<std::string, std::string>& besides) {
  const auto job = w.load_job(job_id);
  if (!job) return job.error();
  ZipContent files(besides.begin(), besides.end());
  files["job.json"] = job_to_json(*job);
  files["sizes.csv"] = sizes_to_csv(job->original.sizes);
  Table castings{"", {"number", "made_on", "worth", "repair_min", "mate", "looked_at", "note", "scan"}, {}},
      readings{"", {"casting", "size", "value_mm"}, {}},
      faults{"", {"casting", "fault", "x_mm", "y_mm", "z_mm", "size_mm", "cause", "confirmed"}, {}};
  std::set<std::string> meshes;
  if (!job->original.mesh.hash.empty()) meshes.insert(job->original.mesh.hash);
  for (const std::string& hash : further_meshes(*job)) meshes.insert(hash);
  for (const Casting& c : job->check.castings) {
    const double n = c.number;
    castings.rows.push_back({n, c.made_on, std::string(name_of(c.worth)), c.repair_min, std::string(name_of(c.mate)),
                             std::string(c.looked_at ? "yes" : "no"), c.note, c.scan_file});
    for (const CastReading& r : c.readings) {
      std::string size = r.size_id;
      for (const MeasuredSize& s : job->original.sizes)
        if (s.id == r.size_id) size = s.name;
      for (const double v : r.values_mm) readings.rows.push_back({n, size, v});
    }
    for (const FaultSeen& f : c.faults) {
      const auto axis = [&](double Vec3::*m) -> Cell {
        if (f.at_mm) return *f.at_mm.*m;
        return std::string();
      };
      faults.rows.push_back({n, std::string(name_of(f.fault)), axis(&Vec3::x), axis(&Vec3::y), axis(&Vec3::z),
                             f.size_mm, f.cause, std::string(f.confirmed ? "yes" : "no")});
    }
    if (!c.scan.empty()) meshes.insert(c.scan);
  }
  files["castings.csv"] = table_csv(castings);
  files["readings.csv"] = table_csv(readings);
  files["faults.csv"] = table_csv(faults);
  const auto pours = w.pours(job_id);
  if (!pours) return pours.error();
  files["pours.csv"] = pours_csv(*pours);
  if (const auto lots = w.lots()) {
    std::vector<Lot> used;
    for (const Lot& l : *lots)
      if (std::any_of(pours->begin(), pours->end(), [&](const PourRecord& p) { return p.lot_id == l.id; }))
        used.push_back(l);
    files["lots.csv"] = lots_csv(used);
  }
  if (const auto moulds = w.moulds(job_id)) files["moulds.csv"] = moulds_csv(*moulds);
  if (const auto edits = w.edit_rows(job_id)) {
    Table t{"", {"at", "who", "what"}, {}};
    for (const EditRow& e : *edits) t.rows.push_back({e.at, e.who, e.what});
    files["history.csv"] = table_csv(t);
  }
  std::vector<std::string> runs;
  if (const auto live = w.run_document(job_id); live && !live->empty()) runs.push_back(*live);
  if (auto done = w.done_runs(job_id)) runs.insert(runs.end(), done->begin(), done->end());
  for (size_t i = 0; i < runs.size(); ++i) files["runs/" + std::to_string(i + 1) + ".json"] = runs[i];
  if (const auto photos = w.photos(job_id))
    for (const PhotoRow& p : *photos)
      if (auto bytes = w.photo(p.id)) files["photos/" + std::to_string(p.id) + ".jpg"] = *std::move(bytes);
  for (const std::string& hash : meshes) {
    const auto mesh = w.mesh(hash);
    if (!mesh) return mesh.error();
    files["meshes/" + hash + ".ply"] = ply_bytes(**mesh);
  }
  std::string readme = "Job: " + job->name + (job->client.empty() ? "" : ", for " + job->client) + "\r\nWritten " +
                       now_text() +
                       " by Palinform. Lengths are in mm, masses in g, days as year-month-day.\r\n\r\n"
                       "job.json       the plan: original, sizes, split, mould, flow, mix, days, castings\r\n"
                       "sizes.csv      measured sizes of the original with limits and readings\r\n"
                       "castings.csv   each casting, what it is worth; readings.csv and faults.csv belong to it\r\n"
                       "pours.csv      what was poured, from which lot (lots.csv), into which mould (moulds.csv)\r\n"
                       "history.csv    every edit, when and by whom\r\n"
                       "runs/          the tapes of the bench: each screen, when it was left, what the scale read\r\n"
                       "photos/        photographs, scaled copies\r\n"
                       "meshes/        binary PLY in double precision, named by the hash that job.json gives\r\n"
                       "*.pdf          the same to read: the job's sheet, the first-article sheets\r\n";
  files["README.txt"] = readme;
  return make_zip(files);
}

}  // namespace palinform
