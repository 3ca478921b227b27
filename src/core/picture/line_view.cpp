#include "picture/line_view.hpp"

#include <algorithm>
#include <cmath>

namespace palinform {
namespace {

bool hidden_at(const RayScene& rays, const Vec3& p, const Vec3& toward_eye, const Vec3& lift) {
  return rays.first_hit(p + lift, toward_eye, 0).has_value();
}

}  // namespace

Transform eye_frame(const Vec3& toward_eye, const Vec3& up) {
  const Vec3 w = unit(toward_eye);
  const Vec3 u = unit(cross(up, w), any_perpendicular(w));
  return {{u, cross(w, u), w}, {}};
}

std::vector<Stroke> edges_seen(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays,
                               const Transform& frame, const LineViewOptions& options) {
  std::vector<Stroke> out;
  const Vec3 eye = frame.rows[2];
  const double diagonal = rays.diagonal_mm(), lift = 1e-3 * diagonal;
  const double bend = std::cos(options.sharp_deg * M_PI / 180);
  for (uint32_t h = 0; h < pairs.twin.size(); ++h) {
    if (!pairs.paired(h) || pairs.twin[h] < h) continue;
    const Vec3 na = mesh.normal(h / 3), nb = mesh.normal(pairs.twin[h] / 3);
    const double fa = dot(na, eye), fb = dot(nb, eye);
    const bool rim = (fa > 1e-9) != (fb > 1e-9), sharp = dot(na, nb) < bend;
    if (!(rim || sharp) || (fa <= 1e-9 && fb <= 1e-9)) continue;
    const Vec3 a = mesh.points[edge_from(mesh, h)], b = mesh.points[edge_to(mesh, h)];
    const double len = length(b - a);
    if (len < options.shortest_share * diagonal) continue;
    const int parts = std::max(1, static_cast<int>(std::ceil(len / (options.step_share * diagonal))));
    const Vec3 out_of = unit(na + nb, eye) * lift + eye * (0.2 * lift);
    int open_from = -1;
    for (int i = 0; i <= parts; ++i) {
      const bool seen = i < parts && !hidden_at(rays, a + (b - a) * ((i + 0.5) / parts), eye, out_of);
      if (seen && open_from < 0) open_from = i;
      if (!seen && open_from >= 0) {
        const Vec3 p = frame.direction(a + (b - a) * (static_cast<double>(open_from) / parts)),
                   q = frame.direction(a + (b - a) * (static_cast<double>(i) / parts));
        out.push_back({Pen::edge, {{p.x, p.y}, {q.x, q.y}}, false});
        open_from = -1;
      }
    }
  }
  return out;
}

std::vector<Stroke> line_seen(const RayScene& rays, const Transform& frame, const std::vector<Vec3>& points,
                              bool closed, Pen pen) {
  std::vector<Stroke> out;
  const double lift = 1.5e-3 * rays.diagonal_mm();
  const size_t n = points.size(), steps = closed ? n : n - 1;
  if (n < 2) return out;
  for (size_t i = 0; i < steps; ++i) {
    const Vec3 a = points[i], b = points[(i + 1) % n], mid = (a + b) * 0.5;
    // The line lies on the skin: step off along the way the skin faces, found by the nearest place of the part.
    const Vec3 off = frame.rows[2] * lift;
    const bool hidden = hidden_at(rays, mid, frame.rows[2], off);
    const Vec3 p = frame.direction(a), q = frame.direction(b);
    const Pen use = hidden ? Pen::hidden : pen;
    if (!out.empty() && out.back().pen == use && out.back().points.back() == Point2{p.x, p.y})
      out.back().points.push_back({q.x, q.y});
    else
      out.push_back({use, {{p.x, p.y}, {q.x, q.y}}, false});
  }
  return out;
}

}  // namespace palinform
