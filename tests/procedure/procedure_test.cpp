#include <catch2/catch.hpp>
#include <map>
#include <random>
#include <set>

#include "days/schedule.hpp"
#include "procedure/own_ways.hpp"

namespace tests_procedure_procedure {

using namespace palinform;

namespace {

PourFacts pour(const std::string& name, double g, int cups = 1, const std::string& side = "") {
  PourFacts p;
  p.name = name, p.material_id = "m-" + name, p.material = "Rubber " + name, p.ratio = "100 : 10 by weight";
  p.each_g = g / cups, p.cups = cups, p.ml = g / 1.1, p.side = side;
  p.degas_min = 5, p.fill_mm = side.empty() ? 40 : 0;
  return p;
}

/// A job of that form with its own pours, and nothing besides.
ProcedureFacts job_of(Form form, int cups = 1) {
  ProcedureFacts f;
  f.form = form;
  f.seal = "Two coats of lacquer";
  f.casting = pour("casting", 40);
  f.casting.fill_mm = 0, f.casting.degas_min = 0;
  f.line_mm = form == Form::open ? 0 : 200;
  f.box_words = "98 × 72 × 51 mm inside";
  switch (form) {
    case Form::skin:
      for (const char* side : {"a", "b"}) {
        for (int k = 1; k <= 3; ++k)
          f.rubber.push_back(pour(std::string(side) + " coat " + std::to_string(k), 30 + k, 1, side));
        f.jacket.push_back(pour(std::string("jacket ") + side, 120, 1, side));
        f.jacket.back().degas_min = 0;
      }
      break;
    case Form::putty:
      f.rubber = {pour("impression a", 60), pour("impression b", 55)};
      for (PourFacts& p : f.rubber) p.degas_min = 0, p.fill_mm = 0;
      break;
    case Form::cup_core:
      break;
    case Form::open:
    case Form::cut:
    case Form::strip:
      f.rubber = {pour("whole", 210, cups)};
      break;
    case Form::pieces:
      f.rubber = {pour("piece 1", 40), pour("a", 248, cups), pour("b", 75)};
      f.pieces = 1;
      break;
    default:
      f.rubber = {pour("a", 248, cups), pour("b", 75)};
  }
  return f;
}

/// Every job there is, near enough: each form with every way, key, pin, dam, gate, aid, end, master, and several
/// copies, moulds and cups.
template <class F>
int for_all_jobs(F each) {
  int n = 0;
  std::mt19937 rnd(16);
  const auto one_of = [&](int k) { return static_cast<int>(rnd() % static_cast<unsigned>(k)); };
  for (int form = 0; form < form_count; ++form)
    for (const Way way : {Way::clay_bed, Way::splitter_board, Way::printed_board})
      for (int gate = 0; gate < 2; ++gate)
        for (int cast_in = 0; cast_in < 2; ++cast_in)
          for (const FillBy fill : {FillBy::gravity, FillBy::pressure, FillBy::vacuum, FillBy::vacuum_then_pressure})
            for (const Ends ends : {Ends::both, Ends::mould, Ends::castings, Ends::master})
              for (int pins = 0; pins < 3; ++pins)
                for (int round = 0; round < 3; ++round) {
                  ProcedureFacts f = job_of(static_cast<Form>(form), 1 + one_of(3));
                  f.way = way, f.gate = gate, f.cast_in = cast_in, f.fill = fill, f.ends = ends;
                  for (int k = 1; k <= pins; ++k) f.pins.push_back("Pin " + std::to_string(k) + " (Ø6)");
                  f.vents = one_of(3), f.key_count = one_of(2) * 4, f.dams = one_of(3);
                  f.keys = static_cast<KeyKind>(one_of(3));
                  f.copies = 1 + one_of(4), f.moulds = 1 + one_of(2);
                  f.from_first_casting = one_of(3) == 0;
                  if (f.form == Form::strip) f.a_pull = 3;
                  f.clamp_n = one_of(2) * 35, f.clamp_with = "two rubber bands";
                  f.tilt_deg = one_of(2) * 12, f.wedge_rise_mm = 14, f.turned_over = one_of(2);
                  f.master = static_cast<MasterIs>(one_of(3));
                  f.master_print_h = 5, f.master_cure_min = one_of(2) * 3000;
                  if (one_of(2)) f.seal.clear();
                  f.porous = one_of(2), f.barrier = one_of(2), f.plugs = one_of(2), f.taped = one_of(2);
                  f.hold_down_n = one_of(2) * 2.2;
                  f.casting.cups = 1 + one_of(2);
                  f.casting.each_g = 40;
                  f.casting.stand_min = one_of(2) * 4;
                  f.casting.no_figures = one_of(8) == 0;
                  f.cover_plate = one_of(2);
                  f.one_sided = f.form == Form::putty && one_of(2);
                  if (f.one_sided) f.rubber.pop_back();
                  f.resin_is_rubber = one_of(2);
                  f.resin_cure.tacky = one_of(2);
                  if (one_of(2)) f.resin_cure.post_min = 120, f.resin_cure.post_c = 60;
                  if (one_of(2)) f.rubber_cure.post_min = 240, f.rubber_cure.post_c = 80;
                  if (one_of(4) == 0)
                    f.tests.push_back({{TrialKind::patch, "wood", "m", 3}, "Rubber", "the master (wood)", 960});
                  for (int k = one_of(6); k >= 4; --k)
                    f.tests.push_back({{TrialKind::cup, "", "m", k}, "Rubber", "lot " + std::to_string(k), 600});
                  if (one_of(2)) f.later = "paint";
                  if (one_of(2)) f.finishing = {"Ream Pivot bore to 5 mm"};
                  f.sizes = one_of(3), f.squeeze_kg = 4, f.over_pct = 12, f.brush_details = one_of(2);
                  if (in_halves(f.form))
                    for (size_t k = f.rubber.size(); k-- > 0;) {
                      if (one_of(3) != 0 || f.rubber[k].name.starts_with("piece")) continue;
                      PourFacts second = f.rubber[k];
                      f.rubber[k].stage = 1;
                      second.stage = 2, second.name += " stage 2";
                      second.frame_u_mm = 40, second.frame_v_mm = 30;
                      f.rubber.insert(f.rubber.begin() + static_cast<std::ptrdiff_t>(k) + 1, second);
                    }
                  if (f.form == Form::two_part && one_of(3) == 0) {
                    f.brushed = one_of(2) ? "a" : "b";
                    std::vector<PourFacts> rubber;
                    for (const PourFacts& p : f.rubber) {
                      if (!p.name.starts_with(f.brushed)) {
                        rubber.push_back(p);
                        continue;
                      }
                      for (int k = p.stage == 2 ? 0 : 1 + one_of(3); k > 0; --k)
                        rubber.push_back(pour(f.brushed + " coat " + std::to_string(9 - k), 30 + k, 1, f.brushed));
                    }
                    f.rubber = rubber;
                    if (one_of(3)) f.jacket = {pour("backing " + f.brushed, 220, 1 + one_of(2), f.brushed)};
                    if (!f.jacket.empty()) f.jacket[0].degas_min = 0, f.jacket[0].fill_mm = one_of(2) * 41;
                    f.jacket_fumes = one_of(2);
                  }
                  f.resin_fumes = one_of(4) == 0;
                  if (in_halves(f.form) && one_of(3) == 0)
                    f.rubber.back().cure = CureFacts{90, 2000, {}, false, 60, 50};
                  if (f.form == Form::putty && one_of(2)) f.rubber.front().cups = 3, f.rubber.front().bond_min = 6;
                  if (f.brushed.empty() && one_of(2)) {
                    std::vector<PourFacts> layers;
                    for (const PourFacts& p : f.jacket)
                      for (const int layer : {1, 2}) {
                        PourFacts x = p;
                        x.name += " layer " + std::to_string(layer);
                        x.stage = layer;
                        layers.push_back(x);
                      }
                    f.jacket = layers;
                    f.jacket_gel_min = 20, f.fence_mm = 5;
                  }
                  each(f);
                  ++n;
                }
  return n;
}

std::string said(const ProcedureFacts& f) {
  return std::string(name_of(f.form)) + ", " + std::string(name_of(f.way)) + ", " + std::string(name_of(f.ends)) +
         ", pins " + std::to_string(f.pins.size()) + ", moulds " + std::to_string(f.moulds) + ", copies " +
         std::to_string(f.copies) + ", fill " + std::to_string(static_cast<int>(f.fill)) +
         (f.cast_in ? ", cast in" : "");
}

const ProcedureStep* find(const Procedure& p, const std::string& id) {
  for (const ProcedureStep& s : p.steps)
    if (s.id == id) return &s;
  return nullptr;
}

bool has(const Procedure& p, Act act) {
  return std::any_of(p.steps.begin(), p.steps.end(), [&](const ProcedureStep& s) { return s.act == act; });
}

}  // namespace

TEST_CASE("a half that is brushed: coats in their windows, backed in the box, turned, released, the other poured",
          "[procedure]") {
  ProcedureFacts f = job_of(Form::two_part);
  f.brushed = "a";
  f.key_count = 4;
  f.clamp_n = 30, f.clamp_with = "two rubber bands", f.resin_fumes = true;
  f.rubber = {pour("a coat 1", 20, 1, "a"), pour("a coat 2", 25, 1, "a"), pour("b", 75)};
  f.jacket = {pour("backing a", 220, 1, "a")};
  f.jacket[0].degas_min = 0, f.jacket[0].fill_mm = 41;
  const Procedure p = procedure(f, StepMinutes{});
  CHECK(faults_of(p, f).empty());
  std::vector<Act> acts;
  for (const ProcedureStep& s : p.steps)
    for (const Act a : {Act::brush, Act::set_keys, Act::lay_jacket, Act::turn, Act::release, Act::pour, Act::open})
      if (s.act == a && !s.casting) acts.push_back(a);
  CHECK(acts == std::vector<Act>{Act::brush, Act::brush, Act::set_keys, Act::lay_jacket, Act::turn, Act::release,
                                 Act::pour, Act::open});
  const auto words = [&](Act a) {
    for (const ProcedureStep& s : p.steps)
      if (s.act == a) return s.what;
    return std::string();
  };
  CHECK(words(Act::lay_jacket).find("to the fill line at 41 mm") != std::string::npos);
  CHECK(words(Act::box).find("Mark the fill line of the backing a, 41 mm over the floor.") != std::string::npos);
  CHECK(words(Act::open).find("Pry the backing of side a off") != std::string::npos);
  CHECK(words(Act::close).find("Lay the skin of side a back in its backing") != std::string::npos);
  CHECK(words(Act::demould).find("The backing of side a off first.") != std::string::npos);
  // What cures in the fumes, in clamps, holds both till it is out.
  for (const ProcedureStep& s : p.steps)
    CHECK((s.casting && s.wait_min >= f.resin_cure.demould_min) ==
          (s.besides == std::vector<std::string>{"fume place", "clamps"}));
  // The clamps from the closing on.
  for (const ProcedureStep& s : p.steps)
    if (s.act == Act::close && s.casting) CHECK(s.besides == std::vector<std::string>{"clamps"});
}

TEST_CASE("every procedure can be done as it stands, whatever the job", "[procedure]") {
  std::map<std::string, std::string> faults;  // one example each
  const int n = for_all_jobs([&](const ProcedureFacts& f) {
    const Procedure p = procedure(f, {});
    for (const std::string& s : faults_of(p, f)) faults.emplace(s, said(f));
  });
  CHECK(n > 3000);
  for (const auto& [what, where] : faults) {
    INFO(where);
    FAIL_CHECK(what);
  }
}

TEST_CASE("no step speaks of what the job lacks, and none is without words", "[procedure]") {
  std::map<std::string, std::string> faults;
  for_all_jobs([&](const ProcedureFacts& f) {
    const auto lacks = words_it_lacks(f);
    for (const ProcedureStep& s : procedure(f, {}).steps) {
      if (const std::string w = lacking_word(s, lacks); !w.empty())
        faults.emplace(w + " in \"" + s.name + "\": " + s.what, said(f));
      if (s.name.empty() || s.what.empty() || s.id.empty()) faults.emplace("no words: " + s.id, said(f));
      if (s.what.back() != '.' && s.what.back() != '?') faults.emplace("no full stop: " + s.what, said(f));
      if (s.hands_min <= 0 && s.wait_min <= 0) faults.emplace("takes no time: " + s.name, said(f));
    }
  });
  for (const auto& [what, where] : faults) {
    INFO(where);
    FAIL_CHECK(what);
  }
}

TEST_CASE("whatever the job has is put in and taken out, in every form", "[procedure]") {
  for_all_jobs([&](const ProcedureFacts& f) {
    if (f.ends != Ends::both) return;
    std::map<Thing, int> in;
    for (const ProcedureStep& s : procedure(f, {}).steps)
      for (const Placing& x : s.in) ++in[x.thing];
    const int pulls = (f.copies + f.a_pull - 1) / f.a_pull;
    const bool board = f.way != Way::clay_bed, bed = has_bed(f.form);
    const bool rods = f.cast_in && has_gate(f) && has_box(f.form);
    INFO(said(f));
    CHECK(in[Thing::master] == (f.form == Form::cup_core ? 0 : f.moulds));
    CHECK(in[Thing::box] == (has_box(f.form) ? f.moulds : 0));
    CHECK(in[Thing::dams] == (has_box(f.form) && f.dams > 0 ? f.moulds : 0));
    CHECK(in[Thing::clay] == (bed && !board ? f.moulds : 0));
    CHECK(in[Thing::board] == (bed && board ? f.moulds : 0));
    // Pins stand in the mould while it is made, and again at every casting.
    CHECK(in[Thing::pins] == (f.pins.empty() || f.form == Form::cup_core ? 0 : f.moulds + pulls));
    CHECK(in[Thing::gate_rod] == (rods ? f.moulds : 0));
    CHECK(in[Thing::vent_rods] == (rods && f.vents > 0 ? f.moulds : 0));
    CHECK(in[Thing::core] == (f.form == Form::cup_core ? pulls : 0));
    CHECK(in[Thing::pressure] == (by_pot(f.fill) ? pulls : 0));
    CHECK(in[Thing::clamps] ==
          (closes(f) && f.clamp_n > 0 && f.form != Form::squeeze && f.form != Form::cup_core ? pulls : 0));
    CHECK(in[Thing::weight] == (f.form == Form::squeeze ? pulls : 0));
    CHECK(in[Thing::bar] == (f.form == Form::strip ? f.moulds : 0));
    CHECK(in[Thing::tape] == (f.taped > 0 && f.form != Form::cup_core ? 1 : 0));
  });
}

TEST_CASE("what is open is tried first: a patch before the bed, cups beside it, each looked at when it is through",
          "[procedure]") {
  ProcedureFacts f = job_of(Form::two_part);
  f.tests = {{{TrialKind::patch, "wood", "m-a", 3}, "Rubber", "the master (wood)", 960},
             {{TrialKind::cup, "", "m-a", 4}, "Rubber", "lot B-4", 600}};
  const Procedure p = procedure(f, {});
  const ProcedureStep *patch = find(p, "patch"), *read = find(p, "patch-read"), *cup = find(p, "cup-test"),
                      *cup_read = find(p, "cup-test-read"), *prepare = find(p, "prepare");
  REQUIRE((patch && read && cup && cup_read && prepare));
  CHECK(patch->wait_min == 960);
  CHECK(read->after == std::vector<std::string>{"patch"});
  CHECK(read->test == f.tests[0].wanted);
  CHECK(cup_read->test == f.tests[1].wanted);
  CHECK(prepare->after.empty());  // the cup stands by
  CHECK(cup->after.empty());
  // Nothing of it is mixed for the mould before both are known.
  const auto waits_for = [&](const std::string& id, const std::string& what) {
    std::set<std::string> seen;
    std::vector<std::string> open{id};
    while (!open.empty()) {
      const ProcedureStep* s = find(p, open.back());
      open.pop_back();
      if (!s || !seen.insert(s->id).second) continue;
      open.insert(open.end(), s->after.begin(), s->after.end());
      if (s->at_once) open.push_back(p.steps[static_cast<size_t>(s - p.steps.data()) - 1].id);
    }
    return seen.contains(what);
  };
  for (const ProcedureStep& s : p.steps)
    if (s.act == Act::weigh && s.casting == 0) {
      INFO(s.id);
      CHECK(waits_for(s.id, "patch-read"));
      CHECK(waits_for(s.id, "cup-test-read"));
    }
  // Castings alone ask for no patch, but for the cup; a master alone for neither.
  f.ends = Ends::castings;
  CHECK_FALSE(find(procedure(f, {}), "patch"));
  CHECK(find(procedure(f, {}), "cup-test"));
  f.ends = Ends::master;
  CHECK_FALSE(has(procedure(f, {}), Act::try_out));
}

TEST_CASE("each form is done its own way", "[procedure]") {
  const auto p = [](Form form) { return procedure(job_of(form), {}); };
  CHECK(has(p(Form::open), Act::top_up));
  CHECK_FALSE(has(p(Form::open), Act::cut_channels));
  CHECK_FALSE(has(p(Form::open), Act::turn));
  CHECK(has(p(Form::two_part), Act::turn));
  CHECK(has(p(Form::two_part), Act::cut_channels));
  CHECK(has(p(Form::squeeze), Act::lower));
  CHECK_FALSE(has(p(Form::squeeze), Act::cut_channels));
  CHECK(has(p(Form::cut), Act::cut_open));
  CHECK_FALSE(has(p(Form::cut), Act::release));
  CHECK(has(p(Form::skin), Act::brush));
  CHECK(has(p(Form::skin), Act::lay_jacket));
  CHECK_FALSE(has(p(Form::skin), Act::box));
  CHECK(has(p(Form::putty), Act::knead));
  CHECK_FALSE(has(p(Form::putty), Act::degas));
  CHECK(has(p(Form::cup_core), Act::press_core));
  CHECK_FALSE(has(p(Form::cup_core), Act::open));
  CHECK(has(p(Form::strip), Act::into_chamber));
  CHECK(has(p(Form::pieces), Act::fence));
  // A mould handed on ends with its label; castings alone begin with the mould from the shelf.
  ProcedureFacts f = job_of(Form::two_part);
  f.ends = Ends::mould;
  CHECK(procedure(f, {}).steps.back().act == Act::label);
  f.ends = Ends::castings;
  CHECK(procedure(f, {}).steps.front().act == Act::look);
  CHECK_FALSE(has(procedure(f, {}), Act::open));
}

TEST_CASE("coats have a window with two ends, and the days keep to it", "[procedure]") {
  ProcedureFacts f = job_of(Form::skin);
  f.rubber_cure.gel_min = 60;
  f.rubber_cure.recoat_latest_min = 240;
  const Procedure p = procedure(f, {});
  const ProcedureStep* second = find(p, "weigh-a-coat-2");
  REQUIRE(second);
  REQUIRE(second->window);
  CHECK(second->window->after == "brush-a-coat-1");
  const double ahead = 3 + 3 + 5;  // weigh, stir, degas: the cup is made ready while the last coat gels
  CHECK(second->window->earliest_min == Approx(60 - ahead));
  CHECK(second->window->latest_min.value() == Approx(240 - ahead));
  const auto steps = timed_steps(p);
  BenchHours hours;
  for (int from = 8 * 60; from < 17 * 60; from += 37) {  // begun at any hour of the day
    const auto s = lay_out(steps, {hours}, *parse_wall_time("2026-11-30T00:00") + from);
    REQUIRE(s);
    std::map<std::string, const Placed*> at;
    for (const Placed& x : s->placed) at[steps[x.step].id] = &x;
    for (const char* side : {"a", "b"})
      for (int k = 2; k <= 3; ++k) {
        const std::string before = std::string("brush-") + side + "-coat-" + std::to_string(k - 1),
                          mine = std::string("brush-") + side + "-coat-" + std::to_string(k);
        const int64_t gap = at[mine]->start - at[before]->hands_end;
        INFO(mine << " from " << from);
        CHECK(gap >= 60);
        CHECK(gap <= 240);
        // … so no window spans a closing time.
        CHECK(at[mine]->start / 1440 == at[before]->start / 1440);
      }
  }
  // A window that the bench never opens for is refused by name.
  f.rubber_cure.gel_min = 11 * 60;
  f.rubber_cure.recoat_latest_min = 12 * 60;
  const auto refused = lay_out(timed_steps(procedure(f, {})), {hours}, *parse_wall_time("2026-11-30T08:00"));
  REQUIRE_FALSE(refused);
  CHECK(refused.error().what.find("coat 2") != std::string::npos);
}

TEST_CASE("acts inside a cure: rods are drawn while the rubber is firm but soft", "[procedure]") {
  ProcedureFacts f = job_of(Form::two_part);
  f.cast_in = true, f.vents = 2;
  f.rubber_cure.gel_min = 90, f.rubber_cure.demould_min = 960;
  const Procedure p = procedure(f, {});
  const ProcedureStep* rods = find(p, "rods");
  REQUIRE(rods);
  CHECK(rods->window->after == "pour-b");
  CHECK(rods->window->earliest_min == 90);
  CHECK(rods->window->latest_min == 960.0);
  const auto steps = timed_steps(p);
  const auto s = lay_out(steps, {{}}, *parse_wall_time("2026-11-30T08:00"));
  REQUIRE(s);
  for (const Placed& x : s->placed)
    if (steps[x.step].id == "unbox")
      for (const Placed& y : s->placed)
        if (steps[y.step].id == "pour-b") CHECK(x.start >= y.end);
}

TEST_CASE("the shop's own way: minutes, words, steps left out with a reason, steps of its own, another order",
          "[procedure]") {
  const ProcedureFacts f = job_of(Form::two_part);
  const Procedure p = procedure(f, {});
  OwnWays own;
  own.changes["release"].hands_min = 25;
  own.changes["release"].what = "Two coats of the blue wax.";
  own.changes["rest"].skipped = "it is for one pull";
  own.steps = {{"own-1", "prepare", "Photograph it", "From six sides, with the rule.", 8, 0}};
  auto mine = with_own_ways(p, f, {}, own);
  REQUIRE(mine);
  CHECK(find(*mine, "release")->hands_min == 25);
  CHECK(find(*mine, "release")->what == "Two coats of the blue wax.");
  CHECK(find(*mine, "rest")->skipped == "it is for one pull");
  const auto timed = timed_steps(*mine);
  CHECK(std::none_of(timed.begin(), timed.end(), [](const Step& s) { return s.id == "rest"; }));
  // The own step stands behind the one it names, and what came next waits for it.
  size_t at = 0;
  while (mine->steps[at].id != "own-1") ++at;
  CHECK(mine->steps[at - 1].id == "prepare");
  CHECK(std::find(find(*mine, "seal")->after.begin(), find(*mine, "seal")->after.end(), "own-1") !=
        find(*mine, "seal")->after.end());
  CHECK(faults_of(*mine, f).empty());

  // What a later step needs cannot be left out; the reason names both.
  for (const char* needed : {"release", "box", "bed", "turn", "stir-a", "pour-b", "open", "demould-1"}) {
    OwnWays without;
    without.changes[needed].skipped = "no time";
    const auto refused = with_own_ways(p, f, {}, without);
    INFO(needed);
    CHECK_FALSE(refused);
  }
  // Another order where it can be: the tape before the sealer is no harm; opening before the cure is.
  OwnWays moved;
  moved.changes["channels"].move_after = "rest";
  CHECK(with_own_ways(p, f, {}, moved));
  moved.changes.clear();
  moved.changes["open"].move_after = "bed";
  CHECK_FALSE(with_own_ways(p, f, {}, moved));
  moved.changes.clear();
  moved.changes["turn"].move_after = "box";
  CHECK_FALSE(with_own_ways(p, f, {}, moved));

  // A habit goes by stem and holds for every casting; the job's own word is the last.
  ProcedureFacts many = f;
  many.copies = 3;
  OwnWays habit, job;
  habit.changes["demould"].hands_min = 4;
  habit.steps = {{"own-1", "demould", "Weigh the casting", "", 2, 0}};
  job.changes["demould-2"].hands_min = 9;
  const auto by_habit = with_own_ways(procedure(many, {}), many, habit, job);
  REQUIRE(by_habit);
  CHECK(find(*by_habit, "demould-1")->hands_min == 4);
  CHECK(find(*by_habit, "demould-2")->hands_min == 9);
  CHECK(find(*by_habit, "demould-3")->hands_min == 4);
  int weighed = 0;
  for (const ProcedureStep& s : by_habit->steps) weighed += s.stem == "own-1";
  CHECK(weighed == 3);
  CHECK(faults_of(*by_habit, many).empty());
  // What names no step of this job is passed over.
  OwnWays none;
  none.changes["cut"].hands_min = 1;
  none.steps = {{"own-1", "jacket", "x", "", 1, 0}};
  CHECK(with_own_ways(p, f, {}, none));
}

TEST_CASE("the checker sees what is wrong", "[procedure]") {
  const ProcedureFacts f = job_of(Form::two_part);
  const auto wrong = [&](const std::function<void(Procedure&)>& spoil) {
    Procedure p = procedure(f, {});
    REQUIRE(faults_of(p, f).empty());
    spoil(p);
    return !faults_of(p, f).empty();
  };
  const auto step = [](Procedure& p, const std::string& id) -> ProcedureStep& {
    return *std::find_if(p.steps.begin(), p.steps.end(), [&](const ProcedureStep& s) { return s.id == id; });
  };
  CHECK(wrong([&](Procedure& p) { step(p, "weigh-a").amounts[0].g += 1; }));
  CHECK(wrong([&](Procedure& p) { step(p, "bed").in.clear(); }));
  CHECK(wrong([&](Procedure& p) { step(p, "unbox").out.clear(); }));
  CHECK(wrong([&](Procedure& p) { std::swap(step(p, "stir-a"), step(p, "pour-a")); }));
  CHECK(wrong([&](Procedure& p) {
    step(p, "pour-b").wait_min = 10;
    step(p, "pour-a").wait_min = 10;
  }));
  CHECK(wrong([&](Procedure& p) { step(p, "demould-1").after.clear(); }));
  CHECK(wrong([&](Procedure& p) { step(p, "release").act = Act::clean; }));
  CHECK(wrong([&](Procedure& p) { step(p, "turn").id = "bed"; }));
  CHECK(wrong([&](Procedure& p) { step(p, "pour-a").window->latest_min = 1; }));
}

TEST_CASE("hands: a form's own work, and dearer with more of it", "[procedure]") {
  const auto mould = [](const ProcedureFacts& f) { return hands_needed(procedure(f, {})).mould_min; };
  ProcedureFacts f = job_of(Form::two_part);
  const double plain = mould(f);
  f.pins = {"Pin 1"};
  CHECK(mould(f) > plain);
  CHECK(mould(job_of(Form::open)) < plain);
  CHECK(mould(job_of(Form::skin)) > plain);
  CHECK(mould(job_of(Form::putty)) < plain);
  f = job_of(Form::two_part);
  f.moulds = 2;
  CHECK(mould(f) == Approx(plain));  // of one
}

TEST_CASE("moulds from the first casting: it is checked and cured through before it is a master", "[procedure]") {
  ProcedureFacts f = job_of(Form::two_part);
  f.copies = 4, f.moulds = 3, f.casting_through_min = 2000;
  const Procedure from_master = procedure(f, {});
  f.from_first_casting = true;
  const Procedure p = procedure(f, {});
  CHECK(faults_of(p, f).empty());
  const auto at = [&](const char* id) {
    const ProcedureStep* s = find(p, id);
    REQUIRE(s);
    return s - p.steps.data();
  };
  CHECK(at("check-1") < at("casting-through"));
  CHECK(at("casting-through") < at("casting-master"));
  CHECK(at("casting-master") < at("open-2"));
  CHECK(at("open-2") < at("open-3"));
  CHECK(find(p, "casting-through")->wait_min == 2000);
  CHECK(find(p, "ready-1")->any_of == std::vector<std::string>{"mould 1"});
  CHECK(find(p, "ready-2")->any_of.size() == 3);
  CHECK_FALSE(find(from_master, "casting-master"));
  // Where it would bring nothing it is as it was: one mould, moulds alone, a printed cup.
  f.moulds = 1;
  CHECK_FALSE(find(procedure(f, {}), "casting-master"));
  f.moulds = 2, f.ends = Ends::mould;
  CHECK_FALSE(find(procedure(f, {}), "casting-master"));
}

TEST_CASE("steps are told in the shop's units", "[procedure]") {
  ProcedureFacts f = job_of(Form::two_part);
  f.shown.inch = f.shown.ounce = f.shown.fahrenheit = true;
  f.rubber_cure.post_min = 60, f.rubber_cure.post_c = 80;
  const Procedure p = procedure(f, {});
  CHECK(find(p, "weigh-a")->what.find("8.748 oz") != std::string::npos);
  CHECK(find(p, "pour-a")->what.find("1.57 in") != std::string::npos);  // 40 mm
  CHECK(find(p, "post-cure")->what.find("176 °F") != std::string::npos);
  for (const ProcedureStep& s : p.steps) {
    INFO(s.what);
    CHECK(s.what.find(" mm over") == std::string::npos);
    CHECK(s.what.find(" g of") == std::string::npos);
  }
}

TEST_CASE("a material that asks for it is cured warm: the mould before its first pull, the casting after",
          "[procedure]") {
  ProcedureFacts f = job_of(Form::two_part);
  CHECK_FALSE(has(procedure(f, {}), Act::post_cure));
  f.rubber_cure.post_min = 240, f.rubber_cure.post_c = 80;
  f.resin_cure.post_min = 120, f.resin_cure.post_c = 60;
  const Procedure p = procedure(f, {});
  CHECK(find(p, "post-cure")->wait_min == 240);
  CHECK(find(p, "post-cure")->needs == "oven");
  CHECK(find(p, "post-cure-cast-1")->what.find("60 °C") != std::string::npos);
  f.rubber_cure.post_c = 0;  // warm, but the sheet gives no degrees
  CHECK(find(procedure(f, {}), "post-cure")->what.find("°") == std::string::npos);
}

}  // namespace tests_procedure_procedure
