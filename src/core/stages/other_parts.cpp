#include "stages/other_parts.hpp"

#include <algorithm>

#include "base/text.hpp"
#include "findings/original.hpp"
#include "findings/tell.hpp"
#include "flow/channels.hpp"
#include "flow/sweep.hpp"
#include "mesh/soundness.hpp"
#include "split/pull_search.hpp"
#include "stages/flowing.hpp"
#include "stages/materials.hpp"
#include "stages/parting.hpp"
#include "stages/preparation.hpp"
#include "stages/wall.hpp"

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

Result<OtherPart> other_part(const Job& one, const Shop& shop, const MeshSource& meshes, const Progress& progress) {
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
  const double wall = wall_of(one, shop, master->own_size_mm).wall_mm;
  std::vector<MeasuredSize> formed;
  for (const MeasuredSize& s : one.original.sizes)
    if (s.formed == FormedBy::pin && s.pin_mm) formed.push_back(s);
  for (const BoreTreatment& b : one.split.bores)
    if (b.kind == BoreTreatment::Kind::pin)
      if (const Bore* bore = treated_bore(*bores, b))
        out.pins.push_back(pin_for(*master->rays, *bore, b, formed, wall, shop.rules.split.pin,
                                   "Pin " + std::to_string(out.pins.size() + 1)));
  out.gate = one.flow.gate, out.vents = one.flow.vents;
  out.master = std::move(master);
  return out;
}

/// Where a part's first master stands; null where it has none in the box.
const SetMaster* first_of(const MasterSet& set, size_t part) {
  for (const SetMaster& m : set.masters)
    if (m.part == part) return &m;
  return nullptr;
}

}  // namespace

Job part_alone(const JobPart& part, const Job& job) {
  Job one;
  one.mix = materials_only(job.mix);
  one.mould.wall_mm = job.mould.wall_mm;
  one.mould.form = job.mould.form;
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
  one.flow.gate = part.laid.gate, one.flow.vents = part.laid.vents;
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
    auto part = other_part(alone[k], shop, meshes, progress.part(at / n, (at + 1) / n));
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

std::vector<HalvesParts> parts_of_others(const OtherPartsResult& others, const MouldResult& mould, const Vec3& up,
                                         const FlowSetup& setup) {
  std::vector<HalvesParts> out(others.parts.size());
  if (!mould.set) return out;
  for (size_t k = 0; k < out.size(); ++k) {
    const OtherPart& part = others.parts[k];
    out[k].pins = part.pins;
    const SetMaster* at = first_of(*mould.set, k + 1);
    if (!at || !part.gate) continue;
    FlowSetup own = setup;
    own.gate = part.gate, own.vents = part.vents;
    out[k].channels =
        channels_to(*part.master, at->place.direction_back(up),
                    top_along(mould.block().inner_mm, mould.block().frame, up) - dot(at->place.shift, up), own);
  }
  return out;
}

Result<std::vector<Finding>> other_air(const OtherPartsResult& others, const MouldResult& mould,
                                       const std::vector<std::string>& names, const Vec3& up, const FlowSetup& setup,
                                       double visible_mm, const Progress& progress) {
  std::vector<Finding> out;
  constexpr double cells = 30'000;
  for (size_t k = 0; k < others.parts.size() && mould.set; ++k) {
    const OtherPart& part = others.parts[k];
    const SetMaster* at = first_of(*mould.set, k + 1);
    if (!at) continue;
    const auto cavity = fill_with_cells(*part.master->mesh,
                                        std::max(0.03, voxel_for(part.master->measure.volume_mm3, cells)), progress);
    if (!cavity) return cavity.error();
    std::vector<Opening> open;
    for (const Vec3& v : part.vents) open.push_back({part.master->rays->closest(v).point_mm, 0});
    const auto sweep = sweep_air(*cavity, at->place.direction_back(up), open, progress);
    if (!sweep) return sweep.error();
    double seen = 0;
    int places = 0;
    for (const Pocket& p : sweep->pockets) {
      double left = p.volume_mm3;
      if (by_chamber(setup.aid)) left = after_vacuum_mm3(left, setup.vacuum_kpa, setup.altitude_m);
      if (by_pot(setup.aid)) left = under_pressure_mm3(left, setup.pressure_kpa, setup.altitude_m);
      if (ball_diameter_mm(left) > visible_mm) seen += left, ++places;
    }
    if (places == 0) continue;
    Finding& f = tell(out, "part-air", Severity::caution, names[k] + ": air stays as the mould stands",
                      counted(places, "place keeps", "places keep") + " " + significant(seen, 2) + " mm³ after the " +
                          std::string(words_of(setup.aid)) +
                          ". The mould stands one way for all: give that part vents, or find a stand that suits both.");
    f.where.step = names[k];
    f.magnitude = seen;
    f.remedies = {{"Take it in hand", edits::TakePart{k}}};
  }
  return out;
}

}  // namespace palinform
