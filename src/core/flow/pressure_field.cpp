#include "flow/pressure_field.hpp"

#include <algorithm>
#include <cmath>
#include <Eigen/SparseCholesky>

namespace palinform {

PressureField::PressureField(const FillNetwork& network) : net_(network), blob_(network.cavity.size(), UINT32_MAX) {
  // Blocks of side³ cells, each piece that hangs together a blob of its own: what a wall parts stays apart.
  constexpr int side = 3;
  const Cavity& c = network.cavity;
  std::vector<uint32_t> stack;
  for (uint32_t seed = 0; seed < c.size(); ++seed) {
    if (blob_[seed] != UINT32_MAX) continue;
    const auto block = [&](uint32_t cell) {
      return std::array<int, 3>{c.lattice[cell][0] / side, c.lattice[cell][1] / side, c.lattice[cell][2] / side};
    };
    const auto here = block(seed);
    blob_[seed] = blobs_;
    stack.push_back(seed);
    while (!stack.empty()) {
      const uint32_t k = stack.back();
      stack.pop_back();
      for (uint32_t e = network.start[k]; e < network.start[k + 1]; ++e) {
        const uint32_t o = network.to[e];
        if (blob_[o] == UINT32_MAX && block(o) == here) blob_[o] = blobs_, stack.push_back(o);
      }
    }
    ++blobs_;
  }
  even_.resize(c.size());
  for (uint32_t k = 0; k < c.size(); ++k) even_[k] = ((c.lattice[k][0] + c.lattice[k][1] + c.lattice[k][2]) & 1) == 0;
}

/// The wet cells only, the even and the odd ones numbered apart. Cells of one kind never touch, so the even ones' sums
/// are put into the odd ones' (Schur complement), which are half as many and far better conditioned.
struct PressureField::System {
  struct Link {
    uint32_t to;  ///< row of the other kind
    float conduct_mm3;
  };
  struct Rows {
    std::vector<uint32_t> cells, start{0};
    std::vector<Link> links;
    std::vector<double> diagonal, inverse;
  };
  struct Held {
    uint32_t row, cell;
    bool even;
    double g;
  };
  Rows even, odd;
  std::vector<Held> held;
  std::vector<uint32_t> blob;  ///< of each odd row
  std::vector<double> scale;   ///< of each odd row: 1 ÷ its diagonal in the complement
  uint32_t blobs = 0;
  Eigen::SimplicialLDLT<Eigen::SparseMatrix<double>, Eigen::Lower> factor;
};

PressureField::~PressureField() = default;

namespace {

/// Σ g·v over the links of a row.
template <class Rows>
inline double drawn(const Rows& rows, size_t row, const std::vector<double>& v) {
  double t = 0;
  for (uint32_t e = rows.start[row]; e < rows.start[row + 1]; ++e)
    t += static_cast<double>(rows.links[e].conduct_mm3) * v[rows.links[e].to];
  return t;
}

}  // namespace

bool PressureField::prepare(const std::vector<CellRole>& role) {
  const size_t all = net_.cavity.size();
  system_ = std::make_unique<System>();
  System& s = *system_;
  std::vector<uint32_t> number(all, UINT32_MAX), up(blobs_, UINT32_MAX);
  for (uint32_t k = 0; k < all; ++k)
    if (role[k] == CellRole::wet) {
      System::Rows& own = even_[k] ? s.even : s.odd;
      number[k] = static_cast<uint32_t>(own.cells.size());
      own.cells.push_back(k);
    }
  for (System::Rows* rows : {&s.even, &s.odd}) {
    rows->links.reserve(rows->cells.size() * 6);
    for (const uint32_t k : rows->cells) {
      double diagonal = 0;
      for (uint32_t e = net_.start[k]; e < net_.start[k + 1]; ++e) {
        const uint32_t o = net_.to[e];
        if (role[o] == CellRole::dry) continue;
        if (even_[o] == even_[k]) return false;
        const auto g = static_cast<double>(net_.conduct_mm3[e]);
        diagonal += g;
        if (role[o] == CellRole::held)
          s.held.push_back({number[k], o, rows == &s.even, g});
        else
          rows->links.push_back({number[o], net_.conduct_mm3[e]});
      }
      rows->diagonal.push_back(diagonal);
      rows->inverse.push_back(1 / diagonal);
      rows->start.push_back(static_cast<uint32_t>(rows->links.size()));
    }
  }
  const size_t n = s.odd.cells.size();
  s.blob.resize(n);
  s.scale.resize(n);
  for (size_t i = 0; i < n; ++i) {
    uint32_t& u = up[blob_[s.odd.cells[i]]];
    if (u == UINT32_MAX) u = s.blobs++;
    s.blob[i] = u;
    double own = s.odd.diagonal[i];
    for (uint32_t e = s.odd.start[i]; e < s.odd.start[i + 1]; ++e) {
      const auto g = static_cast<double>(s.odd.links[e].conduct_mm3);
      own -= g * g * s.even.inverse[s.odd.links[e].to];
    }
    s.scale[i] = 1 / std::max(own, 1e-12 * s.odd.diagonal[i]);
  }
  if (n == 0) return true;
  // The complement summed over the blobs: of each even row, what it draws from each blob beside it.
  std::vector<Eigen::Triplet<double>> entries;
  entries.reserve(s.even.links.size() + n);
  for (size_t i = 0; i < n; ++i) entries.emplace_back(s.blob[i], s.blob[i], s.odd.diagonal[i]);
  std::vector<std::pair<uint32_t, double>> share;
  for (size_t i = 0; i < s.even.cells.size(); ++i) {
    share.clear();
    for (uint32_t e = s.even.start[i]; e < s.even.start[i + 1]; ++e) {
      const uint32_t b = s.blob[s.even.links[e].to];
      const auto at = std::find_if(share.begin(), share.end(), [&](const auto& x) { return x.first == b; });
      if (at == share.end())
        share.emplace_back(b, static_cast<double>(s.even.links[e].conduct_mm3));
      else
        at->second += static_cast<double>(s.even.links[e].conduct_mm3);
    }
    for (const auto& [a, ga] : share)
      for (const auto& [b, gb] : share)
        if (b <= a) entries.emplace_back(a, b, -ga * gb * s.even.inverse[i]);
  }
  Eigen::SparseMatrix<double> coarse(s.blobs, s.blobs);
  coarse.setFromTriplets(entries.begin(), entries.end());
  s.factor.compute(coarse);
  return s.factor.info() == Eigen::Success;
}

bool PressureField::solve(std::vector<double>& value) const {
  const System& s = *system_;
  const size_t n = s.odd.cells.size(), m = s.even.cells.size();
  std::vector<double> f_even(m, 0), f(n, 0), t(m);
  for (const System::Held& h : s.held) (h.even ? f_even : f)[h.row] += h.g * value[h.cell];
  const auto even_of = [&](const std::vector<double>& x) {
    for (size_t a = 0; a < m; ++a) t[a] = (f_even[a] + drawn(s.even, a, x)) * s.even.inverse[a];
  };
  const auto hand_over = [&](const std::vector<double>& x) {
    even_of(x);
    for (size_t a = 0; a < m; ++a) value[s.even.cells[a]] = t[a];
    for (size_t i = 0; i < n; ++i) value[s.odd.cells[i]] = x[i];
    return true;
  };
  std::vector<double> x(n), r(n), p(n, 0), q(n), z(n);
  if (n == 0) return hand_over(x);
  for (size_t i = 0; i < n; ++i) x[i] = value[s.odd.cells[i]];
  // What the held cells drive, and what the first guess leaves of it.
  double drive = 0, left = 0, rz = 0;
  for (size_t a = 0; a < m; ++a) t[a] = f_even[a] * s.even.inverse[a];
  for (size_t i = 0; i < n; ++i) {
    f[i] += drawn(s.odd, i, t);
    drive += f[i] * f[i] * s.scale[i];
  }
  std::fill(f_even.begin(), f_even.end(), 0);  // from here on sums without what is held
  even_of(x);
  for (size_t i = 0; i < n; ++i) {
    r[i] = f[i] - s.odd.diagonal[i] * x[i] + drawn(s.odd, i, t);
    left += r[i] * r[i] * s.scale[i];
  }
  Eigen::VectorXd sum(s.blobs);
  constexpr double enough = 1e-4 * 1e-4;
  for (int round = 0; round < 2000; ++round) {
    if (!std::isfinite(left)) return false;
    if (left <= enough * drive) {
      for (const System::Held& h : s.held)
        if (h.even) f_even[h.row] += h.g * value[h.cell];
      return hand_over(x);
    }
    sum.setZero();
    for (size_t i = 0; i < n; ++i) sum[s.blob[i]] += r[i];
    const Eigen::VectorXd c = s.factor.solve(sum);
    double now = 0;
    for (size_t i = 0; i < n; ++i) {
      z[i] = r[i] * s.scale[i] + c[s.blob[i]];
      now += r[i] * z[i];
    }
    const double beta = round ? now / rz : 0;
    rz = now;
    for (size_t i = 0; i < n; ++i) p[i] = z[i] + beta * p[i];
    even_of(p);
    double pq = 0;
    for (size_t i = 0; i < n; ++i) {
      q[i] = s.odd.diagonal[i] * p[i] - drawn(s.odd, i, t);
      pq += p[i] * q[i];
    }
    if (!(pq > 0)) return false;
    const double a = rz / pq;
    left = 0;
    for (size_t i = 0; i < n; ++i) {
      x[i] += a * p[i];
      r[i] -= a * q[i];
      left += r[i] * r[i] * s.scale[i];
    }
  }
  return false;
}

}  // namespace palinform
