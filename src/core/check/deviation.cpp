#include "check/deviation.hpp"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>
#include <cstring>
#include <numeric>

namespace palinform {
namespace {

/// Outward normals at the points, each face by its angle there.
std::vector<Vec3> point_normals(const TriMesh& m) {
  std::vector<Vec3> out(m.points.size());
  for (size_t t = 0; t < m.triangles.size(); ++t) {
    const Vec3 n = m.normal(t);
    for (int k = 0; k < 3; ++k) {
      const Vec3 a = unit(m.corner(t, (k + 1) % 3) - m.corner(t, k)),
                 b = unit(m.corner(t, (k + 2) % 3) - m.corner(t, k));
      out[m.triangles[t][static_cast<size_t>(k)]] += n * std::acos(std::clamp(dot(a, b), -1.0, 1.0));
    }
  }
  return out;
}

/// A third of every face to each of its corners.
std::vector<float> point_areas(const TriMesh& m) {
  std::vector<float> out(m.points.size(), 0);
  for (size_t t = 0; t < m.triangles.size(); ++t) {
    const auto third = static_cast<float>(m.area_mm2(t) / 3);
    for (const uint32_t p : m.triangles[t]) out[p] += third;
  }
  return out;
}

/// On the outside of an edge or corner the normals of the faces beside it decide together.
double side_of(const TriMesh& m, const std::vector<Vec3>& normals, const SurfacePoint& near, const Vec3& p) {
  const Vec3 a = m.corner(near.triangle, 0), b = m.corner(near.triangle, 1), c = m.corner(near.triangle, 2);
  const Vec3 n = cross(b - a, c - a);
  const double whole = dot(n, n);
  Vec3 by = n;
  if (whole > 0) {
    const double wa = dot(cross(c - b, near.point_mm - b), n) / whole,
                 wb = dot(cross(a - c, near.point_mm - c), n) / whole;
    const double inside = std::min({wa, wb, 1 - wa - wb});
    if (inside < 1e-4) {
      const Triangle& t = m.triangles[near.triangle];
      by = normals[t[0]] * std::max(0.0, wa) + normals[t[1]] * std::max(0.0, wb) +
           normals[t[2]] * std::max(0.0, 1 - wa - wb);
    }
  }
  return dot(p - near.point_mm, by) < 0 ? -1 : 1;
}

}  // namespace

Result<Deviation> deviation_of(const TriMesh& master, const RayScene& rays, const TriMesh& scan, const Laid& laid,
                               const Progress& progress, std::shared_ptr<const RayScene> scan_rays) {
  Deviation d;
  const std::vector<Vec3> normals = point_normals(master);
  const std::vector<float> area = point_areas(scan);
  d.mm.resize(scan.points.size());
  const Vec3 size = measure(master).box_mm.size();
  const double extent = std::max({size.x, size.y, size.z});
  tbb::parallel_for(tbb::blocked_range<size_t>(0, scan.points.size(), 2048), [&](const auto& range) {
    if (progress.cancelled()) return;
    for (size_t i = range.begin(); i < range.end(); ++i) {
      const Vec3 p = laid.point(scan.points[i]);
      const SurfacePoint near = rays.closest(p);
      d.mm[i] = static_cast<float>(near.distance_mm * side_of(master, normals, near, p));
    }
    progress.report(0.7 * static_cast<double>(range.end()) / static_cast<double>(scan.points.size()));
  });
  if (progress.cancelled()) return Error::stopped();
  double sum = 0, squares = 0, all = 0;
  d.min_mm = 1e300, d.max_mm = -1e300;
  for (size_t i = 0; i < d.mm.size(); ++i) {
    const double v = static_cast<double>(d.mm[i]), a = static_cast<double>(area[i]);
    if (a <= 0) continue;
    sum += v * a, squares += v * v * a, all += a;
    d.min_mm = std::min(d.min_mm, v), d.max_mm = std::max(d.max_mm, v);
  }
  if (all <= 0) return Error{"the scan has no skin", "scan", ""};
  d.mean_mm = sum / all, d.rms_mm = std::sqrt(squares / all);
  std::vector<uint32_t> order(d.mm.size());
  std::iota(order.begin(), order.end(), 0u);
  std::sort(order.begin(), order.end(), [&](uint32_t a, uint32_t b) {
    const float x = std::abs(d.mm[a]), y = std::abs(d.mm[b]);
    return x != y ? x > y : a < b;
  });
  double beyond = 0;
  for (const uint32_t i : order) {
    beyond += static_cast<double>(area[i]);
    if (beyond >= 0.05 * all) {
      d.p95_abs_mm = static_cast<double>(std::abs(d.mm[i]));
      break;
    }
  }
  for (const uint32_t i : order) {
    if (d.worst.size() >= 5) break;
    if (area[i] <= 0) continue;
    const Vec3 at = rays.closest(laid.point(scan.points[i])).point_mm;
    if (std::any_of(d.worst.begin(), d.worst.end(),
                    [&](const DeviationPlace& w) { return length(w.at_mm - at) < 0.1 * extent; }))
      continue;
    d.worst.push_back({at, static_cast<double>(d.mm[i])});
  }
  d.same_part = d.rms_mm <= 0.05 * extent;

  // The other way: which of the master's skin lies by the scan.
  if (!scan_rays) {
    const auto built = RayScene::build(laid_mesh(scan, laid));
    if (!built) return built.error();
    scan_rays = *built;
  }
  const double near_mm = std::max(0.02 * extent, 3 * d.p95_abs_mm);
  double master_mm2 = 0;
  for (size_t t = 0; t < master.triangles.size(); ++t) master_mm2 += master.area_mm2(t);
  constexpr size_t looks = 20'000;
  std::vector<std::pair<Vec3, double>> spots;
  double due = 0;
  for (size_t t = 0; t < master.triangles.size(); ++t) {
    const double mm2 = master.area_mm2(t);
    due += mm2;
    const double each = master_mm2 / looks;
    if (due < each) continue;
    // Large faces are looked at in several places, by halving.
    const int n = std::clamp(static_cast<int>(std::sqrt(due / each)), 1, 60);
    const Vec3 &a = master.corner(t, 0), &b = master.corner(t, 1), &c = master.corner(t, 2);
    for (int i = 0; i < n; ++i)
      for (int j = 0; i + j < n; ++j)
        spots.push_back({a + (b - a) * ((i + 1.0 / 3) / n) + (c - a) * ((j + 1.0 / 3) / n), due / (0.5 * n * (n + 1))});
    due = 0;
  }
  std::vector<uint8_t> by(spots.size(), 0);
  tbb::parallel_for(size_t{0}, spots.size(),
                    [&](size_t i) { by[i] = scan_rays->closest(spots[i].first).distance_mm <= near_mm; });
  double covered = 0, looked = 0;
  for (size_t i = 0; i < spots.size(); ++i) looked += spots[i].second, covered += by[i] ? spots[i].second : 0;
  d.covered_share = looked > 0 ? covered / looked : 0;
  progress.report(1);
  return d;
}

TriMesh laid_mesh(TriMesh scan, const Laid& laid) {
  for (Vec3& p : scan.points) p = laid.point(p);
  return scan;
}

double within_limit_share(const TriMesh& scan, const std::vector<float>& mm, double limit) {
  const std::vector<float> area = point_areas(scan);
  double in = 0, all = 0;
  for (size_t i = 0; i < mm.size(); ++i) {
    all += static_cast<double>(area[i]);
    if (static_cast<double>(std::abs(mm[i])) <= limit) in += static_cast<double>(area[i]);
  }
  return all > 0 ? in / all : 0;
}

std::vector<HistogramBin> deviation_histogram(const TriMesh& scan, const std::vector<float>& mm, double reach,
                                              int bins) {
  std::vector<HistogramBin> out(static_cast<size_t>(bins));
  for (int k = 0; k < bins; ++k) {
    out[static_cast<size_t>(k)].from_mm = -reach + 2 * reach * k / bins;
    out[static_cast<size_t>(k)].to_mm = -reach + 2 * reach * (k + 1) / bins;
  }
  const std::vector<float> area = point_areas(scan);
  double all = 0;
  for (size_t i = 0; i < mm.size(); ++i) {
    const int k = std::clamp(static_cast<int>(std::floor((static_cast<double>(mm[i]) + reach) / (2 * reach) * bins)), 0,
                             bins - 1);
    out[static_cast<size_t>(k)].share += static_cast<double>(area[i]);
    all += static_cast<double>(area[i]);
  }
  if (all > 0)
    for (HistogramBin& b : out) b.share /= all;
  return out;
}

std::string deviation_ply(const TriMesh& scan, const Laid& laid, const std::vector<float>& mm) {
  std::string out =
      "ply\nformat binary_little_endian 1.0\ncomment Palinform: deviation in mm, outside above nought\n"
      "element vertex " +
      std::to_string(scan.points.size()) +
      "\nproperty float x\nproperty float y\nproperty float z\nproperty float deviation\nelement face " +
      std::to_string(scan.triangles.size()) + "\nproperty list uchar int vertex_indices\nend_header\n";
  const size_t head = out.size();
  out.resize(head + 16 * scan.points.size() + 13 * scan.triangles.size());
  char* at = out.data() + head;
  for (size_t i = 0; i < scan.points.size(); ++i, at += 16) {
    const Vec3 p = laid.point(scan.points[i]);
    const float f[4] = {static_cast<float>(p.x), static_cast<float>(p.y), static_cast<float>(p.z), mm[i]};
    std::memcpy(at, f, sizeof f);
  }
  for (const Triangle& t : scan.triangles) {
    *at = 3;
    std::memcpy(at + 1, t.data(), 12);
    at += 13;
  }
  return out;
}

}  // namespace palinform
