#pragma once
/// A drawn part as a file, as `palin solid` reads it (docs/cli.md):
///   {"unit": "mm", "u_mm": 0.05,
///    "add": [{"shape": "plate", "length": 60, "width": 40, "thickness": 6, "at": [0, 0, 0], "axis": [0, 0, 1]}],
///    "cut": [{"shape": "disc", "diameter": 8, "height": 10, "at": [12, 4, -2]}]}
#include <string_view>

#include "drawn/solid.hpp"

namespace palinform {

/// Measures by their names or common other ones (a tube's hole or its wall, a radius for a diameter), in `unit` unless
/// the key ends in `_mm`. Refused, with the body's number: what is no such file, an unknown shape or key, a missing
/// measure, a value that is no number.
Result<Drawn> read_drawing(std::string_view json, const std::string& name);

}  // namespace palinform
