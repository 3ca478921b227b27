#include "job/other_originals.hpp"

#include <algorithm>

namespace palinform {
namespace {

/// How many there are beside the part: named ones, and those only read.
size_t count_of(const OriginalPart& part) {
  size_t n = part.others.size();
  for (const MeasuredSize& s : part.sizes) n = std::max(n, s.further_originals_mm.size());
  return n;
}

}  // namespace

std::vector<std::string> names_of_originals(const OriginalPart& part) {
  std::vector<std::string> out{"This one"};
  for (size_t k = 0; k < count_of(part); ++k)
    out.push_back(k < part.others.size() && !part.others[k].name.empty() ? part.others[k].name
                                                                         : "Original " + std::to_string(k + 2));
  return out;
}

Job with_other_original(Job job, OtherOriginal other, const std::vector<ScannedSize>& measured) {
  OriginalPart& part = job.original;
  const size_t at = count_of(part);
  part.others.resize(at);
  part.others.push_back(std::move(other));
  for (const ScannedSize& m : measured)
    for (MeasuredSize& s : part.sizes)
      if (s.id == m.size_id) {
        s.further_originals_mm.resize(at);
        s.further_originals_mm.push_back({m.mm});
      }
  return job;
}

Job without_other_original(Job job, size_t index) {
  const auto take = [index](auto& list) {
    if (index < list.size()) list.erase(list.begin() + static_cast<std::ptrdiff_t>(index));
  };
  take(job.original.others);
  for (MeasuredSize& s : job.original.sizes) take(s.further_originals_mm);
  return job;
}

}  // namespace palinform
