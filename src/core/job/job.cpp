#include "job/job.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <ctime>
#include <nlohmann/json.hpp>
#include <random>

#include "base/text.hpp"
#include "mould/forms.hpp"
#include "mould/keys.hpp"
#include "mould/panels.hpp"

namespace palinform {
namespace {

using Json = nlohmann::ordered_json;

constexpr std::array<std::string_view, duty_count> duty_names{"load", "vehicle", "mains",  "pressure",
                                                              "food", "child",   "medical"};

Json to_json(const Vec3& v) { return Json::array({v.x, v.y, v.z}); }

/// Thrown inside this file only: turned into an Error at its edge.
struct Bad {
  std::string what;
};

double number(const Json& j, const char* key, double otherwise) {
  if (!j.contains(key) || j[key].is_null()) return otherwise;
  if (!j[key].is_number()) throw Bad{std::string("\"") + key + "\" should be a number"};
  return j[key].get<double>();
}
std::optional<double> maybe(const Json& j, const char* key) {
  return j.contains(key) && !j[key].is_null() ? std::optional(number(j, key, 0)) : std::nullopt;
}
std::string text(const Json& j, const char* key, const std::string& otherwise = "") {
  if (!j.contains(key) || j[key].is_null()) return otherwise;
  if (!j[key].is_string()) throw Bad{std::string("\"") + key + "\" should be text"};
  return j[key].get<std::string>();
}
std::vector<double> numbers(const Json& j, const char* key) {
  std::vector<double> out;
  if (!j.contains(key)) return out;
  if (!j[key].is_array()) throw Bad{std::string("\"") + key + "\" should be a list of numbers"};
  for (const auto& v : j[key]) {
    if (!v.is_number()) throw Bad{std::string("\"") + key + "\" should be a list of numbers"};
    out.push_back(v.get<double>());
  }
  return out;
}
Vec3 vector3(const Json& j, const char* key) {
  const auto v = numbers(j, key);
  if (v.empty()) return {};
  if (v.size() != 3) throw Bad{std::string("\"") + key + "\" should be three numbers"};
  return {v[0], v[1], v[2]};
}
const Json& list(const Json& j, const char* key) {
  static const Json none = Json::array();
  if (!j.contains(key)) return none;
  if (!j[key].is_array()) throw Bad{std::string("\"") + key + "\" should be a list"};
  return j[key];
}

Json size_json(const MeasuredSize& s) {
  Json j{{"id", s.id},
         {"name", s.name},
         {"kind", name_of(s.kind)},
         {"formed_by", name_of(s.formed)},
         {"nominal_mm", s.nominal_mm},
         {"lower_mm", s.lower_mm},
         {"upper_mm", s.upper_mm},
         {"readings_mm", s.readings_mm},
         {"resolution_mm", s.resolution_mm},
         {"instrument_u_mm", s.instrument_u_mm},
         {"limits_guessed", s.limits_guessed},
         {"limits_from", s.limits_from},
         {"finish", name_of(s.finish)},
         {"from_mm", to_json(s.from_mm)},
         {"to_mm", to_json(s.to_mm)}};
  if (s.pin_mm) j["pin_mm"] = *s.pin_mm;
  if (s.stock_mm) j["stock_mm"] = *s.stock_mm;
  if (s.section_mm) j["section_mm"] = *s.section_mm;
  if (s.fit_rms_mm) j["fit_rms_mm"] = *s.fit_rms_mm;
  if (s.depth_mm) j["depth_mm"] = *s.depth_mm;
  if (length(s.scale_share) > 0) j["scale_share"] = to_json(s.scale_share);
  return j;
}

MeasuredSize size_from(const Json& j) {
  MeasuredSize s;
  s.id = text(j, "id");
  s.name = text(j, "name");
  const auto kind = size_kind(text(j, "kind", "outer"));
  const auto formed = formed_by(text(j, "formed_by", "rubber"));
  if (!kind) throw Bad{"size \"" + s.name + "\" is of an unknown kind \"" + text(j, "kind") + "\""};
  if (!formed) throw Bad{"size \"" + s.name + "\" is formed by an unknown thing \"" + text(j, "formed_by") + "\""};
  s.kind = *kind;
  s.formed = *formed;
  s.nominal_mm = number(j, "nominal_mm", 0);
  s.lower_mm = number(j, "lower_mm", s.nominal_mm);
  s.upper_mm = number(j, "upper_mm", s.nominal_mm);
  s.readings_mm = numbers(j, "readings_mm");
  s.resolution_mm = number(j, "resolution_mm", 0.01);
  s.instrument_u_mm = number(j, "instrument_u_mm", 0.01);
  s.limits_guessed = j.value("limits_guessed", false);
  s.from_mm = vector3(j, "from_mm");
  s.to_mm = vector3(j, "to_mm");
  s.pin_mm = maybe(j, "pin_mm");
  s.stock_mm = maybe(j, "stock_mm");
  s.section_mm = maybe(j, "section_mm");
  s.limits_from = text(j, "limits_from");
  const auto finish = finishing(text(j, "finish", "none"));
  if (!finish) throw Bad{"size \"" + s.name + "\" is finished in an unknown way \"" + text(j, "finish") + "\""};
  s.finish = *finish;
  s.fit_rms_mm = maybe(j, "fit_rms_mm");
  s.depth_mm = maybe(j, "depth_mm");
  s.scale_share = vector3(j, "scale_share");
  return s;
}

}  // namespace

std::string_view name_of(Duty d) { return duty_names[static_cast<size_t>(d)]; }
std::string_view name_of(MasterKind k) {
  return k == MasterKind::original ? "original" : k == MasterKind::scaled ? "scaled" : "scaled-per-axis";
}
MasterScale Job::master_scale() const {
  return master == MasterKind::original ? MasterScale{}
         : master == MasterKind::scaled ? MasterScale::all(scale)
                                        : axis_scale;
}
std::string_view name_of(FillAid a) {
  return a == FillAid::pressure ? "pressure" : a == FillAid::vacuum ? "vacuum" : "gravity";
}
void FlowSetup::hash_into(Hasher& h) const {
  h.add(turned_over)
      .add(tilt_deg)
      .add(azimuth_deg)
      .add(gate)
      .add(vents)
      .add(aid)
      .add(pressure_kpa)
      .add(vacuum_kpa)
      .add(altitude_m)
      .add(sprue_mm)
      .add(vent_mm)
      .add(head_mm)
      .add(max_tilt_deg)
      .add(max_vents)
      .add(keep_gate)
      .add(keep_vents)
      .add(no_vents);
}
void DaysPlan::hash_into(Hasher& h) const {
  h.add(start).add(moulds).add(bench).add(changes.size());
  for (const auto& [id, c] : changes) h.add(id).add(c.hands_min).add(c.wait_min).add(c.pinned);
}
std::string_view words_of(Duty d) {
  constexpr std::array<std::string_view, duty_count> words{"carries a load",
                                                           "steers or brakes a vehicle",
                                                           "carries mains current",
                                                           "holds gas or pressure",
                                                           "touches food",
                                                           "is in a child's reach",
                                                           "is medical"};
  return words[static_cast<size_t>(d)];
}

const MeasuredSize* Job::size(std::string_view wanted) const {
  for (const MeasuredSize& s : sizes)
    if (s.id == wanted) return &s;
  return nullptr;
}
std::string Job::new_size_id() const {
  for (int i = 1;; ++i)
    if (std::string id_ = "s" + std::to_string(i); !size(id_)) return id_;
}

std::vector<std::string> Job::joined_meshes() const {
  std::vector<std::string> out;
  for (const MasterStep& s : master_steps)
    if (s.kind == MasterStep::Kind::join && !s.mesh.empty() && std::find(out.begin(), out.end(), s.mesh) == out.end())
      out.push_back(s.mesh);
  return out;
}

std::string job_to_json(const Job& job, bool with_castings) {
  Json j{{"schema", job_schema}, {"id", job.id}, {"name", job.name}, {"client", job.client}, {"copies", job.copies}};
  j["mesh"] = {{"hash", job.mesh.hash},
               {"file", job.mesh.file},
               {"unit", name_of(job.mesh.unit)},
               {"triangles", job.mesh.triangles}};
  if (!job.mesh.mended.empty()) j["mesh"]["mended"] = job.mesh.mended;
  if (job.mesh.deflection_mm) j["mesh"]["deflection_mm"] = *job.mesh.deflection_mm;
  for (const ExactFace& e : job.mesh.exact)
    j["mesh"]["exact_faces"].push_back({{"kind", name_of(e.kind)},
                                        {"point_mm", to_json(e.point_mm)},
                                        {"direction", to_json(e.direction)},
                                        {"diameter_mm", e.diameter_mm},
                                        {"depth_mm", e.depth_mm}});
  j["duties"] = Json::array();
  for (const Duty d : job.duties) j["duties"].push_back(name_of(d));
  j["sizes"] = Json::array();
  for (const MeasuredSize& s : job.sizes) j["sizes"].push_back(size_json(s));
  const auto maybe_json = [](const std::optional<double>& v) { return v ? Json(*v) : Json(); };
  if (!(job.bare == BareOriginal{}))
    j["bare"] = {{"extent_mm", to_json(job.bare.extent_mm)},
                 {"displaced_ml", maybe_json(job.bare.displaced_ml)},
                 {"weighed_g", maybe_json(job.bare.weighed_g)},
                 {"density_g_cm3", job.bare.density_g_cm3}};
  j["marks"] = Json::array();
  for (const FaceMark& m : job.marks)
    j["marks"].push_back({{"kind", name_of(m.kind)}, {"point_mm", to_json(m.point_mm)}});
  j["finish"] = {{"surface", name_of(job.finish.surface)},
                 {"later", name_of(job.finish.later)},
                 {"master_material", job.finish.master_material}};
  j["master_steps"] = Json::array();
  for (const MasterStep& m : job.master_steps)
    j["master_steps"].push_back({{"kind", name_of(m.kind)},
                                 {"axis", m.axis},
                                 {"point_mm", to_json(m.point_mm)},
                                 {"mm", m.mm},
                                 {"mesh", m.mesh},
                                 {"file", m.file}});
  if (!job.needs.empty())
    j["needs"] = {{"shore_low", maybe_json(job.needs.shore_low)},
                  {"shore_high", maybe_json(job.needs.shore_high)},
                  {"shore_scale", job.needs.shore_is_d ? "D" : "A"},
                  {"heat_c", maybe_json(job.needs.heat_c)},
                  {"flexibility", job.needs.flexibility},
                  {"clarity", job.needs.clarity},
                  {"colour", job.needs.colour},
                  {"section_mm", maybe_json(job.needs.section_mm)},
                  {"work_min", maybe_json(job.needs.work_min)}};
  if (job.learned)
    j["learned"] = {{"silicone", job.learned->silicone_id},
                    {"resin", job.learned->resin_id},
                    {"delta_pct", job.learned->delta_pct},
                    {"u_pct", job.learned->u_pct},
                    {"from", job.learned->from}};
  j["silicone"] = job.silicone_id;
  j["resin"] = job.resin_id;
  j["master"] = name_of(job.master);
  j["scale"] = job.scale;
  j["axis_scale"] = Json::array({job.axis_scale.x, job.axis_scale.y, job.axis_scale.z});
  j["generations"] = job.generations;
  j["room_c"] = job.room_c;
  j["gel_c"] = job.gel_c;
  if (job.pull) j["pull"] = to_json(*job.pull);
  {
    const auto spots = [](const std::vector<SplitMarks::Spot>& list) {
      Json out = Json::array();
      for (const SplitMarks::Spot& m : list)
        out.push_back({{"point_mm", to_json(m.point_mm)}, {"radius_mm", m.radius_mm}});
      return out;
    };
    j["split_marks"] = {{"keep_clear", spots(job.split_marks.keep_clear)},
                        {"a", spots(job.split_marks.to_a)},
                        {"b", spots(job.split_marks.to_b)},
                        {"line", spots(job.split_marks.line)}};
    const PullWeights& w = job.pull_weights;
    j["pull_weights"] = {{"locked", w.locked}, {"line", w.line}, {"flat", w.flat},
                         {"height", w.height}, {"show", w.show}, {"odd", w.odd}};
    j["bores"] = Json::array();
    for (const BoreTreatment& b : job.bores)
      j["bores"].push_back({{"kind", name_of(b.kind)}, {"point_mm", to_json(b.point_mm)}, {"radius_mm", b.radius_mm}});
    j["piece_pulls"] = Json::array();
    for (const Vec3& p : job.piece_pulls) j["piece_pulls"].push_back(to_json(p));
    if (!job.way.empty()) j["way"] = job.way;
  }
  if (job.wall_mm) j["wall_mm"] = *job.wall_mm;
  if (!job.form.empty()) j["form"] = job.form;
  j["keys"] = {{"kind", job.keys}, {"places_mm", Json::array()}};
  for (const Vec3& p : job.key_places) j["keys"]["places_mm"].push_back(to_json(p));
  j["box"] = job.box;
  j["build"] = {{"sheet_mm", job.build.sheet_mm},     {"clearance_mm", job.build.clearance_mm},
                {"voxel_mm", job.build.voxel_mm},     {"bed_mm", {job.build.bed_u_mm, job.build.bed_v_mm}},
                {"chamber_mm", job.build.chamber_mm}, {"pot_mm", job.build.pot_mm}};
  if (job.master_g) j["master_g"] = *job.master_g;
  j["mix"] = {{"scale_division_g", job.scale_division_g},
              {"waste_pct", job.waste_pct},
              {"cup_tare_g", job.cup_tare_g},
              {"cup_ml", job.cup_ml},
              {"degas", job.degas}};
  Json vents = Json::array();
  for (const Vec3& v : job.flow.vents) vents.push_back(to_json(v));
  Json no_vents = Json::array();
  for (const Vec3& v : job.flow.no_vents) no_vents.push_back(to_json(v));
  j["flow"] = {{"turned_over", job.flow.turned_over},
               {"tilt_deg", job.flow.tilt_deg},
               {"azimuth_deg", job.flow.azimuth_deg},
               {"gate", job.flow.gate ? to_json(*job.flow.gate) : Json()},
               {"vents", std::move(vents)},
               {"aid", name_of(job.flow.aid)},
               {"pressure_kpa", job.flow.pressure_kpa},
               {"vacuum_kpa_abs", job.flow.vacuum_kpa},
               {"altitude_m", job.flow.altitude_m},
               {"sprue_mm", job.flow.sprue_mm},
               {"vent_mm", job.flow.vent_mm},
               {"head_mm", job.flow.head_mm},
               {"max_tilt_deg", job.flow.max_tilt_deg},
               {"max_vents", job.flow.max_vents},
               {"keep_gate", job.flow.keep_gate},
               {"keep_vents", job.flow.keep_vents},
               {"no_vents", std::move(no_vents)}};
  Json days = Json::array(), changes = Json::object();
  for (const bool d : job.days.bench.days) days.push_back(d);
  for (const auto& [id, c] : job.days.changes) {
    Json e = Json::object();
    if (c.hands_min) e["hands_min"] = *c.hands_min;
    if (c.wait_min) e["wait_min"] = *c.wait_min;
    if (c.pinned) e["pinned"] = wall_text(*c.pinned);
    changes[id] = std::move(e);
  }
  j["days"] = {{"start", job.days.start},
               {"moulds", job.days.moulds},
               {"bench_days", std::move(days)},
               {"bench_from_min", job.days.bench.from_min},
               {"bench_to_min", job.days.bench.to_min},
               {"changes", std::move(changes)}};
  j["rule"] = job.rule == DecisionRule::guard ? "guard" : "plain";
  if (with_castings) {
    j["castings"] = Json::array();
    for (const Casting& c : job.castings) {
      Json readings = Json::array();
      for (const CastReading& r : c.readings) readings.push_back({{"size", r.size_id}, {"values_mm", r.values_mm}});
      j["castings"].push_back(
          {{"number", c.number}, {"made_on", c.made_on}, {"note", c.note}, {"readings", std::move(readings)}});
    }
  }
  j["answers"] = Json::array();
  for (const Answer& a : job.answers) {
    j["answers"].push_back({{"finding", a.finding_key}, {"reason", a.reason}, {"at", a.at}});
    if (a.point_mm) j["answers"].back()["point_mm"] = {a.point_mm->x, a.point_mm->y, a.point_mm->z};
    if (a.magnitude > 0) j["answers"].back()["magnitude"] = a.magnitude;
  }
  j["seed"] = job.seed;
  return j.dump(1, ' ', false, Json::error_handler_t::replace);
}

Result<Job> job_from_json(std::string_view source, const std::string& name) {
  const auto refuse = [&](std::string what, std::string remedy) {
    return Error{std::move(what), name, std::move(remedy)};
  };
  const Json j = Json::parse(source, nullptr, false);
  if (j.is_discarded() || !j.is_object() || !j.contains("schema") || !j["schema"].is_number_integer())
    return refuse("this does not read as a Palinform job", "Choose a .palinform file or its job.json.");
  if (j["schema"].get<long long>() > job_schema)
    return refuse(
        "the job was written by a newer Palinform (schema " + std::to_string(j["schema"].get<long long>()) + ")",
        "Open it with that version; nothing was changed.");
  try {
    Job job;
    job.id = text(j, "id");
    if (job.id.empty()) job.id = new_id();
    job.name = text(j, "name", "Unnamed job");
    job.client = text(j, "client");
    job.copies = static_cast<int>(number(j, "copies", 1));
    if (j.contains("mesh") && j["mesh"].is_object()) {
      const Json& m = j["mesh"];
      job.mesh.hash = text(m, "hash");
      job.mesh.file = text(m, "file");
      const auto unit = length_unit(text(m, "unit", "mm"));
      if (!unit) throw Bad{"the mesh's unit \"" + text(m, "unit") + "\" is unknown"};
      job.mesh.unit = *unit;
      job.mesh.triangles = static_cast<uint64_t>(std::max(0.0, number(m, "triangles", 0)));
      job.mesh.mended = text(m, "mended");
      job.mesh.deflection_mm = maybe(m, "deflection_mm");
      for (const auto& e : list(m, "exact_faces")) {
        ExactFace f;
        for (const auto k : {FaceKind::plane, FaceKind::bore, FaceKind::boss})
          if (text(e, "kind") == name_of(k)) f.kind = k;
        f.point_mm = vector3(e, "point_mm");
        f.direction = vector3(e, "direction");
        f.diameter_mm = number(e, "diameter_mm", 0);
        f.depth_mm = number(e, "depth_mm", 0);
        job.mesh.exact.push_back(f);
      }
    }
    for (const auto& d : list(j, "duties"))
      for (int k = 0; k < duty_count; ++k)
        if (d.is_string() && d.get<std::string>() == duty_names[static_cast<size_t>(k)])
          job.duties.push_back(static_cast<Duty>(k));
    for (const auto& s : list(j, "sizes")) {
      if (!s.is_object()) throw Bad{"a size is no object"};
      job.sizes.push_back(size_from(s));
      if (job.sizes.back().id.empty()) job.sizes.back().id = "s" + std::to_string(job.sizes.size());
    }
    if (j.contains("bare") && j["bare"].is_object()) {
      const Json& b = j["bare"];
      job.bare = {vector3(b, "extent_mm"), maybe(b, "displaced_ml"), maybe(b, "weighed_g"),
                  number(b, "density_g_cm3", 1.1)};
    }
    for (const auto& m : list(j, "marks")) {
      const auto kind = face_mark(text(m, "kind"));
      if (!kind) throw Bad{"a face is marked as an unknown thing \"" + text(m, "kind") + "\""};
      job.marks.push_back({*kind, vector3(m, "point_mm")});
    }
    if (j.contains("finish") && j["finish"].is_object()) {
      const Json& f = j["finish"];
      const auto g = gloss(text(f, "surface", "unsaid"));
      const auto l = later(text(f, "later", "unsaid"));
      if (!g || !l) throw Bad{"the finish is an unknown one"};
      job.finish = {*g, *l, text(f, "master_material")};
    }
    for (const auto& m : list(j, "master_steps")) {
      const auto kind = master_step(text(m, "kind"));
      if (!kind) throw Bad{"the master is changed in an unknown way \"" + text(m, "kind") + "\""};
      job.master_steps.push_back({*kind, static_cast<int>(number(m, "axis", 0)), vector3(m, "point_mm"),
                                  number(m, "mm", 0), text(m, "mesh"), text(m, "file")});
    }
    if (j.contains("needs") && j["needs"].is_object()) {
      const Json& n = j["needs"];
      job.needs = {maybe(n, "shore_low"), maybe(n, "shore_high"), text(n, "shore_scale", "D") == "D",
                   maybe(n, "heat_c"),    text(n, "flexibility"), text(n, "clarity"),
                   text(n, "colour"),     maybe(n, "section_mm"), maybe(n, "work_min")};
    }
    if (j.contains("learned") && j["learned"].is_object()) {
      const Json& l = j["learned"];
      job.learned = LearnedShrink{text(l, "silicone"), text(l, "resin"), number(l, "delta_pct", 0),
                                  number(l, "u_pct", 0.05), text(l, "from")};
    }
    job.silicone_id = text(j, "silicone");
    job.resin_id = text(j, "resin");
    for (const auto k : {MasterKind::original, MasterKind::scaled, MasterKind::scaled_per_axis})
      if (text(j, "master", "original") == name_of(k)) job.master = k;
    job.scale = number(j, "scale", 1);
    if (const auto v = vector3(j, "axis_scale"); length(v) > 0) job.axis_scale = {v.x, v.y, v.z};
    job.generations = static_cast<int>(number(j, "generations", 1));
    job.room_c = number(j, "room_c", 21);
    job.gel_c = number(j, "gel_c", job.room_c);
    if (j.contains("pull") && !j["pull"].is_null()) job.pull = vector3(j, "pull");
    if (j.contains("split_marks") && j["split_marks"].is_object()) {
      const auto spots = [&](const char* key) {
        std::vector<SplitMarks::Spot> out;
        for (const auto& m : list(j["split_marks"], key))
          out.push_back({vector3(m, "point_mm"), number(m, "radius_mm", 2)});
        return out;
      };
      job.split_marks = {spots("keep_clear"), spots("a"), spots("b"), spots("line")};
    }
    if (j.contains("pull_weights") && j["pull_weights"].is_object()) {
      const Json& w = j["pull_weights"];
      const PullWeights d;
      job.pull_weights = {number(w, "locked", d.locked), number(w, "line", d.line), number(w, "flat", d.flat),
                          number(w, "height", d.height), number(w, "show", d.show), number(w, "odd", d.odd)};
    }
    for (const auto& b : list(j, "bores"))
      job.bores.push_back({text(b, "kind") == "tape" ? BoreTreatment::Kind::tape : BoreTreatment::Kind::pin,
                           vector3(b, "point_mm"), number(b, "radius_mm", 0)});
    const auto places = [&](const Json& from, const char* key, std::vector<Vec3>& into) {
      for (const auto& p : list(from, key))
        if (p.is_array() && p.size() == 3 && p[0].is_number() && p[1].is_number() && p[2].is_number())
          into.push_back({p[0], p[1], p[2]});
    };
    places(j, "piece_pulls", job.piece_pulls);
    job.form = text(j, "form");
    if (j.contains("keys") && j["keys"].is_object()) {
      if (const auto kind = text(j["keys"], "kind"); !kind.empty()) job.keys = kind;
      places(j["keys"], "places_mm", job.key_places);
    }
    if (const auto box = text(j, "box"); !box.empty()) job.box = box;
    if (j.contains("build") && j["build"].is_object()) {
      const Json& b = j["build"];
      const BuildSetup d;
      job.build.sheet_mm = number(b, "sheet_mm", d.sheet_mm);
      job.build.clearance_mm = number(b, "clearance_mm", d.clearance_mm);
      job.build.voxel_mm = number(b, "voxel_mm", d.voxel_mm);
      job.build.chamber_mm = number(b, "chamber_mm", 0);
      job.build.pot_mm = number(b, "pot_mm", 0);
      if (b.contains("bed_mm") && b["bed_mm"].is_array() && b["bed_mm"].size() == 2 && b["bed_mm"][0].is_number() &&
          b["bed_mm"][1].is_number())
        job.build.bed_u_mm = b["bed_mm"][0], job.build.bed_v_mm = b["bed_mm"][1];
    }
    job.way = text(j, "way");
    job.wall_mm = maybe(j, "wall_mm");
    job.master_g = maybe(j, "master_g");
    if (j.contains("mix") && j["mix"].is_object()) {
      const Json& m = j["mix"];
      job.scale_division_g = number(m, "scale_division_g", 0.1);
      job.waste_pct = number(m, "waste_pct", 5);
      job.cup_tare_g = number(m, "cup_tare_g", 0);
      job.cup_ml = number(m, "cup_ml", 1000);
      job.degas = m.value("degas", true);
    }
    if (j.contains("flow") && j["flow"].is_object()) {
      const Json& f = j["flow"];
      job.flow.turned_over = f.value("turned_over", false);
      job.flow.tilt_deg = number(f, "tilt_deg", 0);
      job.flow.azimuth_deg = number(f, "azimuth_deg", 0);
      if (f.contains("gate") && !f["gate"].is_null()) job.flow.gate = vector3(f, "gate");
      for (const auto& [key, into] : {std::pair{"vents", &job.flow.vents}, {"no_vents", &job.flow.no_vents}})
        for (const auto& v : list(f, key)) {
          if (!v.is_array() || v.size() != 3) throw Bad{"a vent should be three numbers"};
          into->push_back({v[0].get<double>(), v[1].get<double>(), v[2].get<double>()});
        }
      const std::string aid = text(f, "aid", "gravity");
      job.flow.aid = aid == "pressure" ? FillAid::pressure : aid == "vacuum" ? FillAid::vacuum : FillAid::gravity;
      job.flow.pressure_kpa = number(f, "pressure_kpa", 300);
      job.flow.vacuum_kpa = number(f, "vacuum_kpa_abs", 4);
      job.flow.altitude_m = number(f, "altitude_m", 0);
      job.flow.sprue_mm = number(f, "sprue_mm", 5);
      job.flow.vent_mm = number(f, "vent_mm", 2);
      job.flow.head_mm = number(f, "head_mm", 30);
      job.flow.max_tilt_deg = number(f, "max_tilt_deg", 45);
      job.flow.max_vents = static_cast<int>(std::clamp(number(f, "max_vents", 6), -1.0, 1e6));
      job.flow.keep_gate = f.value("keep_gate", false);
      job.flow.keep_vents = f.value("keep_vents", false);
    }
    if (j.contains("days") && j["days"].is_object()) {
      const Json& d = j["days"];
      job.days.start = text(d, "start");
      job.days.moulds = static_cast<int>(number(d, "moulds", 1));
      if (d.contains("bench_days") && d["bench_days"].is_array() && d["bench_days"].size() == 7)
        for (size_t i = 0; i < 7; ++i) job.days.bench.days[i] = d["bench_days"][i].get<bool>();
      job.days.bench.from_min = static_cast<int>(number(d, "bench_from_min", 480));
      job.days.bench.to_min = static_cast<int>(number(d, "bench_to_min", 1020));
      if (d.contains("changes") && d["changes"].is_object())
        for (const auto& [id, c] : d["changes"].items()) {
          StepChange change{maybe(c, "hands_min"), maybe(c, "wait_min"), std::nullopt};
          if (const std::string pin = text(c, "pinned"); !pin.empty()) {
            change.pinned = parse_wall_time(pin);
            if (!change.pinned) throw Bad{"the pinned time \"" + pin + "\" is no time"};
          }
          job.days.changes[id] = change;
        }
    }
    job.rule = text(j, "rule", "guard") == "plain" ? DecisionRule::plain : DecisionRule::guard;
    for (const auto& c : list(j, "castings")) {
      Casting k;
      k.number = static_cast<int>(number(c, "number", static_cast<double>(job.castings.size()) + 1));
      k.made_on = text(c, "made_on");
      k.note = text(c, "note");
      for (const auto& r : list(c, "readings")) k.readings.push_back({text(r, "size"), numbers(r, "values_mm")});
      job.castings.push_back(std::move(k));
    }
    for (const auto& a : list(j, "answers")) {
      Answer answer{text(a, "finding"), text(a, "reason"), text(a, "at")};
      if (a.contains("point_mm")) answer.point_mm = vector3(a, "point_mm");
      answer.magnitude = number(a, "magnitude", 0);
      job.answers.push_back(std::move(answer));
    }
    job.seed = static_cast<uint64_t>(std::max(0.0, number(j, "seed", 1)));
    if (auto ok = check_job(job); !ok) return refuse(ok.error().text(), "Correct it in the file.");
    return job;
  } catch (const Bad& b) {
    return refuse(b.what, "Correct it in the file.");
  } catch (const nlohmann::json::exception&) {
    return refuse("a field of the job has the wrong type", "Correct it in the file.");
  }
}

Status check_job(const Job& job) {
  const auto bad = [](std::string what) { return Error{std::move(what), "job", ""}; };
  const auto outside = [](double v, double low, double high) { return !(v >= low && v <= high); };
  if (job.copies < 1 || job.copies > 100'000) return bad("the number of copies must be from 1 to 100,000");
  for (const double v : {job.scale, job.axis_scale.x, job.axis_scale.y, job.axis_scale.z})
    if (outside(v, 0.2, 5)) return bad("the master's scale must be from 0.2 to 5");
  if (job.generations < 1 || job.generations > 2)
    return bad("a mould is taken from the master or from a casting of it");
  if (job.learned && (outside(job.learned->delta_pct, -20, 20) || outside(job.learned->u_pct, 1e-6, 20)))
    return bad("the learned shrinkage is out of reason");
  for (const MasterStep& m : job.master_steps)
    if (auto ok = check_step(m); !ok) return ok;
  if (job.marks.size() > 1000) return bad("a thousand marked faces are enough");
  for (const FaceMark& m : job.marks)
    if (!finite(m.point_mm)) return bad("a marked face has no place");
  for (const double v : {job.bare.extent_mm.x, job.bare.extent_mm.y, job.bare.extent_mm.z,
                         job.bare.displaced_ml.value_or(0), job.bare.weighed_g.value_or(0)})
    if (outside(v, 0, 1e6)) return bad("the original's measures must be from 0 to 1,000,000");
  if (outside(job.bare.density_g_cm3, 0.05, 25)) return bad("the density must be from 0.05 to 25 g/cm³");
  const ResinNeeds& n = job.needs;
  for (const auto& v : {n.shore_low, n.shore_high, n.heat_c, n.section_mm, n.work_min})
    if (v && outside(*v, 0, 1000)) return bad("a need is out of reason");
  if (n.shore_low && n.shore_high && *n.shore_low > *n.shore_high)
    return bad("the least hardness asked for lies above the most");
  if (outside(job.room_c, -20, 60) || outside(job.gel_c, -20, 120)) return bad("the temperatures are out of reason");
  if (job.pull && (!finite(*job.pull) || length(*job.pull) < 1e-9)) return bad("the pull has no direction");
  for (const auto* list :
       {&job.split_marks.keep_clear, &job.split_marks.to_a, &job.split_marks.to_b, &job.split_marks.line}) {
    if (list->size() > 20'000) return bad("there are too many marks on the part");
    for (const SplitMarks::Spot& m : *list)
      if (!finite(m.point_mm) || outside(m.radius_mm, 0, 1000)) return bad("a mark has no place");
  }
  for (const double w : {job.pull_weights.locked, job.pull_weights.line, job.pull_weights.flat, job.pull_weights.height,
                         job.pull_weights.show, job.pull_weights.odd})
    if (outside(w, 0, 1000)) return bad("a weight of the pull search must be from 0 to 1000");
  for (const BoreTreatment& b : job.bores)
    if (!finite(b.point_mm) || outside(b.radius_mm, 0, 1e4)) return bad("a treated bore has no place");
  if (job.piece_pulls.size() > 8) return bad("ten pieces are enough");
  for (const Vec3& p : job.piece_pulls)
    if (!finite(p) || length(p) < 1e-9) return bad("a piece's pull has no direction");
  if (!job.form.empty() && !form_named(job.form)) return bad("\"" + job.form + "\" is no form of mould");
  if (!key_kind(job.keys)) return bad("\"" + job.keys + "\" is no kind of key");
  if (!box_style(job.box)) return bad("\"" + job.box + "\" is no way to build a box");
  if (job.key_places.size() > 40) return bad("forty keys are enough");
  for (const Vec3& p : job.key_places)
    if (!finite(p)) return bad("a key has no place");
  if (outside(job.build.sheet_mm, 0.5, 40) || outside(job.build.clearance_mm, 0, 3) ||
      outside(job.build.voxel_mm, 0.05, 5) || outside(job.build.bed_u_mm, 20, 2000) ||
      outside(job.build.bed_v_mm, 20, 2000) || outside(job.build.chamber_mm, 0, 5000) ||
      outside(job.build.pot_mm, 0, 5000))
    return bad("the figures for printing and cutting are out of reason");
  if (!job.way.empty() && !way_named(job.way)) return bad("\"" + job.way + "\" is no way to split");
  if (job.wall_mm && outside(*job.wall_mm, 0.5, 500)) return bad("the wall must be from 0.5 to 500 mm");
  if (job.master_g && outside(*job.master_g, 0, 1e6)) return bad("the master's mass is out of reason");
  if (outside(job.scale_division_g, 1e-4, 1000)) return bad("the scale division must be from 0.0001 to 1000 g");
  if (outside(job.waste_pct, 0, 100)) return bad("the waste must be from 0 to 100 %");
  if (outside(job.cup_tare_g, 0, 1e5) || outside(job.cup_ml, 0, 1e6)) return bad("the cup's figures are out of reason");
  const DaysPlan& d = job.days;
  if (!d.start.empty() && !parse_wall_time(d.start)) return bad("\"" + d.start + "\" is no day and time");
  if (d.moulds < 1 || d.moulds > 20) return bad("the number of moulds must be from 1 to 20");
  if (d.bench.from_min < 0 || d.bench.to_min > 24 * 60 || d.bench.from_min >= d.bench.to_min)
    return bad("the bench must open before it shuts");
  if (std::find(d.bench.days.begin(), d.bench.days.end(), true) == d.bench.days.end())
    return bad("there is no bench day in the week");
  for (const auto& [id, c] : d.changes)
    if ((c.hands_min && outside(*c.hands_min, 0, 5000)) || (c.wait_min && outside(*c.wait_min, 0, 200'000)))
      return bad("a step's time is out of reason");
  const FlowSetup& f = job.flow;
  if (outside(f.tilt_deg, 0, 90) || outside(f.azimuth_deg, -360, 360)) return bad("the mould's tilt is out of reason");
  if (outside(f.pressure_kpa, 0, 1000)) return bad("the pot's pressure must be from 0 to 1000 kPa");
  if (outside(f.vacuum_kpa, 0.01, 101)) return bad("the vacuum must be from 0.01 to 101 kPa absolute");
  if (outside(f.altitude_m, -400, 5000)) return bad("the altitude must be from -400 to 5000 m");
  if (outside(f.sprue_mm, 1, 40)) return bad("the sprue must be from 1 to 40 mm across");
  if (outside(f.vent_mm, 0.3, 20)) return bad("vents must be from 0.3 to 20 mm across");
  if (outside(f.head_mm, 0, 1000)) return bad("the sprue's head must be from 0 to 1000 mm");
  if (outside(f.max_tilt_deg, 0, 90)) return bad("the greatest tilt must be from 0 to 90 degrees");
  if (f.max_vents < 0 || f.max_vents > 40) return bad("the plan may take from 0 to 40 vents");
  if (f.no_vents.size() > 100) return bad("a hundred places without a vent are enough");
  for (const Vec3& v : f.no_vents)
    if (!finite(v)) return bad("a place without a vent is nowhere");
  if (f.vents.size() > 100) return bad("a hundred vents are enough");
  for (const Vec3& v : f.vents)
    if (!finite(v)) return bad("a vent has no place");
  if (f.gate && !finite(*f.gate)) return bad("the gate has no place");
  for (const MeasuredSize& s : job.sizes)
    if (auto ok = check_size(s); !ok) return ok;
  return {};
}

bool History::edit(Job job, std::string what, const std::string& merge) {
  if (job == now_) return false;
  const bool joined = !merge.empty() && merge == merge_ && !back_.empty();
  if (!joined) {
    back_.push_back({std::move(now_), std::move(what)});
    if (back_.size() > 500) back_.erase(back_.begin());
  }
  merge_ = merge;
  forward_.clear();
  now_ = std::move(job);
  return true;
}
bool History::undo() {
  if (back_.empty()) return false;
  Step s = std::move(back_.back());
  back_.pop_back();
  forward_.push_back({std::move(now_), s.what});
  now_ = std::move(s.job);
  merge_.clear();
  return true;
}
bool History::redo() {
  if (forward_.empty()) return false;
  Step s = std::move(forward_.back());
  forward_.pop_back();
  back_.push_back({std::move(now_), s.what});
  now_ = std::move(s.job);
  merge_.clear();
  return true;
}

std::string now_text() {
  const std::time_t t = std::time(nullptr);
  std::tm tm{};
  localtime_r(&t, &tm);
  char buffer[32];
  std::strftime(buffer, sizeof buffer, "%Y-%m-%dT%H:%M:%S", &tm);
  return buffer;
}

std::string new_id() {
  std::random_device r;
  const auto word = [&] { return uint64_t{r()} << 32 | r(); };
  return Hash128{word(), word()}.hex();
}

}  // namespace palinform
