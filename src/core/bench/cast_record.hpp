#pragma once
/// What a run's own tape says of how one casting came about: the evidence that its causes are found by (M23).
#include "bench/run.hpp"
#include "check/seen.hpp"

namespace palinform {

/// Of the casting that comes out at screen `at`: ratio off the scale, minutes from B to the pour's end, room,
/// degassing, the pot's pressure, hours in the mould. What the tape does not say is not there.
CastRecord cast_record(const BenchRun& run, int at, WallSecond out_at);

}  // namespace palinform
