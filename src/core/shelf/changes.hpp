#pragma once
/// What is different between two versions of a material, in words.
#include <string>
#include <vector>

#include "shelf/material.hpp"

namespace palinform {

/// "viscosity, mixed 20,000 → 15,000 mPa·s", one entry a figure, in the order a sheet is read. Name, sources and
/// version are no figures: where only they differ, nothing.
std::vector<std::string> changes_between(const Material& was, const Material& is);

}  // namespace palinform
