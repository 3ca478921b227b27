#pragma once
/// The rigid jacket of a brushed skin: two shells with a flange along the parting surface, bolted together, drawn off
/// along the pull (M5).
#include <vector>

#include "base/fields.hpp"
#include "mould/box.hpp"
#include "solid/lattice.hpp"

namespace palinform {

/// Rules of thumb.
struct JacketRules {
  double skin_mm = 5, shell_mm = 4;            ///< the shop's figures: FormRates
  double flange_mm = 18, flange_thick_mm = 5;  ///< width beyond the shell, and thickness of each shell's flange
  double bolt_mm = 6.4, bolt_every_mm = 60;    ///< hole, greatest spacing looked for
  double pry_wide_mm = 14, pry_deep_mm = 1.6;  ///< slots at the flange's edge to lever the shells apart
  double key_radius_mm = 6, key_high_mm = 3;   ///< rubber bumps on the skin that sit in the shell
  int keys_a_shell = 3;
  double layer_mm = 2.5;  ///< that paste or plaster stands at in one go
  double feet_mm = 12;    ///< across each of the three feet of shell a, on which it stands; 0: none
  static void fields(auto& s, auto&& f) {
    f("flange_mm", s.flange_mm, Within{0, 1000});
    f("flange_thick_mm", s.flange_thick_mm, Within{0, 1000});
    f("bolt_mm", s.bolt_mm, Within{1, 50});
    f("bolt_every_mm", s.bolt_every_mm, Within{5, 1000});
    f("pry_wide_mm", s.pry_wide_mm, Within{0, 1000});
    f("pry_deep_mm", s.pry_deep_mm, Within{0, 1000});
    f("key_radius_mm", s.key_radius_mm, Within{0, 1000});
    f("key_high_mm", s.key_high_mm, Within{0, 1000});
    f("keys_a_shell", s.keys_a_shell, Within{0, 20});
    f("layer_mm", s.layer_mm, Within{0.3, 100});
    f("feet_mm", s.feet_mm, Within{0, 200});
  }
};

struct JacketShell {
  TriMesh mesh;  ///< in the part's own frame
  double volume_mm3 = 0;
  double filler_mm3 = 0;  ///< thickened rubber put into hollows of the skin so that the shell draws off
};

struct Jacket {
  JacketShell a, b;
  TriMesh skin;                ///< the rubber with its keys and fillings, whole, in the part's own frame
  std::vector<Vec3> bolts_mm;  ///< middle of each hole on the parting surface, part's frame
  std::vector<Vec3> pry_mm;
  std::vector<Vec3> keys_mm;  ///< of a, then of b
  double voxel_mm = 0, skin_mm3 = 0;
};

/// The part's distances in the mould's frame, as far out as a jacket's flange: the longest of the work on a jacket, and
/// the same for every skin that is no thicker than the one it was made for.
struct JacketField {
  Lattice distance;
  Box3 part_mm;
  double reach_mm = 0;
  size_t bytes() const { return sizeof(float) * distance.value.size(); }
};
/// Voxels for what is brushed on: 0.6 mm, coarser where its box is over 130 mm (a 220th).
double skin_voxel_mm(const Vec3& size_mm);
/// `voxel_mm` 0: by the part's size. Refused over 80 million values.
Result<JacketField> jacket_field(const TriMesh& mesh, const Transform& frame, const JacketRules& rules = {},
                                 double voxel_mm = 0, const Progress& progress = Progress::none());

/// The same on every nth point of its lattice, for a look while something is dragged.
JacketField coarser(const JacketField& field, int every);

/// Built on that lattice. Each shell lies over everything the skin hides from it along the pull: hollows that would
/// hold it are told as filler.
Result<Jacket> plan_jacket(const JacketField& field, const Mould& mould, const JacketRules& rules,
                           const Progress& progress = Progress::none());
/// The same with a field of its own.
Result<Jacket> plan_jacket(const TriMesh& mesh, const Mould& mould, const JacketRules& rules = {}, double voxel_mm = 0,
                           const Progress& progress = Progress::none());

}  // namespace palinform
