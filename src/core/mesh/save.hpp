#pragma once
/// Mesh files out. The same mesh gives the same bytes. Written to a neighbour file first and then renamed, so that a
/// full disk or a kill never leaves half a file under the wanted name.
#include <string>
#include <string_view>

#include "base/result.hpp"
#include "mesh/tri_mesh.hpp"

namespace palinform {

std::string stl_bytes(const TriMesh& mesh);              ///< binary STL, millimetres
Result<std::string> threemf_bytes(const TriMesh& mesh);  ///< 3MF core, unit millimeter

/// By the path's ending: .stl or .3mf.
Status save_mesh(const TriMesh& mesh, const std::string& path);

/// Writes a whole file as described above.
Status write_file(const std::string& path, std::string_view bytes);
Result<std::string> read_file(const std::string& path);

}  // namespace palinform
