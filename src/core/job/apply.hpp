#pragma once
/// Edits carried out on a Job.
#include "base/edit.hpp"
#include "job/job.hpp"

namespace palinform {

/// The job with the edit done; the same job gives the same one. Refused where it speaks of something that is not there,
/// where a figure is out of its range (check_job), and for MendMesh, which needs the mesh.
Result<Job> edited(const Job& job, const Edit& edit);

}  // namespace palinform
