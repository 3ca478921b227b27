#pragma once
/// Cups in time (M19): when each is stirred, degassed and poured, so that all of them reach the mould as one pour.
#include <string>
#include <vector>

#include "base/progress.hpp"
#include "base/result.hpp"

namespace palinform {

/// One cup's minutes. Its clock begins when B touches A, at the start of stirring.
struct CupTimes {
  double weigh_min = 0;                              ///< before the clock: hands
  double stir_min = 3, degas_min = 0, pour_min = 1;  ///< hands; chamber alone; hands
};
struct CupsAsked {
  std::vector<CupTimes> cups;
  double pot_life_min = 30;  ///< at the room's temperature
  int people = 1;
  bool has_chamber = true;  ///< takes one cup at a time
};

/// Minutes from when the first hand moves.
struct CupTime {
  size_t cup = 0;             ///< of CupsAsked::cups
  double weigh_from_min = 0;  ///< weighing begins
  double starts_min = 0;      ///< B touches A
  double degas_from_min = 0, degas_to_min = 0;
  double pour_from_min = 0, pour_to_min = 0;
  double gels_min = 0;  ///< 0.8 of the pot life after its start (rule)
};
struct CupsPlan {
  bool fits = false;
  std::vector<CupTime> cups;  ///< in the order they are poured
  double done_min = 0;
  bool searched_all = true;  ///< false: too many ways to look at; a plan that fits may have been missed
  std::string why;           ///< what does not fit, in words with figures; empty where all does
};

/// A pour is whole when each cup is poured out before its own pot life ends, and each but the first reaches the mould
/// before the one before it has gelled. One pair of hands does one thing at a time. The order of cups and how they
/// overlap are searched: all ways for up to six cups, patterns beyond. Among plans that fit the soonest; without one,
/// the one that misses by least. Refused: no cup, times below nought, more than 24 cups, more than 9 people, degassing
/// without a chamber.
Result<CupsPlan> plan_cups(const CupsAsked& asked, const Progress& progress = Progress::none());

/// One thing that might make it fit, tried.
struct CupsLever {
  std::string what;  ///< "a second person", "a pot life of 14 min: a slower grade, or 4 °C cooler"
  bool fits = false;
};
/// A second person, fewer and larger cups, a slower grade or a cooler room, no vacuum, a smaller mould: those that make
/// it fit, the easiest first.
std::vector<CupsLever> cups_levers(const CupsAsked& asked, const Progress& progress = Progress::none());

}  // namespace palinform
