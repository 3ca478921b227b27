#pragma once
/// Edges in a grey picture: the place near a click where brightness changes most, to a fraction of a pixel.
#include <cstdint>
#include <optional>
#include <vector>

#include "drawn/photo_scale.hpp"

namespace palinform {

/// Rows from the top, 0 black to 255 white. The middle of pixel (0, 0) is at (0.5, 0.5).
struct GreyPicture {
  int width = 0, height = 0;
  std::vector<uint8_t> grey;
  double at(double x, double y) const;  ///< between pixels linear; beyond the edge as at it
};

/// The strongest edge within `reach_px` of a place; nothing where no brightness changes by `least` of 255 over three
/// pixels. Nearer edges are preferred: one at the rim of the reach must be three times as strong.
std::optional<Pixel> snapped_to_edge(const GreyPicture& picture, const Pixel& near, double reach_px, double least = 12);

/// The strongest edge along a line through `at` in unit direction `along`, within `reach_px` both ways.
std::optional<Pixel> edge_across(const GreyPicture& picture, const Pixel& at, const Pixel& along, double reach_px,
                                 double least = 12);

}  // namespace palinform
