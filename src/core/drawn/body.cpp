#include "drawn/body.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"

namespace palinform {
namespace {

using B = DrawnBody;
constexpr BodyMeasure m_length{"length", "Length", &B::length_mm, 60}, m_width{"width", "Width", &B::width_mm, 40};
constexpr BodyMeasure m_thick{"thickness", "Thickness", &B::height_mm, 6},
    m_height{"height", "Height", &B::height_mm, 20};
constexpr BodyMeasure m_across{"diameter", "Diameter", &B::diameter_mm, 30}, m_hole{"inner", "Hole", &B::inner_mm, 20};
constexpr BodyMeasure m_wall{"wall", "Wall", &B::wall_mm, 3}, m_corner{"corner", "Corners", &B::corner_mm, 0, true};
constexpr BodyMeasure m_edge{"edge", "Edges", &B::edge_mm, 0, true};

constexpr BodyMeasure of_plate[]{m_length, m_width, m_thick, m_corner, m_edge};
constexpr BodyMeasure of_bar[]{{"length", "Length", &B::height_mm, 80},
                               {"width", "Width", &B::length_mm, 12},
                               {"height", "Height", &B::width_mm, 12},
                               m_corner,
                               m_edge};
constexpr BodyMeasure of_disc[]{m_across, m_thick, m_edge};
constexpr BodyMeasure of_tube[]{m_across, m_hole, {"length", "Length", &B::height_mm, 30}};
constexpr BodyMeasure of_ring[]{{"diameter", "Outer diameter", &B::diameter_mm, 40},
                                {"section", "Section", &B::wall_mm, 5}};
constexpr BodyMeasure of_dome[]{m_across, {"height", "Height", &B::height_mm, 10}};
constexpr BodyMeasure of_cone[]{m_across, {"top", "Top across", &B::top_mm, 10, true}, m_height};
constexpr BodyMeasure of_shell[]{{"length", "Length", &B::length_mm, 60, true},
                                 {"width", "Width", &B::width_mm, 40, true},
                                 {"diameter", "or across", &B::diameter_mm, 0, true},
                                 {"height", "Height", &B::height_mm, 25},
                                 m_wall,
                                 {"floor", "Floor", &B::floor_mm, 3, true},
                                 m_corner};
constexpr BodyMeasure of_angle[]{{"width", "Foot", &B::width_mm, 30},
                                 {"height", "Upright", &B::length_mm, 30},
                                 {"wall", "Thickness", &B::wall_mm, 4},
                                 {"length", "Length", &B::height_mm, 40}};
constexpr BodyMeasure of_channel[]{{"width", "Width", &B::width_mm, 30},
                                   {"height", "Legs", &B::length_mm, 20},
                                   {"wall", "Thickness", &B::wall_mm, 4},
                                   {"length", "Length", &B::height_mm, 40}};
constexpr BodyMeasure of_outline[]{m_thick, m_edge};
constexpr BodyMeasure of_slot[]{{"length", "Length over all", &B::length_mm, 20},
                                {"width", "Width", &B::width_mm, 6},
                                {"depth", "Depth", &B::height_mm, 6}};

Error bad(const DrawnBody& b, std::string what, std::string remedy = {}) {
  return {name_of(b) + ": " + std::move(what), "drawn", std::move(remedy)};
}

}  // namespace

std::string_view words_of(BodyShape s) {
  constexpr std::array words{"Plate"sv, "Bar"sv,       "Disc"sv,      "Tube"sv,        "Ring"sv,    "Dome"sv, "Cone"sv,
                             "Shell"sv, "L-section"sv, "U-section"sv, "Turned body"sv, "Outline"sv, "Slot"sv};
  static_assert(words.size() == names<BodyShape>.size());
  return words[static_cast<size_t>(s)];
}

std::span<const BodyMeasure> measures_of(BodyShape shape) {
  switch (shape) {
    case BodyShape::plate:
      return of_plate;
    case BodyShape::bar:
      return of_bar;
    case BodyShape::disc:
      return of_disc;
    case BodyShape::tube:
      return of_tube;
    case BodyShape::ring:
      return of_ring;
    case BodyShape::dome:
      return of_dome;
    case BodyShape::cone:
      return of_cone;
    case BodyShape::shell:
      return of_shell;
    case BodyShape::angle:
      return of_angle;
    case BodyShape::channel:
      return of_channel;
    case BodyShape::turned:
      return {};
    case BodyShape::outline:
      return of_outline;
    case BodyShape::slot:
      return of_slot;
  }
  return {};
}

DrawnBody begun(BodyShape shape) {
  DrawnBody b;
  b.shape = shape;
  for (const BodyMeasure& m : measures_of(shape)) b.*m.value = m.begin_mm;
  if (shape == BodyShape::turned)
    b.profile = {{0, 0, 0}, {15, 0, 1}, {15, 6, 1}, {6, 10, 2}, {6, 18, 2}, {11, 22, 2}, {11, 30, 3}, {0, 30, 0}};
  if (shape == BodyShape::outline)
    b.outline = {{-30, -15, NodeKind::corner, 3},
                 {30, -15, NodeKind::corner, 3},
                 {30, 15, NodeKind::corner, 3},
                 {-30, 15, NodeKind::corner, 3}};
  b.cut = shape == BodyShape::slot;
  return b;
}

std::string name_of(const DrawnBody& b) { return b.name.empty() ? std::string(words_of(b.shape)) : b.name; }

Status check_body(const DrawnBody& b) {
  for (const BodyMeasure& m : measures_of(b.shape)) {
    const double v = b.*m.value;
    if (!std::isfinite(v) || v < 0 || (v == 0 && !m.may_be_nought))
      return bad(b, lower_ascii(m.words) + " must be above nought");
  }
  if (!finite(b.at_mm) || !finite(b.axis) || !(palinform::length(b.axis) > 1e-9))
    return bad(b, "its axis has no direction");
  const double least = std::min(b.length_mm, b.width_mm);
  switch (b.shape) {
    case BodyShape::plate:
    case BodyShape::bar:
      if (2 * b.corner_mm > least) return bad(b, "a corner radius of " + fixed(b.corner_mm, 2) + " mm has no room");
      if (2 * b.edge_mm > std::min(b.height_mm, least))
        return bad(b, "an edge rounding of " + fixed(b.edge_mm, 2) + " mm has no room");
      break;
    case BodyShape::disc:
      if (2 * b.edge_mm > std::min(b.height_mm, b.diameter_mm))
        return bad(b, "an edge rounding of " + fixed(b.edge_mm, 2) + " mm has no room");
      break;
    case BodyShape::tube:
      if (b.inner_mm >= b.diameter_mm) return bad(b, "its hole is not smaller than its outside");
      break;
    case BodyShape::ring:
      if (2 * b.wall_mm >= b.diameter_mm)
        return bad(b, "its section leaves no hole", "Half the diameter at most; else it is a disc or a ball.");
      break;
    case BodyShape::shell: {
      const bool is_round = b.diameter_mm > 0;
      const double clear = is_round ? b.diameter_mm : least;
      if (!(clear > 0)) return bad(b, "length and width, or across, must be above nought");
      if (2 * b.wall_mm >= clear) return bad(b, "its wall leaves no hollow");
      if (b.floor_mm >= b.height_mm) return bad(b, "its floor is as high as it is");
      if (!is_round && 2 * b.corner_mm > least)
        return bad(b, "a corner radius of " + fixed(b.corner_mm, 2) + " mm has no room");
      break;
    }
    case BodyShape::angle:
      if (b.wall_mm >= least) return bad(b, "it is no thinner than it is wide");
      break;
    case BodyShape::channel:
      if (2 * b.wall_mm >= b.width_mm || b.wall_mm >= b.length_mm)
        return bad(b, "its legs leave no space between them");
      break;
    case BodyShape::slot:
      if (b.width_mm > b.length_mm) return bad(b, "it is wider than long", "Its length counts over both round ends.");
      break;
    case BodyShape::turned:
      if (b.profile.size() < 2) return bad(b, "its profile needs two points at least");
      break;
    case BodyShape::outline:
      if (b.outline.size() < 3) return bad(b, "its outline needs three points at least");
      break;
    case BodyShape::dome:
    case BodyShape::cone:
      break;
  }
  return {};
}

}  // namespace palinform
