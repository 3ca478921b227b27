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
  ways_.reserve(network.to.size());
  for (uint32_t k = 0; k < c.size(); ++k) {
    for (uint32_t e = network.start[k]; e < network.start[k + 1]; ++e)
      ways_.push_back({network.to[e], network.conduct_mm3[e]});
    std::sort(ways_.begin() + network.start[k], ways_.end(), [](const Way& a, const Way& b) { return a.to < b.to; });
  }
}

/// The rows of the wet cells only, numbered anew, and their blobs' own.
struct PressureField::System {
  struct Held {
    uint32_t row, cell;
    double g;
  };
  std::vector<uint32_t> cells, start, later, blob;  // later: where a row's links to later rows begin
  std::vector<Way> links;                           // to another row
  std::vector<double> diagonal, inverse;
  std::vector<Held> held;
  uint32_t blobs = 0;
  Eigen::SimplicialLDLT<Eigen::SparseMatrix<double>, Eigen::Lower> factor;
};

PressureField::~PressureField() = default;

bool PressureField::prepare(const std::vector<CellRole>& role) {
  const size_t all = net_.cavity.size();
  system_ = std::make_unique<System>();
  System& s = *system_;
  std::vector<uint32_t> number(all, UINT32_MAX), up(blobs_, UINT32_MAX);
  for (uint32_t k = 0; k < all; ++k)
    if (role[k] == CellRole::wet) number[k] = static_cast<uint32_t>(s.cells.size()), s.cells.push_back(k);
  const size_t n = s.cells.size();
  s.start.assign(n + 1, 0);
  s.diagonal.assign(n, 0);
  s.blob.resize(n);
  s.later.resize(n);
  s.links.reserve(n * 6);
  for (size_t i = 0; i < n; ++i) {
    const uint32_t k = s.cells[i];
    uint32_t& u = up[blob_[k]];
    if (u == UINT32_MAX) u = s.blobs++;
    s.blob[i] = u;
    for (uint32_t e = net_.start[k]; e < net_.start[k + 1]; ++e) {
      const auto [o, conduct_mm3] = ways_[e];
      if (role[o] == CellRole::dry) continue;
      const auto c = static_cast<double>(conduct_mm3);
      s.diagonal[i] += c;
      if (role[o] == CellRole::held)
        s.held.push_back({static_cast<uint32_t>(i), o, c});
      else
        s.links.push_back({number[o], conduct_mm3});
    }
    // Rows are numbered in the order of their cells, so a row's links stand in theirs.
    const auto later =
        std::find_if(s.links.begin() + s.start[i], s.links.end(), [&](const auto& l) { return l.to > i; });
    s.later[i] = static_cast<uint32_t>(later - s.links.begin());
    s.start[i + 1] = static_cast<uint32_t>(s.links.size());
  }
  if (n == 0) return true;
  s.inverse.resize(n);
  for (size_t i = 0; i < n; ++i) s.inverse[i] = 1 / s.diagonal[i];
  std::vector<Eigen::Triplet<double>> entries;
  entries.reserve(s.links.size() / 2 + n);
  for (size_t i = 0; i < n; ++i) {
    double own = s.diagonal[i];
    for (uint32_t e = s.start[i]; e < s.start[i + 1]; ++e) {
      const auto [to, g] = s.links[e];
      if (s.blob[to] == s.blob[i])
        own -= static_cast<double>(g);
      else if (s.blob[to] < s.blob[i])
        entries.emplace_back(s.blob[i], s.blob[to], -static_cast<double>(g));
    }
    entries.emplace_back(s.blob[i], s.blob[i], own);
  }
  Eigen::SparseMatrix<double> coarse(s.blobs, s.blobs);
  coarse.setFromTriplets(entries.begin(), entries.end());
  s.factor.compute(coarse);
  return s.factor.info() == Eigen::Success;
}

bool PressureField::solve(std::vector<double>& value) const {
  const System& s = *system_;
  const size_t n = s.cells.size();
  if (n == 0) return true;
  const std::vector<uint32_t>&start = s.start, &later = s.later, &blob = s.blob;
  const std::vector<double>&diagonal = s.diagonal, &inverse = s.inverse;
  /// Σ g·v over the links [from, to) of a row.
  const auto drawn = [&](const std::vector<double>& v, uint32_t from, uint32_t to) {
    double t = 0;
    for (uint32_t e = from; e < to; ++e) t += static_cast<double>(s.links[e].conduct_mm3) * v[s.links[e].to];
    return t;
  };
  std::vector<double> x(n), fixed(n, 0);
  for (size_t i = 0; i < n; ++i) x[i] = value[s.cells[i]];
  for (const System::Held& h : s.held) fixed[h.row] += h.g * value[h.cell];
  Eigen::VectorXd sum(s.blobs);
  // Forward sweep, the upper level, backward sweep: symmetric. Gives r·z.
  const auto precondition = [&](const std::vector<double>& r, std::vector<double>& z) {
    for (size_t i = 0; i < n; ++i) z[i] = (r[i] + drawn(z, start[i], later[i])) * inverse[i];
    sum.setZero();
    // What the forward sweep leaves: only the later neighbours' share is still open.
    for (size_t i = 0; i < n; ++i) sum[blob[i]] += drawn(z, later[i], start[i + 1]);
    const Eigen::VectorXd c = s.factor.solve(sum);
    for (size_t i = 0; i < n; ++i) z[i] += c[blob[i]];
    double rz = 0;
    for (size_t i = n; i-- > 0;) {
      z[i] = (r[i] + drawn(z, start[i], start[i + 1])) * inverse[i];
      rz += r[i] * z[i];
    }
    return rz;
  };
  std::vector<double> r(n), z(n, 0), p(n), q(n);
  for (size_t i = 0; i < n; ++i) r[i] = diagonal[i] * x[i] - drawn(x, start[i], start[i + 1]);
  double drive = 0, left = 0, rz = 0;
  for (size_t i = 0; i < n; ++i) {
    r[i] = fixed[i] - r[i];
    drive += fixed[i] * fixed[i] * inverse[i];
    left += r[i] * r[i] * inverse[i];
  }
  constexpr double enough = 1e-4 * 1e-4;
  for (int round = 0; round < 2000; ++round) {
    if (!std::isfinite(left)) return false;
    if (left <= enough * drive) {
      for (size_t i = 0; i < n; ++i) value[s.cells[i]] = x[i];
      return true;
    }
    const double now = precondition(r, z), beta = round ? now / rz : 0;
    rz = now;
    for (size_t i = 0; i < n; ++i) p[i] = z[i] + beta * p[i];
    double pq = 0;
    for (size_t i = 0; i < n; ++i) {
      q[i] = diagonal[i] * p[i] - drawn(p, start[i], start[i + 1]);
      pq += p[i] * q[i];
    }
    if (!(pq > 0)) return false;
    const double a = rz / pq;
    left = 0;
    for (size_t i = 0; i < n; ++i) {
      x[i] += a * p[i];
      r[i] -= a * q[i];
      left += r[i] * r[i] * inverse[i];
    }
  }
  return false;
}

}  // namespace palinform
