#include "size/learn.hpp"

#include <Eigen/Dense>

#include <cmath>

#include "base/text.hpp"

namespace palinform {

Estimate combine(const Estimate& prior, const Estimate& data) {
  // As a share, not by weights: one of them may be known without any doubt.
  const double both = std::hypot(prior.u, data.u);
  if (!(both > 0)) return data;
  const double trust = prior.u / both;
  return {prior.value + (data.value - prior.value) * trust * trust, data.u * trust};
}

Result<Learned> learn(const std::vector<LearnRow>& rows, const Estimate& prior) {
  if (!(prior.u > 0) || !std::isfinite(prior.value))
    return Error{"the figure believed before needs an uncertainty above zero", "prior",
                 "Without one nothing could ever be learnt."};
  Learned out;
  std::vector<size_t> use;
  bool across = false, warm = false, plain = false;
  for (size_t i = 0; i < rows.size(); ++i) {
    const LearnRow& r = rows[i];
    const std::string where = "casting " + std::to_string(r.casting) + ", " + r.name;
    if (!std::isfinite(r.master_mm) || !std::isfinite(r.measured_mm) || r.master_mm <= 0 || r.measured_mm <= 0)
      return Error{"sizes must be above zero", where, "Type it again."};
    if (!std::isfinite(r.u_mm) || r.u_mm <= 0)
      return Error{"a reading needs an uncertainty above zero", where, "0.01 mm for ordinary calipers."};
    if (r.formed == FormedBy::pin) continue;
    across = across || r.formed == FormedBy::across_line;
    plain = plain || r.formed != FormedBy::across_line;
    warm = warm || r.warmth_k != rows[use.empty() ? i : use[0]].warmth_k;
    use.push_back(i);
  }
  out.used = use.size();
  if (use.empty())
    return Error{"none of these sizes tells of shrinkage", "castings",
                 "Measure one that rubber formed; a pin keeps its size."};

  // Columns: shrinkage always; then flash, then heat, each kept only while the rows can tell it from the others.
  struct Column {
    enum Kind { shrink, flash, heat } kind;
  };
  std::vector<Column> columns{{Column::shrink}};
  const auto cell = [&](const LearnRow& r, Column c) {
    return c.kind == Column::shrink  ? -r.master_mm / 100
           : c.kind == Column::flash ? (r.formed == FormedBy::across_line ? 1.0 : 0.0)
                                     : r.master_mm * r.warmth_k;
  };
  const auto design = [&](const std::vector<Column>& cs) {
    Eigen::MatrixXd a(use.size(), cs.size());
    for (size_t i = 0; i < use.size(); ++i)
      for (size_t k = 0; k < cs.size(); ++k)
        a(static_cast<Eigen::Index>(i), static_cast<Eigen::Index>(k)) = cell(rows[use[i]], cs[k]) / rows[use[i]].u_mm;
    return a;
  };
  const auto told_apart = [&](const std::vector<Column>& cs) {
    if (use.size() < cs.size()) return false;
    Eigen::MatrixXd a = design(cs);
    for (Eigen::Index k = 0; k < a.cols(); ++k) a.col(k).normalize();
    const auto s = Eigen::JacobiSVD<Eigen::MatrixXd>(a).singularValues();
    return s[s.size() - 1] > 1e-6 * s[0];
  };
  for (const auto kind : {Column::flash, Column::heat}) {
    if ((kind == Column::flash && !across) || (kind == Column::heat && !warm)) continue;
    auto more = columns;
    more.push_back({kind});
    if (told_apart(more)) columns = std::move(more);
  }
  if (across && !plain && columns.size() == 1)
    return Error{"shrinkage cannot be told from flash", "castings", "Measure a size that does not cross the line too."};

  const Eigen::MatrixXd a = design(columns);
  Eigen::VectorXd b(use.size());
  for (size_t i = 0; i < use.size(); ++i) {
    const LearnRow& r = rows[use[i]];
    b[static_cast<Eigen::Index>(i)] = (r.measured_mm - r.master_mm - r.stock_mm) / r.u_mm;
  }
  const Eigen::MatrixXd covariance = (a.transpose() * a).inverse();
  const Eigen::VectorXd x = covariance * (a.transpose() * b);
  for (size_t k = 0; k < columns.size(); ++k) {
    const auto i = static_cast<Eigen::Index>(k);
    const Estimate e{x[i], std::sqrt(covariance(i, i))};
    if (columns[k].kind == Column::shrink) out.total_shrink_pct = e;
    if (columns[k].kind == Column::flash) {
      out.flash_mm = e;
      out.correlation = covariance(0, i) / std::sqrt(covariance(0, 0) * covariance(i, i));
    }
    if (columns[k].kind == Column::heat) out.heat_per_k = e;
  }
  const Eigen::VectorXd left = b - a * x;
  for (size_t i = 0; i < use.size(); ++i) {
    const double n = left[static_cast<Eigen::Index>(i)];
    out.residuals.push_back({use[i], n * rows[use[i]].u_mm, n});
  }
  const auto freedom = static_cast<double>(use.size()) - static_cast<double>(columns.size());
  out.scatter_ratio = freedom > 0 ? std::sqrt(left.squaredNorm() / freedom) : 0;
  out.posterior_pct = combine(prior, out.total_shrink_pct);
  for (const double v :
       {out.total_shrink_pct.value, out.total_shrink_pct.u, out.posterior_pct.value, out.posterior_pct.u})
    if (!std::isfinite(v))
      return Error{"the castings give no figure: their sizes leave shrinkage undetermined", "castings",
                   "Measure sizes that differ in length, with uncertainties in reason."};
  return out;
}

}  // namespace palinform
