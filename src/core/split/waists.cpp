#include "split/waists.hpp"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>
#include <unordered_map>
#include <unordered_set>

#include "base/text.hpp"
#include "mesh/handles.hpp"

namespace palinform {
namespace {

/// Cells round a part. Cell (i, j, k) has its middle at low + h·(i, j, k).
struct Space {
  Vec3 low;
  double h = 1;
  std::array<int, 3> n{};
  static constexpr uint8_t solid = 8;
  std::vector<uint8_t> bits;  ///< 1, 2, 4: skin between the cell and its neighbour in +x, +y, +z; 8: in the part
  size_t stride(int axis) const {
    return axis == 0   ? 1
           : axis == 1 ? static_cast<size_t>(n[0])
                       : static_cast<size_t>(n[0]) * static_cast<size_t>(n[1]);
  }
  size_t at(int i, int j, int k) const {
    return (static_cast<size_t>(k) * static_cast<size_t>(n[1]) + static_cast<size_t>(j)) * static_cast<size_t>(n[0]) +
           static_cast<size_t>(i);
  }
  int along(size_t c, int axis) const {
    return static_cast<int>(c / stride(axis) % static_cast<size_t>(n[static_cast<size_t>(axis)]));
  }
  Vec3 middle(size_t c) const {
    return low +
           Vec3{static_cast<double>(along(c, 0)), static_cast<double>(along(c, 1)), static_cast<double>(along(c, 2))} *
               h;
  }
  size_t size() const { return bits.size(); }
};

Space cells_round(const TriMesh& mesh, const RayScene& rays, int cells, const Progress& progress) {
  Space s;
  Box3 box;
  for (const Vec3& p : mesh.points) box.add(p);
  const Vec3 size = box.size();
  s.h = std::max({size.x, size.y, size.z}) / cells;
  // Off any round figure, so that no grid line runs along a face.
  s.low = box.min - Vec3{2.4142, 2.2361, 2.3166} * s.h;
  for (int a = 0; a < 3; ++a)
    s.n[static_cast<size_t>(a)] = static_cast<int>(std::ceil((box.max[a] - s.low[a]) / s.h)) + 3;
  s.bits.assign(static_cast<size_t>(s.n[0]) * static_cast<size_t>(s.n[1]) * static_cast<size_t>(s.n[2]), 0);
  for (int a = 0; a < 3; ++a) {
    // Lines along an axis: where they meet the skin, no step from cell to cell.
    const int b = (a + 1) % 3, c = (a + 2) % 3, nb = s.n[static_cast<size_t>(b)], nc = s.n[static_cast<size_t>(c)];
    const int na = s.n[static_cast<size_t>(a)];
    Vec3 way;
    way[a] = 1;
    // Rows next to each other share bytes of no cell: each line owns its cells' bits for this axis.
    tbb::parallel_for(tbb::blocked_range<int>(0, nb * nc, 16), [&](const auto& range) {
      for (int line = range.begin(); line < range.end() && !progress.cancelled(); ++line) {
        Vec3 from = s.low;
        from[b] += s.h * (line % nb), from[c] += s.h * (line / nb);
        const size_t first =
            s.stride(b) * static_cast<size_t>(line % nb) + s.stride(c) * static_cast<size_t>(line / nb);
        const auto hits = rays.all_hits(from, way);
        int in = 0, k = 0;
        for (const RayHit& hit : hits) {
          const int before = std::clamp(static_cast<int>(std::floor(hit.t_mm / s.h)), 0, na - 1);
          if (a == 2)
            for (; k <= before; ++k)
              if (in > 0) s.bits[first + s.stride(a) * static_cast<size_t>(k)] |= Space::solid;
          s.bits[first + s.stride(a) * static_cast<size_t>(before)] |= static_cast<uint8_t>(1 << a);
          in += hit.entering ? 1 : -1;
        }
      }
    });
  }
  return s;
}

/// Squared distance in cells to the part or its skin, exactly, by the lower envelope of parabolas along each axis
/// (Felzenszwalb and Huttenlocher, "Distance transforms of sampled functions", 2012).
std::vector<float> squared_clearance(const Space& s) {
  constexpr float far = 1e12f;
  std::vector<float> d(s.size(), far);
  for (size_t c = 0; c < s.size(); ++c) {
    if (s.bits[c] & Space::solid) d[c] = 0;
    for (int a = 0; a < 3; ++a)
      if (s.bits[c] & (1 << a))
        for (const size_t e : {c, c + s.stride(a)})
          if (e < d.size()) d[e] = std::min(d[e], 0.25f);
  }
  for (int a = 0; a < 3; ++a) {
    const int b = (a + 1) % 3, c = (a + 2) % 3, nb = s.n[static_cast<size_t>(b)], nc = s.n[static_cast<size_t>(c)];
    const int n = s.n[static_cast<size_t>(a)];
    const size_t step = s.stride(a);
    tbb::parallel_for(tbb::blocked_range<int>(0, nb * nc, 64), [&](const auto& range) {
      std::vector<float> f(static_cast<size_t>(n)), z(static_cast<size_t>(n) + 1);
      std::vector<int> v(static_cast<size_t>(n));
      for (int line = range.begin(); line < range.end(); ++line) {
        float* row =
            d.data() + s.stride(b) * static_cast<size_t>(line % nb) + s.stride(c) * static_cast<size_t>(line / nb);
        for (int i = 0; i < n; ++i) f[static_cast<size_t>(i)] = row[step * static_cast<size_t>(i)];
        int k = -1;
        for (int q = 0; q < n; ++q) {
          if (f[static_cast<size_t>(q)] >= far) continue;
          float x = -far;
          while (k >= 0) {
            const int p = v[static_cast<size_t>(k)];
            x = ((f[static_cast<size_t>(q)] + static_cast<float>(q * q)) -
                 (f[static_cast<size_t>(p)] + static_cast<float>(p * p))) /
                static_cast<float>(2 * (q - p));
            if (x > z[static_cast<size_t>(k)]) break;
            x = -far;
            --k;
          }
          ++k;
          v[static_cast<size_t>(k)] = q, z[static_cast<size_t>(k)] = x, z[static_cast<size_t>(k) + 1] = far;
        }
        if (k < 0) continue;  // nothing on this line
        k = 0;
        for (int q = 0; q < n; ++q) {
          while (z[static_cast<size_t>(k) + 1] < static_cast<float>(q)) ++k;
          const auto away = static_cast<float>(q - v[static_cast<size_t>(k)]);
          row[step * static_cast<size_t>(q)] = away * away + f[static_cast<size_t>(v[static_cast<size_t>(k)])];
        }
      }
    });
  }
  return d;
}

/// A step between cells that runs through the surface hung into a loop.
struct Through {
  uint64_t step = 0;  ///< 3·cell + axis
  int loop = 0, sign = 0;
  bool operator<(const Through& o) const { return step != o.step ? step < o.step : loop < o.loop; }
};

/// The fan from a loop's middle over its edges, met by the grid's lines. Which side of an edge a line passes is asked
/// in one order for both faces at it, so that a line never slips between them.
void hang(const Space& s, const TriMesh& mesh, const std::vector<uint32_t>& loop, int name, std::vector<Through>& out) {
  Vec3 middle;
  for (const uint32_t v : loop) middle += mesh.points[v];
  middle = middle / static_cast<double>(loop.size()) + Vec3{0.0137, 0.0171, 0.0113} * s.h;
  const auto side = [](const Vec3& p, const Vec3& q, double x, double y, int b, int c) {
    const bool turn = p[b] != q[b] ? p[b] > q[b] : p[c] > q[c];
    const Vec3 &f = turn ? q : p, &t = turn ? p : q;
    const double d = (t[b] - f[b]) * (y - f[c]) - (t[c] - f[c]) * (x - f[b]);
    return (d >= 0) != turn;
  };
  for (size_t i = 0; i < loop.size(); ++i) {
    const Vec3 &p = mesh.points[loop[i]], &q = mesh.points[loop[(i + 1) % loop.size()]];
    const Vec3 normal = cross(p - middle, q - middle);
    for (int a = 0; a < 3; ++a) {
      if (normal[a] == 0) continue;
      const int b = (a + 1) % 3, c = (a + 2) % 3;
      const auto first = [&](int k) {
        return std::max(0, static_cast<int>(std::floor((std::min({p[k], q[k], middle[k]}) - s.low[k]) / s.h)));
      };
      const auto last = [&](int k) {
        return std::min(s.n[static_cast<size_t>(k)] - 1,
                        static_cast<int>(std::ceil((std::max({p[k], q[k], middle[k]}) - s.low[k]) / s.h)));
      };
      for (int y = first(c); y <= last(c); ++y)
        for (int x = first(b); x <= last(b); ++x) {
          const double fb = s.low[b] + x * s.h, fc = s.low[c] + y * s.h;
          const bool one = side(middle, p, fb, fc, b, c), two = side(p, q, fb, fc, b, c),
                     three = side(q, middle, fb, fc, b, c);
          if (one != two || two != three) continue;
          const double at = middle[a] - (normal[b] * (fb - middle[b]) + normal[c] * (fc - middle[c])) / normal[a];
          const int k = static_cast<int>(std::floor((at - s.low[a]) / s.h));
          if (k < 0 || k + 1 >= s.n[static_cast<size_t>(a)]) continue;
          const size_t cell = s.stride(a) * static_cast<size_t>(k) + s.stride(b) * static_cast<size_t>(x) +
                              s.stride(c) * static_cast<size_t>(y);
          out.push_back({3 * cell + static_cast<uint64_t>(a), name, normal[a] > 0 ? 1 : -1});
        }
    }
  }
}

/// Rings told apart: each a row of linking numbers, brought to echelon form modulo a prime.
class Independent {
 public:
  /// True, and kept, where no sum of the rows before makes this one.
  bool take(std::vector<int64_t> row) {
    for (int64_t& x : row) x = ((x % p) + p) % p;
    for (const auto& [pivot, kept] : rows_) {
      const int64_t f = row[pivot];
      for (size_t k = 0; f != 0 && k < row.size(); ++k) row[k] = (row[k] + (p - f) * kept[k]) % p;
    }
    const auto lead = std::find_if(row.begin(), row.end(), [](int64_t x) { return x != 0; });
    if (lead == row.end()) return false;
    const auto pivot = static_cast<size_t>(lead - row.begin());
    int64_t inverse = 1, base = *lead;
    for (int64_t e = p - 2; e > 0; e >>= 1, base = base * base % p)
      if (e & 1) inverse = inverse * base % p;
    for (int64_t& x : row) x = x * inverse % p;
    rows_.push_back({pivot, std::move(row)});
    return true;
  }
  size_t count() const { return rows_.size(); }

 private:
  static constexpr int64_t p = 1'000'003;
  std::vector<std::pair<size_t, std::vector<int64_t>>> rows_;
};

/// Cells joined as they are taken in. Each knows a number that grows along steps by what they run through, told from
/// its root; two ways to a cell that tell it differently close a ring round something.
struct Joined {
  std::vector<uint32_t> up;
  std::vector<uint64_t> told;  ///< from `up`
  std::vector<uint8_t> rank;
  std::vector<float> widest;  ///< of a root: its largest squared clearance
  std::pair<uint32_t, uint64_t> root(uint32_t c) {
    uint32_t r = c;
    uint64_t sum = 0;
    while (up[r] != r) sum += told[r], r = up[r];
    const uint64_t whole = sum;
    while (up[c] != r && c != r) {
      const uint32_t next = up[c];
      const uint64_t own = told[c];
      up[c] = r, told[c] = sum;
      sum -= own;
      c = next;
    }
    return {r, whole};
  }
};

/// The cells from `from` to `to` along steps that joined them.
std::vector<uint32_t> way_between(const Space& s, const std::vector<uint8_t>& tree, uint32_t from, uint32_t to) {
  std::vector<uint32_t> queue{from};
  std::unordered_map<uint32_t, uint32_t> before{{from, from}};
  for (size_t q = 0; q < queue.size(); ++q) {
    const uint32_t c = queue[q];
    if (c == to) break;
    for (int a = 0; a < 3; ++a) {
      const auto step = static_cast<uint32_t>(s.stride(a));
      if (tree[c] & (1 << a) && before.try_emplace(c + step, c).second) queue.push_back(c + step);
      if (c >= step && tree[c - step] & (1 << a) && before.try_emplace(c - step, c).second) queue.push_back(c - step);
    }
  }
  std::vector<uint32_t> way;
  if (!before.contains(to)) return way;
  for (uint32_t c = to;; c = before[c]) {
    way.push_back(c);
    if (c == from) break;
  }
  std::reverse(way.begin(), way.end());
  return way;
}

}  // namespace

Result<Waists> find_waists(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays, const WaistOptions& o,
                           const Progress& progress) {
  Waists out;
  if (pairs.open_edges + pairs.non_manifold_edges > 0)
    return Error{"the mesh is not closed, so nothing can be said of its openings", "openings",
                 "Mend it in Original first."};
  out.handles = handles_of(mesh, pairs);
  if (out.handles > o.most)
    return Error{"the mesh has " + std::to_string(out.handles) + " handles, so its openings are not listed", "openings",
                 "A scan's froth makes handles: mend it, or settle the holes one by one."};
  if (out.handles == 0) return out;
  const Space s = cells_round(mesh, rays, o.cells, progress);
  if (progress.cancelled()) return Error::stopped();
  out.pitch_mm = s.h;
  progress.report(0.3);
  std::vector<float> wide = squared_clearance(s);
  progress.report(0.5);
  // The rim of the cells is the open air: as wide as one likes.
  for (uint32_t c = 0; c < s.size(); ++c)
    for (int a = 0; a < 3; ++a)
      if (const int k = s.along(c, a); k == 0 || k + 1 == s.n[static_cast<size_t>(a)]) wide[c] = 1e12f;

  std::vector<Through> through;
  const auto loops = out.handles > 0 ? handle_loops(mesh, pairs) : std::vector<std::vector<uint32_t>>{};
  for (size_t i = 0; i < loops.size(); ++i) hang(s, mesh, loops[i], static_cast<int>(i), through);
  std::sort(through.begin(), through.end());
  std::unordered_map<uint64_t, uint64_t> weight;
  const auto share = [](int loop) {  // any odd numbers that no small sum of makes nought
    uint64_t x = 0x9E3779B97F4A7C15ull * static_cast<uint64_t>(loop + 1);
    x = (x ^ (x >> 30)) * 0xBF58476D1CE4E5B9ull;
    return (x ^ (x >> 27)) | 1;
  };
  for (const Through& t : through) weight[t.step] += static_cast<uint64_t>(t.sign) * share(t.loop);
  if (progress.cancelled()) return Error::stopped();
  progress.report(0.6);

  // From the widest down; of equal ones the outer first, so that a passage of one width closes in its middle.
  std::vector<int> deep(s.size());
  for (uint32_t c = 0; c < s.size(); ++c) {
    int least = 1 << 20;
    for (int a = 0; a < 3; ++a)
      least = std::min({least, s.along(c, a), s.n[static_cast<size_t>(a)] - 1 - s.along(c, a)});
    deep[c] = least;
  }
  std::vector<uint32_t> order;
  order.reserve(s.size());
  for (uint32_t c = 0; c < s.size(); ++c)
    if (!(s.bits[c] & Space::solid)) order.push_back(c);
  std::stable_sort(order.begin(), order.end(),
                   [&](uint32_t a, uint32_t b) { return wide[a] != wide[b] ? wide[a] > wide[b] : deep[a] < deep[b]; });
  Joined joined;
  joined.up.resize(s.size());
  std::iota(joined.up.begin(), joined.up.end(), 0u);
  joined.told.assign(s.size(), 0);
  joined.rank.assign(s.size(), 0);
  joined.widest = wide;
  std::vector<uint8_t> tree(s.size(), 0);
  std::vector<bool> taken(s.size(), false);
  std::unordered_set<uint64_t> known{0};
  std::vector<uint64_t> found;
  Independent rings;
  const auto waist = [&](uint32_t a, uint32_t b, bool hollow) {
    // The way through: what the ring does a few cells to either side.
    Waist w;
    w.at_mm = (s.middle(a) + s.middle(b)) * 0.5;
    w.way = unit(s.middle(b) - s.middle(a));
    w.radius_mm = s.h * std::sqrt(static_cast<double>(std::min(wide[a], wide[b])));
    w.hollow = hollow;
    w.near_mm = {s.middle(a), s.middle(b)};
    for (int k = 1; k <= 4; ++k)
      for (int axis = 0; axis < 3; ++axis)
        for (const double sign : {-1.0, 1.0}) {
          Vec3 p = w.at_mm;
          p[axis] += sign * s.h * k;
          w.near_mm.push_back(p);
        }
    return w;
  };
  for (size_t q = 0; q < order.size(); ++q) {
    if (q % 65536 == 0) {
      if (progress.cancelled()) return Error::stopped();
      progress.report(0.6 + 0.4 * static_cast<double>(q) / static_cast<double>(order.size()));
    }
    const uint32_t c = order[q];
    taken[c] = true;
    for (int a = 0; a < 3; ++a)
      for (const bool ahead : {false, true}) {
        const auto step = static_cast<uint32_t>(s.stride(a));
        const int along = s.along(c, a);
        if (ahead ? along + 1 >= s.n[static_cast<size_t>(a)] : along == 0) continue;
        const uint32_t low = ahead ? c : c - step, other = ahead ? c + step : c - step;
        if (!taken[other] || s.bits[low] & (1 << a)) continue;
        uint64_t by = 0;  // from low to high
        if (const auto w = weight.find(3 * static_cast<uint64_t>(low) + static_cast<uint64_t>(a)); w != weight.end())
          by = w->second;
        if (!ahead) by = 0 - by;  // from c to other
        auto [rc, tc] = joined.root(c);
        auto [ro, to] = joined.root(other);
        if (rc != ro) {
          const double least = std::min(joined.widest[rc], joined.widest[ro]);
          if (joined.rank[rc] > 0 && joined.rank[ro] > 0 && wide[c] >= 1 && least > o.wider * o.wider * wide[c])
            out.waists.push_back(waist(c, other, true));
          // told: number(child) = told + number(root). number(other) = number(c) + by.
          if (joined.rank[rc] < joined.rank[ro]) {
            joined.up[rc] = ro, joined.told[rc] = to - by - tc;
            joined.widest[ro] = std::max(joined.widest[ro], joined.widest[rc]);
          } else {
            joined.up[ro] = rc, joined.told[ro] = tc + by - to;
            joined.widest[rc] = std::max(joined.widest[rc], joined.widest[ro]);
            if (joined.rank[rc] == joined.rank[ro]) ++joined.rank[rc];
          }
          tree[low] |= static_cast<uint8_t>(1 << a);
          continue;
        }
        const uint64_t ring = tc + by - to;
        if (known.contains(ring) || rings.count() >= out.handles) continue;
        known.insert(ring), known.insert(0 - ring);
        const auto way = way_between(s, tree, other, c);
        std::vector<int64_t> row(loops.size(), 0);
        const auto add = [&](uint32_t from, uint32_t to_cell) {
          const uint32_t lower = std::min(from, to_cell), by_step = std::max(from, to_cell) - lower;
          const int axis = by_step == 1 ? 0 : by_step == static_cast<uint32_t>(s.stride(1)) ? 1 : 2;
          const uint64_t key = 3 * static_cast<uint64_t>(lower) + static_cast<uint64_t>(axis);
          for (auto t = std::lower_bound(through.begin(), through.end(), Through{key, -1, 0});
               t != through.end() && t->step == key; ++t)
            row[static_cast<size_t>(t->loop)] += from < to_cell ? t->sign : -t->sign;
        };
        for (size_t k = 1; k < way.size(); ++k) add(way[k - 1], way[k]);
        add(c, other);
        if (!rings.take(row)) continue;
        for (const uint64_t f : found)
          for (const uint64_t x : {ring + f, ring - f}) known.insert(x), known.insert(0 - x);
        found.push_back(ring);
        Waist w = waist(c, other, false);
        if (way.size() > 2) {
          const size_t reach = std::clamp<size_t>(static_cast<size_t>(w.radius_mm / s.h), 2, 12);
          const Vec3 one = s.middle(way[std::min(reach, way.size() / 2)]),
                     two = s.middle(way[way.size() - 1 - std::min(reach, way.size() / 2)]);
          w.way = unit(one - two, w.way);
          const size_t far = std::min(way.size() / 2, static_cast<size_t>(2 * w.radius_mm / s.h) + 4);
          w.near_mm.clear();
          for (size_t k = 0; k < far; ++k)
            w.near_mm.push_back(s.middle(way[k])), w.near_mm.push_back(s.middle(way[way.size() - 1 - k]));
        }
        out.waists.push_back(w);
      }
  }
  out.unseen = out.handles - rings.count();
  std::stable_sort(out.waists.begin(), out.waists.end(),
                   [](const Waist& a, const Waist& b) { return a.radius_mm > b.radius_mm; });
  progress.report(1);
  return out;
}

}  // namespace palinform
