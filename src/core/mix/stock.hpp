#pragma once
/// Lots, moulds and pours: the workshop's own records, and what they say about a mix that is planned.
#include <optional>
#include <string>
#include <vector>

#include "base/fields.hpp"
#include "base/finding.hpp"
#include "base/hash.hpp"

namespace palinform {

struct Lot {
  int64_t id = 0;  ///< 0: new
  std::string material_id, label;
  std::string opened_on, expires_on;  ///< ISO dates; empty: not opened, no date
  double start_g = 0, left_g = 0;
  bool operator==(const Lot&) const = default;
  void hash_into(Hasher& h) const {
    h.add(id).add(material_id).add(label).add(opened_on).add(expires_on).add(start_g).add(left_g);
  }
};

/// A patch test (rubber on a hidden spot of a surface) or a cup test (does the lot cure at all).
enum class TrialKind { patch, cup };
template <>
inline constexpr std::array names<TrialKind>{"patch"sv, "cup"sv};
struct Trial {
  std::string id;
  int64_t lot_id = 0;
  TrialKind kind = TrialKind::patch;
  std::string surface;  ///< id of a master's surface; a cup test has none
  bool cured = false;
  std::string on, note;  ///< ISO date
  bool operator==(const Trial&) const = default;
  static void fields(auto& s, auto&& f) {
    f("id", s.id, AtMost{80});
    f("lot_id", s.lot_id, Within{0, 1e15});
    f("kind", s.kind);
    f("surface", s.surface, AtMost{80});
    f("cured", s.cured);
    f("on", s.on, AtMost{40});
    f("note", s.note, AtMost{2000});
  }
};
/// The newest of a kind, on any lot of a material that is not used up; on `surface` where it is a patch test.
const Trial* newest_trial(const std::vector<Trial>& trials, const std::vector<Lot>& lots, TrialKind kind,
                          const std::string& material_id, const std::string& surface);

struct MouldRecord {
  int64_t id = 0;
  std::string job_id, job_name, name, made_on;
  int pulls = 0;
  std::string retired_on, retired_why;
  bool operator==(const MouldRecord&) const = default;
};

/// What else is known of a mould on the shelf: where it lies, how far it is from the original, what was mended.
struct MouldCare {
  std::string id;                   ///< the mould's, as text
  std::string place;                ///< "shelf 2, left"
  int generation = 1;               ///< 2: taken from a casting
  std::string parent;               ///< what it was taken from, where that is a casting: "casting 1"
  std::vector<std::string> mended;  ///< "2026-12-01 torn lip, glued", oldest first
  bool operator==(const MouldCare&) const = default;
  static void fields(auto& s, auto&& f) {
    f("id", s.id, AtMost{40});
    f("place", s.place, AtMost{200});
    f("generation", s.generation, Within{1, 9});
    f("parent", s.parent, AtMost{200});
    f("mended", s.mended, AtMost{200});
  }
};

struct PourRecord {
  int64_t id = 0;
  std::string job_id, job_name, at, what, material_id;
  double mass_g = 0;
  int64_t lot_id = 0, mould_id = 0;  ///< 0: none named
  bool failed = false;
  std::string note;
  bool operator==(const PourRecord&) const = default;
};

bool out_of_date(const Lot& lot, const std::string& today);

/// What a planned mix will take of one material.
struct Need {
  std::string material_id, material_name;
  double mass_g = 0;
  double life_open_days = 0;         ///< by its sheet, once opened; 0: unknown
  std::vector<double> pack_kg = {};  ///< it is sold in
  bool operator==(const Need&) const = default;
  static void fields(auto& s, auto&& f) {
    f("material_id", s.material_id, AtMost{80});
    f("material_name", s.material_name, AtMost{400});
    f("mass_g", s.mass_g, Within{0, 1e9});
    f("life_open_days", s.life_open_days, Within{0, 1e6});
    f("pack_kg", s.pack_kg, AtMost{100});
  }
};

/// Tables as CSV: quoted where needed, one header line, CRLF.
std::string lots_csv(const std::vector<Lot>& lots);
std::string moulds_csv(const std::vector<MouldRecord>& moulds);
std::string pours_csv(const std::vector<PourRecord>& pours);

}  // namespace palinform
