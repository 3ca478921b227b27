#include "mould/whole.hpp"

#include "mesh/primitives.hpp"
#include "solid/carve.hpp"

namespace palinform {

Result<TriMesh> rubber_whole(const TriMesh& mesh, const Mould& m, Form form, const std::optional<Vec3>& flat_normal,
                             const FormRates& rates, double voxel, const Progress& progress) {
  if (form == Form::putty) {
    auto g = grown(mesh, rates.putty_mm, voxel, progress.part(0, 0.5));
    if (!g) return g;
    return carved({*g}, {mesh}, 0, voxel, progress.part(0.5, 1));
  }
  if (form != Form::cut && form != Form::open)
    return Error{"this form has no rubber in one piece", "mould", "Choose open face, whole pour or putty."};
  const bool open = form == Form::open && flat_normal;
  const Transform frame = open ? frame_around(mesh, -*flat_normal) : m.frame;
  const Box3 in = box_in(mesh, frame);
  const double wall = m.wall_mm;
  const TriMesh block = box_in_frame(frame, {in.min.x - wall, in.min.y - wall, open ? in.min.z : in.min.z - wall},
                                     in.max + Vec3{wall, wall, wall});
  return carved({block}, {mesh}, 0, voxel, progress);
}

}  // namespace palinform
