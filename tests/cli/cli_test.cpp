// `palin` as a process: exit codes, stdout as one JSON object, keys of cli.md, same bytes for same input.
#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <filesystem>
#include <nlohmann/json.hpp>
#include <thread>

#include "job/job.hpp"
#include "palin.hpp"
#include "solid/unite.hpp"

namespace tests_cli_cli {

using Json = nlohmann::json;

namespace {

const std::string bracket = std::string(PALINFORM_DEMO_MESHES) + "/pen_arm_bracket.stl";

std::string without_times(std::string s) {
  const size_t at = s.find("\"elapsed_ms\"");
  return at == std::string::npos ? s : s.erase(at, s.find('\n', at) - at);
}

}  // namespace

TEST_CASE("palin mesh: the keys, the figures, the repair", "[cli]") {
  shapes::TempDir dir;
  REQUIRE(palinform::save_mesh(shapes::box({0, 0, 0}, {10, 20, 30}, 2), dir / "box.stl"));
  const Ran r = palin("mesh " + (dir / "box.stl"));
  REQUIRE(r.code == 0);
  const Json j = r.json();
  CHECK(j["volume_mm3"].get<double>() == Approx(6000));
  CHECK(j["area_mm2"].get<double>() == Approx(2200));
  CHECK(j["triangles"] == 48);
  CHECK(j["components"] == 1);
  CHECK(j["sound"] == true);
  CHECK(j["unit"] == "mm");
  CHECK(j["bbox_mm"]["max"][2].get<double>() == Approx(30));
  CHECK(j["repaired"].is_null());
  for (const char* key :
       {"open_edges", "non_manifold_edges", "self_intersections", "degenerate_faces", "flipped_components"})
    CHECK(j["defects"][key] == 0);
  CHECK(palin("mesh " + (dir / "box.stl") + " --unit in").json()["volume_mm3"].get<double>() ==
        Approx(6000 * 16387.064).epsilon(1e-6));

  auto open = shapes::turned_over(shapes::box({0, 0, 0}, {10, 20, 30}, 2));
  open.triangles.erase(open.triangles.begin() + 5);
  REQUIRE(palinform::save_mesh(open, dir / "open.stl"));
  CHECK(palin("mesh " + (dir / "open.stl")).json()["sound"] == false);
  const Json fixed = palin("mesh " + (dir / "open.stl") + " --repair --out " + (dir / "fixed.3mf")).json();
  CHECK(fixed["sound"] == true);
  CHECK(fixed["repaired"]["filled_holes"] == 1);
  CHECK(fixed["repaired"].contains("volume_change_mm3"));
  CHECK(palin("mesh " + (dir / "fixed.3mf")).json()["volume_mm3"].get<double>() == Approx(6000));
}

TEST_CASE("palin split and mould: a hard slide forms a pocket, and is written", "[cli]") {
  shapes::TempDir dir;
  const auto part = palinform::subtract(shapes::box({0, 0, 0}, {40, 30, 24}), shapes::box({28, 10, 8}, {41, 20, 16}));
  REQUIRE(part);
  REQUIRE(palinform::save_mesh(*part, dir / "clip.stl"));
  const std::string file = dir / "clip.stl";
  const Json before = rough_palin("split " + file + " --pull 0,0,1").json();
  CHECK(before["undercut_area_mm2"].get<double>() > 100);
  CHECK(before["pockets"].empty());
  const Ran r = rough_palin("split " + file + " --pull 0,0,1 --slide 28,15,12");
  REQUIRE(r.code == 0);
  const Json j = r.json();
  CHECK(j["undercut_area_mm2"].get<double>() < 1);
  REQUIRE(j["pockets"].size() == 1);
  CHECK(j["pockets"][0]["draw"][0].get<double>() == Approx(1));
  CHECK(j["pockets"][0]["slide"] == "Slide 1");
  CHECK(j["pockets"][0]["forms_mm2"].get<double>() == Approx(80 + 12 * 36));
  CHECK(j["pockets"][0]["held_mm2"] == 0);
  const Ran askew = rough_palin("split " + file + " --pull 0,0,1 --slide 28,15,12:1,0,0.5");
  REQUIRE(askew.code == 0);
  CHECK(askew.json()["pockets"][0]["held_mm2"].get<double>() >= 120);
  const Ran built =
      rough_palin("mould " + file + " --pull 0,0,1 --form two-part --slide 28,15,12 --out " + (dir / "out"));
  REQUIRE(built.code == 0);
  const Json m = built.json();
  double slide = 0, halves = 0;
  for (const Json& s : m["solids"]) {
    if (s["name"] == "slide_1") slide = s["volume_mm3"];
    if (s["name"].get<std::string>().starts_with("rubber_half")) halves += s["volume_mm3"].get<double>();
  }
  CHECK(slide == Approx(m["pockets"][0]["volume_mm3"].get<double>()).epsilon(1e-6));
  // Box less part and what of the slide stands in it.
  const auto& in = m["box_mm"]["inner"];
  const double box = in[0].get<double>() * in[1].get<double>() * in[2].get<double>();
  CHECK(halves == Approx(box - (40 * 30 * 24 - 10 * 8 * 12) - 80 * (12 + m["wall_mm"].get<double>())).epsilon(0.005));
  const Ran none = rough_palin("split " + file + " --pull 0,0,1 --slide 28,15");
  CHECK(none.code == 1);
  CHECK(none.err.find("no vector") != std::string::npos);
}

TEST_CASE("palin refuses in words: exit 1, stdout empty; wrong usage: exit 2", "[cli]") {
  shapes::TempDir dir;
  shapes::write_text(dir / "junk.stl", "junk");
  const auto refused = [](const std::string& args, const std::string& word) {
    const Ran r = palin(args);
    INFO(args << " -> " << r.err);
    CHECK(r.code == 1);
    CHECK(r.out.empty());
    CHECK(r.err.find(word) != std::string::npos);
  };
  refused("mesh " + (dir / "junk.stl"), "junk.stl");
  refused("mesh /no/such/file.stl", "no such file");
  refused("split " + bracket + " --pull 0,0", "no vector");
  refused("split " + bracket + " --pull 0,0,0", "no direction");
  refused("mix --need-g 100 --ratio 5", "no ratio");
  refused("mix --need-g -5 --ratio 1:1", "--need-g: \"-5\" lies outside 0.001 to 1000000");
  refused("mix --need-g 100 --ratio 1:1 --by volume", "densities");
  refused("size /no/such.json", "cannot be read");
  shapes::write_text(dir / "bad.json",
                     "{\"sizes\":[{\"nominal_mm\":5,\"lower_mm\":6,\"upper_mm\":4}],\"silicone\":{\"shrink_pct\":0.1},"
                     "\"resin\":{\"shrink_pct\":0.4}}");
  refused("size " + (dir / "bad.json"), "above the upper");
  shapes::write_text(
      dir / "text.json",
      "{\"silicone\":{\"shrink_pct\":0.1},\"resin\":{\"shrink_pct\":0.4},\"sizes\":[{\"nominal_mm\":\"five\"}]}");
  refused("size " + (dir / "text.json"), "should be a number");
  refused("judge " + (dir / "text.json"), "values_mm");
  refused("job " + (dir / "junk.stl"), "no Palinform job");
  for (const char* wrong : {"", "nonsense", "mesh", "mould x.stl --form three-part", "mix --need-g ten --ratio 1:1"}) {
    const Ran r = palin(wrong);
    INFO(wrong);
    CHECK(r.code == 2);
    CHECK(r.out.empty());
    CHECK_FALSE(r.err.empty());
  }
}

TEST_CASE("palin split on the demo bracket", "[cli]") {
  const Ran r = palin("split " + bracket + " --pull 0,0,1");
  REQUIRE(r.code == 0);
  const Json j = r.json();
  CHECK(j["pull"] == Json::array({0.0, 0.0, 1.0}));
  CHECK(j["parting"]["loops"].size() == 3);  // outline, slot and pen bore
  CHECK(j["parting"]["loops"][0]["kind"] == "outer");
  CHECK(j["parting"]["loops"][1]["kind"] == "inner");
  CHECK(j["undercut_area_mm2"].get<double>() == Approx(3.14159 * 4.2 * 20).epsilon(0.06));  // the cross bore
  // What would help is named as the edit that a finding of the same job offers.
  CHECK(j["undercuts"][0]["remedies"].front() == "bore-pin");
  CHECK(j["tunnels"][0]["remedies"] == j["undercuts"][0]["remedies"]);
  CHECK_FALSE(j.contains("candidates"));
  const Json searched = palin("split " + bracket).json();
  CHECK(searched["candidates"].size() >= 5);
  CHECK(searched["bores"].size() == 2);
  REQUIRE(searched["tunnels"].size() == 1);
  CHECK(searched["tunnels"][0]["diameter_mm"].get<double>() == Approx(4.2).margin(0.01));
  CHECK(searched["undercuts"][0]["reach_mm"].get<double>() == Approx(10).margin(1));
  CHECK(searched["undercuts"][0]["verdict"] == "needs-help");
  CHECK(searched["pull"] == j["pull"]);
  CHECK(without_times(palin("split " + bracket).out) == without_times(palin("split " + bracket + " --search").out));
}

TEST_CASE("palin split: openings are listed, and what is said of one changes the part", "[cli]") {
  const std::string file = PALINFORM_DEMO_MESHES "/timer_housing.stl --pull 0,0,1";
  const Ran plain = rough_palin("split " + file);
  REQUIRE(plain.code == 0);
  const Json all = plain.json()["openings"];
  REQUIRE(all.size() == 6);
  CHECK(all[0]["dealt_with"].is_null());
  CHECK(all[0]["along_pull"] == true);
  CHECK(all[1]["along_pull"] == false);  // in the end wall
  REQUIRE(plain.json()["tunnels"].size() == 1);
  CHECK(plain.json()["tunnels"][0]["remedies"].front() == "opening");
  CHECK(all[5]["diameter_mm"].get<double>() == Approx(6).epsilon(0.02));
  shapes::TempDir dir;
  const Ran said = rough_palin("split " + file + " --opening 2=fill --opening 1=plate:1 --out " + (dir / "sheets"));
  REQUIRE(said.code == 0);
  const Json j = said.json();
  CHECK(j["openings"][1]["dealt_with"] == "fill");
  CHECK(j["part_mm3"].get<double>() - plain.json()["part_mm3"].get<double>() ==
        Approx(all[1]["volume_mm3"].get<double>()).epsilon(0.02));
  CHECK(j["tunnels"].empty());
  CHECK(std::filesystem::exists(dir / "sheets/plate_1.dxf"));
  for (const char* wrong : {"7=fill", "0=fill", "1=glue", "fill", "1=meet:2", "1=plug:x"}) {
    const Ran refused = rough_palin("split " + file + " --opening " + wrong);
    CHECK(refused.code == 1);
    CHECK(refused.err.find("--opening") != std::string::npos);
  }
}

TEST_CASE("palin --progress: a line that only grows while the nodes work", "[cli]") {
  const Ran r = palin("--rough --progress split " + bracket + " --pull 0,0,1");
  REQUIRE(r.code == 0);
  std::vector<int> told;
  for (size_t at = r.err.find('%'); at != std::string::npos; at = r.err.find('%', at + 1))
    told.push_back(std::atoi(r.err.substr(at - 4, 3).c_str()));
  REQUIRE(told.size() > 5);
  CHECK(std::is_sorted(told.begin(), told.end()));
  CHECK(told.back() > 60);
}

TEST_CASE("palin mould: the volumes add up", "[cli]") {
  const Ran r = palin("mould " + bracket + " --form two-part --wall 12 --master-g 29.8");
  REQUIRE(r.code == 0);
  const Json j = r.json();
  const double box = j["box_mm"]["inner"][0].get<double>() * j["box_mm"]["inner"][1].get<double>() *
                     j["box_mm"]["inner"][2].get<double>();
  CHECK(j["part_mm3"].get<double>() + j["rubber_mm3"]["total"].get<double>() == Approx(box).epsilon(1e-3));
  CHECK(j["rubber_mm3"]["pours"].size() == 2);
  CHECK(j["box_mm"]["inner"][0].get<double>() == Approx(92 + 24).margin(0.05));
  CHECK(j["panels"].size() == 5);
  CHECK(j["hold_down_N"].is_number());
}

TEST_CASE("palin mould: every form, with the contract's keys; files that are sound", "[cli]") {
  shapes::TempDir dir;
  REQUIRE(palinform::save_mesh(shapes::box({0, 0, 0}, {24, 16, 8}, 3), dir / "block.stl"));
  const std::string block = dir / "block.stl";
  for (const char* form : {"open", "two-part", "squeeze", "cut", "skin", "putty", "strip"}) {
    INFO(form);
    const Ran r = rough_palin("mould " + block + " --pull 0,0,1 --flat 0,0,-1 --copies 4 --keys rim --form " + form);
    REQUIRE(r.code == 0);
    const Json j = r.json();
    CHECK(j["form"] == form);
    CHECK(j["works"] == true);
    CHECK(j["part_mm3"].get<double>() == Approx(24 * 16 * 8));
    CHECK(j["rubber_mm3"]["total"].get<double>() > 1000);
    double sum = 0;
    for (const Json& p : j["rubber_mm3"]["pours"]) sum += p["volume_mm3"].get<double>();
    CHECK(sum == Approx(j["rubber_mm3"]["total"].get<double>()));
    CHECK(j["forms"].size() == 9);
    CHECK(j["files"].empty());
    CHECK(j["findings"].is_array());
  }
  // What does not suit is said, not refused.
  const Json pieces = rough_palin("mould " + block + " --pull 0,0,1 --form pieces").json();
  CHECK(pieces["works"] == false);
  CHECK(pieces["findings"].dump().find("form-no") != std::string::npos);
  // Cup and core without a bore cannot be built.
  const Ran none =
      rough_palin("mould " + block + " --pull 0,0,1 --form cup-core --rubber-casting --out " + (dir / "no"));
  CHECK(none.code == 1);
  CHECK(none.out.empty());
  CHECK(none.err.find("bore") != std::string::npos);
  const Ran made =
      rough_palin("mould " + block + " --pull 0,0,1 --form two-part --keys studs --voxel 0.5 --out " + (dir / "out"));
  REQUIRE(made.code == 0);
  const Json m = made.json();
  CHECK(m["assembly_unique"] == true);
  CHECK(m["keys"].size() == 4);
  for (const Json& k : m["keys"]) CHECK(k["radius_mm"].get<double>() > 1);
  size_t stl = 0, dxf = 0;
  for (const Json& f : m["files"]) {
    const std::string path = f;
    CHECK(std::filesystem::file_size(path) > 100);
    if (path.ends_with(".dxf")) ++dxf;
    if (!path.ends_with(".stl")) continue;
    ++stl;
    CHECK(palin("mesh " + path).json()["sound"] == true);
  }
  CHECK(stl == 4);  // board, frame, both halves
  CHECK(dxf == 2);  // section, panels
  // Every other form writes what it is built of, with gate and vents where there are halves.
  const std::pair<const char*, std::vector<const char*>> wanted[] = {
      {"open", {"rubber_whole"}},
      {"cut", {"rubber_whole"}},
      {"putty", {"rubber_whole"}},
      {"skin", {"jacket_a", "jacket_b", "skin"}},
      {"strip", {"strip_bar", "strip_frame", "strip_rubber"}},
      {"squeeze", {"parting_board", "rubber_half_a", "rubber_half_b"}}};
  for (const auto& [form, names] : wanted) {
    INFO(form);
    const Ran r =
        rough_palin("mould " + block + " --pull 0,0,1 --flat 0,0,-1 --copies 4 --voxel 1.2 --gate 24,8,1 --form " +
                    std::string(form) + " --out " + (dir / form));
    REQUIRE(r.code == 0);
    for (const char* name : names) {
      const std::string path = dir / (std::string(form) + "/" + name + ".stl");
      REQUIRE(std::filesystem::exists(path));
      CHECK(palin("mesh " + path).json()["sound"] == true);
    }
  }
  // One half brushed and backed in the box: told as written, and the three together are what the box holds.
  const Ran brushed = rough_palin("mould " + block +
                                  " --pull 0,0,1 --form two-part --voxel 0.5 --brushed a --coats \"1 1.5 1.5\" --out " +
                                  (dir / "brushed"));
  REQUIRE(brushed.code == 0);
  const Json half = brushed.json();
  REQUIRE(half["brushed"]["half"] == "a");
  CHECK(half["brushed"]["coats"].size() == 3);
  const double rubber = half["rubber_mm3"]["total"], backing = half["brushed"]["backing_mm3"];
  CHECK(rubber + backing == Approx(m["rubber_mm3"]["total"].get<double>()).epsilon(1e-6));
  CHECK(half["built_mm3"]["rubber"].get<double>() == Approx(rubber).epsilon(0.01));
  CHECK(half["built_mm3"]["jacket"].get<double>() == Approx(backing).epsilon(0.01));
  for (const char* name : {"rubber_half_a", "backing_a", "rubber_half_b"})
    CHECK(palin("mesh " + (dir / (std::string("brushed/") + name + ".stl"))).json()["sound"] == true);
  CHECK(rough_palin("mould " + block + " --form squeeze --brushed a").code == 1);
  // Two masters under one skin: as told, so built.
  const Ran together =
      rough_palin("mould " + block + " --pull 0,0,1 --form two-part --masters 2 --voxel 0.5 --brushed a --out " +
                  (dir / "together"));
  REQUIRE(together.code == 0);
  const Json both = together.json();
  CHECK(both["built_mm3"]["rubber"].get<double>() == Approx(both["rubber_mm3"]["total"].get<double>()).epsilon(0.01));
  CHECK(both["built_mm3"]["jacket"].get<double>() ==
        Approx(both["brushed"]["backing_mm3"].get<double>()).epsilon(0.01));
  CHECK(rough_palin("mould " + block + " --form two-part --brushed c").code == 2);
  CHECK(rough_palin("mould " + block + " --form two-part --voxel 9").code == 1);  // a number, out of its range
  CHECK(rough_palin("mould " + block + " --form open --flat 0,0,0").code == 1);
}

TEST_CASE("palin split: pieces, ways, witness, and the sheets it writes", "[cli]") {
  shapes::TempDir dir;
  const Ran r = rough_palin("split " + bracket + " --pull 0,0,1 --out " + (dir / "out"));
  REQUIRE(r.code == 0);
  const Json j = r.json();
  // Every form once, and the two over a bed on each of the three.
  CHECK(j["ways"].size() == 13);
  CHECK(j["best"]["form"].is_string());
  for (const char* key : {"form", "way", "line", "works", "advised", "cost", "hands_min", "rubber_mm3", "climb_mm",
                          "steepest_deg", "why"})
    for (const Json& w : j["ways"]) CHECK(w.contains(key));
  size_t advised = 0;
  for (const Json& w : j["ways"]) advised += w["recommended"] == true;
  CHECK(advised == 1);
  CHECK(j["witness"].is_array());
  REQUIRE(j["thin_rubber"].size() == 2);  // both bores
  CHECK(j["thin_rubber"][0]["kind"] == "peg");
  CHECK(j["files"].size() == 6);  // clay bed and one pin, three files each
  for (const Json& f : j["files"]) CHECK(std::filesystem::file_size(f.get<std::string>()) > 500);
  CHECK(palinform::read_file(dir / "out/pin_1.dxf")->find("AC1009") != std::string::npos);
}

TEST_CASE("palin mix: M9's case to the gram", "[cli]") {
  const Json j = palin("mix --need-g 200 --ratio 100:10 --by weight --scale 1 --waste-pct 2 --tare 31").json();
  CHECK(j["a_g"] == 182.0);
  CHECK(j["b_g"] == 18.0);
  CHECK(j["ratio_error_pct"].get<double>() == Approx(-1.0989).margin(1e-3));
  CHECK(j["readings_g"] == Json::array({31.0, 213.0, 231.0}));
  const Json cups =
      palin("mix --need-g 600 --ratio 1:1 --by volume --density-a 1.02 --density-b 1.1 --cup-ml 1000 --foam 4").json();
  CHECK(cups["batches"].size() == 3);
}

TEST_CASE("palin size and judge: the methods' cases", "[cli]") {
  shapes::TempDir dir;
  shapes::write_text(
      dir / "size.json",
      R"({"master":"original","silicone":{"shrink_pct":0.1,"u_pct":0.02,"alpha_per_k":0.00025},"resin":{"shrink_pct":0.4,"u_pct":0.05},
    "gel_c":21,"room_c":21,"flash_mm":{"mean":0.08,"u":0.05},"sizes":[{"name":"Length","kind":"outer","formed_by":"rubber","nominal_mm":50,"lower_mm":49.7,"upper_mm":50.3,"u_mm":0.01},
    {"name":"Bore","kind":"bore","formed_by":"rubber","nominal_mm":8,"lower_mm":8,"upper_mm":8.015,"u_mm":0.005}]})");
  const Json s = palin("size " + (dir / "size.json")).json();
  CHECK(s["sizes"][0]["predicted_mm"].get<double>() == Approx(49.7502).margin(5e-5));
  CHECK(s["sizes"][1]["verdict"] == "misses");
  CHECK(s["tightest"] == "Bore");
  CHECK(s["scale"]["x"] == 1.0);
  CHECK_FALSE(s["sizes"][1]["remedies"].empty());
  shapes::write_text(
      dir / "judge.json",
      R"({"rule":"guard","sizes":[{"name":"A","values_mm":[10.02,10.02,10.02],"resolution_mm":0.01,"instrument_u_mm":0.005,"lower_mm":9.95,"upper_mm":10.05},
    {"name":"B","values_mm":[10.2],"resolution_mm":0.01,"instrument_u_mm":0.005,"lower_mm":9.95,"upper_mm":10.05}]})");
  const Json v = palin("judge " + (dir / "judge.json")).json();
  CHECK(v["sizes"][0]["u_mm"].get<double>() == Approx(0.0058).margin(5e-5));
  CHECK(v["sizes"][0]["verdict"] == "conforms");
  CHECK(v["sizes"][1]["verdict"] == "fails");
  CHECK(v["overall"] == "fails");
}

TEST_CASE("palin flow: where air stays, and what pot and vacuum leave", "[cli]") {
  shapes::TempDir dir;
  REQUIRE(palinform::save_mesh(shapes::box({0, 0, 0}, {40, 40, 20}), dir / "box.stl"));
  const std::string box = dir / "box.stl";
  CHECK(palin("flow " + box + " --up 0,0,1 --vent 20,20,20 --voxel 1").json()["trapped_mm3"].get<double>() ==
        Approx(0).margin(1e-6));
  const Json j = palin("flow " + box + " --up 0,0,1 --vent 0,20,10 --gate 20,20,0 --voxel 1 --pressure-kpa 400").json();
  CHECK(j["trapped_mm3"].get<double>() == Approx(16000).epsilon(0.02));
  CHECK(j["cavity_mm3"].get<double>() == Approx(32000));
  REQUIRE(j["pockets"].size() == 1);
  CHECK(j["pockets"][0]["volume_after_mm3"].get<double>() ==
        Approx(0.202 * j["pockets"][0]["volume_mm3"].get<double>()).epsilon(3e-3));
  CHECK(j["fill_time_min"].get<double>() > 0);
  CHECK(palin("flow " + box + " --up 0,0,1 --voxel 1").json()["fill_time_min"].is_null());  // no gate, no time
  CHECK(palin("flow " + box + " --up 0,0,1 --gate 20,0,2 --voxel 1 --viscosity 900000")
            .json()["fill_time_min"]
            .is_null());
  CHECK(palin("flow " + box + " --up 0,0,1 --open 20,20,20,6 --voxel 1").json()["trapped_mm3"].get<double>() ==
        Approx(0).margin(1e-6));
  CHECK(palin("flow " + box + " --up 0,0,0").code == 1);
  CHECK(palin("flow " + box).code == 2);
}

TEST_CASE("palin flow --plan: its figure is what the sweep says of it; kept and barred places are heeded", "[cli]") {
  shapes::TempDir dir;
  REQUIRE(palinform::save_mesh(shapes::box({0, 0, 0}, {40, 12, 20}, 3), dir / "box.stl"));
  const std::string box = dir / "box.stl";
  const Json j = palin("flow " + box + " --plan --voxel 0.8").json();
  REQUIRE(j.contains("plan"));
  for (const char* key : {"up", "tilt_deg", "azimuth_deg", "gate", "vents"}) CHECK(j["plan"].contains(key));
  CHECK(j["plan"]["tried"].size() >= 400);
  CHECK(j["plan"]["tilt_deg"].get<double>() <= 45);
  CHECK(j["plan"]["vents"].size() <= 6);
  const auto point = [](const Json& v) {
    std::string s;
    for (const auto& x : v) s += (s.empty() ? "" : ",") + x.dump();
    return s;
  };
  std::string again = "flow " + box + " --voxel 0.8 --up " + point(j["up"]);
  for (const auto& v : j["plan"]["vents"]) again += " --vent " + point(v);
  CHECK(palin(again).json()["trapped_mm3"].get<double>() == Approx(j["trapped_mm3"].get<double>()).margin(0.5));
  CHECK(j["fill_time_min"].get<double>() > 0);
  const Json kept = palin("flow " + box + " --plan --voxel 0.8 --max-tilt-deg 0 --vent 20,6,20 --gate 0,6,3").json();
  CHECK(kept["plan"]["tilt_deg"].get<double>() == 0);
  CHECK(kept["plan"]["vents"][0][0].get<double>() == Approx(20));
  CHECK(kept["plan"]["gate"][0].get<double>() == Approx(0).margin(1e-6));
  CHECK(palin("flow " + box + " --plan --max-vents 0 --voxel 1").json()["plan"]["left_mm3"].get<double>() > 9000);
  CHECK(palin("flow " + box + " --plan --max-tilt-deg 120").code == 1);
}

TEST_CASE("palin days: M13's case by one mould and by two", "[cli]") {
  shapes::TempDir dir;
  const auto file = [&](const std::string& moulds) {
    shapes::write_text(
        dir / "d.json",
        R"({"start":"2026-11-30T08:00","bench":[{"days":"mon-sun","from":"08:00","to":"17:00"}],"people":1,"castings":8,"moulds":)" +
            moulds +
            R"(,"moulds_max":3,"mould":{"hands_min":0,"cure_min":0,"pours":0},"cast":{"hands_min":30,"cure_min":1440}})");
    return palin("days " + (dir / "d.json"));
  };
  const Json one = file("1").json();
  CHECK(one["makespan_h"].get<double>() >= 8 * 24);
  CHECK(one["makespan_h"].get<double>() < 8.6 * 24);
  CHECK(one["tasks"].size() == 8);
  CHECK(one["by_moulds"].size() == 3);
  const Json two = file("2").json();
  CHECK(two["makespan_h"].get<double>() >= 4 * 24);
  CHECK(two["makespan_h"].get<double>() < 4.6 * 24);
  CHECK(file("\"auto\"").json()["finish"].get<std::string>() <= two["finish"].get<std::string>());
  CHECK(file("0").code == 1);
  shapes::write_text(dir / "bad.json", R"({"start":"2026-11-31T08:00"})");
  CHECK(palin("days " + (dir / "bad.json")).code == 1);
}

TEST_CASE("palin demo, job and sheet", "[cli]") {
  shapes::TempDir dir;
  const Ran made = palin("demo " + (dir / "demo"));
  REQUIRE(made.code == 0);
  CHECK(made.json()["jobs"].size() == 15);
  const std::string file = dir / "demo/pen-arm-bracket.palinform";
  const Ran job = rough_palin("job " + file);
  REQUIRE(job.code == 0);
  const Json j = job.json();
  CHECK(j["stages"].size() == 10);
  CHECK(j["ready"] == false);
  CHECK(j["tally"]["rubber_g"].get<double>() > 250);
  bool misses = false;
  for (const Json& s : j["sizes"]) misses |= s["verdict"] == "misses";
  CHECK(misses);
  CHECK(rough_palin("job " + file).out == job.out);
  REQUIRE(rough_palin("sheet " + file + " --pdf " + (dir / "bracket.pdf")).code == 0);
  if (std::system("command -v pdftotext >/dev/null 2>&1") == 0) {
    REQUIRE(std::system(("pdftotext -layout " + (dir / "bracket.pdf") + " " + (dir / "t.txt")).c_str()) == 0);
    const std::string text = *palinform::read_file(dir / "t.txt");
    for (const char* word :
         {"Pen-arm bracket", "STOP", "Pen bore", "Weighing", "isocyanates", "Signed", "side a", "Steps"})
      CHECK(text.find(word) != std::string::npos);
  }
  // The same sheet is the same file, whenever it is written; a job of two sizes and no shape yet shows it as well.
  const std::string bare = dir / "sizes.palinform";
  {
    palinform::Job sizes;
    sizes.id = std::string(32, 'a'), sizes.name = "Two sizes";
    for (const char* id : {"s1", "s2"}) {
      palinform::MeasuredSize size;
      size.id = size.name = id, size.nominal_mm = 12, size.lower_mm = 11.9, size.upper_mm = 12.1;
      sizes.original.sizes.push_back(size);
    }
    shapes::write_text(bare, palinform::job_to_json(sizes));
  }
  for (const char* paper : {"a4", "letter"}) {
    const std::string one = dir / "one.pdf", two = dir / "two.pdf";
    REQUIRE(rough_palin("sheet " + bare + " --pdf " + one + " --paper " + paper).code == 0);
    std::this_thread::sleep_for(std::chrono::milliseconds(1100));  // into another second: the date must not show
    REQUIRE(rough_palin("sheet " + bare + " --pdf " + two + " --paper " + paper).code == 0);
    const std::string written = *palinform::read_file(one);
    CHECK(written.starts_with("%PDF"));
    CHECK(written == *palinform::read_file(two));
  }
}

TEST_CASE("Ctrl+C stops a long run with 130", "[cli]") {
  shapes::TempDir dir;
  REQUIRE(palinform::save_mesh(shapes::torus(40, 12, 1200, 500), dir / "big.stl"));
  const Ran r = interrupted_palin("mesh", dir / "big.stl");
  CHECK(r.code == 130);
  CHECK(r.out.empty());
}

TEST_CASE("palin fit: the keys and the refusals", "[cli]") {
  const Ran r = palin("fit 25H7/g6");
  REQUIRE(r.code == 0);
  const Json j = r.json();
  CHECK(j["hole"]["lower_mm"].get<double>() == 25);
  CHECK(j["hole"]["upper_mm"].get<double>() == Approx(25.021));
  CHECK(j["shaft"]["lower_mm"].get<double>() == Approx(24.980));
  CHECK(j["shaft"]["upper_mm"].get<double>() == Approx(24.993));
  CHECK(j["clearance_mm"]["min"].get<double>() == Approx(0.007));
  CHECK(j["clearance_mm"]["max"].get<double>() == Approx(0.041));
  for (const char* wrong : {"25H7", "25g6/H7", "600H7/g6", "25Q9/g6", "x"}) {
    const Ran w = palin(std::string("fit ") + wrong);
    CHECK(w.code == 1);
    CHECK(w.out.empty());
    CHECK(w.err.size() > 20);
  }
  CHECK(palin("fit").code == 2);
}

TEST_CASE("palin learn: the keys, exact data, the refusals", "[cli]") {
  shapes::TempDir dir;
  shapes::write_text(dir / "l.json", R"({"prior":{"shrink_pct":0.5,"u_pct":0.1},"castings":[{"sizes":[
    {"name":"A","formed_by":"rubber","master_mm":50,"measured_mm":49.7,"u_mm":0.01},
    {"name":"B","formed_by":"rubber","master_mm":92,"measured_mm":91.448,"u_mm":0.01},
    {"name":"C","formed_by":"across-line","master_mm":23,"measured_mm":22.952,"u_mm":0.01}]}]})");
  const Ran r = palin("learn " + (dir / "l.json"));
  REQUIRE(r.code == 0);
  const Json j = r.json();
  CHECK(j["total_shrink_pct"]["value"].get<double>() == Approx(0.6));
  CHECK(j["flash_mm"]["value"].get<double>() == Approx(0.09));
  CHECK(j["posterior"]["shrink_pct"].get<double>() > 0.59);
  CHECK(j["posterior"]["u_pct"].get<double>() < j["total_shrink_pct"]["u"].get<double>());
  CHECK(j["residuals"].size() == 3);
  for (
      const char* wrong :
      {R"({})",
       R"({"prior":{"shrink_pct":0.5,"u_pct":0},"castings":[{"sizes":[{"master_mm":1,"measured_mm":1,"u_mm":0.1}]}]})",
       R"({"prior":{"shrink_pct":0.5,"u_pct":0.1},"castings":[{"sizes":[{"master_mm":"x","measured_mm":1,"u_mm":0.1}]}]})"}) {
    shapes::write_text(dir / "w.json", wrong);
    CHECK(palin("learn " + (dir / "w.json")).code == 1);
  }
}

TEST_CASE("palin size: a scale for each axis, finishing, second generation, draws", "[cli]") {
  shapes::TempDir dir;
  const std::string head =
      R"("silicone":{"shrink_pct":0.1,"u_pct":0.01,"alpha_per_k":0},"resin":{"shrink_pct":0.4,"u_pct":0.02},"gel_c":21,"room_c":21,"flash_mm":{"mean":0.08,"u":0.02})";
  const std::string sizes =
      R"("sizes":[{"name":"X","kind":"outer","formed_by":"rubber","axis":"x","nominal_mm":50,"lower_mm":50.17,"upper_mm":50.23,"u_mm":0.005},
    {"name":"Y","kind":"outer","formed_by":"rubber","axis":"y","nominal_mm":40,"lower_mm":39.87,"upper_mm":39.93,"u_mm":0.005}])";
  shapes::write_text(dir / "axes.json", R"({"master":"scaled-per-axis",)" + head + "," + sizes + "}");
  shapes::write_text(dir / "one.json", R"({"master":"scaled",)" + head + "," + sizes + "}");
  const Ran r = palin("size " + (dir / "axes.json") + " --draws 20000"), one = palin("size " + (dir / "one.json"));
  REQUIRE(r.code == 0);
  const Json j = r.json();
  CHECK(j["scale"]["x"].get<double>() == Approx(50.2 / (50 * 0.999 * 0.996)).epsilon(1e-5));
  CHECK(j["scale"]["y"].get<double>() == Approx(39.9 / (40 * 0.999 * 0.996)).epsilon(1e-5));
  for (const Json& s : j["sizes"]) CHECK(s["verdict"] == "holds");
  CHECK(j["draws"]["agrees"] == true);
  CHECK(j["conflicts"].empty());
  REQUIRE(one.code == 0);
  CHECK(one.json()["conflicts"].size() == 1);
  CHECK(one.json()["conflicts"][0]["wants_more"] == "X");
  CHECK(one.json()["sizes"][0]["verdict"] == "misses");
  shapes::write_text(dir / "gen.json", R"({"master":"original","generations":2,)" + head + "," + sizes + "}");
  CHECK(palin("size " + (dir / "gen.json")).json()["sizes"][0]["predicted_mm"].get<double>() ==
        Approx(50 * std::pow(0.999 * 0.996, 2)));
  shapes::write_text(dir / "bad.json",
                     R"({"master":"original",)" + head +
                         R"(,"sizes":[{"name":"X","axis":"q","nominal_mm":5,"lower_mm":4,"upper_mm":6}]})");
  CHECK(palin("size " + (dir / "bad.json")).code == 1);
}

TEST_CASE("palin mesh: STEP in, overlapping shells united, the wrap told", "[cli]") {
  shapes::TempDir dir;
  REQUIRE(palinform::save_mesh(
      shapes::joined(shapes::box({0, 0, 0}, {10, 10, 10}), shapes::box({5, 5, 5}, {15, 15, 15})), dir / "two.stl"));
  const Ran r = palin("mesh " + (dir / "two.stl") + " --repair --out " + (dir / "one.3mf"));
  REQUIRE(r.code == 0);
  const Json j = r.json();
  CHECK(j["sound"] == true);
  CHECK(j["components"] == 1);
  CHECK(j["volume_mm3"].get<double>() == Approx(1875));
  CHECK(j["repaired"]["method"] == "exact");
  CHECK(j["repaired"]["volume_change_mm3"].get<double>() == Approx(-125));
  CHECK(palin("mesh " + (dir / "one.3mf")).json()["sound"] == true);
}

TEST_CASE("palin mould --form open needs no mark: a slab's best flat face stands up", "[cli]") {
  shapes::TempDir files;
  REQUIRE(save_mesh(shapes::box({0, 0, 0}, {40, 30, 8}, 4), files / "slab.stl"));
  const Ran r = rough_palin("mould " + (files / "slab.stl") + " --form open");
  REQUIRE(r.code == 0);
  const Json j = r.json();
  CHECK(j["works"] == true);
  CHECK(j["open_face"]["verdict"] == "draws");
  CHECK(j["open_face"]["share"].get<double>() > 0.95);
  CHECK(j["rubber_mm3"]["total"].get<double>() > 1000);
}

TEST_CASE("palin job prints the procedure, and the longest sheet lies on two pages at the bench", "[cli]") {
  shapes::TempDir dir;
  REQUIRE(palin("demo " + (dir / "demo")).code == 0);
  const std::string job = (dir / "demo") + "/case-finial.palinform";
  const Json j = rough_palin("job " + job).json();
  REQUIRE(j["procedure"].size() > 40);
  int windows = 0;
  double g = 0;
  for (const Json& s : j["procedure"]) {
    for (const char* key : {"id", "kind", "block", "what", "hands_min", "wait", "needs", "amounts"})
      CHECK(s.contains(key));
    if (s["kind"] == "weigh" && s["wait"].is_object() && s["wait"]["latest_min"].is_number()) {
      CHECK(s["wait"]["latest_min"] >= s["wait"]["earliest_min"]);
      ++windows;
    }
    for (const Json& a : s["amounts"]) g += a["g"].get<double>();
  }
  CHECK(windows == 8);  // coats two to five of either side
  CHECK(g > 1000);
  const Json pages = rough_palin("sheet " + job + " --pdf " + (dir / "sheet.pdf")).json();
  CHECK(pages["bench_pages"] <= 2);
  CHECK(pages["pages"] > pages["bench_pages"]);
}

TEST_CASE("palin days: several jobs, a pot, promised dates, days off", "[cli]") {
  shapes::TempDir dir;
  const auto file = [&](const std::string& more) {
    shapes::write_text(
        dir / "d.json",
        R"({"start":"2026-11-30T08:00","bench":[{"days":"mon-sun","from":"08:00","to":"17:00"}],)" + more + "}");
    return palin("days " + (dir / "d.json"));
  };
  const std::string pot = R"("cast":{"hands_min":30,"cure_min":1440,"pot_min":1440}})";
  const Json two = file(R"("pots":1,"jobs":[{"name":"A","castings":2,"moulds":2,)" + pot +
                        R"(,{"name":"B","due":"2026-12-01","castings":1,"moulds":1,)" + pot + "]")
                       .json();
  CHECK(two["tasks"].size() == 3);
  CHECK(two["makespan_h"].get<double>() >= 72);
  CHECK(two["jobs"].size() == 2);
  CHECK(two["jobs"][1]["late_h"].get<double>() == 0);  // brought forward
  CHECK(two["proven"].get<bool>());
  CHECK(two["gap_h"].get<double>() == 0);
  for (const auto& t : two["tasks"]) CHECK(t["resource"].get<std::string>() == "person, pot");
  const Json off = file(R"("people":2,"holidays":["2026-11-30"],"castings":1,"moulds":1,"moulds_max":1,)"
                        R"("mould":{"hands_min":30,"cure_min":60,"pours":1,"rubber_g":400,"cost":20},)"
                        R"("cast":{"hands_min":30,"cure_min":60,"cost":3})")
                       .json();
  CHECK(off["tasks"][0]["start"].get<std::string>() == "2026-12-01T08:00");
  CHECK(off["by_moulds"][0]["rubber_g"].get<double>() == 400);
  CHECK(off["by_moulds"][0]["cost"].get<double>() == 23);
  CHECK(
      file(
          R"("people":0,"castings":1,"moulds":1,"mould":{"hands_min":1,"cure_min":1},"cast":{"hands_min":1,"cure_min":1})")
          .code == 1);
}

TEST_CASE("palin compare, why and quote answer with their keys, and refuse in words", "[cli]") {
  shapes::TempDir dir;
  const std::string bracket = std::string(PALINFORM_DEMO_MESHES) + "/dial_pointer.stl";
  const Json same = palin("compare " + bracket + " " + bracket + " --limit 0.01 --map " + (dir / "map.ply")).json();
  CHECK(same["aligned"]["rms_mm"].get<double>() < 1e-4);
  CHECK(same["within_limit_pct"].get<double>() == Approx(100));
  CHECK(same["covered_pct"].get<double>() > 99);
  CHECK(same["same_part"].get<bool>());
  CHECK(std::filesystem::exists(dir / "map.ply"));
  const Ran inches = palin("compare " + bracket + " " + bracket + " --datum 1,2");
  CHECK(inches.code == 1);
  shapes::write_text(
      dir / "w.json",
      R"({"seen":{"fault":"void","pocket_distance_mm":1},"record":{"tilt_deg":10,"tilt_planned_deg":10}})");
  const Json why = palin("why " + (dir / "w.json")).json();
  CHECK(why["causes"][0]["cause"].get<std::string>() == "no-way-out");
  CHECK(why["causes"][0]["p"].get<double>() > 0.8);
  CHECK(why["change"]["cause"].get<std::string>() == "no-way-out");
  shapes::write_text(dir / "w.json", R"({"seen":{"fault":"grumpy"}})");
  const Ran bad = palin("why " + (dir / "w.json"));
  CHECK(bad.code == 1);
  CHECK(bad.err.find("tacky") != std::string::npos);
  REQUIRE(palin("demo " + (dir / "demo")).code == 0);
  // A job with a scan and what was seen on its castings travels whole.
  const Json job = palin("job " + (dir / "demo/corner-ornament,-first-set.palinform")).json();
  CHECK(job["copies"].get<int>() == 6);
  const Json quote =
      rough_palin("quote " + (dir / "demo/case-corner-ornament.palinform") + " --pdf " + (dir / "q.pdf")).json();
  REQUIRE(quote["per_copy"].size() >= 5);
  double sum = 0;
  for (const auto& l : quote["lines"]) sum += l["cost"].get<double>();
  CHECK(sum == Approx(quote["cost"].get<double>()));
  CHECK(quote["total"].get<double>() == Approx(1.25 * sum));
  // More copies of one mould cost less each.
  double before = 1e300;
  for (const auto& p : quote["per_copy"]) {
    CHECK(p["price"].get<double>() < before);
    before = p["price"].get<double>();
  }
  CHECK(std::filesystem::file_size(dir / "q.pdf") > 1000);
  // A workshop's own rules and what it has confirmed count where it is named; one that is not there is refused.
  const std::string shop = " --workshop " + (dir / "demo/workshop.sqlite");
  shapes::write_text(dir / "w.json", R"({"seen":{"fault":"tacky"}})");
  const double plain = palin("why " + (dir / "w.json")).json()["causes"][0]["p"].get<double>();
  const Json taught = palin("why " + (dir / "w.json") + shop).json();
  CHECK(taught["causes"][0]["p"].get<double>() > plain);  // the demo shop has found the ratio twice
  CHECK(taught["causes"][0]["for"][0].get<std::string>().find("2 times") != std::string::npos);
  CHECK(rough_palin("quote " + (dir / "demo/case-corner-ornament.palinform") + shop).json()["total"].get<double>() > 0);
  CHECK(palin("why " + (dir / "w.json") + " --workshop " + (dir / "none.sqlite")).code == 1);
  CHECK_FALSE(std::filesystem::exists(dir / "none.sqlite"));
}

TEST_CASE("palin flow --insert takes a mesh out of the cavity, and refuses one that cannot lie so", "[cli]") {
  shapes::TempDir dir;
  const auto solid = [&](const char* name, const std::string& text) {
    shapes::write_text(dir / "s.json", text);
    const std::string out = dir / name;
    REQUIRE(palin("solid " + (dir / "s.json") + " --out " + out).code == 0);
    return out;
  };
  const std::string block = solid(
      "block.stl",
      R"({"unit":"mm","add":[{"shape":"plate","at":[0,0,0],"axis":[0,0,1],"length_mm":40,"width_mm":30,"height_mm":20}]})");
  const std::string rod =
      solid("rod.stl",
            R"({"unit":"mm","add":[{"shape":"bar","at":[-10,0,10],"axis":[1,0,0],"length_mm":20,"diameter_mm":6}]})");
  const double whole = rough_palin("flow " + block + " --up 0,0,1").json()["cavity_mm3"].get<double>();
  const Json with = rough_palin("flow " + block + " --up 0,0,1 --insert " + rod).json();
  CHECK(whole == Approx(24000).epsilon(2e-3));
  CHECK(with["cavity_mm3"].get<double>() == Approx(24000 - 3.14159265 * 9 * 20).epsilon(2e-3));
  CHECK(with["inserts"][0]["gap_mm"].get<double>() == Approx(7).epsilon(0.01));
  CHECK(with["inserts"][0]["lift_N"].get<double>() < 0);
  CHECK(with["findings"][0]["code"].get<std::string>() == "insert-loose");
  const std::string flush =
      solid("flush.stl",
            R"({"unit":"mm","add":[{"shape":"bar","at":[-20,0,10],"axis":[1,0,0],"length_mm":40,"diameter_mm":6}]})");
  const Ran touches = rough_palin("flow " + block + " --up 0,0,1 --insert " + flush);
  CHECK(touches.code == 1);
  CHECK(touches.err.find("touches the wall") != std::string::npos);
  const std::string before =
      solid("before.stl",
            R"({"unit":"mm","add":[{"shape":"bar","at":[14,0,10],"axis":[1,0,0],"length_mm":4,"diameter_mm":8}]})");
  CHECK(rough_palin("flow " + block + " --up 0,0,1 --gate 20,0,10 --insert " + before).err.find("blocks the gate") !=
        std::string::npos);
}

}  // namespace tests_cli_cli
