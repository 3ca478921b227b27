#pragma once
/// What is drawn over a picture: lines that know what hides them, labels that keep out of each other's way, and what
/// lies under the pointer.
#include <optional>
#include <string>
#include <vector>

#include "picture/render.hpp"

namespace palinform {

struct Px {
  double x = 0, y = 0;
  bool operator==(const Px&) const = default;
};

/// A piece of a projected polyline that is wholly seen or wholly hidden.
struct LineRun {
  std::vector<Px> points;
  bool hidden = false;
};

/// Cuts the polyline `points_mm` into seen and hidden runs by the depth buffer. `slack_mm` lets a line that lies on the
/// surface be seen. `picture` may be smaller than the camera's view (in motion); it is then read coarsely.
std::vector<LineRun> visible_runs(const std::vector<Vec3>& points_mm, const Camera& camera, const Picture& picture,
                                  double slack_mm);
bool point_visible(const Vec3& p_mm, const Camera& camera, const Picture& picture, double slack_mm);

struct RectPx {
  double x = 0, y = 0, w = 0, h = 0;
  bool overlaps(const RectPx& o) const { return x < o.x + o.w && o.x < x + w && y < o.y + o.h && o.y < y + h; }
};

struct LabelWish {
  Px anchor;
  double w = 0, h = 0;
};

/// A place for each label inside `area`, none overlapping another or a `keep_out`, near its anchor, away from
/// `middle`. Greedy over rings of growing distance, in order of the anchors' height; the same wishes give the same
/// places. A label that finds no room is put at the nearest place inside the area (`crowded` then says so).
struct PlacedLabel {
  RectPx rect;
  bool crowded = false;
};
std::vector<PlacedLabel> place_labels(const std::vector<LabelWish>& wishes, const RectPx& area,
                                      const std::vector<RectPx>& keep_out, const Px& middle);

/// Squares of `cell_px` that the picture's bodies cover, as keep-outs for labels, in the camera's pixels.
std::vector<RectPx> covered_cells(const Picture& picture, const Camera& camera, int cell_px = 24);

/// What the pointer is on. Point and edge are of the face under the pointer, where one is within `snap_px`.
struct Picked {
  int body = -1;
  uint32_t triangle = 0;
  Vec3 point_mm;
  std::optional<Vec3> corner_mm;
  std::optional<std::pair<Vec3, Vec3>> edge_mm;
};
std::optional<Picked> pick(const Picture& picture, const Camera& camera, const TriMesh* mesh, double x_px, double y_px,
                           double snap_px = 8);

}  // namespace palinform
