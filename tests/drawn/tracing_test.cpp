// Outlines from pictures that were rendered here, seen aslant.
#include <catch2/catch.hpp>
#include <functional>
#include <numbers>
#include <random>

#include "drawn/solid.hpp"

namespace tests_drawn_tracing {

using namespace palinform;
using std::numbers::pi;

namespace {

/// A camera that looks at the plane z = 0 from a distance, leaning; pixels from millimetres.
struct Camera {
  double lean_rad, distance_mm, focal_px;
  int width, height;
  Pixel px(const Point2& p, double z = 0) const {
    const double y = p.y * std::cos(lean_rad) + z * std::sin(lean_rad),
                 depth = distance_mm + p.y * std::sin(lean_rad) - z * std::cos(lean_rad);
    return {width / 2.0 + focal_px * p.x / depth, height / 2.0 - focal_px * y / depth};
  }
  /// Where a pixel's ray meets the plane at height z.
  Point2 mm(const Pixel& q, double z = 0) const {
    const double u = (q.x - width / 2.0) / focal_px, v = (height / 2.0 - q.y) / focal_px, c = std::cos(lean_rad),
                 s = std::sin(lean_rad);
    const double y = (v * (distance_mm - z * c) - z * s) / (c - v * s);
    return {u * (distance_mm + y * s - z * c), y};
  }
};

/// The picture of a plane: `paint` gives the brightness at a place; 4 × 4 rays a pixel, and some noise.
GreyPicture photograph(const Camera& c, const std::function<double(const Point2&)>& paint, double z = 0) {
  GreyPicture g{c.width, c.height, {}};
  std::mt19937 random(7);
  std::normal_distribution<double> noise(0, 2);
  for (int j = 0; j < c.height; ++j)
    for (int i = 0; i < c.width; ++i) {
      double sum = 0;
      for (int a = 0; a < 4; ++a)
        for (int b = 0; b < 4; ++b) sum += paint(c.mm({i + (a + 0.5) / 4, j + (b + 0.5) / 4}, z));
      g.grey.push_back(static_cast<uint8_t>(std::clamp(sum / 16 + noise(random), 0.0, 255.0)));
    }
  return g;
}

/// As a hand clicks: some pixels off.
PathNode clicked(const Pixel& p, NodeKind kind, std::mt19937& random) {
  std::uniform_real_distribution<double> off(-3, 3);
  return {p.x + off(random), p.y + off(random), kind, 0};
}

}  // namespace

TEST_CASE("a knob traced from a photograph at a slant comes out within half a per cent", "[drawn]") {
  // A fluted knob: a disc of 40 mm with a flat cut at 15 mm and a round hole, on a sheet of 120 by 80 mm.
  const double R = 20, flat = 15, hole = 4;
  const auto paint = [&](const Point2& p) {
    const double d = std::hypot(p.x, p.y);
    if (d < hole) return 200.0;
    if (d < R && p.x < flat) return 50.0;
    if (std::abs(p.x) < 60 && std::abs(p.y) < 40) return 230.0;
    return 110.0;
  };
  const double half = std::sqrt(R * R - flat * flat), sector = std::acos(flat / R);
  const double area = pi * R * R - (R * R * sector - flat * half) - pi * hole * hole;
  for (const double lean_deg : {0.0, 12.0, 25.0}) {
    INFO("leaning " << lean_deg << "°");
    const Camera camera{lean_deg * pi / 180, 450, 2600, 1000, 800};
    const GreyPicture photo = photograph(camera, paint);
    std::mt19937 random(11);
    Tracing t;
    t.picture = "x", t.width_px = photo.width, t.height_px = photo.height;
    t.scale.way = PhotoScale::Way::rectangle;
    t.scale.wide_mm = 120, t.scale.deep_mm = 80;
    size_t k = 0;
    for (const Point2& c : {Point2{-60, -40}, {60, -40}, {60, 40}, {-60, 40}}) {
      const PathNode n = clicked(camera.px(c), NodeKind::corner, random);
      t.scale.corners[k++] = {n.x, n.y};
    }
    // The sheet's own edges sharpen its corners as a loop's do.
    TracedLoop sheet;
    for (const Pixel& c : t.scale.corners) sheet.path.push_back({c.x, c.y, NodeKind::corner, 0});
    sheet = sharpened(sheet, photo, 8);
    for (size_t i = 0; i < 4; ++i) t.scale.corners[i] = {sheet.path[i].x, sheet.path[i].y};
    TracedLoop outline;
    outline.mm = 10;
    outline.path = {clicked(camera.px({flat, -half}), NodeKind::corner, random),
                    clicked(camera.px({flat, half}), NodeKind::corner, random),
                    clicked(camera.px({-R, 0}), NodeKind::arc, random)};
    TracedLoop bore;
    bore.means = TracedLoop::Means::hole;
    for (const double a : {0.3, 1.7, 2.9, 4.4})
      bore.path.push_back(clicked(camera.px({hole * std::cos(a), hole * std::sin(a)}), NodeKind::arc, random));
    const auto scale = photo_map(t.scale);
    REQUIRE(scale);
    t.loops = {sharpened(outline, photo, 8, &*scale), sharpened(bore, photo, 8, &*scale)};
    const auto bodies = traced_bodies(t);
    REQUIRE(bodies);
    CHECK(bodies->slant_deg == Approx(lean_deg).margin(3));
    CHECK(bodies->u_mm < 0.35);
    Drawn d;
    d.tracing = t;
    const auto solid = draw_solid(d);
    REQUIRE(solid);
    CHECK(measure(solid->mesh).volume_mm3 == Approx(area * 10).epsilon(0.002));
    const Vec3 size = measure(solid->mesh).box_mm.size();
    CHECK(size.x == Approx(R + flat).epsilon(0.002));
    CHECK(size.y == Approx(2 * R).epsilon(0.002));
    CHECK(size.z == Approx(10));
    CHECK(solid->u_mm == bodies->u_mm);
  }
}

TEST_CASE("a face above the ruler's plane is too large until the height is said", "[drawn]") {
  const Camera camera{0, 300, 2000, 800, 600};
  const auto paint = [](const Point2& p) { return std::abs(p.x) < 25 && std::abs(p.y) < 15 ? 40.0 : 220.0; };
  const GreyPicture photo = photograph(camera, paint, 18);
  Tracing t;
  t.picture = "x";
  t.scale.way = PhotoScale::Way::distance;
  t.scale.ends = {camera.px({-50, 0}), camera.px({50, 0})};
  t.scale.distance_mm = 100;
  TracedLoop l;
  l.mm = 18;
  for (const Point2& c : {Point2{-25, -15}, {25, -15}, {25, 15}, {-25, 15}}) {
    const Pixel p = camera.px(c, 18);
    l.path.push_back({p.x + 2, p.y - 2, NodeKind::corner, 0});
  }
  t.loops = {sharpened(l, photo, 6)};
  const auto width = [&] {
    Drawn d;
    d.tracing = t;
    const auto s = draw_solid(d);
    REQUIRE(s);
    return measure(s->mesh).box_mm.size().x;
  };
  CHECK(width() == Approx(50 * 300 / 282.0).epsilon(0.002));
  t.scale.off_plane_mm = 18;
  const auto guessed = traced_bodies(t);
  REQUIRE(guessed);
  CHECK(guessed->parallax_guessed);
  CHECK(guessed->u_scale > 0.02);
  t.scale.camera_mm = 300;
  CHECK(width() == Approx(50).epsilon(0.002));
  CHECK_FALSE(traced_bodies(t)->parallax_guessed);
}

TEST_CASE("scales by dots and distance; and what is no scale", "[drawn]") {
  PhotoScale s;
  CHECK_FALSE(photo_map(s));
  s.way = PhotoScale::Way::dots, s.dpi = 254;
  auto m = photo_map(s);
  REQUIRE(m);
  CHECK(m->mm({100, 0}).x == Approx(10));
  CHECK(m->mm({0, 100}).y == Approx(-10));
  CHECK(m->px({10, -10}).x == Approx(100));
  CHECK(m->mm_per_px({5, 5}) == Approx(0.1));
  s.way = PhotoScale::Way::distance, s.ends = {Pixel{100, 100}, Pixel{400, 500}}, s.distance_mm = 50;
  CHECK(photo_map(s)->mm_per_px({5, 5}) == Approx(0.1));
  s.ends[1] = {103, 100};
  CHECK_FALSE(photo_map(s));
  s.way = PhotoScale::Way::rectangle, s.wide_mm = 210, s.deep_mm = 297;
  s.corners = {Pixel{0, 0}, {100, 0}, {0, 100}, {100, 100}};  // crossed over
  CHECK_FALSE(photo_map(s));
  // Clicked either way round, the picture is not mirrored.
  for (const bool clockwise : {true, false}) {
    s.corners = {Pixel{0, 0}, {210, 0}, {210, 297}, {0, 297}};
    s.wide_mm = 210, s.deep_mm = 297;
    if (!clockwise) std::swap(s.corners[1], s.corners[3]), std::swap(s.wide_mm, s.deep_mm);
    m = photo_map(s);
    REQUIRE(m);
    const Point2 o = m->mm({50, 50}), right = m->mm({60, 50}), down = m->mm({50, 60});
    CHECK((right.x - o.x) * (down.y - o.y) - (right.y - o.y) * (down.x - o.x) == Approx(-100));
  }
}

TEST_CASE("steps and holes of a traced face", "[drawn]") {
  Tracing t;
  t.picture = "x";
  t.scale.way = PhotoScale::Way::dots, t.scale.dpi = 254;  // 0.1 mm a pixel
  const auto square = [](double x, double y, double half) {
    return Path{{x - half, y - half}, {x + half, y - half}, {x + half, y + half}, {x - half, y + half}};
  };
  t.loops = {{TracedLoop::Means::outline, square(300, 300, 200), 5, 0},
             {TracedLoop::Means::raised, square(200, 300, 50), 3, 0},
             {TracedLoop::Means::sunk, square(400, 300, 50), 2, 0},
             {TracedLoop::Means::hole, square(300, 420, 20), 0, 0}};
  Drawn d;
  d.tracing = t;
  const auto s = draw_solid(d);
  REQUIRE(s);
  CHECK(measure(s->mesh).volume_mm3 == Approx(40 * 40 * 5 + 10 * 10 * 3 - 10 * 10 * 2 - 4 * 4 * 5));
  const Box3 box = measure(s->mesh).box_mm;
  CHECK(box.min.z == Approx(0).margin(1e-9));
  CHECK(box.max.z == Approx(8));
  d.tracing.loops[0].mm = 0;
  CHECK_FALSE(d.complete());
}

}  // namespace tests_drawn_tracing
