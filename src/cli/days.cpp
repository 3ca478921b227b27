// palin days: a run of castings against bench hours.
#include "base/text.hpp"
#include "commands.hpp"
#include "days/casting_run.hpp"
#include "mesh/save.hpp"

namespace palinform::cli {
namespace {

Result<int> clock_min(const std::string& s) {
  const auto t = parse_wall_time("2000-01-01T" + s);
  if (!t && s != "24:00") return Error{"\"" + s + "\" is no time of day", "bench", "Write 08:00."};
  return s == "24:00" ? 24 * 60 : static_cast<int>(((*t % 1440) + 1440) % 1440);
}

Answer run_days(const std::string& file, const Progress& progress) {
  const auto bytes = read_file(file);
  if (!bytes) return bytes.error();
  const Json j = Json::parse(*bytes, nullptr, false);
  const auto bad = [&](const std::string& what) { return Error{what, base_name(file), "cli.md lists the fields."}; };
  if (j.is_discarded() || !j.is_object()) return bad("it does not read as a JSON object");
  try {
    const auto start = parse_wall_time(j.at("start").get<std::string>());
    if (!start) return bad("\"start\" is no day and time");
    if (j.value("people", 1) != 1) return bad("more than one person is not offered by this version");
    std::vector<BenchHours> bench;
    for (const Json& b : j.at("bench")) {
      BenchHours h;
      const auto days = parse_days(b.at("days").get<std::string>());
      const auto from = clock_min(b.at("from").get<std::string>()), to = clock_min(b.at("to").get<std::string>());
      if (!days) return days.error();
      if (!from) return from.error();
      if (!to) return to.error();
      h.days = *days, h.from_min = *from, h.to_min = *to;
      bench.push_back(h);
    }
    const int castings = j.at("castings").get<int>(), most = j.value("moulds_max", 4);
    if (castings < 1 || castings > 10'000 || most < 1 || most > 50)
      return bad("castings or moulds_max are out of reason");
    const Json& mould = j.at("mould");
    const Json& cast = j.at("cast");
    const double mh = mould.at("hands_min").get<double>(), mc = mould.at("cure_min").get<double>(),
                 ch = cast.at("hands_min").get<double>(), cc = cast.at("cure_min").get<double>();
    const int pours = mould.value("pours", 2);
    for (const double v : {mh, mc, ch, cc})
      if (!(v >= 0) || v > 1e6) return bad("a time is out of reason");
    if (pours < 0 || pours > 20) return bad("\"pours\" is out of reason");
    const CastingRun run{*start, bench, castings, mh, mc, pours, ch, cc};
    int moulds = 0;
    const bool automatic = j.at("moulds").is_string();
    if (!automatic)
      moulds = j["moulds"].get<int>();
    else if (j["moulds"].get<std::string>() != "auto")
      return bad("\"moulds\" is a number or \"auto\"");
    if (!automatic && (moulds < 1 || moulds > 50)) return bad("\"moulds\" is out of reason");
    Json by = Json::array();
    WallMinute soonest = INT64_MAX;
    for (int m = 1; m <= std::max(most, moulds); ++m) {
      const auto p = plan_casting_run(run, m, progress);
      if (!p) return p.error();
      const Schedule* s = &p->schedule;
      // Rubber and cost need the job's mould and materials: null here.
      by.push_back({{"moulds", m}, {"finish", wall_text(s->finish)}, {"rubber_g", nullptr}, {"cost", nullptr}});
      if (automatic && s->finish < soonest) soonest = s->finish, moulds = m;
    }
    const auto p = plan_casting_run(run, moulds, progress);
    if (!p) return p.error();
    const Schedule* s = &p->schedule;
    Json tasks = Json::array();
    for (const Placed& q : s->placed)
      tasks.push_back({{"name", p->steps[q.step].name},
                       {"start", wall_text(q.start)},
                       {"end", wall_text(q.end)},
                       {"hands_on", p->steps[q.step].hands_min},
                       {"mould", q.held.empty() ? Json() : Json(q.held)}});
    return Json{{"finish", wall_text(s->finish)},
                {"makespan_h", static_cast<double>(s->finish - s->start) / 60},
                {"moulds", moulds},
                {"proven", false},
                {"tasks", std::move(tasks)},
                {"by_moulds", std::move(by)}};
  } catch (const nlohmann::json::exception&) { return bad("a field is missing or of the wrong type"); }
}

}  // namespace

void add_days(CLI::App& app, Command& run) {
  auto file = std::make_shared<std::string>();
  auto* c = app.add_subcommand("days", "When a run of castings is done");
  c->add_option("FILE", *file, "JSON, see cli.md")->required();
  c->callback([file, &run] { run = [file](const Progress& progress) { return run_days(*file, progress); }; });
}

}  // namespace palinform::cli
