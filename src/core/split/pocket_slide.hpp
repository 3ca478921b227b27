#pragma once
/// A hard slide that forms a whole pocket, drawn out straight at any angle: what the job says of it.
#include "base/fields.hpp"
#include "base/vec.hpp"

namespace palinform {

struct PocketSlide {
  Vec3 at_mm;          ///< on a face of the pocket, on the master before anything is filled
  Vec3 draw{1, 0, 0};  ///< the way it is pulled out; any length
  Vec3 pull{0, 0, 1};  ///< of the halves, when it was chosen: what they cannot form there is the pocket
  bool operator==(const PocketSlide&) const = default;
  static void fields(auto& s, auto&& f) {
    f("at_mm", s.at_mm);
    f("draw", s.draw);
    f("pull", s.pull);
  }
};

}  // namespace palinform
