#include "stages/openings.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"
#include "mesh/fill_between.hpp"
#include "mesh/flood.hpp"
#include "original/bore_size.hpp"
#include "stages/preparation.hpp"

namespace palinform {
namespace {

using Kind = OpeningChoice::Kind;

/// The cuts between which a choice closes its opening.
FillBetween fill_for(const Opening& o, const OpeningChoice& c) {
  double from = 0, to = o.length_mm();
  FillBetween f;
  f.name = o.name;
  if (c.kind == Kind::plug) {
    const double deep = std::min(c.deep_mm, 0.95 * to);
    const double end = c.thick_mm > 0 ? std::min(to, deep + c.thick_mm) : to;
    from = c.mouth == 1 ? deep : to - end;
    to = c.mouth == 1 ? end : to - deep;
    const double dimple = std::min(c.dimple_mm, 0.6 * o.width_mm);
    (c.mouth == 1 ? f.dimple_from_mm : f.dimple_to_mm) = dimple;
  }
  f.from = o.cut_at(from), f.to = o.cut_at(to);
  return f;
}

/// Of the section at a place along it, mm².
double area_at(const Opening& o, double at_mm) {
  const auto after = std::lower_bound(o.cuts.begin(), o.cuts.end(), at_mm,
                                      [](const OpeningCut& cut, double mm) { return cut.at_mm < mm; });
  return (after == o.cuts.end() ? o.cuts.back() : *after).area_mm2;
}

std::vector<Vec3> outline_at(const OriginalResult& m, const Opening& o, double at_mm) {
  const auto loop = section_round(*m.mesh, *m.pairs, *m.rays, o.cut_at(at_mm));
  return loop ? loop->points_mm : o.outline_mm;
}

}  // namespace

bool along_pull(const Opening& o, const Vec3& pull) { return o.straight && std::abs(dot(o.axis(), pull)) >= 0.7; }

const OpeningChoice* choice_for(const Openings& all, size_t opening, const std::vector<OpeningChoice>& choices) {
  const OpeningChoice* found = nullptr;
  for (const OpeningChoice& c : choices)
    if (opening_at(all, c.at_mm) == opening) found = &c;
  return found;
}

Result<OpeningsResult> openings_of(const OriginalResult& prepared, const Progress& progress) {
  OpeningsResult r;
  auto found = find_openings(*prepared.mesh, *prepared.pairs, *prepared.rays, progress);
  if (found)
    r.found = *std::move(found);
  else if (found.error().cancelled)
    return found.error();
  else
    r.refused = found.error().text();
  return r;
}

Result<std::shared_ptr<const OriginalResult>> with_closed(std::shared_ptr<const OriginalResult> prepared,
                                                          const OpeningsResult& openings,
                                                          const std::vector<OpeningChoice>& choices,
                                                          const Progress& progress) {
  std::vector<FillBetween> fills;
  const Openings& all = openings.found;
  for (size_t k = 0; k < all.openings.size(); ++k)
    if (const OpeningChoice* c = choice_for(all, k, choices); c && c->closes())
      fills.push_back(fill_for(all.openings[k], *c));
  std::vector<Error> unfilled;
  TriMesh mesh;
  bool any = false;
  if (!fills.empty()) {
    auto together = filled_between(*prepared->mesh, *prepared->pairs, *prepared->rays, fills);
    if (together) {
      mesh = *std::move(together), any = true;
    } else {
      // One that cannot be closed keeps none of the others open.
      std::vector<FillBetween> good;
      for (const FillBetween& f : fills) {
        good.push_back(f);
        auto more = filled_between(*prepared->mesh, *prepared->pairs, *prepared->rays, good);
        if (more)
          mesh = *std::move(more), any = true;
        else
          unfilled.push_back(fills.size() == 1 ? together.error() : more.error()), good.pop_back();
      }
    }
  }
  if (progress.cancelled()) return Error::stopped();
  if (!any && unfilled.empty()) return prepared;
  auto r =
      any ? ready_mesh(std::make_shared<const TriMesh>(std::move(mesh)), progress) : Result<OriginalResult>(*prepared);
  if (!r) return r.error();
  r->from = prepared->from, r->u_mm = prepared->u_mm, r->u_volume_mm3 = prepared->u_volume_mm3;
  r->exact = prepared->exact, r->apart = prepared->apart;
  r->unfilled = std::move(unfilled);
  return std::make_shared<const OriginalResult>(*std::move(r));
}

std::vector<uint32_t> wall_of_opening(const OriginalResult& m, const Opening& o) {
  const auto loop = section_round(*m.mesh, *m.pairs, *m.rays, o.cuts[o.waist].plane);
  if (!loop) return {};
  const CutPlane first = o.cuts.front().plane, last = o.cuts.back().plane;
  const double reach = 1.5 * o.long_mm + o.length_mm();
  const auto within = [&](uint32_t t) {
    const Vec3 c = m.mesh->centre(t);
    return first.lift_mm(c) > 0 && last.lift_mm(c) < 0 && length(c - o.at_mm()) < reach;
  };
  std::vector<bool> seen(m.mesh->triangles.size(), false);
  std::vector<uint32_t> out;
  for (const uint32_t h : loop->half_edges) {
    if (seen[h / 3]) continue;
    flood_unseen(
        *m.pairs, seen, h / 3, [&](uint32_t t) { out.push_back(t); }, [&](uint32_t, uint32_t t) { return within(t); });
  }
  std::sort(out.begin(), out.end());
  return out;
}

double peg_mm(const Opening& o, const OpeningChoice* c) {
  const double all = o.length_mm();
  if (!c || !c->parts_rubber()) return all;
  return std::max(c->film_share(), 1 - c->film_share()) * all;
}

double films_mm3(const Openings& all, const std::vector<OpeningChoice>& choices) {
  double sum = 0;
  for (size_t k = 0; k < all.openings.size(); ++k)
    if (const OpeningChoice* c = choice_for(all, k, choices); c && c->leaves_film()) {
      const Opening& o = all.openings[k];
      sum += area_at(o, c->film_share() * o.length_mm()) * c->film_mm;
    }
  return sum;
}

std::vector<Socket> film_gaps(const OriginalResult& m, const Openings& all, const std::vector<OpeningChoice>& choices,
                              const Vec3& pull, bool halved, double least) {
  std::vector<Socket> out;
  for (size_t k = 0; k < all.openings.size(); ++k) {
    const Opening& o = all.openings[k];
    const OpeningChoice* c = choice_for(all, k, choices);
    if (!c || !c->leaves_film() || (halved && along_pull(o, pull))) continue;
    const double thick = std::min(std::max(c->film_mm, least), 0.9 * o.length_mm()),
                 at = std::clamp(c->film_share() * o.length_mm(), 0.5 * thick, o.length_mm() - 0.5 * thick);
    const CutPlane plane = o.cut_at(at);
    // A prism of the opening's outline there: a slide that is as long as the film is thick.
    PinPlan film = plan_slide(outline_at(m, o, at), plane.point_mm, plane.normal, thick, 0, o.name);
    film.head_mm = film.tail_mm = film.grip_mm = 0;
    film.foot_mm = plane.point_mm - plane.normal * (0.5 * thick);
    if (film.outline_mm.size() < 3 || film.section_mm2() == 0) continue;
    // A little into the wall, so that no rubber is left along it.
    out.push_back({std::make_shared<const TriMesh>(pin_socket(film, 0.1)), film.section_mm2() * thick});
  }
  return out;
}

void add_film_gaps(std::vector<Socket>& sockets, const OriginalResult& master, const OpeningsResult* openings,
                   const std::vector<OpeningChoice>& choices, const Vec3& pull, bool halved, double voxel) {
  if (!openings) return;
  constexpr double seen_voxels = 1.5;  // a gap thinner than that is lost in the solid
  for (Socket& gap : film_gaps(master, openings->found, choices, pull, halved, seen_voxels * voxel))
    sockets.push_back(std::move(gap));
}

double slit_step_most_mm(const Opening& o, const OpeningChoice& c) {
  return 0.8 * (1 - std::clamp(c.share, 0.0, 1.0)) * o.length_mm();
}

SlitCut slit_of(const Opening& o, const OpeningChoice& c) {
  SlitCut s;
  if (o.cuts.empty()) return s;
  s.from_mouth_1_mm = std::clamp(c.share, 0.0, 1.0) * o.length_mm();
  s.step_mm = std::min(c.step_mm, slit_step_most_mm(o, c));
  const double wider = o.area_mm2 > 0 ? std::sqrt(area_at(o, s.from_mouth_1_mm) / o.area_mm2) : 1;
  const CutPlane plane = o.cut_at(s.from_mouth_1_mm);
  for (const Vec3& p : o.outline_mm) {
    Vec3 off = p - o.at_mm();
    off = off - o.axis() * dot(off, o.axis());
    off = off - plane.normal * dot(off, plane.normal);  // a bent one is turned along its way
    s.outline_mm.push_back(plane.point_mm + off * wider);
  }
  // The smallest rectangle round it lies on one of its edges; the blade goes along its longer side.
  Vec3 from, way;
  double least = 1e300;
  for (size_t k = 0; k < s.outline_mm.size(); ++k) {
    const Vec3 edge = s.outline_mm[(k + 1) % s.outline_mm.size()] - s.outline_mm[k];
    if (length(edge) < 1e-6) continue;
    const Vec3 along = unit(edge), across = cross(plane.normal, along);
    double low = 1e300, high = -1e300, near = 1e300, far = -1e300;
    for (const Vec3& p : s.outline_mm) {
      const double u = dot(p - plane.point_mm, along), v = dot(p - plane.point_mm, across);
      low = std::min(low, u), high = std::max(high, u), near = std::min(near, v), far = std::max(far, v);
    }
    if ((high - low) * (far - near) > least - 1e-9) continue;
    least = (high - low) * (far - near);
    const Vec3 middle = plane.point_mm + along * (0.5 * (low + high)) + across * (0.5 * (near + far));
    s.long_mm = std::max(high - low, far - near), s.deep_mm = std::min(high - low, far - near);
    way = (high - low >= far - near ? along : across) * s.long_mm;
    from = middle - way * 0.5;
  }
  if (s.long_mm <= 0) return s;
  const Vec3 in = plane.normal * s.step_mm;
  s.line_mm = {from, from + way * 0.5};
  if (s.step_mm > 0) s.line_mm.push_back(from + way * 0.5 + in);
  s.line_mm.push_back(from + way + in);
  return s;
}

std::string words_of(const SlitCut& s, const Shown& shown) {
  std::string words = shown.length(s.from_mouth_1_mm, 1) + " from mouth 1, " + shown.length(s.long_mm, 1) +
                      " long and " + shown.length(s.deep_mm, 1) + " deep";
  if (s.step_mm > 0) words += ", its second half " + shown.length(s.step_mm, 1) + " farther in, so that it closes true";
  return words;
}

bool is_prism(const Opening& o) {
  const double straight = o.area_mm2 * o.length_mm();
  return std::abs(o.volume_mm3 - straight) <= 0.02 * straight;
}

namespace {

/// Where the wall begins to widen toward the mouth across from the one a slide is drawn out of, mm from mouth 1: behind
/// that lip the slide would be held. Rubber forms the lip, from outside, and the slide goes straight on. Nothing where
/// there is none, or where what widens is more than a rounded or broken edge.
std::optional<double> lip_across(const Opening& o, int mouth) {
  constexpr double as_wide = 1.005;
  const double waist = o.cuts[o.waist].area_mm2, all = o.length_mm();
  double at = -1;
  for (const OpeningCut& c : o.cuts)
    if (c.area_mm2 <= as_wide * waist && (mouth == 1 || at < 0)) at = c.at_mm;
  const double lip = mouth == 1 ? all - at : at;
  const double most = std::min(0.3 * o.width_mm, 2.5);
  return at >= 0 && lip > 1e-3 * o.width_mm && lip <= most && lip < 0.5 * all ? std::optional(at) : std::nullopt;
}

/// The part of an opening between two of its lengths, as a slide out of `mouth`; nothing where its wall cannot be cut
/// out there.
std::optional<PinPlan> shaped(const OriginalResult& m, const Opening& o, int mouth, int meeting,
                              const std::optional<double>& asked_mm, double wall, const std::string& name,
                              const PinRules& rules) {
  const double meet = o.cuts[o.waist].at_mm, all = o.length_mm();
  FillBetween part{o.cuts.front().plane, o.cuts.back().plane, 0, 0, o.name};
  double forms = all;
  if (meeting == 1) part.to = o.cuts[o.waist].plane, forms = meet;
  if (meeting == 2) part.from = o.cuts[o.waist].plane, forms = all - meet;
  if (forms < 0.05 * all) return std::nullopt;
  // The first carries a tip in the middle of its foot, the other the dimple for it.
  const double tip = 0.3 * o.width_mm;
  if (meeting == 1) part.dimple_to_mm = -tip;
  if (meeting == 2) part.dimple_from_mm = tip + 0.1;
  const double head = slide_head_mm(wall, rules) + rules.grip_mm, tail = slide_tail_mm(wall, rules);
  double past_from = mouth == 1 ? head : meeting ? 0 : tail, past_to = mouth == 2 ? head : meeting ? 0 : tail;
  if (const auto lip = meeting ? std::nullopt : lip_across(o, mouth)) {
    if (mouth == 1)
      part.to = o.cut_at(*lip), past_to += all - *lip;
    else
      part.from = o.cut_at(*lip), past_from += *lip;
  }
  auto body = body_between(*m.mesh, *m.pairs, *m.rays, part, o.axis(), past_from, past_to);
  if (!body || body->from_rim_mm.size() < 3 || body->to_rim_mm.size() < 3) return std::nullopt;
  // A round one as wide as the size asks: all of it moved out or in about the way.
  if (o.round_mm && asked_mm) {
    const double by = 0.5 * (*asked_mm - *o.round_mm);
    const auto widen = [&](Vec3& p) {
      const Vec3 from = p - o.at_mm(), off = from - o.axis() * dot(from, o.axis());
      const double r = length(off);
      if (r > 0.6 * std::abs(by) + 1e-6 && r > 0.2 * *o.round_mm) p += off * (by / r);
    };
    for (Vec3& p : body->mesh.points) widen(p);
    for (std::vector<Vec3>* rim : {&body->from_rim_mm, &body->to_rim_mm})
      for (Vec3& p : *rim) widen(p);
  }
  return plan_shaped_slide(*std::move(body), o.axis(), mouth, meeting, forms, wall, name, rules);
}

}  // namespace

std::vector<PinPlan> slides_of(const OriginalResult& master, const Openings& all,
                               const std::vector<OpeningChoice>& choices, const std::vector<MeasuredSize>& pin_sizes,
                               double wall_mm, const PinRules& rules) {
  std::vector<PinPlan> out;
  const auto next = [&] { return "Slide " + std::to_string(out.size() + 1); };
  for (size_t k = 0; k < all.openings.size(); ++k) {
    const OpeningChoice* c = choice_for(all, k, choices);
    if (!c || c->kind != Kind::slide) continue;
    const Opening& o = all.openings[k];
    std::optional<double> asked;
    if (o.round_mm)
      for (const MeasuredSize& s : pin_sizes)
        if (s.pin_mm && speaks_of_bore(s, *o.round_mm, o.at_mm())) asked = *s.pin_mm;
    if (c->two && o.straight && o.cuts.size() >= 3) {
      auto one = shaped(master, o, 1, 1, asked, wall_mm, next(), rules);
      auto other = shaped(master, o, 2, 2, asked, wall_mm, "Slide " + std::to_string(out.size() + 2), rules);
      if (one && other) {
        one->meets = other->name, other->meets = one->name;
        out.push_back(*std::move(one));
        out.push_back(*std::move(other));
        continue;
      }
    }
    if (!is_prism(o) && o.straight)
      if (auto follows = shaped(master, o, c->mouth, 0, asked, wall_mm, next(), rules)) {
        out.push_back(*std::move(follows));
        continue;
      }
    // Straight through from mouth to mouth, on its narrowest outline's middle.
    const Vec3 draw = c->mouth == 1 ? -o.axis() : o.axis();
    const CutPlane end = c->mouth == 1 ? o.cuts.front().plane : o.cuts.back().plane;
    const Vec3 mouth = o.at_mm() + draw * dot(end.point_mm - o.at_mm(), draw);
    PinPlan p = plan_slide(o.outline_mm, mouth, draw, o.length_mm(), wall_mm, next(), rules);
    if (o.round_mm) {
      p.outline_mm.clear();
      p.diameter_mm = p.bore_mm = *o.round_mm;
      p.flat_mm = std::max(0.3, rules.flat_share * p.bore_mm);
      if (asked) p.diameter_mm = *asked;
    } else {
      const Point2 across = p.across_mm();
      for (const auto& bar : rules.bars_mm) {
        const bool holds = std::max(bar[0], bar[1]) >= std::max(across.x, across.y) - 1e-6 &&
                           std::min(bar[0], bar[1]) >= std::min(across.x, across.y) - 1e-6;
        if (holds && (!p.bar_mm || bar[0] * bar[1] < (*p.bar_mm)[0] * (*p.bar_mm)[1])) p.bar_mm = bar;
      }
    }
    out.push_back(std::move(p));
  }
  return out;
}

void ignore_slid_walls(FaceWishes& w, const OriginalResult& m, const Openings& all,
                       const std::vector<OpeningChoice>& choices) {
  for (size_t k = 0; k < all.openings.size(); ++k) {
    const OpeningChoice* c = choice_for(all, k, choices);
    if (!c || c->kind != Kind::slide) continue;
    if (w.flags.empty()) w.flags.assign(m.mesh->triangles.size(), 0);
    for (const uint32_t t : wall_of_opening(m, all.openings[k])) w.flags[t] |= FaceWishes::ignored;
  }
}

void settle_pegs(std::vector<ThinRubber>& thin, const Openings& all, const std::vector<OpeningChoice>& choices,
                 const ThinRules& rules) {
  for (ThinRubber& t : thin) {
    const auto k = t.peg ? opening_at(all, t.at_mm) : std::nullopt;
    const OpeningChoice* c = k ? choice_for(all, *k, choices) : nullptr;
    if (!c || !c->parts_rubber()) continue;
    t.length_mm = peg_mm(all.openings[*k], c);
    t.at_risk = t.slenderness() > rules.slender_peg;
  }
}

void settle_undercuts(std::vector<Undercut>& undercuts, const Openings& all, const std::vector<OpeningChoice>& choices,
                      const FlexRule& rule) {
  if (choices.empty()) return;
  for (Undercut& u : undercuts) {
    if (!u.tunnel()) continue;
    const auto k = opening_at(all, u.centroid_mm);
    const OpeningChoice* c = k ? choice_for(all, *k, choices) : nullptr;
    if (!c || !c->parts_rubber()) continue;
    u.mouths.resize(1);
    u.reach_mm = peg_mm(all.openings[*k], c);
    u.flexes = u.ratio() <= rule.ratio(u.shore_a);
    u.let_go_by_shore_a = rule.hardest_for(u.ratio());
  }
}

void move_shut_offs(Split& split, const OriginalResult& m, const Openings& all,
                    const std::vector<OpeningChoice>& choices) {
  bool moved = false;
  for (size_t k = 0; k < all.openings.size(); ++k) {
    const OpeningChoice* c = choice_for(all, k, choices);
    const Opening& o = all.openings[k];
    if (!c || !c->leaves_film() || !along_pull(o, split.pull)) continue;
    const auto loop = std::find_if(split.loops.begin(), split.loops.end(), [&](const PartingLoop& l) {
      return !l.outer && !l.points_mm.empty() && opening_at(all, l.points_mm[l.points_mm.size() / 2]) == k;
    });
    if (loop == split.loops.end()) continue;
    const double at = std::clamp(c->film_share() * o.length_mm(), 0.0, o.length_mm());
    const CutPlane plane = o.cut_at(at);
    std::vector<Vec3> points = outline_at(m, o, at);
    // The loop keeps its sense: a to the left seen against the pull.
    const auto sense = [&](const std::vector<Vec3>& p) {
      Vec3 sum;
      for (size_t i = 1; i + 1 < p.size(); ++i) sum += cross(p[i] - p[0], p[i + 1] - p[0]);
      return dot(sum, split.pull) > 0;
    };
    if (sense(points) != sense(loop->points_mm)) std::reverse(points.begin(), points.end());
    moved = true;
    const double before = loop->length_mm;
    loop->points_mm = std::move(points);
    loop->length_mm = 0;
    for (size_t i = 0; i < loop->points_mm.size(); ++i)
      loop->length_mm += length(loop->points_mm[(i + 1) % loop->points_mm.size()] - loop->points_mm[i]);
    split.line_mm += loop->length_mm - before;
    const double up = dot(o.axis(), split.pull) > 0 ? 1 : -1;
    for (const uint32_t t : wall_of_opening(m, o)) split.side[t] = up * plane.lift_mm(m.mesh->centre(t)) > 0 ? 0 : 1;
  }
  if (!moved) return;
  split.shut_off_range_mm = 0;
  for (const PartingLoop& l : split.loops) {
    if (l.outer) continue;
    double low = 1e300, high = -1e300;
    for (const Vec3& p : l.points_mm)
      low = std::min(low, dot(p, split.pull)), high = std::max(high, dot(p, split.pull));
    split.shut_off_range_mm = std::max(split.shut_off_range_mm, high - low);
  }
}

double plate_step_mm(const OriginalResult& m, const Opening& o, int mouth) {
  const double at = mouth == 1 ? 0 : o.length_mm();
  const CutPlane plane = o.cut_at(at);
  const Vec3 out = mouth == 1 ? -plane.normal : plane.normal, middle = plane.point_mm;
  double low = 1e300, high = -1e300;
  const double above = o.long_mm;
  for (const Vec3& p : outline_at(m, o, at)) {
    const Vec3 beside = p + unit(p - middle) * std::min(1.0, 0.1 * o.width_mm);
    const auto hit = m.rays->first_hit(beside + out * above, -out, 0);
    if (!hit || hit->t_mm > 2 * above) continue;
    low = std::min(low, above - hit->t_mm), high = std::max(high, above - hit->t_mm);
  }
  return high < low ? 0 : high - low;
}

std::vector<Drawing> plate_drawings(const OriginalResult& m, const Openings& all,
                                    const std::vector<OpeningChoice>& choices, const std::string& job_name,
                                    double lap) {
  std::vector<Drawing> out;
  for (size_t k = 0; k < all.openings.size(); ++k) {
    const OpeningChoice* c = choice_for(all, k, choices);
    if (!c || c->kind != Kind::plate) continue;
    const Opening& o = all.openings[k];
    const double at = c->mouth == 1 ? 0 : o.length_mm();
    const CutPlane plane = o.cut_at(at);
    const Vec3 a = any_perpendicular(plane.normal), b = cross(plane.normal, a);
    std::vector<Point2> outline;
    double x0 = 1e300, x1 = -1e300, y0 = 1e300, y1 = -1e300;
    for (const Vec3& p : outline_at(m, o, at)) {
      outline.push_back({dot(p - plane.point_mm, a), dot(p - plane.point_mm, b)});
      x0 = std::min(x0, outline.back().x), x1 = std::max(x1, outline.back().x);
      y0 = std::min(y0, outline.back().y), y1 = std::max(y1, outline.back().y);
    }
    Drawing d;
    const double wide = x1 - x0 + 2 * lap, tall = y1 - y0 + 2 * lap;
    d.width_mm = std::max(150.0, wide + 80), d.height_mm = std::max(110.0, tall + 90);
    d.title = "Plate for " + o.name + " · " + job_name;
    const Point2 e{40 + lap - x0, 42 + lap - y0};
    Stroke hole{Pen::hidden, {}, true};
    for (const Point2& q : outline) hole.points.push_back({e.x + q.x, e.y + q.y});
    d.strokes.push_back(std::move(hole));
    const Point2 low{e.x + x0 - lap, e.y + y0 - lap}, high{e.x + x1 + lap, e.y + y1 + lap};
    d.frame(Pen::outline, low, high);
    d.measure({low.x, low.y}, {high.x, low.y}, -9, fixed(wide, 1));
    d.measure({low.x, low.y}, {low.x, high.y}, 9, fixed(tall, 1));
    d.frame(Pen::edge, {5, 5}, {d.width_mm - 5, d.height_mm - 5});
    d.labels.push_back({{10, d.height_mm - 14}, d.title, 4.2, -1});
    d.labels.push_back({{10, d.height_mm - 21},
                        "Scale 1:1, millimetres. Flat sheet of " + significant(c->plate_mm, 2) + " mm, waxed.",
                        2.8,
                        -1});
    d.labels.push_back({{10, 13},
                        "Dashed: the mouth it closes, mouth " + std::to_string(c->mouth) +
                            ". It comes out before the other side is poured.",
                        2.8,
                        -1});
    out.push_back(std::move(d));
  }
  return out;
}

std::string words_of(const Opening& o, const Shown& shown) {
  if (o.round_mm) return "Ø" + shown.length(*o.round_mm, 2) + ", " + shown.length(o.length_mm(), 1) + " long";
  // As wide as the circle in it, as long as its area asks for: a slot's own measures, near enough any other's.
  const double width = o.width_mm, along = std::max(width, o.area_mm2 / width);
  return shown.length_figure(along, 1) + " × " + shown.length(width, 1) + ", " + shown.length(o.length_mm(), 1) +
         " deep" + (o.straight ? "" : ", bent");
}

}  // namespace palinform
