#include "mesh/save.hpp"

#include <fmt/format.h>

#include <unistd.h>

#include <cstdio>
#include <cstring>
#include <filesystem>
#include <memory>

#include "base/text.hpp"
#include "base/zip.hpp"

namespace palinform {

std::string stl_bytes(const TriMesh& mesh) {
  std::string out(84 + mesh.triangles.size() * 50, '\0');
  std::memcpy(out.data(), "Palinform, millimetres", 22);
  const uint32_t n = static_cast<uint32_t>(mesh.triangles.size());
  std::memcpy(out.data() + 80, &n, 4);
  for (size_t t = 0; t < mesh.triangles.size(); ++t) {
    float f[12];
    const Vec3 normal = unit(mesh.area_vector(t), {0, 0, 0});
    for (int i = 0; i < 3; ++i) {
      f[i] = static_cast<float>(normal[i]);
      for (int k = 0; k < 3; ++k) f[3 + 3 * k + i] = static_cast<float>(mesh.corner(t, k)[i]);
    }
    std::memcpy(out.data() + 84 + t * 50, f, sizeof f);
  }
  return out;
}

Result<std::string> threemf_bytes(const TriMesh& mesh) {
  fmt::memory_buffer xml;
  const auto put = [&](std::string_view s) { xml.append(s.data(), s.data() + s.size()); };
  put("<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<model unit=\"millimeter\" xml:lang=\"en-US\" "
      "xmlns=\"http://schemas.microsoft.com/3dmanufacturing/core/2015/02\">\n<resources><object id=\"1\" "
      "type=\"model\"><mesh><vertices>\n");
  for (const Vec3& p : mesh.points)
    fmt::format_to(std::back_inserter(xml), "<vertex x=\"{:.9g}\" y=\"{:.9g}\" z=\"{:.9g}\"/>\n", p.x, p.y, p.z);
  put("</vertices><triangles>\n");
  for (const Triangle& t : mesh.triangles)
    fmt::format_to(std::back_inserter(xml), "<triangle v1=\"{}\" v2=\"{}\" v3=\"{}\"/>\n", t[0], t[1], t[2]);
  put("</triangles></mesh></object></resources><build><item objectid=\"1\"/></build></model>\n");
  ZipContent parts;
  parts["[Content_Types].xml"] =
      "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<Types "
      "xmlns=\"http://schemas.openxmlformats.org/package/2006/content-types\"><Default Extension=\"rels\" "
      "ContentType=\"application/vnd.openxmlformats-package.relationships+xml\"/><Default Extension=\"model\" "
      "ContentType=\"application/vnd.ms-package.3dmanufacturing-3dmodel+xml\"/></Types>\n";
  parts["_rels/.rels"] =
      "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<Relationships "
      "xmlns=\"http://schemas.openxmlformats.org/package/2006/relationships\"><Relationship "
      "Target=\"/3D/3dmodel.model\" "
      "Id=\"rel0\" Type=\"http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel\"/></Relationships>\n";
  parts["3D/3dmodel.model"] = fmt::to_string(xml);
  return make_zip(parts);
}

Status save_mesh(const TriMesh& mesh, const std::string& path) {
  const std::string ending = lower_ascii(std::filesystem::path(path).extension().string());
  if (ending == ".stl") return write_file(path, stl_bytes(mesh));
  if (ending == ".3mf") {
    const auto bytes = threemf_bytes(mesh);
    return bytes ? write_file(path, *bytes) : Status(bytes.error());
  }
  return Error{"a mesh is not written as \"" + ending + "\"", base_name(path), "Use .stl or .3mf."};
}

Status write_file(const std::string& path, std::string_view bytes) {
  const Error fault{"the file cannot be written", path, "Check the folder, its permissions and the space left."};
  const std::string beside = path + ".part";
  {
    std::unique_ptr<FILE, int (*)(FILE*)> file(std::fopen(beside.c_str(), "wb"), std::fclose);
    if (!file) return fault;
    if (std::fwrite(bytes.data(), 1, bytes.size(), file.get()) != bytes.size() || std::fflush(file.get()) != 0 ||
        ::fsync(::fileno(file.get())) != 0) {
      std::remove(beside.c_str());
      return fault;
    }
  }
  std::error_code ec;
  std::filesystem::rename(beside, path, ec);
  if (ec) {
    std::remove(beside.c_str());
    return fault;
  }
  return {};
}

Result<std::string> read_file(const std::string& path) {
  std::unique_ptr<FILE, int (*)(FILE*)> file(std::fopen(path.c_str(), "rb"), std::fclose);
  std::error_code ec;
  if (!file || std::filesystem::is_directory(path, ec))
    return Error{"the file cannot be read", path, "Check the name, the folder and the permissions."};
  std::string bytes;
  char block[65536];
  for (size_t n; (n = std::fread(block, 1, sizeof block, file.get())) > 0;) bytes.append(block, n);
  return bytes;
}

}  // namespace palinform
