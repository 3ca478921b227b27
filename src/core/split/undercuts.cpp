#include "split/undercuts.hpp"

#include <algorithm>
#include <cmath>
#include <queue>

#include "solid/columns.hpp"

namespace palinform {

double FlexRule::ratio(double shore) const {
  const auto& r = ratio_at_shore;
  if (r.empty()) return 0;
  if (shore <= r.front().shore_a) return r.front().ratio;
  for (size_t i = 1; i < r.size(); ++i)
    if (shore <= r[i].shore_a)
      return r[i - 1].ratio +
             (r[i].ratio - r[i - 1].ratio) * (shore - r[i - 1].shore_a) / (r[i].shore_a - r[i - 1].shore_a);
  return r.back().ratio;
}

std::optional<double> FlexRule::hardest_for(double wanted) const {
  const auto& r = ratio_at_shore;
  if (r.empty() || wanted > r.front().ratio) return std::nullopt;
  for (size_t i = 1; i < r.size(); ++i)
    if (wanted > r[i].ratio)
      return r[i - 1].shore_a +
             (r[i].shore_a - r[i - 1].shore_a) * (r[i - 1].ratio - wanted) / (r[i - 1].ratio - r[i].ratio);
  return r.back().shore_a;
}

Result<std::vector<Undercut>> find_undercuts(const TriMesh& mesh, const Split& split, const UndercutOptions& options,
                                             const Progress& progress) {
  const Transform frame = frame_along(split.pull);
  const Vec3 extent = measure(mesh).box_mm.size();
  const double h = options.pitch_mm > 0 ? options.pitch_mm : std::max({extent.x, extent.y, extent.z}) / 220;
  auto built = build_columns(mesh, frame, h, 2 * h, progress.part(0, 0.5));
  if (!built) return built.error();
  const Columns& c = *built;
  double low = 1e300, high = -1e300;
  for (const Span& s : c.span) low = std::min(low, s.low_mm), high = std::max(high, s.high_mm);
  if (c.span.empty()) return std::vector<Undercut>{};
  const int nw = static_cast<int>(std::ceil((high - low) / h)) + 1;
  const auto nu = static_cast<size_t>(c.nu), nv = static_cast<size_t>(c.nv), layer = nu * nv;
  if (static_cast<double>(layer) * nw > 6e7)
    return Error{"the cells would be too many", "undercuts", "Use a coarser pitch."};
  // 0 open, 1 part, 2 locked; locked cells then get their region's number + 2.
  std::vector<int32_t> cell(layer * static_cast<size_t>(nw), 0);
  const auto at = [&](size_t column, int k) { return static_cast<size_t>(k) * layer + column; };
  const auto first_k = [&](double z) { return std::max(0, static_cast<int>(std::ceil((z - low) / h - 0.5))); };
  const auto last_k = [&](double z) { return std::min(nw - 1, static_cast<int>(std::floor((z - low) / h - 0.5))); };
  for (size_t col = 0; col < layer; ++col) {
    for (uint32_t s = c.start[col]; s < c.start[col + 1]; ++s) {
      for (int k = first_k(c.span[s].low_mm); k <= last_k(c.span[s].high_mm); ++k) cell[at(col, k)] = 1;
      if (s + 1 < c.start[col + 1])
        for (int k = first_k(c.span[s].high_mm); k <= last_k(c.span[s + 1].low_mm); ++k)
          if (cell[at(col, k)] == 0) cell[at(col, k)] = 2;
    }
  }
  progress.report(0.3);
  if (progress.cancelled()) return Error::stopped();

  const auto place = [&](size_t index) {
    const size_t col = index % layer, k = index / layer;
    return frame.direction_back({c.u0_mm + (static_cast<double>(col % nu) + 0.5) * h,
                                 c.v0_mm + (static_cast<double>(col / nu) + 0.5) * h,
                                 low + (static_cast<double>(k) + 0.5) * h});
  };
  // Neighbours by offset; the margin of two cells and the part at top and bottom keep indices inside, but for k.
  const auto neighbour = [&](size_t index, int du, int dv, int dw) -> std::optional<size_t> {
    const size_t col = index % layer;
    const auto u = static_cast<int>(col % nu) + du, v = static_cast<int>(col / nu) + dv,
               k = static_cast<int>(index / layer) + dw;
    if (u < 0 || v < 0 || k < 0 || u >= c.nu || v >= c.nv || k >= nw) return std::nullopt;
    return at(static_cast<size_t>(v) * nu + static_cast<size_t>(u), k);
  };

  struct Region {
    std::vector<size_t> cells;
    double volume = 0, face_area = 0;
    std::vector<uint32_t> faces;
  };
  std::vector<Region> regions;
  std::vector<size_t> stack;
  for (size_t seed = 0; seed < cell.size(); ++seed) {
    if (cell[seed] != 2) continue;
    const auto number = static_cast<int32_t>(regions.size()) + 3;
    Region r;
    cell[seed] = number;
    stack.push_back(seed);
    while (!stack.empty()) {
      const size_t i = stack.back();
      stack.pop_back();
      r.cells.push_back(i);
      for (int axis = 0; axis < 3; ++axis)
        for (const int step : {-1, 1})
          if (const auto o = neighbour(i, axis == 0 ? step : 0, axis == 1 ? step : 0, axis == 2 ? step : 0);
              o && cell[*o] == 2) {
            cell[*o] = number;
            stack.push_back(*o);
          }
    }
    regions.push_back(std::move(r));
  }
  // Exact gap heights for the volumes: each gap belongs to the region its middle cell does.
  for (size_t col = 0; col < layer; ++col)
    for (uint32_t s = c.start[col]; s + 1 < c.start[col + 1]; ++s) {
      const double z0 = c.span[s].high_mm, z1 = c.span[s + 1].low_mm;
      const int k = std::clamp(static_cast<int>((0.5 * (z0 + z1) - low) / h), 0, nw - 1);
      if (cell[at(col, k)] >= 3) regions[static_cast<size_t>(cell[at(col, k)] - 3)].volume += (z1 - z0) * h * h;
    }
  // Locked faces belong to the region just outside them.
  const auto region_near = [&](const Vec3& p) -> int {
    const Vec3 q = frame.direction(p);
    const auto u = static_cast<int>((q.x - c.u0_mm) / h), v = static_cast<int>((q.y - c.v0_mm) / h),
               k = static_cast<int>((q.z - low) / h);
    if (u < 0 || v < 0 || k < 0 || u >= c.nu || v >= c.nv || k >= nw) return -1;
    const int32_t n = cell[at(static_cast<size_t>(v) * nu + static_cast<size_t>(u), k)];
    return n >= 3 ? n - 3 : -1;
  };
  for (size_t t = 0; t < mesh.triangles.size(); ++t) {
    if (!split.locked[t]) continue;
    const Vec3 n = mesh.normal(t), p = mesh.centre(t);
    for (const double off : {0.75, 1.5, 0.3})
      if (const int r = region_near(p + n * (off * h)); r >= 0) {
        regions[static_cast<size_t>(r)].face_area += mesh.area_mm2(t);
        regions[static_cast<size_t>(r)].faces.push_back(static_cast<uint32_t>(t));
        break;
      }
  }
  progress.report(0.5);

  // The largest circle in a mouth: twice the greatest distance of its cells to its rim, the part beside the opening.
  // What lies behind the opening is no rim, however near.
  const auto width_of = [&](const std::vector<size_t>& members) {
    std::vector<Vec3> rim;
    for (const size_t i : members)
      for (int axis = 0; axis < 2; ++axis)
        for (const int step : {-1, 1}) {
          const auto out_there = neighbour(i, axis == 0 ? step : 0, axis == 1 ? step : 0, 0);
          if (out_there && cell[*out_there] != 0) continue;
          for (int other = 0; other < 3; ++other)
            for (const int s : {-1, 1}) {
              if (other == axis) continue;
              const auto beside = neighbour(i, other == 0 ? s : 0, other == 1 ? s : 0, other == 2 ? s : 0);
              if (!beside || cell[*beside] != 1) continue;
              const Vec3 a = place(i), b = place(*beside);
              rim.push_back(a + (b - a) * 0.5);
            }
        }
    if (rim.empty()) return std::sqrt(static_cast<double>(members.size())) * h;
    const size_t stride = std::max<size_t>(1, members.size() / 1500), skip = std::max<size_t>(1, rim.size() / 20'000);
    double widest = 0;
    for (size_t k = 0; k < members.size(); k += stride) {
      const Vec3 p = place(members[k]);
      double near = 1e300;
      for (size_t q = 0; q < rim.size(); q += skip) near = std::min(near, dot(rim[q] - p, rim[q] - p));
      widest = std::max(widest, 2 * std::sqrt(near));
    }
    return widest;
  };
  std::vector<Undercut> out;
  std::vector<float> way(cell.size(), -1);
  std::vector<int32_t> mouth_at(cell.size(), -1);  // a cell's number among the mouth cells of the region in hand
  for (size_t number = 0; number < regions.size(); ++number) {
    if (progress.cancelled()) return Error::stopped();
    Region& r = regions[number];
    // Steps of the grid along a leaning wall look like thin locked films: no face agrees with them.
    if (r.face_area < std::max(1.0, 4 * h * h) || r.volume < 8 * h * h * h || r.volume < h * r.face_area) continue;
    const auto mine = static_cast<int32_t>(number) + 3;
    Undercut u;
    u.area_mm2 = r.face_area;
    u.volume_mm3 = r.volume;
    u.triangles = std::move(r.faces);
    std::vector<size_t> mouth;
    for (const size_t i : r.cells) {
      u.centroid_mm += place(i) / static_cast<double>(r.cells.size());
      bool open = false;
      for (const auto& [du, dv] : {std::pair{1, 0}, {-1, 0}, {0, 1}, {0, -1}})
        if (const auto o = neighbour(i, du, dv, 0); !o || cell[*o] == 0) open = true;
      if (open) mouth.push_back(i);
    }
    // Mouths: connected groups of mouth cells, corners included.
    std::sort(mouth.begin(), mouth.end());
    std::vector<int> group(mouth.size(), -1);
    for (size_t k = 0; k < mouth.size(); ++k) mouth_at[mouth[k]] = static_cast<int32_t>(k);
    std::vector<std::vector<size_t>> groups;
    for (size_t m = 0; m < mouth.size(); ++m) {
      if (group[m] >= 0) continue;
      std::vector<size_t> members;
      std::vector<size_t> todo{m};
      group[m] = static_cast<int>(groups.size());
      while (!todo.empty()) {
        const size_t k = todo.back();
        todo.pop_back();
        members.push_back(mouth[k]);
        // Two cells apart still counts: a slanting mouth is a staircase.
        for (int a = -2; a <= 2; ++a)
          for (int b = -2; b <= 2; ++b)
            for (int w = -2; w <= 2; ++w)
              if (const auto o = neighbour(mouth[k], a, b, w))
                if (const int32_t g = mouth_at[*o]; g >= 0 && group[static_cast<size_t>(g)] < 0) {
                  group[static_cast<size_t>(g)] = static_cast<int>(groups.size());
                  todo.push_back(static_cast<size_t>(g));
                }
      }
      groups.push_back(std::move(members));
    }
    for (const size_t k : mouth) mouth_at[k] = -1;
    for (const auto& members : groups) {
      Mouth m;
      m.area_mm2 = static_cast<double>(members.size()) * h * h;
      for (const size_t k : members) m.centre_mm += place(k) / static_cast<double>(members.size());
      m.width_mm = width_of(members);
      if (members.size() >= 4 || groups.size() == 1) u.mouths.push_back(m);
    }
    std::stable_sort(u.mouths.begin(), u.mouths.end(),
                     [](const Mouth& a, const Mouth& b) { return a.width_mm > b.width_mm; });
    if (!u.mouths.empty()) u.mouth_mm = u.mouths.front().width_mm;
    // Ways from the mouth through the space: |∇way| = 1, solved outward from the mouth cell by cell (fast marching,
    // first order in h).
    using Front = std::pair<float, size_t>;
    std::priority_queue<Front, std::vector<Front>, std::greater<>> queue;
    for (const size_t i : mouth) way[i] = static_cast<float>(0.5 * h), queue.push({way[i], i});
    float farthest = 0;
    const auto settled = [&](size_t i, int du, int dv, int dw, float front) {
      const auto o = neighbour(i, du, dv, dw);
      return o && cell[*o] == mine && way[*o] >= 0 && way[*o] <= front ? static_cast<double>(way[*o]) : 1e30;
    };
    while (!queue.empty()) {
      const auto [d, i] = queue.top();
      queue.pop();
      if (d > way[i]) continue;
      farthest = std::max(farthest, d);
      for (int axis = 0; axis < 3; ++axis)
        for (const int step : {-1, 1}) {
          const auto o = neighbour(i, axis == 0 ? step : 0, axis == 1 ? step : 0, axis == 2 ? step : 0);
          if (!o || cell[*o] != mine || (way[*o] >= 0 && way[*o] <= d)) continue;
          double t[3] = {std::min(settled(*o, -1, 0, 0, d), settled(*o, 1, 0, 0, d)),
                         std::min(settled(*o, 0, -1, 0, d), settled(*o, 0, 1, 0, d)),
                         std::min(settled(*o, 0, 0, -1, d), settled(*o, 0, 0, 1, d))};
          std::sort(t, t + 3);
          // The plane wave through as many sides as reach there in time.
          double next = t[0] + h;
          if (next > t[1]) {
            const double root = 2 * h * h - (t[1] - t[0]) * (t[1] - t[0]);
            next = 0.5 * (t[0] + t[1] + std::sqrt(std::max(0.0, root)));
            if (next > t[2]) {
              const double sum = t[0] + t[1] + t[2], squares = t[0] * t[0] + t[1] * t[1] + t[2] * t[2];
              next = (sum + std::sqrt(std::max(0.0, sum * sum - 3 * (squares - h * h)))) / 3;
            }
          }
          const auto value = static_cast<float>(next);
          if (way[*o] < 0 || value < way[*o] - 1e-6f) way[*o] = value, queue.push({value, *o});
        }
    }
    u.reach_mm = mouth.empty() ? 0 : farthest + 0.5 * h;
    if (u.tunnel()) {
      const Vec3 between = u.mouths[1].centre_mm - u.mouths[0].centre_mm;
      u.length_mm = length(between) + h;  // mouth cells lie half a cell inside
      u.axis = unit(between, {1, 0, 0});
    }
    u.shore_a = options.shore_a;
    if (options.shore_b) {
      double on_b = 0, all = 0;
      for (const uint32_t t : u.triangles) {
        const double area = mesh.area_mm2(t);
        all += area;
        if (split.side[t]) on_b += area;
      }
      if (on_b > 0.5 * all) u.shore_a = *options.shore_b;
    }
    u.flexes = !u.sealed() && u.ratio() <= options.rule.ratio(u.shore_a);
    u.let_go_by_shore_a = u.sealed() ? std::nullopt : options.rule.hardest_for(u.ratio());
    out.push_back(std::move(u));
    for (const size_t i : r.cells) way[i] = -1;
  }
  std::stable_sort(out.begin(), out.end(),
                   [](const Undercut& a, const Undercut& b) { return a.volume_mm3 > b.volume_mm3; });
  progress.report(1);
  return out;
}

}  // namespace palinform
