#pragma once
// For this room: the search behind plan_shop(), in minutes from the start. Gecode stays in its .cpp.
#include <cstdint>
#include <optional>
#include <utility>
#include <vector>

#include "base/progress.hpp"

namespace palinform {

struct ShopProblem {
  struct Job {
    int castings = 1, moulds = 1, pours = 2;
    int64_t mould_hands = 0, mould_cure = 0, cast_hands = 0, cast_cure = 0, pot = 0;
    std::optional<int64_t> due;
  };
  struct Task {
    size_t job = 0;
    bool casting = false;
    int mould = -1;  ///< of a pour
    bool last_pour = false;
    int after = -1;  ///< the pour before
    int64_t hands = 0, cure = 0, pot = 0;
    int64_t chamber = 0;  ///< from the begin of the hands
  };
  std::vector<Job> jobs;
  std::vector<Task> tasks;
  std::vector<std::pair<int64_t, int64_t>> open;  ///< bench hours
  int people = 1, pots = 1, chambers = 1;
};

struct ShopFound {
  std::vector<int64_t> start;  ///< empty: nothing better than what is known
  int64_t finish = 0, late = 0;
  bool proven = false;  ///< all was searched
};

/// Least lateness first, then the soonest finish, from a plan that is known.
ShopFound search_plan(const ShopProblem& p, int64_t known_late, int64_t known_finish, double seconds,
                      const Progress& progress);

}  // namespace palinform
