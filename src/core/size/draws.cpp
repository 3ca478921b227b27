#include "size/draws.hpp"

#include <tbb/parallel_for.h>

#include <cmath>
#include <numbers>

namespace palinform {
namespace {

/// xoshiro256++ (Blackman and Vigna), seeded by splitmix64. Normals by Box–Muller, both of each pair used:
/// std::normal_distribution differs between libraries, and the same seed must give the same draws.
class Normals {
 public:
  explicit Normals(uint64_t seed) {
    for (uint64_t& s : state_) {
      seed += 0x9E3779B97F4A7C15u;
      uint64_t z = seed;
      z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9u;
      z = (z ^ (z >> 27)) * 0x94D049BB133111EBu;
      s = z ^ (z >> 31);
    }
  }
  double operator()(double mean, double u) {
    if (has_) {
      has_ = false;
      return mean + u * kept_;
    }
    const double r = std::sqrt(-2 * std::log(uniform())), a = 2 * std::numbers::pi * uniform();
    kept_ = r * std::sin(a);
    has_ = true;
    return mean + u * r * std::cos(a);
  }

 private:
  double uniform() { return (static_cast<double>(next() >> 11) + 0.5) * 0x1.0p-53; }
  uint64_t next() {
    const auto turn = [](uint64_t x, int k) { return (x << k) | (x >> (64 - k)); };
    const uint64_t out = turn(state_[0] + state_[3], 23) + state_[0], t = state_[1] << 17;
    state_[2] ^= state_[0];
    state_[3] ^= state_[1];
    state_[1] ^= state_[2];
    state_[0] ^= state_[3];
    state_[2] ^= t;
    state_[3] = turn(state_[3], 45);
    return out;
  }
  uint64_t state_[4];
  double kept_ = 0;
  bool has_ = false;
};

DrawnSize draw_one(const ChainInput& in, const MasterScale& scales, int draws, uint64_t seed) {
  const MeasuredSize& size = in.size;
  const ChainMaterials& m = in.materials;
  Normals normal(seed);
  const bool pin = size.formed == FormedBy::pin && size.pin_mm, angle = size.kind == SizeKind::angle;
  const double x = master_value_mm(size), u = master_u_mm(size), scale = scales.along(scale_share_of(size));
  const double centre = predict(size, m, scales).cast_mm;
  double sum = 0, squares = 0;
  for (int i = 0; i < draws; ++i) {
    double y = 0;
    if (pin) {
      y = normal(*size.pin_mm * (1 - m.pin_shrink_pct / 100), m.pin_u_mm);
    } else if (angle) {
      y = normal(x, u);
    } else {
      y = normal(x, u) * scale;
      const double through = (1 - normal(m.sil_shrink_pct, m.sil_shrink_u_pct) / 100) *
                             (1 + m.sil_expansion_per_k * (normal(m.gel_c, m.gel_u_c) - m.room_c)) *
                             (1 - normal(m.res_shrink_pct, m.res_shrink_u_pct) / 100);
      for (int g = 0; g < std::max(1, m.generations); ++g) y *= through;
      if (size.formed == FormedBy::across_line) y += normal(m.flash_mm, m.flash_u_mm);
      if (size.formed == FormedBy::open_face) y += size.stock_mm.value_or(0);
    }
    sum += y - centre;
    squares += (y - centre) * (y - centre);
  }
  const double mean = sum / draws;
  return {centre + mean, std::sqrt(std::max(0.0, squares / draws - mean * mean))};
}

}  // namespace

Result<std::vector<DrawnSize>> draw_sizes(const std::vector<ChainInput>& sizes, const MasterScale& scale, int draws,
                                          uint64_t seed, const Progress& progress) {
  if (draws < 2) return Error{"a spread needs at least two draws", "draws", ""};
  std::vector<DrawnSize> out(sizes.size());
  tbb::parallel_for(size_t{0}, sizes.size(), [&](size_t i) {
    if (!progress.cancelled()) out[i] = draw_one(sizes[i], scale, draws, seed * 1'000'003 + i);
  });
  if (progress.cancelled()) return Error::stopped();
  return out;
}

DrawCheck compare_draws(const std::vector<Prediction>& first, const std::vector<DrawnSize>& drawn) {
  DrawCheck out;
  for (size_t i = 0; i < first.size() && i < drawn.size(); ++i) {
    if (!(first[i].cast_u_mm > 0)) continue;
    const double off = std::abs(drawn[i].u_mm / first[i].cast_u_mm - 1);
    if (off > out.worst_ratio) out = {off, i};
  }
  return out;
}

}  // namespace palinform
