#include "job/parts.hpp"

#include <algorithm>
#include <set>

#include "job/other_mesh.hpp"

namespace palinform {
namespace {

JobPart put_down(Job& j) {
  JobPart p;
  p.name = std::exchange(j.part_name, {});
  p.copies = std::exchange(j.copies, 1);
  p.masters = std::exchange(j.mould.masters, 1);
  p.master_g = std::exchange(j.mould.master_g, {});
  p.master = std::exchange(j.size.master, {});
  p.scale = std::exchange(j.size.scale, 1);
  p.axis_scale = std::exchange(j.size.axis_scale, {});
  p.generations = std::exchange(j.size.generations, 1);
  p.pull_weights = j.split.pull_weights;
  p.laid = lift_anchored(j);
  j.flow.turned_over = p.laid.turned_over, j.flow.tilt_deg = p.laid.tilt_deg, j.flow.azimuth_deg = p.laid.azimuth_deg;
  p.original = std::exchange(j.original, {});
  return p;
}

void take_up(Job& j, JobPart p) {
  // The mould stands one way, whichever part is in hand.
  p.laid.turned_over = j.flow.turned_over, p.laid.tilt_deg = j.flow.tilt_deg, p.laid.azimuth_deg = j.flow.azimuth_deg;
  j.part_name = std::move(p.name);
  j.copies = p.copies;
  j.mould.masters = p.masters;
  j.mould.master_g = p.master_g;
  j.size.master = p.master;
  j.size.scale = p.scale;
  j.size.axis_scale = p.axis_scale;
  j.size.generations = p.generations;
  j.split.pull_weights = p.pull_weights;
  j.original = std::move(p.original);
  lay_anchored(j, std::move(p.laid));
}

/// Takes the part in hand down into the others, in its place.
void shelve(Job& j) {
  const size_t at = place_in_hand(j);
  j.parts.insert(j.parts.begin() + static_cast<std::ptrdiff_t>(at), put_down(j));
}

void take(Job& j, size_t place) {
  JobPart p = std::move(j.parts[place]);
  j.parts.erase(j.parts.begin() + static_cast<std::ptrdiff_t>(place));
  j.part_at = static_cast<int>(place);
  take_up(j, std::move(p));
}

}  // namespace

size_t place_in_hand(const Job& j) { return std::min(static_cast<size_t>(j.part_at), j.parts.size()); }

size_t place_of(const Job& job, size_t index) { return index < static_cast<size_t>(job.part_at) ? index : index + 1; }

std::vector<std::string> part_names(const Job& job) {
  std::vector<std::string> out(job.parts.size() + 1);
  out[place_in_hand(job)] = job.part_name;
  for (size_t k = 0; k < job.parts.size(); ++k) out[place_of(job, k)] = job.parts[k].name;
  for (size_t k = 0; k < out.size(); ++k)
    if (out[k].empty()) out[k] = "Part " + std::to_string(k + 1);
  return out;
}

std::string name_in_hand(const Job& job) { return part_names(job)[place_in_hand(job)]; }

std::vector<std::string> other_names(const Job& job) {
  std::vector<std::string> names = part_names(job);
  names.erase(names.begin() + static_cast<std::ptrdiff_t>(place_in_hand(job)));
  return names;
}

std::vector<PartCount> part_counts(const Job& job) {
  const auto pulls = static_cast<int>(std::count_if(job.check.castings.begin(), job.check.castings.end(),
                                                    [](const Casting& c) { return c.worth != Worth::scrap; }));
  const std::vector<std::string> names = part_names(job);
  std::vector<PartCount> out(names.size());
  const auto put = [&](size_t place, int masters, int copies, bool cast) {
    out[place] = {names[place], cast ? std::min(copies, pulls * std::max(1, masters)) : 0, copies};
  };
  put(place_in_hand(job), job.mould.masters, job.copies, true);
  for (size_t k = 0; k < job.parts.size(); ++k)
    put(place_of(job, k), job.parts[k].masters, job.parts[k].copies, parts_together(job));
  return out;
}

int pulls_to_go(const Job& job) {
  int most = 0;
  const auto of = [&](const PartCount& c, int masters) {
    most = std::max(most, (c.wanted - c.made + std::max(1, masters) - 1) / std::max(1, masters));
  };
  const std::vector<PartCount> counts = part_counts(job);
  of(counts[place_in_hand(job)], job.mould.masters);
  if (parts_together(job))
    for (size_t k = 0; k < job.parts.size(); ++k) of(counts[place_of(job, k)], job.parts[k].masters);
  return most;
}

Job job_of(JobPart part) {
  Job one;
  take_up(one, std::move(part));
  return one;
}

Job with_part_in_hand(Job j, size_t index) {
  if (index >= j.parts.size()) return j;
  const size_t place = place_of(j, index);
  shelve(j);
  take(j, place);
  return j;
}

Result<Job> with_new_part(Job j, JobPart part) {
  if (j.parts.size() >= most_further_parts)
    return Error{"a job takes " + std::to_string(most_further_parts + 1) + " parts at most", j.name,
                 "Begin another job for the rest."};
  shelve(j);
  j.part_at = static_cast<int>(j.parts.size());
  take_up(j, std::move(part));
  return j;
}

Result<Job> with_other_hand(Job j) {
  Job lifted = j;
  JobPart p = put_down(lifted);
  p.master_g.reset();
  // Marks lie on the original, which is the same one; what lies on the master does not fit its mirror image.
  Anchored kept;
  kept.marks = std::move(p.laid.marks);
  kept.master_steps = std::move(p.laid.master_steps);
  const auto mirrored = std::find_if(kept.master_steps.begin(), kept.master_steps.end(),
                                     [](const MasterStep& s) { return s.kind == MasterStep::Kind::mirror; });
  if (mirrored != kept.master_steps.end())
    kept.master_steps.erase(mirrored);
  else
    kept.master_steps.push_back({});
  p.laid = std::move(kept);
  Job counted = j;
  for (MeasuredSize& s : p.original.sizes) {
    s.id = new_size_id(counted);
    counted.original.sizes.push_back(s);
  }
  const std::string name = name_in_hand(j);
  p.name = name == "Left" ? "Right" : name == "Right" ? "Left" : name + ", other hand";
  return with_new_part(std::move(j), std::move(p));
}

Result<Job> without_part(Job j) {
  if (j.parts.empty()) return Error{"it is the only part", j.name, "Open another mesh in its place."};
  const size_t place = place_in_hand(j);
  shelve(j);
  j.parts.erase(j.parts.begin() + static_cast<std::ptrdiff_t>(place));
  take(j, place > 0 ? place - 1 : 0);
  if (j.parts.empty()) j.part_name.clear();
  return j;
}

std::string new_size_id(const Job& job) {
  std::set<std::string_view> taken;
  for (const MeasuredSize& s : job.original.sizes) taken.insert(s.id);
  for (const JobPart& p : job.parts)
    for (const MeasuredSize& s : p.original.sizes) taken.insert(s.id);
  for (int i = 1;; ++i)
    if (std::string id = "s" + std::to_string(i); !taken.contains(id)) return id;
}

std::vector<std::string> further_meshes(const Job& job) {
  std::vector<std::string> out;
  const auto add = [&](const std::string& hash) {
    if (!hash.empty() && hash != job.original.mesh.hash && std::find(out.begin(), out.end(), hash) == out.end())
      out.push_back(hash);
  };
  const auto joined = [&](const std::vector<MasterStep>& steps) {
    for (const MasterStep& s : steps)
      if (s.kind == MasterStep::Kind::join) add(s.mesh);
  };
  for (const Insert& i : job.split.inserts) add(i.mesh_hash);
  joined(job.original.master_steps);
  for (const OtherOriginal& o : job.original.others) add(o.scan);
  for (const JobPart& p : job.parts) {
    add(p.original.mesh.hash);
    for (const OtherOriginal& o : p.original.others) add(o.scan);
    joined(p.laid.master_steps);
    for (const Insert& i : p.laid.inserts) add(i.mesh_hash);
  }
  for (const Casting& c : job.check.castings) add(c.scan);
  return out;
}

std::vector<JobPart> counts_only(const std::vector<JobPart>& parts) {
  std::vector<JobPart> out(parts.size());
  for (size_t k = 0; k < parts.size(); ++k) {
    out[k].name = parts[k].name;
    out[k].copies = parts[k].copies, out[k].masters = parts[k].masters;
    out[k].original.sizes = parts[k].original.sizes;
    out[k].laid.master_steps = parts[k].laid.master_steps;
    out[k].laid.bores = parts[k].laid.bores;
    out[k].laid.openings = parts[k].laid.openings;
  }
  return out;
}

bool parts_on_bar(const Job& job) { return !job.parts.empty() && job.mould.planned_form() == Form::strip; }

bool parts_together(const Job& job) { return parts_in_box(job) || parts_on_bar(job); }

Brushed brushed_half_of(const Job& job) {
  return job.mould.planned_form() == Form::two_part ? job.mould.brushed : Brushed::none;
}

bool parts_in_box(const Job& job) {
  const Form form = job.mould.planned_form();
  return !job.parts.empty() && in_halves(form) && form != Form::pieces;
}

int pulls_wanted(const Job& job, int a_pull) {
  const auto pulls = [](int copies, int each) { return (copies + std::max(1, each) - 1) / std::max(1, each); };
  int most = pulls(job.copies, a_pull);
  if (parts_together(job))
    for (const JobPart& p : job.parts) most = std::max(most, pulls(p.copies, p.masters));
  return most;
}

int castings_a_pull(const Job& job, int a_pull) {
  int all = a_pull;
  if (parts_together(job))
    for (const JobPart& p : job.parts) all += p.masters;
  return all;
}

}  // namespace palinform
