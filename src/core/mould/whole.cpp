#include "mould/whole.hpp"

#include <algorithm>

#include "mould/several.hpp"

#include "mesh/primitives.hpp"
#include "solid/carve.hpp"

namespace palinform {

Result<TriMesh> rubber_whole(const TriMesh& mesh, const Mould& m, Form form, const std::optional<Vec3>& flat_normal,
                             const FormRates& rates, double voxel, const Progress& progress, int masters,
                             const std::vector<Socket>& sockets) {
  std::vector<TriMesh> away;
  for (const Socket& s : sockets) away.push_back(*s.body);
  if (form == Form::putty) {
    // Its outside is pressed by thumbs: a field so wide need not be as fine as the impression.
    auto g = grown(mesh, rates.putty_mm, std::max(voxel, 0.07 * rates.putty_mm), progress.part(0, 0.5));
    if (!g) return g;
    away.push_back(mesh);
    return carved({*g}, away, 0, voxel, progress.part(0.5, 1));
  }
  if (form != Form::cut && form != Form::open)
    return Error{"this form has no rubber in one piece", "mould", "Choose open face, whole pour or putty."};
  const bool open = form == Form::open && flat_normal;
  const Transform frame = open ? frame_around(mesh, -*flat_normal) : m.frame;
  Walls walls = m.walls;
  if (open) walls.floor_mm = 0;
  const std::vector<Vec3> places = master_places(mesh, frame, masters, walls.side_mm);
  const TriMesh all = repeated(mesh, places);
  for (TriMesh& socket : away) socket = repeated(socket, places);
  away.push_back(all);
  const Box3 box = box_round(box_in(all, frame), walls);
  const TriMesh block = box_in_frame(frame, box.min, box.max);
  return carved({block}, away, 0, voxel, progress);
}

}  // namespace palinform
