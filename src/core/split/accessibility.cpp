#include "split/accessibility.hpp"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>

namespace palinform {

Result<std::vector<float>> releasable_share(const TriMesh& mesh, const RayScene& rays, const Vec3& d,
                                            const AccessOptions& options, const Progress& progress) {
  const size_t n = mesh.triangles.size();
  std::vector<float> share(n, 0);
  double total = 0;
  if (options.sample_budget > 0) {
    // In blocks of a fixed size, added up in their order: the same sum on any number of threads.
    constexpr size_t block = 8192;
    std::vector<double> sums((n + block - 1) / block, 0);
    tbb::parallel_for(size_t{0}, sums.size(), [&](size_t b) {
      for (size_t t = b * block; t < std::min(n, (b + 1) * block); ++t) sums[b] += mesh.area_mm2(t);
    });
    for (const double s : sums) total += s;
  }
  const int least = n > 300'000 ? 1 : options.least_samples;
  const double per_mm2 = total > 0 ? static_cast<double>(options.sample_budget) / total : 0;
  // Far enough off the surface that facets of a curved wall do not shade one another, near enough for 0.1 mm gaps.
  const double lift = std::clamp(2e-4 * rays.diagonal_mm(), 1e-4, 0.02);

  tbb::parallel_for(tbb::blocked_range<size_t>(0, n, 512), [&](const auto& range) {
    if (progress.cancelled()) return;
    // Kept by each thread: fresh ones for every block are felt beside so quick a tree.
    thread_local std::vector<RayScene::Ray> batch;
    thread_local std::vector<uint32_t> owner;
    thread_local std::vector<uint16_t> samples;
    thread_local std::vector<uint8_t> blocked;
    batch.clear(), owner.clear(), samples.clear();
    for (size_t t = range.begin(); t < range.end(); ++t) {
      const Vec3 area = mesh.area_vector(t);
      const double along = dot(area, d), square = dot(area, area);
      // Of what turns away no root is needed.
      if (!(square > 0) || (along < 0 && along * along > options.grazing * options.grazing * square)) continue;
      const double twice = std::sqrt(square);
      const Vec3 normal = area / twice;
      const int count = std::clamp(static_cast<int>(std::ceil(0.5 * twice * per_mm2)), least, 256);
      const Vec3 &a = mesh.corner(t, 0), &b = mesh.corner(t, 1), &c = mesh.corner(t, 2);
      for (int k = 0; k < count; ++k) {
        double u = 1.0 / 3, v = u;
        if (count > 1) {
          // Low-discrepancy points of the unit square, folded onto the triangle.
          u = std::fmod(0.5 + 0.7548776662466927 * (k + 1), 1.0);
          v = std::fmod(0.5 + 0.5698402909980532 * (k + 1), 1.0);
          if (u + v > 1) u = 1 - u, v = 1 - v;
        }
        // Off the wall sideways too: a wall that leans in a hair must not meet itself.
        const Vec3 p = a + (b - a) * u + (c - a) * v + normal * lift - rays.centre();
        batch.push_back({{static_cast<float>(p.x), static_cast<float>(p.y), static_cast<float>(p.z)},
                         {static_cast<float>(d.x), static_cast<float>(d.y), static_cast<float>(d.z)},
                         0,
                         INFINITY});
      }
      owner.push_back(static_cast<uint32_t>(t));
      samples.push_back(static_cast<uint16_t>(count));
    }
    blocked.resize(batch.size());
    rays.occluded(batch, blocked.data());
    size_t at = 0;
    for (size_t i = 0; i < owner.size(); ++i) {
      int open = 0;
      for (int k = 0; k < samples[i]; ++k) open += !blocked[at++];
      share[owner[i]] = static_cast<float>(open) / static_cast<float>(samples[i]);
    }
  });
  if (progress.cancelled()) return Error::stopped();
  return share;
}

}  // namespace palinform
