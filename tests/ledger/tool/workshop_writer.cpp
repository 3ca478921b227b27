// Saves one job over and over and prints a line after each save that returned: the kill test shoots it at random times.
// workshop_writer WORKSHOP [press]: with "press" it does what a press at the bench does, in one transaction each.
#include <cstdio>
#include <cstdlib>

#include "ledger/workshop.hpp"

int main(int argc, char** argv) {
  using namespace palinform;
  auto workshop = Workshop::open(argv[1]);
  if (!workshop) {
    std::fprintf(stderr, "%s\n", workshop.error().text().c_str());
    return 1;
  }
  if (argc > 2) {
    std::puts("ready"), std::fflush(stdout);
    const std::string before = *(*workshop)->run_document("j");
    for (int i = before.empty() ? 1 : std::atoi(before.c_str()) + 1; i < 100'000; ++i) {
      const auto ok = (*workshop)->together([&]() -> Status {
        const PourRecord p{0, "j", "", "2026-11-26T10:00:00", "pour", "m", 10, 1, 0, false, ""};
        if (auto booked = (*workshop)->book_pour(p, false, "run/" + std::to_string(i)); !booked) return booked.error();
        Job job = *(*workshop)->load_job("j");
        job.copies = i;
        if (auto kept = (*workshop)->save_job(job, "press"); !kept) return kept;
        return (*workshop)->save_run("j", std::to_string(i));
      });
      if (!ok) return 3;
    }
    return 0;
  }
  Job job;
  job.id = "00000000000000000000000000000001";
  MeasuredSize s;
  s.id = "s1", s.name = "Size", s.nominal_mm = 10, s.lower_mm = 9, s.upper_mm = 11;
  job.original.sizes = {s};
  for (int i = 1;; ++i) {
    job.name = "edit " + std::to_string(i);
    job.copies = i;
    job.check.castings.assign(3, {});
    for (int c = 0; c < 3; ++c)
      job.check.castings[static_cast<size_t>(c)] = {
          c + 1, "2026-11-25", "edit " + std::to_string(i), {{"s1", std::vector<double>(4, 10 + 1e-4 * i)}}};
    if (auto ok = (*workshop)->save_job(job, job.name); !ok) return 2;
    std::printf("%d\n", i);
    std::fflush(stdout);
    if (i == 90'000) return 0;
  }
}
