// The workshop file against flipped bits, links, strangers and presses that come twice.
#include <SQLiteCpp/SQLiteCpp.h>

#include <sys/wait.h>
#include <unistd.h>

#include <catch2/catch.hpp>
#include <chrono>
#include <csignal>
#include <filesystem>
#include <random>
#include <set>
#include <thread>

#include "ledger/bench_books.hpp"
#include "ledger/workshop.hpp"
#include "mesh/save.hpp"
#include "shapes.hpp"

namespace tests_ledger_guards {

using namespace palinform;
namespace fs = std::filesystem;

namespace {

Job job_named(const std::string& id, const std::string& name) {
  Job j;
  j.id = id;
  j.name = name;
  j.client = "Saltmarsh Tide Office";
  j.check.castings = {{1, "2026-11-20", "first", {{"s1", {8.02, 8.03}}}}};
  return j;
}

/// A workshop with something in every table.
void fill(const std::string& path) {
  auto w = *Workshop::open(path);
  for (int i = 0; i < 6; ++i) {
    const std::string id = "job-" + std::to_string(i);
    REQUIRE(w->save_job(job_named(id, "Part number " + std::to_string(i)), "made it"));
    const auto lot = w->save_lot({0, "material-" + std::to_string(i), "LOT-" + std::to_string(100 + i), "2026-10-01",
                                  "2027-10-01", 1000.0 + i, 900.5});
    const auto mould = w->save_mould({0, id, "", "mould " + std::to_string(i), "2026-11-02", 3, "", ""});
    REQUIRE(lot);
    REQUIRE(mould);
    REQUIRE(w->book_pour({0, id, "", "2026-11-03T10:00:00", "pour of " + id, "m", 123.25, *lot, *mould, false, "fine"},
                         true));
    REQUIRE(w->save_run(id, "{\"run\":" + std::to_string(i) + "}"));
    REQUIRE(w->adopt({"s" + std::to_string(i), "r", id, -0.125, 0.03, 2, 9, "2026-11-04", "measured twice"}));
  }
}

/// All that can be read out of it, as one text.
std::string all_of(Workshop& w) {
  std::string out;
  const auto jobs = w.jobs();
  if (!jobs) return "unreadable";
  for (const JobRow& r : *jobs) {
    out += r.id + r.name + r.client;
    const auto job = w.load_job(r.id);
    out += job ? job_to_json(*job) : "refused";
    const auto run = w.run_document(r.id);
    out += run ? *run : "refused";
  }
  for (const Lot& l : *w.lots()) out += l.material_id + l.label + std::to_string(l.left_g) + l.expires_on;
  for (const MouldRecord& m : *w.moulds()) out += m.name + std::to_string(m.pulls) + m.made_on;
  for (const PourRecord& p : *w.pours()) out += p.what + std::to_string(p.mass_g) + p.note + p.at;
  for (const LearnedRecord& l : *w.learned()) out += l.silicone_id + std::to_string(l.delta_pct) + l.reason;
  return out;
}

/// Starts a tool, waits till it says that it has begun, and shoots it a little later. False where it had ended by
/// itself.
bool shot(std::vector<const char*> command, std::chrono::microseconds after) {
  int ends[2];
  if (::pipe(ends) != 0) return false;
  command.push_back(nullptr);
  const pid_t child = ::fork();
  if (child == 0) {
    ::dup2(ends[1], 1);
    ::close(ends[0]);
    ::execv(command[0], const_cast<char**>(command.data()));
    ::_exit(127);
  }
  ::close(ends[1]);
  char begun = 0;
  const bool said = ::read(ends[0], &begun, 1) == 1;
  std::this_thread::sleep_for(after);
  ::kill(child, SIGKILL);
  int status = 0;
  ::waitpid(child, &status, 0);
  ::close(ends[0]);
  return said && WIFSIGNALED(status);
}

}  // namespace

TEST_CASE("a flipped bit in the file is named or harmless, never another figure or word", "[ledger]") {
  shapes::TempDir dir;
  const std::string good = dir / "good.sqlite";
  fill(good);
  { SQLite::Database(good, SQLite::OPEN_READWRITE).exec("PRAGMA wal_checkpoint(TRUNCATE)"); }
  std::string truth;
  {
    auto w = *Workshop::open(good);
    CHECK(w->damaged().empty());
    truth = all_of(*w);
  }
  const std::string bytes = *read_file(good);
  std::mt19937 rnd(11);
  int named = 0, refused = 0, harmless = 0;
  for (int round = 0; round < 150; ++round) {
    std::string hit = bytes;
    const size_t at = 4096 + rnd() % (hit.size() - 4096);  // a page of its own, not the head
    hit[at] = static_cast<char>(hit[at] ^ (1 << rnd() % 8));
    const std::string path = dir / ("hit-" + std::to_string(round) + ".sqlite");
    shapes::write_text(path, hit);
    auto w = Workshop::open(path);
    if (!w) {
      ++refused;
    } else {
      const std::string now = all_of(**w);
      if (!(*w)->damaged().empty()) {
        ++named;
        // What is left is a part of the truth: nothing new has come in.
        for (const JobRow& r : *(*w)->jobs())
          if (const auto job = (*w)->load_job(r.id)) CHECK(truth.find(job_to_json(*job)) != std::string::npos);
      } else {
        CHECK(now == truth);
        ++harmless;
      }
    }
    std::error_code ec;
    fs::remove(path, ec);
  }
  INFO(named << " named, " << refused << " refused, " << harmless << " harmless");
  CHECK(named + refused > 20);
}

TEST_CASE("what is damaged is named, the rest goes on, and nothing overwrites it", "[ledger]") {
  shapes::TempDir dir;
  const std::string path = dir / "w.sqlite";
  fill(path);
  {
    SQLite::Database db(path, SQLite::OPEN_READWRITE);
    db.exec("UPDATE job SET name = 'Part number 8' WHERE id = 'job-3'");
    db.exec("UPDATE lot SET left_g = 9000 WHERE label = 'LOT-101'");
    db.exec("UPDATE reading SET value_mm = 9 WHERE casting_id = (SELECT id FROM casting WHERE job_id = 'job-4')");
  }
  auto w = *Workshop::open(path);
  REQUIRE(w->damaged().size() == 3);
  CHECK(w->damaged()[0] == "job Part number 8");
  CHECK(w->jobs()->size() == 5);
  const auto shut = w->load_job("job-3");
  REQUIRE_FALSE(shut);
  CHECK(shut.error().text().find("damaged") != std::string::npos);
  CHECK(w->lots()->size() == 5);
  auto four = w->load_job("job-4");
  REQUIRE(four);
  CHECK(four->check.castings.empty());
  // Saving the job leaves the casting that cannot be read where it is.
  REQUIRE(w->save_job(*four, "again"));
  w.reset();
  SQLite::Database db(path, SQLite::OPEN_READONLY);
  CHECK(db.execAndGet("SELECT count(*) FROM casting WHERE job_id = 'job-4'").getInt() == 1);
  CHECK(db.execAndGet("SELECT value_mm FROM reading JOIN casting ON casting.id = casting_id WHERE job_id = 'job-4'")
            .getDouble() == 9);
}

TEST_CASE("a hard link is the same workshop: the second window reads only", "[ledger]") {
  shapes::TempDir dir;
  const std::string path = dir / "w.sqlite";
  fill(path);
  fs::create_directory(dir / "other");
  fs::create_hard_link(path, dir / "other/link.sqlite");
  auto first = *Workshop::open(path);
  CHECK_FALSE(first->read_only());
  auto second = Workshop::open(dir / "other/link.sqlite");
  CHECK((!second || (*second)->read_only()));
  first.reset();
  second = Error{};
  CHECK_FALSE((*Workshop::open(dir / "other/link.sqlite"))->read_only());
}

TEST_CASE("another program's SQLite file is no workshop, and is left without a trace", "[ledger]") {
  shapes::TempDir dir;
  const std::string path = dir / "theirs.sqlite";
  for (const int version : {0, 1, 5}) {
    std::error_code ec;
    fs::remove(path, ec);
    {
      SQLite::Database db(path, SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
      db.exec("CREATE TABLE job (name TEXT); CREATE TABLE recipes (x)");
      db.exec("PRAGMA user_version = " + std::to_string(version));
    }
    const std::string before = *read_file(path);
    const auto w = Workshop::open(path);
    REQUIRE_FALSE(w);
    CHECK(w.error().text().find("no workshop") != std::string::npos);
    CHECK(*read_file(path) == before);
    CHECK(std::distance(fs::directory_iterator(dir.str()), {}) == 1);
  }
}

TEST_CASE("a file that was moved or replaced under an open workshop is noticed", "[ledger]") {
  shapes::TempDir dir;
  const std::string path = dir / "w.sqlite";
  fill(path);
  auto w = *Workshop::open(path);
  CHECK(w->in_place());
  fs::rename(path, dir / "moved.sqlite");
  CHECK_FALSE(w->in_place());
  shapes::write_text(path, "something else");
  CHECK_FALSE(w->in_place());
}

TEST_CASE("what carries a booking is booked once; taken back it returns what it took and may be booked again",
          "[ledger]") {
  shapes::TempDir dir;
  auto w = *Workshop::open(dir / "w.sqlite");
  REQUIRE(w->save_job(job_named("j", "J"), "made"));
  const int64_t lot = *w->save_lot({0, "m", "LOT-1", "", "", 1000, 1000});
  const int64_t mould = *w->save_mould({0, "j", "", "mould 1", "2026-11-02", 0, "", ""}, "run/7");
  CHECK(*w->save_mould({0, "j", "", "mould 1", "2026-11-02", 0, "", ""}, "run/7") == mould);
  CHECK(w->moulds()->size() == 1);
  const PourRecord pour{0, "j", "", "2026-11-03T10:00:00", "casting", "m", 120, lot, mould, false, ""};
  const auto left = [&] { return w->lots()->front().left_g; };
  const auto pulls = [&] { return w->moulds()->front().pulls; };
  const int64_t first = *w->book_pour(pour, true, "run/9");
  CHECK(*w->book_pour(pour, true, "run/9") == first);  // killed between booking and saving: pressed again
  CHECK(left() == 880);
  CHECK(pulls() == 1);
  REQUIRE(w->take_back("run/9", "2026-11-03T10:05:00"));
  REQUIRE(w->take_back("run/9", "2026-11-03T10:06:00"));  // twice is once
  CHECK(left() == 1000);
  CHECK(pulls() == 0);
  REQUIRE(w->pours()->size() == 2);
  CHECK(w->pours()->front().mass_g == -120);
  CHECK(w->pours()->front().what == "taken back: casting");
  CHECK(*w->book_pour(pour, true, "run/9") != first);
  CHECK(left() == 880);
  CHECK(pulls() == 1);
  REQUIRE(w->take_back("run/7", "2026-11-03T11:00:00"));
  CHECK(w->moulds()->front().retired_why == "taken back");
  CHECK(*w->book_pour(pour, false) != *w->book_pour(pour, false));  // by hand: as often as it is entered
}

TEST_CASE("a mesh is stored in pieces and read back whole; half a mesh counts for none", "[ledger]") {
  shapes::TempDir dir;
  const std::string path = dir / "w.sqlite";
  const TriMesh m = shapes::icosphere(10, 7);
  std::string hash;
  {
    auto w = *Workshop::open(path);
    hash = *w->put_mesh(m, "ball.stl");
    CHECK(*w->put_mesh(m, "again.stl") == hash);
  }
  {
    auto w = *Workshop::open(path);
    CHECK(**w->mesh(hash) == m);
    TriMesh nan = m;
    nan.points[0].y = std::nan("");
    CHECK_FALSE(w->put_mesh(nan, "nan.stl"));
  }
  SQLite::Database db(path, SQLite::OPEN_READWRITE);
  CHECK(db.execAndGet("SELECT count(*) FROM mesh_part").getInt() > 1);
  db.exec("DELETE FROM mesh_part WHERE part = 0");
  auto w = *Workshop::open(path);
  CHECK_FALSE(w->mesh(hash));
}

TEST_CASE("two hundred kills inside presses: the books equal the run, always", "[ledger]") {
  shapes::TempDir dir;
  const std::string path = dir / "w.sqlite";
  {
    auto w = *Workshop::open(path);
    REQUIRE(w->save_job(job_named("j", "J"), "made"));
    REQUIRE(w->save_lot({0, "m", "LOT-1", "", "", 1e6, 1e6}));
  }
  std::mt19937 rnd(5);
  int presses = 0;
  for (int round = 0; round < 200; ++round) {
    REQUIRE(shot({WORKSHOP_WRITER, path.c_str(), "press"}, std::chrono::microseconds(rnd() % 25'000)));
    auto w = *Workshop::open(path);
    REQUIRE(w->damaged().empty());
    const std::string run = *w->run_document("j");
    const int told = run.empty() ? 0 : std::atoi(run.c_str());
    CHECK(static_cast<int>(w->pours("j")->size()) == told);
    CHECK(w->lots()->front().left_g == Approx(1e6 - 10.0 * told));
    CHECK(w->load_job("j")->copies == std::max(1, told));
    presses = told;
  }
  CHECK(presses > 50);
}

TEST_CASE("two hundred kills at random presses of a bench run: nothing is booked twice, nothing is lost", "[ledger]") {
  shapes::TempDir dir;
  const std::string path = dir / "w.sqlite";
  {
    auto w = *Workshop::open(path);
    REQUIRE(w->save_job(job_named("j", "J"), "made"));
    REQUIRE(w->save_lot({0, "rubber", "R-1", "", "", 1e6, 1e6}));
    REQUIRE(w->save_lot({0, "resin", "C-1", "", "", 1e6, 1e6}));
  }
  const size_t before = job_named("j", "J").check.castings.size();
  std::mt19937 rnd(16);
  size_t most = 0;
  int failed = 0;
  for (int round = 0; round < 200; ++round) {
    const std::string seed = std::to_string(round);
    REQUIRE(shot({BENCH_PRESSER, path.c_str(), seed.c_str()}, std::chrono::microseconds(rnd() % 40'000)));
    auto w = *Workshop::open(path);
    REQUIRE(w->damaged().empty());
    // What the runs say is booked, put away and in hand.
    std::vector<BenchRun> runs;
    for (const std::string& d : *w->done_runs("j")) runs.push_back(*run_from_json(d));
    if (const std::string d = *w->run_document("j"); !d.empty())
      if (BenchRun run = *run_from_json(d); runs.empty() || runs.back().begun != run.begun)
        runs.push_back(std::move(run));
    double rubber_g = 0, resin_g = 0;
    size_t pours = 0, moulds = 0, castings = 0;
    for (const BenchRun& run : runs)
      for (size_t i = 0; i < run.screens.size(); ++i) {
        const BenchScreen& s = run.screens[i];
        const bool booked = std::any_of(run.records.begin(), run.records.end(), [&](const ScreenRecord& r) {
          return r.screen == static_cast<int>(i) && r.booked;
        });
        if (!booked) continue;
        if (!s.material_id.empty()) ++pours, (s.material_id == "rubber" ? rubber_g : resin_g) += s.poured_g;
        moulds += s.makes_mould, castings += s.demoulds;
      }
    // Pours and the counter-entries against them come to what is booked; so do lots, moulds and castings.
    double sum_g = 0;
    for (const PourRecord& p : *w->pours("j")) sum_g += p.mass_g, failed += p.failed;
    CHECK(sum_g == Approx(rubber_g + resin_g));
    for (const Lot& l : *w->lots()) CHECK(l.left_g == Approx(1e6 - (l.material_id == "rubber" ? rubber_g : resin_g)));
    size_t standing = 0;
    for (const MouldRecord& m : *w->moulds("j")) standing += m.retired_on.empty();
    CHECK(standing == moulds);
    const Job job = *w->load_job("j");
    CHECK(job.check.castings.size() == before + castings);
    std::set<std::string> bookings;
    for (const Casting& c : job.check.castings)
      if (!c.booking.empty()) CHECK(bookings.insert(c.booking).second);
    most = std::max(most, pours);
  }
#ifdef __SANITIZE_ADDRESS__
  CHECK(most > 15);  // slower there
#else
  CHECK(most > 30);
#endif
  CHECK(failed > 0);
}

TEST_CASE("a copy a day is kept, read back, and ten of them stay", "[ledger]") {
  shapes::TempDir dir;
  const std::string path = dir / "w.sqlite";
  fill(path);
  auto w = *Workshop::open(path);
  for (int day = 10; day < 23; ++day) REQUIRE(*w->keep_copy("2026-11-" + std::to_string(day)));
  CHECK_FALSE(*w->keep_copy("2026-11-22"));  // once a day
  int copies = 0;
  for (const auto& e : fs::directory_iterator(dir.str())) copies += e.path().extension() == ".bak";
  CHECK(copies == 10);
  CHECK_FALSE(fs::exists(path + ".2026-11-12.bak"));
  CHECK(all_of(**Workshop::open(path + ".2026-11-13.bak")) == all_of(*w));
}

}  // namespace tests_ledger_guards
