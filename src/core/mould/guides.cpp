#include "mould/guides.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"
#include "mould/section.hpp"

namespace palinform {
namespace {

/// Height of the parting surface over the block's foot at `along` mm round it, from the left front corner.
double seam_at(const Mould& m, double along) {
  const Box3& in = m.inner_mm;
  const Vec3 s = in.size();
  double u = in.min.x, v = in.min.y;
  if (along < s.x)
    u += along;
  else if (along < s.x + s.y)
    u = in.max.x, v += along - s.x;
  else if (along < 2 * s.x + s.y)
    u = in.max.x - (along - s.x - s.y), v = in.max.y;
  else
    v = in.max.y - (along - 2 * s.x - s.y);
  return m.parting_at(u, v) - in.min.z;
}

std::vector<Point2> wave_points(const Mould& m, const WaveCut& wave) {
  const Vec3 s = m.inner_mm.size();
  const double round = 2 * (s.x + s.y);
  const int halves = 2 * std::max(1, static_cast<int>(std::lround(round / wave.pitch_mm)));
  std::vector<Point2> out;
  for (int k = 0; k <= halves; ++k) {
    const double along = round * k / halves;
    // It ends where it began.
    const double off = (k % 2 ? -0.5 : 0.5) * wave.height_mm;
    out.push_back({along, std::clamp(seam_at(m, std::min(along, round - 1e-6)) + off, 1.0, s.z - 1.0)});
  }
  return out;
}

}  // namespace

double guide_length_mm(const Mould& m, const WaveCut& wave) {
  const auto p = wave_points(m, wave);
  double sum = 0;
  for (size_t k = 1; k < p.size(); ++k) sum += std::hypot(p[k].x - p[k - 1].x, p[k].y - p[k - 1].y);
  return sum;
}

Drawing cut_guide(const Mould& m, const WaveCut& wave, const std::string& job_name) {
  constexpr double margin = 15, foot = 24;
  const Vec3 s = m.inner_mm.size();
  const double round = 2 * (s.x + s.y);
  Drawing d;
  d.title = job_name + ": where the knife goes";
  d.width_mm = round + 2 * margin;
  d.height_mm = s.z + foot + 24;
  const auto at = [&](double along, double z) { return Point2{margin + along, foot + z}; };
  double x = 0;
  constexpr const char* sides[] = {"front", "right", "back", "left"};
  for (int k = 0; k < 4; ++k) {
    const double wide = k % 2 ? s.y : s.x;
    d.frame(Pen::outline, at(x, 0), at(x + wide, s.z));
    d.labels.push_back({{margin + x + 0.5 * wide, foot + s.z + 4}, sides[k], 3.5, 0});
    d.measure(at(x + wide, 0), at(x, 0), 5, fixed(wide, 1));
    x += wide;
  }
  Stroke seam{Pen::line, {}, false}, cut{Pen::edge, {}, false};
  for (int k = 0; k <= 240; ++k) {
    const double along = round * k / 240;
    seam.points.push_back(at(along, seam_at(m, std::min(along, round - 1e-6))));
  }
  for (const Point2& p : wave_points(m, wave)) cut.points.push_back(at(p.x, p.y));
  d.strokes.push_back(std::move(seam));
  d.strokes.push_back(std::move(cut));
  d.labels.push_back({{margin, d.height_mm - 6}, d.title + ", true scale", 4.2, -1});
  d.labels.push_back({{margin, 10}, "Wrap it round the block, foot on the bench. Fingers behind the blade.", 3, -1});
  d.labels.push_back({{margin, 5},
                      counted(wave.passes, "pass", "passes") + " of " + fixed(wave.pass_mm, 1) + " mm; stop " +
                          fixed(wave.depth_mm, 0) + " mm in, where the part is.",
                      3,
                      -1});
  return d;
}

Drawing cover_drawing(const TriMesh& mesh, const Vec3& normal, double over, const std::string& job_name) {
  const Transform frame = frame_around(mesh, normal);
  const Box3 part = measure(transformed(mesh, frame)).box_mm;
  constexpr double margin = 15, foot = 22;
  Drawing d;
  d.title = job_name + ": plate over the open face";
  const double wide = part.size().x + 2 * over, high = part.size().y + 2 * over;
  d.width_mm = std::max(120.0, wide + 2 * margin);
  d.height_mm = high + foot + 20;
  const auto at = [&](double u, double v) {
    return Point2{margin + over + u - part.min.x, foot + over + v - part.min.y};
  };
  d.frame(Pen::outline, {margin, foot}, {margin + wide, foot + high});
  d.measure({margin, foot + high}, {margin + wide, foot + high}, 5, fixed(wide, 0));
  d.measure({margin, foot}, {margin, foot + high}, 5, fixed(high, 0));
  // The casting's own edge, just under its open face.
  for (const auto& line : plane_cut(mesh, frame, part.max.z - std::min(0.2, 0.02 * part.size().z))) {
    Stroke s{Pen::hidden, {}, false};
    for (const Point2& p : line) s.points.push_back(at(p.x, p.y));
    d.strokes.push_back(std::move(s));
  }
  d.labels.push_back({{margin, d.height_mm - 6}, d.title + ", true scale", 4.2, -1});
  d.labels.push_back({{margin, 8}, "Wax it. Lay it down from one edge, the air before it; weigh it down.", 3, -1});
  return d;
}

}  // namespace palinform
