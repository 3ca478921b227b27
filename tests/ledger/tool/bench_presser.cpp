// Works a bench run with random presses, on and back, now and then one marked failed: the kill test shoots it.
// bench_presser WORKSHOP SEED: the job "j" is in the workshop; a run is begun where none is.
#include <cstdio>
#include <cstdlib>
#include <random>

#include "ledger/bench_books.hpp"

namespace {

using namespace palinform;

std::vector<BenchScreen> screens() {
  std::vector<BenchScreen> out;
  const auto add = [&](const char* id) -> BenchScreen& {
    out.emplace_back();
    out.back().step_id = id, out.back().title = id;
    return out.back();
  };
  for (int mould = 0; mould < 2; ++mould) {
    for (const char* half : {"pour-a", "pour-b"}) {
      add("weigh");
      BenchScreen& pour = add(half);
      pour.material_id = "rubber", pour.poured_g = 100;
    }
    add("open").makes_mould = true;
  }
  for (int n = 0; n < 6; ++n) {
    BenchScreen& cast = add("pour-cast");
    cast.material_id = "resin", cast.poured_g = 30, cast.is_casting = true;
    add("demould").demoulds = true;
  }
  return out;
}

}  // namespace

int main(int argc, char** argv) {
  if (argc < 3) return 2;
  auto workshop = Workshop::open(argv[1]);
  if (!workshop) return 1;
  std::mt19937 rnd(static_cast<unsigned>(std::atoi(argv[2])));
  Workshop& w = **workshop;
  std::puts("ready"), std::fflush(stdout);
  // Runs are told apart by the second they were begun in: each process has its own hours.
  WallSecond now = 1'800'000'000 + 100'000LL * std::atoi(argv[2]);
  for (;;) {
    const auto job = w.load_job("j");
    const auto document = w.run_document("j");
    if (!job || !document) return 3;
    BenchRun run = document->empty() ? begin_run("j", screens(), now) : *run_from_json(*document);
    if (finished(run)) {
      if (!w.keep_done_run("j", run.begun, *document) || !w.save_run("j", "")) return 4;
      ++now;
      continue;
    }
    const unsigned dice = rnd() % 10;
    const auto pressed =
        dice < 6     ? press_next(w, *job, run, ++now, "2026-11-27", std::nullopt, 21.0)
        : dice < 9   ? press_back(w, *job, run, ++now)
        : run.at > 0 ? press_failed(w, *job, run, static_cast<int>(rnd() % static_cast<unsigned>(run.at)), "seen later")
                     : press_next(w, *job, run, ++now, "2026-11-27", std::nullopt, std::nullopt);
    if (!pressed) {
      std::fprintf(stderr, "%s\n", pressed.error().text().c_str());
      return 5;
    }
  }
}
