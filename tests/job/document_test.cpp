// The job's document: every field has a range or a length and is refused by its name; older documents read for ever;
// nothing in it grows faster than n log n.
#include <catch2/catch.hpp>
#include <chrono>

#include "base/check_fields.hpp"
#include "base/json_fields.hpp"
#include "base/zip.hpp"
#include "job/job.hpp"
#include "job/parts.hpp"
#include "ledger/archive.hpp"
#include "mesh/save.hpp"
#include "shapes.hpp"

namespace tests_job_document {

using namespace palinform;

namespace {

double seconds(const std::function<void()>& work) {
  const auto start = std::chrono::steady_clock::now();
  work();
  return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
}

nlohmann::json plain() { return nlohmann::json::parse(job_to_json(Job{})); }

std::string refused(const nlohmann::json& j) {
  const auto r = job_from_json(j.dump(), "x.json");
  return r ? "" : r.error().text();
}

/// Every place in the document that holds a number, as JSON pointers.
void numbers_in(const nlohmann::json& j, const std::string& path, std::vector<std::string>& out) {
  if (j.is_number()) out.push_back(path);
  if (j.is_object())
    for (const auto& [k, v] : j.items()) numbers_in(v, path + "/" + k, out);
  if (j.is_array())
    for (size_t i = 0; i < j.size(); ++i) numbers_in(j[i], path + "/" + std::to_string(i), out);
}

}  // namespace

TEST_CASE("no number of a job may be out of all reason: each is refused by its name", "[job]") {
  std::vector<std::string> places;
  const auto base = plain();
  numbers_in(base, "", places);
  REQUIRE(places.size() > 40);
  for (const std::string& at : places) {
    for (const double bad : {1e300, -1e300}) {
      auto j = base;
      j[nlohmann::json::json_pointer(at)] = bad;
      INFO(at << " = " << bad);
      const std::string told = refused(j);
      CHECK_FALSE(told.empty());
      if (at == "/schema") continue;
      // The last key of the path, as a name or as words.
      const std::string key = at.substr(at.rfind('/') + 1);
      const bool named = told.find(key) != std::string::npos || told.find(field_words(key).name) != std::string::npos ||
                         std::isdigit(static_cast<unsigned char>(key[0]));
      CHECK(named);
    }
    auto j = base;
    j[nlohmann::json::json_pointer(at)] = "seven";
    CHECK_FALSE(refused(j).empty());
  }
}

TEST_CASE("schemas that are none, names with what cannot be seen, ten million letters", "[job]") {
  for (const char* schema : {"-1", "0", "1.5", "18446744073709551616", "\"6\"", "null", "[6]"}) {
    INFO(schema);
    CHECK_FALSE(job_from_json("{\"schema\":" + std::string(schema) + "}", "x"));
  }
  CHECK_FALSE(job_from_json("{\"schema\":6,\"copies\":1e9991}", "x"));  // found by the fuzz target
  auto j = plain();
  j["name"] = std::string("a\x01z");
  CHECK(refused(j).find("control characters") != std::string::npos);
  j["name"] = std::string(10'000'000, 'n');
  CHECK(refused(j).find("longer than") != std::string::npos);
  j = plain();
  j["check"]["castings"] = {{{"number", -3}}};
  CHECK(refused(j).find("number must be from 1") != std::string::npos);
  j["check"]["castings"] = {{{"number", 4294967296.0}}};
  CHECK_FALSE(refused(j).empty());
  // Brackets a million deep ask a parser that recurses for more stack than there is.
  CHECK_FALSE(
      job_from_json("{\"schema\":6,\"x\":" + std::string(1'000'000, '[') + std::string(1'000'000, ']') + "}", "x"));
}

TEST_CASE("counts have limits, and many keys cost no more than many keys", "[job]") {
  auto j = plain();
  nlohmann::json size = {{"id", "s"}, {"name", "A"}, {"nominal_mm", 5}, {"lower_mm", 4.9}, {"upper_mm", 5.1}};
  j["original"]["sizes"] = nlohmann::json::array();
  for (int i = 0; i < 1001; ++i) {
    size["id"] = "s" + std::to_string(i + 1);
    j["original"]["sizes"].push_back(size);
  }
  CHECK(refused(j).find("1\u00A0000") != std::string::npos);
  j["original"]["sizes"].erase(1000);
  CHECK(refused(j) == "");
  std::string keys = "{\"schema\":6";
  for (int i = 0; i < 200'000; ++i) keys += ",\"k" + std::to_string(i) + "\":1";
  keys += "}";
  CHECK(seconds([&] { CHECK(job_from_json(keys, "x")); }) < 20);  // it took minutes
  Job many;
  for (int i = 0; i < 1000; ++i) {
    MeasuredSize s;
    s.id = new_size_id(many);
    many.original.sizes.push_back(s);
  }
  CHECK(many.original.sizes.back().id == "s1000");
}

TEST_CASE("documents of schema 5 read as what they said, and are written as schema 9", "[job]") {
  const auto read = [](const char* file) {
    const auto text = read_file(std::string(JOB_DATA) + "/" + file);
    REQUIRE(text);
    auto job = job_from_json(*text, file);
    INFO((job ? "" : job.error().text()));
    REQUIRE(job);
    return *job;
  };
  const Job b = read("schema5_bracket.json");
  CHECK(b.name == "Pen-arm bracket");
  CHECK(b.client == "Saltmarsh Tide Office");
  CHECK(b.copies == 2);
  CHECK(b.original.mesh.hash == "35146918f2443136bb5c5222e10e895c");
  CHECK(b.original.mesh.triangles == 43998);
  REQUIRE(b.original.sizes.size() == 8);
  CHECK(b.original.sizes[0].lower_mm == 91.75);
  CHECK(b.original.sizes[0].readings_mm == std::vector<double>{92.02, 91.99, 92.01});
  CHECK(b.mix.silicone_id == "add-40-translucent");
  CHECK(b.size.room_c == 21);
  CHECK(b.size.gel_c == 32);
  CHECK_FALSE(b.days.start.empty());
  CHECK(b.days.bench.days[0]);
  CHECK_FALSE(b.days.bench.days[6]);
  CHECK(b.check.castings.size() == 1);
  const Job l = read("schema5_latch.json");
  CHECK_FALSE(l.original.master_steps.empty());
  CHECK(l.original.master_steps[0].kind == MasterStep::Kind::mirror);
  for (const Job& j : {b, l}) {
    const auto again = job_from_json(job_to_json(j), "again");
    REQUIRE(again);
    CHECK(*again == j);
  }
  // What lay flat lies under its stage now.
  const auto now = nlohmann::json::parse(job_to_json(b));
  CHECK(now["schema"] == 9);
  CHECK(now["mix"]["silicone"] == "add-40-translucent");
  CHECK_FALSE(now.contains("silicone"));
}

TEST_CASE("schema 7: the times of steps keep to their steps under the names they have now", "[job]") {
  const auto job = job_from_json(R"({"schema":7,"name":"J","days":{"changes":{
      "box":{"hands_min":90},"mix-a":{"hands_min":7},"cast-mix-2":{"hands_min":4},"cast-degas-1":{"hands_min":6},
      "cast-pour-1":{"wait_min":300},"demould-1":{"hands_min":3}}}})",
                                 "J");
  REQUIRE(job);
  const auto& c = job->days.changes;
  CHECK(c.size() == 6);
  CHECK(c.at("box").hands_min == 90.0);
  CHECK(c.at("stir-a").hands_min == 7.0);
  CHECK(c.at("stir-cast-2").hands_min == 4.0);
  CHECK(c.at("degas-cast-1").hands_min == 6.0);
  CHECK(c.at("pour-cast-1").wait_min == 300.0);
  CHECK(c.at("demould-1").hands_min == 3.0);
}

TEST_CASE("schema 5: bed, keys, scale of the needs, limits left out", "[job]") {
  const auto j = job_from_json(
      R"({"schema":5,"build":{"bed_mm":[180,200]},"keys":{"kind":"bars","places_mm":[[1,2,3]]},
          "needs":{"shore_low":30,"shore_scale":"A"},"axis_scale":[1.01,1.02,1.03],"room_c":18,
          "split_marks":{"a":[{"point_mm":[1,2,3],"radius_mm":4}]},
          "sizes":[{"name":"A","nominal_mm":5}]})",
      "x");
  REQUIRE(j);
  CHECK(j->mould.build.bed_u_mm == 180);
  CHECK(j->mould.build.bed_v_mm == 200);
  CHECK(j->mould.keys == "bars");
  CHECK(j->mould.key_places == std::vector<Vec3>{{1, 2, 3}});
  CHECK_FALSE(j->mix.needs.shore_is_d);
  CHECK(j->size.axis_scale.y == 1.02);
  CHECK(j->size.gel_c == 18);
  CHECK(j->split.marks.to_a[0].radius_mm == 4);
  CHECK(j->original.sizes[0].upper_mm == 5);
}

TEST_CASE("an archive is unpacked within limits, checked, and its mesh is checked like any other", "[job]") {
  Job job;
  job.id = new_id();  // without one each reading gives it another
  const TriMesh cube = shapes::box({0, 0, 0}, {10, 10, 10});
  job.original.mesh = {hash_of(cube).hex(), "cube.stl", LengthUnit::mm, cube.triangles.size()};
  CHECK(read_archive(*archive_bytes(job, &cube), "a.palinform"));
  // A coordinate that is no number, rightly hashed.
  TriMesh nan = cube;
  nan.points[0].x = std::nan("");
  job.original.mesh.hash = hash_of(nan).hex();
  const auto r = read_archive(*archive_bytes(job, &nan), "nan.palinform");
  REQUIRE_FALSE(r);
  CHECK(r.error().text().find("no usable number") != std::string::npos);
  // A document of 100 MB packed small, and another entry as large: the one is refused, the other never unpacked.
  ZipContent bomb{{"job.json", std::string(100'000'000, ' ')}};
  CHECK_FALSE(read_archive(*make_zip(bomb), "bomb.palinform"));
  job.original.mesh = {};
  ZipContent padded{
      {"job.json", job_to_json(job)}, {"padding", std::string(300'000'000, 'x')}, {"../../outside", "no"}};
  CHECK(read_archive(*make_zip(padded), "padded.palinform"));
  // One bit of the stored document: the checksum does not fit any more.
  ZipContent stored{{"job.json", job_to_json(job)}};
  std::string bytes = *make_zip(stored);
  int refused_bits = 0, tried = 0;
  for (size_t at = 40; at < bytes.size() / 2; at += 7, ++tried) {
    std::string flipped = bytes;
    flipped[at] = static_cast<char>(flipped[at] ^ 4);
    const auto got = read_archive(flipped, "flipped.palinform");
    if (!got)
      ++refused_bits;
    else
      CHECK(got->job == job);  // it may hit what nothing reads, but never another figure
  }
  CHECK(refused_bits > tried / 2);
}

}  // namespace tests_job_document
