#pragma once
/// What stops, sticks to, or spoils what: every thing of a job that touches another, rule by rule (trade.md,
/// "Inhibition and sticking").
#include <optional>
#include <span>
#include <string>
#include <vector>

#include "base/finding.hpp"

namespace palinform {

enum class Does { stays_wet, grows_together, bubbles, wears, peels };
template <>
inline constexpr std::array names<Does>{"stays-wet"sv, "grows-together"sv, "bubbles"sv, "wears"sv, "peels"sv};
std::string_view words_of(Does d);  ///< "stays wet"

enum class Settles { release, barrier, sealed, patch_test };
template <>
inline constexpr std::array names<Settles>{"release"sv, "barrier"sv, "sealed"sv, "patch-test"sv};

struct MeetingRule {
  std::string id, a, b;  ///< traits of the two that meet
  Does does = Does::stays_wet;
  Severity severity = Severity::caution;
  std::string why, remedy;
  std::vector<Settles> settled_by;
  static void fields(auto& s, auto&& f) {
    f("id", s.id);
    f("a", s.a);
    f("b", s.b);
    f("does", s.does);
    f("severity", s.severity);
    f("why", s.why);
    f("remedy", s.remedy);
    f("settled_by", s.settled_by);
  }
};
/// The ones built in (data/meetings.json).
const std::vector<MeetingRule>& meeting_rules();
/// Traits of a master's surface by its id in the catalogue; empty where nothing is known against it.
const std::vector<std::string>& traits_of_surface(std::string_view surface);
/// Surfaces the table knows.
std::vector<std::string> known_surfaces();

/// One thing that touches others.
struct Party {
  std::string id;    ///< "rubber", "casting", "master", "clay", "gloves", "stick", "first-half", …
  std::string name;  ///< as a person calls it
  std::vector<std::string> traits;
};

/// How a patch or cup test of this rubber on a surface came out.
struct TestResult {
  bool cured = false;
  std::string words;  ///< "patch test of 2026-11-20 on lot 4411"
};

/// What stands between them.
struct Between {
  bool released = false, barrier = false, sealed = false;
  std::optional<TestResult> patch;  ///< on the master's surface
};

/// Two that meet, and what comes of it.
struct Met {
  size_t a = 0, b = 0;  ///< of the parties; a is the one the rule's first trait belongs to
  const MeetingRule* rule = nullptr;
  std::string settled;    ///< what settles it, in words; empty: open
  bool hardened = false;  ///< a test has shown it: nobody can accept it
};

/// Every rule that two of the parties fall under, each pair once for each rule, in the order of the rules.
std::vector<Met> meetings(std::span<const Party> parties, const Between& between,
                          std::span<const MeetingRule> rules = meeting_rules());

}  // namespace palinform
