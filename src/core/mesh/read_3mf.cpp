#include <charconv>
#include <map>
#include <pugixml.hpp>

#include "base/text.hpp"
#include "base/zip.hpp"
#include "mesh/readers.hpp"

namespace palinform::readers {
namespace {

/// 3MF transforms are twelve numbers, row vectors: p' = p·M.
struct Affine {
  double m[12] = {1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0};
  Vec3 operator()(const Vec3& p) const {
    return {p.x * m[0] + p.y * m[3] + p.z * m[6] + m[9], p.x * m[1] + p.y * m[4] + p.z * m[7] + m[10],
            p.x * m[2] + p.y * m[5] + p.z * m[8] + m[11]};
  }
  double determinant() const {
    return m[0] * (m[4] * m[8] - m[5] * m[7]) - m[1] * (m[3] * m[8] - m[5] * m[6]) + m[2] * (m[3] * m[7] - m[4] * m[6]);
  }
};

bool parse_transform(const char* text, Affine& out) {
  if (!*text) return true;
  std::string_view rest(text);
  for (double& v : out.m)
    if (!Words::number(rest, v)) return false;
  return true;
}

/// A whole token with a full stop, whatever the user's locale.
std::optional<double> coordinate(std::string_view s) {
  double v = 0;
  const auto end = std::from_chars(s.data(), s.data() + s.size(), v);
  if (s.empty() || end.ec != std::errc() || end.ptr != s.data() + s.size() || !std::isfinite(v)) return std::nullopt;
  return v;
}

/// Names count without their namespace's prefix, which is the writer's to choose.
std::string_view local(const char* name) {
  const std::string_view s(name);
  const size_t colon = s.find(':');
  return colon == std::string_view::npos ? s : s.substr(colon + 1);
}
pugi::xml_node child(const pugi::xml_node& of, std::string_view name) {
  for (const auto c : of.children())
    if (local(c.name()) == name) return c;
  return {};
}
std::vector<pugi::xml_node> children(const pugi::xml_node& of, std::string_view name) {
  std::vector<pugi::xml_node> out;
  for (const auto c : of.children())
    if (local(c.name()) == name) out.push_back(c);
  return out;
}

/// An object's place in the file: the model part it stands in (the production extension has many), and its id there.
struct ObjectName {
  std::string part, id;
  auto operator<=>(const ObjectName&) const = default;
};
/// "/3D/Objects/wheel.model" as the archive has it.
std::string entry_of(std::string_view path) { return std::string(path.starts_with('/') ? path.substr(1) : path); }
/// What a component or a build item refers to: in the part that its "path" names, else in its own.
ObjectName referred(const pugi::xml_node& node, const std::string& own_part) {
  ObjectName out{own_part, node.attribute("objectid").value()};
  for (const auto a : node.attributes())
    if (local(a.name()) == "path") out.part = entry_of(a.value());
  return out;
}

struct Reader {
  const std::string& name;
  const Progress& progress;
  std::map<ObjectName, pugi::xml_node> objects;
  Raw raw;
  size_t uses = 0;

  Status place(const ObjectName& which, const std::vector<Affine>& chain, int depth) {
    const std::string& id = which.id;
    const auto found = objects.find(which);
    if (found == objects.end()) return fault(name, "it refers to an object \"" + id + "\" that is not there");
    if (depth > 16 || ++uses > 100'000) return fault(name, "its objects contain one another without end");
    if (progress.cancelled()) return Error::stopped();
    const pugi::xml_node object = found->second;
    bool flip = false;
    for (const Affine& a : chain) flip ^= a.determinant() < 0;
    if (const auto mesh = child(object, "mesh")) {
      const size_t first = raw.mesh.points.size();
      for (const auto v : child(mesh, "vertices").children()) {
        if (local(v.name()) != "vertex") continue;
        Vec3 p;
        for (int k = 0; k < 3; ++k) {
          const char* axis = k == 0 ? "x" : k == 1 ? "y" : "z";
          const auto value = coordinate(v.attribute(axis).value());
          if (!value)
            return fault(name, std::string("a point of object \"") + id + "\" has no number as its " + axis + ": \"" +
                                   std::string(v.attribute(axis).value()).substr(0, 40) + "\"");
          p[k] = *value;
        }
        for (auto a = chain.rbegin(); a != chain.rend(); ++a) p = (*a)(p);
        raw.mesh.points.push_back(p);
        // An object of many points that is used many times.
        if (raw.mesh.points.size() > 3 * most_triangles)
          return fault(name, "its objects, used as often as it says, have too many points", "Thin the scan out first.");
      }
      const size_t count = raw.mesh.points.size() - first;
      for (const auto t : child(mesh, "triangles").children()) {
        if (local(t.name()) != "triangle") continue;
        Triangle tri;
        int k = 0;
        for (const char* corner : {"v1", "v2", "v3"}) {
          const unsigned long long v = t.attribute(corner).as_ullong(~0ull);
          if (v >= count) return fault(name, "a triangle of object \"" + id + "\" names a point that is not there");
          tri[k++] = static_cast<uint32_t>(first + v);
        }
        if (flip) std::swap(tri[1], tri[2]);
        raw.mesh.triangles.push_back(tri);
        if (raw.mesh.triangles.size() > most_triangles) return too_many(name, raw.mesh.triangles.size());
      }
    }
    for (const auto part : children(child(object, "components"), "component")) {
      std::vector<Affine> longer = chain;
      if (!parse_transform(part.attribute("transform").value(), longer.emplace_back()))
        return fault(name, "a component's transform is not twelve numbers");
      if (auto s = place(referred(part, which.part), longer, depth + 1); !s) return s;
    }
    return {};
  }
};

}  // namespace

Result<Raw> threemf(std::string_view bytes, const std::string& name, const Progress& progress) {
  ZipLimits limits;
  limits.entry = [](std::string_view path) -> size_t {
    return lower_ascii(path).ends_with(".model") ? 1'500'000'000 : 0;
  };
  limits.all_bytes = 2'000'000'000;
  auto zip = unzip(bytes, name, limits);
  if (!zip) return zip.error();
  std::string first;
  for (const auto& [path, content] : *zip)
    if (lower_ascii(path).ends_with(".model") && (first.empty() || path == "3D/3dmodel.model")) first = path;
  if (first.empty()) return fault(name, "it holds no 3D model part");
  progress.report(0.3);
  std::map<std::string, pugi::xml_document> docs;
  Reader reader{name, progress, {}, {}};
  for (const auto& [path, content] : *zip) {
    if (!lower_ascii(path).ends_with(".model")) continue;
    const auto parsed = docs[path].load_buffer(content.data(), content.size());
    if (!parsed) return fault(name, std::string("its model part is damaged: ") + parsed.description());
    for (const auto object : children(child(child(docs[path], "model"), "resources"), "object"))
      reader.objects[{path, object.attribute("id").value()}] = object;
    if (progress.cancelled()) return Error::stopped();
  }
  const auto root = child(docs[first], "model");
  reader.raw.format = "3MF";
  const std::string unit = root.attribute("unit").as_string("millimeter");
  double factor = 1;
  if (unit == "millimeter")
    reader.raw.unit = LengthUnit::mm;
  else if (unit == "centimeter")
    reader.raw.unit = LengthUnit::cm;
  else if (unit == "inch")
    reader.raw.unit = LengthUnit::inch;
  else if (unit == "meter")
    reader.raw.unit = LengthUnit::m;
  else if (unit == "micron")
    reader.raw.unit = LengthUnit::mm, factor = 1e-3;
  else if (unit == "foot")
    reader.raw.unit = LengthUnit::inch, factor = 12;
  else
    return fault(name, "its unit \"" + unit + "\" is unknown");
  for (const auto item : children(child(root, "build"), "item")) {
    std::vector<Affine> chain(1);
    if (!parse_transform(item.attribute("transform").value(), chain[0]))
      return fault(name, "an item's transform is not twelve numbers");
    if (auto s = reader.place(referred(item, first), chain, 0); !s) return s.error();
  }
  for (Vec3& p : reader.raw.mesh.points) p *= factor;
  return std::move(reader.raw);
}

}  // namespace palinform::readers
