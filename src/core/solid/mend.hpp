#pragma once
/// From any triangles to a sound solid (M1): exact repair first; a level-set wrap where that fails, never silently.
#include <optional>
#include <string>

#include "base/fields.hpp"
#include "base/names.hpp"
#include "mesh/repair.hpp"
#include "mesh/soundness.hpp"
#include "solid/wrap.hpp"

namespace palinform {

struct MendOptions {
  bool may_wrap = true;
  double voxel_mm = 0;  ///< of the wrap; 0: by the extent
  /// Above this many faces the exact untangling (minutes, and no cancel) is skipped for the wrap.
  size_t most_exact_faces = 400'000;
  static void fields(auto& s, auto&& f) {
    f("may_wrap", s.may_wrap);
    f("voxel_mm", s.voxel_mm);
    f("most_exact_faces", s.most_exact_faces);
  }
};

struct MendReport {
  enum class Method { nothing, exact, wrapped } method = Method::nothing;
  Soundness before, after;
  RepairCount count;         ///< of the first, plain steps
  size_t united_pieces = 0;  ///< overlapping shells made one
  bool untangled = false;    ///< faces around self-intersections were laid anew
  double volume_before_mm3 = 0, volume_after_mm3 = 0;
  double voxel_mm = 0, bridged_mm = 0, off_p95_mm = 0, off_max_mm = 0;  ///< of the wrap
  std::string why_wrapped;                                              ///< what exact repair could not do
  /// "Mended exactly: 2 holes filled, 14 faces turned. Volume +0.4 %." One line for people.
  std::string words() const;
  static void fields(auto& s, auto&& f) {
    f("method", s.method);
    f("before", s.before);
    f("after", s.after);
    f("count", s.count);
    f("united_pieces", s.united_pieces);
    f("untangled", s.untangled);
    f("volume_before_mm3", s.volume_before_mm3);
    f("volume_after_mm3", s.volume_after_mm3);
    f("voxel_mm", s.voxel_mm);
    f("bridged_mm", s.bridged_mm);
    f("off_p95_mm", s.off_p95_mm);
    f("off_max_mm", s.off_max_mm);
    f("why_wrapped", s.why_wrapped, AtMost{10'000});
  }
};

template <>
inline constexpr std::array names<MendReport::Method>{"nothing"sv, "exact"sv, "wrapped"sv};

struct Mended {
  TriMesh mesh;
  MendReport report;
};

/// Open surfaces that nearly all face one way, by pieces: closing them would fold them onto themselves. A closed
/// piece's areas cancel; half a ball's come to half.
bool is_sheet(const TriMesh& mesh);

/// A sound mesh, or an Error that says what is left. An already sound mesh comes back unchanged.
Result<Mended> mend(const TriMesh& mesh, const MendOptions& options = {}, const Progress& progress = Progress::none());

}  // namespace palinform
