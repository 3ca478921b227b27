// palin flow: where the air stays for one up-direction.
#include "base/text.hpp"
#include "commands.hpp"
#include "flow/sweep.hpp"
#include "mesh/load.hpp"
#include "mesh/rays.hpp"
#include "mesh/topology.hpp"

namespace palinform::cli {

void add_flow(CLI::App& app, Command& run) {
  struct Options {
    std::string file, up, gate, open, unit;
    std::vector<std::string> vents;
    double voxel = 0, pressure = -1, vacuum = -1, altitude = 0;
  };
  auto o = std::make_shared<Options>();
  auto* c = app.add_subcommand("flow", "Where air stays while the mould fills");
  c->add_option("FILE", o->file, "the cavity is the inside of this mesh")->required();
  c->add_option("--up", o->up, "x,y,z")->required();
  c->add_option("--gate", o->gate, "x,y,z");
  c->add_option("--vent", o->vents, "x,y,z; may be given again")
      ->expected(1)
      ->multi_option_policy(CLI::MultiOptionPolicy::TakeAll);
  c->add_option("--open", o->open, "x,y,z,r: a disc open to the air");
  c->add_option("--voxel", o->voxel, "mm")->check(CLI::PositiveNumber);
  c->add_option("--pressure-kpa", o->pressure, "gauge, of the pot")->check(CLI::NonNegativeNumber);
  c->add_option("--vacuum-kpa-abs", o->vacuum, "absolute, before flooding")->check(CLI::PositiveNumber);
  c->add_option("--altitude-m", o->altitude);
  c->add_option("--unit", o->unit)->check(CLI::IsMember({"mm", "cm", "in"}));
  c->callback([o, &run] {
    run = [o](Progress& progress) -> Answer {
      const Stopwatch clock;
      const auto up = parse_vector(o->up, "--up");
      if (!up) return up.error();
      auto loaded = load_mesh(o->file, o->unit.empty() ? std::optional<LengthUnit>() : length_unit(o->unit), progress);
      if (!loaded) return loaded.error();
      const TriMesh& mesh = loaded->mesh;
      const EdgePairs pairs = pair_edges(mesh);
      if (pairs.open_edges + pairs.non_manifold_edges > 0)
        return Error{"the mesh is not closed, so it has no inside", base_name(o->file),
                     "Mend it first: palin mesh FILE --repair --out FILE."};
      const auto rays = RayScene::build(mesh);
      if (!rays) return rays.error();
      std::vector<Opening> openings;
      for (const std::string& v : o->vents) {
        const auto p = parse_vector(v, "--vent");
        if (!p) return p.error();
        openings.push_back({(*rays)->closest(*p).point_mm, 0});
      }
      if (!o->open.empty()) {
        std::string spaced = o->open;
        for (char& ch : spaced)
          if (ch == ',') ch = ' ';
        const auto n = parse_numbers(spaced);
        if (!n || n->size() != 4 || (*n)[3] <= 0)
          return Error{"\"" + o->open + "\" is no disc", "--open", "Write x,y,z,r with r above zero."};
        openings.push_back({(*rays)->closest({(*n)[0], (*n)[1], (*n)[2]}).point_mm, (*n)[3]});
      }
      if (!o->gate.empty())
        if (const auto g = parse_vector(o->gate, "--gate"); !g) return g.error();
      const double volume = measure(mesh).volume_mm3;
      const auto cavity =
          fill_with_cells(mesh, o->voxel > 0 ? o->voxel : std::max(0.05, voxel_for(volume, 1e6)), progress);
      if (!cavity) return cavity.error();
      const auto s = sweep_air(*cavity, *up, openings, progress);
      if (!s) return s.error();
      Json pockets = Json::array();
      for (const Pocket& p : s->pockets) {
        double after = p.volume_mm3;
        if (o->vacuum > 0) after = after_vacuum_mm3(after, o->vacuum, o->altitude);
        if (o->pressure >= 0) after = under_pressure_mm3(after, o->pressure, o->altitude);
        pockets.push_back({{"apex", json_of(p.apex_mm)},
                           {"volume_mm3", p.volume_mm3},
                           {"saddle", p.saddle_mm ? json_of(*p.saddle_mm) : Json()},
                           {"volume_after_mm3", after}});
      }
      // Filling time needs the resistance network of a later version: null, not invented.
      Json j{{"up", json_of(unit(*up))},      {"voxel_mm", cavity->voxel_mm},  {"cavity_mm3", cavity->volume_mm3()},
             {"trapped_mm3", s->trapped_mm3}, {"pockets", std::move(pockets)}, {"fill_time_min", nullptr}};
      j["elapsed_ms"] = clock.ms();
      return j;
    };
  });
}

}  // namespace palinform::cli
