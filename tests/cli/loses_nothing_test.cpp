// `palin` touches nothing it did not write, says nothing is done that is not, and stops when it is asked to.
#include <catch2/catch.hpp>
#include <chrono>
#include <filesystem>

#include "palin.hpp"

namespace tests_cli_loses_nothing {

TEST_CASE("palin demo refuses a folder with a workshop in it, whatever it holds", "[cli]") {
  shapes::TempDir dir;
  for (const char* name : {"workshop.sqlite", "workshop.sqlite-wal", "workshop.sqlite-shm"}) {
    std::filesystem::create_directories(dir / "x");
    REQUIRE(palinform::write_file(dir / (std::string("x/") + name), std::string("somebody's work")));
    const Ran r = palin("demo " + (dir / "x"));
    INFO(name << r.err);
    CHECK(r.code == 1);
    CHECK(r.out.empty());
    CHECK(r.err.find("nothing was touched") != std::string::npos);
    CHECK(*palinform::read_file(dir / (std::string("x/") + name)) == "somebody's work");
    std::filesystem::remove_all(dir / "x");
  }
  REQUIRE(palin("demo " + (dir / "y")).code == 0);
  const std::string before = *palinform::read_file(dir / "y/workshop.sqlite");
  CHECK(palin("demo " + (dir / "y")).code == 1);
  CHECK(*palinform::read_file(dir / "y/workshop.sqlite") == before);
}

TEST_CASE("palin mesh --repair: sheets are told at once, no empty and no unsound file is left", "[cli]") {
  shapes::TempDir dir;
  palinform::TriMesh one;
  one.points = {{0, 0, 0}, {30, 0, 0}, {0, 20, 0}};
  one.triangles = {{0, 1, 2}};
  palinform::TriMesh two = shapes::joined(one, palinform::transformed(one, palinform::Transform::move({0, 0, 9})));
  palinform::TriMesh folded = shapes::box({0, 0, 0}, {10, 10, 10});
  folded.points[7] = {-4, -4, -4};  // a corner pushed through the opposite one
  for (const auto& [name, mesh] : {std::pair{"one", one}, {"two", two}}) {
    const std::string in = dir / (std::string(name) + ".stl"), out = dir / (std::string(name) + "-out.stl");
    REQUIRE(palinform::save_mesh(mesh, in));
    const auto began = std::chrono::steady_clock::now();
    const Ran r = palin("mesh " + in + " --repair --out " + out);
    INFO(name << r.err);
    CHECK(r.code == 1);
    CHECK(r.err.find("sheet") != std::string::npos);
    CHECK_FALSE(std::filesystem::exists(out));
    CHECK(std::chrono::steady_clock::now() - began < std::chrono::seconds(20));
  }
  REQUIRE(palinform::save_mesh(folded, dir / "folded.stl"));
  const Ran r = palin("mesh " + (dir / "folded.stl") + " --repair --out " + (dir / "folded-out.stl"));
  if (r.code == 0) {
    // Done means done: what was written is sound when it is read again.
    CHECK(palin("mesh " + (dir / "folded-out.stl")).out.find("\"sound\": true") != std::string::npos);
  } else {
    CHECK_FALSE(std::filesystem::exists(dir / "folded-out.stl"));
  }
}

TEST_CASE("Ctrl+C stops palin job", "[cli]") {
  shapes::TempDir dir;
  REQUIRE(palin("demo " + (dir / "d")).code == 0);
  std::string job;
  for (const auto& e : std::filesystem::recursive_directory_iterator(dir / "d"))
    if (e.path().extension() == ".palinform") job = e.path().string();
  REQUIRE_FALSE(job.empty());
  const Ran r = interrupted_palin("job", job);
  CHECK(r.code == 130);
  CHECK(r.out.empty());
}

}  // namespace tests_cli_loses_nothing
