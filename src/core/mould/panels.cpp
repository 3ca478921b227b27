#include "mould/panels.hpp"

#include <algorithm>
#include <cmath>
#include <optional>

#include "base/text.hpp"
#include "split/pins.hpp"

namespace palinform {

std::string_view words_of(BoxStyle s) {
  constexpr std::string_view names[] = {"Screwed panels", "Glued sheet",         "One frame, cut in two",
                                        "Stacked bricks", "A tub off the shelf", "A round tube"};
  return names[static_cast<size_t>(s)];
}
double tube_for(const TriMesh& mesh, const Transform& frame, double wall_mm) {
  const Vec3 c = box_in(mesh, frame).centre();
  double far = 0;
  for (const Vec3& p : mesh.points) {
    const Vec3 q = frame.direction(p);
    far = std::max(far, std::hypot(q.x - c.x, q.y - c.y));
  }
  return 2 * (far + wall_mm);
}

BoxPlan plan_box(const Vec3& inner, double split_mm, BoxStyle style, const BoxRules& r, double round_mm) {
  BoxPlan p;
  p.style = style;
  p.inner_mm = inner;
  const double t = r.sheet_mm, height = inner.z + r.rim_mm;
  if (style == BoxStyle::tube) {
    p.works = round_mm > 0;
    p.inner_mm = {round_mm, round_mm, inner.z};
    p.more_rubber_mm3 = (M_PI / 4 * round_mm * round_mm - inner.x * inner.y) * inner.z;
    p.told = "a tube of Ø" + fixed(round_mm, 0) + " mm inside, " + fixed(height, 0) +
             " mm long, slit along one side and taped" +
             (p.more_rubber_mm3 < 0 ? "; it saves " + fixed(-p.more_rubber_mm3 * 1e-3, 0) + " ml of rubber" : "");
    return p;
  }
  if (style == BoxStyle::bricks) {
    p.inner_mm.x = std::ceil(inner.x / r.brick_mm - 1e-9) * r.brick_mm;
    p.inner_mm.y = std::ceil(inner.y / r.brick_mm - 1e-9) * r.brick_mm;
    const int courses = static_cast<int>(std::ceil(inner.z / r.brick_high_mm - 1e-9));
    // Walls two studs thick; a brick is two by four.
    const double girth_mm = 2 * (p.inner_mm.x + p.inner_mm.y) + 8 * r.brick_mm;
    p.bricks = courses * static_cast<int>(std::ceil(girth_mm / (4 * r.brick_mm)));
    p.told = counted(courses, "course", "courses") + ", about " + std::to_string(p.bricks) +
             " bricks of two by four; seal the joints with soft clay";
  } else if (style == BoxStyle::tub) {
    const Tub* best = nullptr;
    for (const Tub& tub : r.tubs) {
      const bool fits = std::max(tub.inner_mm.x, tub.inner_mm.y) >= std::max(inner.x, inner.y) &&
                        std::min(tub.inner_mm.x, tub.inner_mm.y) >= std::min(inner.x, inner.y) &&
                        tub.inner_mm.z >= inner.z;
      if (fits && (!best || tub.inner_mm.x * tub.inner_mm.y < best->inner_mm.x * best->inner_mm.y)) best = &tub;
    }
    p.works = best != nullptr;
    p.told = best ? best->name + ": " + fixed(best->inner_mm.x, 0) + " × " + fixed(best->inner_mm.y, 0) + " × " +
                        fixed(best->inner_mm.z, 0) + " mm"
                  : "no tub on the list takes " + fixed(inner.x, 0) + " × " + fixed(inner.y, 0) + " × " +
                        fixed(inner.z, 0) + " mm";
    if (best) p.inner_mm = {best->inner_mm.x, best->inner_mm.y, inner.z};
  } else {
    CutPanel long_side{"long side", 2, inner.x + 2 * t, height, t, true, {}, 0},
        short_side{"short side", 2, inner.y, height, t, false, {}, 0},
        floor{"floor", 1, inner.x + 2 * t, inner.y + 2 * t, t, false, {}, 0};
    if (style == BoxStyle::screwed) {
      // Through the overlapping sides into the ends of the others, clear of the split by a screw's width.
      const int n =
          std::max(2, static_cast<int>(std::ceil((height - 2 * r.screw_from_edge_mm) / r.screw_every_mm)) + 1);
      for (int k = 0; k < n; ++k) {
        double y = r.screw_from_edge_mm + (height - 2 * r.screw_from_edge_mm) * k / (n - 1);
        if (std::abs(y - split_mm) < 6) y = split_mm + (y < split_mm ? -6 : 6);
        if (y < 4 || y > height - 4) continue;
        long_side.holes_mm.push_back({0.5 * t, y});
        long_side.holes_mm.push_back({long_side.width_mm - 0.5 * t, y});
      }
      p.told = "long sides overlap the short ones; screws clear of the split at " + fixed(split_mm, 0) + " mm";
    } else if (style == BoxStyle::cut_in_two) {
      long_side.score_mm = short_side.score_mm = split_mm;
      p.told = "glued up whole, then sawn along the split at " + fixed(split_mm, 0) +
               " mm: both halves' frames match by themselves";
    } else {
      p.told = "long sides overlap the short ones; glued with hot glue or tape, to be broken up";
    }
    p.panels = {long_side, short_side, floor};
  }
  p.more_rubber_mm3 = std::max(0.0, (p.inner_mm.x * p.inner_mm.y - inner.x * inner.y) * inner.z);
  return p;
}

namespace {

/// A wall of the box: where it stands and how its panel lies, seen from outside.
struct BoxSide {
  const char* name;   // of one that is told apart
  const char* panel;  // as plan_box() calls it
  int axis;           // it stands square to
  bool high;          // at the far end of it
  int across;         // its panel's width runs along this …
  bool backward;      // … seen from outside the other way
};
constexpr BoxSide sides[] = {{"front", "long side", 1, false, 0, false},
                          {"back", "long side", 1, true, 0, true},
                          {"left", "short side", 0, false, 1, true},
                          {"right", "short side", 0, true, 1, false}};

/// Where the pin's outline meets a plane square to a box axis, in the mould's frame; empty where it does not come
/// that way, or ends before.
std::vector<Vec3> through(const PinPlan& p, const Mould& m, int axis, bool high, double clear) {
  const double wall = high ? m.inner_mm.max[axis] : m.inner_mm.min[axis];
  const Vec3 draw = m.frame.direction(p.draw), foot = m.frame.direction(p.foot_mm);
  const double toward = high ? draw[axis] : -draw[axis];
  if (toward < 0.3) return {};  // along the wall: it leaves elsewhere
  if ((foot[axis] + draw[axis] * p.length_mm() - wall) * (high ? 1 : -1) < -1e-6) return {};
  const Vec3 a = m.frame.direction(any_perpendicular(p.draw)), b = cross(draw, a);
  std::vector<Point2> outline = p.outline_mm;
  if (outline.empty())
    for (int k = 0; k < 48; ++k)
      outline.push_back(
          {0.5 * p.diameter_mm * std::cos(2 * M_PI * k / 48), 0.5 * p.diameter_mm * std::sin(2 * M_PI * k / 48)});
  std::vector<Vec3> out;
  for (const Point2& q : outline) {
    const double r = std::hypot(q.x, q.y), grown = r > 0 ? (r + clear) / r : 1;
    const Vec3 at = foot + a * (q.x * grown) + b * (q.y * grown);
    out.push_back(at + draw * ((wall - at[axis]) / draw[axis]));
  }
  return out;
}

}  // namespace

BoxPlan with_pin_holes(BoxPlan plan, const Mould& m, const std::vector<PinPlan>& pins, double clear) {
  if (plan.panels.empty() || pins.empty()) return plan;
  const auto find = [&](const char* name) -> CutPanel* {
    for (CutPanel& p : plan.panels)
      if (p.name == name) return &p;
    return nullptr;
  };
  const CutPanel* floor_panel = find("floor");
  const double t = floor_panel ? floor_panel->thickness_mm : 0;
  std::vector<CutPanel> apart;
  for (const BoxSide& s : sides) {
    CutPanel* whole = find(s.panel);
    if (!whole || whole->count < 1) continue;
    CutPanel own = *whole;
    own.count = 1;
    const double over = own.overlaps ? t : 0;
    for (const PinPlan& p : pins) {
      const std::vector<Vec3> at = through(p, m, s.axis, s.high, clear);
      if (at.empty()) continue;
      PanelHole h{p.name, {}};
      bool inside = true;
      for (const Vec3& q : at) {
        const double along =
            s.backward ? m.inner_mm.max[s.across] - q[s.across] : q[s.across] - m.inner_mm.min[s.across];
        h.outline.push_back({along + over, q.z - m.inner_mm.min.z});
        inside = inside && along > 0 && along < m.inner_mm.size()[s.across] && h.outline.back().y > 0 &&
                 h.outline.back().y < own.height_mm;
      }
      if (inside) own.pin_holes.push_back(std::move(h));
    }
    if (own.pin_holes.empty()) continue;
    own.name = std::string(s.name) + ", for " + own.pin_holes.front().of + (own.pin_holes.size() > 1 ? " …" : "");
    --whole->count;
    apart.push_back(std::move(own));
  }
  if (CutPanel* f = find("floor"))
    for (const PinPlan& p : pins) {
      const std::vector<Vec3> at = through(p, m, 2, false, clear);
      if (at.empty()) continue;
      PanelHole h{p.name, {}};
      for (const Vec3& q : at) h.outline.push_back({q.x - m.inner_mm.min.x + t, q.y - m.inner_mm.min.y + t});
      f->pin_holes.push_back(std::move(h));
    }
  plan.panels.insert(plan.panels.end(), apart.begin(), apart.end());
  std::erase_if(plan.panels, [](const CutPanel& p) { return p.count < 1; });
  return plan;
}

Drawing panel_drawing(const BoxPlan& plan, const std::string& job_name) {
  Drawing d;
  d.title = "Box panels · " + job_name;
  const double gap = 12, margin = 12, head = 26;
  double x = margin, tallest = 0;
  std::vector<std::pair<const CutPanel*, double>> placed;
  for (const CutPanel& p : plan.panels)
    for (int k = 0; k < p.count; ++k) {
      placed.emplace_back(&p, x);
      x += p.width_mm + gap;
      tallest = std::max(tallest, p.height_mm);
    }
  d.width_mm = std::max(210.0, x - gap + margin);
  d.height_mm = tallest + head + 40;
  const double y0 = 24;
  for (const auto& [p, at] : placed) {
    d.frame(Pen::outline, {at, y0}, {at + p->width_mm, y0 + p->height_mm});
    for (const Point2& h : p->holes_mm) d.rounds.push_back({Pen::outline, {at + h.x, y0 + h.y}, 1.6});
    for (const PanelHole& h : p->pin_holes) {
      Stroke hole{Pen::outline, {}, true};
      Point2 middle{0, 0};
      double top = -1e300;
      for (const Point2& q : h.outline) {
        hole.points.push_back({at + q.x, y0 + q.y});
        middle.x += q.x / static_cast<double>(h.outline.size()),
            middle.y += q.y / static_cast<double>(h.outline.size());
        top = std::max(top, q.y);
      }
      d.strokes.push_back(std::move(hole));
      d.line(Pen::centre, {at + middle.x - 3, y0 + middle.y}, {at + middle.x + 3, y0 + middle.y});
      d.line(Pen::centre, {at + middle.x, y0 + middle.y - 3}, {at + middle.x, y0 + middle.y + 3});
      d.labels.push_back({{at + middle.x, y0 + top + 1.5},
                          h.of + ": " + fixed(middle.x, 1) + ", " + fixed(middle.y, 1) + " from the corner",
                          2.4,
                          0});
    }
    if (p->score_mm > 0) d.line(Pen::line, {at, y0 + p->score_mm}, {at + p->width_mm, y0 + p->score_mm});
    d.labels.push_back({{at + 0.5 * p->width_mm, y0 + 0.5 * p->height_mm + 2}, p->name, 3, 0});
    d.labels.push_back({{at + 0.5 * p->width_mm, y0 + 0.5 * p->height_mm - 3},
                        fixed(p->width_mm, 1) + " × " + fixed(p->height_mm, 1) + " × " + fixed(p->thickness_mm, 1),
                        2.6,
                        0});
  }
  d.labels.push_back({{margin, d.height_mm - 12}, d.title, 4.2, -1});
  d.labels.push_back({{margin, d.height_mm - 19}, "True scale, millimetres. " + plan.told + ".", 2.8, -1});
  return d;
}

Drawing rim_drawing(const Box3& inner, double ring, double sheet, int layers, double kerf,
                    const std::string& job_name) {
  Drawing d;
  d.title = "Stepped rim · " + job_name;
  const Vec3 s = inner.size();
  const double margin = 14, gap = 14, head = 26;
  d.width_mm = 2 * s.x + gap + 2 * margin;
  d.height_mm = s.y + head + 24;
  const double k = 0.5 * kerf, y0 = 14;
  // The ring that stays in the box, and the plate inside it: the kerf is taken half from each.
  const auto rect = [&](double x, double y, double w, double h, double grow) {
    d.frame(Pen::outline, {x - grow, y - grow}, {x + w + grow, y + h + grow});
  };
  rect(margin, y0, s.x, s.y, k);
  // One corner of the inner outline stays whole: the half turned round does not go in.
  const double x1 = margin + ring, y1 = y0 + ring, x2 = margin + s.x - ring, y2 = y0 + s.y - ring;
  d.strokes.push_back({Pen::outline,
                       {{x1 + k, y1 + k + 2 * ring},
                        {x1 + k + 2 * ring, y1 + k + 2 * ring},
                        {x1 + k + 2 * ring, y1 + k},
                        {x2 - k, y1 + k},
                        {x2 - k, y2 - k},
                        {x1 + k, y2 - k}},
                       true});
  const double shift = s.x + gap;
  d.strokes.push_back({Pen::outline,
                       {{x1 - k + shift, y1 - k + 2 * ring},
                        {x1 - k + 2 * ring + shift, y1 - k + 2 * ring},
                        {x1 - k + 2 * ring + shift, y1 - k},
                        {x2 + k + shift, y1 - k},
                        {x2 + k + shift, y2 + k},
                        {x1 - k + shift, y2 + k}},
                       true});
  d.labels.push_back({{margin, d.height_mm - 12}, d.title, 4.2, -1});
  d.labels.push_back({{margin, d.height_mm - 19},
                      "True scale, millimetres. " + counted(layers, "sheet", "sheets") + " of " + fixed(sheet, 1) +
                          " mm; kerf " + fixed(kerf, 2) + " mm already given to each side.",
                      2.8,
                      -1});
  return d;
}

std::vector<std::string> leak_list(BoxStyle style) {
  std::vector<std::string> out{"Run clay or hot glue along every inside corner and round the floor.",
                               "Pour water to the fill line, wait five minutes, dry well."};
  if (style == BoxStyle::bricks) out.push_back("Press tape over the outside of every course.");
  if (style == BoxStyle::screwed || style == BoxStyle::cut_in_two)
    out.push_back("Tighten the screws crosswise; look for daylight at the joints.");
  if (style == BoxStyle::tube) out.push_back("Tape the slit from top to bottom, twice.");
  if (style == BoxStyle::tub) out.push_back("Flex the tub: a cracked corner opens under the weight.");
  out.push_back("Stand it level on something that may get wet, cups and cloth at hand.");
  return out;
}

Clamping clamp_force(double area, double head, double density, double kpa) {
  Clamping c;
  c.force_n = area * 1e-6 * (density * 1000 * 9.80665 * head * 1e-3 + kpa * 1000);
  c.with = c.force_n < 10    ? "two bands"
           : c.force_n < 40  ? "four bands, or stretch tape all round"
           : c.force_n < 150 ? "boards on both sides and bands, or a weight of " + fixed(c.force_n / 9.8, 0) + " kg"
                             : "boards on both sides drawn together by screws";
  return c;
}

}  // namespace palinform
