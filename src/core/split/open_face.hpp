#pragma once
/// Does an open mould let go (M21)? The part stands on a flat face, rubber lies over it and is drawn off the other way;
/// what that leaves behind is judged by reach and mouth, as everywhere.
#include <optional>
#include <string>
#include <vector>

#include "base/names.hpp"
#include "base/progress.hpp"
#include "base/result.hpp"
#include "mesh/rays.hpp"
#include "split/undercuts.hpp"

namespace palinform {

enum class LetsGo { draws, peels, slit, no };
template <>
inline constexpr std::array names<LetsGo>{"draws"sv, "peels"sv, "slit"sv, "no"sv};

struct OpenFace {
  Vec3 normal;          ///< outward, unit: the open side
  double area_mm2 = 0;  ///< planar within `flat_mm`
  double share = 0;     ///< of the outline seen along the normal
  LetsGo verdict = LetsGo::draws;
  double reach_mm = 0, mouth_mm = 0;  ///< of what holds most; 0: nothing does
  std::optional<Vec3> at_mm = {};     ///< its mouth: the rubber is peeled, or slit, there first
  double slit_mm = 0;                 ///< height of the slit from the open rim
  int holds = 0;                      ///< places that hold
  std::string why = {};               ///< a sentence
};

struct OpenFaceOptions {
  double shore_a = 30;
  FlexRule rule = {};
  double flat_mm = 0.2;      ///< out of plane, and still the flat face
  double lip_mm = 0.3;       ///< a rounded edge beside it, no higher, is no undercut
  double least_share = 0.5;  ///< of the outline, to be proposed at all
  size_t most = 5;
  int slits = 2;        ///< more places than this that need a slit: no
  double pitch_mm = 0;  ///< of the cells; 0: the largest extent / 90
};

/// The largest flat faces that a mould could be open at, the best first: what draws before what peels, then by area.
/// `only`: that normal and no other, however small. Turning the part turns the answer with it.
Result<std::vector<OpenFace>> open_faces(const TriMesh& mesh, const RayScene& rays, const OpenFaceOptions& options,
                                         const std::optional<Vec3>& only = std::nullopt,
                                         const Progress& progress = Progress::none());

}  // namespace palinform
