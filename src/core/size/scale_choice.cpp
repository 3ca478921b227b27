#include "size/scale_choice.hpp"

#include <algorithm>
#include <cmath>

namespace palinform {
namespace {

bool depends_on_scale(const MeasuredSize& s) {
  return !(s.formed == FormedBy::pin && s.pin_mm) && s.kind != SizeKind::angle;
}

/// As many sizes as can be are held; of those the worst as well as can be.
struct Score {
  int kept = 0;                                   ///< sizes more likely inside their limits than not
  double worst_p = 1, margin = 1e300, error = 0;  ///< of those kept; of all where none is
  bool better(const Score& o) const {
    if (kept != o.kept) return kept > o.kept;
    if (std::abs(worst_p - o.worst_p) > 1e-9) return worst_p > o.worst_p;
    // Where every P is nought the tails still differ: the least standardised distance outside tells which way to go.
    if (worst_p < 1e-9 && std::abs(margin - o.margin) > 1e-9) return margin > o.margin;
    return error < o.error - 1e-12;
  }
};

/// A size as a line in the scale: cast = slope·S + offset, u² = (relative·slope·S)² + fixed².
struct Line {
  double slope = 0, offset = 0, relative_u = 0, fixed_u = 0;
  Vec3 share;
  const ChainInput* input = nullptr;
};

Line line_of(const ChainInput& in) {
  const Prediction p = predict(in.size, in.materials, MasterScale{});
  Line l;
  l.input = &in;
  l.share = scale_share_of(in.size);
  double through = 0, added = 0, relative2 = 0, fixed2 = 0;
  for (const ChainStep& s : p.steps) {
    if (s.kind == ChainStep::Kind::flash) {
      added += s.change_mm;
      fixed2 += s.u_mm * s.u_mm;
    } else if (s.kind == ChainStep::Kind::stock) {
      added += s.change_mm;
    } else if (s.kind != ChainStep::Kind::finish) {
      relative2 += s.u_mm * s.u_mm;
    }
  }
  through = p.cast_mm - added;
  l.slope = through;
  l.offset = added;
  l.relative_u = std::sqrt(relative2) / std::max(std::abs(through), 1e-12);
  l.fixed_u = std::sqrt(fixed2);
  return l;
}

struct At {
  double p = 0, margin = 0, error = 0;
};

At at_scale(const Line& l, double s) {
  const MeasuredSize& size = l.input->size;
  const ChainMaterials& m = l.input->materials;
  const double y = l.slope * s + l.offset, u = std::max(std::hypot(l.relative_u * l.slope * s, l.fixed_u), 1e-12);
  const double middle = 0.5 * (size.lower_mm + size.upper_mm),
               half = std::max(0.5 * (size.upper_mm - size.lower_mm), 1e-9);
  if (size.finish == Finishing::none)
    return {normal_cdf((size.upper_mm - y) / u) - normal_cdf((size.lower_mm - y) / u),
            std::min((size.upper_mm - y) / u, (y - size.lower_mm) / u), std::abs(y - middle) / half};
  // Finished by tool: what counts is that stock is left; more of it than needed is no better.
  const double target = size.finish == Finishing::skim   ? middle + m.finish_allowance_mm
                        : size.finish == Finishing::ream ? middle - m.finish_allowance_mm
                                                         : middle;
  const double z = size.finish == Finishing::skim ? (y - target) / u : (target - y) / u;
  const double tool = m.finish_u_mm > 0 ? 2 * normal_cdf(half / m.finish_u_mm) - 1 : 1;
  return {normal_cdf(z) * tool, z, std::abs(y - target) / half};
}

Score score_of(const std::vector<Line>& lines, const MasterScale& s) {
  Score all, held;
  for (const Line& l : lines) {
    const At a = at_scale(l, s.along(l.share));
    const auto count = [&](Score& to) {
      to.worst_p = std::min(to.worst_p, a.p);
      to.margin = std::min(to.margin, a.margin);
      to.error += a.error / static_cast<double>(lines.size());
    };
    count(all);
    if (a.p >= 0.5) count(held), ++held.kept;
  }
  return held.kept > 0 ? held : all;
}

/// Grid, then ever finer grids around the best: no assumption of one peak.
template <class Set>
Score search(const std::vector<Line>& lines, MasterScale& at, double low, double high, Set&& set) {
  // From 1 outward, so that among equals the scale nearest 1 is kept.
  Score best;
  double where = std::clamp(1.0, low, high), span = high - low;
  MasterScale probe = at;
  set(probe, where);
  best = score_of(lines, probe);
  for (int round = 0; round < 4; ++round) {
    const double from = round == 0 ? low : std::max(low, where - span),
                 to = round == 0 ? high : std::min(high, where + span);
    const int n = round == 0 ? 240 : 40;
    const double pitch = (to - from) / n;
    for (int i = 0; i <= n; ++i) {
      const double s = from + pitch * i;
      set(probe, s);
      const Score q = score_of(lines, probe);
      if (q.better(best)) best = q, where = s;
    }
    span = pitch;
  }
  set(at, where);
  return best;
}

std::vector<Line> live_lines(const std::vector<ChainInput>& sizes) {
  std::vector<Line> lines;
  for (const ChainInput& in : sizes)
    if (depends_on_scale(in.size)) lines.push_back(line_of(in));
  return lines;
}

}  // namespace

MasterScale best_scale(const std::vector<ChainInput>& sizes, ScaleFreedom freedom, double low, double high) {
  const std::vector<Line> lines = live_lines(sizes);
  MasterScale at;
  if (lines.empty()) return at;
  search(lines, at, low, high, [](MasterScale& s, double v) { s = MasterScale::all(v); });
  if (freedom == ScaleFreedom::one) return at;
  // Along one axis at a time from there. Sizes that run along one axis only do not disturb one another; mixed ones
  // need a few rounds. An axis is judged by the sizes that run along it, else an unlucky one elsewhere hides them.
  bool used[3] = {false, false, false};
  for (int round = 0; round < 4; ++round) {
    const MasterScale before = at;
    for (int axis = 0; axis < 3; ++axis) {
      std::vector<Line> along;
      for (const Line& l : lines)
        if (l.share[axis] > 1e-6) along.push_back(l);
      used[axis] = !along.empty();
      if (along.empty()) continue;
      const MasterScale kept = at;
      const Score old = score_of(along, at);
      const Score found = search(along, at, low, high, [axis](MasterScale& s, double v) {
        (axis == 0 ? s.x : axis == 1 ? s.y : s.z) = v;
      });
      if (!found.better(old)) at = kept;
    }
    if (at == before) break;
  }
  double sum = 0;
  int n = 0;
  for (int axis = 0; axis < 3; ++axis)
    if (used[axis]) sum += axis == 0 ? at.x : axis == 1 ? at.y : at.z, ++n;
  if (n > 0 && n < 3)
    for (int axis = 0; axis < 3; ++axis)
      if (!used[axis]) (axis == 0 ? at.x : axis == 1 ? at.y : at.z) = sum / n;
  return at;
}

std::optional<ScaleWindow> scale_window(const ChainInput& input, size_t index) {
  if (!depends_on_scale(input.size)) return std::nullopt;
  const Line l = line_of(input);
  const auto p = [&](double s) { return at_scale(l, s).p; };
  double peak = (0.5 * (input.size.lower_mm + input.size.upper_mm) - l.offset) / l.slope;
  if (input.size.finish == Finishing::ream || input.size.finish == Finishing::shim) peak *= 0.9;
  if (input.size.finish == Finishing::skim) peak *= 1.1;
  if (!(peak > 0) || p(peak) < 0.95) return std::nullopt;
  const auto edge = [&](double far) {
    double in = peak, out = far;
    if (p(out) >= 0.95) return out;
    for (int i = 0; i < 60; ++i) {
      const double mid = 0.5 * (in + out);
      (p(mid) >= 0.95 ? in : out) = mid;
    }
    return in;
  };
  return ScaleWindow{index, edge(0.5 * peak), edge(2 * peak)};
}

ScaleLimits scale_limits(const std::vector<ChainInput>& sizes, ScaleFreedom freedom) {
  ScaleLimits out;
  std::vector<ScaleWindow> windows;
  for (size_t i = 0; i < sizes.size(); ++i) {
    if (!depends_on_scale(sizes[i].size)) continue;
    if (const auto w = scale_window(sizes[i], i))
      windows.push_back(*w);
    else
      out.never.push_back(i);
  }
  const auto together = [&](size_t a, size_t b) {
    if (freedom == ScaleFreedom::one) return true;
    const Vec3 p = scale_share_of(sizes[a].size), q = scale_share_of(sizes[b].size);
    for (int axis = 0; axis < 3; ++axis)
      if (p[axis] > 0.98 && q[axis] > 0.98) return true;
    return false;
  };
  std::vector<bool> told(sizes.size(), false);
  // Widest contradiction first; each size is named once.
  std::vector<ScaleConflict> all;
  for (const ScaleWindow& a : windows)
    for (const ScaleWindow& b : windows)
      if (a.low > b.high && together(a.size, b.size)) all.push_back({a.size, b.size, a.low, b.high});
  std::stable_sort(all.begin(), all.end(),
                   [](const auto& a, const auto& b) { return a.low - a.high > b.low - b.high; });
  for (const ScaleConflict& c : all) {
    if (told[c.wants_more] && told[c.wants_less]) continue;
    told[c.wants_more] = told[c.wants_less] = true;
    out.conflicts.push_back(c);
  }
  return out;
}

}  // namespace palinform
