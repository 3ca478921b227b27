#include "stages/reach_out.hpp"

#include "mould/halves.hpp"
#include "mould/smallest_box.hpp"

namespace palinform {

void reach_out(std::vector<PinPlan>& pins, const TriMesh& mesh, const Vec3& pull, const Walls& walls) {
  const Transform frame = frame_around(mesh, pull);
  const Box3 box = box_round(box_in(mesh, frame), walls);
  for (PinPlan& p : pins) {
    const Vec3 head_end = p.foot_mm + p.draw * (p.length_mm() - p.grip_mm);
    const double short_mm = way_out_mm(box, frame.direction(head_end), frame.direction(p.draw));
    if (short_mm > 0.5 * p.grip_mm) p = lengthened(std::move(p), short_mm);
  }
}

}  // namespace palinform
