#include "drawn/photo_scale.hpp"

#include <algorithm>
#include <cmath>
#include <Eigen/Dense>

#include "base/text.hpp"

namespace palinform {
namespace {

using Matrix = Eigen::Matrix3d;

Point2 through(const std::array<double, 9>& m, double x, double y) {
  const double w = m[6] * x + m[7] * y + m[8];
  return {(m[0] * x + m[1] * y + m[2]) / w, (m[3] * x + m[4] * y + m[5]) / w};
}

void take(PhotoMap& map, const Matrix& to_mm) {
  const Matrix back = to_mm.inverse();
  for (int r = 0; r < 3; ++r)
    for (int c = 0; c < 3; ++c) {
      const auto k = static_cast<size_t>(3 * r + c);
      map.to_mm[k] = to_mm(r, c), map.to_px[k] = back(r, c);
    }
}

/// The plane map that takes the four pixels to the rectangle's corners.
Result<Matrix> rectified(const PhotoScale& s) {
  std::array<Pixel, 4> c = s.corners;
  double area = 0;
  for (size_t i = 0; i < 4; ++i) area += c[i].x * c[(i + 1) % 4].y - c[(i + 1) % 4].x * c[i].y;
  for (size_t i = 0; i < 4; ++i) {
    const Pixel &a = c[i], &b = c[(i + 1) % 4], &d = c[(i + 2) % 4];
    const double turn = (b.x - a.x) * (d.y - b.y) - (b.y - a.y) * (d.x - b.x);
    if (!(turn * area > 0) || std::abs(area) < 200)
      return Error{"the four corners do not go round a rectangle", "scale",
                   "Click them one after the other, once round."};
  }
  // Pixels run down, millimetres up: a rectangle clicked the way round that looks clockwise runs clockwise in both.
  const double up = area > 0 ? -1 : 1;
  const std::array<Point2, 4> mm{Point2{0, 0}, {s.wide_mm, 0}, {s.wide_mm, up * s.deep_mm}, {0, up * s.deep_mm}};
  Eigen::Matrix<double, 8, 8> a;
  Eigen::Matrix<double, 8, 1> b;
  for (int i = 0; i < 4; ++i) {
    const Pixel& p = c[static_cast<size_t>(i)];
    const Point2& q = mm[static_cast<size_t>(i)];
    a.row(2 * i) << p.x, p.y, 1, 0, 0, 0, -q.x * p.x, -q.x * p.y;
    a.row(2 * i + 1) << 0, 0, 0, p.x, p.y, 1, -q.y * p.x, -q.y * p.y;
    b(2 * i) = q.x, b(2 * i + 1) = q.y;
  }
  const Eigen::Matrix<double, 8, 1> h = a.fullPivLu().solve(b);
  Matrix m;
  m << h(0), h(1), h(2), h(3), h(4), h(5), h(6), h(7), 1;
  if (!m.allFinite() || std::abs(m.determinant()) < 1e-18)
    return Error{"the four corners do not go round a rectangle", "scale",
                 "Click them one after the other, once round."};
  return m;
}

}  // namespace

Point2 PhotoMap::mm(const Pixel& p) const { return through(to_mm, p.x, p.y); }
Pixel PhotoMap::px(const Point2& p) const {
  const Point2 q = through(to_px, p.x, p.y);
  return {q.x, q.y};
}
double PhotoMap::mm_per_px(const Pixel& at) const {
  const Point2 a = mm({at.x - 0.5, at.y}), b = mm({at.x + 0.5, at.y}), c = mm({at.x, at.y - 0.5}),
               d = mm({at.x, at.y + 0.5});
  return 0.5 * (std::hypot(b.x - a.x, b.y - a.y) + std::hypot(d.x - c.x, d.y - c.y));
}

Result<PhotoMap> photo_map(const PhotoScale& s, double click) {
  PhotoMap map;
  const auto bad = [](std::string what, std::string remedy) {
    return Error{std::move(what), "scale", std::move(remedy)};
  };
  Matrix m = Matrix::Identity();
  switch (s.way) {
    case PhotoScale::Way::none:
      return bad("the picture has no scale yet", "Say its dots per inch, a distance, or a rectangle.");
    case PhotoScale::Way::dots: {
      const double k = 25.4 / s.dpi;
      m << k, 0, 0, 0, -k, 0, 0, 0, 1;
      map.u_scale = 0.001;  // a flat-bed scanner's carriage (rule of thumb)
      break;
    }
    case PhotoScale::Way::distance: {
      const double d = std::hypot(s.ends[1].x - s.ends[0].x, s.ends[1].y - s.ends[0].y);
      if (d < 10) return bad("the two points of the distance lie in one place", "Click both its ends.");
      if (!(s.distance_mm > 0))
        return bad("the distance between the two points is not said", "Measure it on the part or the ruler.");
      const double k = s.distance_mm / d;
      m << k, 0, 0, 0, -k, 0, 0, 0, 1;
      // One distance says nothing of a slant: 3° of it shorten the other direction by 0.14 %.
      map.u_scale = std::hypot(std::hypot(std::sqrt(2.0) * click / d, 0.1 / s.distance_mm), 0.0014);
      break;
    }
    case PhotoScale::Way::rectangle: {
      if (!(s.wide_mm > 0 && s.deep_mm > 0))
        return bad("the rectangle's sides are not said", "A sheet of A4 is 210 by 297 mm.");
      auto r = rectified(s);
      if (!r) return r.error();
      m = *r;
      double least = 1e300, across = 0;
      for (size_t i = 0; i < 4; ++i)
        least = std::min(
            least, std::hypot(s.corners[(i + 1) % 4].x - s.corners[i].x, s.corners[(i + 1) % 4].y - s.corners[i].y));
      map.u_scale = std::hypot(std::sqrt(2.0) * click / least, 0.1 / std::min(s.wide_mm, s.deep_mm));
      // The slant from how unlike the scale is along and across at the middle.
      Pixel middle;
      for (const Pixel& c : s.corners) middle.x += c.x / 4, middle.y += c.y / 4;
      take(map, m);
      const auto at = [&](double dx, double dy) {
        const Point2 a = map.mm({middle.x - dx, middle.y - dy}), b = map.mm({middle.x + dx, middle.y + dy});
        return Point2{(b.x - a.x) / 2, (b.y - a.y) / 2};
      };
      const Point2 u = at(1, 0), v = at(0, 1);
      Eigen::Matrix2d j;
      j << u.x, v.x, u.y, v.y;
      const auto stretch = j.jacobiSvd().singularValues();
      across = stretch(1) / stretch(0);
      map.slant_deg = std::acos(std::clamp(across, 0.0, 1.0)) * 180 / M_PI;
      break;
    }
  }
  // What stands nearer to the camera looks larger. A scanner's light runs with the head: nothing to take out.
  if (s.way != PhotoScale::Way::dots && s.off_plane_mm != 0) {
    const bool known = s.camera_mm > 0;
    const double camera = known ? s.camera_mm : 400;
    if (s.off_plane_mm > 0.5 * camera)
      return bad("the camera stands too near to the part for its height", "Photograph it from farther off.");
    map.parallax = 1 - s.off_plane_mm / camera;
    map.parallax_guessed = !known;
    Matrix k = Matrix::Identity();
    k(0, 0) = k(1, 1) = map.parallax;
    m = k * m;
    // The camera's distance is known to a twentieth, or guessed within a half.
    map.u_scale = std::hypot(map.u_scale, std::abs(s.off_plane_mm) / camera * (known ? 0.05 : 0.5));
  }
  take(map, m);
  return map;
}

}  // namespace palinform
