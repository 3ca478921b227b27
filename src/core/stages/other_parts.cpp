#include "stages/other_parts.hpp"

#include <algorithm>

#include "base/text.hpp"
#include "findings/original.hpp"
#include "findings/tell.hpp"
#include "flow/channels.hpp"
#include "flow/sweep.hpp"
#include "job/parts.hpp"
#include "mesh/soundness.hpp"
#include "split/pull_search.hpp"
#include "stages/flowing.hpp"
#include "stages/inserts.hpp"
#include "stages/materials.hpp"
#include "stages/openings.hpp"
#include "stages/parting.hpp"
#include "stages/pockets.hpp"
#include "stages/preparation.hpp"
#include "stages/wall.hpp"

namespace palinform {
namespace {

Result<OtherPart> other_part(const Job& one, const Shop& shop, const MeshSource& meshes, const Progress& progress) {
  auto made = original_of(one.original, meshes, progress.part(0, 0.2));
  if (!made) return made.error();
  const auto original = std::make_shared<const OriginalResult>(*std::move(made));
  auto prepared = master_of(original, one.original.master_steps, meshes, progress.part(0.2, 0.3));
  if (!prepared) return prepared.error();
  OpeningsResult openings;
  const std::vector<OpeningChoice>& said = one.split.openings;
  if (!said.empty()) {
    auto found = openings_of(**prepared, progress.part(0.3, 0.4));
    if (!found) return found.error();
    openings = *std::move(found);
    prepared = with_closed(*std::move(prepared), openings, said, progress);
    if (!prepared) return prepared.error();
    if (!(*prepared)->unfilled.empty()) return (*prepared)->unfilled.front();
  }
  OtherPart out;
  out.copies = one.copies, out.masters = one.mould.masters;
  out.master = *std::move(prepared);
  const auto& master = out.master;
  if (!master->closed()) return Error{"its mesh is not closed", "", "Take it in hand, and mend it in Original."};
  auto bores = find_bores(*master->mesh, *master->pairs, *master->rays, master->exact, progress.part(0.4, 0.5));
  if (!bores) return bores.error();
  auto wishes =
      split_wishes(*original, *master, one.split.marks, one.original.marks, one.split.bores, one.original.master_steps);
  if (!wishes) return wishes.error();
  ignore_slid_walls(*wishes, *master, openings.found, said);
  ignore_slid_pockets(*wishes, *master, one.split.pockets);
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
  move_shut_offs(out.split, *master, openings.found, said);
  const double wall = wall_of(one, shop, master->own_size_mm).wall_mm;
  const PinRules& rules = shop.rules.split.pin;
  PinsResult pins = pins_of(*master->rays, *bores, one.split.bores, one.original.sizes, wall, rules);
  for (PinPlan& p : slides_of(*master, openings.found, said, one.original.sizes, wall, rules))
    pins.pins.push_back(std::move(p));
  shape_by_threads(pins, *bores, one.split.threads);
  if (auto ok = add_pocket_slides(pins, *master, one.split.pockets, wall, rules); !ok) return ok.error();
  out.pins = std::move(pins.pins);
  out.films_mm3 = films_mm3(openings.found, said);
  if (!said.empty()) out.openings = std::make_shared<const OpeningsResult>(std::move(openings));
  out.unscrewed = unscrewed_of(one.split.threads);
  out.finishing = cut_threads_of(one.split.threads, shop.shown);
  if (!one.split.inserts.empty()) {
    auto placed = inserts_of(*master, one.split.inserts, shop.rules.split.insert, meshes, progress);
    if (!placed) return placed.error();
    out.inserts = inserts_in_words(one.split.inserts, *placed, shop.shown);
    out.inserts_mm3 = placed->inside_mm3, out.seats_mm3 = seats_mm3(*placed, *master, out.split);
    out.resin = placed->resin, out.sockets = std::move(placed->sockets);
    for (const InsertsResult::Placed& p : placed->placed)
      if (p.refused) return *p.refused;
  }
  out.gate = one.flow.gate, out.vents = one.flow.vents;
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
  Job one = job_of(part);
  one.mix = materials_only(job.mix);
  one.mould.wall_mm = job.mould.wall_mm;
  one.mould.form = job.mould.form;
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
    out[k].sockets = part.sockets;
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

std::optional<double> channels_of_others(const OtherPartsResult& others, const MouldResult& mould, const Vec3& up,
                                         const FlowSetup& setup) {
  double sum = 0;
  const std::vector<HalvesParts> laid = parts_of_others(others, mould, up, setup);
  for (size_t k = 0; k < laid.size(); ++k) {
    if (others.parts[k].masters <= 0) continue;
    if (laid[k].channels.empty()) return std::nullopt;
    for (const Channel& c : laid[k].channels) sum += others.parts[k].masters * c.volume_mm3();
  }
  return sum;
}

HalvesParts all_in_box(const HalvesParts& own, const OtherPartsResult* others, const MouldResult& mould, const Vec3& up,
                       const FlowSetup& setup) {
  if (!mould.set) return own;
  std::vector<HalvesParts> all{own};
  if (others)
    for (HalvesParts& p : parts_of_others(*others, mould, up, setup)) all.push_back(std::move(p));
  return at_each(all, *mould.set);
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
    const OriginalResult& body = part.body();
    const auto cavity =
        fill_with_cells(*body.mesh, std::max(0.03, voxel_for(body.measure.volume_mm3, cells)), progress);
    if (!cavity) return cavity.error();
    std::vector<AirHole> open;
    for (const Vec3& v : part.vents) open.push_back({body.rays->closest(v).point_mm, 0});
    const auto sweep = sweep_air(*cavity, at->place.direction_back(up), open, progress);
    if (!sweep) return sweep.error();
    double seen = 0;
    int places = 0;
    for (const Pocket& p : sweep->pockets) {
      const double left = left_after_mm3(p.volume_mm3, setup);
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
