#include "flow/filling.hpp"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>

#include "base/text.hpp"
#include "flow/pressure_field.hpp"

namespace palinform {
namespace {

constexpr double infinite = std::numeric_limits<double>::infinity();
constexpr double gravity_kpa = 9.81e-3;  // of 1 mm at 1 g/cm³

double sprue_resistance(const FillConditions& c) {
  const double r = 0.5 * c.sprue_mm;
  return 8 * c.sprue_long_mm / (std::numbers::pi * std::pow(r, 4)) / c.gates;
}

/// The march of the front. Heights are taken from the gate's level, so that head and potential are one scale.
class March {
 public:
  March(const FillNetwork& net, const Vec3& up, const FillConditions& c)
      : net_(net),
        c_(net.cavity),
        field_(net),
        conditions_(c),
        n_(c_.size()),
        role_(n_, CellRole::dry),
        filled_(n_, 0),
        open_(n_, 0),
        height_(n_),
        one_(n_, 0),
        lift_(n_, 0),
        head_(n_, 0),
        touched_(n_, 0),
        next_open_(n_, 0) {
    for (uint32_t k = 0; k < n_; ++k) height_[k] = dot(c_.cube_centre(k), up) - c.gate_level_mm;
  }

  Result<FillCourse> run(const std::vector<uint32_t>& mouth, int stages, const Progress& progress) {
    FillCourse out;
    out.reached.assign(n_, static_cast<uint16_t>(stages));
    double total = 0;
    for (const Cavity::Cell& k : c_.cell) total += static_cast<double>(k.volume_mm3);
    for (const uint32_t k : mouth) {
      is_mouth_.push_back(k);
      role_[k] = CellRole::held;
      one_[k] = 1;
      out.reached[k] = 0;
      take(k);
    }
    for (const uint32_t k : mouth) wet_neighbours(k);
    double before = volume_;
    for (int s = 0; s < stages; ++s) {
      if (progress.cancelled()) return Error::stopped();
      std::erase_if(front_, [&](uint32_t k) { return role_[k] != CellRole::dry || !touched_[k]; });
      if (front_.empty()) break;
      FillStage st;
      if (!settle(st))
        return Error{"the pressure in the cavity could not be worked out", "flow",
                     "Check the mesh, or use another voxel."};
      st.volume_mm3 = volume_;
      out.stages.push_back(st);
      advance((total - before) / stages, static_cast<uint16_t>(s + 1), out.reached);
      progress.report(static_cast<double>(s + 1) / stages);
    }
    // What nothing joins to the gate is no cavity of this pour; its volume goes with the last stage.
    FillStage full = out.stages.empty() ? FillStage{} : out.stages.back();
    if (out.stages.size() > 1) {
      const FillStage& last = out.stages[out.stages.size() - 2];
      full.resist = std::max(full.resist, 2 * full.resist - last.resist);
      full.level_mm = std::max(full.level_mm, 2 * full.level_mm - last.level_mm);
    }
    double top = -infinite;
    for (uint32_t k = 0; k < n_; ++k) top = std::max(top, height_[k]);
    full.level_mm = std::min(full.level_mm, top);
    full.volume_mm3 = total;
    out.stages.push_back(full);
    for (FillStage& st : out.stages) st.level_mm += conditions_.gate_level_mm;
    return out;
  }

 private:
  double head_of(double kpa) const { return kpa / (gravity_kpa * conditions_.density_g_cm3); }

  void take(uint32_t k) {
    volume_ += static_cast<double>(c_.cell[k].volume_mm3) * (1 - filled_[k]);
    filled_[k] = 1;
  }
  void wet_neighbours(uint32_t k) {
    for (uint32_t e = net_.start[k]; e < net_.start[k + 1]; ++e) {
      const uint32_t o = net_.to[e];
      if (role_[o] == CellRole::dry && !touched_[o]) touched_[o] = 1, front_.push_back(o), open_[o] = 2;
    }
  }
  /// Potentials, the way through to the front, what flows to each of its cells. A front cell higher than the head that
  /// reaches it takes nothing: it is shut, not drained.
  bool settle(FillStage& st) {
    double lowest = infinite;
    for (const uint32_t k : front_) lowest = std::min(lowest, height_[k]);
    const double head = std::max(conditions_.sprue_top_mm - conditions_.gate_level_mm + head_of(conditions_.extra_kpa),
                                 std::max(lowest, 0.0) + 20);
    const double sprue = sprue_resistance(conditions_);
    // New places at the front are open up to the height where the others are.
    double reach = lowest;
    for (const uint32_t k : front_)
      if (open_[k] == 1) reach = std::max(reach, height_[k]);
    for (const uint32_t k : front_)
      if (open_[k] == 2) open_[k] = height_[k] <= reach + c_.voxel_mm;
    flow_.assign(front_.size(), 0);
    constexpr int most_passes = 8;
    for (int pass = 0; pass < most_passes; ++pass) {
      bool any = false;
      for (const uint32_t k : front_) any |= open_[k] == 1;
      if (!any)
        for (const uint32_t k : front_) open_[k] = height_[k] <= lowest + c_.voxel_mm;
      for (const uint32_t k : front_) {
        role_[k] = open_[k] ? CellRole::held : CellRole::dry;
        one_[k] = 0;
        lift_[k] = height_[k];
      }
      for (const uint32_t k : is_mouth_) lift_[k] = 0;
      if (!field_.prepare(role_) || !field_.solve(one_, lift_)) return false;
      for (const uint32_t k : front_) role_[k] = CellRole::dry;
      // What a head of one at the mouth would drive to each place; with it the front's mean height.
      double sum = 0, lifted = 0;
      for (const uint32_t k : front_) {
        if (!open_[k]) continue;
        const double q = inflow(k, one_, 0);
        sum += q, lifted += q * height_[k];
      }
      if (!(sum > 0)) return false;
      st.resist = 1 / sum;
      st.level_mm = lifted / sum;
      const double flow = (head - std::max(st.level_mm, 0.0)) / (sprue + st.resist);
      const double mouth = std::max(head - flow * sprue, lowest + 1e-6);
      double in = 0, turned = 0, missed = 0;
      size_t at = 0;
      for (const uint32_t k : front_) {
        double q = 0, potential = -infinite;
        for (uint32_t e = net_.start[k]; e < net_.start[k + 1]; ++e) {
          const uint32_t o = net_.to[e];
          if (role_[o] == CellRole::dry) continue;
          const double here = mouth * one_[o] + lift_[o];
          potential = std::max(potential, here);
          q += static_cast<double>(net_.conduct_mm3[e]) * (here - height_[k]);
        }
        if (open_[k])
          (q > 0 ? in : turned) += std::abs(q);
        else if (q > 0)
          missed += q;
        flow_[at++] = open_[k] ? std::max(0.0, q) : 0;
        next_open_[k] = q > 0;  // held at its own height it would take, not give
        head_[k] = potential;
      }
      const bool settled = turned + missed < 0.05 * in;
      if (in > 0 && (settled || pass + 1 == most_passes)) {
        for (const uint32_t k : front_) open_[k] = next_open_[k];
        return true;
      }
      for (const uint32_t k : front_) open_[k] = next_open_[k];
    }
    // No flow but the smallest: everything to the lowest places.
    for (size_t k = 0; k < front_.size(); ++k) flow_[k] = height_[front_[k]] <= lowest + 0.5 * c_.voxel_mm;
    return true;
  }

  double inflow(uint32_t k, const std::vector<double>& value, double own) const {
    double q = 0;
    for (uint32_t e = net_.start[k]; e < net_.start[k + 1]; ++e)
      if (role_[net_.to[e]] != CellRole::dry) q += static_cast<double>(net_.conduct_mm3[e]) * (value[net_.to[e]] - own);
    return q;
  }

  /// Lets `dv` in, shared by the flows; what a cell cannot hold goes on to the dry ones beside it.
  void advance(double dv, uint16_t stage, std::vector<uint16_t>& reached) {
    double sum = 0;
    for (const double q : flow_) sum += q;
    std::vector<std::pair<uint32_t, double>> gift;
    for (size_t k = 0; k < front_.size(); ++k)
      if (flow_[k] > 0) gift.emplace_back(front_[k], dv * flow_[k] / sum);
    std::vector<uint32_t> newly;
    double homeless = 0;
    std::vector<std::pair<uint32_t, double>> next;
    for (int round = 0; round < 200 && !gift.empty(); ++round) {
      next.clear();
      for (const auto& [k, amount] : gift) {
        const auto own = static_cast<double>(c_.cell[k].volume_mm3);
        const double room = own * (1 - filled_[k]), in = std::min(room, amount);
        volume_ += in;
        filled_[k] = amount >= room * (1 - 1e-9) ? 1 : filled_[k] + in / own;
        if (filled_[k] < 1) continue;
        if (role_[k] == CellRole::dry && touched_[k] != 3) {
          touched_[k] = 3;
          newly.push_back(k);
          reached[k] = stage;
          wet_neighbours(k);
        }
        const double over = amount - in;
        if (over <= 1e-12) continue;
        double share = 0;
        const auto takes = [&](uint32_t o) { return filled_[o] < 1 && height_[o] < head_[k]; };
        for (uint32_t e = net_.start[k]; e < net_.start[k + 1]; ++e)
          if (takes(net_.to[e])) share += static_cast<double>(net_.conduct_mm3[e]);
        if (share <= 0) {
          homeless += over;
          continue;
        }
        for (uint32_t e = net_.start[k]; e < net_.start[k + 1]; ++e)
          if (takes(net_.to[e])) {
            const uint32_t o = net_.to[e];
            next.emplace_back(o, over * static_cast<double>(net_.conduct_mm3[e]) / share);
            if (head_[o] < head_[k]) head_[o] = head_[k];
          }
      }
      // One entry a cell, in order.
      std::sort(next.begin(), next.end());
      gift.clear();
      for (const auto& [k, amount] : next)
        if (!gift.empty() && gift.back().first == k)
          gift.back().second += amount;
        else
          gift.emplace_back(k, amount);
      if (gift.empty() && homeless > 1e-9) {
        // No room where it flowed: the lowest places of the front take it.
        double lowest = infinite;
        for (const uint32_t k : front_)
          if (filled_[k] < 1) lowest = std::min(lowest, height_[k]);
        std::vector<uint32_t> room;
        double space = 0;
        for (const uint32_t k : front_)
          if (filled_[k] < 1 && height_[k] < lowest + 0.5 * c_.voxel_mm)
            room.push_back(k), space += static_cast<double>(c_.cell[k].volume_mm3) * (1 - filled_[k]);
        std::sort(room.begin(), room.end());
        for (const uint32_t k : room) {
          const double own = static_cast<double>(c_.cell[k].volume_mm3) * (1 - filled_[k]);
          gift.emplace_back(k, homeless * own / space);
          head_[k] = std::max(head_[k], height_[k] + 1e-9);
        }
        homeless = 0;
      }
    }
    for (const uint32_t k : newly) {
      role_[k] = CellRole::wet;
      touched_[k] = 1;
      // A first guess for its potentials: its neighbours' mean.
      double a = 0, b = 0;
      int m = 0;
      for (uint32_t e = net_.start[k]; e < net_.start[k + 1]; ++e)
        if (role_[net_.to[e]] != CellRole::dry) a += one_[net_.to[e]], b += lift_[net_.to[e]], ++m;
      if (m) one_[k] = a / m, lift_[k] = b / m;
    }
  }

  const FillNetwork& net_;
  const Cavity& c_;
  PressureField field_;
  FillConditions conditions_;
  size_t n_;
  std::vector<CellRole> role_;
  std::vector<double> filled_;
  std::vector<uint8_t> open_;       ///< of front cells: 1 takes resin, 0 lies too high, 2 new
  std::vector<double> height_;      ///< of each cell's cube, over the gate
  std::vector<double> one_, lift_;  ///< potentials: of a head of one at the mouth; of the front's heights alone
  std::vector<double> head_;        ///< of front cells: the potential that stands beside them
  std::vector<uint8_t> touched_, next_open_;
  std::vector<uint32_t> front_, is_mouth_;
  std::vector<double> flow_;
  double volume_ = 0;
};

}  // namespace

Result<FillCourse> fill_course(const FillNetwork& net, const Vec3& up, const std::vector<Vec3>& gates,
                               const FillConditions& conditions, int stages, const Progress& progress) {
  const Cavity& c = net.cavity;
  std::vector<uint32_t> mouth;
  for (const Vec3& g : gates) {
    const uint32_t nearest = c.nearest_cell(g);
    if (nearest == Cavity::outside) continue;
    // Only what hangs together with the gate's own cell within the disc: not the far side of a wall.
    std::vector<uint32_t> stack{nearest};
    const auto in = [&](uint32_t k) { return std::find(mouth.begin(), mouth.end(), k) != mouth.end(); };
    if (!in(nearest)) mouth.push_back(nearest);
    while (!stack.empty()) {
      const uint32_t k = stack.back();
      stack.pop_back();
      c.each_neighbour(k, [&](uint32_t o, float, int) {
        if (length(c.centre(o) - g) <= 0.5 * conditions.sprue_mm && !in(o)) mouth.push_back(o), stack.push_back(o);
      });
    }
  }
  if (mouth.empty()) return Error{"the gate does not meet the cavity", "flow", "Put it on the part."};
  std::sort(mouth.begin(), mouth.end());
  auto course = March(net, unit(up), conditions).run(mouth, stages, progress);
  return course;
}

FillTime fill_time(const std::vector<FillStage>& stages, const FillConditions& c) {
  FillTime out;
  out.at_min.assign(stages.size(), infinite);
  if (stages.empty()) return out;
  const double sprue = sprue_resistance(c);
  const double mu0 = c.viscosity_mpa_s * 1e-6;  // kPa·s
  const double tau = c.doubling_min * 60, limit = tau / (mu0 * std::numbers::ln2);
  double before = 0, sum = 0, last_resist = stages.front().resist;
  out.full_min = 0;
  for (size_t k = 0; k < stages.size(); ++k) {
    const FillStage& s = stages[k];
    const double dv = s.volume_mm3 - before;
    const double resist = sprue + 0.5 * (s.resist + last_resist);
    const double low = k ? stages[k - 1].level_mm : s.level_mm;
    // Under the gate resin falls freely; it never sucks at the sprue.
    const double head_mm = c.sprue_top_mm - std::max(c.gate_level_mm, 0.5 * (s.level_mm + low));
    const double kpa = c.density_g_cm3 * gravity_kpa * head_mm + c.extra_kpa;
    const double step = kpa > 0 ? dv * resist / kpa : infinite;
    if (dv > 0 && !(sum + step < limit)) {
      out.full_min.reset();
      const double into = std::isfinite(step) ? std::clamp((limit - sum) / step, 0.0, 1.0) : 0;
      out.filled_share = (before + dv * into) / stages.back().volume_mm3;
      break;
    }
    if (dv > 0) sum += step;
    out.at_min[k] = -tau * std::log2(1 - sum / limit) / 60;
    before = s.volume_mm3;
    last_resist = s.resist;
  }
  if (out.full_min) out.full_min = out.at_min.back();
  out.sprue_share = sprue / std::max(sprue + stages.back().resist, 1e-300);
  return out;
}

std::vector<FillLever> fill_levers(const std::vector<FillStage>& stages, const std::vector<FillStage>& two_gates,
                                   const FillConditions& c) {
  std::vector<FillLever> out;
  const auto with = [&](std::string what, FillConditions changed, const std::vector<FillStage>& s) {
    out.push_back({std::move(what), fill_time(s, changed).full_min});
  };
  FillConditions x = c;
  x.sprue_mm = std::ceil(c.sprue_mm * 1.3);
  with("a sprue of Ø" + fixed(x.sprue_mm, 0) + " mm", x, stages);
  x = c;
  x.sprue_top_mm += 50, x.sprue_long_mm += 50;
  with("50 mm more head", x, stages);
  x = c;
  x.viscosity_mpa_s = viscosity_at(c.viscosity_mpa_s, 5, 0), x.doubling_min = c.doubling_min / std::sqrt(2.0);
  with("5 °C warmer", x, stages);
  x = c;
  x.doubling_min *= 2;
  with("a resin twice as slow", x, stages);
  if (!two_gates.empty()) {
    x = c;
    x.gates = 2;
    with("a second gate", x, two_gates);
  }
  std::stable_sort(out.begin(), out.end(), [](const FillLever& a, const FillLever& b) {
    return a.full_min.value_or(infinite) < b.full_min.value_or(infinite);
  });
  return out;
}

double viscosity_at(double mpa_s, double room_c, double reference_c) {
  return mpa_s * std::pow(0.96, room_c - reference_c);
}

}  // namespace palinform
