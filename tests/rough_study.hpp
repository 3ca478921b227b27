#pragma once
/// For tests of what follows from results, not of how finely they were worked out: each plan takes a quarter of the
/// time.
#include "stages/study.hpp"

using palinform::rough_study;
