#include "findings/vessels.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "base/text.hpp"
#include "findings/tell.hpp"

namespace palinform {
namespace {

/// The nearest size of the shop's; nothing where it has entered none.
std::optional<double> nearest(const std::vector<double>& sizes_mm, double mm) {
  const auto at = std::min_element(sizes_mm.begin(), sizes_mm.end(),
                                   [&](double a, double b) { return std::abs(a - mm) < std::abs(b - mm); });
  return at == sizes_mm.end() ? std::nullopt : std::optional(*at);
}

/// Why a thing so large across and so high does not go in; empty where it does, or nobody has said how large it is.
std::string too_large(double across_mm, double high_mm, double clear_across_mm, double clear_high_mm) {
  if (clear_high_mm > 0 && high_mm > clear_high_mm)
    return fixed(high_mm, 0) + " mm high against " + fixed(clear_high_mm, 0) + " mm";
  if (clear_across_mm > 0 && across_mm > clear_across_mm)
    return fixed(across_mm, 0) + " mm corner to corner against Ø" + fixed(clear_across_mm, 0) + " mm";
  return "";
}

}  // namespace

VesselFindings vessel_findings(const VesselsAsked& a, const Equipment& shop) {
  VesselFindings out;
  const double walls = 2 * a.sheet_mm;
  const double box_across = std::hypot(a.mould_mm.x + walls, a.mould_mm.y + walls),
               mould_across = std::hypot(a.mould_mm.x, a.mould_mm.y);
  const auto high = [](double jobs, const OwnVessel& v) { return jobs > 0 ? jobs : v.high_mm; };
  // A height that the job gives is another vessel than the shop's: its width is not known.
  const auto across = [](double jobs, const OwnVessel& v) { return jobs > 0 ? 0 : v.across_mm; };
  const double chamber_mm = high(a.chamber_mm, shop.chamber), pot_mm = high(a.pot_mm, shop.pot);
  if (a.degas_in_box && a.box_mm > 0)
    if (const auto why = too_large(box_across, a.box_mm, across(a.chamber_mm, shop.chamber), chamber_mm); !why.empty())
      tell(out.mould, "box-tall", Severity::caution, "The box does not go into the vacuum chamber",
           why + ", with floor and rim. Degas the rubber in its cup, pour high and thin, and leave the box outside.");
  const FlowSetup& f = a.flow;
  // It goes in as it stands, on its wedge.
  const double tilt = f.tilt_deg * std::numbers::pi / 180;
  const double stands_mm = a.mould_mm.z * std::cos(tilt) + std::max(a.mould_mm.x, a.mould_mm.y) * std::sin(tilt);
  if (by_pot(f.aid) && f.pressure_kpa > 0) {
    if (const auto why = too_large(mould_across, stands_mm, across(a.pot_mm, shop.pot), pot_mm); !why.empty())
      tell(out.mould, "box-pot", Severity::caution, "The closed mould does not go into the pressure pot",
           why + (f.tilt_deg >= 1 ? " on its wedge. Stand it flatter, lay" : ". Lay") +
               std::string(" it on its side, or make the wall thinner."));
    if (shop.pot.there() && shop.pot.limit > 0 && f.pressure_kpa > shop.pot.limit + 1e-9) {
      Finding& over = tell(out.flow, "pot-plate", Severity::stop, "The pot is not made for this pressure",
                           fixed(f.pressure_kpa, 0) + " kPa against " + fixed(shop.pot.limit, 0) +
                               " kPa on its plate. A pot that bursts kills: never go over its plate, relief valve "
                               "fitted and tested, by local rules for pressure vessels.");
      over.answerable = false;
      over.remedies = {{"Press to " + fixed(shop.pot.limit, 0) + " kPa", edits::SetPressure{shop.pot.limit}}};
    }
  }
  if (by_chamber(f.aid)) {
    if (const auto why = too_large(mould_across, stands_mm, across(a.chamber_mm, shop.chamber), chamber_mm);
        !why.empty())
      tell(out.mould, "box-chamber", Severity::caution, "The mould does not go into the vacuum chamber",
           why + ". Fill it another way, or make the wall thinner.");
    if (shop.chamber.there() && shop.chamber.limit > 0 && f.vacuum_kpa < shop.chamber.limit - 1e-9) {
      Finding& low =
          tell(out.flow, "chamber-best", Severity::caution, "The chamber does not get so low",
               fixed(f.vacuum_kpa, 1) + " kPa are planned with; its best is " + fixed(shop.chamber.limit, 1) + " kPa.");
      low.remedies = {{"Plan with " + fixed(shop.chamber.limit, 1) + " kPa", edits::SetPressure{shop.chamber.limit}}};
    }
  }
  if (a.post_cure_c > 0 && shop.oven.there() && shop.oven.limit > 0 && a.post_cure_c > shop.oven.limit)
    tell(out.mould, "oven-cool", Severity::caution, "The oven does not get so warm",
         fixed(a.post_cure_c, 0) + " °C by the sheet against " + fixed(shop.oven.limit, 0) +
             " °C. Give it longer, as the data sheet allows, or have it done.");
  if (a.gate && a.closed) {
    const auto drill = [&](const char* code, const char* what, double mm, auto edit) {
      const auto near = nearest(shop.drills_mm, mm);
      if (!near || std::abs(*near - mm) < 0.05) return;
      Finding& d = tell(out.flow, code, Severity::note, std::string("No drill of the shop's fits the ") + what,
                        "Ø" + shortest(mm, 2) + " mm is planned; the nearest drill is Ø" + shortest(*near, 2) + " mm.");
      d.remedies = {{"Ø" + shortest(*near, 2) + " mm", edit(*near)}};
    };
    drill("drill-gate", "gate", f.sprue_mm, [](double mm) -> Edit { return edits::SetSprue{mm}; });
    if (!f.vents.empty())
      drill("drill-vent", "vents", f.vent_mm, [](double mm) -> Edit { return edits::SetVentSize{mm}; });
  }
  return out;
}

}  // namespace palinform
