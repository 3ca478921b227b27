#include "mould/brushed_half.hpp"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>
#include <numeric>

#include "mould/loose_keys.hpp"

namespace palinform {

double BrushedHalf::rubber_mm3() const { return std::accumulate(coats_mm3.begin(), coats_mm3.end(), filler_mm3); }

namespace {

/// Outside a box: how far in front of its nearest face; negative inside.
double before(const Box3& b, const Vec3& p) {
  return std::max({b.min.x - p.x, p.x - b.max.x, b.min.y - p.y, p.y - b.max.y, b.min.z - p.z, p.z - b.max.z});
}

/// Share of a cell of side h about p that lies in a box.
double share_in(const Box3& b, const Vec3& p, double h) {
  double share = 1;
  for (int q = 0; q < 3; ++q)
    share *= std::clamp((std::min(b.max[q], p[q] + 0.5 * h) - std::max(b.min[q], p[q] - 0.5 * h)) / h, 0.0, 1.0);
  return share;
}

/// Distances to part and bed in `d`, whose values are the farthest looked at. `ground`: the bed's height by column.
void near_part_and_bed(Lattice& d, const Lattice& part, const std::vector<float>& ground, bool upper) {
  const auto height = [&](int i, int j) {
    return static_cast<double>(ground[static_cast<size_t>(std::clamp(j, 0, d.nj - 1)) * static_cast<size_t>(d.ni) +
                                      static_cast<size_t>(std::clamp(i, 0, d.ni - 1))]);
  };
  // The gentler of the two sides: at the part's edge the bed steps into the part, where it is none.
  const auto slope = [&](double low, double here, double high) {
    return std::min(std::abs(here - low), std::abs(high - here)) / d.voxel_mm;
  };
  tbb::parallel_for(0, d.nj, [&](int j) {
    for (int i = 0; i < d.ni; ++i) {
      const double su = slope(height(i - 1, j), height(i, j), height(i + 1, j)),
                   sv = slope(height(i, j - 1), height(i, j), height(i, j + 1)),
                   lean = 1 / std::sqrt(1 + su * su + sv * sv);
      const int pi = d.i0 + i - part.i0, pj = d.j0 + j - part.j0;
      const bool beside = pi < 0 || pj < 0 || pi >= part.ni || pj >= part.nj;
      for (int k = 0; k < d.nk; ++k) {
        float& v = d.at(i, j, k);
        const double over = (upper ? 1 : -1) * ((d.k0 + k) * d.voxel_mm - height(i, j));
        const int pk = d.k0 + k - part.k0;
        const float most = v;
        if (!beside && pk >= 0 && pk < part.nk) v = std::min(v, part.at(pi, pj, pk));
        v = std::clamp(std::min(v, static_cast<float>(over * lean)), -most, most);
      }
    }
  });
}

}  // namespace

Result<PartDistances> part_distances(const TriMesh& mesh, const Transform& frame, double voxel, double reach,
                                     const Progress& progress) {
  const TriMesh part = transformed(mesh, frame);
  Box3 region = measure(part).box_mm;
  const Vec3 beside{reach, reach, reach};
  region.add(region.min - beside), region.add(region.max + beside);
  auto field = distance_lattice(part, region, voxel, reach, progress);
  if (!field) return field.error();
  return PartDistances{*std::move(field)};
}

Result<BrushedHalf> brushed_half(const TriMesh& mesh, const Mould& m, const BrushedHalfAsked& a,
                                 const Progress& progress) {
  if (a.outer_mm.empty() || m.pours.size() != 2)
    return Error{"there is nothing to brush on", "brushed half", "Say how thick the coats are."};
  const bool upper = a.upper;
  const Box3& in = m.inner_mm;
  const Vec3 size = in.size();
  const double skin = a.outer_mm.back(), half_mm3 = m.pours[upper ? 0 : 1].volume_mm3;
  BrushedHalf out;
  const double h = out.voxel_mm = a.near ? a.near->field.voxel_mm : a.voxel_mm > 0 ? a.voxel_mm : skin_voxel_mm(size);
  const double reach = skin + a.rules.key_high_mm + 3 * h;
  const auto bed = [&](double u, double v) { return a.bed_mm ? a.bed_mm(u, v) : m.parting_at(u, v); };
  // Beyond the walls the bed goes on, so that coats are as thick there as elsewhere.
  const double beside = skin + 4 * h;
  Box3 region;
  double foot = bed(in.min.x, in.min.y);
  for (double u = in.min.x - beside; u <= in.max.x + beside; u += 2 * h)
    for (double v = in.min.y - beside; v <= in.max.y + beside; v += 2 * h)
      foot = upper ? std::min(foot, bed(u, v)) : std::max(foot, bed(u, v));
  region.add({in.min.x - beside, in.min.y - beside, upper ? foot - 4 * h : in.min.z - 5 * h});
  region.add({in.max.x + beside, in.max.y + beside, upper ? in.max.z + 5 * h : foot + 4 * h});
  // Of the box what lies over the bed: under it the lattice ends inside the bed.
  Box3 side = in;
  (upper ? side.min.z : side.max.z) = foot + (upper ? -1.5 : 1.5) * h;
  // Master and bed in one, and distances from their skin.
  auto field = a.near ? lattice_over(region, h, static_cast<float>(reach))
                      : distance_lattice(transformed(mesh, m.frame), region, h, 3 * h, progress.part(0, 0.2));
  if (!field) return field.error();
  Lattice& ground_body = *field;
  Box3 shrunk;
  shrunk.add(region.min + Vec3{2 * h, 2 * h, 2 * h});
  shrunk.add(region.max - Vec3{2 * h, 2 * h, 2 * h});
  const size_t columns = static_cast<size_t>(ground_body.ni) * static_cast<size_t>(ground_body.nj);
  std::vector<float> ground(columns);
  const auto column = [&](int i, int j) {
    return static_cast<size_t>(j) * static_cast<size_t>(ground_body.ni) + static_cast<size_t>(i);
  };
  for (int j = 0; j < ground_body.nj; ++j)
    for (int i = 0; i < ground_body.ni; ++i)
      ground[column(i, j)] = static_cast<float>(bed((ground_body.i0 + i) * h, (ground_body.j0 + j) * h));
  const auto each = [&](const Lattice& l, auto&& visit) {
    for (int k = 0; k < l.nk; ++k)
      for (int j = 0; j < l.nj; ++j)
        for (int i = 0; i < l.ni; ++i) visit(i, j, k, l.place_mm(i, j, k));
  };
  if (a.near)
    near_part_and_bed(ground_body, a.near->field, ground, upper);
  else
    each(ground_body, [&](int i, int j, int k, const Vec3& p) {
      const auto over = static_cast<float>((upper ? 1 : -1) * (p.z - static_cast<double>(ground[column(i, j)])));
      float& v = ground_body.at(i, j, k);
      v = std::max(std::min(v, over), static_cast<float>(before(shrunk, p)));
    });
  auto distances = [&]() -> Result<Lattice> {
    if (a.near) return std::move(ground_body);
    const auto body = lattice_surface(ground_body, progress.part(0.2, 0.35));
    if (!body) return body.error();
    return distance_lattice(*body, region, h, reach, progress.part(0.35, 0.6));
  }();
  if (!distances) return distances.error();
  const Lattice& d = *distances;
  if (progress.cancelled()) return Error::stopped();

  // What the coats hide from the backing as it is drawn off: along its way out the least distance of all above.
  Lattice hull = d;
  for (int j = 0; j < d.nj; ++j)
    for (int i = 0; i < d.ni; ++i) {
      auto least = static_cast<float>(reach);
      for (int n = 0; n < d.nk; ++n) {
        const int k = upper ? d.nk - 1 - n : n;
        least = std::min(least, d.at(i, j, k) - static_cast<float>(skin));
        hull.at(i, j, k) = least;
      }
    }
  if (a.rules.keys_a_shell > 0) {
    const double clear = a.rules.key_radius_mm + skin;
    press_loose_keys(hull, ground, upper, std::hypot(size.x, size.y), a.rules, [&](int i, int j) {
      const double u = (d.i0 + i) * h, v = (d.j0 + j) * h;
      return u > in.min.x + clear && u < in.max.x - clear && v > in.min.y + clear && v < in.max.y - clear;
    });
  }
  std::vector<double> under(a.outer_mm.size() + 1, 0);  // under nothing, and under each coat's outer offset
  double covered = 0, whole = 0;
  const auto share_under = [&](double distance) { return std::clamp(0.5 - distance / h, 0.0, 1.0); };
  each(d, [&](int i, int j, int k, const Vec3& p) {
    double w = share_in(side, p, h);
    for (const KeptOut& x : m.kept_out) w -= share_in(x.box_mm, p, h);
    if (w <= 0) return;
    const auto at = static_cast<double>(d.at(i, j, k));
    whole += w;
    under[0] += w * share_under(at);
    for (size_t c = 0; c < a.outer_mm.size(); ++c) under[c + 1] += w * share_under(at - a.outer_mm[c]);
    covered += w * share_under(static_cast<double>(hull.at(i, j, k)));
  });
  const double cell = h * h * h;
  for (int j = 0; j < d.nj; ++j)
    for (int i = 0; i < d.ni; ++i) {
      const Vec3 p = d.place_mm(i, j, 0);
      const double stands = static_cast<double>(ground[column(i, j)]) - m.parting_at(p.x, p.y);
      Box3 plan;
      plan.add({in.min.x, in.min.y, p.z - h});
      plan.add({in.max.x, in.max.y, p.z + h});
      if (stands != 0) out.keys_mm3 += h * h * stands * share_in(plan, p, h);
    }
  // Of coarse cells at its edges the solid's share is told badly; but what is not solid is the half's pour.
  if (a.near) under[0] = whole - (half_mm3 - (upper ? 1 : -1) * out.keys_mm3) / cell;
  for (size_t c = 0; c < a.outer_mm.size(); ++c) out.coats_mm3.push_back(cell * (under[c + 1] - under[c]));
  out.filler_mm3 = std::max(0.0, cell * (covered - under.back()));
  out.backing_mm3 = half_mm3 - (upper ? 1 : -1) * out.keys_mm3 - out.rubber_mm3();
  if (out.backing_mm3 < 0.02 * half_mm3)
    return Error{"the coats fill the box: there is nothing left to back", "brushed half",
                 "Take thinner coats, a thicker wall, or pour that half."};
  const Transform back = m.frame.inverse();
  Lattice rubber = hull, backing = hull, all, beyond;
  if (a.to_write) all = hull, beyond = hull;
  each(d, [&](int i, int j, int k, const Vec3& p) {
    double clip = before(side, p);
    for (const KeptOut& x : m.kept_out) clip = std::max(clip, -before(x.box_mm, p));
    const float e = hull.at(i, j, k), outside = static_cast<float>(clip);
    rubber.at(i, j, k) = std::max({e, -d.at(i, j, k), outside});
    backing.at(i, j, k) = std::max(-e, outside);
    if (!a.to_write) return;
    all.at(i, j, k) = std::max(e, static_cast<float>(before(shrunk, p)));
    beyond.at(i, j, k) = std::max(-e, static_cast<float>(before(shrunk, p)));
  });
  TriMesh* const into[4] = {&out.rubber, &out.backing, &out.covered, &out.beyond};
  const Lattice* const from[4] = {&rubber, &backing, &all, &beyond};
  for (int k = 0; k < (a.to_write ? 4 : 2); ++k) {
    auto solid = lattice_surface(*from[k], progress.part(0.6 + 0.1 * k, 0.7 + 0.1 * k));
    if (!solid) return solid.error();
    *into[k] = transformed(*std::move(solid), back);
  }
  progress.report(1);
  return out;
}

}  // namespace palinform
