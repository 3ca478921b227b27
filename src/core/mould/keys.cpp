#include "mould/keys.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "base/text.hpp"
#include "solid/plan_distance.hpp"

namespace palinform {
namespace {

constexpr double radians = std::numbers::pi / 180;

double surface_at(const Mould& m, double u, double v) {
  const int i = std::clamp(static_cast<int>((u - m.u0_mm) / m.pitch_mm), 0, m.nu - 1),
            j = std::clamp(static_cast<int>((v - m.v0_mm) / m.pitch_mm), 0, m.nv - 1);
  return m.parting_mm[m.column(i, j)];
}
double clearance_at(const Mould& m, const std::vector<float>& land, double u, double v) {
  const int i = static_cast<int>(std::floor((u - m.u0_mm) / m.pitch_mm)),
            j = static_cast<int>(std::floor((v - m.v0_mm) / m.pitch_mm));
  if (i < 0 || j < 0 || i >= m.nu || j >= m.nv) return 0;
  return static_cast<double>(land[m.column(i, j)]);
}

/// Turns about the pull that leave the box as it is, and (mirrored) the one where a half is put on from the wrong side.
bool maps_onto_itself(const std::vector<Key>& keys, const Box3& inner, double slack_mm) {
  const Vec3 c = inner.centre(), size = inner.size();
  std::vector<int> quarter{2};
  if (std::abs(size.x - size.y) < 2) quarter = {1, 2, 3};
  for (const int q : quarter) {
    const double s = q == 1 ? 1 : q == 3 ? -1 : 0, k = q == 2 ? -1 : 0;
    const bool all = std::all_of(keys.begin(), keys.end(), [&](const Key& a) {
      const double x = a.at_mm.x - c.x, y = a.at_mm.y - c.y, tx = k * x - s * y, ty = s * x + k * y;
      return std::any_of(keys.begin(), keys.end(), [&](const Key& b) {
        return std::hypot(b.at_mm.x - c.x - tx, b.at_mm.y - c.y - ty) < slack_mm &&
               std::abs(a.radius_mm - b.radius_mm) < 0.15 * a.radius_mm &&
               std::abs(a.half_length_mm - b.half_length_mm) <= 0.15 * std::max(a.half_length_mm, a.radius_mm);
      });
    });
    if (all) return true;
  }
  return false;
}

/// Bars along the middle of the land: along each long side as many as it takes, along each short side one between
/// them; one of the long ones is shortened, so that the turned half does not close.
struct Bars {
  std::vector<Key> keys;
  int sides = 0;  ///< that have one
};
Bars bars_all_round(const Mould& m, const std::vector<float>& land, double r, const KeyRules& rules) {
  const bool along_u = m.inner_mm.size().x >= m.inner_mm.size().y;
  const double need = r + rules.clearance_mm, longest = 16 * r;
  const auto clear = [&](bool along_first, int line, int k) {
    return static_cast<double>(land[along_first ? m.column(k, line) : m.column(line, k)]);
  };
  // The longest stretch of one line across the land that bears a bar, of the half of the lines given.
  struct Stretch {
    int line = 0, from = 0, to = -1;
    double widest = 0;  ///< clearance summed over it: of stretches as long the one in the middle of the land
    int cells() const { return to - from + 1; }
  };
  const auto stretch = [&](bool along_first, bool far, int skip) {
    const int lines = along_first ? m.nv : m.nu, cells = along_first ? m.nu : m.nv;
    Stretch best;
    for (int n = 0; n < lines / 2; ++n) {
      const int line = far ? lines - 1 - n : n;
      for (int k = skip; k < cells - skip; ++k) {
        Stretch s{line, k, k - 1, 0};
        while (s.to + 1 < cells - skip && clear(along_first, line, s.to + 1) >= need)
          ++s.to, s.widest += clear(along_first, line, s.to);
        if (s.cells() > best.cells() || (s.cells() == best.cells() && s.widest > best.widest + 1e-6)) best = s;
        k = std::max(k, s.to + 1);
      }
    }
    return best;
  };
  Bars bars;
  std::vector<Key>& out = bars.keys;
  const auto lay = [&](bool along_first, const Stretch& s, int most) {
    const double length_mm = s.cells() * m.pitch_mm;
    if (length_mm < 2 * r) return;
    ++bars.sides;
    const int count = std::clamp(static_cast<int>(std::lround(length_mm / longest)), 1, most);
    const double each = length_mm / count, gap = count > 1 ? 3 * r : 0;
    for (int i = 0; i < count; ++i) {
      const double at = (along_first ? m.u0_mm : m.v0_mm) + s.from * m.pitch_mm + (i + 0.5) * each,
                   across = (along_first ? m.v0_mm : m.u0_mm) + (s.line + 0.5) * m.pitch_mm;
      Key k;
      k.at_mm = along_first ? Vec3{at, across, 0} : Vec3{across, at, 0};
      k.radius_mm = r;
      k.along_deg = along_first ? 0 : 90;
      k.half_length_mm = std::max(0.0, std::min(0.5 * (each - gap), 0.5 * longest) - 0.5 * m.pitch_mm);
      double least = 1e300;
      for (int c = s.from; c <= s.to; ++c) least = std::min(least, clear(along_first, s.line, c));
      k.clearance_mm = least - r;
      out.push_back(k);
    }
  };
  for (const bool far : {false, true}) lay(along_u, stretch(along_u, far, 0), 8);
  const size_t along_long = out.size();
  // Between the long bars, clear of their ends.
  const int skip = static_cast<int>(std::ceil((0.5 * m.wall_mm + 2 * r + rules.clearance_mm) / m.pitch_mm));
  for (const bool far : {false, true}) lay(!along_u, stretch(!along_u, far, skip), 1);
  if (along_long > 0) {
    Key& k = out[along_long - 1];
    const double cut = 0.2 * k.half_length_mm;
    k.half_length_mm -= cut;
    (along_u ? k.at_mm.x : k.at_mm.y) -= cut;
  }
  return bars;
}

}  // namespace

KeyRules key_rules(KeyRules rules, std::optional<double> across_mm, std::optional<double> clear_mm) {
  if (across_mm) rules.radius_mm = 0.5 * *across_mm;
  if (clear_mm) rules.clearance_mm = rules.to_part_mm = rules.to_wall_mm = *clear_mm;
  return rules;
}

std::string_view words_of(KeyKind k) {
  constexpr std::string_view names[] = {"pressed studs", "half-round bars",    "bevelled bed",
                                        "stepped rim",   "hard locating pins", "the cut's own wave"};
  return names[static_cast<size_t>(k)];
}
std::vector<float> part_distance(const Mould& m) {
  const std::vector<double> d = plan_distance2(m.shadow, m.nu, m.nv);
  std::vector<float> out_mm(d.size());
  // Half a cell: the part's edge lies somewhere in its outermost column.
  for (size_t k = 0; k < d.size(); ++k)
    out_mm[k] = static_cast<float>(std::max(0.0, std::sqrt(d[k]) * m.pitch_mm - 0.5 * m.pitch_mm));
  return out_mm;
}

std::vector<float> land_clearance(const Mould& m) {
  std::vector<float> land = part_distance(m);
  for (int j = 0; j < m.nv; ++j)
    for (int i = 0; i < m.nu; ++i) {
      const double u = m.u0_mm + (i + 0.5) * m.pitch_mm, v = m.v0_mm + (j + 0.5) * m.pitch_mm;
      const double wall =
          std::min({u - m.inner_mm.min.x, m.inner_mm.max.x - u, v - m.inner_mm.min.y, m.inner_mm.max.y - v});
      float& l = land[m.column(i, j)];
      l = std::max(0.0f, std::min(l, static_cast<float>(wall)));
      for (const KeptOut& k : m.kept_out) {
        if (!k.dam) continue;
        const double du = std::max({k.box_mm.min.x - u, u - k.box_mm.max.x, 0.0}),
                     dv = std::max({k.box_mm.min.y - v, v - k.box_mm.max.y, 0.0});
        l = std::min(l, static_cast<float>(std::hypot(du, dv)));
      }
    }
  return land;
}

double KeyPlan::bump_mm(double u, double v, const Box3& inner) const {
  if (kind == KeyKind::pins || kind == KeyKind::wave) return 0;
  if (kind == KeyKind::bed || kind == KeyKind::rim) {
    const double wall = std::min({u - inner.min.x, inner.max.x - u, v - inner.min.y, inner.max.y - v});
    // One corner stays low, so that a turned half does not close.
    const double corner = std::max(inner.max.x - u, inner.max.y - v);
    const double slope = kind == KeyKind::bed ? 1.0 : std::tan(draft_deg * radians);
    double h = std::clamp((ring_mm - wall) / slope, 0.0, step_mm);
    return std::min(h, std::clamp((corner - 2 * ring_mm) / slope, 0.0, step_mm));
  }
  double most = 0;
  for (const Key& k : keys) {
    double x = u - k.at_mm.x, y = v - k.at_mm.y;
    if (k.half_length_mm > 0) {
      const double a = std::cos(k.along_deg * radians), b = std::sin(k.along_deg * radians);
      const double along = std::clamp(a * x + b * y, -k.half_length_mm, k.half_length_mm);
      x -= a * along, y -= b * along;
    }
    const double d = std::hypot(x, y);
    if (d >= k.radius_mm) continue;
    // Sides at the draft, rounded off at the top.
    const double side = (k.radius_mm - d) / std::tan(draft_deg * radians);
    const double dome = k.height_mm * std::sqrt(std::max(0.0, 1 - 0.35 * (d / k.radius_mm) * (d / k.radius_mm)));
    most = std::max(most, std::min(side, dome));
  }
  return most;
}

KeyPlan place_keys(const Mould& m, KeyKind kind, const KeyRules& rules, const std::vector<Vec3>& moved) {
  KeyPlan plan;
  plan.kind = kind;
  plan.draft_deg = rules.draft_deg;
  const Vec3 size = m.inner_mm.size(), middle = m.inner_mm.centre();
  if (kind == KeyKind::bed || kind == KeyKind::rim || kind == KeyKind::wave) {
    plan.step_mm = rules.step_mm;
    plan.ring_mm = std::max(2.0, 0.4 * m.wall_mm);
    plan.assembly_unique = true;  // one corner is left low; a cut wave fits only where it was cut
    plan.stiffness_u = plan.stiffness_v = 2;
    plan.stiffness_turn_mm = 0.5 * std::hypot(size.x, size.y);
    return plan;
  }
  const std::vector<float> land = land_clearance(m);
  const double radius = rules.radius_mm > 0 ? rules.radius_mm
                                            : std::min(std::max(rules.radius_share * m.wall_mm, rules.radius_min_mm),
                                                       rules.radius_max_mm);
  const auto make = [&](double u, double v) {
    Key k;
    k.radius_mm = radius;
    k.height_mm = rules.height_share * radius;
    k.at_mm = {u, v, surface_at(m, u, v)};
    if (kind == KeyKind::pins) k.radius_mm = std::max(1.5, 0.5 * radius), k.height_mm = 2 * radius;
    k.clearance_mm = clearance_at(m, land, u, v) - k.radius_mm;
    return k;
  };
  if (!moved.empty()) {
    for (const Vec3& p : moved) plan.keys.push_back(make(p.x, p.y));
  } else if (kind == KeyKind::bars) {
    // Thinner where the land does not bear them on every side.
    double r = radius;
    int sides = 0;
    for (int shrink = 0; shrink < 5 && sides < 4; ++shrink, r *= 0.85) {
      Bars bars = bars_all_round(m, land, r, rules);
      if (bars.sides > sides) sides = bars.sides, plan.keys = std::move(bars.keys);
    }
    for (Key& k : plan.keys) {
      k.height_mm = rules.height_share * k.radius_mm;
      k.at_mm.z = surface_at(m, k.at_mm.x, k.at_mm.y);
    }
  } else {
    // In each quarter of the plan the place farthest from the middle that is wide enough; where no place is, the key
    // shrinks to what the widest land bears.
    const std::vector<float> off_part = part_distance(m);
    double r = radius;
    const auto place = [&](double share) {
      plan.keys.clear();
      for (int quarter = 0; quarter < 4; ++quarter) {
        double best = -1, bu = 0, bv = 0;
        for (int j = 0; j < m.nv; ++j)
          for (int i = 0; i < m.nu; ++i) {
            const size_t at = m.column(i, j);
            if (static_cast<double>(land[at]) < r + std::max(rules.clearance_mm, share * rules.to_wall_mm) ||
                static_cast<double>(off_part[at]) < r + std::max(rules.clearance_mm, share * rules.to_part_mm))
              continue;
            const double u = m.u0_mm + (i + 0.5) * m.pitch_mm, v = m.v0_mm + (j + 0.5) * m.pitch_mm;
            if ((u > middle.x) != (quarter == 1 || quarter == 2) || (v > middle.y) != (quarter >= 2)) continue;
            const double far = std::hypot(u - middle.x, v - middle.y);
            if (far > best + 1e-9) best = far, bu = u, bv = v;
          }
        if (best > 0) {
          Key k = make(bu, bv);
          k.clearance_mm += k.radius_mm - r;
          k.radius_mm = kind == KeyKind::pins ? k.radius_mm : r;
          k.height_mm = kind == KeyKind::pins ? k.height_mm : rules.height_share * r;
          plan.keys.push_back(k);
        }
      }
    };
    double share = 0;  // of the clearances wanted, that could be had
    for (const double wanted : {1.0, 0.75, 0.5})
      if (plan.keys.size() < 4) place(share = wanted);
    if (plan.keys.size() < 4) share = 0, plan.keys.clear();
    for (int shrink = 0; shrink < 4 && plan.keys.size() < 3; ++shrink) {
      if (shrink > 0) r *= 0.8;
      place(0);
    }
    // One key off the pattern: along its wall, as far as a third of that side, still on wide land.
    if (maps_onto_itself(plan.keys, m.inner_mm, 1.2 * r) && !plan.keys.empty()) {
      const Key k = plan.keys.back();
      const bool along_u = size.x >= size.y;
      const double way = (along_u ? (k.at_mm.x > middle.x ? -1 : 1) : (k.at_mm.y > middle.y ? -1 : 1));
      const double far = 0.4 * (along_u ? size.x : size.y);
      // As far off part and wall as the others if there is room so, else as near as is allowed.
      for (const bool near : {false, true})
        for (double step = 2 * k.radius_mm; step < far && maps_onto_itself(plan.keys, m.inner_mm, 1.2 * r);
             step += m.pitch_mm) {
          const double wanted = near ? 0 : share;
          Key to = make(k.at_mm.x + (along_u ? way * step : 0), k.at_mm.y + (along_u ? 0 : way * step));
          to.radius_mm = k.radius_mm, to.height_mm = k.height_mm;
          to.clearance_mm = clearance_at(m, land, to.at_mm.x, to.at_mm.y) - to.radius_mm;
          if (to.clearance_mm < std::max(rules.clearance_mm, wanted * rules.to_wall_mm) ||
              clearance_at(m, off_part, to.at_mm.x, to.at_mm.y) - to.radius_mm < wanted * rules.to_part_mm)
            continue;
          std::vector<Key> tried = plan.keys;
          tried.back() = to;
          if (!maps_onto_itself(tried, m.inner_mm, 1.2 * to.radius_mm)) {
            plan.keys = std::move(tried);
            break;
          }
        }
      // No room along the wall: a smaller key does it too, since its neighbour's stud does not go into its socket.
      if (maps_onto_itself(plan.keys, m.inner_mm, 1.2 * r)) {
        Key& small = plan.keys.back();
        small.clearance_mm += 0.3 * small.radius_mm;
        small.radius_mm *= 0.7;
        small.height_mm *= 0.7;
      }
    }
  }
  if (kind == KeyKind::bars && !moved.empty())
    for (Key& k : plan.keys) {
      // Along the nearer wall, as long as the land bears.
      const double du = std::min(k.at_mm.x - m.inner_mm.min.x, m.inner_mm.max.x - k.at_mm.x),
                   dv = std::min(k.at_mm.y - m.inner_mm.min.y, m.inner_mm.max.y - k.at_mm.y);
      k.along_deg = dv < du ? 0 : 90;
      const double ax = dv < du ? 1 : 0, ay = 1 - ax;
      double half = 0;
      while (half < 4 * k.radius_mm) {
        const double next = half + m.pitch_mm;
        const double c0 = clearance_at(m, land, k.at_mm.x + ax * next, k.at_mm.y + ay * next),
                     c1 = clearance_at(m, land, k.at_mm.x - ax * next, k.at_mm.y - ay * next);
        if (std::min(c0, c1) < k.radius_mm + rules.clearance_mm) break;
        half = next;
      }
      k.half_length_mm = half;
    }
  if (plan.keys.empty()) return plan;
  Vec3 mean;
  for (const Key& k : plan.keys) mean += k.at_mm / static_cast<double>(plan.keys.size());
  double turn = 0;
  for (const Key& k : plan.keys) {
    const double a = k.half_length_mm > 0 ? k.along_deg * radians : -1;
    plan.stiffness_u += a < 0 ? 1 : 0.3 + 0.7 * std::abs(std::sin(a));
    plan.stiffness_v += a < 0 ? 1 : 0.3 + 0.7 * std::abs(std::cos(a));
    turn += (k.at_mm.x - mean.x) * (k.at_mm.x - mean.x) + (k.at_mm.y - mean.y) * (k.at_mm.y - mean.y);
  }
  plan.stiffness_turn_mm = std::sqrt(turn / static_cast<double>(plan.keys.size()));
  plan.assembly_unique = plan.keys.size() >= 2 && !maps_onto_itself(plan.keys, m.inner_mm, plan.keys[0].radius_mm);
  return plan;
}

}  // namespace palinform
