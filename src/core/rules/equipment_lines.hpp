#pragma once
/// The shop's equipment as lines that people read and write: "Bench scale: 0.1 g, 3000 g; Letter scale: 0.01 g, 300 g".
#include <string>
#include <vector>

#include "rules/equipment.hpp"

namespace palinform {

struct EquipmentLine {
  std::string key;    ///< "scales"
  std::string label;  ///< "Scales"
  std::string hint;   ///< how to write it
  std::string text;   ///< as it stands
};
/// Every line, in the order they are shown.
std::vector<EquipmentLine> equipment_lines(const Equipment& e);

/// With one line written anew. Refused with what is wrong and how to write it; nothing is guessed.
Result<Equipment> with_equipment_line(Equipment e, const std::string& key, std::string_view text);

}  // namespace palinform
