#pragma once
/// How an insert lies in the cavity: what it takes of it, where it stands out, how near it comes to the wall (M24).
#include <optional>
#include <vector>

#include "base/progress.hpp"
#include "base/result.hpp"
#include "cast_in/insert.hpp"
#include "mesh/rays.hpp"
#include "mesh/tri_mesh.hpp"

namespace palinform {

/// A piece of the insert that stands out of the part.
struct StandsOut {
  Vec3 at_mm;                          ///< its middle
  Vec3 foot_mm;                        ///< on the part's skin, where it comes out
  Vec3 out;                            ///< unit: the skin's outward normal there
  double volume_mm3 = 0, deep_mm = 0;  ///< deep: how far from the part's skin it reaches
};

struct Seating {
  double body_mm3 = 0;             ///< of the insert as it lies there, its bore plugged where a pin holds it
  double inside_mm3 = 0;           ///< of it in the cavity: so much less resin
  std::vector<StandsOut> seats;    ///< deep enough to hold it
  std::vector<StandsOut> touches;  ///< too shallow: it touches the wall there
  std::optional<double> gap_mm;    ///< least, along its own normals, to the wall; none where no wall is met
  Vec3 gap_at_mm;                  ///< on the insert
  Vec3 gap_way;                    ///< unit: from there to the wall
  double thin_share = 0;           ///< of its skin in the cavity: with less over it than the rule asks
  double outside_mm3() const;
};

/// What is left of a cavity when an insert lies in it, and how it lies there.
struct Seated {
  Seating how;
  TriMesh cavity;   ///< closed
  TriMesh outside;  ///< of the insert; empty where all of it lies inside
};

/// Exact (CGAL): cavity and insert are closed and free of self-intersections. Refused where the insert lies outside,
/// where it leaves nothing of the cavity, or where the meshes cannot be told apart cleanly. `on_pin_mm`: radius about
/// the insert's axis that a pin takes up; what of it stands out there is the pin's, and no touch.
Result<Seated> seat_insert(const TriMesh& cavity, const RayScene& cavity_rays, const TriMesh& body,
                           const Insert& insert, const InsertRules& rules, const Progress& progress = Progress::none());

/// Newtons that lift an insert as the resin stands round it; below nought it hangs: M24.
double lift_on_insert_n(double immersed_mm3, double mass_g, double resin_g_cm3);

}  // namespace palinform
