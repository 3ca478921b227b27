#include "job/parting_job.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"
#include "job/preparation.hpp"

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

std::vector<Finding> undercut_findings(const UndercutsResult& r, const SplitResult& split,
                                       const std::vector<Bore>& bores, const PullSearch* search,
                                       const Catalogue& catalogue) {
  std::vector<Finding> out;
  const auto place = [](const Vec3& p) {
    return std::map<std::string, std::string>{{"x", fixed(p.x, 6)}, {"y", fixed(p.y, 6)}, {"z", fixed(p.z, 6)}};
  };
  int told = 0;
  for (const Undercut& u : r.undercuts) {
    if (++told > 6) break;
    const Bore* bore = bore_of(u, bores);
    Finding f{"split-locked", Severity::caution, {}, "", "", {}};
    f.where.point_mm = u.centroid_mm;
    f.where.step = std::to_string(told);
    const std::string size = significant(u.volume_mm3, 2) + " mm³, " + significant(u.reach_mm, 2) +
                             " mm deep behind a mouth of " + significant(u.mouth_mm, 2) + " mm";
    if (bore) {
      f.code = "split-bore";
      f.what = "Bore Ø" + fixed(bore->diameter_mm, 2) + " lies across the pull";
      f.why = std::string(bore->through ? "Through, " : "Blind, ") + fixed(bore->depth_mm, 1) +
              " mm long: the rubber in it is a peg of " + significant(bore->depth_mm / bore->diameter_mm, 2) +
              " times its thickness, wobbles and tears off (at risk over 2.5, rule of thumb).";
      const Vec3 wall = bore->centroid_mm + any_perpendicular(bore->axis) * (0.5 * bore->diameter_mm);
      auto args = place(wall);
      args["diameter"] = fixed(bore->diameter_mm, 4);
      f.remedies.push_back(
          {"bore-pin", "Hard pin Ø" + fixed(bore->diameter_mm, 2) + " × " + fixed(bore->depth_mm + 16, 0), args});
      f.remedies.push_back({"bore-plug", "Plug, drill later", args});
      f.remedies.push_back({"bore-tape", "Tape it over", args});
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
        if (softer) f.remedies.push_back({"silicone", softer->name, {{"id", softer->id}}});
      }
    }
    if (search && !u.flexes)
      for (const PullCandidate& c : search->candidates)
        if (c.locked_area_mm2 < 0.8 * split.split.locked_area_mm2 - 1) {
          f.remedies.push_back({"pull", "Pull along " + axis_name(c.pull), place(c.pull)});
          break;
        }
    out.push_back(std::move(f));
  }
  return out;
}

}  // namespace palinform
