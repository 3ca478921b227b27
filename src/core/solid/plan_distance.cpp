#include "solid/plan_distance.hpp"

#include <algorithm>
#include <cstddef>

namespace palinform {
namespace {

/// One row: the lower envelope of a parabola at each place.
void distance_row(const std::vector<double>& f, std::vector<double>& d) {
  const int n = static_cast<int>(f.size());
  std::vector<int> v(static_cast<size_t>(n));
  std::vector<double> z(static_cast<size_t>(n) + 1);
  const auto at = [&](int i) { return f[static_cast<size_t>(i)]; };
  int k = 0;
  v[0] = 0, z[0] = -1e300, z[1] = 1e300;
  for (int q = 1; q < n; ++q) {
    const auto meet = [&](int p) { return ((at(q) + q * q) - (at(p) + p * p)) / (2.0 * (q - p)); };
    double s = meet(v[static_cast<size_t>(k)]);
    while (s <= z[static_cast<size_t>(k)]) s = meet(v[static_cast<size_t>(--k)]);
    v[static_cast<size_t>(++k)] = q, z[static_cast<size_t>(k)] = s, z[static_cast<size_t>(k) + 1] = 1e300;
  }
  k = 0;
  for (int q = 0; q < n; ++q) {
    while (z[static_cast<size_t>(k) + 1] < q) ++k;
    const int p = v[static_cast<size_t>(k)];
    d[static_cast<size_t>(q)] = (q - p) * (q - p) + at(p);
  }
}

}  // namespace

std::vector<double> plan_distance2(const std::vector<uint8_t>& marked, int wide, int high) {
  const auto nu = static_cast<size_t>(wide), nv = static_cast<size_t>(high);
  std::vector<double> d(nu * nv), row(nu), out(nu), col(nv), up(nv);
  if (d.empty()) return d;
  for (size_t k = 0; k < d.size(); ++k) d[k] = marked[k] ? 0 : 1e12;
  for (size_t j = 0; j < nv; ++j) {
    std::copy_n(d.begin() + static_cast<std::ptrdiff_t>(j * nu), nu, row.begin());
    distance_row(row, out);
    std::copy_n(out.begin(), nu, d.begin() + static_cast<std::ptrdiff_t>(j * nu));
  }
  for (size_t i = 0; i < nu; ++i) {
    for (size_t j = 0; j < nv; ++j) col[j] = d[j * nu + i];
    distance_row(col, up);
    for (size_t j = 0; j < nv; ++j) d[j * nu + i] = std::min(up[j], 1e12);
  }
  return d;
}

}  // namespace palinform
