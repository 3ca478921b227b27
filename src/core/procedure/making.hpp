#pragma once
/// Steps that several forms share while a mould is made. Read by the making_*.cpp of this room alone.
#include "procedure/blocks.hpp"

namespace palinform::blocks {

inline constexpr const char* knives = "Knives slip in rubber: cut away from hands.";
inline constexpr const char* solvents = "Sealers and release sprays are solvents: fresh air, no flame.";

/// The master down to its line, in clay or on a board; `flange`: a ledge all round for a jacket.
void make_bed(Writing& w, bool flange);
/// Nothing where the job has none; so do the others below.
void set_pins(Writing& w);
void build_box(Writing& w);
/// The master on the base of a box that is poured whole.
void fix_master(Writing& w, const std::string& what, const std::string& name);
/// Cup by cup into the box; `slug`: in the ids.
void pour_rubber(Writing& w, const PourFacts& p, const std::string& name, const std::string& slug);
/// The coats of one side, each in the window of the one under it, and loose keys in the last.
void brush_coats(Writing& w, const std::string& side);
void draw_rods(Writing& w);
void turn_over(Writing& w, bool keys);
void release_half(Writing& w, const std::string& stem, const std::string& name, const std::string& what);
void unbox(Writing& w);
void draw_pins(Writing& w);
ProcedureStep& open_mould(Writing& w, const std::string& name, const std::string& what);
/// Channels that were not cast in, `trim` in words, warm cure, rest.
void dress(Writing& w, const std::string& trim);

// Of each form, from the bed to a mould that can be cast in.
void whole_pour(Writing& w);
void halves(Writing& w);
void skin(Writing& w);
void cup_and_core_mould(Writing& w);

}  // namespace palinform::blocks
