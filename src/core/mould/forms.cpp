#include "mould/forms.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "base/text.hpp"
#include "mould/cup_line.hpp"
#include "mould/smallest_box.hpp"
#include "mould/strip.hpp"
#include "solid/carve.hpp"

namespace palinform {
namespace {

/// An upright cylinder or ring in its own frame: z along the axis; `hole` 0 for a solid one.
TriMesh turned(double z0, double z1, double r0, double r1, double hole, double x = 0, double y = 0) {
  TriMesh m;
  constexpr uint32_t n = 96;
  const auto ring = [&](double z, double r) {
    const auto first = static_cast<uint32_t>(m.points.size());
    for (uint32_t k = 0; k < n; ++k) {
      const double t = 2 * std::numbers::pi * k / n;
      m.points.push_back({x + r * std::cos(t), y + r * std::sin(t), z});
    }
    return first;
  };
  const auto wall = [&](uint32_t a, uint32_t b) {
    for (uint32_t k = 0; k < n; ++k) {
      const uint32_t o = (k + 1) % n;
      m.triangles.push_back({a + k, a + o, b + o});
      m.triangles.push_back({a + k, b + o, b + k});
    }
  };
  const uint32_t foot = ring(z0, r0), top = ring(z1, r1);
  wall(foot, top);
  if (hole > 0) {
    const uint32_t in_top = ring(z1, hole), in_foot = ring(z0, hole);
    wall(top, in_top), wall(in_top, in_foot), wall(in_foot, foot);
    return m;
  }
  for (const auto& [first, z, up] : {std::tuple{foot, z0, false}, {top, z1, true}}) {
    const auto hub = static_cast<uint32_t>(m.points.size());
    m.points.push_back({x, y, z});
    for (uint32_t k = 0; k < n; ++k) {
      const uint32_t o = (k + 1) % n;
      m.triangles.push_back(up ? Triangle{hub, first + k, first + o} : Triangle{hub, first + o, first + k});
    }
  }
  return m;
}

}  // namespace

std::string_view words_of(Form f) {
  constexpr std::string_view names[] = {"Open face",         "Two-part block", "Squeeze",
                                        "Whole pour, cut",   "Brushed skin",   "Putty",
                                        "Hard cup and core", "Strip of many",  "Several pieces"};
  return names[static_cast<size_t>(f)];
}
std::vector<double> coats_by_rule_mm(const FormRates& r) {
  const int coats = std::max(2, static_cast<int>(std::ceil(r.skin_mm / r.coat_mm - 1e-9)));
  return std::vector<double>(static_cast<size_t>(coats), r.skin_mm / coats);
}

const Bore* core_bore(const std::vector<Bore>& bores) {
  const Bore* best = nullptr;
  for (const Bore& b : bores)
    if (!best || b.depth_mm * b.diameter_mm > best->depth_mm * best->diameter_mm) best = &b;
  return best;
}

Result<RubberPour> pour_around(const TriMesh& mesh, const Transform& frame, const Walls& walls, const std::string& name,
                               double pitch_mm, const Progress& progress) {
  const Box3 part = box_in(mesh, frame);
  const Box3 box = box_round(part, walls);
  const double pitch = pitch_mm > 0 ? pitch_mm : mould_pitch_mm(part, box);
  const auto columns = build_columns(mesh, frame, pitch, 0, progress.part(0, 0.5));
  if (!columns) return columns.error();
  RubberPour p;
  p.name = name;
  const double area = box.size().x * box.size().y, height = box.size().z;
  constexpr int bins = 96;
  const double step = height / bins, floor = box.min.z;
  std::vector<double> solid(bins, 0);
  for (const Span& s : columns->span) spread_over(solid, floor, step, s.low_mm, s.high_mm, pitch * pitch);
  double sum = 0;
  p.curve.push_back({0, 0});
  for (int b = 0; b < bins; ++b) {
    sum += area * step - solid[static_cast<size_t>(b)];
    p.curve.push_back({(b + 1) * step, sum});
  }
  p.volume_mm3 = sum;
  p.fill_height_mm = height;
  return p;
}

Result<std::vector<FormPlan>> plan_forms(const TriMesh& mesh, const RayScene& rays, const Split& split,
                                         const Mould& two, const std::vector<Bore>& bores, const FormFacts& f,
                                         const FormRates& r, const Progress& progress) {
  const auto built = build_for_forms(mesh, rays, split, two, bores, f, r, progress.part(0, 0.9));
  if (!built) return built.error();
  return plan_forms(*built, mesh, split, two, bores, f, r, progress.part(0.9, 1));
}

Result<std::vector<FormPlan>> plan_forms(const FormBuilds& built, const TriMesh& mesh, const Split& split,
                                         const Mould& two, const std::vector<Bore>& bores, const FormFacts& f,
                                         const FormRates& r, const Progress& progress) {
  std::vector<FormPlan> out(form_count);
  const Vec3 size = f.own_size_mm.x > 0 ? f.own_size_mm : own_size_mm(mesh);  // the same however it lies in its file
  const double largest = std::max({size.x, size.y, size.z});
  const double part = two.part_mm3;
  const bool line = !split.loops.empty();
  const std::string locks = counted(f.need_help, "undercut needs help", "undercuts need help");
  const Bore* bore = core_bore(bores);
  const std::vector<double> outer = coat_offsets_mm(f.coats_mm, r);
  const int coats = static_cast<int>(outer.size());
  std::vector<double> coat_mm, coat_mm3;  // each coat's own thickness, from the part outward, and what it is
  for (size_t k = 0; k < outer.size(); ++k) {
    const double under = k > 0 ? outer[k - 1] : 0;
    coat_mm.push_back(outer[k] - under);
    coat_mm3.push_back(std::max(0.0, built.growth.at_mm3(outer[k]) - built.growth.at_mm3(under)));
  }
  const double skin_mm = outer.back(), putty = built.growth.at_mm3(r.putty_mm);
  const double over_pct = f.over_pct.value_or(r.squeeze_over_pct);

  for (int i = 0; i < form_count; ++i) {
    if (progress.cancelled()) return Error::stopped();
    const Progress here = progress.part(1.0 * i / form_count, (i + 1.0) / form_count);
    FormPlan& p = out[static_cast<size_t>(i)];
    p.form = static_cast<Form>(i);
    const auto say = [&](std::string s) { p.reasons.push_back(std::move(s)); };
    p.box_mm = two.inner_mm.size();
    p.line_mm = split.line_mm;
    p.boxes = 1;
    p.pulls = f.undercuts + f.need_help > 0 ? f.pulls_undercut : f.pulls_simple;
    p.resin_waste_mm3 = r.channel_pct / 100 * part;
    const auto take = [&](const std::vector<RubberPour>& pours) {
      p.pours = pours;
      p.rubber_mm3 = 0;
      for (const RubberPour& x : pours) p.rubber_mm3 += x.volume_mm3;
    };
    switch (p.form) {
      case Form::open: {
        p.works = f.flat_normal && f.flat_lets_go;
        p.line_mm = 0;
        p.line_quality = "none; the open face comes out as poured";
        p.resin_waste_mm3 = 0.04 * part;
        if (!f.flat_normal)
          say(f.open_offer.empty() ? std::string("No hidden flat face is marked in Original")
                                   : "No hidden flat face is marked in Original. " + f.open_offer);
        else if (!f.flat_lets_go)
          say(f.open_why.empty() ? std::string("The part locks when drawn off its flat face") : f.open_why);
        else
          say("Poured over the part on its flat face: one pour, no line, next to no waste");
        if (p.works && !f.open_why.empty()) say(f.open_why);
        if (f.flat_normal) {
          say("A cover plate or a scraper makes the back flat");
          if (!f.flat_marked) say("Nobody marked that face hidden: it comes out as poured");
        }
        if (built.whole.open) {
          take({*built.whole.open});
          p.box_mm = built.whole.open_box_mm;
        }
        break;
      }
      case Form::two_part:
      case Form::squeeze:
      case Form::pieces: {
        take(two.pours);
        const bool pieces = p.form == Form::pieces, squeeze = p.form == Form::squeeze;
        p.works = line && (pieces ? f.extra_pieces > 0 && f.need_help > 0 : f.need_help == 0);
        if (!line)
          say("No line to part the halves along");
        else if (!pieces && f.need_help > 0)
          say(locks + " before two pieces do");
        if (pieces) {
          if (p.works)
            say(counted(2 + f.extra_pieces, "piece frees", "pieces free") + " what two do not");
          else if (line)
            say(f.need_help > 0 ? "No direction was found that frees the rest" : "Two pieces do");
          if (p.works) say("Each further piece is a witness line more");
        } else if (squeeze) {
          p.resin_waste_mm3 = over_pct / 100 * part;
          if (p.works) say("No gate or vents to cut: pour into b, close, " + fixed(over_pct, 0) + " % runs over");
          if (p.works) say("Flash all along the line; thickness depends on the weight put on");
          p.line_quality = "flash all along, to be trimmed";
        } else if (p.works) {
          say("Fed by gate and vents: thickness and line are held");
          if (f.pins > 0) say("With " + counted(f.pins, "hard pin", "hard pins"));
        }
        if (p.line_quality.empty())
          p.line_quality = f.witness_mm < 1 ? "on edges all along" : fixed(f.witness_mm, 0) + " mm of it shows";
        break;
      }
      case Form::cut: {
        take({built.whole.cut});
        const bool inner = std::any_of(split.loops.begin(), split.loops.end(), [](const auto& l) { return !l.outer; });
        p.works = line && f.see_through && !inner && (f.need_help == 0 || f.shore_a <= 30);
        p.line_quality = "a blade's, all along";
        if (!f.see_through)
          say("The rubber chosen hides the part from the knife");
        else if (inner)
          say("The knife cannot reach the shut-offs inside");
        else if (!p.works)
          say(locks + ", and the rubber does not spread");
        else
          say("One pour and no bed; the wavy cut registers itself");
        break;
      }
      case Form::skin: {
        p.skin_mm = skin_mm;
        double skin = 0;
        for (const double mm3 : coat_mm3) skin += mm3;
        double built_mm3 = skin;
        if (built.jacket) {
          // Counted on what is built, flanges and all; keys and fillings make the skin more than its coats.
          p.hard_mm3 = built.jacket->a_mm3 + built.jacket->b_mm3;
          p.hard_b_mm3 = built.jacket->b_mm3;
          built_mm3 = std::max(skin, built.jacket->skin_mm3);
        }
        // Side by side, as it is brushed: each coat by what lies on its side of bed and line; keys and fillings go with
        // the last.
        std::vector<RubberPour> pours;
        for (const char* side : {"a", "b"}) {
          for (size_t k = 0; k < outer.size(); ++k) {
            const double of_a = built.coats_a[k], share = *side == 'a' ? of_a : 1 - of_a;
            if (share <= 0) continue;
            RubberPour c;
            c.side = side;
            c.name = c.side + " coat " + std::to_string(k + 1);
            c.fill_height_mm = coat_mm[k];
            c.volume_mm3 = share * (coat_mm3[k] + (k + 1 == outer.size() ? built_mm3 - skin : 0));
            pours.push_back(std::move(c));
          }
        }
        take(pours);
        p.works = line;
        p.boxes = 0;
        p.line_quality = f.witness_mm < 1 ? "on edges all along" : fixed(f.witness_mm, 0) + " mm of it shows";
        const auto [thin, thick] = std::minmax_element(coat_mm.begin(), coat_mm.end());
        say(counted(coats, "coat", "coats") + " of " + fixed(*thin, 1) +
            (*thick > *thin + 0.05 ? " to " + fixed(*thick, 1) : std::string()) +
            " mm, the outer ones thickened, keys set in");
        say("A rigid jacket in two shells holds it, " + fixed(p.hard_mm3 * 1e-3, 0) + " ml");
        say(largest > r.large_mm ? "Saves rubber on a part this large" : "Much work for a part this small");
        break;
      }
      case Form::putty: {
        RubberPour a{"impression a", 0.5 * putty, r.putty_mm, {}}, b{"impression b", 0.5 * putty, r.putty_mm, {}};
        take({a, b});
        p.works = line && f.need_help == 0 && f.undercuts == 0 && largest < 80;
        p.boxes = 0;
        p.pulls = std::max(1, f.pulls_simple / 3);
        p.line_quality = "rough; the putty's own edge";
        if (f.undercuts + f.need_help > 0)
          say("Stiff putty tears in the undercuts");
        else if (largest >= 80)
          say("Too large to press in one go before it sets");
        else
          say("No box and no bubbles to fear; set within the hour");
        say("Coarse detail, few pulls");
        break;
      }
      case Form::cup_core: {
        const bool through_it = bore && bore_takes_a_core(*bore, part);
        p.works = f.resin_is_rubber && line && through_it;
        p.rubber_mm3 = 0;
        p.boxes = 0;
        p.hard_mm3 = built.cup_core_mm3.value_or(0);
        p.pulls = 200;
        p.line_quality = "as sharp as the printer's";
        p.resin_waste_mm3 = 0.1 * part;
        if (!f.resin_is_rubber)
          say("The casting is hard: it would not come off a hard core");
        else if (!through_it)
          say("No bore to put a core in");
        else
          say("The casting is rubber and stretches off a hard core Ø" + fixed(bore->diameter_mm, 1));
        if (p.works)
          say("Cup walls " + fixed(r.cup_wall_mm, 1) + " mm, spigot to centre the core, a screw to jack it out");
        break;
      }
      case Form::strip: {
        const int many =
            f.strip_others.empty() ? std::min(r.strip_most, std::max(1, f.copies)) : std::max(1, f.strip_many);
        const bool hidden = f.flat_normal && f.flat_marked;  // a back that nubs may stand on
        std::vector<StripPart> hang{{&mesh, hidden ? -*f.flat_normal : f.strip_up.value_or(split.pull), many}};
        hang.insert(hang.end(), f.strip_others.begin(), f.strip_others.end());
        StripRules rules = f.strip;
        if (largest > r.tiny_mm && f.chosen != p.form) rules.strut_mm = 0;  // nobody hangs it: no search for its limbs
        const auto strip = plan_strip(hang, rules, here);
        if (!strip) {
          if (here.cancelled()) return strip.error();
          p.works = false;
          say(strip.error().what);
          break;
        }
        p.box_mm = strip->inner_mm.size();
        take({RubberPour{"whole", strip->rubber_mm3(), p.box_mm.z, {}}});
        p.castings_a_pull = many;
        const auto all = static_cast<long long>(strip->places.size());
        p.works = largest <= r.tiny_mm && (f.copies >= 3 || all >= 3);
        p.resin_waste_mm3 = strip->bar_mm3() / many;
        p.line_mm = hidden ? 0 : split.line_mm;
        p.struts = static_cast<int>(strip->struts_mm.size());
        if (!hidden) p.strip_cut = strip->cut;
        p.line_quality = hidden ? "none; nubs to snip at the bar" : "a cut per part, nubs to snip";
        if (largest > r.tiny_mm)
          say("Parts of " + fixed(largest, 0) + " mm are too large to hang from a bar");
        else if (!p.works)
          say("Not worth it for " + counted(f.copies, "copy", "copies"));
        else
          say(counted(all, "part hangs", "parts hang") + " from one bar over a well of resin, filled under vacuum");
        if (p.struts > 0)
          say(counted(p.struts, "strut keeps", "struts keep") + " limbs in place, and lets their air out");
        break;
      }
    }
    if (p.form == Form::cut) p.pulls = std::max(1, static_cast<int>(std::lround(r.cut_life_share * p.pulls)));
    const int moulds = p.pulls > 0 ? (f.copies + p.pulls * p.castings_a_pull - 1) / (p.pulls * p.castings_a_pull) : 1;
    const double material = p.rubber_mm3 * 1e-6 * f.rubber_density_g_cm3 * f.rubber_price_per_kg +
                            p.hard_mm3 * 1e-3 * r.print_price_per_cm3;
    // Steep halves wedge; a blade goes astray.
    const bool over_bed = in_halves(p.form);
    const double risk = p.form == Form::cut                   ? r.cut_risk_share
                        : over_bed && split.steepest_deg > 60 ? r.too_steep_risk_share
                        : over_bed && split.steepest_deg > 45 ? r.steep_risk_share
                                                              : 0;
    if (p.works && over_bed && split.steepest_deg > 60)
      say("The line climbs at " + fixed(split.steepest_deg, 0) + "°: the halves wedge and rub");
    // One pour waits for the one before it; coats of a skin go on while the last is soft, a side at a time.
    const double cures = p.form == Form::cup_core ? 0 : p.form == Form::skin ? 2 : static_cast<double>(p.pours.size());
    const auto mould_cost = [&](double hands_min, double print_h) {
      return (hands_min / 60 * r.hand_price_per_h + material) * (1 + risk) +
             (cures * f.cure_h + print_h) * f.wait_price_per_h;
    };
    double one = 0;
    if (over_bed) {
      for (const size_t k : {size_t{0}, size_t{1}, size_t{2}}) {
        p.bed_hands_min[k] = f.hands_min ? f.hands_min(p, static_cast<Way>(k)) : 0;
        p.bed_cost[k] = std::max(1, moulds) * mould_cost(p.bed_hands_min[k], f.bed_print_h[k]);
        if (f.bed_works[k] && (k == 0 || p.bed_cost[k] < p.bed_cost[static_cast<size_t>(p.bed)]))
          p.bed = static_cast<Way>(k);
      }
      p.hands_min = p.bed_hands_min[static_cast<size_t>(p.bed)];
      one = p.bed_cost[static_cast<size_t>(p.bed)];
    } else {
      if (f.hands_min) p.hands_min = f.hands_min(p, Way::clay_bed);
      one = std::max(1, moulds) * mould_cost(p.hands_min, 0);
    }
    p.cost = one +
             f.copies * (p.resin_waste_mm3 * 1e-6 * f.resin_density_g_cm3 * f.resin_price_per_kg +
                         // trimming the line, a minute for 60 mm of witness
                         (p.form == Form::squeeze ? p.line_mm / 60
                          : p.form == Form::cut   ? p.line_mm / 90
                          : p.form == Form::open  ? 0
                                                  : f.witness_mm / 120) /
                             60 * r.hand_price_per_h) +
             // each pull is ten minutes of hands, shared by what it gives
             10.0 / 60 * r.hand_price_per_h * std::ceil(static_cast<double>(f.copies) / p.castings_a_pull);
  }
  FormPlan* best = nullptr;
  for (FormPlan& p : out)
    // Putty and a squeeze are for those who choose them: their quality is the person's call, not a sum's.
    // So is a strip that is cut open part by part.
    if (p.works && p.form != Form::putty && p.form != Form::squeeze && !(p.form == Form::strip && p.line_mm > 0) &&
        (!best || p.cost < best->cost))
      best = &p;
  if (f.resin_is_rubber && out[static_cast<size_t>(Form::cup_core)].works)
    best = &out[static_cast<size_t>(Form::cup_core)];
  if (best) best->recommended = true;
  progress.report(1);
  return out;
}

double cup_voxel_mm(const TriMesh& mesh, double asked_mm) {
  const Vec3 size = measure(mesh).box_mm.size();
  return std::max({0.3, asked_mm, std::max({size.x, size.y, size.z}) / 220});
}

Result<CupAndCore> cup_and_core(const TriMesh& mesh, const RayScene& rays, const Split& split, const Bore& bore,
                                double wall, double voxel, const Progress& progress) {
  CupAndCore out;
  out.wall_mm = wall;
  // Frame: z along the bore, mouth up.
  const Transform frame = frame_along(out_of_mouth(rays, bore));
  out.frame = frame;
  const Vec3 c = frame.direction(bore.centroid_mm);
  TriMesh part = transformed(mesh, frame);
  const Box3 box = measure(part).box_mm;
  const double r = 0.5 * bore.diameter_mm, foot = c.z - 0.5 * bore.depth_mm;
  const double draft = std::tan(2 * std::numbers::pi / 180), top = box.max.z, height = top - box.min.z + wall;
  const double outer = 0.5 * std::hypot(box.size().x, box.size().y) + wall, mouth = outer + draft * height;
  // The core: the bore's rod on a plate that closes the cup; a ring under the plate sits round the cup's mouth and
  // centres it.
  const double plate = std::max(4.0, 1.5 * wall), reach = mouth + 0.2 + wall, lip = 4;
  out.spigot_mm = 2 * (mouth + 0.2);
  // A rod that comes out at the far end stands there in the cup's floor; a blind one is held by the collar alone.
  out.seat_mm = bore.through ? 0.6 * wall : 0;
  const double below = foot - out.seat_mm;
  const TriMesh disc = turned(top, top + plate, reach, reach, 0, c.x, c.y),
                collar = turned(top - lip, top + 0.5 * plate, reach, reach, mouth + 0.2, c.x, c.y),
                rod = turned(below, top + 0.5 * plate, r * (1 - 0.002), r, 0, c.x, c.y);
  std::vector<TriMesh> holes;
  // The pour holes open over the part's own rim, halfway between bore and outside; the jack pushes on the cup's rim.
  const double ring = r + 0.5 * (0.5 * std::min(box.size().x, box.size().y) - r), jack = mouth - 0.5 * wall;
  for (int k = 0; k < 3; ++k) {
    const double a = 2 * std::numbers::pi * k / 3;
    holes.push_back(turned(top - 1, top + plate + 1, 0.5 * out.pour_hole_mm, 0.5 * out.pour_hole_mm + 0.5, 0,
                           c.x + ring * std::cos(a), c.y + ring * std::sin(a)));
  }
  holes.push_back(turned(top - 1, top + plate + 1, 0.5 * out.jack_hole_mm, 0.5 * out.jack_hole_mm, 0,
                         c.x + jack * std::cos(1.0), c.y + jack * std::sin(1.0)));
  auto solid_core = carved({disc, collar, rod}, holes, 0, voxel, progress.part(0, 0.3));
  if (!solid_core) return solid_core.error();
  progress.report(0.3);
  // The cup: a leaning-walled block round the part, less the part with its bore filled; cut through the bore's axis
  // square to the pull, so that each half lifts off sideways.
  const TriMesh plug = turned(below - 0.1, top, r + 0.05, r + 0.05, 0, c.x, c.y);
  Vec3 apart = frame.direction(split.pull);
  apart = unit(apart - Vec3{0, 0, apart.z}, {1, 0, 0});
  for (const bool a : {true, false}) {
    if (progress.cancelled()) return Error::stopped();
    TriMesh cup = turned(box.min.z - wall, top, outer, mouth, 0, c.x, c.y);
    // The other half is cut away by a box standing on the plane through the axis.
    const Vec3 side = a ? -apart : apart, across{-side.y, side.x, 0};
    const double far = 2 * outer + 2 * draft * height + 5;
    TriMesh cutter;
    for (const double z : {box.min.z - wall - 5, top + 5})
      for (const auto& [x, y] : {std::pair{0.0, -far}, {far, -far}, {far, far}, {0.0, far}}) {
        const Vec3 p = Vec3{c.x, c.y, 0} + side * x + across * y;
        cutter.points.push_back({p.x, p.y, z});
      }
    cutter.triangles = {{0, 2, 1}, {0, 3, 2}, {4, 5, 6}, {4, 6, 7}, {0, 1, 5}, {0, 5, 4},
                        {1, 2, 6}, {1, 6, 5}, {2, 3, 7}, {2, 7, 6}, {3, 0, 4}, {3, 4, 7}};
    if (measure(cutter).volume_mm3 < 0)
      for (Triangle& t : cutter.triangles) std::swap(t[1], t[2]);
    auto half = carved({cup}, {part, plug, cutter}, 0, voxel, a ? progress.part(0.3, 0.65) : progress.part(0.65, 1));
    if (!half) return half.error();
    (a ? out.cup_a : out.cup_b) = *std::move(half);
    progress.report(a ? 0.65 : 1);
  }
  out.core = *std::move(solid_core);
  return out;
}

}  // namespace palinform
