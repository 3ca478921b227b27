#pragma once
/// How a job stands, small enough to be kept beside it: what the wall shows of it, and the steps that the shop's plan
/// lays out, without working the job out again.
#include <array>
#include <string>
#include <vector>

#include "overview/overview.hpp"

namespace palinform {

struct JobCard {
  std::string job_id;
  std::string key;  ///< of what it was made from; another key: it is old
  std::array<Knot, stage_count> knots{};
  std::array<std::string, stage_count> figures{};
  int stops = 0, cautions = 0;  ///< open
  std::string worst;            ///< the weightiest open finding, in a line
  bool planned = false;         ///< as far as its steps
  std::vector<Step> steps;
  std::vector<int> step_kinds;  ///< step_kinds() of them
  std::vector<Need> needs;      ///< that its mix takes
  double hands_min = 0, cost = 0;
  static void fields(auto& s, auto&& f) {
    f("job_id", s.job_id, AtMost{80});
    f("key", s.key, AtMost{80});
    f("knots", s.knots);
    f("figures", s.figures);
    f("stops", s.stops, Within{0, 1e6});
    f("cautions", s.cautions, Within{0, 1e6});
    f("worst", s.worst, AtMost{2000});
    f("planned", s.planned);
    f("steps", s.steps, AtMost{20'000});
    f("step_kinds", s.step_kinds, AtMost{20'000});
    f("needs", s.needs, AtMost{100});
    f("hands_min", s.hands_min, Within{0, 1e7});
    f("cost", s.cost, Within{0, 1e12});
  }
};

/// What each step that is done belongs to, in the order of timed_steps(): a casting by its number; −1 what is made
/// once, −1 − m what makes mould m; 0 what is done to all castings together.
std::vector<int> step_kinds(const Procedure& procedure);

/// Steps that the books say are done: what made `moulds` that stand, and `made` of `copies` castings. Nobody wrote down
/// when: they are over at `now`.
std::vector<DoneStep> done_by_books(const std::vector<Step>& steps, const std::vector<int>& kinds, int moulds, int made,
                                    int copies, WallMinute now);

/// Of what a card is made: the job, the rules, the shop's habits.
std::string card_key(const Job& job, const Shop& shop);
/// As the planner has the job now.
JobCard card_of(const Job& job, const Planner& plan, const Shop& shop);
/// Works the job out as far as the wall needs it, results already in `store` not again.
Result<JobCard> plan_card(const Job& job, const Shop& shop, MeshSource meshes, std::shared_ptr<ResultStore> store,
                          const Study& study, const Books& books, const Progress& progress);

std::string card_to_json(const JobCard& card);
Result<JobCard> card_from_json(std::string_view text);

}  // namespace palinform
