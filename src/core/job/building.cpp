#include "job/building.hpp"

#include "base/text.hpp"
#include "mesh/soundness.hpp"
#include "mould/section.hpp"

namespace palinform {

Result<Build> build_files(const TriMesh& mesh, const Split& split, const MouldOptions& mould, const KeyPlan& keys,
                          const std::vector<PinPlan>& pins, const std::vector<Bore>& bores, const BoxPlan& box,
                          const BuildOrder& order, const std::string& job_name, Progress& progress) {
  Build out;
  const auto put = [&](std::string name, TriMesh m) {
    BuiltMesh b;
    b.name = std::move(name);
    b.volume_mm3 = measure(m).volume_mm3;
    b.print_h = b.volume_mm3 / order.board.print_mm3_per_min / 60;
    b.mesh = std::move(m);
    out.meshes.push_back(std::move(b));
  };
  const bool halved = order.form == Form::two_part || order.form == Form::squeeze || order.form == Form::pieces;
  std::optional<Mould> fine;
  if (halved) {
    auto f = fine_mould(mesh, split, mould, order.voxel_mm, progress);
    if (!f) return f.error();
    fine = *std::move(f);
  }
  if (halved && order.board_too) {
    const auto board = parting_board(mesh, *fine, keys, order.board, progress);
    if (!board) return board.error();
    out.board_clearance_mm = board->clearance_mm;
    for (size_t k = 0; k < board->tiles.size(); ++k)
      put(board->tiles.size() > 1 ? "parting_board_" + std::to_string(k + 1) : "parting_board", board->tiles[k].mesh);
    if (board->clearance_mm < 0.5 * order.board.clearance_mm) {
      Finding f{"board-near", Severity::caution, {}, "The board comes nearer to the master than asked", "", {}};
      f.why = fixed(board->clearance_mm, 2) + " mm against " + fixed(order.board.clearance_mm, 2) +
              " mm. Sand the imprint, or write it at a finer voxel.";
      out.findings.push_back(std::move(f));
    }
    double edge = 1e300;
    for (int i = 0; i < fine->nu; ++i)
      edge = std::min({edge, static_cast<double>(fine->parting_mm[fine->column(i, 0)]),
                       static_cast<double>(fine->parting_mm[fine->column(i, fine->nv - 1)])});
    put("box_frame", printed_frame(fine->inner_mm, edge - order.board.groove_deep_mm, fine->inner_mm.max.z + 8,
                                   order.frame_wall_mm));
  }
  if (progress.cancelled()) return Error::stopped();
  if (halved && order.halves) {
    const auto h = mould_halves(mesh, *fine, keys, pins, {order.voxel_mm, 0.05}, progress);
    if (!h) return h.error();
    out.unaccounted_mm3 = h->unaccounted_mm3();
    for (const HalfSolid& x : h->halves) put("rubber_half_" + x.name, x.mesh);
  }
  if (order.form == Form::cup_core) {
    const Bore* core = nullptr;
    for (const Bore& b : bores)
      if (!core || b.depth_mm * b.diameter_mm > core->depth_mm * core->diameter_mm) core = &b;
    if (!core) return Error{"there is no bore to put a core in", "cup and core", "Choose another form."};
    auto c = cup_and_core(mesh, split, *core, 2.5, std::max(0.3, order.voxel_mm), progress);
    if (!c) return c.error();
    put("cup_a", std::move(c->cup_a));
    put("cup_b", std::move(c->cup_b));
    put("core", std::move(c->core));
  }
  for (const BuiltMesh& b : out.meshes) {
    if (progress.cancelled()) return Error::stopped();
    // Above that, edges alone are looked at: the surface of a level set does not cross itself at this fineness.
    const auto sound = check_soundness(b.mesh, b.mesh.triangles.size() < 250'000, progress);
    if (!sound) return sound.error();
    if (sound->sound()) continue;
    Finding f{"build-unsound", Severity::caution, {}, b.name + " is not a sound solid", "", {}};
    f.where.step = b.name;
    f.why = "Write it at another voxel size.";
    out.findings.push_back(std::move(f));
  }
  if (fine) out.drawings.push_back({"section", section_drawing(mesh, *fine, keys, job_name)});
  if (!box.panels.empty()) out.drawings.push_back({"panels", panel_drawing(box, job_name)});
  if (halved && keys.kind == KeyKind::rim) {
    Box3 inner;
    inner.add({0, 0, 0});
    inner.add(box.inner_mm);
    out.drawings.push_back(
        {"stepped_rim", rim_drawing(inner, keys.ring_mm, 2, std::max(1, static_cast<int>(keys.step_mm / 2)),
                                    order.kerf_mm, job_name)});
  }
  for (size_t k = 0; k < pins.size(); ++k)
    out.drawings.push_back({"pin_" + std::to_string(k + 1), pin_drawing(pins[k], job_name)});
  progress.report(1);
  return out;
}

}  // namespace palinform
