// Every number given to `palin` is read by one checked reader: finite and in its range, or refused with name and range.
#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

#include "palin.hpp"

namespace tests_cli_numbers {

using Json = nlohmann::json;

TEST_CASE("no option takes nan, infinity or nonsense: refused with its name and range", "[cli]") {
  shapes::TempDir dir;
  REQUIRE(palinform::save_mesh(shapes::box({0, 0, 0}, {10, 12, 8}), dir / "box.stl"));
  const std::string box = dir / "box.stl";
  struct Command {
    std::string start;
    std::vector<const char*> options;
  };
  const std::vector<Command> commands{
      {"mix --need-g 50 --ratio 100:10",
       {"--tolerance-pct", "--room-c", "--pot-life-min", "--cup-ml", "--foam", "--scale", "--waste-pct", "--tare",
        "--density-a", "--density-b"}},
      {"flow " + box + " --up 0,0,1",
       {"--voxel", "--pressure-kpa", "--vacuum-kpa-abs", "--altitude-m", "--sprue-mm", "--vent-mm", "--head-mm",
        "--viscosity", "--density", "--pot-life-min", "--age-min", "--visible-mm", "--max-tilt-deg"}},
      {"split " + box + " --pull 0,0,1", {"--hardness-a", "--pitch"}},
      {"mould " + box + " --pull 0,0,1 --form two-part",
       {"--wall", "--hardness-a", "--pitch", "--rubber-density", "--master-g", "--voxel", "--clearance", "--sheet",
        "--bed-u", "--bed-v", "--sprue-mm", "--vent-mm"}}};
  for (const Command& c : commands)
    for (const char* option : c.options)
      for (const char* value : {"nan", "inf", "1e308", "-7", "12abc", "0x1p3", ""}) {
        const Ran r = palin(c.start + " " + option + "='" + value + "'");
        INFO(c.start << " " << option << " " << value << ": " << r.err);
        if (std::string(value) == "-7" && std::string(option) == "--altitude-m")
          continue;  // seven metres under the sea
        if (std::string(value) == "-7" && std::string(option) == "--room-c") continue;
        CHECK(r.code != 0);
        CHECK(r.code <= 2);
        CHECK(r.out.empty());
        CHECK(r.err.find(option) != std::string::npos);
      }
  CHECK(palin("mix --need-g nan --ratio 100:10").code == 2);
  CHECK(palin("mix --need-g 50 --ratio 100:10 --foam 0.2").code == 1);
  CHECK(palin("mix --need-g 50 --ratio 100:10 --waste-pct 1e9").code == 1);
  const Ran air = palin("flow " + box + " --up 0,0,1 --vacuum-kpa-abs 100 --altitude-m 3000");
  CHECK(air.code == 1);
  CHECK(air.err.find("more than the air") != std::string::npos);
}

TEST_CASE("palin judge asks for an uncertainty that is not given", "[cli]") {
  shapes::TempDir dir;
  for (
      const char* text :
      {R"({"sizes":[{"name":"d","values_mm":[10.0],"resolution_mm":0.01,"lower_mm":9.9,"upper_mm":10.1}]})",
       R"({"sizes":[{"name":"d","values_mm":[10.0],"resolution_mm":0.01,"instrument_u_mm":null,"lower_mm":9.9,"upper_mm":10.1}]})",
       R"({"sizes":[{"name":"d","values_mm":[10.0],"instrument_u_mm":0.01,"lower_mm":9.9,"upper_mm":10.1}]})",
       R"({"sizes":[{"name":"d","values_mm":[10.0],"resolution_mm":-1,"instrument_u_mm":0.01,"lower_mm":9.9,"upper_mm":10.1}]})",
       R"({"sizes":[{"name":"d","values_mm":[1e300],"resolution_mm":0.01,"instrument_u_mm":0.01,"lower_mm":9.9,"upper_mm":10.1}]})"}) {
    REQUIRE(palinform::write_file(dir / "j.json", std::string(text)));
    const Ran r = palin("judge " + (dir / "j.json"));
    INFO(text << r.err);
    CHECK(r.code == 1);
    CHECK(r.out.empty());
  }
  REQUIRE(palinform::write_file(
      dir / "j.json",
      std::string(
          R"({"rule":"plain","sizes":[{"name":"d","values_mm":[3.1000000000000005],"resolution_mm":0.01,"instrument_u_mm":0.01,"lower_mm":3,"upper_mm":3.1}]})")));
  const Ran r = palin("judge " + (dir / "j.json"));
  REQUIRE(r.code == 0);
  const auto j = nlohmann::json::parse(r.out);
  CHECK(j["overall"] == "conforms");
  CHECK(j["sizes"][0]["coverage_k"].get<double>() == Approx(2));
}

TEST_CASE("palin solid: bodies added and cut, in any unit; what it cannot read it names", "[cli]") {
  shapes::TempDir dir;
  const auto run = [&](const std::string& text, const std::string& more = "") {
    shapes::write_text(dir / "part.json", text);
    return palin("solid " + (dir / "part.json") + more);
  };
  const Ran r = run(R"({"unit": "mm", "u_mm": 0.05,
    "add": [{"shape": "plate", "length": 60, "width": 40, "thickness": 6},
            {"shape": "disc", "diameter_mm": 16, "height": 10, "at": [12, 4, 6]}],
    "cut": [{"shape": "disc", "diameter": 8, "depth": 20, "at": [12, 4, -2]}]})",
                    " --out " + (dir / "part.stl"));
  REQUIRE(r.code == 0);
  const auto j = r.json();
  CHECK(j["volume_mm3"].get<double>() == Approx(60 * 40 * 6 + M_PI * 64 * 10 - M_PI * 16 * 16).epsilon(1e-3));
  CHECK(j["sound"] == true);
  CHECK(j["u_mm"] == 0.05);
  CHECK(j["bbox_mm"]["max"][2].get<double>() == Approx(16));
  CHECK(palin("mesh " + (dir / "part.stl")).json()["sound"] == true);
  // Inches, other names for measures, a tube by its wall.
  CHECK(run(R"({"unit": "in", "add": [{"shape": "tube", "outer_diameter": 1, "wall": 0.125, "length": 2}]})")
            .json()["volume_mm3"]
            .get<double>() == Approx(M_PI / 4 * (1 - 0.5625) * 2 * 16387.064).epsilon(2e-3));
  CHECK(run(R"({"add": [{"shape": "turned", "profile_mm": [[0,0],[10,0],[10,20],[0,20]]}]})")
            .json()["volume_mm3"]
            .get<double>() == Approx(M_PI * 2000).epsilon(1e-6));
  CHECK(run(R"({"add": [{"shape": "outline", "points_mm": [[0,0],[40,0],[40,20],[0,20]], "thickness_mm": 5,
              "holes_mm": [{"at": [10,10], "diameter": 6}, [[25,5],[35,5],[35,15],[25,15]]]}]})")
            .json()["volume_mm3"]
            .get<double>() == Approx((800 - M_PI * 9 - 100) * 5).epsilon(1e-3));
  const auto refused = [&](const std::string& text, const std::string& word) {
    const Ran bad = run(text);
    INFO(text << " -> " << bad.err);
    CHECK(bad.code == 1);
    CHECK(bad.out.empty());
    CHECK(bad.err.find(word) != std::string::npos);
  };
  refused("[1, 2", "does not read as a JSON object");
  refused(R"({"add": []})", "adds no body");
  refused(R"({"add": [{"shape": "blob"}]})", "no shape \"blob\"");
  refused(R"({"add": [{"shape": "plate", "length": 60, "width": 40}]})", "add 1: plate: \"thickness\" is missing");
  refused(R"({"add": [{"shape": "disc", "diameter": 8, "height": 4, "colour": 3}]})", "no measure \"colour\"");
  refused(R"({"add": [{"shape": "disc", "diameter": "8", "height": 4}]})", "\"diameter\" is no number");
  refused(R"({"add": [{"shape": "disc", "diameter": -8, "height": 4}]})", "above nought");
  refused(R"({"unit": "ell", "add": []})", "\"unit\"");
  refused(R"({"cut": [{"shape": "disc", "diameter": 8, "height": 4}]})", "nothing yet to cut");
}

TEST_CASE("palin mould: a box that is given decides the rubber; walls apart; several masters", "[cli]") {
  shapes::TempDir dir;
  REQUIRE(palinform::save_mesh(shapes::box({0, 0, 0}, {40, 30, 20}, 2), dir / "block.stl"));
  const std::string base = "mould " + (dir / "block.stl") + " --pull 0,0,1 --form two-part --wall 10";
  const auto plain = palin(base).json();
  CHECK(plain["rubber_mm3"]["total"].get<double>() == Approx(60 * 50 * 40 - 24'000).epsilon(2e-3));
  const auto given = palin(base + " --box 100,80,70").json();
  CHECK(given["box_mm"]["inner"][2].get<double>() == Approx(70));
  CHECK(given["rubber_mm3"]["total"].get<double>() == Approx(100 * 80 * 40 - 24'000).epsilon(2e-3));
  CHECK(given["box"]["plates"].size() == 2);
  const Ran low = palin(base + " --box 100,80,42");
  CHECK(low.code == 1);
  CHECK(low.out.empty());
  CHECK(low.err.find("6 mm too low") != std::string::npos);
  CHECK(palin(base + " --box bucket").code == 2);
  const auto four = palin(base + " --masters 4").json();
  CHECK(four["castings_a_pull"] == 4);
  CHECK(four["rubber_mm3"]["total"].get<double>() == Approx(110 * 90 * 40 - 4 * 24'000).epsilon(2e-3));
  // What is written is what is told.
  const auto two = rough_palin("mould " + (dir / "block.stl") +
                               " --form open --flat 0,0,-1 --wall 10 --masters 2 --voxel 0.6 --out " + (dir / "out"))
                       .json();
  CHECK(two["castings_a_pull"] == 2);
  CHECK(two["built_mm3"]["rubber"].get<double>() == Approx(two["rubber_mm3"]["total"].get<double>()).epsilon(0.02));
}

TEST_CASE("palin mould: several parts in one box and on one bar, dams and stages, a rim; volumes add up", "[cli]") {
  shapes::TempDir dir;
  REQUIRE(palinform::save_mesh(shapes::box({0, 0, 0}, {40, 30, 20}, 4), dir / "a.stl"));
  REQUIRE(palinform::save_mesh(shapes::box({0, 0, 0}, {12, 24, 15}, 3), dir / "b.stl"));
  const std::string both = (dir / "a.stl") + " --with " + (dir / "b.stl") + " --pull 0,0,1 ";
  const Json j =
      rough_palin("mould " + both + "--form two-part --keys rim --out " + (dir / "out") + " --voxel 0.6").json();
  CHECK(j["masters"] == 2);
  const Json in = j["box_mm"]["inner"];
  const double box = in[0].get<double>() * in[1].get<double>() * in[2].get<double>();
  const double parts = 40.0 * 30 * 20 + 12.0 * 24 * 15, rubber = j["rubber_mm3"]["total"].get<double>();
  CHECK(j["part_mm3"].get<double>() == Approx(parts).epsilon(2e-3));
  CHECK(rubber == Approx(box - parts).epsilon(3e-3));
  CHECK(j["built_mm3"]["rubber"].get<double>() == Approx(rubber).epsilon(0.01));
  CHECK(j["rim"]["enters"] == true);
  // On one bar: each hangs, and the pours say so.
  REQUIRE(palinform::save_mesh(shapes::box({0, 0, 0}, {8, 3, 12}, 2), dir / "c.stl"));
  const Json strip =
      rough_palin("mould " + (dir / "c.stl") + " --with " + (dir / "b.stl") + " --form strip --pull 0,0,1 --copies 3")
          .json();
  CHECK(strip["strip"]["parts"] == 2);
  CHECK(strip["strip"]["struts"] == 0);
  // A tower on a long foot: the upper pour in two stages.
  REQUIRE(palinform::save_mesh(
      shapes::joined(shapes::box({0, 0, 0}, {60, 20, 10}, 3), shapes::box({0, 0, 10 - 1e-9}, {10, 20, 50}, 2)),
      dir / "tower.stl"));
  const std::string tower = "mould " + (dir / "tower.stl") + " --pull 0,0,1 --wall 10 --form two-part ";
  const double plain = palin(tower).json()["rubber_mm3"]["total"].get<double>();
  const Json staged = palin(tower + "--stages a --dams").json();
  CHECK(staged["kept_out"].size() >= 1);
  double kept = 0;
  for (const Json& k : staged["kept_out"]) {
    const Json s = k["size_mm"];
    kept += s[0].get<double>() * s[1].get<double>() * s[2].get<double>();
  }
  CHECK(plain - staged["rubber_mm3"]["total"].get<double>() == Approx(kept).epsilon(0.01));
  CHECK(staged["rubber_mm3"]["pours"][0]["first_stage"]["volume_mm3"].get<double>() > 1000);
  CHECK(rough_palin("mould " + both + "--form two-part --stages c").code != 0);
  CHECK(rough_palin("mould " + (dir / "a.stl") + " --with nowhere.stl --form two-part").code != 0);
}

}  // namespace tests_cli_numbers
