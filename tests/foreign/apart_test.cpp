// Files from elsewhere, read and mended in a process of its own: whatever happens there, this one goes on.
#include <sys/stat.h>

#include <catch2/catch.hpp>
#include <chrono>
#include <cstdlib>
#include <random>
#include <thread>

#include "foreign/apart.hpp"
#include "mesh/save.hpp"
#include "shapes.hpp"

namespace tests_foreign_apart {

using namespace palinform;

namespace {

ApartLimits limits() {
  ApartLimits l;
  l.helper = PALIN;
  return l;
}
/// A helper that does what the shell script says instead.
std::string script(const std::string& path, const std::string& body) {
  shapes::write_text(path, "#!/bin/sh\n" + body + "\n");
  ::chmod(path.c_str(), 0755);
  return path;
}
double seconds(const std::function<void()>& work) {
  const auto start = std::chrono::steady_clock::now();
  work();
  return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
}

}  // namespace

TEST_CASE("read apart, a file gives just what it gives when read here", "[foreign]") {
  shapes::TempDir dir;
  REQUIRE(std::system((std::string(STEP_WRITER) + " " + dir.str()).c_str()) == 0);
  REQUIRE(save_mesh(shapes::icosphere(10, 4), dir / "ball.stl"));
  for (const char* file : {"plate.step", "inch.stp", "ball.stl"}) {
    INFO(file);
    double most = 0;
    const Progress told([&](double f) { most = std::max(most, f); });
    const auto here = load_mesh(dir / file), apart = load_mesh_apart(dir / file, std::nullopt, told, limits());
    REQUIRE(here);
    REQUIRE(apart);
    CHECK(apart->mesh == here->mesh);
    CHECK(apart->exact == here->exact);
    CHECK(apart->unit == here->unit);
    CHECK(apart->unit_from_file == here->unit_from_file);
    CHECK(apart->deflection_mm == here->deflection_mm);
    CHECK(apart->format == here->format);
    CHECK(most > 0.5);
  }
  const auto none = load_mesh_apart(dir / "none.stl", std::nullopt, Progress::none(), limits());
  REQUIRE_FALSE(none);
  CHECK(none.error().what == load_mesh(dir / "none.stl").error().what);
}

TEST_CASE("mended apart, a mesh is what it is when mended here", "[foreign]") {
  TriMesh open = shapes::box({0, 0, 0}, {20, 20, 20});
  open.triangles.pop_back();
  const auto here = mend(open), apart = mend_apart(open, {}, Progress::none(), limits());
  REQUIRE(here);
  REQUIRE(apart);
  CHECK(apart->mesh == here->mesh);
  CHECK(apart->report.words() == here->report.words());
  CHECK(apart->report.after == here->report.after);
  TriMesh sheet;
  sheet.points = {{0, 0, 0}, {10, 0, 0}, {0, 10, 0}};
  sheet.triangles = {{0, 1, 2}};
  const auto refused = mend_apart(sheet, {}, Progress::none(), limits());
  REQUIRE_FALSE(refused);
  CHECK(refused.error().text() == mend(sheet).error().text());
}

TEST_CASE("sixty damaged STEP files: each is read or refused in words, none takes this process with it", "[foreign]") {
  shapes::TempDir dir;
  REQUIRE(std::system((std::string(STEP_WRITER) + " " + dir.str()).c_str()) == 0);
  const std::string good = *read_file(dir / "plate.step");
  std::mt19937 rnd(3);
  int read = 0, refused = 0;
  for (int round = 0; round < 60; ++round) {
    std::string bad = good;
    for (int k = 0; k < 4; ++k) {
      const size_t at = rnd() % bad.size();
      switch (rnd() % 3) {
        case 0:
          bad[at] = static_cast<char>(' ' + rnd() % 90);
          break;
        case 1:
          bad.erase(at, rnd() % 20);
          break;
        default:
          bad.insert(at, bad.substr(rnd() % bad.size(), rnd() % 30));
      }
    }
    shapes::write_text(dir / "bad.step", bad);
    const auto r = load_mesh_apart(dir / "bad.step", std::nullopt, Progress::none(), limits());
    if (r) {
      ++read;
      CHECK(check_mesh(r->mesh, "bad"));
    } else {
      ++refused;
      CHECK(r.error().text().size() > 20);
    }
  }
  INFO(read << " read, " << refused << " refused");
  CHECK(read + refused == 60);
  // Brackets a million deep.
  shapes::write_text(dir / "deep.step", good.substr(0, good.find("DATA;") + 5) + "\n#1=X(" +
                                            std::string(1'000'000, '(') + std::string(1'000'000, ')') +
                                            ");\nENDSEC;\nEND-ISO-10303-21;\n");
  CHECK_FALSE(load_mesh_apart(dir / "deep.step", std::nullopt, Progress::none(), limits()));
}

TEST_CASE("STEP: every reference of a good file broken one by one, and the file cut short, is refused in words",
          "[foreign]") {
  shapes::TempDir dir;
  REQUIRE(std::system((std::string(STEP_WRITER) + " " + dir.str()).c_str()) == 0);
  const std::string good = *read_file(dir / "plate.step");
  const double volume = measure(load_mesh(dir / "plate.step")->mesh).volume_mm3;
  // References: '#' and digits after the '=' of an entity. Every ninth, so that the test stays short; all once by hand.
  std::vector<size_t> places;
  for (size_t at = good.find("DATA;"); at < good.size(); ++at) {
    if (good[at] != '#' || good[at - 1] == '\n') continue;
    places.push_back(at);
  }
  REQUIRE(places.size() > 300);
  int refused = 0, whole = 0;
  for (size_t k = 0; k < places.size(); k += 9) {
    std::string broken = good;
    size_t end = places[k] + 1;
    while (std::isdigit(static_cast<unsigned char>(broken[end]))) ++end;
    broken.replace(places[k], end - places[k], "#999999");
    shapes::write_text(dir / "broken.step", broken);
    const auto r = load_mesh_apart(dir / "broken.step", std::nullopt, Progress::none(), limits());
    if (!r) {
      ++refused;
      continue;
    }
    // A reference that no shape hangs on (a name, a colour): the part is whole.
    INFO(broken.substr(places[k] - 40, 80));
    CHECK(measure(r->mesh).volume_mm3 == Approx(volume));
    ++whole;
  }
  INFO(refused << " refused, " << whole << " read whole");
  CHECK(refused > whole);
  for (int k = 1; k <= 30; ++k) {
    shapes::write_text(dir / "cut.step", good.substr(0, good.size() * static_cast<size_t>(k) / 31));
    CHECK_FALSE(load_mesh_apart(dir / "cut.step", std::nullopt, Progress::none(), limits()));
  }
}

TEST_CASE("a helper that dies, hangs, hoards or lies is a refusal", "[foreign]") {
  shapes::TempDir dir;
  REQUIRE(save_mesh(shapes::icosphere(10, 6), dir / "ball.stl"));
  const auto with = [&](const std::string& body) {
    ApartLimits l;
    l.helper = script(dir / "helper", body);
    l.seconds = 1;
    return load_mesh_apart(dir / "ball.stl", std::nullopt, Progress::none(), l);
  };
  CHECK(with("kill -SEGV $$").error().text().find("damaged") != std::string::npos);
  CHECK(with("exit 3").error().text().find("memory") != std::string::npos);
  CHECK(with("exit 0").error().text().find("damaged") != std::string::npos);
  CHECK(with("echo rubbish > $4").error().text().find("nothing that can be read") != std::string::npos);
  CHECK(with("head -c 100000 /dev/urandom").error().text().size() > 10);
  Result<LoadedMesh> slow = Error{};
  CHECK(seconds([&] { slow = with("sleep 30"); }) < 5);
  CHECK(slow.error().text().find("longer than 1 second") != std::string::npos);
  ApartLimits missing;
  missing.helper = dir / "nowhere";
  CHECK(load_mesh_apart(dir / "ball.stl", std::nullopt, Progress::none(), missing).error().text().find("missing") !=
        std::string::npos);
  ApartLimits poor = limits();
  poor.memory_bytes = 200'000'000;
  const auto starved = load_mesh_apart(dir / "ball.stl", std::nullopt, Progress::none(), poor);
  if (!starved) CHECK(starved.error().text().size() > 10);  // small machines load the program in less
}

TEST_CASE("a cancel is heard at once, whatever the other process is at", "[foreign]") {
  shapes::TempDir dir;
  ApartLimits l;
  l.helper = script(dir / "helper", "sleep 30");
  const Progress progress;
  std::thread later([&] {
    std::this_thread::sleep_for(std::chrono::milliseconds(200));
    progress.cancel();
  });
  Result<LoadedMesh> r = Error{};
  CHECK(seconds([&] { r = load_mesh_apart(dir / "x.stl", std::nullopt, progress, l); }) < 1.5);
  later.join();
  CHECK(r.error().cancelled);
}

TEST_CASE("meshes of odd sizes are asked about, or refused beyond ten metres", "[foreign]") {
  shapes::TempDir dir;
  const auto sized = [&](double mm) {
    REQUIRE(save_mesh(scaled(shapes::box({0, 0, 0}, {1, 1, 1}), mm), dir / "box.stl"));
    return load_mesh(dir / "box.stl");
  };
  CHECK(sized(100)->question.empty());
  CHECK(sized(3000)->question.find("3 m across") != std::string::npos);
  const auto huge = sized(50'000);
  REQUIRE_FALSE(huge);
  CHECK(huge.error().text().find("50 m across") != std::string::npos);
  CHECK_FALSE(sized(1e-4));
}

}  // namespace tests_foreign_apart
