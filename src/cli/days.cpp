// palin days: castings and moulds against bench hours, people and pots; of one job, of several, or of a whole workshop.
#include <ctime>

#include "base/text.hpp"
#include "commands.hpp"
#include "days/shop_plan.hpp"
#include "ledger/open_jobs.hpp"
#include "mesh/save.hpp"
#include "shop.hpp"

namespace palinform::cli {
namespace {

Result<int> clock_min(const std::string& s) {
  const auto t = parse_wall_time("2000-01-01T" + s);
  if (!t && s != "24:00") return Error{"\"" + s + "\" is no time of day", "bench", "Write 08:00."};
  return s == "24:00" ? 24 * 60 : static_cast<int>(((*t % 1440) + 1440) % 1440);
}

/// The figures of one job: at the top of the file, or in its list.
ShopJob job_of(const Json& j) {
  ShopJob out;
  out.name = j.value("name", std::string());
  out.castings = j.at("castings").get<int>();
  if (j.contains("mould")) {
    const Json& mould = j.at("mould");
    out.mould_hands_min = mould.at("hands_min").get<double>(), out.mould_cure_min = mould.at("cure_min").get<double>();
    out.pours = mould.value("pours", 2);
    out.mould_chamber_min = mould.value("chamber_min", 0.0);
  } else {
    out.pours = 0;
  }
  const Json& cast = j.at("cast");
  out.cast_hands_min = cast.at("hands_min").get<double>(), out.cast_cure_min = cast.at("cure_min").get<double>();
  out.pot_min = cast.value("pot_min", 0.0);
  out.cast_chamber_min = cast.value("chamber_min", 0.0);
  return out;
}

std::optional<double> figure(const Json& j, const char* group, const char* key) {
  if (!j.contains(group) || !j[group].is_object() || !j[group].contains(key) || !j[group][key].is_number())
    return std::nullopt;
  return j[group][key].get<double>();
}

Json tasks_json(const ShopPlan& p) {
  Json tasks = Json::array();
  for (const ShopTask& t : p.tasks)
    tasks.push_back({{"name", t.name},
                     {"start", wall_text(t.start)},
                     {"end", wall_text(t.end)},
                     {"hands_on", t.hands_min},
                     {"mould", t.mould},
                     {"resource", t.resource}});
  return tasks;
}

/// The open jobs of a workshop by their own procedures.
Answer run_workshop_days(const std::string& file, const std::string& from, const Progress& progress) {
  OpenShopAsked asked;
  std::time_t now = std::time(nullptr);
  std::tm local{};
  localtime_r(&now, &local);
  asked.zone_s = local.tm_gmtoff;
  asked.now = (now + asked.zone_s) / 60;
  if (!from.empty()) {
    const auto t = parse_wall_time(from);
    if (!t) return Error{"\"" + from + "\" is no day and time", "--from", "Write 2026-11-30T08:00."};
    asked.now = *t;
  }
  if (rough_look()) asked.study = rough_study();
  asked.today = wall_text(asked.now).substr(0, 10);
  workshop_file() = file;
  const auto shop = shop_asked();
  if (!shop) return shop.error();
  auto w = Workshop::open(file);
  if (!w) return w.error();
  const auto open = open_shop(**w, **shop, asked, progress);
  if (!open) return open.error();
  Json tasks = Json::array(), jobs = Json::array();
  for (const OpenJobNow& job : open->jobs) {
    Json one{{"name", job.name}, {"finish", Json()},
             {"alone", Json()},  {"due", job.due ? Json(wall_text(*job.due)) : Json()},
             {"late_h", Json()}, {"why", job.refused.empty() ? Json() : Json(job.refused)}};
    if (job.in_plan) {
      const PlacedJob& p = open->plan.jobs[*job.in_plan];
      if (p.refused.empty()) {
        one["finish"] = wall_text(p.schedule.finish), one["alone"] = wall_text(p.alone);
        if (job.due) one["late_h"] = p.late_h;
      } else {
        one["why"] = p.refused;
      }
      for (const WallPromise& promise : open->wall.promises)
        if (open->jobs[promise.job].id == job.id && !promise.why.empty()) one["why"] = promise.why;
    }
    jobs.push_back(std::move(one));
  }
  struct Piece {
    WallMinute start;
    Json json;
  };
  std::vector<Piece> pieces;
  for (size_t j = 0; j < open->shop.jobs.size(); ++j)
    for (const Placed& p : open->plan.jobs[j].schedule.placed) {
      const Step& step = open->shop.jobs[j].steps[p.step];
      std::string with = "person" + (step.needs.empty() ? std::string() : ", " + step.needs);
      for (const std::string& what : step.besides)
        if (places_of(open->shop.places, what)) with += ", " + what;
      pieces.push_back({p.start,
                        {{"name", open->shop.jobs[j].name + ": " + step.name},
                         {"start", wall_text(p.start)},
                         {"end", wall_text(p.end)},
                         {"hands_on", step.hands_min},
                         {"mould", p.held},
                         {"resource", with}}});
    }
  std::stable_sort(pieces.begin(), pieces.end(), [](const Piece& a, const Piece& b) { return a.start < b.start; });
  for (Piece& p : pieces) tasks.push_back(std::move(p.json));
  return Json{{"finish", wall_text(open->plan.finish)},
              {"late_h", open->plan.late_h},
              {"makespan_h", static_cast<double>(open->plan.finish - asked.now) / 60},
              {"proven", open->plan.proven},
              {"gap_h", open->plan.gap_h},
              {"no_sooner", wall_text(open->plan.no_sooner)},
              {"orders_tried", open->plan.tried},
              {"evenings", open->plan.evenings},
              {"jobs", std::move(jobs)},
              {"tasks", std::move(tasks)}};
}

Answer run_days(const std::string& file, const std::string& from, const Progress& progress) {
  const auto bytes = read_file(file);
  if (!bytes) return bytes.error();
  if (bytes->starts_with("SQLite format 3")) return run_workshop_days(file, from, progress);
  const Json j = Json::parse(*bytes, nullptr, false);
  const auto bad = [&](const std::string& what) { return Error{what, base_name(file), "cli.md lists the fields."}; };
  if (j.is_discarded() || !j.is_object()) return bad("it does not read as a JSON object");
  try {
    ShopRun shop;
    const auto start = parse_wall_time(j.at("start").get<std::string>());
    if (!start) return bad("\"start\" is no day and time");
    shop.start = *start;
    shop.people = j.value("people", 1);
    shop.pots = j.value("pots", 1);
    shop.chambers = j.value("chambers", 1);
    if (shop.people < 1 || shop.people > 50) return bad("\"people\" is out of reason");
    if (shop.pots < 1 || shop.pots > 50) return bad("\"pots\" is out of reason");
    if (shop.chambers < 1 || shop.chambers > 50) return bad("\"chambers\" is out of reason");
    for (const Json& day : j.value("holidays", Json::array())) {
      const auto t = parse_wall_time(day.get<std::string>() + "T00:00");
      if (!t) return bad("\"" + day.get<std::string>() + "\" is no day");
      shop.holidays.insert(day_number(*t));
    }
    for (const Json& b : j.at("bench")) {
      BenchHours h;
      const auto days = parse_days(b.at("days").get<std::string>());
      const auto opens = clock_min(b.at("from").get<std::string>()), shuts = clock_min(b.at("to").get<std::string>());
      if (!days) return days.error();
      if (!opens) return opens.error();
      if (!shuts) return shuts.error();
      h.days = *days, h.from_min = *opens, h.to_min = *shuts;
      shop.bench.push_back(h);
    }
    const auto told = [&](const ShopPlan& p, Json j_out) {
      j_out["makespan_h"] = static_cast<double>(p.finish - shop.start) / 60;
      j_out["proven"] = p.proven;
      j_out["gap_h"] = p.gap_h;
      j_out["no_sooner"] = wall_text(p.no_sooner);
      j_out["tasks"] = tasks_json(p);
      return j_out;
    };
    if (j.contains("jobs")) {
      for (const Json& one : j.at("jobs")) {
        ShopJob job = job_of(one);
        job.moulds = one.value("moulds", 1);
        if (const std::string due = one.value("due", std::string()); !due.empty()) {
          const auto t = parse_wall_time(due.size() <= 10 ? due + "T24:00" : due);
          const auto day = parse_wall_time(due.substr(0, 10) + "T00:00");
          if (!t && !(due.size() == 10 && day)) return bad("\"" + due + "\" is no day or time");
          job.due = t ? *t : *day + day_min;
        }
        shop.jobs.push_back(std::move(job));
      }
      shop.seconds = 2;
      const auto p = plan_shop(shop, progress);
      if (!p) return p.error();
      Json jobs = Json::array();
      for (size_t k = 0; k < shop.jobs.size(); ++k) {
        const ShopJob& job = shop.jobs[k];
        jobs.push_back(
            {{"name", job.name},
             {"finish", wall_text(p->done_at[k])},
             {"due", job.due ? Json(wall_text(*job.due)) : Json()},
             {"late_h", job.due ? Json(std::max(0.0, static_cast<double>(p->done_at[k] - *job.due) / 60)) : Json()}});
      }
      return told(*p, Json{{"finish", wall_text(p->finish)}, {"late_h", p->late_h}, {"jobs", std::move(jobs)}});
    }
    ShopJob job = job_of(j);
    if (!j.contains("mould")) return bad("\"mould\" is missing");
    const int most = j.value("moulds_max", 4);
    if (job.castings < 1 || job.castings > 10'000 || most < 1 || most > 50)
      return bad("castings or moulds_max are out of reason");
    int moulds = 0;
    const bool automatic = j.at("moulds").is_string();
    if (!automatic)
      moulds = j["moulds"].get<int>();
    else if (j["moulds"].get<std::string>() != "auto")
      return bad("\"moulds\" is a number or \"auto\"");
    if (!automatic && (moulds < 1 || moulds > 50)) return bad("\"moulds\" is out of reason");
    // What a mould and a casting take, where the file says it.
    const auto rubber_g = figure(j, "mould", "rubber_g"), mould_cost = figure(j, "mould", "cost"),
               cast_cost = figure(j, "cast", "cost");
    Json by = Json::array();
    std::optional<ShopPlan> chosen;
    shop.seconds = 1.6 / std::max(most, moulds);
    for (int m = 1; m <= std::max(most, moulds); ++m) {
      job.moulds = m;
      shop.jobs = {job};
      auto p = plan_shop(shop, progress);
      if (!p) return p.error();
      by.push_back(
          {{"moulds", m},
           {"finish", wall_text(p->finish)},
           {"proven", p->proven},
           {"rubber_g", rubber_g ? Json(*rubber_g * m) : Json()},
           {"cost", mould_cost || cast_cost ? Json(mould_cost.value_or(0) * m + cast_cost.value_or(0) * job.castings)
                                            : Json()}});
      const bool take = automatic ? !chosen || p->finish < chosen->finish : m == moulds;
      if (take) chosen = *std::move(p), moulds = m;
    }
    return told(*chosen, Json{{"finish", wall_text(chosen->finish)}, {"moulds", moulds}, {"by_moulds", std::move(by)}});
  } catch (const nlohmann::json::exception&) { return bad("a field is missing or of the wrong type"); }
}

}  // namespace

void add_days(CLI::App& app, Command& run) {
  auto file = std::make_shared<std::string>(), from = std::make_shared<std::string>();
  auto* c = app.add_subcommand("days", "When a run of castings, or a shop of jobs, is done");
  c->add_option("FILE", *file, "JSON, see cli.md, or a workshop: all its open jobs")->required();
  c->add_option("--from", *from, "of a workshop: nothing is put before that day and time; now, if left out");
  c->callback([file, from, &run] {
    run = [file, from](const Progress& progress) { return run_days(*file, *from, progress); };
  });
}

}  // namespace palinform::cli
