// Saves one job over and over and prints a line after each save that returned: the kill test shoots it at random times.
// workshop_writer WORKSHOP
#include <cstdio>

#include "ledger/workshop.hpp"

int main(int, char** argv) {
  using namespace palinform;
  auto workshop = Workshop::open(argv[1]);
  if (!workshop) {
    std::fprintf(stderr, "%s\n", workshop.error().text().c_str());
    return 1;
  }
  Job job;
  job.id = "00000000000000000000000000000001";
  MeasuredSize s;
  s.id = "s1", s.name = "Size", s.nominal_mm = 10, s.lower_mm = 9, s.upper_mm = 11;
  job.sizes = {s};
  for (int i = 1;; ++i) {
    job.name = "edit " + std::to_string(i);
    job.copies = i;
    job.castings.assign(3, {});
    for (int c = 0; c < 3; ++c)
      job.castings[static_cast<size_t>(c)] = {
          c + 1, "2026-11-25", "edit " + std::to_string(i), {{"s1", std::vector<double>(4, 10 + 1e-4 * i)}}};
    if (auto ok = (*workshop)->save_job(job, job.name); !ok) return 2;
    std::printf("%d\n", i);
    std::fflush(stdout);
    if (i == 90'000) return 0;
  }
}
