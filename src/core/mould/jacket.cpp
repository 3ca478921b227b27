#include "mould/jacket.hpp"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>

#include "mould/jacket_amounts.hpp"
#include "mould/loose_keys.hpp"

namespace palinform {
namespace {

constexpr double foot_over_mm = 3;  // that feet stand out over the highest place of shell a

}  // namespace

double skin_voxel_mm(const Vec3& size) { return std::max(0.6, std::max({size.x, size.y, size.z}) / 220); }

Result<JacketField> jacket_field(const TriMesh& mesh, const Transform& frame, const JacketRules& r, double voxel,
                                 const Progress& progress) {
  JacketField out;
  const TriMesh part = transformed(mesh, frame);
  out.part_mm = measure(part).box_mm;
  const Vec3 size = out.part_mm.size();
  const double h = voxel > 0 ? voxel : skin_voxel_mm(size);
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

JacketField coarser(const JacketField& field, int every) {
  const Lattice& fine = field.distance;
  const auto up = [&](int i) { return static_cast<int>(std::ceil(static_cast<double>(i) / every)); };
  JacketField out{{}, field.part_mm, field.reach_mm};
  Lattice& l = out.distance;
  l.voxel_mm = every * fine.voxel_mm;
  l.i0 = up(fine.i0), l.j0 = up(fine.j0), l.k0 = up(fine.k0);
  l.ni = up(fine.i0 + fine.ni) - l.i0, l.nj = up(fine.j0 + fine.nj) - l.j0, l.nk = up(fine.k0 + fine.nk) - l.k0;
  l.value.resize(static_cast<size_t>(l.ni) * static_cast<size_t>(l.nj) * static_cast<size_t>(l.nk));
  tbb::parallel_for(0, l.nk, [&](int k) {
    for (int j = 0; j < l.nj; ++j)
      for (int i = 0; i < l.ni; ++i)
        l.at(i, j, k) =
            fine.at(every * (l.i0 + i) - fine.i0, every * (l.j0 + j) - fine.j0, every * (l.k0 + k) - fine.k0);
  });
  return out;
}

Result<Jacket> plan_jacket(const TriMesh& mesh, const Mould& m, const JacketRules& r, double voxel,
                           const Progress& progress) {
  const auto field = jacket_field(mesh, m.frame, r, voxel, progress.part(0, 0.5));
  if (!field) return field.error();
  return plan_jacket(*field, m, r, progress.part(0.5, 1));
}

namespace {

/// A jacket laid out on its field: column by column what its shells are made of.
struct Layout {
  const JacketField& field;
  const JacketRules& rules;
  Lattice hull;                         ///< skin with what each side hides from its shell, and its loose keys
  std::vector<float> ground;            ///< of each column: the parting surface's height
  std::vector<float> beside;            ///< … distance of its nearest skin, for the flange
  std::vector<float> bolt, slot, foot;  ///< … into the nearest of each
  std::array<double, 2> filler_mm3{0, 0};
  std::vector<Spot> bolts, pry;
  std::vector<Vec3> keys_mm;  ///< of a, then of b; in the field's frame
  size_t column(int i, int j) const {
    return static_cast<size_t>(j) * static_cast<size_t>(field.distance.ni) + static_cast<size_t>(i);
  }
};

/// Along a's way out the least distance of all above, along b's of all under.
void hide_along(Layout& l, bool upper) {
  const Lattice& d = l.field.distance;
  const auto skin = static_cast<float>(l.rules.skin_mm), far = static_cast<float>(l.field.reach_mm);
  std::vector<int64_t> filled(static_cast<size_t>(d.nj), 0);
  tbb::parallel_for(0, d.nj, [&](int j) {
    std::vector<float> least(static_cast<size_t>(d.ni), far);
    for (int n = 0; n < d.nk; ++n) {
      const int k = upper ? d.nk - 1 - n : n;
      const auto at = static_cast<float>((d.k0 + k) * d.voxel_mm);
      for (int i = 0; i < d.ni; ++i) {
        const float z = l.ground[l.column(i, j)];
        if (upper ? at < z : at >= z) continue;
        float& e = least[static_cast<size_t>(i)];
        const float own = d.at(i, j, k) - skin;
        e = std::min(e, own);
        l.hull.at(i, j, k) = e;
        filled[static_cast<size_t>(j)] += e <= 0 && own > 0;
      }
    }
    for (int i = 0; i < d.ni; ++i) {
      float& b = l.beside[l.column(i, j)];
      b = std::min(b, least[static_cast<size_t>(i)]);
    }
  });
  for (const int64_t n : filled)
    l.filler_mm3[upper ? 0 : 1] += static_cast<double>(n) * d.voxel_mm * d.voxel_mm * d.voxel_mm;
}

Layout laid_out(const JacketField& field, const Mould& m, const JacketRules& r) {
  const Lattice& d = field.distance;
  const Vec3 size = field.part_mm.size();
  const double h = d.voxel_mm;
  const size_t columns = static_cast<size_t>(d.ni) * static_cast<size_t>(d.nj);
  const auto far = static_cast<float>(field.reach_mm);
  Layout l{field, r, d, std::vector<float>(columns), std::vector<float>(columns, far), {}, {}, {}, {}, {}, {}, {}};
  tbb::parallel_for(0, d.nj, [&](int j) {
    for (int i = 0; i < d.ni; ++i)
      l.ground[l.column(i, j)] = static_cast<float>(m.parting_at((d.i0 + i) * h, (d.j0 + j) * h));
  });
  for (const bool upper : {true, false}) hide_along(l, upper);
  for (const bool upper : {true, false})
    for (const Vec3& foot : press_loose_keys(l.hull, l.ground, upper, std::hypot(size.x, size.y), r))
      l.keys_mm.push_back(foot);
  // Bolts in the middle of the flange, slots at its edge half-way between them.
  const auto ring_of = [&](double at) {
    std::vector<Spot> pool;
    for (int j = 0; j < d.nj; ++j)
      for (int i = 0; i < d.ni; ++i)
        if (std::abs(l.beside[l.column(i, j)] - static_cast<float>(at)) < 0.7f * static_cast<float>(h))
          pool.push_back({i, j});
    return pool;
  };
  l.bolts = spread(ring_of(r.shell_mm + 0.55 * r.flange_mm), 0.6 * r.bolt_every_mm / h, 64);
  std::vector<Spot> edge = ring_of(r.shell_mm + r.flange_mm - h);
  std::erase_if(edge, [&](const Spot& s) {
    return std::any_of(l.bolts.begin(), l.bolts.end(),
                       [&](const Spot& b) { return std::hypot(s.i - b.i, s.j - b.j) * h < r.bolt_mm + r.pry_wide_mm; });
  });
  l.pry = spread(edge, 0.4 * std::hypot(size.x, size.y) / h, 4);
  // Feet over the shell's steep sides, where it is stiffest, all down to one plane.
  const auto feet =
      r.feet_mm > 0 ? spread(ring_of(0.5 * r.shell_mm), 0.2 * std::hypot(size.x, size.y) / h, 3) : std::vector<Spot>{};
  l.bolt.assign(columns, -far), l.slot.assign(columns, -far), l.foot.assign(columns, far);
  tbb::parallel_for(0, d.nj, [&](int j) {
    for (int i = 0; i < d.ni; ++i) {
      const auto off_mm = [&](const Spot& s) { return std::hypot(i - s.i, j - s.j) * h; };
      const size_t c = l.column(i, j);
      for (const Spot& s : feet) l.foot[c] = std::min(l.foot[c], static_cast<float>(off_mm(s) - 0.5 * r.feet_mm));
      for (const Spot& s : l.bolts) l.bolt[c] = std::max(l.bolt[c], static_cast<float>(0.5 * r.bolt_mm - off_mm(s)));
      for (const Spot& s : l.pry) l.slot[c] = std::max(l.slot[c], static_cast<float>(0.5 * r.pry_wide_mm - off_mm(s)));
    }
  });
  return l;
}

/// Hands each value of a shell's field, negative in it, to visit(j, index, value); rows side by side.
template <class Visit>
void each_of_shell(const Layout& l, bool upper, Visit&& visit) {
  const Lattice& d = l.field.distance;
  const JacketRules& r = l.rules;
  const auto shell = static_cast<float>(r.shell_mm), flange = static_cast<float>(r.flange_mm),
             thick = static_cast<float>(r.flange_thick_mm), pry_deep = static_cast<float>(r.pry_deep_mm),
             plane = static_cast<float>(l.field.part_mm.max.z + r.skin_mm + r.shell_mm + foot_over_mm);
  tbb::parallel_for(0, d.nj, [&](int j) {
    for (int k = 0; k < d.nk; ++k) {
      const auto z = static_cast<float>((d.k0 + k) * d.voxel_mm);
      for (int i = 0; i < d.ni; ++i) {
        const size_t c = l.column(i, j), at = d.index(i, j, k);
        const float over_ground = upper ? z - l.ground[c] : l.ground[c] - z, e = l.hull.value[at];
        // Shell along the skin, flange along the surface; both outside the skin and over the surface.
        const float wall = e - shell, land = std::max(over_ground - thick, l.beside[c] - shell - flange);
        float v = std::min(wall, land);
        if (upper) v = std::min(v, std::max(l.foot[c], z - plane));
        v = std::max({v, -e, -over_ground, l.bolt[c]});
        visit(j, at, std::max(v, std::min(l.slot[c], pry_deep - over_ground)));
      }
    }
  });
}

/// Shares of cells that lie under a field's nought, in whole 1/1024 so that the sum does not hang on its order.
int64_t share_inside(float value, float voxel) {
  return std::lround(1024 * std::clamp(0.5f - value / voxel, 0.0f, 1.0f));
}

}  // namespace

JacketAmounts jacket_amounts(const JacketField& field, const Mould& m, const JacketRules& r) {
  const Layout l = laid_out(field, m, r);
  const Lattice& d = field.distance;
  const auto h = static_cast<float>(d.voxel_mm);
  const auto mm3 = [&](const std::vector<int64_t>& rows) {
    int64_t sum = 0;
    for (const int64_t n : rows) sum += n;
    return static_cast<double>(sum) / 1024 * d.voxel_mm * d.voxel_mm * d.voxel_mm;
  };
  JacketAmounts out;
  for (const bool upper : {true, false}) {
    std::vector<int64_t> rows(static_cast<size_t>(d.nj), 0);
    each_of_shell(l, upper,
                  [&](int j, size_t, float v) { rows[static_cast<size_t>(j)] += v < h ? share_inside(v, h) : 0; });
    (upper ? out.a_mm3 : out.b_mm3) = mm3(rows);
  }
  std::vector<int64_t> layers(static_cast<size_t>(d.nk), 0);
  tbb::parallel_for(0, d.nk, [&](int k) {
    for (size_t at = d.index(0, 0, k); at < d.index(0, 0, k) + static_cast<size_t>(d.ni) * static_cast<size_t>(d.nj);
         ++at)
      layers[static_cast<size_t>(k)] += share_inside(std::max(l.hull.value[at], -d.value[at]), h);
  });
  out.skin_mm3 = mm3(layers);
  return out;
}

Result<Jacket> plan_jacket(const JacketField& field, const Mould& m, const JacketRules& r, const Progress& progress) {
  Layout l = laid_out(field, m, r);
  const Lattice& d = field.distance;
  Jacket out;
  out.voxel_mm = d.voxel_mm;
  for (const Vec3& foot : l.keys_mm) out.keys_mm.push_back(m.frame.direction_back(foot));
  progress.report(0.2);
  if (progress.cancelled()) return Error::stopped();
  const auto on_surface = [&](const Spot& s) {
    return m.frame.direction_back(
        {(d.i0 + s.i) * d.voxel_mm, (d.j0 + s.j) * d.voxel_mm, static_cast<double>(l.ground[l.column(s.i, s.j)])});
  };
  for (const Spot& s : l.bolts) out.bolts_mm.push_back(on_surface(s));
  for (const Spot& s : l.pry) out.pry_mm.push_back(on_surface(s));
  const Transform back = m.frame.inverse();
  Lattice s = d;
  for (const bool upper : {true, false}) {
    if (progress.cancelled()) return Error::stopped();
    each_of_shell(l, upper, [&](int, size_t at, float v) { s.value[at] = v; });
    auto solid = lattice_surface(s, upper ? progress.part(0.2, 0.5) : progress.part(0.5, 0.75));
    if (!solid) return solid.error();
    JacketShell& into = upper ? out.a : out.b;
    into.volume_mm3 = measure(*solid).volume_mm3;
    into.filler_mm3 = l.filler_mm3[upper ? 0 : 1];
    into.mesh = transformed(*std::move(solid), back);
    progress.report(upper ? 0.5 : 0.75);
  }
  for (size_t k = 0; k < l.hull.value.size(); ++k) l.hull.value[k] = std::max(l.hull.value[k], -d.value[k]);
  auto rubber = lattice_surface(l.hull, progress.part(0.75, 1));
  if (!rubber) return rubber.error();
  out.skin_mm3 = measure(*rubber).volume_mm3;
  out.skin = transformed(*std::move(rubber), back);
  progress.report(1);
  return out;
}

}  // namespace palinform
