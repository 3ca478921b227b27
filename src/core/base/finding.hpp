#pragma once
/// A finding is a judgement call that an analysis puts before the person: what, where, why, and what would fix it.
#include <optional>
#include <string>
#include <vector>

#include "base/edit.hpp"
#include "base/names.hpp"
#include "base/vec.hpp"

namespace palinform {

enum class Severity { note, caution, stop };
template <>
inline constexpr std::array names<Severity>{"note"sv, "caution"sv, "stop"sv};

/// The place a finding speaks of. Empty members do not apply.
struct Place {
  std::optional<Vec3> point_mm;  ///< on the part, in the mesh's own frame
  std::string size;              ///< id of a measured size
  std::string material;          ///< id in the catalogue
  std::string step;              ///< "pour-a", "mix", …
  bool operator==(const Place&) const = default;
};

/// One way out: an edit, and what stands on its button.
struct Remedy {
  std::string label;  ///< "Bore 7.80 and ream"
  Edit edit;
  std::string_view code() const { return code_of(edit); }
  bool operator==(const Remedy&) const = default;
};

struct Finding {
  std::string code;  ///< stable: "size-risk"
  Severity severity = Severity::note;
  Place where;
  std::string what;  ///< one short line
  std::string why;   ///< reason with figures
  std::vector<Remedy> remedies;
  double magnitude = 0;        ///< how large it is, in its own unit (mm³ of air …); 0: has no size
  bool answerable = true;      ///< may be accepted with a reason
  bool needs_written = false;  ///< the acceptance must be written, not clicked
  bool operator==(const Finding&) const = default;

  /// Names this finding across re-runs. A finding with a place on the mesh is told from its like by that place, never
  /// by its rank among them.
  std::string key() const {
    std::string k = code;
    for (const auto* part : {&where.size, &where.material})
      if (!part->empty()) k += "/" + *part;
    if (!where.point_mm && !where.step.empty()) k += "/" + where.step;
    return k;
  }
};

}  // namespace palinform
