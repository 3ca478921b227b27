#include "size/chain.hpp"

#include <algorithm>
#include <array>
#include <cmath>

namespace palinform {

void ChainMaterials::hash_into(Hasher& h) const {
  for (const double v :
       {sil_shrink_pct, sil_shrink_u_pct, sil_expansion_per_k, res_shrink_pct, res_shrink_u_pct, gel_c, gel_u_c, room_c,
        flash_mm, flash_u_mm, pin_shrink_pct, pin_u_mm, finish_u_mm, finish_allowance_mm})
    h.add(v);
  h.add(generations);
}

double normal_cdf(double z) { return 0.5 * std::erfc(-z / std::sqrt(2.0)); }

double shrink_at_section_pct(double section, double thin_mm, double thin_pct, double thick_mm, double thick_pct) {
  if (!(thick_mm > thin_mm)) return thin_pct;
  const double t = std::clamp((section - thin_mm) / (thick_mm - thin_mm), 0.0, 1.0);
  return thin_pct + t * (thick_pct - thin_pct);
}

double MasterScale::along(const Vec3& share) const {
  if (x == y && y == z) return share.x + share.y + share.z > 0.5 ? x : 1;
  // Shares are first-order strain weights; the weighted geometric mean keeps equal scales exact.
  return std::pow(x, share.x) * std::pow(y, share.y) * std::pow(z, share.z);
}

Prediction predict(const MeasuredSize& size, const ChainMaterials& m, const MasterScale& scales) {
  Prediction p;
  p.size_id = size.id;
  double y = 0;
  const auto step = [&](ChainStep::Kind kind, double after, double u) {
    p.steps.push_back({kind, after - y, u, after});
    y = after;
  };
  if (size.formed == FormedBy::pin && size.pin_mm) {
    y = size.nominal_mm;
    step(ChainStep::Kind::pin, *size.pin_mm * (1 - m.pin_shrink_pct / 100), m.pin_u_mm);
  } else if (size.kind == SizeKind::angle) {
    y = master_value_mm(size);
    step(ChainStep::Kind::master, y, master_u_mm(size));
  } else {
    const double x = master_value_mm(size), scale = scales.along(scale_share_of(size));
    const double k_sil = 1 - m.sil_shrink_pct / 100, k_heat = 1 + m.sil_expansion_per_k * (m.gel_c - m.room_c),
                 k_res = 1 - m.res_shrink_pct / 100;
    const int n = std::max(1, m.generations);
    const double all = scale * std::pow(k_sil * k_heat * k_res, n);
    y = x;
    step(ChainStep::Kind::master, x, master_u_mm(size) * std::abs(all));
    if (scale != 1) step(ChainStep::Kind::scale, y * scale, 0);
    for (int g = 0; g < n; ++g) {
      // The same material shrinks alike each time, so its uncertainty counts n times over: all of it told once.
      const double told = g == 0 ? n : 0;
      step(ChainStep::Kind::rubber, y * k_sil, told * x * all / k_sil * m.sil_shrink_u_pct / 100);
      step(ChainStep::Kind::heat, y * k_heat, told * x * all / k_heat * m.sil_expansion_per_k * m.gel_u_c);
      step(ChainStep::Kind::resin, y * k_res, told * x * all / k_res * m.res_shrink_u_pct / 100);
    }
    if (size.formed == FormedBy::across_line) step(ChainStep::Kind::flash, y + m.flash_mm, m.flash_u_mm);
    if (size.formed == FormedBy::open_face) step(ChainStep::Kind::stock, y + size.stock_mm.value_or(0), 0);
  }
  double u2 = 0;
  for (const ChainStep& s : p.steps) u2 += s.u_mm * s.u_mm;
  p.cast_mm = p.predicted_mm = y;
  p.cast_u_mm = p.u_mm = std::sqrt(u2);
  const auto below = [](double limit, double at, double u) {
    return u > 0 ? normal_cdf((limit - at) / u) : limit >= at ? 1.0 : 0.0;
  };
  double stock_left = 1;
  if (size.finish != Finishing::none && size.kind != SizeKind::angle) {
    const double target = 0.5 * (size.lower_mm + size.upper_mm);
    // A reamer and a shim make larger, so the casting must be small enough; skimming takes off what must be there.
    stock_left =
        size.finish == Finishing::skim
            ? 1 - below(target + m.finish_allowance_mm, p.cast_mm, p.cast_u_mm)
            : below(target - (size.finish == Finishing::ream ? m.finish_allowance_mm : 0), p.cast_mm, p.cast_u_mm);
    step(ChainStep::Kind::finish, target, m.finish_u_mm);
    p.predicted_mm = target;
    p.u_mm = m.finish_u_mm;
  }
  p.p_in_limits = p.u_mm > 0
                      ? below(size.upper_mm, p.predicted_mm, p.u_mm) - below(size.lower_mm, p.predicted_mm, p.u_mm)
                  : p.predicted_mm >= size.lower_mm && p.predicted_mm <= size.upper_mm ? 1
                                                                                       : 0;
  p.p_in_limits *= stock_left;
  p.verdict = p.p_in_limits >= 0.95 ? Verdict::holds : p.p_in_limits >= 0.5 ? Verdict::risk : Verdict::misses;
  return p;
}

}  // namespace palinform
