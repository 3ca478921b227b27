// palin compare: a scan of a casting against its master (M27).
#include "asked.hpp"
#include "base/text.hpp"
#include "check/deviation.hpp"
#include "foreign/apart.hpp"
#include "mesh/save.hpp"

namespace palinform::cli {
namespace {

struct AskedOfCompare {
  std::string master, casting, unit, map;
  std::vector<std::string> datums;
  double limit = 0.1;
  bool scale_free = false;
};

Result<TriMesh> mesh_of(const std::string& file, const std::string& unit, const Progress& progress) {
  auto loaded = load_mesh_apart(file, unit.empty() ? std::optional<LengthUnit>() : named<LengthUnit>(unit), progress);
  if (!loaded) return loaded.error();
  return std::move(loaded->mesh);
}

Answer compare(const AskedOfCompare& o, const Progress& progress) {
  const Stopwatch clock;
  auto master = mesh_of(o.master, o.unit, progress.part(0, 0.2));
  if (!master) return master.error();
  auto scan = mesh_of(o.casting, o.unit, progress.part(0.2, 0.4));
  if (!scan) return scan.error();
  AlignOptions how;
  how.scale_free = o.scale_free;
  for (const std::string& text : o.datums) {
    std::string spaced = text;
    std::replace(spaced.begin(), spaced.end(), ',', ' ');
    const auto n = parse_numbers(spaced);
    if (!n || n->size() != 4 || (*n)[3] <= 0)
      return Error{"\"" + text + "\" is no disc", "--datum", "Write x,y,z,r with r above zero."};
    how.datums.push_back({{(*n)[0], (*n)[1], (*n)[2]}, (*n)[3]});
  }
  const auto rays = RayScene::build(*master);
  if (!rays) return rays.error();
  auto aligned = align_scan(*master, **rays, *scan, how, progress.part(0.4, 0.7));
  if (!aligned) return aligned.error();
  auto d = deviation_of(*master, **rays, *scan, aligned->laid, progress.part(0.7, 1));
  if (!d) return d.error();
  if (!o.map.empty())
    if (auto ok = write_file(o.map, deviation_ply(*scan, aligned->laid, d->mm)); !ok) return ok.error();
  const Transform& m = aligned->laid.motion;
  const double cosine = 0.5 * (m.rows[0].x + m.rows[1].y + m.rows[2].z - 1);
  Json worst = Json::array();
  for (const DeviationPlace& w : d->worst) worst.push_back({{"at", json_of(w.at_mm)}, {"mm", w.mm}});
  return Json{
      {"aligned",
       {{"rotation", Json::array({json_of(m.rows[0]), json_of(m.rows[1]), json_of(m.rows[2])})},
        {"rotation_deg", std::acos(std::clamp(cosine, -1.0, 1.0)) * 180 / 3.14159265358979323846},
        {"translation", json_of(m.shift)},
        {"rms_mm", aligned->rms_mm},
        {"used_pct", 100 * aligned->used_share}}},
      {"scale",
       aligned->scale ? Json{{"x", aligned->scale->x}, {"y", aligned->scale->y}, {"z", aligned->scale->z}} : Json()},
      {"deviation_mm",
       {{"mean", d->mean_mm}, {"rms", d->rms_mm}, {"p95_abs", d->p95_abs_mm}, {"min", d->min_mm}, {"max", d->max_mm}}},
      {"limit_mm", o.limit},
      {"within_limit_pct", 100 * within_limit_share(*scan, d->mm, o.limit)},
      {"covered_pct", 100 * d->covered_share},
      {"same_part", d->same_part},
      {"worst", std::move(worst)},
      {"elapsed_ms", clock.ms()}};
}

}  // namespace

void add_compare(CLI::App& app, Command& run) {
  auto o = std::make_shared<AskedOfCompare>();
  auto* c = app.add_subcommand("compare", "A scan of a casting against its master");
  c->add_option("MASTER", o->master, "its mesh")->required();
  c->add_option("CASTING", o->casting, "the scan")->required();
  c->add_option("--limit", o->limit, "mm off that are held good")->check(within(1e-6, 1000));
  c->add_option("--datum", o->datums, "x,y,z,r on the master: a disc the fit goes by; may be given again")
      ->expected(1)
      ->multi_option_policy(CLI::MultiOptionPolicy::TakeAll);
  c->add_flag("--scale-free", o->scale_free, "Let the scale of each axis be found too");
  c->add_option("--map", o->map, "OUT.ply: the scan on its master, with its deviations");
  c->add_option("--unit", o->unit)->check(CLI::IsMember({"mm", "cm", "in"}));
  c->callback([o, &run] { run = [o](const Progress& progress) -> Answer { return compare(*o, progress); }; });
}

}  // namespace palinform::cli
