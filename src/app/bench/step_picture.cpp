#include "bench/step_picture.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <QPainter>

#include "base/text.hpp"
#include "solid/columns.hpp"
#include "split/pins.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

namespace {

/// What the pictures of one job are put together from.
struct Stock {
  Desk& desk;
  StepShow& show;
  std::shared_ptr<const MouldResult> mould = desk.plan().fresh(results::mould);
  std::shared_ptr<const FormsResult> forms = desk.plan().fresh(results::forms);
  std::shared_ptr<const BoardResult> board = desk.plan().fresh(results::board);
  std::shared_ptr<const SolidsResult> solids = desk.plan().fresh(results::solids);
  std::shared_ptr<const ProcedureResult> work = desk.plan().fresh(results::procedure);
  std::shared_ptr<const OriginalResult> master = desk.plan().fresh(results::master);
  Transform place{};  ///< part's frame to the bench's

  const ProcedureFacts& facts() const { return work->facts; }
  bool halved() const { return in_halves(facts().form); }
  std::shared_ptr<const Shape> part() const { return master ? master->shape : nullptr; }
  std::shared_ptr<const Shape> half(bool a) const {
    const size_t k = a ? 0 : 1;
    if (solids && solids->pieces.size() > k) return solids->pieces[k];
    return a ? mould->half_a : mould->half_b;
  }
  void add(const std::shared_ptr<const Shape>& shape, const QColor& colour, const Vec3& by = {},
           double opacity = 1) const {
    if (!shape) return;
    Body b;
    b.shape = shape;
    b.colour = rgb(colour);
    b.cut_colour = b.colour;
    b.opacity = opacity;
    b.place = place.then(Transform::move(by));
    show.scene.bodies.push_back(std::move(b));
  }
  Vec3 at(const Vec3& part_mm) const { return place.point(part_mm); }
  /// Corners of the box's inside, in the bench's frame, at a share of its height; nought where there is none.
  std::vector<Vec3> ring(double share) const {
    const Mould& m = mould->mould;
    const Box3& b = m.inner_mm;
    const double z = b.min.z + share * b.size().z;
    std::vector<Vec3> out;
    for (const auto& [x, y] : {std::pair{b.min.x, b.min.y}, {b.max.x, b.min.y}, {b.max.x, b.max.y}, {b.min.x, b.max.y}})
      out.push_back(at(m.frame.inverse().point({x, y, z})));
    return out;
  }
  void line(std::vector<Vec3> points, const QColor& colour, double wide, bool closed = false) const {
    show.lines.push_back({std::move(points), colour, wide, closed});
  }
};

const QColor clay_colour(0xB4, 0x98, 0x76);
/// Of what is stiff round the rubber: a jacket, a board.
QColor shell_colour() { return pal().dark ? QColor(0x8E, 0x88, 0x7C) : QColor(0xCB, 0xC3, 0xB2); }

/// A half of the mould; of one that is brushed on its skin, and what backs it.
void put_half(const Stock& s, bool upper, const Vec3& by = {}, double opacity = 1, bool backed = true) {
  const QColor colour = upper ? pal().rubber_a : pal().rubber_b;
  if (!s.forms || !s.forms->brushes(upper)) return s.add(s.half(upper), colour, by, opacity);
  s.add(s.forms->brushed->rubber, colour, by, opacity);
  if (backed) s.add(s.forms->brushed->backing, shell_colour(), by * 1.4, opacity);
}

void box_lines(const Stock& s, double wide) {
  const auto low = s.ring(0), high = s.ring(1);
  s.line(low, pal().quiet, wide, true);
  s.line(high, pal().quiet, wide, true);
  for (size_t k = 0; k < 4; ++k) s.line({low[k], high[k]}, pal().quiet, wide);
}

/// The box round what stands in the scene, for moulds that are poured whole.
Box3 scene_box(const Stock& s) { return s.show.scene.box_mm(); }

void fill_line(const Stock& s, const BenchScreen& screen) {
  double fill = 0;
  for (const PourFacts& p : s.facts().rubber)
    if (s.facts().rubber.size() == 1 || screen.step_id.find("-" + p.name) != std::string::npos) fill = p.fill_mm;
  if (screen.act == Act::box && !s.facts().rubber.empty()) fill = s.facts().rubber.front().fill_mm;
  if (fill <= 0) return;
  const Box3 b = scene_box(s);
  const double z = std::min(b.min.z + fill, b.max.z);
  s.line({{b.min.x, b.min.y, z}, {b.max.x, b.min.y, z}, {b.max.x, b.max.y, z}, {b.min.x, b.max.y, z}}, pal().act, 3.5,
         true);
  s.show.tags.push_back(
      {{b.min.x, b.min.y, z}, QStringLiteral("fill line %1").arg(s.desk.units().length_unit_text(fill, 0)), pal().act});
}

void pins(const Stock& s) {
  const auto plan = s.desk.plan().fresh(results::pins);
  if (!plan || s.facts().form == Form::cup_core) return;
  for (size_t i = 0; i < plan->pins.size(); ++i) {
    const PinPlan& p = plan->pins[i];
    if (auto shape = make_shape(pin_mesh(p))) s.add(*shape, pal().act);
    const Vec3 head = p.foot_mm + p.draw * p.length_mm();
    const Vec3 tip = head + p.draw * std::max(12.0, 0.4 * p.length_mm());
    s.line({s.at(head), s.at(tip)}, pal().stop, 3);
    s.show.tags.push_back({s.at(tip), QStringLiteral("%1, drawn %2").arg(qs(p.name)).arg(i + 1), pal().stop});
  }
}

/// The master to its line, in clay or on a board, or on the base of a box.
void bed(const Stock& s, bool flipped) {
  const Way way = s.facts().way;
  const bool board = way == Way::splitter_board || way == Way::printed_board;
  if (has_bed(s.facts().form)) {
    if (board && s.board && s.board->shape && s.halved())
      s.add(s.board->shape, pal().rubber_b);
    else if (s.mould)
      s.add(s.mould->half_b, board ? pal().part_cut : clay_colour);
  }
  if (s.facts().form == Form::strip && s.board) s.add(s.board->core, pal().quiet);
  s.add(s.part(), pal().part);
  s.show.elevation_deg = flipped ? 18 : 26;
}

void whole_rubber(const Stock& s, double opacity, const Vec3& by = {}) {
  if (!s.board) return;
  s.add(s.board->whole, pal().rubber_a, by, opacity);
}

void closed(const Stock& s) {
  switch (s.facts().form) {
    case Form::cup_core:
      if (!s.board) return;
      s.add(s.board->cup_a, pal().rubber_a);
      s.add(s.board->cup_b, pal().rubber_b);
      return;
    case Form::skin:
      if (!s.board) return;
      s.add(s.board->cup_a, shell_colour());
      s.add(s.board->cup_b, shell_colour());
      return;
    case Form::open:
    case Form::cut:
    case Form::strip:
    case Form::putty:
      return whole_rubber(s, 1);
    default:
      if (!s.mould) return;
      put_half(s, true);
      put_half(s, false);
  }
}

void opened(const Stock& s, bool with_part) {
  if (!s.mould) return;
  const double way = 0.75 * s.mould->mould.inner_mm.size().z;
  const Vec3 up{0, 0, way};
  switch (s.facts().form) {
    case Form::cup_core:
    case Form::skin:
      if (!s.board) return;
      s.add(s.board->cup_a, shell_colour(), up);
      s.add(s.board->cup_b, shell_colour(), up * -1.0);
      if (s.facts().form == Form::skin) s.add(s.board->whole, pal().rubber_a, {}, with_part ? 0.45 : 1);
      break;
    case Form::open:
    case Form::cut:
    case Form::strip:
    case Form::putty:
      whole_rubber(s, 1, up * 1.2);
      break;
    default:
      put_half(s, true, up);
      put_half(s, false, up * -0.7);
  }
  if (with_part) s.add(s.part(), pal().part);
}

/// Gate with its stream, vents, as the mould stands.
void channels(const Stock& s) {
  const auto made = s.desk.plan().fresh(results::channels);
  if (!made || !has_gate(s.facts())) return;
  int vent = 0;
  for (const Channel& c : made->channels) {
    std::vector<Vec3> path;
    for (const Vec3& p : c.path_mm) path.push_back(s.at(p));
    if (path.size() < 2) continue;
    const QColor colour = c.gate ? pal().stop : pal().note;
    s.line(path, colour, c.gate ? 5 : 3);
    if (c.gate) {
      const Vec3 out = path.back();
      s.line({out, out + Vec3{0, 0, 28}}, pal().stop, 3);
      s.show.tags.push_back({out + Vec3{0, 0, 28}, QStringLiteral("pour here"), pal().stop});
    } else {
      s.show.tags.push_back({path.back(), QStringLiteral("vent %1").arg(++vent), pal().note});
    }
  }
}

}  // namespace

StepShow step_show(const BenchScreen& screen, Desk& desk) {
  StepShow show;
  show.scene.ground = rgb(pal().ground);
  Stock s{desk, show};
  if (!s.mould || !s.work || !s.part()) return show;
  const ProcedureFacts& f = s.facts();
  const Mould& m = s.mould->mould;
  // On the bench the pull stands up; a mould with an open side stands on the part's flat face.
  s.place = m.frame;
  s.place.shift = {};
  if ((f.form == Form::open || f.form == Form::strip) && s.forms && s.forms->flat_normal)
    s.place = frame_along(*s.forms->flat_normal * -1.0);
  // A cup stands on its foot, its mouth up.
  if (f.form == Form::cup_core && s.board) s.place = frame_along(s.board->core_draw);
  const Transform over = Transform::turn({1, 0, 0}, std::numbers::pi);
  // Half b, however it is made: its pour, its coats, its backing.
  const bool second = screen.act != Act::unbox &&
                      (screen.step_id.starts_with("pour-b") || screen.step_id.find("-b-coat") != std::string::npos ||
                       screen.step_id.find("backing-b") != std::string::npos ||
                       (f.brushed == "b" && screen.step_id.find("loose-b") != std::string::npos));
  if (second || screen.picture == StepPicture::turned) s.place = s.place.then(over);
  switch (screen.picture) {
    case StepPicture::none:
    case StepPicture::cup:
      break;
    case StepPicture::part:
      s.add(s.part(), pal().part);
      break;
    case StepPicture::bed:
      bed(s, false);
      if (s.halved()) box_lines(s, 1);
      break;
    case StepPicture::board:
      if (f.form == Form::cup_core && s.board) {
        s.add(s.board->cup_a, pal().rubber_a, s.place.direction(s.mould->mould.frame.rows[2]) * 12);
        s.add(s.board->cup_b, pal().rubber_b, s.place.direction(s.mould->mould.frame.rows[2]) * -12);
        s.add(s.board->core, pal().part_cut, {0, 0, 0.8 * scene_box(s).size().z});
      } else if (s.board && s.board->shape)
        s.add(s.board->shape, pal().rubber_b);
      else
        s.add(s.mould->half_b, pal().part_cut);
      break;
    case StepPicture::pins:
      if (screen.act == Act::draw_pins) {
        closed(s);
        for (Body& b : show.scene.bodies) b.opacity = 0.35;
      } else
        bed(s, false);
      pins(s);
      break;
    case StepPicture::boxed:
      if (s.halved()) {
        if (second) {
          put_half(s, true);
          s.add(s.part(), pal().part);
        } else
          bed(s, false);
        box_lines(s, 2);
      } else {
        whole_rubber(s, 0.3);
        s.add(s.part(), pal().part);
        if (f.form == Form::strip && s.board) s.add(s.board->core, pal().quiet);
      }
      pins(s);
      fill_line(s, screen);
      break;
    case StepPicture::poured:
      if (s.halved()) {
        s.add(s.part(), pal().part);
        const bool backed = screen.act == Act::lay_jacket;
        put_half(s, true, {}, 0.6, second || backed);
        if (second && !f.brushed.empty()) put_half(s, false, {}, 0.6, backed);
      } else {
        s.add(s.part(), pal().part);
        whole_rubber(s, 0.5);
      }
      break;
    case StepPicture::turned:
      s.add(s.part(), pal().part);
      if (s.halved())
        put_half(s, true);
      else
        whole_rubber(s, 0.6);
      break;
    case StepPicture::jacket:
      if (s.board) {
        s.add(s.board->cup_a, shell_colour());
        s.add(s.board->whole, pal().rubber_a);
        for (const Vec3& b : s.board->bolts_mm)
          s.line({s.at(b) + Vec3{0, 0, -4}, s.at(b) + Vec3{0, 0, 10}}, pal().act, 4);
        if (!s.board->bolts_mm.empty() && screen.act == Act::drill)
          show.tags.push_back({s.at(s.board->bolts_mm.front()),
                               QStringLiteral("bolt, one of %1").arg(s.board->bolts_mm.size()), pal().act});
      }
      break;
    case StepPicture::opened:
      opened(s, screen.act != Act::look && screen.act != Act::trim_mould && screen.act != Act::cut_channels);
      if (screen.act == Act::cut_channels) channels(s);
      break;
    case StepPicture::closed:
      closed(s);
      if (screen.act == Act::pour) channels(s);
      if (f.form == Form::cup_core && s.board && screen.act != Act::close) {
        // Seen through the cup: the rubber in it, and the core on its way down.
        for (Body& b : show.scene.bodies) b.opacity = 0.3;
        s.add(s.part(), pal().side_b.lighter(135), {}, 0.75);
        if (screen.act == Act::press_core) {
          const double above = 0.6 * scene_box(s).size().z;
          s.add(s.board->core, pal().part_cut, {0, 0, above});
          const Box3 b = scene_box(s);
          const Vec3 top{b.centre().x, b.centre().y, b.max.z + 12};
          s.line({top, {top.x, top.y, b.max.z - 0.5 * above}}, pal().stop, 5);
          show.tags.push_back({top, QStringLiteral("slowly down"), pal().stop});
        }
      }
      break;
    case StepPicture::tilted: {
      const auto flow = desk.plan().fresh(results::flow);
      if (flow) s.place = frame_along(flow->up);
      closed(s);
      for (Body& b : show.scene.bodies) b.opacity = 0.85;
      channels(s);
      show.elevation_deg = 8;
      const Box3 b = scene_box(s);
      // The bench, level under the tilted mould, and the wedge's height.
      s.line({{b.min.x, b.min.y, b.min.z},
              {b.max.x, b.min.y, b.min.z},
              {b.max.x, b.max.y, b.min.z},
              {b.min.x, b.max.y, b.min.z}},
             pal().ink, 2, true);
      if (f.wedge_rise_mm > 0)
        show.tags.push_back({{b.max.x, b.min.y, b.min.z},
                             QStringLiteral("wedge %1° · %2 high")
                                 .arg(qs(fixed(f.tilt_deg, 0)), desk.units().length_unit_text(f.wedge_rise_mm, 0)),
                             pal().act});
      break;
    }
    case StepPicture::casting:
      s.add(s.part(), pal().side_b.lighter(135));
      break;
    case StepPicture::scars: {
      s.add(s.part(), pal().side_b.lighter(135));
      channels(s);
      show.tags.erase(std::remove_if(show.tags.begin(), show.tags.end(),
                                     [](const Tag& t) { return t.words == QLatin1String("pour here"); }),
                      show.tags.end());
      const auto split = desk.plan().fresh(results::split);
      if (split && closes(f) && f.form != Form::cup_core)
        for (const PartingLoop& l : split->split.loops) {
          std::vector<Vec3> line;
          for (const Vec3& p : l.points_mm) line.push_back(s.at(p));
          s.line(std::move(line), pal().stop, 2.5, l.closed);
        }
      break;
    }
  }
  return show;
}

void draw_cup(QPainter& p, const QRectF& area, const BenchRun& run, std::optional<double> now_g, const Units& units) {
  if (finished(run)) return;
  const BenchScreen& here = run.screens[static_cast<size_t>(run.at)];
  // What stands in the cup: the parts of this cup's screens, as far as they were weighed.
  double tare = 0, top = 0;
  std::vector<std::pair<double, QString>> marks;  // grams over the empty cup, and what it is
  for (int i = run.at; i >= 0 && run.screens[static_cast<size_t>(i)].step_id == here.step_id; --i)
    if (run.screens[static_cast<size_t>(i)].part_g <= 0)
      tare = run.screens[static_cast<size_t>(i)].target_g.value_or(0);
  for (size_t i = 0; i < run.screens.size(); ++i) {
    const BenchScreen& s = run.screens[i];
    if (s.step_id != here.step_id || s.part_g <= 0 || !s.target_g) continue;
    const double over = *s.target_g - tare;
    marks.emplace_back(over, (s.part.empty() ? QStringLiteral("colour") : qs(s.part)) + QStringLiteral("  ") +
                                 units.mass_text(s.part_g, 1));
    top = std::max(top, over);
  }
  if (top <= 0) return;
  const double high = area.height() * 0.86, wide = std::min(area.width() * 0.5, high * 0.8), left = area.left() + 8,
               base = area.bottom() - 6;
  const auto y = [&](double g) { return base - high * 0.82 * g / top; };
  const auto half_at = [&](double yy) { return 0.5 * wide * (0.78 + 0.22 * (base - yy) / high); };
  const double mid = left + 0.5 * wide;
  const auto band = [&](double from_g, double to_g) {
    QPolygonF q;
    q << QPointF(mid - half_at(y(from_g)), y(from_g)) << QPointF(mid + half_at(y(from_g)), y(from_g))
      << QPointF(mid + half_at(y(to_g)), y(to_g)) << QPointF(mid - half_at(y(to_g)), y(to_g));
    return q;
  };
  double below = 0;
  int k = 0;
  const double now = now_g ? std::clamp(*now_g - tare, 0.0, 1.15 * top) : here.from_g.value_or(tare) - tare;
  p.setPen(Qt::NoPen);
  for (const auto& [over, words] : marks) {
    const double to = std::min(over, now);
    if (to > below) {
      p.setBrush(k % 2 ? pal().rubber_b : pal().rubber_a);
      p.drawPolygon(band(below, to));
      if (k % 2) {
        p.setBrush(QBrush(pal().ink, Qt::Dense7Pattern));
        p.drawPolygon(band(below, to));
      }
    }
    below = over;
    ++k;
  }
  if (now > below) {
    p.setBrush(pal().stop);
    p.drawPolygon(band(below, now));
  }
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(pal().ink, 3));
  QPolygonF cup;
  cup << QPointF(mid - half_at(base - high), base - high) << QPointF(mid - half_at(base), base)
      << QPointF(mid + half_at(base), base) << QPointF(mid + half_at(base - high), base - high);
  p.drawPolyline(cup);
  p.setFont(type_face(18, 600));
  for (const auto& [over, words] : marks) {
    const double yy = y(over);
    p.setPen(QPen(pal().ink, 2, Qt::DashLine));
    p.drawLine(QPointF(mid - half_at(yy), yy), QPointF(mid + half_at(yy) + 14, yy));
    p.setPen(pal().ink);
    p.drawText(QRectF(mid + half_at(yy) + 20, yy - 14, area.right() - mid - half_at(yy) - 20, 28), Qt::AlignVCenter,
               words);
  }
}

}  // namespace palinform::app
