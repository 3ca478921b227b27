#pragma once
/// The wall a shop's own moulds have earned (M5): what stood up to its pulls at a thinner wall than the rule's may be
/// built so again.
#include <optional>
#include <string>
#include <vector>

#include "base/fields.hpp"

namespace palinform {

/// A block of rubber as it was built: kept when the bench opens it.
struct BlockBuilt {
  std::string id;  ///< booking of the bench
  double wall_mm = 0, part_mm = 0, shore_a = 0;
  bool operator==(const BlockBuilt&) const = default;
  static void fields(auto& s, auto&& f) {
    f("id", s.id, AtMost{200});
    f("wall_mm", s.wall_mm, Within{0, 1000});
    f("part_mm", s.part_mm, Within{0, 10000});  ///< the part's largest size
    f("shore_a", s.shore_a, Within{0, 100});
  }
};

/// … and what became of it.
struct BlockLife {
  double wall_mm = 0, part_mm = 0, shore_a = 0;
  int pulls = 0;
  bool retired = false;
};

struct WallLearning {
  int pulls = 10;                        ///< that a mould has to last to count as one that lived
  int moulds = 3;                        ///< that have to have lived: fewer are chance
  double size_ratio = 1.6, shore_a = 8;  ///< how far another part's size, another rubber's hardness may be off
  static void fields(auto& s, auto&& f) {
    f("pulls", s.pulls, Within{1, 1000});
    f("moulds", s.moulds, Within{1, 100});
    f("size_ratio", s.size_ratio, Within{1, 10});
    f("shore_a", s.shore_a, Within{0, 90});
  }
};

struct LearntWall {
  double wall_mm = 0;
  int moulds = 0;  ///< that lived at this wall or a thinner one, and are like it
};

/// The wall at or under which `moulds` comparable moulds lived though it is under `rule_mm`, of those over every
/// comparable one that was retired before it had its pulls. Nothing where too few teach it: the rule holds.
std::optional<LearntWall> learnt_wall(const std::vector<BlockLife>& lives, double part_mm, double shore_a,
                                      double rule_mm, const WallLearning& how);

}  // namespace palinform
