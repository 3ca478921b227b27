#include "overview/job_card.hpp"

#include <cmath>

#include "base/json_fields.hpp"
#include "stages/weighing.hpp"

namespace palinform {
namespace {

/// A card made by another version of the sums is old.
constexpr int card_version = 3;

}  // namespace

std::vector<int> step_kinds(const Procedure& procedure) {
  std::vector<int> out;
  for (const ProcedureStep& s : procedure.steps)
    if (s.skipped.empty()) out.push_back(s.casting > 0 ? s.casting : s.block < Block::cast ? -1 - s.mould : 0);
  return out;
}

std::vector<DoneStep> done_by_books(const std::vector<Step>& steps, const std::vector<int>& kinds, int moulds, int made,
                                    int copies, WallMinute now) {
  std::vector<DoneStep> out;
  if (moulds <= 0 || kinds.size() != steps.size()) return out;
  int pulls = 0;
  for (const int k : kinds) pulls = std::max(pulls, k);
  // Several castings may come out of one pull.
  const int done_pulls = copies > 0 ? made * pulls / copies : 0;
  for (size_t i = 0; i < steps.size(); ++i)
    if (kinds[i] > 0 ? kinds[i] <= done_pulls : kinds[i] < 0 && -1 - kinds[i] <= moulds) {
      const WallMinute then = now - static_cast<WallMinute>(std::ceil(steps[i].wait_min));
      out.push_back({steps[i].id, then, then});
    }
  return out;
}

std::string card_key(const Job& job, const Shop& shop) {
  Hasher h;
  h.add(card_version).add(job).add(shop.rules).add(shop.habits);
  return h.done().hex();
}

JobCard card_of(const Job& job, const Planner& plan, const Shop& shop) {
  JobCard c;
  c.job_id = job.id;
  c.key = card_key(job, shop);
  const auto states = stage_states(job, plan);
  for (size_t i = 0; i < states.size(); ++i) {
    c.knots[i] = states[i].knot == Knot::moving ? Knot::untouched : states[i].knot;
    c.figures[i] = states[i].knot == Knot::moving ? "–" : states[i].figure;
  }
  for (const OpenFinding& f : findings_of(job, plan)) {
    if (f.answer || f.finding.severity == Severity::note) continue;
    ++(f.finding.severity == Severity::stop ? c.stops : c.cautions);
    if (c.worst.empty()) c.worst = f.finding.what;
  }
  if (const auto work = plan.fresh(results::procedure)) {
    c.steps = timed_steps(work->procedure);
    c.step_kinds = step_kinds(work->procedure);
    c.planned = !c.steps.empty();
    for (const Step& s : c.steps) c.hands_min += s.hands_min;
  }
  if (const auto mix = plan.fresh(results::mix)) {
    c.needs = needs_of(*mix, job.mix, job.days.moulds, shop);
    c.cost = tally_of(job, plan).cost.value_or(0);
  }
  return c;
}

Result<JobCard> plan_card(const Job& job, const Shop& shop, MeshSource meshes, std::shared_ptr<ResultStore> store,
                          const Study& study, const Books& books, const Progress& progress) {
  Planner planner(job_nodes(shop, std::move(meshes)), 1, std::move(store));
  planner.set(Subject{job, books, study});
  planner.wait(&progress);
  if (progress.cancelled()) return Error::stopped();
  return card_of(job, planner, shop);
}

std::string card_to_json(const JobCard& card) { return json::write(card).dump(); }

Result<JobCard> card_from_json(std::string_view text) {
  JobCard c;
  try {
    json::read(json::Given::parse(text), c, "card");
  } catch (const json::Bad& b) {
    return Error{"the card of a job cannot be read: " + b.what, b.path, ""};
  } catch (const nlohmann::json::exception&) { return Error{"the card of a job cannot be read", "card", ""}; }
  return c;
}

}  // namespace palinform
