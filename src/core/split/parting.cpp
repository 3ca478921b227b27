#include "split/parting.hpp"

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>

#include "base/text.hpp"
#include "mesh/flood.hpp"
#include "solid/columns.hpp"
#include "split/accessibility.hpp"
#include "split/plane_line.hpp"

namespace palinform {
namespace {

/// Turns over patches too small to be moulded apart (specks of noise): they join what surrounds them.
void absorb_specks(const TriMesh& mesh, const EdgePairs& pairs, std::vector<uint8_t>& side, double smallest_mm2) {
  const size_t n = mesh.triangles.size();
  std::vector<bool> seen(n, false);
  std::vector<uint32_t> patch;
  for (uint32_t seed = 0; seed < n; ++seed) {
    if (seen[seed]) continue;
    double area = 0;
    patch.clear();
    flood_unseen(
        pairs, seen, seed, [&](uint32_t t) { patch.push_back(t), area += mesh.area_mm2(t); },
        [&](uint32_t t, uint32_t other) { return side[other] == side[t]; });
    if (area < smallest_mm2 && patch.size() < n)
      for (const uint32_t t : patch) side[t] ^= 1;
  }
}

struct BorderLoop {
  std::vector<uint32_t> points;
  std::vector<bool> sharp;          ///< the edge that leaves the point is a true edge of the part, bent by over 30°
  std::vector<uint32_t> half_edge;  ///< that leaves the point, on side a
  bool show(const FaceWishes& w, size_t i) const {
    return !w.flags.empty() && !sharp[i] && i < half_edge.size() && (w.flags[half_edge[i] / 3] & FaceWishes::show);
  }
};

/// Slopes of a closed line against the plane across `pull`, over stretches of at least `step_mm`, degrees.
std::vector<double> slopes_deg(const std::vector<Vec3>& line, const Vec3& pull, double step_mm) {
  std::vector<double> out;
  size_t from = 0;
  double run = 0;
  for (size_t i = 0; i < line.size(); ++i) {
    const Vec3& next = line[(i + 1) % line.size()];
    run += length(next - line[i]);
    if (run < step_mm) continue;
    const Vec3 e = next - line[from];
    const double len = length(e);
    if (len > 0.3 * step_mm) out.push_back(std::asin(std::min(1.0, std::abs(dot(e, pull)) / len)) * 180 / M_PI);
    from = (i + 1) % line.size();
    run = 0;
  }
  return out;
}

std::vector<BorderLoop> border_loops(const TriMesh& mesh, const EdgePairs& pairs, const std::vector<uint8_t>& side) {
  std::multimap<uint32_t, uint32_t> leaving;
  for (uint32_t h = 0; h < pairs.twin.size(); ++h)
    if (side[h / 3] == 0 && pairs.paired(h) && side[pairs.twin[h] / 3] == 1) leaving.emplace(edge_from(mesh, h), h);
  const auto is_sharp = [&](uint32_t h) { return dot(mesh.normal(h / 3), mesh.normal(pairs.twin[h] / 3)) < 0.866; };
  std::vector<BorderLoop> loops;
  while (!leaving.empty()) {
    auto at = leaving.begin();
    const uint32_t first = at->first;
    uint32_t h = at->second;
    BorderLoop loop{{first}, {is_sharp(h)}, {h}};
    leaving.erase(at);
    while (edge_to(mesh, h) != first) {
      loop.points.push_back(edge_to(mesh, h));
      at = leaving.find(edge_to(mesh, h));
      if (at == leaving.end()) break;  // cannot happen on a closed mesh: as many border edges enter a point as leave it
      h = at->second;
      loop.sharp.push_back(is_sharp(h));
      loop.half_edge.push_back(h);
      leaving.erase(at);
    }
    loop.sharp.resize(loop.points.size(), false);
    loops.push_back(std::move(loop));
  }
  return loops;
}

/// Averages the zigzag of mesh edges away and drops the points back onto the surface. No point moves further than its
/// neighbouring edges are long, nor so far into a face of one side that more than a hair of it would hang over on the
/// other; points on true edges of the part stay, since the line is where it should be there.
std::vector<Vec3> smoothed(const std::vector<Vec3>& path, const std::vector<bool>& sharp, const RayScene& rays,
                           const Releases& r, double hair) {
  const size_t n = path.size();
  if (n < 4) return path;
  std::vector<double> reach(n);
  for (size_t i = 0; i < n; ++i)
    reach[i] = 0.5 * (length(path[i] - path[(i + 1) % n]) + length(path[i] - path[(i + n - 1) % n]));
  std::vector<Vec3> p = path, next(n);
  for (int round = 0; round < 12; ++round) {
    for (size_t i = 0; i < n; ++i) {
      if (sharp[i] || sharp[(i + n - 1) % n]) {
        next[i] = p[i];
        continue;
      }
      next[i] = p[i] * 0.5 + (p[(i + n - 1) % n] + p[(i + 1) % n]) * 0.25;
      const Vec3 off = next[i] - path[i];
      const double far = length(off);
      if (far > reach[i]) next[i] = path[i] + off * (reach[i] / far);
      if (round % 3 != 2) continue;
      const SurfacePoint on = rays.closest(next[i]);
      next[i] = on.point_mm;
      if (r.up[on.triangle] > 0.99f && r.down[on.triangle] > 0.99f) continue;
      // What lies between the border and here hangs over by its run square to the line and to the pull.
      const Vec3 moved = next[i] - path[i], along = unit(path[(i + 1) % n] - path[(i + n - 1) % n], {0, 0, 0});
      const Vec3 aside = moved - along * dot(moved, along), run = aside - r.pull * dot(aside, r.pull);
      if (length(run) > hair) next[i] = rays.closest(path[i] + moved * (hair / length(run))).point_mm;
    }
    p.swap(next);
  }
  return p;
}

double plan_area(const std::vector<Vec3>& loop, const Transform& frame) {
  double sum = 0;
  for (size_t i = 0; i < loop.size(); ++i) {
    const Vec3 a = frame.direction(loop[i]), b = frame.direction(loop[(i + 1) % loop.size()]);
    sum += a.x * b.y - a.y * b.x;
  }
  return 0.5 * sum;
}

/// A loop with what its stretches run along, point by point.
struct DrawnLoop {
  PartingLoop loop;
  std::vector<bool> sharp, show;
};

/// A whole line and what is asked of it.
struct DrawnLine {
  std::vector<DrawnLoop> loops;
  double sharp_mm = 0, show_mm = 0, plain_mm = 0;
  double climb_mm = 0, shut_off_climb_mm = 0, steepest_deg = 0;  ///< of the outer line, but for the shut-offs' climb
  double over_45_mm = 0, over_60_mm = 0;
};

DrawnLine drawing_of(std::vector<DrawnLoop> loops, const TriMesh& mesh, const Vec3& pull) {
  DrawnLine out;
  const Transform frame = frame_along(pull);
  const Vec3 extent = measure(mesh).box_mm.size();
  const double step_mm = 0.02 * std::max({extent.x, extent.y, extent.z});
  double biggest = 0, low = 1e300, high = -1e300;
  std::vector<double> areas;
  for (DrawnLoop& d : loops) {
    const auto& p = d.loop.points_mm;
    d.loop.length_mm = 0;
    for (size_t i = 0; i < p.size(); ++i) {
      const double len = length(p[(i + 1) % p.size()] - p[i]);
      d.loop.length_mm += len;
      (d.sharp[i] ? out.sharp_mm : out.plain_mm) += len;
      if (d.show[i]) out.show_mm += len;
    }
    areas.push_back(plan_area(p, frame));
    if (std::abs(areas.back()) > std::abs(biggest)) biggest = areas.back();
  }
  for (size_t i = 0; i < loops.size(); ++i) {
    PartingLoop& loop = loops[i].loop;
    loop.outer = areas[i] * biggest > 0;
    double from = 1e300, to = -1e300;
    for (const Vec3& p : loop.points_mm) from = std::min(from, dot(p, pull)), to = std::max(to, dot(p, pull));
    if (!loop.outer) {
      out.shut_off_climb_mm = std::max(out.shut_off_climb_mm, to - from);
      continue;
    }
    low = std::min(low, from), high = std::max(high, to);
    const std::vector<double> slopes = slopes_deg(loop.points_mm, pull, step_mm);
    for (const double deg : slopes) {
      const double len = loop.length_mm / static_cast<double>(slopes.size());
      out.steepest_deg = std::max(out.steepest_deg, deg);
      if (deg > 45) out.over_45_mm += len;
      if (deg > 60) out.over_60_mm += len;
    }
  }
  out.climb_mm = high > low ? high - low : 0;
  out.loops = std::move(loops);
  return out;
}

/// A plane's loops, with the stretches that run along a true edge of the part.
std::vector<DrawnLoop> drawn_on_faces(const PlaneLine& plane, const TriMesh& mesh, const EdgePairs& pairs,
                                      const Vec3& pull, const FaceWishes& wishes) {
  const double near = 1e-4 * length(measure(mesh).box_mm.size());
  const auto in_plane = [&](uint32_t point) {
    return std::abs(dot(mesh.points[point], pull) - plane.height_mm) < near;
  };
  std::vector<DrawnLoop> out;
  for (size_t k = 0; k < plane.loops.size(); ++k) {
    DrawnLoop d;
    d.loop = plane.loops[k];
    for (const uint32_t t : plane.faces[k]) {
      bool sharp = false;
      for (uint32_t h = 3 * t; h < 3 * t + 3; ++h)
        sharp |= pairs.paired(h) && dot(mesh.normal(t), mesh.normal(pairs.twin[h] / 3)) < 0.866 &&
                 in_plane(edge_from(mesh, h)) && in_plane(edge_to(mesh, h));
      d.sharp.push_back(sharp);
      d.show.push_back(!sharp && !wishes.flags.empty() && (wishes.flags[t] & FaceWishes::show));
    }
    out.push_back(std::move(d));
  }
  return out;
}

/// In mm of plain line.
double cost_mm(const DrawnLine& d, const CutPrices& c) {
  return c.plain * d.plain_mm + c.sharp * d.sharp_mm + (c.show - 1) * d.show_mm + c.lay_climb * d.climb_mm +
         c.lay_over_45_deg * d.over_45_mm + c.lay_over_60_deg * d.over_60_mm;
}

}  // namespace

std::string axis_name(const Vec3& d) {
  const char* names[3] = {"x", "y", "z"};
  for (int k = 0; k < 3; ++k)
    if (std::abs(d[k]) > 0.9999) return std::string(d[k] > 0 ? "+" : "−") + names[k];
  return fixed(d.x, 2) + ", " + fixed(d.y, 2) + ", " + fixed(d.z, 2);
}

Result<Releases> releases_along(const TriMesh& mesh, const RayScene& rays, const Vec3& pull, const Progress& progress) {
  if (!finite(pull) || length(pull) < 1e-9)
    return Error{"the pull has no direction", "split", "Give a vector that is not nought."};
  Releases r;
  r.pull = unit(pull) + Vec3{};  // adding nought turns −0 into 0
  auto up = releasable_share(mesh, rays, r.pull, {}, progress.part(0, 0.5));
  if (!up) return up.error();
  progress.report(0.35);
  auto down = releasable_share(mesh, rays, -r.pull, {}, progress.part(0.5, 1));
  if (!down) return down.error();
  progress.report(0.7);
  r.up = *std::move(up);
  r.down = *std::move(down);
  return r;
}

Result<Split> split_along(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays, const Vec3& pull,
                          const Progress& progress) {
  const auto r = releases_along(mesh, rays, pull, progress.part(0, 0.5));
  if (!r) return r.error();
  return split_from(mesh, pairs, rays, *r, {}, {}, progress.part(0.5, 1));
}

Result<Split> split_from(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays, const Releases& r,
                         const FaceWishes& wishes, const CutPrices& prices, const Progress& progress) {
  Split s;
  s.pull = r.pull;
  const size_t n = mesh.triangles.size();
  s.locked.assign(n, false);
  const auto flags = [&](uint32_t t) { return wishes.flags.empty() ? uint8_t{0} : wishes.flags[t]; };
  for (uint32_t t = 0; t < n; ++t) {
    if (flags(t) & FaceWishes::ignored) continue;  // a pin or plug forms it
    // A face partly in the shade of another locks with that part of its area.
    s.locked_area_mm2 += mesh.area_mm2(t) * (1 - std::max(r.up[t], r.down[t]));
    s.locked[t] = r.up[t] < 0.5f && r.down[t] < 0.5f;
  }
  std::vector<bool> seen(n, false);
  for (uint32_t seed = 0; seed < n; ++seed) {
    if (!s.locked[seed] || seen[seed]) continue;
    LockedRegion region;
    flood_unseen(
        pairs, seen, seed,
        [&](uint32_t t) {
          region.triangles.push_back(t);
          region.area_mm2 += mesh.area_mm2(t);
          region.centroid_mm += mesh.centre(t) * mesh.area_mm2(t);
        },
        [&](uint32_t, uint32_t other) { return bool(s.locked[other]); });
    if (region.area_mm2 < 0.1) continue;
    region.centroid_mm = region.centroid_mm / region.area_mm2;
    std::sort(region.triangles.begin(), region.triangles.end());
    s.regions.push_back(std::move(region));
  }
  std::stable_sort(s.regions.begin(), s.regions.end(),
                   [](const auto& x, const auto& y) { return x.area_mm2 > y.area_mm2; });

  auto sides = cut_sides(mesh, pairs, s.pull, r.up, r.down, wishes, prices, progress.part(0, 0.8));
  if (!sides) return sides.error();
  s.side = *std::move(sides);
  double surface = 0;
  for (size_t t = 0; t < n; ++t) surface += mesh.area_mm2(t);
  absorb_specks(mesh, pairs, s.side, 1e-4 * surface);
  if (progress.cancelled()) return Error::stopped();

  const double hair = hair_mm(mesh);
  std::vector<DrawnLoop> drawn;
  for (const auto& loop : border_loops(mesh, pairs, s.side)) {
    std::vector<Vec3> path;
    for (const uint32_t v : loop.points) path.push_back(mesh.points[v]);
    DrawnLoop out;
    out.loop.points_mm = smoothed(path, loop.sharp, rays, r, hair);
    out.sharp = loop.sharp;
    for (size_t i = 0; i < out.sharp.size(); ++i) out.show.push_back(loop.show(wishes, i));
    drawn.push_back(std::move(out));
  }
  DrawnLine line = drawing_of(std::move(drawn), mesh, s.pull);
  if (auto plane = plane_line(mesh, pairs, r, wishes)) {
    DrawnLine flat = drawing_of(drawn_on_faces(*plane, mesh, pairs, s.pull, wishes), mesh, s.pull);
    if (cost_mm(flat, prices) <= cost_mm(line, prices) + 1e-6) {
      line = std::move(flat);
      s.side = std::move(plane->side);
      s.kind = LineKind::plane;
    }
  }
  for (DrawnLoop& d : line.loops) {
    s.line_mm += d.loop.length_mm;
    s.loops.push_back(std::move(d.loop));
  }
  std::stable_sort(s.loops.begin(), s.loops.end(),
                   [](const auto& x, const auto& y) { return x.length_mm > y.length_mm; });
  s.height_range_mm = line.climb_mm, s.shut_off_range_mm = line.shut_off_climb_mm;
  s.steepest_deg = line.steepest_deg;
  if (s.line_mm > 0) s.sharp_share = line.sharp_mm / s.line_mm, s.show_share = line.show_mm / s.line_mm;
  progress.report(1);
  return s;
}

}  // namespace palinform
