#include "stages/flowing.hpp"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>
#include <numbers>

#include "flow/roofs.hpp"
#include "flow/strip_up.hpp"

namespace palinform {
namespace {

bool shows(const FaceWishes* w, uint32_t face) {
  return w && face < w->flags.size() && (w->flags[face] & FaceWishes::show);
}

/// The whole outer line, where a strip keeps it open.
std::vector<AirHole> open_line(const FlowGround& in, double gap_mm, const Cavity& cavity) {
  std::vector<AirHole> out;
  if (gap_mm <= 0 || in.way != FillWay::sprue || !in.split) return out;
  for (const auto& loop : in.split->split.loops) {
    if (!loop.outer) continue;
    for (size_t k = 0; k < loop.points_mm.size(); ++k) {
      const Vec3 a = loop.points_mm[k], b = loop.points_mm[(k + 1) % loop.points_mm.size()];
      const int steps = std::max(1, static_cast<int>(length(b - a) / cavity.voxel_mm));
      for (int s = 0; s < steps; ++s) out.push_back({a + (b - a) * (static_cast<double>(s) / steps), 0});
    }
  }
  return out;
}

/// What lets air out by the way the mould fills: vents, the open face.
std::vector<AirHole> openings_for(const FlowGround& in, const Cavity& cavity) {
  std::vector<AirHole> out;
  const RayScene& rays = *resin_body(*in.master, in.inserts.get()).rays;
  for (const AirHole& o : in.open) out.push_back({rays.closest(o.at_mm).point_mm, o.radius_mm});
  for (const Vec3& v : in.setup.vents) out.push_back({rays.closest(v).point_mm, 0});
  for (const AirHole& o : open_line(in, in.setup.edge_gap_mm, cavity)) out.push_back(o);
  if (in.way == FillWay::well) out.push_back({nub_place(*in.master->mesh, *in.master->rays, in.level), 0});
  if (in.way == FillWay::open_face && in.flat_normal) {
    double top = -1e300;
    for (const Vec3& p : in.master->mesh->points) top = std::max(top, dot(p, *in.flat_normal));
    for (uint32_t k = 0; k < cavity.size(); ++k) {
      const Vec3 p = cavity.top_point(k, *in.flat_normal);
      if (dot(p, *in.flat_normal) > top - 0.05 * cavity.voxel_mm) out.push_back({p, 0});
    }
  }
  return out;
}

/// Width of the section a place lies in: from its cell always on to the neighbour farthest from any wall, until none is
/// farther.
double passage_at(const Cavity& cavity, const RayScene& rays, const Vec3& at) {
  uint32_t cell = cavity.nearest_cell(at);
  double wide = rays.closest(cavity.centre(cell)).distance_mm;
  for (bool farther = true; farther;) {
    farther = false;
    uint32_t next = cell;
    cavity.each_neighbour(cell, [&](uint32_t o, float, int) {
      const double d = rays.closest(cavity.centre(o)).distance_mm;
      if (d > wide + 1e-6) wide = d, next = o, farther = true;
    });
    cell = next;
  }
  return 2 * wide;
}

FillConditions conditions_of(const Job& job, const Resin& res, const Rules& rules, double mix_and_wait_min) {
  FillConditions c;
  c.sprue_mm = job.flow.sprue_mm;
  c.doubling_min = time_at_temperature(res.pot_life_min, res.reference_c, job.size.room_c) / rules.flow.doubling_share;
  c.viscosity_mpa_s = viscosity_at(res.viscosity_mpa_s, job.size.room_c, res.reference_c) *
                      std::pow(2.0, mix_and_wait_min / c.doubling_min);
  c.density_g_cm3 = res.density_g_cm3;
  if (by_chamber(job.flow.aid)) c.extra_kpa = air_pressure_kpa(job.flow.altitude_m) - job.flow.vacuum_kpa;
  return c;
}

}  // namespace

Result<FlowResult> flow_result(const FlowGround& in, const Cavity& cavity, const Progress& progress) {
  const FlowSetup& setup = in.setup;
  const OriginalResult& body = resin_body(*in.master, in.inserts.get());
  const RayScene& rays = *body.rays;
  FlowResult r;
  r.up = tilted_up(in.base, setup.tilt_deg, setup.azimuth_deg);
  r.way = in.way;
  r.level_up = in.level;
  r.voxel_mm = cavity.voxel_mm;
  r.cavity_mm3 = cavity.total_mm3();
  r.visible_mm3 = visible_mm3(in.visible_mm);
  auto sweep = sweep_air(cavity, r.up, openings_for(in, cavity), progress.part(0, 0.6));
  if (!sweep) return sweep.error();
  r.trapped_mm3 = sweep->trapped_mm3;
  uint32_t lowest = 0;
  for (uint32_t k = 0; k < cavity.size(); ++k)
    if (dot(cavity.centre(k), r.up) < dot(cavity.centre(lowest), r.up)) lowest = k;
  r.lowest_mm = rays.closest(cavity.centre(lowest) - r.up * cavity.voxel_mm).point_mm;
  for (const Pocket& p : sweep->pockets) {
    if (p.volume_mm3 < in.least_pocket_share * r.visible_mm3) continue;
    PocketSeen s;
    s.pocket = p;
    // Straight up from the apex to the wall; a vent drilled there meets the bubble's highest place.
    const auto wall = rays.first_hit(p.apex_mm, r.up);
    const SurfacePoint near = rays.closest(p.apex_mm);
    s.vent_mm = wall ? p.apex_mm + r.up * wall->t_mm : near.point_mm;
    // What is cast in roofs it over where the wall there is none of the part's own.
    const SurfacePoint own = in.master->rays->closest(s.vent_mm);
    s.under_insert = &body != in.master.get() && own.distance_mm > 1e-3;
    s.show_face = !s.under_insert && shows(in.wishes.get(), &body != in.master.get() ? own.triangle
                                                            : wall                   ? wall->triangle
                                                                                     : near.triangle);
    s.after_mm3 = left_after_mm3(p.volume_mm3, setup);
    s.visible = s.after_mm3 > visible_mm3(s.show_face ? in.visible_show_mm : in.visible_mm);
    r.left_mm3 += s.after_mm3;
    r.pockets.push_back(std::move(s));
  }
  // The other way round: hollows the resin reaches only by running over into them.
  if (setup.gate && in.way == FillWay::sprue) {
    const auto low = sweep_air(cavity, -r.up, {{rays.closest(*setup.gate).point_mm, 0}}, progress.part(0.6, 0.9));
    if (!low) return low.error();
    for (const Pocket& p : low->pockets) {
      if (!p.saddle_mm || !pocket_seen(p, in.visible_mm) || r.basins.size() >= 12) continue;
      // Over the gate's own level the resin simply rises; only what lies behind a rim counts.
      if (dot(*p.saddle_mm, r.up) < dot(*setup.gate, r.up) + cavity.voxel_mm) continue;
      r.basins.push_back({p.apex_mm, *p.saddle_mm, rays.closest(p.apex_mm).point_mm, p.volume_mm3,
                          passage_at(cavity, rays, *p.saddle_mm)});
    }
  }
  return r;
}

FlowResult squeezed_flow(const FlowGround& in, const Cavity& cavity, const ClosingResult& closing) {
  const RayScene& rays = *in.master->rays;
  FlowResult r;
  r.up = in.base;
  r.way = in.way;
  r.level_up = in.level;
  r.voxel_mm = closing.grid.pitch_mm;
  r.cavity_mm3 = cavity.total_mm3();
  r.visible_mm3 = visible_mm3(in.visible_mm);
  for (const ClosingPocket& c : closing.closing.pockets) {
    if (c.volume_mm3 < in.least_pocket_share * r.visible_mm3) continue;
    const SurfacePoint wall = rays.closest(c.apex_mm);
    PocketSeen s;
    s.pocket = {c.apex_mm, c.volume_mm3, 0, wall.point_mm};
    s.vent_mm = wall.point_mm;
    s.show_face = shows(in.wishes.get(), wall.triangle);
    s.after_mm3 = by_pot(in.setup.aid) ? under_pressure_mm3(c.volume_mm3, in.setup.pressure_kpa, in.setup.altitude_m)
                                       : c.volume_mm3;
    s.visible = s.after_mm3 > visible_mm3(s.show_face ? in.visible_show_mm : in.visible_mm);
    r.trapped_mm3 += c.volume_mm3;
    r.left_mm3 += s.after_mm3;
    r.pockets.push_back(std::move(s));
  }
  return r;
}

ChannelRules channel_rules(const FlowSetup& f) {
  ChannelRules r;
  r.gate_mm = f.sprue_mm;
  r.vent_mm = f.vent_mm;
  if (f.cup_mm) r.cup_ratio = std::max(1.0, *f.cup_mm / f.sprue_mm);
  if (f.cup_deep_mm) r.cup_deep_mm = *f.cup_deep_mm;
  return r;
}

double channel_end_mm(const FlowSetup& f, double top_mm, bool gate) { return top_mm + (gate ? f.head_mm : 2); }

double left_after_mm3(double mm3, const FlowSetup& f) {
  // In that order: what the vacuum leaves, the pot presses smaller.
  if (by_chamber(f.aid)) mm3 = after_vacuum_mm3(mm3, f.vacuum_kpa, f.altitude_m);
  if (by_pot(f.aid)) mm3 = under_pressure_mm3(mm3, f.pressure_kpa, f.altitude_m);
  return mm3;
}

std::vector<Channel> channels_to(const OriginalResult& master, const Vec3& up, double top_mm, const FlowSetup& f) {
  std::vector<Channel> out;
  const ChannelRules rules = channel_rules(f);
  const auto lay = [&](const Vec3& at, bool gate, const std::string& name, double to) {
    const SurfacePoint on = master.rays->closest(at);
    out.push_back(plan_channel(*master.rays, master.measure.box_mm, on.point_mm, master.mesh->normal(on.triangle), up,
                               to, gate, name, rules));
  };
  if (f.gate) lay(*f.gate, true, "gate", channel_end_mm(f, top_mm, true));
  for (size_t k = 0; k < f.vents.size(); ++k)
    lay(f.vents[k], false, "vent " + std::to_string(k + 1), channel_end_mm(f, top_mm, false));
  return out;
}

ChannelsResult channels_result(const OriginalResult& master, const Mould& m, const Vec3& base, const FlowSetup& f) {
  ChannelsResult r;
  r.up = tilted_up(base, f.tilt_deg, f.azimuth_deg);
  r.channels = channels_to(master, r.up, top_along(m.inner_mm, m.frame, r.up), f);
  for (const Channel& c : r.channels) r.volume_mm3 += c.volume_mm3();
  // The wedge: the box's length along the level direction of the tilt.
  const double t = f.tilt_deg * std::numbers::pi / 180;
  const Vec3 lean = f.tilt_deg > 0 ? unit(r.up - base * dot(r.up, base)) : m.frame.rows[0];
  r.wedge_run_mm = top_along(m.inner_mm, m.frame, lean) + top_along(m.inner_mm, m.frame, -lean);
  r.wedge_rise_mm = r.wedge_run_mm * std::tan(std::min(t, 1.5));
  return r;
}

ChannelsResult channels_of_cavity(const OriginalResult& master, const Vec3& base, const FlowSetup& f) {
  ChannelsResult r;
  r.up = tilted_up(base, f.tilt_deg, f.azimuth_deg);
  double top = -1e300;
  for (const Vec3& p : master.mesh->points) top = std::max(top, dot(p, r.up));
  if (f.gate) {
    Channel c;
    c.name = "gate";
    c.gate = c.clear = true;
    c.diameter_mm = f.sprue_mm;
    c.path_mm = {*f.gate, *f.gate + r.up * (top + f.head_mm - dot(*f.gate, r.up))};
    r.channels.push_back(std::move(c));
  }
  // Vents go on well past the part: whether one gets clear of it is what is asked.
  const double past = dot(master.measure.box_mm.centre(), r.up) + length(master.measure.box_mm.size());
  for (size_t k = 0; k < f.vents.size(); ++k) {
    const SurfacePoint on = master.rays->closest(f.vents[k]);
    r.channels.push_back(plan_channel(*master.rays, master.measure.box_mm, f.vents[k], master.mesh->normal(on.triangle),
                                      r.up, past, false, "vent " + std::to_string(k + 1), channel_rules(f)));
  }
  return r;
}

namespace {

/// What a gate or vent costs at each face: it keeps off what must stay clear, shows least on faces that show, and keeps
/// its distance from those: a sprue's stump beside one is seen, and its sanding runs over.
std::vector<float> scars(const OriginalResult& master, const std::vector<uint8_t>& flags) {
  constexpr float never = 10, on_show = 1.5f;
  const TriMesh& mesh = *master.mesh;
  const Vec3 size = master.measure.box_mm.size();
  const double keep_off = std::clamp(0.12 * std::max({size.x, size.y, size.z}), 3.0, 15.0);
  std::vector<float> out(flags.size(), 0);
  TriMesh showing;
  showing.points = mesh.points;
  for (size_t t = 0; t < flags.size(); ++t)
    if (flags[t] & FaceWishes::show) showing.triangles.push_back(mesh.triangles[t]);
  std::shared_ptr<const RayScene> near;
  if (!showing.triangles.empty())
    if (auto built = RayScene::build(showing)) near = *built;
  for (size_t t = 0; t < flags.size(); ++t) {
    if (flags[t] & FaceWishes::keep_clear) {
      out[t] = never;
    } else if (flags[t] & FaceWishes::show) {
      out[t] = on_show;
    } else if (near) {
      const Vec3 c = mesh.centre(t);
      const double far = length(near->closest(c).point_mm - c);
      if (far < keep_off) out[t] = static_cast<float>(0.75 * (1 - far / keep_off));
    }
  }
  return out;
}

}  // namespace

FlowPlanOptions plan_options(const FlowSetup& f, const FlowGround& ground, const Cavity& cavity, const Study& study) {
  FlowPlanOptions o;
  o.open = open_line(ground, f.edge_gap_mm, cavity);
  o.base_up = ground.level;
  o.finalists = study.finalists;
  o.tilt_step_deg = study.tilt_step_deg;
  o.azimuths = study.azimuths;
  o.may_turn_over = study.either_way;
  o.max_tilt_deg = f.max_tilt_deg;
  o.max_vents = f.max_vents;
  o.visible_mm = ground.visible_mm;
  o.channels = channel_rules(f);
  if (f.keep_gate) o.gate = f.gate;
  if (f.keep_vents) o.vents = f.vents;
  o.no_vent = f.no_vents;
  if (ground.wishes) o.scar = scars(*ground.master, ground.wishes->flags);
  const OriginalResult& body = resin_body(*ground.master, ground.inserts.get());
  if (&body != ground.master.get()) {
    // Face by face of what the resin fills; nothing goes in or out through what is cast in.
    constexpr float never = 10;
    std::vector<float> scar(body.mesh->triangles.size(), 0);
    for (size_t t = 0; t < scar.size(); ++t) {
      const SurfacePoint own = ground.master->rays->closest(body.mesh->centre(t));
      scar[t] = own.distance_mm > 1e-3 ? never : own.triangle < o.scar.size() ? o.scar[own.triangle] : 0;
    }
    o.scar = std::move(scar);
  }
  return o;
}

Result<FillingResult> filling_result(const Job& job, const Resin& res, const Rules& rules, const OriginalResult& master,
                                     const FillNetwork& net, const ChannelsResult& channels, const Progress& progress) {
  FillingResult r;
  for (const float t : net.thick_mm) r.thickest_mm = std::max(r.thickest_mm, static_cast<double>(t));
  r.heat_rise_k = res.heat_of_reaction_j_g / std::max(0.1, res.heat_capacity_j_gk);
  const double before = cup_minutes(res, true, job.mix.resin_air, rules.mix).all_min();
  r.left_min = time_at_temperature(res.pot_life_min, res.reference_c, job.size.room_c) - before;
  {
    std::vector<float> t = net.thick_mm;
    std::nth_element(t.begin(), t.begin() + static_cast<std::ptrdiff_t>(t.size() / 10), t.end());
    r.thin_mm = static_cast<double>(t[t.size() / 10]);
  }
  if (channels.channels.empty() || !channels.channels.front().gate) return r;
  const Channel& gate = channels.channels.front();
  const Vec3 up = channels.up;
  FillConditions c = conditions_of(job, res, rules, before);
  c.gate_level_mm = dot(gate.path_mm.front(), up);
  c.sprue_top_mm = dot(gate.path_mm.back(), up);
  c.sprue_long_mm = std::max(1.0, gate.length_mm() - gate.cup_deep_mm);
  r.conditions = c;
  const auto course = fill_course(net, up, {gate.path_mm.front()}, c, 40, progress.part(0, 0.7));
  if (!course) return course.error();
  r.stages = course->stages;
  // A second gate: on the low third, farthest from the first.
  Vec3 other = gate.path_mm.front();
  double low = 1e300, high = -1e300, far = -1;
  for (const Vec3& p : master.mesh->points) low = std::min(low, dot(p, up)), high = std::max(high, dot(p, up));
  for (const Vec3& p : master.mesh->points)
    if (dot(p, up) < low + 0.35 * (high - low) && length(p - gate.path_mm.front()) > far)
      far = length(p - gate.path_mm.front()), other = p;
  FillConditions both = c;
  both.gates = 2;
  const auto two = fill_course(net, up, {gate.path_mm.front(), other}, both, 20, progress.part(0.7, 1));
  if (!two) return two.error();
  r.time = fill_time(r.stages, c);
  r.reached_min.resize(master.mesh->points.size());
  tbb::parallel_for(size_t{0}, r.reached_min.size(), [&](size_t k) {
    const uint32_t cell = net.cavity.nearest_cell(master.mesh->points[k]);
    const size_t stage = std::min<size_t>(course->reached[cell], r.time.at_min.size() - 1);
    r.reached_min[k] = static_cast<float>(r.time.at_min[stage]);
  });
  const double now = r.time.full_min.value_or(1e9);
  for (const FillLever& l : fill_levers(r.stages, two->stages, c))
    if (l.full_min && *l.full_min < 0.97 * now) r.levers.push_back(l);
  return r;
}

Result<RubberAirResult> rubber_air(const OriginalResult& master, const Mould& m, Form form,
                                   const std::optional<Vec3>& flat_normal, std::string_view brushed, double visible_mm,
                                   double cells, const Progress& progress) {
  RubberAirResult r;
  const bool halved = in_halves(form);
  Transform frame = m.frame;
  Box3 box = m.inner_mm;
  if (!halved) {
    if (form == Form::open && flat_normal) frame = frame_around(*master.mesh, -*flat_normal);
    const Box3 in = box_in(*master.mesh, frame);
    const double wall = m.wall_mm;
    box = Box3{};
    box.add(in.min - Vec3{wall, wall, form == Form::open ? 0.0 : wall});
    box.add(in.max + Vec3{wall, wall, wall});
  }
  const TriMesh part = transformed(*master.mesh, frame);
  const Vec3 size = box.size();
  const double voxel = std::max(0.15, voxel_for(size.x * size.y * size.z, cells));
  const Transform back = frame.inverse();
  const auto surface = [&](double u, double v) { return m.parting_at(u, v); };
  const auto sweep = [&](bool upper, bool whole, const Vec3& up) -> Result<Sweep> {
    const auto space = rubber_space(part, box, surface, upper, whole, voxel, progress);
    if (!space) return space.error();
    double top = -1e300;
    for (uint32_t k = 0; k < space->size(); ++k) top = std::max(top, dot(space->cube_centre(k), up));
    std::vector<AirHole> open;
    for (uint32_t k = 0; k < space->size(); ++k)
      if (dot(space->cube_centre(k), up) > top - 0.5 * voxel)
        open.push_back({space->cube_centre(k) + up * (0.5 * voxel), 0});
    return sweep_air(*space, up, open, progress);
  };
  const auto keep = [&](const std::string& name, const Vec3& up, Sweep s) {
    RubberAirResult::Pour p;
    p.name = name;
    p.up = back.direction(up);
    for (Pocket& q : s.pockets) {
      if (!pocket_seen(q, visible_mm)) continue;
      q.apex_mm = back.point(q.apex_mm);
      if (q.saddle_mm) q.saddle_mm = back.point(*q.saddle_mm);
      p.trapped_mm3 += q.volume_mm3;
      p.pockets.push_back(q);
    }
    r.pours.push_back(std::move(p));
  };
  if (halved) {
    for (const bool upper : {true, false}) {
      // What is brushed on is pressed into every corner: no level rises there.
      if (brushed == (upper ? "a" : "b")) continue;
      const Vec3 up{0, 0, upper ? 1.0 : -1.0};
      auto s = sweep(upper, false, up);
      if (!s) return s.error();
      keep(upper ? "a" : "b", up, *std::move(s));
    }
  } else {
    auto s = sweep(true, true, {0, 0, 1});
    if (!s) return s.error();
    keep("whole", {0, 0, 1}, *std::move(s));
    if (form == Form::cut) {
      auto o = sweep(true, true, {0, 0, -1});
      if (!o) return o.error();
      double other = 0;
      for (const Pocket& q : o->pockets)
        if (pocket_seen(q, visible_mm)) other += q.volume_mm3;
      r.other_mm3 = other;
      r.better_over = other < 0.8 * r.pours[0].trapped_mm3;
    }
  }
  return r;
}

edits::StandSo stand_so(const FlowPlan& p) {
  return {p.turned_over, p.tilt_deg, p.azimuth_deg, p.gate ? std::optional(p.gate->at_mm) : std::nullopt, p.vents};
}

bool stands_so(const FlowSetup& setup, const FlowPlan& p) {
  // The same places, in any order; a remedy rounds them to 1e-4 mm.
  const auto same = [](const Vec3& a, const Vec3& b) { return length(a - b) < 1e-3; };
  return setup.turned_over == p.turned_over && std::abs(setup.tilt_deg - p.tilt_deg) < 1e-3 &&
         std::abs(setup.azimuth_deg - p.azimuth_deg) < 1e-3 && setup.vents.size() == p.vents.size() &&
         setup.gate.has_value() == p.gate.has_value() && (!p.gate || same(*setup.gate, p.gate->at_mm)) &&
         std::all_of(p.vents.begin(), p.vents.end(), [&](const Vec3& v) {
           return std::any_of(setup.vents.begin(), setup.vents.end(), [&](const Vec3& w) { return same(v, w); });
         });
}

FillWay fill_way(const std::string& form) {
  const auto f = named<Form>(form);
  return f == Form::squeeze ? FillWay::squeeze
         : f == Form::open  ? FillWay::open_face
         : f == Form::strip ? FillWay::well
                            : FillWay::sprue;
}

FlowSetup without_plan(FlowSetup s) {
  const FlowSetup plain;
  s.max_tilt_deg = plain.max_tilt_deg;
  s.max_vents = plain.max_vents;
  s.keep_gate = s.keep_vents = false;
  s.no_vents.clear();
  return s;
}

FlowSetup only_plan(const FlowSetup& s) {
  FlowSetup p;
  p.max_tilt_deg = s.max_tilt_deg;
  p.max_vents = s.max_vents;
  p.no_vents = s.no_vents;
  p.sprue_mm = s.sprue_mm, p.vent_mm = s.vent_mm;
  p.edge_gap_mm = s.edge_gap_mm;
  p.keep_gate = s.keep_gate, p.keep_vents = s.keep_vents;
  if (s.keep_gate) p.gate = s.gate;
  if (s.keep_vents) p.vents = s.vents;
  return p;
}

std::vector<ExtraPiece> wanted_pieces(const PiecesResult* pieces, bool all) {
  std::vector<ExtraPiece> out;
  for (size_t k = 0; pieces && k < pieces->plan.pieces.size(); ++k)
    if (all || k < pieces->given) out.push_back(pieces->plan.pieces[k]);
  return out;
}

double solids_voxel_mm(const Mould& mould) {
  const Vec3 size = mould.inner_mm.size();
  return std::max(0.7, std::max({size.x, size.y, size.z}) / 125);
}

Result<SolidsResult> mould_solids(const TriMesh& mesh, const Mould& mould, const KeyPlan& keys,
                                  const HalvesParts& parts, const Progress& progress) {
  auto h = mould_halves(mesh, mould, keys, parts, {solids_voxel_mm(mould)}, progress);
  if (!h) return h.error();
  SolidsResult r;
  for (size_t k = 0; k < h->halves.size(); ++k) {
    if (h->halves[k].mesh.triangles.empty()) continue;
    r.volume_mm3.push_back(measure(h->halves[k].mesh).volume_mm3);
    const auto kept = std::make_shared<const TriMesh>(std::move(h->halves[k].mesh));
    auto shape = make_shape(*kept);
    if (!shape) return shape.error();
    r.meshes.push_back(kept);
    r.pieces.push_back(*shape);
    r.pulls.push_back(k == 0 ? mould.frame.rows[2] : k == 1 ? -mould.frame.rows[2] : parts.pieces[k - 2].pull);
  }
  return r;
}

}  // namespace palinform
