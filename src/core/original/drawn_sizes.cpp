#include "original/drawn_sizes.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"

namespace palinform {

std::vector<MeasuredSize> drawn_sizes(const Drawn& d, double u) {
  std::vector<MeasuredSize> out;
  const auto add = [&](const MeasureLine& l, const std::string& body) {
    if (l.key == "corner" || l.key == "edge" || l.body.empty() || !(length(l.to_mm - l.from_mm) > 0)) return;
    MeasuredSize s;
    s.id = l.body + "." + l.key;
    s.name = body + ": " + lower_ascii(l.words);
    s.kind = l.hollow ? (length(l.axis) > 0 ? SizeKind::bore : SizeKind::slot)
             : l.key == "thickness" || l.key == "wall" || l.key == "floor" || l.key == "section" ? SizeKind::thickness
                                                                                                 : SizeKind::outer;
    s.nominal_mm = l.mm;
    s.from_mm = l.from_mm, s.to_mm = l.to_mm;
    s.instrument_u_mm = u;
    if (length(l.axis) > 0) {
      const Vec3 a = unit(l.axis);
      s.scale_share = {(1 - a.x * a.x) / 2, (1 - a.y * a.y) / 2, (1 - a.z * a.z) / 2};
    } else {
      s.scale_share = scale_share_of(s);
    }
    guess_limits(s);
    out.push_back(std::move(s));
  };
  for (const MeasureLine& l : traced_lines(d)) add(l, "Traced");
  for (const DrawnBody& b : d.bodies)
    for (const MeasureLine& l : measure_lines(b)) {
      // How deep a cutter reaches says nothing of the part: it may stand out of it.
      if (b.cut && (l.key == "thickness" || l.key == "height" || (l.key == "length" && b.shape != BodyShape::slot)))
        continue;
      add(l, b.cut && b.shape == BodyShape::disc ? (b.name.empty() ? std::string("Bore") : b.name) : name_of(b));
    }
  // Two bodies of one name: the second's sizes say so.
  for (size_t i = 0; i < out.size(); ++i) {
    int same = 1;
    for (size_t k = 0; k < i; ++k) same += out[k].name == out[i].name || out[k].name.starts_with(out[i].name + " ");
    if (same > 1) out[i].name += " " + std::to_string(same);
  }
  return out;
}

std::vector<MeasuredSize> followed(std::vector<MeasuredSize> sizes, const Drawn& before, const Drawn& after) {
  const auto find = [](auto& list, const std::string& id) {
    return std::find_if(list.begin(), list.end(), [&](const MeasuredSize& s) { return s.id == id; });
  };
  double u = 0;
  (void)all_bodies(after, &u);
  const auto was = drawn_sizes(before, u), now = drawn_sizes(after, u);
  std::erase_if(sizes,
                [&](const MeasuredSize& s) { return find(was, s.id) != was.end() && find(now, s.id) == now.end(); });
  for (const MeasuredSize& n : now) {
    const auto at = find(sizes, n.id);
    if (at == sizes.end()) {
      if (find(was, n.id) == was.end()) sizes.push_back(n);
      continue;
    }
    const double by = n.nominal_mm - at->nominal_mm;
    if (at->limits_guessed) {
      at->nominal_mm = n.nominal_mm;
      guess_limits(*at);
    } else {
      at->nominal_mm += by, at->lower_mm += by, at->upper_mm += by;
    }
    at->from_mm = n.from_mm, at->to_mm = n.to_mm, at->scale_share = n.scale_share;
  }
  return sizes;
}

}  // namespace palinform
