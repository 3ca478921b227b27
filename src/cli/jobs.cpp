// palin job, sheet, demo.
#include <QGuiApplication>

#include "base/text.hpp"
#include "commands.hpp"
#include "job/parts.hpp"
#include "ledger/archive.hpp"
#include "ledger/demo.hpp"
#include "ledger/really_taken.hpp"
#include "mesh/save.hpp"
#include "overview/quote.hpp"
#include "overview/sheet.hpp"
#include "sheet_pdf.hpp"
#include "shop.hpp"

namespace palinform::cli {
namespace {

struct Planned {
  std::shared_ptr<const Shop> shop;  // outlives the planner
  JobArchive archive;
  std::unique_ptr<Planner> plan;
};

/// Reads a job and runs every analysis on it.
Result<Planned> plan_job(const std::string& file, const Progress& progress) {
  const auto bytes = read_file(file);
  if (!bytes) return bytes.error();
  auto archive = read_archive(*bytes, base_name(file));
  if (!archive) return archive.error();
  Planned p{nullptr, *std::move(archive), nullptr};
  std::map<std::string, std::shared_ptr<const TriMesh>> meshes;
  if (p.archive.mesh)
    meshes[p.archive.job.original.mesh.hash] = std::make_shared<const TriMesh>(std::move(*p.archive.mesh));
  p.archive.mesh.reset();
  const auto joined = further_meshes(p.archive.job);
  for (size_t i = 0; i < p.archive.joined.size(); ++i)
    meshes[joined[i]] = std::make_shared<const TriMesh>(std::move(p.archive.joined[i]));
  auto shop = shop_asked();
  if (!shop) return shop.error();
  p.shop = *shop;
  auto books = books_asked();
  if (!books) return books.error();
  auto nodes = job_nodes(*p.shop, [meshes](const std::string& hash) -> Result<std::shared_ptr<const TriMesh>> {
    const auto found = meshes.find(hash);
    if (found == meshes.end()) return Error{"the file holds no mesh", hash, "Export the job as .palinform."};
    return found->second;
  });
  p.plan = std::make_unique<Planner>(std::move(nodes), 2);
  p.plan->set(Subject{p.archive.job, *std::move(books), rough_look() ? rough_study() : Study{}});
  p.plan->wait(&progress);
  if (progress.cancelled()) return Error::stopped();
  return p;
}

const char* knot_word(Knot k) {
  switch (k) {
    case Knot::moving:
      return "moving";
    case Knot::settled:
      return "settled";
    case Knot::needs_answer:
      return "needs-answer";
    case Knot::stopped:
      return "stopped";
    default:
      return "untouched";
  }
}

Json maybe(const std::optional<double>& v) { return v ? Json(*v) : Json(); }

/// What a step waits for: its window; what it follows at once; or the end of another's wait.
Json wait_json(const Procedure& p, size_t i) {
  const ProcedureStep& s = p.steps[i];
  if (s.window)
    return {{"after", s.window->after},
            {"earliest_min", s.window->earliest_min},
            {"latest_min", maybe(s.window->latest_min)}};
  const auto after = [&](const ProcedureStep& before, const std::optional<double>& latest) {
    return Json{{"after", before.id}, {"earliest_min", before.wait_min}, {"latest_min", maybe(latest)}};
  };
  if (s.at_once && i > 0) return after(p.steps[i - 1], p.steps[i - 1].wait_min);
  const ProcedureStep* longest = nullptr;
  for (const std::string& id : s.after)
    for (const ProcedureStep& b : p.steps)
      if (b.id == id && (!longest || b.wait_min >= longest->wait_min)) longest = &b;
  return longest ? after(*longest, std::nullopt) : Json();
}

Json step_json(const Procedure& p, size_t i) {
  const ProcedureStep& s = p.steps[i];
  Json needs = Json::array(), amounts = Json::array();
  if (s.hands_min > 0) needs.push_back("person");
  if (!s.needs.empty()) needs.push_back(s.needs);
  if (!s.any_of.empty() || !s.same_as.empty()) needs.push_back("mould");
  for (const Amount& a : s.amounts)
    amounts.push_back(
        {{"material", a.material_id}, {"name", a.material}, {"g", a.g}, {"ml", a.ml}, {"ratio", a.ratio}});
  Json in = Json::array(), out = Json::array();
  for (const Placing& x : s.in) in.push_back(name_of(x.thing));
  for (const Placing& x : s.out) out.push_back(name_of(x.thing));
  return {{"id", s.id},
          {"kind", name_of(s.act)},
          {"block", name_of(s.block)},
          {"part", s.part},
          {"name", s.name},
          {"what", s.what},
          {"why", s.why},
          {"hands_min", s.hands_min},
          {"wait_min", s.wait_min},
          {"wait", wait_json(p, i)},
          {"at_once", s.at_once},
          {"needs", std::move(needs)},
          {"amounts", std::move(amounts)},
          {"puts_in", std::move(in)},
          {"takes_out", std::move(out)},
          {"look_for", s.look_for},
          {"cautions", s.cautions},
          {"picture", name_of(s.picture)},
          {"can_go_back", s.can_go_back},
          {"skipped", s.skipped.empty() ? Json() : Json(s.skipped)}};
}

}  // namespace

void add_job(CLI::App& app, Command& run) {
  auto file = std::make_shared<std::string>();
  auto* c = app.add_subcommand("job", "Summary of a job with all findings");
  c->add_option("FILE", *file, ".palinform or job.json")->required();
  c->callback([file, &run] {
    run = [file](const Progress& progress) -> Answer {
      const auto p = plan_job(*file, progress);
      if (!p) return p.error();
      const Job& job = p->archive.job;
      Json j{{"id", job.id},
             {"name", job.name},
             {"client", job.client},
             {"copies", job.copies},
             {"mesh", job.original.mesh.file}};
      if (!job.parts.empty()) {
        j["part"] = name_in_hand(job);
        const auto names = other_names(job);
        j["parts"] = Json::array();
        for (size_t k = 0; k < job.parts.size(); ++k)
          j["parts"].push_back({{"name", names[k]},
                                {"copies", job.parts[k].copies},
                                {"masters", job.parts[k].masters},
                                {"mesh", job.parts[k].original.mesh.file}});
      }
      j["stages"] = Json::array();
      const auto stages = stage_states(job, *p->plan);
      for (int i = 0; i < stage_count; ++i)
        j["stages"].push_back({{"stage", name_of(static_cast<Stage>(i))},
                               {"state", knot_word(stages[static_cast<size_t>(i)].knot)},
                               {"figure", stages[static_cast<size_t>(i)].figure}});
      const Tally t = tally_of(job, *p->plan);
      j["tally"] = {{"rubber_g", maybe(t.rubber_g)},
                    {"resin_g", maybe(t.resin_g)},
                    {"cost", maybe(t.cost)},
                    {"tightest", t.tightest}};
      j["sizes"] = Json::array();
      const auto sizes = p->plan->fresh(results::size);
      for (size_t i = 0; i < job.original.sizes.size(); ++i) {
        Json s{{"name", job.original.sizes[i].name}, {"limits", limits_text(job.original.sizes[i])}};
        if (sizes && i < sizes->predictions.size()) {
          s["predicted_mm"] = sizes->predictions[i].predicted_mm;
          s["u_mm"] = sizes->predictions[i].u_mm;
          s["p_in_limits"] = sizes->predictions[i].p_in_limits;
          s["verdict"] = name_of(sizes->predictions[i].verdict);
        }
        j["sizes"].push_back(std::move(s));
      }
      j["findings"] = Json::array();
      const auto findings = findings_of(job, *p->plan);
      for (const OpenFinding& f : findings) {
        Json e{{"stage", name_of(f.stage)},
               {"code", f.finding.code},
               {"severity", name_of(f.finding.severity)},
               {"what", f.finding.what},
               {"why", f.finding.why},
               {"answer", f.answer ? Json(f.answer->reason) : Json()}};
        e["remedies"] = Json::array();
        for (const Remedy& r : f.finding.remedies) e["remedies"].push_back({{"code", r.code()}, {"label", r.label}});
        j["findings"].push_back(std::move(e));
      }
      j["ready"] = ready(findings);
      j["procedure"] = Json::array();
      if (const auto work = p->plan->fresh(results::procedure))
        for (size_t i = 0; i < work->procedure.steps.size(); ++i)
          j["procedure"].push_back(step_json(work->procedure, i));
      return j;
    };
  });
}

void add_sheet(CLI::App& app, Command& run, int& argc, char** argv) {
  struct Options {
    std::string file, pdf, paper = "a4";
  };
  auto o = std::make_shared<Options>();
  auto* c = app.add_subcommand("sheet", "The job sheet as PDF");
  c->add_option("JOB", o->file, ".palinform or job.json")->required();
  c->add_option("--pdf", o->pdf, "where to write it")->required();
  c->add_option("--paper", o->paper)->check(CLI::IsMember({"a4", "letter"}));
  c->callback([o, &run, &argc, argv] {
    run = [o, &argc, argv](const Progress& progress) -> Answer {
      const auto p = plan_job(o->file, progress);
      if (!p) return p.error();
      qputenv("QT_QPA_PLATFORM", "offscreen");
      QGuiApplication qt(argc, argv);
      const auto pages = write_sheet_pdf(make_sheet(p->archive.job, *p->plan, *p->shop), o->pdf,
                                         o->paper == "a4" ? Paper::a4 : Paper::letter);
      if (!pages) return pages.error();
      return Json{{"pdf", o->pdf}, {"paper", o->paper}, {"bench_pages", pages->bench}, {"pages", pages->all}};
    };
  });
}

/// What the last jobs of the kind really took, by the workshop's books.
Answer alike_in_workshop(const Job& job, const Shop& shop) {
  auto w = Workshop::open(workshop_file());
  if (!w) return w.error();
  const auto alike = last_of_kind(**w, shop, kind_of_moulds(job), job.id);
  if (!alike) return alike.error();
  Json out = Json::array();
  for (const DoneAlike& a : *alike)
    out.push_back({{"job", a.name},
                   {"castings", a.castings},
                   {"hours", a.real.hours},
                   {"materials", a.real.materials},
                   {"offered_hours", a.offered_hours},
                   {"asked", a.asked}});
  return out;
}

void add_quote(CLI::App& app, Command& run, int& argc, char** argv) {
  struct Options {
    std::string file, pdf, today;
    QuoteTerms terms;
    int copies = 0;
  };
  auto o = std::make_shared<Options>();
  auto* c = app.add_subcommand("quote", "What a job costs and what is asked for it");
  c->add_option("JOB", o->file, ".palinform or job.json")->required();
  c->add_option("--pdf", o->pdf, "one page for the customer");
  c->add_option("--copies", o->copies, "other than the job's")->check(within(1, 10'000));
  auto* hour = c->add_option("--hour", o->terms.hand_price_per_h, "price of an hour's work; the shop's where left out")
                   ->check(within(0, 1e5));
  auto* margin = c->add_option("--margin-pct", o->terms.margin_pct)->check(within(0, 1000));
  auto* scrap = c->add_option("--scrap-pct", o->terms.scrap_pct, "of castings that go wrong")->check(within(0, 90));
  auto* days = c->add_option("--valid-days", o->terms.valid_days)->check(within(1, 3650));
  c->callback([o, hour, margin, scrap, days, &run, &argc, argv] {
    run = [o, own_price = hour->empty(), own_margin = margin->empty(), own_scrap = scrap->empty(),
           own_days = days->empty(), &argc, argv](const Progress& progress) -> Answer {
      const auto p = plan_job(o->file, progress);
      if (!p) return p.error();
      const DaysRules& own = p->shop->rules.days;
      if (own_price) o->terms.hand_price_per_h = own.hand_price_per_h;
      if (own_margin) o->terms.margin_pct = own.margin_pct;
      if (own_scrap) o->terms.scrap_pct = own.scrap_pct;
      if (own_days) o->terms.valid_days = static_cast<int>(own.quote_valid_days);
      std::string money = "money";
      if (const auto books = books_asked(); books && !books->equipment.money.empty()) money = books->equipment.money;
      const auto mix = p->plan->fresh(results::mix);
      const auto work = p->plan->fresh(results::procedure);
      const auto forms = p->plan->fresh(results::forms);
      if (!mix || !work || !forms)
        return Error{"the job is not planned as far as its steps", base_name(o->file),
                     "It needs a shape, a rubber and a casting material."};
      const int copies = o->copies > 0 ? o->copies : p->archive.job.copies;
      auto q = quote_of(*mix, *work, *forms, copies, o->terms);
      if (!q) return q.error();
      if (!o->pdf.empty()) {
        QuoteTerms terms = o->terms;
        terms.today = now_text().substr(0, 10);
        qputenv("QT_QPA_PLATFORM", "offscreen");
        QGuiApplication qt(argc, argv);
        std::string made_of;
        for (const PourMix& m : mix->pours)
          if (m.is_resin) made_of = m.material;
        if (auto ok = write_drawings(
                {quote_page(*q, p->archive.job.name, p->archive.job.client, made_of, terms, money)}, o->pdf);
            !ok)
          return ok.error();
      }
      Json lines = Json::array(), prices = Json::array();
      for (const QuoteLine& l : q->lines) lines.push_back({{"what", l.what}, {"cost", l.cost}, {"share", l.share}});
      for (const QuotedPrice& x : q->per_copy)
        prices.push_back({{"copies", x.copies},
                          {"price", x.per_copy},
                          {"total", x.total},
                          {"moulds", x.moulds},
                          {"pulls", x.pulls}});
      Json j{{"copies", q->copies},
             {"per_copy", std::move(prices)},
             {"lines", std::move(lines)},
             {"cost", q->cost},
             {"margin", q->margin},
             {"total", q->total},
             {"mould_only", q->mould_only},
             {"castings_only_per_copy", q->castings_only_per_copy},
             {"mould_life_pulls", q->mould_life_pulls},
             {"hours", q->hours},
             {"moves_most", q->moves_most}};
      if (!o->pdf.empty()) j["pdf"] = o->pdf;
      if (!workshop_file().empty()) {
        auto alike = alike_in_workshop(p->archive.job, *p->shop);
        if (!alike) return alike.error();
        j["last_of_kind"] = *std::move(alike);
      }
      return j;
    };
  });
}

void add_demo(CLI::App& app, Command& run) {
  auto dir = std::make_shared<std::string>();
  auto* c = app.add_subcommand("demo", "Write the demo workshop");
  c->add_option("DIR", *dir)->required();
  c->callback([dir, &run] {
    run = [dir](const Progress&) -> Answer {
      auto path = write_demo(*dir, find_demo_folder());
      if (!path) return path.error();
      auto workshop = Workshop::open(*path);
      if (!workshop) return workshop.error();
      Json jobs = Json::array();
      auto rows = (*workshop)->jobs();
      if (!rows) return rows.error();
      for (const JobRow& r : *rows) {
        auto job = (*workshop)->load_job(r.id);
        if (!job) return job.error();
        Result<std::shared_ptr<const TriMesh>> mesh = job->original.mesh.hash.empty()
                                                          ? Result<std::shared_ptr<const TriMesh>>(nullptr)
                                                          : (*workshop)->mesh(job->original.mesh.hash);
        if (!mesh) return mesh.error();
        std::vector<std::shared_ptr<const TriMesh>> further;
        for (const std::string& hash : further_meshes(*job)) {
          auto one = (*workshop)->mesh(hash);
          if (!one) return one.error();
          further.push_back(*std::move(one));
        }
        const auto bytes = archive_bytes(*job, mesh->get(), further);
        if (!bytes) return bytes.error();
        std::string file = lower_ascii(job->name) + ".palinform";
        for (char& ch : file)
          if (ch == ' ') ch = '-';
        if (auto ok = write_file(*dir + "/" + file, *bytes); !ok) return ok.error();
        jobs.push_back({{"id", r.id}, {"name", r.name}, {"file", file}});
      }
      return Json{{"workshop", *path}, {"jobs", std::move(jobs)}};
    };
  });
}

}  // namespace palinform::cli
