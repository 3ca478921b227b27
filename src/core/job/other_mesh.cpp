#include "job/other_mesh.hpp"

#include <algorithm>

#include "original/drawn_sizes.hpp"

namespace palinform {

Anchored lift_anchored(Job& j) {
  Anchored a;
  const FlowSetup plain;
  FlowSetup& f = j.flow;
  a.mesh = j.original.shape_key();
  a.marks = std::exchange(j.original.marks, {});
  a.master_steps = std::exchange(j.original.master_steps, {});
  a.pull = std::exchange(j.split.pull, {});
  a.split_marks = std::exchange(j.split.marks, {});
  a.bores = std::exchange(j.split.bores, {});
  a.openings = std::exchange(j.split.openings, {});
  a.pockets = std::exchange(j.split.pockets, {});
  a.inserts = std::exchange(j.split.inserts, {});
  a.threads = std::exchange(j.split.threads, {});
  a.piece_pulls = std::exchange(j.split.piece_pulls, {});
  a.key_places = std::exchange(j.mould.key_places, {});
  a.turned_over = std::exchange(f.turned_over, plain.turned_over);
  a.tilt_deg = std::exchange(f.tilt_deg, plain.tilt_deg);
  a.azimuth_deg = std::exchange(f.azimuth_deg, plain.azimuth_deg);
  a.keep_gate = std::exchange(f.keep_gate, false);
  a.keep_vents = std::exchange(f.keep_vents, false);
  a.gate = std::exchange(f.gate, {});
  a.vents = std::exchange(f.vents, {});
  a.no_vents = std::exchange(f.no_vents, {});
  a.heap = std::exchange(f.squeeze.heap, {});
  a.answers = std::exchange(j.answers, {});
  return a;
}

void lay_anchored(Job& j, Anchored a) {
  j.original.marks = std::move(a.marks);
  j.original.master_steps = std::move(a.master_steps);
  j.split.pull = a.pull;
  j.split.marks = std::move(a.split_marks);
  j.split.bores = std::move(a.bores);
  j.split.openings = std::move(a.openings);
  j.split.pockets = std::move(a.pockets);
  j.split.inserts = std::move(a.inserts);
  j.split.threads = std::move(a.threads);
  j.split.piece_pulls = std::move(a.piece_pulls);
  j.mould.key_places = std::move(a.key_places);
  j.flow.turned_over = a.turned_over;
  j.flow.tilt_deg = a.tilt_deg;
  j.flow.azimuth_deg = a.azimuth_deg;
  j.flow.keep_gate = a.keep_gate;
  j.flow.keep_vents = a.keep_vents;
  j.flow.gate = a.gate;
  j.flow.vents = std::move(a.vents);
  j.flow.no_vents = std::move(a.no_vents);
  j.flow.squeeze.heap = a.heap;
  j.answers = std::move(a.answers);
}

namespace {

int count(const Anchored& a) {
  const SplitMarks& m = a.split_marks;
  const size_t n = a.marks.size() + a.master_steps.size() + m.keep_clear.size() + m.to_a.size() + m.to_b.size() +
                   m.line.size() + a.bores.size() + a.openings.size() + a.pockets.size() + a.inserts.size() +
                   a.threads.size() + a.piece_pulls.size() + a.key_places.size() + a.vents.size() + a.no_vents.size() +
                   a.answers.size();
  return static_cast<int>(n) + a.pull.has_value() + a.gate.has_value() + a.heap.has_value();
}

}  // namespace

int anchored_on_mesh(Job job) { return count(lift_anchored(job)); }

Job with_other_mesh(Job j, const MeshRef& mesh) {
  constexpr size_t kept = 20;  // as many as a job's document takes
  Anchored old = lift_anchored(j);
  j.original.mesh = mesh;
  std::erase_if(j.set_aside, [&](const Anchored& a) { return a.mesh == old.mesh; });
  if (!old.mesh.empty() && count(old) > 0) j.set_aside.push_back(std::move(old));
  if (const auto known =
          std::find_if(j.set_aside.begin(), j.set_aside.end(), [&](const Anchored& a) { return a.mesh == mesh.hash; });
      known != j.set_aside.end()) {
    lay_anchored(j, std::move(*known));
    j.set_aside.erase(known);
  }
  if (j.set_aside.size() > kept) j.set_aside.erase(j.set_aside.begin());
  return j;
}

Job with_drawing(Job j, Drawn drawn) {
  // A picture that was only opened, or a loop without its thickness, takes nobody's place yet.
  if (!j.original.mesh.hash.empty() && drawn.complete()) j = with_other_mesh(std::move(j), {});
  j.original.sizes = followed(std::move(j.original.sizes), j.original.drawn, drawn);
  j.original.drawn = std::move(drawn);
  return j;
}

Job with_rescaled_mesh(Job j, const MeshRef& mesh, double by) {
  j.original.mesh = mesh;
  Anchored a = lift_anchored(j);
  for (FaceMark& m : a.marks) m.point_mm *= by;
  for (MasterStep& s : a.master_steps) s.point_mm *= by;
  SplitMarks& marks = a.split_marks;
  for (auto* spots : {&marks.keep_clear, &marks.to_a, &marks.to_b, &marks.line})
    for (SplitMarks::Spot& s : *spots) s.point_mm *= by, s.radius_mm *= by;
  for (BoreTreatment& b : a.bores) b.point_mm *= by, b.radius_mm *= by;
  for (OpeningChoice& o : a.openings) o.at_mm *= by, o.deep_mm *= by, o.thick_mm *= by, o.dimple_mm *= by;
  for (PocketSlide& p : a.pockets) p.at_mm *= by;
  // What is bought keeps its size.
  for (Insert& i : a.inserts) i.at_mm *= by;
  for (ThreadChoice& t : a.threads) t.at_mm *= by, t.found_mm *= by, t.deep_mm *= by;
  for (auto* places : {&a.key_places, &a.vents, &a.no_vents})
    for (Vec3& p : *places) p *= by;
  if (a.gate) *a.gate *= by;
  if (a.heap) *a.heap *= by;
  for (Answer& answer : a.answers)
    if (answer.point_mm) *answer.point_mm *= by;
  lay_anchored(j, std::move(a));
  for (MeasuredSize& s : j.original.sizes) s.from_mm *= by, s.to_mm *= by;
  return j;
}

}  // namespace palinform
