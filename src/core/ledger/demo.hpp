#pragma once
/// The made-up demo workshop: the museum of a small harbour restores a tide recorder (screens.md).
#include <string>
#include <vector>

#include "base/result.hpp"
#include "job/job.hpp"

namespace palinform {

/// Folder with the demo meshes: $PALINFORM_DEMO, else beside the installed program, else the source tree. Empty when
/// none is there.
std::string find_demo_folder();

/// Writes DIR/workshop.sqlite with the demo jobs and their meshes; gives its path. Refuses where one is there already.
Result<std::string> write_demo(const std::string& dir, const std::string& demo_folder);

}  // namespace palinform
