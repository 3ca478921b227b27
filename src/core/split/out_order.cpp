#include "split/out_order.hpp"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>
#include <optional>

namespace palinform {
namespace {

constexpr size_t most_looks = 6000;
constexpr double along = 0.14;        // sine of 8°
constexpr double least_share = 5e-3;  // of what looks along the way

struct Look {
  Vec3 from;
  double mm2 = 0;  // across the way
};

/// Faces that look along the way, in places spread over them.
std::vector<Look> looks_of(const ComesOut& b) {
  const TriMesh& m = *b.mesh;
  double all = 0;
  std::vector<std::pair<size_t, double>> front;
  for (size_t t = 0; t < m.triangles.size(); ++t) {
    const Vec3 a = m.area_vector(t);
    const double ahead = 0.5 * dot(a, b.way);
    if (ahead <= 0 || 2 * ahead < along * length(a)) continue;
    front.push_back({t, ahead});
    all += ahead;
  }
  std::vector<Look> out;
  const double each = all / most_looks;
  double due = 0;
  for (const auto& [t, mm2] : front) {
    due += mm2;
    if (due < each) continue;
    const int n = std::clamp(static_cast<int>(std::sqrt(due / each)), 1, 40);
    const Vec3 &p = m.corner(t, 0), &q = m.corner(t, 1), &r = m.corner(t, 2);
    for (int i = 0; i < n; ++i)
      for (int j = 0; i + j < n; ++j)
        out.push_back({p + (q - p) * ((i + 1.0 / 3) / n) + (r - p) * ((j + 1.0 / 3) / n), due / (0.5 * n * (n + 1))});
    due = 0;
  }
  return out;
}

struct Held {
  double share = 0;
  Vec3 at_mm;
};

Held held_by(const std::vector<Look>& looks, const Vec3& way, const ComesOut& other, double slack) {
  std::vector<uint8_t> hit(looks.size(), 0);
  tbb::parallel_for(tbb::blocked_range<size_t>(0, looks.size(), 128), [&](const auto& range) {
    for (size_t i = range.begin(); i < range.end(); ++i) {
      // Going in, farther off than bodies that only touch.
      for (const RayHit& h : other.rays->all_hits(looks[i].from - way * slack, way))
        if (h.entering && h.t_mm > 2 * slack) hit[i] = 1;
    }
  });
  Held r;
  double all = 0, sum = 0;
  for (size_t i = 0; i < looks.size(); ++i) {
    all += looks[i].mm2;
    if (!hit[i]) continue;
    if (sum == 0) r.at_mm = looks[i].from;
    sum += looks[i].mm2;
  }
  r.share = all > 0 ? sum / all : 0;
  return r;
}

}  // namespace

OutOrder out_order(const std::vector<ComesOut>& bodies, double slack, const Progress& progress) {
  OutOrder out;
  const size_t n = bodies.size();
  std::vector<std::vector<Held>> held(n, std::vector<Held>(n));
  for (size_t i = 0; i < n; ++i) {
    const std::vector<Look> looks = looks_of(bodies[i]);
    for (size_t j = 0; j < n; ++j)
      if (i != j) held[i][j] = held_by(looks, bodies[i].way, bodies[j], slack);
    if (progress.cancelled()) return out;
    progress.report(static_cast<double>(i + 1) / static_cast<double>(n));
  }
  std::vector<bool> gone(n, false);
  for (size_t step = 0; step < n; ++step) {
    std::optional<size_t> next, least;
    double least_held = 1e300;
    for (size_t i = 0; i < n; ++i) {
      if (gone[i]) continue;
      double sum = 0;
      bool free = true;
      for (size_t j = 0; j < n; ++j)
        if (!gone[j] && j != i && held[i][j].share > least_share) free = false, sum += held[i][j].share;
      if (free && (!next || bodies[i].turn < bodies[*next].turn)) next = i;
      if (!free && sum < least_held) least_held = sum, least = i;
    }
    if (!next) {
      // Nothing is free: the one that is held least is told, and taken away all the same.
      next = least;
      size_t by = 0;
      double most = -1;
      for (size_t j = 0; j < n; ++j)
        if (!gone[j] && j != *next && held[*next][j].share > most) most = held[*next][j].share, by = j;
      out.stuck.push_back({*next, by, held[*next][by].at_mm});
    }
    gone[*next] = true;
    out.order.push_back(*next);
  }
  return out;
}

}  // namespace palinform
