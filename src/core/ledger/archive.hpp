#pragma once
/// A job to hand on: a zip named .palinform with job.json, meshes/<hash>.ply (binary, full precision) and, where the
/// part is traced on one, pictures/<hash>.
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "base/result.hpp"
#include "job/job.hpp"
#include "mesh/tri_mesh.hpp"

namespace palinform {

struct JobArchive {
  Job job;
  std::optional<TriMesh> mesh;  ///< none where the job has no mesh
  std::vector<TriMesh> joined;  ///< in the order of further_meshes()
  std::string picture;          ///< that the part is traced on, as a file's bytes; empty: none
};

/// `joined`: those of further_meshes(), in that order; `picture`: the bytes of the tracing's.
Result<std::string> archive_bytes(const Job& job, const TriMesh* mesh,
                                  const std::vector<std::shared_ptr<const TriMesh>>& joined = {},
                                  const std::string& picture = {});
/// Reads a .palinform archive or a bare job.json (then without mesh). A mesh that does not match the job's hash is
/// refused.
Result<JobArchive> read_archive(std::string_view bytes, const std::string& name);

/// PLY, binary, double precision: loses nothing.
std::string ply_bytes(const TriMesh& mesh);

}  // namespace palinform
