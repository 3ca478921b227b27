#include <SQLiteCpp/SQLiteCpp.h>
#include <sys/wait.h>
#include <unistd.h>
#include <catch2/catch.hpp>
#include <csignal>
#include <cstdio>
#include <filesystem>
#include <random>
#include <thread>

#include "ledger/archive.hpp"
#include "ledger/demo.hpp"
#include "ledger/workshop.hpp"
#include "mesh/save.hpp"
#include "mesh/soundness.hpp"
#include "shapes.hpp"

namespace tests_ledger_ledger {

using namespace palinform;

namespace {

Job small_job(const std::string& name) {
  Job j;
  j.id = new_id();
  j.name = name;
  MeasuredSize s;
  s.id = "s1", s.name = "Size", s.nominal_mm = 10, s.lower_mm = 9, s.upper_mm = 11;
  j.original.sizes = {s};
  j.check.castings = {{1, "2026-11-20", "first", {{"s1", {10.01, 10.02, 10.015}}}}, {2, "2026-11-21", "", {}}};
  return j;
}

}  // namespace

TEST_CASE("jobs, castings and readings are kept and come back", "[ledger]") {
  shapes::TempDir dir;
  const Job a = small_job("A"), b = small_job("B");
  {
    auto w = *Workshop::open(dir / "w.sqlite");
    CHECK_FALSE(w->read_only());
    CHECK(w->jobs()->empty());
    REQUIRE(w->save_job(a, "made"));
    REQUIRE(w->save_job(b, "made"));
    Job changed = a;
    changed.check.castings[1].readings = {{"s1", {9.99}}};
    changed.check.castings.push_back({3, "2026-11-22", "third", {{"s1", {10}}}});
    REQUIRE(w->save_job(changed, "measured"));
    CHECK(*w->load_job(a.id) == changed);
    CHECK(w->edits(a.id)->size() == 2);
    CHECK(w->edits(a.id)->at(1).second == "measured");
    CHECK_FALSE(w->load_job("nope"));
    Job bad = a;
    bad.copies = 0;
    CHECK_FALSE(w->save_job(bad, "nonsense"));
    CHECK(*w->load_job(a.id) == changed);
  }
  auto w = *Workshop::open(dir / "w.sqlite");
  CHECK(w->jobs()->size() == 2);
  CHECK(*w->load_job(b.id) == b);
  REQUIRE(w->remove_job(b.id));
  CHECK(w->jobs()->size() == 1);
}

TEST_CASE("meshes are kept once, in full precision, and checked", "[ledger]") {
  shapes::TempDir dir;
  auto w = *Workshop::open(dir / "w.sqlite");
  const TriMesh m = transformed(shapes::torus(20, 6, 30, 15), shapes::odd_turn());
  const auto hash = w->put_mesh(m, "torus");
  REQUIRE(hash);
  CHECK(*w->put_mesh(m, "again") == *hash);
  CHECK(**w->mesh(*hash) == m);
  CHECK_FALSE(w->mesh(std::string(32, '0')));
  CHECK_FALSE(unpack_mesh("short"));
  std::string packed = pack_mesh(m);
  CHECK(*unpack_mesh(packed) == m);
  packed.pop_back();
  CHECK_FALSE(unpack_mesh(packed));
}

TEST_CASE("a second window reads only and says so; when the first goes, the next may write", "[ledger]") {
  shapes::TempDir dir;
  const Job a = small_job("A");
  auto first = *Workshop::open(dir / "w.sqlite");
  REQUIRE(first->save_job(a, "made"));
  {
    auto second = *Workshop::open(dir / "w.sqlite");
    CHECK(second->read_only());
    CHECK(*second->load_job(a.id) == a);
    const auto refused = second->save_job(a, "x");
    REQUIRE_FALSE(refused);
    CHECK(refused.error().text().find("reading only") != std::string::npos);
    CHECK_FALSE(second->put_mesh(shapes::box({0, 0, 0}, {1, 1, 1}), "x"));
    // What the first saves later, the second sees.
    Job changed = a;
    changed.copies = 5;
    REQUIRE(first->save_job(changed, "five"));
    CHECK(second->load_job(a.id)->copies == 5);
  }
  first.reset();
  CHECK_FALSE((*Workshop::open(dir / "w.sqlite"))->read_only());
}

TEST_CASE("damaged, foreign and newer workshops are refused and left untouched", "[ledger]") {
  shapes::TempDir dir;
  const std::string path = dir / "w.sqlite";
  const auto untouched = [&](const std::string& bytes, const char* word) {
    shapes::write_text(path, bytes);
    const auto r = Workshop::open(path);
    REQUIRE_FALSE(r);
    INFO(r.error().text());
    CHECK(r.error().text().find(word) != std::string::npos);
    CHECK(*read_file(path) == bytes);
  };
  untouched("Dear diary, this is no database at all.", "no workshop");
  {
    auto w = *Workshop::open(dir / "good.sqlite");
    for (int i = 0; i < 40; ++i) REQUIRE(w->save_job(small_job("job " + std::to_string(i)), "made"));
    REQUIRE(w->put_mesh(shapes::icosphere(5, 3), "ball"));
  }
  const std::string good = *read_file(dir / "good.sqlite");
  std::string newer = good;
  newer[63] = 77;  // user_version, big-endian, at byte 60
  untouched(newer, "newer");
  std::string damaged = good;
  for (size_t i = 4096 * 2; i < 4096 * 5 && i < damaged.size(); ++i) damaged[i] = static_cast<char>(i * 31);
  untouched(damaged, "damaged");
  untouched(good.substr(0, good.size() / 2), "damaged");
  CHECK_FALSE(Workshop::open("/proc/no/such/place/w.sqlite"));
}

TEST_CASE("an older workshop is copied, then brought up to date", "[ledger]") {
  shapes::TempDir dir;
  const std::string path = dir / "old.sqlite";
  const Job a = small_job("A");
  {
    auto w = *Workshop::open(path);
    REQUIRE(w->save_job(a, "made"));
  }
  {
    // Back to version 1: without the log of edits.
    SQLite::Database db(path, SQLite::OPEN_READWRITE);
    for (const char* t : {"pour", "lot", "mould", "run", "edit", "learned", "material", "paper", "photo", "job_index",
                          "job_state"})
      db.exec(std::string("DROP TABLE ") + t);
    db.exec(
        "ALTER TABLE job DROP COLUMN sum; ALTER TABLE casting DROP COLUMN sum; ALTER TABLE casting DROP COLUMN "
        "colour; ALTER TABLE casting DROP COLUMN seen; ALTER TABLE casting DROP COLUMN "
        "booking");
    db.exec("INSERT INTO mesh SELECT DISTINCT hash, hash, 1, data FROM mesh_part WHERE part < 0; DROP TABLE mesh_part");
    db.exec("PRAGMA user_version = 1");
    db.exec("PRAGMA wal_checkpoint(TRUNCATE)");
  }
  auto w = Workshop::open(path);
  REQUIRE(w);
  CHECK(*(*w)->load_job(a.id) == a);
  CHECK((*w)->shelf()->size() > 20);  // with the shelf every workshop starts with
  REQUIRE((*w)->save_job(a, "after"));
  CHECK((*w)->edits(a.id)->size() == 1);
  REQUIRE(std::filesystem::exists(path + ".v1.bak"));
  SQLite::Database copy(path + ".v1.bak", SQLite::OPEN_READONLY);
  CHECK(copy.execAndGet("PRAGMA user_version").getInt() == 1);
  CHECK_FALSE(copy.tableExists("edit"));
}

TEST_CASE("kill -9 at any moment loses at most the edit in hand", "[ledger]") {
  std::mt19937 rnd(4);
  shapes::TempDir dir;
  const std::string path = dir / "killed.sqlite";
  for (int round = 0; round < 12; ++round) {
    int pipe_ends[2];
    REQUIRE(::pipe(pipe_ends) == 0);
    const pid_t child = ::fork();
    if (child == 0) {
      ::dup2(pipe_ends[1], 1);
      ::close(pipe_ends[0]);
      ::execl(WORKSHOP_WRITER, WORKSHOP_WRITER, path.c_str(), static_cast<char*>(nullptr));
      ::_exit(127);
    }
    ::close(pipe_ends[1]);
    FILE* out = ::fdopen(pipe_ends[0], "r");
    char line[64];
    int acknowledged = 0;
    REQUIRE(std::fgets(line, sizeof line, out));  // at least one edit is in
    acknowledged = std::atoi(line);
    std::this_thread::sleep_for(std::chrono::microseconds(rnd() % 60'000));
    ::kill(child, SIGKILL);
    while (std::fgets(line, sizeof line, out))
      if (std::string(line).ends_with('\n')) acknowledged = std::atoi(line);
    std::fclose(out);
    int status = 0;
    ::waitpid(child, &status, 0);
    CHECK(WIFSIGNALED(status));

    auto w = Workshop::open(path);
    REQUIRE(w);
    CHECK_FALSE((*w)->read_only());
    const auto job = (*w)->load_job("00000000000000000000000000000001");
    REQUIRE(job);
    CHECK(job->copies >= acknowledged);
    CHECK(job->copies <= acknowledged + 1);
    // The edit that is there is whole: name, castings and readings belong together.
    CHECK(job->name == "edit " + std::to_string(job->copies));
    REQUIRE(job->check.castings.size() == 3);
    for (const Casting& c : job->check.castings) {
      CHECK(c.note == job->name);
      REQUIRE(c.readings.size() == 1);
      CHECK(c.readings[0].values_mm == std::vector<double>(4, 10 + 1e-4 * job->copies));
    }
  }
}

TEST_CASE("a job is handed on and comes back the same", "[ledger]") {
  const TriMesh m = transformed(shapes::torus(20, 6, 30, 15), shapes::odd_turn());
  Job a = small_job("Handed on");
  a.original.mesh = {hash_of(m).hex(), "torus.stl", LengthUnit::mm, m.triangles.size()};
  const auto bytes = archive_bytes(a, &m);
  REQUIRE(bytes);
  CHECK(*archive_bytes(a, &m) == *bytes);
  const auto back = read_archive(*bytes, "x.palinform");
  REQUIRE(back);
  CHECK(back->job == a);
  CHECK(*back->mesh == m);
  const auto bare = read_archive(job_to_json(a), "job.json");
  REQUIRE(bare);
  CHECK(bare->job == a);
  CHECK_FALSE(bare->mesh);
  // A mesh that is not the job's, a missing one, a foreign zip.
  CHECK_FALSE(read_archive(*archive_bytes(a, nullptr), "x"));
  const TriMesh other = shapes::icosphere(3, 2);
  CHECK_FALSE(read_archive(*archive_bytes(a, &other), "x"));
  CHECK_FALSE(read_archive("rubbish", "x"));
  CHECK_FALSE(read_archive(std::string_view(*bytes).substr(0, 900), "x"));
}

TEST_CASE("the demo workshop: a job in every state, one with a size that misses, one finished with a failed pour",
          "[ledger]") {
  shapes::TempDir dir;
  const std::string folder = std::filesystem::path(PALINFORM_DEMO_MESHES).parent_path().string();
  const auto path = write_demo(dir.str(), folder);
  REQUIRE(path);
  auto w = *Workshop::open(*path);
  const auto rows = *w->jobs();
  REQUIRE(rows.size() == 15);
  CHECK(rows[0].name == "Pen-arm bracket");
  int castings = 0;
  for (const JobRow& r : rows) {
    const Job job = *w->load_job(r.id);
    castings += static_cast<int>(job.check.castings.size());
    CHECK(job.client == "Saltmarsh Tide Office");
    if (job.original.mesh.hash.empty()) {  // the collar: measures by hand
      CHECK(job.original.bare.complete());
      continue;
    }
    const auto mesh = *w->mesh(job.original.mesh.hash);
    CHECK(check_soundness(*mesh)->sound());
    // Each dimension line is as long as its size says.
    for (const MeasuredSize& s : job.original.sizes)
      if (s.kind != SizeKind::centre) CHECK(length(s.to_mm - s.from_mm) == Approx(s.nominal_mm).margin(0.02));
  }
  CHECK(castings == 7);
  int failed = 0, pulls = 0;
  for (const PourRecord& p : *w->pours()) failed += p.failed;
  for (const MouldRecord& m : *w->moulds()) pulls += m.pulls;
  CHECK(failed == 1);
  CHECK(pulls == 7);
  CHECK(w->lots()->size() == 4);
  CHECK_FALSE(write_demo(dir / "x", ""));
}

TEST_CASE("books: lots are drawn from, moulds count pulls, all in one transaction", "[ledger]") {
  shapes::TempDir dir;
  const Job job = small_job("A");
  int64_t lot = 0, mould = 0;
  {
    auto w = *Workshop::open(dir / "w.sqlite");
    REQUIRE(w->save_job(job, "made"));
    lot = *w->save_lot({0, "add-30-blue", "B-1", "2026-11-01", "2027-01-01", 1000, 1000});
    mould = *w->save_mould({0, job.id, "", "A, mould 1", "2026-11-02", 0, "", ""});
    REQUIRE(w->book_pour({0, job.id, "", "2026-11-03T10:00:00", "Pour half a", "add-30-blue", 240, lot, 0, false, ""},
                         false));
    REQUIRE(w->book_pour({0, job.id, "", "2026-11-04T10:00:00", "Pour casting", "pu-rigid-ivory", 12, 0, mould, true,
                          "foamed, \"wet\" cup"},
                         true));
    CHECK_FALSE(w->book_pour({0, job.id, "", "", "x", "y", -1, 0, 0, false, ""}, false));
    CHECK_FALSE(
        w->book_pour({0, job.id, "", "", "x", "y", 1, 999, 0, false, ""}, false));  // no such lot: nothing is booked
    CHECK_FALSE(w->save_lot({0, "add-30-blue", "", "", "", 10, 10}));
    CHECK_FALSE(w->save_lot({0, "add-30-blue", "x", "", "", 10, 11}));
    CHECK(w->run_document(job.id)->empty());
    REQUIRE(w->save_run(job.id, "{}"));
  }
  auto w = *Workshop::open(dir / "w.sqlite");
  CHECK(w->lots()->front().left_g == 760);
  CHECK(w->moulds()->front().pulls == 1);
  CHECK(w->moulds(job.id)->front().job_name == "A");
  CHECK(w->pours()->size() == 2);
  CHECK(w->pours("other")->empty());
  CHECK(*w->run_document(job.id) == "{}");
  CHECK(w->history(10)->size() == 1);
  const std::string csv = pours_csv(*w->pours());
  CHECK(csv.find("\"foamed, \"\"wet\"\" cup\"") != std::string::npos);
  CHECK(lots_csv(*w->lots()) ==
        "lot,material,opened_on,expires_on,start_g,left_g\r\nB-1,add-30-blue,2026-11-01,2027-01-01,1000.0,760.0\r\n");
  CHECK(moulds_csv(*w->moulds()).find("A, mould 1") != std::string::npos);
}

TEST_CASE("what castings taught is kept a pair and job, and replaced", "[ledger]") {
  shapes::TempDir dir;
  {
    auto w = *Workshop::open(dir / "w.sqlite");
    LearnedRecord r{"sil", "res", "job", 0.1, 0.02, 3, 9, "2026-11-25T10:00:00", "good castings"};
    REQUIRE(w->adopt(r));
    r.delta_pct = 0.2;
    REQUIRE(w->adopt(r));
    LearnedRecord other = r;
    other.job_id = "second";
    REQUIRE(w->adopt(other));
    r.u_pct = 0;
    CHECK_FALSE(w->adopt(r));
    r.u_pct = 0.02, r.job_id.clear();
    CHECK_FALSE(w->adopt(r));
  }
  auto w = *Workshop::open(dir / "w.sqlite");
  const auto list = w->learned();
  REQUIRE(list);
  REQUIRE(list->size() == 2);
  CHECK((*list)[0].delta_pct == 0.2);
  CHECK((*list)[0].reason == "good castings");
}

TEST_CASE("a job with a joined half travels with both meshes", "[ledger]") {
  const TriMesh a = shapes::box({0, 0, 0}, {1, 1, 1}), b = shapes::box({2, 0, 0}, {3, 1, 1});
  Job job;
  job.id = "x";
  job.original.mesh = {hash_of(a).hex(), "a.stl", LengthUnit::mm, 12};
  MasterStep join;
  join.kind = MasterStep::Kind::join, join.mesh = hash_of(b).hex(), join.file = "b.stl";
  job.original.master_steps = {join};
  const auto bytes = archive_bytes(job, &a, {std::make_shared<const TriMesh>(b)});
  REQUIRE(bytes);
  const auto back = read_archive(*bytes, "x.palinform");
  REQUIRE(back);
  CHECK(back->job == job);
  CHECK(*back->mesh == a);
  REQUIRE(back->joined.size() == 1);
  CHECK(back->joined[0] == b);
  CHECK_FALSE(read_archive(*archive_bytes(job, &a), "x.palinform"));
}

}  // namespace tests_ledger_ledger
