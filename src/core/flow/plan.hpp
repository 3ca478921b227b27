#pragma once
/// How the mould should stand while it fills, where resin goes in and where air comes out (M6, "tilt search").
#include <optional>
#include <string>
#include <vector>

#include "flow/channels.hpp"
#include "flow/sweep.hpp"

namespace palinform {

struct FlowPlanOptions {
  Vec3 base_up{0, 0, 1};       ///< up when it stands level
  bool may_turn_over = false;  ///< the other way up is tried too
  double max_tilt_deg = 45;
  int max_vents = 6;             ///< all together, kept ones with them
  double visible_mm = 0.5;       ///< diameter of the smallest void that is seen
  double tilt_step_deg = 5;      ///< rings tried
  int azimuths = 48;             ///< of each ring
  double coarse_cells = 20'000;  ///< of the search
  int finalists = 12;            ///< stands worked out on the finer grid
  std::vector<float> scar;       ///< per face: what a gate or vent there costs, 0 nothing … 10 never; empty: nothing
  std::optional<Vec3> gate;      ///< kept
  std::vector<Vec3> vents;       ///< kept
  std::vector<AirHole> open;     ///< besides, that cost nothing: a line that is left open
  std::vector<Vec3> no_vent;     ///< places without one
  double no_vent_mm = 4;         ///< their radius
  ChannelRules channels;
};

/// One way to stand, on the coarse grid.
struct StandTried {
  bool turned_over = false;
  double tilt_deg = 0, azimuth_deg = 0;
  double left_mm3 = 0;  ///< in bubbles that are seen, with the best vents allowed
  int vents = 0;        ///< that make a difference one sees
  double score = 0;     ///< lower is better
};

struct GatePlace {
  Vec3 at_mm, normal;
  double thick_mm = 0;      ///< of the part behind it
  double height_share = 0;  ///< 0 lowest … 1 highest of the part
  double dear = 0;          ///< FlowPlanOptions::scar of its face
  bool clear = false;       ///< a sprue gets there
  double score = 0;
};

struct FlowPlan {
  Vec3 up;
  bool turned_over = false;
  double tilt_deg = 0, azimuth_deg = 0;
  std::optional<GatePlace> gate;
  std::vector<Vec3> vents;  ///< kept ones first
  Sweep sweep;              ///< on the fine cavity, for just these vents
  double left_mm3 = 0;      ///< of it, in bubbles that are seen
  std::vector<StandTried> tried;
  std::vector<std::string> reasons;
};

/// Smallest volume that is seen: a ball of that diameter.
double visible_mm3(double visible_mm);
/// Large enough to be seen, however shallow.
bool pocket_seen(const Pocket& pocket, double visible_mm);

/// Places on the skin where a gate might be, with the section behind each: the largest ball inside the part that
/// touches within two gate diameters under the place. Up to 12 000, spread over faces.
std::vector<GatePlace> gate_places(const TriMesh& mesh, const RayScene& rays, const std::vector<float>& scar,
                                   const ChannelRules& rules);

/// Where resin should come in when `up` is up: low, thick, off dear faces, reachable. None where no face will do.
std::optional<GatePlace> choose_gate(const TriMesh& mesh, const RayScene& rays, const std::vector<GatePlace>& places,
                                     const Vec3& up, const ChannelRules& rules, double top_mm);

/// Tries every ring and turn on a coarse grid, the best `finalists` on one of 300 000 cells, the best of them on
/// `fine`. Score: bubbles that are seen above all; then vents, scars, tilt (50° weigh like a vent). Deterministic, on
/// all cores.
Result<FlowPlan> plan_flow(const TriMesh& mesh, const RayScene& rays, const Cavity& fine,
                           const FlowPlanOptions& options, const Progress& progress = Progress::none());

}  // namespace palinform
