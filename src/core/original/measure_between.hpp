#pragma once
/// What two clicked faces say about a size: distance, angle, bore, axes, edge radius, wall. The mesh proposes, the
/// person measures.
#include <string>

#include "base/names.hpp"
#include "base/result.hpp"
#include "mesh/feature.hpp"
#include "mesh/thickness.hpp"
#include "original/size.hpp"

namespace palinform {

enum class Measuring { faces, round, axes, edge_radius, wall };
template <>
inline constexpr std::array names<Measuring>{"faces"sv, "round"sv, "axes"sv, "edge-radius"sv, "wall"sv};
/// Clicks it takes: two for faces and axes, one for the others.
int clicks_of(Measuring m);

struct Clicked {
  FaceFit face;
  Vec3 at_mm;
};

struct Proposal {
  MeasuredSize size;  ///< kind, name, nominal, line, fit error, depth, share; no limits yet
  std::string words;  ///< "Ø8.000, fit ±0.004 mm, 23.0 mm deep" or "parallel within 0.1°"
};

/// `across`: a direction in the picture along which a diameter's line is drawn best. Refused in words where the faces
/// do not make such a size: both clicks on one face, no round face for axes, an edge radius on a flat.
Result<Proposal> propose_faces(const Clicked& a, const Clicked& b);
Result<Proposal> propose_round(const Clicked& a, const Vec3& across);
Result<Proposal> propose_axes(const Clicked& a, const Clicked& b);
Result<Proposal> propose_edge_radius(const Clicked& a, const Vec3& across);
Result<Proposal> propose_wall(const TriMesh& mesh, const RayScene& rays, const Vec3& at_mm);

}  // namespace palinform
