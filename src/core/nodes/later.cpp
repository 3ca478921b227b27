// Mix, stock, days and check: what follows once the mould stands.
#include <algorithm>

#include "findings/check.hpp"
#include "findings/days.hpp"
#include "findings/mix.hpp"
#include "job/parts.hpp"
#include "nodes/nodes.hpp"
#include "stages/assembling.hpp"
#include "stages/closing.hpp"
#include "stages/flowing.hpp"
#include "stages/inserts.hpp"
#include "stages/judging.hpp"
#include "stages/materials.hpp"
#include "stages/openings.hpp"
#include "stages/proceeding.hpp"
#include "stages/timing.hpp"
#include "stages/touching.hpp"
#include "stages/weighing.hpp"

namespace palinform {
namespace {

struct MixIn {
  Fresh<MouldResult> mould;
  Fresh<FormsResult> forms;  // where the form has pours of its own
  CastBesides besides;
  Job only;
  std::vector<Material> shelf;  // what it says of them now
  std::optional<Material> jacket;
  Fresh<SolidsResult> solids;  // only where there are further pieces
  bool instant() const { return true; }
  std::optional<Film> rubber_film, resin_film;
  auto fields(auto&& f) const {
    return f(mould, forms, besides.channels, besides.films, besides.inserts, besides.of_others, besides.seats[0],
             besides.seats[1], only, shelf, jacket, solids, rubber_film, resin_film);
  }
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
struct ProcedureIn {
  Fresh<MixResult> mix;
  Fresh<MouldResult> mould;
  Fresh<FormsResult> forms;
  Fresh<WayFacts> facts;
  std::optional<Way> way;
  Fresh<PinsResult> pins;
  Fresh<KeysResult> keys;
  Fresh<BoardResult> board;
  Fresh<ChannelsResult> channels;
  Fresh<PrintResult> print;
  Fresh<ClosingResult> closing;  // only of what is squeezed
  Fresh<OtherPartsResult> others;
  Fresh<OpeningsResult> openings;       // where the job says something of them
  Fresh<InsertsResult> inserts;         // where it casts something in
  Fresh<AssemblyResult> assembly;       // of more than two halves, once it is worked out
  Fresh<OtherClosingsResult> closings;  // of several parts that are squeezed
  Job only;
  OwnWays habits;
  std::optional<Material> jacket;
  Shown shown;
  std::vector<TestFacts> tests;
  bool instant() const { return only.copies <= 100; }
  auto fields(auto&& f) const {
    return f(mix, mould, forms, facts, way, pins, keys, board, channels, print, closing, others, openings, inserts,
             assembly, closings, only, habits, jacket, shown, tests);
  }
};
struct DaysIn {
  Fresh<MixResult> mix;
  Fresh<ProcedureResult> work;
  Job only;
  ShopTime others;
  Begun begun;
  // On a worker: laid out once for each number of moulds, it would hold the window's thread.
  auto fields(auto&& f) const { return f(mix, work, only, others, begun); }
};
struct WhysIn {
  std::vector<Casting> castings;
  Fresh<FlowResult> flow;  // once it is there
  FlowSetup flow_setup;
  double room_c, reference_c;
  bool sealed;
  std::string surface, cure_step;
  double cure_min, over_pct;
  std::vector<ConfirmedCause> taught;
  bool instant() const { return true; }
  auto fields(auto&& f) const {
    return f(castings, flow, flow_setup, room_c, reference_c, sealed, surface, cure_step, cure_min, over_pct, taught);
  }
};
/// The `k`-th casting from the last that has a scan.
const Casting* scanned(const Job& job, size_t k) {
  const auto& all = job.check.castings;
  for (auto c = all.rbegin(); c != all.rend(); ++c)
    if (!c->scan.empty() && k-- == 0) return &*c;
  return nullptr;
}
struct LaidScanIn {
  Fresh<OriginalResult> original;
  std::string scan;
  int number;
  auto fields(auto&& f) const { return f(original, scan, number); }
};
struct ScanIn {
  Fresh<OriginalResult> original;
  Fresh<LaidScanResult> laid;
  std::string scan;
  std::vector<MeasuredSize> sizes;
  auto fields(auto&& f) const { return f(original, laid, scan, sizes); }
};
struct CheckIn {
  std::vector<MeasuredSize> sizes;
  CheckSetup check;
  std::vector<OwnGauge> gauges;
  std::string today;
  bool instant() const { return sizes.size() * check.castings.size() <= 1000; }
  auto fields(auto&& f) const { return f(sizes, check, gauges, today); }
};

}  // namespace

void add_later_nodes(std::vector<Node>& nodes, const Shop& shop, const MeshSource& meshes) {
  nodes.push_back(job_node(
      results::mix,
      [&shop](const Job& job, const View& plan) -> std::optional<MixIn> {
        MixIn in{plan.fresh(results::mould), {}, {}, {}, {}, {}, {}, {}, {}};
        if (!in.mould || !both_planned(job.mix, shop)) return std::nullopt;
        const bool own_pours = job.mould.planned_form() != Form::two_part || job.mould.masters > 1 || in.mould->set ||
                               brushed_half_of(job) != Brushed::none;
        if (own_pours && !(in.forms = plan.fresh(results::forms))) return std::nullopt;
        if (in.forms && in.forms->form == Form::pieces && !job.split.piece_pulls.empty() &&
            !(in.solids = plan.fresh(results::solids)))
          return std::nullopt;
        if (job.flow.gate) {
          const auto channels = plan.fresh(results::channels);
          if (!channels) return std::nullopt;
          if (job.mould.planned_form() == Form::two_part) in.besides.channels = channels->volume_mm3;
          if (parts_in_box(job)) in.besides.of_others = channels->others_mm3;
        }
        if (parts_in_box(job) && job.mould.planned_form() == Form::squeeze)
          in.besides.of_others = poured_over_pct(job.flow.squeeze, shop.rules) / 100 * in.mould->others_mm3;
        if (std::any_of(job.split.openings.begin(), job.split.openings.end(),
                        [](const OpeningChoice& c) { return c.leaves_film(); })) {
          const auto openings = plan.fresh(results::openings);
          if (!openings) return std::nullopt;
          in.besides.films = films_mm3(openings->found, job.split.openings);
        }
        if (!job.split.inserts.empty()) {
          const auto inserts = plan.fresh(results::inserts);
          const auto master = plan.fresh(results::master);
          const auto split = plan.fresh(results::split);
          if (!inserts || !master || !split) return std::nullopt;
          in.besides.inserts = inserts->inside_mm3;
          in.besides.seats = seats_mm3(*inserts, *master, split->split);
        }
        if (const Material* paste = in.forms && in.forms->backed() ? jacket_material(job.mix, shop) : nullptr)
          in.jacket = *paste;
        in.only.copies = job.copies;
        in.only.parts = counts_only(job.parts);
        in.only.mould.form = job.mould.form;
        in.only.mix = job.mix;
        in.only.mix.needs = {};
        in.only.days.ends = job.days.ends;
        in.only.size.room_c = job.size.room_c;
        const Books& books = plan.subject<Subject>().books;
        in.rubber_film = film_of(books.emptied, job.mix.silicone_id);
        in.resin_film = film_of(books.emptied, job.mix.resin_id);
        for (const std::string* id : {&job.mix.silicone_id, &job.mix.silicone_b_id, &job.mix.resin_id})
          if (const Material* now = shop.bottle(*id)) in.shelf.push_back(*now);
        return in;
      },
      [&shop](const MixIn& in, const Progress&) -> Result<MixResult> {
        const auto own = with_films(shop_of(in.only.mix, shop), in.only.mix, in.rubber_film, in.resin_film);
        MixResult r = mix_result(*in.mould, in.forms.get(), in.solids ? in.solids->volume_mm3 : std::vector<double>{},
                                 in.besides, in.only, *own);
        r.findings = mix_findings(r, in.only, *own);
        for (Finding& f : stirring_findings(in.only.mix, shop)) r.findings.push_back(std::move(f));
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
      results::procedure,
      [&shop](const Job& job, const View& plan) -> std::optional<ProcedureIn> {
        ProcedureIn in;
        in.mix = plan.fresh(results::mix);
        in.mould = plan.fresh(results::mould);
        if (!in.mix || !in.mould) return std::nullopt;
        const Form form = job.mould.planned_form();
        in.forms = plan.fresh(results::forms);
        in.facts = plan.fresh(results::facts);
        const auto ways = plan.fresh(results::ways);
        if (!in.forms || !in.facts || !ways) return std::nullopt;
        in.way = ways->chosen;
        if (!job.split.openings.empty() && !(in.openings = plan.fresh(results::openings))) return std::nullopt;
        if (!job.split.inserts.empty() && !(in.inserts = plan.fresh(results::inserts))) return std::nullopt;
        if (job.split.has_pins() && !(in.pins = plan.fresh(results::pins))) return std::nullopt;
        // The order is told once the solids stand; nobody waits for it.
        if (comes_apart_in_order(job)) in.assembly = plan.fresh(results::assembly);
        if (in_halves(form) && !(in.keys = plan.fresh(results::keys))) return std::nullopt;
        const bool board = form == Form::skin || (in_halves(form) && in.way == Way::printed_board);
        if (board && !(in.board = plan.fresh(results::board))) return std::nullopt;
        if (job.flow.gate && !(in.channels = plan.fresh(results::channels))) return std::nullopt;
        if (form == Form::squeeze && !(in.closing = plan.fresh(results::closing))) return std::nullopt;
        if (form == Form::squeeze && parts_in_box(job) && !(in.closings = plan.fresh(results::other_closings)))
          return std::nullopt;
        if (job.size.master != MasterKind::original || job.original.finish.master_material.starts_with("printed"))
          in.print = plan.fresh(results::print);
        in.only.copies = job.copies;
        in.only.parts = counts_only(job.parts);
        in.only.part_name = job.part_name, in.only.part_at = job.part_at;
        if (parts_together(job) && !(in.others = plan.fresh(results::other_parts))) return std::nullopt;
        in.only.original.finish = job.original.finish;
        in.only.original.sizes = job.original.sizes;
        in.only.original.master_steps = job.original.master_steps;
        in.only.size = job.size;
        in.only.split.bores = job.split.bores;
        in.only.split.openings = job.split.openings;
        in.only.split.inserts = job.split.inserts;
        in.only.split.threads = job.split.threads;
        in.only.split.piece_pulls = job.split.piece_pulls;
        in.only.mould = job.mould;
        in.only.flow = job.flow;
        in.only.mix = materials_only(job.mix);
        in.only.mix.jacket_id = job.mix.jacket_id;
        in.only.days = job.days;
        in.only.days.start.clear();
        in.only.days.bench = {};
        const auto own = shop_of(job.mix, shop);
        if (const auto met = plan.fresh(results::meetings)) in.tests = tests_wanted(*met, job, *own);
        const Books& books = plan.subject<Subject>().books;
        for (TestFacts& t : cups_wanted(job, *own, books.lots, books.trials, books.today))
          in.tests.push_back(std::move(t));
        for (TestFacts& t : in.tests)
          if (t.wanted.kind == TrialKind::patch)
            t.wanted.lot_id = lot_in_use(books.lots, t.wanted.material_id, books.today);
        in.habits = shop.habits;
        in.shown = shop.shown;
        const bool backed = form == Form::skin || brushed_half_of(job) != Brushed::none;
        if (const Material* paste = backed ? jacket_material(job.mix, shop) : nullptr) in.jacket = *paste;
        return in;
      },
      [&shop](const ProcedureIn& in, const Progress&) -> Result<ProcedureResult> {
        const auto own = shop_of(in.only.mix, shop);
        ProceedingGround g{*in.mix,          *in.mould,       in.forms.get(),    in.facts.get(),    in.way,
                           in.pins.get(),    in.keys.get(),   in.board.get(),    in.channels.get(), in.print.get(),
                           in.closing.get(), in.others.get(), in.openings.get(), in.inserts.get(),  in.assembly.get(),
                           in.closings.get()};
        ProcedureFacts facts = procedure_facts(g, in.only, *own);
        facts.tests = in.tests;
        return procedure_result(std::move(facts), in.only.days.own_ways(), *own);
      }));

  nodes.push_back(job_node(
      results::days,
      [](const Job& job, const View& plan) -> std::optional<DaysIn> {
        const Books& books = plan.subject<Subject>().books;
        DaysIn in{plan.fresh(results::mix), plan.fresh(results::procedure), {}, books.others, books.begun};
        if (!in.mix || !in.work || job.days.start.empty()) return std::nullopt;
        in.only.copies = job.copies;
        in.only.days = job.days;
        return in;
      },
      [&shop](const DaysIn& in, const Progress& progress) -> Result<DaysResult> {
        auto r = days_result(*in.mix, *in.work, in.only, shop, in.others, in.begun, progress);
        if (r) r->findings = days_findings(*r);
        return r;
      }));

  nodes.push_back(node(
      results::whys,
      [&shop](const View& plan) -> std::optional<WhysIn> {
        const auto& [job, books, study] = plan.subject<Subject>();
        if (std::none_of(job.check.castings.begin(), job.check.castings.end(),
                         [](const Casting& c) { return !c.faults.empty(); }))
          return std::nullopt;
        WhysIn in{};
        in.castings = job.check.castings;
        in.flow = plan.fresh(results::flow);
        in.flow_setup = without_plan(job.flow);
        in.room_c = job.size.room_c;
        const auto resin = planned_resin(job.mix, shop);
        in.reference_c = resin ? resin->reference_c : 23;
        in.sealed = job.original.finish.contacts.sealed;
        in.surface = job.original.finish.master_material;
        if (const auto work = plan.fresh(results::procedure))
          for (const ProcedureStep& s : work->procedure.steps)
            if (s.block == Block::cast && s.wait_min > in.cure_min) in.cure_step = s.stem, in.cure_min = s.wait_min;
        if (const auto closing = plan.fresh(results::closing)) in.over_pct = closing->over_pct;
        in.taught = books.equipment.causes;
        return in;
      },
      [&shop](const WhysIn& in, const Progress&) -> Result<WhysResult> {
        WhyGround g;
        g.flow = in.flow.get();
        g.tilt_deg = in.flow_setup.tilt_deg, g.sprue_mm = in.flow_setup.sprue_mm;
        g.reference_c = in.reference_c, g.room_c = in.room_c, g.over_pct = in.over_pct;
        if (in.sealed) g.sealed = true;
        g.surface = in.surface;
        g.cure_step = in.cure_step, g.cure_min = in.cure_min;
        return whys_of(in.castings, g, in.taught, shop.rules.check.cause);
      }));

  for (size_t k = 0; k < results::most_scans; ++k) {
    nodes.push_back(job_node(
        results::laid_scans[k],
        [k](const Job& job, const View& plan) -> std::optional<LaidScanIn> {
          const Casting* c = scanned(job, k);
          LaidScanIn in{plan.fresh(results::original), c ? c->scan : std::string(), c ? c->number : 0};
          return in.original && c ? std::optional(in) : std::nullopt;
        },
        [meshes](const LaidScanIn& in, const Progress& progress) -> Result<LaidScanResult> {
          auto mesh = meshes(in.scan);
          if (!mesh) return mesh.error();
          return lay_scan(*in.original, **mesh, in.number, progress);
        }));
    nodes.push_back(job_node(
        results::scans[k],
        [k](const Job& job, const View& plan) -> std::optional<ScanIn> {
          const Casting* c = scanned(job, k);
          ScanIn in{plan.fresh(results::original), plan.fresh(results::laid_scans[k]), c ? c->scan : std::string(),
                    job.original.sizes};
          for (MeasuredSize& s : in.sizes) s.readings_mm.clear();
          return in.original && in.laid && c ? std::optional(in) : std::nullopt;
        },
        [meshes](const ScanIn& in, const Progress& progress) -> Result<ScanResult> {
          auto mesh = meshes(in.scan);
          if (!mesh) return mesh.error();
          return scan_result(*in.original, **mesh, *in.laid, in.sizes, 0.1, progress);
        }));
  }

  nodes.push_back(job_node(
      results::check,
      [](const Job& job, const View& plan) -> std::optional<CheckIn> {
        if (job.check.castings.empty() || job.original.sizes.empty()) return std::nullopt;
        const Books& books = plan.subject<Subject>().books;
        return CheckIn{job.original.sizes, job.check, books.equipment.gauges, books.today};
      },
      [](const CheckIn& in, const Progress&) -> Result<CheckResult> {
        CheckResult r = check_result(in.sizes, in.check);
        r.findings = check_findings(r, in.sizes);
        for (Finding& f : wear_findings(in.sizes, in.check.castings)) r.findings.push_back(std::move(f));
        for (Finding& f : gauge_findings(in.gauges, in.today)) r.findings.push_back(std::move(f));
        return r;
      }));
}

}  // namespace palinform
