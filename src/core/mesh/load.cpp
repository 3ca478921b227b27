#include "mesh/load.hpp"

#include <charconv>
#include <cmath>
#include <cstdio>
#include <cstring>
#include <filesystem>
#include <memory>
#include <unordered_map>

#include "base/text.hpp"
#include "mesh/readers.hpp"

namespace palinform {

std::string_view name_of(LengthUnit unit) {
  switch (unit) {
    case LengthUnit::cm:
      return "cm";
    case LengthUnit::inch:
      return "in";
    case LengthUnit::m:
      return "m";
    default:
      return "mm";
  }
}
std::optional<LengthUnit> length_unit(std::string_view name) {
  for (const auto u : {LengthUnit::mm, LengthUnit::cm, LengthUnit::inch, LengthUnit::m})
    if (name == name_of(u)) return u;
  return std::nullopt;
}
double mm_per(LengthUnit unit) {
  switch (unit) {
    case LengthUnit::cm:
      return 10;
    case LengthUnit::inch:
      return 25.4;
    case LengthUnit::m:
      return 1000;
    default:
      return 1;
  }
}

std::optional<LengthUnit> guess_unit(double extent, LengthUnit used) {
  if (used != LengthUnit::mm) return std::nullopt;
  if (extent < 0.5) return LengthUnit::m;
  if (extent < 4) return LengthUnit::inch;
  return std::nullopt;
}

namespace readers {

Error too_many(const std::string& name, size_t triangles) {
  return {"it has " + grouped(static_cast<double>(triangles)) + " triangles; the limit is " +
              grouped(static_cast<double>(most_triangles)),
          name, "Thin the scan out first, for instance to one million."};
}

bool Words::next_line(std::string_view& line) {
  if (at_ >= text_.size()) return false;
  const size_t end = std::min(text_.find('\n', at_), text_.size());
  line = text_.substr(at_, end - at_);
  if (line.ends_with('\r')) line.remove_suffix(1);
  at_ = end + 1;
  ++line_;
  return true;
}
std::string_view Words::take(std::string_view& line) {
  size_t start = 0;
  while (start < line.size() && (line[start] == ' ' || line[start] == '\t')) ++start;
  size_t end = start;
  while (end < line.size() && line[end] != ' ' && line[end] != '\t') ++end;
  const std::string_view word = line.substr(start, end - start);
  line.remove_prefix(end);
  return word;
}
bool Words::number(std::string_view& line, double& out) {
  std::string_view word = take(line);
  if (word.starts_with('+')) word.remove_prefix(1);
  const auto end = std::from_chars(word.data(), word.data() + word.size(), out);
  return !word.empty() && end.ec == std::errc() && end.ptr == word.data() + word.size();
}
bool Words::integer(std::string_view& line, long long& out) {
  const std::string_view word = take(line);
  const auto end = std::from_chars(word.data(), word.data() + word.size(), out);
  return !word.empty() && end.ec == std::errc() && end.ptr == word.data() + word.size();
}

void weld_equal(TriMesh& mesh) {
  // Open addressing on the coordinates' bits: several times faster than a node-based map on a million points.
  const size_t n = mesh.points.size();
  size_t slots = 16;
  while (slots < n * 2) slots *= 2;
  constexpr uint32_t none = 0xFFFFFFFFu;
  std::vector<uint32_t> table(slots, none), to(n);
  std::vector<Vec3> kept;
  kept.reserve(n / 4);
  for (size_t i = 0; i < n; ++i) {
    Vec3 p = mesh.points[i];
    for (int k = 0; k < 3; ++k)
      if (p[k] == 0) p[k] = 0;  // −0 is 0
    uint64_t bits[3];
    std::memcpy(bits, &p, sizeof bits);
    uint64_t h =
        bits[0] * 0x9E3779B97F4A7C15ull ^ (bits[1] * 0xC2B2AE3D27D4EB4Full << 1) ^ bits[2] * 0x165667B19E3779F9ull;
    h ^= h >> 29;
    h *= 0xBF58476D1CE4E5B9ull;
    h ^= h >> 32;
    size_t slot = h & (slots - 1);
    while (table[slot] != none && !(kept[table[slot]] == p)) slot = (slot + 1) & (slots - 1);
    if (table[slot] == none) {
      table[slot] = static_cast<uint32_t>(kept.size());
      kept.push_back(p);
    }
    to[i] = table[slot];
  }
  for (Triangle& t : mesh.triangles)
    for (uint32_t& v : t) v = to[v];
  mesh.points = std::move(kept);
}

}  // namespace readers

Result<LoadedMesh> read_mesh(std::string_view bytes, const std::string& name, std::optional<LengthUnit> unit,
                             Progress& progress) {
  using readers::fault;
  if (bytes.empty()) return fault(name, "the file is empty");
  const std::string ending = lower_ascii(std::filesystem::path(name).extension().string());
  Result<readers::Raw> raw = [&]() -> Result<readers::Raw> {
    if (ending == ".stl") return readers::stl(bytes, name, progress);
    if (ending == ".obj") return readers::obj(bytes, name, progress);
    if (ending == ".ply") return readers::ply(bytes, name, progress);
    if (ending == ".3mf") return readers::threemf(bytes, name, progress);
    if (ending == ".step" || ending == ".stp") return readers::step(bytes, name, progress);
    return fault(name, "a file ending in \"" + ending + "\" is no mesh file that Palinform reads",
                 "Use STL, OBJ, PLY, 3MF or STEP.");
  }();
  if (!raw) return raw.error();
  if (progress.cancelled()) return Error::stopped();
  TriMesh& mesh = raw->mesh;
  if (mesh.triangles.empty()) return fault(name, "it holds no faces");
  if (mesh.triangles.size() > most_triangles) return readers::too_many(name, mesh.triangles.size());
  for (size_t i = 0; i < mesh.points.size(); ++i)
    if (!finite(mesh.points[i]) ||
        std::abs(mesh.points[i].x) + std::abs(mesh.points[i].y) + std::abs(mesh.points[i].z) > 1e9)
      return fault(name, "point " + grouped(static_cast<double>(i + 1)) + " has a coordinate that is no usable number");
  readers::weld_equal(mesh);

  LoadedMesh out;
  out.format = raw->format;
  out.unit_from_file = raw->unit.has_value() && !unit;
  out.unit = unit ? *unit : raw->unit.value_or(LengthUnit::mm);
  const double mm = mm_per(out.unit);
  out.exact = std::move(raw->exact);
  out.deflection_mm = raw->deflection_mm;
  if (mm != 1) {
    for (Vec3& p : mesh.points) p *= mm;
    for (ExactFace& e : out.exact) e.point_mm *= mm, e.diameter_mm *= mm, e.depth_mm *= mm;
    if (out.deflection_mm) *out.deflection_mm *= mm;
  }
  const MeshMeasure m = measure(mesh);
  const Vec3 extent = m.box_mm.size();
  const double largest = std::max({extent.x, extent.y, extent.z});
  if (!(m.area_mm2 > 1e-12 * std::max(largest * largest, 1e-12)))
    return fault(name, "all of its " +
                           counted(static_cast<long long>(mesh.triangles.size()), "face has", "faces have") +
                           " zero area");
  if (!unit && !raw->unit) out.unit_guess = guess_unit(largest / mm, out.unit);
  out.mesh = std::move(mesh);
  progress.report(1);
  return out;
}

Result<LoadedMesh> load_mesh(const std::string& path, std::optional<LengthUnit> unit, Progress& progress) {
  const std::string name = base_name(path);
  std::error_code ec;
  if (!std::filesystem::exists(path, ec)) return Error{"there is no such file", path, "Check the name and the folder."};
  if (!std::filesystem::is_regular_file(path, ec)) return Error{"this is no file", path, "Name a mesh file."};
  const auto size = std::filesystem::file_size(path, ec);
  constexpr uintmax_t most_bytes = 3'000'000'000;
  if (ec || size > most_bytes)
    return Error{"the file is too large to read (over 3 GB)", name, "Thin the scan out first."};
  std::unique_ptr<FILE, int (*)(FILE*)> file(std::fopen(path.c_str(), "rb"), std::fclose);
  std::string bytes(size, '\0');
  if (!file || std::fread(bytes.data(), 1, size, file.get()) != size)
    return Error{"the file cannot be read", name, "Check its permissions."};
  progress.report(0.1);
  return read_mesh(bytes, name, unit, progress);
}

}  // namespace palinform
