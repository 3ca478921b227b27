#include "split/witness.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"

namespace palinform {
namespace {

constexpr double degrees = 180 / M_PI;

double extent_of(const TriMesh& mesh) {
  const Vec3 e = measure(mesh).box_mm.size();
  return std::max({e.x, e.y, e.z});
}

/// How far off the line the skin is felt: past an edge broken by half a millimetre, but not past a small part's
/// features.
double feel_mm(double span) { return std::clamp(0.7, 0.008 * span, 0.03 * span); }

/// What meets at one place of the line: the skin of side a and of side b, each going away from the line.
struct Corner {
  Vec3 tangent, into_a, into_b;  ///< unit; `into` lie in the skin, square to the tangent
  bool sharp = false;
  uint32_t face_a = 0, face_b = 0;
};

/// The skin is felt a little to either side: `reach_mm` off the line along the tangent plane and back onto the part.
Corner corner_at(const TriMesh& mesh, const RayScene& rays, const std::vector<Vec3>& line, size_t i, const Vec3& pull,
                 double reach_mm) {
  const size_t n = line.size();
  Corner c;
  Vec3 ahead = line[(i + 1) % n], behind = line[(i + n - 1) % n];
  for (size_t k = 2; k < n / 4 && length(ahead - line[i]) < reach_mm; ++k) ahead = line[(i + k) % n];
  for (size_t k = 2; k < n / 4 && length(behind - line[i]) < reach_mm; ++k) behind = line[(i + n - k) % n];
  c.tangent = unit(ahead - behind, {1, 0, 0});
  // Side a lies to the left seen against the pull: up the skin for an upright wall.
  const SurfacePoint on = rays.closest(line[i]);
  const Vec3 skin = mesh.normal(on.triangle);
  Vec3 left = unit(cross(skin, c.tangent), pull);
  for (const bool to_a : {true, false}) {
    const Vec3 go = to_a ? left : -left;
    SurfacePoint there = rays.closest(line[i] + go * reach_mm);
    const auto across = [&](const Vec3& p) { return p - line[i] - c.tangent * dot(p - line[i], c.tangent); };
    Vec3 into = across(there.point_mm);
    if (length(into) < 0.5 * reach_mm) {  // over a sharp edge: the skin goes down behind it
      there = rays.closest(line[i] + go * (0.3 * reach_mm) - skin * reach_mm);
      into = across(there.point_mm);
    }
    (to_a ? c.into_a : c.into_b) = length(into) > 0.2 * reach_mm ? unit(into) : go;
    (to_a ? c.face_a : c.face_b) = there.triangle;
  }
  c.sharp = dot(mesh.normal(c.face_a), mesh.normal(c.face_b)) < 0.866;
  return c;
}

/// Outward and level: square to the line, across the pull, away from the part.
Vec3 outward_of(const TriMesh& mesh, const Corner& c, const Vec3& pull) {
  Vec3 out = cross(c.tangent, pull);
  if (length(out) < 1e-6) return {};
  out = unit(out);
  return dot(out, mesh.normal(c.face_a) + mesh.normal(c.face_b)) < 0 ? -out : out;
}

double between_deg(const Vec3& a, const Vec3& b) { return std::acos(std::clamp(dot(a, b), -1.0, 1.0)) * degrees; }

}  // namespace

std::string_view words_of(WitnessPlace::Kind k) {
  switch (k) {
    case WitnessPlace::Kind::feather:
      return "feather edge of rubber";
    case WitnessPlace::Kind::show:
      return "across a show face";
    case WitnessPlace::Kind::steep:
      return "climbs steeply";
    case WitnessPlace::Kind::smooth:
      return "across a smooth face";
  }
  return "";
}

std::vector<WitnessPlace> witness_places(const TriMesh& mesh, const RayScene& rays, const Split& split,
                                         const FaceWishes& wishes, const WitnessOptions& options) {
  std::vector<WitnessPlace> out;
  const double span = extent_of(mesh), reach = feel_mm(span);
  using Kind = WitnessPlace::Kind;
  for (size_t l = 0; l < split.loops.size(); ++l) {
    const auto& line = split.loops[l].points_mm;
    const size_t n = line.size();
    if (n < 3) continue;
    // A kind and its figure for every step of the line.
    std::vector<int> kind(n, -1);
    std::vector<double> figure(n, 0), step(n);
    for (size_t i = 0; i < n; ++i) {
      step[i] = length(line[(i + 1) % n] - line[i]);
      const Corner c = corner_at(mesh, rays, line, i, split.pull, reach);
      const Vec3 outward = outward_of(mesh, c, split.pull);
      const double climb = std::asin(std::min(1.0, std::abs(dot(c.tangent, split.pull)))) * degrees;
      const bool show = !wishes.flags.empty() && (wishes.flags[c.face_a] & FaceWishes::show) &&
                        (wishes.flags[c.face_b] & FaceWishes::show);
      // The rubber of each half fills the corner between the bed and the skin.
      const double edge = std::min(between_deg(outward, c.into_a), between_deg(outward, c.into_b));
      if (climb > options.steep_deg)
        kind[i] = static_cast<int>(Kind::steep), figure[i] = climb;
      else if (length(outward) > 0.5 && edge < options.feather_deg)
        kind[i] = static_cast<int>(Kind::feather), figure[i] = edge;
      else if (!c.sharp && show)
        kind[i] = static_cast<int>(Kind::show);
      else if (!c.sharp)
        kind[i] = static_cast<int>(Kind::smooth);
    }
    // Runs of one kind; gaps shorter than twice the reach are bridged.
    size_t first = 0;
    while (first < n && kind[first] == kind[(first + n - 1) % n]) ++first;
    if (first == n) first = 0;
    double along = 0;
    for (size_t i = 0; i < first; ++i) along += step[i];
    for (size_t done = 0; done < n;) {
      const size_t at = (first + done) % n;
      const int k = kind[at];
      double length_mm = 0, gap = 0, worst = k == static_cast<int>(Kind::feather) ? 180 : 0;
      size_t count = 0, last = 0;
      while (done + count < n) {
        const size_t i = (at + count) % n;
        if (kind[i] == k) {
          length_mm += gap + step[i];
          gap = 0;
          last = count + 1;
          worst = k == static_cast<int>(Kind::feather) ? std::min(worst, figure[i]) : std::max(worst, figure[i]);
        } else {
          gap += step[i];
          if (gap > 2 * reach) break;
        }
        ++count;
      }
      if (k >= 0 && length_mm >= options.least_share * span) {
        WitnessPlace w{static_cast<Kind>(k), l, along, length_mm, {}, worst};
        double run = 0;
        for (size_t j = 0; j < last; ++j) {
          run += step[(at + j) % n];
          w.at_mm = line[(at + j) % n];
          if (run >= 0.5 * length_mm) break;
        }
        out.push_back(w);
      }
      for (size_t j = 0; j < last; ++j) along += step[(at + j) % n];
      done += last;
    }
  }
  std::stable_sort(out.begin(), out.end(), [](const WitnessPlace& a, const WitnessPlace& b) {
    return a.kind != b.kind ? a.kind < b.kind : a.length_mm > b.length_mm;
  });
  return out;
}

std::vector<Station> stations_along(const TriMesh& mesh, const RayScene& rays, const Split& split, size_t loop,
                                    int count) {
  std::vector<Station> out;
  if (loop >= split.loops.size() || split.loops[loop].points_mm.size() < 3 || count < 1) return out;
  const auto& line = split.loops[loop].points_mm;
  double low = 1e300;
  for (const Vec3& p : mesh.points) low = std::min(low, dot(p, split.pull));
  const double span = extent_of(mesh), every = split.loops[loop].length_mm / count;
  double along = 0, next = 0;
  for (size_t i = 0; i < line.size() && static_cast<int>(out.size()) < count; ++i) {
    const double step = length(line[(i + 1) % line.size()] - line[i]);
    while (next < along + step && static_cast<int>(out.size()) < count) {
      Station s;
      const Vec3 on = line[i] + (line[(i + 1) % line.size()] - line[i]) * (step > 0 ? (next - along) / step : 0);
      s.at_mm = on;
      s.along_mm = next;
      s.height_mm = dot(on, split.pull) - low;
      const Corner c = corner_at(mesh, rays, line, i, split.pull, feel_mm(span));
      const Vec3 outward = outward_of(mesh, c, split.pull);
      if (length(outward) > 0.5) {
        // The middle of the free space between both skins, seen along the line.
        const Vec3 middle = mesh.normal(c.face_a) + mesh.normal(c.face_b);
        const double up = dot(middle, split.pull), away = dot(middle, outward);
        s.bevel_deg =
            length(middle) < 0.05 || away < 0.02 ? 0 : std::clamp(std::atan2(up, away) * degrees, -30.0, 30.0);
        const Vec3 bed = outward * std::cos(s.bevel_deg / degrees) + split.pull * std::sin(s.bevel_deg / degrees);
        s.edge_deg = std::min(between_deg(bed, c.into_a), between_deg(bed, c.into_b));
      }
      out.push_back(s);
      next += every;
    }
    along += step;
  }
  return out;
}

}  // namespace palinform
