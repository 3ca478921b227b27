#include "mould/section.hpp"

#include <algorithm>
#include <cmath>
#include <map>

#include "base/text.hpp"

namespace palinform {

std::vector<std::vector<Point2>> plane_cut(const TriMesh& mesh, const Transform& frame, double at) {
  // Each edge that crosses gives one point, known by its two corners: so neighbours meet exactly.
  using Edge = std::pair<uint32_t, uint32_t>;
  std::map<Edge, Point2> where;
  std::multimap<Edge, Edge> next;
  std::vector<double> side(mesh.points.size());
  for (size_t i = 0; i < side.size(); ++i) {
    side[i] = dot(frame.rows[2], mesh.points[i]) - at;
    if (side[i] == 0) side[i] = 1e-12;
  }
  for (const Triangle& t : mesh.triangles) {
    Edge from{}, to{};
    bool has_from = false, has_to = false;
    for (int k = 0; k < 3; ++k) {
      const uint32_t a = t[static_cast<size_t>(k)], b = t[static_cast<size_t>((k + 1) % 3)];
      if ((side[a] > 0) == (side[b] > 0)) continue;
      const Edge e{std::min(a, b), std::max(a, b)};
      if (!where.contains(e)) {
        const double s = side[e.first] / (side[e.first] - side[e.second]);
        const Vec3 p = mesh.points[e.first] + (mesh.points[e.second] - mesh.points[e.first]) * s;
        where[e] = {dot(frame.rows[0], p), dot(frame.rows[1], p)};
      }
      if (side[a] > 0)
        from = e, has_from = true;
      else
        to = e, has_to = true;
    }
    if (has_from && has_to) next.emplace(from, to);
  }
  std::vector<std::vector<Point2>> out;
  while (!next.empty()) {
    auto it = next.begin();
    const Edge first = it->first;
    std::vector<Point2> line{where[first]};
    while (it != next.end()) {
      const Edge to = it->second;
      next.erase(it);
      if (to == first) break;
      line.push_back(where[to]);
      it = next.find(to);
    }
    out.push_back(std::move(line));
  }
  return out;
}

Drawing section_drawing(const TriMesh& mesh, const Mould& m, const KeyPlan& keys, const std::string& job_name) {
  Drawing d;
  d.title = "Section · " + job_name;
  const Box3& in = m.inner_mm;
  const Vec3 size = in.size();
  const bool along_u = size.x >= size.y;
  const double low = along_u ? in.min.x : in.min.y, span = along_u ? size.x : size.y,
               across = along_u ? 0.5 * (in.min.y + in.max.y) : 0.5 * (in.min.x + in.max.x);
  Transform cut;
  cut.rows = {m.frame.rows[along_u ? 0 : 1], m.frame.rows[2], m.frame.rows[along_u ? 1 : 0]};
  const double left = 34, foot = 34;
  d.width_mm = std::max(210.0, span + 2 * left + 40);
  d.height_mm = size.z + foot + 44;
  const auto at = [&](double x, double z) { return Point2{x - low + left, z - in.min.z + foot}; };
  for (const auto& line : plane_cut(mesh, cut, across)) {
    Stroke s{Pen::outline, {}, true};
    for (const Point2& p : line) s.points.push_back(at(p.x, p.y));
    d.strokes.push_back(std::move(s));
  }
  Stroke seam{Pen::line, {}, false};
  const int n = along_u ? m.nu : m.nv;
  const int row = std::clamp(static_cast<int>((across - (along_u ? m.v0_mm : m.u0_mm)) / m.pitch_mm), 0,
                             (along_u ? m.nv : m.nu) - 1);
  double seam_end = in.min.z;
  for (int i = 0; i < n; ++i) {
    const size_t k = along_u ? m.column(i, row) : m.column(row, i);
    const double x = (along_u ? m.u0_mm : m.v0_mm) + (i + 0.5) * m.pitch_mm;
    if (m.shadow[k]) {
      if (seam.points.size() > 1) d.strokes.push_back(seam);
      seam.points.clear();
      continue;
    }
    const double z =
        static_cast<double>(m.parting_mm[k]) + keys.bump_mm(along_u ? x : across, along_u ? across : x, in);
    if (x >= low && x <= low + span) seam.points.push_back(at(x, z)), seam_end = z;
  }
  if (seam.points.size() > 1) d.strokes.push_back(seam);
  d.frame(Pen::edge, at(low, in.min.z), at(low + span, in.max.z));
  double part_low = 1e300, part_high = -1e300, part_left = 1e300;
  for (const Vec3& p : mesh.points) {
    const double z = dot(m.frame.rows[2], p);
    part_low = std::min(part_low, z), part_high = std::max(part_high, z);
    part_left = std::min(part_left, dot(cut.rows[0], p));
  }
  d.measure(at(low, in.min.z), at(low + span, in.min.z), -10, fixed(span, 1));
  d.measure(at(low, in.min.z), at(low, in.max.z), 12, fixed(size.z, 1));
  d.measure(at(low + span, in.min.z), at(low + span, seam_end), -12, "b " + fixed(seam_end - in.min.z, 1));
  d.measure(at(low + span, seam_end), at(low + span, in.max.z), -12, "a " + fixed(in.max.z - seam_end, 1));
  d.measure(at(low, in.max.z), at(part_left, in.max.z), 6, "wall " + fixed(part_left - low, 1));
  d.labels.push_back({at(low + 3, in.max.z - 5), "rubber a", 3, -1});
  d.labels.push_back({at(low + 3, in.min.z + 3), "rubber b", 3, -1});
  d.labels.push_back({{10, d.height_mm - 12}, d.title, 4.2, -1});
  d.labels.push_back(
      {{10, d.height_mm - 19},
       "True scale, millimetres. Through the middle of the box, square to the pull " + axis_name(m.frame.rows[2]) + ".",
       2.8,
       -1});
  return d;
}

}  // namespace palinform
