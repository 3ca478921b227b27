#include "split/clay_guide.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"
#include "picture/line_view.hpp"
#include "solid/columns.hpp"

namespace palinform {

ClayGuide clay_guide(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays, const Split& split,
                     const std::string& job_name, int stations) {
  ClayGuide g;
  size_t outer = 0;
  for (size_t l = 0; l < split.loops.size(); ++l)
    if (split.loops[l].outer) {
      outer = l;
      break;
    }
  g.stations = stations_along(mesh, rays, split, outer, stations);
  double low = 1e300, high = -1e300;
  for (const Vec3& p : mesh.points) {
    low = std::min(low, dot(p, split.pull));
    high = std::max(high, dot(p, split.pull));
  }
  const Transform around = frame_along(split.pull);
  const Vec3 sides[4] = {-around.rows[1], around.rows[0], around.rows[1], -around.rows[0]};
  const char* names[4] = {"Front", "Right, turned 90°", "Back, turned 180°", "Left, turned 270°"};
  LineViewOptions look;
  if (mesh.triangles.size() > 200'000) look.shortest_share = 5e-4;
  std::vector<Drawing> views;
  for (int k = 0; k < 4; ++k) {
    const Transform eye = eye_frame(sides[k], split.pull);
    Drawing v;
    double left = 1e300, right = -1e300;
    for (const Vec3& p : mesh.points)
      left = std::min(left, dot(p, eye.rows[0])), right = std::max(right, dot(p, eye.rows[0]));
    const double gap = 12, foot = 10;
    v.width_mm = right - left + 2 * gap;
    v.height_mm = high - low + foot + 16;
    const auto put = [&](std::vector<Stroke> strokes) {
      for (Stroke& s : strokes) {
        for (Point2& p : s.points) p.x += gap - left, p.y += foot - low;
        v.strokes.push_back(std::move(s));
      }
    };
    put(edges_seen(mesh, pairs, rays, eye, look));
    for (const PartingLoop& l : split.loops) put(line_seen(rays, eye, l.points_mm, true, Pen::line));
    v.line(Pen::outline, {2, foot}, {v.width_mm - 2, foot});  // the board
    for (int i = 0; i < 8; ++i) {
      const double x = 2 + (v.width_mm - 8) * i / 7;
      v.line(Pen::measure, {x, foot - 0.4}, {x + 3, foot - 3});
    }
    v.labels.push_back({{2, 1}, std::string(names[k]) + " · board", 2.6, -1});
    std::vector<Point2> named;
    for (size_t s = 0; s < g.stations.size(); ++s) {
      const Vec3 at = g.stations[s].at_mm;
      if (rays.first_hit(at + sides[k] * (1.5e-3 * rays.diagonal_mm()), sides[k], 0)) continue;
      const Vec3 q = eye.direction(at);
      const Point2 p{q.x + gap - left, q.y + foot - low};
      v.rounds.push_back({Pen::line, p, 0.7});
      // Two that lie behind one another in this view are told apart in the next.
      const bool close = std::any_of(named.begin(), named.end(), [&](const Point2& o) {
        return std::abs(o.x - p.x) < 4.5 && std::abs(o.y - p.y) < 3;
      });
      if (close) continue;
      named.push_back(p);
      v.labels.push_back({{p.x + 1.2, p.y + 1.2}, std::to_string(s + 1), 2.4, -1});
    }
    views.push_back(std::move(v));
  }
  Drawing& d = g.sheet;
  d.title = "Clay bed · " + job_name;
  const double col0 = std::max(views[0].width_mm, views[2].width_mm),
               col1 = std::max(views[1].width_mm, views[3].width_mm);
  const double row = views[0].height_mm, table = 86, margin = 8, head = 24;
  // Side by side where that stays a squarer sheet.
  const bool in_a_row = row > 0.9 * (col0 + col1);
  const double body_w = in_a_row ? 2 * (col0 + col1) : col0 + col1, body_h = in_a_row ? row : 2 * row;
  const double table_h = 7 + 4.6 * (static_cast<double>(g.stations.size()) + 1);
  d.width_mm = body_w + table + 3 * margin;
  d.height_mm = std::max(body_h, table_h) + head + 2 * margin;
  const double top = d.height_mm - head - margin;
  if (in_a_row) {
    double x = margin;
    for (const Drawing& v : views) d.place(v, {x, top - row}), x += v.width_mm;
  } else {
    d.place(views[0], {margin, top - row});
    d.place(views[1], {margin + col0, top - row});
    d.place(views[2], {margin, top - 2 * row});
    d.place(views[3], {margin + col0, top - 2 * row});
  }
  d.labels.push_back({{margin, d.height_mm - margin - 5}, d.title, 4.2, -1});
  d.labels.push_back({{margin, d.height_mm - margin - 12},
                      "True scale: print at 100 %. Pull " + axis_name(split.pull) +
                          ". Side b lies in the clay, its lowest place on the board. Dashed: behind the part.",
                      2.8,
                      -1});
  const double tx = body_w + 2 * margin;
  double y = top - 4;
  const double cols[4] = {tx, tx + 22, tx + 44, tx + 64};
  const char* heads[4] = {"Station", "Height", "Bevel", "Edge"};
  for (int k = 0; k < 4; ++k) d.labels.push_back({{cols[k], y}, heads[k], 2.6, -1});
  d.line(Pen::measure, {tx, y - 1.6}, {tx + table - margin, y - 1.6});
  y -= 1.6;
  for (size_t s = 0; s < g.stations.size(); ++s) {
    y -= 4.6;
    const Station& t = g.stations[s];
    d.labels.push_back({{cols[0], y}, std::to_string(s + 1), 2.6, -1});
    d.labels.push_back({{cols[1], y}, fixed(t.height_mm, 1) + " mm", 2.6, -1});
    d.labels.push_back({{cols[2], y},
                        std::abs(t.bevel_deg) < 1.5
                            ? "level"
                            : fixed(std::abs(t.bevel_deg), 0) + "° " + (t.bevel_deg > 0 ? "up" : "down"),
                        2.6,
                        -1});
    d.labels.push_back({{cols[3], y}, fixed(t.edge_deg, 0) + "°", 2.6, -1});
  }
  d.labels.push_back({{tx, y - 7}, "Bevel: of the bed, going away", 2.2, -1});
  d.labels.push_back({{tx, y - 10.5}, "from the part. Edge: the thinner", 2.2, -1});
  d.labels.push_back({{tx, y - 14}, "rubber edge at that bevel.", 2.2, -1});
  d.frame(Pen::edge, {3, 3}, {d.width_mm - 3, d.height_mm - 3});
  return g;
}

}  // namespace palinform
