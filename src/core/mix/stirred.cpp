#include "mix/stirred.hpp"

#include <cmath>
#include <set>

#include "base/check_fields.hpp"
#include "mix/additives.hpp"

namespace palinform {
namespace {

/// Times of shrinkage and heat that fillers leave.
struct Times {
  double shrink = 1, heat = 1;
};

Result<Times> stir_into(Mixable& m, const std::vector<Addition>& additions, const MixRules& rules) {
  Times t;
  // Fillers stand in the liquid that thickener and thinner have made, so they come last.
  for (const Addition& a : additions) {
    if (a.kind == Additive::filler) continue;
    const double pct = 100 * a.share;
    m.viscosity_mpa_s *= a.kind == Additive::thinner ? std::exp2(-pct / rules.thinner_halves_pct)
                                                     : std::exp2(pct / rules.thickener_doubles_pct);
    m.density_g_cm3 = 1 / ((1 - a.share) / m.density_g_cm3 + a.share / a.density_g_cm3);
  }
  for (const Addition& a : additions) {
    if (a.kind != Additive::filler) continue;
    const auto f = filled(a.share, a.density_g_cm3, m.density_g_cm3);
    if (!f) return Error{f.error().what, a.name, f.error().remedy};
    m.viscosity_mpa_s *= f->viscosity_times;
    m.density_g_cm3 = f->density_g_cm3;
    t.shrink *= f->shrink_times, t.heat *= f->heat_times;
  }
  return t;
}

}  // namespace

double share_of(const std::vector<Addition>& additions) {
  double all = 0;
  for (const Addition& a : additions) all += a.share;
  return all;
}

Status check_additions(const std::vector<Addition>& additions) {
  std::set<std::string_view> seen;
  for (const Addition& a : additions) {
    if (auto ok = check_fields(a); !ok) return ok;
    if (!(a.share > 0)) return Error{"the share must be above nought", a.name, "Leave it out, or say how much."};
    if (a.most_share > 0 && a.share > a.most_share + 1e-12)
      return Error{
          shortest(100 * a.share, 3) + " % is more than its sheet allows, " + shortest(100 * a.most_share, 3) + " %",
          a.name, "More of it keeps the mix from curing, or weakens it."};
    if (!seen.insert(a.material_id).second) return Error{"it is stirred in twice", a.name, "Give it one share."};
  }
  if (share_of(additions) >= 0.9)
    return Error{"hardly anything of the mix would cure", "filler", "Check the shares of what is stirred in."};
  return {};
}

Result<Mixable> stirred(Mixable m, const std::vector<Addition>& additions, const MixRules& rules) {
  if (const auto t = stir_into(m, additions, rules); !t) return t.error();
  return m;
}
Result<Silicone> stirred(Silicone m, const std::vector<Addition>& additions, const MixRules& rules) {
  if (const auto t = stir_into(m, additions, rules); !t) return t.error();
  return m;
}
Result<Resin> stirred(Resin m, const std::vector<Addition>& additions, const MixRules& rules) {
  const auto t = stir_into(m, additions, rules);
  if (!t) return t.error();
  m.shrink_thin_pct *= t->shrink, m.shrink_thick_pct *= t->shrink, m.shrink_u_pct *= t->shrink;
  m.heat_of_reaction_j_g *= t->heat;
  return m;
}

std::vector<AdditionDose> weigh_additions(const std::vector<Addition>& additions, double liquid_g, double other_share) {
  std::vector<AdditionDose> out;
  const double whole_g = liquid_g / (1 - share_of(additions) - other_share);
  for (const Addition& a : additions) out.push_back({a.material_id, a.name, a.share * whole_g});
  return out;
}

}  // namespace palinform
