#pragma once
/// Trapped air (M6): quasi-static filling with up-direction u. Cells are taken from the highest down and joined; a
/// region that holds no vent when it first touches one that does is a pocket, trapped down to that saddle. A vent lets
/// air out only while the liquid is below it, so what stands over its own level is a pocket too.
#include <optional>
#include <vector>

#include "base/finding.hpp"
#include "base/progress.hpp"
#include "base/result.hpp"
#include "flow/cavity.hpp"

namespace palinform {

/// A place open to the air: a point on the cavity's wall, or a disc of it.
struct AirHole {
  Vec3 at_mm;
  double radius_mm = 0;  ///< 0: a vent; larger: every wall cell within this distance is open
  static void fields(auto& s, auto&& f) {
    f("at_mm", s.at_mm);
    f("radius_mm", s.radius_mm);
  }
};

struct Pocket {
  Vec3 apex_mm;                   ///< its highest place
  double volume_mm3 = 0;          ///< at atmospheric pressure
  double depth_mm = 0;            ///< from the saddle up to its highest place
  std::optional<Vec3> saddle_mm;  ///< where it was cut off; none when no air gets out at all
};

struct Sweep {
  double trapped_mm3 = 0;
  std::vector<Pocket> pockets;  ///< largest first; their volumes add up to `trapped_mm3`
};

/// O(n) in the cells but for the near-constant cost of joining. Volumes count each cell's share above the level, which
/// keeps the error first order in the voxel. Everything happens in falling order of level, cells before vents of the
/// same one, so a further vent can never leave more air than there was. Deterministic.
Result<Sweep> sweep_air(const Cavity& cavity, const Vec3& up, const std::vector<AirHole>& openings,
                        const Progress& progress = Progress::none());

/// Air pressure at altitude (m): 101.325·(1 − 2.25577e-5·h)^5.25588 kPa (M7).
double air_pressure_kpa(double altitude_m);
/// What is left of a pocket under a gauge pressure, by Boyle: V·p/(p + Δp).
double under_pressure_mm3(double volume_mm3, double gauge_kpa, double altitude_m);
/// What is left after flooding in a vacuum (absolute) and letting the air back: V·p_vac/p.
double after_vacuum_mm3(double volume_mm3, double absolute_kpa, double altitude_m);
/// Gauge pressure that squeezes a pocket to `to_mm3`; 0 when it is that small already.
double pressure_for_kpa(double volume_mm3, double to_mm3, double altitude_m);
/// A gauge's greatest vacuum reading at altitude equals the air pressure there: what it reads at `absolute_kpa`.
double vacuum_gauge_kpa(double absolute_kpa, double altitude_m);
/// Diameter of the ball of a volume.
double ball_diameter_mm(double volume_mm3);

/// Up in the part's frame when the mould, standing with `base_up` up, is tilted by `tilt_deg` toward `azimuth_deg`.
Vec3 tilted_up(const Vec3& base_up, double tilt_deg, double azimuth_deg);

}  // namespace palinform
