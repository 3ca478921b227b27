#pragma once
/// A squeeze mould as it closes, over a Job: what is poured where, which end comes down first, the air that stays.
#include "graph/node.hpp"
#include "rules/rules.hpp"
#include "stages/results.hpp"

namespace palinform {

/// What closing follows from.
struct ClosingGround {
  Implied<OriginalResult> master;  // both by the mould
  Implied<SplitResult> split;
  Fresh<MouldResult> mould;
  SqueezeSetup squeeze;
  bool turned_over = false;
  MixSetup materials;  ///< for the resin's thickness
  double room_c = 21;
  Fresh<InsertsResult> inserts;  ///< where something is cast in: the resin runs round it
  auto fields(auto&& f) const { return f(master, split, mould, squeeze, turned_over, materials, room_c, inserts); }
};

/// Per cent poured over: the job's, or the shop's.
double poured_over_pct(const SqueezeSetup& squeeze, const Rules& rules);

Result<ClosingResult> closing_result(const ClosingGround& ground, const Shop& shop, const Progress& progress);

/// What of the other parts their closing follows from besides what they are.
struct OtherClosingsHow {
  std::vector<std::string> names;          ///< in the order of Job::parts
  std::vector<std::optional<Vec3>> heaps;  ///< where resin is heaped in each, on its mesh; none: searched
  SqueezeSetup squeeze;
  MixSetup materials;
  double room_c = 21;
};
/// The other cavities of the box: the half comes down on all of them at once, by the end that the part in hand goes by.
Result<OtherClosingsResult> other_closings(const OtherPartsResult& others, const MouldResult& mould,
                                           const ClosingResult& in_hand, const OtherClosingsHow& how, const Shop& shop,
                                           const Progress& progress);

/// Per point of the part: the gap at which resin stands at the roof over it, mm; infinite where it never does.
std::vector<float> reached_at(const ClosingResult& closing, const TriMesh& mesh);

/// The end that comes down first, in words: "the left end"; empty: level.
std::string set_down_words(const std::optional<double>& hinge_deg);

}  // namespace palinform
