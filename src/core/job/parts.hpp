#pragma once
/// Several parts in one job, cast from one mould: left and right hand, mates. One is in hand, its values stand in the
/// job's stages; the others wait in Job::parts.
#include "job/job.hpp"

namespace palinform {

/// "Part 2" where it has no name. In their order, the one in hand at Job::part_at. One name where there is one part.
std::vector<std::string> part_names(const Job& job);
/// That of the part in hand; those of the others, in the order of Job::parts.
std::string name_in_hand(const Job& job);
std::vector<std::string> other_names(const Job& job);
/// Place among all of the `index`-th of Job::parts.
size_t place_of(const Job& job, size_t index);

/// The `index`-th of Job::parts in hand, the one that was in hand in its place. How the mould stands stays as it is;
/// keys that were moved by hand go with the part they were moved by.
Job with_part_in_hand(Job job, size_t index);
/// A further part, in hand. Refused where there are as many as a job takes.
Result<Job> with_new_part(Job job, JobPart part);
/// The other hand of the part in hand: its mirror image in x with the same sizes, in hand.
Result<Job> with_other_hand(Job job);
/// Without the part in hand; the one before it comes in hand. Refused where it is the only one.
Result<Job> without_part(Job job);

/// A job that has this part in hand and nothing else.
Job job_of(JobPart part);

/// An id that no size of any part has.
std::string new_size_id(const Job& job);
/// Hashes of the meshes that the job needs besides that of the part in hand: joined halves, other parts and theirs.
std::vector<std::string> further_meshes(const Job& job);

/// Of each other part what sums and steps of the whole job read: its name, how many are wanted and how many stand in
/// the mould, its sizes, plugs and tapes, what is said of its openings.
std::vector<JobPart> counts_only(const std::vector<JobPart>& parts);

/// The half that is brushed on: of a two-part block, over all masters of its box.
Brushed brushed_half_of(const Job& job);
/// Of forms in halves: the parts stand in one box, each with its own cavity.
bool parts_in_box(const Job& job);
/// Of a strip: they hang from one bar.
bool parts_on_bar(const Job& job);
/// Either. Other forms take the part in hand alone.
bool parts_together(const Job& job);
/// How often a mould with `a_pull` cavities for the part in hand is cast until there are enough of every part.
int pulls_wanted(const Job& job, int a_pull);
/// Of a part, the castings made and kept, against those wanted. What was thrown away does not count.
struct PartCount {
  std::string name;
  int made = 0, wanted = 1;
};
/// Of every part, in their order; each pull brings one of each cavity. Where the parts are not cast together, those
/// beside the one in hand have none.
std::vector<PartCount> part_counts(const Job& job);
/// Place of the part in hand among them.
size_t place_in_hand(const Job& job);
/// Pulls until there are enough of every part.
int pulls_to_go(const Job& job);
/// Castings of all parts that come out of one pull, `a_pull` of them of the part in hand.
int castings_a_pull(const Job& job, int a_pull);

}  // namespace palinform
