#pragma once
/// Between the program and the module that reads STEP (read_step.cpp), both of one compiler.
#include "mesh/readers.hpp"

namespace palinform::readers {

constexpr const char* step_module_file = "palinform_step.so";
constexpr const char* step_module_entry = "palinform_read_step";
/// Leaves in `out` what it read, or why it could not; stops soon after the mesh grows past `most_triangles`, which the
/// caller tells.
using ReadStep = void(std::string_view bytes, const std::string& name, const Progress& progress, Result<Raw>& out);

}  // namespace palinform::readers
