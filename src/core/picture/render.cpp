#include "picture/render.hpp"

#include <embree3/rtcore.h>
#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>

namespace palinform {
namespace {

constexpr float infinity = std::numeric_limits<float>::infinity();
constexpr int block = 4;      // a packet of 16 rays covers 4×4 pixels
constexpr int tile_rows = 8;  // blocks of rows handed to a thread at once; also how often a cancel is heard

/// Well-mixed bits of pixel and pass: the only randomness, so every run is alike.
uint32_t mix(uint32_t x, uint32_t y, uint32_t z) {
  uint32_t h = x * 0x9E3779B1u ^ y * 0x85EBCA77u ^ z * 0xC2B2AE3Du;
  h ^= h >> 15, h *= 0x2C1B3C6Du, h ^= h >> 12, h *= 0x297A2D39u, h ^= h >> 15;
  return h;
}
double unit_of(uint32_t h) { return h * (1.0 / 4294967296.0); }

Vec3 to_vec(const Rgb& c) { return {c.r, c.g, c.b}; }

struct Hit {
  float t = infinity;
  int body = -1;
  uint32_t triangle = 0;
  float u = 0, v = 0;
  Vec3 geometric;  // world, facing the viewer
  bool cut = false;
};

struct Layer {
  float t;
  Vec3 colour;
  double alpha;
};

void set_ray(RTCRayHit16& p, int i, const Vec3& o, const Vec3& d, float t_near, float t_far) {
  p.ray.org_x[i] = static_cast<float>(o.x), p.ray.org_y[i] = static_cast<float>(o.y),
  p.ray.org_z[i] = static_cast<float>(o.z);
  p.ray.dir_x[i] = static_cast<float>(d.x), p.ray.dir_y[i] = static_cast<float>(d.y),
  p.ray.dir_z[i] = static_cast<float>(d.z);
  p.ray.tnear[i] = t_near, p.ray.tfar[i] = t_far;
  p.ray.time[i] = 0, p.ray.mask[i] = ~0u, p.ray.id[i] = 0, p.ray.flags[i] = 0;
  p.hit.geomID[i] = RTC_INVALID_GEOMETRY_ID, p.hit.primID[i] = 0, p.hit.instID[0][i] = RTC_INVALID_GEOMETRY_ID;
}

Vec3 shading_normal(const Body& b, const Hit& h) {
  const Shape& s = *b.shape;
  const auto corner = [&](int k) { return unpack_normal(s.corner_normals[3 * h.triangle + static_cast<uint32_t>(k)]); };
  return b.place.direction(unit(corner(0) * (1.0 - h.u - h.v) + corner(1) * h.u + corner(2) * h.v));
}

/// Stripes and dots are laid in screen pixels, so they read alike at every zoom.
bool inked(Pattern p, double x, double y) {
  switch (p) {
    case Pattern::hatch:
      return std::fmod(x + y + 1e6, 7.0) < 1.8;
    case Pattern::dots:
      return std::hypot(std::fmod(x + 1e4, 6.0) - 3, std::fmod(y + 1e4, 6.0) - 3) < 1.1;
    default:
      return false;
  }
}

Vec3 surface_colour(const Body& b, const Hit& h, double px, double py) {
  if (h.cut)
    return to_vec(std::fmod(px - py + 1e6, 9.0) < 1.2
                      ? Rgb{b.cut_colour.r * 0.86f, b.cut_colour.g * 0.86f, b.cut_colour.b * 0.86f}
                      : b.cut_colour);
  if (b.vertex_scalar && !b.steps.empty()) {
    const Triangle& t = b.shape->triangles[h.triangle];
    const auto& s = *b.vertex_scalar;
    const float value = s[t[0]] * (1 - h.u - h.v) + s[t[1]] * h.u + s[t[2]] * h.v;
    Rgb c = b.steps.front().colour;
    for (const ScalarStep& step : b.steps)
      if (value >= step.from) c = step.colour;
    return to_vec(c);
  }
  if (b.face_paint && h.triangle < b.face_paint->size()) {
    const uint8_t mark = (*b.face_paint)[h.triangle];
    if (mark < b.paints.size()) {
      const Paint& p = b.paints[mark];
      return to_vec(inked(p.pattern, px, py) ? p.ink : p.colour);
    }
  }
  return to_vec(b.colour);
}

/// Key light from the upper left before the viewer, as at a bench by a window; sky light from above. Camera space.
struct Light {
  Vec3 key, up;
  double key_share(const Vec3& n) const { return 0.56 * std::max(0.0, dot(n, key)); }
  double sky_share(const Vec3& n) const { return 0.50 + 0.10 * dot(n, up); }
};

}  // namespace

PictureWork::PictureWork(Scene scene, Camera camera) : scene_(std::move(scene)), camera_(camera) {
  const Box3 box = scene_.box_mm();
  if (!box.empty()) radius_mm_ = 0.5 * length(box.size()) + length(box.centre() - camera_.target_mm) + 1e-3;
  pixels_.resize(static_cast<size_t>(std::max(0, camera_.width_px)) *
                 static_cast<size_t>(std::max(0, camera_.height_px)));
  for (const Body& b : scene_.bodies) {
    Bounds at{infinity, -infinity, infinity, -infinity, {}, 0};
    if (b.shape && !b.shape->box_mm.empty()) {
      const Box3& own = b.shape->box_mm;
      for (int i = 0; i < 8; ++i) {
        const Camera::Projected corner = camera_.project(b.place.point(
            Vec3{i & 1 ? own.max.x : own.min.x, i & 2 ? own.max.y : own.min.y, i & 4 ? own.max.z : own.min.z}));
        at.left = std::min(at.left, corner.x - 1), at.right = std::max(at.right, corner.x + 1);
        at.top = std::min(at.top, corner.y - 1), at.bottom = std::max(at.bottom, corner.y + 1);
      }
      at.centre_mm = b.place.point(own.centre());
      at.radius_mm = 0.5 * length(own.size()) + 1e-3 * radius_mm_;
    }
    bounds_.push_back(at);
  }
}

void PictureWork::trace_block(int x0, int y0, bool occlusion) {
  const int w = camera_.width_px, h = camera_.height_px;
  const Vec3 toward = camera_.toward_viewer(), dir = -toward;
  const uint32_t pass = static_cast<uint32_t>(passes_);
  // First pass through pixel centres (what is picked); later ones on a low-discrepancy pattern shared by all pixels.
  const double jx = pass == 0 ? 0.5 : std::fmod(0.5 + 0.7548776662466927 * pass, 1.0);
  const double jy = pass == 0 ? 0.5 : std::fmod(0.5 + 0.5698402909980532 * pass, 1.0);

  alignas(64) int valid[16];
  Vec3 origin[16];
  Hit hits[16];
  std::vector<Layer> layers[16];
  for (int i = 0; i < 16; ++i) {
    const int x = x0 + i % block, y = y0 + i / block;
    valid[i] = x < w && y < h ? -1 : 0;
    origin[i] = camera_.unproject(x + jx, y + jy, -radius_mm_);
  }
  const float t_end = static_cast<float>(2 * radius_mm_);
  const float tie = static_cast<float>(2e-5 * radius_mm_);
  RTCIntersectContext context;
  rtcInitIntersectContext(&context);
  context.flags = RTC_INTERSECT_CONTEXT_FLAG_COHERENT;

  const Light light{unit(camera_.right * -0.42 + camera_.up * 0.72 + toward * 0.58), camera_.up};
  const auto section_range = [&](const Body& b, const Vec3& o, const Vec3& d, float& t_near, float& t_far) {
    if (!scene_.section || !b.sectioned) return false;
    const SectionPlane& s = *scene_.section;
    const double speed = dot(s.normal, d), beyond = dot(s.normal, o) - s.offset_mm;
    if (std::abs(speed) < 1e-12) {
      if (beyond > 0) t_far = -1;
      return false;
    }
    const float t = static_cast<float>(-beyond / speed);
    if (speed < 0 && t > t_near) {
      t_near = t;
      return true;  // looks onto the cut
    }
    if (speed > 0) t_far = std::min(t_far, t);
    return false;
  };

  for (const bool through : {false, true}) {
    for (size_t bi = 0; bi < scene_.bodies.size(); ++bi) {
      const Body& b = scene_.bodies[bi];
      if (!b.shape || (b.opacity < 1) != through || b.opacity <= 0) continue;
      const Bounds& at = bounds_[bi];
      if (x0 > at.right || x0 + block < at.left || y0 > at.bottom || y0 + block < at.top) continue;
      const Vec3 local_dir = b.place.direction_back(dir), centre = b.shape->rays->centre();
      RTCRayHit16 packet;
      alignas(64) int live[16];
      bool on_cut[16];
      for (int i = 0; i < 16; ++i) {
        float t_near = 0, t_far = through ? std::min(hits[i].t, t_end) : std::min(t_end, hits[i].t - tie);
        on_cut[i] = section_range(b, origin[i], dir, t_near, t_far);
        live[i] = valid[i] && t_far > t_near ? -1 : 0;
        // The far end stays open where a cut must be filled: inside or outside is told by the next surface.
        set_ray(packet, i, b.place.point_back(origin[i]) - centre, local_dir, t_near, on_cut[i] ? infinity : t_far);
      }
      for (int layer = 0; layer < (through ? 6 : 1); ++layer) {
        bool any = false;
        for (int i = 0; i < 16; ++i) any |= live[i] != 0;
        if (!any) break;
        float starts[16];
        for (int i = 0; i < 16; ++i) starts[i] = packet.ray.tnear[i];
        rtcIntersect16(live, static_cast<RTCScene>(b.shape->rays->embree_scene()), &context, &packet);
        for (int i = 0; i < 16; ++i) {
          if (!live[i]) continue;
          if (packet.hit.geomID[i] == RTC_INVALID_GEOMETRY_ID) {
            live[i] = 0;
            continue;
          }
          Hit f;
          f.t = packet.ray.tfar[i];
          f.body = static_cast<int>(bi);
          f.triangle = packet.hit.primID[i];
          f.u = packet.hit.u[i], f.v = packet.hit.v[i];
          f.geometric = b.place.direction(unit(Vec3{packet.hit.Ng_x[i], packet.hit.Ng_y[i], packet.hit.Ng_z[i]}));
          const bool leaving = dot(f.geometric, dir) > 0;
          if (leaving) f.geometric = -f.geometric;
          if (on_cut[i] && layer == 0 && leaving) {
            f.cut = true;
            f.t = starts[i];
            f.geometric = scene_.section->normal;
          }
          const float limit = through ? hits[i].t : hits[i].t - tie;
          if (f.t >= limit || f.t > t_end) {
            live[i] = 0;
            continue;
          }
          if (!through) {
            hits[i] = f;
            continue;
          }
          Vec3 n = f.cut ? f.geometric : shading_normal(b, f);
          if (dot(n, toward) < 0) n = -n;
          const Vec3 c = surface_colour(b, f, x0 + i % block + jx, y0 + i / block + jy) *
                         (light.key_share(n) + light.sky_share(n));
          // A skin seen edge-on hides more: gives glassy bodies their outline.
          const double edge = 1 - std::abs(dot(n, toward));
          layers[i].push_back({f.t, c, std::min(1.0, b.opacity + (1 - b.opacity) * 0.45 * edge * edge * edge)});
          const float from = std::max(std::nextafter(packet.ray.tfar[i], infinity), packet.ray.tfar[i] + 4 * tie);
          set_ray(packet, i, b.place.point_back(origin[i]) - centre, local_dir,
                  f.cut ? std::nextafter(f.t, infinity) : from, limit);
          if (f.cut) live[i] = b.opacity < 1 ? -1 : 0;
          on_cut[i] = false;
        }
      }
    }
  }

  const double reach = 0.30 * radius_mm_, lift = 3e-4 * radius_mm_;
  RTCRay16 sky;
  alignas(64) int sky_valid[16];
  Vec3 sky_from[16], sky_dir[16];
  Vec3 normals[16];
  for (int i = 0; i < 16; ++i) {
    sky_valid[i] = 0;
    const Hit& f = hits[i];
    if (!valid[i] || f.body < 0) continue;
    const Body& b = scene_.bodies[static_cast<size_t>(f.body)];
    Vec3 n = f.cut ? f.geometric : shading_normal(b, f);
    if (dot(n, f.geometric) < 0) n = -n;
    if (dot(n, toward) < 0) n = f.geometric;
    normals[i] = n;
    if (!occlusion) continue;
    // Cosine-weighted direction; 4×4 pixel neighbours share out the hemisphere, which the smoothing then gathers up.
    const uint32_t px = static_cast<uint32_t>(x0 + i % block), py = static_cast<uint32_t>(y0 + i / block);
    const uint32_t cell = (px & 3) * 4 + (py & 3), turn = mix(px >> 2, py >> 2, 7u);
    const uint32_t k = cell * 61u + pass * 16u;
    const double a = std::fmod(unit_of(turn) + 0.7548776662466927 * k, 1.0);
    const double s = std::fmod(unit_of(mix(turn, 3u, 1u)) + 0.5698402909980532 * k, 1.0);
    const double rad = std::sqrt(s), phi = 2 * std::numbers::pi * a;
    const Vec3 t1 = any_perpendicular(n), t2 = cross(n, t1);
    Vec3 d = t1 * (rad * std::cos(phi)) + t2 * (rad * std::sin(phi)) + n * std::sqrt(std::max(0.0, 1 - s));
    if (dot(d, f.geometric) < 0.02) d = unit(d + f.geometric * (0.04 - dot(d, f.geometric)));
    sky_dir[i] = d;
    sky_from[i] = origin[i] + dir * f.t + f.geometric * lift;
    sky_valid[i] = -1;
  }
  bool blocked[16] = {};
  if (occlusion) {
    RTCIntersectContext loose;
    rtcInitIntersectContext(&loose);
    for (size_t bi = 0; bi < scene_.bodies.size(); ++bi) {
      const Body& b = scene_.bodies[bi];
      if (!b.shape || b.opacity < 1) continue;
      const double within = bounds_[bi].radius_mm + reach;
      alignas(64) int live[16];
      bool any = false;
      const Vec3 centre = b.shape->rays->centre();
      for (int i = 0; i < 16; ++i) {
        const Vec3 off = sky_from[i] - bounds_[bi].centre_mm;
        live[i] = sky_valid[i] && !blocked[i] && dot(off, off) <= within * within ? -1 : 0;
        if (!live[i]) {
          sky.tnear[i] = 0, sky.tfar[i] = -1;
          continue;
        }
        float t_near = 0, t_far = static_cast<float>(reach);
        section_range(b, sky_from[i], sky_dir[i], t_near, t_far);
        if (t_far <= t_near) {
          live[i] = 0;
          continue;
        }
        any = true;
        const Vec3 o = b.place.point_back(sky_from[i]) - centre, d = b.place.direction_back(sky_dir[i]);
        sky.org_x[i] = static_cast<float>(o.x), sky.org_y[i] = static_cast<float>(o.y),
        sky.org_z[i] = static_cast<float>(o.z);
        sky.dir_x[i] = static_cast<float>(d.x), sky.dir_y[i] = static_cast<float>(d.y),
        sky.dir_z[i] = static_cast<float>(d.z);
        sky.tnear[i] = t_near, sky.tfar[i] = t_far;
        sky.time[i] = 0, sky.mask[i] = ~0u, sky.id[i] = 0, sky.flags[i] = 0;
      }
      if (!any) continue;
      rtcOccluded16(live, static_cast<RTCScene>(b.shape->rays->embree_scene()), &loose, &sky);
      for (int i = 0; i < 16; ++i)
        if (live[i] && sky.tfar[i] < 0) blocked[i] = true;
    }
  }

  for (int i = 0; i < 16; ++i) {
    if (!valid[i]) continue;
    const int x = x0 + i % block, y = y0 + i / block;
    Pixel& p = pixels_[static_cast<size_t>(y) * static_cast<size_t>(w) + static_cast<size_t>(x)];
    const Hit& f = hits[i];
    Vec3 lit = to_vec(scene_.ground), shade;
    if (f.body >= 0) {
      const Vec3 c = surface_colour(scene_.bodies[static_cast<size_t>(f.body)], f, x + jx, y + jy);
      lit = c * light.key_share(normals[i]);
      shade = c * light.sky_share(normals[i]);
      if (f.cut) lit = c * 0.42, shade = c * 0.56;
    }
    double veil = 1;  // what the see-through layers in front let by
    auto& front = layers[i];
    if (!front.empty()) {
      std::sort(front.begin(), front.end(), [](const Layer& a, const Layer& b) { return a.t < b.t; });
      Vec3 added;
      for (const Layer& l : front) {
        added += l.colour * (veil * l.alpha);
        veil *= 1 - l.alpha;
      }
      lit = lit * veil + added;
      shade *= veil;
    }
    for (int k = 0; k < 3; ++k) p.lit[k] += static_cast<float>(lit[k]), p.shade[k] += static_cast<float>(shade[k]);
    if (f.body >= 0) {
      if (occlusion) {
        p.open += blocked[i] ? 0.0f : 1.0f;
        ++p.surface_samples;
      }
    }
    if (pass == 0) {
      p.body = static_cast<int16_t>(f.body);
      p.depth = f.body >= 0 ? f.t - static_cast<float>(radius_mm_) : infinity;
      p.triangle = f.cut ? Picture::cut_face : f.triangle;
      p.normal = f.body >= 0 ? pack_normal(normals[i]) : 0;
    }
  }
}

bool PictureWork::add_pass(const Progress& progress, bool occlusion) {
  const int w = camera_.width_px, h = camera_.height_px;
  const int bands = (h + block - 1) / block;
  if (progress.cancelled()) return false;
  // A cancelled pass would leave some pixels one sample ahead, so it is drawn into a copy when there is something to
  // lose.
  std::vector<Pixel> before;
  if (passes_ > 0) before = pixels_;
  tbb::parallel_for(tbb::blocked_range<int>(0, (bands + tile_rows - 1) / tile_rows * ((w + 31) / 32), 1),
                    [&](const auto& range) {
                      const int columns = (w + 31) / 32;
                      for (int tile = range.begin(); tile < range.end(); ++tile) {
                        if (progress.cancelled()) return;
                        const int ty = tile / columns * tile_rows * block, tx = tile % columns * 32;
                        for (int y = ty; y < std::min(ty + tile_rows * block, h); y += block)
                          for (int x = tx; x < std::min(tx + 32, w); x += block) trace_block(x, y, occlusion);
                      }
                    });
  if (progress.cancelled()) {
    if (passes_ > 0) pixels_ = std::move(before);
    return false;
  }
  ++passes_;
  if (occlusion) ++occlusion_passes_;
  return true;
}

Picture PictureWork::resolve() const {
  Picture out;
  const int w = out.width_px = camera_.width_px, h = out.height_px = camera_.height_px;
  out.argb.resize(pixels_.size());
  out.depth_mm.resize(pixels_.size());
  out.body.resize(pixels_.size());
  out.triangle.resize(pixels_.size());
  if (passes_ == 0) return out;
  // Neighbours count when they lie on the same smooth surface: like normal, and depth off the tangent plane small.
  const float near = static_cast<float>(std::max(6 * camera_.mm_per_px, 1e-4 * radius_mm_));
  std::vector<Vec3> normal(pixels_.size());
  tbb::parallel_for(size_t{0}, pixels_.size(), [&](size_t i) {
    if (pixels_[i].body >= 0) normal[i] = unpack_normal(pixels_[i].normal);
  });
  const int r = occlusion_passes_ >= 24 ? 2 : 3;
  tbb::parallel_for(0, h, [&](int y) {
    for (int x = 0; x < w; ++x) {
      const size_t i = static_cast<size_t>(y) * static_cast<size_t>(w) + static_cast<size_t>(x);
      const Pixel& p = pixels_[i];
      double open = 1;
      if (occlusion_passes_ > 0 && (p.surface_samples > 0)) {
        double sum = p.open, count = p.surface_samples;
        if (p.body >= 0)
          for (int dy = -r; dy <= r; ++dy)
            for (int dx = -r; dx <= r; ++dx) {
              const int nx = x + dx, ny = y + dy;
              if (nx < 0 || ny < 0 || nx >= w || ny >= h || (dx == 0 && dy == 0)) continue;
              const size_t j = static_cast<size_t>(ny) * static_cast<size_t>(w) + static_cast<size_t>(nx);
              const Pixel& q = pixels_[j];
              if (q.body != p.body || std::abs(q.depth - p.depth) > near || dot(normal[i], normal[j]) < 0.9) continue;
              sum += q.open;
              count += q.surface_samples;
            }
        open = sum / count;
      }
      uint32_t argb = 0xff000000u;
      for (int k = 0; k < 3; ++k) {
        const double v = (p.lit[k] * (p.body >= 0 ? 0.75 + 0.25 * open : 1.0) + p.shade[k] * open) / passes_;
        argb |= static_cast<uint32_t>(std::clamp(std::lround(v * 255), 0l, 255l)) << (16 - 8 * k);
      }
      out.argb[i] = argb;
      out.depth_mm[i] = p.depth;
      out.body[i] = p.body;
      out.triangle[i] = p.triangle;
    }
  });
  return out;
}

Picture render(const Scene& scene, const Camera& camera, int passes, const Progress& progress) {
  PictureWork work(scene, camera);
  while (work.passes() < passes && work.add_pass(progress)) {}
  return work.resolve();
}

}  // namespace palinform
