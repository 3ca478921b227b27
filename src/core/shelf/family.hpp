#pragma once
/// Families of materials: between which values a figure usually lies, and what stands in for one that nobody knows.
#include "shelf/material.hpp"

namespace palinform {

struct FamilyRange {
  double low = 0, usual = 0, high = 0;
};
struct Family {
  std::string id, name;
  MaterialKind kind = MaterialKind::mould_rubber;
  Material usual;                             ///< mixing, times, hazards and every figure, all of them guesses
  std::map<std::string, FamilyRange> ranges;  ///< by figure
};
const std::vector<Family>& families();
const Family* family(std::string_view id);

/// A new material of that family: all figures guesses.
Material from_family(const Family& family, const std::string& id, const std::string& name);
/// `m` with every figure that is missing taken from its family and marked a guess; times and hazards too where it has
/// none. What is given stays. Without a known family nothing changes.
Material with_guesses(Material m);

}  // namespace palinform
