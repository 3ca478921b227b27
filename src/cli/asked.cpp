#include "asked.hpp"

#include <cmath>

#include "base/check_fields.hpp"
#include "stages/openings.hpp"

#include <QGuiApplication>

#include "base/text.hpp"
#include "foreign/apart.hpp"
#include "shop.hpp"

namespace palinform::cli {

bool& outside_range() {
  static bool refused = false;
  return refused;
}

CLI::Validator within(double low, double high) {
  const std::string range = shortest(low, 6) + " to " + shortest(high, 6);
  return CLI::Validator(
      [low, high, range](std::string& given) -> std::string {
        const auto v = parse_number(given);
        if (!v) return "\"" + given + "\" is no number; it may lie from " + range;
        if (*v >= low && *v <= high) return {};
        outside_range() = true;
        return "\"" + given + "\" lies outside " + range;
      },
      range);
}

struct PaperSession::App {
  int argc = 1;
  char name[6] = "palin";
  char* argv[2] = {name, nullptr};
  QGuiApplication qt{argc, argv};
};
PaperSession::PaperSession() {
  qputenv("QT_QPA_PLATFORM", "offscreen");
  app_ = std::make_unique<App>();
}
PaperSession::~PaperSession() = default;

Result<std::unique_ptr<Asked>> Asked::about(const std::string& file, const std::string& unit,
                                            const Progress& progress) {
  const auto u = unit.empty() ? std::optional<LengthUnit>() : named<LengthUnit>(unit);
  auto loaded = load_mesh_apart(file, u, progress.part(0, 0.1));
  if (!loaded) return loaded.error();
  std::unique_ptr<Asked> asked(new Asked);
  const auto shop = shop_asked();
  if (!shop) return shop.error();
  asked->shop = **shop;
  asked->mesh_ = std::make_shared<const TriMesh>(std::move(loaded->mesh));
  Job& job = asked->job;
  job.name = base_name(file);
  job.original.mesh.hash = hash_of(*asked->mesh_).hex();
  job.original.mesh.file = base_name(file);
  job.original.mesh.exact = std::move(loaded->exact);
  job.mix.silicone_id = job.mix.resin_id = given;
  job.mix.rubber_air = job.mix.resin_air = AirBy::none;
  const WayFacts usual;
  Silicone& rubber = asked->shop.shelf.silicones.emplace_back();
  rubber.id = given;
  rubber.name = "Rubber";
  rubber.shore_a = usual.shore_a;
  rubber.density_g_cm3 = usual.rubber_density_g_cm3;
  rubber.price_per_kg = usual.rubber_price_per_kg;
  rubber.demould_h = usual.cure_h;
  const FormFacts forms;
  rubber.usual_pulls_simple = forms.pulls_simple;
  rubber.usual_pulls_undercut = forms.pulls_undercut;
  Resin& resin = asked->shop.shelf.resins.emplace_back();
  resin.id = given;
  resin.name = "Resin";
  resin.density_g_cm3 = forms.resin_density_g_cm3;
  resin.price_per_kg = forms.resin_price_per_kg;
  if (auto ok = asked->plan({"original"}, progress.part(0.1, 0.2)); !ok) return ok.error();
  asked->original_ = asked->maybe(results::original);
  const EdgePairs& pairs = *asked->original_->pairs;
  if (pairs.open_edges + pairs.non_manifold_edges > 0)
    return Error{
        "the mesh is not closed: " + counted(static_cast<long long>(pairs.open_edges), "open edge", "open edges") +
            ", " + counted(static_cast<long long>(pairs.non_manifold_edges), "non-manifold edge", "non-manifold edges"),
        base_name(file), "Mend it first: palin mesh FILE --repair --out FILE."};
  return asked;
}

Status Asked::add_part(const std::string& file, const std::string& unit, const Progress& progress) {
  if (job.parts.size() >= most_further_parts)
    return Error{"a job takes " + std::to_string(most_further_parts + 1) + " parts at most", "--with", ""};
  auto loaded = load_mesh_apart(file, unit.empty() ? std::optional<LengthUnit>() : named<LengthUnit>(unit), progress);
  if (!loaded) return loaded.error();
  JobPart part;
  part.name = base_name(file);
  part.original.mesh.file = part.name;
  part.original.mesh.exact = std::move(loaded->exact);
  auto mesh = std::make_shared<const TriMesh>(std::move(loaded->mesh));
  part.original.mesh.hash = hash_of(*mesh).hex();
  beside_[part.original.mesh.hash] = std::move(mesh);
  job.parts.push_back(std::move(part));
  return {};
}

Status Asked::add_insert(const std::string& file, const std::string& unit, double density, const Progress& progress) {
  auto loaded = load_mesh_apart(file, unit.empty() ? std::optional<LengthUnit>() : named<LengthUnit>(unit), progress);
  if (!loaded) return loaded.error();
  Insert in;
  in.kind = Insert::Kind::mesh;
  in.name = in.file = base_name(file);
  in.density_g_cm3 = density;
  auto mesh = std::make_shared<const TriMesh>(std::move(loaded->mesh));
  in.mesh_hash = hash_of(*mesh).hex();
  beside_[in.mesh_hash] = std::move(mesh);
  job.split.inserts.push_back(std::move(in));
  return {};
}

Result<Json> inserts_json(const Asked& asked) {
  const InsertsResult& r = asked[results::inserts];
  Json out = Json::array();
  for (size_t k = 0; k < r.placed.size(); ++k) {
    const auto& p = r.placed[k];
    const std::string& name = asked.job.split.inserts[k].name;
    if (p.refused) return Error{p.refused->what, name, p.refused->remedy};
    Json seats = Json::array();
    for (const StandsOut& s : p.how.seats)
      seats.push_back({{"at", json_of(s.foot_mm)}, {"deep_mm", s.deep_mm}, {"volume_mm3", s.volume_mm3}});
    out.push_back(
        {{"name", name},
         {"inside_mm3", p.how.inside_mm3},
         {"outside_mm3", p.how.outside_mm3()},
         {"mass_g", p.mass_g},
         {"lift_N", lift_on_insert_n(p.how.inside_mm3, p.mass_g, asked.shop.shelf.resins.back().density_g_cm3)},
         {"gap_mm", p.how.gap_mm ? Json(*p.how.gap_mm) : Json()},
         {"gap_at", p.how.gap_mm ? json_of(p.how.gap_at_mm) : Json()},
         {"thin_share", p.how.thin_share},
         {"seats", std::move(seats)}});
  }
  for (const Finding& f : asked[results::insert_advice].findings)
    if (f.code == "insert-gate") return Error{f.what, "--gate", f.why + " Move the gate, or the insert."};
  return out;
}

Asked::Asked() : shop(starting_shop()), study(rough_look() ? rough_study() : Study{}) {}

Status Asked::plan(const std::vector<std::string_view>& wanted, const Progress& progress) {
  if (!store_) store_ = std::make_shared<ResultStore>();
  planner_ = std::make_unique<Planner>(
      only(job_nodes(
               shop,
               [mesh = mesh_, beside = beside_](const std::string& hash) -> Result<std::shared_ptr<const TriMesh>> {
                 const auto at = beside.find(hash);
                 return at == beside.end() ? mesh : at->second;
               }),
           wanted),
      2, store_);
  planner_->set(Subject{job, {}, study});
  planner_->wait(&progress);
  if (progress.cancelled()) return Error::stopped();
  for (const SlotState& s : planner_->states())
    if (s.state == Freshness::failed) return s.error;
  return {};
}

void add_opening_option(CLI::App& command, std::vector<std::string>& said) {
  command.add_option("--opening", said, "N=meet|plate|fill|plug|slit|slide, with figures; may be given again")
      ->expected(1)
      ->multi_option_policy(CLI::MultiOptionPolicy::TakeAll);
}

namespace {

/// "2=plug:1,4": which opening, and what is said of it; where it lies is not known yet.
struct OpeningSaid {
  double number = 0;
  OpeningChoice choice;
};
Result<OpeningSaid> parse_opening(const std::string& one) {
  const Error no_words{"\"" + one + "\" says nothing of an opening", "--opening",
                       "Write as in 1=fill, 1=meet:0.5, 1=plate:2, 1=plug:1,4, 1=slide:1 or 1=slit:0.5,2."};
  const size_t equals = one.find('=');
  const auto which = equals == std::string::npos ? std::nullopt : parse_numbers(one.substr(0, equals));
  if (!which || which->size() != 1) return no_words;
  const size_t colon = one.find(':', equals);
  const std::string kind = one.substr(equals + 1, colon == std::string::npos ? colon : colon - equals - 1);
  std::string figures = colon == std::string::npos ? "" : one.substr(colon + 1);
  const bool both = kind == "slide" && figures == "both";
  if (both) figures.clear();
  std::replace(figures.begin(), figures.end(), ',', ' ');
  const auto given_figures =
      figures.empty() ? std::vector<double>{} : parse_numbers(figures).value_or(std::vector<double>{});
  if (!figures.empty() && given_figures.empty()) return no_words;
  const auto how = named<OpeningChoice::Kind>(kind);
  if (!how) return no_words;
  OpeningSaid said{which->front(), {}};
  OpeningChoice& c = said.choice;
  c.kind = *how;
  c.two = both;
  const double first = given_figures.empty() ? -1 : given_figures[0];
  if (first >= 0) {
    if (c.kind == OpeningChoice::Kind::meet)
      c.share = first;
    else if (c.kind == OpeningChoice::Kind::slit)
      c.share = first, c.step_mm = given_figures.size() > 1 ? given_figures[1] : 0;
    else if (c.kind == OpeningChoice::Kind::plug)
      c.deep_mm = first, c.thick_mm = given_figures.size() > 1 ? given_figures[1] : 0;
    else
      c.mouth = first == 2 ? 2 : 1;
  }
  if (!check_fields(c))
    return Error{"\"" + one + "\" has a figure out of reason", "--opening",
                 "Shares are 0 to 1 from mouth 1, depths and thicknesses in mm."};
  return said;
}

}  // namespace

Status settle_openings(Asked& asked, const std::vector<std::string>& said, const Progress& progress) {
  if (said.empty()) return {};
  std::vector<OpeningSaid> all_said;  // what cannot be read is refused before anything is looked for
  for (const std::string& one : said) {
    auto read = parse_opening(one);
    if (!read) return read.error();
    all_said.push_back(*std::move(read));
  }
  if (auto ok = asked.plan({"original", "prepared", "openings"}, progress); !ok) return ok;
  const Openings& all = asked[results::openings].found;
  for (OpeningSaid& one : all_said) {
    const double n = one.number;
    if (!(n >= 1) || n > static_cast<double>(all.openings.size()) || n != std::floor(n))
      return Error{"there is no opening " + significant(n, 6), "--opening",
                   all.openings.empty() ? "None was found on this part."
                                        : "They are 1 to " + std::to_string(all.openings.size()) + "."};
    one.choice.at_mm = all.openings[static_cast<size_t>(n) - 1].at_mm();
    asked.job.split.openings.push_back(one.choice);
  }
  return {};
}

void add_slide_option(CLI::App& command, std::vector<std::string>& said) {
  command.add_option("--slide", said, "x,y,z of a pocket's face, or x,y,z:x,y,z with the draw; may be given again")
      ->expected(1)
      ->multi_option_policy(CLI::MultiOptionPolicy::TakeAll);
}

Status slide_pockets(Asked& asked, const std::vector<std::string>& said, const Progress& progress) {
  std::vector<std::pair<PocketSlide, bool>> pockets;  // and whether its draw was said
  for (const std::string& one : said) {
    const size_t colon = one.find(':');
    PocketSlide p;
    const auto at = parse_vector(one.substr(0, colon), "--slide");
    if (!at) return at.error();
    p.at_mm = *at;
    if (colon != std::string::npos) {
      const auto draw = parse_direction(one.substr(colon + 1), "--slide");
      if (!draw) return draw.error();
      p.draw = *draw;
    }
    pockets.emplace_back(p, colon != std::string::npos);
  }
  if (pockets.empty()) return {};
  if (auto ok = asked.plan(with_split({}), progress); !ok) return ok;
  const OriginalResult& m = asked[results::master];
  for (auto& [p, drawn] : pockets) {
    p.pull = asked[results::split].split.pull;
    if (!drawn) p.draw = best_draw(*m.mesh, *m.pairs, *m.rays, p);
    asked.job.split.pockets.push_back(p);
  }
  return {};
}

Json pockets_json(const Asked& asked) {
  Json out = Json::array();
  const auto pins = asked.maybe(results::pins);
  for (size_t k = 0; pins && k < pins->pockets.size(); ++k) {
    const SlidPocket& p = pins->pockets[k];
    out.push_back({{"at", json_of(asked.job.split.pockets[k].at_mm)},
                   {"draw", json_of(unit(asked.job.split.pockets[k].draw))},
                   {"slide", p.pin ? Json(pins->pins[*p.pin].name) : Json()},
                   {"forms_mm2", p.faces.area_mm2},
                   {"held_mm2", p.faces.held_mm2},
                   {"deep_mm", p.faces.deep_mm},
                   {"volume_mm3", p.pin ? Json(pins->pins[*p.pin].volume_mm3) : Json()}});
  }
  return out;
}

Json openings_json(const Openings& all, const std::vector<OpeningChoice>& choices, const Vec3& pull) {
  Json out = Json::array();
  for (size_t k = 0; k < all.openings.size(); ++k) {
    const Opening& o = all.openings[k];
    const OpeningChoice* c = choice_for(all, k, choices);
    out.push_back({{"at", json_of(o.at_mm())},
                   {"axis", json_of(o.axis())},
                   {"area_mm2", o.area_mm2},
                   {"width_mm", o.width_mm},
                   {"long_mm", o.long_mm},
                   {"length_mm", o.length_mm()},
                   {"volume_mm3", o.volume_mm3},
                   {"diameter_mm", o.round_mm ? Json(*o.round_mm) : Json()},
                   {"steps_mm2", o.steps_mm2()},
                   {"straight", o.straight},
                   {"along_pull", along_pull(o, pull)},
                   {"into_hollow", o.hollow},
                   {"mouths", {json_of(o.cuts.front().plane.point_mm), json_of(o.cuts.back().plane.point_mm)}},
                   {"dealt_with", c ? Json(name_of(c->kind)) : Json()}});
  }
  return out;
}

std::vector<std::string_view> with_split(std::vector<std::string_view> more) {
  std::vector<std::string_view> all{"original", "prepared", "openings", "master", "bores",  "wishes",    "search",
                                    "releases", "split",    "witness",  "thin",   "pieces", "undercuts", "facts"};
  all.insert(all.end(), more.begin(), more.end());
  return all;
}

Result<Vec3> parse_direction(const std::string& text, const std::string& option) {
  const auto v = parse_vector(text, option);
  if (!v) return v.error();
  if (length(*v) < 1e-9)
    return Error{option.substr(option.find_first_not_of('-')) + " has no direction", option,
                 "Give a vector that is not nought."};
  return unit(*v);
}

Json findings_json(const std::vector<Finding>& findings) {
  Json out = Json::array();
  for (const Finding& f : findings) {
    Json j{{"code", f.code}, {"severity", name_of(f.severity)}, {"what", f.what}, {"why", f.why}};
    j["remedies"] = Json::array();
    for (const Remedy& r : f.remedies) j["remedies"].push_back(r.code());
    out.push_back(std::move(j));
  }
  return out;
}

Result<Vec3> parse_vector(const std::string& text, const std::string& option) {
  std::string spaced = text;
  for (char& c : spaced)
    if (c == ',') c = ' ';
  const auto v = parse_numbers(spaced);
  if (!v || v->size() != 3) return Error{"\"" + text + "\" is no vector", option, "Write three numbers, as in 0,0,1."};
  return Vec3{(*v)[0], (*v)[1], (*v)[2]};
}

}  // namespace palinform::cli
