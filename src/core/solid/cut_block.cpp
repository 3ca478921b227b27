#include "solid/cut_block.hpp"

#include <openvdb/tools/Composite.h>
#include <tbb/parallel_for.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "base/text.hpp"
#include "solid/vdb_mesh.hpp"
#include "solid/vdb_surface.hpp"

namespace palinform {
namespace {

using Grid = openvdb::FloatGrid;
constexpr int leaf = 8;

/// Heights over the lattice's columns with the factor that turns a height difference into a distance.
struct Ground {
  int i0 = 0, j0 = 0, ni = 0, nj = 0;
  std::vector<float> z, lean;
  size_t at(int i, int j) const {
    return static_cast<size_t>(j - j0) * static_cast<size_t>(ni) + static_cast<size_t>(i - i0);
  }
};

Ground ground_over(const HeightField& f, int i0, int j0, int ni, int nj, double voxel) {
  Ground g{i0, j0, ni, nj, std::vector<float>(static_cast<size_t>(ni) * static_cast<size_t>(nj)), {}};
  g.lean.resize(g.z.size());
  for (int j = j0; j < j0 + nj; ++j)
    for (int i = i0; i < i0 + ni; ++i) g.z[g.at(i, j)] = static_cast<float>(f.height(i * voxel, j * voxel));
  for (int j = j0; j < j0 + nj; ++j)
    for (int i = i0; i < i0 + ni; ++i) {
      const int a = std::max(i - 1, i0), b = std::min(i + 1, i0 + ni - 1), c = std::max(j - 1, j0),
                d = std::min(j + 1, j0 + nj - 1);
      const double dx = static_cast<double>(g.z[g.at(b, j)] - g.z[g.at(a, j)]) / ((b - a) * voxel),
                   dy = static_cast<double>(g.z[g.at(i, d)] - g.z[g.at(i, c)]) / ((d - c) * voxel);
      g.lean[g.at(i, j)] = static_cast<float>(1 / std::sqrt(1 + dx * dx + dy * dy));
    }
  return g;
}

/// Signed distance to the box; with `side` ±1, to its part over (+1) or under (−1) the ground. Exact beside the box's
/// faces, a close underestimate beside its edges and steps.
Grid::Ptr block_field(const Box3& box, const Ground* g, int side, double voxel) {
  const float band = static_cast<float>(3 * voxel);
  auto grid = Grid::create(band);
  grid->setTransform(openvdb::math::Transform::createLinearTransform(voxel));
  grid->setGridClass(openvdb::GRID_LEVEL_SET);
  int lo[3], hi[3];
  for (int k = 0; k < 3; ++k) {
    lo[k] = static_cast<int>(std::floor(box.min[k] / voxel / leaf)) * leaf - leaf;
    hi[k] = static_cast<int>(std::ceil(box.max[k] / voxel / leaf)) * leaf + leaf;
  }
  auto& tree = grid->tree();
  using Leaf = Grid::TreeType::LeafNodeType;
  for (int z0 = lo[2]; z0 < hi[2]; z0 += leaf)
    for (int y0 = lo[1]; y0 < hi[1]; y0 += leaf)
      for (int x0 = lo[0]; x0 < hi[0]; x0 += leaf) {
        const openvdb::Coord origin(x0, y0, z0);
        float value[leaf * leaf * leaf];
        float least = 1e30f, most = -1e30f;
        for (int x = 0; x < leaf; ++x)
          for (int y = 0; y < leaf; ++y) {
            const double px = (x0 + x) * voxel, py = (y0 + y) * voxel;
            const double side_d =
                std::max(std::max(box.min.x - px, px - box.max.x), std::max(box.min.y - py, py - box.max.y));
            double ground = 0, lean = 1;
            if (g) {
              const size_t at =
                  g->at(std::clamp(x0 + x, g->i0, g->i0 + g->ni - 1), std::clamp(y0 + y, g->j0, g->j0 + g->nj - 1));
              ground = static_cast<double>(g->z[at]), lean = static_cast<double>(g->lean[at]);
            }
            for (int z = 0; z < leaf; ++z) {
              const double pz = (z0 + z) * voxel;
              double d = std::max(side_d, std::max(box.min.z - pz, pz - box.max.z));
              if (g) d = std::max(d, side * (ground - pz) * lean);
              const float v = std::clamp(static_cast<float>(d), -band, band);
              value[(x * leaf + y) * leaf + z] = v;
              least = std::min(least, v), most = std::max(most, v);
            }
          }
        if (least >= band) continue;
        if (most <= -band) {
          tree.addTile(1, origin, -band, false);
          continue;
        }
        auto* node = new Leaf(origin, band, false);
        for (openvdb::Index n = 0; n < Leaf::SIZE; ++n) {
          const float v = value[n];
          if (std::abs(v) < band)
            node->setValueOn(n, v);
          else
            node->setValueOff(n, v);
        }
        tree.addLeaf(node);
      }
  return grid;
}

/// Between eight values of a lattice; `outside` beyond it. `place_mm` in its frame.
double sampled(const Lattice& l, const Vec3& place_mm, double outside) {
  const int n[3] = {l.ni, l.nj, l.nk}, first[3] = {l.i0, l.j0, l.k0};
  int at[3];
  double f[3];
  for (int a = 0; a < 3; ++a) {
    const double x = place_mm[a] / l.voxel_mm - first[a];
    if (!(x >= 0 && x < n[a] - 1)) return outside;
    at[a] = static_cast<int>(x);
    f[a] = x - at[a];
  }
  double sum = 0;
  for (int k = 0; k < 2; ++k)
    for (int j = 0; j < 2; ++j) {
      const size_t row = l.index(at[0], at[1] + j, at[2] + k);
      sum += (k ? f[2] : 1 - f[2]) * (j ? f[1] : 1 - f[1]) *
             ((1 - f[0]) * static_cast<double>(l.value[row]) + f[0] * static_cast<double>(l.value[row + 1]));
    }
  return sum;
}

/// A piece's space as a level set over as much of it as lies in the box.
Grid::Ptr space_field(const PieceSpace& piece, const Box3& box, double voxel) {
  const float band = static_cast<float>(3 * voxel);
  auto grid = Grid::create(band);
  grid->setTransform(openvdb::math::Transform::createLinearTransform(voxel));
  grid->setGridClass(openvdb::GRID_LEVEL_SET);
  const Lattice& l = piece.field;
  Box3 there;
  for (int c = 0; c < 8; ++c)
    there.add(piece.into.point_back(l.place_mm(c & 1 ? l.ni - 1 : 0, c & 2 ? l.nj - 1 : 0, c & 4 ? l.nk - 1 : 0)));
  int lo[3], hi[3];
  for (int k = 0; k < 3; ++k) {
    lo[k] = static_cast<int>(std::floor(std::max(there.min[k], box.min[k]) / voxel / leaf)) * leaf - leaf;
    hi[k] = static_cast<int>(std::ceil(std::min(there.max[k], box.max[k]) / voxel / leaf)) * leaf + leaf;
  }
  struct Filled {
    openvdb::Coord origin;
    std::array<float, leaf * leaf * leaf> value;
    float least = 1e30f, most = -1e30f;
  };
  std::vector<Filled> leaves;
  for (int z = lo[2]; z < hi[2]; z += leaf)
    for (int y = lo[1]; y < hi[1]; y += leaf)
      for (int x = lo[0]; x < hi[0]; x += leaf) leaves.push_back({openvdb::Coord(x, y, z), {}});
  tbb::parallel_for(size_t{0}, leaves.size(), [&](size_t n) {
    Filled& f = leaves[n];
    for (int x = 0; x < leaf; ++x)
      for (int y = 0; y < leaf; ++y)
        for (int z = 0; z < leaf; ++z) {
          const Vec3 at{(f.origin.x() + x) * voxel, (f.origin.y() + y) * voxel, (f.origin.z() + z) * voxel};
          const float v =
              std::clamp(static_cast<float>(sampled(l, piece.into.point(at), static_cast<double>(band))), -band, band);
          f.value[static_cast<size_t>((x * leaf + y) * leaf + z)] = v;
          f.least = std::min(f.least, v), f.most = std::max(f.most, v);
        }
  });
  auto& tree = grid->tree();
  using Leaf = Grid::TreeType::LeafNodeType;
  for (const Filled& f : leaves) {
    if (f.least >= band) continue;
    if (f.most <= -band) {
      tree.addTile(1, f.origin, -band, false);
      continue;
    }
    auto* node = new Leaf(f.origin, band, false);
    for (openvdb::Index n = 0; n < Leaf::SIZE; ++n)
      if (std::abs(f.value[n]) < band)
        node->setValueOn(n, f.value[n]);
      else
        node->setValueOff(n, f.value[n]);
    tree.addLeaf(node);
  }
  return grid;
}

}  // namespace

Result<BlockPieces> cut_block(const Box3& box, const HeightField& surface, const std::vector<TriMesh>& away,
                              const std::vector<PieceSpace>& pieces, double voxel, const Progress& progress) {
  const Vec3 size = box.size();
  if (!(voxel > 0)) return Error{"the voxel must be above nought", "solid", ""};
  if (size.x / voxel * (size.y / voxel) * (size.z / voxel) > 4e8)
    return Error{"a voxel of " + significant(voxel, 2) + " mm is too fine for this size", "solid",
                 "Use a coarser one."};
  vdb::start();
  const double skin = vdb::skin_band_voxels * voxel;
  Grid::Ptr taken;
  for (size_t k = 0; k < away.size(); ++k) {
    if (progress.cancelled()) return Error::stopped();
    auto one = vdb::distance_to(away[k], voxel, skin, skin, true, progress.part(0, 0.3));
    if (taken)
      openvdb::tools::csgUnion(*taken, *one);
    else
      taken = one;
    progress.report(0.4 * static_cast<double>(k + 1) / static_cast<double>(away.size()));
  }
  std::vector<Grid::Ptr> cut;
  for (const PieceSpace& m : pieces) {
    if (progress.cancelled()) return Error::stopped();
    cut.push_back(space_field(m, box, voxel));
  }
  const int i0 = static_cast<int>(std::floor(box.min.x / voxel)) - 1,
            j0 = static_cast<int>(std::floor(box.min.y / voxel)) - 1,
            ni = static_cast<int>(std::ceil(box.max.x / voxel)) + 2 - i0,
            nj = static_cast<int>(std::ceil(box.max.y / voxel)) + 2 - j0;
  const Ground ground = ground_over(surface, i0, j0, ni, nj, voxel);
  BlockPieces out;
  const auto solid = [&](const Grid::Ptr& body, TriMesh& into) -> Status {
    const auto left = taken ? openvdb::tools::csgDifferenceCopy(*body, *taken) : body;
    if (progress.cancelled()) return Error::stopped();
    auto m = vdb::sound_surface(*left, 0, voxel, progress.part(0.5, 0.7));
    if (!m) return m.error();
    into = *std::move(m);
    return {};
  };
  for (const bool upper : {true, false}) {
    if (progress.cancelled()) return Error::stopped();
    Grid::Ptr body = block_field(box, &ground, upper ? 1 : -1, voxel);
    for (const Grid::Ptr& c : cut) body = openvdb::tools::csgDifferenceCopy(*body, *c);
    if (auto ok = solid(body, upper ? out.upper : out.lower); !ok) return ok.error();
    progress.report(upper ? 0.7 : 0.9);
  }
  for (size_t k = 0; k < cut.size(); ++k) {
    if (progress.cancelled()) return Error::stopped();
    out.pieces.emplace_back();
    Grid::Ptr body = openvdb::tools::csgIntersectionCopy(*block_field(box, nullptr, 0, voxel), *cut[k]);
    for (size_t before = 0; before < k; ++before) body = openvdb::tools::csgDifferenceCopy(*body, *cut[before]);
    if (auto ok = solid(body, out.pieces.back()); !ok) return ok.error();
  }
  progress.report(1);
  return out;
}

}  // namespace palinform
