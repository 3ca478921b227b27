#include "mix/left_over.hpp"

#include <algorithm>
#include <cmath>

#include "base/check_fields.hpp"

namespace palinform {

Status check_standing(const StandingMould& m) {
  if (auto ok = check_fields(m); !ok) return ok;
  if (trim(m.name).empty()) return Error{"a mould needs a name", "standing mould", ""};
  if (!(m.volume_ml > 0)) return Error{"a mould that holds nothing takes nothing", m.name, "Fill it with water once."};
  return {};
}

Result<LeftOver> fill_with_left_over(const std::vector<StandingMould>& moulds, std::string_view kind, double left_g,
                                     double density) {
  if (!(left_g >= 0 && left_g <= 10'000) || !(density > 0))
    return Error{"what is left lies between nothing and 10 kg", "left-over", ""};
  if (moulds.size() > 200) return Error{"200 standing moulds are looked at, at most", "left-over", ""};
  const auto cells = static_cast<size_t>(std::floor(left_g + 1e-9));
  struct Best {
    double worth = 0;
    size_t used = 0;
    bool better(const Best& o) const { return worth != o.worth ? worth > o.worth : used > o.used; }
  };
  std::vector<Best> best(cells + 1);
  std::vector<std::vector<bool>> taken(moulds.size(), std::vector<bool>(cells + 1, false));
  const auto grams = [&](const StandingMould& m) {
    return static_cast<size_t>(std::ceil(m.volume_ml * density - 1e-9));
  };
  for (size_t i = 0; i < moulds.size(); ++i) {
    const StandingMould& m = moulds[i];
    if (!m.kinds.empty() && std::find(m.kinds.begin(), m.kinds.end(), kind) == m.kinds.end()) continue;
    const size_t g = grams(m);
    for (size_t c = cells + 1; c-- > g;) {
      const Best with{best[c - g].worth + m.worth, best[c - g].used + g};
      if (with.better(best[c])) best[c] = with, taken[i][c] = true;
    }
  }
  LeftOver out;
  size_t c = cells;
  for (size_t i = moulds.size(); i-- > 0;)
    if (taken[i][c]) {
      out.moulds.push_back(i);
      out.used_g += moulds[i].volume_ml * density;
      out.worth += moulds[i].worth;
      c -= grams(moulds[i]);
    }
  std::reverse(out.moulds.begin(), out.moulds.end());
  out.wasted_g = left_g - out.used_g;
  return out;
}

}  // namespace palinform
