#include "mix/cups.hpp"

#include <algorithm>
#include <cmath>
#include <limits>

#include "base/text.hpp"

namespace palinform {
namespace {

constexpr double gel_share = 0.8;  // of the pot life (rule)
constexpr double never = std::numeric_limits<double>::infinity();
constexpr double hair = 1e-9;

/// A sequence of hand work: each cup appears twice, first to be weighed and stirred, then to be poured. Whoever is free
/// first takes the next; that makes a time table.
struct Table {
  std::vector<CupTime> cups;  // by cup
  std::vector<size_t> poured;
  double done_min = 0, missed_min = 0;
};

class Search {
 public:
  Search(const CupsAsked& cups, bool first_fit, const Progress& stop)
      : asked(cups), progress(stop), any_fit(first_fit) {}
  const CupsAsked& asked;
  const Progress& progress;
  size_t looked = 0;
  static constexpr size_t most = 20'000;
  bool any_fit;  ///< the first plan that fits will do
  bool cut = false;
  Table best;
  double best_missed = never;

  struct State {
    std::vector<double> free;  // when each pair of hands is free, sorted
    double chamber = 0;
    std::vector<CupTime> cups;
    std::vector<uint8_t> stage;  // 0 untouched, 1 stirred, 2 poured
    std::vector<size_t> poured;
    double missed = 0, done = 0;
  };

  bool better(double missed, double done) const {
    if (missed > best_missed + hair) return false;
    return missed < best_missed - hair || done < best.done_min - hair;
  }

  /// The next pair of hands begins at `from` or later.
  static double take(State& s, double from, double minutes) {
    // Of those free by then the one that has rested least; else the first to be free.
    size_t who = 0;
    for (size_t k = 0; k < s.free.size() && s.free[k] <= from + hair; ++k) who = k;
    const double start = std::max(from, s.free[who]);
    s.free[who] = start + minutes;
    std::sort(s.free.begin(), s.free.end());
    return start;
  }

  void stir(State& s, size_t c) const {
    const CupTimes& t = asked.cups[c];
    CupTime& out = s.cups[c];
    out.cup = c;
    out.weigh_from_min = take(s, 0, t.weigh_min + t.stir_min);
    out.starts_min = out.weigh_from_min + t.weigh_min;
    const double stirred = out.starts_min + t.stir_min;
    out.degas_from_min = out.degas_to_min = stirred;
    if (t.degas_min > 0) {
      out.degas_from_min = std::max(stirred, s.chamber);
      out.degas_to_min = s.chamber = out.degas_from_min + t.degas_min;
    }
    out.gels_min = out.starts_min + gel_share * asked.pot_life_min;
    s.stage[c] = 1;
  }

  void pour(State& s, size_t c) const {
    CupTime& out = s.cups[c];
    // One after the other into the sprue, unless another pair of hands can begin beside it.
    out.pour_from_min = take(s, out.degas_to_min, asked.cups[c].pour_min);
    out.pour_to_min = out.pour_from_min + asked.cups[c].pour_min;
    s.missed = std::max(s.missed, out.pour_to_min - (out.starts_min + asked.pot_life_min));
    if (!s.poured.empty()) {
      const CupTime& before = s.cups[s.poured.back()];
      s.missed = std::max(s.missed, out.pour_from_min - before.gels_min);
    }
    s.done = std::max(s.done, out.pour_to_min);
    s.poured.push_back(c);
    s.stage[c] = 2;
  }

  State begun() const {
    State s;
    s.free.assign(static_cast<size_t>(asked.people), 0.0);
    s.cups.resize(asked.cups.size());
    s.stage.assign(asked.cups.size(), 0);
    return s;
  }

  void keep(const State& s) {
    const double missed = std::max(0.0, s.missed);
    if (!better(missed, s.done)) return;
    best_missed = missed;
    best = {s.cups, s.poured, s.done, missed};
  }

  bool same(size_t a, size_t b) const {
    const CupTimes &x = asked.cups[a], &y = asked.cups[b];
    return x.weigh_min == y.weigh_min && x.stir_min == y.stir_min && x.degas_min == y.degas_min &&
           x.pour_min == y.pour_min;
  }

  void all_ways(const State& s) {
    if (any_fit && best_missed <= hair) return;
    if (++looked > most || progress.cancelled()) {
      cut = true;
      return;
    }
    if (s.poured.size() == asked.cups.size()) return keep(s);
    // What is missed only grows.
    if (std::max(0.0, s.missed) > best_missed + hair || (best_missed <= 0 && s.done > best.done_min - hair)) return;
    const size_t n = asked.cups.size();
    for (const bool pouring : {true, false})
      for (size_t c = 0; c < n; ++c) {
        if (s.stage[c] != (pouring ? 1 : 0)) continue;
        // Equal cups in the same state are one choice.
        bool seen = false;
        for (size_t d = 0; d < c && !seen; ++d) seen = !pouring && s.stage[d] == 0 && same(c, d);
        if (seen) continue;
        State next = s;
        pouring ? pour(next, c) : stir(next, c);
        all_ways(next);
        if (cut) return;
      }
  }

  /// So many cups stirred ahead of the one that is poured, in that order.
  void pattern(const std::vector<size_t>& order, size_t ahead) {
    State s = begun();
    size_t stirred = 0;
    for (size_t k = 0; k < order.size(); ++k) {
      while (stirred < order.size() && stirred <= k + ahead) stir(s, order[stirred++]);
      pour(s, order[k]);
    }
    keep(s);
  }
};

std::string missed_words(const CupsAsked& a, const Table& t) {
  for (size_t k = 0; k < t.poured.size(); ++k) {
    const CupTime& c = t.cups[t.poured[k]];
    const double over = c.pour_to_min - c.starts_min - a.pot_life_min;
    if (over > hair)
      return "Cup " + std::to_string(k + 1) + " would be poured out " + significant(c.pour_to_min - c.starts_min, 2) +
             " min after B touched A; its pot life is " + significant(a.pot_life_min, 2) + " min.";
    if (k == 0) continue;
    const CupTime& before = t.cups[t.poured[k - 1]];
    if (c.pour_from_min > before.gels_min + hair)
      return "Cup " + std::to_string(k + 1) + " reaches the mould " +
             significant(c.pour_from_min - before.gels_min, 2) + " min after cup " + std::to_string(k) +
             " has gelled: they would not become one.";
  }
  return {};
}

}  // namespace

namespace {

Result<CupsPlan> planned(const CupsAsked& a, bool any_fit, const Progress& progress) {
  const auto bad = [](std::string what) { return Error{std::move(what), "cups", ""}; };
  if (a.cups.empty()) return bad("there is no cup");
  if (a.cups.size() > 24) return bad("more than 24 cups are no one pour");
  if (a.people < 1 || a.people > 9) return bad("from one to nine people can pour");
  if (!(a.pot_life_min > 0)) return bad("the pot life must be above nought");
  for (const CupTimes& c : a.cups) {
    for (const double v : {c.weigh_min, c.stir_min, c.degas_min, c.pour_min})
      if (!(v >= 0) || v > 1e5) return bad("a cup's minutes are out of reason");
    if (c.degas_min > 0 && !a.has_chamber) return bad("a cup is to be degassed, and there is no chamber");
  }
  Search search(a, any_fit, progress);
  std::vector<size_t> order(a.cups.size());
  for (size_t k = 0; k < order.size(); ++k) order[k] = k;
  const auto total = [&](size_t c) { return a.cups[c].stir_min + a.cups[c].degas_min + a.cups[c].pour_min; };
  // As given, the quickest first, the slowest first.
  for (int way = 0; way < 3; ++way) {
    if (way == 1) std::stable_sort(order.begin(), order.end(), [&](size_t x, size_t y) { return total(x) < total(y); });
    if (way == 2) std::stable_sort(order.begin(), order.end(), [&](size_t x, size_t y) { return total(x) > total(y); });
    for (size_t ahead = 0; ahead < a.cups.size(); ++ahead) search.pattern(order, ahead);
  }
  if (a.cups.size() <= 6)
    search.all_ways(search.begun());
  else
    search.cut = true;
  if (progress.cancelled()) return Error::stopped();
  CupsPlan plan;
  plan.fits = search.best_missed <= hair;
  plan.searched_all = !search.cut;
  plan.done_min = search.best.done_min;
  for (const size_t c : search.best.poured) plan.cups.push_back(search.best.cups[c]);
  if (!plan.fits) plan.why = missed_words(a, search.best);
  return plan;
}

}  // namespace

Result<CupsPlan> plan_cups(const CupsAsked& asked, const Progress& progress) { return planned(asked, false, progress); }

std::vector<CupsLever> cups_levers(const CupsAsked& a, const Progress& progress) {
  std::vector<CupsLever> out;
  const auto fits = [&](const CupsAsked& other) {
    const auto p = planned(other, true, progress);
    return p && p->fits;
  };
  const auto offer = [&](const CupsAsked& other, std::string what) {
    if (fits(other)) out.push_back({std::move(what), true});
  };
  CupsAsked more = a;
  ++more.people;
  if (a.people < 9) offer(more, a.people == 1 ? "a second person" : "one person more");
  if (a.cups.size() > 1) {
    // The same in one cup less: each takes its share of the stirring and pouring.
    for (size_t n = a.cups.size() - 1; n >= 1; --n) {
      CupsAsked fewer = a;
      fewer.cups.resize(n);
      const double share = static_cast<double>(a.cups.size()) / static_cast<double>(n);
      for (CupTimes& c : fewer.cups) c.stir_min *= std::sqrt(share), c.pour_min *= share;
      if (!fits(fewer)) continue;
      out.push_back({counted(static_cast<long long>(n), "larger cup", "larger cups"), true});
      break;
    }
  }
  bool degassed = false;
  CupsAsked still = a;
  for (CupTimes& c : still.cups) degassed |= c.degas_min > 0, c.degas_min = 0;
  if (degassed) offer(still, "no vacuum: a grade that clears itself, poured high and thin");
  // How much slower it would have to be, to a tenth of its pot life.
  for (int tenth = 11; tenth <= 40; ++tenth) {
    CupsAsked slow = a;
    slow.pot_life_min = a.pot_life_min * tenth / 10;
    if (!fits(slow)) continue;
    const double cooler = 10 * std::log2(tenth / 10.0);  // Q10 = 2, a rule of thumb
    out.push_back({"a pot life of " + significant(slow.pot_life_min, 2) + " min: a slower grade, or a room " +
                       fixed(std::ceil(cooler), 0) + " °C cooler",
                   true});
    break;
  }
  for (size_t n = a.cups.size() - 1; n >= 1 && n < a.cups.size(); --n) {
    CupsAsked smaller = a;
    smaller.cups.resize(n);
    if (!fits(smaller)) continue;
    out.push_back({"a mould that takes " + counted(static_cast<long long>(n), "such cup", "such cups"), true});
    break;
  }
  return out;
}

}  // namespace palinform
