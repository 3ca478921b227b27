#include "original/measure_between.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include "base/text.hpp"

namespace palinform {
namespace {

double round3(double v) { return std::round(v * 1000) / 1000; }
double degrees(double rad) { return rad * 180 / std::numbers::pi; }
bool is_round(const FaceFit& f) { return f.kind == FaceKind::bore || f.kind == FaceKind::boss; }

/// A diameter across one end of the round face, the end nearer to the click.
void draw_across(MeasuredSize& s, const Clicked& c, const Vec3& across) {
  const FaceFit& f = c.face;
  const double along = dot(c.at_mm - f.point_mm, f.direction);
  const Vec3 centre = f.point_mm + f.direction * (along > 0 ? 0.5 : -0.5) * f.depth_mm;
  const Vec3 flat = across - f.direction * dot(across, f.direction);
  const Vec3 d = unit(flat, any_perpendicular(f.direction));
  s.from_mm = centre - d * (0.5 * f.diameter_mm);
  s.to_mm = centre + d * (0.5 * f.diameter_mm);
  // A scale stretches a circle's mean diameter by half the sum of the two cross directions.
  for (int k = 0; k < 3; ++k) s.scale_share[k] = 0.5 * (1 - f.direction[k] * f.direction[k]);
}

std::string fit_words(const FaceFit& f) {
  return f.exact ? "as the file states it" : "fit ±" + significant(std::max(f.fit_rms_mm, 1e-4), 1) + " mm";
}

}  // namespace

int clicks_of(Measuring m) { return m == Measuring::faces || m == Measuring::axes ? 2 : 1; }

Result<Proposal> propose_faces(const Clicked& a, const Clicked& b) {
  Proposal p;
  MeasuredSize& s = p.size;
  const bool flat = a.face.kind == FaceKind::plane && b.face.kind == FaceKind::plane;
  const double along = dot(a.face.direction, b.face.direction);
  if (flat && std::abs(along) > std::cos(5 * std::numbers::pi / 180)) {
    // Square to the faces, drawn through the first click.
    const double d = dot(b.face.point_mm - a.at_mm, a.face.direction);
    s.from_mm = a.at_mm;
    s.to_mm = a.at_mm + a.face.direction * d;
    s.kind = along > 0 ? SizeKind::step : d < 0 ? SizeKind::outer : SizeKind::slot;
    s.name = along > 0 ? "Step" : d < 0 ? "Width" : "Slot";
    s.nominal_mm = round3(std::abs(d));
    s.fit_rms_mm = std::hypot(a.face.fit_rms_mm, b.face.fit_rms_mm);
    const double off = degrees(std::acos(std::min(1.0, std::abs(along))));
    p.words = fixed(s.nominal_mm, 3) + " mm square to the first face, parallel within " +
              significant(std::max(off, 0.01), 1) + "°";
  } else if (flat) {
    // The angle of material or gap between the faces, as a protractor reads it.
    const double between = degrees(std::acos(std::clamp(-along, -1.0, 1.0)));
    s.kind = SizeKind::angle;
    s.name = "Angle";
    s.nominal_mm = std::round(between * 100) / 100;
    s.from_mm = a.at_mm;
    s.to_mm = b.at_mm;
    p.words = fixed(s.nominal_mm, 2) + "° between the faces";
    return p;
  } else {
    s.from_mm = a.at_mm;
    s.to_mm = b.at_mm;
    s.name = "Distance";
    s.nominal_mm = round3(length(b.at_mm - a.at_mm));
    p.words = fixed(s.nominal_mm, 3) + " mm from point to point (the faces are not both flat)";
  }
  if (s.nominal_mm < 1e-3) return Error{"both clicks are on one face", "size", "Choose another face for the second."};
  return p;
}

Result<Proposal> propose_round(const Clicked& a, const Vec3& across) {
  if (!is_round(a.face)) return Error{"this face is not round", "size", "Click the wall of a bore or boss."};
  Proposal p;
  MeasuredSize& s = p.size;
  const bool bore = a.face.kind == FaceKind::bore;
  s.kind = bore ? SizeKind::bore : SizeKind::outer;
  s.name = bore ? "Bore" : "Boss";
  s.nominal_mm = round3(a.face.diameter_mm);
  s.fit_rms_mm = a.face.fit_rms_mm;
  s.depth_mm = round3(a.face.depth_mm);
  draw_across(s, a, across);
  p.words = "Ø" + fixed(s.nominal_mm, 3) + " mm, " + fit_words(a.face) + ", " + fixed(a.face.depth_mm, 1) + " mm deep";
  return p;
}

Result<Proposal> propose_axes(const Clicked& a, const Clicked& b) {
  if (!is_round(a.face) || !is_round(b.face))
    return Error{"a distance of axes needs two round faces", "size", "Click the walls of two bores or bosses."};
  Proposal p;
  MeasuredSize& s = p.size;
  s.kind = SizeKind::centre;
  s.name = "Centres";
  const Vec3 d = a.face.direction, e = b.face.direction;
  const double off = degrees(std::acos(std::min(1.0, std::abs(dot(d, e)))));
  if (off < 10) {
    // Square to the first axis, at the height of its click.
    const Vec3 from = a.face.point_mm + d * dot(a.at_mm - a.face.point_mm, d);
    const Vec3 between = b.face.point_mm - from;
    Vec3 to = b.face.point_mm;
    if (std::abs(dot(e, d)) > 1e-9) to = b.face.point_mm - e * (dot(between, d) / dot(e, d));
    s.from_mm = from;
    s.to_mm = to;
    s.nominal_mm = round3(length(to - from));
    p.words =
        fixed(s.nominal_mm, 3) + " mm, axes parallel within " + significant(std::max(off, 0.01), 1) + "° (" +
        significant(std::tan(std::max(off, 0.01) * std::numbers::pi / 180) * std::max(a.face.depth_mm, b.face.depth_mm),
                    1) +
        " mm over their depth)";
  } else {
    // Skew axes: their shortest distance.
    const Vec3 n = unit(cross(d, e)), w = b.face.point_mm - a.face.point_mm;
    const double de = dot(d, e), det = 1 - de * de;
    const double t = (dot(w, d) - dot(w, e) * de) / det, u = (dot(w, d) * de - dot(w, e)) / det;
    s.from_mm = a.face.point_mm + d * t;
    s.to_mm = b.face.point_mm + e * u;
    s.nominal_mm = round3(std::abs(dot(w, n)));
    p.words = fixed(s.nominal_mm, 3) + " mm, axes at " + fixed(off, 1) + "° to one another";
  }
  if (s.nominal_mm < 1e-3)
    return Error{off < 10 ? "both axes are one and the same" : "the axes meet", "size",
                 "Choose two bores beside one another."};
  return p;
}

Result<Proposal> propose_edge_radius(const Clicked& a, const Vec3& across) {
  if (!is_round(a.face)) return Error{"this face is not rounded", "size", "Click the rounded edge itself."};
  Proposal p;
  MeasuredSize& s = p.size;
  s.kind = SizeKind::radius;
  s.name = a.face.kind == FaceKind::boss ? "Edge radius" : "Fillet";
  s.nominal_mm = round3(0.5 * a.face.diameter_mm);
  s.fit_rms_mm = 0.5 * a.face.fit_rms_mm;
  draw_across(s, a, across);
  // From the axis to the face under the click.
  const double lift = dot(a.at_mm - a.face.point_mm, a.face.direction);
  s.from_mm = a.face.point_mm + a.face.direction * lift;
  s.to_mm = a.at_mm;
  p.words = "R" + fixed(s.nominal_mm, 3) + " mm, " + fit_words(a.face);
  return p;
}

Result<Proposal> propose_wall(const TriMesh& mesh, const RayScene& rays, const Vec3& at) {
  const auto w = wall_at(mesh, rays, at);
  if (!w) return Error{"there is no other side under this place", "size", "Mend the mesh, or click elsewhere."};
  Proposal p;
  MeasuredSize& s = p.size;
  s.kind = SizeKind::thickness;
  s.name = "Wall";
  s.nominal_mm = round3(w->thickness_mm);
  s.from_mm = w->from_mm;
  s.to_mm = w->to_mm;
  s.section_mm = s.nominal_mm;
  p.words = fixed(s.nominal_mm, 3) + " mm straight through";
  if (s.nominal_mm < 1e-3) return Error{"the wall has no thickness here", "size", "Click elsewhere."};
  return p;
}

}  // namespace palinform
