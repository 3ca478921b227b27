// Mix, stock, days and check: what follows once the mould stands.
#include "findings/check.hpp"
#include "findings/mix.hpp"
#include "nodes/nodes.hpp"
#include "stages/judging.hpp"
#include "stages/materials.hpp"
#include "stages/timing.hpp"
#include "stages/weighing.hpp"

namespace palinform {
namespace {

struct MixIn {
  Fresh<MouldResult> mould;
  Fresh<FormsResult> forms;  // where the form has pours of its own
  double channels_mm3;       // gate and vents as laid out; 0: not yet, an allowance
  Job only;
  std::vector<Material> shelf;  // what it says of them now
  bool instant() const { return true; }
  auto fields(auto&& f) const { return f(mould, forms, channels_mm3, only, shelf); }
};
struct StockIn {
  Fresh<MixResult> mix;
  int moulds;
  MixSetup materials;
  std::string today;
  std::vector<Lot> lots;
  bool instant() const { return lots.size() <= 200; }
  auto fields(auto&& f) const { return f(mix, moulds, materials, today, lots); }
};
struct DaysIn {
  Fresh<MixResult> mix;
  Job only;
  // A few steps are laid out at once; more of them on a worker.
  bool instant() const { return only.copies <= 24; }
  auto fields(auto&& f) const { return f(mix, only); }
};
struct CheckIn {
  std::vector<MeasuredSize> sizes;
  CheckSetup check;
  bool instant() const { return sizes.size() * check.castings.size() <= 1000; }
  auto fields(auto&& f) const { return f(sizes, check); }
};

}  // namespace

void add_later_nodes(std::vector<Node>& nodes, const Shop& shop) {
  nodes.push_back(job_node(
      results::mix,
      [&shop](const Job& job, const View& plan) -> std::optional<MixIn> {
        MixIn in{plan.fresh(results::mould), {}, 0, {}, {}};
        if (!in.mould || !both_planned(job.mix, shop)) return std::nullopt;
        const bool shape = !job.original.mesh.hash.empty();
        const bool own_pours = shape && !job.mould.form.empty() && named<Form>(job.mould.form) != Form::two_part;
        if (own_pours && !(in.forms = plan.fresh(results::forms))) return std::nullopt;
        if (shape && job.flow.gate) {
          const auto channels = plan.fresh(results::channels);
          if (!channels) return std::nullopt;
          if (!own_pours) in.channels_mm3 = channels->volume_mm3;
        }
        in.only.copies = job.copies;
        in.only.mix = job.mix;
        in.only.mix.needs = {};
        in.only.size.room_c = job.size.room_c;
        for (const std::string* id : {&job.mix.silicone_id, &job.mix.resin_id})
          if (const Material* now = shop.bottle(*id)) in.shelf.push_back(*now);
        return in;
      },
      [&shop](const MixIn& in, const Progress&) -> Result<MixResult> {
        const auto own = shop_of(in.only.mix, shop);
        MixResult r = mix_result(*in.mould, in.forms.get(), in.channels_mm3, in.only, *own);
        r.findings = mix_findings(r, in.only, *own);
        for (Finding& f : shelf_findings(in.only.mix, in.shelf)) r.findings.push_back(std::move(f));
        return r;
      }));

  nodes.push_back(node(
      results::stock,
      [](const View& plan) -> std::optional<StockIn> {
        const Subject& s = plan.subject<Subject>();
        const auto mix = plan.fresh(results::mix);
        if (!mix || s.books.today.empty()) return std::nullopt;
        return StockIn{mix, s.job.days.moulds, materials_only(s.job.mix), s.books.today, s.books.lots};
      },
      [&shop](const StockIn& in, const Progress&) -> Result<StockResult> {
        return StockResult{stock_findings(needs_of(*in.mix, in.materials, in.moulds, shop), in.lots, in.today)};
      }));

  nodes.push_back(job_node(
      results::days,
      [](const Job& job, const View& plan) -> std::optional<DaysIn> {
        DaysIn in{plan.fresh(results::mix), {}};
        if (!in.mix || job.days.start.empty()) return std::nullopt;
        in.only.copies = job.copies;
        in.only.days = job.days;
        in.only.flow.aid = job.flow.aid;
        in.only.mix = materials_only(job.mix);
        in.only.size.room_c = job.size.room_c;
        in.only.original.finish.master_material = job.original.finish.master_material;
        return in;
      },
      [&shop](const DaysIn& in, const Progress& progress) -> Result<DaysResult> {
        return days_result(*in.mix, in.only, *shop_of(in.only.mix, shop), progress);
      }));

  nodes.push_back(job_node(
      results::check,
      [](const Job& job, const View&) -> std::optional<CheckIn> {
        if (job.check.castings.empty() || job.original.sizes.empty()) return std::nullopt;
        return CheckIn{job.original.sizes, job.check};
      },
      [](const CheckIn& in, const Progress&) -> Result<CheckResult> {
        CheckResult r = check_result(in.sizes, in.check);
        r.findings = check_findings(r, in.sizes);
        return r;
      }));
}

}  // namespace palinform
