#include "mix/additives.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"

namespace palinform {

Result<Filled> filled(double w, double filler, double liquid) {
  if (!(w >= 0 && w < 1) || !(filler > 0) || !(liquid > 0))
    return Error{"the filler's share or density is out of reason", "filler",
                 "A share by weight from 0 to under 100 %."};
  constexpr double densest = 0.64;  // random close packing of balls
  Filled f;
  f.volume_share = (w / filler) / (w / filler + (1 - w) / liquid);
  if (f.volume_share >= densest)
    return Error{"so much filler leaves no liquid between its grains: " + fixed(100 * f.volume_share, 0) +
                     " % by volume, over " + fixed(100 * densest, 0) + " %",
                 "filler", "Take less, or a heavier one."};
  f.density_g_cm3 = f.volume_share * filler + (1 - f.volume_share) * liquid;
  f.viscosity_times = std::pow(1 - f.volume_share / densest, -2.5 * densest);
  f.shrink_times = 1 - f.volume_share;
  f.heat_times = 1 - w;
  return f;
}

Result<std::vector<TintDose>> weigh_tints(const std::vector<Tint>& recipe, double batch_g, double division_g) {
  if (!(batch_g > 0) || !(division_g > 0)) return Error{"there is no batch to tint", "pigment", ""};
  constexpr double least_divisions = 20;
  std::vector<TintDose> out;
  double all = 0;
  for (const Tint& t : recipe) {
    if (!(t.share > 0)) return Error{"the share must be above nought", t.name, "Leave it out, or say how much."};
    if (t.most_share && t.share > *t.most_share + 1e-12)
      return Error{
          shortest(100 * t.share, 3) + " % is more than its sheet allows, " + shortest(100 * *t.most_share, 3) + " %",
          t.name, "More of it keeps the mix from curing, or weakens it."};
    all += t.share;
    TintDose d;
    d.name = t.name;
    d.g = t.share * batch_g;
    d.master_batch = d.g < least_divisions * division_g * (1 - 1e-9);
    if (d.master_batch) {
      // Strong enough to hold the pigment, weak enough that both the pigment and what is used of it are readings.
      const double reading = least_divisions * division_g, strength = std::min(0.5, d.g / reading);
      d.stock_pigment_g = reading;
      d.stock_part_g = reading * (1 - strength) / strength;
      d.stock_use_g = d.g / strength;
    }
    out.push_back(std::move(d));
  }
  if (all > 0.5) return Error{"more than half of the mix would be pigment", "pigment", "Check the shares."};
  return out;
}

}  // namespace palinform
