#include "flow/pressure_field.hpp"

#include <algorithm>
#include <cmath>
#include <Eigen/SparseCholesky>

namespace palinform {

namespace {
/// Two fields at once: what is read of the network serves both, and memory is what costs.
using Two = double __attribute__((vector_size(16)));
}  // namespace

PressureField::PressureField(const FillNetwork& network) : net_(network), blob_(network.cavity.size(), UINT32_MAX) {
  // Blocks of side³ cells, each piece that hangs together a blob of its own: what a wall parts stays apart.
  constexpr int side = 4;
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
  Eigen::SparseMatrix<double> coarse;
  Eigen::SimplicialLDLT<Eigen::SparseMatrix<double>, Eigen::Lower> factor;
};

PressureField::~PressureField() = default;

void PressureField::number(const std::vector<CellRole>& role) {
  const size_t all = net_.cavity.size();
  system_ = std::make_unique<System>();
  System& s = *system_;
  std::vector<uint32_t> number(all, UINT32_MAX), up(blobs_, UINT32_MAX);
  for (uint32_t k = 0; k < all; ++k)
    if (role[k] == CellRole::wet) number[k] = static_cast<uint32_t>(s.cells.size()), s.cells.push_back(k);
  const size_t n = s.cells.size();
  s.start.assign(n + 1, 0);
  s.blob.resize(n);
  s.later.resize(n);
  s.links.reserve(n * 6);
  std::vector<Eigen::Triplet<double>> entries;
  for (size_t i = 0; i < n; ++i) {
    const uint32_t k = s.cells[i];
    uint32_t& u = up[blob_[k]];
    if (u == UINT32_MAX) u = s.blobs++;
    s.blob[i] = u;
    for (uint32_t e = net_.start[k]; e < net_.start[k + 1]; ++e)
      if (role[ways_[e].to] == CellRole::wet) s.links.push_back({number[ways_[e].to], ways_[e].conduct_mm3});
    // Rows are numbered in the order of their cells, so a row's links stand in theirs.
    const auto later =
        std::find_if(s.links.begin() + s.start[i], s.links.end(), [&](const auto& l) { return l.to > i; });
    s.later[i] = static_cast<uint32_t>(later - s.links.begin());
    s.start[i + 1] = static_cast<uint32_t>(s.links.size());
  }
  entries.reserve(s.links.size() / 2 + s.blobs);
  for (uint32_t b = 0; b < s.blobs; ++b) entries.emplace_back(b, b, 1.0);
  for (size_t i = 0; i < n; ++i)
    for (uint32_t e = s.start[i]; e < s.start[i + 1]; ++e)
      if (const auto [to, g] = s.links[e]; s.blob[to] < s.blob[i])
        entries.emplace_back(s.blob[i], s.blob[to], -static_cast<double>(g));
  s.coarse.resize(s.blobs, s.blobs);
  s.coarse.setFromTriplets(entries.begin(), entries.end());
  if (s.blobs) s.factor.analyzePattern(s.coarse);
}

bool PressureField::prepare(const std::vector<CellRole>& role) {
  // While only held cells come and go, rows and links stay: the front's passes at one stage differ in nothing else.
  const auto same = [&] {
    if (!system_ || wet_.size() != role.size()) return false;
    for (size_t k = 0; k < role.size(); ++k)
      if (wet_[k] != (role[k] == CellRole::wet)) return false;
    return true;
  };
  if (!same()) {
    number(role);
    wet_.resize(role.size());
    for (size_t k = 0; k < role.size(); ++k) wet_[k] = role[k] == CellRole::wet;
  }
  System& s = *system_;
  const size_t n = s.cells.size();
  if (n == 0) return true;
  s.held.clear();
  s.diagonal.assign(n, 0);
  s.inverse.resize(n);
  std::vector<double> own(s.blobs, 0);
  for (size_t i = 0; i < n; ++i) {
    const uint32_t k = s.cells[i];
    double held = 0, within = 0, across = 0;
    for (uint32_t e = net_.start[k]; e < net_.start[k + 1]; ++e) {
      const auto [o, conduct_mm3] = ways_[e];
      if (role[o] != CellRole::held) continue;
      const auto g = static_cast<double>(conduct_mm3);
      s.held.push_back({static_cast<uint32_t>(i), o, g});
      held += g;
    }
    for (uint32_t e = s.start[i]; e < s.start[i + 1]; ++e) {
      const auto [to, g] = s.links[e];
      (s.blob[to] == s.blob[i] ? within : across) += static_cast<double>(g);
    }
    s.diagonal[i] = held + within + across;
    s.inverse[i] = 1 / s.diagonal[i];
    own[s.blob[i]] += held + across;
  }
  for (uint32_t b = 0; b < s.blobs; ++b) s.coarse.coeffRef(b, b) = own[b];
  s.factor.factorize(s.coarse);
  return s.factor.info() == Eigen::Success;
}

bool PressureField::solve(std::vector<double>& value) const {
  std::vector<double> none(value.size(), 0);
  return solve(value, none);
}

bool PressureField::solve(std::vector<double>& first, std::vector<double>& second) const {
  const System& s = *system_;
  const size_t n = s.cells.size();
  if (n == 0) return true;
  const std::vector<uint32_t>&start = s.start, &later = s.later, &blob = s.blob;
  const std::vector<double>&diagonal = s.diagonal, &inverse = s.inverse;
  /// Σ g·v over the links [from, to) of a row.
  const auto drawn = [&](const std::vector<Two>& v, uint32_t from, uint32_t to) {
    Two t{0, 0};
    for (uint32_t e = from; e < to; ++e) t += static_cast<double>(s.links[e].conduct_mm3) * v[s.links[e].to];
    return t;
  };
  std::vector<Two> x(n), fixed(n, Two{0, 0});
  for (size_t i = 0; i < n; ++i) x[i] = Two{first[s.cells[i]], second[s.cells[i]]};
  for (const System::Held& h : s.held) fixed[h.row] += h.g * Two{first[h.cell], second[h.cell]};
  Eigen::Matrix<double, Eigen::Dynamic, 2> sum(s.blobs, 2);
  std::vector<Two> raised(s.blobs);
  // Forward sweep, the upper level, backward sweep: symmetric. Gives r·z.
  const auto precondition = [&](const std::vector<Two>& r, std::vector<Two>& z) {
    for (size_t i = 0; i < n; ++i) z[i] = (r[i] + drawn(z, start[i], later[i])) * inverse[i];
    raised.assign(s.blobs, Two{0, 0});
    // What the forward sweep leaves: only the later neighbours' share is still open.
    for (size_t i = 0; i < n; ++i) raised[blob[i]] += drawn(z, later[i], start[i + 1]);
    for (uint32_t b = 0; b < s.blobs; ++b) sum(b, 0) = raised[b][0], sum(b, 1) = raised[b][1];
    const Eigen::Matrix<double, Eigen::Dynamic, 2> c = s.factor.solve(sum);
    for (uint32_t b = 0; b < s.blobs; ++b) raised[b] = Two{c(b, 0), c(b, 1)};
    for (size_t i = 0; i < n; ++i) z[i] += raised[blob[i]];
    Two rz{0, 0};
    for (size_t i = n; i-- > 0;) {
      z[i] = (r[i] + drawn(z, start[i], start[i + 1])) * inverse[i];
      rz += r[i] * z[i];
    }
    return rz;
  };
  std::vector<Two> r(n), z(n, Two{0, 0}), p(n, Two{0, 0}), q(n);
  Two drive{0, 0}, left{0, 0}, rz{1, 1};
  for (size_t i = 0; i < n; ++i) {
    r[i] = fixed[i] - (diagonal[i] * x[i] - drawn(x, start[i], start[i + 1]));
    drive += fixed[i] * fixed[i] * inverse[i];
    left += r[i] * r[i] * inverse[i];
  }
  constexpr double enough = 1e-4 * 1e-4;
  for (int round = 0; round < 2000; ++round) {
    if (!std::isfinite(left[0]) || !std::isfinite(left[1])) return false;
    const bool done[2] = {left[0] <= enough * drive[0], left[1] <= enough * drive[1]};
    if (done[0] && done[1]) {
      for (size_t i = 0; i < n; ++i) first[s.cells[i]] = x[i][0], second[s.cells[i]] = x[i][1];
      return true;
    }
    const Two now = precondition(r, z);
    Two beta{0, 0}, step{0, 0};
    // One that is done rests while the other goes on.
    for (int k = 0; k < 2; ++k)
      if (round && !done[k]) beta[k] = now[k] / rz[k];
    rz = now;
    Two pq{0, 0};
    for (size_t i = 0; i < n; ++i) p[i] = z[i] + beta * p[i];
    for (size_t i = 0; i < n; ++i) {
      q[i] = diagonal[i] * p[i] - drawn(p, start[i], start[i + 1]);
      pq += p[i] * q[i];
    }
    for (int k = 0; k < 2; ++k) {
      if (done[k]) continue;
      if (!(pq[k] > 0)) return false;
      step[k] = rz[k] / pq[k];
    }
    left = Two{0, 0};
    for (size_t i = 0; i < n; ++i) {
      x[i] += step * p[i];
      r[i] -= step * q[i];
      left += r[i] * r[i] * inverse[i];
    }
  }
  return false;
}

}  // namespace palinform
