// Every form on 100,000 triangles, through the Planner as the window has it: what is written at print quality, and what
// a step of a slider costs until mould, forms and keys are told anew. The design's limits are 5 s and 100 ms.
#include <benchmark/benchmark.h>

#include <chrono>
#include <cmath>
#include <functional>
#include <numbers>
#include <thread>

#include "graph/planner.hpp"
#include "nodes/nodes.hpp"
#include "parts.hpp"
#include "stages/building.hpp"
#include "stages/slots.hpp"
#include "stages/wall.hpp"

using namespace palinform;

namespace {

/// A rippled dome with a flat back, for the open face.
TriMesh dome(int64_t triangles) {
  const int around = static_cast<int>(std::sqrt(static_cast<double>(triangles))),
            along = static_cast<int>(triangles / 2 / around);
  std::vector<std::array<double, 2>> profile{{0, 0}};
  for (int k = 0; k < along; ++k) {
    const double a = 0.5 * std::numbers::pi * k / along;
    profile.push_back({40 * std::cos(a), 18 * std::sin(a) * (1 + 0.03 * std::sin(11 * a))});
  }
  profile.push_back({0, 18});
  return shapes::turned(profile, around);
}

/// A rippled sleeve, for cup and core.
TriMesh sleeve(int64_t triangles) {
  const int around = static_cast<int>(std::sqrt(static_cast<double>(triangles))),
            section = static_cast<int>(triangles / 2 / around);
  const int along = section / 2;
  TriMesh m;
  for (int i = 0; i < around; ++i)
    for (int k = 0; k < 2 * along; ++k) {
      const double a = 2 * std::numbers::pi * i / around, up = k < along ? k : 2 * along - 1 - k,
                   z = 40 * up / (along - 1), r = k < along ? 16 + 0.4 * std::sin(5 * a) * std::sin(0.3 * z) : 8;
      m.points.push_back({r * std::cos(a), r * std::sin(a), z});
    }
  const auto at = [&](int i, int k) { return static_cast<uint32_t>((i % around) * 2 * along + k % (2 * along)); };
  for (int i = 0; i < around; ++i)
    for (int k = 0; k < 2 * along; ++k) {
      m.triangles.push_back({at(i, k), at(i + 1, k), at(i + 1, k + 1)});
      m.triangles.push_back({at(i, k), at(i + 1, k + 1), at(i, k + 1)});
    }
  return m;
}

/// What suits the form: a strip's part is small.
TriMesh part_for(Form form, int64_t triangles) {
  if (form == Form::open) return dome(triangles);
  if (form == Form::cup_core) return sleeve(triangles);
  TriMesh m = bench_part(triangles);
  if (form == Form::strip)
    for (Vec3& p : m.points) p = p * 0.12;
  return m;
}

struct FormJob {
  std::shared_ptr<const TriMesh> mesh;
  std::unique_ptr<Planner> plan;
  Job job;
  FormJob(Form form, int64_t triangles) : mesh(std::make_shared<const TriMesh>(part_for(form, triangles))) {
    job.id = new_id();
    job.original.mesh = {hash_of(*mesh).hex(), "bench.stl", LengthUnit::mm, 0};
    job.split.pull = Vec3{0, 0, 1};
    job.mix.silicone_id = "add-40-translucent", job.mix.resin_id = "pu-rigid-ivory";
    if (form == Form::strip) job.copies = 6, job.mould.masters = 3;
    job.mould.form = name_of(form);
    plan = std::make_unique<Planner>(
        job_nodes(starting_shop(),
                  [this](const std::string&) -> Result<std::shared_ptr<const TriMesh>> { return mesh; }),
        2);
  }
  void set(bool in_hand) {
    Study study;
    study.in_hand = in_hand;
    plan->set(Subject{job, {}, study});
  }
  /// Until what a person who drags looks at is there. False when it cannot be.
  bool until_seen() {
    for (;;) {
      plan->collect();
      if (plan->fresh(results::mould) && plan->fresh(results::forms) &&
          plan->state(results::keys).state != Freshness::running)
        return true;
      if (!plan->busy()) return false;
      std::this_thread::sleep_for(std::chrono::microseconds(200));
    }
  }
};

Form form_of(const benchmark::State& state) { return static_cast<Form>(state.range(0)); }

/// What `palin mould --form … --out` writes.
void form_written(benchmark::State& state) {
  FormJob f(form_of(state), state.range(1));
  state.SetLabel(std::string(name_of(form_of(state))));
  f.set(false);
  f.plan->wait();
  const auto master = f.plan->fresh(results::master);
  const auto split = f.plan->fresh(results::split);
  const auto forms = f.plan->fresh(results::forms);
  if (!master || !split || !forms) return state.SkipWithError("the form has no plan");
  const auto pins = f.plan->fresh(results::pins);
  const auto keys = f.plan->fresh(results::keys);
  const auto pieces = f.plan->fresh(results::pieces);
  const BuildOrder order =
      build_order(f.job, starting_shop(), *forms, pins.get(), f.plan->fresh(results::channels).get(), pieces.get(),
                  f.plan->fresh(results::inserts).get());
  const MouldOptions how = mould_options(f.job, starting_shop(), wall_of(f.job, starting_shop(), master->own_size_mm));
  state.counters["voxel_mm"] = order.voxel_mm;
  for (auto _ : state) {
    const auto built = build_files(*master->mesh, *master->rays, split->split, how, keys ? keys->plan : KeyPlan{},
                                   f.plan->fresh(results::bores)->bores, forms->box, order, f.job.name);
    if (!built) return state.SkipWithError(built.error().text().c_str());
    state.counters["solids"] = static_cast<double>(built->meshes.size());
  }
}

/// Steps of a slider, its first one (the job was at rest before) apart from those that follow.
void dragged(benchmark::State& state, FormJob& f, const std::function<void(Job&, int)>& step, bool in_hand = true) {
  f.set(false);
  f.plan->wait();
  int k = 0;
  const auto once = [&] {
    step(f.job, ++k);
    const auto from = std::chrono::steady_clock::now();
    f.set(in_hand);
    if (!f.until_seen()) state.SkipWithError("the form has no plan");
    return 1e3 * std::chrono::duration<double>(std::chrono::steady_clock::now() - from).count();
  };
  state.counters["first_ms"] = once();
  for (auto _ : state) state.SetIterationTime(1e-3 * once());
}
void wall_dragged(benchmark::State& state) {
  FormJob f(form_of(state), state.range(1));
  state.SetLabel(std::string(name_of(form_of(state))));
  dragged(state, f, [](Job& job, int k) { job.mould.wall_mm = 12 + 0.5 * (k % 12) + 1e-3 * k; });
}
/// Of a skin, or of the half that is brushed.
void coat_dragged(benchmark::State& state) {
  FormJob f(form_of(state), state.range(1));
  state.SetLabel(std::string(name_of(form_of(state))));
  if (form_of(state) != Form::skin) f.job.mould.brushed = Brushed::b;
  for (size_t c = 0; c < 4; ++c) f.job.mould.coats.push_back(coat_by_rule(c, 1.2));
  dragged(state, f, [](Job& job, int k) { job.mould.coats[1].mm = 1.0 + 0.05 * (k % 12) + 1e-4 * k; });
}
void key_dragged(benchmark::State& state) {
  FormJob f(form_of(state), state.range(1));
  state.SetLabel(std::string(name_of(form_of(state))));
  f.set(false);
  f.plan->wait();
  const auto keys = f.plan->fresh(results::keys);
  const auto mould = f.plan->fresh(results::mould);
  if (!keys || keys->plan.keys.empty()) return state.SkipWithError("no keys");
  for (const Key& key : keys->plan.keys)
    f.job.mould.key_places.push_back(mould->block().frame.direction_back(key.at_mm));
  // A key is moved on the mould as it is: nothing is made coarser for it.
  dragged(
      state, f, [](Job& job, int) { job.mould.key_places[0].x += 0.02; }, false);
}

void every_form(benchmark::internal::Benchmark* b) {
  for (int form = 0; form < form_count; ++form) b->Args({form, 100'000});
  b->Unit(benchmark::kMillisecond)->UseRealTime();
}
void halves_and_skin(benchmark::internal::Benchmark* b) {
  for (const Form form : {Form::two_part, Form::skin}) b->Args({static_cast<int>(form), 100'000});
  b->Unit(benchmark::kMillisecond)->UseManualTime();
}

}  // namespace

BENCHMARK(form_written)->Apply(every_form);
BENCHMARK(wall_dragged)->Apply(halves_and_skin);
BENCHMARK(coat_dragged)->Apply(halves_and_skin);
BENCHMARK(key_dragged)
    ->Args({static_cast<int>(Form::two_part), 100'000})
    ->Unit(benchmark::kMillisecond)
    ->UseManualTime();
