#include "stages/closing.hpp"

#include <algorithm>
#include <cmath>
#include <limits>

#include "flow/filling.hpp"
#include "stages/materials.hpp"

namespace palinform {

double poured_over_pct(const SqueezeSetup& s, const Rules& rules) {
  return s.over_pct.value_or(rules.mould.forms.squeeze_over_pct);
}

std::string set_down_words(const std::optional<double>& hinge_deg) {
  if (!hinge_deg) return "";
  constexpr const char* ends[] = {"the right end", "the back end", "the left end", "the front end"};
  return ends[static_cast<size_t>(std::lround(*hinge_deg / 90)) % 4];
}

Result<ClosingResult> closing_result(const ClosingGround& in, const Shop& shop, const Progress& progress) {
  constexpr int searched = 56, shown = 110;  // columns across the box: to choose on, and to tell by
  const Mould& mould = in.mould->mould;
  const TriMesh& mesh = *in.master->mesh;
  ClosingResult r;
  r.turned_over = in.turned_over;
  r.over_pct = poured_over_pct(in.squeeze, shop.rules);
  auto fine = closing_grid(mesh, mould, in.turned_over, shown, progress.part(0, 0.15));
  if (!fine) return fine.error();
  r.grid = *std::move(fine);
  const auto coarse = closing_grid(mesh, mould, in.turned_over, searched, progress.part(0.15, 0.2));
  if (!coarse) return coarse.error();
  const auto other = closing_grid(mesh, mould, !in.turned_over, searched, progress.part(0.2, 0.25));
  if (!other) return other.error();

  ClosingHow how;
  if (const auto res = planned_resin(in.materials, shop)) {
    how.density_g_cm3 = res->density_g_cm3;
    how.viscosity_pa_s = 1e-3 * viscosity_at(res->viscosity_mpa_s, in.room_c, res->reference_c);
  }
  how.close_s = shop.rules.flow.squeeze_close_s;
  how.flash_mm = std::max(0.02, shop.rules.size.flash_mm);
  how.heap_high_mm = in.squeeze.heap_mm.value_or(heap_height_mm(how.viscosity_pa_s));
  if (in.squeeze.heap) {
    const Vec3 at = r.grid.frame.direction(*in.squeeze.heap);
    how.heap_mm = {at.x, at.y};
  }
  const bool keep_end = in.squeeze.down != SetDown::planned;
  if (in.squeeze.down >= SetDown::right) how.hinge_deg = 90.0 * (static_cast<int>(in.squeeze.down) - 2);
  const auto planned = [&](const ClosingGrid& g, bool keep_heap, const Progress& p) {
    ClosingHow h = how;
    h.resin_mm3 = (1 + r.over_pct / 100) * g.part_mm3();
    return plan_closing(g, h, keep_heap, keep_end, p);
  };
  r.how = planned(*coarse, in.squeeze.heap.has_value(), progress.part(0.25, 0.6));
  if (progress.cancelled()) return Error::stopped();
  r.how.resin_mm3 = (1 + r.over_pct / 100) * r.grid.part_mm3();
  r.closing = close_squeeze(r.grid, r.how);
  r.other_way_mm3 = close_squeeze(*other, planned(*other, false, progress.part(0.6, 0.95))).trapped_mm3;
  if (in.squeeze.brushed) {
    // Resin that was worked into a narrow place stays there.
    const auto narrow =
        std::stable_partition(r.closing.pockets.begin(), r.closing.pockets.end(),
                              [&](const ClosingPocket& p) { return p.wide_mm > shop.rules.flow.brush_wide_mm; });
    r.brushed.assign(narrow, r.closing.pockets.end());
    r.closing.pockets.erase(narrow, r.closing.pockets.end());
    for (const ClosingPocket& p : r.brushed) r.closing.trapped_mm3 -= p.volume_mm3;
  }
  for (const auto& loop : in.split->split.loops)
    if (loop.outer)
      for (size_t k = 0; k < loop.points_mm.size(); ++k)
        r.line_mm += length(loop.points_mm[(k + 1) % loop.points_mm.size()] - loop.points_mm[k]);
  // The film it has to be pressed through is as wide as what ran over makes it, at most the land.
  const double over_mm3 = r.how.resin_mm3 - r.grid.part_mm3();
  const double wide = std::clamp(over_mm3 / std::max(1.0, r.line_mm * r.how.flash_mm), 0.0, mould.wall_mm);
  r.weight_kg =
      std::max(0.1, land_force_n(r.how.viscosity_pa_s, r.line_mm, wide, r.how.flash_mm, r.how.close_s) / 9.81);
  r.heap_from_wall_mm = {r.how.heap_mm.x - r.grid.u0_mm, r.how.heap_mm.y - r.grid.v0_mm};
  return r;
}

std::vector<float> reached_at(const ClosingResult& c, const TriMesh& mesh) {
  const ClosingGrid& g = c.grid;
  std::vector<float> out(mesh.points.size(), std::numeric_limits<float>::infinity());
  for (size_t k = 0; k < out.size(); ++k) {
    const Vec3 p = g.frame.direction(mesh.points[k]);
    const int i = std::clamp(static_cast<int>((p.x - g.u0_mm) / g.pitch_mm), 0, g.nu - 1),
              j = std::clamp(static_cast<int>((p.y - g.v0_mm) / g.pitch_mm), 0, g.nv - 1);
    // Beside the part's own columns its outline's neighbours speak for it.
    float best = std::numeric_limits<float>::infinity();
    bool found = false;
    for (int ring = 0; ring <= 1 && !found; ++ring)
      for (int b = std::max(0, j - ring); b <= std::min(g.nv - 1, j + ring); ++b)
        for (int a = std::max(0, i - ring); a <= std::min(g.nu - 1, i + ring); ++a) {
          const size_t col = static_cast<size_t>(b) * static_cast<size_t>(g.nu) + static_cast<size_t>(a);
          if (!g.part[col]) continue;
          const float at = c.closing.reached_mm[col];
          best = found ? std::max(best, at) : at;
          found = true;
        }
    out[k] = best;
  }
  return out;
}

}  // namespace palinform
