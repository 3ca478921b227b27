#include "split/plane_line.hpp"

#include <algorithm>
#include <cmath>

namespace palinform {
namespace {

/// A bound on the plane's height and the area that asks for it.
struct Bound {
  double mm = 0, area_mm2 = 0;
};

/// The tightest bound once specks are passed over: `from_low` for bounds from above, where the lowest is tightest.
double tightest(std::vector<Bound>& bounds, bool from_low, double specks_mm2) {
  std::sort(bounds.begin(), bounds.end(),
            [&](const Bound& a, const Bound& b) { return from_low ? a.mm < b.mm : a.mm > b.mm; });
  double passed = 0;
  for (const Bound& b : bounds) {
    passed += b.area_mm2;
    if (passed > specks_mm2) return b.mm;
  }
  return from_low ? 1e300 : -1e300;
}

}  // namespace

std::optional<PlaneLine> plane_line(const TriMesh& mesh, const EdgePairs& pairs, const Releases& r,
                                    const FaceWishes& wishes) {
  const size_t n = mesh.triangles.size();
  const auto flags = [&](size_t t) { return wishes.flags.empty() ? uint8_t{0} : wishes.flags[t]; };
  const double hair = hair_mm(mesh);
  std::vector<double> z(mesh.points.size());
  for (size_t i = 0; i < z.size(); ++i) z[i] = dot(mesh.points[i], r.pull);
  if (z.empty()) return std::nullopt;
  const auto [lowest, highest] = std::minmax_element(z.begin(), z.end());
  const double bottom = *lowest, top = *highest, span = top - bottom;
  // A face that leaves toward one side only lies on that side of the plane, but for the run of a hair.
  std::vector<Bound> above, below, above_bare, below_bare;
  double skin = 0;
  for (size_t t = 0; t < n; ++t) {
    const double area = mesh.area_mm2(t);
    skin += area;
    const uint8_t f = flags(t);
    const bool up = r.up[t] >= 0.5f, down = r.down[t] >= 0.5f;
    const bool to_a = f & FaceWishes::to_a, to_b = f & FaceWishes::to_b;
    if (!to_a && !to_b && (up == down || (f & FaceWishes::ignored))) continue;
    const auto [low, high] = std::minmax({z[mesh.triangles[t][0]], z[mesh.triangles[t][1]], z[mesh.triangles[t][2]]});
    const double lean = std::abs(dot(mesh.normal(t), r.pull)), level = std::sqrt(std::max(0.0, 1 - lean * lean));
    const double slack = to_a || to_b ? 0 : lean > 1e-9 ? std::min(span, hair * level / lean) : span;
    if (to_a || (up && !to_b)) {
      above.push_back({low + slack, area});
      above_bare.push_back({low, area});
    } else {
      below.push_back({high - slack, area});
      below_bare.push_back({high, area});
    }
  }
  const double specks = 1e-3 * skin;
  const double most = tightest(above, true, specks), least = tightest(below, false, specks);
  if (least > most || above.empty() || below.empty()) return std::nullopt;
  const double upper = tightest(above_bare, true, specks), lower = tightest(below_bare, false, specks);
  // Between them a wall: its lower edge. Where they overlap, they meet in a round: the middle of what is allowed.
  PlaneLine out;
  out.height_mm = lower <= upper ? lower : std::clamp(0.5 * (lower + upper), least, most);
  // Cut a breath above it, where no corner of the mesh lies; at the part's very top a breath under it.
  const double nudge = 1e-7 * span;
  double h = std::clamp(out.height_mm + nudge, bottom + nudge, top - nudge);
  const auto touches = [&] {
    return std::any_of(z.begin(), z.end(),
                       [&](double v) { return std::abs(v - h) < 1e-12 * std::max(1.0, std::abs(h)); });
  };
  for (int k = 0; k < 8 && touches(); ++k) h += 0.37 * nudge;
  out.side.resize(n);
  for (size_t t = 0; t < n; ++t)
    out.side[t] = (z[mesh.triangles[t][0]] + z[mesh.triangles[t][1]] + z[mesh.triangles[t][2]]) / 3 > h ? 0 : 1;

  const auto rises = [&](uint32_t e) { return z[edge_from(mesh, e)] < h && z[edge_to(mesh, e)] > h; };
  const auto falls = [&](uint32_t e) { return z[edge_from(mesh, e)] > h && z[edge_to(mesh, e)] < h; };
  const auto at = [&](uint32_t e) {
    const double a = z[edge_from(mesh, e)], b = z[edge_to(mesh, e)];
    const Vec3 &p = mesh.points[edge_from(mesh, e)], &q = mesh.points[edge_to(mesh, e)];
    // The same point from either half of the edge.
    return edge_from(mesh, e) < edge_to(mesh, e) ? p + (q - p) * ((h - a) / (b - a))
                                                 : q + (p - q) * ((h - b) / (a - b));
  };
  std::vector<bool> seen(3 * n, false);
  size_t line_faces = 0, line_crossed = 0;
  for (size_t t = 0; t < n; ++t) line_faces += (flags(t) & FaceWishes::line) != 0;
  for (uint32_t first = 0; first < 3 * n; ++first) {
    if (seen[first] || !rises(first)) continue;
    PartingLoop loop;
    std::vector<uint32_t> faces;
    for (uint32_t e = first; !seen[e];) {
      seen[e] = true;
      const uint32_t t = e / 3;
      if (flags(t) & FaceWishes::keep_clear) return std::nullopt;
      line_crossed += (flags(t) & FaceWishes::line) != 0;
      loop.points_mm.push_back(at(e));
      faces.push_back(t);
      uint32_t out_edge = next_half_edge(e);
      if (!falls(out_edge)) out_edge = next_half_edge(out_edge);
      if (!falls(out_edge) || !pairs.paired(out_edge)) return std::nullopt;
      e = pairs.twin[out_edge];
    }
    // Side a to the left, seen against the pull: the other way round than the walk.
    std::reverse(loop.points_mm.begin(), loop.points_mm.end());
    std::reverse(faces.begin(), faces.end());
    // A stretch lies on the face that was left at its beginning in the walk: after turning, at its end.
    std::rotate(faces.begin(), faces.begin() + 1, faces.end());
    for (size_t i = 0; i < loop.points_mm.size(); ++i)
      loop.length_mm += length(loop.points_mm[(i + 1) % loop.points_mm.size()] - loop.points_mm[i]);
    if (loop.points_mm.size() < 3) continue;
    out.loops.push_back(std::move(loop));
    out.faces.push_back(std::move(faces));
  }
  // A line that was asked for runs elsewhere.
  if (line_faces > 0 && line_crossed == 0) return std::nullopt;
  if (out.loops.empty()) return std::nullopt;
  return out;
}

}  // namespace palinform
