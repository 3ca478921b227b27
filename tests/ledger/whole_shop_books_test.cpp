// The list of jobs, how they stood before, the dated copies, what the books add up to, and the shop as a whole.
#include <SQLiteCpp/SQLiteCpp.h>
#include <catch2/catch.hpp>
#include <filesystem>
#include <fstream>

#include "base/text.hpp"
#include "base/zip.hpp"
#include "job/parts.hpp"
#include "ledger/booked.hpp"
#include "ledger/copies.hpp"
#include "ledger/demo.hpp"
#include "ledger/job_file.hpp"
#include "ledger/open_jobs.hpp"
#include "ledger/really_taken.hpp"
#include "ledger/reports.hpp"
#include "mesh/save.hpp"
#include "overview/day_list.hpp"
#include "overview/quote.hpp"
#include "rough_study.hpp"
#include "shapes.hpp"

namespace tests_ledger_whole_shop_books {

using namespace palinform;
namespace fs = std::filesystem;

namespace {

Job named_job(const std::string& name, const std::string& client = "") {
  Job j;
  j.id = new_id();
  j.name = name, j.client = client;
  return j;
}

std::string demo_workshop(const shapes::TempDir& dir) {
  REQUIRE(write_demo(dir.str(), fs::path(PALINFORM_DEMO_MESHES).parent_path().string()));
  return dir / "workshop.sqlite";
}

}  // namespace

TEST_CASE("a job is found by name, customer, material and part, open or closed", "[ledger]") {
  shapes::TempDir dir;
  auto w = *Workshop::open(dir / "w.sqlite");
  Job a = named_job("Drum latch, left hand", "Saltmarsh Tide Office");
  a.days.promised = "2026-12-18";
  a.copies = 3;
  a.mix.silicone_id = "sil-30";
  Job b = named_job("Drip collar", "garden works");
  b.closed_on = "2026-11-30";
  b.original.mesh.file = "Collar-scan.stl";
  REQUIRE(w->save_job(a, "made"));
  REQUIRE(w->save_job(b, "made"));
  const auto found = [&](const char* words) {
    std::string out;
    const auto rows = w->jobs();
    for (const JobRow& r : *rows)
      if (found_by(r, words)) out += r.name + ";";
    return out;
  };
  CHECK(found("latch") == "Drum latch, left hand;");
  CHECK(found("TIDE drum") == "Drum latch, left hand;");
  CHECK(found("sil-30") == "Drum latch, left hand;");
  CHECK(found("collar-scan") == "Drip collar;");
  CHECK(found("2026-12-18") == "Drum latch, left hand;");
  CHECK(found("tide collar").empty());
  CHECK(found("").find("Drip collar;") != std::string::npos);
  const auto rows = w->jobs();
  const auto row = [&](const std::string& id) {
    return *std::find_if(rows->begin(), rows->end(), [&](const JobRow& r) { return r.id == id; });
  };
  CHECK(row(a.id).copies == 3);
  CHECK(row(a.id).open());
  CHECK(row(a.id).promised == "2026-12-18");
  CHECK_FALSE(row(b.id).open());
  Job bad = a;
  bad.days.promised = "2026-13-41";
  CHECK_FALSE(w->save_job(bad, "no such day"));
}

TEST_CASE("a line of the jobs' list that is missing or damaged is made again", "[ledger]") {
  shapes::TempDir dir;
  const std::string path = dir / "w.sqlite";
  Job a = named_job("A");
  a.closed_on = "2026-11-30";
  {
    auto w = *Workshop::open(path);
    REQUIRE(w->save_job(a, "made"));
  }
  {
    SQLite::Database db(path, SQLite::OPEN_READWRITE);
    db.exec("UPDATE job_index SET closed_on = ''");
  }
  {
    auto w = *Workshop::open(path);
    CHECK(w->damaged().empty());
    CHECK_FALSE(w->jobs()->front().open());
  }
  {
    SQLite::Database db(path, SQLite::OPEN_READWRITE);
    db.exec("DELETE FROM job_index");
  }
  auto w = *Workshop::open(path);
  CHECK_FALSE(w->jobs()->front().open());
}

TEST_CASE("two thousand jobs are listed and searched", "[ledger]") {
  shapes::TempDir dir;
  auto w = *Workshop::open(dir / "w.sqlite");
  REQUIRE(w->together([&]() -> Status {
    for (int i = 0; i < 2000; ++i) {
      Job j = named_job("Job " + std::to_string(i), i % 7 ? "museum" : "harbour");
      if (const auto ok = w->save_job(j, "made"); !ok) return ok;
    }
    return {};
  }));
  const auto rows = w->jobs();
  REQUIRE(rows->size() == 2000);
  CHECK(std::count_if(rows->begin(), rows->end(), [](const JobRow& r) { return found_by(r, "harbour job"); }) == 286);
}

TEST_CASE("any older state of a job comes back, with who made the edit; its castings are records and stay",
          "[ledger]") {
  shapes::TempDir dir;
  auto w = *Workshop::open(dir / "w.sqlite");
  Job a = named_job("A");
  a.copies = 2;
  w->set_who("Ines");
  REQUIRE(w->save_job(a, "job begun"));
  w->set_who("Tom");
  a.copies = 5;
  a.check.castings = {{1, "2026-11-20", "first", {}}};
  REQUIRE(w->save_job(a, "copies"));
  const auto rows = w->edit_rows(a.id);
  REQUIRE(rows->size() == 2);
  CHECK(rows->at(0).who == "Ines");
  CHECK(rows->at(1).who == "Tom");
  CHECK(rows->at(0).kept);
  const auto before = w->job_after(rows->at(0).id);
  REQUIRE(before);
  CHECK(before->copies == 2);
  CHECK(before->check.castings.size() == 1);
  CHECK(before->id == a.id);
  CHECK_FALSE(w->job_after(99));
  REQUIRE(w->remove_job(a.id));
  CHECK_FALSE(w->job_after(rows->at(0).id));
}

TEST_CASE("a dated copy is looked at and put back; what was there is kept aside", "[ledger]") {
  shapes::TempDir dir;
  const std::string path = dir / "w.sqlite";
  Job a = named_job("A");
  {
    auto w = *Workshop::open(path);
    REQUIRE(w->save_job(a, "made"));
    REQUIRE(*w->keep_copy("2026-11-25"));
    REQUIRE(w->save_job(named_job("B"), "made"));
    CHECK_FALSE(put_back(path, "2026-11-25", "2026-11-26T10:00:00"));  // a window has it
  }
  const auto copies = copies_of(path);
  REQUIRE(copies.size() == 1);
  CHECK(copies[0].day == "2026-11-25");
  CHECK(copies[0].jobs == 1);
  CHECK(copies[0].fault.empty());
  CHECK(copies[0].last_edit.find("made") != std::string::npos);
  CHECK_FALSE(put_back(path, "2026-11-24", "2026-11-26T10:00:00"));
  const auto kept = put_back(path, "2026-11-25", "2026-11-26T10:00:00");
  REQUIRE(kept);
  CHECK((*Workshop::open(path))->jobs()->size() == 1);
  CHECK((*Workshop::open(*kept))->jobs()->size() == 2);
  // A copy that does not read back is named and refused.
  {
    std::ofstream(path + ".2026-11-20.bak") << "no database at all, but long enough to be looked at";
    const auto more = copies_of(path);
    REQUIRE(more.size() == 2);
    CHECK_FALSE(more[1].fault.empty());
    CHECK_FALSE(put_back(path, "2026-11-20", "2026-11-26T10:00:01"));
    CHECK((*Workshop::open(path))->jobs()->size() == 1);
  }
}

TEST_CASE("of a workshop with a ruined page the rest is saved into a new one, the damaged file untouched", "[ledger]") {
  shapes::TempDir dir;
  const std::string path = dir / "w.sqlite";
  {
    auto w = *Workshop::open(path);
    for (int i = 0; i < 300; ++i) {
      Job j = named_job("Job " + std::to_string(i));
      j.check.castings = {{1, "2026-11-20", "first", {}}};
      REQUIRE(w->save_job(j, "made"));
    }
  }
  auto bytes = *read_file(path);
  // Somewhere in the middle of the jobs.
  const size_t at = bytes.find("Job 150");
  REQUIRE(at != std::string::npos);
  const size_t page = at / 4096 * 4096;
  for (size_t i = page; i < page + 4096; ++i) bytes[i] = static_cast<char>(i * 131);
  const std::string damaged = dir / "damaged.sqlite";
  REQUIRE(write_file(damaged, bytes));
  CHECK_FALSE(Workshop::open(damaged));
  const auto s = salvage(damaged, dir / "saved.sqlite");
  REQUIRE(s);
  CHECK(s->jobs >= 280);
  CHECK(s->jobs < 300);
  CHECK(s->lost > 0);
  CHECK(*read_file(damaged) == bytes);
  auto w = Workshop::open(dir / "saved.sqlite");
  REQUIRE(w);
  for (const JobRow& r : *(*w)->jobs()) CHECK((*w)->load_job(r.id));
  CHECK_FALSE(salvage(damaged, dir / "saved.sqlite"));  // never over a file
  REQUIRE(write_file(dir / "rubbish", std::string(9000, 'x')));
  CHECK_FALSE(salvage(dir / "rubbish", dir / "none.sqlite"));
  CHECK_FALSE(fs::exists(dir / "none.sqlite"));
}

TEST_CASE("what the books add up to: use, failures, stock, moulds", "[ledger]") {
  shapes::TempDir dir;
  auto w = *Workshop::open(demo_workshop(dir));
  Shop shop = with_shelf(starting_shop(), *w->shelf());
  const auto r = reports_of(*w, shop);
  REQUIRE(r);
  double used = 0, failed = 0;
  for (const auto& row : r->use.rows) used += std::get<double>(row[2]), failed += std::get<double>(row[3]);
  double poured = 0, gone_wrong = 0;
  for (const PourRecord& p : *w->pours()) poured += p.mass_g, gone_wrong += p.failed ? p.mass_g : 0;
  CHECK(used == Approx(poured).margin(0.5));
  CHECK(failed == Approx(gone_wrong).margin(0.5));
  CHECK(gone_wrong > 0);
  CHECK(r->wrong.rows.size() >= 1);
  double worth = 0;
  for (size_t i = 0; i + 1 < r->worth.rows.size(); ++i) worth += std::get<double>(r->worth.rows[i][3]);
  CHECK(std::get<double>(r->worth.rows.back()[3]) == Approx(worth));
  CHECK_FALSE(r->lives.rows.empty());
  const std::string book = dir / "report.xlsx";
  REQUIRE(write_workbook(r->all(), book));
  const auto sheets = unzip(*read_file(book), "report");
  REQUIRE(sheets);
  CHECK(sheets->contains("xl/worksheets/sheet5.xml"));
  CHECK_FALSE(write_workbook(r->all(), dir / "no/such/folder/report.xlsx"));
}

TEST_CASE("a table as CSV quotes what it must", "[ledger]") {
  const Table t{"t", {"a", "b;c"}, {{std::string("x,y \"z\""), 1.5}, {std::string(), -2.0}}};
  CHECK(table_csv(t) == "a,\"b;c\"\r\n\"x,y \"\"z\"\"\",1.5\r\n,-2\r\n");
}

TEST_CASE("a job's whole file: its plan, sizes, castings, pours, history and meshes in one zip", "[ledger]") {
  shapes::TempDir dir;
  auto w = *Workshop::open(demo_workshop(dir));
  std::string id;
  for (const JobRow& r : *w->jobs())
    if (r.name == "Corner ornament, first set") id = r.id;
  REQUIRE_FALSE(id.empty());
  const auto bytes = job_file(*w, id, {{"sheet.pdf", "%PDF-1.4"}});
  REQUIRE(bytes);
  const auto files = unzip(*bytes, "job");
  REQUIRE(files);
  for (const char* name : {"README.txt", "job.json", "sizes.csv", "castings.csv", "readings.csv", "faults.csv",
                           "pours.csv", "lots.csv", "moulds.csv", "history.csv", "sheet.pdf"}) {
    INFO(name);
    CHECK(files->contains(name));
  }
  const Job job = *w->load_job(id);
  CHECK(*job_from_json(files->at("job.json"), "job") == job);
  const auto lines = [&](const char* name) {
    const std::string& s = files->at(name);
    return std::count(s.begin(), s.end(), '\n') - 1;
  };
  CHECK(lines("castings.csv") == static_cast<long>(job.check.castings.size()));
  CHECK(files->contains("meshes/" + job.original.mesh.hash + ".ply"));
  CHECK_FALSE(job_file(*w, "nope"));
}

TEST_CASE("what is left of a job, and which of its steps the books say are done", "[ledger]") {
  Job j;
  j.copies = 3;
  CHECK(has_work_left(j, 0));
  j.check.castings = {{1, "", "", {}}, {2, "", "", {}}, {3, "", "", {}}};
  CHECK_FALSE(has_work_left(j, 1));
  Job mould;
  mould.days.ends = Ends::mould;
  CHECK(has_work_left(mould, 0));
  CHECK_FALSE(has_work_left(mould, 1));

  std::vector<Step> steps;
  const auto add = [&](const char* id, double wait) {
    Step s;
    s.id = id, s.wait_min = wait;
    steps.push_back(s);
  };
  add("print the master", 0), add("pour mould 1", 900), add("pour mould 2", 900), add("cast 1", 600),
      add("cast 2", 600), add("trim all", 0);
  const std::vector<int> kinds{-1, -2, -3, 1, 2, 0};
  const auto done = [&](int moulds, int made) {
    std::string out;
    for (const DoneStep& d : done_by_books(steps, kinds, moulds, made, 4, 10'000)) out += d.id + ";";
    return out;
  };
  CHECK(done(0, 0).empty());
  CHECK(done(1, 0) == "print the master;pour mould 1;");
  CHECK(done(2, 0) == "print the master;pour mould 1;pour mould 2;");
  // Two castings a pull: one of two made is no pull yet.
  CHECK(done(1, 1) == "print the master;pour mould 1;");
  CHECK(done(1, 2) == "print the master;pour mould 1;cast 1;");
  CHECK(done_by_books(steps, kinds, 1, 0, 4, 10'000)[1].hands_end == 10'000 - 900);
}

TEST_CASE("castings of several parts are counted a pull: each cavity gives one, what is scrap gives none", "[ledger]") {
  Job j;
  j.copies = 4;
  j.part_name = "Left";
  JobPart right;
  right.name = "Right", right.copies = 6, right.masters = 2;
  j.parts = {right};
  j.mould.form = "two-part";
  CHECK(pulls_to_go(j) == 4);
  j.check.castings = {{1, "", "", {}}, {2, "", "", {}}, {3, "", "", {}}};
  std::vector<PartCount> c = part_counts(j);
  REQUIRE(c.size() == 2);
  CHECK(c[0].name == "Left");
  CHECK(c[0].made == 3);
  CHECK(c[1].made == 6);
  CHECK(pulls_to_go(j) == 1);
  j.check.castings[1].worth = Worth::scrap;
  c = part_counts(j);
  CHECK(c[0].made == 2);
  CHECK(c[1].made == 4);
  CHECK(pulls_to_go(j) == 2);
  CHECK(has_work_left(j, 1));
  // With the other hand in hand the counts are the same ones.
  const Job other = with_part_in_hand(j, 0);
  CHECK(part_counts(other)[0].made == 2);
  CHECK(part_counts(other)[1].made == 4);
  // Cast apart, nothing is known of the one that is not in hand.
  j.mould.form = "putty";
  CHECK(part_counts(j)[1].made == 0);
}

TEST_CASE("customers with their jobs; what the last of a kind really took; where a mould lies and what was mended",
          "[ledger]") {
  shapes::TempDir dir;
  auto w = *Workshop::open(dir / "w.sqlite");
  const Shop shop = with_shelf(starting_shop(), *w->shelf());
  Job a = named_job("Latch", "Saltmarsh Tide Office"), b = named_job("Collar", "saltmarsh tide office"),
      c = named_job("Knob", "Lantern House"), d = named_job("Mine");
  b.closed_on = "2026-11-30";
  for (Job* j : {&a, &b, &c}) {
    j->mix.silicone_id = "add-30-blue";
    REQUIRE(w->save_job(*j, "made"));
  }
  REQUIRE(w->save_job(d, "made"));
  const auto found = customers_with_jobs(*w);
  REQUIRE(found);
  REQUIRE(found->size() == 2);  // one of them is nobody's, two are one office's however written
  for (const CustomerJobs& k : *found)
    if (lower_ascii(k.customer.name) == "saltmarsh tide office") {
      CHECK(k.jobs.size() == 2);
      CHECK(k.open == 1);
    }
  REQUIRE(w->keep_customer({"Saltmarsh Tide Office", "Quay 3", "pays late"}));
  CHECK_FALSE(w->keep_customer({"", "x", ""}));
  for (const CustomerJobs& k : *customers_with_jobs(*w))
    CHECK(k.customer.reach == (lower_ascii(k.customer.name) == "saltmarsh tide office" ? "Quay 3" : ""));

  // Of the kind: only jobs that took something, not the one that asks.
  const auto pour = [&](const Job& j, double g) {
    REQUIRE(w->book_pour({0, j.id, j.name, "2026-11-20T10:00:00", "pour a", "add-30-blue", g, 0, 0, false, ""}, false));
  };
  pour(b, 500);
  pour(a, 100);
  const auto alike = last_of_kind(*w, shop, kind_of_moulds(a), a.id);
  REQUIRE(alike);
  REQUIRE(alike->size() == 1);
  CHECK(alike->front().name == "Collar");
  CHECK(alike->front().real.materials == Approx(0.5 * price_per_kg(shop, "add-30-blue")));
  CHECK(alike->front().real.materials > 0);
  CHECK(last_of_kind(*w, shop, "no-such/two-part", a.id)->empty());

  const auto mould = w->save_mould({0, a.id, a.name, "Latch, mould 1", "2026-11-21", 0, "", ""});
  REQUIRE(mould);
  MouldCare care{std::to_string(*mould), "shelf 2, left", 2, "casting 1", {"2026-11-25 lip glued"}};
  REQUIRE(w->keep_mould_care(care));
  REQUIRE(w->mould_cares()->size() == 1);
  CHECK(w->mould_cares()->front() == care);
  care.generation = 12;
  CHECK_FALSE(w->keep_mould_care(care));
}

TEST_CASE("what the owner signed with is drawn on the receipt, and comes back with the job", "[ledger]") {
  shapes::TempDir dir;
  auto w = *Workshop::open(dir / "w.sqlite");
  Job j = named_job("Latch", "Owner");
  j.piece.came_on = "2026-11-20", j.piece.condition = "one lug broken";
  const size_t bare = receipt_page(j.piece, j.name, j.client, "2026-11-20").strokes.size();
  j.piece.signed_in = {{{0.1, 0.2}, {0.3, 0.1}}, {{0.5, 0.2}, {0.7, 0.25}, {0.8, 0.1}}};
  const Drawing page = receipt_page(j.piece, j.name, j.client, "2026-11-20");
  CHECK(page.strokes.size() == bare + 2);
  for (const Point2& p : page.strokes.back().points) {
    CHECK(p.x > 112);
    CHECK(p.x < 188);
    CHECK(p.y > 50);
  }
  REQUIRE(w->save_job(j, "signed"));
  CHECK(w->load_job(j.id)->piece == j.piece);
  // Given back it is the other signature that stands there.
  j.piece.went_on = "2026-12-01";
  CHECK(receipt_page(j.piece, j.name, j.client, "2026-12-01").strokes.size() == bare);
}

TEST_CASE("the demo's shop as a whole: cards, a plan over all jobs, the wall, the day on paper", "[ledger-shop]") {
  shapes::TempDir dir;
  auto w = *Workshop::open(demo_workshop(dir));
  const Shop shop = with_shelf(starting_shop(), *w->shelf());
  // Those that take longest to work out are closed: they are on no wall.
  size_t closed = 0;
  for (const JobRow& r : *w->jobs())
    for (const char* name : {"Case finial", "Timer housing", "Timer valve cradle", "Drum latch, spares",
                             "Corner ornament, colour trial", "Timer snap lid", "Dial pointers, strip"})
      if (r.name == name) {
        Job job = *w->load_job(r.id);
        job.closed_on = "2026-11-26";
        REQUIRE(w->save_job(job, "closed"));
        ++closed;
      }
  REQUIRE(closed == 7);
  OpenShopAsked asked;
  asked.now = *parse_wall_time("2026-11-27T09:30");
  asked.today = "2026-11-27";
  asked.study = rough_study();
  asked.store = shared_results();  // the demo has no rules of its own
  int calls = 0;
  asked.so_far = [&](const OpenShop& s) { calls += !s.jobs.empty(); };
  const auto open = open_shop(*w, shop, asked);
  REQUIRE(open);
  CHECK(calls > 3);
  CHECK(open->jobs.size() + closed == w->jobs()->size());
  REQUIRE(open->shop.jobs.size() >= 4);
  int64_t last = 0;
  for (const OpenJobNow& j : open->jobs) {
    INFO(j.name << ": " << j.refused);
    CHECK(j.card_there);
    if (!j.in_plan) continue;
    const PlacedJob& p = open->plan.jobs[*j.in_plan];
    INFO(p.refused);
    CHECK(p.refused.empty());
    CHECK(p.schedule.finish >= p.no_sooner);
    last = std::max(last, p.schedule.finish);
  }
  CHECK(open->plan.finish == last);
  // Never more hands at work than there are people.
  std::vector<std::pair<WallMinute, int>> edges;
  for (const PlacedJob& p : open->plan.jobs)
    for (const Placed& step : p.schedule.placed)
      for (const auto& [from, to] : step.hands) edges.push_back({from, 1}), edges.push_back({to, -1});
  std::sort(edges.begin(), edges.end());
  int at_work = 0, most = 0;
  for (const auto& [t, by] : edges) most = std::max(most, at_work += by);
  CHECK(open->shop.people == 2);
  CHECK(most <= open->shop.people);
  REQUIRE_FALSE(open->wall.hands.empty());
  for (size_t i = 1; i < open->wall.hands.size(); ++i) CHECK(open->wall.hands[i].from >= open->wall.hands[i - 1].from);

  // The second time nothing is worked out: the cards are there.
  asked.work_out = false;
  asked.store = nullptr;
  const auto again = open_shop(*w, shop, asked);
  REQUIRE(again);
  CHECK(again->plan.finish == open->plan.finish);
  CHECK(std::all_of(again->jobs.begin(), again->jobs.end(), [](const OpenJobNow& j) { return j.card_there; }));

  // A promise is kept or told, and an edit makes its card old.
  std::string id;
  for (const OpenJobNow& j : open->jobs)
    if (j.in_plan && *j.in_plan == 0) id = j.id;
  Job promised = *w->load_job(id);
  promised.days.promised = "2026-11-26";
  REQUIRE(w->save_job(promised, "promised"));
  const auto old = open_shop(*w, shop, asked);
  REQUIRE(old);
  REQUIRE(old->wall.promises.size() >= 1);
  CHECK(old->wall.promises[0].state == PromiseState::unplanned);
  asked.work_out = true;
  const auto late = open_shop(*w, shop, asked);
  REQUIRE(late);
  CHECK(late->wall.promises[0].state == PromiseState::late);
  CHECK_FALSE(late->wall.promises[0].why.empty());

  const WallMinute day = open->wall.hands.front().from;
  const auto pages = day_list(open->jobs, open->shop, open->plan, open->wall, day);
  REQUIRE_FALSE(pages.empty());
  for (const Drawing& d : pages)
    for (const Label& l : d.labels) {
      CHECK(l.at.y > 5);
      CHECK(l.at.x < 195);
    }
  CHECK(job_letter(0) == "A");
  CHECK(job_letter(27) == "AB");
}

}  // namespace tests_ledger_whole_shop_books
