#pragma once
/// The stages of a job, in working order.
#include "base/names.hpp"

namespace palinform {

enum class Stage { original, size, split, mould, flow, mix, days, bench, check, ledger };
template <>
inline constexpr std::array names<Stage>{"Original"sv, "Size"sv, "Split"sv, "Mould"sv, "Flow"sv,
                                         "Mix"sv,      "Days"sv, "Bench"sv, "Check"sv, "Ledger"sv};
constexpr int stage_count = count_of<Stage>();

}  // namespace palinform
