#include "split/pins.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "base/text.hpp"
#include "mesh/primitives.hpp"
#include "mesh/repair.hpp"
#include "split/parting.hpp"

namespace palinform {

PinPlan plan_pin(const RayScene& rays, const Bore& bore, double wall_mm, std::optional<double> wanted_mm,
                 const std::string& name, const PinRules& rules) {
  PinPlan p;
  p.name = name;
  p.through = bore.through;
  p.bore_mm = bore.diameter_mm;
  p.diameter_mm = wanted_mm.value_or(bore.diameter_mm);
  if (rules.stock_step_mm > 0 && !wanted_mm)
    p.diameter_mm = std::round(p.diameter_mm / rules.stock_step_mm) * rules.stock_step_mm;
  p.forms_mm = bore.depth_mm;
  Vec3 axis = bore.axis;
  if (dot(axis, Vec3{1, 1.001, 1.002}) < 0) axis = -axis;
  // How far the way out is blocked on either side: nothing in the way at all beats any wall.
  const auto blocked_at = [&](const Vec3& d) {
    const auto hit = rays.first_hit(bore.centroid_mm, d, 1e-3);
    return hit ? hit->t_mm : 1e9;
  };
  const double ahead = blocked_at(axis), behind = blocked_at(-axis);
  p.draw = behind > ahead + 1e-3 ? -axis : axis;
  p.head_mm = std::max(wall_mm, std::max(rules.into_wall_mm, p.diameter_mm));
  p.tail_mm = bore.through ? std::max(rules.into_wall_mm, std::min(p.diameter_mm, 0.8 * wall_mm)) : 0;
  if (bore.through) p.tail_mm = std::min(p.tail_mm, std::max(2.0, 0.8 * wall_mm));  // never out of the far wall
  p.grip_mm = std::max(rules.grip_mm, p.diameter_mm);
  p.flat_mm = std::max(0.3, rules.flat_share * p.diameter_mm);
  p.chamfer_mm = std::clamp(0.1 * p.diameter_mm, 0.2, 0.6);
  p.foot_mm = bore.centroid_mm - p.draw * (0.5 * bore.depth_mm + p.tail_mm);
  return p;
}

namespace {

/// Of a closed outline; positive where it runs counter-clockwise.
double signed_mm2(const std::vector<Point2>& outline) {
  double twice = 0;
  for (size_t i = 0; i < outline.size(); ++i) {
    const Point2 &q = outline[i], &r = outline[(i + 1) % outline.size()];
    twice += q.x * r.y - q.y * r.x;
  }
  return 0.5 * twice;
}

/// A stretch of the slide from one length over its foot to another, `grow` wider square to each side.
TriMesh prism(const PinPlan& p, const std::vector<Point2>& outline, double from, double to, double grow) {
  const Vec3 a = any_perpendicular(p.draw), b = cross(p.draw, a);
  const size_t n = outline.size();
  std::vector<Vec3> polygon;
  for (size_t i = 0; i < n; ++i) {
    const Point2 &q = outline[i], &before = outline[(i + n - 1) % n], &after = outline[(i + 1) % n];
    const auto out = [](const Point2& s, const Point2& e) {
      const double len = std::hypot(e.x - s.x, e.y - s.y);
      return len > 0 ? Point2{(e.y - s.y) / len, -(e.x - s.x) / len} : Point2{0, 0};
    };
    const Point2 m = out(before, q), k = out(q, after);
    const double half = std::max(0.25, 0.5 * (1 + m.x * k.x + m.y * k.y));
    polygon.push_back(a * (q.x + grow * 0.5 * (m.x + k.x) / half) + b * (q.y + grow * 0.5 * (m.y + k.y) / half));
  }
  TriMesh m;
  for (const double at : {from, to})
    for (const Vec3& q : polygon) m.points.push_back(p.foot_mm + p.draw * at + q);
  const auto count = static_cast<uint32_t>(n);
  for (uint32_t i = 0; i < count; ++i) {
    const uint32_t j = (i + 1) % count;
    m.triangles.push_back({i, j, count + j});
    m.triangles.push_back({i, count + j, count + i});
  }
  for (const Triangle& t : fill_loop(polygon)) {
    const bool up = dot(cross(polygon[t[1]] - polygon[t[0]], polygon[t[2]] - polygon[t[0]]), p.draw) > 0;
    const uint32_t x = t[0], y = up ? t[1] : t[2], z = up ? t[2] : t[1];
    m.triangles.push_back({count + x, count + y, count + z});
    m.triangles.push_back({x, z, y});
  }
  return m;
}

}  // namespace

double PinPlan::section_mm2() const {
  if (outline_mm.empty()) return std::numbers::pi / 4 * diameter_mm * diameter_mm;
  return std::abs(signed_mm2(outline_mm));
}

double PinPlan::tail_section_mm2() const {
  return tail_outline_mm.empty() ? section_mm2() : std::abs(signed_mm2(tail_outline_mm));
}

Point2 PinPlan::across_mm() const {
  double x0 = 1e300, x1 = -1e300, y0 = 1e300, y1 = -1e300;
  for (const Point2& q : outline_mm)
    x0 = std::min(x0, q.x), x1 = std::max(x1, q.x), y0 = std::min(y0, q.y), y1 = std::max(y1, q.y);
  return outline_mm.empty() ? Point2{diameter_mm, diameter_mm} : Point2{x1 - x0, y1 - y0};
}

PinPlan plan_slide(const std::vector<Vec3>& outline, const Vec3& mouth, const Vec3& draw, double forms, double wall,
                   const std::string& name, const PinRules& rules) {
  PinPlan p;
  p.name = name;
  p.through = true;
  p.draw = draw;
  const Vec3 a = any_perpendicular(draw), b = cross(draw, a);
  for (const Vec3& corner : outline) {
    const Vec3 d = corner - mouth;
    p.outline_mm.push_back({dot(d, a), dot(d, b)});
    p.diameter_mm = std::max(p.diameter_mm, 2 * std::hypot(p.outline_mm.back().x, p.outline_mm.back().y));
  }
  if (signed_mm2(p.outline_mm) < 0) std::reverse(p.outline_mm.begin(), p.outline_mm.end());
  p.bore_mm = p.diameter_mm;
  p.forms_mm = forms;
  p.head_mm = std::max(wall, rules.into_wall_mm);
  p.tail_mm = std::min(rules.into_wall_mm, std::max(2.0, 0.8 * wall));
  p.grip_mm = rules.grip_mm;
  p.chamfer_mm = 0.3;
  p.foot_mm = mouth - draw * (forms + p.tail_mm);
  return p;
}

double slide_head_mm(double wall, const PinRules& rules) { return std::max(wall, rules.into_wall_mm); }
double slide_tail_mm(double wall, const PinRules& rules) {
  return std::min(rules.into_wall_mm, std::max(2.0, 0.8 * wall));
}

PinPlan plan_shaped_slide(PassageBody body, const Vec3& axis, int mouth, int meeting, double forms, double wall,
                          const std::string& name, const PinRules& rules) {
  PinPlan p;
  p.name = name;
  p.through = true;
  p.draw = mouth == 1 ? -axis : axis;
  const std::vector<Vec3>&head = mouth == 1 ? body.from_rim_mm : body.to_rim_mm,
        &foot = mouth == 1 ? body.to_rim_mm : body.from_rim_mm;
  p.locked_mm2 = mouth == 1 ? body.leans_back_mm2 : body.leans_forward_mm2;
  Vec3 middle;
  for (const Vec3& q : head) middle += q * (1.0 / static_cast<double>(head.size()));
  const Vec3 a = any_perpendicular(p.draw), b = cross(p.draw, a);
  const auto outline = [&](const std::vector<Vec3>& rim) {
    std::vector<Point2> out;
    for (const Vec3& q : rim) out.push_back({dot(q - middle, a), dot(q - middle, b)});
    if (signed_mm2(out) < 0) std::reverse(out.begin(), out.end());
    return out;
  };
  p.outline_mm = outline(head);
  for (const Point2& q : p.outline_mm) p.diameter_mm = std::max(p.diameter_mm, 2 * std::hypot(q.x, q.y));
  p.bore_mm = p.diameter_mm;
  p.forms_mm = forms;
  p.head_mm = slide_head_mm(wall, rules);
  p.grip_mm = rules.grip_mm;
  if (meeting == 0) {
    p.tail_mm = slide_tail_mm(wall, rules);
    p.tail_outline_mm = outline(foot);
  }
  p.foot_mm = middle - p.draw * (forms + p.tail_mm);
  p.body = std::make_shared<const TriMesh>(std::move(body.mesh));
  return p;
}

PinPlan moved(PinPlan p, const Transform& by) {
  // The outline lies in the plane of any_perpendicular(draw): another draw has another.
  const Vec3 a = any_perpendicular(p.draw), b = cross(p.draw, a);
  p.foot_mm = by.point(p.foot_mm), p.draw = by.direction(p.draw);
  const Vec3 c = any_perpendicular(p.draw), d = cross(p.draw, c);
  for (std::vector<Point2>* outline : {&p.outline_mm, &p.tail_outline_mm})
    for (Point2& q : *outline) {
      const Vec3 at = by.direction(a * q.x + b * q.y);
      q = {dot(at, c), dot(at, d)};
    }
  for (std::shared_ptr<const TriMesh>* solid : {&p.body, &p.socket})
    if (*solid) *solid = std::make_shared<const TriMesh>(transformed(**solid, by));
  return p;
}

PinPlan lengthened(PinPlan p, double by) {
  const double end = p.length_mm();
  for (std::shared_ptr<const TriMesh>* solid : {&p.body, &p.socket}) {
    if (!*solid) continue;
    // Its walls run straight there: the end goes on along them, with half of its grip.
    TriMesh m = **solid;
    for (Vec3& q : m.points)
      if (dot(q - p.foot_mm, p.draw) > end - 0.5 * p.grip_mm) q += p.draw * by;
    *solid = std::make_shared<const TriMesh>(std::move(m));
  }
  if (p.volume_mm3 > 0) p.volume_mm3 += p.section_mm2() * by;
  p.head_mm += by;
  return p;
}

TriMesh pin_socket(const PinPlan& p, double slack) {
  if (p.socket) return *p.socket;
  if (p.body) {
    // Where it follows the opening there is no rubber: a hole for its tail, one for head and grip.
    TriMesh both = prism(p, p.outline_mm, p.tail_mm + p.forms_mm - 0.01, p.length_mm(), slack);
    if (p.tail_mm > 0) append(both, prism(p, p.tail_outline_mm, 0, p.tail_mm + 0.01, slack));
    return both;
  }
  if (!p.outline_mm.empty()) return prism(p, p.outline_mm, 0, p.length_mm(), slack);
  const double r = 0.5 * p.diameter_mm + slack;
  return rod(p.foot_mm, p.draw, p.length_mm(), r, r);
}

TriMesh pin_mesh(const PinPlan& p) {
  if (p.body) return *p.body;
  if (!p.outline_mm.empty()) return prism(p, p.outline_mm, 0, p.length_mm(), 0);
  TriMesh m;
  constexpr uint32_t n = 72;
  const Vec3 a = any_perpendicular(p.draw), b = cross(p.draw, a);
  const double r = 0.5 * p.diameter_mm, all = p.length_mm(), head = p.tail_mm + p.forms_mm;
  const auto ring = [&](double at, double radius, double flat) {
    for (uint32_t k = 0; k < n; ++k) {
      const double t = 2 * std::numbers::pi * k / n;
      m.points.push_back(p.foot_mm + p.draw * at + a * std::min(radius * std::cos(t), r - flat) +
                         b * (radius * std::sin(t)));
    }
  };
  const double c = std::min(p.chamfer_mm, 0.4 * r), ramp = std::min(0.5, 0.2 * (all - head));
  ring(0, r - c, 0);
  ring(c, r, 0);
  ring(head, r, 0);
  ring(head + ramp, r, p.flat_mm);
  ring(all - c, r, p.flat_mm);
  ring(all, r - c, p.flat_mm + c);
  const uint32_t rings = 6;
  m.points.push_back(p.foot_mm);
  m.points.push_back(p.foot_mm + p.draw * all - a * (0.3 * r));
  for (uint32_t q = 0; q + 1 < rings; ++q)
    for (uint32_t k = 0; k < n; ++k) {
      const uint32_t o = (k + 1) % n;
      m.triangles.push_back({q * n + k, q * n + o, (q + 1) * n + o});
      m.triangles.push_back({q * n + k, (q + 1) * n + o, (q + 1) * n + k});
    }
  for (uint32_t k = 0; k < n; ++k) {
    const uint32_t o = (k + 1) % n, last = (rings - 1) * n;
    m.triangles.push_back({rings * n, o, k});
    m.triangles.push_back({rings * n + 1, last + k, last + o});
  }
  return m;
}

namespace {

/// A slide of any outline: side view with its lengths, end view with its outline at true scale.
Drawing slide_drawing(const PinPlan& p, const std::string& job_name) {
  Drawing d;
  double x0 = 1e300, x1 = -1e300, y0 = 1e300, y1 = -1e300;
  for (const Point2& q : p.outline_mm)
    x0 = std::min(x0, q.x), x1 = std::max(x1, q.x), y0 = std::min(y0, q.y), y1 = std::max(y1, q.y);
  const double len = p.length_mm(), left = 40, tall = y1 - y0, wide = x1 - x0, mid = std::max(66.0, 44 + 0.5 * tall);
  d.width_mm = std::max(210.0, left + len + 40 + wide + 30);
  d.height_mm = std::max(120.0, mid + 0.5 * tall + 56);
  d.title = p.name + " · " + job_name;
  const double low = mid - 0.5 * tall, high = mid + 0.5 * tall;
  if (p.body) {
    // As it is seen from the side: how far it reaches at each length.
    const Vec3 b = cross(p.draw, any_perpendicular(p.draw));
    constexpr size_t slices = 90;
    std::vector<std::array<double, 2>> reach(slices + 1, {1e300, -1e300});
    const auto put = [&](const Vec3& q) {
      const double at = std::clamp(dot(q - p.foot_mm, p.draw) / len, 0.0, 1.0) * static_cast<double>(slices);
      auto& r = reach[static_cast<size_t>(std::lround(at))];
      const double y = dot(q - p.foot_mm, b);
      r[0] = std::min(r[0], y), r[1] = std::max(r[1], y);
    };
    for (const Triangle& t : p.body->triangles)
      for (int k = 0; k < 3; ++k) {
        const Vec3 &q = p.body->points[t[static_cast<size_t>(k)]],
                   &r = p.body->points[t[static_cast<size_t>((k + 1) % 3)]];
        for (int i = 0; i <= 40; ++i) put(q + (r - q) * (i / 40.0));
      }
    Stroke side{Pen::outline, {}, true};
    const double y0s = mid - 0.5 * (y0 + y1);
    for (size_t i = 0; i <= slices; ++i)
      if (reach[i][0] < reach[i][1])
        side.points.push_back({left + len * static_cast<double>(i) / slices, y0s + reach[i][0]});
    for (size_t i = slices + 1; i-- > 0;)
      if (reach[i][0] < reach[i][1])
        side.points.push_back({left + len * static_cast<double>(i) / slices, y0s + reach[i][1]});
    d.strokes.push_back(std::move(side));
  } else {
    d.strokes.push_back({Pen::outline, {{left, low}, {left + len, low}, {left + len, high}, {left, high}}, true});
  }
  const double in = left + p.tail_mm, out = in + p.forms_mm, wall = out + p.head_mm;
  for (const double x : {in, out, wall}) d.line(Pen::hidden, {x, low - 2}, {x, high + 2});
  if (p.tail_mm > 0) d.measure({left, high}, {in, high}, 6, fixed(p.tail_mm, 1));
  d.measure({in, high}, {out, high}, 14,
            fixed(p.forms_mm, 2) + (p.socket ? " forms the pocket" : " forms the opening"));
  d.measure({out, high}, {wall, high}, 22, fixed(p.head_mm, 1) + " in the rubber");
  d.measure({wall, high}, {left + len, high}, 6, fixed(p.grip_mm, 1) + " grip");
  d.measure({left, low}, {left + len, low}, -9, fixed(len, 1));
  d.measure({left, low}, {left, high}, 9, fixed(tall, 2));
  const Point2 e{left + len + 40 - x0, mid - 0.5 * (y0 + y1)};
  Stroke ring{Pen::outline, {}, true};
  for (const Point2& q : p.outline_mm) ring.points.push_back({e.x + q.x, e.y + q.y});
  d.strokes.push_back(std::move(ring));
  d.measure({e.x + x0, e.y + y0}, {e.x + x1, e.y + y0}, -9, fixed(wide, 2));
  const double top = d.height_mm;
  d.frame(Pen::edge, {5, 5}, {d.width_mm - 5, d.height_mm - 5});
  d.labels.push_back({{10, top - 14}, d.title, 4.2, -1});
  d.labels.push_back({{10, top - 21},
                      "Scale 1:1, millimetres. " +
                          (p.socket   ? std::string("Printed or milled from its solid; its foot is the pocket")
                           : p.body   ? std::string("Printed or milled from its solid; it follows the opening")
                           : p.bar_mm ? "From bar " + shortest((*p.bar_mm)[0], 2) + " × " + shortest((*p.bar_mm)[1], 2)
                                      : std::string("From bar of this outline, or printed")) +
                          "; edges broken, polished along.",
                      2.8,
                      -1});
  d.labels.push_back({{10, 20},
                      (p.socket          ? std::string("It fills the pocket to its floor.")
                       : p.meets.empty() ? std::string("Through the opening: its foot sits in the far wall.")
                                         : "Its foot meets " + p.meets + " in the opening.") +
                          " Drawn along " + axis_name(p.draw) + ", toward the grip. Its outline keys it.",
                      2.8,
                      -1});
  d.labels.push_back({{10, 13},
                      "Release the slide before the rubber is poured and before every casting; draw it before the "
                      "halves are parted. Resin that creeps along it tells that its seat is worn.",
                      2.8,
                      -1});
  return d;
}

}  // namespace

Drawing pin_drawing(const PinPlan& p, const std::string& job_name) {
  if (!p.outline_mm.empty()) return slide_drawing(p, job_name);
  Drawing d;
  const double len = p.length_mm(), r = 0.5 * p.diameter_mm, left = 40, mid_y = std::max(62.0, 40 + r), right_gap = 30;
  d.width_mm = std::max(210.0, left + len + right_gap + 2 * r + 30);
  d.height_mm = std::max(120.0, mid_y + r + 56);
  d.title = p.name + " · " + job_name;
  const double x0 = left, x1 = left + len, c = p.chamfer_mm, key = left + p.tail_mm + p.forms_mm + 0.35 * p.head_mm;
  // Side view: foot on the left, grip on the right, the flat on top of head and grip.
  d.strokes.push_back({Pen::outline,
                       {{x0 + c, mid_y - r},
                        {x1 - c, mid_y - r},
                        {x1, mid_y - r + c},
                        {x1, mid_y + r - p.flat_mm},
                        {key, mid_y + r - p.flat_mm},
                        {key, mid_y + r},
                        {x0 + c, mid_y + r},
                        {x0, mid_y + r - c},
                        {x0, mid_y - r + c}},
                       true});
  d.line(Pen::centre, {x0 - 5, mid_y}, {x1 + 5, mid_y});
  const double bore0 = x0 + p.tail_mm, bore1 = bore0 + p.forms_mm, wall1 = bore1 + p.head_mm;
  for (const double x : {bore0, bore1, wall1}) d.line(Pen::hidden, {x, mid_y - r - 2}, {x, mid_y + r + 2});
  if (p.tail_mm > 0) d.measure({x0, mid_y + r}, {bore0, mid_y + r}, 6, fixed(p.tail_mm, 1));
  d.measure({bore0, mid_y + r}, {bore1, mid_y + r}, 14, fixed(p.forms_mm, 2) + " forms the bore");
  d.measure({bore1, mid_y + r}, {wall1, mid_y + r}, 22, fixed(p.head_mm, 1) + " in the rubber");
  d.measure({wall1, mid_y + r}, {x1, mid_y + r}, 6, fixed(p.grip_mm, 1) + " grip");
  d.measure({x0, mid_y - r}, {x1, mid_y - r}, -9, fixed(len, 1));
  d.measure({x0, mid_y - r}, {x0, mid_y + r}, 9, "Ø" + fixed(p.diameter_mm, 3));
  // End view with the flat.
  const Point2 e{x1 + right_gap + r, mid_y};
  const double half = std::sqrt(std::max(0.0, r * r - (r - p.flat_mm) * (r - p.flat_mm)));
  Stroke ring{Pen::outline, {}, true};
  const double a0 = std::atan2(r - p.flat_mm, half), a1 = M_PI - a0;
  for (int i = 0; i <= 72; ++i) {
    const double a = a1 + (2 * M_PI - (a1 - a0)) * i / 72;
    ring.points.push_back({e.x + r * std::cos(a), e.y + r * std::sin(a)});
  }
  d.strokes.push_back(std::move(ring));
  d.line(Pen::centre, {e.x - r - 4, mid_y}, {e.x + r + 4, mid_y});
  d.line(Pen::centre, {e.x, mid_y - r - 4}, {e.x, mid_y + r + 4});
  d.measure({e.x + r, mid_y - r}, {e.x + r, mid_y + r - p.flat_mm}, -7, fixed(p.diameter_mm - p.flat_mm, 2));
  // What to know besides.
  const double top = d.height_mm;
  d.frame(Pen::edge, {5, 5}, {d.width_mm - 5, d.height_mm - 5});
  d.labels.push_back({{10, top - 14}, d.title, 4.2, -1});
  d.labels.push_back({{10, top - 21},
                      "Scale 1:1, millimetres. Chamfer " + fixed(c, 1) + " × 45° at both ends, polished along.",
                      2.8,
                      -1});
  d.labels.push_back({{10, 20},
                      std::string(p.through ? "Through bore: the foot sits in the far wall."
                                            : "Blind bore: the foot is the bore's floor.") +
                          " Drawn along " + axis_name(p.draw) + ", toward the grip. The flat keys it against turning.",
                      2.8,
                      -1});
  d.labels.push_back({{10, 13},
                      "Bore on the part Ø" + fixed(p.bore_mm, 3) +
                          ". Release the pin before the rubber is poured; "
                          "draw it before the halves are parted.",
                      2.8,
                      -1});
  return d;
}

}  // namespace palinform
