// palin flow: where the air stays for one up-direction, how long filling takes, or the whole plan.
#include "base/text.hpp"
#include "commands.hpp"
#include "flow/filling.hpp"
#include "flow/plan.hpp"
#include "solid.hpp"

namespace palinform::cli {
namespace {

struct Options {
  std::string file, up, gate, open, unit;
  std::vector<std::string> vents, no_vents;
  double voxel = 0, pressure = -1, vacuum = -1, altitude = 0;
  bool plan = false, either_way = false, keep_vents = false;
  double max_tilt = 45, visible = 0.5;
  int max_vents = 6;
  double sprue = 5, vent = 2, head = 60, viscosity = 300, density = 1.08, pot_life = 8, age = 3;
};

Json gate_json(const GatePlace& g) {
  return {{"at", json_of(g.at_mm)}, {"thickness_mm", g.thick_mm}, {"height_share", g.height_share}, {"clear", g.clear}};
}

Answer flow(const Options& o, const Progress& progress) {
  const Stopwatch clock;
  Vec3 up{0, 0, 1};
  if (!o.up.empty()) {
    const auto given = parse_vector(o.up, "--up");
    if (!given) return given.error();
    if (length(*given) < 1e-9) return Error{"up has no direction", "--up", "Give a vector that is not nought."};
    up = unit(*given);
  }
  const auto solid = load_solid(o.file, o.unit, progress);
  if (!solid) return solid.error();
  const TriMesh& mesh = solid->mesh;
  const RayScene& rays = *solid->rays;
  const auto on_wall = [&](const std::vector<std::string>& given, const char* option) -> Result<std::vector<Vec3>> {
    std::vector<Vec3> out;
    for (const std::string& v : given) {
      const auto p = parse_vector(v, option);
      if (!p) return p.error();
      out.push_back(rays.closest(*p).point_mm);
    }
    return out;
  };
  auto vents = on_wall(o.vents, "--vent");
  if (!vents) return vents.error();
  const auto barred = on_wall(o.no_vents, "--no-vent");
  if (!barred) return barred.error();
  std::optional<Vec3> gate;
  if (!o.gate.empty()) {
    const auto g = on_wall({o.gate}, "--gate");
    if (!g) return g.error();
    gate = g->front();
  }
  std::vector<Opening> openings;
  if (!o.open.empty()) {
    std::string spaced = o.open;
    for (char& ch : spaced)
      if (ch == ',') ch = ' ';
    const auto n = parse_numbers(spaced);
    if (!n || n->size() != 4 || (*n)[3] <= 0)
      return Error{"\"" + o.open + "\" is no disc", "--open", "Write x,y,z,r with r above zero."};
    openings.push_back({rays.closest({(*n)[0], (*n)[1], (*n)[2]}).point_mm, (*n)[3]});
  }
  if (o.vacuum > air_pressure_kpa(o.altitude))
    return Error{shortest(o.vacuum) + " kPa absolute is more than the air there has, " +
                     fixed(air_pressure_kpa(o.altitude), 1) + " kPa",
                 "--vacuum-kpa-abs", "Give what is left in the chamber, as in 4."};
  const double volume = measure(mesh).volume_mm3;
  const auto cavity = fill_with_cells(mesh, o.voxel > 0 ? o.voxel : std::max(0.05, voxel_for(volume, 1e6)), progress);
  if (!cavity) return cavity.error();
  Json planned;
  ChannelRules rules;
  rules.gate_mm = o.sprue, rules.vent_mm = o.vent;
  if (o.plan) {
    FlowPlanOptions p;
    p.base_up = up;
    p.may_turn_over = o.either_way;
    p.max_tilt_deg = o.max_tilt;
    p.max_vents = o.max_vents;
    p.visible_mm = o.visible;
    p.channels = rules;
    p.gate = gate;
    p.vents = *vents;
    p.no_vent = *barred;
    auto made = plan_flow(mesh, rays, *cavity, p, progress);
    if (!made) return made.error();
    up = made->up;
    *vents = made->vents;
    if (made->gate) gate = made->gate->at_mm;
    Json tried = Json::array(), list = Json::array();
    for (const StandTried& s : made->tried)
      tried.push_back({{"turned_over", s.turned_over},
                       {"tilt_deg", s.tilt_deg},
                       {"azimuth_deg", s.azimuth_deg},
                       {"left_mm3", s.left_mm3},
                       {"vents", s.vents},
                       {"score", s.score}});
    for (const Vec3& v : made->vents) list.push_back(json_of(v));
    const MeshMeasure m = measure(mesh);
    Json clear = Json::array();
    for (const Vec3& v : made->vents)
      clear.push_back(plan_channel(rays, m.box_mm, v, mesh.normal(rays.closest(v).triangle), up,
                                   dot(m.box_mm.centre(), up) + length(m.box_mm.size()), false, "vent", rules)
                          .clear);
    planned = {{"up", json_of(made->up)},
               {"turned_over", made->turned_over},
               {"tilt_deg", made->tilt_deg},
               {"azimuth_deg", made->azimuth_deg},
               {"gate", made->gate ? json_of(made->gate->at_mm) : Json()},
               {"gate_place", made->gate ? gate_json(*made->gate) : Json()},
               {"vents", std::move(list)},
               {"vents_clear", std::move(clear)},
               {"left_mm3", made->left_mm3},
               {"reasons", made->reasons},
               {"tried", std::move(tried)}};
  }
  for (const Vec3& v : *vents) openings.push_back({v, 0});
  const auto s = sweep_air(*cavity, up, openings, progress);
  if (!s) return s.error();
  Json pockets = Json::array();
  for (const Pocket& p : s->pockets) {
    if (p.volume_mm3 < 1e-3) continue;
    double after = p.volume_mm3;
    if (o.vacuum > 0) after = after_vacuum_mm3(after, o.vacuum, o.altitude);
    if (o.pressure >= 0) after = under_pressure_mm3(after, o.pressure, o.altitude);
    pockets.push_back({{"apex", json_of(p.apex_mm)},
                       {"volume_mm3", p.volume_mm3},
                       {"saddle", p.saddle_mm ? json_of(*p.saddle_mm) : Json()},
                       {"depth_mm", p.saddle_mm ? Json(p.depth_mm) : Json()},
                       {"seen", pocket_seen(p, o.visible)},
                       {"volume_after_mm3", after}});
  }
  Json minutes, filling;
  if (gate) {
    const auto net = fill_network(mesh, rays, 25'000, progress);
    if (!net) return net.error();
    double top = -1e300;
    for (const Vec3& p : mesh.points) top = std::max(top, dot(p, up));
    FillConditions c;
    c.gate_level_mm = dot(*gate, up);
    c.sprue_top_mm = top + o.head;
    c.sprue_mm = o.sprue;
    c.sprue_long_mm = c.sprue_top_mm - c.gate_level_mm;
    c.doubling_min = o.pot_life / 2.5;
    c.viscosity_mpa_s = o.viscosity * std::pow(2.0, o.age / c.doubling_min);
    c.density_g_cm3 = o.density;
    if (o.vacuum > 0) c.extra_kpa = std::max(0.0, air_pressure_kpa(o.altitude) - o.vacuum);
    const auto course = fill_course(*net, up, {*gate}, c, 40, progress);
    if (!course) return course.error();
    const auto& stages = course->stages;
    const FillTime t = fill_time(stages, c);
    if (t.full_min) minutes = *t.full_min;
    filling = {{"filled_share", t.filled_share},
               {"sprue_share", t.sprue_share},
               {"pot_life_left_min", o.pot_life - o.age},
               {"viscosity_mpa_s", c.viscosity_mpa_s},
               {"levers", Json::array()}};
    for (const FillLever& l : fill_levers(stages, {}, c))
      filling["levers"].push_back({{"what", l.what}, {"fill_time_min", l.full_min ? Json(*l.full_min) : Json()}});
  }
  Json j{{"up", json_of(up)},
         {"voxel_mm", cavity->voxel_mm},
         {"cavity_mm3", cavity->total_mm3()},
         {"trapped_mm3", s->trapped_mm3},
         {"pockets", std::move(pockets)},
         {"fill_time_min", std::move(minutes)},
         {"filling", std::move(filling)}};
  if (o.plan) j["plan"] = std::move(planned);
  j["elapsed_ms"] = clock.ms();
  return j;
}

}  // namespace

void add_flow(CLI::App& app, Command& run) {
  auto o = std::make_shared<Options>();
  auto* c = app.add_subcommand("flow", "Where air stays while the mould fills, or how it should stand");
  c->add_option("FILE", o->file, "the cavity is the inside of this mesh")->required();
  c->add_option("--up", o->up, "x,y,z; with --plan: up when it stands level");
  c->add_option("--gate", o->gate, "x,y,z; with --plan: kept");
  const auto many = [&](const char* name, std::vector<std::string>& into, const char* words) {
    c->add_option(name, into, words)->expected(1)->multi_option_policy(CLI::MultiOptionPolicy::TakeAll);
  };
  many("--vent", o->vents, "x,y,z; may be given again; with --plan: kept");
  many("--no-vent", o->no_vents, "x,y,z; with --plan: none within 4 mm; may be given again");
  c->add_option("--open", o->open, "x,y,z,r: a disc open to the air");
  c->add_option("--voxel", o->voxel, "mm")->check(within(0.01, 100));
  c->add_option("--pressure-kpa", o->pressure, "gauge, of the pot")->check(within(0, 2000));
  c->add_option("--vacuum-kpa-abs", o->vacuum, "absolute, before flooding")->check(within(0.001, 110));
  c->add_option("--altitude-m", o->altitude)->check(within(-400.0, 9000.0));
  c->add_flag("--plan", o->plan, "Choose tilt, gate and vents");
  c->add_flag("--either-way-up", o->either_way, "The plan may turn it over");
  c->add_option("--max-tilt-deg", o->max_tilt)->check(within(0.0, 90.0));
  c->add_option("--max-vents", o->max_vents)->check(within(0, 40));
  c->add_option("--visible-mm", o->visible, "diameter of the smallest void that is seen")->check(within(0.01, 50.0));
  c->add_option("--sprue-mm", o->sprue, "diameter")->check(within(0.5, 60.0));
  c->add_option("--vent-mm", o->vent, "diameter")->check(within(0.2, 30.0));
  c->add_option("--head-mm", o->head, "of the resin over the part's highest place")->check(within(0.0, 2000.0));
  c->add_option("--viscosity", o->viscosity, "mPa·s as mixed")->check(within(0.5, 1e6));
  c->add_option("--density", o->density, "g/cm3")->check(within(0.3, 5.0));
  c->add_option("--pot-life-min", o->pot_life)->check(within(0.2, 1000.0));
  c->add_option("--age-min", o->age, "of the resin when the pour begins")->check(within(0, 1000));
  c->add_option("--unit", o->unit)->check(CLI::IsMember({"mm", "cm", "in"}));
  c->callback([o, &run] {
    if (o->up.empty() && !o->plan) throw CLI::RequiredError("--up or --plan");
    run = [o](const Progress& progress) -> Answer { return flow(*o, progress); };
  });
}

}  // namespace palinform::cli
