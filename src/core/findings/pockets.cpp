#include "findings/pockets.hpp"

#include <algorithm>

#include "base/text.hpp"
#include "findings/tell.hpp"

namespace palinform {

namespace {

/// Places on a solid's skin: its corners, and along its edges every `apart_mm` (bars cross where neither has a corner);
/// of many every nth.
std::vector<Vec3> places_on(const TriMesh& m, double apart_mm, size_t most) {
  std::vector<Vec3> all = m.points;
  for (const Triangle& t : m.triangles)
    for (int k = 0; k < 3; ++k) {
      const uint32_t from = t[static_cast<size_t>(k)], to = t[static_cast<size_t>((k + 1) % 3)];
      if (from > to) continue;  // its other side has it
      const Vec3 way = m.points[to] - m.points[from];
      const auto steps = static_cast<int>(length(way) / apart_mm);
      for (int n = 1; n < steps; ++n) all.push_back(m.points[from] + way * (static_cast<double>(n) / steps));
    }
  const size_t stride = all.size() / most + 1;
  std::vector<Vec3> out;
  for (size_t i = 0; i < all.size(); i += stride) out.push_back(all[i]);
  return out;
}

/// A place of `a` that lies in `b` by more than what two printed solids give way; none where they stand apart.
std::optional<Vec3> stands_in(const TriMesh& a, const RayScene& b) {
  constexpr double play_mm = 0.3;
  for (const Vec3& p : places_on(a, 1, 3000))
    if (b.all_hits(p, unit(Vec3{0.31, 0.42, 0.85})).size() % 2 == 1 && b.closest(p).distance_mm > play_mm) return p;
  return std::nullopt;
}

/// Slides of pockets that cannot both be set.
void tell_meeting(std::vector<Finding>& out, const PinsResult& pins, const std::vector<PocketSlide>& pockets) {
  std::vector<std::shared_ptr<const RayScene>> rays(pins.pockets.size());
  for (size_t k = 0; k < pins.pockets.size() && k < pockets.size(); ++k) {
    if (!pins.pockets[k].pin) continue;
    const PinPlan& mine = pins.pins[*pins.pockets[k].pin];
    auto scene = RayScene::build(*mine.body);
    if (scene) rays[k] = *std::move(scene);
    for (size_t j = 0; j < k; ++j) {
      if (!rays[j] || !rays[k]) continue;
      const PinPlan& other = pins.pins[*pins.pockets[j].pin];
      auto at = stands_in(*mine.body, *rays[j]);
      if (!at) at = stands_in(*other.body, *rays[k]);
      if (!at) continue;
      Finding& f = tell(out, "pocket-slides-meet", Severity::stop,
                        mine.name + " and " + other.name + " cannot both be set: they stand in each other",
                        "Turn one of them, or let one slide form both places.");
      f.where.point_mm = *at;
      f.where.step = mine.name + "/" + other.name;
      for (const size_t which : {k, j})
        f.remedies.push_back(
            {"Without " + pins.pins[*pins.pockets[which].pin].name,
             edits::SlidePocket{pockets[which].at_mm, pockets[which].draw, pockets[which].pull, false}});
    }
  }
}

}  // namespace

std::vector<Finding> pocket_findings(const PinsResult& pins, const OriginalResult& m,
                                     const std::vector<PocketSlide>& pockets, const Shown& shown) {
  std::vector<Finding> out;
  for (size_t k = 0; k < pins.pockets.size() && k < pockets.size(); ++k) {
    const SlidPocket& slid = pins.pockets[k];
    const PocketSlide& said = pockets[k];
    const PocketFaces& faces = slid.faces;
    const Remedy without{"Without that slide", edits::SlidePocket{said.at_mm, said.draw, said.pull, false}};
    const auto placed = [&](Finding& f) -> Finding& {
      f.where.point_mm = faces.triangles.empty() ? said.at_mm : faces.centroid_mm;
      f.where.step = "pocket-" + std::to_string(k + 1);
      return f;
    };
    // A slide that frees a twentieth more is worth turning it for.
    const auto better = [&]() -> std::optional<Remedy> {
      PocketSlide other = said;
      other.draw = best_draw(*m.mesh, *m.pairs, *m.rays, said);
      if (pocket_faces(*m.mesh, *m.pairs, *m.rays, other).area_mm2 < 1.05 * faces.area_mm2 + 0.1) return std::nullopt;
      return Remedy{"Draw it along " + axis_name(other.draw), edits::SlidePocket{said.at_mm, other.draw, said.pull}};
    };
    const double all = faces.area_mm2 + faces.held_mm2;
    if (all <= 0) {
      placed(tell(out, "pocket-gone", Severity::caution, "What was said of a pocket finds none there any more",
                  "A slide was to form it, drawn along " + axis_name(said.draw) +
                      ". The master has changed since; say it of the pocket that is meant."))
          .remedies = {without};
      continue;
    }
    if (slid.refused || !slid.pin) {
      Finding& f =
          placed(tell(out, "pocket-slide", Severity::stop, "No slide forms this pocket along " + axis_name(said.draw),
                      slid.refused ? slid.refused->text() : std::string("Draw it another way.")));
      if (auto turn = better()) f.remedies.push_back(*std::move(turn));
      f.remedies.push_back(without);
      f.magnitude = all;
      continue;
    }
    const PinPlan& pin = pins.pins[*slid.pin];
    const std::string forms = "It forms " + fixed(faces.area_mm2, 0) + " mm², " + shown.length(faces.deep_mm, 1) +
                              " deep; it is printed or milled from its solid, released, set before the rubber is "
                              "poured and drawn before the halves are parted.";
    if (faces.held_mm2 > 0.02 * all) {
      Finding& f = placed(tell(out, "pocket-held", Severity::caution,
                               pin.name + " leaves " + fixed(faces.held_mm2, 0) + " mm² of its pocket locked",
                               forms + " What does not leave along its draw stays rubber, and locks as before."));
      if (auto turn = better()) f.remedies.push_back(*std::move(turn));
      f.remedies.push_back(without);
      f.magnitude = faces.held_mm2;
      continue;
    }
    Finding& f = placed(
        tell(out, "pocket-formed", Severity::note, pin.name + " forms it, drawn along " + axis_name(pin.draw), forms));
    if (faces.parallel_mm2 > 0.3 * faces.area_mm2)
      f.why +=
          " " + fixed(100 * faces.parallel_mm2 / faces.area_mm2, 0) +
          " % of it stand along the draw without taper: a hard slide rubs there. Polish it along, wax it, and look "
          "at it for wear.";
    f.remedies = {without};
  }
  if (pins.pockets.size() > 1) tell_meeting(out, pins, pockets);
  return out;
}

}  // namespace palinform
