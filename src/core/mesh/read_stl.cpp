#include <cstring>
#include <optional>

#include "base/text.hpp"
#include "mesh/readers.hpp"
#include "mesh/weld.hpp"

namespace palinform::readers {
namespace {

constexpr size_t header_size = 84, facet_size = 50;

Result<Raw> binary(std::string_view bytes, size_t count, const std::string& name, const Progress& progress) {
  if (count > most_triangles) return too_many(name, count);
  Raw raw;
  raw.format = "STL, binary";
  raw.mesh.triangles.resize(count);
  raw.welded = true;
  // Merged as they are read: written out first they would be three times as much.
  std::optional<size_t> bad;
  bool called_off = false;
  raw.mesh.points = weld(
      3 * count,
      [&](size_t i) {
        if (i % 196'608 == 0) {
          called_off = called_off || progress.cancelled();
          progress.report(0.1 + 0.7 * static_cast<double>(i) / static_cast<double>(3 * count));
        }
        float xyz[3];
        std::memcpy(xyz, bytes.data() + header_size + i / 3 * facet_size + 12 + i % 3 * 12, sizeof xyz);
        Vec3 p{xyz[0], xyz[1], xyz[2]};
        if (!usable(p)) {
          if (!bad) bad = i;
          p = {};
        }
        return p;
      },
      raw.mesh.triangles.data()->data());
  if (called_off) return Error::stopped();
  if (bad) return no_number(name, *bad);
  return raw;
}

Result<Raw> text(std::string_view bytes, const std::string& name, const Progress& progress) {
  Raw raw;
  raw.format = "STL, text";
  Words words(bytes);
  std::string_view line;
  int corners = 0;
  bool in_facet = false, ended = false;
  while (words.next_line(line)) {
    if (words.line_number() % 65536 == 0) {
      if (progress.cancelled()) return Error::stopped();
      progress.report(0.1 + 0.5 * static_cast<double>(words.position()) / static_cast<double>(bytes.size()));
    }
    const std::string word = lower_ascii(Words::take(line));
    const std::string at = "line " + grouped(static_cast<double>(words.line_number()));
    if (word.empty()) continue;
    if (word == "facet") {
      in_facet = true;
      corners = 0;
    } else if (word == "vertex") {
      Vec3 p;
      if (!Words::number(line, p.x) || !Words::number(line, p.y) || !Words::number(line, p.z) || !finite(p))
        return fault(name, at + " should give three coordinates and does not");
      if (!in_facet || ++corners > 3) return fault(name, at + " is a corner outside a three-cornered facet");
      raw.mesh.points.push_back(p);
    } else if (word == "endfacet") {
      if (corners != 3) return fault(name, at + " ends a facet of " + std::to_string(corners) + " corners");
      in_facet = false;
      const uint32_t n = static_cast<uint32_t>(raw.mesh.points.size());
      raw.mesh.triangles.push_back({n - 3, n - 2, n - 1});
      if (raw.mesh.triangles.size() > most_triangles) return too_many(name, raw.mesh.triangles.size());
    } else if (word == "endsolid") {
      ended = true;
    } else if (word == "solid" || word == "outer" || word == "endloop") {
      ended = ended && word != "solid";
    } else {
      return fault(name, at + " begins with a word an STL file does not have");
    }
  }
  if (in_facet || !ended)
    return fault(name, "the text stops before its end (after " +
                           counted(static_cast<long long>(raw.mesh.triangles.size()), "facet", "facets") + ")");
  return raw;
}

}  // namespace

Result<Raw> stl(std::string_view bytes, const std::string& name, const Progress& progress) {
  uint32_t count = 0;
  if (bytes.size() >= header_size) {
    std::memcpy(&count, bytes.data() + 80, 4);
    if (bytes.size() == header_size + size_t{count} * facet_size) return binary(bytes, count, name, progress);
  }
  const std::string_view head = bytes.substr(0, 2048);
  if (lower_ascii(trim(head)).starts_with("solid") && head.find('\0') == std::string_view::npos)
    return text(bytes, name, progress);
  if (bytes.size() < header_size)
    return fault(name, "it is only " + std::to_string(bytes.size()) + " bytes long; an STL file has at least 84");
  const size_t held = (bytes.size() - header_size) / facet_size;
  // A little trailing matter is common and harmless; anything else means a cut or a different file altogether.
  if (count > 0 && held >= count && bytes.size() - header_size - size_t{count} * facet_size < 1024)
    return binary(bytes, count, name, progress);
  if (count > 0 && held < count && held * 100 > count)
    return fault(name, "the file is cut short: it announces " + grouped(count) + " triangles and holds " +
                           grouped(static_cast<double>(held)));
  return fault(name, "this does not read as an STL file: its length does not fit the number of triangles it announces");
}

}  // namespace palinform::readers
