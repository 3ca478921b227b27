#include "check/align.hpp"

#include <tbb/parallel_for.h>
#include <tbb/parallel_invoke.h>

#include <algorithm>
#include <cmath>
#include <Eigen/Dense>
#include <numbers>

#include "base/text.hpp"

namespace palinform {
namespace {

struct Cloud {
  Vec3 middle;
  double radius = 0;  // root of the mean square distance from the middle
  Transform frame;    // rows: principal axes, widest first; right-handed
};

std::vector<double> areas_of(const TriMesh& m) {
  std::vector<double> out(m.triangles.size());
  tbb::parallel_for(tbb::blocked_range<size_t>(0, out.size(), 8192), [&](const auto& range) {
    for (size_t t = range.begin(); t < range.end(); ++t) out[t] = m.area_mm2(t);
  });
  return out;
}

/// By area, so that a finely meshed corner weighs no more than its skin. Of a large mesh some of its faces stand for
/// all: it is where the fit begins.
Cloud cloud_of(const TriMesh& m, const std::vector<double>& areas) {
  Cloud c;
  const size_t every = 1 + m.triangles.size() / 250'000;
  double area = 0;
  for (size_t t = 0; t < m.triangles.size(); t += every) {
    const double a = areas[t];
    c.middle += m.centre(t) * a, area += a;
  }
  c.middle = c.middle / std::max(area, 1e-30);
  Eigen::Matrix3d s = Eigen::Matrix3d::Zero();
  for (size_t t = 0; t < m.triangles.size(); t += every) {
    const double a = areas[t];
    // Exact second moment of a triangle: its corners and its middle.
    Vec3 sum;
    for (int k = 0; k < 3; ++k) {
      const Vec3 d = m.corner(t, k) - c.middle;
      sum += d;
      for (int i = 0; i < 3; ++i)
        for (int j = 0; j <= i; ++j) s(i, j) += a / 12 * d[i] * d[j];
    }
    for (int i = 0; i < 3; ++i)
      for (int j = 0; j <= i; ++j) s(i, j) += a / 12 * sum[i] * sum[j];
  }
  s = s.selfadjointView<Eigen::Lower>();
  s /= std::max(area, 1e-30);
  c.radius = std::sqrt(s.trace());
  const Eigen::SelfAdjointEigenSolver<Eigen::Matrix3d> solved(s);
  for (int k = 0; k < 3; ++k) {
    const auto v = solved.eigenvectors().col(2 - k);
    c.frame.rows[static_cast<size_t>(k)] = unit({v(0), v(1), v(2)});
  }
  c.frame.rows[2] = cross(c.frame.rows[0], c.frame.rows[1]);
  return c;
}

/// Points spread evenly by area, and always the same ones. Of a scan they are points that were measured, its own
/// corners; of a mesh with few of those, places between them.
std::vector<Vec3> spread(const TriMesh& m, const std::vector<double>& areas, size_t count) {
  double area = 0;
  for (const double a : areas) area += a;
  std::vector<Vec3> out;
  out.reserve(count + 1);
  const bool measured = m.points.size() >= 1000;
  double step = area / static_cast<double>(count), due = 0.5 * step;
  uint64_t n = 0;
  for (size_t t = 0; t < m.triangles.size(); ++t) {
    const double a = areas[t];
    while (due < a && out.size() < count) {
      // A sequence of low discrepancy (R2) over the triangle.
      double u = std::fmod(0.5 + 0.7548776662466927 * static_cast<double>(n), 1.0),
             v = std::fmod(0.5 + 0.5698402909980532 * static_cast<double>(n), 1.0);
      if (u + v > 1) u = 1 - u, v = 1 - v;
      ++n;
      if (measured)
        out.push_back(m.corner(t, 1 - u - v >= std::max(u, v) ? 0 : u >= v ? 1 : 2));
      else
        out.push_back(m.corner(t, 0) + (m.corner(t, 1) - m.corner(t, 0)) * u + (m.corner(t, 2) - m.corner(t, 0)) * v);
      due += step;
    }
    due -= a;
  }
  return out;
}

double median(std::vector<double> v) {
  if (v.empty()) return 0;
  std::nth_element(v.begin(), v.begin() + static_cast<std::ptrdiff_t>(v.size() / 2), v.end());
  return v[v.size() / 2];
}

struct Pair {
  Vec3 at, on, normal;  // the point as laid; where it belongs, with the normal there
  double off = 0;       // along the normal
  bool used = false;
};

struct Fitting {
  const TriMesh& master;
  const RayScene& rays;
  std::vector<Vec3> points;  // of the scan
  Vec3 middle;               // of the master
};

std::vector<Pair> pairs_of(const Fitting& f, const Laid& laid, const std::vector<Datum>& datums) {
  std::vector<Pair> out(f.points.size());
  tbb::parallel_for(size_t{0}, f.points.size(), [&](size_t i) {
    Pair& p = out[i];
    p.at = laid.point(f.points[i]);
    const SurfacePoint near = f.rays.closest(p.at);
    p.on = near.point_mm;
    p.normal = f.master.normal(near.triangle);
    p.off = dot(p.at - p.on, p.normal);
    p.used = datums.empty();
    for (const Datum& d : datums)
      if (length(p.on - d.at_mm) <= d.radius_mm) p.used = true;
    // Beside an edge of the master nothing is known across the face.
    if (near.distance_mm > 2 * std::abs(p.off) + 1e-6) p.used = p.used && near.distance_mm < 1e-3;
  });
  return out;
}

/// Keeps what lies within three robust sigmas, never less than `least` of all.
double trim(std::vector<Pair>& pairs, double least) {
  std::vector<double> off;
  for (const Pair& p : pairs)
    if (p.used) off.push_back(p.off);
  if (off.empty()) return 0;
  const double mid = median(off);
  std::vector<double> away(off.size());
  for (size_t i = 0; i < off.size(); ++i) away[i] = std::abs(off[i] - mid);
  double reach = 3 * 1.4826 * median(away);
  std::nth_element(away.begin(),
                   away.begin() + static_cast<std::ptrdiff_t>(least * static_cast<double>(away.size() - 1)),
                   away.end());
  reach = std::max({reach, away[static_cast<size_t>(least * static_cast<double>(away.size() - 1))], 1e-9});
  double sum = 0;
  size_t n = 0;
  for (Pair& p : pairs) {
    if (!p.used) continue;
    p.used = std::abs(p.off - mid) <= reach;
    if (p.used) sum += p.off * p.off, ++n;
  }
  return n ? std::sqrt(sum / static_cast<double>(n)) : 0;
}

/// One step of Gauss and Newton: turn, shift and, where asked, a scale along each axis, about the master's middle.
double step(const Fitting& f, std::vector<Pair>& pairs, Laid& laid, bool scale_free, double reach_mm) {
  const int n = scale_free ? 9 : 6;
  Eigen::MatrixXd a = Eigen::MatrixXd::Zero(n, n);
  Eigen::VectorXd b = Eigen::VectorXd::Zero(n);
  for (const Pair& p : pairs) {
    if (!p.used) continue;
    const Vec3 arm = p.at - f.middle, turn = cross(arm, p.normal);
    double row[9] = {turn.x,
                     turn.y,
                     turn.z,
                     p.normal.x,
                     p.normal.y,
                     p.normal.z,
                     p.normal.x * arm.x,
                     p.normal.y * arm.y,
                     p.normal.z * arm.z};
    for (int i = 0; i < n; ++i) {
      for (int j = 0; j <= i; ++j) a(i, j) += row[i] * row[j];
      b(i) -= row[i] * p.off;
    }
  }
  for (int i = 0; i < n; ++i)
    for (int j = i + 1; j < n; ++j) a(i, j) = a(j, i);
  // What the shape leaves free stays: a turned part does not spin.
  const Eigen::SelfAdjointEigenSolver<Eigen::MatrixXd> solved(a);
  Eigen::VectorXd x = Eigen::VectorXd::Zero(n);
  const double top = solved.eigenvalues()(n - 1);
  for (int k = 0; k < n; ++k)
    if (solved.eigenvalues()(k) > 1e-9 * top)
      x += solved.eigenvectors().col(k) * (solved.eigenvectors().col(k).dot(b) / solved.eigenvalues()(k));
  const Vec3 turn{x(0), x(1), x(2)}, shift{x(3), x(4), x(5)};
  Vec3 by{1, 1, 1};
  if (scale_free)
    for (int k = 0; k < 3; ++k) by[k] = std::clamp(1 + x(6 + k), 0.9, 1.1);
  const double angle = length(turn);
  const Transform spin = angle > 0 ? Transform::turn(turn / angle, std::min(angle, 0.5)) : Transform{};
  // Scale stands outside: what is laid is unscaled first, moved, and scaled again.
  Vec3 scale;
  for (int k = 0; k < 3; ++k) scale[k] = laid.scale[k] * by[k];
  const auto unscaled = [&](const Vec3& p, const Vec3& s) { return Vec3{p.x / s.x, p.y / s.y, p.z / s.z}; };
  if (!scale_free) {
    const Transform about = Transform::move(-f.middle).then(spin).then(Transform::move(f.middle + shift));
    if (laid.scale == Vec3{1, 1, 1}) {
      laid.motion = laid.motion.then(about);
    } else {
      // Keep the scale, move beneath it.
      const Vec3 m = unscaled(f.middle, laid.scale), s = unscaled(shift, laid.scale);
      laid.motion = laid.motion.then(Transform::move(-m)).then(spin).then(Transform::move(m + s));
    }
  } else {
    const Vec3 m = unscaled(f.middle, laid.scale);
    const Vec3 to = unscaled(f.middle + shift, scale);
    laid.motion = laid.motion.then(Transform::move(-m)).then(spin).then(Transform::move(to));
    laid.scale = scale;
  }
  return angle * reach_mm + length(shift) +
         (scale_free ? reach_mm * (std::abs(by.x - 1) + std::abs(by.y - 1) + std::abs(by.z - 1)) : 0);
}

double settle(const Fitting& f, Laid& laid, const std::vector<Datum>& datums, bool scale_free, int rounds, double least,
              double enough_mm, double reach_mm, const Progress& progress) {
  double rms = 0;
  for (int r = 0; r < rounds && !progress.cancelled(); ++r) {
    auto pairs = pairs_of(f, laid, datums);
    rms = trim(pairs, least);
    if (step(f, pairs, laid, scale_free, reach_mm) < enough_mm) break;
    progress.report(static_cast<double>(r + 1) / rounds);
  }
  return rms;
}

/// Rotations spread over all there are: turns of an icosahedron's axes, each by a third or a half.
std::vector<Transform> many_turns() {
  std::vector<Transform> out{Transform{}};
  std::vector<Vec3> axes;
  const double g = (1 + std::sqrt(5.0)) / 2;
  for (const double s : {1.0, -1.0}) {
    axes.push_back(unit({0, 1, s * g})), axes.push_back(unit({1, s * g, 0})), axes.push_back(unit({s * g, 0, 1}));
    axes.push_back(unit({s, 1, 1})), axes.push_back(unit({s, -1, 1}));
  }
  axes.push_back({1, 0, 0}), axes.push_back({0, 1, 0}), axes.push_back({0, 0, 1});
  for (const Vec3& a : axes)
    for (const double deg : {45.0, 90.0, 135.0, 180.0, 225.0, 270.0, 315.0})
      out.push_back(Transform::turn(a, deg * std::numbers::pi / 180));
  return out;
}

}  // namespace

Result<Aligned> align_scan(const TriMesh& master, const RayScene& rays, const TriMesh& scan, const AlignOptions& o,
                           const Progress& progress) {
  if (auto ok = check_mesh(scan, "the scan"); !ok) return ok.error();
  Cloud m, s;
  const std::vector<double> areas = areas_of(scan);
  tbb::parallel_invoke([&] { m = cloud_of(master, areas_of(master)); }, [&] { s = cloud_of(scan, areas); });
  Aligned out;
  out.size_ratio = s.radius / std::max(m.radius, 1e-12);
  const struct {
    double ratio;
    const char* words;
  } units[] = {{25.4, "it looks 25.4 times too large: was it read in inches"},
               {1 / 25.4, "it looks 25.4 times too small: is it in inches"},
               {10, "it looks ten times too large: was it read in centimetres"},
               {0.1, "it looks ten times too small: is it in centimetres"},
               {1000, "it looks a thousand times too large: was it read in metres"},
               {1e-3, "it looks a thousand times too small: is it in metres"}};
  for (const auto& u : units)
    if (out.size_ratio > 0.87 * u.ratio && out.size_ratio < 1.15 * u.ratio)
      return Error{std::string(u.words) + "?", "scan", "Say its unit: --unit mm, cm or in."};
  if (out.size_ratio > 1.1)
    return Error{"the scan is " + fixed(out.size_ratio, 2) + " times as large as the master", "scan",
                 "A casting of it lies within a tenth. Is it another part, or in another unit?"};

  const double reach = std::max(1e-6, 2 * m.radius);
  const Fitting coarse{master, rays, spread(scan, areas, 200), m.middle};
  // All four ways the principal axes can lie upon each other; where that does not fit, as with half a scan, from many.
  struct Turned {
    Laid laid;
    double off_mm = 0;
  };
  std::vector<Turned> turned;
  const auto mean_off = [&](const Fitting& f, const Laid& laid) {
    double sum = 0;
    const auto pairs = pairs_of(f, laid, {});
    for (const Pair& p : pairs) sum += std::min(length(p.at - p.on), 0.1 * reach);
    return sum / static_cast<double>(std::max<size_t>(1, pairs.size()));
  };
  const auto try_from = [&](const Transform& turn) {
    Turned t;
    t.laid.motion = Transform::move(-s.middle).then(turn).then(Transform::move(m.middle));
    settle(coarse, t.laid, {}, false, 12, 0.85, 1e-4 * reach, reach, Progress::none());
    t.off_mm = mean_off(coarse, t.laid);
    turned.push_back(t);
  };
  const auto sort_turned = [&] {
    std::stable_sort(turned.begin(), turned.end(),
                     [](const Turned& a, const Turned& b) { return a.off_mm < b.off_mm; });
  };
  for (int k = 0; k < 4; ++k) {
    Transform signs;
    const double sx = k & 1 ? -1 : 1, sy = k & 2 ? -1 : 1;
    signs.rows = {Vec3{sx, 0, 0}, Vec3{0, sy, 0}, Vec3{0, 0, sx * sy}};
    try_from(s.frame.then(signs).then(m.frame.inverse()));
    if (progress.cancelled()) return Error::stopped();
  }
  sort_turned();
  if (turned.front().off_mm > 0.01 * reach) {
    const std::vector<Transform> turns = many_turns();
    for (size_t k = 0; k < turns.size(); ++k) {
      try_from(turns[k]);
      progress.report(0.4 * static_cast<double>(k) / static_cast<double>(turns.size()));
      if (progress.cancelled()) return Error::stopped();
    }
    sort_turned();
  }

  // Of those that few points can hardly tell apart, as on parts that look nearly alike when they are turned, many
  // decide.
  const Fitting fair{master, rays,
                     spread(scan, areas, std::min<size_t>(o.points, std::max<size_t>(2000, o.points / 5))), m.middle};
  constexpr size_t most_alike = 6;
  std::erase_if(turned, [near = 2 * turned.front().off_mm + 1e-4 * reach](const Turned& t) { return t.off_mm > near; });
  if (turned.size() > most_alike) turned.resize(most_alike);
  for (size_t k = 0; k < turned.size(); ++k) {
    settle(fair, turned[k].laid, {}, false, 12, 0.5, 1e-4 * reach, reach, Progress::none());
    if (turned.size() > 1) turned[k].off_mm = mean_off(fair, turned[k].laid);
    progress.report(0.4 + 0.3 * static_cast<double>(k + 1) / static_cast<double>(turned.size()));
    if (progress.cancelled()) return Error::stopped();
  }
  sort_turned();
  Laid best = turned.front().laid;
  // The last steps go by all points.
  const Fitting fine{master, rays, spread(scan, areas, o.points), m.middle};
  out.rms_mm =
      settle(fine, best, {}, o.scale_free && o.datums.empty(), 30, 0.5, 1e-7 * reach, reach, progress.part(0.7, 0.9));
  if (!o.datums.empty()) {
    const auto at = pairs_of(fine, best, o.datums);
    const auto n = std::count_if(at.begin(), at.end(), [](const Pair& p) { return p.used; });
    if (n < 12)
      return Error{"the scan has next to nothing at the named faces", "--datum",
                   "Give places on the master that the scan covers, with a radius in mm."};
    settle(fine, best, o.datums, false, 30, 0.5, 1e-7 * reach, reach, progress.part(0.9, 0.97));
    if (o.scale_free) settle(fine, best, {}, true, 30, 0.5, 1e-7 * reach, reach, progress.part(0.97, 1));
  }
  if (progress.cancelled()) return Error::stopped();
  auto last = pairs_of(fine, best, o.datums);
  out.rms_mm = trim(last, 0.5);
  out.used_share = static_cast<double>(std::count_if(last.begin(), last.end(), [](const Pair& p) { return p.used; })) /
                   static_cast<double>(std::max<size_t>(1, last.size()));
  out.laid = best;
  if (o.scale_free) out.scale = Vec3{1 / best.scale.x, 1 / best.scale.y, 1 / best.scale.z};
  return out;
}

}  // namespace palinform
