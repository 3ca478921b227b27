// palin mix: how a dose is weighed or counted, and when it is not safe to.
#include "mix_dose.hpp"

#include <cmath>

#include "base/text.hpp"
#include "mix/dose.hpp"
#include "mix/proportion.hpp"

namespace palinform::cli {

Result<double> weight_ratio(const MixOptions& o) {
  const size_t colon = o.ratio.find(':');
  const auto a = colon == std::string::npos ? std::optional(100.0) : parse_number(o.ratio.substr(0, colon));
  const auto b = parse_number(colon == std::string::npos ? o.ratio : o.ratio.substr(colon + 1));
  if ((colon == std::string::npos && o.by != "percent" && o.by != "drops") || !a || !b || *a <= 0 || *b <= 0)
    return Error{"\"" + o.ratio + "\" is no ratio", "--ratio", "Write two numbers above zero, as in 100:10."};
  const double r = *b / *a;
  if (o.by != "volume") return r;
  if (o.density_a <= 0 || o.density_b <= 0)
    return Error{"a ratio by volume needs both densities", "--by volume", "Give --density-a and --density-b."};
  return weight_ratio_from_volume(r, o.density_a, o.density_b);
}

Weighed weighed_in_drops(double parts_g, double r, const MixOptions& o) {
  const DropMass drop = stated_drop(o.drop_g);
  Weighed w;
  // The base in whole divisions, as little more as the drops need to make up the rest.
  for (double a = std::ceil(parts_g / (1 + r) / o.scale - 1e-9) * o.scale;; a += o.scale) {
    const Dose dose = dose_in_drops(a * r, drop);
    if (a + dose.g < parts_g - 1e-9) continue;
    w.a_g = a, w.b_g = dose.g, w.drops = dose.count;
    w.ratio_error_pct = 100 * (dose.g / (a * r) - 1);
    w.ratio_u_pct = std::hypot(dose.u_pct, 100 * o.scale / std::sqrt(12.0) / a);
    w.possible = dose.count > 0;
    return w;
  }
}

Weighed weighed_whole(double parts_g, double r, const MixOptions& o) {
  if (o.by == "drops") return weighed_in_drops(parts_g, r, o);
  Weighed w;
  if (const auto one = weigh({parts_g, r, o.scale, 0, o.tare}); one) {
    w.a_g = one->a_g, w.b_g = one->b_g;
    w.ratio_error_pct = one->ratio_error_pct, w.ratio_u_pct = one->ratio_u_pct;
    return w;
  }
  // Less than one division of a part: no reading at all.
  w.a_g = parts_g / (1 + r), w.b_g = w.a_g * r;
  w.possible = false;
  w.ratio_error_pct = -100, w.ratio_u_pct = 100;
  return w;
}

Json unsafe_finding(const MixOptions& o, double base_g, double r, double density_b) {
  const DoseHelp h = help_for_dose(base_g, r, o.scale, o.tolerance, density_b,
                                   o.drop_g > 0 ? std::optional(stated_drop(o.drop_g)) : std::nullopt);
  Json remedies = Json::array();
  const auto offer = [&](const char* code, const std::string& what) {
    remedies.push_back({{"code", code}, {"what", what}});
  };
  if (h.division_g) offer("finer-scale", "a scale of " + shortest(*h.division_g, 3) + " g divisions");
  if (o.peroxide) {
    // Its grams would tell the dose.
    offer("bigger-batch", "one larger batch instead of several small ones, or a larger one than is needed");
  } else {
    offer("bigger-batch", "a batch of " + significant(h.batch_g, 3) + " g: " + significant(h.batch_waste_g, 3) +
                              " g more than is needed");
    if (h.drops)
      offer("drops", counted(h.drops->count, "drop", "drops"));
    else if (o.drop_g <= 0)
      offer("weigh-drops", "count it in drops: weigh twenty of them first");
    if (h.syringe_ml) offer("syringe", "a syringe of " + shortest(*h.syringe_ml, 3) + " ml divisions");
    offer("stock-solution", "a stock solution, where the sheet allows it");
  }
  std::string why = "The dose cannot be measured within the " + shortest(o.tolerance, 3) + " % its material allows.";
  if (o.peroxide) why += " No figure is given for a peroxide measured so: too much burns, too little never cures.";
  return {{"code", "dose-unsafe"},
          {"severity", "stop"},
          {"what", "This dose is not safe to measure so"},
          {"why", why},
          {"remedies", std::move(remedies)}};
}

}  // namespace palinform::cli
