// Progress in parts: never back, never past its part, safe from several threads.
#include <catch2/catch.hpp>
#include <mutex>
#include <thread>

#include "base/progress.hpp"

namespace tests_base_progress {

using namespace palinform;

TEST_CASE("a step that counts its own 0…1 moves only its part of the whole", "[base]") {
  std::vector<double> told;
  const Progress whole([&](double f) { told.push_back(f); });
  const auto step = [](const Progress& p) {
    p.report(0.5);
    p.report(1);
  };
  step(whole.part(0, 0.2));
  step(whole.part(0.2, 0.7));
  step(whole.part(0.2, 0.7));  // again: nothing goes back, nothing freezes at 1
  whole.part(0.7, 1).part(0, 0.5).report(1);
  REQUIRE(told.size() == 5);
  const double wanted[] = {0.1, 0.2, 0.45, 0.7, 0.85};
  for (size_t i = 0; i < 5; ++i) CHECK(told[i] == Approx(wanted[i]));
  whole.report(0.3);
  whole.report(std::nan(""));
  CHECK(whole.fraction() == Approx(0.85));
  whole.report(7);
  CHECK(whole.fraction() == 1);
}

TEST_CASE("a cancel is heard by every part, whichever it was said to", "[base]") {
  const Progress whole;
  const Progress part = whole.part(0.1, 0.2);
  CHECK_FALSE(whole.cancelled());
  part.cancel();
  CHECK(whole.cancelled());
  CHECK(whole.part(0.5, 1).cancelled());
  CHECK_FALSE(Progress().cancelled());
}

TEST_CASE("many threads report: what the listener hears at the end is the most of all", "[base]") {
  std::mutex mutex;
  double most = 0;
  int calls = 0;
  const Progress whole(in_hundredths([&](double f) {
    std::lock_guard hold(mutex);
    most = std::max(most, f);
    ++calls;
  }));
  std::vector<std::thread> threads;
  for (int t = 0; t < 4; ++t)
    threads.emplace_back([&whole, t] {
      const Progress part = whole.part(0.25 * t, 0.25 * (t + 1));
      for (int i = 0; i <= 10'000; ++i) part.report(i / 10'000.0);
    });
  for (auto& t : threads) t.join();
  CHECK(most == 1);
  CHECK(whole.fraction() == 1);
  CHECK(calls <= 101);
}

}  // namespace tests_base_progress
