#include "drawn/path.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "base/text.hpp"

namespace palinform {
namespace {

using std::numbers::pi;

Point2 operator+(const Point2& a, const Point2& b) { return {a.x + b.x, a.y + b.y}; }
Point2 operator-(const Point2& a, const Point2& b) { return {a.x - b.x, a.y - b.y}; }
Point2 operator*(const Point2& a, double s) { return {a.x * s, a.y * s}; }
double length(const Point2& a) { return std::hypot(a.x, a.y); }
double cross(const Point2& a, const Point2& b) { return a.x * b.y - a.y * b.x; }
double dot(const Point2& a, const Point2& b) { return a.x * b.x + a.y * b.y; }
Point2 at(const PathNode& n) { return {n.x, n.y}; }

/// Points of the arc from `a` over `m` to `b`, without `b`.
void add_arc(std::vector<Point2>& out, const Point2& a, const Point2& m, const Point2& b, double off) {
  const auto c = fit_circle({a, m, b});
  if (!c || c->radius_mm > 1e4 * length(b - a)) {  // as good as straight
    out.push_back(a);
    return;
  }
  const auto angle = [&](const Point2& p) { return std::atan2(p.y - c->centre.y, p.x - c->centre.x); };
  const auto turn = [](double d) { return d - 2 * pi * std::floor(d / (2 * pi)); };  // into [0, 2π)
  const double a0 = angle(a), to_m = turn(angle(m) - a0), to_b = turn(angle(b) - a0);
  const double sweep = to_m <= to_b ? to_b : to_b - 2 * pi;
  const int n = std::max(2, static_cast<int>(std::ceil(std::abs(sweep) / (2 * pi) * circle_sides(c->radius_mm, off))));
  for (int i = 0; i < n; ++i) {
    const double t = a0 + sweep * i / n;
    out.push_back(i == 0 ? a : c->centre + Point2{std::cos(t), std::sin(t)} * c->radius_mm);
  }
}

/// Points of a centripetal Catmull-Rom piece from `b` to `c`, without `c`.
void add_curve(std::vector<Point2>& out, const Point2& a, const Point2& b, const Point2& c, const Point2& d,
               double off) {
  const auto knot = [](const Point2& p, const Point2& q) { return std::max(1e-9, std::sqrt(length(q - p))); };
  const double t0 = 0, t1 = t0 + knot(a, b), t2 = t1 + knot(b, c), t3 = t2 + knot(c, d);
  const auto point = [&](double t) {
    const auto mix = [t](const Point2& p, const Point2& q, double s, double e) {
      return p * ((e - t) / (e - s)) + q * ((t - s) / (e - s));
    };
    const Point2 a1 = mix(a, b, t0, t1), a2 = mix(b, c, t1, t2), a3 = mix(c, d, t2, t3);
    return mix(mix(a1, a2, t0, t2), mix(a2, a3, t1, t3), t1, t2);
  };
  // A curve of length l bends at most by about l²/8R: as fine as the worst of three places asks.
  double bend = 0;
  for (const double s : {0.25, 0.5, 0.75}) {
    const Point2 p = point(t1 + (t2 - t1) * s), chord = c - b;
    bend = std::max(bend, std::abs(cross(chord, p - b)) / std::max(1e-12, length(chord)));
  }
  const int n = std::clamp(static_cast<int>(std::ceil(std::sqrt(bend / std::max(1e-9, off)))) * 2, 4, 64);
  for (int i = 0; i < n; ++i) out.push_back(i == 0 ? b : point(t1 + (t2 - t1) * i / n));
}

/// The corner at `b` rounded by `radius`; false where it has no room.
bool add_fillet(std::vector<Point2>& out, const Point2& a, const Point2& b, const Point2& c, double radius,
                double off) {
  const double la = length(a - b), lc = length(c - b);
  if (la < 1e-12 || lc < 1e-12) return false;
  const Point2 u = (a - b) * (1 / la), v = (c - b) * (1 / lc);
  const double half = 0.5 * std::acos(std::clamp(dot(u, v), -1.0, 1.0));
  if (half > pi / 2 - 1e-6) {  // no corner at all
    out.push_back(b);
    return true;
  }
  const double back = radius / std::tan(half);
  if (back > 0.5 * la + 1e-9 || back > 0.5 * lc + 1e-9) return false;
  const Point2 in = u + v, middle = in * (1 / length(in));
  const Point2 centre = b + middle * (radius / std::sin(half));
  const Point2 from = b + u * back, to = b + v * back;
  const size_t first = out.size();
  add_arc(out, from, centre - middle * radius, to, off);
  if (out.size() == first) out.push_back(from);
  out.push_back(to);
  return true;
}

}  // namespace

int circle_sides(double radius, double off) {
  const double least = std::min(off, 0.5 * radius);
  const double n = radius > 0 && least > 0 ? pi / std::acos(1 - least / radius) : 24;
  return std::clamp(4 * static_cast<int>(std::ceil(n / 4)), 24, 720);
}

std::vector<Point2> circle_points(const Point2& centre, double radius, double off) {
  const int n = circle_sides(radius, off);
  const double step = 2 * pi / n, r = radius * std::sqrt(step / std::sin(step));
  std::vector<Point2> out;
  for (int i = 0; i < n; ++i) out.push_back(centre + Point2{std::cos(step * i), std::sin(step * i)} * r);
  return out;
}

std::optional<CircleFit> fit_circle(const std::vector<Point2>& points) {
  if (points.size() < 3) return std::nullopt;
  Point2 mean;
  for (const Point2& p : points) mean = mean + p;
  mean = mean * (1.0 / static_cast<double>(points.size()));
  double xx = 0, xy = 0, yy = 0, xz = 0, yz = 0, z = 0;
  for (const Point2& p : points) {
    const Point2 d = p - mean;
    const double q = dot(d, d);
    xx += d.x * d.x, xy += d.x * d.y, yy += d.y * d.y, xz += d.x * q, yz += d.y * q, z += q;
  }
  const double det = xx * yy - xy * xy;
  if (!(det > 1e-12 * z * z)) return std::nullopt;
  const Point2 c{0.5 * (xz * yy - yz * xy) / det, 0.5 * (yz * xx - xz * xy) / det};
  CircleFit fit;
  fit.centre = mean + c;
  fit.radius_mm = std::sqrt(dot(c, c) + z / static_cast<double>(points.size()));
  for (const Point2& p : points) {
    const double e = length(p - fit.centre) - fit.radius_mm;
    fit.rms_mm += e * e;
  }
  fit.rms_mm = std::sqrt(fit.rms_mm / static_cast<double>(points.size()));
  return fit;
}

double polygon_area(const std::vector<Point2>& loop) {
  double sum = 0;
  for (size_t i = 0; i < loop.size(); ++i) sum += cross(loop[i], loop[(i + 1) % loop.size()]);
  return 0.5 * sum;
}

Result<std::vector<Point2>> flattened(const Path& path, double off) {
  const size_t n = path.size();
  const bool round =
      n >= 3 && std::all_of(path.begin(), path.end(), [](const PathNode& p) { return p.kind == NodeKind::arc; });
  if (n < 3) return Error{"an outline needs three points at least", "outline", "Click or type one more."};
  std::vector<Point2> out;
  if (round) {
    std::vector<Point2> all;
    for (const PathNode& p : path) all.push_back(at(p));
    const auto c = fit_circle(all);
    if (!c) return Error{"the points of this circle lie on one line", "outline", "Click three places round its edge."};
    return circle_points(c->centre, c->radius_mm, off);
  }
  const auto node = [&](size_t i) -> const PathNode& { return path[i % n]; };
  const auto kind = [&](size_t i) { return node(i).kind; };
  // Two arcs' middles in a row are points of one curve.
  const auto arc = [&](size_t i) {
    return kind(i) == NodeKind::arc && kind(i + n - 1) != NodeKind::arc && kind(i + 1) != NodeKind::arc;
  };
  const auto smooth = [&](size_t i) { return kind(i) != NodeKind::corner && !arc(i); };
  for (size_t i = 0; i < n; ++i) {
    if (arc(i)) continue;  // drawn from the point before it
    const Point2 b = at(node(i)), c = at(node(i + 1));
    if (arc(i + 1)) {
      add_arc(out, b, c, at(node(i + 2)), off);
      continue;
    }
    if (!smooth(i) && !smooth(i + 1)) {
      const bool straight_before = !arc(i + n - 1) && !smooth(i + n - 1);
      if (node(i).fillet_mm > 0 && straight_before) {
        if (!add_fillet(out, at(node(i + n - 1)), b, c, node(i).fillet_mm, off))
          return Error{
              "a rounding of " + fixed(node(i).fillet_mm, 2) + " mm has no room at point " + std::to_string(i + 1),
              "outline", "Make it smaller, or the sides beside it longer."};
      } else {
        out.push_back(b);
      }
      continue;
    }
    // Beyond a corner a curve has no neighbour: it runs on as it came.
    const Point2 a = smooth(i) ? at(node(i + n - 1)) : b + (b - c);
    const Point2 d = smooth(i + 1) ? at(node(i + 2)) : c + (c - b);
    add_curve(out, a, b, c, d, off);
  }
  std::vector<Point2> clean;
  for (const Point2& p : out)
    if (clean.empty() || length(p - clean.back()) > 1e-7) clean.push_back(p);
  while (clean.size() > 1 && length(clean.front() - clean.back()) <= 1e-7) clean.pop_back();
  if (clean.size() < 3 || !(std::abs(polygon_area(clean)) > 1e-9))
    return Error{"this outline encloses nothing", "outline", "Its points must go round a face."};
  if (polygon_area(clean) < 0) std::reverse(clean.begin(), clean.end());
  return clean;
}

}  // namespace palinform
