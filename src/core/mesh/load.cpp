#include "mesh/load.hpp"

#include <charconv>
#include <cmath>
#include <cstdio>
#include <filesystem>
#include <memory>

#include "base/text.hpp"
#include "mesh/readers.hpp"
#include "mesh/weld.hpp"

namespace palinform {

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
  std::vector<uint32_t> to(mesh.points.size());
  std::vector<Vec3> kept = weld(
      mesh.points.size(), [&](size_t i) { return mesh.points[i]; }, to.data());
  for (Triangle& t : mesh.triangles)
    for (uint32_t& v : t) v = to[v];
  mesh.points = std::move(kept);
}

bool usable(const Vec3& p) { return finite(p) && std::abs(p.x) + std::abs(p.y) + std::abs(p.z) <= 1e9; }

Error no_number(const std::string& name, size_t point) {
  return fault(name, "point " + grouped(static_cast<double>(point + 1)) + " has a coordinate that is no usable number");
}

}  // namespace readers

Result<LoadedMesh> read_mesh(std::string_view bytes, const std::string& name, std::optional<LengthUnit> unit,
                             const Progress& progress) {
  using readers::fault;
  if (bytes.empty()) return fault(name, "the file is empty");
  const std::string ending = lower_ascii(std::filesystem::path(name).extension().string());
  if (bytes.starts_with("\xEF\xBB\xBF")) bytes.remove_prefix(3);  // some editors mark their text so
  // A statement that goes on over the line's end is one line to the reader.
  std::string joined;
  if (ending == ".obj" &&
      (bytes.find("\\\n") != std::string_view::npos || bytes.find("\\\r\n") != std::string_view::npos)) {
    joined = bytes;
    for (size_t at = 0; (at = joined.find('\\', at)) != std::string::npos; ++at) {
      const size_t end = joined.compare(at + 1, 2, "\r\n") == 0 ? 3 : joined.compare(at + 1, 1, "\n") == 0 ? 2 : 0;
      for (size_t k = 0; k < end; ++k) joined[at + k] = ' ';
    }
    bytes = joined;
  }
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
  // Checked as it stands in the file first, so that welding meets nothing that is no number.
  if (mesh.triangles.empty()) return fault(name, "it holds no faces");
  if (!raw->welded) {
    for (size_t i = 0; i < mesh.points.size(); ++i)
      if (!readers::usable(mesh.points[i])) return readers::no_number(name, i);
    readers::weld_equal(mesh);
  }

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
  if (auto ok = check_mesh(mesh, name); !ok) return ok.error();
  const MeshMeasure m = measure(mesh);
  const Vec3 extent = m.box_mm.size();
  const double largest = std::max({extent.x, extent.y, extent.z});
  if (!(m.area_mm2 > 1e-12 * std::max(largest * largest, 1e-12)))
    return fault(name, "all of its " +
                           counted(static_cast<long long>(mesh.triangles.size()), "face has", "faces have") +
                           " zero area");
  if (!unit && !raw->unit) out.unit_guess = guess_unit(largest / mm, out.unit);
  constexpr double odd_mm = 2000;  // hardly a part that is cast by hand
  if (largest > odd_mm)
    out.question = "It is " + shortest(largest / 1000, 1) + " m across as " + std::string(name_of(out.unit)) +
                   ". Is the unit right?";
  out.mesh = std::move(mesh);
  progress.report(1);
  return out;
}

Result<LoadedMesh> load_mesh(const std::string& path, std::optional<LengthUnit> unit, const Progress& progress) {
  const std::string name = base_name(path);
  std::error_code ec;
  if (!std::filesystem::exists(path, ec)) return Error{"there is no such file", path, "Check the name and the folder."};
  if (!std::filesystem::is_regular_file(path, ec)) return Error{"this is no file", path, "Name a mesh file."};
  const auto size = std::filesystem::file_size(path, ec);
  // Five million triangles: 250 MB as binary STL, under 1.5 GB written out as text; what is packed or exact is smaller.
  const std::string ending = lower_ascii(std::filesystem::path(name).extension().string());
  const bool packed = ending == ".3mf" || ending == ".step" || ending == ".stp";
  const uintmax_t most_bytes = packed ? 500'000'000 : 1'500'000'000;
  if (ec || size > most_bytes)
    return Error{"the file is too large to read (over " + grouped(static_cast<double>(most_bytes) * 1e-6) + " MB)",
                 name, "Thin the scan out first."};
  std::unique_ptr<FILE, int (*)(FILE*)> file(std::fopen(path.c_str(), "rb"), std::fclose);
  const auto bytes = std::make_unique_for_overwrite<char[]>(size);
  if (!file || std::fread(bytes.get(), 1, size, file.get()) != size)
    return Error{"the file cannot be read", name, "Check its permissions."};
  progress.report(0.1);
  return read_mesh({bytes.get(), static_cast<size_t>(size)}, name, unit, progress);
}

}  // namespace palinform
