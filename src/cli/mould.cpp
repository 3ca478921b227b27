// palin mould.
#include "base/text.hpp"
#include "flow/channels.hpp"
#include "mix/catalogue.hpp"
#include "mould/jacket.hpp"
#include "sheet_pdf.hpp"
#include "solid.hpp"
#include "split/pieces.hpp"
#include "split/undercuts.hpp"
#include "stages/building.hpp"

namespace palinform::cli {
namespace {

struct Options {
  std::string file, pull, form, unit, keys = "studs", box = "screwed", out, flat, gate, up;
  std::vector<std::string> vents;
  double sprue = 5, vent = 2;
  double wall = 0, pitch = 0, density = 1.1, master_g = -1, shore = 40, voxel = 0.3, clearance = 0.25, sheet = 6;
  double bed_u = 220, bed_v = 220;
  int copies = 1;
  bool rubber_casting = false;
};

Json pours_json(const std::vector<RubberPour>& pours) {
  Json out = Json::array();
  for (const RubberPour& p : pours) {
    Json curve = Json::array();
    for (const HeightVolume& h : p.curve) curve.push_back({h.height_mm, h.volume_mm3});
    out.push_back({{"name", p.name},
                   {"volume_mm3", p.volume_mm3},
                   {"fill_height_mm", p.fill_height_mm},
                   {"curve_mm_mm3", std::move(curve)}});
  }
  return out;
}

/// Gate and vents as asked for, standing with `--up` up (the pull where it is not given).
Result<std::vector<Channel>> channels_of(const Options& o, const Solid& solid, const Mould& m) {
  std::vector<Channel> out;
  Vec3 up = m.frame.rows[2];
  if (!o.up.empty()) {
    const auto given = parse_vector(o.up, "--up");
    if (!given) return given.error();
    if (length(*given) < 1e-9) return Error{"up has no direction", "--up", "Give a vector that is not nought."};
    up = unit(*given);
  }
  ChannelRules rules;
  rules.gate_mm = o.sprue, rules.vent_mm = o.vent;
  const double top = top_along(m.inner_mm, m.frame, up) + 2;
  std::vector<std::string> places = o.vents;
  if (!o.gate.empty()) places.insert(places.begin(), o.gate);
  for (size_t k = 0; k < places.size(); ++k) {
    const bool gate = k == 0 && !o.gate.empty();
    const auto p = parse_vector(places[k], gate ? "--gate" : "--vent");
    if (!p) return p.error();
    const SurfacePoint on = solid.rays->closest(*p);
    out.push_back(plan_channel(*solid.rays, measure(solid.mesh).box_mm, on.point_mm, solid.mesh.normal(on.triangle), up,
                               top, gate, gate ? "gate" : "vent " + std::to_string(k + (o.gate.empty() ? 1 : 0)),
                               rules));
  }
  return out;
}

Answer mould(const Options& o, const Progress& progress) {
  const Stopwatch clock;
  const auto solid = load_solid(o.file, o.unit, progress);
  if (!solid) return solid.error();
  const auto parted = split_of(*solid, o.pull, {}, progress);
  if (!parted) return parted.error();
  const Split& s = parted->split;
  const double rule = wall_by_rule_mm(own_size_mm(solid->mesh), o.shore, {});
  MouldOptions how;
  how.wall_mm = o.wall > 0 ? o.wall : rule;
  how.pitch_mm = o.pitch;
  how.rubber_density_g_cm3 = o.density;
  how.panel_mm = o.sheet;
  if (o.master_g >= 0) how.master_g = o.master_g;
  const auto m = two_part_mould(solid->mesh, s, how, progress);
  if (!m) return m.error();
  const auto undercuts = find_undercuts(solid->mesh, s, {0, o.shore, {}}, progress);
  if (!undercuts) return undercuts.error();
  FormFacts f;
  f.wall_mm = how.wall_mm;
  f.shore_a = o.shore;
  f.rubber_density_g_cm3 = o.density;
  f.see_through = true;
  f.resin_is_rubber = o.rubber_casting;
  f.copies = o.copies;
  if (!o.flat.empty()) {
    const auto n = parse_vector(o.flat, "--flat");
    if (!n) return n.error();
    if (length(*n) < 1e-9)
      return Error{"the flat face's normal has no direction", "--flat", "Give a vector that is not nought."};
    f.flat_normal = unit(*n);
  }
  std::vector<PinPlan> pins;
  for (const Undercut& u : *undercuts) {
    const Bore* b = bore_of(u, parted->bores);
    if (b)
      pins.push_back(plan_pin(*solid->rays, *b, how.wall_mm, std::nullopt, "Pin " + std::to_string(pins.size() + 1)));
    else
      (u.flexes && !u.tunnel() ? f.undercuts : f.need_help)++;
  }
  f.pins = static_cast<int>(pins.size());
  std::vector<ExtraPiece> pieces;
  if (*named<Form>(o.form) == Form::pieces) {
    auto found = find_pieces(solid->mesh, solid->pairs, *solid->rays, s, {}, {}, {}, progress);
    if (!found) return found.error();
    pieces = std::move(found->pieces);
    f.extra_pieces = static_cast<int>(pieces.size());
  }
  const auto channels = channels_of(o, *solid, *m);
  if (!channels) return channels.error();
  const auto forms = plan_forms(solid->mesh, *solid->rays, s, *m, parted->bores, f, {}, progress);
  if (!forms) return forms.error();
  const FormPlan& form = (*forms)[static_cast<size_t>(*named<Form>(o.form))];
  const KeyPlan keys = place_keys(*m, form.form == Form::cut ? KeyKind::wave : *named<KeyKind>(o.keys));
  const bool keyed = in_halves(form.form) || form.form == Form::cut;
  double split_mm = 0.5 * form.box_mm.z;
  if (keyed && !m->parting_mm.empty()) split_mm = static_cast<double>(m->parting_mm.front()) - m->inner_mm.min.z;
  const BoxPlan box = plan_box(form.box_mm, split_mm, *named<BoxStyle>(o.box), BoxRules{o.sheet, 8, 9.6, 8, 12, 60},
                               tube_for(solid->mesh, m->frame, m->wall_mm));
  std::vector<Finding> findings = mould_findings(*m, rule);
  if (keyed)
    for (Finding& k : key_findings(keys, {})) findings.push_back(std::move(k));
  if (!form.works) {
    Finding no{"form-does-not-work", Severity::stop, {}, "", "", {}};
    no.what = std::string(words_of(form.form)) + " does not suit this part";
    no.why = form.reasons.empty() ? "" : form.reasons.front() + ".";
    findings.push_back(std::move(no));
  }
  Json key_list = Json::array(), panels = Json::array(), all = Json::array();
  if (keyed)
    for (const Key& k : keys.keys)
      key_list.push_back({{"kind", name_of(keys.kind)},
                          {"at", json_of(m->frame.direction_back(k.at_mm))},
                          {"radius_mm", k.radius_mm},
                          {"height_mm", k.height_mm},
                          {"half_length_mm", k.half_length_mm},
                          {"clearance_mm", k.clearance_mm}});
  if (form.boxes > 0)
    for (const CutPanel& p : box.panels)
      for (int n = 0; n < p.count; ++n)
        panels.push_back({{"name", p.name},
                          {"width_mm", p.width_mm},
                          {"height_mm", p.height_mm},
                          {"thickness_mm", p.thickness_mm},
                          {"overlaps", p.overlaps},
                          {"screws", p.holes_mm.size()}});
  for (const FormPlan& p : *forms)
    all.push_back({{"form", name_of(p.form)},
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
  Json files = Json::array(), solids = Json::array(), built_mm3;
  double rubber = 0, skin = 0, printed = form.hard_mm3;
  if (!o.out.empty()) {
    BuildOrder order;
    order.form = form.form;
    order.voxel_mm = o.voxel;
    order.board.clearance_mm = o.clearance;
    order.board.bed_u_mm = o.bed_u;
    order.board.bed_v_mm = o.bed_v;
    order.board.panel_mm = o.sheet;
    order.flat_normal = f.flat_normal;
    order.strip_many = form.castings_a_pull;
    order.channels = *channels;
    order.pieces = pieces;
    const auto built = build_files(solid->mesh, *solid->rays, s, how, keys, pins, parted->bores, box, order,
                                   base_name(o.file), progress);
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
    findings.insert(findings.end(), built->findings.begin(), built->findings.end());
    // What is written is what is told.
    double jacket = 0, print = 0, poured = 0;
    for (const BuiltMesh& b : built->meshes) {
      if (b.name.starts_with("jacket_")) jacket += b.volume_mm3;
      if (b.name.starts_with("cup_") || b.name == "core") print += b.volume_mm3;
      if (b.name.starts_with("rubber_") || b.name == "skin" || b.name == "strip_rubber") poured += b.volume_mm3;
    }
    built_mm3 = {{"rubber", poured}, {"jacket", jacket}, {"print", print}, {"part", m->part_mm3}};
    if (jacket + print > 0) printed = jacket + print;
    if (form.form == Form::skin) skin = poured;
  }
  // Without files the same solids are built all the same where the form's own plan has them coarser.
  if (o.out.empty() && form.form == Form::skin && form.works) {
    const auto jacket = plan_jacket(solid->mesh, *m, jacket_rules({}), 0, progress);
    if (!jacket) return jacket.error();
    skin = jacket->skin_mm3, printed = jacket->a.volume_mm3 + jacket->b.volume_mm3;
  }
  if (const Bore* core = core_bore(parted->bores); o.out.empty() && form.form == Form::cup_core && core) {
    const auto built =
        cup_and_core(solid->mesh, *solid->rays, s, *core, FormRates{}.cup_wall_mm, std::max(0.3, o.voxel), progress);
    if (!built) return built.error();
    printed = 0;
    for (const TriMesh* part : {&built->cup_a, &built->cup_b, &built->core}) printed += measure(*part).volume_mm3;
  }
  std::vector<RubberPour> pours = form.pours;
  for (const RubberPour& p : pours) rubber += p.volume_mm3;
  // Keys and fillings are what the built skin has over its coats.
  if (skin > 0 && !pours.empty() && pours.back().name == "keys and fillings") {
    pours.back().volume_mm3 = std::max(0.0, pours.back().volume_mm3 + skin - rubber);
    rubber = skin;
  }
  const auto& hold_down = in_halves(form.form) ? m->hold_down_n : m->hold_down_whole_n;
  Json j{{"form", o.form},
         {"works", form.works},
         {"pull", json_of(s.pull)},
         {"wall_mm", m->wall_mm},
         {"box_mm", {{"inner", json_of(form.boxes > 0 ? box.inner_mm : form.box_mm)}}},
         {"part_mm3", m->part_mm3},
         {"rubber_mm3", {{"total", rubber}, {"error", m->volume_error_mm3}, {"pours", pours_json(pours)}}},
         {"printed_mm3", printed},
         {"built_mm3", std::move(built_mm3)},
         {"keys", std::move(key_list)},
         {"assembly_unique", keyed ? Json(keys.assembly_unique) : Json()},
         {"hold_down_N", hold_down ? Json(*hold_down) : Json()},
         {"panels", std::move(panels)},
         {"box",
          {{"style", name_of(box.style)},
           {"told", box.told},
           {"bricks", box.bricks},
           {"more_rubber_mm3", box.more_rubber_mm3}}},
         {"forms", std::move(all)}};
  j["files"] = std::move(files);
  if (!o.out.empty()) j["solids"] = std::move(solids);
  j["findings"] = findings_json(findings);
  j["elapsed_ms"] = clock.ms();
  return j;
}

}  // namespace

void add_mould(CLI::App& app, Command& run) {
  auto o = std::make_shared<Options>();
  auto* c = app.add_subcommand("mould", "Box, rubber, keys and what to build for a part");
  c->add_option("FILE", o->file)->required();
  c->add_option("--pull", o->pull, "x,y,z; searched when left out");
  c->add_option("--form", o->form)
      ->required()
      ->check(CLI::IsMember({"open", "two-part", "squeeze", "cut", "skin", "putty", "cup-core", "strip", "pieces"}));
  c->add_option("--wall", o->wall, "mm of rubber around the part; by the rule when left out")->check(within(0.5, 500));
  c->add_option("--keys", o->keys)->check(CLI::IsMember({"studs", "bars", "rim", "bed", "pins"}));
  c->add_option("--box", o->box)->check(CLI::IsMember({"screwed", "glued", "cut-in-two", "bricks", "tub", "tube"}));
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
  c->add_option("--sprue-mm", o->sprue, "diameter")->check(within(0.5, 60.0));
  c->add_option("--vent-mm", o->vent, "diameter")->check(within(0.2, 30.0));
  c->add_option("--unit", o->unit)->check(CLI::IsMember({"mm", "cm", "in"}));
  c->callback([o, &run] { run = [o](const Progress& progress) -> Answer { return mould(*o, progress); }; });
}

}  // namespace palinform::cli
