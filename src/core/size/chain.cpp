#include "size/chain.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <random>

namespace palinform {

void ChainMaterials::hash_into(Hasher& h) const {
  for (const double v : {sil_shrink_pct, sil_shrink_u_pct, sil_expansion_per_k, res_shrink_pct, res_shrink_u_pct, gel_c,
                         gel_u_c, room_c, flash_mm, flash_u_mm, pin_shrink_pct, pin_u_mm})
    h.add(v);
}

std::string_view name_of(ChainStep::Kind k) {
  constexpr std::array<std::string_view, 8> names{"master", "scale", "rubber", "heat",
                                                  "resin",  "flash", "stock",  "pin"};
  return names[static_cast<size_t>(k)];
}
std::string_view name_of(Verdict v) { return v == Verdict::holds ? "holds" : v == Verdict::risk ? "risk" : "misses"; }

double normal_cdf(double z) { return 0.5 * std::erfc(-z / std::sqrt(2.0)); }

double shrink_at_section_pct(double section, double thin_mm, double thin_pct, double thick_mm, double thick_pct) {
  if (!(thick_mm > thin_mm)) return thin_pct;
  const double t = std::clamp((section - thin_mm) / (thick_mm - thin_mm), 0.0, 1.0);
  return thin_pct + t * (thick_pct - thin_pct);
}

Prediction predict(const MeasuredSize& size, const ChainMaterials& m, double scale) {
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
  } else {
    const double x = master_value_mm(size);
    const double k_sil = 1 - m.sil_shrink_pct / 100, k_heat = 1 + m.sil_expansion_per_k * (m.gel_c - m.room_c),
                 k_res = 1 - m.res_shrink_pct / 100;
    const double all = scale * k_sil * k_heat * k_res;
    y = x;
    step(ChainStep::Kind::master, x, master_u_mm(size) * std::abs(all));
    if (scale != 1) step(ChainStep::Kind::scale, y * scale, 0);
    step(ChainStep::Kind::rubber, y * k_sil, x * all / k_sil * m.sil_shrink_u_pct / 100);
    step(ChainStep::Kind::heat, y * k_heat, x * all / k_heat * m.sil_expansion_per_k * m.gel_u_c);
    step(ChainStep::Kind::resin, y * k_res, x * all / k_res * m.res_shrink_u_pct / 100);
    if (size.formed == FormedBy::across_line) step(ChainStep::Kind::flash, y + m.flash_mm, m.flash_u_mm);
    if (size.formed == FormedBy::open_face) step(ChainStep::Kind::stock, y + size.stock_mm.value_or(0), 0);
  }
  p.predicted_mm = y;
  double u2 = 0;
  for (const ChainStep& s : p.steps) u2 += s.u_mm * s.u_mm;
  p.u_mm = std::sqrt(u2);
  if (p.u_mm > 0)
    p.p_in_limits = normal_cdf((size.upper_mm - y) / p.u_mm) - normal_cdf((size.lower_mm - y) / p.u_mm);
  else
    p.p_in_limits = y >= size.lower_mm && y <= size.upper_mm ? 1 : 0;
  p.verdict = p.p_in_limits >= 0.95 ? Verdict::holds : p.p_in_limits >= 0.5 ? Verdict::risk : Verdict::misses;
  return p;
}

DrawnSize predict_by_draws(const MeasuredSize& size, const ChainMaterials& m, double scale, int draws, uint64_t seed) {
  std::mt19937_64 engine(seed);
  // Box–Muller by hand: std::normal_distribution differs between libraries, and the same seed must give the same draws.
  const auto uniform = [&] { return (static_cast<double>(engine() >> 11) + 0.5) * 0x1.0p-53; };
  const auto normal = [&](double mean, double u) {
    return mean + u * std::sqrt(-2 * std::log(uniform())) * std::cos(2 * M_PI * uniform());
  };
  double sum = 0, squares = 0;
  const double centre = predict(size, m, scale).predicted_mm;
  for (int i = 0; i < draws; ++i) {
    double y = 0;
    if (size.formed == FormedBy::pin && size.pin_mm) {
      y = normal(*size.pin_mm * (1 - m.pin_shrink_pct / 100), m.pin_u_mm);
    } else {
      y = normal(master_value_mm(size), master_u_mm(size)) * scale *
          (1 - normal(m.sil_shrink_pct, m.sil_shrink_u_pct) / 100) *
          (1 + m.sil_expansion_per_k * (normal(m.gel_c, m.gel_u_c) - m.room_c)) *
          (1 - normal(m.res_shrink_pct, m.res_shrink_u_pct) / 100);
      if (size.formed == FormedBy::across_line) y += normal(m.flash_mm, m.flash_u_mm);
      if (size.formed == FormedBy::open_face) y += size.stock_mm.value_or(0);
    }
    sum += y - centre;
    squares += (y - centre) * (y - centre);
  }
  const double mean = sum / draws;
  return {centre + mean, std::sqrt(std::max(0.0, squares / draws - mean * mean))};
}

double best_scale(const std::vector<MeasuredSize>& sizes, const ChainMaterials& m, double low, double high) {
  std::vector<MeasuredSize> live;
  for (const MeasuredSize& s : sizes)
    if (!(s.formed == FormedBy::pin && s.pin_mm)) live.push_back(s);
  if (live.empty()) return 1;
  struct Score {
    double worst_p, margin, error;
    bool better(const Score& o) const {
      if (std::abs(worst_p - o.worst_p) > 1e-9) return worst_p > o.worst_p;
      // Where every P is nought the tails still differ: the least standardised distance outside tells which way to go.
      if (worst_p < 1e-9 && std::abs(margin - o.margin) > 1e-9) return margin > o.margin;
      return error < o.error - 1e-12;
    }
  };
  const auto score = [&](double s) {
    Score best{1, 1e300, 0};
    for (const MeasuredSize& size : live) {
      const Prediction p = predict(size, m, s);
      const double u = std::max(p.u_mm, 1e-9);
      best.worst_p = std::min(best.worst_p, p.p_in_limits);
      best.margin = std::min({best.margin, (size.upper_mm - p.predicted_mm) / u, (p.predicted_mm - size.lower_mm) / u});
      const double half = std::max(0.5 * (size.upper_mm - size.lower_mm), 1e-9);
      best.error +=
          std::abs(p.predicted_mm - 0.5 * (size.upper_mm + size.lower_mm)) / half / static_cast<double>(live.size());
    }
    return best;
  };
  double at = low, span = high - low;
  Score best = score(low);
  for (int round = 0; round < 4; ++round) {  // grid, then ever finer grids around the best: no assumption of one peak
    const double from = round == 0 ? low : std::max(low, at - span), to = round == 0 ? high : std::min(high, at + span);
    const int n = round == 0 ? 400 : 40;
    for (int i = 0; i <= n; ++i) {
      const double s = from + (to - from) * i / n;
      const Score q = score(s);
      if (q.better(best)) best = q, at = s;
    }
    span = (to - from) / n;
  }
  return at;
}

}  // namespace palinform
