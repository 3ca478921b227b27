#pragma once
/// Materials as files: JSON, which says everything, and CSV for spreadsheets (docs/shelf.md).
#include "shelf/material.hpp"

namespace palinform {

/// {"schema": 1, "materials": [ … ]}
std::string shelf_to_json(const std::vector<Material>& materials);
/// One material, a list of them, or what shelf_to_json() writes. Each is checked and filled from its family; an id that
/// stands twice is refused. `file` stands in messages.
Result<std::vector<Material>> shelf_from_json(std::string_view text, const std::string& file);

/// One row a material: id, kind, family, name, mix_by, ratio_a, ratio_b, percent, tolerance_pct, at_c, pot_life_min,
/// demould_h, hazards, guesses, then every figure by its key. Further temperatures and catalyst ranges are in JSON
/// only.
std::string shelf_to_csv(const std::vector<Material>& materials);
/// Reads what shelf_to_csv() writes and what spreadsheets make of it. Refused with the line: an unknown column, a row
/// with more cells than heads, a cell that is no number, a material that cannot be.
Result<std::vector<Material>> shelf_from_csv(std::string_view text, const std::string& file);

}  // namespace palinform
