#include "stages/assembling.hpp"

#include <algorithm>

#include "base/text.hpp"
#include "split/out_order.hpp"

namespace palinform {

bool comes_apart_in_order(const Job& job) {
  const auto pins = std::count_if(job.split.bores.begin(), job.split.bores.end(),
                                  [](const BoreTreatment& b) { return b.kind == BoreTreatment::Kind::pin; }) +
                    std::count_if(job.split.openings.begin(), job.split.openings.end(),
                                  [](const OpeningChoice& c) { return c.kind == OpeningChoice::Kind::slide; }) +
                    static_cast<std::ptrdiff_t>(job.split.pockets.size());
  const bool one = job.mould.masters == 1 && job.parts.empty() && in_halves(job.mould.planned_form());
  return one && (pins >= 2 || !job.split.piece_pulls.empty());
}

Result<AssemblyResult> assembly_of(const SolidsResult& solids, const PinsResult* pins, const Progress& progress) {
  AssemblyResult r;
  std::vector<AssemblyResult::Member> members;
  std::vector<ComesOut> bodies;
  std::vector<TriMesh> rods;
  std::vector<std::shared_ptr<const RayScene>> rays;
  Box3 box;
  for (const auto& s : solids.pieces) box.add(s->box_mm.min), box.add(s->box_mm.max);
  const Vec3 size = box.size();
  // The solids are true to half a voxel of the picture's.
  const double slack = std::max(0.9, std::max({size.x, size.y, size.z}) / 100);
  if (pins) {
    rods.reserve(pins->pins.size());
    for (size_t k = 0; k < pins->pins.size(); ++k) {
      const PinPlan& p = pins->pins[k];
      rods.push_back(pin_mesh(p));
      auto scene = RayScene::build(rods.back());
      if (!scene) return scene.error();
      rays.push_back(*scene);
      members.push_back({p.name, p.draw, false, -1, static_cast<int>(k)});
      bodies.push_back({p.name, &rods.back(), rays.back().get(), p.draw, 0});
    }
  }
  for (size_t k = 0; k < solids.pieces.size(); ++k) {
    const std::string name = k == 0 ? "side a" : k == 1 ? "side b" : "piece " + std::to_string(k - 1);
    members.push_back({name, solids.pulls[k], true, static_cast<int>(k), -1});
    bodies.push_back({name, solids.meshes[k].get(), solids.pieces[k]->rays.get(), solids.pulls[k],
                      k >= 2 ? 1 : static_cast<int>(2 + k)});
  }
  const OutOrder order = out_order(bodies, slack, progress);
  if (progress.cancelled()) return Error::stopped();
  for (const size_t k : order.order) r.order.push_back(members[k]);
  for (const OutOrder::Stuck& s : order.stuck) {
    Finding f{"assembly-stuck", Severity::stop, {}, "", "", {}};
    f.what = bodies[s.who].name + " cannot come out: " + bodies[s.by].name + " is in its way";
    f.why =
        "Drawn straight along its way it runs into it here, and that does not come out before either. Draw one of "
        "them the other way, or give it another mouth.";
    f.where.point_mm = s.at_mm;
    f.where.step = bodies[s.who].name;
    if (const auto& m = members[s.who]; m.shape >= 2)
      f.remedies = {{"Leave this piece out", edits::DropPiece{static_cast<size_t>(m.shape - 2)}}};
    r.findings.push_back(std::move(f));
  }
  return r;
}

}  // namespace palinform
