// The graph by itself: slots, keys, the planner's memory, the store's bound. No domain.
#include <catch2/catch.hpp>

#include "graph/planner.hpp"

namespace tests_graph_graph {

using namespace palinform;

namespace {

struct Given {
  int a = 1, b = 2;
};
inline constexpr Slot<int> doubled{"doubled", 0};
inline constexpr Slot<std::vector<int>> many{"many", 1};
inline constexpr Slot<std::vector<int>> same{"same", 1};
inline constexpr Slot<int> broken{"broken", 2};
inline constexpr Slot<std::string> wrong{"doubled", 0};

struct DoubledIn {
  int a;
  bool instant() const { return true; }
  auto fields(auto&& f) const { return f(a); }
};
struct ManyIn {
  Fresh<int> doubled;
  Implied<int> again;
  auto fields(auto&& f) const { return f(doubled, again); }
};
struct SameIn {
  Fresh<std::vector<int>> many;
  auto fields(auto&& f) const { return f(many); }
};
struct BrokenIn {
  int b;
  auto fields(auto&& f) const { return f(b); }
};
struct Forgetful {
  int listed;
  double forgotten;
  auto fields(auto&& f) const { return f(listed); }
};
static_assert(lists_every_member<ManyIn>);
static_assert(!lists_every_member<Forgetful>);

struct Runs {
  std::atomic<int> doubled{0}, many{0};
};

std::vector<Node> nodes(Runs& runs) {
  std::vector<Node> out;
  out.push_back(node(
      doubled, [](const View& v) -> std::optional<DoubledIn> { return DoubledIn{v.subject<Given>().a}; },
      [&runs](const DoubledIn& in, const Progress&) -> Result<int> {
        ++runs.doubled;
        return 2 * in.a;
      }));
  out.push_back(node(
      many,
      [](const View& v) -> std::optional<ManyIn> {
        return ManyIn{v.fresh(doubled), v.fresh(doubled)};
      },
      [&runs](const ManyIn& in, const Progress& progress) -> Result<std::vector<int>> {
        ++runs.many;
        progress.report(0.5);
        return std::vector<int>(3, *in.doubled);
      }));
  out.push_back(node(
      same,
      [](const View& v) -> std::optional<SameIn> {
        SameIn in{v.fresh(many)};
        return in.many ? std::optional(in) : std::nullopt;
      },
      [](const SameIn& in, const Progress&) -> Result<std::shared_ptr<const std::vector<int>>> {
        return in.many.value;
      }));
  out.push_back(node(
      broken, [](const View& v) -> std::optional<BrokenIn> { return BrokenIn{v.subject<Given>().b}; },
      [](const BrokenIn& in, const Progress&) -> Result<int> {
        if (in.b == 13) throw std::runtime_error("a library threw");
        if (in.b == 14) return Error{"no", "", ""};
        return in.b;
      }));
  return out;
}

}  // namespace

TEST_CASE("a node runs once for one input, and what only another reads does not stir it", "[graph]") {
  Runs runs;
  Planner p(nodes(runs), 2);
  p.set(Given{3, 1});
  p.wait();
  REQUIRE(p.fresh(many));
  CHECK(*p.fresh(doubled) == 6);
  CHECK(p.fresh(many)->at(2) == 6);
  CHECK(p.fresh(same).get() == p.fresh(many).get());  // passed along, not copied
  p.set(Given{3, 2});
  p.wait();
  CHECK(runs.doubled == 1);
  CHECK(runs.many == 1);
  p.set(Given{4, 2});
  p.wait();
  p.set(Given{3, 2});    // back, as an undo does
  CHECK(p.fresh(many));  // without waiting
  CHECK(runs.many == 2);
}

TEST_CASE("an exception is an error of its node, told, and what needs it waits", "[graph]") {
  Runs runs;
  Planner p(nodes(runs), 1);
  p.set(Given{1, 13});
  p.wait();
  CHECK(p.state(broken).state == Freshness::failed);
  CHECK(p.state(broken).error.text().find("a library threw") != std::string::npos);
  p.set(Given{1, 5});
  p.wait();
  CHECK(*p.fresh(broken) == 5);
  p.set(Given{1, 14});
  p.wait();
  CHECK_FALSE(p.fresh(broken));
  CHECK(*p.newest(broken) == 5);  // stale, but there
  CHECK(p.state(broken).stale);
}

TEST_CASE("a slot of another type under the same name is a fault, not a wrong cast", "[graph]") {
  Runs runs;
  Planner p(nodes(runs), 0);
  p.set(Given{});
  CHECK_THROWS_AS(p.fresh(wrong), std::logic_error);
  auto twice = nodes(runs);
  twice.push_back(twice.front());
  CHECK_THROWS_AS(Planner(std::move(twice), 0), std::logic_error);
}

TEST_CASE("the store is bounded in bytes: the longest unused goes, what is in use stays", "[graph]") {
  const auto box = [](size_t bytes) { return Boxed{std::make_shared<const int>(1), bytes}; };
  const auto key = [](int i) { return hash_of("k", i); };
  ResultStore store(1000);
  for (int i = 0; i < 10; ++i) store.put("n", key(i), box(300));
  CHECK(store.weight().bytes <= 1000);
  CHECK(store.weight().results == 3);
  CHECK_FALSE(store.find("n", key(0)));
  CHECK(store.find("n", key(9)));
  CHECK(store.find("n", key(7)));  // used again: now it outlives 8
  store.put("n", key(20), box(300));
  CHECK(store.find("n", key(7)));
  CHECK_FALSE(store.find("n", key(8)));
  // One value under two names weighs once; held by somebody it is not dropped.
  ResultStore other(1000);
  const Boxed shared = box(900);
  other.put("a", key(1), shared);
  other.put("b", key(1), shared);
  CHECK(other.weight().bytes == 900);
  other.put("c", key(2), box(900));
  CHECK(other.find("a", key(1)));
}

TEST_CASE("two planners over one store do the work once", "[graph]") {
  Runs runs;
  const auto store = std::make_shared<ResultStore>();
  for (int turn = 0; turn < 2; ++turn) {
    Planner p(nodes(runs), 2, store);
    p.set(Given{8, 1});
    p.wait();
    CHECK(*p.fresh(doubled) == 16);
  }
  CHECK(runs.doubled == 1);
  CHECK(runs.many == 1);
  CHECK(store->weight().results == 4);
}

namespace {

inline constexpr Slot<int> slow{"slow", 0}, thrower{"thrower", 0}, after{"after", 0};
struct CopiesIn {
  int copies;
  auto fields(auto&& f) const { return f(copies); }
};
struct AfterIn {
  Fresh<int> slow;
  bool instant() const { return true; }
  auto fields(auto&& f) const { return f(slow); }
};

}  // namespace

TEST_CASE("a cancelled node says so and can be asked again; a newer subject supersedes a running one", "[graph]") {
  std::atomic<int> runs{0};
  std::atomic<bool> hold{true};
  std::vector<Node> all;
  all.push_back(node(
      slow, [](const View& v) -> std::optional<CopiesIn> { return CopiesIn{v.subject<Given>().a}; },
      [&](const CopiesIn&, const Progress& p) -> Result<int> {
        ++runs;
        for (int i = 0; hold && i < 5000; ++i) {
          if (p.cancelled()) return Error::stopped();
          std::this_thread::sleep_for(std::chrono::milliseconds(1));
        }
        return 7;
      }));
  all.push_back(node(
      thrower, [](const View&) -> std::optional<CopiesIn> { return CopiesIn{1}; },
      [](const CopiesIn&, const Progress&) -> Result<int> { throw std::runtime_error("boom"); }));
  all.push_back(node(
      after,
      [](const View& v) -> std::optional<AfterIn> {
        AfterIn in{v.fresh(slow)};
        return in.slow ? std::optional(in) : std::nullopt;
      },
      [](const AfterIn& in, const Progress&) -> Result<int> { return *in.slow + 1; }));
  Planner plan(std::move(all), 2);
  std::atomic<int> woken{0};
  plan.on_wake([&] { ++woken; });
  plan.set(Given{1, 1});
  const auto asked = std::chrono::steady_clock::now();
  plan.cancel("slow");
  plan.wait();
  CHECK(std::chrono::steady_clock::now() - asked < std::chrono::milliseconds(1500));
  CHECK(plan.state(slow).state == Freshness::failed);
  CHECK(plan.state(slow).error.cancelled);
  CHECK(plan.state(thrower).error.what.find("boom") != std::string::npos);
  CHECK(plan.state(after).state == Freshness::absent);
  plan.set(Given{1, 1});  // the same does not start it again by itself
  CHECK_FALSE(plan.busy());
  hold = false;
  plan.retry("slow");
  plan.wait();
  CHECK(*plan.fresh(slow) == 7);
  CHECK(*plan.fresh(after) == 8);
  CHECK(runs <= 2);
  CHECK(woken > 0);
  hold = true;
  for (int i = 2; i < 8; ++i) plan.set(Given{i, 1});
  hold = false;
  plan.wait();
  CHECK(plan.state(slow).key == key_of("slow", CopiesIn{7}));
}

}  // namespace tests_graph_graph
