#pragma once
// Faces that can be drawn out along a direction, looked at from their centres alone (accessibility.hpp
// looks at shares of them).
#include <array>
#include <vector>

#include "mesh/rays.hpp"

namespace palinform {

/// Does the face leave along unit `d`? One that leans in by half a degree still does.
bool leaves(const TriMesh& mesh, const RayScene& rays, uint32_t face, const Vec3& d);
/// The same of many, by place in `faces`; sixteen at a time.
std::vector<uint8_t> leaving(const TriMesh& mesh, const RayScene& rays, const std::vector<uint32_t>& faces,
                             const Vec3& d);

/// Of the faces' corners along unit `d`: the lowest, the highest, mm. Turned about where there are none.
std::array<double, 2> reach_along(const TriMesh& mesh, const std::vector<uint32_t>& faces, const Vec3& d);

}  // namespace palinform
