#pragma once
/// Hard slides that form whole pockets, carried out over a job's part.
#include "rules/rules.hpp"
#include "stages/results.hpp"

namespace palinform {

/// What slides form is no concern of the halves.
void ignore_slid_pockets(FaceWishes& wishes, const OriginalResult& master, const std::vector<PocketSlide>& pockets);

/// A slide for each pocket, behind the pins that are there already: "Slide 3".
Status add_pocket_slides(PinsResult& pins, const OriginalResult& master, const std::vector<PocketSlide>& pockets,
                         double wall_mm, const PinRules& rules, const Progress& progress = Progress::none());

}  // namespace palinform
