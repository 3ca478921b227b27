#include "stages/closing.hpp"

#include <algorithm>
#include <cmath>
#include <limits>

#include "flow/filling.hpp"
#include "mould/several.hpp"
#include "stages/flowing.hpp"
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

namespace {

/// Of one cavity, in the mould round it alone.
struct OneCavity {
  const TriMesh& mesh;
  const Split& split;
  const Mould& mould;
  const SqueezeSetup& squeeze;
  bool turned_over;
  const MixSetup& materials;
  double room_c;
  /// Held where the part in hand has chosen: the end by which the half comes down.
  std::optional<std::optional<double>> hinge_deg;
};

Result<ClosingResult> closed(const OneCavity& in, const Shop& shop, const Progress& progress) {
  constexpr int searched = 56, shown = 110;  // columns across the box: to choose on, and to tell by
  const Mould& mould = in.mould;
  const TriMesh& mesh = in.mesh;
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
  const bool keep_end = in.hinge_deg || in.squeeze.down != SetDown::planned;
  if (in.hinge_deg)
    how.hinge_deg = *in.hinge_deg;
  else if (in.squeeze.down >= SetDown::right)
    how.hinge_deg = 90.0 * (static_cast<int>(in.squeeze.down) - 2);
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
  for (const auto& loop : in.split.loops)
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

/// From the walls of the box that all stand in, of the first master of a part.
void from_common_wall(ClosingResult& r, const MouldResult& mould, size_t part) {
  if (!mould.set) return;
  for (const SetMaster& m : mould.set->masters) {
    if (m.part != part) continue;
    const Vec3 own = r.grid.frame.direction_back({r.how.heap_mm.x, r.how.heap_mm.y, 0});
    const Vec3 at = mould.block().frame.direction(m.place.point(own));
    r.heap_from_wall_mm = {at.x - mould.block().inner_mm.min.x, at.y - mould.block().inner_mm.min.y};
    return;
  }
}

}  // namespace

Result<ClosingResult> closing_result(const ClosingGround& in, const Shop& shop, const Progress& progress) {
  auto r = closed({*resin_body(*in.master, in.inserts.get()).mesh, in.split->split, in.mould->mould, in.squeeze,
                   in.turned_over, in.materials, in.room_c, std::nullopt},
                  shop, progress);
  if (!r || !in.mould->set) return r;
  from_common_wall(*r, *in.mould, 0);
  const auto& masters = in.mould->set->masters;
  r->hollows =
      static_cast<int>(std::count_if(masters.begin(), masters.end(), [](const SetMaster& m) { return m.part == 0; }));
  r->beside_others = r->hollows < static_cast<int>(masters.size());
  r->weight_kg *= r->hollows;
  return r;
}

Result<OtherClosingsResult> other_closings(const OtherPartsResult& others, const MouldResult& mould,
                                           const ClosingResult& in_hand, const OtherClosingsHow& how, const Shop& shop,
                                           const Progress& progress) {
  OtherClosingsResult out;
  const double n = static_cast<double>(std::max<size_t>(1, others.parts.size()));
  for (size_t k = 0; k < others.parts.size(); ++k) {
    const OtherPart& part = others.parts[k];
    if (part.masters <= 0) continue;
    const Progress mine = progress.part(static_cast<double>(k) / n, static_cast<double>(k + 1) / n);
    MouldOptions alone = mould.how;
    alone.inside_mm.reset(), alone.dams = alone.stage_a = alone.stage_b = false;
    const auto round_it = two_part_mould(*part.master->mesh, part.split, alone, mine.part(0, 0.2));
    if (!round_it) return round_it.error();
    SqueezeSetup squeeze = how.squeeze;
    squeeze.heap = how.heaps[k];
    auto r = closed({*part.body().mesh, part.split, *round_it, squeeze, in_hand.turned_over, how.materials, how.room_c,
                     in_hand.how.hinge_deg},
                    shop, mine.part(0.2, 1));
    if (!r) return r.error();
    from_common_wall(*r, mould, k + 1);
    r->hollows = part.masters, r->weight_kg *= part.masters;
    out.parts.push_back({*std::move(r), how.names[k]});
  }
  return out;
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
