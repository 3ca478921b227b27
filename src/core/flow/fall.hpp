#pragma once
// For the sweeps of this room only: the one walk down the levels. Cells are uncovered from the highest down and put to
// the regions beside them; openings that lie lower than both their cells, and vents, are events of their own. At one
// level: cells first, then openings, then vents, so that a further vent can never leave more air than there was.
#include <queue>
#include <vector>

#include "flow/descent.hpp"
#include "flow/regions.hpp"

namespace palinform {

struct LateOpening {
  int64_t level;
  uint32_t a, b;
  bool operator<(const LateOpening& o) const {
    return level != o.level ? level < o.level : a != o.a ? a > o.a : b > o.b;
  }
};

/// meet(level, cell, roots, count) → root of them all, once joined; vent(vent, root); tick() → false to stop.
template <class Meet, class Vent, class Tick>
bool fall(const Cavity& cavity, const Descent& d, Regions& r, const std::vector<VentCell>& vents, Meet&& meet,
          Vent&& vent, Tick&& tick) {
  constexpr uint32_t outside = Cavity::outside;
  std::priority_queue<LateOpening> late;
  size_t next_vent = 0;
  const auto settle_over = [&](int64_t level) {
    for (;;) {
      const bool opening = !late.empty() && late.top().level > level;
      const bool vented = next_vent < vents.size() && vents[next_vent].level > level;
      if (!opening && !vented) return;
      if (opening && (!vented || late.top().level >= vents[next_vent].level)) {
        const LateOpening o = late.top();
        late.pop();
        uint32_t roots[2] = {r.root(o.a), r.root(o.b)};
        if (roots[0] != roots[1]) meet(o.level, o.a, roots, 2);
      } else {
        vent(vents[next_vent], r.root(vents[next_vent].cell));
        ++next_vent;
      }
    }
  };
  constexpr int most = 64;
  const auto uncover = [&](uint32_t c, int64_t level) {
    if (!tick()) return false;
    settle_over(level);
    uint32_t roots[most];
    int count = 0;
    const auto beside = [&](uint32_t o) {
      const uint32_t root = r.root(o);
      for (int i = 0; i < count; ++i)
        if (roots[i] == root) return;
      if (count < most) roots[count++] = root;
    };
    for (const uint32_t o : cavity.cell[c].beside)
      if (o != outside && r.taken(o)) beside(o);
    if (!cavity.whole(c)) {
      const Cavity::Part& p = cavity.part(c);
      for (uint32_t n = p.first_passage; n < p.first_passage + p.passages; ++n) {
        const Cavity::Passage& way = cavity.passage[n];
        if (!r.taken(way.to)) continue;
        // Rounding may part what is one height by a level.
        const int64_t top = d.opening[n];
        if (top >= level - 1)
          beside(way.to);
        else
          late.push({top, c, way.to});
      }
    }
    if (count == 0)
      r.begin(c);
    else
      r.add(count > 1 ? meet(level, c, roots, count) : roots[0], c);
    return true;
  };
  const auto fetch = [&](uint32_t c, int stage) {
    if (stage == 0) return __builtin_prefetch(&cavity.cell[c]);
    if (stage == 1) {
      for (const uint32_t o : cavity.cell[c].beside)
        if (o != outside) __builtin_prefetch(&r.of[o]);
      if (!cavity.whole(c)) __builtin_prefetch(&cavity.part(c));
      return;
    }
    if (cavity.whole(c)) return;
    __builtin_prefetch(&cavity.passage[cavity.part(c).first_passage]);
    __builtin_prefetch(&d.opening[cavity.part(c).first_passage]);
  };
  if (!d.each(uncover, fetch)) return false;
  settle_over(INT64_MIN);
  return true;
}

/// Too shallow for the levels to tell from none.
inline bool no_depth(const Cavity& cavity, const Descent& d, uint32_t apex, int64_t level) {
  return !cavity.whole(apex) && static_cast<int64_t>(d.level[apex]) - level <= 2;
}

}  // namespace palinform
