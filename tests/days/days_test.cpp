#include <libical/ical.h>
#include <catch2/catch.hpp>

#include "days/schedule.hpp"

using namespace palinform;

namespace {

std::vector<BenchHours> every_day() { return {{{true, true, true, true, true, true, true}, 8 * 60, 17 * 60}}; }
WallMinute at(const char* s) { return *parse_wall_time(s); }

/// Whatever the steps: hands-on parts lie inside bench hours, one at a time; nothing starts before what it follows.
void check_sound(const std::vector<Step>& steps, const Schedule& s, const std::vector<BenchHours>& bench) {
  for (const Placed& p : s.placed) {
    const Step& step = steps[p.step];
    CHECK(p.hands_end - p.start >= step.hands_min - 1e-9);
    CHECK(p.end - p.hands_end >= step.wait_min - 1e-9);
    if (step.hands_min > 0) {
      const int64_t day = p.start / 1440 * 1440;
      bool inside = false;
      for (const BenchHours& b : bench)
        inside |= b.days[static_cast<size_t>(weekday_of(p.start))] && p.start >= day + b.from_min &&
                  p.hands_end <= day + b.to_min;
      INFO(step.name << " " << wall_text(p.start));
      CHECK(inside);
    }
    if (step.pinned) CHECK(p.start >= *step.pinned);
    if (step.at_once) CHECK(p.start == s.placed[p.step - 1].end);
    for (const std::string& id : step.after)
      for (const Placed& q : s.placed)
        if (steps[q.step].id == id) CHECK(p.start >= q.end);
    for (const Placed& q : s.placed)
      if (&p != &q && p.hands_end > p.start && q.hands_end > q.start)
        CHECK((p.hands_end <= q.start || q.hands_end <= p.start));
    CHECK(p.end <= s.finish);
  }
}

}  // namespace

TEST_CASE("wall times go round; months, leap years and weekdays are right", "[days]") {
  for (const char* s : {"1970-01-01T00:00", "2026-11-30T08:00", "2024-02-29T23:59", "2000-02-29T12:00",
                        "1999-12-31T23:59", "2100-03-01T00:00"})
    CHECK(wall_text(at(s)) == s);
  CHECK(at("2026-11-30T08:00") - at("2026-11-29T08:00") == 1440);
  CHECK(at("2024-03-01T00:00") - at("2024-02-28T00:00") == 2 * 1440);
  CHECK(weekday_of(at("2026-11-25T10:00")) == 2);  // a Wednesday
  CHECK(short_text(at("2026-11-26T16:20")) == "Thu 16:20");
  CHECK(at("2026-11-30T08:00:59") == at("2026-11-30T08:00"));
  for (const char* s : {"", "2026-11-31T08:00", "2025-02-29T08:00", "2026-13-01T08:00", "2026-11-30T24:00",
                        "30.11.2026 08:00", "2026-11-30"})
    CHECK_FALSE(parse_wall_time(s));
}

TEST_CASE("days of the week", "[days]") {
  CHECK(*parse_days("mon-fri") == std::array<bool, 7>{true, true, true, true, true, false, false});
  CHECK(*parse_days("mon-sun") == std::array<bool, 7>{true, true, true, true, true, true, true});
  CHECK(*parse_days("sat, mon") == std::array<bool, 7>{true, false, false, false, false, true, false});
  CHECK(*parse_days("fri-mon") == std::array<bool, 7>{true, false, false, false, true, true, true});
  CHECK_FALSE(parse_days("someday"));
  CHECK_FALSE(parse_days(""));
}

TEST_CASE("the next time at the bench", "[days]") {
  const std::vector<BenchHours> b{{}};  // mon-fri 8-17
  CHECK(*next_bench_time(b, at("2026-11-25T10:00"), 30) == at("2026-11-25T10:00"));
  CHECK(*next_bench_time(b, at("2026-11-25T16:40"), 30) == at("2026-11-26T08:00"));
  CHECK(*next_bench_time(b, at("2026-11-27T16:40"), 30) == at("2026-11-30T08:00"));  // over the weekend
  CHECK(*next_bench_time(b, at("2026-11-25T06:00"), 540) == at("2026-11-25T08:00"));
  CHECK(*next_bench_time(b, at("2026-11-25T09:00"), 600) ==
        at("2026-11-26T08:00"));  // longer than a day: begins when it opens
  CHECK(*next_bench_time(b, at("2026-11-28T03:00"), 0) == at("2026-11-28T03:00"));
  CHECK_FALSE(next_bench_time({}, at("2026-11-25T10:00"), 5));
  CHECK_FALSE(next_bench_time({{{}, 480, 1020}}, at("2026-11-25T10:00"), 5));
}

TEST_CASE("M13's case: eight castings take eight cures with one mould, four with two", "[days]") {
  for (const int moulds : {1, 2}) {
    std::vector<Step> steps;
    for (int n = 1; n <= 8; ++n) {
      Step s{"cast-" + std::to_string(n),
             "Cast",
             30,
             24 * 60,
             {},
             false,
             "",
             "mould " + std::to_string((n - 1) % moulds),
             std::nullopt,
             false};
      steps.push_back(s);
    }
    const auto s = lay_out(steps, every_day(), at("2026-11-30T08:00"));
    REQUIRE(s);
    check_sound(steps, *s, every_day());
    const double cures = static_cast<double>(s->finish - s->start) / (24 * 60);
    CHECK(cures >= 8 / moulds);
    CHECK(cures < 8 / moulds + 0.5);
  }
}

TEST_CASE("pot-life steps stay together and move to the next day as one", "[days]") {
  std::vector<Step> steps{{"a", "Mix", 20, 0, {}, false, "", "", std::nullopt, false},
                          {"b", "Degas", 10, 0, {}, true, "chamber", "", std::nullopt, false},
                          {"c", "Pour", 10, 600, {}, true, "", "", std::nullopt, false},
                          {"d", "Open", 15, 0, {"c"}, false, "", "", std::nullopt, false}};
  const auto s = lay_out(steps, {{}}, at("2026-11-25T16:30"));  // 40 min do not fit before 17:00
  REQUIRE(s);
  check_sound(steps, *s, {{}});
  CHECK(s->placed[0].start == at("2026-11-26T08:00"));
  CHECK(s->placed[2].hands_end == at("2026-11-26T08:40"));
  CHECK(s->placed[3].start == at("2026-11-27T08:00"));  // the cure ends at 18:40, after hours
}

TEST_CASE("a person does one thing at a time, but gaps are used", "[days]") {
  std::vector<Step> steps{{"a", "A", 60, 300, {}, false, "", "m1", std::nullopt, false},
                          {"b", "B", 60, 0, {"a"}, false, "", "", std::nullopt, false},
                          {"c", "C", 120, 0, {}, false, "", "", std::nullopt, false}};
  const auto s = lay_out(steps, every_day(), at("2026-11-25T08:00"));
  REQUIRE(s);
  check_sound(steps, *s, every_day());
  CHECK(s->placed[1].start == at("2026-11-25T14:00"));
  CHECK(s->placed[2].start == at("2026-11-25T09:00"));  // while A cures
}

TEST_CASE("pins, changed times, and steps that cannot be", "[days]") {
  StepTimes t;
  t.cast_cure_min = 90;
  std::map<std::string, StepChange> changes;
  changes["box"].pinned = at("2026-12-02T10:00");
  changes["box"].hands_min = 90;
  const auto steps = job_steps(t, 3, 1, changes);
  const auto s = lay_out(steps, {{}}, at("2026-11-30T08:00"));
  REQUIRE(s);
  check_sound(steps, *s, {{}});
  for (const Placed& p : s->placed)
    if (steps[p.step].id == "box") {
      CHECK(p.start == at("2026-12-02T10:00"));
      CHECK(p.hands_end - p.start == 90);
      CHECK(steps[p.step].changed);
    }
  std::vector<Step> loop{{"a", "A", 1, 0, {"b"}, false, "", "", std::nullopt, false},
                         {"b", "B", 1, 0, {}, false, "", "", std::nullopt, false}};
  CHECK_FALSE(lay_out(loop, {{}}, 0));
  loop[1].id = "a";
  CHECK_FALSE(lay_out(loop, {{}}, 0));
  std::vector<Step> wide{{"w", "W", 700, 0, {}, false, "", "", std::nullopt, false}};
  CHECK(lay_out(wide, {{}}, at("2026-11-25T08:00"))->overruns.size() == 1);
}

TEST_CASE("the job's steps: whole, in order, and sooner with more moulds", "[days]") {
  StepTimes t;
  WallMinute last = INT64_MAX;
  for (int moulds = 1; moulds <= 3; ++moulds) {
    const auto steps = job_steps(t, 9, moulds);
    int pours = 0, demoulds = 0;
    for (const Step& s : steps) pours += s.id.starts_with("pour-"), demoulds += s.id.starts_with("demould-");
    CHECK(pours == 2 * moulds);
    CHECK(demoulds == 9);
    StepTimes slow = t;
    slow.cast_cure_min = 24 * 60;
    const auto many = job_steps(slow, 9, moulds);
    const auto s = lay_out(many, every_day(), at("2026-11-30T08:00"));
    REQUIRE(s);
    check_sound(many, *s, every_day());
    // Two moulds halve the run; a third costs another two days of making before it helps.
    if (moulds == 2) CHECK(s->finish < last);
    last = s->finish;
    CHECK(s->hands_min > 120);
  }
}

TEST_CASE("the calendar file reads back with libical", "[days]") {
  const auto steps = job_steps({}, 2, 1);
  const auto s = *lay_out(steps, {{}}, at("2026-11-30T08:00"));
  const std::string text = calendar_text(steps, s, "Latch; left, hand");
  icalcomponent* c = icalparser_parse_string(text.c_str());
  REQUIRE(c);
  CHECK(icalcomponent_count_errors(c) == 0);
  size_t events = 0, hands = 0;
  for (const Step& step : steps) hands += step.hands_min > 0;
  for (icalcomponent* e = icalcomponent_get_first_component(c, ICAL_VEVENT_COMPONENT); e;
       e = icalcomponent_get_next_component(c, ICAL_VEVENT_COMPONENT)) {
    const icaltimetype start = icalcomponent_get_dtstart(e), end = icalcomponent_get_dtend(e);
    CHECK(icaltime_compare(start, end) < 0);
    CHECK(std::string(icalcomponent_get_summary(e)).find("Latch; left, hand") != std::string::npos);
    if (events == 0) {
      CHECK(start.year == 2026);
      CHECK(start.month == 11);
      CHECK(start.day == 30);
      CHECK(start.hour == 8);
    }
    ++events;
  }
  CHECK(events == hands);
  icalcomponent_free(c);
}
