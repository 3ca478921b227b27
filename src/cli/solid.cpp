#include "solid.hpp"

#include <QGuiApplication>

#include "base/text.hpp"
#include "foreign/apart.hpp"

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

Result<Solid> load_solid(const std::string& file, const std::string& unit, const Progress& progress) {
  const auto u = unit.empty() ? std::optional<LengthUnit>() : named<LengthUnit>(unit);
  auto loaded = load_mesh_apart(file, u, progress.part(0, 0.1));
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

Result<Parted> split_of(const Solid& s, const std::string& pull, const SplitMarks& marks, const Progress& progress) {
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

Result<Vec3> parse_vector(const std::string& text, const std::string& option) {
  std::string spaced = text;
  for (char& c : spaced)
    if (c == ',') c = ' ';
  const auto v = parse_numbers(spaced);
  if (!v || v->size() != 3) return Error{"\"" + text + "\" is no vector", option, "Write three numbers, as in 0,0,1."};
  return Vec3{(*v)[0], (*v)[1], (*v)[2]};
}

}  // namespace palinform::cli
