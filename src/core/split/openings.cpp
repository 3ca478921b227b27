#include "split/openings.hpp"

#include <algorithm>
#include <cmath>

namespace palinform {
namespace {

struct Ground {
  const TriMesh& mesh;
  const EdgePairs& pairs;
  const RayScene& rays;
  std::optional<SectionLoop> cut(const CutPlane& p) const { return section_round(mesh, pairs, rays, p); }
};

/// The plane through the same point, leaning up to `most_rad`, whose cut is the smallest: square to the way.
std::optional<SectionLoop> squared(const Ground& g, CutPlane& plane, double most_rad) {
  auto best = g.cut(plane);
  double area = best ? best->area_mm2() : 1e300;
  const Vec3 start = plane.normal;
  const auto look = [&](const Vec3& n) {
    if (dot(n, start) < std::cos(most_rad) - 1e-9) return false;
    auto loop = g.cut({plane.point_mm, n});
    if (!loop || loop->area_mm2() >= area * (1 - 1e-7)) return false;
    area = loop->area_mm2(), best = std::move(loop), plane.normal = n;
    return true;
  };
  if (!best || most_rad > 1)
    for (int ring = 1; ring <= 4; ++ring)
      for (int k = 0; k < 6 * ring; ++k) {
        const double lean = most_rad * ring / 4, turn = 2 * M_PI * k / (6 * ring) + 0.13;
        const Vec3 u = any_perpendicular(start), v = cross(start, u);
        look(unit(start * std::cos(lean) + (u * std::cos(turn) + v * std::sin(turn)) * std::sin(lean)));
      }
  if (!best) return best;
  for (double step = 0.25 * std::min(most_rad, 1.0); step > 2e-4; step *= 0.5) {
    bool better = true;
    for (int round = 0; better && round < 8; ++round) {
      better = false;
      const Vec3 u = any_perpendicular(plane.normal), v = cross(plane.normal, u);
      for (const Vec3& d : {u, -u, v, -v}) better = look(unit(plane.normal + d * step)) || better;
    }
  }
  return best;
}

/// Does the skin stand close round a place, on more than half of all sides? So it does where two passages cross.
bool shut_in(const Ground& g, const CutPlane& plane, double within_mm) {
  const Vec3 u = any_perpendicular(plane.normal), v = cross(plane.normal, u);
  int met = 0;
  constexpr int n = 24;
  for (int k = 0; k < n; ++k) {
    const double a = 2 * M_PI * (k + 0.37) / n;
    const auto hit = g.rays.first_hit(plane.point_mm, u * std::cos(a) + v * std::sin(a), 0);
    met += hit && hit->entering && hit->t_mm < within_mm;
  }
  return 2 * met > n;
}

/// A step on from a cut; the middle is kept where it still is one.
struct Stepped {
  CutPlane plane;
  SectionLoop loop;
};
std::optional<Stepped> step_on(const Ground& g, const CutPlane& from, double area, double by, double most_wider,
                               double lean_rad, bool settled) {
  Stepped next{{from.point_mm + from.normal * by, from.normal}, {}};
  auto loop = g.cut(next.plane);
  if (!settled || !loop || std::abs(loop->area_mm2() - area) > 0.03 * area) {
    // It bends, widens, or ends.
    CutPlane lean = next.plane;
    auto other = squared(g, lean, lean_rad);
    // Round a bend it stays about as wide; what widens at once and leans has left it.
    if (other && other->area_mm2() > (lean_rad < 1 ? 1.25 : 1.6) * area) other.reset();
    if (other && (!loop || other->area_mm2() < (1 - 1e-5) * loop->area_mm2()))
      loop = std::move(other), next.plane = lean;
  }
  if (!loop || loop->area_mm2() > most_wider * area) return std::nullopt;
  if (dot(next.plane.normal, from.normal) < 0.9999) {
    // Bent: stay in the middle.
    const Vec3 middle = loop->centroid_mm();
    if (winding(loop->points_mm, {middle, next.plane.normal}) == 1) next.plane.point_mm = middle;
  }
  next.loop = *std::move(loop);
  return next;
}

/// How far a passage may widen at a step and still be the same one: a stepped bore does, a housing's inside does not.
constexpr double most_wider_at_a_step = 7;
constexpr size_t most_cuts = 400;

/// From the waist on, along its normal: the cuts up to the mouth.
std::vector<OpeningCut> follow(const Ground& g, const CutPlane& waist, double area0, double width) {
  std::vector<OpeningCut> out;
  CutPlane at = waist;
  double area = area0, gone = 0;
  const double full = 0.2 * width, finest = 2e-4 * width;
  double by = full;
  std::optional<size_t> widened;  // cuts before it widened at once
  double steady = area0;          // area where it last ran straight
  bool settled = true;            // square to the way, as far as it can be told
  while (out.size() < most_cuts) {
    const double most_wider = std::min(most_wider_at_a_step * area0 / area, 4.0);
    const auto on = [&](double far, double lean_rad) {
      const auto next = step_on(g, at, area, far, most_wider, lean_rad, settled);
      if (!next || inscribed_circle(next->loop.points_mm, next->plane.normal).radius_mm > width) return false;
      // What leans wider and wider creeps out over a rounded lip.
      const bool leans = dot(next->plane.normal, at.normal) <= 1 - 1e-6;
      if (leans && next->loop.area_mm2() > (lean_rad < 1 ? 1.3 : 1.6) * steady) return false;
      if (leans && widened) return false;
      if (!widened && next->loop.area_mm2() > 1.3 * area) widened = out.size();
      if (!leans) steady = next->loop.area_mm2();
      gone += length(next->plane.point_mm - at.point_mm);
      settled = !leans;
      at = next->plane, area = next->loop.area_mm2();
      out.push_back({gone, at, area});
      return true;
    };
    // It turns no tighter than about its own width; a corner is looked for by itself.
    if (on(by, std::clamp(1.5 * by / width, 0.01, 0.35))) {
      by = std::min(full, 2 * by);
      continue;
    }
    if (by > finest) {
      by = std::max(0.5 * by, 0.5 * finest);
      continue;
    }
    // A mouth; or another passage crosses here, and it goes on beyond, much the same; or it turns a corner.
    bool across = false;
    for (double far = 0.15 * width; far < 3 * width && !across; far += 0.15 * width) {
      const CutPlane beyond{at.point_mm + at.normal * far, at.normal};
      if (!shut_in(g, beyond, width)) break;
      const auto loop = g.cut(beyond);
      if (!loop || std::abs(loop->area_mm2() - area) > 0.15 * area) continue;
      gone += far, at = beyond, area = loop->area_mm2(), across = true;
      out.push_back({gone, at, area});
      by = full;
    }
    if (across) continue;
    if (!shut_in(g, {at.point_mm + at.normal * (0.5 * width), at.normal}, 0.85 * width) || !on(full, 1.0)) break;
    by = full;
  }
  // A counterbore ends in the open; what ends shut in all round was the room it led into.
  if (widened && g.cut({at.point_mm + at.normal * (0.05 * width), at.normal})) out.resize(*widened);
  return out;
}

Opening described(Opening o, const Ground& g) {
  for (size_t k = 0; k < o.cuts.size(); ++k)
    if (o.cuts[k].area_mm2 < (1 - 1e-3) * o.cuts[o.waist].area_mm2) o.waist = k;
  const auto loop = g.cut(o.cuts[o.waist].plane);
  if (!loop) return o;
  const Vec3 n = o.axis();
  o.outline_mm = loop->points_mm;
  o.area_mm2 = loop->area_mm2();
  o.outline_length_mm = loop->length_mm();
  o.width_mm = 2 * inscribed_circle(o.outline_mm, n).radius_mm;
  const Vec3 middle = loop->centroid_mm();
  double least = 1e300, most = 0;
  for (size_t i = 0; i < o.outline_mm.size(); ++i) {
    most = std::max(most, length(o.outline_mm[i] - middle));
    const Vec3 a = o.outline_mm[i], e = o.outline_mm[(i + 1) % o.outline_mm.size()] - a;
    const double len = dot(e, e), t = len > 0 ? std::clamp(dot(middle - a, e) / len, 0.0, 1.0) : 0;
    least = std::min(least, length(a + e * t - middle));
    for (size_t j = i + 1; j < o.outline_mm.size(); j += 1 + o.outline_mm.size() / 64)
      o.long_mm = std::max(o.long_mm, length(o.outline_mm[i] - o.outline_mm[j]));
  }
  // A circle of as many corners as a mesh of a bore has lies within 4 % of itself.
  if (most - least < 0.06 * most && o.outline_mm.size() >= 10) o.round_mm = 2 * std::sqrt(o.area_mm2 / M_PI);
  for (size_t k = 1; k < o.cuts.size(); ++k) {
    const OpeningCut &a = o.cuts[k - 1], &b = o.cuts[k];
    o.volume_mm3 += 0.5 * (a.area_mm2 + b.area_mm2) * (b.at_mm - a.at_mm);
    o.straight = o.straight && dot(b.plane.normal, n) > 0.9962;
  }
  return o;
}

/// Mouth 1 is the one nearer to +x+y+z, so that the same part tells the same however it was found.
void stand_up(Opening& o) {
  const Vec3 way = o.cuts.back().plane.point_mm - o.cuts.front().plane.point_mm;
  if (dot(way, Vec3{1, 1.001, 1.002}) <= 0) return;
  const double all = o.length_mm();
  std::reverse(o.cuts.begin(), o.cuts.end());
  for (OpeningCut& c : o.cuts) c.at_mm = all - c.at_mm, c.plane.normal = -c.plane.normal;
  o.waist = o.cuts.size() - 1 - o.waist;
}

/// How far a place lies off an opening's way, and how that runs there.
std::pair<double, Vec3> off_the_way(const Opening& o, const Vec3& p) {
  double best = 1e300;
  Vec3 way;
  for (size_t k = 1; k < o.cuts.size(); ++k) {
    const Vec3 a = o.cuts[k - 1].plane.point_mm, e = o.cuts[k].plane.point_mm - a;
    const double len = dot(e, e), t = len > 0 ? std::clamp(dot(p - a, e) / len, 0.0, 1.0) : 0;
    if (const double d = length(a + e * t - p); d < best) best = d, way = unit(e);
  }
  return {best, way};
}

/// The smallest cut at or near a waist: just off it a passage may bend, or end.
std::optional<Stepped> smallest_near(const Ground& g, const Waist& w) {
  std::optional<Stepped> best;
  std::vector<Vec3> places{w.at_mm};
  constexpr size_t most = 8;
  const size_t stride = std::max<size_t>(1, w.near_mm.size() / most);
  for (size_t k = 0; k < w.near_mm.size(); k += stride) places.push_back(w.near_mm[k]);
  for (const Vec3& p : places) {
    Stepped here{{p, best ? best->plane.normal : w.way}, {}};
    auto loop = squared(g, here.plane, 1.4);
    if (!loop || (best && loop->area_mm2() > 0.99 * best->loop.area_mm2())) continue;
    here.loop = *std::move(loop);
    best = std::move(here);
  }
  return best;
}

}  // namespace

CutPlane Opening::cut_at(double mm) const {
  if (cuts.empty()) return {};
  const auto after =
      std::lower_bound(cuts.begin(), cuts.end(), mm, [](const OpeningCut& c, double at) { return c.at_mm < at; });
  if (after == cuts.begin()) return cuts.front().plane;
  if (after == cuts.end()) return cuts.back().plane;
  const OpeningCut &a = *(after - 1), &b = *after;
  const double t = (mm - a.at_mm) / (b.at_mm - a.at_mm);
  return {a.plane.point_mm + (b.plane.point_mm - a.plane.point_mm) * t,
          unit(a.plane.normal * (1 - t) + b.plane.normal * t)};
}

std::vector<double> Opening::steps_mm2() const {
  // A stretch holds its area from one cut to the next, not at a mouth where cuts lie close; slow change is no step.
  std::vector<double> out;
  for (size_t k = 1; k < cuts.size(); ++k) {
    const double here = cuts[k].area_mm2;
    if (std::abs(here - cuts[k - 1].area_mm2) > 0.02 * here || cuts[k].at_mm - cuts[k - 1].at_mm < 0.02 * width_mm)
      continue;
    if (out.empty() || std::abs(here - out.back()) > 0.1 * out.back()) out.push_back(here);
  }
  if (out.empty()) out.push_back(area_mm2);
  return out;
}

Result<Openings> find_openings(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays,
                               const Progress& progress) {
  auto waists = find_waists(mesh, pairs, rays, {}, progress.part(0, 0.8));
  if (!waists) return waists.error();
  Openings out;
  out.handles = waists->handles;
  out.unseen = waists->unseen;
  out.narrowest_mm = 2 * waists->pitch_mm;
  const Ground g{mesh, pairs, rays};
  size_t done = 0;
  for (const Waist& w : waists->waists) {
    if (progress.cancelled()) return Error::stopped();
    progress.report(0.8 + 0.2 * static_cast<double>(done++) / static_cast<double>(waists->waists.size()));
    const auto start = smallest_near(g, w);
    if (!start) continue;
    CutPlane plane = start->plane;
    const SectionLoop& loop = start->loop;
    const Inscribed in = inscribed_circle(loop.points_mm, plane.normal);
    const auto there_already = [&](const CutPlane& p) {  // another arm of it
      return std::any_of(out.openings.begin(), out.openings.end(), [&](const Opening& o) {
        const auto [off, way] = off_the_way(o, p.point_mm);
        return off < 0.5 * o.width_mm && std::abs(dot(way, p.normal)) > 0.7;
      });
    };
    if (there_already(plane)) continue;
    // A hollow's way in must be a neck, not a widening of itself.
    if (w.hollow && in.radius_mm > 1.5 * w.radius_mm + 2 * waists->pitch_mm) continue;
    const Vec3 middle = loop.centroid_mm();
    plane.point_mm = winding(loop.points_mm, {middle, plane.normal}) == 1 ? middle : in.centre_mm;
    const auto centred = squared(g, plane, 0.2);
    if (!centred) continue;
    double area = centred->area_mm2(), width = 2 * in.radius_mm;
    auto ahead = follow(g, plane, area, width), behind = follow(g, {plane.point_mm, -plane.normal}, area, width);
    // Begun in the widening off a mouth: again from the narrowest place that was met.
    for (int again = 0; again < 3; ++again) {
      const OpeningCut* least = nullptr;
      for (const auto* way : {&ahead, &behind})
        for (const OpeningCut& c : *way)
          if (c.area_mm2 < 0.8 * (least ? least->area_mm2 : area)) least = &c;
      if (!least) break;
      plane = least->plane, area = least->area_mm2;
      const auto loop_here = g.cut(plane);
      if (!loop_here) break;
      width = 2 * inscribed_circle(loop_here->points_mm, plane.normal).radius_mm;
      ahead = follow(g, plane, area, width), behind = follow(g, {plane.point_mm, -plane.normal}, area, width);
    }
    if (there_already(plane)) continue;
    Opening o;
    o.hollow = w.hollow;
    const double back = behind.empty() ? 0 : behind.back().at_mm;
    for (auto c = behind.rbegin(); c != behind.rend(); ++c)
      o.cuts.push_back({back - c->at_mm, {c->plane.point_mm, -c->plane.normal}, c->area_mm2});
    o.waist = o.cuts.size();
    o.cuts.push_back({back, plane, area});
    for (const OpeningCut& c : ahead) o.cuts.push_back({back + c.at_mm, c.plane, c.area_mm2});
    if (o.length_mm() < 0.02 * width) continue;
    stand_up(o);
    out.openings.push_back(described(std::move(o), g));
  }
  std::stable_sort(out.openings.begin(), out.openings.end(),
                   [](const Opening& a, const Opening& b) { return a.area_mm2 > b.area_mm2 * (1 + 1e-6); });
  for (size_t k = 0; k < out.openings.size(); ++k) out.openings[k].name = "Opening " + std::to_string(k + 1);
  progress.report(1);
  return out;
}

std::optional<size_t> opening_at(const Openings& all, const Vec3& p) {
  std::optional<size_t> found;
  double best = 1e300;
  for (size_t k = 0; k < all.openings.size(); ++k) {
    const Opening& o = all.openings[k];
    const double off = off_the_way(o, p).first, reach = 0.55 * o.long_mm + 0.05;
    if (off < reach && off / reach < best) best = off / reach, found = k;
  }
  return found;
}

}  // namespace palinform
