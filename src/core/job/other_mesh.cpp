#include "job/other_mesh.hpp"

namespace palinform {

int anchored_on_mesh(const Job& j) {
  const FlowSetup& f = j.flow;
  const size_t n = j.marks.size() + j.master_steps.size() + j.split_marks.keep_clear.size() +
                   j.split_marks.to_a.size() + j.split_marks.to_b.size() + j.split_marks.line.size() + j.bores.size() +
                   j.piece_pulls.size() + j.key_places.size() + f.vents.size() + f.no_vents.size() + j.answers.size();
  return static_cast<int>(n) + j.pull.has_value() + f.gate.has_value();
}

Job with_other_mesh(Job j, const MeshRef& mesh) {
  j.mesh = mesh;
  j.pull.reset();
  j.marks.clear();
  j.master_steps.clear();
  j.split_marks = {};
  j.bores.clear();
  j.piece_pulls.clear();
  j.key_places.clear();
  j.answers.clear();
  const FlowSetup plain;
  j.flow.gate.reset();
  j.flow.vents.clear();
  j.flow.no_vents.clear();
  j.flow.keep_gate = j.flow.keep_vents = false;
  j.flow.turned_over = plain.turned_over;
  j.flow.tilt_deg = plain.tilt_deg, j.flow.azimuth_deg = plain.azimuth_deg;
  return j;
}

Job with_rescaled_mesh(Job j, const MeshRef& mesh, double by) {
  j.mesh = mesh;
  for (FaceMark& m : j.marks) m.point_mm *= by;
  for (MasterStep& s : j.master_steps) s.point_mm *= by;
  for (auto* spots : {&j.split_marks.keep_clear, &j.split_marks.to_a, &j.split_marks.to_b, &j.split_marks.line})
    for (SplitMarks::Spot& s : *spots) s.point_mm *= by, s.radius_mm *= by;
  for (BoreTreatment& b : j.bores) b.point_mm *= by, b.radius_mm *= by;
  for (Vec3& p : j.key_places) p *= by;
  for (MeasuredSize& s : j.sizes) s.from_mm *= by, s.to_mm *= by;
  if (j.flow.gate) *j.flow.gate *= by;
  for (auto* places : {&j.flow.vents, &j.flow.no_vents})
    for (Vec3& p : *places) p *= by;
  for (Answer& a : j.answers)
    if (a.point_mm) *a.point_mm *= by;
  return j;
}

}  // namespace palinform
