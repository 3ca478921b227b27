// Size: sections, predictions, draws, what to choose, what castings taught.
#include "findings/size.hpp"
#include "nodes/nodes.hpp"
#include "stages/materials.hpp"
#include "stages/preparation.hpp"

namespace palinform {
namespace {

struct SectionsIn {
  Fresh<OriginalResult> original;
  std::vector<std::array<Vec3, 2>> lines;
  auto fields(auto&& f) const { return f(original, lines); }
};
struct SizeIn {
  Job only;
  std::vector<LearnedRecord> records;
  Hash128 shelf;
  bool instant() const { return only.original.sizes.size() <= 50; }
  auto fields(auto&& f) const { return f(only, records, shelf); }
};
struct DrawsIn {
  Fresh<SizeResult> size;
  uint64_t seed;
  auto fields(auto&& f) const { return f(size, seed); }
};
struct ChooseIn {
  Job only;
  Hash128 shelf;
  bool instant() const { return only.original.sizes.size() <= 20; }
  auto fields(auto&& f) const { return f(only, shelf); }
};
struct LearnIn {
  Job only;
  std::vector<LearnedRecord> records;
  bool instant() const { return only.check.castings.size() * only.original.sizes.size() <= 500; }
  auto fields(auto&& f) const { return f(only, records); }
};

}  // namespace

void add_size_nodes(std::vector<Node>& nodes, const Shop& shop) {
  nodes.push_back(job_node(
      results::sections,
      [](const Job& job, const View& plan) -> std::optional<SectionsIn> {
        SectionsIn in{plan.fresh(results::original), {}};
        if (!in.original || job.original.sizes.empty()) return std::nullopt;
        for (const MeasuredSize& m : job.original.sizes) in.lines.push_back({m.from_mm, m.to_mm});
        return in;
      },
      [](const SectionsIn& in, const Progress& progress) -> Result<SectionsResult> {
        SectionsResult r;
        for (const auto& ends : in.lines) {
          if (progress.cancelled()) return Error::stopped();
          r.section_mm.push_back(section_of_line(*in.original, ends[0], ends[1]));
        }
        return r;
      }));

  nodes.push_back(node(
      results::size,
      [&shop](const View& plan) -> std::optional<SizeIn> {
        const Job& job = plan.subject<Subject>().job;
        const Books& books = plan.subject<Subject>().books;
        if (job.original.sizes.empty()) return std::nullopt;
        return SizeIn{size_projection(job, plan.fresh(results::sections).get()), books.learned, shop.key};
      },
      [&shop](const SizeIn& in, const Progress&) -> Result<SizeResult> {
        const auto own = shop_of(in.only.mix, shop);
        SizeResult r = predict_sizes(in.only, *own);
        r.findings = size_findings(r, in.only, *own, in.records);
        return r;
      }));

  nodes.push_back(job_node(
      results::draws,
      [](const Job& job, const View& plan) -> std::optional<DrawsIn> {
        DrawsIn in{plan.fresh(results::size), job.seed};
        return in.size && !in.size->inputs.empty() ? std::optional(in) : std::nullopt;
      },
      [](const DrawsIn& in, const Progress& progress) -> Result<DrawsResult> {
        auto drawn = draw_sizes(in.size->inputs, in.size->scale, 100'000, in.seed, progress);
        if (!drawn) return drawn.error();
        DrawsResult r;
        r.check = compare_draws(in.size->predictions, *drawn);
        r.drawn = *std::move(drawn);
        return r;
      }));

  nodes.push_back(job_node(
      results::choose,
      [&shop](const Job& job, const View& plan) -> std::optional<ChooseIn> {
        ChooseIn in{size_projection(job, plan.fresh(results::sections).get()), shop.key};
        in.only.mix.needs = job.mix.needs;
        in.only.copies = job.copies;
        in.only.original.finish.master_material = job.original.finish.master_material;
        return in;
      },
      [&shop](const ChooseIn& in, const Progress&) -> Result<ChooseResult> {
        return choose_materials(in.only, *shop_of(in.only.mix, shop));
      }));

  nodes.push_back(node(
      results::learn,
      [&shop](const View& plan) -> std::optional<LearnIn> {
        const Job& job = plan.subject<Subject>().job;
        const Books& books = plan.subject<Subject>().books;
        if (job.check.castings.empty() || job.original.sizes.empty() || !both_planned(job.mix, shop))
          return std::nullopt;
        LearnIn in{size_projection(job, plan.fresh(results::sections).get()), books.learned};
        in.only.id = job.id;
        in.only.check.castings = job.check.castings;
        return in;
      },
      [&shop](const LearnIn& in, const Progress&) -> Result<LearnResult> {
        return learn_from_castings(in.only, *shop_of(in.only.mix, shop), in.records);
      }));
}

}  // namespace palinform
