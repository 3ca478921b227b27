#pragma once
/// A solid as runs of material in parallel columns: the quick way to volumes along a direction (M5).
#include <vector>

#include "base/progress.hpp"
#include "base/result.hpp"
#include "mesh/tri_mesh.hpp"

namespace palinform {

/// One run of material in a column, low to high along the frame's third axis, with the faces it starts and ends on.
struct Span {
  double low_mm = 0, high_mm = 0;
  uint32_t low_face = 0, high_face = 0;
};

/// Columns of square section `pitch_mm` on a regular grid. Column (i, j) runs along the frame's third axis through
/// (u0 + (i + ½)·pitch, v0 + (j + ½)·pitch).
struct Columns {
  Transform frame;  ///< rotation only: rows are the grid's u, v and column direction w in mesh coordinates
  double pitch_mm = 1, u0_mm = 0, v0_mm = 0;
  int nu = 0, nv = 0;
  std::vector<uint32_t> start;  ///< spans of column c = j·nu + i are span[start[c]] … span[start[c + 1] − 1], rising
  std::vector<Span> span;
  size_t broken = 0;  ///< columns whose crossings did not pair (the mesh is not closed there)

  size_t count() const { return static_cast<size_t>(nu) * static_cast<size_t>(nv); }
  bool empty_at(size_t c) const { return start[c] == start[c + 1]; }
  double volume_mm3() const;
  /// Volumes by the even and by the odd diagonals of the grid, each scaled to the whole: their spread tells the error.
  double volume_error_mm3() const;
};

/// Unit frame with w = `direction`; u and v are the same for the same direction, and axis-aligned for axis directions.
Transform frame_along(const Vec3& direction);

/// Adds an upright body of `area_mm2` from `low` to `high` to the layers of `step` that it reaches through, the first
/// of them from `base` up: mm³ each.
void spread_over(std::vector<double>& layers_mm3, double base_mm, double step_mm, double low_mm, double high_mm,
                 double area_mm2);

/// Where columns stand: nu × nv of them, the first with its corner at (u0, v0).
struct ColumnGrid {
  double u0_mm = 0, v0_mm = 0;
  int nu = 0, nv = 0;
};

/// Fills columns on a given grid, which must cover the mesh.
Result<Columns> build_columns(const TriMesh& mesh, const Transform& frame, double pitch_mm, const ColumnGrid& grid,
                              const Progress& progress = Progress::none());
/// Fills columns over the mesh's extent in `frame` plus `margin_mm` on all four sides. Each crossing is found by exact
/// point-in-triangle signs shared by neighbouring faces, so a closed mesh never loses or doubles one.
Result<Columns> build_columns(const TriMesh& mesh, const Transform& frame, double pitch_mm, double margin_mm,
                              const Progress& progress = Progress::none());

}  // namespace palinform
