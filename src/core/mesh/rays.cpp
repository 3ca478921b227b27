#include "mesh/rays.hpp"
#include "mesh/closest_on_triangle.hpp"

#include <embree3/rtcore.h>

#include <algorithm>
#include <cmath>
#include <limits>

namespace palinform {
namespace {

/// One device for the process: it holds Embree's thread settings only.
RTCDevice device() {
  static const RTCDevice d = rtcNewDevice(nullptr);
  return d;
}

}  // namespace

struct RayScene::Scene {
  RTCScene scene = nullptr;
  std::vector<float> points;  // padded: Embree reads 16 bytes at the last point
  std::vector<Triangle> triangles;
  ~Scene() {
    if (scene) rtcReleaseScene(scene);
  }
};

RayScene::RayScene(std::unique_ptr<Scene> scene) : scene_(std::move(scene)) {}
RayScene::~RayScene() = default;
void* RayScene::embree_scene() const { return scene_->scene; }

Result<std::shared_ptr<const RayScene>> RayScene::build(const TriMesh& mesh) {
  if (!device()) return Error{"the ray engine cannot start", "", "Check that libembree3 is installed."};
  auto s = std::make_unique<Scene>();
  Box3 box;
  for (const Vec3& p : mesh.points) box.add(p);
  const Vec3 centre = box.centre();
  s->points.resize(mesh.points.size() * 3 + 4);
  for (size_t i = 0; i < mesh.points.size(); ++i)
    for (int k = 0; k < 3; ++k) s->points[3 * i + k] = static_cast<float>(mesh.points[i][k] - centre[k]);
  s->triangles = mesh.triangles;
  const RTCGeometry g = rtcNewGeometry(device(), RTC_GEOMETRY_TYPE_TRIANGLE);
  rtcSetSharedGeometryBuffer(g, RTC_BUFFER_TYPE_VERTEX, 0, RTC_FORMAT_FLOAT3, s->points.data(), 0, 12,
                             mesh.points.size());
  rtcSetSharedGeometryBuffer(g, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT3, s->triangles.data(), 0, 12,
                             s->triangles.size());
  // A scan's even faces are found as fast in a tree that is built in a third of the time.
  const RTCBuildQuality quality = mesh.triangles.size() > 300'000 ? RTC_BUILD_QUALITY_LOW : RTC_BUILD_QUALITY_MEDIUM;
  rtcSetGeometryBuildQuality(g, quality);
  rtcCommitGeometry(g);
  s->scene = rtcNewScene(device());
  rtcSetSceneFlags(s->scene, RTC_SCENE_FLAG_ROBUST);  // no leaks between neighbouring faces
  rtcAttachGeometry(s->scene, g);
  rtcReleaseGeometry(g);
  rtcSetSceneBuildQuality(s->scene, quality);
  rtcCommitScene(s->scene);
  if (rtcGetDeviceError(device()) != RTC_ERROR_NONE)
    return Error{"the ray engine ran out of memory", "", "Thin the mesh out first."};
  auto* made = new RayScene(std::move(s));
  made->centre_ = centre;
  made->diagonal_mm_ = length(box.size());
  return std::shared_ptr<const RayScene>(made);
}

std::optional<RayHit> RayScene::first_hit(const Vec3& from, const Vec3& dir, double t_min) const {
  RTCRayHit r{};
  const Vec3 o = from - centre_;
  r.ray.org_x = static_cast<float>(o.x), r.ray.org_y = static_cast<float>(o.y), r.ray.org_z = static_cast<float>(o.z);
  r.ray.dir_x = static_cast<float>(dir.x), r.ray.dir_y = static_cast<float>(dir.y),
  r.ray.dir_z = static_cast<float>(dir.z);
  r.ray.tnear = static_cast<float>(t_min);
  r.ray.tfar = std::numeric_limits<float>::infinity();
  r.ray.mask = ~0u;
  r.hit.geomID = RTC_INVALID_GEOMETRY_ID;
  RTCIntersectContext context;
  rtcInitIntersectContext(&context);
  rtcIntersect1(scene_->scene, &context, &r);
  if (r.hit.geomID == RTC_INVALID_GEOMETRY_ID) return std::nullopt;
  const double facing = r.hit.Ng_x * dir.x + r.hit.Ng_y * dir.y + r.hit.Ng_z * dir.z;
  return RayHit{r.ray.tfar, r.hit.primID, facing < 0};
}

std::vector<RayHit> RayScene::all_hits(const Vec3& from, const Vec3& dir) const {
  std::vector<RayHit> hits;
  double t = 0;
  const double step = 1e-6 * std::max(diagonal_mm_, 1e-3);
  while (auto hit = first_hit(from, dir, t)) {
    // A grazed edge reports both faces at one depth; the second of a like pair is the same crossing.
    if (hits.empty() || hit->t_mm - hits.back().t_mm > 4 * step || hit->entering != hits.back().entering)
      hits.push_back(*hit);
    t = std::max(
        static_cast<double>(std::nextafter(static_cast<float>(hit->t_mm), std::numeric_limits<float>::infinity())),
        hit->t_mm + step);
    if (hits.size() > 100'000) break;
  }
  return hits;
}

SurfacePoint RayScene::closest(const Vec3& p) const {
  struct Search {
    const Scene* scene;
    Vec3 at;
    SurfacePoint best;
  } search{scene_.get(), p - centre_, {{}, 0, std::numeric_limits<double>::infinity()}};
  RTCPointQuery query{};
  query.x = static_cast<float>(search.at.x), query.y = static_cast<float>(search.at.y),
  query.z = static_cast<float>(search.at.z);
  query.radius = std::numeric_limits<float>::infinity();
  RTCPointQueryContext context;
  rtcInitPointQueryContext(&context);
  rtcPointQuery(
      scene_->scene, &query, &context,
      [](RTCPointQueryFunctionArguments* args) {
        auto& s = *static_cast<Search*>(args->userPtr);
        const auto& pts = s.scene->points;
        const Triangle& t = s.scene->triangles[args->primID];
        const auto corner = [&](int k) { return Vec3{pts[3 * t[k]], pts[3 * t[k] + 1], pts[3 * t[k] + 2]}; };
        const Vec3 q = closest_on_triangle(corner(0), corner(1), corner(2), s.at);
        const double d = length(q - s.at);
        if (d < s.best.distance_mm || (d == s.best.distance_mm && args->primID < s.best.triangle)) {
          s.best = {q, args->primID, d};
          args->query->radius = static_cast<float>(d * 1.000001);
          return true;
        }
        return false;
      },
      &search);
  search.best.point_mm += centre_;
  return search.best;
}

void RayScene::occluded(std::span<const Ray> rays, uint8_t* blocked, bool coherent) const {
  RTCIntersectContext context;
  rtcInitIntersectContext(&context);
  if (coherent) context.flags = RTC_INTERSECT_CONTEXT_FLAG_COHERENT;
  RTCRay16 packet;
  alignas(64) int valid[16];
  for (size_t base = 0; base < rays.size(); base += 16) {
    const size_t n = std::min<size_t>(16, rays.size() - base);
    for (size_t i = 0; i < 16; ++i) {
      valid[i] = i < n ? -1 : 0;
      const Ray& r = rays[base + std::min(i, n - 1)];
      packet.org_x[i] = r.origin[0], packet.org_y[i] = r.origin[1], packet.org_z[i] = r.origin[2];
      packet.dir_x[i] = r.dir[0], packet.dir_y[i] = r.dir[1], packet.dir_z[i] = r.dir[2];
      packet.tnear[i] = r.t_min, packet.tfar[i] = r.t_max;
      packet.time[i] = 0, packet.mask[i] = ~0u, packet.id[i] = 0, packet.flags[i] = 0;
    }
    rtcOccluded16(valid, scene_->scene, &context, &packet);
    for (size_t i = 0; i < n; ++i) blocked[base + i] = packet.tfar[i] < 0;
  }
}

}  // namespace palinform
