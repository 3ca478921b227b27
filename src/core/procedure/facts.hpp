#pragma once
/// What a procedure follows from: form, way, what the mould has, what is mixed, how it cures. A plain value without a
/// mesh, so that thousands of jobs can be made up and tried.
#include <optional>
#include <string>
#include <vector>

#include "base/shown.hpp"
#include "mould/forms.hpp"
#include "mould/keys.hpp"
#include "procedure/minutes.hpp"
#include "split/ways.hpp"

namespace palinform {

/// When a material has gelled and lets go, at the room it cures in, minutes.
struct CureFacts {
  double gel_min = 45, demould_min = 960;
  std::optional<double> recoat_latest_min = {};  ///< of coats, by the sheet
  bool tacky = false;                            ///< its surface stays tacky in air
  double post_min = 0, post_c = 0;               ///< warm, before its first use
};

/// One pour, coat, lump or shell: what is mixed for it and how.
struct PourFacts {
  std::string name;  ///< "a", "whole", "a coat 2", "casting": as in Mix
  std::string material_id, material, ratio;
  std::string side;  ///< of coats and shells: "a", "b"
  int cups = 1;
  double each_g = 0;  ///< of every cup
  double ml = 0;      ///< that the mould takes, all cups together
  double weigh_min = 3, stir_min = 3, degas_min = 0, stand_min = 0, pour_min = 2;  ///< a cup
  double pot_life_min = 30;
  double fill_mm = 0;                      ///< height of the fill line over the floor; 0: not poured to a line
  bool no_figures = false;                 ///< the dose cannot be measured safely: nothing to weigh is told
  std::string lumps;                       ///< of putty: "18.5 g of A and 18.5 g of B, balls of 28 mm"
  double coat_mm = 0;                      ///< thickness of a coat
  bool thickened = false, tinted = false;  ///< of a coat
  std::optional<CureFacts> cure;           ///< where it is another rubber than the mould's first
  int stage = 0;                           ///< 1, 2 of a pour in two stages; of a shell its layer, where it has several
  double frame_u_mm = 0, frame_v_mm = 0;   ///< inside, of the second stage's frame
  double bond_min = 0;                     ///< of putty in several lumps: they bond only so long
  std::string colour;                      ///< "2.4 g Pigment paste first"; empty: none
  std::string stirred_in;                  ///< "30.0 g Marble powder", onto the first part; empty: nothing
  std::vector<std::string> cautions;
};

/// A test that is to be made before any of the material goes into the mould.
struct TestFacts {
  TestWanted wanted;
  std::string material, on;  ///< name; "the printed photopolymer", "lot 4411"
  double cure_min = 960;
  static void fields(auto& s, auto&& f) {
    f("wanted", s.wanted);
    f("material", s.material);
    f("on", s.on);
    f("cure_min", s.cure_min);
  }
};

enum class MasterIs { original, printed, casting };
enum class FillBy { gravity, pressure, vacuum, vacuum_then_pressure };

struct ProcedureFacts {
  Shown shown;  ///< the units its words are in
  Ends ends = Ends::both;
  Form form = Form::two_part;
  Way way = Way::clay_bed;  ///< of forms in halves and of a skin: clay, splitter or printed board
  int copies = 1, a_pull = 1, moulds = 1;
  bool from_first_casting = false;  ///< moulds after the first are taken from the first casting
  double casting_through_min = 0;   ///< from its demould till it may serve as a master

  // The master.
  MasterIs master = MasterIs::original;
  std::string seal;  ///< in words; empty: nothing to seal
  double seal_min = 10, seal_wait_min = 240;
  bool porous = false;                     ///< breathes: the box stays warm-free
  double master_print_h = 0;               ///< of a printed one that is yet to be printed
  double master_cure_min = 0;              ///< till a casting that serves as master is through
  bool barrier = false;                    ///< between clay or master and the rubber
  std::vector<TestFacts> tests;            ///< patch and cup tests that are open
  int plugs = 0, taped = 0;                ///< bores plugged with a dimple; mouths or undercuts taped over
  double hold_down_n = 0;                  ///< 0: it stays by itself
  std::vector<std::string> filled;         ///< openings whose mouths are all taped: "Opening 2"
  std::vector<std::string> plates, slits;  ///< openings with a plate over a mouth; whose rubber is slit, and how
  std::vector<std::string> stopped;        ///< openings where clay stands, till the rubbers meet there
  std::vector<std::string> stopped_at;     ///< … with the place: "Opening 1 and Opening 2 half-way"
  int openings_said = 0;                   ///< that something is said of
  std::vector<std::string> inserts;        ///< cast in: "Brass bush, on Pin 1"
  std::vector<std::string> unscrewed;      ///< out of the mould before it opens: "Screw M4"

  // The mould.
  double bed_min = 0;  ///< by the line's length and climb; 0: by the rule
  KeyKind keys = KeyKind::studs;
  int key_count = 0;
  std::vector<std::string> pins;       ///< names in the order they are drawn
  int pieces = 0;                      ///< besides the two halves
  std::vector<std::string> comes_off;  ///< of more than two: rubber in the order it comes off
  int dams = 0;
  std::string box_words;  ///< "98 × 72 × 51 mm inside, six screwed panels"
  bool release = true;    ///< rubber on rubber
  bool gate = true, cast_in = false;
  double gate_mm = 5, vent_mm = 2;
  int gates = 1;                     ///< one a cavity
  int vents = 0;                     ///< of all cavities
  double print_h = 0, print_ml = 0;  ///< board, cup and core, or a strip's bar
  std::string wave;                  ///< of a cut block: "6 mm teeth every 12 mm, 3 passes of 9 mm"
  bool one_sided = false;            ///< a putty impression of one face, or a part that one press takes
  std::vector<PourFacts> rubber;     ///< in order
  CureFacts rubber_cure;
  std::vector<PourFacts> jacket;  ///< shells of a skin: side a, side b; what backs a brushed half
  double jacket_set_min = 0;      ///< 0: by the rule
  double jacket_gel_min = 0;      ///< after which the next layer goes on; 0: by the rule
  double fence_mm = 0;            ///< high, over the flange; 0: as the shell is thick
  int jacket_bolts = 0;
  std::string brushed;  ///< of two halves: "a" or "b", brushed on and backed in the box; empty: both are poured

  // The castings.
  PourFacts casting;  ///< one pull
  CureFacts resin_cure;
  bool resin_is_rubber = false;
  FillBy fill = FillBy::gravity;
  double pressure_kpa = 0, vacuum_kpa = 0;
  double tilt_deg = 0, wedge_rise_mm = 0;
  bool turned_over = false;
  double clamp_n = 0;
  bool resin_fumes = false, jacket_fumes = false;  ///< what is mixed for it fumes while it cures
  std::string clamp_with;                          ///< "two rubber bands"
  double squeeze_kg = 0, over_pct = 0;
  bool brush_details = false, cover_plate = false;
  std::string heap, set_down;  ///< of a squeeze: where it is heaped and how high; "the left end"
  double edge_gap_mm = 0;      ///< that a strip keeps open round the line
  double jack_n = 0;           ///< of a core, to draw it
  double top_up_ml = 0;        ///< that an open face sinks by as it cures
  int grooves = 0;             ///< of an open face, filled by syringe
  double grooves_ml = 0, powder_g = 0;
  int struts = 0;         ///< of a strip, from the bar to limbs
  std::string strip_cut;  ///< "14 mm deep from the face away from the well, 11 mm from its long side"; empty: none
  std::string cover;      ///< of an open face: "a waxed plate of 96 × 40 mm, 1.3 kg on it"; empty: scraped
  double line_mm = 0;     ///< of the parting line that leaves flash
  std::vector<std::string> finishing;  ///< "ream Pivot bore to 5.00": after casting
  int sizes = 0;                       ///< measured at the check
  std::string later;                   ///< "paint", "glue"; empty
};

inline bool by_pot(FillBy b) { return b == FillBy::pressure || b == FillBy::vacuum_then_pressure; }
inline bool by_chamber(FillBy b) { return b == FillBy::vacuum || b == FillBy::vacuum_then_pressure; }
/// Two halves over a bed, each of them poured, pressed or brushed.
inline bool has_bed(Form f) { return in_halves(f) || f == Form::skin || f == Form::putty; }
/// A mould that is closed for a casting.
inline bool closes(const ProcedureFacts& f) {
  return f.form != Form::open && f.form != Form::strip && !(f.form == Form::putty && f.one_sided);
}
/// Some moulds are taken from a casting: a printed cup and core need none.
inline bool copies_its_casting(const ProcedureFacts& f) {
  return f.from_first_casting && f.moulds > 1 && f.ends == Ends::both && f.form != Form::cup_core;
}
/// Resin comes in through a gate: not in open moulds, squeeze moulds, cups and strips.
inline bool has_gate(const ProcedureFacts& f) {
  return f.gate && closes(f) && f.form != Form::squeeze && f.form != Form::cup_core;
}
inline bool has_keys(const ProcedureFacts& f) { return f.key_count > 0 && in_halves(f.form); }
inline bool has_box(Form f) { return f != Form::skin && f != Form::putty && f != Form::cup_core; }

}  // namespace palinform
