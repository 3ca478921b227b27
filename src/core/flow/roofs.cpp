#include "flow/roofs.hpp"

#include <algorithm>

namespace palinform {

std::vector<Roof> find_roofs(const Cavity& cavity, const Vec3& up_in, const std::vector<Opening>& openings,
                             double least_mm3, RoofMemory& memory) {
  const Vec3 up = unit(up_in);
  Descent& d = memory.descent;
  Regions& r = memory.regions;
  descend(cavity, up, d);
  const std::vector<VentCell> vents = vent_cells(cavity, d, up, openings);
  const size_t n = cavity.cells.size();
  const double cell = cavity.voxel_mm * cavity.voxel_mm * cavity.voxel_mm;
  r.clear(n);
  std::vector<Roof> out;
  const auto put = [&](uint32_t root, int64_t level, bool under_vent, uint32_t beyond) {
    if (r.size[root] * cell < least_mm3) return;
    Roof f;
    for (uint32_t c = root; c != Regions::none; c = r.next[c]) f.volume_mm3 += d.share_above(c, level);
    f.volume_mm3 *= cell;
    f.apex = r.apex[root];
    f.depth_mm = d.top_mm(d.level[f.apex]) - d.top_mm(level);
    f.under_vent = under_vent;
    f.beyond = beyond;
    if (f.volume_mm3 >= least_mm3) out.push_back(f);
  };
  size_t next_vent = 0;
  const auto open_vents_over = [&](int64_t level) {
    for (; next_vent < vents.size() && vents[next_vent].level > level; ++next_vent) {
      const uint32_t root = r.root(vents[next_vent].cell);
      if (r.vented[root]) continue;
      put(root, vents[next_vent].level, true, r.apex[root]);
      r.vented[root] = 1;
    }
  };
  for (const uint32_t c : d.order) {
    const int64_t level = d.level[c];
    open_vents_over(level);
    r.begin(c);
    uint32_t roots[6];
    int count = 0, main = -1;
    for (const uint32_t o : cavity.beside[c]) {
      if (o == Cavity::outside || !r.taken(o)) continue;
      const uint32_t root = r.root(o);
      if (std::find(roots, roots + count, root) != roots + count) continue;
      if (main < 0 || r.vented[root] > r.vented[roots[main]] ||
          (r.vented[root] == r.vented[roots[main]] &&
           (r.size[root] > r.size[roots[main]] ||
            (r.size[root] == r.size[roots[main]] && r.apex[root] < r.apex[roots[main]]))))
        main = count;
      roots[count++] = root;
    }
    if (count == 0) continue;
    const uint32_t keeps = roots[main], apex = r.apex[keeps];
    const uint8_t vented = r.vented[keeps];
    for (int i = 0; i < count; ++i)
      if (i != main && !r.vented[roots[i]]) put(roots[i], level, vented != 0, apex);
    uint32_t root = c;
    for (int i = 0; i < count; ++i) root = r.join(root, roots[i]);
    r.apex[root] = apex;
    r.vented[root] = vented;
  }
  open_vents_over(INT64_MIN);
  for (uint32_t c = 0; c < n; ++c)
    if (r.parent[c] == c && !r.vented[c]) put(c, INT32_MIN, false, r.apex[c]);
  std::stable_sort(out.begin(), out.end(), [](const Roof& a, const Roof& b) {
    return a.volume_mm3 != b.volume_mm3 ? a.volume_mm3 > b.volume_mm3 : a.apex < b.apex;
  });
  return out;
}

double left_with_vents_mm3(const std::vector<Roof>& roofs, size_t vents) {
  const size_t k = std::min(vents, roofs.size());
  double left = 0;
  for (size_t j = k; j < roofs.size(); ++j) {
    // Nothing but its own vent frees a cavity that has no other way out.
    bool counts = roofs[j].under_vent || roofs[j].beyond == roofs[j].apex;
    for (size_t i = 0; i < k && !counts; ++i) counts = roofs[i].apex == roofs[j].beyond;
    if (counts) left += roofs[j].volume_mm3;
  }
  return left;
}

}  // namespace palinform
