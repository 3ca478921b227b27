// Flow and what is built: the sweep against a plain bucket sort of the same cells, the tilt search, the halves.
#include <benchmark/benchmark.h>

#include <cmath>

#include "flow/filling.hpp"
#include "flow/plan.hpp"
#include "flow/roofs.hpp"
#include "mould/halves.hpp"
#include "mould/jacket.hpp"
#include "mould/parting_board.hpp"
#include "parts.hpp"

using namespace palinform;

namespace {

const Cavity& cavity(int64_t cells) {
  static std::map<int64_t, Cavity> made;
  Cavity& c = made[cells];
  if (c.size() == 0) {
    const TriMesh& m = bench_part(100'000);
    c = *fill_with_cells(m, voxel_for(measure(m).volume_mm3, static_cast<double>(cells)));
  }
  return c;
}

std::vector<AirHole> two_vents() { return {{{28, 0, 0}, 0}, {{-52, 0, 0}, 0}}; }

void per_cell(benchmark::State& state, size_t cells) {
  state.counters["ns_per_cell"] =
      benchmark::Counter(static_cast<double>(cells) * static_cast<double>(state.iterations()) * 1e-9,
                         benchmark::Counter::kIsRate | benchmark::Counter::kInvert);
}

void sweep_one(benchmark::State& state) {
  const Cavity& c = cavity(state.range(0));
  for (auto _ : state) benchmark::DoNotOptimize(sweep_air(c, {0.9, 0.1, 0.4}, two_vents()));
  per_cell(state, c.size());
}
/// The yardstick: heights and one counting sort of the same cells, nothing joined.
void bucket_sort(benchmark::State& state) {
  const Cavity& c = cavity(state.range(0));
  Descent d;
  for (auto _ : state) {
    descend(c, unit(Vec3{0.9, 0.1, 0.4}), d);
    benchmark::DoNotOptimize(d.order.data());
  }
  per_cell(state, c.size());
}
/// 400 orientations on all cores, each with all its roofs.
void orientations(benchmark::State& state) {
  const Cavity& c = cavity(365'000);
  const auto rays = *RayScene::build(bench_part(100'000));
  FlowPlanOptions o;
  o.coarse_cells = 365'000;
  o.tilt_step_deg = 9;
  o.azimuths = 80;
  for (auto _ : state) benchmark::DoNotOptimize(plan_flow(bench_part(100'000), *rays, c, o));
}
void plan_as_in_the_window(benchmark::State& state) {
  const Cavity& c = cavity(300'000);
  const auto rays = *RayScene::build(bench_part(100'000));
  for (auto _ : state) benchmark::DoNotOptimize(plan_flow(bench_part(100'000), *rays, c, {}));
}
void cells(benchmark::State& state) {
  const TriMesh& m = bench_part(100'000);
  const double h = voxel_for(measure(m).volume_mm3, static_cast<double>(state.range(0)));
  for (auto _ : state) benchmark::DoNotOptimize(fill_with_cells(m, h));
}
void filling(benchmark::State& state) {
  const auto rays = *RayScene::build(bench_part(100'000));
  const auto net = *fill_network(bench_part(100'000), *rays);
  FillConditions c;
  c.sprue_top_mm = 120, c.gate_level_mm = 15;
  for (auto _ : state) benchmark::DoNotOptimize(fill_course(net, {0.3, 0, 1}, {{52, 0, 0}}, c));
}

struct Built {
  const TriMesh& mesh = bench_part(100'000);
  EdgePairs pairs = pair_edges(mesh);
  std::shared_ptr<const RayScene> rays = *RayScene::build(mesh);
  Split split = *split_along(mesh, pairs, *rays, {0, 0, 1});
  MouldOptions how{12, 0, 1.1, {}, 6};
  Mould block() const { return *two_part_mould(mesh, split, how); }
  KeyPlan keys() const { return place_keys(block(), KeyKind::studs); }
};
void halves(benchmark::State& state) {
  const Built b;
  const KeyPlan keys = b.keys();
  for (auto _ : state) {
    const Mould fine = *fine_mould(b.mesh, b.split, b.how, 0.3);
    benchmark::DoNotOptimize(mould_halves(b.mesh, fine, keys, {}, {0.3, 0.05}));
  }
}
void board(benchmark::State& state) {
  const Built b;
  const KeyPlan keys = b.keys();
  for (auto _ : state) {
    const Mould fine = *fine_mould(b.mesh, b.split, b.how, 0.3);
    benchmark::DoNotOptimize(parting_board(b.mesh, *b.rays, fine, keys));
  }
}
void jacket(benchmark::State& state) {
  const Built b;
  const Mould m = b.block();
  for (auto _ : state) benchmark::DoNotOptimize(plan_jacket(b.mesh, m));
}
/// What moves while the wall's slider is dragged.
void wall_slider(benchmark::State& state) {
  Built b;
  for (auto _ : state) {
    b.how.wall_mm = b.how.wall_mm > 14 ? 10 : b.how.wall_mm + 0.5;
    benchmark::DoNotOptimize(two_part_mould(b.mesh, b.split, b.how));
  }
}
/// What moves while a key is dragged.
void key_drag(benchmark::State& state) {
  const Built b;
  const Mould m = b.block();
  KeyPlan keys = place_keys(m, KeyKind::studs);
  std::vector<Vec3> places;
  for (const Key& k : keys.keys) places.push_back(k.at_mm);
  for (auto _ : state) {
    places[0].x += 0.01;
    benchmark::DoNotOptimize(place_keys(m, KeyKind::studs, {}, places));
  }
}

}  // namespace

BENCHMARK(sweep_one)->Arg(30'000)->Arg(365'000)->Arg(3'000'000)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(bucket_sort)->Arg(30'000)->Arg(365'000)->Arg(3'000'000)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(cells)->Arg(30'000)->Arg(365'000)->Arg(3'000'000)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(orientations)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(plan_as_in_the_window)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(filling)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(halves)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(board)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(jacket)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(wall_slider)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(key_drag)->Unit(benchmark::kMillisecond)->UseRealTime();
