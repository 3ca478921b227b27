// palin mesh, split, mould.
#include "base/text.hpp"
#include "commands.hpp"
#include "fields.hpp"
#include "job/parting_job.hpp"
#include "mesh/load.hpp"
#include "mesh/save.hpp"
#include "mesh/soundness.hpp"
#include "mould/box.hpp"
#include "solid/mend.hpp"
#include "split/parting.hpp"
#include "split/pull_search.hpp"
#include "split/undercuts.hpp"

namespace palinform::cli {
namespace {

struct Solid {
  TriMesh mesh;
  EdgePairs pairs;
  std::shared_ptr<const RayScene> rays;
  std::vector<ExactFace> exact;
};

Result<Solid> load_solid(const std::string& file, const std::string& unit, Progress& progress) {
  const auto u = unit.empty() ? std::optional<LengthUnit>() : length_unit(unit);
  auto loaded = load_mesh(file, u, progress);
  if (!loaded) return loaded.error();
  Solid s;
  s.mesh = std::move(loaded->mesh);
  s.exact = std::move(loaded->exact);
  s.pairs = pair_edges(s.mesh);
  if (s.pairs.open_edges + s.pairs.non_manifold_edges > 0)
    return Error{
        "the mesh is not closed: " + counted(static_cast<long long>(s.pairs.open_edges), "open edge", "open edges") +
            ", " +
            counted(static_cast<long long>(s.pairs.non_manifold_edges), "non-manifold edge", "non-manifold edges"),
        base_name(file), "Mend it first: palin mesh FILE --repair --out FILE."};
  auto rays = RayScene::build(s.mesh);
  if (!rays) return rays.error();
  s.rays = *rays;
  return s;
}

Json defects_json(const Soundness& s) {
  return {{"open_edges", s.open_edges},
          {"non_manifold_edges", s.non_manifold_edges},
          {"self_intersections", s.self_intersections},
          {"degenerate_faces", s.degenerate_faces},
          {"flipped_components", s.flipped_components}};
}

Json findings_json(const std::vector<Finding>& findings) {
  Json out = Json::array();
  for (const Finding& f : findings) {
    Json j{{"code", f.code},
           {"severity", f.severity == Severity::stop      ? "stop"
                        : f.severity == Severity::caution ? "caution"
                                                          : "note"},
           {"what", f.what},
           {"why", f.why}};
    j["remedies"] = Json::array();
    for (const Remedy& r : f.remedies) j["remedies"].push_back(r.code);
    out.push_back(std::move(j));
  }
  return out;
}

/// Marks file: {"keep_clear":[[x,y,z,radius_mm]…], "a":[…], "b":[…], "line":[…]}.
Result<SplitMarks> read_marks(const std::string& file) {
  SplitMarks m;
  if (file.empty()) return m;
  auto j = read_json(file);
  if (!j) return j.error();
  for (const auto& [key, value] : j->items()) {
    std::vector<SplitMarks::Spot>* into = key == "keep_clear" ? &m.keep_clear
                                          : key == "a"        ? &m.to_a
                                          : key == "b"        ? &m.to_b
                                          : key == "line"     ? &m.line
                                                              : nullptr;
    if (!into)
      return Error{"there is no mark \"" + key + "\"", base_name(file), "Marks are keep_clear, a, b and line."};
    if (!value.is_array()) return Error{"\"" + key + "\" should be a list of [x,y,z,radius_mm]", base_name(file), ""};
    for (const Json& e : value) {
      if (!e.is_array() || e.size() < 3 || e.size() > 4 ||
          !std::all_of(e.begin(), e.end(), [](const Json& v) { return v.is_number(); }))
        return Error{"a mark under \"" + key + "\" should be [x,y,z] or [x,y,z,radius_mm]", base_name(file), ""};
      into->push_back(
          {{e[0].get<double>(), e[1].get<double>(), e[2].get<double>()}, e.size() == 4 ? e[3].get<double>() : 2.0});
    }
  }
  return m;
}

struct Parted {
  Split split;
  std::vector<Bore> bores;
};

Result<Parted> split_of(const Solid& s, const std::string& pull, const SplitMarks& marks, Progress& progress) {
  auto wishes = wishes_of(s.mesh, s.pairs, *s.rays, marks);
  if (!wishes) return wishes.error();
  auto bores = find_bores(s.mesh, s.pairs, *s.rays, s.exact, progress);
  if (!bores) return bores.error();
  if (pull.empty()) {
    auto found = search_pull(s.mesh, s.pairs, *s.rays, *bores, *wishes, {}, progress);
    if (!found) return found.error();
    return Parted{std::move(found->best), *std::move(bores)};
  }
  const auto d = parse_vector(pull, "--pull");
  if (!d) return d.error();
  const auto r = releases_along(s.mesh, *s.rays, *d, progress);
  if (!r) return r.error();
  auto split = split_from(s.mesh, s.pairs, *s.rays, *r, *wishes, {}, progress);
  if (!split) return split.error();
  return Parted{*std::move(split), *std::move(bores)};
}

}  // namespace

Result<Vec3> parse_vector(const std::string& text, const std::string& option) {
  std::string spaced = text;
  for (char& c : spaced)
    if (c == ',') c = ' ';
  const auto v = parse_numbers(spaced);
  if (!v || v->size() != 3) return Error{"\"" + text + "\" is no vector", option, "Write three numbers, as in 0,0,1."};
  return Vec3{(*v)[0], (*v)[1], (*v)[2]};
}

void add_mesh(CLI::App& app, Command& run) {
  struct Options {
    std::string file, unit, out;
    bool repair = false, exact = false;
    double voxel = 0;
  };
  auto o = std::make_shared<Options>();
  auto* c = app.add_subcommand("mesh", "Measure a mesh, say whether it is sound, mend it");
  c->add_option("FILE", o->file, "STL, OBJ, PLY, 3MF or STEP")->required();
  c->add_option("--unit", o->unit, "Unit of the file")->check(CLI::IsMember({"mm", "cm", "in"}));
  c->add_flag("--repair", o->repair, "Mend to a sound solid: exactly, or wrapped where that fails");
  c->add_flag("--exact", o->exact, "Refuse instead of wrapping");
  c->add_option("--voxel", o->voxel, "of the wrap, mm")->check(CLI::PositiveNumber);
  c->add_option("--out", o->out, "Write the mesh here (.stl or .3mf)");
  c->callback([o, &run] {
    run = [o](Progress& progress) -> Answer {
      const Stopwatch clock;
      auto loaded = load_mesh(o->file, o->unit.empty() ? std::optional<LengthUnit>() : length_unit(o->unit), progress);
      if (!loaded) return loaded.error();
      TriMesh mesh = std::move(loaded->mesh);
      Json repaired;
      if (o->repair) {
        auto r = mend(mesh, {!o->exact, o->voxel}, progress);
        if (!r) return r.error();
        mesh = std::move(r->mesh);
        const MendReport& q = r->report;
        const char* how = q.method == MendReport::Method::nothing ? "nothing"
                          : q.method == MendReport::Method::exact ? "exact"
                                                                  : "wrapped";
        repaired = {{"method", how},
                    {"words", q.words()},
                    {"merged_points", q.count.merged_points},
                    {"removed_faces", q.count.removed_faces},
                    {"stitched_edges", q.count.stitched_edges},
                    {"turned_faces", q.count.turned_faces},
                    {"filled_holes", q.count.filled_holes},
                    {"added_faces", q.count.added_faces},
                    {"holes_left", q.count.holes_left},
                    {"united_pieces", q.united_pieces},
                    {"untangled", q.untangled},
                    {"defects_before", defects_json(q.before)},
                    {"volume_before_mm3", q.volume_before_mm3},
                    {"volume_change_mm3", q.volume_after_mm3 - q.volume_before_mm3}};
        repaired["wrap"] = q.method == MendReport::Method::wrapped ? Json{{"voxel_mm", q.voxel_mm},
                                                                          {"bridged_mm", q.bridged_mm},
                                                                          {"off_p95_mm", q.off_p95_mm},
                                                                          {"off_max_mm", q.off_max_mm},
                                                                          {"why", q.why_wrapped}}
                                                                   : Json();
      }
      const auto s = check_soundness(mesh, true, progress);
      if (!s) return s.error();
      const MeshMeasure m = measure(mesh);
      if (!o->out.empty())
        if (auto saved = save_mesh(mesh, o->out); !saved) return saved.error();
      Json j{{"file", o->file},
             {"unit", name_of(loaded->unit)},
             {"format", loaded->format},
             {"triangles", mesh.triangles.size()},
             {"vertices", mesh.points.size()},
             {"components", s->components},
             {"sound", s->sound()},
             {"volume_mm3", m.volume_mm3},
             {"area_mm2", m.area_mm2},
             {"bbox_mm", {{"min", json_of(m.box_mm.min)}, {"max", json_of(m.box_mm.max)}}},
             {"defects", defects_json(*s)},
             {"repaired", repaired}};
      if (loaded->deflection_mm) j["deflection_mm"] = *loaded->deflection_mm;
      if (!loaded->exact.empty()) {
        j["exact_faces"] = Json::array();
        for (const ExactFace& e : loaded->exact) {
          Json f{{"kind", name_of(e.kind)}, {"point", json_of(e.point_mm)}, {"direction", json_of(e.direction)}};
          if (e.kind != FaceKind::plane) f["diameter_mm"] = e.diameter_mm, f["depth_mm"] = e.depth_mm;
          j["exact_faces"].push_back(std::move(f));
        }
      }
      j["unit_guess"] = loaded->unit_guess ? Json(name_of(*loaded->unit_guess)) : Json();
      j["elapsed_ms"] = clock.ms();
      return j;
    };
  });
}

void add_split(CLI::App& app, Command& run) {
  struct Options {
    std::string file, pull, unit, marks;
    bool search = false;
    double shore = 30, pitch = 0;
  };
  auto o = std::make_shared<Options>();
  auto* c = app.add_subcommand("split", "Split a part across a pull direction");
  c->add_option("FILE", o->file)->required();
  auto* pull = c->add_option("--pull", o->pull, "x,y,z");
  c->add_flag("--search", o->search, "Search the half-globe (also when no pull is given)")->excludes(pull);
  c->add_option("--marks", o->marks, "JSON: keep_clear, a, b, line, each a list of [x,y,z,radius_mm]");
  c->add_option("--hardness-a", o->shore, "Shore A of the rubber")->check(CLI::Range(0.0, 90.0));
  c->add_option("--pitch", o->pitch, "of the undercuts' cells, mm")->check(CLI::PositiveNumber);
  c->add_option("--unit", o->unit)->check(CLI::IsMember({"mm", "cm", "in"}));
  c->callback([o, &run] {
    run = [o](Progress& progress) -> Answer {
      const Stopwatch clock;
      const auto solid = load_solid(o->file, o->unit, progress);
      if (!solid) return solid.error();
      const auto marks = read_marks(o->marks);
      if (!marks) return marks.error();
      const auto parted = split_of(*solid, o->pull, *marks, progress);
      if (!parted) return parted.error();
      const Split& s = parted->split;
      UndercutOptions how;
      how.shore_a = o->shore;
      how.pitch_mm = o->pitch;
      const auto found = find_undercuts(solid->mesh, *solid->rays, s, how, progress);
      if (!found) return found.error();
      Json loops = Json::array();
      for (const PartingLoop& l : s.loops) {
        Json points = Json::array();
        for (const Vec3& p : l.points_mm) points.push_back(json_of(p));
        loops.push_back({{"kind", l.outer ? "outer" : "inner"},
                         {"length_mm", l.length_mm},
                         {"closed", l.closed},
                         {"points", std::move(points)}});
      }
      Json undercuts = Json::array(), tunnels = Json::array(), bores = Json::array();
      for (const Undercut& u : *found) {
        undercuts.push_back({{"area_mm2", u.area_mm2},
                             {"volume_mm3", u.volume_mm3},
                             {"reach_mm", u.reach_mm},
                             {"mouth_mm", u.mouth_mm},
                             {"centroid", json_of(u.centroid_mm)},
                             {"verdict", u.flexes && !u.tunnel() ? "flexes" : "needs-help"},
                             {"let_go_by_shore_a", u.let_go_by_shore_a ? Json(*u.let_go_by_shore_a) : Json()},
                             {"mouths", u.mouths.size()},
                             {"remedies", u.remedies}});
        if (!u.tunnel()) continue;
        const Bore* bore = bore_of(u, parted->bores);
        tunnels.push_back({{"axis", json_of(bore ? bore->axis : u.axis)},
                           {"diameter_mm", bore ? bore->diameter_mm : u.mouth_mm},
                           {"length_mm", bore ? bore->depth_mm : u.length_mm},
                           {"through", true},
                           {"centroid", json_of(bore ? bore->centroid_mm : u.centroid_mm)},
                           {"remedies", u.remedies}});
      }
      for (const Bore& b : parted->bores)
        bores.push_back({{"axis", json_of(b.axis)},
                         {"diameter_mm", b.diameter_mm},
                         {"fit_rms_mm", b.fit_rms_mm},
                         {"depth_mm", b.depth_mm},
                         {"through", b.through},
                         {"centroid", json_of(b.centroid_mm)}});
      Json j{{"pull", json_of(s.pull)},
             {"parting",
              {{"length_mm", s.line_mm},
               {"height_range_mm", s.height_range_mm},
               {"steepest_deg", s.steepest_deg},
               {"sharp_share", s.sharp_share},
               {"loops", std::move(loops)}}},
             {"undercut_area_mm2", s.locked_area_mm2},
             {"undercuts", std::move(undercuts)},
             {"tunnels", std::move(tunnels)},
             {"bores", std::move(bores)}};
      if (o->pull.empty()) {
        j["candidates"] = Json::array();
        for (const PullCandidate& k : s.candidates)
          j["candidates"].push_back({{"pull", json_of(k.pull)},
                                     {"score", k.score},
                                     {"undercut_area_mm2", k.locked_area_mm2},
                                     {"parting_length_mm", k.line_mm},
                                     {"exact", k.exact}});
      }
      j["elapsed_ms"] = clock.ms();
      return j;
    };
  });
}

void add_mould(CLI::App& app, Command& run) {
  struct Options {
    std::string file, pull, form, unit;
    double wall = 0, pitch = 0, density = 1.1, master_g = -1, need_shore = 40;
  };
  auto o = std::make_shared<Options>();
  auto* c = app.add_subcommand("mould", "Box and rubber for a part");
  c->add_option("FILE", o->file)->required();
  c->add_option("--pull", o->pull, "x,y,z; searched when left out");
  c->add_option("--form", o->form, "two-part")->required()->check(CLI::IsMember({"two-part"}));
  c->add_option("--wall", o->wall, "mm of rubber around the part; by the rule when left out")
      ->check(CLI::PositiveNumber);
  c->add_option("--pitch", o->pitch, "mm between columns")->check(CLI::PositiveNumber);
  c->add_option("--rubber-density", o->density, "g/cm3")->check(CLI::PositiveNumber);
  c->add_option("--master-g", o->master_g, "mass of the master, for the hold-down force")
      ->check(CLI::NonNegativeNumber);
  c->add_option("--unit", o->unit)->check(CLI::IsMember({"mm", "cm", "in"}));
  c->callback([o, &run] {
    run = [o](Progress& progress) -> Answer {
      const Stopwatch clock;
      const auto solid = load_solid(o->file, o->unit, progress);
      if (!solid) return solid.error();
      const auto parted = split_of(*solid, o->pull, {}, progress);
      if (!parted) return parted.error();
      const Split* s = &parted->split;
      const double rule = wall_by_rule_mm(measure(solid->mesh).box_mm.size(), o->need_shore, {});
      MouldOptions options;
      options.wall_mm = o->wall > 0 ? o->wall : rule;
      options.pitch_mm = o->pitch;
      options.rubber_density_g_cm3 = o->density;
      if (o->master_g >= 0) options.master_g = o->master_g;
      const auto m = two_part_mould(solid->mesh, *s, options, progress);
      if (!m) return m.error();
      Json pours = Json::array(), panels = Json::array();
      for (const RubberPour& p : m->pours) {
        Json curve = Json::array();
        for (const HeightVolume& h : p.curve) curve.push_back({h.height_mm, h.volume_mm3});
        pours.push_back({{"name", p.name},
                         {"volume_mm3", p.volume_mm3},
                         {"fill_height_mm", p.fill_height_mm},
                         {"curve_mm_mm3", std::move(curve)}});
      }
      for (const Panel& p : m->panels)
        panels.push_back(
            {{"name", p.name}, {"width_mm", p.width_mm}, {"height_mm", p.height_mm}, {"thickness_mm", p.thickness_mm}});
      Json j{{"form", "two-part"},
             {"pull", json_of(s->pull)},
             {"wall_mm", m->wall_mm},
             {"box_mm", {{"inner", json_of(m->inner_mm.size())}}},
             {"part_mm3", m->part_mm3},
             {"rubber_mm3", {{"total", m->rubber_mm3}, {"error", m->volume_error_mm3}, {"pours", std::move(pours)}}},
             {"keys", Json::array()},
             {"assembly_unique", nullptr},
             {"hold_down_N", m->hold_down_n ? Json(*m->hold_down_n) : Json()},
             {"panels", std::move(panels)},
             {"files", Json::array()},
             {"findings", findings_json(mould_findings(*m, rule))}};
      j["elapsed_ms"] = clock.ms();
      return j;
    };
  });
}

}  // namespace palinform::cli
