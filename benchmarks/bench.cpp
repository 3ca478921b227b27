// Loading, rays, splits, columns, pictures.
#include <benchmark/benchmark.h>
#include <tbb/parallel_for.h>

#include <chrono>
#include <cmath>
#include <map>

#include "mesh/feature.hpp"
#include "mesh/load.hpp"
#include "mesh/repair.hpp"
#include "mesh/save.hpp"
#include "mesh/soundness.hpp"
#include "mesh/topology.hpp"
#include "mix/cups.hpp"
#include "mould/box.hpp"
#include "parts.hpp"
#include "picture/render.hpp"
#include "size/scale_choice.hpp"
#include "solid/columns.hpp"
#include "solid/mend.hpp"
#include "split/accessibility.hpp"
#include "split/parting.hpp"
#include "split/pieces.hpp"
#include "split/pull_search.hpp"
#include "split/thin_rubber.hpp"
#include "split/undercuts.hpp"

using namespace palinform;

namespace {

const TriMesh& part(int64_t triangles) { return bench_part(triangles); }

void load_stl(benchmark::State& state) {
  const std::string bytes = stl_bytes(part(state.range(0)));
  for (auto _ : state) benchmark::DoNotOptimize(read_mesh(bytes, "part.stl"));
}
void pairing(benchmark::State& state) {
  for (auto _ : state) benchmark::DoNotOptimize(pair_edges(part(state.range(0))));
}
void intersections(benchmark::State& state) {
  for (auto _ : state) benchmark::DoNotOptimize(self_intersections(part(state.range(0)), 0));
}
void plain_repair(benchmark::State& state) {
  TriMesh holed = part(state.range(0));
  holed.triangles.resize(holed.triangles.size() - 30);
  for (auto _ : state) benchmark::DoNotOptimize(repair(holed));
}
void ray_tree(benchmark::State& state) {
  for (auto _ : state) benchmark::DoNotOptimize(RayScene::build(part(state.range(0))));
}
void shading_normals(benchmark::State& state) {
  const auto rays = *RayScene::build(part(state.range(0)));
  for (auto _ : state) benchmark::DoNotOptimize(make_shape(part(state.range(0)), rays));
}
/// Labelling by rays for one direction. `share_of_raw`: rays/s here over rays/s of the bare engine on the very same
/// rays, already made, in the same run.
void accessibility(benchmark::State& state) {
  const TriMesh& m = part(state.range(0));
  const auto scene = *RayScene::build(m);
  const Vec3 d{0, 0, 1};
  AccessOptions one;
  one.least_samples = 1;
  one.sample_budget = 0;
  std::vector<RayScene::Ray> rays;
  for (size_t t = 0; t < m.triangles.size(); ++t) {
    const Vec3 n = m.normal(t);
    if (n.z < -0.01) continue;
    const Vec3 p = m.centre(t) + n * 0.02 - scene->centre();
    rays.push_back(
        {{static_cast<float>(p.x), static_cast<float>(p.y), static_cast<float>(p.z)}, {0, 0, 1}, 0, INFINITY});
  }
  std::vector<uint8_t> blocked(rays.size());
  double raw_s = 0, ours_s = 0;
  const auto seconds = [](auto&& work) {
    const auto from = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - from).count();
  };
  for (auto _ : state) {
    const double ours = seconds([&] { benchmark::DoNotOptimize(releasable_share(m, *scene, d, one)); });
    ours_s += ours;
    raw_s += seconds([&] {
      tbb::parallel_for(tbb::blocked_range<size_t>(0, rays.size(), 4096), [&](const auto& r) {
        scene->occluded(std::span(rays).subspan(r.begin(), r.size()), blocked.data() + r.begin());
      });
    });
    state.SetIterationTime(ours);
  }
  state.counters["rays/s"] =
      benchmark::Counter(static_cast<double>(rays.size()), benchmark::Counter::kIsIterationInvariantRate);
  state.counters["share_of_raw"] = raw_s / ours_s;
}
void raw_rays(benchmark::State& state) {
  const TriMesh& m = part(state.range(0));
  const auto scene = *RayScene::build(m);
  std::vector<RayScene::Ray> rays;
  for (size_t t = 0; t < m.triangles.size(); ++t) {
    const Vec3 n = m.normal(t);
    if (n.z < -0.01) continue;
    const Vec3 p = m.centre(t) + n * 0.02 - scene->centre();
    rays.push_back(
        {{static_cast<float>(p.x), static_cast<float>(p.y), static_cast<float>(p.z)}, {0, 0, 1}, 0, INFINITY});
  }
  std::vector<uint8_t> blocked(rays.size());
  for (auto _ : state)
    tbb::parallel_for(tbb::blocked_range<size_t>(0, rays.size(), 4096), [&](const auto& r) {
      scene->occluded(std::span(rays).subspan(r.begin(), r.size()), blocked.data() + r.begin());
    });
  state.counters["rays/s"] =
      benchmark::Counter(static_cast<double>(rays.size()), benchmark::Counter::kIsIterationInvariantRate);
}
/// A part that is no ball: the ripple torus with pull searched, exact line, undercuts: what Split does when it opens.
struct Solid {
  const TriMesh& mesh;
  EdgePairs pairs;
  std::shared_ptr<const RayScene> rays;
  explicit Solid(int64_t n) : mesh(part(n)), pairs(pair_edges(mesh)), rays(*RayScene::build(mesh)) {}
};
void whole_split(benchmark::State& state) {
  const Solid s(state.range(0));
  for (auto _ : state) {
    const auto bores = find_bores(s.mesh, s.pairs, *s.rays);
    const auto found = search_pull(s.mesh, s.pairs, *s.rays, *bores);
    benchmark::DoNotOptimize(find_undercuts(s.mesh, found->best, {}));
  }
}
/// The first thing to look at: line and sides along one given pull.
void split_first_picture(benchmark::State& state) {
  const Solid s(state.range(0));
  for (auto _ : state) benchmark::DoNotOptimize(split_along(s.mesh, s.pairs, *s.rays, {0, 0, 1}));
}
/// After a stroke of the brush: the rays are kept, the cut and the line are new.
void split_after_stroke(benchmark::State& state) {
  const Solid s(state.range(0));
  const auto r = *releases_along(s.mesh, *s.rays, {0, 0, 1});
  const auto wishes = *wishes_of(s.mesh, s.pairs, *s.rays, SplitMarks{{}, {}, {{{52, 0, 0}, 4}}, {}});
  for (auto _ : state) benchmark::DoNotOptimize(split_from(s.mesh, s.pairs, *s.rays, r, wishes));
}
void undercut_cells(benchmark::State& state) {
  const Solid s(state.range(0));
  const auto split = *split_along(s.mesh, s.pairs, *s.rays, {1, 0, 0});
  for (auto _ : state) benchmark::DoNotOptimize(find_undercuts(s.mesh, split, {}));
}
void thin_rubber(benchmark::State& state) {
  const Solid s(state.range(0));
  for (auto _ : state) benchmark::DoNotOptimize(find_thin_rubber(s.mesh, s.pairs, *s.rays, {}, {}, 30));
}
void third_pieces(benchmark::State& state) {
  const Solid s(state.range(0));
  const auto split = *split_along(s.mesh, s.pairs, *s.rays, {1, 0, 0});
  for (auto _ : state) benchmark::DoNotOptimize(find_pieces(s.mesh, s.pairs, *s.rays, split, {}));
}
void columns(benchmark::State& state) {
  for (auto _ : state) benchmark::DoNotOptimize(build_columns(part(state.range(0)), frame_along({0, 0, 1}), 0.4, 10));
}
void mould(benchmark::State& state) {
  const TriMesh& m = part(state.range(0));
  const auto split = *split_along(m, pair_edges(m), **RayScene::build(m), {0, 0, 1});
  for (auto _ : state) benchmark::DoNotOptimize(two_part_mould(m, split, {}));
}
/// 820×716, the design's own figure: primary rays with shading, no occlusion.
void picture_moving(benchmark::State& state) {
  Scene s;
  s.bodies.push_back({});
  s.bodies[0].shape = *make_shape(part(state.range(0)));
  Camera c;
  c.width_px = 820;
  c.height_px = 716;
  c.look_from(-60, 35);
  c.fit(s.box_mm());
  for (auto _ : state) {
    PictureWork w(s, c);
    w.add_pass(Progress::none(), false);
    benchmark::DoNotOptimize(w.passes());
  }
}
void picture_pass_with_occlusion(benchmark::State& state) {
  Scene s;
  s.bodies.push_back({});
  s.bodies[0].shape = *make_shape(part(state.range(0)));
  Camera c;
  c.width_px = 820;
  c.height_px = 716;
  c.look_from(-60, 35);
  c.fit(s.box_mm());
  PictureWork w(s, c);
  for (auto _ : state) w.add_pass(Progress::none());
}
void picture_resolve(benchmark::State& state) {
  Scene s;
  s.bodies.push_back({});
  s.bodies[0].shape = *make_shape(part(state.range(0)));
  Camera c;
  c.width_px = 820;
  c.height_px = 716;
  c.look_from(-60, 35);
  c.fit(s.box_mm());
  PictureWork w(s, c);
  w.add_pass(Progress::none());
  for (auto _ : state) benchmark::DoNotOptimize(w.resolve());
}
std::vector<ChainInput> twenty() {
  ChainMaterials m;
  m.sil_shrink_pct = 0.1, m.sil_shrink_u_pct = 0.03, m.res_shrink_pct = 0.4, m.res_shrink_u_pct = 0.06;
  m.sil_expansion_per_k = 2.8e-4, m.gel_c = 30, m.gel_u_c = 1.5, m.flash_mm = 0.08, m.flash_u_mm = 0.05;
  std::vector<ChainInput> in(20);
  for (size_t i = 0; i < in.size(); ++i) {
    MeasuredSize& s = in[i].size;
    s.nominal_mm = 10 + static_cast<double>(i);
    s.lower_mm = s.nominal_mm - 0.1;
    s.upper_mm = s.nominal_mm + 0.1;
    s.formed = i % 4 == 0 ? FormedBy::across_line : FormedBy::rubber;
    s.scale_share[static_cast<int>(i % 3)] = 1;
    in[i].materials = m;
  }
  return in;
}
/// What one step of a dragged scale costs: predictions, best scale, conflicts.
void chain_drag_of_twenty(benchmark::State& state) {
  const auto in = twenty();
  for (auto _ : state) {
    for (const ChainInput& c : in) benchmark::DoNotOptimize(predict(c.size, c.materials, 1.003));
    benchmark::DoNotOptimize(best_scale(in, state.range(0) ? ScaleFreedom::per_axis : ScaleFreedom::one));
    benchmark::DoNotOptimize(scale_limits(in, ScaleFreedom::one));
  }
}
void draws_100k_of_twenty(benchmark::State& state) {
  const auto in = twenty();
  for (auto _ : state) benchmark::DoNotOptimize(draw_sizes(in, MasterScale::all(1.003), 100'000, 1));
}
/// A click on the part: nearest hit, then the face under it.
void size_hit_test(benchmark::State& state) {
  const TriMesh& m = part(state.range(0));
  const auto rays = *RayScene::build(m);
  const EdgePairs pairs = pair_edges(m);
  for (auto _ : state) {
    const auto hit = rays->first_hit({200, 3, 2}, {-1, 0, 0});
    benchmark::DoNotOptimize(fit_face(m, pairs, hit->triangle));
  }
}
/// From a scan with holes to a sound solid, soundness checks and all.
void mend_to_sound(benchmark::State& state) {
  TriMesh holed = part(state.range(0));
  holed.triangles.resize(holed.triangles.size() - 30);
  for (auto _ : state) benchmark::DoNotOptimize(palinform::mend(holed));
}
void wrap_anew(benchmark::State& state) {
  for (auto _ : state) benchmark::DoNotOptimize(wrap(part(state.range(0)), {0.5, 0}));
}
void twelve_cups_three_people(benchmark::State& state) {
  CupsAsked asked;
  asked.people = 3;
  asked.pot_life_min = 40;
  for (int i = 0; i < 12; ++i) asked.cups.push_back({1, 2.0 + 0.25 * i, i % 3 ? 6.0 : 0.0, 1.5 + 0.1 * i});
  for (auto _ : state) benchmark::DoNotOptimize(plan_cups(asked));
}

constexpr int64_t k10 = 10'000, k100 = 100'000, M = 1'000'000;

}  // namespace

BENCHMARK(load_stl)->Arg(M)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(pairing)->Arg(M)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(intersections)->Arg(k100)->Arg(M)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(plain_repair)->Arg(M)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(ray_tree)->Arg(M)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(shading_normals)->Arg(M)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(raw_rays)->Arg(k100)->Arg(M)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(accessibility)->Arg(k100)->Arg(M)->Unit(benchmark::kMillisecond)->UseManualTime();
BENCHMARK(whole_split)->Arg(k10)->Arg(k100)->Arg(M)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(split_first_picture)->Arg(k10)->Arg(k100)->Arg(M)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(split_after_stroke)->Arg(k10)->Arg(k100)->Arg(M)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(undercut_cells)->Arg(k10)->Arg(k100)->Arg(M)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(thin_rubber)->Arg(k100)->Arg(M)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(third_pieces)->Arg(k100)->Arg(M)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(columns)->Arg(k100)->Arg(M)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(mould)->Arg(k100)->Arg(M)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(picture_moving)->Arg(k100)->Arg(M)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(picture_pass_with_occlusion)->Arg(k100)->Arg(M)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(picture_resolve)->Arg(M)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(chain_drag_of_twenty)->Arg(0)->Arg(1)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(draws_100k_of_twenty)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(size_hit_test)->Arg(k100)->Arg(M)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(mend_to_sound)->Arg(M)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(twelve_cups_three_people)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(wrap_anew)->Arg(k100)->Arg(M)->Unit(benchmark::kMillisecond)->UseRealTime();
