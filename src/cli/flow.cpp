// palin flow: where the air stays for one up-direction, how long filling takes, or the whole plan.
#include "asked.hpp"
#include "shop.hpp"
#include "base/text.hpp"
#include "job/apply.hpp"
#include "stages/flowing.hpp"

namespace palinform::cli {
namespace {

struct AskedOfFlow {
  std::string file, up, gate, open, unit;
  std::vector<std::string> vents, no_vents, openings, inserts;
  double insert_density = 7.85;
  double voxel = 0, pressure = -1, vacuum = -1, altitude = 0;
  bool plan = false, either_way = false, keep_vents = false;
  double max_tilt = 45, visible = 0.5;
  int max_vents = 6;
  double sprue = 5, vent = 2, head = 60, viscosity = 300, density = 1.08, pot_life = 8, age = 3;
};

Json gate_json(const GatePlace& g) {
  return {{"at", json_of(g.at_mm)}, {"thickness_mm", g.thick_mm}, {"height_share", g.height_share}, {"clear", g.clear}};
}

Json plan_json(const FlowPlan& plan) {
  Json tried = Json::array(), vents = Json::array();
  for (const StandTried& s : plan.tried)
    tried.push_back({{"turned_over", s.turned_over},
                     {"tilt_deg", s.tilt_deg},
                     {"azimuth_deg", s.azimuth_deg},
                     {"left_mm3", s.left_mm3},
                     {"vents", s.vents},
                     {"score", s.score}});
  for (const Vec3& v : plan.vents) vents.push_back(json_of(v));
  return {{"up", json_of(plan.up)},
          {"turned_over", plan.turned_over},
          {"tilt_deg", plan.tilt_deg},
          {"azimuth_deg", plan.azimuth_deg},
          {"gate", plan.gate ? json_of(plan.gate->at_mm) : Json()},
          {"gate_place", plan.gate ? gate_json(*plan.gate) : Json()},
          {"vents", std::move(vents)},
          {"vents_clear", Json::array()},
          {"left_mm3", plan.left_mm3},
          {"reasons", plan.reasons},
          {"tried", std::move(tried)}};
}

Answer flow(const AskedOfFlow& o, const Progress& progress) {
  const Stopwatch clock;
  auto about = Asked::about(o.file, o.unit, progress);
  if (!about) return about.error();
  Asked& asked = **about;
  FlowSetup& f = asked.job.flow;
  asked.study.cavity_alone = true;
  asked.study.cell_mm = o.voxel;
  asked.study.least_pocket_share = 0;
  if (!rough_look()) {
    asked.study.cavity_cells = 1e6;
    asked.study.network_cells = 25'000;
    asked.study.finalists = 12;
    asked.study.tilt_step_deg = 5;
    asked.study.azimuths = 48;
  }
  asked.study.either_way = o.either_way;
  asked.shop.rules.flow.visible_void_mm = o.visible;
  // Minutes since mixing began, all of them before the pour.
  asked.shop.rules.mix.mix_min = o.age;
  asked.resin().viscosity_mpa_s = o.viscosity;
  asked.resin().density_g_cm3 = o.density;
  asked.resin().pot_life_min = o.pot_life;
  asked.job.size.room_c = asked.resin().reference_c;
  f.sprue_mm = o.sprue, f.vent_mm = o.vent, f.head_mm = o.head;
  f.max_tilt_deg = o.max_tilt, f.max_vents = o.max_vents;
  f.altitude_m = o.altitude;
  if (o.vacuum > 0) f.aid = FillAid::vacuum, f.vacuum_kpa = o.vacuum;
  if (o.pressure >= 0) f.aid = FillAid::pressure, f.pressure_kpa = o.pressure;
  if (auto ok = settle_openings(asked, o.openings, progress); !ok) return ok.error();
  for (const std::string& file : o.inserts)
    if (auto ok = asked.add_insert(file, o.unit, o.insert_density, progress); !ok) return ok.error();
  asked.job.split.pull = Vec3{0, 0, 1};
  if (!o.up.empty()) {
    const auto up = parse_direction(o.up, "--up");
    if (!up) return up.error();
    asked.job.split.pull = *up;
  }
  const auto on_skin = [&](const std::vector<std::string>& given, const char* option,
                           std::vector<Vec3>& into) -> Status {
    for (const std::string& v : given) {
      const auto p = parse_vector(v, option);
      if (!p) return p.error();
      into.push_back(asked.on_skin(*p));
    }
    return {};
  };
  if (auto ok = on_skin(o.vents, "--vent", f.vents); !ok) return ok.error();
  if (auto ok = on_skin(o.no_vents, "--no-vent", f.no_vents); !ok) return ok.error();
  if (!o.gate.empty()) {
    std::vector<Vec3> at;
    if (auto ok = on_skin({o.gate}, "--gate", at); !ok) return ok.error();
    f.gate = at.front();
  }
  f.keep_gate = f.gate.has_value(), f.keep_vents = !f.vents.empty();
  if (!o.open.empty()) {
    std::string spaced = o.open;
    for (char& ch : spaced)
      if (ch == ',') ch = ' ';
    const auto n = parse_numbers(spaced);
    if (!n || n->size() != 4 || (*n)[3] <= 0)
      return Error{"\"" + o.open + "\" is no disc", "--open", "Write x,y,z,r with r above zero."};
    asked.study.open.push_back({{(*n)[0], (*n)[1], (*n)[2]}, (*n)[3]});
  }
  if (o.vacuum > air_pressure_kpa(o.altitude))
    return Error{shortest(o.vacuum) + " kPa absolute is more than the air there has, " +
                     fixed(air_pressure_kpa(o.altitude), 1) + " kPa",
                 "--vacuum-kpa-abs", "Give what is left in the chamber, as in 4."};
  std::vector<std::string_view> wanted{"original", "prepared", "master", "cavity"};
  if (!o.openings.empty()) wanted.push_back("openings");
  Json inserts;
  if (!o.inserts.empty()) {
    for (const char* slot : {"inserts", "insert-advice"}) wanted.push_back(slot);
    std::vector<std::string_view> first{"original", "prepared", "openings", "master", "inserts", "insert-advice"};
    if (auto ok = asked.plan(first, progress); !ok) return ok.error();
    auto told = inserts_json(asked);
    if (!told) return told.error();
    inserts = *std::move(told);
  }
  Json planned;
  if (o.plan) {
    wanted.push_back("air-plan");
    if (auto ok = asked.plan(wanted, progress); !ok) return ok.error();
    const FlowPlan& plan = asked[results::air_plan].plan;
    planned = plan_json(plan);
    auto next = edited(asked.job, stand_so(plan));
    if (!next) return next.error();
    asked.job = *std::move(next);
  }
  for (const char* slot : {"flow", "channels"}) wanted.push_back(slot);
  if (f.gate) wanted.insert(wanted.end(), {"network", "filling"});
  if (auto ok = asked.plan(wanted, progress); !ok) return ok.error();
  const FlowResult& air = asked[results::flow];
  if (o.plan) {
    planned["vents_clear"] = Json::array();
    for (const Channel& c : asked[results::channels].channels)
      if (!c.gate) planned["vents_clear"].push_back(c.clear);
  }
  Json pockets = Json::array();
  for (const PocketSeen& seen : air.pockets) {
    const Pocket& p = seen.pocket;
    if (p.volume_mm3 < 1e-3) continue;
    // Flooded under vacuum and then put under pressure: the one acts on what the other leaves.
    const double after =
        o.vacuum > 0 && o.pressure >= 0 ? after_vacuum_mm3(seen.after_mm3, o.vacuum, o.altitude) : seen.after_mm3;
    pockets.push_back({{"apex", json_of(p.apex_mm)},
                       {"volume_mm3", p.volume_mm3},
                       {"saddle", p.saddle_mm ? json_of(*p.saddle_mm) : Json()},
                       {"depth_mm", p.saddle_mm ? Json(p.depth_mm) : Json()},
                       {"seen", pocket_seen(p, o.visible)},
                       {"volume_after_mm3", after}});
  }
  Json minutes, filling;
  if (f.gate) {
    const FillingResult& r = asked[results::filling];
    if (r.time.full_min) minutes = *r.time.full_min;
    filling = {{"filled_share", r.time.filled_share},
               {"sprue_share", r.time.sprue_share},
               {"pot_life_left_min", r.left_min},
               {"viscosity_mpa_s", r.conditions.viscosity_mpa_s},
               {"levers", Json::array()}};
    for (const FillLever& l : r.levers)
      filling["levers"].push_back({{"what", l.what}, {"fill_time_min", l.full_min ? Json(*l.full_min) : Json()}});
  }
  Json j{{"up", json_of(air.up)},          {"voxel_mm", air.voxel_mm},      {"cavity_mm3", air.cavity_mm3},
         {"trapped_mm3", air.trapped_mm3}, {"pockets", std::move(pockets)}, {"fill_time_min", std::move(minutes)},
         {"filling", std::move(filling)}};
  if (o.plan) j["plan"] = std::move(planned);
  if (!o.inserts.empty()) {
    j["inserts"] = std::move(inserts);
    j["findings"] = findings_json(asked[results::insert_advice].findings);
  }
  j["elapsed_ms"] = clock.ms();
  return j;
}

}  // namespace

void add_flow(CLI::App& app, Command& run) {
  auto o = std::make_shared<AskedOfFlow>();
  auto* c = app.add_subcommand("flow", "Where air stays while the mould fills, or how it should stand");
  c->add_option("FILE", o->file, "the cavity is the inside of this mesh")->required();
  c->add_option("--up", o->up, "x,y,z; with --plan: up when it stands level");
  c->add_option("--gate", o->gate, "x,y,z; with --plan: kept");
  const auto many = [&](const char* name, std::vector<std::string>& into, const char* words) {
    c->add_option(name, into, words)->expected(1)->multi_option_policy(CLI::MultiOptionPolicy::TakeAll);
  };
  many("--vent", o->vents, "x,y,z; may be given again; with --plan: kept");
  add_opening_option(*c, o->openings);
  many("--insert", o->inserts, "a closed mesh that is cast in, in the part's frame; may be given again");
  c->add_option("--insert-density", o->insert_density, "g/cm3")->check(within(0.01, 25));
  many("--no-vent", o->no_vents, "x,y,z; with --plan: none within 4 mm; may be given again");
  c->add_option("--open", o->open, "x,y,z,r: a disc open to the air");
  c->add_option("--voxel", o->voxel, "mm")->check(within(0.01, 100));
  c->add_option("--pressure-kpa", o->pressure, "gauge, of the pot")->check(within(0, 1000));
  c->add_option("--vacuum-kpa-abs", o->vacuum, "absolute, before flooding")->check(within(0.01, 101));
  c->add_option("--altitude-m", o->altitude)->check(within(-400.0, 5000.0));
  c->add_flag("--plan", o->plan, "Choose tilt, gate and vents");
  c->add_flag("--either-way-up", o->either_way, "The plan may turn it over");
  c->add_option("--max-tilt-deg", o->max_tilt)->check(within(0.0, 90.0));
  c->add_option("--max-vents", o->max_vents)->check(within(0, 40));
  c->add_option("--visible-mm", o->visible, "diameter of the smallest void that is seen")->check(within(0.01, 50.0));
  c->add_option("--sprue-mm", o->sprue, "diameter")->check(within(1, 40));
  c->add_option("--vent-mm", o->vent, "diameter")->check(within(0.3, 20));
  c->add_option("--head-mm", o->head, "of the resin over the part's highest place")->check(within(0, 1000));
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
