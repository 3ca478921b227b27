// palin restore, palin salvage, palin jobs: the dated copies of a workshop, what is left of a damaged one, its jobs.
#include "base/text.hpp"
#include "commands.hpp"
#include "job/job.hpp"
#include "ledger/copies.hpp"
#include "ledger/reports.hpp"
#include "ledger/workshop.hpp"
#include "shop.hpp"

namespace palinform::cli {
namespace {

Answer run_restore(const std::string& file, const std::string& day) {
  if (day.empty()) {
    Json copies = Json::array();
    for (const CopyOf& c : copies_of(file))
      copies.push_back({{"day", c.day},
                        {"jobs", c.jobs},
                        {"castings", c.castings},
                        {"pours", c.pours},
                        {"last_edit", c.last_edit},
                        {"usable", c.fault.empty()},
                        {"fault", c.fault.empty() ? Json() : Json(c.fault)}});
    return Json{{"copies", std::move(copies)}};
  }
  const auto kept = put_back(file, day, now_text());
  if (!kept) return kept.error();
  return Json{{"restored", day}, {"kept_aside", kept->empty() ? Json() : Json(*kept)}};
}

Answer run_salvage(const std::string& from, const std::string& into) {
  const auto s = salvage(from, into);
  if (!s) return s.error();
  return Json{
      {"jobs", s->jobs}, {"castings", s->castings}, {"rows", s->rows}, {"lost", s->lost}, {"tables_lost", s->tables}};
}

Answer run_jobs(const std::string& file, const std::string& find, bool closed) {
  auto w = Workshop::open(file);
  if (!w) return w.error();
  const auto rows = (*w)->jobs();
  if (!rows) return rows.error();
  Json jobs = Json::array();
  for (const JobRow& r : *rows)
    if ((closed || r.open()) && found_by(r, find))
      jobs.push_back({{"id", r.id},
                      {"name", r.name},
                      {"client", r.client},
                      {"copies", r.copies},
                      {"castings", r.castings},
                      {"promised", r.promised.empty() ? Json() : Json(r.promised)},
                      {"closed", r.open() ? Json() : Json(r.closed_on)},
                      {"changed", r.changed_at}});
  return Json{{"jobs", std::move(jobs)}};
}

Answer run_report(const std::string& file, const std::string& out) {
  workshop_file() = file;
  const auto shop = shop_asked();
  if (!shop) return shop.error();
  auto w = Workshop::open(file);
  if (!w) return w.error();
  const auto r = reports_of(**w, **shop);
  if (!r) return r.error();
  if (!out.empty())
    if (const auto ok = write_workbook(r->all(), out); !ok) return ok.error();
  Json j;
  for (const auto& [key, table] : {std::pair{"use", &r->use},
                                   {"wrong", &r->wrong},
                                   {"hours", &r->hours},
                                   {"stock", &r->worth},
                                   {"moulds", &r->lives}}) {
    Json rows = Json::array();
    for (const auto& row : table->rows) {
      Json one;
      for (size_t k = 0; k < row.size(); ++k)
        one[table->heads[k]] = std::holds_alternative<double>(row[k]) ? Json(std::get<double>(row[k]))
                                                                      : Json(std::get<std::string>(row[k]));
      rows.push_back(std::move(one));
    }
    j[key] = std::move(rows);
  }
  if (!out.empty()) j["written"] = out;
  return j;
}

}  // namespace

void add_books(CLI::App& app, Command& run) {
  {
    auto file = std::make_shared<std::string>(), day = std::make_shared<std::string>();
    auto* c = app.add_subcommand("restore", "The dated copies of a workshop; with a day: puts that one back");
    c->add_option("WORKSHOP", *file, "the workshop file")->required();
    c->add_option("DAY", *day, "2026-11-26: the copy to put back; what is there now is kept aside");
    c->callback([file, day, &run] { run = [file, day](const Progress&) { return run_restore(*file, *day); }; });
  }
  {
    auto from = std::make_shared<std::string>(), into = std::make_shared<std::string>();
    auto* c = app.add_subcommand("salvage", "What can be read of a damaged workshop, into a new one");
    c->add_option("DAMAGED", *from, "opened for reading only")->required();
    c->add_option("INTO", *into, "the new workshop")->required();
    c->callback([from, into, &run] { run = [from, into](const Progress&) { return run_salvage(*from, *into); }; });
  }
  {
    auto file = std::make_shared<std::string>(), find = std::make_shared<std::string>();
    auto closed = std::make_shared<bool>(false);
    auto* c = app.add_subcommand("jobs", "The jobs of a workshop");
    c->add_option("WORKSHOP", *file, "the workshop file")->required();
    c->add_option("--find", *find, "only those that answer to these words: name, customer, material, part");
    c->add_flag("--closed", *closed, "closed ones too");
    c->callback([file, find, closed, &run] { run = [=](const Progress&) { return run_jobs(*file, *find, *closed); }; });
  }
  {
    auto file = std::make_shared<std::string>(), out = std::make_shared<std::string>();
    auto* c = app.add_subcommand("report", "Use by month, what went wrong, hours, stock, moulds' lives");
    c->add_option("WORKSHOP", *file, "the workshop file")->required();
    c->add_option("--xlsx", *out, "a workbook with a sheet for each");
    c->callback([file, out, &run] { run = [file, out](const Progress&) { return run_report(*file, *out); }; });
  }
}

}  // namespace palinform::cli
