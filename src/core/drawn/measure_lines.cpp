#include "drawn/measure_lines.hpp"

#include <algorithm>

namespace palinform {

std::vector<MeasureLine> measure_lines(const DrawnBody& b) {
  std::vector<MeasureLine> out;
  const Transform place = body_frame(b);
  const double x = b.length_mm / 2, y = b.width_mm / 2, h = b.height_mm, r = b.diameter_mm / 2;
  const auto ends = [&](std::string_view key) -> std::pair<Vec3, Vec3> {
    switch (b.shape) {
      case BodyShape::plate:
      case BodyShape::slot:
        if (key == "length") return {{-x, -y, 0}, {x, -y, 0}};
        if (key == "width") return {{x, -y, 0}, {x, y, 0}};
        if (key == "thickness" || key == "depth") return {{-x, -y, 0}, {-x, -y, h}};
        return {{x, y, h}, {x, y, h}};
      case BodyShape::bar:
        if (key == "length") return {{-x, -y, 0}, {-x, -y, h}};
        if (key == "width") return {{-x, -y, 0}, {x, -y, 0}};
        if (key == "height") return {{x, -y, 0}, {x, y, 0}};
        return {{x, y, h}, {x, y, h}};
      case BodyShape::disc:
      case BodyShape::tube:
        if (key == "diameter") return {{-r, 0, h}, {r, 0, h}};
        if (key == "inner") return {{0, -b.inner_mm / 2, h}, {0, b.inner_mm / 2, h}};
        if (key == "thickness" || key == "length") return {{r, 0, 0}, {r, 0, h}};
        return {{0, r, h}, {0, r, h}};
      case BodyShape::ring:
        if (key == "diameter") return {{-r, 0, b.wall_mm / 2}, {r, 0, b.wall_mm / 2}};
        return {{0, r - b.wall_mm, b.wall_mm / 2}, {0, r, b.wall_mm / 2}};
      case BodyShape::dome:
        if (key == "diameter") return {{-r, 0, 0}, {r, 0, 0}};
        return {{0, 0, 0}, {0, 0, h}};
      case BodyShape::cone:
        if (key == "diameter") return {{-r, 0, 0}, {r, 0, 0}};
        if (key == "top") return {{-b.top_mm / 2, 0, h}, {b.top_mm / 2, 0, h}};
        return {{r, 0, 0}, {r, 0, h}};
      case BodyShape::shell: {
        const double ax = r > 0 ? r : x, ay = r > 0 ? r : y;
        if (key == "length") return {{-x, -y, 0}, {x, -y, 0}};
        if (key == "width") return {{x, -y, 0}, {x, y, 0}};
        if (key == "diameter") return {{-r, 0, h}, {r, 0, h}};
        if (key == "height") return {{-ax, r > 0 ? 0 : -ay, 0}, {-ax, r > 0 ? 0 : -ay, h}};
        if (key == "wall") return {{ax - b.wall_mm, 0, h}, {ax, 0, h}};
        if (key == "floor") return {{0, 0, 0}, {0, 0, b.floor_mm}};
        return {{ax, ay, h}, {ax, ay, h}};
      }
      case BodyShape::angle:
        if (key == "width") return {{-y, 0, 0}, {y, 0, 0}};
        if (key == "height") return {{-y, 0, 0}, {-y, 2 * x, 0}};
        if (key == "wall") return {{y, 0, 0}, {y, b.wall_mm, 0}};
        return {{-y, 0, 0}, {-y, 0, h}};
      case BodyShape::channel:
        if (key == "width") return {{-y, 0, 0}, {y, 0, 0}};
        if (key == "height") return {{-y, 0, 0}, {-y, 2 * x, 0}};
        if (key == "wall") return {{0, 0, 0}, {0, b.wall_mm, 0}};
        return {{y, 0, 0}, {y, 0, h}};
      case BodyShape::outline: {
        const PathNode first = b.outline.empty() ? PathNode{} : b.outline.front();
        if (key == "thickness") return {{first.x, first.y, 0}, {first.x, first.y, h}};
        return {{first.x, first.y, h}, {first.x, first.y, h}};
      }
      case BodyShape::turned:
        break;
    }
    return {};
  };
  const auto add = [&](std::string_view key, std::string_view words, double mm, const Vec3& from, const Vec3& to) {
    MeasureLine l{b.id, std::string(key), std::string(words), mm, place.point(from), place.point(to), {}, b.cut};
    if (key == "diameter" || key == "inner" || key == "top") l.axis = place.direction({0, 0, 1});
    if (key == "inner") l.hollow = !b.cut;
    out.push_back(std::move(l));
  };
  for (const BodyMeasure& m : measures_of(b.shape)) {
    const double v = b.*m.value;
    if (!(v > 0)) continue;
    const auto [from, to] = ends(m.key);
    add(m.key, m.words, v, from, to);
  }
  if (b.shape == BodyShape::turned && !b.profile.empty()) {
    const auto widest = std::max_element(b.profile.begin(), b.profile.end(),
                                         [](const ProfilePoint& p, const ProfilePoint& q) { return p.r_mm < q.r_mm; });
    double low = 1e300, high = -1e300;
    for (const ProfilePoint& p : b.profile) low = std::min(low, p.z_mm), high = std::max(high, p.z_mm);
    const double w = widest->r_mm;
    add("diameter", "Widest across", 2 * w, {-w, 0, widest->z_mm}, {w, 0, widest->z_mm});
    add("height", "Height", high - low, {w, 0, low}, {w, 0, high});
  }
  return out;
}

std::vector<MeasureLine> traced_lines(const Drawn& d) {
  if (!d.tracing.complete()) return {};
  const auto traced = traced_bodies(d.tracing);
  if (!traced) return {};
  double low_x = 1e300, high_x = -1e300, low_y = 1e300, high_y = -1e300, thick = 0;
  for (const DrawnBody& b : traced->bodies) {
    if (b.cut || b.at_mm.z != 0) continue;
    const auto points = flattened(b.outline, 0.01);
    if (!points) return {};
    for (const Point2& p : *points) {
      low_x = std::min(low_x, p.x), high_x = std::max(high_x, p.x);
      low_y = std::min(low_y, p.y), high_y = std::max(high_y, p.y);
    }
    if (b.name.starts_with("Outline")) thick = std::max(thick, b.height_mm);
  }
  return {{"t", "length", "Length over all", high_x - low_x, {low_x, low_y, 0}, {high_x, low_y, 0}, {}, false},
          {"t", "width", "Width over all", high_y - low_y, {high_x, low_y, 0}, {high_x, high_y, 0}, {}, false},
          {"t", "thickness", "Thickness", thick, {low_x, low_y, 0}, {low_x, low_y, thick}, {}, false}};
}

}  // namespace palinform
