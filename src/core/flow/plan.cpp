#include "flow/plan.hpp"

#include <tbb/enumerable_thread_specific.h>
#include <tbb/parallel_for.h>
#include <tbb/task_arena.h>

#include <algorithm>
#include <cmath>
#include <numbers>

#include "base/text.hpp"
#include "flow/roofs.hpp"
#include "solid/columns.hpp"

namespace palinform {
namespace {

float scar_at(const FlowPlanOptions& o, uint32_t face) { return face < o.scar.size() ? o.scar[face] : 0.0f; }

bool barred(const FlowPlanOptions& o, const Vec3& p) {
  return std::any_of(o.no_vent.begin(), o.no_vent.end(), [&](const Vec3& q) { return length(p - q) < o.no_vent_mm; });
}

/// The wall over a cell: where a vent from there goes through it.
SurfacePoint wall_over(const RayScene& rays, const Vec3& apex, const Vec3& up, double near_mm) {
  const SurfacePoint near = rays.closest(apex);
  if (near.distance_mm < 0.02 * near_mm) return near;
  const auto hit = rays.first_hit(apex, up);
  if (hit && hit->t_mm < near_mm) return {apex + up * hit->t_mm, hit->triangle, hit->t_mm};
  return near;
}

std::vector<AirHole> openings_of(const std::vector<Vec3>& vents, const FlowPlanOptions& o) {
  std::vector<AirHole> out = o.open;
  for (const Vec3& v : vents) out.push_back({v, 0});
  return out;
}

/// Roofs one sees, apart into those a vent may be put under and those not; scars counted for the former.
struct Choice {
  std::vector<Roof> roofs;  ///< ventable, largest first
  std::vector<SurfacePoint> walls;
  double barred_mm3 = 0;
};
Choice choose_vents(const RayScene& rays, const Cavity& c, const Vec3& up, const FlowPlanOptions& o, double seen,
                    RoofMemory& memory) {
  Choice out;
  for (const Roof& r : find_roofs(c, up, openings_of(o.vents, o), 0.5 * seen, memory)) {
    if (r.volume_mm3 < seen) continue;
    const SurfacePoint wall = wall_over(rays, c.top_point(r.apex, up), up, 3 * c.voxel_mm);
    if (barred(o, wall.point_mm) || scar_at(o, wall.triangle) >= 10) {
      out.barred_mm3 += r.volume_mm3;
      continue;
    }
    out.roofs.push_back(r);
    out.walls.push_back(wall);
  }
  return out;
}

}  // namespace

double visible_mm3(double d) { return std::numbers::pi / 6 * d * d * d; }

namespace {

/// The largest ball inside the part that touches within two gate diameters under the place.
double section_behind_mm(const RayScene& rays, const Vec3& at, const Vec3& normal, const ChannelRules& rules) {
  double thick = 0;
  for (const double share : {0.15, 0.35, 0.6, 1.0, 1.5, 2.0}) {
    const double deep = share * rules.gate_mm;
    const double d = rays.closest(at - normal * deep).distance_mm;
    if (d < 0.7 * deep) break;  // past the middle of the section: the far wall is nearer
    thick = std::max(thick, 2 * d);
  }
  return thick;
}

/// 0 lowest … 1 highest of the part.
double height_share(const TriMesh& mesh, const Vec3& up, const Vec3& at) {
  double low = 1e300, high = -1e300;
  for (const Vec3& p : mesh.points) low = std::min(low, dot(p, up)), high = std::max(high, dot(p, up));
  return (dot(at, up) - low) / std::max(high - low, 1e-9);
}

}  // namespace

bool pocket_seen(const Pocket& p, double visible) { return p.volume_mm3 >= visible_mm3(visible); }

std::vector<GatePlace> gate_places(const TriMesh& mesh, const RayScene& rays, const std::vector<float>& scar,
                                   const ChannelRules& rules) {
  std::vector<GatePlace> places;
  const size_t stride = std::max<size_t>(1, mesh.triangles.size() / 4000);
  for (size_t t = 0; t < mesh.triangles.size(); t += stride) {
    const float dear = t < scar.size() ? scar[t] : 0.0f;
    if (mesh.area_mm2(t) < 1e-9 || dear >= 10) continue;
    GatePlace g;
    g.normal = mesh.normal(t);
    g.dear = static_cast<double>(dear);
    // Three places of the face: toward each of its corners.
    const Vec3 middle = mesh.centre(t);
    for (int k = 0; k < 3; ++k) {
      g.at_mm = middle + (mesh.corner(t, k) - middle) * 0.6;
      places.push_back(g);
    }
  }
  tbb::parallel_for(tbb::blocked_range<size_t>(0, places.size(), 128), [&](const auto& range) {
    for (size_t k = range.begin(); k < range.end(); ++k) {
      GatePlace& g = places[k];
      g.thick_mm = section_behind_mm(rays, g.at_mm, g.normal, rules);
    }
  });
  return places;
}

std::optional<GatePlace> choose_gate(const TriMesh& mesh, const RayScene& rays, const std::vector<GatePlace>& all,
                                     const Vec3& up, const ChannelRules& rules, double top_mm) {
  const Box3 box = measure(mesh).box_mm;
  double low = 1e300, high = -1e300;
  for (const Vec3& p : mesh.points) low = std::min(low, dot(p, up)), high = std::max(high, dot(p, up));
  const double rise = std::max(high - low, 1e-9);
  std::vector<GatePlace> places;
  double thickest = 1e-9;
  for (GatePlace g : all) {
    g.height_share = (dot(g.at_mm, up) - low) / rise;
    // Into a roof nothing is fed from above without crossing it.
    if (dot(g.normal, up) > 0.35 || g.height_share > 0.35) continue;
    thickest = std::max(thickest, g.thick_mm);
    places.push_back(g);
  }
  for (GatePlace& g : places) {
    g.score = 2.5 * g.height_share + 0.8 * g.dear + (dot(g.normal, up) < -0.7 ? 0.25 : 0) + 1 - g.thick_mm / thickest;
    if (g.thick_mm < 0.6 * rules.gate_mm) g.score += 1;  // a gate wider than the section it feeds
  }
  std::stable_sort(places.begin(), places.end(),
                   [](const GatePlace& a, const GatePlace& b) { return a.score < b.score; });
  // The first that a sprue reaches; near ones of a failed place are passed over.
  std::vector<Vec3> failed;
  for (GatePlace& g : places) {
    if (failed.size() >= 24) break;
    if (std::any_of(failed.begin(), failed.end(), [&](const Vec3& p) { return length(p - g.at_mm) < rules.gate_mm; }))
      continue;
    g.clear = plan_channel(rays, box, g.at_mm, g.normal, up, top_mm, true, "gate", rules).clear;
    if (g.clear) return g;
    failed.push_back(g.at_mm);
  }
  if (places.empty()) return std::nullopt;
  return places.front();
}

Result<FlowPlan> plan_flow(const TriMesh& mesh, const RayScene& rays, const Cavity& fine, const FlowPlanOptions& o,
                           const Progress& progress) {
  if (!finite(o.base_up) || length(o.base_up) < 1e-9)
    return Error{"up has no direction", "flow", "Give a vector that is not nought."};
  if (!(o.max_tilt_deg >= 0) || o.max_tilt_deg > 90)
    return Error{"the greatest tilt must lie between 0 and 90 degrees", "flow", ""};
  const double seen = visible_mm3(o.visible_mm);
  const double part_mm3 = fine.total_mm3();
  const auto coarse =
      fill_with_cells(mesh, std::max(fine.voxel_mm, voxel_for(part_mm3, o.coarse_cells)), progress.part(0, 0.05));
  if (!coarse) return coarse.error();
  FlowPlan out;
  std::vector<StandTried>& tried = out.tried;
  const int rings = static_cast<int>(std::ceil(o.max_tilt_deg / o.tilt_step_deg - 1e-9));
  for (const bool over : {false, true}) {
    if (over && !o.may_turn_over) break;
    tried.push_back({over, 0, 0, 0, 0, 0});
    for (int r = 1; r <= rings; ++r)
      for (int a = 0; a < o.azimuths; ++a)
        tried.push_back({over, std::min(r * o.tilt_step_deg, o.max_tilt_deg), 360.0 * a / o.azimuths, 0, 0, 0});
  }
  const auto up_of = [&](const StandTried& s) {
    return tilted_up(s.turned_over ? -unit(o.base_up) : unit(o.base_up), s.tilt_deg, s.azimuth_deg);
  };
  const int may = std::max(0, o.max_vents - static_cast<int>(o.vents.size()));
  // What a stand costs before its gate: bubbles one sees above all, then vents, scars, tilt.
  const auto cost = [&](const StandTried& s, double scars) {
    return (s.left_mm3 > 0 ? 10 + s.left_mm3 / std::max(seen, 1e-3 * part_mm3) : 0) + s.vents + scars +
           0.02 * s.tilt_deg + (s.turned_over ? 0.05 : 0);
  };
  const auto judge = [&](StandTried& s, const Choice& c) {
    const int n = std::min(may, static_cast<int>(c.roofs.size()));
    s.vents = n + static_cast<int>(o.vents.size());
    s.left_mm3 = left_with_vents_mm3(c.roofs, static_cast<size_t>(n)) + c.barred_mm3;
    double scars = 0;
    for (int k = 0; k < n; ++k) scars += static_cast<double>(scar_at(o, c.walls[static_cast<size_t>(k)].triangle));
    s.score = cost(s, scars);
  };
  tbb::enumerable_thread_specific<RoofMemory> memories;
  std::atomic<size_t> done{0};
  tbb::parallel_for(tbb::blocked_range<size_t>(0, tried.size(), 4), [&](const auto& range) {
    for (size_t k = range.begin(); k < range.end() && !progress.cancelled(); ++k) {
      // Waiting for its own helpers inside, a thread would else take up another stand, on the memory it is at work on.
      tbb::this_task_arena::isolate(
          [&] { judge(tried[k], choose_vents(rays, *coarse, up_of(tried[k]), o, seen, memories.local())); });
      progress.report(0.05 + 0.6 * static_cast<double>(++done) / static_cast<double>(tried.size()));
    }
  });
  if (progress.cancelled()) return Error::stopped();

  std::vector<size_t> order(tried.size());
  for (size_t k = 0; k < order.size(); ++k) order[k] = k;
  std::stable_sort(order.begin(), order.end(), [&](size_t a, size_t b) { return tried[a].score < tried[b].score; });
  order.resize(std::min(order.size(), static_cast<size_t>(std::max(1, o.finalists))));
  std::optional<Cavity> middle;
  constexpr double middle_cells = 300'000;
  if (static_cast<double>(fine.size()) > 1.2 * middle_cells) {
    auto m = fill_with_cells(mesh, voxel_for(part_mm3, middle_cells), progress.part(0.65, 0.67));
    if (!m) return m.error();
    middle = *std::move(m);
  }
  RoofMemory memory;
  const MeshMeasure m = measure(mesh);
  const double top_over = length(m.box_mm.size());
  const std::vector<GatePlace> places = o.gate ? std::vector<GatePlace>{} : gate_places(mesh, rays, o.scar, o.channels);
  // One stand worked out on a grid: vents, the sweep with them, gate; and its score.
  const auto work_out = [&](StandTried s, const Cavity& grid, double give_up, FlowPlan& p) -> Result<double> {
    const Vec3 up = up_of(s);
    const Choice c = choose_vents(rays, grid, up, o, seen, memory);
    judge(s, c);
    if (s.score >= give_up) return s.score;  // cannot win any more, whatever its gate
    p.up = up;
    p.turned_over = s.turned_over, p.tilt_deg = s.tilt_deg, p.azimuth_deg = s.azimuth_deg;
    p.vents = o.vents;
    double scars = 0;
    for (int n = 0; n < std::min(may, static_cast<int>(c.roofs.size())); ++n) {
      p.vents.push_back(c.walls[static_cast<size_t>(n)].point_mm);
      scars += static_cast<double>(scar_at(o, c.walls[static_cast<size_t>(n)].triangle));
    }
    // What the vents leave, told by the sweep itself; a bubble that is still seen gets a vent while there are any left.
    for (;;) {
      auto swept = sweep_air(grid, up, openings_of(p.vents, o), progress.part(0.67, 0.67));
      if (!swept) return swept.error();
      p.sweep = *std::move(swept);
      p.left_mm3 = 0;
      std::optional<SurfacePoint> more;
      for (const Pocket& q : p.sweep.pockets) {
        if (!pocket_seen(q, o.visible_mm)) continue;
        p.left_mm3 += q.volume_mm3;
        const SurfacePoint wall = wall_over(rays, q.apex_mm, up, 3 * grid.voxel_mm);
        if (!more && !barred(o, wall.point_mm) && scar_at(o, wall.triangle) < 10) more = wall;
      }
      if (!more || static_cast<int>(p.vents.size()) >= o.max_vents) break;
      p.vents.push_back(more->point_mm);
      scars += static_cast<double>(scar_at(o, more->triangle));
    }
    const double top = dot(m.box_mm.centre(), up) + top_over;
    if (o.gate) {
      GatePlace g;
      g.at_mm = *o.gate;
      g.normal = mesh.normal(rays.closest(*o.gate).triangle);
      g.thick_mm = section_behind_mm(rays, g.at_mm, g.normal, o.channels);
      g.height_share = height_share(mesh, up, g.at_mm);
      g.clear = plan_channel(rays, m.box_mm, g.at_mm, g.normal, up, top, true, "gate", o.channels).clear;
      p.gate = g;
    } else
      p.gate = choose_gate(mesh, rays, places, up, o.channels, top);
    int unclear = 0;
    for (const Vec3& v : p.vents)
      unclear +=
          !plan_channel(rays, m.box_mm, v, mesh.normal(rays.closest(v).triangle), up, top, false, "vent", o.channels)
               .clear;
    s.left_mm3 = p.left_mm3;
    s.vents = static_cast<int>(p.vents.size());
    return cost(s, scars) + (p.gate ? 0.5 * p.gate->score + (p.gate->clear ? 0 : 1) : 2) + 0.5 * unclear;
  };
  std::vector<std::pair<double, size_t>> ranked;
  double best = 1e300;
  size_t turn = 0;
  const auto take = [&](FlowPlan& p, double score) {
    best = score;
    p.tried = std::move(out.tried);
    out = std::move(p);
  };
  for (const size_t k : order) {
    if (progress.cancelled()) return Error::stopped();
    FlowPlan p;
    const auto score = work_out(tried[k], middle ? *middle : fine, middle ? 1e300 : best, p);
    if (!score) return score.error();
    ranked.emplace_back(*score, k);
    if (!middle && *score < best) take(p, *score);
    progress.report(0.65 + 0.25 * static_cast<double>(++turn) / static_cast<double>(order.size()));
  }
  if (middle) {
    // On the fine grid until none of the rest promises more than the best so far; three at most.
    std::stable_sort(ranked.begin(), ranked.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
    for (size_t k = 0; k < std::min<size_t>(ranked.size(), 3) && ranked[k].first < best; ++k) {
      FlowPlan p;
      const auto score = work_out(out.tried[ranked[k].second], fine, best, p);
      if (!score) return score.error();
      if (*score < best) take(p, *score);
    }
  }
  // Why this one: what standing level would have cost.
  const StandTried& level = tried.front();
  out.reasons.push_back(counted(static_cast<long long>(tried.size()), "stand", "stands") + " tried up to " +
                        fixed(o.max_tilt_deg, 0) + "°");
  if (out.tilt_deg > 0)
    out.reasons.push_back("standing level it would take " + counted(level.vents, "vent", "vents") +
                          (level.left_mm3 > 0 ? " and leave " + significant(level.left_mm3, 2) + " mm³" : ""));
  if (out.gate)
    out.reasons.push_back("the gate feeds a section of " + fixed(out.gate->thick_mm, 1) + " mm, " +
                          fixed(100 * out.gate->height_share, 0) + " % up");
  progress.report(1);
  return out;
}

}  // namespace palinform
