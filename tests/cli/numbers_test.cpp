// Every number given to `palin` is read by one checked reader: finite and in its range, or refused with name and range.
#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

#include "palin.hpp"

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
