#include "split/pieces.hpp"
#include "mesh/flood.hpp"
#include "split/draw_ways.hpp"
#include "split/leaving.hpp"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>
#include <map>

namespace palinform {
Result<PiecesPlan> find_pieces(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays, const Split& split,
                               const FaceWishes& wishes, const std::vector<Vec3>& given, const PiecesOptions& options,
                               const Progress& progress) {
  PiecesPlan plan;
  std::vector<uint32_t> left;
  double locked = 0;
  for (uint32_t t = 0; t < mesh.triangles.size(); ++t)
    if (split.locked[t] && !(!wishes.flags.empty() && (wishes.flags[t] & FaceWishes::ignored))) {
      left.push_back(t);
      locked += mesh.area_mm2(t);
    }
  plan.left_mm2 = locked;
  if (left.empty() || locked < 0.5) return plan;

  const DrawWays all_ways = draw_ways(split.pull, options.directions);
  const std::vector<Vec3>& ways = all_ways.ways;
  // Patches of locked skin that hang together.
  std::vector<int32_t> patch(mesh.triangles.size(), -1);
  {
    for (const uint32_t t : left) patch[t] = 0;
    int32_t count = 0;
    for (const uint32_t seed : left) {
      if (patch[seed] > 0) continue;
      patch[seed] = ++count;
      flood_faces(
          pairs, seed, [](uint32_t) {},
          [&](uint32_t, uint32_t h) {
            int32_t& other = patch[pairs.twin[h] / 3];
            if (other != 0) return false;
            other = count;
            return true;
          });
    }
  }
  /// Area, bodies and draw of those of `faces` that are open.
  struct Freed {
    double area = 0, draw = 0;
    int bodies = 0;
  };
  const auto weigh = [&](const std::vector<uint32_t>& faces, const std::vector<uint8_t>& open, const Vec3& d) {
    Freed f;
    std::map<int32_t, double> by_patch;
    std::map<int32_t, std::pair<double, double>> reach;
    for (size_t i = 0; i < faces.size(); ++i) {
      if (!open[i]) continue;
      const double a = mesh.area_mm2(faces[i]);
      f.area += a;
      by_patch[patch[faces[i]]] += a;
      auto& [low, high] = reach.try_emplace(patch[faces[i]], 1e300, -1e300).first->second;
      for (int k = 0; k < 3; ++k) {
        const double at = dot(mesh.corner(faces[i], k), d);
        low = std::min(low, at), high = std::max(high, at);
      }
    }
    for (const auto& [id, a] : by_patch)
      if (a > 0.05 * f.area) {
        ++f.bodies;
        f.draw = std::max(f.draw, reach[id].second - reach[id].first);
      }
    return f;
  };
  const auto take = [&](const Vec3& pull) {
    const auto open = leaving(mesh, rays, left, pull);
    ExtraPiece piece;
    piece.pull = pull;
    const Freed f = weigh(left, open, pull);
    piece.bodies = f.bodies;
    piece.draw_mm = f.draw;
    std::vector<uint32_t> rest;
    for (size_t i = 0; i < left.size(); ++i) (open[i] ? piece.triangles : rest).push_back(left[i]);
    std::vector<uint8_t> mine(mesh.triangles.size(), 0);
    for (const uint32_t t : piece.triangles) {
      mine[t] = 1;
      piece.area_mm2 += mesh.area_mm2(t);
      piece.centroid_mm += mesh.centre(t) * mesh.area_mm2(t);
    }
    if (piece.area_mm2 > 0) piece.centroid_mm = piece.centroid_mm / piece.area_mm2;
    for (const uint32_t t : piece.triangles)
      for (uint32_t h = 3 * t; h < 3 * t + 3; ++h)
        if (pairs.paired(h) && !mine[pairs.twin[h] / 3])
          piece.line_mm += length(mesh.points[edge_to(mesh, h)] - mesh.points[edge_from(mesh, h)]);
    left = std::move(rest);
    plan.left_mm2 -= piece.area_mm2;
    plan.pieces.push_back(std::move(piece));
  };
  for (const Vec3& pull : given)
    if (finite(pull) && length(pull) > 1e-9) take(unit(pull));

  while (static_cast<int>(plan.pieces.size()) < options.most && plan.left_mm2 > 0.02 * locked && !left.empty()) {
    if (progress.cancelled()) return Error::stopped();
    std::vector<uint32_t> some;
    const size_t stride = std::max<size_t>(1, left.size() / options.samples);
    for (size_t i = 0; i < left.size(); i += stride) some.push_back(left[i]);
    std::vector<Freed> freed(ways.size());
    tbb::parallel_for(size_t{0}, ways.size(), [&](size_t w) {
      if (progress.cancelled()) return;
      const auto open = leaving(mesh, rays, some, ways[w]);
      freed[w] = weigh(some, open, ways[w]);
      freed[w].area *= static_cast<double>(stride);
    });
    if (progress.cancelled()) return Error::stopped();
    size_t best = 0;
    double best_worth = -1;
    for (size_t w = 0; w < ways.size(); ++w) {
      // Square to the pull a slide opens with the mould shut; of equals it is the easier one to build.
      const double worth = freed[w].area / std::max(1, freed[w].bodies) *
                           (1 - 0.5 * std::min(1.0, freed[w].draw / rays.diagonal_mm())) *
                           (1 - 0.05 * std::abs(dot(ways[w], split.pull))) * (w < all_ways.plain ? 1.02 : 1);
      if (worth > best_worth * (1 + 1e-9)) best_worth = worth, best = w;
    }
    if (freed[best].area < options.least_share * locked) break;
    const size_t before = plan.pieces.size();
    take(ways[best]);
    if (plan.pieces[before].area_mm2 < options.least_share * locked) {
      plan.left_mm2 += plan.pieces[before].area_mm2;
      plan.pieces.pop_back();
      break;
    }
    progress.report(1 - plan.left_mm2 / locked);
  }
  plan.left_mm2 = std::max(0.0, plan.left_mm2);
  progress.report(1);
  return plan;
}

}  // namespace palinform
