#include "mould/punch_sheet.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "base/text.hpp"

namespace palinform {

std::optional<Vec3> leaves_at(const Mould& m, const Channel& c, bool upper) {
  const Box3& in = m.inner_mm;
  const double face = upper ? in.max.z : in.min.z;
  for (size_t k = c.path_mm.size(); k-- > 1;) {
    const Vec3 a = m.frame.direction(c.path_mm[k - 1]), b = m.frame.direction(c.path_mm[k]);
    if ((a.z - face) * (b.z - face) > 0 || std::abs(b.z - a.z) < 1e-9) continue;
    const Vec3 at = a + (b - a) * ((face - a.z) / (b.z - a.z));
    if (at.x >= in.min.x && at.x <= in.max.x && at.y >= in.min.y && at.y <= in.max.y) return at;
  }
  return std::nullopt;
}

Drawing punch_sheet(const Mould& m, const std::vector<Channel>& channels, const std::string& job_name) {
  Drawing d;
  d.title = job_name + ": where to drill";
  const Box3& in = m.inner_mm;
  const Vec3 size = in.size();
  constexpr double margin = 18;
  d.width_mm = std::max(210.0, size.x + 2 * margin);
  // The face that more channels leave through.
  int above = 0, below = 0;
  for (const Channel& c : channels)
    above += leaves_at(m, c, true).has_value(), below += leaves_at(m, c, false).has_value();
  const bool upper = above >= below;
  const double rows = 6.0 * static_cast<double>(channels.size());
  d.height_mm = size.y + 2 * margin + rows + 26;
  const double v0 = rows + 30;
  // From outside the lower face is seen mirrored.
  const auto place = [&](const Vec3& p) {
    return Point2{margin + (upper ? p.x - in.min.x : in.max.x - p.x), v0 + (p.y - in.min.y)};
  };
  d.frame(Pen::outline, {margin, v0}, {margin + size.x, v0 + size.y});
  d.measure({margin, v0 + size.y}, {margin + size.x, v0 + size.y}, 6, fixed(size.x, 1));
  d.measure({margin, v0}, {margin, v0 + size.y}, 6, fixed(size.y, 1));
  d.labels.push_back({{margin, d.height_mm - 8}, d.title + ", true scale", 4.2, -1});
  double y = rows + 16;
  d.labels.push_back({{margin, y},
                      std::string("Lay it on the ") + (upper ? "upper" : "lower") +
                          " face, seen from outside. Check 100 mm on the print before drilling.",
                      3,
                      -1});
  for (const Channel& c : channels) {
    y -= 6;
    const auto at = leaves_at(m, c, upper);
    const Vec3 way = m.frame.direction(unit(c.path_mm.back() - c.path_mm[c.path_mm.size() - 2]));
    const double lean = std::acos(std::clamp(std::abs(way.z), 0.0, 1.0)) * 180 / std::numbers::pi;
    std::string words = c.name + ": Ø" + fixed(c.diameter_mm, 1);
    if (at) {
      const Point2 p = place(*at);
      d.rounds.push_back({Pen::outline, p, 0.5 * c.diameter_mm});
      d.line(Pen::centre, {p.x - c.diameter_mm, p.y}, {p.x + c.diameter_mm, p.y});
      d.line(Pen::centre, {p.x, p.y - c.diameter_mm}, {p.x, p.y + c.diameter_mm});
      d.labels.push_back({{p.x + c.diameter_mm, p.y + 0.6 * c.diameter_mm}, c.name, 2.8, -1});
      words += " at " + fixed(p.x - margin, 1) + " from the left, " + fixed(p.y - v0, 1) + " from below";
      words += lean < 0.5 ? ", upright" : ", leaning " + fixed(lean, 0) + "° from upright";
      if (lean >= 0.5) {
        Vec3 foot = *at - way * (way.z > 0 ? 12.0 : -12.0);
        d.line(Pen::hidden, p, place(foot));
      }
    } else
      words += " leaves through a side";
    d.labels.push_back({{margin, y}, words, 3, -1});
  }
  return d;
}

}  // namespace palinform
