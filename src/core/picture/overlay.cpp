#include "picture/overlay.hpp"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace palinform {
namespace {

double depth_at(const Picture& picture, const Camera& camera, double x, double y) {
  if (picture.width_px == 0 || camera.width_px == 0) return INFINITY;
  const int px = static_cast<int>(std::floor(x * picture.width_px / camera.width_px));
  const int py = static_cast<int>(std::floor(y * picture.height_px / camera.height_px));
  if (px < 0 || py < 0 || px >= picture.width_px || py >= picture.height_px) return INFINITY;
  // The least hiding of the neighbours: a line along an outline must not flicker.
  double far = -INFINITY;
  for (int dy = -1; dy <= 1; ++dy)
    for (int dx = -1; dx <= 1; ++dx) {
      const int qx = std::clamp(px + dx, 0, picture.width_px - 1), qy = std::clamp(py + dy, 0, picture.height_px - 1);
      far = std::max<double>(
          far,
          picture.depth_mm[static_cast<size_t>(qy) * static_cast<size_t>(picture.width_px) + static_cast<size_t>(qx)]);
    }
  return far;
}

}  // namespace

bool point_visible(const Vec3& p, const Camera& camera, const Picture& picture, double slack_mm) {
  const auto q = camera.project(p);
  return q.depth_mm <= depth_at(picture, camera, q.x, q.y) + slack_mm;
}

std::vector<LineRun> visible_runs(const std::vector<Vec3>& points, const Camera& camera, const Picture& picture,
                                  double slack_mm) {
  std::vector<LineRun> runs;
  if (points.size() < 2) return runs;
  const auto add = [&](const Px& from, const Px& to, bool hidden) {
    if (runs.empty() || runs.back().hidden != hidden || !(runs.back().points.back() == from))
      runs.push_back({{from}, hidden});
    runs.back().points.push_back(to);
  };
  for (size_t i = 0; i + 1 < points.size(); ++i) {
    const auto a = camera.project(points[i]), b = camera.project(points[i + 1]);
    const double span = std::hypot(b.x - a.x, b.y - a.y);
    const int steps = std::clamp(static_cast<int>(std::ceil(span / 3)), 1, 2000);
    Px from{a.x, a.y};
    for (int s = 1; s <= steps; ++s) {
      const double mid = (s - 0.5) / steps, end = static_cast<double>(s) / steps;
      const Px to{a.x + (b.x - a.x) * end, a.y + (b.y - a.y) * end};
      const double depth = a.depth_mm + (b.depth_mm - a.depth_mm) * mid;
      add(from, to, depth > depth_at(picture, camera, a.x + (b.x - a.x) * mid, a.y + (b.y - a.y) * mid) + slack_mm);
      from = to;
    }
  }
  return runs;
}

std::vector<PlacedLabel> place_labels(const std::vector<LabelWish>& wishes, const RectPx& area,
                                      const std::vector<RectPx>& keep_out, const Px& middle) {
  std::vector<PlacedLabel> out(wishes.size());
  std::vector<size_t> order(wishes.size());
  std::iota(order.begin(), order.end(), size_t{0});
  std::stable_sort(order.begin(), order.end(),
                   [&](size_t a, size_t b) { return wishes[a].anchor.y < wishes[b].anchor.y; });
  std::vector<RectPx> taken = keep_out;
  for (const size_t i : order) {
    const LabelWish& want = wishes[i];
    const double away = std::atan2(want.anchor.y - middle.y, want.anchor.x - middle.x);
    bool found = false;
    for (int ring = 0; ring < 24 && !found; ++ring) {
      const double reach = 26 + 18.0 * ring;
      for (int k = 0; k < 24 && !found; ++k) {
        const double angle = away + (k % 2 ? 1 : -1) * ((k + 1) / 2) * (2 * M_PI / 24);
        const double cx = want.anchor.x + std::cos(angle) * (reach + want.w * 0.5),
                     cy = want.anchor.y + std::sin(angle) * (reach + want.h * 0.5);
        const RectPx r{cx - want.w * 0.5, cy - want.h * 0.5, want.w, want.h};
        if (r.x < area.x || r.y < area.y || r.x + r.w > area.x + area.w || r.y + r.h > area.y + area.h) continue;
        const RectPx wide{r.x - 5, r.y - 4, r.w + 10, r.h + 8};
        if (std::any_of(taken.begin(), taken.end(), [&](const RectPx& t) { return t.overlaps(wide); })) continue;
        out[i].rect = r;
        found = true;
      }
    }
    if (!found) {
      out[i].crowded = true;
      out[i].rect = {std::clamp(want.anchor.x + 20, area.x, std::max(area.x, area.x + area.w - want.w)),
                     std::clamp(want.anchor.y - want.h - 20, area.y, std::max(area.y, area.y + area.h - want.h)),
                     want.w, want.h};
    }
    taken.push_back(out[i].rect);
  }
  return out;
}

std::vector<RectPx> covered_cells(const Picture& picture, const Camera& camera, int cell_px) {
  std::vector<RectPx> out;
  if (picture.width_px == 0 || camera.width_px == 0) return out;
  for (int y = 0; y < camera.height_px; y += cell_px)
    for (int x = 0; x < camera.width_px; x += cell_px) {
      const int px = std::min(picture.width_px - 1, (x + cell_px / 2) * picture.width_px / camera.width_px);
      const int py = std::min(picture.height_px - 1, (y + cell_px / 2) * picture.height_px / camera.height_px);
      if (picture.body[static_cast<size_t>(py) * static_cast<size_t>(picture.width_px) + static_cast<size_t>(px)] >= 0)
        out.push_back({static_cast<double>(x), static_cast<double>(y), static_cast<double>(cell_px),
                       static_cast<double>(cell_px)});
    }
  return out;
}

std::optional<Picked> pick(const Picture& picture, const Camera& camera, const TriMesh* mesh, double x, double y,
                           double snap_px) {
  if (picture.width_px == 0 || camera.width_px == 0) return std::nullopt;
  const int px = static_cast<int>(std::floor(x * picture.width_px / camera.width_px));
  const int py = static_cast<int>(std::floor(y * picture.height_px / camera.height_px));
  if (px < 0 || py < 0 || px >= picture.width_px || py >= picture.height_px) return std::nullopt;
  const size_t i = static_cast<size_t>(py) * static_cast<size_t>(picture.width_px) + static_cast<size_t>(px);
  if (picture.body[i] < 0) return std::nullopt;
  Picked p;
  p.body = picture.body[i];
  p.triangle = picture.triangle[i];
  p.point_mm = camera.unproject(x, y, picture.depth_mm[i]);
  if (mesh && p.triangle < mesh->triangles.size()) {
    double nearest = snap_px;
    for (int k = 0; k < 3; ++k) {
      const auto c = camera.project(mesh->corner(p.triangle, k));
      const double d = std::hypot(c.x - x, c.y - y);
      if (d < nearest) nearest = d, p.corner_mm = mesh->corner(p.triangle, k);
    }
    nearest = snap_px;
    for (int k = 0; k < 3; ++k) {
      const Vec3 &m = mesh->corner(p.triangle, k), &n = mesh->corner(p.triangle, (k + 1) % 3);
      const auto a = camera.project(m), b = camera.project(n);
      const double len2 = (b.x - a.x) * (b.x - a.x) + (b.y - a.y) * (b.y - a.y);
      const double s = len2 > 0 ? std::clamp(((x - a.x) * (b.x - a.x) + (y - a.y) * (b.y - a.y)) / len2, 0.0, 1.0) : 0;
      const double d = std::hypot(a.x + s * (b.x - a.x) - x, a.y + s * (b.y - a.y) - y);
      if (d < nearest) nearest = d, p.edge_mm = {m, n};
    }
  }
  return p;
}

}  // namespace palinform
