#include "mould/walls.hpp"

#include <algorithm>

namespace palinform {
namespace {

/// Inside along u and v as the box stands: turned where only that holds the part, else long side to long side.
Point2 as_it_stands(const Vec3& needed, const Point2& inside) {
  const Point2 across{inside.y, inside.x};
  const bool straight = inside.x >= needed.x - 1e-9 && inside.y >= needed.y - 1e-9;
  const bool turned = across.x >= needed.x - 1e-9 && across.y >= needed.y - 1e-9;
  if (straight == turned) return (inside.x >= inside.y) == (needed.x >= needed.y) ? inside : across;
  return straight ? inside : across;
}

Vec3 needed_mm(const Box3& part, const Walls& w) {
  return part.size() + Vec3{2 * w.side_mm, 2 * w.side_mm, w.floor_mm + w.top_mm};
}

}  // namespace

bool box_fits(const Box3& part, const Walls& w, const Point2& inside) {
  const Vec3 need = needed_mm(part, w);
  const Point2 as = as_it_stands(need, inside);
  return as.x >= need.x - 1e-9 && as.y >= need.y - 1e-9;
}

Box3 box_round(const Box3& part, const Walls& w) {
  Box3 box{part.min - Vec3{w.side_mm, w.side_mm, w.floor_mm}, part.max + Vec3{w.side_mm, w.side_mm, w.top_mm}};
  if (!w.inside_mm) return box;
  const Point2 as = as_it_stands(needed_mm(part, w), *w.inside_mm);
  const double more_u = std::max(0.0, as.x - box.size().x) / 2, more_v = std::max(0.0, as.y - box.size().y) / 2;
  box.min -= {more_u, more_v, 0}, box.max += {more_u, more_v, 0};
  return box;
}

}  // namespace palinform
