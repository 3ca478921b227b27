#include "split/pull_search.hpp"

#include "mesh/lighter.hpp"

#include <meshoptimizer.h>
#include <tbb/parallel_for.h>
#include <Eigen/Eigenvalues>

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

namespace palinform {
namespace {

/// A light copy that carries the search: about `faces` triangles of the same shape (meshoptimizer).
struct Light {
  TriMesh mesh;
  EdgePairs pairs;
  std::vector<Vec3> normal, centre;
  std::vector<double> area;
  std::vector<uint8_t> show;
  double total = 0;
};

Light lighten(const TriMesh& mesh, const RayScene& rays, const FaceWishes& wishes, size_t faces) {
  Light l;
  if (mesh.triangles.size() <= faces * 3 / 2) {
    l.mesh = mesh;
  } else {
    std::vector<float> points;
    points.reserve(mesh.points.size() * 3);
    for (const Vec3& p : mesh.points)
      for (int k = 0; k < 3; ++k) points.push_back(static_cast<float>(p[k] - rays.centre()[k]));
    std::vector<unsigned> index;
    index.reserve(mesh.triangles.size() * 3);
    for (const Triangle& t : mesh.triangles) index.insert(index.end(), t.begin(), t.end());
    std::vector<unsigned> fewer(index.size());
    size_t n = meshopt_simplify(fewer.data(), index.data(), index.size(), points.data(), mesh.points.size(), 12,
                                faces * 3, 0.02f, 0, nullptr);
    // A mesh full of fine detail stops early; then connectivity is given up.
    if (n > faces * 9)
      n = meshopt_simplifySloppy(fewer.data(), index.data(), index.size(), points.data(), mesh.points.size(), 12,
                                 faces * 3, 0.05f, nullptr);
    l.mesh.points = mesh.points;
    for (size_t i = 0; i + 2 < n; i += 3) l.mesh.triangles.push_back({fewer[i], fewer[i + 1], fewer[i + 2]});
    drop_unused_points(l.mesh);
  }
  l.pairs = pair_edges(l.mesh);
  for (size_t t = 0; t < l.mesh.triangles.size(); ++t) {
    l.normal.push_back(l.mesh.normal(t));
    l.centre.push_back(l.mesh.centre(t));
    l.area.push_back(l.mesh.area_mm2(t));
    l.total += l.area.back();
  }
  // Rays start on the true surface: the copy's faces may lie a little inside it.
  l.show.assign(l.centre.size(), 0);
  for (size_t t = 0; t < l.centre.size(); ++t) {
    const SurfacePoint p = rays.closest(l.centre[t]);
    l.centre[t] = p.point_mm;
    if (!wishes.flags.empty()) l.show[t] = wishes.flags[p.triangle];
  }
  return l;
}

/// Of the volume's second moments, exact for a closed mesh however its skin is cut into triangles.
std::array<Vec3, 3> principal_axes(const TriMesh& mesh) {
  const Vec3 about = measure(mesh).box_mm.centre();
  Eigen::Matrix3d second = Eigen::Matrix3d::Zero();
  Eigen::Vector3d first = Eigen::Vector3d::Zero();
  double volume = 0;
  for (size_t t = 0; t < mesh.triangles.size(); ++t) {
    // Tetrahedra from `about`: ∫ x xᵀ = v/20 · (Σ p pᵀ + (Σ p)(Σ p)ᵀ).
    Eigen::Vector3d p[3];
    for (int k = 0; k < 3; ++k) {
      const Vec3 q = mesh.corner(t, k) - about;
      p[k] = {q.x, q.y, q.z};
    }
    const double v = p[0].dot(p[1].cross(p[2])) / 6;
    const Eigen::Vector3d sum = p[0] + p[1] + p[2];
    volume += v;
    first += v / 4 * sum;
    second +=
        v / 20 * (p[0] * p[0].transpose() + p[1] * p[1].transpose() + p[2] * p[2].transpose() + sum * sum.transpose());
  }
  if (std::abs(volume) > 0) second -= first * first.transpose() / volume;
  const Eigen::SelfAdjointEigenSolver<Eigen::Matrix3d> eigen(second);
  std::array<Vec3, 3> out;
  for (int k = 0; k < 3; ++k) {
    const Eigen::Vector3d a = eigen.eigenvectors().col(k);
    out[static_cast<size_t>(k)] = unit({a.x(), a.y(), a.z()});
  }
  return out;
}

struct Sampled {
  double locked_share = 0, line_mm = 0, climb_mm = 0, show_share = 0;
};

Sampled sample(const Light& l, const RayScene& rays, const Vec3& d) {
  const size_t n = l.normal.size();
  const double lift = std::clamp(4e-4 * rays.diagonal_mm(), 1e-4, 0.04);
  std::vector<RayScene::Ray> batch;
  batch.reserve(n + n / 4);
  std::vector<uint32_t> owner;
  // +1 leaves toward +d, +2 toward −d.
  std::vector<uint8_t> leaves(n, 0);
  for (const int way : {1, -1})
    for (uint32_t t = 0; t < n; ++t) {
      const Vec3 dir = d * way;
      if (dot(l.normal[t], dir) < -0.01) continue;
      const Vec3 p = l.centre[t] + l.normal[t] * lift - rays.centre();
      batch.push_back({{static_cast<float>(p.x), static_cast<float>(p.y), static_cast<float>(p.z)},
                       {static_cast<float>(dir.x), static_cast<float>(dir.y), static_cast<float>(dir.z)},
                       0,
                       INFINITY});
      owner.push_back(way > 0 ? t : t | 0x80000000u);
    }
  std::vector<uint8_t> blocked(batch.size());
  rays.occluded(batch, blocked.data(), true);
  for (size_t i = 0; i < batch.size(); ++i)
    if (!blocked[i]) leaves[owner[i] & 0x7FFFFFFFu] |= owner[i] & 0x80000000u ? 2 : 1;
  Sampled s;
  double low = 1e300, high = -1e300, show = 0;
  // Sides as the line will roughly fall: walls that may go either way go to a.
  const auto side = [&](uint32_t t) { return leaves[t] & 1 || (leaves[t] == 0 && dot(l.normal[t], d) >= 0) ? 0 : 1; };
  for (uint32_t t = 0; t < n; ++t) {
    if (leaves[t] == 0 && !(l.show[t] & FaceWishes::ignored)) s.locked_share += l.area[t] / l.total;
    for (uint32_t h = 3 * t; h < 3 * t + 3; ++h) {
      if (!l.pairs.paired(h) || l.pairs.twin[h] < h) continue;
      const uint32_t o = l.pairs.twin[h] / 3;
      if (side(t) == side(o)) continue;
      const Vec3 &a = l.mesh.points[edge_from(l.mesh, h)], &b = l.mesh.points[edge_to(l.mesh, h)];
      // A zigzag of edges is longer than the line through it: what runs square to the pull counts whole.
      const double len = length(b - a);
      s.line_mm += len;
      if (((l.show[t] | l.show[o]) & FaceWishes::show) && dot(l.normal[t], l.normal[o]) > 0.866) show += len;
      low = std::min(low, dot(a, d)), high = std::max(high, dot(a, d));
    }
  }
  s.climb_mm = s.line_mm > 0 ? high - low : 0;
  s.show_share = s.line_mm > 0 ? show / s.line_mm : 0;
  return s;
}

struct Scorer {
  PullWeights w;
  double diagonal = 1;
  const TriMesh* mesh = nullptr;
  std::vector<Vec3> natural;
  double height(const Vec3& d) const {
    double low = 1e300, high = -1e300;
    for (const Vec3& p : mesh->points) low = std::min(low, dot(p, d)), high = std::max(high, dot(p, d));
    return high - low;
  }
  double operator()(const Vec3& d, double locked_share, double line, double climb, double show, double h) const {
    const bool odd =
        std::none_of(natural.begin(), natural.end(), [&](const Vec3& n) { return std::abs(dot(n, d)) > 0.99999; });
    return w.locked * locked_share + w.line * line / (std::numbers::pi * diagonal) + w.flat * climb / diagonal +
           w.height * h / diagonal + w.show * show + (odd ? w.odd : 0);
  }
};

Result<PullSearch> searched(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays,
                            const std::vector<Bore>& bores, const FaceWishes& wishes, const PullSearchOptions& o,
                            const Progress& progress) {
  PullSearch out;
  const Light l = lighten(mesh, rays, wishes, static_cast<size_t>(o.samples));
  out.samples = l.normal.size();
  progress.report(0.1);
  if (progress.cancelled()) return Error::stopped();
  Scorer score{o.weights, std::max(rays.diagonal_mm(), 1e-9), &l.mesh, {}};
  std::vector<Vec3> directions{{0, 0, 1}, {0, 1, 0}, {1, 0, 0}};
  // A facet of a curved skin is no flat face: one holds a share of the skin.
  constexpr double least_share = 0.015;
  for (const Vec3& d : flat_normals(mesh, 12)) {
    double facing = 0;
    for (size_t t = 0; t < l.normal.size(); ++t)
      if (std::abs(dot(l.normal[t], d)) > 0.9995) facing += l.area[t];
    if (facing > least_share * l.total) directions.push_back(d);
  }
  for (const Bore& b : bores) directions.push_back(b.axis);
  // The body's own principal axes: a turned or bent part is found where an upright one is.
  for (const Vec3& axis : principal_axes(mesh)) directions.push_back(axis);
  std::vector<Vec3> natural;
  for (Vec3 d : directions) {
    if (d.z < 0 || (d.z == 0 && (d.y < 0 || (d.y == 0 && d.x < 0)))) d = -d;
    d = d + Vec3{};
    if (std::none_of(natural.begin(), natural.end(), [&](const Vec3& k) { return dot(k, d) > 0.99999; }))
      natural.push_back(d);
  }
  score.natural = natural;
  directions = natural;
  for (int i = 0; i < o.directions; ++i) {
    const double z = 1 - (i + 0.5) / o.directions, r = std::sqrt(1 - z * z),
                 a = i * std::numbers::pi * (3 - std::sqrt(5.0));
    directions.push_back({r * std::cos(a), r * std::sin(a), z});
  }
  const auto try_all = [&](const std::vector<Vec3>& list, double from, double to) -> Status {
    const size_t first = out.rose.size();
    out.rose.resize(first + list.size());
    std::vector<PullCandidate> found(list.size());
    tbb::parallel_for(size_t{0}, list.size(), [&](size_t i) {
      if (progress.cancelled()) return;
      const Sampled s = sample(l, rays, list[i]);
      const double h = score.height(list[i]);
      const double q = score(list[i], s.locked_share, s.line_mm, s.climb_mm, s.show_share, h);
      out.rose[first + i] = {list[i], q, s.locked_share};
      found[i] = {list[i], q, s.locked_share * l.total, s.line_mm, h, false};
    });
    if (progress.cancelled()) return Error::stopped();
    out.candidates.insert(out.candidates.end(), found.begin(), found.end());
    progress.report(to);
    (void)from;
    return {};
  };
  if (auto ok = try_all(directions, 0.1, 0.45); !ok) return ok.error();
  const auto by_score = [](const PullCandidate& a, const PullCandidate& b) { return a.score < b.score; };
  // Of near alike directions the best stays; a natural one within the noise of the samples stands for its neighbours.
  const auto is_natural = [&](const Vec3& d) {
    return std::any_of(natural.begin(), natural.end(), [&](const Vec3& n) { return std::abs(dot(n, d)) > 0.99999; });
  };
  const auto distinct = [&](double cosine, size_t most) {
    std::stable_sort(out.candidates.begin(), out.candidates.end(), by_score);
    std::vector<PullCandidate> kept;
    for (const PullCandidate& c : out.candidates)
      if (kept.size() < most && std::none_of(kept.begin(), kept.end(), [&](const PullCandidate& k) {
            return std::abs(dot(k.pull, c.pull)) > cosine;
          }))
        kept.push_back(c);
    for (PullCandidate& k : kept)
      if (!is_natural(k.pull))
        for (const PullCandidate& c : out.candidates)
          if (is_natural(c.pull) && std::abs(dot(c.pull, k.pull)) > cosine && c.score < 1.15 * k.score + 0.05) {
            k = c;
            break;
          }
    return kept;
  };
  for (const double degrees : {4.0, 1.3, 0.4}) {  // around the best few, ever closer
    std::vector<Vec3> near;
    for (const PullCandidate& c : distinct(0.985, 3)) {
      const Vec3 u = any_perpendicular(c.pull), v = cross(c.pull, u);
      for (int k = 0; k < 6; ++k) {
        const double a = k * std::numbers::pi / 3, t = std::tan(degrees * std::numbers::pi / 180);
        near.push_back(unit(c.pull + (u * std::cos(a) + v * std::sin(a)) * t));
      }
    }
    if (auto ok = try_all(near, 0.45, 0.5); !ok) return ok.error();
  }
  auto last = distinct(0.996, 24);
  // A natural direction that fell to a near alike one by its samples' zigzag is looked at in full beside it.
  const double near_best = last.empty() ? 0 : 1.35 * last.front().score + 0.1;
  for (const PullCandidate& c : out.candidates)
    if (is_natural(c.pull) && c.score <= near_best &&
        std::none_of(last.begin(), last.end(),
                     [&](const PullCandidate& k) { return std::abs(dot(k.pull, c.pull)) > 0.99999; }))
      last.push_back(c);
  out.candidates = std::move(last);
  // Exact lines for the best few. A direction whose sampled score still beats the best exact one is settled too, up to
  // twice as many, so that the first in the list is one that was looked at in full.
  const size_t at_least = std::min<size_t>(out.candidates.size(), static_cast<size_t>(std::max(1, o.settle)));
  std::vector<std::pair<Releases, Split>> settled;
  double best_score = 1e300;
  size_t best = 0, count = 0;
  // A natural direction that samples only a little worse is looked at as well: its samples' zigzag hides what it is.
  std::vector<size_t> also;
  for (size_t i = 0; i < out.candidates.size(); ++i)
    if (out.candidates[i].score <= near_best && is_natural(out.candidates[i].pull)) also.push_back(i);
  std::stable_sort(also.begin(), also.end(),
                   [&](size_t a, size_t b) { return out.candidates[a].score < out.candidates[b].score; });
  while (count < std::min(out.candidates.size(), 2 * at_least)) {
    size_t next = 0;
    while (next < out.candidates.size() && out.candidates[next].exact) ++next;
    for (size_t i = next; i < out.candidates.size(); ++i)
      if (!out.candidates[i].exact && out.candidates[i].score < out.candidates[next].score) next = i;
    if (count >= at_least && !also.empty()) {
      next = also.front();
      also.erase(also.begin());
      if (out.candidates[next].exact) continue;
    } else if (next >= out.candidates.size() || (count >= at_least && out.candidates[next].score >= best_score))
      break;
    PullCandidate& c = out.candidates[next];
    const double turn = static_cast<double>(count) / static_cast<double>(at_least);
    const Progress here = progress.part(std::min(0.9, 0.5 + 0.4 * turn), std::min(0.95, 0.5 + 0.4 * turn + 0.1));
    auto r = releases_along(mesh, rays, c.pull, here.part(0, 0.4));
    if (!r) return r.error();
    auto s = split_from(mesh, pairs, rays, *r, wishes, {}, here.part(0.4, 1));
    if (!s) return s.error();
    c.locked_area_mm2 = s->locked_area_mm2;
    c.line_mm = s->line_mm;
    c.score = score(c.pull, s->locked_area_mm2 / l.total, s->line_mm, s->height_range_mm, s->show_share, c.height_mm);
    c.exact = true;
    if (c.score < best_score - 1e-9) best_score = c.score, best = count;
    settled.emplace_back(*std::move(r), *std::move(s));
    progress.report(std::min(0.95, 0.5 + 0.4 * static_cast<double>(++count) / static_cast<double>(at_least)));
  }
  out.releases = std::move(settled[best].first);
  out.best = std::move(settled[best].second);
  // Side a is the end that more of the surface faces; walls do not count. Flat faces weigh the same from both ends.
  double facing[2] = {0, 0};
  for (size_t t = 0; t < mesh.triangles.size(); ++t) {
    const double c = dot(mesh.normal(t), out.best.pull);
    if (std::abs(c) > 0.05 && !out.best.locked[t]) facing[c < 0] += mesh.area_mm2(t);
  }
  if (facing[1] > facing[0] * 1.0001) {
    std::swap(out.releases.up, out.releases.down);
    out.releases.pull = -out.releases.pull + Vec3{};
    auto s = split_from(mesh, pairs, rays, out.releases, wishes, {}, progress.part(0.95, 1));
    if (!s) return s.error();
    out.best = *std::move(s);
    for (PullCandidate& c : out.candidates)
      if (c.exact && length(c.pull + out.best.pull) < 1e-9) c.pull = out.best.pull, c.line_mm = out.best.line_mm;
  }
  std::stable_sort(out.candidates.begin(), out.candidates.end(), [&](const PullCandidate& a, const PullCandidate& b) {
    const bool ca = a.pull == out.best.pull, cb = b.pull == out.best.pull;
    return ca != cb ? ca : a.score < b.score;
  });
  out.best.candidates = out.candidates;
  progress.report(1);
  return out;
}

/// Of so many triangles the search is made on a copy; only the pull it ends with is settled on all of them.
constexpr size_t searched_whole = 200'000, searched_copy = 100'000;

/// Nothing where a copy helps nothing: hardly lighter, or torn.
Result<std::optional<PullSearch>> search_on_copy(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays,
                                                 const std::vector<Bore>& bores, const FaceWishes& wishes,
                                                 const PullSearchOptions& o, const Progress& progress) {
  const TriMesh copy = lighter(mesh, searched_copy, 3e-4 * rays.diagonal_mm());
  progress.report(0.08);
  if (progress.cancelled()) return Error::stopped();
  const EdgePairs copy_pairs = pair_edges(copy);
  // A few edges where sheets touch shift no candidate.
  if (copy.triangles.size() > mesh.triangles.size() / 2 || copy_pairs.open_edges > 0 ||
      copy_pairs.non_manifold_edges > copy.triangles.size() / 1000)
    return std::optional<PullSearch>{};
  const auto copy_rays = RayScene::build(copy);
  if (!copy_rays) return copy_rays.error();
  FaceWishes copy_wishes;
  if (!wishes.flags.empty())
    for (size_t t = 0; t < copy.triangles.size(); ++t)
      copy_wishes.flags.push_back(wishes.flags[rays.closest(copy.centre(t)).triangle]);
  auto out = searched(copy, copy_pairs, **copy_rays, bores, copy_wishes, o, progress.part(0.1, 0.7));
  if (!out) return out.error();
  // The copy's own axes are the body's but for what it left out.
  Vec3 pull = out->best.pull;
  std::vector<Vec3> axes{{0, 0, 1}, {0, 1, 0}, {1, 0, 0}};
  for (const Vec3& axis : principal_axes(mesh)) axes.push_back(axis);
  for (const Vec3& axis : axes)
    if (std::abs(dot(axis, pull)) > 0.99998) {
      pull = dot(axis, pull) > 0 ? axis : -axis + Vec3{};
      break;
    }
  auto r = releases_along(mesh, rays, pull, progress.part(0.7, 0.8));
  if (!r) return r.error();
  auto s = split_from(mesh, pairs, rays, *r, wishes, {}, progress.part(0.8, 1));
  if (!s) return s.error();
  out->releases = *std::move(r), out->best = *std::move(s);
  if (!out->candidates.empty()) {
    out->candidates.front().pull = out->best.pull;
    out->candidates.front().locked_area_mm2 = out->best.locked_area_mm2;
    out->candidates.front().line_mm = out->best.line_mm;
  }
  out->best.candidates = out->candidates;
  progress.report(1);
  return std::optional(*std::move(out));
}

}  // namespace

Result<PullSearch> search_pull(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays,
                               const std::vector<Bore>& bores, const FaceWishes& wishes, const PullSearchOptions& o,
                               const Progress& progress) {
  if (pairs.open_edges + pairs.non_manifold_edges > 0)
    return Error{"the mesh is not closed, so it cannot be split", "split", "Mend it in Original first."};
  if (mesh.triangles.size() > searched_whole) {
    auto r = search_on_copy(mesh, pairs, rays, bores, wishes, o, progress);
    if (!r) return r.error();
    if (*r) return **std::move(r);
  }
  return searched(mesh, pairs, rays, bores, wishes, o, progress);
}

}  // namespace palinform
