#include "mould/loose_keys.hpp"

#include <algorithm>
#include <cmath>

namespace palinform {

std::vector<Spot> spread(const std::vector<Spot>& pool, double apart, size_t most) {
  std::vector<Spot> out;
  std::vector<double> near(pool.size(), 1e300);
  while (!pool.empty() && out.size() < most) {
    size_t best = 0;
    for (size_t k = 1; k < pool.size(); ++k)
      if (out.empty() ? pool[k].i > pool[best].i : near[k] > near[best]) best = k;
    if (!out.empty() && near[best] < apart) break;
    out.push_back(pool[best]);
    for (size_t k = 0; k < pool.size(); ++k)
      near[k] = std::min(near[k], std::hypot(pool[k].i - pool[best].i, pool[k].j - pool[best].j));
  }
  return out;
}

std::vector<Vec3> press_loose_keys(Lattice& hull, const std::vector<float>& ground, bool upper, double across_mm,
                                   const JacketRules& r, const std::function<bool(int, int)>& may_stand) {
  const double h = hull.voxel_mm;
  const auto column = [&](int i, int j) {
    return static_cast<size_t>(j) * static_cast<size_t>(hull.ni) + static_cast<size_t>(i);
  };
  std::vector<int> top(ground.size(), -1);
  for (int j = 0; j < hull.nj; ++j)
    for (int i = 0; i < hull.ni; ++i)
      for (int n = 0; n < hull.nk; ++n) {
        const int k = upper ? hull.nk - 1 - n : n;
        const auto at = static_cast<float>((hull.k0 + k) * h);
        if (upper ? at < ground[column(i, j)] : at >= ground[column(i, j)]) break;
        if (hull.at(i, j, k) <= 0) {
          top[column(i, j)] = k;
          break;
        }
      }
  std::vector<Spot> pool;
  const int reach = static_cast<int>(std::ceil(r.key_radius_mm / h));
  for (int j = reach; j < hull.nj - reach; j += 2)
    for (int i = reach; i < hull.ni - reach; i += 2) {
      if (may_stand && !may_stand(i, j)) continue;
      const int c = top[column(i, j)];
      bool flat = c >= 0;
      for (int q = 0; q < 8 && flat; ++q) {
        const int t = top[column(i + (q % 3 - 1) * reach, j + ((q * 3 / 8) - 1) * reach)];
        flat = t >= 0 && std::abs(t - c) * h <= 0.35 * r.key_radius_mm + h;
      }
      if (flat) pool.push_back({i, j});
    }
  std::vector<Vec3> feet;
  const double apart = 0.25 * across_mm / h;
  for (const Spot& s : spread(pool, std::max(apart, 2.5 * r.key_radius_mm / h), static_cast<size_t>(r.keys_a_shell))) {
    // A cap of a ball: its foot as wide as the key, its crown key_high over the skin.
    const double a = r.key_radius_mm, ball = (a * a + r.key_high_mm * r.key_high_mm) / (2 * r.key_high_mm);
    const Vec3 foot = hull.place_mm(s.i, s.j, top[column(s.i, s.j)]);
    const Vec3 middle = foot + Vec3{0, 0, (upper ? 1 : -1) * (r.key_high_mm - ball)};
    feet.push_back(foot);
    const int wide = reach + 2, high = static_cast<int>(std::ceil(r.key_high_mm / h)) + 2;
    for (int k = std::max(0, top[column(s.i, s.j)] - high); k <= std::min(hull.nk - 1, top[column(s.i, s.j)] + high);
         ++k)
      for (int j = std::max(0, s.j - wide); j <= std::min(hull.nj - 1, s.j + wide); ++j)
        for (int i = std::max(0, s.i - wide); i <= std::min(hull.ni - 1, s.i + wide); ++i) {
          if (std::hypot(i - s.i, j - s.j) * h > a + h) continue;
          float& v = hull.at(i, j, k);
          v = std::min(v, static_cast<float>(length(hull.place_mm(i, j, k) - middle) - ball));
        }
  }
  return feet;
}

}  // namespace palinform
