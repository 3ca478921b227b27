#include "stages/pockets.hpp"

#include <algorithm>

#include "mould/pocket_body.hpp"

namespace palinform {

void ignore_slid_pockets(FaceWishes& w, const OriginalResult& m, const std::vector<PocketSlide>& pockets) {
  for (const PocketSlide& p : pockets) {
    if (w.flags.empty()) w.flags.assign(m.mesh->triangles.size(), 0);
    for (const uint32_t t : pocket_faces(*m.mesh, *m.pairs, *m.rays, p).triangles) w.flags[t] |= FaceWishes::ignored;
  }
}

Status add_pocket_slides(PinsResult& pins, const OriginalResult& m, const std::vector<PocketSlide>& pockets,
                         double wall, const PinRules& rules, const Progress& progress) {
  constexpr double voxel_mm = 0.3;  // as further pieces are written; coarser on slides over 220 of them across
  auto slides =
      std::count_if(pins.pins.begin(), pins.pins.end(), [](const PinPlan& p) { return p.name.starts_with("Slide"); });
  for (size_t k = 0; k < pockets.size(); ++k) {
    const auto part = static_cast<double>(pockets.size());
    SlidPocket slid;
    slid.faces = pocket_faces(*m.mesh, *m.pairs, *m.rays, pockets[k]);
    ExtraPiece piece;
    piece.pull = unit(pockets[k].draw);
    piece.triangles = slid.faces.triangles;
    const std::string name = "Slide " + std::to_string(slides + 1);
    auto made = plan_pocket_slide(*m.mesh, piece, pockets[k].pull, wall, name, rules, voxel_mm,
                                  progress.part(static_cast<double>(k) / part, static_cast<double>(k + 1) / part));
    if (made) {
      ++slides;
      slid.pin = pins.pins.size();
      pins.pins.push_back(*std::move(made));
    } else if (made.error().cancelled) {
      return made.error();
    } else {
      slid.refused = made.error();
    }
    pins.pockets.push_back(std::move(slid));
  }
  return {};
}

}  // namespace palinform
