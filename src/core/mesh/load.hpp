#pragma once
/// Mesh files in: STL (binary and text), OBJ, PLY (binary and text), 3MF, and STEP solids, which are tessellated. Equal
/// points are welded on the way in.
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "base/fields.hpp"
#include "base/names.hpp"
#include "base/progress.hpp"
#include "base/result.hpp"
#include "mesh/exact_face.hpp"
#include "mesh/tri_mesh.hpp"

namespace palinform {

enum class LengthUnit { mm, cm, inch, m };

template <>
inline constexpr std::array names<LengthUnit>{"mm"sv, "cm"sv, "in"sv, "m"sv};
double mm_per(LengthUnit unit);

struct LoadedMesh {
  TriMesh mesh;                          ///< in millimetres
  LengthUnit unit = LengthUnit::mm;      ///< the unit the file was read in
  bool unit_from_file = false;           ///< the file said so itself (3MF)
  std::optional<LengthUnit> unit_guess;  ///< set where the size suggests another unit than the one used
  std::string question;                 ///< what to ask where the size is odd: "It is 4.2 m across …"; empty: nothing
  std::string format;                   ///< "STL, binary"
  std::vector<ExactFace> exact;         ///< planes and cylinders as a STEP file states them
  std::optional<double> deflection_mm;  ///< of a STEP file: how far triangles may lie off the true faces
  /// What is said of the mesh; the triangles themselves go as bytes.
  static void fields(auto& s, auto&& f) {
    f("unit", s.unit);
    f("unit_from_file", s.unit_from_file);
    f("unit_guess", s.unit_guess);
    f("question", s.question);
    f("format", s.format);
    f("exact", s.exact, AtMost{1'000'000});
    f("deflection_mm", s.deflection_mm);
  }
};

/// Reads a mesh. `unit` holds where the file does not name its own. Refuses, in words with the file's name and the
/// fault: a missing, empty, cut-short or unknown file, coordinates that are no numbers, indices out of range, no
/// faces, nothing but zero-area faces, more than `most_triangles`.
Result<LoadedMesh> load_mesh(const std::string& path, std::optional<LengthUnit> unit = std::nullopt,
                             const Progress& progress = Progress::none());

/// The same from bytes in memory; `name` (with its ending) chooses the format and stands in messages.
Result<LoadedMesh> read_mesh(std::string_view bytes, const std::string& name,
                             std::optional<LengthUnit> unit = std::nullopt,
                             const Progress& progress = Progress::none());

/// Guess from the largest extent in file units: a part under 4 units is hardly millimetres (rule of thumb).
std::optional<LengthUnit> guess_unit(double largest_extent, LengthUnit used);

}  // namespace palinform
