#include "stages/parting.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"
#include "split/accessibility.hpp"
#include "stages/preparation.hpp"

namespace palinform {

Result<FaceWishes> split_wishes(const OriginalResult& original, const OriginalResult& master, const SplitMarks& marks,
                                const std::vector<FaceMark>& faces, const std::vector<BoreTreatment>& bores,
                                const std::vector<MasterStep>& steps) {
  auto w = wishes_of(*master.mesh, *master.pairs, *master.rays, marks);
  if (!w) return w.error();
  if (w->flags.empty() && (!faces.empty() || !bores.empty())) w->flags.assign(master.mesh->triangles.size(), 0);
  const Vec3 centre = original.measure.box_mm.centre();
  const auto patch = [&](const Vec3& p) {
    return fit_face(*master.mesh, *master.pairs, master.rays->closest(p).triangle).triangles;
  };
  for (const FaceMark& m : faces) {
    if (m.kind == FaceMark::Kind::hidden) continue;
    for (const uint32_t t : patch(through_mirrors(m.point_mm, steps, centre)))
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
                                    const TriMesh& mesh) {
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
    out.push_back(most != area.end() && *most > 0.6 * all ? static_cast<int>(most - area.begin()) : -1);
  }
  return out;
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
    if (s.kind == SizeKind::bore && std::abs(s.nominal_mm - bore.diameter_mm) < 0.05 * s.nominal_mm &&
        length((s.from_mm + s.to_mm) * 0.5 - b.point_mm) < 6 * s.nominal_mm)
      wanted = s.pin_mm;
  return plan_pin(rays, bore, wall_mm, wanted, name, rules);
}

std::vector<Finding> thin_findings(const std::vector<ThinRubber>& thin, const std::vector<Bore>& bores,
                                   const Vec3& pull, double shore_a, const ThinRules& rules) {
  std::vector<Finding> out;
  for (const ThinRubber& t : thin) {
    if (!t.at_risk || out.size() >= 4) continue;
    Finding f{"split-thin", Severity::caution, {}, "", "", {}};
    f.where.point_mm = t.at_mm;
    f.where.step = "thin-" + std::to_string(out.size() + 1);
    const std::string figures = significant(t.length_mm, 2) + " mm long and " + significant(t.thickness_mm, 2) +
                                " mm thick, " + significant(t.slenderness(), 2) + " times";
    if (t.peg) {
      const Bore* bore = nullptr;
      for (const Bore& b : bores)
        if (length(b.centroid_mm - t.at_mm) < 1e-6) bore = &b;
      if (!bore || std::abs(dot(bore->axis, pull)) < 0.9) continue;  // across the pull it is an undercut already
      f.what = "The rubber peg in bore Ø" + fixed(t.thickness_mm, 2) + " will wobble";
      f.why = figures + ": over " + significant(rules.slender_peg, 2) +
              " it leans, traps air at its foot and tears (rule of thumb).";
      const Vec3 wall = bore->centroid_mm + any_perpendicular(bore->axis) * (0.5 * bore->diameter_mm);
      f.remedies.push_back({"Hard pin Ø" + fixed(bore->diameter_mm, 2), edits::PinBore{wall, bore->diameter_mm}});
      f.remedies.push_back({"Plug, drill later", edits::PlugBore{wall, bore->diameter_mm}});
    } else {
      f.what = "A thin fin of rubber stands in a gap";
      f.why = figures + ". Over " + significant(rules.slender_fin, 2) + " times, or thinner than " +
              significant(rules.thin_mm_at_40a * 40 / std::max(10.0, shore_a), 2) + " mm at " + fixed(shore_a, 0) +
              " A, it folds and tears (rule of thumb). Brush rubber into the gap first, pull slowly, or fill the gap "
              "and cut it later.";
    }
    out.push_back(std::move(f));
  }
  return out;
}

std::vector<Finding> undercut_findings(const UndercutsResult& r, const SplitResult& split, const PiecesResult& pieces,
                                       const std::vector<Bore>& bores, const PullSearch* search,
                                       const Catalogue& catalogue, const TriMesh& mesh) {
  std::vector<Finding> out;
  int told = 0;
  for (const Undercut& u : r.undercuts) {
    if (++told > 6) break;
    const Bore* bore = bore_of(u, bores);
    Finding f{"split-locked", Severity::caution, {}, "", "", {}};
    f.where.point_mm = u.centroid_mm;
    f.where.step = std::to_string(told);
    const int piece = static_cast<size_t>(told - 1) < r.piece.size() ? r.piece[static_cast<size_t>(told - 1)] : -1;
    const bool given = piece >= 0 && static_cast<size_t>(piece) < pieces.given;
    const std::string size = significant(u.volume_mm3, 2) + " mm³, " + significant(u.reach_mm, 2) +
                             " mm deep behind a mouth of " + significant(u.mouth_mm, 2) + " mm";
    if (given) {
      const ExtraPiece& p = pieces.plan.pieces[static_cast<size_t>(piece)];
      f.code = "split-piece";
      f.severity = Severity::note;
      f.what = std::string("Piece ") + static_cast<char>('c' + piece) + " forms it, drawn along " + axis_name(p.pull);
      f.why = size + ". Draw that piece before the halves are parted.";
      f.remedies.push_back({"Without that piece", edits::DropPiece{static_cast<size_t>(piece)}});
    } else if (bore) {
      f.code = "split-bore";
      f.what = "Bore Ø" + fixed(bore->diameter_mm, 2) + " lies across the pull";
      f.why = std::string(bore->through ? "Through, " : "Blind, ") + fixed(bore->depth_mm, 1) +
              " mm long: the rubber in it is a peg of " + significant(bore->depth_mm / bore->diameter_mm, 2) +
              " times its thickness, wobbles and tears off (at risk over 2.5, rule of thumb).";
      const Vec3 wall = bore->centroid_mm + any_perpendicular(bore->axis) * (0.5 * bore->diameter_mm);
      f.remedies.push_back({"Hard pin Ø" + fixed(bore->diameter_mm, 2) + " × " + fixed(bore->depth_mm + 16, 0),
                            edits::PinBore{wall, bore->diameter_mm}});
      f.remedies.push_back({"Plug, drill later", edits::PlugBore{wall, bore->diameter_mm}});
      f.remedies.push_back({"Tape it over", edits::TapeBore{wall}});
    } else if (u.sealed()) {
      f.severity = Severity::stop;
      f.what = "A hollow is sealed in";
      f.why = significant(u.volume_mm3, 2) + " mm³ have no way out: no rubber can form it.";
    } else if (u.tunnel()) {
      f.what = "A passage runs across the pull";
      f.why = size + ", " + significant(u.length_mm, 2) +
              " mm from mouth to mouth. Rubber joined through it would have to be torn.";
    } else if (u.flexes) {
      f.severity = Severity::note;
      f.what = "An undercut the rubber flexes out of";
      f.why = size + ": " + significant(u.ratio(), 2) + " times; rubber of " + fixed(r.shore_a, 0) +
              " A bears it (rule of thumb).";
    } else {
      f.what = told == 1 ? "A place that neither half lets go" : "Another place that locks";
      f.why = size + ": " + significant(u.ratio(), 2) + " times, too deep for " + fixed(r.shore_a, 0) + " A." +
              (u.let_go_by_shore_a
                   ? " Rubber of " + fixed(*u.let_go_by_shore_a, 0) + " A or softer would let go (rule of thumb)."
                   : " No rubber here would let go; it wants a third piece or a plug.");
      if (u.let_go_by_shore_a) {
        const Silicone* softer = nullptr;
        for (const Silicone& s : catalogue.silicones)
          if (s.shore_a <= *u.let_go_by_shore_a && (!softer || s.shore_a > softer->shore_a)) softer = &s;
        if (softer) f.remedies.push_back({softer->name, edits::TakeSilicone{softer->id}});
      }
    }
    if (!given && piece >= 0 && !u.flexes && !u.sealed()) {
      const Vec3& pull = pieces.plan.pieces[static_cast<size_t>(piece)].pull;
      f.remedies.push_back({"A piece of its own, along " + axis_name(pull), edits::AddPiece{pull}});
    }
    if (!given && !bore && !u.flexes && !u.sealed() && !u.triangles.empty()) {
      double radius = 0;
      for (const uint32_t t : u.triangles) radius = std::max(radius, length(mesh.centre(t) - u.centroid_mm));
      f.remedies.push_back({"Tape it over and lose it", edits::TapeUndercut{u.centroid_mm, radius + 0.1}});
    }
    if (!given && search && !u.flexes)
      for (const PullCandidate& c : search->candidates)
        if (c.locked_area_mm2 < 0.8 * split.split.locked_area_mm2 - 1) {
          f.remedies.push_back({"Pull along " + axis_name(c.pull), edits::SetPull{c.pull}});
          break;
        }
    out.push_back(std::move(f));
  }
  // No pull tried lets two pieces do: say so once, and offer as many as it takes.
  if (search && !search->candidates.empty()) {
    double least = 1e300;
    for (const PullCandidate& c : search->candidates) least = std::min(least, c.locked_area_mm2);
    double stuck = 0;
    for (size_t i = 0; i < r.undercuts.size(); ++i) {
      const Undercut& u = r.undercuts[i];
      const bool given = i < r.piece.size() && r.piece[i] >= 0 && static_cast<size_t>(r.piece[i]) < pieces.given;
      if (!u.flexes && !given && !bore_of(u, bores)) stuck += u.area_mm2;
    }
    if (stuck > 1 && least > 0.8 * stuck) {
      Finding f{"split-no-two", Severity::caution, {}, "No pull lets two pieces do", "", {}};
      f.why = "Every direction tried leaves " + grouped(least) + " mm² or more locked.";
      if (pieces.plan.pieces.size() > pieces.given && pieces.plan.left_mm2 < 0.1 * split.split.locked_area_mm2) {
        f.why +=
            " " + counted(static_cast<long long>(2 + pieces.plan.pieces.size()), "piece", "pieces") + " would free it.";
        edits::AddPieces more;
        for (size_t i = pieces.given; i < pieces.plan.pieces.size(); ++i)
          more.pulls.push_back(pieces.plan.pieces[i].pull);
        f.remedies.push_back(
            {counted(static_cast<long long>(2 + pieces.plan.pieces.size()), "piece", "pieces"), std::move(more)});
      }
      out.push_back(std::move(f));
    }
  }
  return out;
}

SplitResult painted(Split split) {
  SplitResult r;
  r.split = std::move(split);
  auto faces = std::make_shared<std::vector<uint8_t>>(r.split.side);
  for (size_t t = 0; t < faces->size(); ++t)
    if (r.split.locked[t]) (*faces)[t] = 2;
  r.face_paint = faces;
  r.findings = split_findings(r.split);
  return r;
}

namespace {

/// What the open-face mould would meet: the hidden flat face of the largest area, and what locks when the rubber is
/// drawn off through it.
void look_at_flat_face(WayFacts& f, const OriginalResult& original, const OriginalResult& master, const Job& job,
                       const Progress& progress) {
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

WayFacts way_facts(WayFacts f, const OriginalResult& original, const OriginalResult& master, const SplitResult& split,
                   const WitnessResult& witness, const PiecesResult& pieces, const UndercutsResult& undercuts,
                   const std::vector<Bore>& bores, const Job& job, const Progress& progress) {
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
