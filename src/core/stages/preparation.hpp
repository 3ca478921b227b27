#pragma once
/// From the original's mesh to the master's: the Job's steps carried out, faces found, sections measured, the file to
/// print.
#include "stages/results.hpp"

namespace palinform {

/// Rays, pairs, picture shape and measures of one mesh.
Result<OriginalResult> ready_mesh(std::shared_ptr<const TriMesh> mesh, const Progress& progress);
/// The same of a drawn part, and of the body that stands in where only box and volume are known.
Result<OriginalResult> drawn_original(const Drawn& drawn, const Progress& progress);
Result<OriginalResult> stood_in_original(const BareOriginal& bare, const Progress& progress);

/// An original by what it comes from: its mesh, its drawing, or the body that stands in. Refused where it has no shape.
Result<OriginalResult> original_of(const OriginalPart& part, const MeshSource& meshes, const Progress& progress);

/// The master: the original itself where nothing is done to it.
Result<std::shared_ptr<const OriginalResult>> master_of(std::shared_ptr<const OriginalResult> original,
                                                        const std::vector<MasterStep>& steps, const MeshSource& meshes,
                                                        const Progress& progress);

/// Carries the steps out in order. An Error names the step.
Result<TriMesh> prepared_master(const OriginalResult& original, const std::vector<MasterStep>& steps,
                                const MeshSource& meshes, const Progress& progress);

FacesResult find_faces(const OriginalResult& original, const std::vector<FaceMark>& marks);

/// Mean local section at both ends of a size's line, where they lie on the part.
std::optional<double> section_of_line(const OriginalResult& original, const Vec3& from_mm, const Vec3& to_mm);

/// What to send to the printer, and how.
struct MasterFile {
  TriMesh mesh;  ///< scaled
  double volume_mm3 = 0;
  std::vector<std::string> advice;  ///< sentences
};
MasterFile master_file(const OriginalResult& master, const Job& job, const Shop& shop);

/// Where a point of the original lies on the master: mirrors move it, other steps do not.
Vec3 through_mirrors(Vec3 p, const std::vector<MasterStep>& steps, const Vec3& box_centre_mm);

}  // namespace palinform
