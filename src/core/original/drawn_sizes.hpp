#pragma once
/// Sizes that come with a drawing: each main measure of each body is one, and follows it when its number changes.
#include "drawn/measure_lines.hpp"
#include "original/size.hpp"

namespace palinform {

/// The sizes a drawing brings, with ids that name body and measure ("b1.length"): nominal, line, kind, strain weights.
/// Roundings bring none, nor what a body is cut away with beyond its own hole's width.
std::vector<MeasuredSize> drawn_sizes(const Drawn& drawn, double u_mm);

/// The size came with a drawing and follows it: its id names body and measure.
inline bool of_drawing(const MeasuredSize& s) { return s.id.find('.') != std::string::npos; }

/// `sizes` after the drawing went from `before` to `after`: those of new bodies are added with guessed limits, those
/// that follow a measure take its new nominal with their limits moved along, those of bodies that are gone go. A size
/// that was taken out stays out.
std::vector<MeasuredSize> followed(std::vector<MeasuredSize> sizes, const Drawn& before, const Drawn& after);

}  // namespace palinform
