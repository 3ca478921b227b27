#pragma once
/// What happens to a job's marks when its mesh changes: they lie on that mesh and on no other.
#include "job/job.hpp"

namespace palinform {

/// How many things lie on the job's mesh: pull, marks, strokes, bores' treatments, pieces, keys moved by hand, gate,
/// vents, barred places, steps of the master, answers.
int anchored_on_mesh(const Job& job);

/// The job on another mesh: nothing that lay on the old one stays, a safety answer least of all. Sizes stay with their
/// figures, castings and materials stay.
Job with_other_mesh(Job job, const MeshRef& mesh);

/// The same mesh read in another unit: everything that lies on it is scaled with it.
Job with_rescaled_mesh(Job job, const MeshRef& mesh, double factor);

}  // namespace palinform
