#pragma once
/// Where a drawn body's measures lie on it, for the picture and for its sizes.
#include <vector>

#include "drawn/solid.hpp"

namespace palinform {

struct MeasureLine {
  std::string body, key, words;  ///< the body's id, its measure, "Length"
  double mm = 0;
  Vec3 from_mm, to_mm;  ///< in the part's frame; one place where the measure has no ends of its own
  Vec3 axis;            ///< of what is round; nought else
  bool hollow = false;  ///< the measure of a hole or a slot
};

/// Of one body, in the order of its measures; those at nought are left out.
std::vector<MeasureLine> measure_lines(const DrawnBody& body);

/// What the outline of a traced part measures over all, and its thickness; empty where nothing is traced.
std::vector<MeasureLine> traced_lines(const Drawn& drawn);

}  // namespace palinform
