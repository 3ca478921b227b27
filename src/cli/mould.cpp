// palin mould.
#include "base/text.hpp"
#include "mould/box.hpp"
#include "solid.hpp"

namespace palinform::cli {

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
