#include "mould/kept_out.hpp"

#include <algorithm>
#include <cmath>

#include "mould/dams.hpp"
#include "mould/stages.hpp"

namespace palinform {
namespace {

double overlap(double a0, double a1, double b0, double b1) {
  return std::max(0.0, std::min(a1, b1) - std::max(a0, b0));
}

/// Takes what lies in a block out of a pour, its curve with it. Between the wall and the part a block is all rubber: it
/// stands off the part. `before`: blocks already taken out.
void take_out(RubberPour& p, bool upper, const Mould& m, const Box3& block, const std::vector<KeptOut>& before) {
  const Box3& in = m.inner_mm;
  std::vector<double> gone(p.curve.size(), 0);
  double all = 0;
  const double base = upper ? in.max.z - p.fill_height_mm : in.min.z + p.fill_height_mm;
  for (int j = 0; j < m.nv; ++j)
    for (int i = 0; i < m.nu; ++i) {
      const double u0 = m.u0_mm + i * m.pitch_mm, v0 = m.v0_mm + j * m.pitch_mm;
      const auto plan = [&](const Box3& b) {
        return overlap(std::max(u0, in.min.x), std::min(u0 + m.pitch_mm, in.max.x), b.min.x, b.max.x) *
               overlap(std::max(v0, in.min.y), std::min(v0 + m.pitch_mm, in.max.y), b.min.y, b.max.y);
      };
      double area = plan(block);
      for (const KeptOut& k : before)
        if (k.box_mm.min.z <= block.min.z && k.box_mm.max.z >= block.max.z) area -= std::min(area, plan(k.box_mm));
      if (area <= 0) continue;
      const auto at = static_cast<double>(m.parting_mm[m.column(i, j)]);
      const double low = upper ? std::max(block.min.z, at) : block.min.z,
                   high = upper ? block.max.z : std::min(block.max.z, at);
      if (high <= low) continue;
      all += area * (high - low);
      for (size_t c = 0; c < gone.size(); ++c) {
        const double level = upper ? base + p.curve[c].height_mm : base - p.curve[c].height_mm;
        gone[c] += area * (upper ? overlap(low, high, low, level) : overlap(low, high, level, high));
      }
    }
  p.volume_mm3 -= all;
  for (size_t c = 0; c < gone.size(); ++c) p.curve[c].volume_mm3 -= gone[c];
}

}  // namespace

void keep_out(Mould& m, const MouldOptions& o) {
  if (m.pours.size() != 2 || m.nu < 1) return;
  const double before = m.pours[0].volume_mm3 + m.pours[1].volume_mm3;
  if (o.dams)
    for (const Box3& b : dam_saving(m).blocks_mm) {
      for (const bool upper : {true, false}) take_out(m.pours[upper ? 0 : 1], upper, m, b, m.kept_out);
      m.kept_out.push_back({b, true});
    }
  for (const bool upper : {true, false}) {
    if (!(upper ? o.stage_a : o.stage_b)) continue;
    const StagedPour two = two_stage_pour(m, upper);
    RubberPour& p = m.pours[upper ? 0 : 1];
    const Box3& in = m.inner_mm;
    const double first = p.fill_height_mm - (in.size().z - two.height_mm);  // over the lowest place of its own space
    constexpr double worth_share = 0.02;
    if (two.height_mm <= 0 || first <= 0 || two.saved_mm3 < worth_share * p.volume_mm3) continue;
    for (const Box3& b : two.free_mm) {
      take_out(p, upper, m, b, m.kept_out);
      m.kept_out.push_back({b, false});
    }
    p.stage_fill_mm = first;
    p.frame_u_mm = two.frame_u_mm, p.frame_v_mm = two.frame_v_mm;
    p.stage_mm3 = Mould::volume_under(p, first);
  }
  const double after = m.pours[0].volume_mm3 + m.pours[1].volume_mm3;
  m.rubber_mm3 -= before - after;
  m.box_mm3 -= before - after;
}

}  // namespace palinform
