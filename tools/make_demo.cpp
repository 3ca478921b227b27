// Makes the demo parts' meshes from implicit solids, so that they are ours: make_demo OUT_DIR [voxel_mm]
// The results are kept in demo/meshes; run this again only when a part changes.
#include <algorithm>
#include <cstdio>
#include <cstdlib>
#include <numbers>
#include <string>

#include "demo_solid/implicit.hpp"
#include "demo_solid/simplify.hpp"
#include "mesh/save.hpp"
#include "mesh/soundness.hpp"

using namespace palinform;

namespace {

double box(const Vec3& p, const Vec3& half, double round) {
  const Vec3 q{std::abs(p.x) - half.x + round, std::abs(p.y) - half.y + round, std::abs(p.z) - half.z + round};
  const Vec3 o{std::max(q.x, 0.0), std::max(q.y, 0.0), std::max(q.z, 0.0)};
  return length(o) + std::min(std::max({q.x, q.y, q.z}), 0.0) - round;
}
/// Upright cylinder about z between z0 and z1, edges rounded.
double post(double x, double y, double z, double r, double z0, double z1, double round) {
  const double a = std::hypot(x, y) - r + round, b = std::abs(z - 0.5 * (z0 + z1)) - 0.5 * (z1 - z0) + round;
  return std::min(std::max(a, b), 0.0) + std::hypot(std::max(a, 0.0), std::max(b, 0.0)) - round;
}
/// Plan outline: capsule-like bar from (x0, 0) to (x1, 0) with half width w.
double capsule2(double x, double y, double x0, double x1, double w) {
  const double t = std::clamp((x - x0) / (x1 - x0), 0.0, 1.0);
  return std::hypot(x - x0 - t * (x1 - x0), y) - w;
}
double extrude(double plan, double z, double z0, double z1, double round) {
  const double a = plan + round, b = std::abs(z - 0.5 * (z0 + z1)) - 0.5 * (z1 - z0) + round;
  return std::min(std::max(a, b), 0.0) + std::hypot(std::max(a, 0.0), std::max(b, 0.0)) - round;
}
double blend(double a, double b, double r) {  // union with a fillet of about r
  const double h = std::clamp(0.5 + 0.5 * (b - a) / r, 0.0, 1.0);
  return b + (a - b) * h - r * h * (1 - h);
}
double cut(double a, double b, double broken = 0.6) {
  return -blend(-a, b, broken);
}  // b taken out of a, the edge broken

/// The pen-arm bracket: foot with slot, boss with the pen bore Ø8, lug with a cross bore Ø4.2, two ribs. 92 mm long.
double bracket(const Vec3& p) {
  const double foot_plan = std::min(capsule2(p.x, p.y, 20, 33, 13), [&] {
    const double qx = std::abs(p.x + 8) - 38 + 5, qy = std::abs(p.y) - 12 + 5;  // left part, corners of 5
    return std::hypot(std::max(qx, 0.0), std::max(qy, 0.0)) + std::min(std::max(qx, qy), 0.0) - 5;
  }());
  double d = extrude(foot_plan, p.z, 0, 9, 0.8);
  d = blend(d, post(p.x - 31, p.y, p.z, 11, 0, 23, 0.8), 1.9);
  const double lug_plan = [&] {
    const double qz = std::max(std::abs(p.x + 39) - 5, p.z - 29);
    return std::max(std::min(qz, std::hypot(p.x + 39, p.z - 29) - 5), -p.z);
  }();
  d = blend(d, extrude(lug_plan, p.y, -10, 10, 0.8), 2.0);
  for (const double side : {-1.0, 1.0}) {
    const double top = (p.z - 9 - (p.x - 1) * (10.0 / 19.0)) / std::hypot(1, 10.0 / 19.0);
    const double rib = cut(std::max({std::abs(p.y - side * 8) - 1.75, p.x - 25, 1 - p.x, -p.z}), -top, 1.0);
    d = blend(d, rib, 1.2);
  }
  d = cut(d, p.z);                                   // the fillets must not hang below the foot
  d = cut(d, std::hypot(p.x - 31, p.y) - 4);         // pen bore
  d = cut(d, capsule2(p.x, p.y, -26, -8, 3));        // slot, centre at x = −17
  d = cut(d, std::hypot(p.x + 39, p.z - 29) - 2.1);  // cross bore
  // Broken edge at the bore's upper mouth: a cone of 45° that opens 0.6 mm.
  d = cut(d, (std::hypot(p.x - 31, p.y) - 4.6 - (p.z - 23)) / std::numbers::sqrt2);
  return d;
}

/// A case-corner ornament: three fluted leaves fanned over a quarter, a bead at the root, flat back. About 46 mm.
double ornament(const Vec3& p) {
  double d = 1e9;
  for (const double deg : {12.0, 45.0, 78.0}) {
    const double a = deg * std::numbers::pi / 180, reach = deg == 45.0 ? 41 : 33;
    const double u = p.x * std::cos(a) + p.y * std::sin(a), v = -p.x * std::sin(a) + p.y * std::cos(a);
    const double s = std::clamp(u / reach, 0.0, 1.0);
    const double width = 8.4 * std::pow(std::sin(std::numbers::pi * (0.12 + 0.84 * s)), 0.8) + 0.4;
    const double lobes = 1 + 0.10 * std::cos(u * 1.15);
    const double height = 3.0 + 3.6 * std::sin(std::numbers::pi * (0.15 + 0.62 * s)) - 1.2 * s;
    const double q = std::hypot(v / (width * lobes), p.z / height), along = std::max({-u - 1, u - reach, 0.0});
    const double shell = (q - 1) * std::min(width * lobes, height) * 0.75;
    double leaf = std::hypot(std::max(shell, 0.0), along) + std::min(shell, 0.0);
    const double vein = std::hypot(v, p.z - height) - 0.9 * (1 - 0.6 * s);  // middle groove
    leaf = cut(leaf, vein, 0.8);
    d = blend(d, leaf, 1.2);
  }
  const double bead = length(p - Vec3{2.5, 2.5, 2.2}) - 6.2;
  d = blend(d, bead, 0.8);
  const double ring = std::hypot(std::hypot(p.x - 2.5, p.y - 2.5) - 8.3, p.z - 1.2) - 1.5;
  d = blend(d, ring, 0.5);
  const double foot = box(p - Vec3{6, 6, 0.8}, {11, 11, 0.8}, 0.5);
  d = blend(d, foot, 1.0);
  return cut(d, p.z, 0.5);
}

/// The surviving right-hand drum latch: plate with pivot boss Ø5, arm with a catch to one side, thumb rest, spring
/// slot. About 49 mm long; its catch makes it one-handed.
double latch(const Vec3& p) {
  const double qx = std::abs(p.x) - 22 + 4, qy = std::abs(p.y) - 9 + 4;
  double plan = std::hypot(std::max(qx, 0.0), std::max(qy, 0.0)) + std::min(std::max(qx, qy), 0.0) - 4;
  const auto arm = [&](double x0, double y0, double x1, double y1, double w) {
    const double dx = x1 - x0, dy = y1 - y0,
                 t = std::clamp(((p.x - x0) * dx + (p.y - y0) * dy) / (dx * dx + dy * dy), 0.0, 1.0);
    return std::hypot(p.x - x0 - t * dx, p.y - y0 - t * dy) - w;
  };
  plan = blend(plan, arm(15, 2, 21, 12.5, 4.5), 3);
  plan = blend(plan, arm(21, 12.5, 24.5, 13, 4.0), 1.5);
  double d = extrude(plan, p.z, -3, 5, 0.7);
  d = blend(d, post(p.x + 14, p.y, p.z, 7.5, -3, 11, 0.7), 1.6);
  // Thumb rest: a leaning fin with a rounded top.
  const double lean = p.x - 3 - 0.18 * (p.z - 5);
  const double fin =
      std::max(std::max(std::abs(lean) - 2.0, std::abs(p.y) - 8.0), std::max(std::hypot(p.y, p.z - 9) - 8.0, -1 - p.z));
  d = blend(d, fin, 1.4);
  d = cut(d, p.z);
  d = cut(d, std::hypot(p.x + 14, p.y) - 2.5);                        // pivot bore
  d = cut(d, capsule2(p.x, p.y + 5.2, 9, 17, 1.6));                   // spring slot, centre line y = −5.2
  d = cut(d, std::max(std::abs(p.x - 24.5) - 1.5, 11.2 - p.y), 0.4);  // the catch's notch, open to +y
  return d;
}

/// The crank sleeve, to be cast in rubber: a fluted grip with a stop collar, closed over a blind bore Ø12 for the
/// crank's rod, a groove near the mouth. 62 mm tall.
double sleeve(const Vec3& p) {
  const double r = std::hypot(p.x, p.y), a = std::atan2(p.y, p.x);
  const double belly = 13 + 1.2 * std::sin(std::numbers::pi * std::clamp(p.z / 62, 0.0, 1.0)) + 0.5 * std::cos(10 * a);
  double d = post(p.x, p.y, p.z, belly, 0, 62, 3.0);
  d = blend(d, post(p.x, p.y, p.z, 17, 0, 5, 1.5), 1.5);
  d = cut(d, p.z, 0.4);  // the fillet must not hang below the collar
  return cut(d, std::max(r - 6, p.z - 54), 0.6);
}

/// The irrigation timer's snap lid: a tray of 1.8 mm walls, four snap noses inside the rim, a dimple for the thumb, two
/// pegs that centre the seal. 64 × 44 × 12 mm.
double lid(const Vec3& p) {
  double d = box(p - Vec3{0, 0, 6}, {32, 22, 6}, 2.2);
  d = cut(d, box(p - Vec3{0, 0, 8.8}, {30.2, 20.2, 7}, 1.2), 0.4);
  for (const double side : {-1.0, 1.0}) {
    const double nose = std::max({std::abs(p.y - side * 20.6) - 1.0, std::abs(p.x) - 7, std::abs(p.z - 9.4) - 0.9});
    d = blend(d, nose, 0.6);
    d = blend(d, post(p.x - side * 20, p.y, p.z, 2.2, 1, 7, 0.5), 0.8);
  }
  const double thumb = length(p - Vec3{0, 0, -21}) - 22.0;
  return cut(d, thumb, 0.5);
}

/// One dial pointer of the strip: a hub with its bore Ø2, a tapering arm with a ridge, flat back. 34 mm long.
double pointer(const Vec3& p) {
  const double t = std::clamp((p.x + 2) / 28, 0.0, 1.0);
  const double arm =
      std::max({std::abs(p.y) - 1.9 + 1.35 * t, p.z - 1.5 + 0.7 * std::abs(p.y) + 0.3 * t, -2 - p.x, p.x - 26});
  double d = blend(arm, post(p.x, p.y, p.z, 3.6, -1, 2.4, 0.3), 0.6);
  d = blend(d, post(p.x + 6.2, p.y, p.z, 2.2, -1, 1.4, 0.3), 0.8);
  d = cut(d, p.z, 0.15);
  return cut(d, std::hypot(p.x, p.y) - 1.0, 0.15);
}

/// The recorder case's finial: a turned baluster with a roped ball on top, for a brushed skin. 186 mm tall, 76 across.
double finial(const Vec3& p) {
  const double r = std::hypot(p.x, p.y), a = std::atan2(p.y, p.x);
  double d = post(p.x, p.y, p.z, 38, 0, 14, 3.0);
  d = blend(d, post(p.x, p.y, p.z, 24, 12, 34, 5.0), 4.0);
  const double t = std::clamp((p.z - 30) / 70, 0.0, 1.0);
  const double belly = 13 + 17 * std::sin(std::numbers::pi * (0.1 + 0.8 * t)) * (1 - 0.45 * t);
  d = blend(d, std::max(r - belly, std::max(30 - p.z, p.z - 104)) * 0.85, 3.0);
  d = blend(d, post(p.x, p.y, p.z, 22, 98, 110, 3.0), 3.0);
  const double rope = 1.6 * std::cos(6 * a + 0.14 * (p.z - 146));
  d = blend(d, (length(p - Vec3{0, 0, 146}) - 31 - rope * std::clamp(r / 20, 0.0, 1.0)) * 0.8, 3.0);
  d = blend(d, post(p.x, p.y, p.z, 7, 172, 186, 3.0), 4.0);
  return cut(d, p.z, 0.5);
}

/// The timer's valve cradle: a block with a pocket from either end and one from the side, which no two halves free.
/// 60 × 44 × 26 mm.
double cradle(const Vec3& p) {
  double d = box(p - Vec3{0, 0, 13}, {30, 22, 13}, 2.0);
  d = blend(d, box(p - Vec3{0, 0, 2.5}, {36, 22, 2.5}, 1.2), 1.5);
  for (const double side : {-1.0, 1.0}) d = cut(d, box(p - Vec3{side * 30, -4, 14}, {15, 6.5, 5}, 1.0), 0.5);
  return cut(d, box(p - Vec3{0, 22, 14}, {9, 17, 5}, 1.0), 0.5);
}

/// The timer's housing: a shell open below, in its top a dial window, a spindle hole and three vents, a window in its
/// end wall; two screw posts inside, cored for M4, and a clip on its side. 64 × 48 × 24 mm.
double housing(const Vec3& p) {
  double d = box(p - Vec3{0, 0, 12}, {32, 23, 12}, 2.5);
  d = cut(d, box(p - Vec3{0, 0, 9.8}, {29.6, 20.6, 11.8}, 1.5), 0.4);
  for (const double side : {-1.0, 1.0}) d = blend(d, post(p.x - side * 24, p.y + side * 15, p.z, 3.7, 5, 23, 0.4), 1.0);
  for (const double side : {-1.0, 1.0}) d = cut(d, post(p.x - side * 24, p.y + side * 15, p.z, 1.65, 3, 17, 0.1), 0.3);
  d = cut(d, box(p - Vec3{9, 3, 23}, {11, 7, 4}, 1.2), 0.4);
  d = cut(d, post(p.x + 15, p.y - 3, p.z, 3, 18, 28, 0.2), 0.4);
  for (const double y : {-6.0, -11.0, -16.0})
    d = cut(d, extrude(capsule2(p.x, p.y - y, -21, -7, 1.2), p.z, 18, 28, 0.2), 0.3);
  d = cut(d, box(p - Vec3{31, 4, 10}, {5, 7, 4.5}, 1.0), 0.4);
  const double hook = std::max({std::abs(p.x) - 5, std::abs(p.z - 5) - 2.2 + 0.9 * (-23 - p.y), -24.6 - p.y, p.y + 22});
  return blend(d, hook * 0.7, 0.5);
}

int make(const std::string& path, const Implicit& solid, const Box3& around, double voxel_mm, size_t faces) {
  const TriMesh mesh = simplified(mesh_implicit(solid, around, voxel_mm), faces);
  const auto sound = check_soundness(mesh);
  const MeshMeasure m = measure(mesh);
  const Vec3 s = m.box_mm.size();
  std::printf("%s: %zu triangles, %.1f mm3, %.3f x %.3f x %.3f mm, %s\n", path.c_str(), mesh.triangles.size(),
              m.volume_mm3, s.x, s.y, s.z, sound && sound->sound() ? "sound" : "NOT SOUND");
  if (sound && !sound->sound())
    std::printf("  open %zu, non-manifold %zu, intersections %zu, degenerate %zu, flipped %zu\n", sound->open_edges,
                sound->non_manifold_edges, sound->self_intersections, sound->degenerate_faces,
                sound->flipped_components);
  if (const auto saved = save_mesh(mesh, path); !saved) {
    std::fprintf(stderr, "%s\n", saved.error().text().c_str());
    return 1;
  }
  return sound && sound->sound() ? 0 : 1;
}

}  // namespace

int main(int argc, char** argv) {
  if (argc < 2) {
    std::fprintf(stderr, "make_demo OUT_DIR [voxel_mm]\n");
    return 2;
  }
  const std::string dir = argv[1];
  const double voxel = argc > 2 ? std::atof(argv[2]) : 0.25;
  return make(dir + "/pen_arm_bracket.stl", bracket, {{-48, -15, -1}, {48, 15, 36}}, voxel, 44'000) |
         make(dir + "/corner_ornament.stl", ornament, {{-9, -9, -1}, {44, 44, 12}}, voxel, 36'000) |
         make(dir + "/drum_latch_right.stl", latch, {{-23, -10, -1}, {31, 19, 18}}, voxel, 30'000) |
         make(dir + "/crank_sleeve.stl", sleeve, {{-19, -19, -2}, {19, 19, 64}}, voxel, 24'000) |
         make(dir + "/snap_lid.stl", lid, {{-34, -24, -2}, {34, 24, 14}}, voxel, 28'000) |
         make(dir + "/dial_pointer.stl", pointer, {{-10, -5, -1}, {28, 5, 4}}, 0.4 * voxel, 12'000) |
         make(dir + "/case_finial.stl", finial, {{-40, -40, -2}, {40, 40, 190}}, 2 * voxel, 40'000) |
         make(dir + "/valve_cradle.stl", cradle, {{-38, -24, -2}, {38, 24, 28}}, voxel, 16'000) |
         make(dir + "/timer_housing.stl", housing, {{-34, -26, -1}, {34, 25, 26}}, 0.8 * voxel, 36'000);
}
