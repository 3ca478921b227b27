#include <catch2/catch.hpp>
#include <random>

#include "base/hash.hpp"
#include "base/progress.hpp"
#include "base/result.hpp"
#include "base/text.hpp"
#include "base/zip.hpp"

namespace tests_base_base {

using namespace palinform;

TEST_CASE("numbers read as people write them", "[base]") {
  CHECK(parse_number(" 12.5 ") == 12.5);
  CHECK(parse_number("12,5") == 12.5);
  CHECK(parse_number("−3") == -3.0);
  CHECK(parse_number("+0.25") == 0.25);
  for (const char* bad : {"", "  ", "abc", "1.2.3", "12 mm", "nan", "inf", "1e999", "--1", "0x10"})
    CHECK_FALSE(parse_number(bad));
  CHECK(parse_numbers("25.02 25.01;25.03\n") == std::vector<double>{25.02, 25.01, 25.03});
  CHECK(parse_numbers("   ")->empty());
  CHECK_FALSE(parse_numbers("25.02 x"));
}

TEST_CASE("figures are written without locale, exponent or a negative nought", "[base]") {
  CHECK(fixed(-0.001, 2) == "0.00");
  CHECK(fixed(2.005, 1) == "2.0");
  CHECK(grouped(1234567.8, 1) == "1\u00A0234\u00A0567.8");
  CHECK(grouped(-1234) == "-1\u00A0234");
  CHECK(grouped(999) == "999");
  CHECK(significant(84.21, 2) == "84");
  CHECK(significant(0.0058, 2) == "0.0058");
  CHECK(significant(1e-12, 3) == "0.000000");
  CHECK(counted(1, "copy", "copies") == "1 copy");
  CHECK(counted(12000, "face", "faces") == "12\u00A0000 faces");
}

TEST_CASE("a hash is stable, and field borders count", "[base]") {
  // Frozen value: results kept by hash must be found again by later versions.
  CHECK(hash_of("palinform", 1, 2.5).hex() == hash_of(std::string("palinform"), int64_t{1}, 2.5).hex());
  CHECK(hash_of("ab", "c") != hash_of("a", "bc"));
  CHECK(hash_of(std::vector<double>{1}, std::vector<double>{2}) !=
        hash_of(std::vector<double>{1, 2}, std::vector<double>{}));
  CHECK(hash_of(0.0) == hash_of(-0.0));
  CHECK(hash_of(std::optional<double>{}) != hash_of(std::optional<double>{0.0}));
  const Hash128 h = hash_of(42);
  CHECK(Hash128::from_hex(h.hex()) == h);
  CHECK_FALSE(Hash128::from_hex("zz"));
}

TEST_CASE("an error says what, where and what to do", "[base]") {
  const Error e{"the file is empty", "latch.stl", "Export it again."};
  CHECK(e.text() == "latch.stl: the file is empty. Export it again.");
  const Result<int> r = e;
  CHECK_FALSE(r);
  CHECK(r.error() == e);
  CHECK(*Result<int>(7) == 7);
}

TEST_CASE("zip archives go round and damage is refused", "[base]") {
  ZipContent in{{"job.json", "{}"}, {"meshes/a.ply", std::string(100'000, 'x')}};
  const auto bytes = make_zip(in);
  REQUIRE(bytes);
  CHECK(*make_zip(in) == *bytes);  // same content, same bytes
  const auto out = unzip(*bytes, "test");
  REQUIRE(out);
  CHECK(*out == in);
  CHECK_FALSE(unzip("this is no zip", "bad.zip"));
  CHECK_FALSE(unzip(std::string_view(*bytes).substr(0, bytes->size() / 2), "cut.zip"));
  ZipLimits small;
  small.all_bytes = 1000;
  CHECK_FALSE(unzip(*bytes, "huge.zip", small));
  std::mt19937 rnd(5);
  for (int i = 0; i < 200; ++i) {
    std::string broken = *bytes;
    broken[rnd() % broken.size()] ^= static_cast<char>(1 + rnd() % 255);
    (void)unzip(broken, "broken.zip");  // must not crash; may read or refuse
  }
}

TEST_CASE("progress is heard and a cancel stays", "[base]") {
  double last = 0;
  Progress p([&](double f) { last = f; });
  p.report(0.5);
  CHECK(last == 0.5);
  CHECK_FALSE(p.cancelled());
  p.cancel();
  CHECK(p.cancelled());
}

TEST_CASE("numbers as people type them: either decimal mark, spaces between thousands, never a guess", "[base]") {
  CHECK(*parse_number("12,5") == 12.5);
  CHECK(*parse_number("12.5") == 12.5);
  CHECK(*parse_number("0,250") == 0.25);
  CHECK(*parse_number("1.200") == 1.2);
  CHECK(*parse_number("1 200") == 1200);
  CHECK(*parse_number("1\u00A0200,5") == 1200.5);
  CHECK(*parse_number("12\u202F400") == 12'400);
  CHECK(*parse_number(grouped(1234567.25, 2)) == 1234567.25);
  for (const char* two : {"1,200", "-1,200", "999,999"}) {
    INFO(two);
    CHECK_FALSE(parse_number(two));
    REQUIRE(two_readings(two));
    CHECK(two_readings(two)->second == Approx(1000 * two_readings(two)->first));
  }
  for (const char* none : {"1 20", "1 2000", " , ", "1,2,3", "1,200.5", "nan", "1e999", "12 x"}) {
    INFO(none);
    CHECK_FALSE(parse_number(none));
  }
}

}  // namespace tests_base_base
