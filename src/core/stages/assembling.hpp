#pragma once
/// How a mould of more than two halves comes apart: pins, slides and pieces, one after the other.
#include "stages/results.hpp"

namespace palinform {

/// Does the order in which the job's mould comes apart ask for any thought? Pins of several bores, or pieces.
bool comes_apart_in_order(const Job& job);

/// The order, and what is stuck. `pins`: null where there are none.
Result<AssemblyResult> assembly_of(const SolidsResult& solids, const PinsResult* pins, const Progress& progress);

}  // namespace palinform
