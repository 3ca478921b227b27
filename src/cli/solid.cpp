// palin solid: a part drawn from measures.
#include "base/text.hpp"
#include "commands.hpp"
#include "drawn/file.hpp"
#include "mesh/save.hpp"
#include "mesh/soundness.hpp"

namespace palinform::cli {

void add_solid(CLI::App& app, Command& run) {
  struct Options {
    std::string file, out;
  };
  auto o = std::make_shared<Options>();
  auto* c = app.add_subcommand("solid", "Draw a part from its measures: bodies added and cut away");
  c->add_option("FILE", o->file, "JSON: {unit, add: [{shape, at, axis, measures}], cut: [the same]}")->required();
  c->add_option("--out", o->out, "Write the mesh here (.stl or .3mf)");
  c->callback([o, &run] {
    run = [o](const Progress& progress) -> Answer {
      const Stopwatch clock;
      const auto bytes = read_file(o->file);
      if (!bytes) return bytes.error();
      const auto drawn = read_drawing(*bytes, base_name(o->file));
      if (!drawn) return drawn.error();
      const auto solid = draw_solid(*drawn, progress.part(0, 0.8));
      if (!solid) return solid.error();
      const auto s = check_soundness(solid->mesh, true, progress.part(0.8, 1));
      if (!s) return s.error();
      if (!o->out.empty())
        if (auto saved = save_mesh(solid->mesh, o->out); !saved) return saved.error();
      const MeshMeasure m = measure(solid->mesh);
      return Json{{"file", o->file},
                  {"volume_mm3", m.volume_mm3},
                  {"u_volume_mm3", solid->u_volume_mm3},
                  {"area_mm2", m.area_mm2},
                  {"bbox_mm", {{"min", json_of(m.box_mm.min)}, {"max", json_of(m.box_mm.max)}}},
                  {"sound", s->sound()},
                  {"u_mm", solid->u_mm},
                  {"pieces", solid->apart},
                  {"triangles", solid->mesh.triangles.size()},
                  {"out", o->out.empty() ? Json() : Json(o->out)},
                  {"elapsed_ms", clock.ms()}};
    };
  });
}

}  // namespace palinform::cli
