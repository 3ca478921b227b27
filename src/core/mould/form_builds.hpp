#pragma once
/// What the amounts of the forms are counted on. Each is built once for what it stands on, so that another rubber, one
/// coat more or a hundred copies build nothing anew (M5, M20).
#include <memory>
#include <optional>
#include <vector>

#include "mesh/rays.hpp"
#include "mould/box.hpp"
#include "mould/jacket.hpp"
#include "solid/carve.hpp"
#include "split/bores.hpp"

namespace palinform {

struct FormFacts;
struct FormRates;

/// What lies round the part within each distance: coats of a skin, and putty.
struct Growth {
  std::shared_ptr<const TriMesh> light;  ///< a lighter copy of a part of many triangles; null: it is light enough
  GrowthCurve curve;
  size_t bytes() const { return light ? 36 * light->triangles.size() : 0; }
};
/// Of which a form that is not the one in hand is built: level sets of this fineness see nothing of what the lighter
/// copy leaves out.
double form_voxel_mm(double largest_mm, double voxels_across);
/// `reach_mm`: see growth_reach_mm().
Result<Growth> growth_of(const TriMesh& mesh, double voxel_mm, double reach_mm,
                         const Progress& progress = Progress::none());
/// How far out is looked for a skin and putty of so much: in whole steps, so that a coat can grow a little.
double growth_reach_mm(double skin_mm, double putty_mm);

/// Two shells, and the rubber between them and the part.
struct JacketAmounts {
  double a_mm3 = 0, b_mm3 = 0, skin_mm3 = 0;
};
/// Skin that a field is made for, so that a skin which grows a little is read off the same one.
double field_skin_mm(double skin_mm);
/// Voxel of a jacket: nought (as fine as it is written) of the form in hand, a coarse one of the others.
double jacket_voxel_mm(bool in_hand, double largest_mm, double voxels_across);

/// Rubber poured whole round the part.
struct WholePours {
  std::optional<RubberPour> open;  ///< of an open face; none without a flat face
  Vec3 open_box_mm;                ///< … and the inside of its box
  RubberPour cut;
};
/// `pitch_mm`: of the columns; 0: mould_pitch_mm().
Result<WholePours> whole_pours(const TriMesh& mesh, const Transform& frame, const Walls& walls,
                               const std::optional<Vec3>& flat_normal, double pitch_mm = 0,
                               const Progress& progress = Progress::none());

/// A core stands in the largest bore, where that is a good part of the part.
bool bore_takes_a_core(const Bore& bore, double part_mm3);
/// Counted where the casting comes off it, or where it is the form in hand.
bool cup_is_counted(const Bore& bore, double part_mm3, bool resin_is_rubber, bool in_hand);
/// As fine as it is written (`asked_mm`) of the form in hand.
double cup_amount_voxel_mm(const TriMesh& mesh, bool in_hand, double asked_mm, double largest_mm, double voxels_across);
/// Printed cup and core, all three bodies.
Result<double> cup_amount_mm3(const TriMesh& mesh, const RayScene& rays, const Split& split, const Bore& bore,
                              double wall_mm, double voxel_mm, const Progress& progress = Progress::none());

/// Cells of skin_samples(): more of the form in hand.
double coat_cells(bool in_hand, double voxels_across);

struct FormBuilds {
  GrowthCurve growth;
  std::vector<double> coats_a;           ///< coat_shares_a(), as many as there are coats
  std::optional<JacketAmounts> jacket;   ///< none without a line
  std::optional<double> cup_core_mm3{};  ///< where it is counted
  WholePours whole;
};

/// Each coat's outer distance from the part; the coats are the job's, else the rule's.
std::vector<double> coat_offsets_mm(const std::vector<double>& coats_mm, const FormRates& rates);

/// All of them at once, one after the other.
Result<FormBuilds> build_for_forms(const TriMesh& mesh, const RayScene& rays, const Split& split, const Mould& two_part,
                                   const std::vector<Bore>& bores, const FormFacts& facts, const FormRates& rates,
                                   const Progress& progress = Progress::none());

}  // namespace palinform
