#pragma once
/// A material's figures as they are shown and changed one by one: each on the range of its family.
#include <optional>
#include <string>
#include <vector>

#include "shelf/family.hpp"

namespace palinform {

struct FigureLine {
  std::string key;    ///< of the figure; a time is "times.0.pot_life_min", by its place in Material::times
  std::string words;  ///< "pot life at 23 °C"
  std::string unit;
  std::optional<Figure> figure;      ///< nothing: nobody knows it
  std::optional<FamilyRange> range;  ///< usual in the family
  double low = 0, high = 1;          ///< of the scale it is drawn on: the range with some room, the figure within
  bool by_tens = false;              ///< the scale is logarithmic: it spans more than a factor of thirty
  /// Place of `v` on the scale, 0 … 1.
  double place(double v) const;
  /// The value at a place on the scale, rounded to three digits.
  double value_at(double place) const;
};

/// Times first, then the figures its family or its kind has, in the order a sheet is read.
std::vector<FigureLine> figure_lines(const Material& m);

/// With one figure changed, its source as told. Refused in words: what cannot be (check_material), a key it has no line
/// for. Times have no source of their own.
Result<Material> with_figure(Material m, const std::string& key, double value, FigureSource source);
/// With a figure struck out: guessed again where its family knows one.
Result<Material> without_figure(Material m, const std::string& key);

/// "100 : 10 by weight", "1 : 1 by volume", "2 %", "2 % in drops".
std::string ratio_words(const Mixing& m);
/// Reads what ratio_words() writes; "by weight" may be left out.
Result<Material> with_ratio(Material m, std::string_view text);

/// A free id for a new material: "own-tin-cure", from its name, with a number where it is taken.
std::string new_material_id(const std::vector<Material>& shelf, std::string_view name);
/// The same figures under another id and name, as a first version.
Material copy_of(const Material& m, const std::string& id, const std::string& name);
/// A material of a kind of which nobody knows anything but its name: what cures still needs its ratio before it can be
/// kept, and its pot life before it can be planned with.
Material from_nothing(MaterialKind kind, const std::string& id, const std::string& name);

}  // namespace palinform
