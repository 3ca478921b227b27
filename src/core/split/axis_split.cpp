#include "split/axis_split.hpp"

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>

#include "base/text.hpp"
#include "solid/columns.hpp"
#include "split/accessibility.hpp"

namespace palinform {
namespace {

enum Leaves : uint8_t { toward_a, toward_b, both, neither };

/// Gives each connected patch of `kind` to the side it shares more border with.
void give_patches(const TriMesh& mesh, const EdgePairs& pairs, std::vector<uint8_t>& leaves, Leaves kind) {
  const size_t n = mesh.triangles.size();
  std::vector<bool> seen(n, false);
  std::vector<uint32_t> stack, patch;
  for (uint32_t seed = 0; seed < n; ++seed) {
    if (leaves[seed] != kind || seen[seed]) continue;
    double border[2] = {0, 0};
    patch.clear();
    seen[seed] = true;
    stack.push_back(seed);
    while (!stack.empty()) {
      const uint32_t t = stack.back();
      stack.pop_back();
      patch.push_back(t);
      for (uint32_t h = 3 * t; h < 3 * t + 3; ++h) {
        if (!pairs.paired(h)) continue;
        const uint32_t o = pairs.twin[h] / 3;
        if (leaves[o] == toward_a || leaves[o] == toward_b)
          border[leaves[o]] += length(mesh.points[edge_to(mesh, h)] - mesh.points[edge_from(mesh, h)]);
        else if (leaves[o] == kind && !seen[o]) {
          seen[o] = true;
          stack.push_back(o);
        }
      }
    }
    const uint8_t given = border[toward_b] > 1.05 * border[toward_a] ? toward_b : toward_a;
    for (const uint32_t t : patch) leaves[t] = given;
  }
}

/// Turns over patches too small to be moulded apart (specks of noise): they join what surrounds them.
void absorb_specks(const TriMesh& mesh, const EdgePairs& pairs, std::vector<uint8_t>& side, double smallest_mm2) {
  const size_t n = mesh.triangles.size();
  std::vector<bool> seen(n, false);
  std::vector<uint32_t> stack, patch;
  for (uint32_t seed = 0; seed < n; ++seed) {
    if (seen[seed]) continue;
    double area = 0;
    patch.clear();
    seen[seed] = true;
    stack.push_back(seed);
    while (!stack.empty()) {
      const uint32_t t = stack.back();
      stack.pop_back();
      patch.push_back(t);
      area += mesh.area_mm2(t);
      for (uint32_t h = 3 * t; h < 3 * t + 3; ++h)
        if (pairs.paired(h) && !seen[pairs.twin[h] / 3] && side[pairs.twin[h] / 3] == side[t]) {
          seen[pairs.twin[h] / 3] = true;
          stack.push_back(pairs.twin[h] / 3);
        }
    }
    if (area < smallest_mm2 && patch.size() < n)
      for (const uint32_t t : patch) side[t] ^= 1;
  }
}

struct BorderLoop {
  std::vector<uint32_t> points;
  std::vector<bool> sharp;  ///< the edge that leaves the point is a true edge of the part, bent by over 30°
};

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
    BorderLoop loop{{first}, {is_sharp(h)}};
    leaving.erase(at);
    while (edge_to(mesh, h) != first) {
      loop.points.push_back(edge_to(mesh, h));
      at = leaving.find(edge_to(mesh, h));
      if (at == leaving.end()) break;  // cannot happen on a closed mesh: as many border edges enter a point as leave it
      h = at->second;
      loop.sharp.push_back(is_sharp(h));
      leaving.erase(at);
    }
    loop.sharp.resize(loop.points.size(), false);
    loops.push_back(std::move(loop));
  }
  return loops;
}

/// Averages the zigzag of mesh edges away and drops the points back onto the surface. No point moves further than its
/// neighbouring edges are long; points on true edges of the part stay, since the line is where it should be there.
std::vector<Vec3> smoothed(const std::vector<Vec3>& path, const std::vector<bool>& sharp, const RayScene& rays) {
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
      if (round % 3 == 2) next[i] = rays.closest(next[i]).point_mm;
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

}  // namespace

std::string axis_name(const Vec3& d) {
  const char* names[3] = {"x", "y", "z"};
  for (int k = 0; k < 3; ++k)
    if (std::abs(d[k]) > 0.9999) return std::string(d[k] > 0 ? "+" : "−") + names[k];
  return fixed(d.x, 2) + ", " + fixed(d.y, 2) + ", " + fixed(d.z, 2);
}

Result<Split> split_along(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays, const Vec3& pull,
                          Progress& progress) {
  if (!finite(pull) || length(pull) < 1e-9)
    return Error{"the pull has no direction", "split", "Give a vector that is not nought."};
  Split s;
  s.pull = unit(pull) + Vec3{};  // adding nought turns −0 into 0
  const auto up = releasable_share(mesh, rays, s.pull, {}, progress);
  if (!up) return up.error();
  progress.report(0.35);
  const auto down = releasable_share(mesh, rays, -s.pull, {}, progress);
  if (!down) return down.error();
  progress.report(0.7);

  const size_t n = mesh.triangles.size();
  std::vector<uint8_t> leaves(n);
  s.locked.assign(n, false);
  for (size_t t = 0; t < n; ++t) {
    const bool a = (*up)[t] >= 0.5f, b = (*down)[t] >= 0.5f;
    leaves[t] = a && b ? both : a ? toward_a : b ? toward_b : neither;
    // A face partly in the shade of another locks with that part of its area.
    s.locked_area_mm2 += mesh.area_mm2(t) * (1 - std::max((*up)[t], (*down)[t]));
    s.locked[t] = !a && !b;
  }
  std::vector<bool> seen(n, false);
  std::vector<uint32_t> stack;
  for (uint32_t seed = 0; seed < n; ++seed) {
    if (!s.locked[seed] || seen[seed]) continue;
    LockedRegion r;
    seen[seed] = true;
    stack.push_back(seed);
    while (!stack.empty()) {
      const uint32_t t = stack.back();
      stack.pop_back();
      r.triangles.push_back(t);
      r.area_mm2 += mesh.area_mm2(t);
      r.centroid_mm += mesh.centre(t) * mesh.area_mm2(t);
      for (uint32_t h = 3 * t; h < 3 * t + 3; ++h)
        if (pairs.paired(h) && s.locked[pairs.twin[h] / 3] && !seen[pairs.twin[h] / 3]) {
          seen[pairs.twin[h] / 3] = true;
          stack.push_back(pairs.twin[h] / 3);
        }
    }
    if (r.area_mm2 < 0.1) continue;
    r.centroid_mm = r.centroid_mm / r.area_mm2;
    std::sort(r.triangles.begin(), r.triangles.end());
    s.regions.push_back(std::move(r));
  }
  std::stable_sort(s.regions.begin(), s.regions.end(),
                   [](const auto& x, const auto& y) { return x.area_mm2 > y.area_mm2; });

  // Specks of locked faces on a wall must not break it up: only what keeps both sides apart stays for the second round.
  give_patches(mesh, pairs, leaves, both);
  give_patches(mesh, pairs, leaves, neither);
  s.side.resize(n);
  double surface = 0;
  for (size_t t = 0; t < n; ++t) {
    s.side[t] = leaves[t] == toward_b;
    surface += mesh.area_mm2(t);
  }
  absorb_specks(mesh, pairs, s.side, 1e-4 * surface);
  if (progress.cancelled()) return Error::stopped();

  const Transform frame = frame_along(s.pull);
  double biggest = 0, low = 1e300, high = -1e300;
  std::vector<double> areas;
  for (const auto& loop : border_loops(mesh, pairs, s.side)) {
    std::vector<Vec3> path;
    for (const uint32_t v : loop.points) path.push_back(mesh.points[v]);
    PartingLoop out;
    out.points_mm = smoothed(path, loop.sharp, rays);
    for (size_t i = 0; i < out.points_mm.size(); ++i) {
      out.length_mm += length(out.points_mm[(i + 1) % out.points_mm.size()] - out.points_mm[i]);
      low = std::min(low, dot(out.points_mm[i], s.pull));
      high = std::max(high, dot(out.points_mm[i], s.pull));
    }
    areas.push_back(plan_area(out.points_mm, frame));
    if (std::abs(areas.back()) > std::abs(biggest)) biggest = areas.back();
    s.line_mm += out.length_mm;
    s.loops.push_back(std::move(out));
  }
  for (size_t i = 0; i < s.loops.size(); ++i) s.loops[i].outer = areas[i] * biggest > 0;
  std::stable_sort(s.loops.begin(), s.loops.end(),
                   [](const auto& x, const auto& y) { return x.length_mm > y.length_mm; });
  s.height_range_mm = s.loops.empty() ? 0 : high - low;
  progress.report(1);
  return s;
}

Result<Split> best_axis_split(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays, Progress& progress) {
  const MeshMeasure m = measure(mesh);
  std::vector<Split> tried;
  for (int axis : {2, 1, 0}) {
    Vec3 d;
    d[axis] = 1;
    auto s = split_along(mesh, pairs, rays, d, progress);
    if (!s) return s.error();
    tried.push_back(*std::move(s));
    progress.report(0.3 * static_cast<double>(tried.size()));
  }
  // Within a thousandth of the surface two directions lock alike; then the shorter line wins.
  const double alike = 1e-3 * m.area_mm2;
  const auto height = [&](const Split& s) { return std::abs(dot(m.box_mm.size(), s.pull)); };
  std::stable_sort(tried.begin(), tried.end(), [&](const Split& a, const Split& b) {
    const double la = std::round(a.locked_area_mm2 / alike), lb = std::round(b.locked_area_mm2 / alike);
    if (la != lb) return la < lb;
    if (std::abs(a.line_mm - b.line_mm) > 1e-6 * (a.line_mm + b.line_mm)) return a.line_mm < b.line_mm;
    return height(a) < height(b) - 1e-9;
  });
  std::vector<PullCandidate> candidates;
  for (const Split& s : tried) {
    candidates.push_back({s.pull, s.locked_area_mm2, s.line_mm, height(s)});
    candidates.push_back({-s.pull + Vec3{}, s.locked_area_mm2, s.line_mm, height(s)});
  }
  double facing[2] = {0, 0};  // surface seen from either end; walls do not count
  const Vec3 d = tried[0].pull;
  for (size_t t = 0; t < mesh.triangles.size(); ++t) {
    const double c = dot(mesh.normal(t), d);
    if (std::abs(c) > 0.05 && !tried[0].locked[t]) facing[c < 0] += mesh.area_mm2(t);
  }
  Split best = std::move(tried[0]);
  // Flat faces weigh the same from both ends; the end with more shape to it has more area.
  if (facing[1] > facing[0] * 1.0001) {
    auto turned = split_along(mesh, pairs, rays, -d, progress);
    if (!turned) return turned.error();
    best = *std::move(turned);
    std::swap(candidates[0], candidates[1]);
  }
  best.candidates = std::move(candidates);
  progress.report(1);
  return best;
}

std::vector<Finding> split_findings(const Split& s) {
  std::vector<Finding> out;
  if (s.loops.empty()) {
    out.push_back({"split-no-line",
                   Severity::stop,
                   {},
                   "There is no line to split along",
                   "Every face leaves toward one side: this pull leaves nothing for the other half. An open one-piece "
                   "mould may do.",
                   {},
                   true,
                   false});
    return out;
  }
  int told = 0;
  for (const LockedRegion& r : s.regions) {
    if (r.area_mm2 < 1 || ++told > 4) break;
    Finding f{"split-locked", Severity::caution, {}, "", "", {}};
    f.where.point_mm = r.centroid_mm;
    f.where.step = std::to_string(told);
    f.what = told == 1 ? "A place that neither half lets go" : "Another place that locks";
    f.why = significant(r.area_mm2, 3) + " mm² can leave neither toward " + axis_name(s.pull) + " nor toward " +
            axis_name(-s.pull) + ". Soft rubber may flex out of it; a bore across the pull wants a pin.";
    for (const PullCandidate& c : s.candidates)
      if (c.locked_area_mm2 < 0.8 * s.locked_area_mm2) {
        f.remedies.push_back({"pull",
                              "Pull along " + axis_name(c.pull) + " (" + significant(c.locked_area_mm2, 3) + " mm²)",
                              {{"x", fixed(c.pull.x, 6)}, {"y", fixed(c.pull.y, 6)}, {"z", fixed(c.pull.z, 6)}}});
        break;
      }
    out.push_back(std::move(f));
  }
  return out;
}

}  // namespace palinform
