#include "mould/several.hpp"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "mesh/primitives.hpp"
#include "mould/smallest_box.hpp"

namespace palinform {
namespace {

/// Rows of at most `row_mm` inside; how wide and deep it comes out.
Footprint lay_rows(const std::vector<Footprint>& prints, const std::vector<size_t>& order, double between,
                   double row_mm, std::vector<Point2>& at) {
  double u = 0, v = 0, deep = 0, wide = 0;
  for (const size_t k : order) {
    if (u > 0 && u + prints[k].u_mm > row_mm + 1e-9) u = 0, v += deep + between, deep = 0;
    at[k] = {u, v};
    wide = std::max(wide, u + prints[k].u_mm);
    deep = std::max(deep, prints[k].v_mm);
    u += prints[k].u_mm + between;
  }
  return {wide + 2 * between, v + deep + 2 * between};
}

/// Height of the middle of a split's line over the frame's own zero.
double line_middle(const Split& split, const Transform& frame) {
  double sum = 0;
  size_t n = 0;
  for (const PartingLoop& l : split.loops)
    if (l.outer)
      for (const Vec3& p : l.points_mm) sum += frame.point(p).z, ++n;
  return n ? sum / static_cast<double>(n) : 0;
}

}  // namespace

std::vector<Point2> packed(const std::vector<Footprint>& prints, double between) {
  std::vector<Point2> best(prints.size()), at(prints.size());
  if (prints.empty()) return best;
  std::vector<size_t> order(prints.size());
  std::iota(order.begin(), order.end(), size_t{0});
  std::stable_sort(order.begin(), order.end(), [&](size_t a, size_t b) {
    return prints[a].v_mm != prints[b].v_mm ? prints[a].v_mm > prints[b].v_mm : prints[a].u_mm > prints[b].u_mm;
  });
  double least = 1e300;
  // Each width at which a row may end.
  for (size_t first = 0; first < order.size(); ++first) {
    double row = 0;
    for (size_t k = first; k < order.size(); ++k) {
      row += (row > 0 ? between : 0) + prints[order[k]].u_mm;
      const Footprint box = lay_rows(prints, order, between, row, at);
      // Of boxes alike in rubber the one nearer a square: its walls bow less.
      const double cost =
          box.u_mm * box.v_mm * (1 + 1e-3 * std::max(box.u_mm, box.v_mm) / std::min(box.u_mm, box.v_mm));
      if (cost < least - 1e-9) least = cost, best = at;
    }
  }
  return best;
}

std::vector<Vec3> master_places(const TriMesh& mesh, const Transform& frame, int count, double between) {
  const Vec3 size = box_in(mesh, frame).size();
  const auto at = packed(std::vector<Footprint>(static_cast<size_t>(count), {size.x, size.y}), between);
  std::vector<Vec3> out;
  for (const Point2& p : at) out.push_back(frame.direction_back({p.x - at[0].x, p.y - at[0].y, 0}));
  return out;
}

TriMesh repeated(const TriMesh& mesh, const std::vector<Vec3>& places) {
  TriMesh all;
  for (const Vec3& p : places) append(all, transformed(mesh, Transform::move(p)));
  return all;
}

Result<MasterSet> master_set(const std::vector<SetPart>& parts, double between) {
  size_t triangles = 0;
  for (const SetPart& p : parts) triangles += p.mesh->triangles.size() * static_cast<size_t>(p.masters);
  if (triangles > most_triangles)
    return Error{"so many masters of so many triangles are too much for one box", "mould",
                 "Thin the mesh, or take fewer."};
  std::vector<Transform> frames;
  std::vector<Box3> extents;
  std::vector<Footprint> prints;
  std::vector<size_t> part_of;
  for (size_t k = 0; k < parts.size(); ++k) {
    frames.push_back(frame_around(*parts[k].mesh, parts[k].split->pull));
    extents.push_back(box_in(*parts[k].mesh, frames[k]));
    for (int i = 0; i < parts[k].masters; ++i)
      prints.push_back({extents[k].size().x, extents[k].size().y}), part_of.push_back(k);
  }
  const std::vector<Point2> at = packed(prints, between);
  const Transform home = frames[0].inverse();
  const double line = line_middle(*parts[0].split, frames[0]);
  MasterSet s;
  auto all = std::make_shared<TriMesh>();
  s.split = *parts[0].split;
  s.split.side.clear(), s.split.locked.clear(), s.split.loops.clear(), s.split.regions.clear();
  s.split.line_mm = s.split.locked_area_mm2 = 0;
  const Vec3 first = extents[0].min;
  for (size_t m = 0; m < part_of.size(); ++m) {
    const size_t k = part_of[m];
    const Split& split = *parts[k].split;
    const Vec3& low = extents[k].min;
    const Transform move = Transform::move({at[m].x - at[0].x + first.x - low.x, at[m].y - at[0].y + first.y - low.y,
                                            k == 0 ? 0 : line - line_middle(split, frames[k])});
    // A part's own first master is not turned there and back: it keeps its figures to the last bit.
    const Transform place =
        k == 0 ? Transform::move(frames[0].direction_back(move.shift)) : frames[k].then(move).then(home);
    s.masters.push_back({k, place, static_cast<uint32_t>(all->triangles.size())});
    append(*all, transformed(*parts[k].mesh, place));
    s.split.side.insert(s.split.side.end(), split.side.begin(), split.side.end());
    s.split.locked.insert(s.split.locked.end(), split.locked.begin(), split.locked.end());
    for (PartingLoop l : split.loops) {
      for (Vec3& q : l.points_mm) q = place.point(q);
      s.split.loops.push_back(std::move(l));
    }
    s.split.line_mm += split.line_mm;
    s.split.locked_area_mm2 += split.locked_area_mm2;
    s.split.steepest_deg = std::max(s.split.steepest_deg, split.steepest_deg);
  }
  auto rays = RayScene::build(*all);
  if (!rays) return rays.error();
  s.mesh = std::move(all);
  s.rays = *rays;
  return s;
}

}  // namespace palinform
