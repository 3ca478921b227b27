#pragma once
/// What the shop owns and how it works: scales, cups, chamber, pot, oven, boxes, stock sizes, people and hours.
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "base/check_fields.hpp"
#include "check/cause.hpp"
#include "days/schedule.hpp"
#include "mix/cup_film.hpp"

namespace palinform {

struct OwnScale {
  std::string name;
  double division_g = 0.1, capacity_g = 2000;
  bool operator==(const OwnScale&) const = default;
  static void fields(auto& s, auto&& f) {
    f("name", s.name, AtMost{80});
    f("division_g", s.division_g, Within{1e-4, 1000});
    f("capacity_g", s.capacity_g, Within{1, 1e6});
  }
};

struct OwnCup {
  std::string name;
  double brim_ml = 500, empty_g = 0;                                ///< 0: not weighed
  std::optional<double> bottom_mm = {}, top_mm = {}, high_mm = {};  ///< inside, where measured
  bool operator==(const OwnCup&) const = default;
  static void fields(auto& s, auto&& f) {
    f("name", s.name, AtMost{80});
    f("brim_ml", s.brim_ml, Within{1, 1e6});
    f("empty_g", s.empty_g, Within{0, 1e5});
    f("bottom_mm", s.bottom_mm, Within{1, 2000});
    f("top_mm", s.top_mm, Within{1, 2000});
    f("high_mm", s.high_mm, Within{1, 2000});
  }
  Cup cup() const { return {brim_ml, empty_g, bottom_mm, top_mm, high_mm}; }
};

/// A chamber, pot or oven: clear inside, and what it can do. Nought across: the shop has none.
struct OwnVessel {
  double across_mm = 0, high_mm = 0;
  double limit = 0;  ///< chamber: best vacuum, kPa absolute; pot: its plate, kPa gauge; oven: warmest, °C
  bool there() const { return across_mm > 0; }
  bool operator==(const OwnVessel&) const = default;
  static void fields(auto& s, auto&& f) {
    f("across_mm", s.across_mm, Within{0, 5000});
    f("high_mm", s.high_mm, Within{0, 5000});
    f("limit", s.limit, Within{0, 2000});
  }
};

struct OwnBox {
  std::string name;
  double long_mm = 100, wide_mm = 100, high_mm = 100;  ///< inside; of a pair of clamped L-boards the widest they open
  bool adjusts = false;                                ///< L-boards, clamped at any length and width up to those
  bool operator==(const OwnBox&) const = default;
  static void fields(auto& s, auto&& f) {
    f("name", s.name, AtMost{80});
    f("long_mm", s.long_mm, Within{5, 5000});
    f("wide_mm", s.wide_mm, Within{5, 5000});
    f("high_mm", s.high_mm, Within{5, 5000});
    f("adjusts", s.adjusts);
  }
};

/// Calipers and their like.
struct OwnGauge {
  std::string name;
  double resolution_mm = 0.01, u_mm = 0.012;  ///< standard uncertainty of one reading
  std::string studied_on;                     ///< ISO date of the study `u_mm` comes from; empty: by its sheet
  std::string checked_on;                     ///< against a standard; empty: never
  int good_months = 12;                       ///< for so long a check holds
  bool operator==(const OwnGauge&) const = default;
  static void fields(auto& s, auto&& f) {
    f("name", s.name, AtMost{80});
    f("resolution_mm", s.resolution_mm, Within{1e-5, 10});
    f("u_mm", s.u_mm, Within{1e-6, 10});
    f("studied_on", s.studied_on, AtMost{40});
    f("checked_on", s.checked_on, AtMost{40});
    f("good_months", s.good_months, Within{1, 240});
  }
};

struct Equipment {
  std::vector<OwnScale> scales;
  std::vector<OwnCup> cups;
  std::vector<OwnGauge> gauges;
  OwnVessel chamber, pot, oven;
  std::vector<OwnBox> boxes;
  std::vector<double> drills_mm, rods_mm, sheets_mm;
  std::vector<double> syringes_ml;
  double altitude_m = 0;
  std::string money;  ///< the sign; empty: "money"
  int people = 1;
  int fume_places = 0, clamp_sets = 0;  ///< places with an extractor, sets of clamps; 0: as many as are wanted
  BenchHours hours;
  std::vector<std::string> holidays;                              ///< ISO dates on which nobody is there
  std::string usual_rubber, usual_resin, usual_cup, usual_scale;  ///< of a new job, by id and name; empty: as the last
  std::vector<ConfirmedCause> causes;                             ///< of faults, as people here have found them
  bool operator==(const Equipment&) const = default;
  static void fields(auto& s, auto&& f) {
    f("scales", s.scales, AtMost{50});
    f("cups", s.cups, AtMost{100});
    f("gauges", s.gauges, AtMost{50});
    f("chamber", s.chamber);
    f("pot", s.pot);
    f("oven", s.oven);
    f("boxes", s.boxes, AtMost{200});
    f("drills_mm", s.drills_mm, AtMost{200});
    f("rods_mm", s.rods_mm, AtMost{200});
    f("sheets_mm", s.sheets_mm, AtMost{50});
    f("syringes_ml", s.syringes_ml, AtMost{20});
    f("altitude_m", s.altitude_m, Within{-400, 6000});
    f("money", s.money, AtMost{8});
    f("people", s.people, Within{1, 50});
    f("fume_places", s.fume_places, Within{0, 50});
    f("clamp_sets", s.clamp_sets, Within{0, 200});
    f("hours", s.hours);
    f("holidays", s.holidays, AtMost{400});
    f("usual_rubber", s.usual_rubber, AtMost{80});
    f("usual_resin", s.usual_resin, AtMost{80});
    f("usual_cup", s.usual_cup, AtMost{80});
    f("usual_scale", s.usual_scale, AtMost{80});
    f("causes", s.causes, AtMost{500});
  }
};

/// What the days count of it.
Places places_of(const Equipment& e);

/// The holidays by day_number().
std::set<int64_t> holidays_of(const Equipment& e);

/// Fields within their ranges, and what no field can say alone: names that stand twice, sizes of nought.
Status check_equipment(const Equipment& e);

std::string equipment_to_json(const Equipment& e);
Result<Equipment> equipment_from_json(std::string_view text, const std::string& file);

/// Months by which a gauge's check is overdue on that ISO date, at least 1; nothing where it is in date. One that was
/// never checked is overdue from the first.
std::optional<int> overdue_months(const OwnGauge& gauge, const std::string& today);

/// The scale that can hold so much, with the finest division; null where none can.
const OwnScale* scale_for(const Equipment& e, double total_g);
/// The smallest syringe that holds so many ml; nothing where none does.
std::optional<double> syringe_for(const Equipment& e, double ml);
/// The smallest cup that holds so many ml to the brim; null where none does.
const OwnCup* cup_for(const Equipment& e, double brim_ml);

}  // namespace palinform
