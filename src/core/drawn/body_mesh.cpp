#include "drawn/body_mesh.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <optional>

#include "base/text.hpp"
#include "solid/flat_face.hpp"

namespace palinform {
namespace {

using std::numbers::pi;

/// A loop of a prism's section; `round`: it is a circle.
struct Loop {
  std::vector<Point2> points;  ///< counter-clockwise
  std::optional<CircleFit> round = {};
};

Loop circle(double x, double y, double radius, double off) {
  return {circle_points({x, y}, radius, off), CircleFit{{x, y}, radius, 0}};
}

Result<Loop> loop_of(const Path& path, double off) {
  auto points = flattened(path, off);
  if (!points) return points.error();
  Loop l{*std::move(points)};
  if (std::all_of(path.begin(), path.end(), [](const PathNode& n) { return n.kind == NodeKind::arc; })) {
    std::vector<Point2> clicked;
    for (const PathNode& n : path) clicked.push_back({n.x, n.y});
    l.round = fit_circle(clicked);
  }
  return l;
}

Result<Loop> rectangle(double wide, double deep, double corner, double off) {
  Path p;
  for (const auto& [sx, sy] : {std::pair{-1, -1}, {1, -1}, {1, 1}, {-1, 1}})
    p.push_back({sx * wide / 2, sy * deep / 2, NodeKind::corner, corner});
  return loop_of(p, off);
}

/// The loop drawn in by `by` mm along each corner's middle line.
std::vector<Point2> inset(const std::vector<Point2>& loop, double by) {
  const size_t n = loop.size();
  std::vector<Point2> out(n);
  for (size_t i = 0; i < n; ++i) {
    const Point2 &a = loop[(i + n - 1) % n], &b = loop[i], &c = loop[(i + 1) % n];
    const double la = std::hypot(b.x - a.x, b.y - a.y), lc = std::hypot(c.x - b.x, c.y - b.y);
    const Point2 na{-(b.y - a.y) / la, (b.x - a.x) / la}, nc{-(c.y - b.y) / lc, (c.x - b.x) / lc};  // inward
    const double k = 1 + na.x * nc.x + na.y * nc.y;
    const double s = by / std::max(0.05, k);
    out[i] = {b.x + (na.x + nc.x) * s, b.y + (na.y + nc.y) * s};
  }
  return out;
}

void exact_sides(std::vector<ExactFace>& exact, const Loop& loop, double height, bool hole) {
  if (loop.round) {
    const Point2 c = loop.round->centre;
    exact.push_back(
        {hole ? FaceKind::bore : FaceKind::boss, {c.x, c.y, height / 2}, {0, 0, 1}, 2 * loop.round->radius_mm, height});
    return;
  }
  const size_t n = loop.points.size();
  double round = 0;
  const auto side = [&](size_t i) {
    const Point2 &a = loop.points[i], &b = loop.points[(i + 1) % n];
    return Point2{b.x - a.x, b.y - a.y};
  };
  for (size_t i = 0; i < n; ++i) round += std::hypot(side(i).x, side(i).y);
  for (size_t i = 0; i < n; ++i) {
    const Point2 d = side(i), &a = loop.points[i];
    const double l = std::hypot(d.x, d.y);
    if (l < 0.05 * round) continue;  // a chord of something round
    const Vec3 out{d.y / l, -d.x / l, 0};
    exact.push_back({FaceKind::plane, {a.x + d.x / 2, a.y + d.y / 2, height / 2}, hole ? -out : out, 0, 0});
  }
}

/// The section `outer` less `holes`, `height` high from nought, the outer edges rounded by `edge`.
Result<BodyMesh> prism(const Loop& outer, const std::vector<Loop>& holes, double height, double edge, double off) {
  BodyMesh out;
  TriMesh& m = out.mesh;
  std::vector<std::vector<Point2>> head;
  head.push_back(edge > 0 ? inset(outer.points, edge) : outer.points);
  for (const Loop& h : holes) head.push_back(h.points);
  auto cap = triangulated(head);
  if (!cap) {
    if (edge > 0 && triangulated({outer.points}))
      return Error{"an edge rounding of " + fixed(edge, 2) + " mm has no room along this outline", "outline",
                   "Make it smaller."};
    return cap.error();
  }
  // Rings of the outer side: foot, up the rounding, the straight side, and down into the head.
  std::vector<std::pair<double, double>> rings;  // z, inset
  if (edge > 0) {
    const int steps = std::max(3, circle_sides(edge, off) / 4);
    for (int k = 0; k <= steps; ++k) {
      const double t = 0.5 * pi * k / steps;
      rings.push_back({edge * (1 - std::cos(t)), edge * (1 - std::sin(t))});
    }
    for (int k = steps; k >= 0; --k) {
      const double t = 0.5 * pi * k / steps;
      const double z = height - edge * (1 - std::cos(t));
      if (z > rings.back().first + 1e-9) rings.push_back({z, edge * (1 - std::sin(t))});
    }
  } else {
    rings = {{0, 0}, {height, 0}};
  }
  const auto n = static_cast<uint32_t>(outer.points.size());
  for (const auto& [z, in] : rings)
    for (const Point2& p : in > 0 ? inset(outer.points, in) : outer.points) m.points.push_back({p.x, p.y, z});
  const auto band = [&m](uint32_t low, uint32_t high, uint32_t count, bool outward) {
    for (uint32_t k = 0; k < count; ++k) {
      const uint32_t o = (k + 1) % count;
      if (outward) {
        m.triangles.push_back({low + k, low + o, high + o});
        m.triangles.push_back({low + k, high + o, high + k});
      } else {
        m.triangles.push_back({low + o, low + k, high + k});
        m.triangles.push_back({low + o, high + k, high + o});
      }
    }
  };
  for (uint32_t r = 0; r + 1 < rings.size(); ++r) band(r * n, (r + 1) * n, n, true);
  // Where each point of the caps' loops stands in the mesh.
  std::vector<uint32_t> foot(n), top(n);
  for (uint32_t k = 0; k < n; ++k) foot[k] = k, top[k] = static_cast<uint32_t>(rings.size() - 1) * n + k;
  for (const Loop& h : holes) {
    const auto low = static_cast<uint32_t>(m.points.size()), count = static_cast<uint32_t>(h.points.size());
    for (const double z : {0.0, height})
      for (const Point2& p : h.points) m.points.push_back({p.x, p.y, z});
    for (uint32_t k = 0; k < count; ++k) foot.push_back(low + k), top.push_back(low + count + k);
    band(low, low + count, count, false);
  }
  for (const Triangle& t : *cap) {
    m.triangles.push_back({top[t[0]], top[t[1]], top[t[2]]});
    m.triangles.push_back({foot[t[0]], foot[t[2]], foot[t[1]]});
  }
  out.exact.push_back({FaceKind::plane, {outer.points[0].x, outer.points[0].y, 0}, {0, 0, -1}, 0, 0});
  out.exact.push_back({FaceKind::plane, {outer.points[0].x, outer.points[0].y, height}, {0, 0, 1}, 0, 0});
  if (edge < 0.5 * height) exact_sides(out.exact, outer, height, false);
  for (const Loop& h : holes) exact_sides(out.exact, h, height, true);
  return out;
}

/// A closed section turned about the axis r = 0, counter-clockwise with r to the right and z up.
Result<BodyMesh> turned(std::vector<Point2> section, double off) {
  if (auto ok = triangulated({section}); !ok)
    return Error{"this profile crosses itself", "profile", "Move the point where it does."};
  double reach = 0;
  for (Point2& p : section) {
    if (p.x < 1e-9) p.x = 0;
    reach = std::max(reach, p.x);
  }
  const int n = circle_sides(reach, off);
  const double step = 2 * pi / n, wider = std::sqrt(step / std::sin(step));
  BodyMesh out;
  TriMesh& m = out.mesh;
  std::vector<uint32_t> first(section.size());
  for (size_t i = 0; i < section.size(); ++i) {
    first[i] = static_cast<uint32_t>(m.points.size());
    const Point2& p = section[i];
    if (p.x == 0) {
      m.points.push_back({0, 0, p.y});
      continue;
    }
    for (int k = 0; k < n; ++k)
      m.points.push_back({p.x * wider * std::cos(step * k), p.x * wider * std::sin(step * k), p.y});
  }
  for (size_t i = 0; i < section.size(); ++i) {
    const size_t j = (i + 1) % section.size();
    const Point2 &p = section[i], &q = section[j];
    if (p.x == 0 && q.x == 0) continue;
    for (uint32_t k = 0; k < static_cast<uint32_t>(n); ++k) {
      const uint32_t o = (k + 1) % static_cast<uint32_t>(n);
      if (p.x == 0) {
        m.triangles.push_back({first[i], first[j] + o, first[j] + k});
      } else if (q.x == 0) {
        m.triangles.push_back({first[i] + k, first[i] + o, first[j]});
      } else {
        m.triangles.push_back({first[i] + k, first[i] + o, first[j] + o});
        m.triangles.push_back({first[i] + k, first[j] + o, first[j] + k});
      }
    }
    const double dr = q.x - p.x, dz = q.y - p.y;
    if (std::abs(dr) < 1e-9 && std::abs(dz) > 0.2)
      out.exact.push_back(
          {dz > 0 ? FaceKind::boss : FaceKind::bore, {0, 0, (p.y + q.y) / 2}, {0, 0, 1}, 2 * p.x, std::abs(dz)});
    if (std::abs(dz) < 1e-9 && std::abs(dr) > 0.2)
      out.exact.push_back({FaceKind::plane, {(p.x + q.x) / 2, 0, p.y}, {0, 0, dr > 0 ? -1.0 : 1.0}, 0, 0});
  }
  return out;
}

Result<BodyMesh> turned_profile(const DrawnBody& b, double off) {
  Path path;
  for (const ProfilePoint& p : b.profile) path.push_back({p.r_mm, p.z_mm, NodeKind::corner, p.fillet_mm});
  const bool ring = path.size() > 3 && path.front().x == path.back().x && path.front().y == path.back().y;
  if (ring) {
    path.pop_back();
  } else {
    if (path.front().x > 0) path.insert(path.begin(), {0, path.front().y, NodeKind::corner, 0});
    if (path.back().x > 0) path.push_back({0, path.back().y, NodeKind::corner, 0});
  }
  auto section = flattened(path, off);
  if (!section) return section.error();
  return turned(*std::move(section), off);
}

Result<BodyMesh> dome(const DrawnBody& b, double off) {
  const double a = b.diameter_mm / 2, h = b.height_mm, radius = (a * a + h * h) / (2 * h), z0 = h - radius;
  const double from = std::atan2(-z0, a);  // from the foot's edge to the crown
  const int n = std::max(6, static_cast<int>(std::ceil((pi / 2 - from) / (2 * pi) * circle_sides(radius, off / 4))));
  std::vector<Point2> s{{0, 0}};
  for (int k = 0; k < n; ++k) {
    const double t = from + (pi / 2 - from) * k / n;
    s.push_back({radius * std::cos(t), k == 0 ? 0 : z0 + radius * std::sin(t)});
  }
  s.push_back({0, h});
  return turned(std::move(s), off);
}

Result<BodyMesh> shell(const DrawnBody& b, double off) {
  const double floor = b.floor_mm > 0 ? b.floor_mm : b.wall_mm;
  if (b.diameter_mm > 0) {
    const double a = b.diameter_mm / 2;
    return turned({{0, 0}, {a, 0}, {a, b.height_mm}, {a - b.wall_mm, b.height_mm}, {a - b.wall_mm, floor}, {0, floor}},
                  off);
  }
  // A prism with a shorter one left out of it: both sections are offsets of one another, so that the rim is a face
  // with a hole and floor and hollow close it.
  auto outer = rectangle(b.length_mm, b.width_mm, b.corner_mm, off);
  if (!outer) return outer.error();
  auto inner =
      rectangle(b.length_mm - 2 * b.wall_mm, b.width_mm - 2 * b.wall_mm, std::max(0.0, b.corner_mm - b.wall_mm), off);
  if (!inner) return inner.error();
  BodyMesh out;
  TriMesh& m = out.mesh;
  const auto no = static_cast<uint32_t>(outer->points.size()), ni = static_cast<uint32_t>(inner->points.size());
  const auto add = [&m](const Loop& l, double z) {
    const auto first = static_cast<uint32_t>(m.points.size());
    for (const Point2& p : l.points) m.points.push_back({p.x, p.y, z});
    return first;
  };
  const uint32_t foot = add(*outer, 0), rim = add(*outer, b.height_mm), mouth = add(*inner, b.height_mm),
                 bottom = add(*inner, floor);
  const auto band = [&m](uint32_t low, uint32_t high, uint32_t count) {
    for (uint32_t k = 0; k < count; ++k) {
      const uint32_t o = (k + 1) % count;
      m.triangles.push_back({low + k, low + o, high + o});
      m.triangles.push_back({low + k, high + o, high + k});
    }
  };
  band(foot, rim, no);
  band(mouth, bottom, ni);
  const auto cap = triangulated({outer->points}), top = triangulated({outer->points, inner->points}),
             well = triangulated({inner->points});
  if (!cap || !top || !well) return Error{"its wall and corners do not go together", "drawn", ""};
  for (const Triangle& t : *cap) m.triangles.push_back({foot + t[0], foot + t[2], foot + t[1]});
  const auto at_rim = [&](uint32_t k) { return k < no ? rim + k : mouth + (k - no); };
  for (const Triangle& t : *top) m.triangles.push_back({at_rim(t[0]), at_rim(t[1]), at_rim(t[2])});
  for (const Triangle& t : *well) m.triangles.push_back({bottom + t[0], bottom + t[1], bottom + t[2]});
  for (const auto& [z, up] : {std::pair{0.0, -1.0}, {b.height_mm, 1.0}, {floor, 1.0}})
    out.exact.push_back({FaceKind::plane, {0, 0, z}, {0, 0, up}, 0, 0});
  exact_sides(out.exact, *outer, b.height_mm, false);
  exact_sides(out.exact, *inner, b.height_mm, true);
  return out;
}

Result<BodyMesh> in_own_frame(const DrawnBody& b, double off) {
  switch (b.shape) {
    case BodyShape::plate:
    case BodyShape::bar: {
      auto l = rectangle(b.length_mm, b.width_mm, b.corner_mm, off);
      if (!l) return l.error();
      return prism(*l, {}, b.height_mm, b.edge_mm, off);
    }
    case BodyShape::disc:
      return prism(circle(0, 0, b.diameter_mm / 2, off), {}, b.height_mm, b.edge_mm, off);
    case BodyShape::tube:
      return prism(circle(0, 0, b.diameter_mm / 2, off), {circle(0, 0, b.inner_mm / 2, off)}, b.height_mm, 0, off);
    case BodyShape::ring: {
      std::vector<Point2> s = circle_points({(b.diameter_mm - b.wall_mm) / 2, b.wall_mm / 2}, b.wall_mm / 2, off);
      return turned(std::move(s), off);
    }
    case BodyShape::dome:
      return dome(b, off);
    case BodyShape::cone: {
      std::vector<Point2> s{{0, 0}, {b.diameter_mm / 2, 0}, {b.top_mm / 2, b.height_mm}};
      if (b.top_mm > 0) s.push_back({0, b.height_mm});
      return turned(std::move(s), off);
    }
    case BodyShape::shell:
      return shell(b, off);
    case BodyShape::angle: {
      const double w = b.width_mm, h = b.length_mm, t = b.wall_mm;
      return prism({{{-w / 2, 0}, {w / 2, 0}, {w / 2, t}, {t - w / 2, t}, {t - w / 2, h}, {-w / 2, h}}}, {},
                   b.height_mm, 0, off);
    }
    case BodyShape::channel: {
      const double w = b.width_mm / 2, h = b.length_mm, t = b.wall_mm;
      return prism({{{-w, 0}, {w, 0}, {w, h}, {w - t, h}, {w - t, t}, {t - w, t}, {t - w, h}, {-w, h}}}, {},
                   b.height_mm, 0, off);
    }
    case BodyShape::slot: {
      const double r = b.width_mm / 2, x = b.length_mm / 2 - r;
      if (x < 1e-6) return prism(circle(0, 0, r, off), {}, b.height_mm, 0, off);
      const Path p{{-x, -r, NodeKind::corner, 0}, {x, -r, NodeKind::corner, 0}, {x + r, 0, NodeKind::arc, 0},
                   {x, r, NodeKind::corner, 0},   {-x, r, NodeKind::corner, 0}, {-x - r, 0, NodeKind::arc, 0}};
      auto l = loop_of(p, off);
      if (!l) return l.error();
      return prism(*l, {}, b.height_mm, 0, off);
    }
    case BodyShape::turned:
      return turned_profile(b, off);
    case BodyShape::outline: {
      auto outer = loop_of(b.outline, off);
      if (!outer) return outer.error();
      std::vector<Loop> holes;
      for (const Path& h : b.holes) {
        auto l = loop_of(h, off);
        if (!l) return l.error();
        holes.push_back(*std::move(l));
      }
      return prism(*outer, holes, b.height_mm, b.edge_mm, off);
    }
  }
  return Error{"a body of no known shape", "drawn", ""};
}

}  // namespace

double chord_error_mm(double size) { return std::clamp(size / 4000, 0.005, 0.05); }

double rough_size_mm(const DrawnBody& b) {
  double most = 0;
  for (const BodyMeasure& m : measures_of(b.shape)) most = std::max(most, b.*m.value);
  if (b.shape == BodyShape::turned)
    for (const ProfilePoint& p : b.profile) most = std::max({most, 2 * p.r_mm, std::abs(p.z_mm)});
  if (b.shape == BodyShape::outline)
    for (const PathNode& p : b.outline) most = std::max({most, 2 * std::abs(p.x), 2 * std::abs(p.y)});
  return most;
}

Transform body_frame(const DrawnBody& b) {
  const Vec3 z = unit(b.axis), up{0, 0, 1};
  const Vec3 level = up - z * dot(up, z);
  const Vec3 y = length(level) > 1e-6 ? unit(level) : cross(z, Vec3{1, 0, 0});
  const Vec3 x = cross(y, z);
  Transform to_world = Transform{{x, y, z}, {}}.inverse();
  to_world.shift = b.at_mm;
  const Transform spin = Transform::turn({0, 0, 1}, b.turn_deg * pi / 180);
  Transform out;
  for (int k = 0; k < 3; ++k) {
    Vec3 e;
    e[k] = 1;
    const Vec3 d = to_world.direction(spin.direction(e));
    for (int r = 0; r < 3; ++r) out.rows[static_cast<size_t>(r)][k] = d[r];
  }
  out.shift = b.at_mm;
  return out;
}

Result<BodyMesh> body_mesh(const DrawnBody& b, double off) {
  if (auto ok = check_body(b); !ok) return ok.error();
  auto m = in_own_frame(b, off);
  if (!m) {
    Error e = m.error();
    e.what = name_of(b) + ": " + e.what;
    return e;
  }
  const Transform place = body_frame(b);
  m->mesh = transformed(std::move(m->mesh), place);
  for (ExactFace& e : m->exact) {
    e.point_mm = place.point(e.point_mm);
    e.direction = place.direction(e.direction);
  }
  return m;
}

}  // namespace palinform
