// The Split stage's nodes: from the bores to the ways of making the split.
#include <algorithm>
#include <cmath>

#include "base/text.hpp"
#include "job/parting_job.hpp"
#include "job/preparation.hpp"
#include "split/accessibility.hpp"

namespace palinform {
namespace {

double shore_of(const Job& job, const Catalogue& catalogue) {
  const Silicone* sil = catalogue.silicone(job.silicone_id);
  return sil ? sil->shore_a : 30;
}

double wall_of(const Job& job, const Catalogue& catalogue, const Vec3& extent) {
  const Rules& r = catalogue.rules;
  return job.wall_mm.value_or(
      wall_by_rule_mm(extent, shore_of(job, catalogue),
                      {r.wall_min_mm, r.wall_share, r.wall_extra_soft_mm, r.wall_soft_below_shore_a}));
}

/// What the open-face mould would meet: the hidden flat face of the largest area, and what locks when the rubber is
/// drawn off through it.
void look_at_flat_face(WayFacts& f, const OriginalResult& original, const OriginalResult& master, const Job& job,
                       Progress& progress) {
  FaceFit fit;
  double area = 0;
  for (const FaceMark& m : job.marks) {
    if (m.kind != FaceMark::Kind::hidden) continue;
    const Vec3 p = through_mirrors(m.point_mm, job.master_steps, original.measure.box_mm.centre());
    FaceFit here = fit_face(*master.mesh, *master.pairs, master.rays->closest(p).triangle);
    double a = 0;
    for (const uint32_t t : here.triangles) a += master.mesh->area_mm2(t);
    if (here.kind == FaceKind::plane && a > area) area = a, fit = std::move(here);
  }
  if (!(area > 0)) return;
  f.flat_normal = fit.direction;
  f.hidden_flat_mm2 = area;
  f.open_extent_mm = box_in(*master.mesh, frame_around(*master.mesh, fit.direction)).size();
  // The part leaves the rubber along the flat face's normal: everything but that face must let go.
  std::vector<uint8_t> flat(master.mesh->triangles.size(), 0);
  for (const uint32_t t : fit.triangles) flat[t] = 1;
  const auto away = releasable_share(*master.mesh, *master.rays, -fit.direction, {}, progress);
  if (!away) return;
  for (uint32_t t = 0; t < flat.size(); ++t)
    if (!flat[t]) f.open_locked_mm2 += master.mesh->area_mm2(t) * (1 - static_cast<double>((*away)[t]));
}

}  // namespace

void add_parting_nodes(std::vector<Node>& nodes, const Catalogue& catalogue) {
  nodes.push_back({"bores", [](const Job& job, const Planner& plan) -> std::optional<Task> {
                     const auto master = plan.fresh<OriginalResult>("master");
                     if (!master) return std::nullopt;
                     const auto exact = job.master_steps.empty() ? job.mesh.exact : std::vector<ExactFace>{};
                     return Task{hash_of("bores", plan.slot("master").key, exact), false,
                                 [master, exact](Progress& progress) -> Result<AnyValue> {
                                   auto b = find_bores(*master->mesh, *master->pairs, *master->rays, exact, progress);
                                   if (!b) return b.error();
                                   return boxed(BoresResult{*std::move(b)});
                                 }};
                   }});

  nodes.push_back({"wishes", [](const Job& job, const Planner& plan) -> std::optional<Task> {
                     const auto original = plan.fresh<OriginalResult>("original");
                     const auto master = plan.fresh<OriginalResult>("master");
                     if (!original || !master) return std::nullopt;
                     return Task{hash_of("wishes", plan.slot("master").key, job.split_marks, job.marks, job.bores,
                                         job.master_steps),
                                 false,
                                 [original, master, marks = job.split_marks, faces = job.marks, bores = job.bores,
                                  steps = job.master_steps](Progress&) -> Result<AnyValue> {
                                   auto w = split_wishes(*original, *master, marks, faces, bores, steps);
                                   if (!w) return w.error();
                                   return boxed(*std::move(w));
                                 }};
                   }});

  nodes.push_back({"search", [](const Job& job, const Planner& plan) -> std::optional<Task> {
                     const auto master = plan.fresh<OriginalResult>("master");
                     const auto bores = plan.fresh<BoresResult>("bores");
                     const auto wishes = plan.fresh<FaceWishes>("wishes");
                     if (!master || !bores || !wishes) return std::nullopt;
                     PullSearchOptions o;
                     o.weights = job.pull_weights;
                     return Task{hash_of("search", plan.slot("wishes").key, plan.slot("bores").key, o.weights), false,
                                 [master, bores, wishes, o](Progress& progress) -> Result<AnyValue> {
                                   auto s = search_pull(*master->mesh, *master->pairs, *master->rays, bores->bores,
                                                        *wishes, o, progress);
                                   if (!s) return s.error();
                                   return boxed(*std::move(s));
                                 }};
                   }});

  nodes.push_back({"releases", [](const Job& job, const Planner& plan) -> std::optional<Task> {
                     const auto master = plan.fresh<OriginalResult>("master");
                     if (!master || !job.pull) return std::nullopt;
                     if (master->pairs->open_edges + master->pairs->non_manifold_edges > 0) return std::nullopt;
                     return Task{hash_of("releases", plan.slot("master").key, *job.pull), false,
                                 [master, pull = *job.pull](Progress& progress) -> Result<AnyValue> {
                                   auto r = releases_along(*master->mesh, *master->rays, pull, progress);
                                   if (!r) return r.error();
                                   return boxed(*std::move(r));
                                 }};
                   }});

  nodes.push_back(
      {"split", [](const Job& job, const Planner& plan) -> std::optional<Task> {
         const auto master = plan.fresh<OriginalResult>("master");
         const auto wishes = plan.fresh<FaceWishes>("wishes");
         if (!master || !wishes) {
           if (plan.slot("wishes").state == Freshness::failed)
             return Task{hash_of("split-marks", plan.slot("wishes").key), true,
                         [e = plan.slot("wishes").error](Progress&) -> Result<AnyValue> { return e; }};
           return std::nullopt;
         }
         const auto paint = [master](Split split) {
           SplitResult r;
           r.split = std::move(split);
           auto faces = std::make_shared<std::vector<uint8_t>>(r.split.side);
           for (size_t t = 0; t < faces->size(); ++t)
             if (r.split.locked[t]) (*faces)[t] = 2;
           r.face_paint = faces;
           r.findings = split_findings(r.split);
           return boxed(std::move(r));
         };
         if (master->pairs->open_edges + master->pairs->non_manifold_edges > 0)
           return Task{
               hash_of("split-open", plan.slot("master").key), true, [](Progress&) -> Result<AnyValue> {
                 return Error{"the mesh is not closed, so it cannot be split", "split", "Mend it in Original first."};
               }};
         if (!job.pull) {
           const auto search = plan.fresh<PullSearch>("search");
           if (!search) return std::nullopt;
           return Task{hash_of("split-found", plan.slot("search").key), true,
                       [search, paint](Progress&) -> Result<AnyValue> { return paint(search->best); }};
         }
         const auto releases = plan.fresh<Releases>("releases");
         if (!releases) return std::nullopt;
         return Task{hash_of("split", plan.slot("releases").key, plan.slot("wishes").key), false,
                     [master, releases, wishes, paint](Progress& progress) -> Result<AnyValue> {
                       auto s =
                           split_from(*master->mesh, *master->pairs, *master->rays, *releases, *wishes, {}, progress);
                       if (!s) return s.error();
                       return paint(*std::move(s));
                     }};
       }});

  nodes.push_back({"witness", [](const Job&, const Planner& plan) -> std::optional<Task> {
                     const auto master = plan.fresh<OriginalResult>("master");
                     const auto split = plan.fresh<SplitResult>("split");
                     const auto wishes = plan.fresh<FaceWishes>("wishes");
                     if (!master || !split || !wishes) return std::nullopt;
                     return Task{hash_of("witness", plan.slot("split").key, plan.slot("wishes").key), false,
                                 [master, split, wishes](Progress&) -> Result<AnyValue> {
                                   WitnessResult r;
                                   r.places = witness_places(*master->mesh, *master->rays, split->split, *wishes);
                                   r.findings = witness_findings(r.places);
                                   return boxed(std::move(r));
                                 }};
                   }});

  nodes.push_back(
      {"thin", [&catalogue](const Job& job, const Planner& plan) -> std::optional<Task> {
         const auto master = plan.fresh<OriginalResult>("master");
         const auto bores = plan.fresh<BoresResult>("bores");
         const auto wishes = plan.fresh<FaceWishes>("wishes");
         const auto split = plan.fresh<SplitResult>("split");
         if (!master || !bores || !wishes || !split) return std::nullopt;
         const double shore = shore_of(job, catalogue);
         const Rules& rules = catalogue.rules;
         const ThinRules how{rules.thin_slender_peg, rules.thin_slender_fin, rules.thin_mm_at_40a, 0};
         return Task{
             hash_of("thin", plan.slot("bores").key, plan.slot("wishes").key, split->split.pull, shore), false,
             [master, bores, wishes, shore, how, pull = split->split.pull](Progress& progress) -> Result<AnyValue> {
               auto t = find_thin_rubber(*master->mesh, *master->pairs, *master->rays, bores->bores, *wishes, shore,
                                         how, progress);
               if (!t) return t.error();
               ThinResult r;
               r.thin = *std::move(t);
               r.findings = thin_findings(r.thin, bores->bores, pull, shore, how);
               return boxed(std::move(r));
             }};
       }});

  nodes.push_back({"pieces", [](const Job& job, const Planner& plan) -> std::optional<Task> {
                     const auto master = plan.fresh<OriginalResult>("master");
                     const auto split = plan.fresh<SplitResult>("split");
                     const auto wishes = plan.fresh<FaceWishes>("wishes");
                     if (!master || !split || !wishes) return std::nullopt;
                     return Task{
                         hash_of("pieces", plan.slot("split").key, job.piece_pulls), false,
                         [master, split, wishes, given = job.piece_pulls](Progress& progress) -> Result<AnyValue> {
                           auto p = find_pieces(*master->mesh, *master->pairs, *master->rays, split->split, *wishes,
                                                given, {}, progress);
                           if (!p) return p.error();
                           PiecesResult r;
                           r.given = std::min(given.size(), p->pieces.size());
                           r.plan = *std::move(p);
                           return boxed(std::move(r));
                         }};
                   }});

  nodes.push_back({"pins", [&catalogue](const Job& job, const Planner& plan) -> std::optional<Task> {
                     const auto master = plan.fresh<OriginalResult>("master");
                     const auto bores = plan.fresh<BoresResult>("bores");
                     if (!master || !bores) return std::nullopt;
                     std::vector<BoreTreatment> wanted;
                     for (const BoreTreatment& b : job.bores)
                       if (b.kind == BoreTreatment::Kind::pin) wanted.push_back(b);
                     if (wanted.empty()) return std::nullopt;
                     const double wall = wall_of(job, catalogue, master->own_size_mm);
                     const PinRules how{catalogue.rules.pin_into_wall_mm, catalogue.rules.pin_grip_mm, 0.15, 0};
                     std::vector<MeasuredSize> sizes;
                     for (const MeasuredSize& s : job.sizes)
                       if (s.formed == FormedBy::pin && s.pin_mm) sizes.push_back(s);
                     return Task{hash_of("pins", plan.slot("bores").key, wanted, wall, sizes), true,
                                 [master, bores, wanted, wall, how, sizes](Progress&) -> Result<AnyValue> {
                                   PinsResult r;
                                   for (const BoreTreatment& b : wanted)
                                     if (const Bore* bore = treated_bore(bores->bores, b)) {
                                       r.pins.push_back(pin_for(*master->rays, *bore, b, sizes, wall, how,
                                                                "Pin " + std::to_string(r.pins.size() + 1)));
                                       r.bore.push_back(static_cast<size_t>(bore - bores->bores.data()));
                                     }
                                   return boxed(std::move(r));
                                 }};
                   }});

  nodes.push_back(
      {"undercuts", [&catalogue](const Job& job, const Planner& plan) -> std::optional<Task> {
         const auto master = plan.fresh<OriginalResult>("master");
         const auto split = plan.fresh<SplitResult>("split");
         const auto bores = plan.fresh<BoresResult>("bores");
         const auto pieces = plan.fresh<PiecesResult>("pieces");
         if (!master || !split || !bores || !pieces) return std::nullopt;
         UndercutOptions o;
         o.shore_a = shore_of(job, catalogue);
         o.rule.ratio_at_shore = catalogue.rules.flex_ratio_at_shore;
         const auto search = plan.fresh<PullSearch>("search");
         return Task{
             hash_of("undercuts", plan.slot("pieces").key, plan.slot("bores").key, o.shore_a,
                     search ? plan.slot("search").key : Hash128{}),
             false, [&catalogue, master, split, bores, pieces, o, search](Progress& progress) -> Result<AnyValue> {
               auto u = find_undercuts(*master->mesh, split->split, o, progress);
               if (!u) return u.error();
               UndercutsResult r;
               r.shore_a = o.shore_a;
               r.undercuts = *std::move(u);
               r.piece = piece_of_undercuts(r.undercuts, *pieces, *master->mesh);
               r.findings = undercut_findings(r, *split, *pieces, bores->bores, search.get(), catalogue, *master->mesh);
               return boxed(std::move(r));
             }};
       }});

  // What of the part decides ways and forms; rays for the flat face make it the costly half of both.
  nodes.push_back({"facts", [&catalogue](const Job& job, const Planner& plan) -> std::optional<Task> {
                     const auto original = plan.fresh<OriginalResult>("original");
                     const auto master = plan.fresh<OriginalResult>("master");
                     const auto split = plan.fresh<SplitResult>("split");
                     const auto witness = plan.fresh<WitnessResult>("witness");
                     const auto pieces = plan.fresh<PiecesResult>("pieces");
                     const auto undercuts = plan.fresh<UndercutsResult>("undercuts");
                     const auto bores = plan.fresh<BoresResult>("bores");
                     if (!original || !master || !split || !witness || !pieces || !undercuts || !bores)
                       return std::nullopt;
                     WayFacts f;
                     f.shore_a = shore_of(job, catalogue);
                     Job only;
                     only.marks = job.marks;
                     only.master_steps = job.master_steps;
                     return Task{
                         hash_of("facts", plan.slot("undercuts").key, plan.slot("witness").key, job.marks, f.shore_a),
                         false,
                         [original, master, split, witness, pieces, undercuts, bores, f,
                          only](Progress& progress) -> Result<AnyValue> {
                           WayFacts facts = way_facts(f, *original, *master, *split, *witness, *pieces, *undercuts,
                                                      bores->bores, only, progress);
                           if (progress.cancelled()) return Error::stopped();
                           return boxed(std::move(facts));
                         }};
                   }});

  nodes.push_back({"ways", [&catalogue](const Job& job, const Planner& plan) -> std::optional<Task> {
                     const auto master = plan.fresh<OriginalResult>("master");
                     const auto part = plan.fresh<WayFacts>("facts");
                     if (!master || !part) return std::nullopt;
                     WayFacts f = *part;
                     f.wall_mm = wall_of(job, catalogue, master->own_size_mm);
                     f.copies = job.copies;
                     if (const Silicone* sil = catalogue.silicone(job.silicone_id)) {
                       f.rubber_density_g_cm3 = sil->density_g_cm3;
                       f.rubber_price_per_kg = sil->price_per_kg;
                       f.see_through = sil->clarity == "clear" || sil->clarity == "translucent";
                       f.cure_h = sil->demould_h;
                     }
                     return Task{hash_of("ways", plan.slot("facts").key, f.wall_mm, f.copies, f.rubber_density_g_cm3,
                                         f.rubber_price_per_kg, f.see_through, f.cure_h, job.way),
                                 true, [&catalogue, f, asked = way_named(job.way)](Progress&) -> Result<AnyValue> {
                                   WaysResult r;
                                   r.ways = ways_to_split(f, catalogue.rules.ways);
                                   for (const WayPlan& w : r.ways)
                                     if (w.recommended) r.chosen = w.way;
                                   if (asked) r.chosen = asked;
                                   return boxed(std::move(r));
                                 }};
                   }});
}

WayFacts way_facts(WayFacts f, const OriginalResult& original, const OriginalResult& master, const SplitResult& split,
                   const WitnessResult& witness, const PiecesResult& pieces, const UndercutsResult& undercuts,
                   const std::vector<Bore>& bores, const Job& job, Progress& progress) {
  const Split& s = split.split;
  f.extent_mm = box_in(*master.mesh, frame_around(*master.mesh, s.pull)).size();
  f.part_mm3 = master.measure.volume_mm3;
  f.line_mm = s.line_mm;
  f.climb_mm = s.height_range_mm;
  f.steepest_deg = s.steepest_deg;
  for (const PartingLoop& l : s.loops) f.shut_offs += !l.outer;
  for (const WitnessPlace& w : witness.places) {
    if (w.kind == WitnessPlace::Kind::show) f.show_mm += w.length_mm;
    if (w.kind == WitnessPlace::Kind::smooth) f.smooth_mm += w.length_mm;
    if (w.kind == WitnessPlace::Kind::feather) f.feather_mm += w.length_mm;
  }
  double freed = 0;
  for (const Undercut& u : undercuts.undercuts) {
    if (u.flexes && !u.tunnel()) continue;
    if (bore_of(u, bores)) {
      ++f.pins;
      continue;
    }
    ++f.need_help;
    freed += u.area_mm2;
  }
  if (f.need_help > 0) {
    // Only pieces that free an undercut in need are worth a pour.
    for (const ExtraPiece& p : pieces.plan.pieces)
      if (p.area_mm2 > 0.04 * freed) ++f.extra_pieces;
    double by_pieces = 0;
    for (const ExtraPiece& p : pieces.plan.pieces) by_pieces += p.area_mm2;
    f.left_mm2 = std::max(0.0, freed - by_pieces);
    if (f.left_mm2 < 0.05 * freed) f.left_mm2 = 0;
  }
  look_at_flat_face(f, original, master, job, progress);
  // Open: what locks must be little, or the rubber soft enough; a tenth of a part's skin is a lot.
  f.open_flexes = f.open_locked_mm2 < (f.shore_a <= 30 ? 0.06 : 0.02) * master.measure.area_mm2;
  return f;
}

}  // namespace palinform
