// Mix, stock, days and check: what follows once the mould stands.
#include "findings/check.hpp"
#include "findings/mix.hpp"
#include "nodes/nodes.hpp"
#include "stages/judging.hpp"
#include "stages/timing.hpp"
#include "stages/weighing.hpp"

namespace palinform {
namespace {

struct MixIn {
  Fresh<MouldResult> mould;
  Fresh<FormsResult> forms;  // where the form has pours of its own
  double channels_mm3;       // gate and vents as laid out; 0: not yet, an allowance
  Job only;
  bool instant() const { return true; }
  auto fields(auto&& f) const { return f(mould, forms, channels_mm3, only); }
};
struct StockIn {
  Fresh<MixResult> mix;
  int moulds;
  std::string silicone, resin, today;
  std::vector<Lot> lots;
  bool instant() const { return lots.size() <= 200; }
  auto fields(auto&& f) const { return f(mix, moulds, silicone, resin, today, lots); }
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
        MixIn in{plan.fresh(results::mould), {}, 0, {}};
        if (!in.mould || !shop.shelf.silicone(job.mix.silicone_id) || !shop.shelf.resin(job.mix.resin_id))
          return std::nullopt;
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
        return in;
      },
      [&shop](const MixIn& in, const Progress&) -> Result<MixResult> {
        MixResult r = mix_result(*in.mould, in.forms.get(), in.channels_mm3, in.only, shop);
        r.findings = mix_findings(r, in.only, shop);
        return r;
      }));

  nodes.push_back(node(
      results::stock,
      [](const View& plan) -> std::optional<StockIn> {
        const Subject& s = plan.subject<Subject>();
        const auto mix = plan.fresh(results::mix);
        if (!mix || s.books.today.empty()) return std::nullopt;
        return StockIn{mix, s.job.days.moulds, s.job.mix.silicone_id, s.job.mix.resin_id, s.books.today, s.books.lots};
      },
      [&shop](const StockIn& in, const Progress&) -> Result<StockResult> {
        const Silicone& sil = *shop.shelf.silicone(in.silicone);
        const Resin& res = *shop.shelf.resin(in.resin);
        const std::vector<Need> needs{{sil.id, sil.name, in.mix->rubber_g * in.moulds},
                                      {res.id, res.name, in.mix->resin_g}};
        return StockResult{stock_findings(needs, in.lots, in.today)};
      }));

  nodes.push_back(job_node(
      results::days,
      [](const Job& job, const View& plan) -> std::optional<DaysIn> {
        DaysIn in{plan.fresh(results::mix), {}};
        if (!in.mix || job.days.start.empty()) return std::nullopt;
        in.only.copies = job.copies;
        in.only.days = job.days;
        in.only.flow.aid = job.flow.aid;
        in.only.mix.silicone_id = job.mix.silicone_id;
        in.only.mix.resin_id = job.mix.resin_id;
        in.only.size.room_c = job.size.room_c;
        in.only.original.finish.master_material = job.original.finish.master_material;
        return in;
      },
      [&shop](const DaysIn& in, const Progress& progress) -> Result<DaysResult> {
        return days_result(*in.mix, in.only, shop, progress);
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
