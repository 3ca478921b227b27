#include "mould/coat_sides.hpp"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>

namespace palinform {
namespace {

/// 0 … 1, the same for the same cell (the finishing steps of MurmurHash3).
double off(int i, int j, int k, uint32_t axis) {
  uint32_t x = static_cast<uint32_t>(i) * 73856093u ^ static_cast<uint32_t>(j) * 19349663u ^
               static_cast<uint32_t>(k) * 83492791u ^ axis * 2654435761u;
  x = (x ^ x >> 16) * 0x85ebca6bu;
  x = (x ^ x >> 13) * 0xc2b2ae35u;
  return static_cast<double>(x ^ x >> 16) / 4294967296.0;
}

}  // namespace

SkinPlaces skin_places(const TriMesh& mesh, const RayScene& rays, const Transform& frame, double reach, double cells) {
  const Box3 box = box_in(mesh, frame);
  const double skin_mm3 = reach * std::max(1.0, measure(mesh).area_mm2);
  const double h = std::cbrt(skin_mm3 / std::max(1.0, cells));
  const auto count = [&](double from, double to) { return static_cast<int>(std::ceil((to - from + 2 * reach) / h)); };
  const int nu = count(box.min.x, box.max.x), nv = count(box.min.y, box.max.y), nw = count(box.min.z, box.max.z);
  // In blocks of four a side: one whose middle is too far off, or too deep in the part, holds nothing of the skin.
  // Collected by layers of blocks, so that they are the same whoever finds them.
  constexpr int side = 4;
  const double half_diagonal = 0.5 * std::sqrt(3.0) * side * h;
  const auto blocks = [](int cells_there) { return (cells_there + side - 1) / side; };
  std::vector<SkinPlaces> slices(static_cast<size_t>(blocks(nw)));
  const auto at = [&](double i, double j, double k) {
    return Vec3{box.min.x - reach + i * h, box.min.y - reach + j * h, box.min.z - reach + k * h};
  };
  const auto outside = [&](const Vec3& p, const SurfacePoint& near) {
    return dot(p - near.point_mm, mesh.normal(near.triangle)) > 0;
  };
  tbb::parallel_for(0, blocks(nw), [&](int bk) {
    SkinPlaces& slice = slices[static_cast<size_t>(bk)];
    for (int bj = 0; bj < blocks(nv); ++bj)
      for (int bi = 0; bi < blocks(nu); ++bi) {
        const Vec3 middle = frame.direction_back(at(side * (bi + 0.5), side * (bj + 0.5), side * (bk + 0.5)));
        const SurfacePoint by = rays.closest(middle);
        if (by.distance_mm > (outside(middle, by) ? reach : 0) + half_diagonal) continue;
        for (int k = side * bk; k < std::min(nw, side * (bk + 1)); ++k)
          for (int j = side * bj; j < std::min(nv, side * (bj + 1)); ++j)
            for (int i = side * bi; i < std::min(nu, side * (bi + 1)); ++i) {
              // Off the middle of its cell by what its number says: rows that lay level with a flat face would take or
              // miss whole coats.
              const Vec3 q = at(i + off(i, j, k, 1), j + off(i, j, k, 2), k + off(i, j, k, 3));
              const Vec3 p = frame.direction_back(q);
              const SurfacePoint near = rays.closest(p);
              if (near.distance_mm > reach || near.distance_mm <= 0 || !outside(p, near)) continue;
              slice.at_mm.push_back(q);
              slice.off_mm.push_back(static_cast<float>(near.distance_mm));
              slice.triangle.push_back(near.triangle);
            }
      }
  });
  SkinPlaces out;
  for (const SkinPlaces& slice : slices) {
    out.at_mm.insert(out.at_mm.end(), slice.at_mm.begin(), slice.at_mm.end());
    out.off_mm.insert(out.off_mm.end(), slice.off_mm.begin(), slice.off_mm.end());
    out.triangle.insert(out.triangle.end(), slice.triangle.begin(), slice.triangle.end());
  }
  return out;
}

SkinSamples sided(const SkinPlaces& places, const Split& split, const Mould& m) {
  SkinSamples out;
  out.off_mm = places.off_mm;
  out.on_b.reserve(places.at_mm.size());
  for (size_t n = 0; n < places.at_mm.size(); ++n) {
    const Vec3& q = places.at_mm[n];
    const int ci = std::clamp(static_cast<int>((q.x - m.u0_mm) / m.pitch_mm), 0, m.nu - 1),
              cj = std::clamp(static_cast<int>((q.y - m.v0_mm) / m.pitch_mm), 0, m.nv - 1);
    out.on_b.push_back(m.shadow[m.column(ci, cj)] ? split.side[places.triangle[n]] != 0 : q.z < m.parting_at(q.x, q.y));
  }
  return out;
}

SkinSamples skin_samples(const TriMesh& mesh, const RayScene& rays, const Split& split, const Mould& mould,
                         double reach, double cells) {
  return sided(skin_places(mesh, rays, mould.frame, reach, cells), split, mould);
}

std::vector<double> coat_shares_a(const SkinSamples& samples, const std::vector<double>& outer_mm) {
  const size_t coats = outer_mm.size();
  std::vector<std::array<size_t, 2>> sides(coats, {0, 0});
  for (size_t i = 0; i < samples.off_mm.size(); ++i) {
    const auto coat =
        std::lower_bound(outer_mm.begin(), outer_mm.end(), static_cast<double>(samples.off_mm[i])) - outer_mm.begin();
    if (coat < static_cast<std::ptrdiff_t>(coats)) ++sides[static_cast<size_t>(coat)][samples.on_b[i]];
  }
  std::vector<double> out(coats, 1);
  for (size_t c = 0; c < coats; ++c)
    if (const size_t all = sides[c][0] + sides[c][1]; all > 0)
      out[c] = static_cast<double>(sides[c][0]) / static_cast<double>(all);
  return out;
}

}  // namespace palinform
