// palin mesh.
#include "base/text.hpp"
#include "commands.hpp"
#include "foreign/apart.hpp"
#include "mesh/load.hpp"
#include "mesh/save.hpp"
#include "mesh/soundness.hpp"

namespace palinform::cli {
namespace {

Json defects_json(const Soundness& s) {
  return {{"open_edges", s.open_edges},
          {"non_manifold_edges", s.non_manifold_edges},
          {"self_intersections", s.self_intersections},
          {"degenerate_faces", s.degenerate_faces},
          {"flipped_components", s.flipped_components}};
}

}  // namespace

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
  c->add_option("--voxel", o->voxel, "of the wrap, mm")->check(within(0.01, 100));
  c->add_option("--out", o->out, "Write the mesh here (.stl or .3mf)");
  c->callback([o, &run] {
    run = [o](const Progress& progress) -> Answer {
      const Stopwatch clock;
      auto loaded = load_mesh_apart(o->file, o->unit.empty() ? std::optional<LengthUnit>() : named<LengthUnit>(o->unit),
                                    progress.part(0, 0.2));
      if (!loaded) return loaded.error();
      TriMesh mesh = std::move(loaded->mesh);
      Json repaired;
      if (o->repair) {
        auto r = mend_apart(mesh, {!o->exact, o->voxel}, progress.part(0.2, 0.9));
        if (!r) return r.error();
        mesh = std::move(r->mesh);
        const MendReport& q = r->report;
        repaired = {{"method", name_of(q.method)},
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
      if (!o->out.empty() && o->repair) {
        // The file's own figures are coarser than the mesh's: what is said of it is what is read back.
        const auto back = load_mesh(o->out, LengthUnit::mm, progress);
        const auto as_written = back ? check_soundness(back->mesh, true, progress) : Result<Soundness>(back.error());
        if (!as_written || !as_written->sound()) {
          std::remove(o->out.c_str());
          return Error{"the mended mesh does not stay sound once it is written: no file was left", o->out,
                       as_written ? "Write it as 3MF or PLY, or mend it with --voxel." : as_written.error().text()};
        }
      }
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
      j["question"] = loaded->question.empty() ? Json() : Json(loaded->question);
      j["unit_guess"] = loaded->unit_guess ? Json(name_of(*loaded->unit_guess)) : Json();
      j["elapsed_ms"] = clock.ms();
      return j;
    };
  });
}

}  // namespace palinform::cli
