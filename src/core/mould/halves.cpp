#include "mould/halves.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "mould/height_solid.hpp"
#include "solid/carve.hpp"

namespace palinform {
namespace {

TriMesh rod(const Vec3& foot, const Vec3& draw, double length_mm, double radius) {
  TriMesh m;
  constexpr uint32_t n = 64;
  const Vec3 a = any_perpendicular(draw), b = cross(draw, a);
  for (const double at : {0.0, length_mm})
    for (uint32_t k = 0; k < n; ++k) {
      const double t = 2 * std::numbers::pi * k / n;
      m.points.push_back(foot + draw * at + (a * std::cos(t) + b * std::sin(t)) * radius);
    }
  m.points.push_back(foot);
  m.points.push_back(foot + draw * length_mm);
  for (uint32_t k = 0; k < n; ++k) {
    const uint32_t o = (k + 1) % n;
    m.triangles.push_back({k, o, n + o});
    m.triangles.push_back({k, n + o, n + k});
    m.triangles.push_back({2 * n, o, k});
    m.triangles.push_back({2 * n + 1, n + k, n + o});
  }
  return m;
}

}  // namespace

double Halves::unaccounted_mm3() const {
  double sum = box_mm3 - part_mm3 - pins_mm3;
  for (const HalfSolid& h : halves) sum -= h.volume_mm3;
  return sum;
}

Result<Halves> mould_halves(const TriMesh& mesh, const Mould& m, const KeyPlan& keys, const std::vector<PinPlan>& pins,
                            const HalvesOptions& o, Progress& progress) {
  Halves out;
  out.voxel_mm = o.voxel_mm;
  out.box_mm3 = m.box_mm3;
  out.part_mm3 = m.part_mm3;
  const Box3& in = m.inner_mm;
  const auto surface = [&](double u, double v) {
    const double x = std::clamp((u - m.u0_mm) / m.pitch_mm - 0.5, 0.0, m.nu - 1.001),
                 y = std::clamp((v - m.v0_mm) / m.pitch_mm - 0.5, 0.0, m.nv - 1.001);
    const int i = static_cast<int>(x), j = static_cast<int>(y);
    const double fx = x - i, fy = y - j;
    const size_t at[4] = {m.column(i, j), m.column(i + 1, j), m.column(i, j + 1), m.column(i + 1, j + 1)};
    const double w[4] = {(1 - fx) * (1 - fy), fx * (1 - fy), (1 - fx) * fy, fx * fy};
    double z = 0;
    for (int k = 0; k < 4; ++k) z += w[k] * static_cast<double>(m.parting_mm[at[k]]);
    // Not halfway between two levels under the part's edge: there the nearest column decides.
    if (m.shadow[at[0]] || m.shadow[at[1]] || m.shadow[at[2]] || m.shadow[at[3]])
      z = static_cast<double>(m.parting_mm[at[(fx >= 0.5) + 2 * (fy >= 0.5)]]);
    return std::clamp(z + keys.bump_mm(u, v, in), in.min.z + 0.5, in.max.z - 0.5);
  };
  const HeightField f = sample_heights(in.min.x, in.min.y, in.max.x, in.max.y, m.pitch_mm, surface);
  // Into the mould's frame, where voxels lie square to the box.
  const TriMesh part = transformed(mesh, m.frame);
  std::vector<TriMesh> away{part};
  for (const PinPlan& p : pins) {
    const TriMesh r = rod(p.foot_mm, p.draw, p.length_mm(), 0.5 * p.diameter_mm + o.pin_slack_mm);
    away.push_back(transformed(r, m.frame));
    // What of the pin lies in rubber: all but the length that forms the bore and the grip outside.
    out.pins_mm3 += std::numbers::pi * std::pow(0.5 * p.diameter_mm + o.pin_slack_mm, 2) * (p.tail_mm + p.head_mm);
  }
  Transform back;
  back.rows = {Vec3{m.frame.rows[0].x, m.frame.rows[1].x, m.frame.rows[2].x},
               Vec3{m.frame.rows[0].y, m.frame.rows[1].y, m.frame.rows[2].y},
               Vec3{m.frame.rows[0].z, m.frame.rows[1].z, m.frame.rows[2].z}};
  for (const bool upper : {true, false}) {
    if (progress.cancelled()) return Error::stopped();
    const TriMesh block = height_solid(f, upper ? in.max.z : in.min.z, !upper, true);
    auto half = carved({block}, away, 0, o.voxel_mm, progress);
    if (!half) return half.error();
    HalfSolid h;
    h.name = upper ? "a" : "b";
    h.volume_mm3 = measure(*half).volume_mm3;
    h.mesh = transformed(*std::move(half), back);
    out.halves.push_back(std::move(h));
    progress.report(upper ? 0.6 : 1);
  }
  return out;
}

}  // namespace palinform
