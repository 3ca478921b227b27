#include "mesh/section_walk.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <queue>

namespace palinform {
namespace {

/// Corners of a polygon in its plane.
struct Flat {
  std::vector<std::array<double, 2>> at;
  Vec3 u, v, origin;
  Flat(const std::vector<Vec3>& polygon, const Vec3& normal) : u(any_perpendicular(normal)), v(cross(normal, u)) {
    if (!polygon.empty()) origin = polygon[0];
    for (const Vec3& p : polygon) at.push_back({dot(p - origin, u), dot(p - origin, v)});
  }
  /// Distance to the polygon, positive inside.
  double inside(double x, double y) const {
    double best = 1e300;
    bool in = false;
    for (size_t i = 0, j = at.size() - 1; i < at.size(); j = i++) {
      const auto &a = at[j], &b = at[i];
      if ((a[1] > y) != (b[1] > y) && x < a[0] + (b[0] - a[0]) * (y - a[1]) / (b[1] - a[1])) in = !in;
      const double dx = b[0] - a[0], dy = b[1] - a[1], len = dx * dx + dy * dy;
      const double t = len > 0 ? std::clamp(((x - a[0]) * dx + (y - a[1]) * dy) / len, 0.0, 1.0) : 0;
      best = std::min(best, std::hypot(x - a[0] - t * dx, y - a[1] - t * dy));
    }
    return in ? best : -best;
  }
};

}  // namespace

Vec3 SectionLoop::doubled_mm2() const {
  Vec3 sum;
  for (size_t i = 1; i + 1 < points_mm.size(); ++i)
    sum += cross(points_mm[i] - points_mm[0], points_mm[i + 1] - points_mm[0]);
  return sum;
}
double SectionLoop::length_mm() const {
  double sum = 0;
  for (size_t i = 0; i < points_mm.size(); ++i) sum += length(points_mm[(i + 1) % points_mm.size()] - points_mm[i]);
  return sum;
}
Vec3 SectionLoop::centroid_mm() const {
  const Vec3 all = doubled_mm2();
  const double size = dot(all, all);
  if (points_mm.empty() || !(size > 0)) return points_mm.empty() ? Vec3{} : points_mm[0];
  Vec3 sum;
  for (size_t i = 1; i + 1 < points_mm.size(); ++i) {
    const Vec3 a = points_mm[i] - points_mm[0], b = points_mm[i + 1] - points_mm[0];
    sum += (a + b) * (dot(cross(a, b), all) / size / 3);
  }
  return points_mm[0] + sum;
}

std::optional<SectionLoop> walk_section(const TriMesh& mesh, const EdgePairs& pairs, uint32_t triangle,
                                        const CutPlane& plane) {
  SectionLoop out;
  uint32_t t = triangle;
  do {
    uint32_t leave = EdgePairs::open;
    double from = 0, to = 0;
    for (uint32_t h = 3 * t; h < 3 * t + 3; ++h) {
      from = plane.lift_mm(mesh.points[edge_from(mesh, h)]), to = plane.lift_mm(mesh.points[edge_to(mesh, h)]);
      if (from >= 0 && to < 0) {
        leave = h;
        break;
      }
    }
    if (leave == EdgePairs::open || !pairs.paired(leave) || pairs.same_way[leave]) return std::nullopt;
    const Vec3 &a = mesh.points[edge_from(mesh, leave)], &b = mesh.points[edge_to(mesh, leave)];
    out.half_edges.push_back(leave);
    out.points_mm.push_back(a + (b - a) * (from / (from - to)));
    t = pairs.twin[leave] / 3;
    if (out.half_edges.size() > mesh.triangles.size()) return std::nullopt;
  } while (t != triangle);
  return out.points_mm.size() < 3 ? std::nullopt : std::optional(std::move(out));
}

int winding(const std::vector<Vec3>& polygon, const CutPlane& plane) {
  const Vec3 u = any_perpendicular(plane.normal), v = cross(plane.normal, u);
  int turns = 0;
  for (size_t i = 0; i < polygon.size(); ++i) {
    const Vec3 a = polygon[i] - plane.point_mm, b = polygon[(i + 1) % polygon.size()] - plane.point_mm;
    const double ay = dot(a, v), by = dot(b, v);
    if ((ay > 0) == (by > 0)) continue;
    const double ax = dot(a, u), bx = dot(b, u);
    if (ax + (bx - ax) * ay / (ay - by) > 0) turns += by > ay ? 1 : -1;
  }
  return turns;
}

std::optional<SectionLoop> section_round(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays,
                                         const CutPlane& plane) {
  const Vec3 u = any_perpendicular(plane.normal), v = cross(plane.normal, u);
  // Posts may stand in the way on some sides; a way out to the open ends the search on none.
  constexpr int ways = 7;
  for (int k = 0; k < ways; ++k) {
    const double angle = 0.1 + 2 * M_PI * k / ways;
    const Vec3 d = u * std::cos(angle) + v * std::sin(angle);
    const auto hit = rays.first_hit(plane.point_mm, d, 0);
    if (!hit) continue;
    if (!hit->entering) return std::nullopt;  // in the solid
    auto loop = walk_section(mesh, pairs, hit->triangle, plane);
    if (!loop || dot(loop->doubled_mm2(), plane.normal) <= 0) continue;
    if (winding(loop->points_mm, plane) == 1) return loop;
  }
  return std::nullopt;
}

std::vector<uint32_t> carve_section(TriMesh& mesh, const EdgePairs& pairs, const SectionLoop& loop) {
  const size_t n = loop.half_edges.size();
  const auto first = static_cast<uint32_t>(mesh.points.size());
  std::vector<uint32_t> put(n);
  for (size_t i = 0; i < n; ++i) put[i] = first + static_cast<uint32_t>(i);
  mesh.points.insert(mesh.points.end(), loop.points_mm.begin(), loop.points_mm.end());
  for (size_t i = 0; i < n; ++i) {
    // Into this face by the edge before, out by its own: from above to below.
    const size_t before = (i + n - 1) % n;
    const uint32_t out = loop.half_edges[i], in = pairs.twin[loop.half_edges[before]], t = out / 3;
    const uint32_t pin = put[before], pout = put[i];
    // Corners: the edge out runs from `a` above to `b` below; the third is whichever the edge in does not share.
    const uint32_t a = edge_from(mesh, out), b = edge_to(mesh, out);
    if (next_half_edge(out) == in) {  // in runs b → c, from below to above: c is above as a is
      const uint32_t c = edge_to(mesh, in);
      mesh.triangles[t] = {pout, b, pin};
      mesh.triangles.push_back({a, pout, pin});
      mesh.triangles.push_back({a, pin, c});
    } else {  // in runs c → a: c is below as b is
      const uint32_t c = edge_from(mesh, in);
      mesh.triangles[t] = {a, pout, pin};
      mesh.triangles.push_back({pout, b, pin});
      mesh.triangles.push_back({b, c, pin});
    }
  }
  return put;
}

Inscribed inscribed_circle(const std::vector<Vec3>& polygon, const Vec3& normal) {
  Inscribed out;
  if (polygon.size() < 3) return out;
  const Flat flat(polygon, normal);
  double x0 = 1e300, x1 = -1e300, y0 = 1e300, y1 = -1e300;
  for (const auto& p : flat.at)
    x0 = std::min(x0, p[0]), x1 = std::max(x1, p[0]), y0 = std::min(y0, p[1]), y1 = std::max(y1, p[1]);
  // Squares that may still hold a better middle than the best so far, the most promising first.
  struct Square {
    double x, y, half, here;
    double most() const { return here + half * std::numbers::sqrt2; }
    bool operator<(const Square& o) const { return most() < o.most(); }
  };
  std::priority_queue<Square> open;
  const double half = 0.25 * std::max(std::min(x1 - x0, y1 - y0), 0.02 * std::max(x1 - x0, y1 - y0));
  if (!(half > 0)) return out;
  double bx = 0, by = 0, best = -1;
  const auto look = [&](double x, double y, double size) {
    const double d = flat.inside(x, y);
    if (d > best) best = d, bx = x, by = y;
    open.push({x, y, size, d});
  };
  for (double y = y0 + half; y < y1 + half; y += 2 * half)
    for (double x = x0 + half; x < x1 + half; x += 2 * half) look(x, y, half);
  for (int step = 0; step < 4000 && !open.empty(); ++step) {
    const Square s = open.top();
    open.pop();
    if (s.most() < 1.01 * std::max(best, 0.0)) break;
    const double q = 0.5 * s.half;
    for (const double dy : {-q, q})
      for (const double dx : {-q, q}) look(s.x + dx, s.y + dy, q);
  }
  out.centre_mm = flat.origin + flat.u * bx + flat.v * by;
  out.radius_mm = std::max(0.0, best);
  return out;
}

}  // namespace palinform
