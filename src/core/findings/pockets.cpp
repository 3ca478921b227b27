#include "findings/pockets.hpp"

#include "base/text.hpp"
#include "findings/tell.hpp"

namespace palinform {

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
  return out;
}

}  // namespace palinform
