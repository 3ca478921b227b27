#pragma once
/// The shelf as the analyses read it: two-part mould rubbers and casting materials with every figure there.
#include "mix/catalogue.hpp"
#include "shelf/material.hpp"

namespace palinform {

/// As the chain, the mix and the days take it; what is missing comes from the family. Refused: no ratio, no times.
Result<Silicone> rubber_of(const Material& m);
Result<Resin> resin_of(const Material& m);
/// Of any two-part material what is mixed by: ratio, densities, times.
Result<Mixable> mixed_of(const Material& m);

Material material_of(const Silicone& s);
Material material_of(const Resin& r);

/// The materials of `shelf` that are not retired, with the masters' surfaces and the cautions of `words`. A material
/// that cannot be read so is left out and named in `left_out`.
Catalogue catalogue_of(const std::vector<Material>& shelf, const Catalogue& words,
                       std::vector<std::string>* left_out = nullptr);

/// The shelf a new workshop starts with: the materials built in, and one of every other kind.
std::vector<Material> starting_shelf();

}  // namespace palinform
