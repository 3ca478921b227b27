#include "stages/other_parts.hpp"

#include <algorithm>

#include "base/text.hpp"
#include "findings/original.hpp"
#include "findings/tell.hpp"
#include "mesh/soundness.hpp"
#include "split/pull_search.hpp"
#include "stages/parting.hpp"
#include "stages/preparation.hpp"

namespace palinform {
namespace {

Result<OriginalResult> original_of_part(const OriginalPart& part, const MeshSource& meshes, const Progress& progress) {
  if (part.from() == PartFrom::mesh) {
    auto mesh = meshes(part.mesh.hash);
    if (!mesh) return mesh.error();
    auto r = ready_mesh(*mesh, progress);
    if (r) r->exact = part.mesh.exact;
    return r;
  }
  if (part.from() == PartFrom::drawn) return drawn_original(part.drawn, progress);
  if (part.from() == PartFrom::volume) return stood_in_original(part.bare, progress);
  return Error{"it has no shape yet", "", "Take it in hand, and open its mesh in Original."};
}

Result<OtherPart> other_part(const Job& one, const MeshSource& meshes, const Progress& progress) {
  auto original = original_of_part(one.original, meshes, progress.part(0, 0.2));
  if (!original) return original.error();
  OtherPart out;
  out.copies = one.copies, out.masters = one.mould.masters;
  auto master = std::make_shared<OriginalResult>(*original);
  if (!one.original.master_steps.empty()) {
    auto mesh = prepared_master(*original, one.original.master_steps, meshes, progress.part(0.2, 0.3));
    if (!mesh) return mesh.error();
    auto ready = ready_mesh(std::make_shared<const TriMesh>(*std::move(mesh)), progress.part(0.3, 0.4));
    if (!ready) return ready.error();
    *master = *std::move(ready);
    master->from = original->from, master->u_mm = original->u_mm, master->u_volume_mm3 = original->u_volume_mm3;
  }
  if (master->pairs->open_edges + master->pairs->non_manifold_edges > 0)
    return Error{"its mesh is not closed", "", "Take it in hand, and mend it in Original."};
  auto bores = find_bores(*master->mesh, *master->pairs, *master->rays, master->exact, progress.part(0.4, 0.5));
  if (!bores) return bores.error();
  auto wishes =
      split_wishes(*original, *master, one.split.marks, one.original.marks, one.split.bores, one.original.master_steps);
  if (!wishes) return wishes.error();
  if (one.split.pull) {
    auto releases = releases_along(*master->mesh, *master->rays, *one.split.pull, progress.part(0.5, 0.8));
    if (!releases) return releases.error();
    auto split =
        split_from(*master->mesh, *master->pairs, *master->rays, *releases, *wishes, {}, progress.part(0.8, 1));
    if (!split) return split.error();
    out.split = *std::move(split);
  } else {
    PullSearchOptions o;
    o.weights = one.split.pull_weights;
    auto found = search_pull(*master->mesh, *master->pairs, *master->rays, *bores, *wishes, o, progress.part(0.5, 1));
    if (!found) return found.error();
    out.split = std::move(found->best);
  }
  out.master = std::move(master);
  return out;
}

}  // namespace

Job part_alone(const JobPart& part) {
  Job one;
  one.copies = part.copies;
  one.mould.masters = part.masters;
  one.original = part.original;
  one.original.marks = part.laid.marks;
  one.original.master_steps = part.laid.master_steps;
  one.size.master = part.master;
  one.size.generations = part.generations;
  one.split.pull = part.laid.pull;
  one.split.pull_weights = part.pull_weights;
  one.split.marks = part.laid.split_marks;
  one.split.bores = part.laid.bores;
  one.flow.turned_over = part.laid.turned_over;
  one.answers = part.laid.answers;
  return one;
}

Result<OtherPartsResult> other_parts(const std::vector<Job>& alone, const std::vector<std::string>& names,
                                     const Shop& shop, const MeshSource& meshes, const Progress& progress) {
  OtherPartsResult r;
  for (size_t k = 0; k < alone.size(); ++k) {
    if (progress.cancelled()) return Error::stopped();
    const double n = static_cast<double>(alone.size());
    const auto at = static_cast<double>(k);
    auto part = other_part(alone[k], meshes, progress.part(at / n, (at + 1) / n));
    if (!part) {
      if (part.error().cancelled) return part.error();
      return Error{names[k] + ": " + part.error().what, names[k], part.error().remedy};
    }
    const edits::TakePart take{k};
    const auto sound = check_soundness(*part->master->mesh, true, progress);
    for (const Finding& f : original_findings(alone[k], shop, sound ? &*sound : nullptr)) {
      const bool answered = std::any_of(alone[k].answers.begin(), alone[k].answers.end(),
                                        [&](const Answer& a) { return a.finding_key == f.key(); });
      if (f.severity != Severity::stop || answered) continue;
      Finding& told = tell(r.findings, "part-stop", Severity::stop, names[k] + ": " + f.what, f.why);
      told.where.step = names[k] + "/" + f.key();
      told.answerable = false;
      told.remedies = {{"Take it in hand", take}};
    }
    if (!part->split.regions.empty()) {
      Finding& told = tell(r.findings, "part-locks", Severity::caution, names[k] + ": some of it locks in the mould",
                           counted(static_cast<long long>(part->split.regions.size()), "place leaves", "places leave") +
                               " toward neither side along its pull, " + fixed(part->split.locked_area_mm2, 0) +
                               " mm² in all. Whether the rubber lets go of it is shown with that part in hand.");
      told.where.step = names[k];
      told.magnitude = part->split.locked_area_mm2;
      told.remedies = {{"Take it in hand", take}};
    }
    r.parts.push_back(*std::move(part));
  }
  return r;
}

}  // namespace palinform
