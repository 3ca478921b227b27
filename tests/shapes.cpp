#include "shapes.hpp"

#include <cmath>
#include <cstdlib>
#include <fstream>
#include <map>
#include <numbers>

#include "mesh/readers.hpp"

namespace shapes {

using namespace palinform;

TriMesh box(const Vec3& low, const Vec3& high, int n) {
  TriMesh m;
  for (int axis = 0; axis < 3; ++axis)
    for (const bool far : {false, true}) {
      const int u = (axis + 1) % 3, v = (axis + 2) % 3;
      for (int i = 0; i < n; ++i)
        for (int j = 0; j < n; ++j) {
          const auto at = [&](int a, int b) {
            Vec3 p;
            p[axis] = far ? high[axis] : low[axis];
            p[u] = low[u] + (high[u] - low[u]) * a / n;
            p[v] = low[v] + (high[v] - low[v]) * b / n;
            m.points.push_back(p);
            return static_cast<uint32_t>(m.points.size() - 1);
          };
          const uint32_t p0 = at(i, j), p1 = at(i + 1, j), p2 = at(i + 1, j + 1), p3 = at(i, j + 1);
          m.triangles.push_back(far ? Triangle{p0, p1, p2} : Triangle{p0, p2, p1});
          m.triangles.push_back(far ? Triangle{p0, p2, p3} : Triangle{p0, p3, p2});
        }
    }
  readers::weld_equal(m);
  return m;
}

TriMesh icosphere(double radius, int subdivisions) {
  const double t = (1 + std::sqrt(5.0)) / 2;
  TriMesh m;
  m.points = {{-1, t, 0},  {1, t, 0},  {-1, -t, 0}, {1, -t, 0}, {0, -1, t},  {0, 1, t},
              {0, -1, -t}, {0, 1, -t}, {t, 0, -1},  {t, 0, 1},  {-t, 0, -1}, {-t, 0, 1}};
  m.triangles = {{0, 11, 5},  {0, 5, 1},  {0, 1, 7},  {0, 7, 10}, {0, 10, 11}, {1, 5, 9}, {5, 11, 4},
                 {11, 10, 2}, {10, 7, 6}, {7, 1, 8},  {3, 9, 4},  {3, 4, 2},   {3, 2, 6}, {3, 6, 8},
                 {3, 8, 9},   {4, 9, 5},  {2, 4, 11}, {6, 2, 10}, {8, 6, 7},   {9, 8, 1}};
  for (int s = 0; s < subdivisions; ++s) {
    std::map<std::pair<uint32_t, uint32_t>, uint32_t> middle;
    std::vector<Triangle> finer;
    const auto mid = [&](uint32_t a, uint32_t b) {
      const auto key = std::minmax(a, b);
      const auto it = middle.find(key);
      if (it != middle.end()) return it->second;
      m.points.push_back((m.points[a] + m.points[b]) * 0.5);
      return middle[key] = static_cast<uint32_t>(m.points.size() - 1);
    };
    for (const Triangle& q : m.triangles) {
      const uint32_t a = mid(q[0], q[1]), b = mid(q[1], q[2]), c = mid(q[2], q[0]);
      finer.insert(finer.end(), {{q[0], a, c}, {q[1], b, a}, {q[2], c, b}, {a, b, c}});
    }
    m.triangles = std::move(finer);
  }
  for (Vec3& p : m.points) p = unit(p) * radius;
  return m;
}

TriMesh torus(double ring, double tube, int around, int across) {
  TriMesh m;
  for (int i = 0; i < around; ++i)
    for (int j = 0; j < across; ++j) {
      const double a = 2 * std::numbers::pi * i / around, b = 2 * std::numbers::pi * j / across;
      m.points.push_back(
          {(ring + tube * std::cos(b)) * std::cos(a), (ring + tube * std::cos(b)) * std::sin(a), tube * std::sin(b)});
    }
  const auto id = [&](int i, int j) { return static_cast<uint32_t>((i % around) * across + j % across); };
  for (int i = 0; i < around; ++i)
    for (int j = 0; j < across; ++j) {
      m.triangles.push_back({id(i, j), id(i + 1, j), id(i + 1, j + 1)});
      m.triangles.push_back({id(i, j), id(i + 1, j + 1), id(i, j + 1)});
    }
  return m;
}

TriMesh bored_box(const Vec3& half, double r, int axis, int n) {
  // Built with the bore along z, then the axes are cycled. n divisible by 4: corners get a ray of their own.
  const Vec3 h{half[(axis + 1) % 3], half[(axis + 2) % 3], half[axis]};
  TriMesh m;
  std::vector<Vec3> in, out;
  for (int i = 0; i < n; ++i) {
    const double a = 2 * std::numbers::pi * (i + 0.5) / n, c = std::cos(a), s = std::sin(a);
    in.push_back({r * c, r * s, 0});
    const double k = std::min(h.x / std::abs(c), h.y / std::abs(s));
    out.push_back({k * c, k * s, 0});
  }
  // Snap the ray nearest each corner onto it, so that the outline is the true rectangle.
  for (const double sx : {-1.0, 1.0})
    for (const double sy : {-1.0, 1.0}) {
      size_t best = 0;
      for (size_t i = 0; i < out.size(); ++i)
        if (length(out[i] - Vec3{sx * h.x, sy * h.y, 0}) < length(out[best] - Vec3{sx * h.x, sy * h.y, 0})) best = i;
      out[best] = {sx * h.x, sy * h.y, 0};
    }
  const auto put = [&](Vec3 p, double z) {
    p.z = z;
    m.points.push_back(p);
    return static_cast<uint32_t>(m.points.size() - 1);
  };
  std::vector<uint32_t> ib, it, ob, ot;
  for (int i = 0; i < n; ++i)
    ib.push_back(put(in[i], -h.z)), it.push_back(put(in[i], h.z)), ob.push_back(put(out[i], -h.z)),
        ot.push_back(put(out[i], h.z));
  for (int i = 0; i < n; ++i) {
    const int j = (i + 1) % n;
    const auto quad = [&](uint32_t a, uint32_t b, uint32_t c, uint32_t d) {
      m.triangles.push_back({a, b, c});
      m.triangles.push_back({a, c, d});
    };
    quad(it[i], ot[i], ot[j], it[j]);
    quad(ob[i], ib[i], ib[j], ob[j]);
    quad(ot[i], ob[i], ob[j], ot[j]);
    quad(ib[i], it[i], it[j], ib[j]);
  }
  for (Vec3& p : m.points) {
    Vec3 q;
    q[(axis + 1) % 3] = p.x, q[(axis + 2) % 3] = p.y, q[axis] = p.z;
    p = q;
  }
  return m;
}

TriMesh cylinder(double r, double h, int n) {
  TriMesh m;
  m.points = {{0, 0, 0}, {0, 0, h}};
  for (int i = 0; i < n; ++i) {
    const double a = 2 * std::numbers::pi * i / n;
    m.points.push_back({r * std::cos(a), r * std::sin(a), 0});
    m.points.push_back({r * std::cos(a), r * std::sin(a), h});
  }
  for (int i = 0; i < n; ++i) {
    const uint32_t a = static_cast<uint32_t>(2 + 2 * i), b = static_cast<uint32_t>(2 + 2 * ((i + 1) % n));
    m.triangles.push_back({0, b, a});
    m.triangles.push_back({1, a + 1, b + 1});
    m.triangles.push_back({a, b, b + 1});
    m.triangles.push_back({a, b + 1, a + 1});
  }
  return m;
}

TriMesh extruded(const std::vector<std::array<double, 2>>& q, double width) {
  TriMesh m;
  const auto n = static_cast<uint32_t>(q.size());
  for (const double y : {0.0, width})
    for (const auto& p : q) m.points.push_back({p[0], y, p[1]});
  for (uint32_t a = 0; a < n; ++a) {
    const uint32_t b = (a + 1) % n;
    m.triangles.push_back({a, b + n, b});
    m.triangles.push_back({a, a + n, b + n});
  }
  // Ears off the profile.
  std::vector<uint32_t> left(n);
  for (uint32_t k = 0; k < n; ++k) left[k] = k;
  const auto turn = [&](uint32_t a, uint32_t b, uint32_t c) {
    return (q[b][0] - q[a][0]) * (q[c][1] - q[a][1]) - (q[b][1] - q[a][1]) * (q[c][0] - q[a][0]);
  };
  while (left.size() >= 3) {
    bool cut = false;
    for (size_t k = 0; k < left.size() && !cut; ++k) {
      const uint32_t a = left[(k + left.size() - 1) % left.size()], b = left[k], c = left[(k + 1) % left.size()];
      if (turn(a, b, c) <= 1e-12 && left.size() > 3) continue;
      bool free = true;
      for (const uint32_t p : left)
        if (p != a && p != b && p != c && turn(a, b, p) >= 0 && turn(b, c, p) >= 0 && turn(c, a, p) >= 0) free = false;
      if (!free) continue;
      m.triangles.push_back({a, b, c});
      m.triangles.push_back({a + n, c + n, b + n});
      left.erase(left.begin() + static_cast<std::ptrdiff_t>(k));
      cut = true;
    }
    if (!cut || left.size() < 3) break;
  }
  return m;
}

TriMesh stepped_channel(double l1, double t1, double l2, double t2, double width) {
  return extruded({{0, 0}, {l1 + l2, 0}, {l1 + l2, t2}, {l1, t2}, {l1, t1}, {0, t1}}, width);
}

TriMesh two_arms(double l, double right, double left, double width) {
  return extruded({{-l, 0}, {l, 0}, {l, right}, {-4, right}, {-4, left}, {-l, left}}, width);
}

TriMesh hull_of(const std::vector<Vec3>& p) {
  TriMesh m;
  m.points = p;
  const auto n = static_cast<uint32_t>(p.size());
  for (uint32_t a = 0; a < n; ++a)
    for (uint32_t b = a + 1; b < n; ++b)
      for (uint32_t c = b + 1; c < n; ++c) {
        const Vec3 w = cross(p[b] - p[a], p[c] - p[a]);
        bool over = false, under = false;
        for (uint32_t k = 0; k < n && !(over && under); ++k)
          if (k != a && k != b && k != c) (dot(w, p[k] - p[a]) > 0 ? over : under) = true;
        if (!over) m.triangles.push_back({a, b, c});
        if (!under) m.triangles.push_back({a, c, b});
      }
  drop_unused_points(m);
  return m;
}

TriMesh drilled_cube(double a, const std::vector<std::array<double, 2>>& steps, int n) {
  TriMesh m = box({0, 0, 0}, {a, a, a});
  const bool through = steps.back()[1] >= a;
  std::erase_if(m.triangles, [&](const Triangle& t) {
    const Vec3 w = unit(cross(m.points[t[1]] - m.points[t[0]], m.points[t[2]] - m.points[t[0]]));
    return w.x > 0.9 || (through && w.x < -0.9);
  });
  const auto ring = [&](double x, double d) {
    const auto first = static_cast<uint32_t>(m.points.size());
    for (int k = 0; k < n; ++k) {
      const double s = 2 * std::numbers::pi * (k + 0.5) / n;
      m.points.push_back({x, a / 2 + d / 2 * std::cos(s), a / 2 + d / 2 * std::sin(s)});
    }
    return first;
  };
  const auto un = static_cast<uint32_t>(n);
  const auto wall = [&](uint32_t r, uint32_t f) {
    for (uint32_t k = 0; k < un; ++k) {
      const uint32_t o = (k + 1) % un;
      m.triangles.push_back({r + k, r + o, f + o});
      m.triangles.push_back({r + k, f + o, f + k});
    }
  };
  // A square face with a round hole: a fan from each corner over its quarter of the rim.
  const auto face = [&](double x, uint32_t rim, bool out_x) {
    uint32_t c[4];
    const double y[4] = {a, 0, 0, a}, z[4] = {a, a, 0, 0};
    for (int q = 0; q < 4; ++q)
      for (uint32_t i = 0; i < 8; ++i)
        if (length(m.points[i] - Vec3{x, y[q], z[q]}) < 1e-9) c[q] = i;
    const auto add = [&](uint32_t p, uint32_t q, uint32_t r) {
      m.triangles.push_back(out_x ? Triangle{p, q, r} : Triangle{p, r, q});
    };
    for (uint32_t q = 0; q < 4; ++q)
      for (uint32_t k = q * un / 4; k < (q + 1) * un / 4; ++k) {
        const uint32_t r0 = rim + k, r1 = rim + (k + 1) % un;
        add(c[q], r1, r0);
        if (k + 1 == (q + 1) * un / 4) add(c[q], c[(q + 1) % 4], r1);
      }
  };
  uint32_t last = ring(a, steps[0][0]);
  face(a, last, true);
  for (size_t s = 0; s < steps.size(); ++s) {
    const uint32_t foot = ring(a - steps[s][1], steps[s][0]);
    wall(last, foot);
    last = foot;
    if (s + 1 == steps.size()) break;
    last = ring(a - steps[s][1], steps[s + 1][0]);
    wall(foot, last);
  }
  if (through)
    face(0, last, false);
  else {
    m.points.push_back({a - steps.back()[1], a / 2, a / 2});
    for (uint32_t k = 0; k < un; ++k)
      m.triangles.push_back({last + k, last + (k + 1) % un, static_cast<uint32_t>(m.points.size() - 1)});
  }
  return m;
}

TriMesh turned(const std::vector<std::array<double, 2>>& profile, int n) {
  TriMesh m;
  const auto ring = [&](size_t k, int i) {
    return static_cast<uint32_t>(1 + (k - 1) * static_cast<size_t>(n) + static_cast<size_t>(i % n));
  };
  m.points.push_back({0, 0, profile.front()[1]});
  for (size_t k = 1; k + 1 < profile.size(); ++k)
    for (int i = 0; i < n; ++i) {
      const double t = 2 * std::numbers::pi * i / n;
      m.points.push_back({profile[k][0] * std::cos(t), profile[k][0] * std::sin(t), profile[k][1]});
    }
  const auto top = static_cast<uint32_t>(m.points.size());
  m.points.push_back({0, 0, profile.back()[1]});
  const size_t last = profile.size() - 2;
  for (int i = 0; i < n; ++i) {
    m.triangles.push_back({0, ring(1, i + 1), ring(1, i)});
    for (size_t k = 1; k < last; ++k) {
      m.triangles.push_back({ring(k, i), ring(k, i + 1), ring(k + 1, i + 1)});
      m.triangles.push_back({ring(k, i), ring(k + 1, i + 1), ring(k + 1, i)});
    }
    m.triangles.push_back({ring(last, i), ring(last, i + 1), top});
  }
  return m;
}

TriMesh joined(const TriMesh& a, const TriMesh& b) {
  TriMesh m = a;
  const uint32_t shift = static_cast<uint32_t>(a.points.size());
  m.points.insert(m.points.end(), b.points.begin(), b.points.end());
  for (Triangle t : b.triangles) m.triangles.push_back({t[0] + shift, t[1] + shift, t[2] + shift});
  return m;
}

TriMesh turned_over(TriMesh m) {
  for (Triangle& t : m.triangles) std::swap(t[1], t[2]);
  return m;
}

Transform odd_turn() {
  Transform t = Transform::turn(unit(Vec3{0.3, -0.7, 0.55}), 1.234);
  t.shift = {12.3, -4.5, 67.8};
  return t;
}

TempDir::TempDir() {
  std::string name = (std::filesystem::temp_directory_path() / "palinform-test-XXXXXX").string();
  path_ = ::mkdtemp(name.data());
}
TempDir::~TempDir() {
  std::error_code ec;
  std::filesystem::remove_all(path_, ec);
}

void write_text(const std::string& path, const std::string& text) { std::ofstream(path, std::ios::binary) << text; }

}  // namespace shapes
