// Workshop: meshes by content hash. They go in and out over a connection of their own and in pieces, so that a large
// one never holds up an edit.
#include <SQLiteCpp/SQLiteCpp.h>

#include <array>
#include <cstring>

#include "ledger/workshop.hpp"

namespace palinform {
namespace {

/// Magic, number of points, number of triangles.
using PackedHead = std::array<uint64_t, 3>;
constexpr uint64_t packed_magic = 0x3148534D4C4150ull;  // "PALMSH1"
PackedHead head_of(const TriMesh& mesh) { return {packed_magic, mesh.points.size(), mesh.triangles.size()}; }

}  // namespace

Result<std::string> Workshop::put_mesh(const TriMesh& mesh, const std::string& name) {
  if (read_only_) return reading_only();
  if (auto ok = check_mesh(mesh, name); !ok) return ok.error();
  const std::string hash = hash_of(mesh).hex();
  constexpr std::ptrdiff_t piece = 4'000'000;
  std::lock_guard hold(meshes_mutex_);
  try {
    SQLite::Statement known(*meshes_, "SELECT 1 FROM mesh WHERE hash = ?");
    known.bind(1, hash);
    // Whoever puts one in is about to ask for it.
    if (cached_hash_ != hash) cached_ = std::make_shared<const TriMesh>(mesh), cached_hash_ = hash;
    if (known.executeStep()) return hash;
    int part = 0;
    const auto put = [&](const void* data, size_t bytes) {
      const char* at = static_cast<const char*>(data);
      for (const char* end = at + bytes; at < end; ++part) {
        const auto n = std::min(piece, end - at);
        SQLite::Statement q(*meshes_, "INSERT OR REPLACE INTO mesh_part (hash, part, data) VALUES (?, ?, ?)");
        q.bind(1, hash);
        q.bind(2, part);
        q.bindNoCopy(3, at, static_cast<int>(n));
        q.exec();
        at += n;
      }
    };
    const PackedHead head = head_of(mesh);
    put(head.data(), sizeof head);
    put(mesh.points.data(), mesh.points.size() * sizeof(Vec3));
    put(mesh.triangles.data(), mesh.triangles.size() * sizeof(Triangle));
    // The row itself comes last: without it the pieces count for nothing.
    SQLite::Statement q(*meshes_, "INSERT OR IGNORE INTO mesh (hash, name, triangles, data) VALUES (?, ?, ?, x'')");
    q.bind(1, hash);
    q.bind(2, name);
    q.bind(3, static_cast<int64_t>(mesh.triangles.size()));
    q.exec();
    return hash;
  } catch (const std::exception& e) { return fault(e); }
}

Result<std::shared_ptr<const TriMesh>> Workshop::mesh(const std::string& hash) {
  std::string bytes;
  {
    std::lock_guard hold(meshes_mutex_);
    if (cached_ && cached_hash_ == hash) return cached_;
    try {
      SQLite::Statement q(*meshes_, "SELECT data FROM mesh WHERE hash = ?");
      q.bind(1, hash);
      if (!q.executeStep()) return Error{"the job's mesh is not in this workshop", hash, "Open the mesh file again."};
      const auto append = [&](const SQLite::Column& data) {
        bytes.append(static_cast<const char*>(data.getBlob()), static_cast<size_t>(data.getBytes()));
      };
      append(q.getColumn(0));
      SQLite::Statement parts(*meshes_, "SELECT data FROM mesh_part WHERE hash = ? ORDER BY part");
      parts.bind(1, hash);
      while (parts.executeStep()) append(parts.getColumn(0));
    } catch (const std::exception& e) { return fault(e); }
  }
  auto mesh = unpack_mesh(bytes);
  const Error damaged{"the job's mesh is damaged in the workshop", hash, "Open the mesh file again."};
  if (!mesh || hash_of(*mesh).hex() != hash) return damaged;
  // The workshop's own file is a road in like any other.
  if (auto ok = check_mesh(*mesh, "the job's mesh"); !ok) return ok.error();
  auto shared = std::make_shared<const TriMesh>(*std::move(mesh));
  std::lock_guard hold(meshes_mutex_);
  cached_hash_ = hash;
  cached_ = shared;
  return shared;
}

std::string pack_mesh(const TriMesh& mesh) {
  const PackedHead head = head_of(mesh);
  std::string out(sizeof head + mesh.points.size() * sizeof(Vec3) + mesh.triangles.size() * sizeof(Triangle), '\0');
  std::memcpy(out.data(), head.data(), sizeof head);
  std::memcpy(out.data() + sizeof head, mesh.points.data(), mesh.points.size() * sizeof(Vec3));
  std::memcpy(out.data() + sizeof head + mesh.points.size() * sizeof(Vec3), mesh.triangles.data(),
              mesh.triangles.size() * sizeof(Triangle));
  return out;
}

Result<TriMesh> unpack_mesh(std::string_view bytes) {
  const Error damaged{"the stored mesh is damaged", "", "Open the mesh file again."};
  PackedHead head;
  if (bytes.size() < sizeof head) return damaged;
  std::memcpy(head.data(), bytes.data(), sizeof head);
  if (head[0] != packed_magic || head[1] > 100'000'000 || head[2] > 100'000'000) return damaged;
  if (bytes.size() != sizeof head + head[1] * sizeof(Vec3) + head[2] * sizeof(Triangle)) return damaged;
  TriMesh mesh;
  mesh.points.resize(head[1]);
  mesh.triangles.resize(head[2]);
  std::memcpy(mesh.points.data(), bytes.data() + sizeof head, head[1] * sizeof(Vec3));
  std::memcpy(mesh.triangles.data(), bytes.data() + sizeof head + head[1] * sizeof(Vec3), head[2] * sizeof(Triangle));
  for (const Triangle& t : mesh.triangles)
    for (const uint32_t v : t)
      if (v >= mesh.points.size()) return damaged;
  return mesh;
}

}  // namespace palinform
