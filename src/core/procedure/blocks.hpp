#pragma once
/// The blocks a procedure is put together of: each writes its steps and says what the next one waits for. Read by
/// procedure.cpp alone.
#include "procedure/procedure.hpp"

namespace palinform::blocks {

struct Writing {
  const ProcedureFacts& f;
  const StepMinutes& t;
  std::vector<ProcedureStep> steps;
  std::vector<std::string> last;  ///< what the next step waits for
  int mould = 0, casting = 0;     ///< in hand

  /// Adds a step that waits for the last one. `stem` gets the number of the mould, where there are several, or of the
  /// casting.
  ProcedureStep& add(Act act, Block block, std::string stem, std::string name, std::string what, double hands_min,
                     double wait_min = 0);
  /// One that follows the last without a pause.
  ProcedureStep& at_once(Act act, Block block, std::string stem, std::string name, std::string what, double hands_min,
                         double wait_min = 0);
  void put(ProcedureStep& s, Thing thing) const { s.in.push_back({thing, casting ? casting : mould}); }
  void take(ProcedureStep& s, Thing thing) const { s.out.push_back({thing, casting ? casting : mould}); }
  /// " of mould 2" where there are several.
  std::string of_mould() const;
};

/// Weigh, stir, degas or let stand, then `fill`; every cup of the pour. The last step waits `wait_min`. `into` fills
/// the mould: its words follow the mix.
struct Filling {
  Act act = Act::pour;
  Block block = Block::mix;
  std::string stem;             ///< "a"; of a casting "cast"
  std::string what, name, why;  ///< of the filling step; `material`: "rubber a"
  std::string material;
  double wait_min = 0;
  StepPicture picture = StepPicture::boxed;
  std::string look_for;
};
ProcedureStep& mix_and_fill(Writing& w, const PourFacts& pour, const Filling& how);

/// Cup tests, beside everything else; the steps that the first mixing waits for.
std::vector<std::string> test_cups(Writing& w);
void prepare_master(Writing& w);
void casting_as_master(Writing& w);  ///< the first casting, for the moulds after the first
void make_mould(Writing& w);         ///< of whatever form, until it can be cast in
void look_over_mould(Writing& w);    ///< one from the shelf
void make_casting(Writing& w);
void finish_castings(Writing& w, int pulls);  ///< so many pulls' castings together
void check_castings(Writing& w, int pulls);

/// "1 vent", "3 vents"; "the gate and 2 vents"; empty where there is none.
std::string channels_words(const ProcedureFacts& f);
/// "Pin 1, then Pin 2"
std::string pins_words(const ProcedureFacts& f);

}  // namespace palinform::blocks
