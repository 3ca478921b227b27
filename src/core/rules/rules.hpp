#pragma once
/// Every rule of thumb of the shop (ranges.md) in one value, by stage: guesses, shown as such. A rule that one
/// algorithm reads is declared beside it; here they stand together, each with its unit and the range it may have.
#include <string_view>

#include "base/fields.hpp"
#include "base/hash.hpp"
#include "base/shown.hpp"
#include "cast_in/insert.hpp"
#include "cast_in/thread.hpp"
#include "check/cause.hpp"
#include "days/schedule.hpp"
#include "flow/channels.hpp"
#include "mix/catalogue.hpp"
#include "mould/forms.hpp"
#include "mould/jacket.hpp"
#include "mould/keys.hpp"
#include "mould/panels.hpp"
#include "mould/strip.hpp"
#include "original/fits.hpp"
#include "shelf/material.hpp"
#include "split/pins.hpp"
#include "split/thin_rubber.hpp"
#include "split/undercuts.hpp"
#include "split/ways.hpp"

namespace palinform {

struct SizeRules {
  double flash_mm = 0.08, flash_u_mm = 0.05;               ///< between halves
  double gel_u_c = 1.5;                                    ///< of the temperature at which the rubber gelled
  double pin_u_mm = 0.004;                                 ///< of a pin's diameter
  double guessed_section_mm = 6;                           ///< of a size whose section nobody measured
  double finish_u_mm = 0.008, finish_allowance_mm = 0.05;  ///< of a size reamed, skimmed or shimmed
  FitRules fits;
  static void fields(auto& s, auto&& f) {
    f("flash_mm", s.flash_mm, Within{0, 5});
    f("flash_u_mm", s.flash_u_mm, Within{0, 5});
    f("gel_u_c", s.gel_u_c, Within{0, 20});
    f("pin_u_mm", s.pin_u_mm, Within{0, 1});
    f("guessed_section_mm", s.guessed_section_mm, Within{0.1, 500});
    f("finish_u_mm", s.finish_u_mm, Within{0, 1});
    f("finish_allowance_mm", s.finish_allowance_mm, Within{0, 5});
    f("fits", s.fits);
  }
};

struct SplitRules {
  FlexRule flex;
  ThinRules thin;
  PinRules pin;
  WayRates ways;
  InsertRules insert;
  ThreadRules thread;
  double piece_worth_share = 0.04;  ///< a further piece pays when it frees more than this of what is locked
  double piece_left_share = 0.05;   ///< what pieces may leave locked and still count as all
  double piece_owns_share = 0.6;    ///< of an undercut's skin that a piece must form
  double open_reach_share = 0.03;   ///< of the part's diagonal: a lip up to it is no reason against an open face
  double better_pull_share = 0.8;   ///< another pull is offered when it leaves less than this locked
  static void fields(auto& s, auto&& f) {
    f("flex", s.flex);
    f("thin", s.thin);
    f("pin", s.pin);
    f("ways", s.ways);
    f("insert", s.insert);
    f("thread", s.thread);
    f("piece_worth_share", s.piece_worth_share, Within{0, 1});
    f("piece_left_share", s.piece_left_share, Within{0, 1});
    f("piece_owns_share", s.piece_owns_share, Within{0, 1});
    f("open_reach_share", s.open_reach_share, Within{0, 1});
    f("better_pull_share", s.better_pull_share, Within{0, 1});
  }
};

struct MouldRules {
  WallRule wall;
  KeyRules keys;
  BoxRules box;
  FormRates forms;
  JacketRules jacket;
  StripRules strip;
  double parting_kpa = 15, parting_by_hand_n = 120;  ///< rubber lets go of released rubber; what hands can do
  double bond_share = 0.5;                           ///< of the part's skin that is no land
  double cover_over_mm = 10;                         ///< of an open face's plate, beyond the part all round
  double groove_mm = 3;                              ///< narrower, and an open mould is filled there by syringe
  double powder_g_per_m2 = 4;                        ///< dusted into corners
  double clamp_share = 0.6;                          ///< of the box's plan that the resin's head presses on
  double form_better_share = 0.8;                    ///< another form is offered when it costs less than this
  double dams_worth_share = 0.12;                    ///< of the rubber that dams must save to be worth gluing
  double two_stage_worth_share = 0.12, two_stage_worth_ml = 20;  ///< of rubber that a second stage must save
  static void fields(auto& s, auto&& f) {
    f("wall", s.wall);
    f("keys", s.keys);
    f("box", s.box);
    f("forms", s.forms);
    f("jacket", s.jacket);
    f("strip", s.strip);
    f("parting_kpa", s.parting_kpa, Within{0, 500});
    f("parting_by_hand_n", s.parting_by_hand_n, Within{1, 2000});
    f("bond_share", s.bond_share, Within{0, 1});
    f("cover_over_mm", s.cover_over_mm, Within{0, 200});
    f("groove_mm", s.groove_mm, Within{0.2, 50});
    f("powder_g_per_m2", s.powder_g_per_m2, Within{0, 500});
    f("clamp_share", s.clamp_share, Within{0, 1});
    f("form_better_share", s.form_better_share, Within{0, 1});
    f("dams_worth_share", s.dams_worth_share, Within{0, 1});
    f("two_stage_worth_share", s.two_stage_worth_share, Within{0, 1});
    f("two_stage_worth_ml", s.two_stage_worth_ml, Within{0, 1e5});
  }
};

struct FlowRules {
  ChannelRules channels;
  double visible_void_mm = 1, visible_show_mm = 0.5;  ///< smallest void that is seen; on a face that shows
  double doubling_share = 2.5;                        ///< viscosity doubles in pot life over this
  double passage_mm = 3;                              ///< narrower, and air and resin do not pass each other
  double key_clear_mm = 1;                            ///< of rubber between a channel and a key
  double vent_slender = 45;                           ///< length over diameter up to which a vent casts by itself
  double foam_ratio = 6;                              ///< most that resin rises under vacuum
  double squeeze_close_s = 60;                        ///< within which the weight should close a squeeze mould
  double brush_wide_mm = 5;                           ///< narrower hollows hold what was brushed into them
  double thin_cure_share = 0.75;                ///< of the sheet's thickness, under which the cure is told as slower
  double sprue_wider = 1.3, head_more_mm = 50;  ///< what is offered where filling is slow
  static void fields(auto& s, auto&& f) {
    f("channels", s.channels);
    f("visible_void_mm", s.visible_void_mm, Within{0.01, 50});
    f("visible_show_mm", s.visible_show_mm, Within{0.01, 50});
    f("doubling_share", s.doubling_share, Within{0.5, 20});
    f("passage_mm", s.passage_mm, Within{0.1, 50});
    f("key_clear_mm", s.key_clear_mm, Within{0, 50});
    f("vent_slender", s.vent_slender, Within{1, 1000});
    f("foam_ratio", s.foam_ratio, Within{1, 20});
    f("squeeze_close_s", s.squeeze_close_s, Within{1, 3600});
    f("brush_wide_mm", s.brush_wide_mm, Within{0.5, 100});
    f("thin_cure_share", s.thin_cure_share, Within{0, 1});
    f("sprue_wider", s.sprue_wider, Within{1, 5});
    f("head_more_mm", s.head_more_mm, Within{1, 1000});
  }
};

struct DaysRules {
  double hand_price_per_h = 40;
  double margin_pct = 25;  ///< on a quote
  double scrap_pct = 5;    ///< of castings that go wrong, as a quote reckons
  double quote_valid_days = 30;
  StepMinutes steps;
  static void fields(auto& s, auto&& f) {
    f("hand_price_per_h", s.hand_price_per_h, Within{0, 1e5});
    f("margin_pct", s.margin_pct, Within{0, 1000});
    f("scrap_pct", s.scrap_pct, Within{0, 90});
    f("quote_valid_days", s.quote_valid_days, Within{1, 3650});
    f("steps", s.steps);
  }
};

struct CheckRules {
  double readings_a_size = 1;  ///< of the shop's round, where calipers send them by themselves
  CauseRules cause;
  static void fields(auto& s, auto&& f) {
    f("readings_a_size", s.readings_a_size, Within{1, 20});
    f("cause", s.cause);
  }
};

struct Rules {
  SizeRules size;
  SplitRules split;
  MouldRules mould;
  FlowRules flow;
  MixRules mix;
  DaysRules days;
  CheckRules check;
  static void fields(auto& s, auto&& f) {
    f("size", s.size);
    f("split", s.split);
    f("mould", s.mould);
    f("flow", s.flow);
    f("mix", s.mix);
    f("days", s.days);
    f("check", s.check);
  }
};

/// Reads rules; what is missing keeps its default. Refused: what is out of its range, by its name; a fit that does not
/// read.
Result<Rules> read_rules(std::string_view json);
/// As read_rules() takes them.
std::string write_rules(const Rules& rules);

/// What a shop works with: its materials and its rules.
struct Shop {
  Catalogue shelf;  ///< two-part rubbers and casting materials, as the analyses read them
  Rules rules;
  std::vector<Material> bottles;  ///< all that stands on the shelf, retired ones too
  Hash128 key;                    ///< of the bottles: in the key of whatever reads the whole shelf
  Shown shown;                    ///< the units its sheets and steps are told in
  OwnWays habits;                 ///< how the shop's work differs from the procedures, for all jobs
  std::vector<BlockLife> blocks;  ///< its own moulds, as built and as they lasted
  const Material* bottle(std::string_view id) const;
};
/// `shop` with another shelf; masters' surfaces, cautions and rules stay.
Shop with_shelf(const Shop& shop, std::vector<Material> bottles);
/// The one built in.
const Shop& starting_shop();

}  // namespace palinform
