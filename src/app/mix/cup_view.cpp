#include "mix/cup_view.hpp"

#include <cmath>
#include <QPainter>
#include <QPainterPath>

#include "base/text.hpp"
#include "shell/desk.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

CupView::CupView(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  setMinimumHeight(380);
  setAccessibleName(QStringLiteral("Cup and scale readings"));
}

void CupView::show_pour(int i) {
  pour_ = i;
  readings_.clear();
  const auto r = desk_.plan().fresh(results::mix);
  if (r && i < static_cast<int>(r->pours.size())) {
    const double d = desk_.job().mix.scale_division_g;
    const int digits = d < 0.005 ? 3 : d < 0.05 ? 2 : d < 0.5 ? 1 : 0;
    const PourMix& m = r->pours[static_cast<size_t>(i)];
    for (const double g : m.weighing.readings_g)
      readings_ << (m.no_figures ? QStringLiteral("no figure") : desk_.units().mass_text(g, digits));
    if (m.drops && !m.no_figures) readings_.back() = qs(counted(*m.drops, "drop", "drops"));
    setAccessibleDescription(
        QStringLiteral("Scale reads %1, then %2, then %3").arg(readings_[0], readings_[1], readings_[2]));
  }
  update();
}

void CupView::paintEvent(QPaintEvent*) {
  const auto r = desk_.plan().fresh(results::mix);
  if (!r || pour_ >= static_cast<int>(r->pours.size())) return;
  const PourMix& m = r->pours[static_cast<size_t>(pour_)];
  const Units& u = desk_.units();
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);

  // The cup to scale: a tapered tumbler of the shop's size (height 1.25 × mouth), with the levels of A, of A + B, and
  // of the foam. Levels follow the frustum's volume.
  const double cup_ml = std::max(desk_.job().mix.cup_ml, 1.0);
  const double a_ml = m.weighing.a_g / m.density_a_g_cm3, ab_ml = a_ml + m.weighing.b_g / m.density_b_g_cm3,
               foam_ml = ab_ml * m.foam_ratio;
  constexpr double taper = 0.78, tall = 1.25;  // bottom over mouth, height over mouth
  const auto level = [&](double ml) {          // share of the height that `ml` fills
    const double whole = (1 + taper + taper * taper), wanted = std::min(1.0, ml / cup_ml) * whole;
    double lo = 0, hi = 1;
    for (int i = 0; i < 40; ++i) {
      const double h = 0.5 * (lo + hi), w = taper + (1 - taper) * h;
      (h * (taper * taper + taper * w + w * w) < wanted ? lo : hi) = h;
    }
    return lo;
  };
  const qreal cup_h = std::min<qreal>(height() - 150, 250), mouth = cup_h / tall, cx = 30 + mouth / 2, top = 26,
              bottom = top + cup_h;
  const auto half = [&](double h) { return 0.5 * mouth * (taper + (1 - taper) * h); };
  const auto y = [&](double h) { return bottom - cup_h * h; };
  const auto band = [&](double from, double to) {
    QPainterPath path;
    path.moveTo(cx - half(from), y(from));
    path.lineTo(cx + half(from), y(from));
    path.lineTo(cx + half(to), y(to));
    path.lineTo(cx - half(to), y(to));
    path.closeSubpath();
    return path;
  };
  const double la = m.no_figures ? 0 : level(a_ml), lab = m.no_figures ? 0 : level(ab_ml),
               lf = m.no_figures ? 0 : level(foam_ml);
  if (m.lumps) {
    // No cup: a ball of each part, to scale, side by side on the bench.
    const double widest = std::max(m.lump_mm[0], m.lump_mm[1]), scale = 0.5 * cup_h / std::max(1.0, widest);
    double x = 30;
    for (const bool second : {false, true}) {
      const double d = m.lump_mm[second] * scale;
      p.setPen(QPen(pal().ink, 2));
      p.setBrush(second ? pal().rubber_b : pal().rubber_a);
      p.drawEllipse(QRectF(x, bottom - d, d, d));
      p.setFont(type_face(14, 600));
      p.setPen(pal().ink);
      p.drawText(
          QRectF(x, bottom - 0.5 * d - 12, d, 24), Qt::AlignCenter,
          QString::fromLatin1(m.part(second)) + QStringLiteral("  Ø") + u.length_unit_text(m.lump_mm[second], 0));
      x += d + 14;
    }
  } else {
    p.setPen(Qt::NoPen);
    p.setBrush(pal().note.lighter(pal().dark ? 90 : 140));
    p.drawPath(band(0, la));
    p.setBrush(pal().caution.lighter(pal().dark ? 95 : 130));
    p.drawPath(band(la, lab));
    QColor dots = pal().ground;
    p.setBrush(QBrush(dots, Qt::Dense6Pattern));
    p.drawPath(band(la, lab));
    if (m.degas_min > 0) {
      QColor foam = pal().quiet;
      foam.setAlphaF(0.22f);
      p.setBrush(QBrush(foam, Qt::Dense5Pattern));
      p.drawPath(band(lab, lf));
    }
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(pal().ink, 2.4, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    QPolygonF outline;
    outline << QPointF(cx - half(1), top) << QPointF(cx - half(0), bottom) << QPointF(cx + half(0), bottom)
            << QPointF(cx + half(1), top);
    p.drawPolyline(outline);
    // Lines to the right of the cup, kept a line apart.
    struct Mark {
      qreal y;
      QString words;
      QColor colour;
    };
    std::vector<Mark> marks;
    if (!m.no_figures && m.degas_min > 0)
      marks.push_back({y(lf), QStringLiteral("foam to %1 ml").arg(qs(grouped(foam_ml))), pal().quiet});
    if (!m.no_figures)
      marks.push_back({y(lab), QStringLiteral("A + B, %1 ml").arg(qs(grouped(ab_ml, ab_ml < 100 ? 1 : 0))),
                       pal().caution.darker(pal().dark ? 90 : 130)});
    if (!m.no_figures)
      marks.push_back({y(la), QStringLiteral("A, %1 ml").arg(qs(grouped(a_ml, a_ml < 100 ? 1 : 0))), pal().note});
    p.setFont(type_face(13));
    qreal last = -1e9;
    for (const Mark& k : marks) {
      const qreal ty = std::max(k.y, last + 18);
      last = ty;
      p.setPen(QPen(k.colour, 1.6));
      const double h = (bottom - k.y) / cup_h;
      p.drawLine(QPointF(cx - half(h), k.y), QPointF(cx + half(h), k.y));
      p.drawLine(QPointF(cx + half(h), k.y), QPointF(cx + mouth / 2 + 14, ty));
      p.drawText(QRectF(cx + mouth / 2 + 18, ty - 9, 130, 18), Qt::AlignVCenter, k.words);
    }
    p.setPen(pal().quiet);
    p.drawText(QRectF(0, bottom + 6, 2 * cx, 18), Qt::AlignCenter,
               QStringLiteral("cup of %1 ml, to scale").arg(qs(grouped(cup_ml))));
  }

  // The scale's readings in turn.
  const qreal left = cx + mouth / 2 + 158, wide = width() - left - 10;
  const QString heads[3] = {
      m.lumps ? QStringLiteral("Clean paper: scale reads") : QStringLiteral("Empty cup: scale reads"),
      QStringLiteral("Pour %1 until it reads").arg(QLatin1String(m.part(false))),
      m.drops ? QStringLiteral("Count into it of B")
              : QStringLiteral("Pour %1 until it reads").arg(QLatin1String(m.part(true)))};
  // Under many pours' chips the view is low: smaller figures leave room for what is told below them.
  const bool low = height() < 440;
  const int sizes[3] = {low ? 28 : 34, low ? 48 : 62, low ? 48 : 62};
  qreal at = 14;
  for (int i = 0; i < 3 && i < readings_.size(); ++i) {
    p.setPen(pal().quiet);
    p.setFont(type_face(14));
    p.drawText(QRectF(left, at, wide, 20), Qt::AlignVCenter, heads[i]);
    const int space = static_cast<int>(readings_[i].lastIndexOf(QLatin1Char(' ')));
    const QString digits = readings_[i].left(space), unit = readings_[i].mid(space + 1);
    p.setPen(i == 0 ? pal().ink : (i == 1) != m.b_first ? pal().note : pal().caution.darker(pal().dark ? 90 : 135));
    const QFont big = type_face(sizes[i], 700);
    p.setFont(big);
    const qreal h = sizes[i] * 1.16;
    p.drawText(QRectF(left - 2, at + 20, wide, h), Qt::AlignVCenter | Qt::AlignLeft, digits);
    const int w = text_width(big, digits);
    p.setFont(type_face(24));
    p.setPen(pal().ink);
    p.drawText(QRectF(left + w + 8, at + 20 + h * 0.42, 60, 32), Qt::AlignVCenter, unit);
    if (i > 0 && !m.no_figures) {
      p.setFont(type_face(13));
      p.setPen(pal().quiet);
      p.drawText(QRectF(left + w + 62, at + 20 + h * 0.42, std::max<qreal>(40, wide - w - 62), 32), Qt::AlignVCenter,
                 QStringLiteral("%1 %2").arg(QLatin1String(m.part(i == 2)), u.mass_text(m.part_g(i == 2), 1)));
    }
    at += 26 + h;
  }
  p.setFont(type_face(13));
  p.setPen(pal().quiet);
  QString small = QStringLiteral("ratio off by %1 % ±%2 %, the material allows ±%3 %")
                      .arg(qs(fixed(m.weighing.ratio_error_pct, 2)), qs(fixed(2 * m.weighing.ratio_u_pct, 2)),
                           qs(fixed(m.ratio_tolerance_pct, 1)));
  if (!m.tints.empty()) {
    QString first;
    double reads = m.weighing.readings_g[0];
    for (const TintDose& d : m.tints) {
      const double g = d.weighed_g();
      reads += g;
      first += QStringLiteral("%1 %2 (reads %3), ")
                   .arg(d.master_batch ? QStringLiteral("master batch of ") + qs(d.name) : qs(d.name),
                        u.mass_text(g, 2), u.mass_text(reads, 2));
    }
    small = QStringLiteral("Colour first: ") + first +
            QStringLiteral("then %1, stir, then %2 · ").arg(QLatin1String(m.part(false)), QLatin1String(m.part(true))) +
            small;
  }
  if (!m.adds.empty()) {
    QString onto;
    double reads = m.weighing.readings_g[1];
    for (const AdditionDose& a : m.adds) {
      reads += a.g;
      onto += QStringLiteral("%1 %2 (reads %3), ").arg(qs(a.name), u.mass_text(a.g, 1), u.mass_text(reads, 1));
    }
    small = QStringLiteral("Onto %1: %2stirred in without lumps, then %3 · ")
                .arg(QLatin1String(m.part(false)), onto, QLatin1String(m.part(true))) +
            small;
  }
  if (!m.no_figures && !m.lumps && m.loss_g_per_cup > 0)
    small += QStringLiteral(" · %1 stays in the cup (%2)")
                 .arg(u.mass_text(m.loss_g_per_cup, 1),
                      m.film_cups > 0 ? QStringLiteral("as %1 emptied cups showed").arg(m.film_cups)
                                      : QStringLiteral("rule of thumb"));
  // A small part is measured as well in a syringe of the shop's as on a scale.
  if (!m.no_figures && !m.drops && !m.lumps)
    for (const bool second : {false, true}) {
      const double ml = m.part_g(second) / (second != m.b_first ? m.density_b_g_cm3 : m.density_a_g_cm3);
      if (const auto syringe = syringe_for(desk_.equipment(), ml))
        small = QStringLiteral("%1: or %2 ml, %3 ml syringe · ")
                    .arg(QLatin1String(m.part(second)), qs(fixed(ml, ml < 10 ? 2 : 1)), qs(shortest(*syringe, 0))) +
                small;
    }
  if (m.batches.count > 1) small = QStringLiteral("%1 batches like this · ").arg(m.batches.count) + small;
  // Whole lines only, down to what the pot life's bar needs.
  const int line = p.fontMetrics().lineSpacing();
  const int lines = std::clamp(static_cast<int>((height() - (m.cups ? 150 : 102) - at) / line), 1, 4);
  p.drawText(QRectF(left, at + 2, wide, lines * line), Qt::AlignTop | Qt::TextWordWrap, small);

  if (m.cups)
    paint_cups(p, m);
  else
    paint_pot_life(p, m);
}

void CupView::paint_pot_life(QPainter& p, const PourMix& m) const {
  const Units& u = desk_.units();
  // The pot life as a bar: stir, vacuum, pour, what is left.
  const qreal bar_y = height() - 72, bar_h = 34, bar_l = 14, bar_w = width() - 28;
  const double life = std::max(m.batches.pot_life_min, 0.01), used = m.mix_min + m.degas_min + m.wait_min + m.pour_min,
               whole = std::max(life, used);
  struct Piece {
    double min;
    QString words;
    QColor colour;
    Qt::BrushStyle pattern;
  };
  const Piece pieces[] = {{m.mix_min, QStringLiteral("stir"), pal().note, Qt::SolidPattern},
                          {m.degas_min, QStringLiteral("vacuum"), pal().caution, Qt::Dense6Pattern},
                          {m.wait_min, QStringLiteral("rest"), pal().quiet, Qt::Dense6Pattern},
                          {m.pour_min, QStringLiteral("pour"), pal().act, Qt::BDiagPattern}};
  p.setPen(pal().ink);
  p.setFont(type_face(14, 600));
  p.drawText(QRectF(bar_l, bar_y - 26, bar_w, 20), Qt::AlignVCenter,
             QStringLiteral("Pot life %1 min at %2 %3")
                 .arg(qs(fixed(m.batches.pot_life_min, 1)), qs(fixed(u.temperature(desk_.job().size.room_c), 0)),
                      u.temperature_name()));
  p.setFont(type_face(13));
  p.setPen(pal().quiet);
  p.drawText(QRectF(bar_l, bar_y - 26, bar_w, 20), Qt::AlignVCenter | Qt::AlignRight,
             QStringLiteral("starts when B touches A · doubles per 10 °C colder (rule of thumb)"));
  qreal x = bar_l, label_end = 0;
  for (const Piece& k : pieces) {
    if (k.min <= 0) continue;
    const qreal w = bar_w * k.min / whole;
    fill_pattern(p, QRectF(x, bar_y, w, bar_h), k.colour, k.pattern == Qt::SolidPattern ? Qt::NoBrush : k.pattern);
    const QString words =
        k.words + QStringLiteral(" %1 min").arg(qs(fixed(k.min, k.min < 10 && k.min != std::round(k.min) ? 1 : 0)));
    p.setPen(pal().ink);
    const qreal lx = std::max(x, label_end);
    p.drawText(QRectF(lx, bar_y + bar_h + 4, 160, 18), Qt::AlignVCenter, words);
    label_end = lx + text_width(type_face(13), words) + 12;
    x += w;
  }
  p.setBrush(Qt::NoBrush);
  if (life >= used) {
    p.setPen(QPen(pal().quiet, 1.4, Qt::DashLine));
    p.drawRect(QRectF(x, bar_y, bar_l + bar_w - x, bar_h));
    p.setPen(pal().ink);
    p.drawText(QRectF(std::max(label_end, x + 2), bar_y + bar_h + 4, 200, 18), Qt::AlignVCenter,
               QStringLiteral("%1 min left").arg(qs(fixed(life - used, 1))));
  } else {
    const qreal end = bar_l + bar_w * life / whole;
    p.setPen(QPen(pal().stop, 4));
    p.drawLine(QPointF(end, bar_y - 4), QPointF(end, bar_y + bar_h + 4));
    p.drawText(QRectF(label_end, bar_y + bar_h + 4, 260, 18), Qt::AlignVCenter,
               QStringLiteral("gels %1 min too soon").arg(qs(fixed(used - life, 1))));
  }
}

/// Every cup a row of its own on one clock: weighed, stirred, under vacuum, poured; where it gels.
void CupView::paint_cups(QPainter& p, const PourMix& m) const {
  const CupsPlan& plan = *m.cups;
  const int n = static_cast<int>(plan.cups.size()), shown = std::min(n, 6);
  double whole = plan.done_min;
  for (const CupTime& c : plan.cups) whole = std::max(whole, c.gels_min);
  const qreal left = 70, wide = width() - left - 14, row_h = std::min<qreal>(17, 86.0 / shown),
              top = height() - shown * row_h - 24;
  const auto x = [&](double min) { return left + wide * min / std::max(whole, 0.01); };
  p.setFont(type_face(14, 600));
  p.setPen(plan.fits ? pal().ink : pal().stop);
  p.drawText(QRectF(14, top - 26, width() - 28, 20), Qt::AlignVCenter,
             QStringLiteral("%1 cups, %2: %3")
                 .arg(n)
                 .arg(qs(counted(desk_.job().mix.people, "person", "people")),
                      plan.fits ? QStringLiteral("poured out after %1 min").arg(qs(fixed(plan.done_min, 0)))
                                : QStringLiteral("they do not come in time")));
  p.setFont(type_face(13));
  p.setPen(pal().quiet);
  p.drawText(QRectF(14, top - 26, width() - 28, 20), Qt::AlignVCenter | Qt::AlignRight,
             QStringLiteral("each clock starts when B touches A · the bar: it has gelled"));
  for (int i = 0; i < shown; ++i) {
    const CupTime& c = plan.cups[static_cast<size_t>(i)];
    const qreal y = top + i * row_h, h = row_h - 4;
    p.setFont(type_face(12));
    p.setPen(pal().ink);
    p.drawText(QRectF(14, y, left - 18, h), Qt::AlignVCenter, QStringLiteral("cup %1").arg(c.cup + 1));
    const auto piece = [&](double from, double to, const QColor& colour, Qt::BrushStyle pattern) {
      if (to > from) fill_pattern(p, QRectF(x(from), y, x(to) - x(from), h), colour, pattern);
    };
    piece(c.weigh_from_min, c.starts_min, pal().rule, Qt::NoBrush);
    piece(c.starts_min, c.starts_min + m.mix_min, pal().note, Qt::NoBrush);
    piece(c.degas_from_min, c.degas_to_min, pal().caution, Qt::Dense6Pattern);
    piece(c.pour_from_min, c.pour_to_min, pal().act, Qt::BDiagPattern);
    p.setPen(QPen(pal().stop, 3));
    p.drawLine(QPointF(x(c.gels_min), y - 1), QPointF(x(c.gels_min), y + h + 1));
  }
  p.setFont(type_face(12));
  p.setPen(pal().quiet);
  const qreal foot = height() - 20;
  p.drawText(QRectF(left, foot, wide, 16), Qt::AlignVCenter,
             n > shown ? QStringLiteral("weigh · stir · vacuum · pour   (%1 more cups not drawn)").arg(n - shown)
                       : QStringLiteral("weigh · stir · vacuum · pour"));
  p.drawText(QRectF(left, foot, wide, 16), Qt::AlignVCenter | Qt::AlignRight,
             QStringLiteral("%1 min").arg(qs(fixed(whole, 0))));
}

}  // namespace palinform::app
