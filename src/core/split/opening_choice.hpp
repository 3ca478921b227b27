#pragma once
/// How an opening of the part is dealt with: what the job says of it.
#include <string>

#include "base/fields.hpp"
#include "base/names.hpp"
#include "base/vec.hpp"

namespace palinform {

struct OpeningChoice {
  /// meet: the rubbers of both sides meet in it, over a dam of clay in the bed. plate: over one mouth, until that side
  /// is poured. fill: both mouths taped, it fills with resin and is opened afterwards. plug: closed over part of its
  /// depth, with a dimple to drill from. slit: rubber stands through it and is cut right through
  /// after the cure. slide: a hard pin
  /// of its outline forms it.
  enum class Kind { meet, plate, fill, plug, slit, slide } kind = Kind::meet;
  Vec3 at_mm;             ///< in the opening, at its narrowest place, on the master before anything is filled
  int mouth = 1;          ///< plate: that it lies on; plug: that it is counted from; slide: that it is drawn out of
  double share = 0.5;     ///< meet, slit: how far along, 0 at mouth 1, 1 at mouth 2
  bool two = false;       ///< slide: two that meet at its narrowest place, one out of each mouth
  double film_mm = 0.15;  ///< meet, plate: of resin that is left between the rubbers
  double plate_mm = 1;    ///< plate: how thick
  double deep_mm = 0;     ///< plug: left free over it
  double thick_mm = 0;    ///< plug; 0: up to the other mouth
  double dimple_mm = 0;   ///< plug: across; 0: none
  double step_mm = 0;     ///< slit: half of it so much farther along, so that it closes true; 0: straight
  bool operator==(const OpeningChoice&) const = default;
  static void fields(auto& s, auto&& f) {
    f("kind", s.kind);
    f("at_mm", s.at_mm);
    f("mouth", s.mouth, Within{1, 2});
    f("share", s.share, Within{0, 1});
    f("two", s.two);
    f("film_mm", s.film_mm, Within{0.02, 5});
    f("plate_mm", s.plate_mm, Within{0.05, 20});
    f("deep_mm", s.deep_mm, Within{0, 1000});
    f("thick_mm", s.thick_mm, Within{0, 1000});
    f("dimple_mm", s.dimple_mm, Within{0, 100});
    f("step_mm", s.step_mm, Within{0, 100});
  }
  /// Closes it on the master: the casting comes without it.
  bool closes() const { return kind == Kind::fill || kind == Kind::plug; }
  /// Leaves a film of resin across it.
  bool leaves_film() const { return kind == Kind::meet || kind == Kind::plate; }
  /// The rubber in it is in two, from either mouth up to one place: by how it was poured, or by a knife.
  bool parts_rubber() const { return leaves_film() || kind == Kind::slit; }
  /// Where along it the film, or the slit, lies, as a share from mouth 1.
  double film_share() const { return kind == Kind::plate ? (mouth == 1 ? 0.0 : 1.0) : share; }
};
template <>
inline constexpr std::array names<OpeningChoice::Kind>{"meet"sv, "plate"sv, "fill"sv, "plug"sv, "slit"sv, "slide"sv};
/// "rubber meets in it", "plate over a mouth", "filled, opened afterwards"…
constexpr std::string_view words_of(OpeningChoice::Kind k) {
  constexpr std::array words{"rubber meets in it"sv,     "plate over a mouth"sv,  "filled, opened afterwards"sv,
                             "plugged, drilled later"sv, "slit after the cure"sv, "a hard slide forms it"sv};
  return words[static_cast<size_t>(k)];
}

}  // namespace palinform
