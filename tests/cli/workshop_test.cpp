// palin over a whole workshop: its days, its jobs, its copies, its reports.
#include <catch2/catch.hpp>
#include <filesystem>
#include <nlohmann/json.hpp>

#include "job/job.hpp"
#include "ledger/workshop.hpp"
#include "mesh/save.hpp"
#include "palin.hpp"
#include "shelf/catalogue_view.hpp"
#include "stages/materials.hpp"

namespace tests_cli_workshop {

using Json = nlohmann::json;
using namespace palinform;

namespace {

/// Two plates by their measures, both to begin on the same morning; a person, a pot.
std::string two_plates(const shapes::TempDir& dir, const char* promised) {
  const std::string path = dir / "w.sqlite";
  auto w = *Workshop::open(path);
  const Shop shop = with_shelf(starting_shop(), *w->shelf());
  for (const char* name : {"Left plate", "Right plate"}) {
    Job j;
    j.id = new_id();
    j.name = name, j.client = "museum";
    DrawnBody plate = begun(BodyShape::plate);
    plate.id = "b1", plate.length_mm = 40, plate.width_mm = 24, plate.height_mm = 6;
    j.original.drawn.bodies = {plate};
    j.mix.silicone_id = shop.shelf.silicones.front().id;
    j.mix.resin_id = shop.shelf.resins.front().id;
    j.mix = with_copies(std::move(j.mix), shop);
    j.days.start = "2026-12-07T08:00";
    j.days.promised = promised;
    REQUIRE(w->save_job(j, "made"));
  }
  REQUIRE(*w->keep_copy("2026-12-01"));
  return path;
}

}  // namespace

TEST_CASE("palin days WORKSHOP: all open jobs round each other", "[cli]") {
  shapes::TempDir dir;
  const std::string path = two_plates(dir, "2027-01-15");
  const Ran r = palin("days " + path + " --from 2026-12-07T07:00");
  INFO(r.err);
  REQUIRE(r.code == 0);
  const Json j = r.json();
  REQUIRE(j["jobs"].size() == 2);
  std::vector<std::pair<std::string, double>> hands;
  for (const Json& t : j["tasks"]) {
    CHECK(t["start"].get<std::string>() >= "2026-12-07T08:00");
    CHECK(t["resource"].get<std::string>().starts_with("person"));
    if (t["hands_on"].get<double>() > 0) hands.emplace_back(t["start"], t["hands_on"]);
  }
  CHECK(hands.size() > 20);
  // One person: no two begin in the same minute.
  for (size_t i = 1; i < hands.size(); ++i) CHECK(hands[i].first > hands[i - 1].first);
  for (const Json& job : j["jobs"]) {
    CHECK(job["finish"].get<std::string>() >= job["alone"].get<std::string>());
    CHECK(job["late_h"] == 0);
  }
  CHECK(j["no_sooner"].get<std::string>() <= j["finish"].get<std::string>());
  CHECK((j["proven"].get<bool>() ? j["gap_h"] == 0 : j["gap_h"].get<double>() > 0));
  // The second time off the cards: the same plan.
  CHECK(palin("days " + path + " --from 2026-12-07T07:00").json()["tasks"] == j["tasks"]);
  // A promise that cannot be held says why.
  shapes::TempDir other;
  const std::string late = two_plates(other, "2026-12-07");
  const Json l = palin("days " + late + " --from 2026-12-07T07:00").json();
  CHECK(l["late_h"].get<double>() > 0);
  CHECK(l["jobs"][0]["why"].get<std::string>().find("late") != std::string::npos);
  CHECK(palin("days " + path + " --from soon").code == 1);
}

TEST_CASE("palin jobs, report, restore and salvage", "[cli]") {
  shapes::TempDir dir;
  const std::string path = two_plates(dir, "2027-01-15");
  CHECK(palin("jobs " + path).json()["jobs"].size() == 2);
  CHECK(palin("jobs " + path + " --find left").json()["jobs"][0]["name"] == "Left plate");
  CHECK(palin("jobs " + path + " --find nothing").json()["jobs"].empty());
  const Json report = palin("report " + path + " --xlsx " + (dir / "r.xlsx")).json();
  for (const char* key : {"use", "wrong", "hours", "stock", "moulds"}) CHECK(report.contains(key));
  CHECK(std::filesystem::file_size(dir / "r.xlsx") > 2000);
  const Json copies = palin("restore " + path).json()["copies"];
  REQUIRE(copies.size() == 1);
  CHECK(copies[0]["day"] == "2026-12-01");
  CHECK(copies[0]["jobs"] == 2);
  CHECK(copies[0]["usable"] == true);
  {
    auto w = *Workshop::open(path);
    for (const JobRow& r : *w->jobs())
      if (r.name == "Right plate") REQUIRE(w->remove_job(r.id));
  }
  CHECK(palin("jobs " + path).json()["jobs"].size() == 1);
  CHECK(palin("restore " + path + " 2026-12-02").code == 1);
  const Json back = palin("restore " + path + " 2026-12-01").json();
  CHECK(std::filesystem::exists(back["kept_aside"].get<std::string>()));
  CHECK(palin("jobs " + path).json()["jobs"].size() == 2);
  const Json saved = palin("salvage " + path + " " + (dir / "saved.sqlite")).json();
  CHECK(saved["jobs"] == 2);
  CHECK(saved["lost"] == 0);
  CHECK(palin("salvage " + path + " " + (dir / "saved.sqlite")).code == 1);
  CHECK(palin("restore /no/such/workshop").json()["copies"].empty());
}

}  // namespace tests_cli_workshop
