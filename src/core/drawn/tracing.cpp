#include "drawn/tracing.hpp"

#include <algorithm>
#include <cmath>

#include "base/hash.hpp"
#include "base/text.hpp"

namespace palinform {
namespace {

/// Standard uncertainty of a traced place: a snapped edge, or a click without one.
constexpr double edge_px = 0.5;

struct Line {
  Pixel at, along;
  bool found = false;
};

/// The straight edge between two clicks: a line through the edges found across it, the outermost sixth left out, where
/// corners are rounded; the worst quarter of them does not count.
Line straight_edge(const Pixel& a, const Pixel& b, const GreyPicture& g, double reach) {
  const double l = std::hypot(b.x - a.x, b.y - a.y);
  Line line{a, {(b.x - a.x) / std::max(1e-9, l), (b.y - a.y) / std::max(1e-9, l)}, false};
  const Pixel across{-line.along.y, line.along.x};
  std::vector<Pixel> on;
  const int n = std::clamp(static_cast<int>(l / 4), 6, 80);
  for (int k = 0; k < n; ++k) {
    const double t = l * (1.0 / 6 + (2.0 / 3) * k / (n - 1));
    if (const auto e = edge_across(g, {a.x + line.along.x * t, a.y + line.along.y * t}, across, reach))
      on.push_back(*e);
  }
  for (int round = 0; round < 2 && on.size() >= 4; ++round) {
    double mx = 0, my = 0, xx = 0, xy = 0, yy = 0;
    for (const Pixel& p : on) mx += p.x, my += p.y;
    mx /= static_cast<double>(on.size()), my /= static_cast<double>(on.size());
    for (const Pixel& p : on)
      xx += (p.x - mx) * (p.x - mx), xy += (p.x - mx) * (p.y - my), yy += (p.y - my) * (p.y - my);
    const double t = 0.5 * std::atan2(2 * xy, xx - yy);
    line.at = {mx, my}, line.found = true;
    const double turn = std::cos(t) * line.along.x + std::sin(t) * line.along.y < 0 ? -1 : 1;
    line.along = {turn * std::cos(t), turn * std::sin(t)};
    const auto off = [&](const Pixel& p) { return std::abs(line.along.x * (p.y - my) - line.along.y * (p.x - mx)); };
    std::stable_sort(on.begin(), on.end(), [&](const Pixel& p, const Pixel& q) { return off(p) < off(q); });
    on.resize(on.size() - on.size() / 4);
  }
  return line;
}

/// The circle on the part that the edges near an arc from angle `from` over `sweep` lie on, about a first guess.
std::optional<CircleFit> circle_of_edges(const CircleFit& guess, double from, double sweep, const GreyPicture& g,
                                         double reach, const PhotoMap& map) {
  CircleFit fit = guess;
  for (int round = 0; round < 2; ++round) {
    std::vector<Point2> on;
    const int n =
        std::clamp(static_cast<int>(std::abs(sweep) * fit.radius_mm / map.mm_per_px(map.px(fit.centre)) / 5), 8, 120);
    // The ends belong to the neighbours: a tenth of the arc is left to each.
    const double inset = std::abs(sweep) < 6.28 ? 0.1 : 0;
    for (int k = 0; k < n; ++k) {
      const double t = from + sweep * (inset + (1 - 2 * inset) * k / (n - (inset > 0 ? 1 : 0)));
      const auto at = [&](double r) {
        return map.px({fit.centre.x + r * std::cos(t), fit.centre.y + r * std::sin(t)});
      };
      const Pixel p = at(fit.radius_mm), q = at(1.02 * fit.radius_mm);
      const double l = std::hypot(q.x - p.x, q.y - p.y);
      if (!(l > 1e-9)) return std::nullopt;
      if (const auto e = edge_across(g, p, {(q.x - p.x) / l, (q.y - p.y) / l}, round == 0 ? reach : 0.5 * reach))
        on.push_back(map.mm(*e));
    }
    if (on.size() < 6) return std::nullopt;
    auto next = fit_circle(on);
    if (!next) return std::nullopt;
    // Once more without the worst quarter: a neighbour's edge, a reflection.
    std::stable_sort(on.begin(), on.end(), [&](const Point2& a, const Point2& b) {
      const auto off = [&](const Point2& p) {
        return std::abs(std::hypot(p.x - next->centre.x, p.y - next->centre.y) - next->radius_mm);
      };
      return off(a) < off(b);
    });
    on.resize(on.size() - on.size() / 4);
    next = fit_circle(on);
    if (!next) return std::nullopt;
    fit = *next;
  }
  return fit;
}

/// Arcs and circles of a loop put on their circles, and the corners at an arc's ends where it meets its neighbour.
void round_off(TracedLoop& loop, const std::vector<Line>& side, const GreyPicture& g, double reach,
               const PhotoMap& map) {
  const size_t n = loop.path.size();
  const auto mm = [&](size_t i) { return map.mm({loop.path[i % n].x, loop.path[i % n].y}); };
  const auto put = [&](size_t i, const Point2& p) {
    const Pixel q = map.px(p);
    loop.path[i % n].x = q.x, loop.path[i % n].y = q.y;
  };
  const auto angle = [](const CircleFit& c, const Point2& p) { return std::atan2(p.y - c.centre.y, p.x - c.centre.x); };
  const auto on_circle = [](const CircleFit& c, double t) {
    return Point2{c.centre.x + c.radius_mm * std::cos(t), c.centre.y + c.radius_mm * std::sin(t)};
  };
  if (std::all_of(loop.path.begin(), loop.path.end(), [](const PathNode& p) { return p.kind == NodeKind::arc; })) {
    std::vector<Point2> clicked;
    for (size_t i = 0; i < n; ++i) clicked.push_back(mm(i));
    const auto guess = fit_circle(clicked);
    const auto fit = guess ? circle_of_edges(*guess, 0, 2 * M_PI, g, reach, map) : guess;
    for (size_t i = 0; fit && i < n; ++i) put(i, on_circle(*fit, angle(*fit, clicked[i])));
    return;
  }
  for (size_t m = 0; m < n; ++m) {
    const size_t a = (m + n - 1) % n, b = (m + 1) % n;
    if (loop.path[m].kind != NodeKind::arc || loop.path[a].kind == NodeKind::arc || loop.path[b].kind == NodeKind::arc)
      continue;
    const auto guess = fit_circle({mm(a), mm(m), mm(b)});
    if (!guess) continue;
    const auto turn = [](double d) { return d - 2 * M_PI * std::floor(d / (2 * M_PI)); };
    const double from = angle(*guess, mm(a)), to_m = turn(angle(*guess, mm(m)) - from),
                 to_b = turn(angle(*guess, mm(b)) - from);
    const auto fit = circle_of_edges(*guess, from, to_m <= to_b ? to_b : to_b - 2 * M_PI, g, reach, map);
    if (!fit) continue;
    put(m, on_circle(*fit, angle(*fit, mm(m))));
    for (const size_t end : {a, b}) {
      const Point2 was = mm(end);
      Point2 now = on_circle(*fit, angle(*fit, was));
      // The straight side that ends there: from `end` on, or up to it.
      const Line& l = side[end == b ? b : (a + n - 1) % n];
      if (l.found) {
        const Point2 p = map.mm(l.at), q = map.mm({l.at.x + 50 * l.along.x, l.at.y + 50 * l.along.y});
        const double len = std::hypot(q.x - p.x, q.y - p.y), ux = (q.x - p.x) / len, uy = (q.y - p.y) / len;
        const double along = (fit->centre.x - p.x) * ux + (fit->centre.y - p.y) * uy;
        const double off = (fit->centre.x - p.x) * uy - (fit->centre.y - p.y) * ux;
        if (std::abs(off) < fit->radius_mm) {
          const double half = std::sqrt(fit->radius_mm * fit->radius_mm - off * off);
          const double click = (was.x - p.x) * ux + (was.y - p.y) * uy;
          const double t =
              std::abs(along + half - click) < std::abs(along - half - click) ? along + half : along - half;
          now = {p.x + ux * t, p.y + uy * t};
        }
      }
      if (std::hypot(now.x - was.x, now.y - was.y) <= 4 * reach * map.mm_per_px({loop.path[end].x, loop.path[end].y}))
        put(end, now);
    }
  }
}

}  // namespace

bool Tracing::complete() const {
  return scale.way != PhotoScale::Way::none && std::any_of(loops.begin(), loops.end(), [](const TracedLoop& l) {
           return l.means == TracedLoop::Means::outline && l.path.size() >= 3 && l.mm > 0;
         });
}

std::string picture_hash(std::string_view bytes) {
  Hasher h;
  h.add(bytes);
  return h.done().hex();
}

Result<TracedBodies> traced_bodies(const Tracing& t) {
  const auto map = photo_map(t.scale);
  if (!map) return map.error();
  const auto in_mm = [&](const Path& path) {
    Path out;
    for (const PathNode& n : path) {
      const Point2 p = map->mm({n.x, n.y});
      out.push_back({p.x, p.y, n.kind, n.fillet_mm});
    }
    return out;
  };
  TracedBodies r;
  double low_x = 1e300, low_y = 1e300, high_x = -1e300, high_y = -1e300, coarse = 0, thick = 0;
  for (const TracedLoop& l : t.loops) {
    if (l.means != TracedLoop::Means::outline) continue;
    thick = std::max(thick, l.mm);
    for (const PathNode& n : l.path) {
      const Point2 p = map->mm({n.x, n.y});
      low_x = std::min(low_x, p.x), high_x = std::max(high_x, p.x);
      low_y = std::min(low_y, p.y), high_y = std::max(high_y, p.y);
      coarse = std::max(coarse, map->mm_per_px({n.x, n.y}));
    }
  }
  if (!(thick > 0))
    return Error{"the traced outline has no thickness yet", "outline", "Measure it by calipers and type it."};
  const Point2 middle{(low_x + high_x) / 2, (low_y + high_y) / 2};
  const auto body_of = [&](const TracedLoop& l) {
    DrawnBody b;
    b.shape = BodyShape::outline;
    b.outline = in_mm(l.path);
    for (PathNode& n : b.outline) n.x -= middle.x, n.y -= middle.y;
    return b;
  };
  for (const auto means :
       {TracedLoop::Means::outline, TracedLoop::Means::raised, TracedLoop::Means::sunk, TracedLoop::Means::hole})
    for (size_t i = 0; i < t.loops.size(); ++i) {
      const TracedLoop& l = t.loops[i];
      if (l.means != means) continue;
      DrawnBody b = body_of(l);
      const std::string number = std::to_string(i + 1);
      switch (means) {
        case TracedLoop::Means::outline:
          b.name = "Outline " + number;
          b.height_mm = l.mm, b.edge_mm = l.edge_mm;
          break;
        case TracedLoop::Means::raised:
          b.name = "Raised step " + number;
          b.height_mm = thick + l.mm, b.edge_mm = 0;  // from the foot up: it stands in the plate, not on its skin
          break;
        case TracedLoop::Means::sunk:
          b.name = "Sunk step " + number;
          b.cut = true, b.at_mm = {0, 0, thick - l.mm}, b.height_mm = l.mm + 1;
          break;
        case TracedLoop::Means::hole:
          b.name = "Hole " + number;
          b.cut = true, b.at_mm = {0, 0, -1}, b.height_mm = thick + 2;
          for (const TracedLoop& o : t.loops)
            if (o.means == TracedLoop::Means::raised) b.height_mm = std::max(b.height_mm, thick + o.mm + 2);
          break;
      }
      if (!(b.height_mm > 0) || (means != TracedLoop::Means::hole && !(l.mm > 0)))
        return Error{b.name + ": its height is not said yet", "outline", "Measure it by calipers and type it."};
      r.bodies.push_back(std::move(b));
    }
  const double across = std::max(high_x - low_x, high_y - low_y);
  r.u_edge_mm = edge_px * coarse, r.u_scale = map->u_scale;
  r.u_mm = std::hypot(std::sqrt(2.0) * r.u_edge_mm, r.u_scale * across);
  r.slant_deg = map->slant_deg, r.parallax = map->parallax, r.parallax_guessed = map->parallax_guessed;
  return r;
}

TracedLoop sharpened(const TracedLoop& loop, const GreyPicture& g, double reach, const PhotoMap* scale) {
  TracedLoop out = loop;
  const size_t n = loop.path.size();
  if (n < 3) return out;
  const auto px = [&](size_t i) { return Pixel{loop.path[i % n].x, loop.path[i % n].y}; };
  const auto kind = [&](size_t i) { return loop.path[i % n].kind; };
  // Points on arcs and curves first, each across its neighbours' chord or towards the strongest edge.
  for (size_t i = 0; i < n; ++i) {
    if (kind(i) == NodeKind::corner) continue;
    if (const auto e = snapped_to_edge(g, px(i), reach)) out.path[i].x = e->x, out.path[i].y = e->y;
  }
  std::vector<Line> side(n);
  for (size_t i = 0; i < n; ++i)
    if (kind(i) == NodeKind::corner && kind(i + 1) == NodeKind::corner)
      side[i] = straight_edge(px(i), px(i + 1), g, reach);
  for (size_t i = 0; i < n; ++i) {
    if (kind(i) != NodeKind::corner) continue;
    const Line &before = side[(i + n - 1) % n], &after = side[i];
    std::optional<Pixel> at;
    if (before.found && after.found) {
      const double k = before.along.x * after.along.y - before.along.y * after.along.x;
      if (std::abs(k) > 0.05) {
        const double s = ((after.at.x - before.at.x) * after.along.y - (after.at.y - before.at.y) * after.along.x) / k;
        at = Pixel{before.at.x + before.along.x * s, before.at.y + before.along.y * s};
      }
    }
    // Where a line runs into an arc the place along it is the click's own, the place across it the line's.
    if (!at && (before.found || after.found)) {
      const Line& l = before.found ? before : after;
      const Pixel p = px(i);
      const double s = (p.x - l.at.x) * l.along.x + (p.y - l.at.y) * l.along.y;
      at = Pixel{l.at.x + l.along.x * s, l.at.y + l.along.y * s};
    }
    if (!at) at = snapped_to_edge(g, px(i), reach);
    // Rounded corners lie beyond the reach; a wild crossing does not move a click.
    if (at && std::hypot(at->x - px(i).x, at->y - px(i).y) <= 4 * reach) out.path[i].x = at->x, out.path[i].y = at->y;
  }
  if (scale) round_off(out, side, g, reach, *scale);
  return out;
}

}  // namespace palinform
