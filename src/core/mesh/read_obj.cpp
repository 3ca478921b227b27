#include <charconv>

#include "base/text.hpp"
#include "mesh/readers.hpp"

namespace palinform::readers {

/// Points and faces only; faces of more than three corners are cut into a fan. Other statements are passed over.
Result<Raw> obj(std::string_view bytes, const std::string& name, const Progress& progress) {
  Raw raw;
  raw.format = "OBJ";
  if (bytes.substr(0, 4096).find('\0') != std::string_view::npos)
    return fault(name, "this is no OBJ file: it holds binary data");
  Words words(bytes);
  std::string_view line;
  std::vector<uint32_t> face;
  bool known = false;
  while (words.next_line(line)) {
    if (words.line_number() % 65536 == 0) {
      if (progress.cancelled()) return Error::stopped();
      progress.report(0.1 + 0.5 * static_cast<double>(words.position()) / static_cast<double>(bytes.size()));
    }
    const std::string_view word = Words::take(line);
    if (word == "v") {
      Vec3 p;
      if (!Words::number(line, p.x) || !Words::number(line, p.y) || !Words::number(line, p.z) || !finite(p))
        return fault(name, "line " + grouped(static_cast<double>(words.line_number())) +
                               " should give three coordinates and does not");
      raw.mesh.points.push_back(p);
      known = true;
    } else if (word == "f") {
      face.clear();
      for (std::string_view corner = Words::take(line); !corner.empty(); corner = Words::take(line)) {
        long long index = 0;
        const auto end = std::from_chars(corner.data(), corner.data() + corner.size(), index);
        const long long n = static_cast<long long>(raw.mesh.points.size());
        if (index < 0) index = n + index + 1;
        if (end.ec != std::errc() || (end.ptr != corner.data() + corner.size() && *end.ptr != '/') || index < 1 ||
            index > n)
          return fault(name, "line " + grouped(static_cast<double>(words.line_number())) +
                                 " names a point that is not there (\"" + std::string(corner.substr(0, 24)) + "\")");
        face.push_back(static_cast<uint32_t>(index - 1));
      }
      if (face.size() < 3)
        return fault(name, "line " + grouped(static_cast<double>(words.line_number())) +
                               " is a face of fewer than three corners");
      for (size_t k = 2; k < face.size(); ++k) raw.mesh.triangles.push_back({face[0], face[k - 1], face[k]});
      if (raw.mesh.triangles.size() > most_triangles) return too_many(name, raw.mesh.triangles.size());
      known = true;
    }
  }
  if (!known) return fault(name, "this does not read as an OBJ file: it has neither points nor faces");
  return raw;
}

}  // namespace palinform::readers
