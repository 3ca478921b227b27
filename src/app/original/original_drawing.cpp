// Original: the scene of its canvas, and the sizes called out over it.
#include <QPainter>

#include "base/text.hpp"
#include "original/original_page.hpp"
#include "shell/desk.hpp"
#include "stages/preparation.hpp"
#include "theme/theme.hpp"

namespace palinform::app {
namespace {

QString limits_in(const MeasuredSize& s, const Units& u) {
  if (!u.inch) return qs(limits_text(s));
  return (s.kind == SizeKind::bore ? QStringLiteral("Ø") : QString()) + u.length_text(s.lower_mm, 3) +
         QStringLiteral("–") + u.length_text(s.upper_mm, 3);
}

}  // namespace

void OriginalPage::show_scene() {
  const auto part = desk_.plan().fresh(shown_slot());
  if (!part) return;
  const auto faces = shows_master() ? Fresh<FacesResult>{} : desk_.plan().fresh(results::faces);
  const std::string key = part.key.hex() + pal().ground.name().toStdString() + (faces ? faces.key.hex() : "");
  if (key == shown_scene_) return;
  const bool other = shown_scene_.empty() || view_->scene().bodies.empty() ||
                     view_->scene().bodies[0].shape->box_mm != part->shape->box_mm;
  shown_scene_ = key;
  Scene scene;
  Body b;
  b.shape = part->shape;
  b.colour = rgb(pal().part);
  if (faces) {
    b.face_paint = faces->paint;
    // Show faces dotted, the hidden flat hatched, keep-clear crossed by the third pattern: never by colour alone.
    b.paints = {{rgb(pal().part), rgb(pal().part), Pattern::plain},
                {rgb(pal().part.lighter(108)), rgb(pal().act), Pattern::dots},
                {rgb(pal().part.darker(108)), rgb(pal().quiet), Pattern::hatch},
                {rgb(pal().part), rgb(pal().stop), Pattern::hatch}};
  }
  scene.bodies.push_back(std::move(b));
  scene.ground = rgb(pal().ground);
  view_->set_scene(std::move(scene), other);
}

void OriginalPage::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.fillRect(rect(), pal().ground);
  if (!empty_->isVisible()) return;
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(pal().rule.darker(110), 1.6, Qt::DashLine));
  p.drawRoundedRect(QRectF(empty_->geometry()).adjusted(0, -50, 0, 30), 14, 14);
  draw_mark(p, QRectF(width() / 2.0 - 26, empty_->y() - 34, 52, 52));
}

void OriginalPage::draw_callouts(QPainter& p) {
  labels_.clear();
  const Job& job = desk_.job();
  const Units& u = desk_.units();
  if (shows_master()) return;  // the sizes are the original's
  if (first_ && adding_) {
    const auto q = view_->camera().project(first_->at_mm);
    p.setPen(QPen(pal().act, 2));
    p.setBrush(pal().ground);
    p.drawEllipse(QPointF(q.x, q.y), 6, 6);
  }
  std::vector<LabelWish> wishes;
  // Labels keep off the part itself, so that it stays in sight.
  std::vector<RectPx> keep_out = covered_cells(view_->picture(), view_->camera());
  const QFont strong = type_face(13, 600), plain = type_face(12);
  std::vector<QString> heads, seconds;
  std::vector<const MeasuredSize*> drawn;
  // While the part is drawn, the numbers of the body in hand stand on it, each to be typed where it is.
  std::vector<MeasuredSize> measures;
  if (draw_->isVisible())
    for (const DrawnBody& body : job.original.drawn.bodies)
      if (body.id == draw_->chosen())
        for (const MeasureLine& l : measure_lines(body)) {
          MeasuredSize s;
          s.id = l.body + "." + l.key, s.name = l.words, s.nominal_mm = l.mm, s.from_mm = l.from_mm, s.to_mm = l.to_mm;
          measures.push_back(std::move(s));
        }
  const std::vector<MeasuredSize>& shown = draw_->isVisible() ? measures : job.original.sizes;
  for (const MeasuredSize& s : shown) {
    heads.push_back(qs(s.name));
    if (draw_->isVisible())
      seconds.push_back(u.length_unit_text(s.nominal_mm, u.inch ? 4 : 2));
    else
      seconds.push_back(limits_in(s, u) +
                        (s.kind == SizeKind::angle ? QStringLiteral("°") : QLatin1Char(' ') + u.length_name()) +
                        (s.limits_guessed ? QStringLiteral(" · guess") : QString()));
    const auto a = view_->camera().project(s.from_mm), b = view_->camera().project(s.to_mm);
    // Typed without a place on the part: it stands on the card below only.
    if (!draw_->isVisible() && s.from_mm == s.to_mm) {
      heads.pop_back(), seconds.pop_back();
      continue;
    }
    drawn.push_back(&s);
    wishes.push_back({{(a.x + b.x) / 2, (a.y + b.y) / 2},
                      std::max(text_width(strong, heads.back()), text_width(plain, seconds.back())) + 16.0,
                      38.0});
    for (int k = 0; k <= 10; ++k) {
      const double t = k / 10.0;
      keep_out.push_back({a.x + (b.x - a.x) * t - 4, a.y + (b.y - a.y) * t - 4, 8, 8});
    }
  }
  const Box3 box = view_->scene().box_mm();
  const auto mid = view_->camera().project(box.centre());
  const double bottom = card_->isVisible() ? card_->y() - 10 : height() - 10;
  const auto placed = place_labels(wishes, {10, 58, width() - 20.0 - (side() ? side()->width() + 16 : 0), bottom - 58},
                                   keep_out, {mid.x, mid.y});
  for (size_t i = 0; i < drawn.size(); ++i) {
    const MeasuredSize& s = *drawn[i];
    const bool chosen = s.id == selected_;
    const QColor c = chosen ? pal().act : pal().ink;
    draw_polyline(p, *view_, {s.from_mm, s.to_mm}, QPen(c, chosen ? 2.6 : 1.5));
    const auto a = view_->camera().project(s.from_mm), b = view_->camera().project(s.to_mm);
    const QPointF pa(a.x, a.y), pb(b.x, b.y);
    const double len = std::hypot(b.x - a.x, b.y - a.y);
    const QPointF tick = len > 1 ? QPointF(-(b.y - a.y), b.x - a.x) / len * (chosen ? 7 : 5) : QPointF(4, 0);
    p.setPen(QPen(c, chosen ? 2.6 : 1.5));
    for (const QPointF& e : {pa, pb}) p.drawLine(e - tick, e + tick);
    const RectPx& r = placed[i].rect;
    const QRectF rect(r.x, r.y, r.w, r.h);
    const QPointF anchor = (pa + pb) / 2, near(std::clamp(anchor.x(), rect.left(), rect.right()),
                                               std::clamp(anchor.y(), rect.top(), rect.bottom()));
    p.setPen(QPen(c, 1));
    p.drawLine(near, anchor);
    p.setBrush(c);
    p.setPen(Qt::NoPen);
    p.drawEllipse(anchor, 2.4, 2.4);
    QColor back = pal().panel;
    back.setAlphaF(0.94f);
    p.setBrush(back);
    p.setPen(QPen(chosen ? pal().act : pal().rule, chosen ? 2 : 1));
    p.drawRoundedRect(rect, 7, 7);
    p.setPen(c);
    p.setFont(strong);
    p.drawText(rect.adjusted(8, 2, -4, -18), Qt::AlignVCenter | Qt::AlignLeft, heads[i]);
    p.setPen(pal().quiet);
    p.setFont(plain);
    p.drawText(rect.adjusted(8, 18, -4, -2), Qt::AlignVCenter | Qt::AlignLeft, seconds[i]);
    labels_.push_back({s.id, r});
  }
}

}  // namespace palinform::app
