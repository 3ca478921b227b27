#pragma once
/// A field of heights over a rectangle, and the solid under (or over) it: flat underneath, upright sides, always
/// closed. What parting boards and blocks are made of.
#include <functional>
#include <vector>

#include "mesh/tri_mesh.hpp"

namespace palinform {

struct HeightField {
  double u0_mm = 0, v0_mm = 0;  ///< of the first point
  double pitch_u_mm = 1, pitch_v_mm = 1;
  int nu = 0, nv = 0;       ///< points, at least 2 × 2
  std::vector<float> z_mm;  ///< row by row, u fastest
  float& at(int i, int j) { return z_mm[static_cast<size_t>(j) * static_cast<size_t>(nu) + static_cast<size_t>(i)]; }
  float at(int i, int j) const {
    return z_mm[static_cast<size_t>(j) * static_cast<size_t>(nu) + static_cast<size_t>(i)];
  }
  /// Linear between the points; outside, as at the nearest edge.
  double height(double u_mm, double v_mm) const;
  double u(int i) const { return u0_mm + i * pitch_u_mm; }
  double v(int j) const { return v0_mm + j * pitch_v_mm; }
};

/// Heights sampled at the grid's points over a rectangle; the outermost points lie on its edges, the pitches are
/// made to fit, at most `pitch_mm`.
HeightField sample_heights(double u0, double v0, double u1, double v1, double pitch_mm,
                           const std::function<double(double u, double v)>& height);

/// Between the field and the level `flat_mm`; `below`: the field is the top. Every height must lie on the right side of
/// the level. In the field's own frame. The flat side is a fan.
TriMesh height_solid(const HeightField& field, double flat_mm, bool below);

}  // namespace palinform
