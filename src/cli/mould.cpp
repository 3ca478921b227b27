// palin mould.
#include <algorithm>
#include <cmath>
#include <numbers>

#include "asked.hpp"
#include "base/text.hpp"
#include "findings/mould.hpp"
#include "job/parts.hpp"
#include "mould/jacket.hpp"
#include "sheet_pdf.hpp"
#include "split/open_face.hpp"
#include "stages/building.hpp"
#include "stages/closing.hpp"
#include "stages/openings.hpp"
#include "stages/other_parts.hpp"

namespace palinform::cli {
namespace {

struct AskedOfMould {
  std::string file, pull, form, unit, keys = "studs", box = "screwed", out, flat, gate, up;
  std::vector<std::string> with, stages, openings, slides;
  bool dams = false;
  std::vector<std::string> vents;
  double sprue = 5, vent = 2;
  double wall = 0, pitch = 0, density = 1.1, master_g = -1, shore = 40, voxel = 0.3, clearance = 0.25, sheet = 6;
  double bed_u = 220, bed_v = 220;
  double floor = 0, top = 0;
  std::string heap, down = "planned", coats, brushed = "none";
  double over_pct = -1, heap_mm = 0, viscosity = 0, key_mm = 0, key_clear_mm = 0;
  int copies = 1, masters = 1;
  bool rubber_casting = false, dammed = false;
};

Json pours_json(const std::vector<RubberPour>& pours) {
  Json out = Json::array();
  for (const RubberPour& p : pours) {
    Json curve = Json::array();
    for (const HeightVolume& h : p.curve) curve.push_back({h.height_mm, h.volume_mm3});
    out.push_back({{"name", p.name},
                   {"volume_mm3", p.volume_mm3},
                   {"fill_height_mm", p.fill_height_mm},
                   {"first_stage", p.stage_mm3 > 0 ? Json{{"volume_mm3", p.stage_mm3},
                                                          {"fill_height_mm", p.stage_fill_mm},
                                                          {"frame_mm", {p.frame_u_mm, p.frame_v_mm}}}
                                                   : Json()},
                   {"curve_mm_mm3", std::move(curve)}});
  }
  return out;
}

/// How `up` is reached from the pull: which side up, by what tilt, which way.
void stand(FlowSetup& f, const Vec3& pull, const Vec3& up) {
  f.turned_over = dot(up, pull) < 0;
  const Vec3 q = frame_along(f.turned_over ? -pull : pull).direction(up);
  f.tilt_deg = std::acos(std::clamp(q.z, -1.0, 1.0)) * 180 / std::numbers::pi;
  f.azimuth_deg = f.tilt_deg > 1e-6 ? std::atan2(q.y, q.x) * 180 / std::numbers::pi : 0;
}

/// The middle of the largest face that looks along `normal`, within 2°.
Result<Vec3> flat_face(const OriginalResult& part, const Vec3& normal) {
  std::optional<uint32_t> best;
  for (uint32_t t = 0; t < part.mesh->triangles.size(); ++t)
    if (dot(part.mesh->normal(t), normal) > std::cos(2 * std::numbers::pi / 180) &&
        (!best || part.mesh->area_mm2(t) > part.mesh->area_mm2(*best)))
      best = t;
  if (!best) return Error{"no face looks that way", "--flat", "Give the outward normal of the hidden flat face."};
  return part.mesh->centre(*best);
}

/// The options as the job and the shop say them.
Status put_into_job(const AskedOfMould& o, Asked& asked) {
  Job& job = asked.job;
  job.copies = o.copies;
  job.mould.form = o.form;
  if (o.wall > 0) job.mould.wall_mm = o.wall;
  job.mould.keys = o.keys;
  if (named<BoxStyle>(o.box)) {
    job.mould.box = o.box;
  } else {
    const auto inside = parse_vector(o.box, "--box");
    if (!inside) return inside.error();
    job.mould.own_box = {"The box given", *inside, o.dammed};
  }
  if (o.floor > 0) job.mould.floor_mm = o.floor;
  if (o.top > 0) job.mould.top_mm = o.top;
  job.mould.masters = o.masters;
  job.mould.dams = o.dams;
  for (const std::string& s : o.stages) (s == "a" ? job.mould.stage_a : job.mould.stage_b) = true;
  job.mould.brushed = *named<Brushed>(o.brushed);
  if (job.mould.brushed != Brushed::none && brushed_half_of(job) == Brushed::none)
    return Error{"a half is brushed of a two-part block", "--brushed", "Take --form two-part, or leave it out."};
  if (o.master_g >= 0) job.mould.master_g = o.master_g;
  BuildSetup& b = job.mould.build;
  b.sheet_mm = o.sheet, b.clearance_mm = o.clearance, b.voxel_mm = o.voxel, b.bed_u_mm = o.bed_u, b.bed_v_mm = o.bed_v;
  asked.rubber().shore_a = o.shore;
  asked.rubber().density_g_cm3 = o.density;
  asked.rubber().clarity = "clear";
  if (o.rubber_casting) asked.resin().shore_a = o.shore;
  asked.study.mould_pitch_mm = o.pitch;
  if (!o.pull.empty()) {
    const auto pull = parse_direction(o.pull, "--pull");
    if (!pull) return pull.error();
    job.split.pull = *pull;
  }
  if (!o.flat.empty()) {
    const auto n = parse_direction(o.flat, "--flat");
    if (!n) return n.error();
    const auto place = flat_face(asked.mesh(), *n);
    if (!place) return place.error();
    job.original.marks.push_back({FaceMark::Kind::hidden, *place});
  }
  FlowSetup& f = job.flow;
  f.sprue_mm = o.sprue, f.vent_mm = o.vent;
  f.head_mm = 2;  // the cup is cut by hand into what stands over the box
  const auto place = [&](const std::string& text, const char* option) -> Result<Vec3> {
    const auto p = parse_vector(text, option);
    if (!p) return p.error();
    return asked.on_skin(*p);
  };
  if (!o.gate.empty()) {
    const auto p = place(o.gate, "--gate");
    if (!p) return p.error();
    f.gate = *p;
  }
  SqueezeSetup& s = f.squeeze;
  if (!o.heap.empty()) {
    const auto p = place(o.heap, "--heap");
    if (!p) return p.error();
    s.heap = *p;
  }
  if (o.heap_mm > 0) s.heap_mm = o.heap_mm;
  if (o.over_pct >= 0) s.over_pct = o.over_pct;
  s.down = *named<SetDown>(o.down);
  if (o.viscosity > 0) asked.resin().viscosity_mpa_s = o.viscosity;
  if (o.key_mm > 0) job.mould.key_mm = o.key_mm;
  if (o.key_clear_mm > 0) job.mould.key_clear_mm = o.key_clear_mm;
  if (!o.coats.empty()) {
    const auto coats = parse_numbers(o.coats);
    const bool ok = coats && coats->size() <= 20 &&
                    std::all_of(coats->begin(), coats->end(), [](double mm) { return mm >= 0.1 && mm <= 20; });
    if (!ok)
      return Error{"\"" + o.coats + "\" is no list of coats", "--coats",
                   "Give up to 20, of 0.1 to 20 mm each: \"1 1.4 1.4\""};
    for (const double mm : *coats) job.mould.coats.push_back(coat_by_rule(job.mould.coats.size(), mm));
  }
  for (const std::string& v : o.vents) {
    const auto p = place(v, "--vent");
    if (!p) return p.error();
    f.vents.push_back(*p);
  }
  return {};
}

double volume_mm3(const std::vector<BuiltMesh>& meshes, std::initializer_list<std::string_view> starts) {
  double sum = 0;
  for (const BuiltMesh& b : meshes)
    for (const std::string_view s : starts)
      if (b.name.starts_with(s)) sum += b.volume_mm3;
  return sum;
}

Json keys_json(const KeyPlan& keys, const Mould& m) {
  Json out = Json::array();
  for (const Key& k : keys.keys)
    out.push_back({{"kind", name_of(keys.kind)},
                   {"at", json_of(m.frame.direction_back(k.at_mm))},
                   {"radius_mm", k.radius_mm},
                   {"height_mm", k.height_mm},
                   {"half_length_mm", k.half_length_mm},
                   {"clearance_mm", k.clearance_mm}});
  return out;
}

Json panels_json(const BoxPlan& box) {
  Json out = Json::array();
  for (const CutPanel& p : box.panels)
    for (int n = 0; n < p.count; ++n)
      out.push_back({{"name", p.name},
                     {"width_mm", p.width_mm},
                     {"height_mm", p.height_mm},
                     {"thickness_mm", p.thickness_mm},
                     {"overlaps", p.overlaps},
                     {"screws", p.holes_mm.size()}});
  return out;
}

Json forms_json(const std::vector<FormPlan>& forms) {
  Json out = Json::array();
  for (const FormPlan& p : forms)
    out.push_back({{"form", name_of(p.form)},
                   {"works", p.works},
                   {"recommended", p.recommended},
                   {"rubber_mm3", p.rubber_mm3},
                   {"printed_mm3", p.hard_mm3},
                   {"resin_waste_mm3", p.resin_waste_mm3},
                   {"hands_min", p.hands_min},
                   {"pulls", p.pulls},
                   {"cost", p.cost},
                   {"line_quality", p.line_quality},
                   {"reasons", p.reasons}});
  return out;
}

Json closing_json(const ClosingResult& r) {
  Json pockets = Json::array();
  for (const ClosingPocket& p : r.closing.pockets)
    pockets.push_back({{"apex", json_of(p.apex_mm)}, {"volume_mm3", p.volume_mm3}, {"wide_mm", p.wide_mm}});
  const Vec3 heap = r.grid.frame.direction_back({r.how.heap_mm.x, r.how.heap_mm.y, 0});
  return {{"holds_resin", r.turned_over ? "a" : "b"},
          {"poured_mm3", r.how.resin_mm3},
          {"over_pct", r.over_pct},
          {"heap", json_of(heap)},
          {"heap_from_wall_mm", {r.heap_from_wall_mm.x, r.heap_from_wall_mm.y}},
          {"heap_mm", r.how.heap_high_mm},
          {"set_down", r.how.hinge_deg ? set_down_words(r.how.hinge_deg) : "level"},
          {"weight_kg", r.weight_kg},
          {"ran_over_mm3", r.closing.ran_over_mm3},
          {"short_mm3", r.closing.short_mm3},
          {"trapped_mm3", r.closing.trapped_mm3},
          {"other_way_trapped_mm3", r.other_way_mm3},
          {"brush_first", r.brushed.size()},
          {"pockets", std::move(pockets)}};
}

Answer mould(const AskedOfMould& o, const Progress& progress) {
  const Stopwatch clock;
  auto about = Asked::about(o.file, o.unit, progress);
  if (!about) return about.error();
  Asked& asked = **about;
  if (auto ok = put_into_job(o, asked); !ok) return ok.error();
  for (const std::string& file : o.with)
    if (auto ok = asked.add_part(file, o.unit, progress); !ok) return ok.error();
  if (auto ok = settle_openings(asked, o.openings, progress); !ok) return ok.error();
  if (auto ok = slide_pockets(asked, o.slides, progress); !ok) return ok.error();
  if (!o.up.empty()) {
    const auto up = parse_direction(o.up, "--up");
    if (!up) return up.error();
    if (auto ok = asked.plan(with_split({}), progress); !ok) return ok.error();
    stand(asked.job.flow, asked[results::split].split.pull, *up);
  }
  std::vector<std::string_view> wanted{"beds",  "pins", "opening-advice", "other-parts", "mould",
                                       "forms", "ways", "keys",           "channels"};
  if (o.form == name_of(Form::squeeze)) wanted.insert(wanted.end(), {"closing", "other-closings"});
  if (auto ok = asked.plan(with_split(std::move(wanted)), progress); !ok) return ok.error();
  const Job& job = asked.job;
  const OriginalResult& part = asked[results::master];
  const Split& split = asked[results::split].split;
  const std::vector<Bore>& bores = asked[results::bores].bores;
  const auto made = asked.maybe(results::mould);
  const auto forms = asked.maybe(results::forms);
  if (!made || !forms)
    return Error{"there is no line to split along", base_name(o.file),
                 "This pull leaves nothing for the other half: give another with --pull."};
  const Mould& m = made->block();
  const MasterSet* set = made->set.get();
  const FormPlan& form = forms->plan();
  const bool keyed = forms->halved() || form.form == Form::cut;
  KeyPlan keys;
  if (form.form == Form::cut) keys = place_keys(m, KeyKind::wave, asked.shop.rules.mould.keys);
  const auto placed = asked.maybe(results::keys);
  if (placed) keys = placed->plan;
  std::vector<Finding> findings = made->findings;
  const auto tell = [&](const std::vector<Finding>& more) {
    findings.insert(findings.end(), more.begin(), more.end());
  };
  if (keyed) tell(placed ? placed->findings : key_findings(keys, asked.shop.rules.mould.keys));
  for (const Finding& f : forms->findings)
    if (f.severity == Severity::stop) findings.push_back(f);
  std::vector<PinPlan> pins;
  for (const Undercut& u : asked[results::undercuts].undercuts)
    if (const Bore* b = bore_of(u, bores))
      pins.push_back(plan_pin(*part.rays, *b, m.wall_mm, std::nullopt, "Pin " + std::to_string(pins.size() + 1),
                              asked.shop.rules.split.pin));
  if (const auto slides = asked.maybe(results::pins)) {
    pins.insert(pins.end(), slides->pins.begin(), slides->pins.end());
    for (const Finding& f : slides->findings)
      if (f.severity != Severity::note) findings.push_back(f);
  }
  if (const auto openings = asked.maybe(results::opening_advice))
    for (const Finding& f : openings->findings)
      if (f.severity == Severity::stop) findings.push_back(f);
  Json files = Json::array(), solids = Json::array(), built_mm3;
  double rubber = 0, printed = form.hard_mm3;
  if (!o.out.empty()) {
    const auto channels = asked.maybe(results::channels);
    BuildOrder order = build_order(job, asked.shop, *forms, nullptr, channels.get(), &asked[results::pieces],
                                   asked.maybe(results::inserts).get());
    add_film_gaps(order.parts.sockets, part, asked.maybe(results::openings).get(), job.split.openings, split.pull,
                  in_halves(order.form), order.voxel_mm);
    const auto others = channels ? asked.maybe(results::other_parts) : nullptr;
    order.parts.pins = pins;
    order.parts = all_in_box(order.parts, others.get(), *made, channels ? channels->up : Vec3{}, job.flow);
    pins = order.parts.pins;
    MouldOptions how = made->how;
    how.pitch_mm = o.pitch;
    const auto built =
        build_files(set ? *set->mesh : *part.mesh, set ? *set->rays : *part.rays, set ? set->split : split, how, keys,
                    bores, forms->box, order, base_name(o.file), progress);
    if (!built) return built.error();
    const PaperSession paper;
    const auto written = write_build_files(*built, o.out);
    if (!written) return written.error();
    for (const std::string& w : *written) files.push_back(w);
    for (const BuiltMesh& b : built->meshes)
      solids.push_back({{"name", b.name},
                        {"triangles", b.mesh.triangles.size()},
                        {"volume_mm3", b.volume_mm3},
                        {"print_h", b.print_h}});
    tell(built->findings);
    // What is written is what is told.
    const double jacket = volume_mm3(built->meshes, {"jacket_", "backing_"}),
                 print = volume_mm3(built->meshes, {"cup_", "core"});
    const double poured = volume_mm3(built->meshes, {"rubber_", "skin", "strip_rubber"});
    built_mm3 = {{"rubber", poured},
                 {"jacket", jacket},
                 {"print", print},
                 {"part", m.part_mm3},
                 {"channels", built->channels_mm3}};
    if (jacket + print > 0) printed = jacket + print;
  }
  std::vector<RubberPour> pours = form.pours;
  for (const RubberPour& p : pours) rubber += p.volume_mm3;
  const BoxPlan& box = forms->box;
  const auto& hold_down = forms->halved() ? m.hold_down_n : m.hold_down_whole_n;
  Json open_face;
  if (form.form == Form::open) {
    OpenFaceOptions how;
    how.shore_a = o.shore;
    how.rule = asked.shop.rules.split.flex;
    const auto faces = open_faces(*part.mesh, *part.rays, how, forms->flat_normal, progress);
    if (faces && !faces->empty()) {
      const OpenFace& f = faces->front();
      open_face = {{"normal", json_of(f.normal)},
                   {"area_mm2", f.area_mm2},
                   {"share", f.share},
                   {"verdict", name_of(f.verdict)},
                   {"reach_mm", f.reach_mm},
                   {"mouth_mm", f.mouth_mm},
                   {"slit_mm", f.slit_mm},
                   {"why", f.why}};
    }
  }
  if (!box.own.empty() && !box.works && form.boxes > 0)
    return Error{lower_ascii(box.told), "--box",
                 "It should be " + fixed(forms->needed_mm.x, 0) + " × " + fixed(forms->needed_mm.y, 0) + " × " +
                     fixed(forms->needed_mm.z + asked.shop.rules.mould.box.rim_mm, 0) + " mm inside at least."};
  Json plates = Json::array();
  for (const DamPlate& d : box.plates)
    plates.push_back({{"where", d.where},
                      {"from_end_mm", d.from_end_mm},
                      {"wide_mm", d.wide_mm},
                      {"high_mm", d.high_mm},
                      {"saves_mm3", d.saves_mm3}});
  Json j{{"form", o.form},
         {"works", form.works},
         {"open_face", std::move(open_face)},
         {"pull", json_of(split.pull)},
         {"wall_mm", m.wall_mm},
         {"box_mm", {{"inner", json_of(form.boxes > 0 ? box.inner_mm : form.box_mm)}}},
         {"part_mm3", m.part_mm3},
         {"rubber_mm3", {{"total", rubber}, {"error", m.volume_error_mm3}, {"pours", pours_json(pours)}}},
         {"printed_mm3", printed},
         {"built_mm3", std::move(built_mm3)},
         {"keys", keyed ? keys_json(keys, m) : Json::array()},
         {"assembly_unique", keyed ? Json(keys.assembly_unique) : Json()},
         {"hold_down_N", hold_down ? Json(*hold_down) : Json()},
         {"panels", form.boxes > 0 ? panels_json(box) : Json::array()},
         {"box",
          {{"style", name_of(box.style)},
           {"told", box.told},
           {"bricks", box.bricks},
           {"more_rubber_mm3", box.more_rubber_mm3},
           {"needed_mm", json_of(forms->needed_mm)},
           {"plates", std::move(plates)}}},
         {"pockets", pockets_json(asked)},
         {"castings_a_pull", form.castings_a_pull},
         {"forms", forms_json(forms->plans)},
         {"line", name_of(split.kind)}};
  Json kept_out = Json::array();
  for (const KeptOut& k : m.kept_out)
    if (forms->halved()) kept_out.push_back({{"what", k.dam ? "dam" : "frame"}, {"size_mm", json_of(k.box_mm.size())}});
  j["kept_out"] = std::move(kept_out);
  if (forms->brushed) {
    Json coats = Json::array();
    double brushed_mm3 = 0;
    for (const RubberPour& p : form.pours)
      if (p.side == forms->brushed->side) {
        coats.push_back({{"mm", p.fill_height_mm}, {"volume_mm3", p.volume_mm3}});
        brushed_mm3 += p.volume_mm3;
      }
    j["brushed"] = {{"half", forms->brushed->side},
                    {"coats", std::move(coats)},
                    {"rubber_mm3", brushed_mm3},
                    {"filler_mm3", forms->brushed->filler_mm3},
                    {"backing_mm3", form.hard_mm3}};
  }
  j["masters"] = forms->halved() && set ? set->masters.size() : static_cast<size_t>(form.castings_a_pull);
  if (placed && placed->rim)
    j["rim"] = {{"layers", placed->rim->layers},   {"lip_mm", placed->rim->lip_mm},
                {"play_mm", placed->rim->play_mm}, {"misfit_mm", placed->rim->misfit_mm},
                {"holds_N", placed->rim->holds_n}, {"enters", placed->rim->enters()}};
  if (form.form == Form::strip) {
    Json cut;
    if (form.strip_cut)
      cut = {{"from", form.strip_cut->from_face ? "face" : "side"},
             {"at_mm", form.strip_cut->at_mm},
             {"deep_mm", form.strip_cut->deep_mm},
             {"long_mm", form.strip_cut->long_mm}};
    size_t hung = static_cast<size_t>(form.castings_a_pull);
    for (const OnBar& b : forms->on_bar) hung += static_cast<size_t>(b.many);
    j["strip"] = {{"parts", hung}, {"struts", form.struts}, {"cut", std::move(cut)}};
  }
  if (form.form == Form::open) {
    Json grooves = Json::array();
    for (const Groove& g : forms->grooves)
      grooves.push_back({{"volume_mm3", g.volume_mm3}, {"deep_mm", g.deep_mm}, {"at_mm", json_of(g.at_mm)}});
    j["grooves"] = std::move(grooves);
  }
  if (form.form == Form::cup_core) j["cup_line_mm"] = forms->cup_line_mm;
  if (form.form == Form::squeeze) {
    j["closing"] = closing_json(asked[results::closing]);
    for (const Finding& f : asked[results::closing].findings) findings.push_back(f);
    if (const auto others = asked.maybe(results::other_closings)) {
      Json more = Json::array();
      for (const OtherClosingsResult::Of& other : others->parts) {
        Json one = closing_json(other.closing);
        one["part"] = other.name;
        more.push_back(std::move(one));
      }
      j["closing"]["others"] = std::move(more);
      for (const Finding& f : others->findings) findings.push_back(f);
    }
  }
  j["files"] = std::move(files);
  if (!o.out.empty()) j["solids"] = std::move(solids);
  j["findings"] = findings_json(findings);
  j["elapsed_ms"] = clock.ms();
  return j;
}

}  // namespace

void add_mould(CLI::App& app, Command& run) {
  auto o = std::make_shared<AskedOfMould>();
  auto* c = app.add_subcommand("mould", "Box, rubber, keys and what to build for a part");
  c->add_option("FILE", o->file)->required();
  c->add_option("--pull", o->pull, "x,y,z; searched when left out");
  c->add_option("--form", o->form)
      ->required()
      ->check(CLI::IsMember({"open", "two-part", "squeeze", "cut", "skin", "putty", "cup-core", "strip", "pieces"}));
  c->add_option("--wall", o->wall, "mm of rubber around the part; by the rule when left out")->check(within(0.5, 500));
  c->add_option("--keys", o->keys)->check(CLI::IsMember({"studs", "bars", "rim", "bed", "pins"}));
  c->add_option("--box", o->box,
                "How it is built (screwed, glued, cut-in-two, bricks, tub, tube), or its inside: x,y,z")
      ->check([](const std::string& given) {
        return named<BoxStyle>(given) || given.find(',') != std::string::npos
                   ? std::string()
                   : "\"" + given + "\" is neither a way to build a box nor its inside";
      });
  c->add_flag("--dammed", o->dammed, "Plates close off what the part does not need of a given box");
  c->add_option("--floor", o->floor, "mm of rubber under the part; by the rule when left out")->check(within(0.5, 500));
  c->add_option("--top", o->top, "mm of rubber over the part; by the rule when left out")->check(within(0.5, 500));
  c->add_option("--masters", o->masters, "in one box")->check(within(1, 24));
  add_opening_option(*c, o->openings);
  add_slide_option(*c, o->slides);
  c->add_option("--with", o->with, "Another part in the same box, or on the same bar; may be given again");
  c->add_flag("--dams", o->dams, "Blocks in the empty corners of a box made to measure");
  c->add_option("--stages", o->stages, "a, b: that pour in two stages; may be given again")
      ->check(CLI::IsMember({"a", "b"}));
  c->add_option("--flat", o->flat, "x,y,z: outward normal of the hidden flat face, for open and strip");
  c->add_option("--copies", o->copies)->check(within(1, 100000));
  c->add_flag("--rubber-casting", o->rubber_casting, "The casting itself is rubber (cup and core)");
  c->add_option("--hardness-a", o->shore, "Shore A of the mould's rubber")->check(within(0.0, 90.0));
  c->add_option("--pitch", o->pitch, "mm between columns")->check(within(0.02, 50));
  c->add_option("--rubber-density", o->density, "g/cm3")->check(within(0.2, 25));
  c->add_option("--master-g", o->master_g, "mass of the master, for the hold-down force")->check(within(0, 1e7));
  c->add_option("--out", o->out, "Folder for halves, board and frame (STL) and templates (DXF, SVG, PDF)");
  c->add_option("--voxel", o->voxel, "mm, of what is written")->check(within(0.05, 5.0));
  c->add_option("--clearance", o->clearance, "mm between master and board")->check(within(0.0, 3.0));
  c->add_option("--sheet", o->sheet, "thickness of the panels, mm")->check(within(0.5, 40.0));
  c->add_option("--bed-u", o->bed_u, "mm of the printer's bed")->check(within(20.0, 2000.0));
  c->add_option("--bed-v", o->bed_v, "mm of the printer's bed")->check(within(20.0, 2000.0));
  c->add_option("--gate", o->gate, "x,y,z: cut into the halves");
  c->add_option("--vent", o->vents, "x,y,z: cut into the halves; may be given again")
      ->expected(1)
      ->multi_option_policy(CLI::MultiOptionPolicy::TakeAll);
  c->add_option("--up", o->up, "x,y,z: up while it fills; the pull where not given");
  c->add_option("--sprue-mm", o->sprue, "diameter")->check(within(1, 40));
  c->add_option("--vent-mm", o->vent, "diameter")->check(within(0.3, 20));
  c->add_option("--heap", o->heap, "x,y,z: over which a squeeze's resin is heaped; searched when left out");
  c->add_option("--heap-mm", o->heap_mm, "how high it stands")->check(within(0.1, 100));
  c->add_option("--over-pct", o->over_pct, "poured over into a squeeze mould")->check(within(0.0, 200.0));
  c->add_option("--down", o->down, "end of a squeeze's upper half that is set down first")
      ->check(CLI::IsMember({"planned", "level", "right", "back", "left", "front"}));
  c->add_option("--viscosity", o->viscosity, "mPa·s of the casting material")->check(within(1, 1e6));
  c->add_option("--coats", o->coats, "mm of each coat of what is brushed, from the part outward: \"1 1.4 1.4\"");
  c->add_option("--brushed", o->brushed, "half of a two-part block that is brushed on and backed in the box: a, b")
      ->check(CLI::IsMember({"none", "a", "b"}));
  c->add_option("--key-mm", o->key_mm, "across a key's foot; by the rule when left out")->check(within(1, 100));
  c->add_option("--key-clear-mm", o->key_clear_mm, "least from a key to part and wall")->check(within(0.2, 100));
  c->add_option("--unit", o->unit)->check(CLI::IsMember({"mm", "cm", "in"}));
  c->callback([o, &run] { run = [o](const Progress& progress) -> Answer { return mould(*o, progress); }; });
}

}  // namespace palinform::cli
