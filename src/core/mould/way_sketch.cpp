#include "mould/way_sketch.hpp"

#include <algorithm>
#include <cmath>

#include "mould/section.hpp"
#include "mould/smallest_box.hpp"

namespace palinform {

WaySketch way_sketch(const TriMesh& mesh, const Mould& m, const WholeWay& way, const std::optional<Vec3>& flat_normal,
                     const FormRates& rates, const std::optional<WaveCut>& wave) {
  WaySketch s;
  const bool open = way.form == Form::open && flat_normal;
  const Transform stand = open ? frame_around(mesh, -*flat_normal) : m.frame;
  const Box3 part = box_in(mesh, stand);
  const bool along_u = part.size().x >= part.size().y;
  // Seen square to the shorter side: across, up, toward the eye.
  Transform frame;
  frame.rows[0] = stand.rows[along_u ? 0 : 1];
  frame.rows[1] = stand.rows[2];
  frame.rows[2] = stand.rows[along_u ? 1 : 0];
  const Vec3 middle = part.centre();
  s.part = plane_cut(mesh, frame, along_u ? middle.y : middle.x);
  const double from = along_u ? part.min.x : part.min.y, to = along_u ? part.max.x : part.max.y, wall = m.wall_mm;
  s.low = {from - wall, part.min.z - wall}, s.high = {to + wall, part.max.z + wall};
  switch (way.form) {
    case Form::open:
      s.low.y = part.min.z, s.plate = true;
      return s;
    case Form::skin:
    case Form::putty:
      s.boxed = false;
      s.skin_mm = way.form == Form::skin ? rates.skin_mm : rates.putty_mm;
      break;
    case Form::cup_core:
      s.hard = true;
      return s;
    case Form::strip:
      return s;
    default:
      break;
  }
  // The parting surface as the mould's own grid has it; behind the part it is not seen.
  if (m.parting_mm.empty()) return s;
  constexpr int steps = 80;
  std::vector<Point2> line;
  for (int k = 0; k <= steps; ++k) {
    const double x = s.low.x + (s.high.x - s.low.x) * k / steps;
    double y = along_u ? m.parting_at(x, middle.y) : m.parting_at(middle.x, x);
    // A knife goes in a wave where it is in rubber alone.
    if (way.form == Form::cut && wave && wave->pitch_mm > 0 && (x < from || x > to)) {
      const double t = std::fmod(std::abs(x - s.low.x) / wave->pitch_mm, 1.0);
      y += wave->height_mm * (std::abs(2 * t - 1) - 0.5);
    }
    line.push_back({x, y});
  }
  s.lines.push_back(std::move(line));
  return s;
}

}  // namespace palinform
