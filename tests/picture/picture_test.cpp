#include <tbb/global_control.h>
#include <catch2/catch.hpp>
#include <chrono>
#include <cmath>
#include <numbers>
#include <thread>

#include "picture/overlay.hpp"
#include "picture/render.hpp"
#include "shapes.hpp"

namespace tests_picture_picture {

using namespace palinform;

namespace {

Scene scene_of(const TriMesh& m) {
  Scene s;
  Body b;
  b.shape = *make_shape(m);
  s.bodies.push_back(b);
  return s;
}
Camera camera_for(const Scene& s, int w = 200, int h = 160, double azimuth = -60, double elevation = 35) {
  Camera c;
  c.width_px = w;
  c.height_px = h;
  c.look_from(azimuth, elevation);
  c.fit(s.box_mm());
  return c;
}

}  // namespace

TEST_CASE("a ball fills a disc, and depth is its shape", "[picture]") {
  const Scene s = scene_of(shapes::icosphere(10, 5));
  const Camera c = camera_for(s, 300, 300);
  const Picture p = render(s, c, 1);
  double covered = 0;
  for (const int16_t b : p.body) covered += b >= 0;
  CHECK(covered * c.mm_per_px * c.mm_per_px == Approx(std::numbers::pi * 100).epsilon(0.01));
  for (int y = 0; y < 300; y += 7)
    for (int x = 0; x < 300; x += 7) {
      const size_t i = static_cast<size_t>(y) * 300 + static_cast<size_t>(x);
      if (p.body[i] < 0) continue;
      const Vec3 at = c.unproject(x + 0.5, y + 0.5, p.depth_mm[i]);
      CHECK(length(at) == Approx(10).epsilon(0.01));
    }
}

TEST_CASE("the same bytes with one thread and with many", "[picture]") {
  Scene s = scene_of(shapes::torus(20, 6, 64, 32));
  Body glass;
  glass.shape = *make_shape(shapes::box({-30, -30, -8}, {30, 30, 8}));
  glass.opacity = 0.3;
  s.bodies.push_back(glass);
  s.section = SectionPlane{{0, -1, 0}, 5};
  const Camera c = camera_for(s, 157, 131);
  const auto draw = [&](size_t threads) {
    tbb::global_control limit(tbb::global_control::max_allowed_parallelism, threads);
    return render(s, c, 5);
  };
  const Picture one = draw(1), many = draw(8);
  CHECK(one.argb == many.argb);
  CHECK(one.triangle == many.triangle);
  CHECK(one.argb == draw(8).argb);
}

TEST_CASE("a section takes away one side and fills the cut", "[picture]") {
  Scene s = scene_of(shapes::bored_box({20, 10, 10}, 4, 0, 64));  // bore along x
  s.section = SectionPlane{{1, 0, 0}, 0};                         // keep x ≤ 0
  Camera c;
  c.width_px = c.height_px = 200;
  c.look_from(0, 0);  // from +x, straight onto the cut
  c.fit(s.box_mm());
  const Picture p = render(s, c, 1);
  double cut = 0, through = 0;
  for (size_t i = 0; i < p.body.size(); ++i) {
    if (p.triangle[i] == Picture::cut_face && p.body[i] == 0) {
      ++cut;
      CHECK(std::abs(p.depth_mm[i] - -(0 - c.target_mm.x)) < 1e-3);
    }
    const int x = static_cast<int>(i % 200), y = static_cast<int>(i / 200);
    if (p.body[i] < 0 && std::hypot(x - 100, y - 100) * c.mm_per_px < 3.8) ++through;
  }
  CHECK(cut * c.mm_per_px * c.mm_per_px == Approx(400 - std::numbers::pi * 16).epsilon(0.02));
  CHECK(through * c.mm_per_px * c.mm_per_px == Approx(std::numbers::pi * 3.8 * 3.8).epsilon(0.05));
  s.section = SectionPlane{{1, 0, 0}, -100};  // everything gone
  for (const int16_t b : render(s, c, 1).body) CHECK(b == -1);
}

TEST_CASE("see-through bodies let the ones behind be seen and picked", "[picture]") {
  Scene s = scene_of(shapes::icosphere(5, 4));
  const Camera c = camera_for(s, 120, 120);
  const Picture bare = render(s, c, 1);
  Body glass;
  glass.shape = *make_shape(shapes::box({-9, -9, -9}, {9, 9, 9}));
  glass.opacity = 0.25;
  glass.colour = {0.2f, 0.3f, 0.9f};
  s.bodies.push_back(glass);
  const Picture both = render(s, c, 1);
  CHECK(both.body == bare.body);
  const size_t middle = 60 * 120 + 60;
  CHECK(both.argb[middle] != bare.argb[middle]);
  CHECK((both.argb[middle] & 255) > (both.argb[middle] >> 16 & 255));  // tinted blue
}

TEST_CASE("a moved body is drawn where it was moved, without a new tree", "[picture]") {
  Scene s = scene_of(shapes::icosphere(5, 4));
  Camera c = camera_for(s, 120, 120, -90, 0);
  c.mm_per_px = 0.25;
  s.bodies[0].place = Transform::move({7, 0, 0});
  const Picture p = render(s, c, 1);
  double sum = 0, n = 0;
  for (size_t i = 0; i < p.body.size(); ++i)
    if (p.body[i] >= 0) sum += static_cast<double>(i % 120) + 0.5, ++n;
  CHECK((sum / n - 60) * c.mm_per_px == Approx(7).margin(0.05));
}

TEST_CASE("no speckle at contact: a flat face in the open is lit evenly", "[picture]") {
  Scene s = scene_of(shapes::box({-20, -20, -2}, {20, 20, 0}, 6));
  Body second;  // lies on the plate, faces exactly touching
  second.shape = *make_shape(shapes::box({-3, -3, 0}, {3, 3, 1}));
  s.bodies.push_back(second);
  Camera c;
  c.width_px = c.height_px = 160;
  c.look_from(-90, 90);
  c.fit(s.box_mm());
  const Picture p = render(s, c, 16);
  int lowest = 255, highest = 0;
  for (int y = 60; y < 100; ++y)
    for (int x = 20; x < 40; ++x) {  // plate, far from the block
      const int v = static_cast<int>(p.argb[static_cast<size_t>(y) * 160 + static_cast<size_t>(x)] >> 8 & 255);
      lowest = std::min(lowest, v), highest = std::max(highest, v);
    }
  CHECK(highest - lowest <= 2);
  // The block's top is evenly lit too, and every one of its pixels belongs to it: no fighting at the shared plane.
  for (int y = 74; y < 86; ++y)
    for (int x = 74; x < 86; ++x) CHECK(p.body[static_cast<size_t>(y) * 160 + static_cast<size_t>(x)] == 1);
}

TEST_CASE("crevices are darker than open faces", "[picture]") {
  Scene s = scene_of(shapes::joined(shapes::box({0, 0, 0}, {40, 40, 2}), shapes::box({0, 18, 2}, {40, 22, 30})));
  Camera c;
  c.width_px = c.height_px = 200;
  c.look_from(-90, 89);
  c.fit(s.box_mm());
  const Picture p = render(s, c, 16);
  const auto at = [&](const Vec3& q) {
    const auto r = c.project(q);
    return static_cast<int>(p.argb[static_cast<size_t>(r.y) * 200 + static_cast<size_t>(r.x)] >> 8 & 255);
  };
  CHECK(at({20, 16.5, 2}) + 15 < at({20, 3, 2}));
}

TEST_CASE("smooth where the mesh is smooth, sharp at creases", "[picture]") {
  const TriMesh ball = shapes::icosphere(10, 3);
  const auto s = *make_shape(ball);
  double worst = 1;
  for (size_t t = 0; t < ball.triangles.size(); ++t)
    for (int k = 0; k < 3; ++k)
      worst = std::min(worst,
                       dot(unpack_normal(s->corner_normals[3 * t + static_cast<size_t>(k)]), unit(ball.corner(t, k))));
  CHECK(worst > std::cos(1.5 * std::numbers::pi / 180));
  const TriMesh cube = shapes::box({0, 0, 0}, {1, 1, 1}, 2);
  const auto c = *make_shape(cube);
  for (size_t t = 0; t < cube.triangles.size(); ++t)
    for (int k = 0; k < 3; ++k)
      CHECK(dot(unpack_normal(c->corner_normals[3 * t + static_cast<size_t>(k)]), cube.normal(t)) > 0.9999);
  for (const Vec3 n : {Vec3{1, 0, 0}, unit(Vec3{1, -2, 3}), unit(Vec3{-1, -1, -1})})
    CHECK(dot(unpack_normal(pack_normal(n)), n) > 0.999998);
}

TEST_CASE("scalars shade in steps, marks in patterns", "[picture]") {
  Scene s = scene_of(shapes::box({-10, -10, 0}, {10, 10, 1}, 8));
  const TriMesh m = shapes::box({-10, -10, 0}, {10, 10, 1}, 8);
  auto scalar = std::make_shared<std::vector<float>>();
  for (const Vec3& p : m.points) scalar->push_back(static_cast<float>(p.x));
  s.bodies[0].vertex_scalar = scalar;
  s.bodies[0].steps = {{-100, {1, 0, 0}}, {0, {0, 0, 1}}};
  Camera c;
  c.width_px = c.height_px = 100;
  c.look_from(-90, 90);
  c.fit(s.box_mm());
  const Picture p = render(s, c, 1);
  const auto red = [&](int x) { return static_cast<int>(p.argb[50 * 100 + static_cast<size_t>(x)] >> 16 & 255); };
  const auto blue = [&](int x) { return static_cast<int>(p.argb[50 * 100 + static_cast<size_t>(x)] & 255); };
  CHECK(red(30) > 100);
  CHECK(blue(30) == 0);
  CHECK(red(70) == 0);
  CHECK(blue(70) > 100);
}

TEST_CASE("a picture is given up within 20 ms of a cancel", "[picture]") {
  const Scene s = scene_of(shapes::torus(20, 6, 400, 200));
  const Camera c = camera_for(s, 1600, 1200);
  double worst = 0;
  for (int i = 0; i < 5; ++i) {
    PictureWork work(s, c);
    Progress progress;
    std::chrono::steady_clock::time_point asked;
    std::thread other([&] {
      std::this_thread::sleep_for(std::chrono::milliseconds(15));
      asked = std::chrono::steady_clock::now();
      progress.cancel();
    });
    while (work.add_pass(progress)) {}
    const auto stopped = std::chrono::steady_clock::now();
    other.join();
    worst = std::max(worst, std::chrono::duration<double, std::milli>(stopped - asked).count());
  }
  INFO("worst " << worst << " ms");
  CHECK(worst < 1000);  // a pass that ignores the cancel fails; 20 ms is measured in bench/
}

TEST_CASE("the camera: fit, orbit, zoom about a point, there and back", "[picture]") {
  const Scene s = scene_of(shapes::box({0, 0, 0}, {40, 20, 10}));
  Camera c = camera_for(s, 400, 300);
  for (int i = 0; i < 8; ++i) {
    const auto q = c.project({i & 1 ? 40.0 : 0.0, i & 2 ? 20.0 : 0.0, i & 4 ? 10.0 : 0.0});
    CHECK(q.x > 0);
    CHECK(q.x < 400);
    CHECK(q.y > 0);
    CHECK(q.y < 300);
  }
  const Vec3 p{13, 7, 9};
  const auto q = c.project(p);
  CHECK(length(c.unproject(q.x, q.y, q.depth_mm) - p) < 1e-9);
  c.zoom(2, q.x, q.y);
  const auto after = c.project(p);
  CHECK(after.x == Approx(q.x));
  CHECK(after.y == Approx(q.y));
  for (int i = 0; i < 50; ++i) c.orbit(17, -23);
  CHECK(length(c.right) == Approx(1));
  CHECK(dot(c.right, c.up) == Approx(0).margin(1e-12));
  CHECK(c.up.z >= -1e-9);
}

TEST_CASE("lines know what hides them", "[picture]") {
  const Scene s = scene_of(shapes::box({-5, -5, -5}, {5, 5, 5}, 2));
  Camera c;
  c.width_px = c.height_px = 200;
  c.look_from(-90, 0);  // from −y
  c.fit(s.box_mm());
  const Picture p = render(s, c, 1);
  // Behind the box: seen on the left and right of it, hidden in the middle.
  const auto runs = visible_runs({{-6, 8, 0}, {6, 8, 0}}, c, p, 0.05);
  REQUIRE(runs.size() == 3);
  CHECK_FALSE(runs[0].hidden);
  CHECK(runs[1].hidden);
  CHECK_FALSE(runs[2].hidden);
  const double length_px = runs[1].points.back().x - runs[1].points.front().x;
  CHECK(length_px * c.mm_per_px == Approx(10).margin(0.5));
  CHECK(visible_runs({{-6, -8, 0}, {6, -8, 0}}, c, p, 0.05).size() == 1);
  // On the surface itself: seen.
  for (const auto& r : visible_runs({{-4, -5, -4}, {4, -5, 4}}, c, p, 0.05)) CHECK_FALSE(r.hidden);
  CHECK(point_visible({0, -5, 0}, c, p, 0.05));
  CHECK_FALSE(point_visible({0, 5, 0}, c, p, 0.05));
}

TEST_CASE("labels do not collide and keep inside", "[picture]") {
  std::vector<LabelWish> wishes;
  for (int i = 0; i < 14; ++i) wishes.push_back({{300.0 + 13 * (i % 4), 200.0 + 9 * (i / 4)}, 120, 34});
  const RectPx area{0, 0, 800, 600};
  const std::vector<RectPx> part{{250, 150, 150, 120}};
  const auto placed = place_labels(wishes, area, part, {320, 210});
  for (size_t i = 0; i < placed.size(); ++i) {
    CHECK_FALSE(placed[i].crowded);
    CHECK(placed[i].rect.x >= 0);
    CHECK(placed[i].rect.y >= 0);
    CHECK(placed[i].rect.x + 120 <= 800);
    CHECK(placed[i].rect.y + 34 <= 600);
    CHECK_FALSE(placed[i].rect.overlaps(part[0]));
    for (size_t j = 0; j < i; ++j) CHECK_FALSE(placed[i].rect.overlaps(placed[j].rect));
  }
  CHECK(place_labels(wishes, area, part, {320, 210})[5].rect.x == placed[5].rect.x);
  CHECK(place_labels({{{50, 50}, 400, 400}}, {0, 0, 100, 100}, {}, {0, 0})[0].crowded);
}

TEST_CASE("picking: face, point and edge", "[picture]") {
  const TriMesh m = shapes::box({-5, -5, -5}, {5, 5, 5});
  const Scene s = scene_of(m);
  Camera c;
  c.width_px = c.height_px = 200;
  c.look_from(-90, 0);
  c.fit(s.box_mm());
  const Picture p = render(s, c, 1);
  const auto face = pick(p, c, &m, 120, 100);
  REQUIRE(face);
  CHECK(m.normal(face->triangle).y == Approx(-1));
  CHECK(face->point_mm.y == Approx(-5).margin(1e-3));
  CHECK_FALSE(face->corner_mm);
  const auto corner_at = c.project({-5, -5, 5});
  const auto corner = pick(p, c, &m, corner_at.x + 2, corner_at.y + 2);
  REQUIRE(corner);
  REQUIRE(corner->corner_mm);
  CHECK(length(*corner->corner_mm - Vec3{-5, -5, 5}) < 1e-9);
  const auto edge_at = c.project({5, -5, 1});
  const auto edge = pick(p, c, &m, edge_at.x - 2, edge_at.y);
  REQUIRE(edge);
  CHECK(edge->edge_mm);
  CHECK_FALSE(pick(p, c, &m, 3, 3));
  CHECK_FALSE(pick(p, c, &m, -5, 900));
}

}  // namespace tests_picture_picture
