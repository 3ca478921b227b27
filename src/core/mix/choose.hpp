#pragma once
/// Resin and silicone by need: every candidate with its reasons for and against, none hidden.
#include <optional>
#include <string>
#include <vector>

#include "mix/catalogue.hpp"

namespace palinform {

/// What the casting must be. Empty members ask for nothing.
struct ResinNeeds {
  std::optional<double> shore_low, shore_high;
  bool shore_is_d = true;            ///< scale of those two; else A
  std::optional<double> heat_c;      ///< it must stand this warm in use
  std::string flexibility;           ///< "", "rigid", "tough", "flexible"
  std::string clarity;               ///< "", "clear", "opaque"
  std::string colour;                ///< "", or a word that should occur in the resin's own colour
  std::optional<double> section_mm;  ///< thickest wall: thick pours heat up, thin ones cure slowly
  std::optional<double> work_min;    ///< least working time
  bool operator==(const ResinNeeds&) const = default;
  static void fields(auto& s, auto&& f) {
    f("shore_low", s.shore_low, Within{0, 100});
    f("shore_high", s.shore_high, Within{0, 100});
    f("shore_is_d", s.shore_is_d);
    f("heat_c", s.heat_c, Within{-50, 400});
    f("flexibility", s.flexibility);
    f("clarity", s.clarity);
    f("colour", s.colour);
    f("section_mm", s.section_mm, Within{0, 1000});
    f("work_min", s.work_min, Within{0, 1000});
  }
  bool empty() const { return *this == ResinNeeds{}; }
};

/// What the mould must stand.
struct RubberNeeds {
  std::optional<double> shore_low, shore_high;  ///< A
  int pulls = 1;
  bool undercut = false;
  bool see_through = false;  ///< to be poured whole and cut
  std::optional<double> work_min;
  bool master_inhibits = false;  ///< the master's surface stops addition cure
  bool operator==(const RubberNeeds&) const = default;
  void hash_into(Hasher& h) const;
};

struct Candidate {
  std::string id, name;
  std::vector<std::string> good, bad;  ///< reasons in words with figures
  int missed = 0;                      ///< needs not met
};

/// Every material of the catalogue, fewest missed needs first, then by the catalogue's order.
std::vector<Candidate> resins_for(const Catalogue& catalogue, const ResinNeeds& needs);
std::vector<Candidate> silicones_for(const Catalogue& catalogue, const RubberNeeds& needs);

/// Adiabatic rise of a resin, K: heat of reaction over heat capacity (M15). Bounds what a thick pour can reach.
double adiabatic_rise_k(const Resin& r);

}  // namespace palinform
