#pragma once
#include <array>
#include <vector>
/// Solids whose answers are known, and small helpers for tests.
#include <filesystem>
#include <string>

#include "mesh/tri_mesh.hpp"

namespace shapes {

using palinform::Transform;
using palinform::TriMesh;
using palinform::Vec3;

TriMesh box(const Vec3& low, const Vec3& high, int cells = 1);
TriMesh icosphere(double radius, int subdivisions);
/// Axis z.
TriMesh torus(double ring_radius, double tube_radius, int around, int across);
/// Plate of half-size `half` with a through bore of radius r along `axis` (0 x, 1 y, 2 z).
TriMesh bored_box(const Vec3& half, double r, int axis, int segments);
/// Upright cylinder about z from 0 to h.
TriMesh cylinder(double radius, double height, int segments);
/// A profile of (x, z) points, counter-clockwise with x to the right and z up, drawn out from y = 0 to `width`.
TriMesh extruded(const std::vector<std::array<double, 2>>& profile, double width);
/// A flat channel on z = 0 along x: `long1` × `thick1`, then `long2` × `thick2`.
TriMesh stepped_channel(double long1, double thick1, double long2, double thick2, double width);
/// Two flat arms on z = 0 from the origin: along +x `thick_right`, along −x `thick_left`.
TriMesh two_arms(double long_each, double thick_right, double thick_left, double width);
/// Convex hull of points in general position, by trying every three.
TriMesh hull_of(const std::vector<Vec3>& points);
/// A cube 0…`side` with a round hole from its face x = side inward along −x, in steps of (diameter, how far in from the
/// face), falling diameters; as deep as the cube, it goes through.
TriMesh drilled_cube(double side, const std::vector<std::array<double, 2>>& steps, int segments);
/// Turned about z: points {r, z} from the axis below to the axis above.
TriMesh turned(const std::vector<std::array<double, 2>>& profile, int around = 72);
TriMesh joined(const TriMesh& a, const TriMesh& b);
TriMesh turned_over(TriMesh m);
/// An arbitrary rotation used by the "turning changes nothing" tests.
Transform odd_turn();

/// A fresh folder, removed at the end.
class TempDir {
 public:
  TempDir();
  ~TempDir();
  std::string operator/(const std::string& name) const { return (path_ / name).string(); }
  std::string str() const { return path_.string(); }

 private:
  std::filesystem::path path_;
};

void write_text(const std::string& path, const std::string& text);

}  // namespace shapes
