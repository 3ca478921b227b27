#include "bench/run.hpp"

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

#include "base/text.hpp"

namespace palinform {
namespace {

ScreenRecord& record_in_hand(BenchRun& run, WallSecond now) {
  for (auto r = run.records.rbegin(); r != run.records.rend(); ++r)
    if (r->screen == run.at && r->done == 0) return *r;
  run.records.push_back({run.at, now, 0, "", false, std::nullopt, std::nullopt, false, {}, {}});
  return run.records.back();
}

/// The screen in hand, and the one after it where both weigh into the same cup.
const BenchScreen* next_weighing(const BenchRun& run) {
  const auto at = static_cast<size_t>(run.at);
  if (at + 1 >= run.screens.size()) return nullptr;
  const BenchScreen &now = run.screens[at], &next = run.screens[at + 1];
  return now.target_g && next.target_g && next.part_g > 0 && next.step_id == now.step_id ? &next : nullptr;
}

/// What the scale read when a screen was last left.
std::optional<double> read_at(const BenchRun& run, int screen) {
  for (auto r = run.records.rbegin(); r != run.records.rend(); ++r)
    if (r->screen == screen) return r->scale_g;
  return std::nullopt;
}

/// The screen of the first part in the cup that `screen` weighs into; what is stirred in stands between it and B.
std::optional<int> first_part_of(const BenchRun& run, int screen) {
  const std::string& step = run.screens[static_cast<size_t>(screen)].step_id;
  for (int i = screen; i >= 0 && run.screens[static_cast<size_t>(i)].step_id == step; --i) {
    const BenchScreen& s = run.screens[static_cast<size_t>(i)];
    if (s.part_g > 0 && s.adds_id.empty() && !(s.ratio_to_last > 0)) return i;
  }
  return std::nullopt;
}

/// Grams of the first part in the cup in hand, the scale now at `scale_g`; and how much more that is than planned.
struct FirstPart {
  double g = 0, over_g = 0;
};
FirstPart first_part(const BenchRun& run, double scale_g) {
  const int a = first_part_of(run, run.at).value_or(run.at);
  const BenchScreen& s = run.screens[static_cast<size_t>(a)];
  const std::optional<double> left = a == run.at ? std::optional(scale_g) : read_at(run, a);
  const double g = left ? *left - s.from_g.value_or(0) : s.part_g;
  return {g, g - s.part_g};
}

}  // namespace

std::optional<double> next_target_g(const BenchRun& run, double scale_g) {
  if (finished(run)) return std::nullopt;
  const BenchScreen* next = next_weighing(run);
  if (!next) return std::nullopt;
  return scale_g + (next->ratio_to_last > 0 ? next->ratio_to_last * first_part(run, scale_g).g : next->part_g);
}

std::optional<double> weighed_g(const BenchRun& run, int screen) {
  std::optional<double> sum;
  for (int i = screen - 1; i > 0; --i) {
    const BenchScreen& b = run.screens[static_cast<size_t>(i)];
    if (b.ends_pot_life) break;  // the pour before
    if (!(b.ratio_to_last > 0)) continue;
    const int first = first_part_of(run, i - 1).value_or(i - 1);
    const BenchScreen& a = run.screens[static_cast<size_t>(first)];
    const auto after_b = read_at(run, i), before_b = read_at(run, i - 1), after_a = read_at(run, first);
    if (!after_b || !before_b || !after_a || !a.from_g) return std::nullopt;
    const double g = *after_b - *before_b + *after_a - *a.from_g;
    if (!(g > 0)) return std::nullopt;
    sum = sum.value_or(0) + g;
  }
  return sum;
}

std::vector<Added> added_to(const BenchRun& run, int screen) {
  std::vector<Added> out;
  for (int i = screen - 1; i >= 0; --i) {
    const BenchScreen& s = run.screens[static_cast<size_t>(i)];
    if (s.ends_pot_life) break;  // the pour before
    if (s.adds_id.empty()) continue;
    const auto now = read_at(run, i), before = i > 0 ? read_at(run, i - 1) : std::nullopt;
    const double g = s.adds_share * (now && before && *now > *before ? *now - *before : s.part_g);
    const auto at = std::find_if(out.begin(), out.end(), [&](const Added& a) { return a.material_id == s.adds_id; });
    if (at == out.end())
      out.insert(out.begin(), {s.adds_id, s.adds_name, g});
    else
      at->g += g;
  }
  return out;
}

std::optional<double> left_in_cup_g(const BenchRun& run, int screen) {
  const BenchScreen& s = run.screens[static_cast<size_t>(screen)];
  const auto now = read_at(run, screen), poured = weighed_g(run, screen);
  if (!(s.wets_mm2 > 0) || !now || !poured) return std::nullopt;
  // The cup's own screen is the one that begins at nought.
  for (int i = screen - 1; i >= 0; --i) {
    const BenchScreen& cup = run.screens[static_cast<size_t>(i)];
    if (!cup.target_g || cup.part_g > 0 || cup.from_g.value_or(1) != 0) continue;
    const auto empty = read_at(run, i);
    if (!empty) return std::nullopt;
    const double left = *now - *empty;
    return left > 0 && left < 0.3 * *poured ? std::optional(left) : std::nullopt;
  }
  return std::nullopt;
}

BenchRun begin_run(const std::string& job_id, std::vector<BenchScreen> screens, WallSecond now) {
  BenchRun r;
  r.job_id = job_id;
  r.screens = std::move(screens);
  r.begun = now;
  r.records.push_back({0, now, 0, "", false, std::nullopt, std::nullopt, false, {}, {}});
  return r;
}

bool finished(const BenchRun& run) { return run.at >= static_cast<int>(run.screens.size()); }

BenchRun next_screen(BenchRun run, WallSecond now, std::optional<double> scale_g, std::optional<double> room_c) {
  if (finished(run)) return run;
  const BenchScreen s = run.screens[static_cast<size_t>(run.at)];
  ScreenRecord& r = record_in_hand(run, now);
  r.done = now;
  if (scale_g) r.scale_g = scale_g;
  if (room_c) r.room_c = room_c;
  if (s.starts_pot_life) run.pot_life_started = now, run.touched = false;
  if (s.ends_pot_life) run.pot_life_started.reset();
  if (s.wait_min > 0) {
    std::erase_if(run.clocks, [&](const BenchClock& c) { return c.screen == run.at; });
    run.clocks.push_back({s.clock_label, now, now + static_cast<WallSecond>(s.wait_min * 60 + 0.5), false, run.at, ""});
  }
  std::erase_if(run.clocks, [&](const BenchClock& c) { return !c.step.empty() && c.step == s.step_id; });
  for (const BenchScreen::Ring& ring : s.rings) {
    std::erase_if(run.clocks, [&](const BenchClock& c) { return c.screen == run.at && c.label == ring.label; });
    run.clocks.push_back(
        {ring.label, now, now + static_cast<WallSecond>(ring.minutes * 60 + 0.5), false, run.at, ring.step});
  }
  const std::optional<double> target = scale_g ? next_target_g(run, *scale_g) : std::nullopt;
  ++run.at;
  if (target) {
    BenchScreen& next = run.screens[static_cast<size_t>(run.at)];
    const double over = next.ratio_to_last > 0 ? first_part(run, *scale_g).over_g : 0;
    // As planned: what the cup and all before B weigh, and B by the ratio to the A that was wanted.
    const double planned_g = *target - over * (1 + next.ratio_to_last);
    next.from_g = scale_g;
    next.target_g = target;
    next.told.clear();
    if (next.ratio_to_last > 0 && std::abs(over) >= 0.05)
      next.told = std::string(next.part == "A" ? "B" : "A") + " is " + fixed(std::abs(over), 1) + " g " +
                  (over > 0 ? "over" : "short") + ": pour " + (next.part.empty() ? "B" : next.part) + " to " +
                  fixed(*target, 1) + " instead of " + fixed(planned_g, 1) + " g.";
  }
  if (!finished(run)) record_in_hand(run, now);
  return run;
}

namespace {

const BenchScreen* in_hand(const BenchRun& run) {
  return finished(run) || run.at < 0 ? nullptr : &run.screens[static_cast<size_t>(run.at)];
}

}  // namespace

bool note_touch(BenchRun& run, double scale_g, WallSecond now) {
  const BenchScreen* s = in_hand(run);
  if (!s || run.touched || !run.pot_life_started || !(s->ratio_to_last > 0) || !s->from_g) return false;
  // More than a draught on the pan: a hundredth of what is to come, or two units.
  if (scale_g - *s->from_g < std::max(0.01 * s->part_g, 0.2)) return false;
  run.pot_life_started = now;
  return run.touched = true;
}

void note_gauge(BenchRun& run, double kpa, WallSecond now) {
  if (!in_hand(run)) return;
  auto& curve = record_in_hand(run, now).gauge_kpa;
  if (curve.size() >= 2000) return;
  if (curve.empty() || std::abs(curve.back().second - kpa) >= 1 || now - curve.back().first >= 60)
    curve.emplace_back(now, kpa);
}

std::optional<WallSecond> act_left_s(const BenchRun& run, WallSecond now) {
  const BenchScreen* s = in_hand(run);
  if (!s || s->figure_unit != "min" || s->figure <= 0) return std::nullopt;
  for (auto r = run.records.rbegin(); r != run.records.rend(); ++r)
    if (r->screen == run.at && r->done == 0) return r->started + static_cast<WallSecond>(s->figure * 60 + 0.5) - now;
  return std::nullopt;
}

bool out_of_band(const BenchRun& run, double scale_g) {
  const BenchScreen* s = in_hand(run);
  return s && s->target_g && s->band_g && std::abs(scale_g - *s->target_g) > *s->band_g + 1e-9;
}

std::optional<long> drops_fallen(const BenchScreen& s, double scale_g) {
  if (s.drops <= 0 || s.drop_g <= 0 || !s.from_g) return std::nullopt;
  return std::max(0L, std::lround((scale_g - *s.from_g) / s.drop_g));
}

BenchRun previous_screen(BenchRun run, WallSecond now) {
  if (run.at == 0) return run;
  std::erase_if(run.records,
                [&](const ScreenRecord& r) { return r.screen == run.at && r.done == 0 && r.note.empty(); });
  --run.at;
  for (auto r = run.records.rbegin(); r != run.records.rend(); ++r)
    if (r->screen == run.at) {
      r->done = 0;
      return run;
    }
  record_in_hand(run, now);
  return run;
}

BenchRun note_screen(BenchRun run, const std::string& note, bool went_wrong, WallSecond now) {
  ScreenRecord& r = record_in_hand(run, now);
  if (!note.empty()) r.note += (r.note.empty() ? "" : " / ") + note;
  r.went_wrong = r.went_wrong || went_wrong;
  return run;
}

std::vector<std::string> ring_clocks(BenchRun& run, WallSecond now) {
  std::vector<std::string> out;
  for (BenchClock& c : run.clocks)
    if (!c.rung && c.ends <= now) {
      c.rung = true;
      out.push_back(c.label);
    }
  return out;
}

std::optional<double> pot_life_left_min(const BenchRun& run, WallSecond now) {
  if (!run.pot_life_started || run.at <= 0 || run.at > static_cast<int>(run.screens.size())) return std::nullopt;
  const size_t i = static_cast<size_t>(std::min(run.at, static_cast<int>(run.screens.size()) - 1));
  return run.screens[i].pot_life_min - static_cast<double>(now - *run.pot_life_started) / 60;
}

std::string run_to_json(const BenchRun& run) {
  nlohmann::ordered_json j{{"schema", 1}, {"job", run.job_id}, {"begun_s", run.begun}, {"at", run.at}};
  if (!run.title.empty()) j["title"] = run.title;
  if (run.mould_id) j["mould"] = run.mould_id;
  if (run.touched) j["touched"] = true;
  if (run.block.wall_mm > 0)
    j["block"] = {{"wall_mm", run.block.wall_mm}, {"part_mm", run.block.part_mm}, {"shore_a", run.block.shore_a}};
  if (!run.lots.empty()) j["lots"] = run.lots;
  if (run.pot_life_started) j["pot_life_started_s"] = *run.pot_life_started;
  j["screens"] = nlohmann::ordered_json::array();
  for (const BenchScreen& s : run.screens) {
    nlohmann::ordered_json e{{"step", s.step_id},
                             {"title", s.title},
                             {"instruction", s.instruction},
                             {"starts_pot_life", s.starts_pot_life},
                             {"ends_pot_life", s.ends_pot_life},
                             {"pot_life_min", s.pot_life_min},
                             {"pot_life_pieces", s.pot_life_pieces},
                             {"wait_min", s.wait_min},
                             {"clock", s.clock_label},
                             {"caution", s.caution},
                             {"material", s.material_id},
                             {"poured_g", s.poured_g},
                             {"is_casting", s.is_casting},
                             {"demoulds", s.demoulds},
                             {"last_of_step", s.last_of_step},
                             {"part", s.part},
                             {"part_g", s.part_g},
                             {"ratio_to_last", s.ratio_to_last},
                             {"told", s.told},
                             {"wets_mm2", s.wets_mm2},
                             {"density_g_cm3", s.density_g_cm3},
                             {"share", s.share},
                             {"for_job", s.for_job},
                             {"adds", s.adds_id},
                             {"adds_name", s.adds_name},
                             {"adds_share", s.adds_share},
                             {"makes_mould", s.makes_mould},
                             {"act", name_of(s.act)},
                             {"picture", name_of(s.picture)},
                             {"why", s.why},
                             {"look_for", s.look_for},
                             {"figure", s.figure},
                             {"figure_unit", s.figure_unit},
                             {"mould", s.mould},
                             {"casting", s.casting},
                             {"cup", s.cup},
                             {"each_g", s.each_g},
                             {"drops", s.drops},
                             {"drop_g", s.drop_g},
                             {"rings", nlohmann::ordered_json::array()}};
    for (const BenchScreen::Ring& ring : s.rings)
      e["rings"].push_back({{"label", ring.label}, {"step", ring.step}, {"minutes", ring.minutes}});
    if (s.test)
      e["test"] = {{"kind", name_of(s.test->kind)},
                   {"surface", s.test->surface},
                   {"material", s.test->material_id},
                   {"lot", s.test->lot_id}};
    if (s.target_g) e["target_g"] = *s.target_g;
    if (s.band_g) e["band_g"] = *s.band_g;
    if (s.from_g) e["from_g"] = *s.from_g;
    j["screens"].push_back(std::move(e));
  }
  j["records"] = nlohmann::ordered_json::array();
  for (const ScreenRecord& r : run.records) {
    nlohmann::ordered_json e{{"screen", r.screen}, {"started_s", r.started},     {"done_s", r.done},
                             {"note", r.note},     {"went_wrong", r.went_wrong}, {"booked", r.booked}};
    if (r.scale_g) e["scale_g"] = *r.scale_g;
    if (r.room_c) e["room_c"] = *r.room_c;
    if (!r.gauge_kpa.empty()) e["gauge_kpa"] = r.gauge_kpa;
    if (!r.photos.empty()) e["photos"] = r.photos;
    j["records"].push_back(std::move(e));
  }
  j["clocks"] = nlohmann::ordered_json::array();
  for (const BenchClock& c : run.clocks)
    j["clocks"].push_back({{"label", c.label},
                           {"started_s", c.started},
                           {"ends_s", c.ends},
                           {"rung", c.rung},
                           {"screen", c.screen},
                           {"step", c.step}});
  return j.dump(1, ' ', false, nlohmann::ordered_json::error_handler_t::replace);
}

Result<BenchRun> run_from_json(std::string_view text) {
  const Error bad{"the bench run cannot be read", "bench", "Begin it again; the ledger keeps what was poured."};
  const auto j = nlohmann::json::parse(text, nullptr, false);
  if (j.is_discarded() || !j.is_object()) return bad;
  try {
    BenchRun run;
    run.job_id = j.at("job").get<std::string>();
    run.begun = j.at("begun_s").get<int64_t>();
    run.at = j.at("at").get<int>();
    if (run.at < 0) return bad;
    run.title = j.value("title", "");
    run.mould_id = j.value("mould", int64_t{0});
    run.touched = j.value("touched", false);
    if (j.contains("block")) {
      const auto& b = j["block"];
      run.block = {"", b.at("wall_mm").get<double>(), b.at("part_mm").get<double>(), b.at("shore_a").get<double>()};
    }
    if (j.contains("lots")) run.lots = j["lots"].get<std::map<std::string, int64_t>>();
    if (j.contains("pot_life_started_s")) run.pot_life_started = j["pot_life_started_s"].get<int64_t>();
    for (const auto& e : j.at("screens")) {
      BenchScreen s;
      s.step_id = e.at("step").get<std::string>();
      s.title = e.at("title").get<std::string>();
      s.instruction = e.at("instruction").get<std::string>();
      s.starts_pot_life = e.at("starts_pot_life").get<bool>();
      s.ends_pot_life = e.at("ends_pot_life").get<bool>();
      s.pot_life_min = e.at("pot_life_min").get<double>();
      s.pot_life_pieces = e.at("pot_life_pieces").get<std::vector<std::pair<std::string, double>>>();
      s.wait_min = e.at("wait_min").get<double>();
      s.clock_label = e.at("clock").get<std::string>();
      s.caution = e.at("caution").get<std::string>();
      s.material_id = e.at("material").get<std::string>();
      s.poured_g = e.at("poured_g").get<double>();
      s.is_casting = e.at("is_casting").get<bool>();
      s.demoulds = e.at("demoulds").get<bool>();
      s.last_of_step = e.at("last_of_step").get<bool>();
      // Runs begun before targets followed the scale have none of these.
      s.part = e.value("part", "");
      s.part_g = e.value("part_g", 0.0);
      s.ratio_to_last = e.value("ratio_to_last", 0.0);
      s.told = e.value("told", "");
      s.adds_id = e.value("adds", ""), s.adds_name = e.value("adds_name", "");
      s.adds_share = e.value("adds_share", 1.0);
      s.wets_mm2 = e.value("wets_mm2", 0.0), s.density_g_cm3 = e.value("density_g_cm3", 1.0);
      s.share = e.value("share", 1.0), s.for_job = e.value("for_job", "");
      if (e.contains("test"))
        s.test = TestWanted{named<TrialKind>(e["test"].at("kind").get<std::string>()).value_or(TrialKind::patch),
                            e["test"].at("surface").get<std::string>(), e["test"].at("material").get<std::string>(),
                            e["test"].at("lot").get<int64_t>()};
      // … nor of these before the steps were a procedure's.
      s.makes_mould = e.value("makes_mould", s.step_id.starts_with("open") && s.last_of_step);
      s.act = named<Act>(e.value("act", "")).value_or(Act::own);
      s.picture = named<StepPicture>(e.value("picture", "")).value_or(StepPicture::none);
      s.why = e.value("why", ""), s.look_for = e.value("look_for", "");
      s.mould = e.value("mould", 0), s.casting = e.value("casting", 0), s.cup = e.value("cup", 0);
      s.each_g = e.value("each_g", 0.0);
      s.figure = e.value("figure", 0.0), s.figure_unit = e.value("figure_unit", "");
      s.drops = e.value("drops", 0L), s.drop_g = e.value("drop_g", 0.0);
      if (e.contains("rings"))
        for (const auto& ring : e["rings"])
          s.rings.push_back({ring.at("label").get<std::string>(), ring.at("step").get<std::string>(),
                             ring.at("minutes").get<double>()});
      if (e.contains("target_g")) s.target_g = e["target_g"].get<double>();
      if (e.contains("band_g")) s.band_g = e["band_g"].get<double>();
      if (e.contains("from_g")) s.from_g = e["from_g"].get<double>();
      run.screens.push_back(std::move(s));
    }
    for (const auto& e : j.at("records")) {
      ScreenRecord r{e.at("screen").get<int>(),
                     e.at("started_s").get<int64_t>(),
                     e.at("done_s").get<int64_t>(),
                     e.at("note").get<std::string>(),
                     e.at("went_wrong").get<bool>(),
                     {},
                     {},
                     false,
                     {},
                     {}};
      // Older runs booked when a screen was left.
      r.booked = e.value("booked", r.done != 0);
      if (e.contains("scale_g")) r.scale_g = e["scale_g"].get<double>();
      if (e.contains("room_c")) r.room_c = e["room_c"].get<double>();
      if (e.contains("gauge_kpa")) r.gauge_kpa = e["gauge_kpa"].get<std::vector<std::pair<WallSecond, double>>>();
      if (e.contains("photos")) r.photos = e["photos"].get<std::vector<int64_t>>();
      run.records.push_back(std::move(r));
    }
    for (const auto& c : j.at("clocks"))
      run.clocks.push_back({c.at("label").get<std::string>(), c.at("started_s").get<int64_t>(),
                            c.at("ends_s").get<int64_t>(), c.at("rung").get<bool>(), c.value("screen", -1),
                            c.value("step", "")});
    return run;
  } catch (const nlohmann::json::exception&) { return bad; }
}

double ratio_band_g(double part_b_g, double tolerance_pct, double division_g) {
  return std::max(division_g, part_b_g * tolerance_pct / 100);
}

}  // namespace palinform
