#include "mould/parting_board.hpp"

#include <algorithm>
#include <cmath>

#include "solid/height_field.hpp"

namespace palinform {

Result<PartingBoard> parting_board(const TriMesh& mesh, const RayScene& rays, const Mould& m, const KeyPlan& keys,
                                   const BoardOptions& o, const Progress& progress) {
  if (!(o.clearance_mm >= 0) || !(o.floor_mm > 0))
    return Error{"clearance and floor of the board must be above nought", "parting board", ""};
  // The master's lowest skin, lowered by the clearance in every direction: the least over a disc of low − √(c² − δ²).
  const int reach = static_cast<int>(std::ceil(o.clearance_mm / m.pitch_mm)) + 2;
  std::vector<float> top(m.parting_mm.size());
  std::vector<uint8_t> gives_way(top.size(), 0);  // the master is near: its neighbours may not lift it again
  std::vector<double> fall(static_cast<size_t>((2 * reach + 1) * (2 * reach + 1)), -1);
  for (int dj = -reach; dj <= reach; ++dj)
    for (int di = -reach; di <= reach; ++di) {
      // A column stands for its cell and the slope between it and the next: its skin may lie a pitch nearer.
      const double d = std::max(0.0, std::hypot(di, dj) * m.pitch_mm - m.pitch_mm);
      if (d <= o.clearance_mm)
        fall[static_cast<size_t>((dj + reach) * (2 * reach + 1) + di + reach)] =
            std::sqrt(o.clearance_mm * o.clearance_mm - d * d);
    }
  double lowest = 1e300;
  for (int j = 0; j < m.nv; ++j) {
    if (progress.cancelled()) return Error::stopped();
    for (int i = 0; i < m.nu; ++i) {
      const size_t k = m.column(i, j);
      double z = m.shadow[k] ? 1e300 : static_cast<double>(m.parting_mm[k]);
      if (!m.shadow[k])
        z += keys.bump_mm(m.u0_mm + (i + 0.5) * m.pitch_mm, m.v0_mm + (j + 0.5) * m.pitch_mm, m.inner_mm);
      for (int dj = -reach; dj <= reach; ++dj)
        for (int di = -reach; di <= reach; ++di) {
          const double drop = fall[static_cast<size_t>((dj + reach) * (2 * reach + 1) + di + reach)];
          const int x = i + di, y = j + dj;
          if (drop < 0 || x < 0 || y < 0 || x >= m.nu || y >= m.nv || !m.shadow[m.column(x, y)]) continue;
          z = std::min(z, static_cast<double>(m.part_low_mm[m.column(x, y)]) - drop);
          gives_way[k] = 1;
        }
      top[k] = static_cast<float>(z);
      lowest = std::min(lowest, z);
    }
  }
  const Box3& in = m.inner_mm;
  const double groove = o.panel_mm > 0 ? o.panel_mm + o.groove_slack_mm : 0, rim = o.panel_mm > 0 ? o.rim_mm : 0;
  const double u0 = in.min.x - groove - rim, u1 = in.max.x + groove + rim, v0 = in.min.y - groove - rim,
               v1 = in.max.y + groove + rim;
  // The rim stands as high as the land at the box's wall, lowest place of it; the groove's floor below that.
  const double edge_low = m.rim_mm();
  const double groove_floor = edge_low - o.groove_deep_mm;
  PartingBoard board;
  board.base_mm = std::min(lowest, groove > 0 ? groove_floor : lowest) - o.floor_mm;
  board.steepest_deg = m.steepest_deg;
  const auto height = [&](double u, double v) {
    const double off = std::max({in.min.x - u, u - in.max.x, in.min.y - v, v - in.max.y});
    if (off > groove + 1e-9) return edge_low;
    if (off > 1e-9) return groove_floor;
    // Between the columns' middles, linear; the lower of them beside the part, so that clearance holds.
    const double x = std::clamp((u - m.u0_mm) / m.pitch_mm - 0.5, 0.0, m.nu - 1.001),
                 y = std::clamp((v - m.v0_mm) / m.pitch_mm - 0.5, 0.0, m.nv - 1.001);
    const int i = static_cast<int>(x), j = static_cast<int>(y);
    const double fx = x - i, fy = y - j;
    const double a = static_cast<double>(top[m.column(i, j)]), b = static_cast<double>(top[m.column(i + 1, j)]),
                 c = static_cast<double>(top[m.column(i, j + 1)]), d = static_cast<double>(top[m.column(i + 1, j + 1)]);
    const bool beside = gives_way[m.column(i, j)] + gives_way[m.column(i + 1, j)] + gives_way[m.column(i, j + 1)] +
                            gives_way[m.column(i + 1, j + 1)] !=
                        0;
    if (beside) return std::min({a, b, c, d});
    return (a * (1 - fx) + b * fx) * (1 - fy) + (c * (1 - fx) + d * fx) * fy;
  };
  const int across = std::max(1, static_cast<int>(std::ceil((u1 - u0) / o.bed_u_mm - 1e-9))),
            along = std::max(1, static_cast<int>(std::ceil((v1 - v0) / o.bed_v_mm - 1e-9)));
  for (int b = 0; b < along; ++b)
    for (int a = 0; a < across; ++a) {
      if (progress.cancelled()) return Error::stopped();
      const auto at = [](double from, double to, int k, int n) { return from + (to - from) * k / n; };
      const HeightField f = sample_heights(at(u0, u1, a, across), at(v0, v1, b, along), at(u0, u1, a + 1, across),
                                           at(v0, v1, b + 1, along), m.pitch_mm, height);
      BoardTile t;
      t.mesh = height_solid(f, board.base_mm, true);
      const MeshMeasure s = measure(t.mesh);
      t.extent_mm = s.box_mm.size();
      t.volume_mm3 = s.volume_mm3;
      board.volume_mm3 += t.volume_mm3;
      board.tiles.push_back(std::move(t));
      progress.report(0.6 + 0.3 * (b * across + a + 1) / (across * along));
    }
  board.print_h = board.volume_mm3 / o.print_mm3_per_min / 60;
  // How near the board really comes to the master.
  board.clearance_mm = 1e300;
  for (const BoardTile& t : board.tiles) {
    const size_t stride = std::max<size_t>(1, t.mesh.points.size() / 20'000);
    for (size_t i = 0; i < t.mesh.points.size(); i += stride) {
      const Vec3 p = m.frame.direction_back(t.mesh.points[i]);
      const SurfacePoint near = rays.closest(p);
      // Inside the master would be a clash: told as a negative distance.
      const double side = dot(p - near.point_mm, mesh.normal(near.triangle)) < 0 && near.distance_mm < 2 ? -1 : 1;
      board.clearance_mm = std::min(board.clearance_mm, side * near.distance_mm);
    }
  }
  progress.report(1);
  return board;
}

TriMesh printed_frame(const Box3& in, double foot, double top, double wall) {
  TriMesh m;
  const double inner[4][2] = {{in.min.x, in.min.y}, {in.max.x, in.min.y}, {in.max.x, in.max.y}, {in.min.x, in.max.y}};
  for (const double z : {foot, top})
    for (const bool outside : {false, true})
      for (int k = 0; k < 4; ++k) {
        const double du = outside ? (k == 1 || k == 2 ? wall : -wall) : 0, dv = outside ? (k >= 2 ? wall : -wall) : 0;
        m.points.push_back({inner[k][0] + du, inner[k][1] + dv, z});
      }
  // Points: foot inner 0–3, foot outer 4–7, top inner 8–11, top outer 12–15.
  for (uint32_t k = 0; k < 4; ++k) {
    const uint32_t n = (k + 1) % 4;
    const auto quad = [&](uint32_t a, uint32_t b, uint32_t c, uint32_t d) {
      m.triangles.push_back({a, b, c});
      m.triangles.push_back({a, c, d});
    };
    quad(4 + k, 4 + n, 12 + n, 12 + k);  // outside
    quad(n, k, 8 + k, 8 + n);            // inside
    quad(12 + k, 12 + n, 8 + n, 8 + k);  // top
    quad(4 + n, 4 + k, k, n);            // foot
  }
  return m;
}

}  // namespace palinform
