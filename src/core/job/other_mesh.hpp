#pragma once
/// What happens to a job's marks when its mesh changes: they lie on that mesh and on no other.
#include "job/job.hpp"

namespace palinform {

/// How many things lie on the job's mesh: pull, marks, strokes, bores' treatments, pieces, keys moved by hand, gate,
/// vents, barred places, steps of the master, answers.
int anchored_on_mesh(Job job);

/// Lifts what lies on the mesh out of the job, which is left with nothing of it; and puts such down on its mesh.
Anchored lift_anchored(Job& job);
void lay_anchored(Job& job, Anchored anchored);

/// The job on another mesh: what lay on the old one is set aside, a safety answer too, and comes back when the old
/// mesh does. Sizes stay with their figures, castings and materials stay.
Job with_other_mesh(Job job, const MeshRef& mesh);

/// The job with another drawing: its sizes follow it, and what lies on the part stays where it is. A mesh the job had
/// goes, with what lay on it set aside.
Job with_drawing(Job j, Drawn drawn);

/// The same mesh read in another unit: everything that lies on it is scaled with it.
Job with_rescaled_mesh(Job job, const MeshRef& mesh, double factor);

}  // namespace palinform
