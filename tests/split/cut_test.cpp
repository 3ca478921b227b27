#include <catch2/catch.hpp>
#include <random>

#include "shapes.hpp"
#include "split/max_flow.hpp"

namespace tests_split_cut {

using namespace palinform;

namespace {

double price_of(const EdgePairs& pairs, const CutProblem& p, const std::vector<uint8_t>& label) {
  double sum = 0;
  for (size_t t = 0; t < label.size(); ++t) sum += label[t] ? p.cost_b[t] : p.cost_a[t];
  for (uint32_t h = 0; h < pairs.twin.size(); ++h)
    if (pairs.paired(h) && label[h / 3] == 0 && label[pairs.twin[h] / 3] == 1) sum += p.seam[h];
  return sum;
}

CutProblem random_problem(const EdgePairs& pairs, size_t n, std::mt19937& rnd) {
  CutProblem p;
  for (size_t t = 0; t < n; ++t) {
    p.cost_a.push_back(rnd() % 3 == 0 ? static_cast<float>(rnd() % 20) : 0);
    p.cost_b.push_back(rnd() % 3 == 0 ? static_cast<float>(rnd() % 20) : 0);
  }
  p.seam.resize(3 * n);
  for (uint32_t h = 0; h < p.seam.size(); ++h)
    if (pairs.paired(h)) p.seam[h] = p.seam[pairs.twin[h]] = static_cast<float>(rnd() % 12);
  return p;
}

}  // namespace

TEST_CASE("the cut is the cheapest of all labellings (brute force, 300 random problems)", "[split]") {
  const TriMesh m = shapes::box({0, 0, 0}, {1, 1, 1});  // 12 faces: 4096 labellings
  const EdgePairs pairs = pair_edges(m);
  std::mt19937 rnd(17);
  for (int k = 0; k < 300; ++k) {
    const CutProblem p = random_problem(pairs, 12, rnd);
    const auto s = cheapest_cut(pairs, p);
    REQUIRE(s);
    double least = 1e300;
    for (int bits = 0; bits < 4096; ++bits) {
      std::vector<uint8_t> label(12);
      for (int i = 0; i < 12; ++i) label[static_cast<size_t>(i)] = bits >> i & 1;
      least = std::min(least, price_of(pairs, p, label));
    }
    CHECK(s->price == Approx(least).margin(1e-6));
    CHECK(price_of(pairs, p, s->label) == Approx(least).margin(1e-6));
  }
}

TEST_CASE("flow equals cut on larger meshes too, and the answer does not wander", "[split]") {
  std::mt19937 rnd(3);
  for (int k = 0; k < 20; ++k) {
    const TriMesh m = shapes::icosphere(10, 2 + k % 3);
    const EdgePairs pairs = pair_edges(m);
    const CutProblem p = random_problem(pairs, m.triangles.size(), rnd);
    const auto s = cheapest_cut(pairs, p);
    REQUIRE(s);
    // Max-flow min-cut: a cut whose price equals the flow is the cheapest there is.
    CHECK(price_of(pairs, p, s->label) == Approx(s->price).epsilon(1e-9));
    CHECK(cheapest_cut(pairs, p)->label == s->label);
    for (int tries = 0; tries < 50; ++tries) {
      auto other = s->label;
      other[rnd() % other.size()] ^= 1;
      CHECK(price_of(pairs, p, other) >= s->price - 1e-6);
    }
  }
  Progress stop;
  stop.cancel();
  const TriMesh m = shapes::icosphere(10, 2);
  const EdgePairs pairs = pair_edges(m);
  CHECK_FALSE(cheapest_cut(pairs, random_problem(pairs, m.triangles.size(), rnd), stop));
}

}  // namespace tests_split_cut
