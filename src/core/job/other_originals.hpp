#pragma once
/// Other surviving originals of the part's kind: each has its place in every size's further readings.
#include "check/scanned_size.hpp"
#include "job/job.hpp"

namespace palinform {

/// "Original 2" where it has no name; the first is the part itself. In the order of the readings.
std::vector<std::string> names_of_originals(const OriginalPart& part);
/// One more of them; `measured`: what a scan of it shows, taken as one reading of each of those sizes.
Job with_other_original(Job job, OtherOriginal other, const std::vector<ScannedSize>& measured = {});
/// Without the `index`-th beside the part itself, and without its readings. The same job where there is none.
Job without_other_original(Job job, size_t index);

}  // namespace palinform
