#pragma once
/// What the shop owns against what the job asks of it: chamber, pot, oven, drills.
#include "base/finding.hpp"
#include "job/job.hpp"
#include "rules/equipment.hpp"

namespace palinform {

struct VesselsAsked {
  Vec3 mould_mm;              ///< outside of the rubber: across, across, up
  double box_mm = 0;          ///< floor, rubber and rim; 0: nothing is poured in a box
  double sheet_mm = 0;        ///< of the box's walls
  bool closed = true;         ///< it is cast in closed: goes into the pot, or the chamber, as it is
  bool gate = false;          ///< gate and vents are cut into it
  bool degas_in_box = false;  ///< its rubber is put under vacuum where it is poured
  double post_cure_c = 0;     ///< warmest of rubber and casting; 0: none
  FlowSetup flow;
  double chamber_mm = 0, pot_mm = 0;  ///< clear heights that the job gives; 0: the shop's
};

struct VesselFindings {
  std::vector<Finding> mould, flow;
};
/// Nothing is said of a vessel the shop has not entered.
VesselFindings vessel_findings(const VesselsAsked& asked, const Equipment& shop);

}  // namespace palinform
