#include "ledger/archive.hpp"
#include "job/parts.hpp"

#include <cstring>

#include "base/text.hpp"
#include "base/zip.hpp"
#include "mesh/load.hpp"
#include "mesh/readers.hpp"

namespace palinform {

std::string ply_bytes(const TriMesh& mesh) {
  std::string out = "ply\nformat binary_little_endian 1.0\ncomment millimetres\nelement vertex " +
                    std::to_string(mesh.points.size()) +
                    "\nproperty double x\nproperty double y\nproperty double z\nelement face " +
                    std::to_string(mesh.triangles.size()) + "\nproperty list uchar uint vertex_indices\nend_header\n";
  const size_t head = out.size();
  out.resize(head + mesh.points.size() * 24 + mesh.triangles.size() * 13);
  char* at = out.data() + head;
  std::memcpy(at, mesh.points.data(), mesh.points.size() * 24);
  at += mesh.points.size() * 24;
  for (const Triangle& t : mesh.triangles) {
    *at++ = 3;
    std::memcpy(at, t.data(), 12);
    at += 12;
  }
  return out;
}

Result<std::string> archive_bytes(const Job& job, const TriMesh* mesh,
                                  const std::vector<std::shared_ptr<const TriMesh>>& joined,
                                  const std::string& picture) {
  ZipContent parts;
  parts["job.json"] = job_to_json(job);
  if (mesh) parts["meshes/" + job.original.mesh.hash + ".ply"] = ply_bytes(*mesh);
  const auto hashes = further_meshes(job);
  for (size_t i = 0; i < hashes.size() && i < joined.size(); ++i)
    parts["meshes/" + hashes[i] + ".ply"] = ply_bytes(*joined[i]);
  if (!picture.empty() && !job.original.drawn.tracing.picture.empty())
    parts["pictures/" + job.original.drawn.tracing.picture] = picture;
  return make_zip(parts);
}

Result<JobArchive> read_archive(std::string_view bytes, const std::string& name) {
  JobArchive out;
  if (trim(bytes.substr(0, 64)).starts_with('{')) {
    auto job = job_from_json(bytes, name);
    if (!job) return job.error();
    out.job = *std::move(job);
    return out;
  }
  ZipLimits limits;
  limits.entry = [](std::string_view path) -> size_t {
    if (path == "job.json") return most_job_bytes;
    if (path.starts_with("pictures/")) return 8'000'000;
    return path.starts_with("meshes/") && path.ends_with(".ply") ? 1'000'000'000 : 0;
  };
  limits.all_bytes = 2'000'000'000;
  limits.entries = 1000;
  auto parts = unzip(bytes, name, limits);
  if (!parts)
    return Error{"this is no Palinform job: " + parts.error().what, name, "Choose a .palinform file or a job.json."};
  if (!parts->contains("job.json")) return Error{"the archive holds no job.json", name, "Choose a .palinform file."};
  auto job = job_from_json((*parts)["job.json"], name);
  if (!job) return job.error();
  out.job = *std::move(job);
  const auto mesh_of = [&](const std::string& hash) -> Result<TriMesh> {
    const auto found = parts->find("meshes/" + hash + ".ply");
    if (found == parts->end()) return Error{"the archive lacks the job's mesh", name, "Export the job again."};
    // Straight from the reader: welding or scaling would change the hash.
    auto raw = readers::ply(found->second, name, Progress::none());
    if (!raw) return raw.error();
    if (hash_of(raw->mesh).hex() != hash)
      return Error{"the mesh in the archive is not the one the job speaks of", name, "Export the job again."};
    if (auto ok = check_mesh(raw->mesh, name); !ok) return ok.error();
    return std::move(raw->mesh);
  };
  if (!out.job.original.mesh.hash.empty()) {
    auto mesh = mesh_of(out.job.original.mesh.hash);
    if (!mesh) return mesh.error();
    out.mesh = *std::move(mesh);
  }
  if (const std::string& hash = out.job.original.drawn.tracing.picture; !hash.empty()) {
    const auto found = parts->find("pictures/" + hash);
    // Without its picture the outline is still there: it cannot be followed further.
    if (found != parts->end() && picture_hash(found->second) == hash) out.picture = std::move(found->second);
  }
  for (const std::string& hash : further_meshes(out.job)) {
    auto mesh = mesh_of(hash);
    if (!mesh) return mesh.error();
    out.joined.push_back(*std::move(mesh));
  }
  return out;
}

}  // namespace palinform
