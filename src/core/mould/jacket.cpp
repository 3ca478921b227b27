#include "mould/jacket.hpp"

#include <algorithm>
#include <cmath>

#include "mould/loose_keys.hpp"

namespace palinform {
namespace {

constexpr double foot_over_mm = 3;  // that feet stand out over the highest place of shell a

}  // namespace

Result<JacketField> jacket_field(const TriMesh& mesh, const Transform& frame, const JacketRules& r, double voxel,
                                 const Progress& progress) {
  JacketField out;
  const TriMesh part = transformed(mesh, frame);
  out.part_mm = measure(part).box_mm;
  const Vec3 size = out.part_mm.size();
  const double h = voxel > 0 ? voxel : std::max(0.6, std::max({size.x, size.y, size.z}) / 220);
  out.reach_mm = r.skin_mm + r.shell_mm + r.flange_mm + 2 * h;
  const double over = r.skin_mm + r.shell_mm + r.key_high_mm + foot_over_mm + 2 * h;
  Box3 region;
  region.add(out.part_mm.min - Vec3{out.reach_mm, out.reach_mm, over});
  region.add(out.part_mm.max + Vec3{out.reach_mm, out.reach_mm, over});
  auto field = distance_lattice(part, region, h, out.reach_mm, progress);
  if (!field) return field.error();
  out.distance = *std::move(field);
  return out;
}

Result<Jacket> plan_jacket(const TriMesh& mesh, const Mould& m, const JacketRules& r, double voxel,
                           const Progress& progress) {
  const auto field = jacket_field(mesh, m.frame, r, voxel, progress.part(0, 0.5));
  if (!field) return field.error();
  return plan_jacket(*field, m, r, progress.part(0.5, 1));
}

Result<Jacket> plan_jacket(const JacketField& field, const Mould& m, const JacketRules& r, const Progress& progress) {
  const Lattice& d = field.distance;
  const Box3& box = field.part_mm;
  const Vec3 size = box.size();
  const double h = d.voxel_mm, out_mm = field.reach_mm;
  Jacket out;
  out.voxel_mm = h;
  const size_t columns = static_cast<size_t>(d.ni) * static_cast<size_t>(d.nj);
  const auto column = [&](int i, int j) {
    return static_cast<size_t>(j) * static_cast<size_t>(d.ni) + static_cast<size_t>(i);
  };
  std::vector<float> split(columns);
  for (int j = 0; j < d.nj; ++j)
    for (int i = 0; i < d.ni; ++i)
      split[column(i, j)] = static_cast<float>(m.parting_at((d.i0 + i) * h, (d.j0 + j) * h));
  const auto skin = static_cast<float>(r.skin_mm), shell = static_cast<float>(r.shell_mm),
             flange = static_cast<float>(r.flange_mm), thick = static_cast<float>(r.flange_thick_mm);
  const float far = static_cast<float>(out_mm);

  // Skin with what each side hides from its shell: along a's way out the least distance of all above.
  Lattice hull = d;
  std::vector<float> beside(columns, far);  // distance of the column's nearest skin, for the flange
  std::array<double, 2> filler{0, 0};
  const auto run = [&](bool upper, auto&& visit) {
    for (int j = 0; j < d.nj; ++j)
      for (int i = 0; i < d.ni; ++i) {
        float least = far;
        const float z = split[column(i, j)];
        for (int n = 0; n < d.nk; ++n) {
          const int k = upper ? d.nk - 1 - n : n;
          const auto at = static_cast<float>((d.k0 + k) * h);
          if (upper ? at < z : at >= z) break;
          least = std::min(least, d.at(i, j, k) - skin);
          visit(i, j, k, least);
        }
        beside[column(i, j)] = std::min(beside[column(i, j)], least);
      }
  };
  for (const bool upper : {true, false})
    run(upper, [&](int i, int j, int k, float least) {
      hull.at(i, j, k) = least;
      if (least <= 0 && d.at(i, j, k) > skin) filler[upper ? 0 : 1] += h * h * h;
    });
  for (const bool upper : {true, false})
    for (const Vec3& foot : press_loose_keys(hull, split, upper, std::hypot(size.x, size.y), r))
      out.keys_mm.push_back(m.frame.direction_back(foot));
  progress.report(0.2);
  if (progress.cancelled()) return Error::stopped();
  // Bolts in the middle of the flange, slots at its edge half-way between them.
  const auto ring_of = [&](double at) {
    std::vector<Spot> pool;
    for (int j = 0; j < d.nj; ++j)
      for (int i = 0; i < d.ni; ++i)
        if (std::abs(beside[column(i, j)] - static_cast<float>(at)) < 0.7f * static_cast<float>(h))
          pool.push_back({i, j});
    return pool;
  };
  const auto bolts = spread(ring_of(r.shell_mm + 0.55 * r.flange_mm), 0.6 * r.bolt_every_mm / h, 64);
  std::vector<Spot> edge = ring_of(r.shell_mm + r.flange_mm - h);
  std::erase_if(edge, [&](const Spot& s) {
    return std::any_of(bolts.begin(), bolts.end(),
                       [&](const Spot& b) { return std::hypot(s.i - b.i, s.j - b.j) * h < r.bolt_mm + r.pry_wide_mm; });
  });
  const auto pry = spread(edge, 0.4 * std::hypot(size.x, size.y) / h, 4);
  const auto on_surface = [&](const Spot& s) {
    return m.frame.direction_back({(d.i0 + s.i) * h, (d.j0 + s.j) * h, static_cast<double>(split[column(s.i, s.j)])});
  };
  for (const Spot& s : bolts) out.bolts_mm.push_back(on_surface(s));
  for (const Spot& s : pry) out.pry_mm.push_back(on_surface(s));

  // Feet over the shell's steep sides, where it is stiffest, all down to one plane.
  const auto feet =
      r.feet_mm > 0 ? spread(ring_of(0.5 * r.shell_mm), 0.2 * std::hypot(size.x, size.y) / h, 3) : std::vector<Spot>{};
  const auto plane = static_cast<float>(box.max.z + r.skin_mm + r.shell_mm + foot_over_mm);
  const Transform back = m.frame.inverse();
  for (const bool upper : {true, false}) {
    if (progress.cancelled()) return Error::stopped();
    Lattice s = d;
    for (int j = 0; j < d.nj; ++j)
      for (int i = 0; i < d.ni; ++i) {
        const float ground = split[column(i, j)], near = beside[column(i, j)];
        float bolt = -far, slot = -far, foot = far;
        if (upper)
          for (const Spot& b : feet)
            foot = std::min(foot, static_cast<float>(std::hypot(i - b.i, j - b.j) * h - 0.5 * r.feet_mm));
        for (const Spot& b : bolts)
          bolt = std::max(bolt, static_cast<float>(0.5 * r.bolt_mm - std::hypot(i - b.i, j - b.j) * h));
        for (const Spot& b : pry)
          slot = std::max(slot, static_cast<float>(0.5 * r.pry_wide_mm - std::hypot(i - b.i, j - b.j) * h));
        for (int k = 0; k < d.nk; ++k) {
          const auto z = static_cast<float>((d.k0 + k) * h);
          const float over_ground = upper ? z - ground : ground - z;
          const float e = hull.at(i, j, k);
          // Shell along the skin, flange along the surface; both outside the skin and over the surface.
          const float wall = e - shell, land = std::max(over_ground - thick, near - shell - flange);
          const float stand = std::max(foot, z - plane);
          float v = std::max({std::min({wall, land, stand}), -e, -over_ground});
          v = std::max(v, bolt);
          v = std::max(v, std::min(slot, static_cast<float>(r.pry_deep_mm) - over_ground));
          s.at(i, j, k) = v;
        }
      }
    auto solid = lattice_surface(s, upper ? progress.part(0.2, 0.5) : progress.part(0.5, 0.75));
    if (!solid) return solid.error();
    JacketShell& into = upper ? out.a : out.b;
    into.volume_mm3 = measure(*solid).volume_mm3;
    into.filler_mm3 = filler[upper ? 0 : 1];
    into.mesh = transformed(*std::move(solid), back);
    progress.report(upper ? 0.5 : 0.75);
  }
  for (size_t k = 0; k < hull.value.size(); ++k) hull.value[k] = std::max(hull.value[k], -d.value[k]);
  auto rubber = lattice_surface(hull, progress.part(0.75, 1));
  if (!rubber) return rubber.error();
  out.skin_mm3 = measure(*rubber).volume_mm3;
  out.skin = transformed(*std::move(rubber), back);
  progress.report(1);
  return out;
}

}  // namespace palinform
