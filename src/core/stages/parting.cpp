#include "stages/parting.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"
#include "mesh/lighter.hpp"
#include "mesh/smooth_face.hpp"
#include "mould/forms.hpp"
#include "original/bore_size.hpp"
#include "split/open_face.hpp"
#include "stages/preparation.hpp"

namespace palinform {

Result<FaceWishes> split_wishes(const OriginalResult& original, const OriginalResult& master, const SplitMarks& marks,
                                const std::vector<FaceMark>& faces, const std::vector<BoreTreatment>& bores,
                                const std::vector<MasterStep>& steps) {
  auto w = wishes_of(*master.mesh, *master.pairs, *master.rays, marks);
  if (!w) return w.error();
  if (w->flags.empty() && (!faces.empty() || !bores.empty())) w->flags.assign(master.mesh->triangles.size(), 0);
  const Vec3 centre = original.measure.box_mm.centre();
  const auto patch = [&](const FaceMark& m) {
    const uint32_t seed = master.rays->closest(through_mirrors(m.point_mm, steps, centre)).triangle;
    return m.kind == FaceMark::Kind::show ? smooth_face(*master.mesh, *master.pairs, seed)
                                          : fit_face(*master.mesh, *master.pairs, seed).triangles;
  };
  for (const FaceMark& m : faces) {
    if (m.kind == FaceMark::Kind::hidden) continue;
    for (const uint32_t t : patch(m))
      w->flags[t] |= m.kind == FaceMark::Kind::show ? FaceWishes::show : FaceWishes::keep_clear;
  }
  for (const BoreTreatment& b : bores) {
    if (b.radius_mm > 0) {  // taped over: whatever of the part lies under the tape
      for (uint32_t t = 0; t < master.mesh->triangles.size(); ++t)
        if (length(master.mesh->centre(t) - b.point_mm) <= b.radius_mm) w->flags[t] |= FaceWishes::ignored;
      continue;
    }
    const FaceFit f = fit_face(*master.mesh, *master.pairs, master.rays->closest(b.point_mm).triangle);
    for (const uint32_t t : f.triangles) w->flags[t] |= FaceWishes::ignored;
    if (f.kind != FaceKind::bore) continue;
    // Its broken edges too: the pin's shoulder or the tape closes them.
    for (size_t t = 0; t < master.mesh->triangles.size(); ++t) {
      const Vec3 away = master.mesh->centre(t) - f.point_mm;
      const double lift = dot(away, f.direction);
      if (std::abs(lift) < 0.5 * f.depth_mm + 0.3 * f.diameter_mm &&
          length(away - f.direction * lift) < 0.72 * f.diameter_mm)
        w->flags[t] |= FaceWishes::ignored;
    }
  }
  return w;
}

const Bore* bore_of(const Undercut& u, const std::vector<Bore>& bores) {
  const Bore* best = nullptr;
  double nearest = 1e300;
  for (const Bore& b : bores) {
    const Vec3 between = u.centroid_mm - b.centroid_mm;
    const double lift = dot(between, b.axis), off = length(between - b.axis * lift);
    if (off > 0.35 * b.diameter_mm || std::abs(lift) > 0.5 * b.depth_mm + b.diameter_mm) continue;
    if (off + std::abs(lift) < nearest) nearest = off + std::abs(lift), best = &b;
  }
  return best;
}

std::vector<int> piece_of_undercuts(const std::vector<Undercut>& undercuts, const PiecesResult& pieces,
                                    const TriMesh& mesh, const SplitRules& rules) {
  std::vector<int> owner(mesh.triangles.size(), -1);
  for (size_t p = 0; p < pieces.plan.pieces.size(); ++p)
    for (const uint32_t t : pieces.plan.pieces[p].triangles) owner[t] = static_cast<int>(p);
  std::vector<int> out;
  for (const Undercut& u : undercuts) {
    std::vector<double> area(pieces.plan.pieces.size(), 0);
    double all = 0;
    for (const uint32_t t : u.triangles) {
      all += mesh.area_mm2(t);
      if (owner[t] >= 0) area[static_cast<size_t>(owner[t])] += mesh.area_mm2(t);
    }
    const auto most = std::max_element(area.begin(), area.end());
    out.push_back(most != area.end() && *most > rules.piece_owns_share * all ? static_cast<int>(most - area.begin())
                                                                             : -1);
  }
  return out;
}

std::optional<Vec3> face_of_piece(const Undercut& u, const ExtraPiece& piece, const TriMesh& mesh) {
  std::optional<Vec3> at;
  double most = 0;
  for (const uint32_t t : u.triangles)
    if (mesh.area_mm2(t) > most && std::binary_search(piece.triangles.begin(), piece.triangles.end(), t))
      most = mesh.area_mm2(t), at = mesh.centre(t);
  return at;
}

const Bore* treated_bore(const std::vector<Bore>& bores, const BoreTreatment& b) {
  if (b.radius_mm > 0) return nullptr;  // tape over an undercut
  const Bore* best = nullptr;
  double nearest = 1e300;
  for (const Bore& bore : bores) {
    const Vec3 away = b.point_mm - bore.centroid_mm;
    const double lift = dot(away, bore.axis), off = std::abs(length(away - bore.axis * lift) - 0.5 * bore.diameter_mm);
    if (off > 0.1 * bore.diameter_mm + 0.05 || std::abs(lift) > 0.5 * bore.depth_mm + 0.5 * bore.diameter_mm) continue;
    if (off < nearest) nearest = off, best = &bore;
  }
  return best;
}

PinPlan pin_for(const RayScene& rays, const Bore& bore, const BoreTreatment& b,
                const std::vector<MeasuredSize>& pin_sizes, double wall_mm, const PinRules& rules,
                const std::string& name) {
  std::optional<double> wanted;
  for (const MeasuredSize& s : pin_sizes)
    if (speaks_of_bore(s, bore.diameter_mm, b.point_mm)) wanted = s.pin_mm;
  return plan_pin(rays, bore, wall_mm, wanted, name, rules);
}

PinsResult pins_of(const RayScene& rays, const std::vector<Bore>& bores, const std::vector<BoreTreatment>& treatments,
                   const std::vector<MeasuredSize>& sizes, double wall_mm, const PinRules& rules) {
  std::vector<MeasuredSize> formed;
  for (const MeasuredSize& s : sizes)
    if (s.formed == FormedBy::pin && s.pin_mm) formed.push_back(s);
  PinsResult r;
  for (const BoreTreatment& b : treatments)
    if (const Bore* bore = b.kind == BoreTreatment::Kind::pin ? treated_bore(bores, b) : nullptr) {
      r.pins.push_back(pin_for(rays, *bore, b, formed, wall_mm, rules, "Pin " + std::to_string(r.pins.size() + 1)));
      r.bore.push_back(static_cast<size_t>(bore - bores.data()));
    }
  return r;
}

SplitResult painted(Split split) {
  SplitResult r;
  r.split = std::move(split);
  auto faces = std::make_shared<std::vector<uint8_t>>(r.split.side);
  for (size_t t = 0; t < faces->size(); ++t)
    if (r.split.locked[t]) (*faces)[t] = 2;
  r.face_paint = faces;
  return r;
}

namespace {

/// What the open-face mould would meet: the hidden flat face of the largest area, or, where the job wants an open mould
/// and nobody marked one, the flat face that lets go best; and how it lets go (M21).
void look_at_flat_face(WayFacts& f, const OriginalResult& original, const OriginalResult& master, const Job& job,
                       const SplitRules& rules, const Progress& progress) {
  FaceFit fit;
  double area = 0;
  for (const FaceMark& m : job.original.marks) {
    if (m.kind != FaceMark::Kind::hidden) continue;
    const Vec3 p = through_mirrors(m.point_mm, job.original.master_steps, original.measure.box_mm.centre());
    FaceFit here = fit_face(*master.mesh, *master.pairs, master.rays->closest(p).triangle);
    double a = 0;
    for (const uint32_t t : here.triangles) a += master.mesh->area_mm2(t);
    if (here.kind == FaceKind::plane && a > area) area = a, fit = std::move(here);
  }
  OpenFaceOptions how;
  how.shore_a = f.shore_a;
  how.rule = rules.flex;
  // What hangs over and what it takes to bend round it is no matter of the last triangle.
  const bool heavy = master.mesh->triangles.size() > 200'000;
  const TriMesh copy = heavy ? lighter(*master.mesh, 100'000, 3e-4 * master.rays->diagonal_mm()) : TriMesh{};
  const auto copy_rays = heavy ? RayScene::build(copy) : Result<std::shared_ptr<const RayScene>>(master.rays);
  if (!copy_rays) return;
  const auto faces = open_faces(heavy ? copy : *master.mesh, **copy_rays, how,
                                area > 0 ? std::optional(fit.direction) : std::nullopt, progress);
  if (!faces || faces->empty()) return;
  const OpenFace& best = faces->front();
  f.flat_marked = area > 0;
  if (!f.flat_marked && job.mould.form != name_of(Form::open)) {
    // Offered by itself only where it lets go without a slit and does not bear a mark that it shows.
    const bool shows = std::any_of(job.original.marks.begin(), job.original.marks.end(), [&](const FaceMark& m) {
      if (m.kind != FaceMark::Kind::show) return false;
      const Vec3 p = through_mirrors(m.point_mm, job.original.master_steps, original.measure.box_mm.centre());
      return dot(master.mesh->normal(master.rays->closest(p).triangle), best.normal) > 0.999;
    });
    // A lip that peels is no matter; to bend the rubber off a waist is what halves are for.
    const bool easy =
        best.verdict == LetsGo::draws ||
        (best.verdict == LetsGo::peels && best.reach_mm < rules.open_reach_share * length(master.own_size_mm));
    if (!easy || shows) {
      if (best.verdict != LetsGo::no)
        f.open_offer = "The flat face of " + fixed(best.area_mm2, 0) + " mm² would do, " + fixed(100 * best.share, 0) +
                       " % of its outline. " + (shows ? "It is marked as showing. " : "") + best.why;
      return;
    }
  }
  f.flat_normal = best.normal;
  f.hidden_flat_mm2 = f.flat_marked ? area : best.area_mm2;
  f.open_extent_mm = box_in(*master.mesh, frame_around(*master.mesh, best.normal)).size();
  f.open_flexes = best.verdict != LetsGo::no;
  f.open_why = best.why;
}

}  // namespace

WayFacts way_facts(WayFacts f, const OriginalResult& original, const OriginalResult& master, const SplitResult& split,
                   const WitnessResult& witness, const PiecesResult& pieces, const UndercutsResult& undercuts,
                   const std::vector<Bore>& bores, const Job& job, const SplitRules& rules, const Progress& progress) {
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
      if (p.area_mm2 > rules.piece_worth_share * freed) ++f.extra_pieces;
    double by_pieces = 0;
    for (const ExtraPiece& p : pieces.plan.pieces) by_pieces += p.area_mm2;
    f.left_mm2 = std::max(0.0, freed - by_pieces);
    if (f.left_mm2 < rules.piece_left_share * freed) f.left_mm2 = 0;
  }
  look_at_flat_face(f, original, master, job, rules, progress);
  return f;
}

}  // namespace palinform
