#include "mesh/fill_between.hpp"

#include <algorithm>
#include <cmath>
#include <unordered_map>

#include "mesh/flood.hpp"
#include "mesh/repair.hpp"

namespace palinform {
namespace {

uint64_t edge_key(uint32_t a, uint32_t b) { return static_cast<uint64_t>(std::min(a, b)) << 32 | std::max(a, b); }

/// A face that the plane crosses where the loop runs: found anew, since faces were split since.
std::optional<uint32_t> face_at(const TriMesh& mesh, const CutPlane& plane, const Vec3& near) {
  std::optional<uint32_t> found;
  double best = 1e300;
  for (uint32_t t = 0; t < mesh.triangles.size(); ++t) {
    double low = 1e300, high = -1e300;
    for (int k = 0; k < 3; ++k) {
      const double lift = plane.lift_mm(mesh.corner(t, k));
      low = std::min(low, lift), high = std::max(high, lift);
    }
    if (low >= 0 || high < 0) continue;
    // The stretch of the plane's cut over this face that lies nearest.
    Vec3 ends[2];
    int n = 0;
    for (int k = 0; k < 3 && n < 2; ++k) {
      const Vec3 &a = mesh.corner(t, k), &b = mesh.corner(t, (k + 1) % 3);
      const double la = plane.lift_mm(a), lb = plane.lift_mm(b);
      if ((la >= 0) != (lb >= 0)) ends[n++] = a + (b - a) * (la / (la - lb));
    }
    if (n < 2) continue;
    const Vec3 e = ends[1] - ends[0];
    const double len = dot(e, e), s = len > 0 ? std::clamp(dot(near - ends[0], e) / len, 0.0, 1.0) : 0;
    const double d = length(ends[0] + e * s - near);
    if (d < best) best = d, found = t;
  }
  return found;
}

struct Cap {
  std::vector<uint32_t> rim;  ///< hollow on the left seen against `normal`
  Vec3 normal, middle;        ///< out of the fill
  double dimple_mm = 0;       ///< across, into the fill; below nought a tip that stands out of it
};

void put_cap(TriMesh& mesh, const Cap& c) {
  const size_t n = c.rim.size();
  std::vector<Vec3> polygon;
  for (const uint32_t v : c.rim) polygon.push_back(mesh.points[v]);
  // Seen from outside the rim runs counter-clockwise: with it the cap looks out.
  const double across = std::abs(c.dimple_mm);
  bool star = across > 0;
  for (size_t i = 0; i < n && star; ++i) {
    const Vec3 a = polygon[i] - c.middle, b = polygon[(i + 1) % n] - c.middle;
    star = dot(cross(a, b), c.normal) > 0 && length(a) > 0.55 * across;
  }
  if (!star) {
    for (const Triangle& t : fill_loop(polygon)) {
      const bool out = dot(cross(polygon[t[1]] - polygon[t[0]], polygon[t[2]] - polygon[t[0]]), c.normal) >= 0;
      mesh.triangles.push_back({c.rim[t[0]], c.rim[out ? t[1] : t[2]], c.rim[out ? t[2] : t[1]]});
    }
    return;
  }
  const auto ring = static_cast<uint32_t>(mesh.points.size());
  for (const Vec3& p : polygon) mesh.points.push_back(c.middle + unit(p - c.middle) * (0.5 * across));
  const auto tip = static_cast<uint32_t>(mesh.points.size());
  mesh.points.push_back(c.middle - c.normal * (0.5 * c.dimple_mm));
  for (uint32_t i = 0; i < n; ++i) {
    const auto j = static_cast<uint32_t>((i + 1) % n);
    mesh.triangles.push_back({c.rim[i], c.rim[j], ring + j});
    mesh.triangles.push_back({c.rim[i], ring + j, ring + i});
    mesh.triangles.push_back({ring + i, ring + j, tip});
  }
}

/// A mesh with its faces split along the cuts, and which of them lie between.
struct Between {
  TriMesh mesh;
  std::vector<Cap> caps;
  std::vector<bool> inside;  ///< by face
};

Result<Between> split_between(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays,
                              const std::vector<FillBetween>& fills) {
  Between r;
  TriMesh& out = r.mesh;
  out = mesh;
  std::vector<Cap>& caps = r.caps;
  std::unordered_map<uint64_t, size_t> cut_at;  // edges along the cuts: which cut
  EdgePairs now = pairs;
  bool fresh = true;  // `now` belongs to `out`
  for (const FillBetween& f : fills)
    for (const bool second : {false, true}) {
      CutPlane plane = second ? f.to : f.from;
      const Error fail{"the skin does not close round " + f.name + " there", f.name,
                       "Choose another place in it, or another treatment."};
      std::optional<SectionLoop> loop;
      // Where the plane meets a corner of the mesh a breath to the side does as well.
      for (int tries = 0; tries < 6; ++tries) {
        const auto first = section_round(mesh, pairs, rays, plane);
        if (!first) return fail;
        if (!fresh) now = pair_edges(out), fresh = true;
        const auto face = face_at(out, plane, (first->points_mm[0] + first->points_mm[1]) * 0.5);
        loop = face ? walk_section(out, now, *face, plane) : std::nullopt;
        if (!loop) return fail;
        double nearest = 1e300;
        for (size_t i = 0; i < loop->half_edges.size(); ++i)
          for (const uint32_t v : {edge_from(out, loop->half_edges[i]), edge_to(out, loop->half_edges[i])})
            nearest = std::min(nearest, length(out.points[v] - loop->points_mm[i]));
        if (nearest > 1e-7 * rays.diagonal_mm()) break;
        plane.point_mm += plane.normal * ((second ? -1 : 1) * 3.1e-7 * rays.diagonal_mm() * (1 + tries));
      }
      Cap c;
      c.rim = carve_section(out, now, *loop);
      fresh = false;
      c.normal = second ? plane.normal : -plane.normal;
      if (!second) std::reverse(c.rim.begin(), c.rim.end());
      c.middle = inscribed_circle(loop->points_mm, plane.normal).centre_mm;
      const Vec3 centroid = loop->centroid_mm();
      if (winding(loop->points_mm, {centroid, plane.normal}) == 1) c.middle = centroid;
      c.dimple_mm = second ? f.dimple_to_mm : f.dimple_from_mm;
      for (size_t i = 0; i < c.rim.size(); ++i) cut_at[edge_key(c.rim[i], c.rim[(i + 1) % c.rim.size()])] = caps.size();
      caps.push_back(std::move(c));
    }
  std::vector<bool>& gone = r.inside;
  gone.assign(out.triangles.size(), false);
  if (fills.empty()) return r;
  now = pair_edges(out);
  // What lies between: from each cut inward, never over a cut.
  const auto cut_of = [&](uint32_t h) { return cut_at.find(edge_key(edge_from(out, h), edge_to(out, h))); };
  std::vector<uint8_t> side(out.triangles.size(), 0);  // at a cut: 1 inside, 2 outside
  for (uint32_t h = 0; h < 3 * out.triangles.size(); ++h)
    if (const auto at = cut_of(h); at != cut_at.end()) {
      const Cap& c = caps[at->second];
      const Vec3& third = out.points[edge_to(out, next_half_edge(h))];
      side[h / 3] = dot(third - out.points[c.rim[0]], c.normal) < 0 ? 1 : 2;
    }
  bool open = false;
  for (uint32_t t = 0; t < out.triangles.size(); ++t) {
    if (side[t] != 1 || gone[t]) continue;
    gone[t] = true;
    flood_faces(
        now, t, [&](uint32_t f) { open = open || side[f] == 2; },
        [&](uint32_t, uint32_t h) {
          const uint32_t other = now.twin[h] / 3;
          if (gone[other] || cut_of(h) != cut_at.end()) return false;
          gone[other] = true;
          return true;
        });
  }
  if (open)
    return Error{fills.size() == 1 ? fills[0].name + " opens elsewhere too: another passage crosses it"
                                   : "the openings that are to be filled open elsewhere too: another passage crosses "
                                     "them",
                 "openings", "Fill the one that crosses it as well, or let rubber meet in it."};
  return r;
}

}  // namespace

Result<TriMesh> filled_between(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays,
                               const std::vector<FillBetween>& fills) {
  auto cut = split_between(mesh, pairs, rays, fills);
  if (!cut) return cut.error();
  if (fills.empty()) return std::move(cut->mesh);
  TriMesh kept;
  kept.points = std::move(cut->mesh.points);
  for (size_t t = 0; t < cut->mesh.triangles.size(); ++t)
    if (!cut->inside[t]) kept.triangles.push_back(cut->mesh.triangles[t]);
  for (const Cap& c : cut->caps) put_cap(kept, c);
  // What was open and is now shut in on all sides is full: neither rubber nor air gets there.
  const auto shut_in = [](const TriMesh& m, const EdgePairs& p, Components* parts) {
    *parts = components(m, p);
    return component_volumes_mm3(m, *parts);
  };
  Components parts;
  const auto before = shut_in(mesh, pairs, &parts);
  if (std::none_of(before.begin(), before.end(), [](double v) { return v < 0; })) {
    const EdgePairs p = pair_edges(kept);
    const auto after = shut_in(kept, p, &parts);
    std::vector<Triangle> outer;
    for (size_t t = 0; t < kept.triangles.size(); ++t)
      if (after[parts.of_triangle[t]] >= 0) outer.push_back(kept.triangles[t]);
    kept.triangles = std::move(outer);
  }
  drop_unused_points(kept);
  return kept;
}

Result<PassageBody> body_between(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays,
                                 const FillBetween& between, const Vec3& along, double past_from, double past_to) {
  auto cut = split_between(mesh, pairs, rays, {between});
  if (!cut) return cut.error();
  PassageBody r;
  TriMesh& body = r.mesh;
  body.points = std::move(cut->mesh.points);
  for (size_t t = 0; t < cut->mesh.triangles.size(); ++t)
    if (cut->inside[t]) {
      const Triangle& f = cut->mesh.triangles[t];
      body.triangles.push_back({f[0], f[2], f[1]});  // the skin's outside is the body's inside
      const Vec3 n = cross(body.points[f[2]] - body.points[f[0]], body.points[f[1]] - body.points[f[0]]);
      const double twice = length(n);
      if (twice <= 0) continue;
      const double lean = dot(n, along) / twice;
      if (lean > 0.02) r.leans_forward_mm2 += 0.5 * twice;
      if (lean < -0.02) r.leans_back_mm2 += 0.5 * twice;
    }
  for (size_t k = 0; k < 2; ++k) {
    Cap c = cut->caps[k];
    std::vector<Vec3>& rim = k == 0 ? r.from_rim_mm : r.to_rim_mm;
    for (const uint32_t v : c.rim) rim.push_back(body.points[v]);
    const double past = k == 0 ? past_from : past_to;
    const Vec3 out = k == 0 ? -along : along;
    if (past > 0 && dot(c.normal, out) > 0.2) {
      // Drawn on straight, to an end square to the way.
      double most = -1e300;
      for (const Vec3& p : rim) most = std::max(most, dot(p, out));
      const double end = most + past;
      const auto first = static_cast<uint32_t>(body.points.size()), n = static_cast<uint32_t>(rim.size());
      for (const Vec3& p : rim) body.points.push_back(p + out * (end - dot(p, out)));
      for (uint32_t i = 0; i < n; ++i) {
        const uint32_t j = (i + 1) % n, a = c.rim[i], b = c.rim[j];
        body.triangles.push_back({a, b, first + j});
        body.triangles.push_back({a, first + j, first + i});
      }
      for (uint32_t i = 0; i < n; ++i) c.rim[i] = first + i;
      c.middle = c.middle + out * (end - dot(c.middle, out));
      c.normal = out;
      c.dimple_mm = 0;
    }
    put_cap(body, c);
  }
  drop_unused_points(body);
  return r;
}

}  // namespace palinform
