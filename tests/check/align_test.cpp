// A scan on its master: M27's cases, and what is refused.
#include <catch2/catch.hpp>
#include <cmath>
#include <cstring>
#include <limits>
#include <numbers>
#include <random>

#include "check/deviation.hpp"
#include "check/scanned_size.hpp"
#include "mesh/load.hpp"
#include "ready_part.hpp"
#include "shapes.hpp"
#include "solid/unite.hpp"
#include "stages/judging.hpp"
#include "stages/preparation.hpp"

namespace tests_check_align {

using namespace palinform;

namespace {

/// A part no turn maps onto itself: a wedge with a step, finely meshed.
TriMesh odd_part(int cells) {
  TriMesh m = shapes::box({0, 0, 0}, {60, 35, 20}, cells);
  for (Vec3& p : m.points) {
    p.z += 0.1 * p.x * (p.z / 20);
    p.y += 0.004 * p.x * p.x / 35 * p.y;
    if (p.x > 40) p.z *= 1 + 0.02 * (p.x - 40) / 20;
  }
  return m;
}

TriMesh moved(TriMesh m, const Transform& by) { return transformed(std::move(m), by); }

double angle_deg(const Transform& t) {
  return std::acos(std::clamp(0.5 * (t.rows[0].x + t.rows[1].y + t.rows[2].z - 1), -1.0, 1.0)) * 180 / std::numbers::pi;
}

}  // namespace

TEST_CASE("a rigid move by 40 degrees and 30 mm is found again under 0.02 mm of noise", "[check]") {
  const ReadyPart master(odd_part(40));
  const Transform move = Transform::turn(unit(Vec3{1, 2, -1}), 40 * std::numbers::pi / 180)
                             .then(Transform::move(unit(Vec3{2, -1, 1}) * 30));
  TriMesh scan = moved(odd_part(50), move);
  std::mt19937 dice(3);
  std::normal_distribution<double> noise(0, 0.02);
  {
    // Along the normals, as a scanner's noise shows.
    const EdgePairs pairs = pair_edges(scan);
    std::vector<Vec3> n(scan.points.size());
    for (size_t t = 0; t < scan.triangles.size(); ++t)
      for (const uint32_t p : scan.triangles[t]) n[p] += scan.area_vector(t);
    for (size_t i = 0; i < n.size(); ++i) scan.points[i] += unit(n[i]) * noise(dice);
  }
  const auto a = align_scan(master.mesh, *master.rays, scan);
  REQUIRE(a);
  CHECK(a->rms_mm == Approx(0.02).epsilon(0.1));
  CHECK(angle_deg(a->laid.motion.then(move)) < 0.02);
  const auto d = deviation_of(master.mesh, *master.rays, scan, a->laid);
  REQUIRE(d);
  CHECK(std::abs(d->mean_mm) < 0.002);
  CHECK(d->rms_mm == Approx(0.02).epsilon(0.1));
  CHECK(d->covered_share > 0.99);
  CHECK(d->same_part);
  CHECK(within_limit_share(scan, d->mm, 0.06) > 0.99);
  // The same again, to the last bit.
  const auto again = align_scan(master.mesh, *master.rays, scan);
  CHECK(again->laid.motion == a->laid.motion);
}

TEST_CASE("a casting 0.4 % small is found small by axis", "[check]") {
  const ReadyPart master(odd_part(30));
  const Transform move = Transform::turn(unit(Vec3{0, 1, 3}), 2.1).then(Transform::move({12, 5, -7}));
  TriMesh scan = odd_part(35);
  for (Vec3& p : scan.points) p = {p.x * 0.996, p.y * 0.996, p.z * 0.993};
  scan = moved(std::move(scan), move);
  AlignOptions o;
  o.scale_free = true;
  const auto a = align_scan(master.mesh, *master.rays, scan, o);
  REQUIRE(a);
  REQUIRE(a->scale);
  CHECK(std::abs(a->scale->x - 0.996) < 3e-4);
  CHECK(std::abs(a->scale->y - 0.996) < 3e-4);
  CHECK(std::abs(a->scale->z - 0.993) < 3e-4);
  CHECK(a->rms_mm < 0.01);
}

TEST_CASE("a bump of 0.5 mm over two per cent of the skin is found there, and nowhere else", "[check]") {
  const ReadyPart master(odd_part(40));
  TriMesh scan = odd_part(60);
  const Vec3 top = master.rays->closest({20, 15, 60}).point_mm;
  // 2 % of about 9 000 mm² is a disc of 7.6 mm.
  for (Vec3& p : scan.points)
    if (length(p - top) < 7.6 && p.z > 19) p.z += 0.5;
  const Transform move = Transform::turn(unit(Vec3{1, 0, 1}), 0.7).then(Transform::move({3, -8, 2}));
  scan = moved(std::move(scan), move);
  const auto a = align_scan(master.mesh, *master.rays, scan);
  REQUIRE(a);
  const auto d = deviation_of(master.mesh, *master.rays, scan, a->laid);
  REQUIRE(d);
  REQUIRE_FALSE(d->worst.empty());
  CHECK(d->worst[0].mm == Approx(0.5).margin(0.03));
  CHECK(length(d->worst[0].at_mm - top) < 8.5);
  double elsewhere = 0;
  for (size_t i = 0; i < scan.points.size(); ++i)
    if (length(a->laid.point(scan.points[i]) - top) > 10)
      elsewhere = std::max(elsewhere, std::abs(static_cast<double>(d->mm[i])));
  CHECK(elsewhere < 0.03);
}

TEST_CASE("named faces alone may carry the fit", "[check]") {
  const ReadyPart master(odd_part(40));
  TriMesh scan = odd_part(50);
  // Bent: its far end stands 0.4 mm up; the near end is true.
  for (Vec3& p : scan.points)
    if (p.x > 30) p.z += 0.4 * (p.x - 30) / 30;
  AlignOptions o;
  for (const Vec3& at : {Vec3{8, 10, 0}, Vec3{20, 25, 0}, Vec3{8, 25, 0}, Vec3{0, 17, 10}, Vec3{12, 0, 10}})
    o.datums.push_back({at, 5});
  const auto a = align_scan(master.mesh, *master.rays, scan, o);
  REQUIRE(a);
  const auto d = deviation_of(master.mesh, *master.rays, scan, a->laid);
  double near = 0, far = 0;
  for (size_t i = 0; i < scan.points.size(); ++i) {
    const double off = std::abs(static_cast<double>(d->mm[i]));
    if (scan.points[i].x < 25) near = std::max(near, off);
    if (scan.points[i].x > 59) far = std::max(far, off);
  }
  CHECK(near < 0.03);
  CHECK(far > 0.3);
  o.datums = {{{200, 0, 0}, 1}};
  const auto none = align_scan(master.mesh, *master.rays, scan, o);
  REQUIRE_FALSE(none);
  CHECK(none.error().where == "--datum");
}

TEST_CASE("half a scan is told as half; another unit, another part, a broken mesh are refused or told", "[check]") {
  const ReadyPart master(odd_part(40));
  TriMesh half = odd_part(40);
  std::vector<Triangle> kept;
  for (size_t t = 0; t < half.triangles.size(); ++t)
    if (half.centre(t).x < 32) kept.push_back(half.triangles[t]);
  half.triangles = kept;
  drop_unused_points(half);
  half = moved(std::move(half), Transform::turn(unit(Vec3{1, 1, 0}), 1.0).then(Transform::move({40, 0, 0})));
  const auto a = align_scan(master.mesh, *master.rays, half);
  REQUIRE(a);
  CHECK(a->rms_mm < 0.05);
  const auto d = deviation_of(master.mesh, *master.rays, half, a->laid);
  CHECK(d->covered_share < 0.65);
  CHECK(d->covered_share > 0.4);
  CHECK(d->same_part);

  TriMesh inches = scaled(odd_part(20), 1 / 25.4);
  const auto unit_asked = align_scan(master.mesh, *master.rays, inches);
  REQUIRE_FALSE(unit_asked);
  CHECK(unit_asked.error().what.find("inches") != std::string::npos);
  CHECK_FALSE(align_scan(master.mesh, *master.rays, scaled(odd_part(20), 1.4)));

  const auto other = align_scan(master.mesh, *master.rays, scaled(shapes::icosphere(28, 4), 1));
  if (other) CHECK_FALSE(deviation_of(master.mesh, *master.rays, shapes::icosphere(28, 4), other->laid)->same_part);

  TriMesh broken = odd_part(10);
  broken.points[5].y = std::numeric_limits<double>::quiet_NaN();
  CHECK_FALSE(align_scan(master.mesh, *master.rays, broken));
}

TEST_CASE("the map is a PLY with the deviation at each vertex, and the histogram adds up", "[check]") {
  const ReadyPart master(odd_part(10));
  const TriMesh scan = odd_part(12);
  Laid laid;
  laid.motion = Transform::move({0, 0, 0.25});
  const auto d = deviation_of(master.mesh, *master.rays, scan, laid);
  REQUIRE(d);
  CHECK(d->max_mm == Approx(0.25).margin(0.01));
  CHECK(d->min_mm == Approx(-0.25).margin(0.01));
  const std::string ply = deviation_ply(scan, laid, d->mm);
  CHECK(ply.find("property float deviation") != std::string::npos);
  const auto back = read_mesh(ply, "map.ply");
  REQUIRE(back);
  CHECK(back->mesh.triangles.size() == scan.triangles.size());
  double sum = 0;
  for (const HistogramBin& b : deviation_histogram(scan, d->mm, 0.3, 12)) sum += b.share;
  CHECK(sum == Approx(1));
}

TEST_CASE("sizes are read from a scan at both ends of their lines, with what they scatter", "[check]") {
  // A coarse block, 0.2 % small, 0.02 mm of it missing on top.
  const ReadyPart master(shapes::box({0, 0, 0}, {40, 30, 20}));
  TriMesh scan = shapes::box({0, 0, 0}, {40 * 0.998, 30 * 0.998, 19.98});
  const auto seen = *RayScene::build(scan);
  MeasuredSize along, high, off;
  along.id = "along", along.from_mm = {0, 15, 10}, along.to_mm = {40, 15, 10};
  high.id = "high", high.from_mm = {20, 15, 0}, high.to_mm = {20, 15, 20};
  off.id = "off", off.from_mm = {-5, 15, 10}, off.to_mm = {40, 15, 10};  // not on the skin
  const auto read =
      sizes_from_scan(std::vector{along, high, off}, {master.mesh, master.pairs, *master.rays}, *seen, 0.01, 1.0);
  REQUIRE(read.size() == 2);
  CHECK(read[0].mm == Approx(40 * 0.998).margin(1e-4));
  CHECK(read[1].mm == Approx(19.98).margin(1e-4));
  CHECK(read[1].u_mm == Approx(0.005).margin(1e-3));
}

TEST_CASE("a bore and a boss are fitted again in a scan: place, tilt and a dent do not matter", "[check]") {
  const ReadyPart boss(shapes::cylinder(6, 20, 96));
  MeasuredSize s;
  s.id = "boss", s.kind = SizeKind::outer, s.nominal_mm = 12;
  s.from_mm = {-6, 0, 10}, s.to_mm = {6, 0, 10};
  // 0.5 % small, 0.15 mm beside its place, leaning by half a degree, with a dent of 0.6 mm on one side.
  TriMesh scan = shapes::cylinder(6 * 0.995, 20, 360);
  for (Vec3& p : scan.points) {
    if (p.x > 5.9) p.x -= 0.6;
    p = {p.x + 0.15 + 0.0087 * p.z, p.y - 0.1, p.z};
  }
  const auto seen = *RayScene::build(scan);
  const auto read = sizes_from_scan(std::vector{s}, {boss.mesh, boss.pairs, *boss.rays}, *seen, 0.05, 1.0);
  REQUIRE(read.size() == 1);
  CHECK(read.front().refitted);
  CHECK(read.front().mm == Approx(12 * 0.995).margin(0.004));
  CHECK(read.front().u_mm < 0.01);
  // A line across it alone would have met the dent.
  MeasuredSize line = s;
  line.kind = SizeKind::thickness;
  const auto by_line = sizes_from_scan(std::vector{line}, {boss.mesh, boss.pairs, *boss.rays}, *seen, 0.05, 1.0);
  if (!by_line.empty()) CHECK(std::abs(by_line.front().mm - 12 * 0.995) > 0.05);

  // A ring seen from within: its bore.
  const ReadyPart ring(shapes::torus(10, 3, 64, 32));  // no cylinder: measured by the line, or not at all
  MeasuredSize hole;
  hole.id = "hole", hole.kind = SizeKind::bore, hole.nominal_mm = 14;
  hole.from_mm = {-7, 0, 0}, hole.to_mm = {7, 0, 0};
  const auto of_ring = sizes_from_scan(std::vector{hole}, {ring.mesh, ring.pairs, *ring.rays}, *ring.rays, 0.01, 0.5);
  for (const ScannedSize& x : of_ring) CHECK_FALSE(x.refitted);
}

TEST_CASE("a large scan is shown as a sketch first and whole once it is judged", "[check]") {
  OriginalResult original;
  const TriMesh part = odd_part(40);
  auto ready = ready_mesh(std::make_shared<const TriMesh>(part), Progress::none());
  REQUIRE(ready);
  original = *std::move(ready);
  const Transform move = Transform::turn(unit(Vec3{1, 2, -1}), 0.6).then(Transform::move({9, -4, 12}));
  const TriMesh scan = moved(odd_part(165), move);
  REQUIRE(scan.triangles.size() > 300'000);
  const auto laid = lay_scan(original, scan, 3, Progress::none());
  REQUIRE(laid);
  CHECK(laid->shape->triangles.size() < scan.triangles.size() / 3);
  CHECK(length(laid->shape->box_mm.centre() - original.measure.box_mm.centre()) < 0.5);
  const auto judged = scan_result(original, scan, *laid, {}, 0.1, Progress::none());
  REQUIRE(judged);
  CHECK(judged->shape->triangles.size() == scan.triangles.size());
  CHECK(judged->deviation.mm.size() == scan.points.size());
  CHECK(judged->deviation.covered_share > 0.99);
  CHECK(judged->number == 3);
}

}  // namespace tests_check_align
