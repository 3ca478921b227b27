#include "flow/roofs.hpp"

#include <algorithm>

#include "flow/fall.hpp"

namespace palinform {

std::vector<Roof> find_roofs(const Cavity& cavity, const Vec3& up_in, const std::vector<AirHole>& openings,
                             double least_mm3, RoofMemory& memory) {
  const Vec3 up = unit(up_in);
  Descent& d = memory.descent;
  Regions& r = memory.regions;
  descend(cavity, up, d);
  const double cube = cavity.voxel_mm * cavity.voxel_mm * cavity.voxel_mm;
  r.clear(cavity.size());
  std::vector<Roof> out;
  const auto put = [&](uint32_t root, int64_t level, bool under_vent, uint32_t beyond) {
    if (r.all[root].size * cube < least_mm3) return;
    Roof f;
    for (uint32_t c = r.all[root].head; c != Regions::none; c = r.next[c])
      f.volume_mm3 += d.share_above(cavity, c, level) * static_cast<double>(cavity.cell[c].volume_mm3);
    f.apex = r.all[root].apex;
    f.depth_mm = d.top_mm(d.level[f.apex]) - d.top_mm(level);
    f.under_vent = under_vent;
    f.beyond = beyond;
    if (f.volume_mm3 >= least_mm3 && !no_depth(cavity, d, f.apex, level)) out.push_back(f);
  };
  const auto vent = [&](const VentCell& v, uint32_t root) {
    if (r.all[root].vented) return;
    put(root, v.level, true, r.all[root].apex);
    r.all[root].vented = true;
  };
  const auto meet = [&](int64_t level, uint32_t, const uint32_t* roots, int count) {
    // The region that goes on: one with a vent, else the largest.
    const auto before = [&](uint32_t a, uint32_t b) {
      const Regions::Region &x = r.all[a], &y = r.all[b];
      if (x.vented != y.vented) return x.vented;
      return x.size != y.size ? x.size > y.size : x.apex < y.apex;
    };
    uint32_t main = roots[0];
    for (int i = 1; i < count; ++i)
      if (before(roots[i], main)) main = roots[i];
    const uint32_t apex = r.all[main].apex;
    const bool vented = r.all[main].vented;
    for (int i = 0; i < count; ++i)
      if (roots[i] != main && !r.all[roots[i]].vented) put(roots[i], level, vented, apex);
    uint32_t root = roots[0];
    for (int i = 1; i < count; ++i) root = r.join(root, roots[i]);
    r.all[root].apex = apex;
    r.all[root].vented = vented;
    return root;
  };
  fall(cavity, d, r, vent_cells(cavity, d, up, openings), meet, vent, [] { return true; });
  for (uint32_t k = 0; k < r.all.size(); ++k)
    if (r.all[k].parent == k && !r.all[k].vented) put(k, INT32_MIN, false, r.all[k].apex);
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
