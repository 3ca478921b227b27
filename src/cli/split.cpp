// palin split.
#include <algorithm>
#include <filesystem>

#include "asked.hpp"
#include "base/text.hpp"
#include "fields.hpp"
#include "sheet_pdf.hpp"
#include "split/clay_guide.hpp"
#include "stages/openings.hpp"
#include "stages/parting.hpp"
#include "stages/wall.hpp"

namespace palinform::cli {
namespace {

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

Json bores_json(const std::vector<Bore>& bores) {
  Json out = Json::array();
  for (const Bore& b : bores)
    out.push_back({{"axis", json_of(b.axis)},
                   {"diameter_mm", b.diameter_mm},
                   {"fit_rms_mm", b.fit_rms_mm},
                   {"depth_mm", b.depth_mm},
                   {"through", b.through},
                   {"centroid", json_of(b.centroid_mm)}});
  return out;
}

/// Undercuts, and the tunnels among them, with the codes of what would help.
void put_undercuts(Json& j, const std::vector<Undercut>& found, const std::vector<Finding>& advice,
                   const std::vector<Bore>& bores, const Openings& openings, const std::vector<Finding>& of_openings) {
  j["undercuts"] = Json::array(), j["tunnels"] = Json::array();
  for (size_t k = 0; k < found.size(); ++k) {
    const Undercut& u = found[k];
    Json remedies = Json::array();
    const auto take = [&](const std::vector<Finding>& from, const std::string& step) {
      for (const Finding& f : from)
        if (f.where.step == step)
          for (const Remedy& r : f.remedies) remedies.push_back(r.code());
    };
    take(advice, std::to_string(k + 1));
    if (const auto o = opening_at(openings, u.centroid_mm); o && remedies.empty())
      take(of_openings, openings.openings[*o].name);
    j["undercuts"].push_back({{"area_mm2", u.area_mm2},
                              {"volume_mm3", u.volume_mm3},
                              {"reach_mm", u.reach_mm},
                              {"mouth_mm", u.mouth_mm},
                              {"centroid", json_of(u.centroid_mm)},
                              {"verdict", u.flexes && !u.tunnel() ? "flexes" : "needs-help"},
                              {"let_go_by_shore_a", u.let_go_by_shore_a ? Json(*u.let_go_by_shore_a) : Json()},
                              {"mouths", u.mouths.size()},
                              {"remedies", remedies}});
    if (!u.tunnel()) continue;
    const Bore* bore = bore_of(u, bores);
    j["tunnels"].push_back({{"axis", json_of(bore ? bore->axis : u.axis)},
                            {"diameter_mm", bore ? bore->diameter_mm : u.mouth_mm},
                            {"length_mm", bore ? bore->depth_mm : u.length_mm},
                            {"through", true},
                            {"centroid", json_of(bore ? bore->centroid_mm : u.centroid_mm)},
                            {"remedies", std::move(remedies)}});
  }
}

Json parting_json(const Split& s) {
  Json loops = Json::array();
  for (const PartingLoop& l : s.loops) {
    Json points = Json::array();
    for (const Vec3& p : l.points_mm) points.push_back(json_of(p));
    loops.push_back({{"kind", l.outer ? "outer" : "inner"},
                     {"length_mm", l.length_mm},
                     {"closed", l.closed},
                     {"points", std::move(points)}});
  }
  return {{"length_mm", s.line_mm},
          {"kind", name_of(s.kind)},
          {"height_range_mm", s.height_range_mm},
          {"shut_off_range_mm", s.shut_off_range_mm},
          {"steepest_deg", s.steepest_deg},
          {"sharp_share", s.sharp_share},
          {"loops", std::move(loops)}};
}

/// Witness, thin rubber, further pieces and the ways of splitting.
void put_more(Json& j, const Asked& asked) {
  j["witness"] = Json::array();
  for (const WitnessPlace& w : asked[results::witness].places)
    j["witness"].push_back({{"kind", words_of(w.kind)},
                            {"loop", w.loop},
                            {"from_mm", w.from_mm},
                            {"length_mm", w.length_mm},
                            {"at", json_of(w.at_mm)},
                            {"worst_deg", w.worst_deg}});
  j["thin_rubber"] = Json::array();
  for (const ThinRubber& t : asked[results::thin].thin)
    j["thin_rubber"].push_back({{"kind", t.peg ? "peg" : "fin"},
                                {"thickness_mm", t.thickness_mm},
                                {"length_mm", t.length_mm},
                                {"at", json_of(t.at_mm)},
                                {"at_risk", t.at_risk}});
  j["pieces"] = Json::array();
  for (const ExtraPiece& p : asked[results::pieces].plan.pieces)
    j["pieces"].push_back({{"pull", json_of(p.pull)},
                           {"area_mm2", p.area_mm2},
                           {"line_mm", p.line_mm},
                           {"draw_mm", p.draw_mm},
                           {"bodies", p.bodies}});
  const auto ways = asked.maybe(results::ways);
  j["ways"] = Json::array();
  j["best"] = nullptr;
  if (!ways) return;
  for (const WholeWay& w : ways->whole) {
    Json one{{"form", name_of(w.form)},
             {"way", w.way ? Json(name_of(*w.way)) : Json()},
             {"line", w.line},
             {"works", w.works},
             {"advised", w.advised},
             {"recommended", w.advised},
             {"cost", w.cost},
             {"hands_min", w.hands_min},
             {"rubber_mm3", w.rubber_mm3},
             {"climb_mm", w.climb_mm},
             {"steepest_deg", w.steepest_deg},
             {"why", w.why.empty() ? std::string() : w.why.front()},
             {"reasons", w.why}};
    if (w.way) {
      const WayPlan& p = ways->ways[static_cast<size_t>(*w.way)];
      one["line_mm"] = p.line_mm, one["days"] = p.days, one["pours"] = p.pours;
      one["rubber_g"] = p.rubber_g, one["extra_rubber_g"] = p.extra_rubber_g;
      if (p.wave)
        one["wave"] = {{"height_mm", p.wave->height_mm}, {"pitch_mm", p.wave->pitch_mm}, {"depth_mm", p.wave->depth_mm},
                       {"passes", p.wave->passes},       {"pass_mm", p.wave->pass_mm},   {"path_mm", p.wave->path_mm}};
    }
    if (w.advised)
      j["best"] = {{"form", one["form"]},    {"way", one["way"]},
                   {"line", one["line"]},    {"pull", json_of(asked[results::split].split.pull)},
                   {"climb_mm", w.climb_mm}, {"steepest_deg", w.steepest_deg},
                   {"why", one["why"]}};
    j["ways"].push_back(std::move(one));
  }
}

/// Clay-up sheet, and a drawing for the pin of every bore that lies in an undercut.
Result<Json> write_split_sheets(const Asked& asked, const std::string& dir) {
  std::error_code ec;
  std::filesystem::create_directories(dir, ec);
  if (ec) return Error{"the folder cannot be made", dir, "Check the path and its permissions."};
  const PaperSession paper;
  Json files = Json::array();
  const auto write = [&](const Drawing& d, const std::string& file) -> Status {
    for (const char* end : {".pdf", ".svg", ".dxf"}) {
      const std::string path = (std::filesystem::path(dir) / (file + end)).string();
      if (auto ok = write_drawings({d}, path); !ok) return ok;
      files.push_back(path);
    }
    return {};
  };
  const OriginalResult& m = asked[results::master];
  const Split& s = asked[results::split].split;
  const std::vector<Bore>& bores = asked[results::bores].bores;
  const std::string& name = asked.job.name;
  if (!s.loops.empty())
    if (auto ok = write(clay_guide(*m.mesh, *m.pairs, *m.rays, s, name).sheet, "clay_bed"); !ok) return ok.error();
  const double wall = wall_of(asked.job, asked.shop, m.own_size_mm).wall_mm;
  std::vector<const Bore*> done;
  for (const Undercut& u : asked[results::undercuts].undercuts) {
    const Bore* b = bore_of(u, bores);
    if (!b || std::find(done.begin(), done.end(), b) != done.end()) continue;
    done.push_back(b);
    const std::string n = std::to_string(done.size());
    const PinPlan pin = plan_pin(*m.rays, *b, wall, std::nullopt, "Pin " + n, asked.shop.rules.split.pin);
    if (auto ok = write(pin_drawing(pin, name), "pin_" + n); !ok) return ok.error();
  }
  const Openings& openings = asked[results::openings].found;
  if (const auto slides = asked.maybe(results::pins))
    for (size_t k = 0; k < slides->pins.size(); ++k)
      if (auto ok = write(pin_drawing(slides->pins[k], name), "slide_" + std::to_string(k + 1)); !ok) return ok.error();
  size_t plate = 0;
  for (const Drawing& d : plate_drawings(m, openings, asked.job.split.openings, name))
    if (auto ok = write(d, "plate_" + std::to_string(++plate)); !ok) return ok.error();
  return files;
}

}  // namespace

void add_split(CLI::App& app, Command& run) {
  struct Options {
    std::string file, pull, unit, marks, out;
    std::vector<std::string> openings, slides;
    bool search = false;
    double shore = 30, pitch = 0;
  };
  auto o = std::make_shared<Options>();
  auto* c = app.add_subcommand("split", "Split a part across a pull direction");
  c->add_option("FILE", o->file)->required();
  auto* pull = c->add_option("--pull", o->pull, "x,y,z");
  c->add_flag("--search", o->search, "Search the half-globe (also when no pull is given)")->excludes(pull);
  c->add_option("--marks", o->marks, "JSON: keep_clear, a, b, line, each a list of [x,y,z,radius_mm]");
  add_opening_option(*c, o->openings);
  add_slide_option(*c, o->slides);
  c->add_option("--hardness-a", o->shore, "Shore A of the rubber")->check(within(0.0, 90.0));
  c->add_option("--pitch", o->pitch, "of the undercuts' cells, mm")->check(within(0.02, 50));
  c->add_option("--out", o->out, "Folder for the clay-up sheet and the pins' drawings (PDF, SVG, DXF)");
  c->add_option("--unit", o->unit)->check(CLI::IsMember({"mm", "cm", "in"}));
  c->callback([o, &run] {
    run = [o](const Progress& progress) -> Answer {
      const Stopwatch clock;
      auto about = Asked::about(o->file, o->unit, progress);
      if (!about) return about.error();
      Asked& asked = **about;
      auto marks = read_marks(o->marks);
      if (!marks) return marks.error();
      asked.job.split.marks = *std::move(marks);
      if (!o->pull.empty()) {
        const auto along = parse_direction(o->pull, "--pull");
        if (!along) return along.error();
        asked.job.split.pull = *along;
      }
      asked.rubber().shore_a = o->shore;
      asked.study.undercut_pitch_mm = o->pitch;
      if (auto ok = settle_openings(asked, o->openings, progress); !ok) return ok.error();
      if (auto ok = slide_pockets(asked, o->slides, progress); !ok) return ok.error();
      if (auto ok = asked.plan(
              with_split({"undercut-advice", "opening-advice", "pins", "beds", "mould", "forms", "ways"}), progress);
          !ok)
        return ok.error();
      const Split& s = asked[results::split].split;
      const std::vector<Bore>& bores = asked[results::bores].bores;
      Json j{{"pull", json_of(s.pull)}, {"parting", parting_json(s)}, {"undercut_area_mm2", s.locked_area_mm2}};
      put_undercuts(j, asked[results::undercuts].undercuts, asked[results::undercut_advice].findings, bores,
                    asked[results::openings].found, asked[results::opening_advice].findings);
      j["bores"] = bores_json(bores);
      const OpeningsResult& openings = asked[results::openings];
      j["openings"] = openings_json(openings.found, asked.job.split.openings, s.pull);
      j["part_mm3"] = asked[results::master].measure.volume_mm3;
      j["pockets"] = pockets_json(asked);
      std::vector<Finding> told = asked[results::opening_advice].findings;
      if (const auto pins = asked.maybe(results::pins))
        told.insert(told.end(), pins->findings.begin(), pins->findings.end());
      j["findings"] = findings_json(told);
      if (o->pull.empty()) {
        j["candidates"] = Json::array();
        for (const PullCandidate& k : s.candidates)
          j["candidates"].push_back({{"pull", json_of(k.pull)},
                                     {"score", k.score},
                                     {"undercut_area_mm2", k.locked_area_mm2},
                                     {"parting_length_mm", k.line_mm},
                                     {"exact", k.exact}});
      }
      put_more(j, asked);
      if (!o->out.empty()) {
        auto files = write_split_sheets(asked, o->out);
        if (!files) return files.error();
        j["files"] = *std::move(files);
      }
      j["elapsed_ms"] = clock.ms();
      return j;
    };
  });
}

}  // namespace palinform::cli
