// STEP is read by a module of its own, loaded when the first such file comes: the CAD kernel's fourteen libraries take
// as long to load as all the rest of the program.
#include <dlfcn.h>

#include <filesystem>

#include "base/text.hpp"
#include "mesh/readers.hpp"
#include "mesh/step_module.hpp"

namespace palinform::readers {
namespace {

namespace fs = std::filesystem;

/// Beside this program, or where `cmake --install` puts it.
ReadStep* module_entry() {
  std::error_code ec;
  const fs::path here = fs::read_symlink("/proc/self/exe", ec).parent_path();
  for (const fs::path& at : {here / step_module_file, here.parent_path() / "lib" / "palinform" / step_module_file}) {
    if (!fs::exists(at, ec)) continue;
    // Never unloaded: the kernel keeps threads and tables.
    if (void* module = ::dlopen(at.c_str(), RTLD_NOW | RTLD_LOCAL))
      return reinterpret_cast<ReadStep*>(::dlsym(module, step_module_entry));
  }
  return nullptr;
}

}  // namespace

Result<Raw> step(std::string_view bytes, const std::string& name, const Progress& progress) {
  static ReadStep* const read = module_entry();
  if (!read)
    return fault(name, "the part of this program that reads CAD files is missing",
                 std::string("Install Palinform again: `") + step_module_file + "` belongs beside it.");
  Result<Raw> raw = Error::stopped();
  read(bytes, name, progress, raw);
  if (!raw) return raw;
  if (raw->mesh.triangles.size() > most_triangles) return too_many(name, raw->mesh.triangles.size());
  raw->format = "STEP, tessellated to " + significant(*raw->deflection_mm, 2) + " mm";
  return raw;
}

}  // namespace palinform::readers
