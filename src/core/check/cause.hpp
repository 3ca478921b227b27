#pragma once
/// From what is seen on a casting to why: P(cause | seen, evidence) ∝ P(cause | seen) · Π of likelihood ratios (M23).
#include <optional>
#include <string>
#include <vector>

#include "base/edit.hpp"
#include "check/seen.hpp"

namespace palinform {

enum class Cause {
  no_way_out,
  tilt,
  poured_fast,
  air_stirred_in,
  no_degas,
  moisture,
  rubber_bubbles,
  gelled_early,
  sprue_thin,
  air_lock,
  clamp,
  bits_on_land,
  overfilled,
  keys,
  wrong_way_round,
  ratio,
  stirring,
  cold,
  inhibition,
  thin_rubber,
  deep_undercut,
  early_demould,
  master_not_sealed,
  uneven_section,
  heat,
  shrinkage,
  warm_cure,
  pigment,
  batch_size,
  old_lot,
  worn_mould,
};
template <>
inline constexpr std::array names<Cause>{"no-way-out"sv,
                                         "tilt"sv,
                                         "poured-fast"sv,
                                         "air-stirred-in"sv,
                                         "no-degas"sv,
                                         "moisture"sv,
                                         "rubber-bubbles"sv,
                                         "gelled-early"sv,
                                         "sprue-thin"sv,
                                         "air-lock"sv,
                                         "clamp"sv,
                                         "bits-on-land"sv,
                                         "overfilled"sv,
                                         "keys"sv,
                                         "wrong-way-round"sv,
                                         "ratio"sv,
                                         "stirring"sv,
                                         "cold"sv,
                                         "inhibition"sv,
                                         "thin-rubber"sv,
                                         "deep-undercut"sv,
                                         "early-demould"sv,
                                         "master-not-sealed"sv,
                                         "uneven-section"sv,
                                         "heat"sv,
                                         "shrinkage"sv,
                                         "warm-cure"sv,
                                         "pigment"sv,
                                         "batch-size"sv,
                                         "old-lot"sv,
                                         "worn-mould"sv};
/// "No way out for the air", "B weighed wrong"…
std::string_view words_of(Cause c);

/// Rules of thumb, to be corrected by what the shop confirms.
struct CauseRules {
  double strong = 12, some = 4, little = 2, against = 0.12;  ///< likelihood ratios
  double prior_weight = 5;    ///< how many confirmed cases the trade's own order is worth
  double near_pocket_mm = 5;  ///< a fault so near to a foreseen pocket is that pocket's
  static void fields(auto& s, auto&& f) {
    f("strong", s.strong, Within{1, 1000});
    f("some", s.some, Within{1, 1000});
    f("little", s.little, Within{1, 1000});
    f("against", s.against, Within{1e-3, 1});
    f("prior_weight", s.prior_weight, Within{0.1, 1000});
    f("near_pocket_mm", s.near_pocket_mm, Within{0.1, 100});
  }
};

/// Causes that a shop has confirmed for a fault, counted.
struct ConfirmedCause {
  Fault fault = Fault::hollow;
  Cause cause = Cause::no_way_out;
  int times = 0;
  bool operator==(const ConfirmedCause&) const = default;
  static void fields(auto& s, auto&& f) {
    f("fault", s.fault);
    f("cause", s.cause);
    f("times", s.times, Within{0, 1e6});
  }
};

/// What is seen, as far as causes hang on it.
struct Seen {
  Fault fault = Fault::hollow;
  std::optional<double> pocket_distance_mm;  ///< to the apex of the nearest pocket that Flow foresaw
  std::optional<double> pocket_mm3;          ///< of that
  bool operator==(const Seen&) const = default;
};

struct CauseFound {
  Cause cause = Cause::no_way_out;
  double p = 0;
  std::vector<std::string> speaks_for, speaks_against;  ///< sentences with figures
};

/// One thing to do otherwise next time.
struct Change {
  Cause cause = Cause::no_way_out;
  std::string what;          ///< "Put a vent at the void"
  std::string to_do;         ///< what it is to bring: "The air leaves there."
  std::optional<Edit> edit;  ///< of the job, where it is one
};

struct Why {
  Fault fault = Fault::hollow;
  std::vector<CauseFound> causes;    ///< all that come into question, likeliest first; their p add up to 1
  std::vector<std::string> unknown;  ///< what nobody knows and would decide: "weigh the next cup"
  std::optional<Change> change;      ///< against the first cause; its edit is none yet
};

/// Causes of one fault. `taught`: what the shop has confirmed. Only what is known of `record` counts.
Why why_of(const Seen& seen, const CastRecord& record, const std::vector<ConfirmedCause>& taught = {},
           const CauseRules& rules = {});

/// The trade's own shares for a fault before any evidence, likeliest first; they add up to 1.
std::vector<std::pair<Cause, double>> usual_causes(Fault fault);

}  // namespace palinform
