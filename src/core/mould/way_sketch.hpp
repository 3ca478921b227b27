#pragma once
/// A whole way drawn small: the part cut through its middle as it stands, the rubber round it, where the mould parts.
#include "base/drawing.hpp"
#include "mould/whole_ways.hpp"

namespace palinform {

struct WaySketch {
  std::vector<std::vector<Point2>> part;   ///< outlines, mm; y up as the rubber is poured
  std::vector<std::vector<Point2>> lines;  ///< where the mould parts
  Point2 low, high;                        ///< of the rubber; of a skin round the part
  bool boxed = true, plate = false;        ///< rubber fills a box; the part stands on a plate
  double skin_mm = 0;                      ///< brushed or pressed round it; 0: poured
  bool hard = false;                       ///< the mould is printed, not rubber
};

/// `flat_normal`: outward, of the open side; only for the open form and a strip.
WaySketch way_sketch(const TriMesh& mesh, const Mould& mould, const WholeWay& way,
                     const std::optional<Vec3>& flat_normal, const FormRates& rates,
                     const std::optional<WaveCut>& wave);

}  // namespace palinform
