#pragma once
/// What a picture shows and from where: plain data for render.hpp.
#include <cstdint>
#include <memory>
#include <optional>
#include <vector>

#include "picture/shape.hpp"

namespace palinform {

/// Display colour, 0…1 a channel.
struct Rgb {
  float r = 0, g = 0, b = 0;
  static constexpr Rgb hex(uint32_t rgb) {
    return {static_cast<float>(rgb >> 16 & 255) / 255.0f, static_cast<float>(rgb >> 8 & 255) / 255.0f,
            static_cast<float>(rgb & 255) / 255.0f};
  }
  bool operator==(const Rgb&) const = default;
};

enum class Pattern : uint8_t { plain, hatch, dots };
/// How faces of one mark look; the pattern is drawn in `ink` over `colour`, so that colour never speaks alone.
struct Paint {
  Rgb colour, ink;
  Pattern pattern = Pattern::plain;
};
/// From `from` upwards faces shade in `colour`; steps are given in rising order, the first holds for all below.
struct ScalarStep {
  float from = 0;
  Rgb colour;
};

struct Body {
  std::shared_ptr<const Shape> shape;
  Transform place;  ///< rigid; moving a body rebuilds nothing
  Rgb colour{0.85f, 0.81f, 0.74f};
  double opacity = 1;     ///< below 1: seen through
  bool sectioned = true;  ///< the section plane cuts it, and its cut is filled
  Rgb cut_colour{0.6f, 0.55f, 0.47f};
  std::shared_ptr<const std::vector<uint8_t>> face_paint;  ///< per face an index into `paints`
  std::vector<Paint> paints;
  std::shared_ptr<const std::vector<float>> vertex_scalar;  ///< per point, shaded in `steps`
  std::vector<ScalarStep> steps;
};

/// Everything with dot(normal, p) > offset_mm is taken away.
struct SectionPlane {
  Vec3 normal{0, 0, 1};
  double offset_mm = 0;
};

struct Scene {
  std::vector<Body> bodies;
  std::optional<SectionPlane> section;
  Rgb ground{0.965f, 0.953f, 0.925f};
  Box3 box_mm() const;
};

/// Parallel projection. `right` and `up` are unit and at right angles; the viewer looks along −(right × up).
struct Camera {
  Vec3 target_mm;  ///< shown at the picture's centre
  Vec3 right{1, 0, 0}, up{0, 0, 1};
  double mm_per_px = 0.1;
  int width_px = 0, height_px = 0;

  Vec3 toward_viewer() const { return cross(right, up); }
  struct Projected {
    double x = 0, y = 0;  ///< pixels from the left and from the top
    double depth_mm = 0;  ///< away from the viewer, 0 at the target
  };
  Projected project(const Vec3& p) const {
    const Vec3 v = p - target_mm;
    return {0.5 * width_px + dot(v, right) / mm_per_px, 0.5 * height_px - dot(v, up) / mm_per_px,
            -dot(v, toward_viewer())};
  }
  Vec3 unproject(double x, double y, double depth_mm) const {
    return target_mm + right * ((x - 0.5 * width_px) * mm_per_px) - up * ((y - 0.5 * height_px) * mm_per_px) -
           toward_viewer() * depth_mm;
  }
  /// Turned by a drag of (dx, dy) pixels: about the world's z and the view's own right.
  void orbit(double dx_px, double dy_px);
  void pan(double dx_px, double dy_px);
  /// Zooms so that the point under (x, y) stays there.
  void zoom(double factor, double x, double y);
  /// Shows all of `box` with a margin (share of the smaller side).
  void fit(const Box3& box, double margin = 0.12);
  /// Looks from azimuth and elevation (degrees) with z up.
  void look_from(double azimuth_deg, double elevation_deg);
  bool operator==(const Camera&) const = default;
};

}  // namespace palinform
