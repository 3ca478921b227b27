// palin mix: doses as people measure them, colour, cups in time.
#include <catch2/catch.hpp>
#include <cmath>
#include <filesystem>
#include <nlohmann/json.hpp>

#include "ledger/workshop.hpp"
#include "palin.hpp"

namespace tests_cli_mix {

using Json = nlohmann::json;

namespace {

const Json* finding(const Json& j, const char* code) {
  for (const Json& f : j["findings"])
    if (f["code"] == code) return &f;
  return nullptr;
}

}  // namespace

TEST_CASE("palin mix: a dose the scale cannot weigh is a stop that nobody can accept", "[cli]") {
  const Ran r = palin("mix --need-g 8.12 --ratio 1.5 --by percent --scale 1 --tolerance-pct 5 --density-b 1.1");
  REQUIRE(r.code == 0);
  const Json j = r.json();
  CHECK(j["unsafe"] == true);
  const Json* f = finding(j, "dose-unsafe");
  REQUIRE(f);
  CHECK((*f)["severity"] == "stop");
  bool finer = false, bigger = false;
  for (const Json& way : (*f)["remedies"]) {
    CHECK(way["code"] != "accept");
    finer |= way["code"] == "finer-scale";
    bigger |= way["code"] == "bigger-batch";
  }
  CHECK((finer && bigger));
  // What is offered is safe when it is done.
  CHECK(palin("mix --need-g 8.12 --ratio 1.5 --by percent --scale 0.01 --tolerance-pct 5").json()["unsafe"] == false);
  // A peroxide measured so gets no figure at all.
  const Json p = palin("mix --need-g 8.12 --ratio 1.5 --by percent --scale 1 --tolerance-pct 5 --peroxide").json();
  CHECK(p["unsafe"] == true);
  for (const char* key : {"a_g", "b_g", "total_g", "readings_g"}) CHECK(p[key].is_null());
  for (const Json& s : p["sequence"])
    for (const char* key : {"g", "ml", "drops", "reading_g"}) CHECK(s[key].is_null());
  CHECK(p["batches"].empty());
  // Safe, it is weighed like anything else.
  CHECK(palin("mix --need-g 500 --ratio 2 --by percent --scale 0.1 --peroxide").json()["b_g"].get<double>() > 9);
}

TEST_CASE("palin mix: every cup is a dose of its own", "[cli]") {
  const std::string peroxide = "mix --need-g 100 --ratio 2 --by percent --scale 0.1 --tolerance-pct 10 --peroxide ";
  CHECK(palin(peroxide).json()["unsafe"] == false);
  for (const char* cups : {"--cup-ml 25 --foam 4", "--cups 300,12 --pot-life-min 20 --stir-min 1 --pour-min 1"}) {
    INFO(cups);
    const Json j = palin(peroxide + cups).json();
    CHECK(j["unsafe"] == true);
    CHECK(j["batches"].empty());
    CHECK(j["a_g"].is_null());
    const Json* f = finding(j, "dose-unsafe");
    REQUIRE(f);
    // No way out tells grams from which the dose could be reckoned.
    for (const Json& way : (*f)["remedies"])
      if (way["code"] == "bigger-batch") CHECK(way["what"].get<std::string>().find(" g") == std::string::npos);
  }
  // Drops too are shared out over cups that hold them.
  const Json drops = palin(
                         "mix --need-g 40 --ratio 2 --by drops --drop-mass 0.026 --scale 1 --tolerance-pct 30 "
                         "--cup-ml 30 --foam 2")
                         .json();
  REQUIRE(drops["batches"].size() == 3);
  CHECK(drops["batches"][0]["drops"].get<int>() >= 10);
  CHECK(drops["batches"][0]["total_g"].get<double>() * 3 >= 40 - 1e-9);
}

TEST_CASE("palin mix: drops are counted, the base weighed", "[cli]") {
  const Json j = palin("mix --need-g 40 --ratio 2 --by drops --drop-mass 0.026 --scale 1 --tolerance-pct 15").json();
  CHECK(j["unsafe"] == false);
  const Json& b = j["sequence"].back();
  CHECK(b["part"] == "B");
  CHECK(b["drops"].get<int>() == 31);  // 40 g of base at 2 % are 0.8 g: 30.8 drops
  CHECK(b["reading_g"].is_null());
  CHECK(j["sequence"][0]["reading_g"] == j["a_g"]);
  CHECK(j["total_g"].get<double>() >= 40 - 1e-9);
  CHECK(std::abs(j["b_g"].get<double>() / j["a_g"].get<double>() / 0.02 - 1) < 0.05);
  CHECK(palin("mix --need-g 40 --ratio 2 --by drops").code == 1);  // how heavy is a drop?
}

TEST_CASE("palin mix: pigment and filler in the order they go in", "[cli]") {
  const Json j = palin(
                     "mix --need-g 100 --ratio 1:1 --pigment-pct 0.5 --filler-pct 20 --filler-density 2.7 --density-a "
                     "1.1 --density-b 1.1 --tare 12")
                     .json();
  REQUIRE(j["sequence"].size() == 4);
  CHECK(j["sequence"][0]["part"] == "A");
  CHECK(j["sequence"][1]["part"] == "pigment");
  CHECK(j["sequence"][2]["part"] == "filler");
  CHECK(j["sequence"][3]["part"] == "B");
  double sum = 12, before = 12;
  for (const Json& s : j["sequence"]) {
    sum += s["g"].get<double>();
    CHECK(s["reading_g"].get<double>() == Approx(sum));
    CHECK(s["reading_g"].get<double>() > before);
    before = s["reading_g"];
  }
  const double total = j["total_g"];
  CHECK(sum == Approx(12 + total));
  CHECK(j["sequence"][1]["g"].get<double>() == Approx(0.005 * total));
  CHECK(j["sequence"][2]["g"].get<double>() == Approx(0.2 * total));
  CHECK(j["master_batch"]["pigment_g"].get<double>() == Approx(2));  // 0.5 g are five divisions
  CHECK(j["filled"]["viscosity_times"].get<double>() > 1.2);
  CHECK(palin("mix --need-g 100 --ratio 1:1 --pigment-pct 3 --pigment-most-pct 2").code == 1);
  CHECK(palin("mix --need-g 100 --ratio 1:1 --filler-pct 30").code == 1);
}

TEST_CASE("palin mix: an overshoot is mended", "[cli]") {
  const Json j = palin("mix --mend a=200,207 --ratio 100:10").json();
  CHECK(j["b_g"].get<double>() == Approx(20.7));
  CHECK(j["total_g"].get<double>() == Approx(227.7));
  CHECK(palin("mix --mend b=20,25 --ratio 100:10").json()["add_a_g"].get<double>() == Approx(50));
  CHECK(palin("mix --mend c=1,2 --ratio 100:10").code == 1);
  CHECK(palin("mix --mend a=200 --ratio 100:10").code == 1);
  CHECK(palin("mix --ratio 100:10").code == 2);  // neither a need nor an overshoot
}

TEST_CASE("palin mix: cups in time, or why not and what would help", "[cli]") {
  const std::string two = "mix --need-g 300 --ratio 1:1 --cups 300,300 --pot-life-min 3 --stir-min 1 --pour-min 1.5";
  const Json late = palin(two).json();
  CHECK(late["fits"] == false);
  CHECK_FALSE(late["why"].get<std::string>().empty());
  REQUIRE(finding(late, "cups-late"));
  CHECK(late["levers"][0] == "a second person");
  const Json helped = palin(two + " --people 2").json();
  CHECK(helped["fits"] == true);
  CHECK(helped["why"] == "");
  REQUIRE(helped["cups"].size() == 2);
  for (const Json& c : helped["cups"]) {
    CHECK(c["pour_to_min"].get<double>() <= c["starts_min"].get<double>() + 3 + 1e-9);
    CHECK(c["gels_min"].get<double>() == Approx(c["starts_min"].get<double>() + 2.4));
    CHECK(c["g"].get<double>() == Approx(helped["total_g"].get<double>() / 2));
  }
  const Ran small = palin("mix --need-g 900 --ratio 1:1 --cups 300 --pot-life-min 30");
  CHECK(small.code == 1);
  CHECK(small.err.find("larger cups") != std::string::npos);
  CHECK(palin("mix --need-g 300 --ratio 1:1 --cups 300,x --pot-life-min 30").code == 1);
}

TEST_CASE("palin shelf: lists, adds, hands on", "[cli]") {
  shapes::TempDir dir;
  REQUIRE(palin("demo " + dir.str()).code == 0);
  const std::string workshop = dir / "workshop.sqlite";
  const Json before = palin("shelf " + workshop).json();
  REQUIRE(before["materials"].size() > 20);
  for (const char* key : {"id", "kind", "name", "version", "guesses"}) CHECK(before["materials"][0].contains(key));
  // A tin-cured rubber of one's own with a catalyst range: what its bottle does not say is a guess, and named.
  shapes::write_text(
      dir / "tin.json",
      R"({"id":"white-tin","name":"White tin rubber","kind":"mould-rubber","family":"condensation-catalyst-range",
                         "mixing":{"by":"percent","percent":3,"at_percent":[{"pct":2,"pot_life_min":100,"demould_h":24},
                                   {"pct":5,"pot_life_min":25,"demould_h":8}]},
                         "figures":{"density_g_cm3":{"value":1.18},"shore_a":{"value":22}}})");
  const Json added = palin("shelf " + workshop + " --add " + (dir / "tin.json")).json();
  CHECK(added["added"][0]["version"] == 1);
  const Json& mine = added["materials"].back();
  CHECK(mine["id"] == "white-tin");
  CHECK(mine["guesses"].dump().find("shrink_thin_pct") != std::string::npos);
  CHECK(mine["guesses"].dump().find("shore_a") == std::string::npos);
  CHECK(palin("shelf " + workshop + " --add " + (dir / "tin.json")).json()["materials"].size() ==
        added["materials"].size());
  // Out as JSON or CSV, into another workshop.
  for (const char* file : {"all.json", "all.csv"}) {
    REQUIRE(palin("shelf " + workshop + " --export " + (dir / file)).code == 0);
    shapes::TempDir other;
    REQUIRE(palin("demo " + other.str()).code == 0);
    const Json taken = palin("shelf " + (other / "workshop.sqlite") + " --add " + (dir / file)).json();
    CHECK(taken["materials"].back()["id"] == "white-tin");
  }
  shapes::write_text(dir / "bad.csv", "id,kind,name,shore_a\nx,mould-rubber,X,300\n");
  const Ran refused = palin("shelf " + workshop + " --add " + (dir / "bad.csv"));
  CHECK(refused.code == 1);
  CHECK(refused.err.find("line 2") != std::string::npos);
  CHECK(palin("shelf " + (dir / "none.sqlite")).code == 1);
}

TEST_CASE("palin mix: a bottle of the workshop stands in for what is not said", "[cli]") {
  shapes::TempDir dir;
  REQUIRE(palin("demo " + dir.str()).code == 0);
  const std::string on = " --workshop " + (dir / "workshop.sqlite");
  const Json tin = palin("mix --need-g 400 --material condensation-catalyst-range" + on).json();
  CHECK(tin["ratio_by_weight"].get<double>() == Approx(0.04));
  CHECK(tin["unsafe"] == false);
  // Another percentage within the sheet; none outside it.
  CHECK(palin("mix --need-g 400 --by percent --ratio 2.5 --material condensation-catalyst-range" + on)
            .json()["ratio_by_weight"]
            .get<double>() == Approx(0.025));
  CHECK(palin("mix --need-g 400 --by percent --ratio 9 --material condensation-catalyst-range" + on).code == 1);
  // Polyester is a peroxide without being told so.
  const Json p = palin("mix --need-g 40 --scale 1 --material polyester" + on).json();
  CHECK(p["unsafe"] == true);
  CHECK(p["b_g"].is_null());
  CHECK(palin("mix --need-g 40 --material nobody" + on).code == 1);
  CHECK(palin("mix --need-g 40 --material polyester").code != 0);
  CHECK(palin("mix --need-g 40").code != 0);
}

TEST_CASE("palin shelf: what all jobs together lack", "[cli]") {
  shapes::TempDir dir;
  const std::string path = dir / "workshop.sqlite";
  {
    auto w = *palinform::Workshop::open(path);
    for (const char* name : {"Latch", "Bracket"}) {
      palinform::Job job;
      job.id = palinform::new_id();
      job.name = name;
      job.mix.silicone_id = "con-25-white";
      job.mix.resin_id = "pu-flex-40";
      job.days.start = "2026-12-01T08:00";
      job.original.bare = {{58, 50, 16}, 17.5, std::nullopt, 1.1};
      REQUIRE(w->save_job(job, "made"));
    }
    REQUIRE(w->save_lot({0, "con-25-white", "C25", "", "", 50, 50}));
    REQUIRE(w->save_lot({0, "pu-flex-40", "F40", "", "", 5000, 5000}));
  }
  const Ran r = palin("shelf " + path + " --shopping " + (dir / "buy.csv"));
  REQUIRE(r.code == 0);
  const Json j = r.json();
  CHECK(j["not_reckoned"].empty());
  REQUIRE(j["shopping"].size() == 1);  // of the resin there is enough
  const Json& l = j["shopping"][0];
  CHECK(l["material"] == "con-25-white");
  CHECK(l["there_g"] == 50);
  CHECK(l["short_g"].get<double>() == Approx(l["needed_g"].get<double>() - 50));
  CHECK(l["jobs"].size() == 2);
  CHECK(std::filesystem::file_size(dir / "buy.csv") > 80);
}

}  // namespace tests_cli_mix
