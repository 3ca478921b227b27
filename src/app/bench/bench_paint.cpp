// The bench's full screen, painted: readable from two metres.
#include <algorithm>
#include <cmath>
#include <QPainter>
#include <QTime>

#include "base/text.hpp"
#include "bench/bench_window.hpp"
#include "bench/clocks.hpp"
#include "bench/device_hub.hpp"
#include "bench/step_picture.hpp"
#include "shell/desk.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

namespace {

constexpr int side_px = 420, head_px = 92, foot_px = 118;

/// "44 mm", in the shop's units.
QString figure_text(const BenchRun& run, const BenchScreen& s, const Units& u) {
  if (s.figure <= 0) return {};
  // Minutes run down while they are stirred, or stand under vacuum.
  if (const auto left = act_left_s(run, now_s())) return *left > 0 ? span(*left) : QStringLiteral("now");
  if (s.figure_unit == "mm") return u.length_unit_text(s.figure, s.figure < 10 ? 1 : 0);
  return qs(significant(s.figure, s.figure < 10 ? 2 : 3)) + (s.figure_unit == "°" ? QString() : QStringLiteral(" ")) +
         qs(s.figure_unit);
}

}  // namespace

QRectF BenchWindow::text_area() const { return QRectF(36, 112, width() - side_px - 76, height() - 112 - foot_px); }

void BenchWindow::place_children() {
  const QRectF area = text_area();
  const double top = std::max(picture_top_, area.top() + 60);
  const QRect at(24, static_cast<int>(top), width() - side_px - 40,
                 std::max(120, static_cast<int>(height() - foot_px - 8 - top)));
  if (at == view_->geometry()) return;
  view_->setGeometry(at);
  fill_view();
}

double BenchWindow::paint_weighing(QPainter& p, const BenchRun& run, const BenchScreen& s, double y, double wide) {
  const Units& u = desk_.units();
  const double area_top = y;
  const bool cup = wide > 700;
  const double column = cup ? wide - 240 : wide;
  const int digits = desk_.job().mix.scale_division_g < 0.05 ? 2 : desk_.job().mix.scale_division_g < 0.5 ? 1 : 0;
  const QString figure = qs(fixed(u.mass(*s.target_g), u.ounce ? digits + 2 : digits));
  QFont huge = type_face(150, 700);
  p.setPen(pal().ink);
  // As large as the column takes.
  for (int px = 150; px > 70 && text_width(huge, figure) > column - 100; px -= 8) huge = type_face(px, 700);
  p.setFont(huge);
  p.drawText(QRectF(30, y, column, 170), Qt::AlignVCenter, figure);
  const int w = text_width(huge, figure);
  p.setFont(type_face(56));
  p.drawText(QRectF(44 + w, y + 88, 120, 74), Qt::AlignVCenter, u.mass_name());
  y += 184;
  // The bar runs from what the cup weighed to a little past the target; the allowed band is boxed.
  const double from = s.from_g.value_or(0), band = s.band_g.value_or(1), span_g = std::max(*s.target_g - from, 1e-6),
               to = *s.target_g + std::max(0.06 * span_g, 2.2 * band);
  const QRectF bar(36, y, column - 20, 36);
  const auto x = [&](double g) { return bar.left() + bar.width() * std::clamp((g - from) / (to - from), 0.0, 1.0); };
  p.setPen(Qt::NoPen);
  p.setBrush(pal().slip);
  p.drawRoundedRect(bar, 5, 5);
  const bool past = scale_ && *scale_ > *s.target_g + band;
  if (scale_) {
    p.setBrush(past ? pal().stop : pal().act);
    p.drawRoundedRect(QRectF(bar.left(), bar.top(), std::max(2.0, x(*scale_) - bar.left()), bar.height()), 5, 5);
  }
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(pal().ink, 1.5, Qt::DashLine));
  p.drawRect(QRectF(x(*s.target_g - band), bar.top() - 7, std::max(6.0, x(*s.target_g + band) - x(*s.target_g - band)),
                    bar.height() + 14));
  p.setPen(QPen(pal().ink, 3));
  p.drawLine(QPointF(x(*s.target_g), bar.top() - 10), QPointF(x(*s.target_g), bar.bottom() + 10));
  y += 44;
  p.setFont(type_face(20));
  p.setPen(pal().quiet);
  p.drawText(QRectF(36, y, bar.width(), 28), Qt::AlignRight | Qt::AlignVCenter,
             QStringLiteral("±%1 is near enough").arg(u.mass_text(band, 1)));
  y += 32;
  p.setFont(type_face(26));
  p.setPen(past || !ask_.isEmpty() ? pal().stop : pal().ink);
  const QString words = ask_.isEmpty() ? scale_words(run, s) : ask_;
  const QRectF box(36, y, column - 10, 110);
  const double h = p.boundingRect(box, Qt::TextWordWrap, words).height();
  p.drawText(box, Qt::TextWordWrap, words);
  y += h + 10;
  // Fields for a typed reading and the lot, under the words.
  if (typed_->y() != static_cast<int>(y)) {
    typed_->move(36, static_cast<int>(y));
    lot_->move(268, static_cast<int>(y));
  }
  y += 52;
  if (cup)
    draw_cup(p, QRectF(36 + column, area_top + 6, 240, std::min(380.0, height() - foot_px - area_top - 30)), run,
             scale_, u);
  return y;
}

double BenchWindow::paint_pot_life(QPainter& p, const BenchRun& run, const BenchScreen* s, QRectF at) {
  const auto left = pot_life_left_min(run, now_s());
  double ry = at.top();
  const double rx = at.left(), rw = at.width();
  if (!s || s->pot_life_min <= 0) return ry;
  p.setFont(type_face(19));
  p.setPen(pal().quiet);
  p.drawText(QRectF(rx, ry, rw, 28), Qt::AlignVCenter,
             left ? QStringLiteral("Pot life left") : QStringLiteral("Pot life starts when B touches A"));
  ry += 30;
  p.setFont(type_face(84, 700));
  p.setPen(left && *left < 2 ? pal().stop : pal().ink);
  p.drawText(QRectF(rx, ry, rw, 100), Qt::AlignVCenter,
             span(static_cast<WallSecond>((left ? *left : s->pot_life_min) * 60)));
  ry += 108;
  const double whole = s->pot_life_min;
  double x = rx;
  const QColor colours[3] = {pal().note, pal().caution, pal().act};
  const Qt::BrushStyle patterns[3] = {Qt::NoBrush, Qt::Dense6Pattern, Qt::BDiagPattern};
  QString words;
  int k = 0;
  for (const auto& [name, min] : s->pot_life_pieces) {
    if (min > 0 && x < rx + rw) {
      const double w = std::min(rw * min / whole, rx + rw - x);
      fill_pattern(p, QRectF(x, ry, w, 36), colours[k % 3], patterns[k % 3]);
      x += w;
      words += QStringLiteral("%1 %2 · ").arg(qs(name), qs(shortest(min, 1)));
    }
    ++k;
  }
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(pal().quiet, 1.2, Qt::DashLine));
  p.drawRect(QRectF(rx, ry, rw, 36));
  if (left) {
    const double used_x = rx + rw * std::clamp(1 - *left / whole, 0.0, 1.0);
    p.setPen(QPen(pal().ink, 4));
    p.drawLine(QPointF(used_x, ry - 6), QPointF(used_x, ry + 42));
  }
  ry += 42;
  p.setFont(type_face(17));
  p.setPen(pal().ink);
  p.drawText(QRectF(rx, ry, rw, 26), Qt::AlignVCenter, words + QStringLiteral("of %1 min").arg(qs(shortest(whole, 1))));
  return ry + 38;
}

void BenchWindow::paint_side(QPainter& p, const BenchRun& run, const BenchScreen* s) {
  const Units& u = desk_.units();
  const double side = width() - side_px, rx = side + 28, rw = side_px - 56, floor = height() - foot_px - 8;
  double ry = paint_pot_life(p, run, s, QRectF(rx, 108, rw, 300));
  // The gauge, where the step has one.
  if (s && (s->act == Act::into_pot || s->act == Act::into_chamber || s->act == Act::degas))
    if (const auto gauge = devices_.gauge()) {
      p.setFont(type_face(19));
      p.setPen(pal().quiet);
      p.drawText(QRectF(rx, ry, rw, 26), Qt::AlignVCenter,
                 gauge->absolute ? QStringLiteral("Gauge, absolute") : QStringLiteral("Gauge"));
      p.setFont(type_face(44, 700));
      const bool reached = s->figure_unit != "kPa" ||
                           (gauge->absolute ? gauge->kpa <= s->figure * 1.1 + 0.5 : gauge->kpa >= 0.97 * s->figure);
      const bool over = !gauge->absolute && s->figure_unit == "kPa" && gauge->kpa > 1.05 * s->figure;
      p.setPen(over ? pal().stop : reached ? pal().act : pal().ink);
      p.drawText(
          QRectF(rx, ry + 24, rw, 52), Qt::AlignVCenter,
          QStringLiteral("%1 kPa%2")
              .arg(qs(fixed(gauge->kpa, gauge->absolute ? 1 : 0)), over ? QStringLiteral(" · too high") : QString()));
      ry += 84;
    }
  int clocks = 0;
  std::vector<BenchClock> soonest = run.clocks;
  std::stable_sort(soonest.begin(), soonest.end(),
                   [](const BenchClock& a, const BenchClock& b) { return a.ends < b.ends; });
  for (const BenchClock& c : soonest) {
    if (c.rung && now_s() - c.ends > 3600) continue;
    if (ry > floor - 190 || ++clocks > 4) break;
    const WallSecond to_go = c.ends - now_s();
    p.setFont(type_face(17));
    p.setPen(to_go <= 0 ? pal().stop : pal().quiet);
    const QRectF box(rx, ry, rw, 44);
    const double h = std::min(44.0, p.boundingRect(box, Qt::TextWordWrap, qs(c.label)).height());
    p.drawText(box, Qt::TextWordWrap, qs(c.label));
    p.setFont(type_face(34, 700));
    p.setPen(to_go <= 0 ? pal().stop : pal().ink);
    p.drawText(QRectF(rx, ry + h, rw, 42), Qt::AlignVCenter, to_go <= 0 ? QStringLiteral("time is up") : span(to_go));
    ry += h + 48;
  }
  p.setFont(type_face(19, 600));
  p.setPen(pal().ink);
  ry = std::max(ry + 4, 300.0);
  if (ry > floor - 40) return;
  p.drawText(QRectF(rx, ry, rw, 28), Qt::AlignVCenter, QStringLiteral("Then"));
  ry += 30;
  p.setFont(type_face(18));
  p.setPen(pal().quiet);
  const int n = static_cast<int>(run.screens.size());
  QString last;
  for (int i = run.at + 1; i < n; ++i) {
    const BenchScreen& next = run.screens[static_cast<size_t>(i)];
    const QString words = next.target_g
                              ? QStringLiteral("%1 %2").arg(qs(next.instruction).section(QLatin1Char(' '), 0, 3),
                                                            u.mass_text(*next.target_g, 1))
                              : qs(next.title);
    if (words == last) continue;
    last = words;
    const QRectF box(rx, ry, rw, 200);
    const double h = p.boundingRect(box, Qt::TextWordWrap, words).height();
    if (ry + h > floor) return;
    p.drawText(box, Qt::TextWordWrap, words);
    ry += h + 6;
  }
}

void BenchWindow::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.fillRect(rect(), flash_ % 4 >= 2 ? pal().caution.lighter(150) : pal().ground);
  const int side = width() - side_px;
  p.fillRect(QRectF(side, head_px, side_px, height() - head_px - foot_px), pal().slip);
  p.setPen(pal().rule);
  p.drawLine(0, head_px, width(), head_px);
  p.drawLine(0, height() - foot_px, width(), height() - foot_px);
  const auto& run = desk_.run();
  if (!run) return;
  const Units& u = desk_.units();
  const int n = static_cast<int>(run->screens.size());
  const BenchScreen* s = screen();
  p.setPen(pal().ink);
  p.setFont(type_face(28, 700));
  const QString title = s ? qs(s->title) : QStringLiteral("Done");
  p.drawText(QRectF(36, 20, width() - 560, 52), Qt::AlignVCenter, title);
  p.setFont(type_face(18));
  p.setPen(pal().quiet);
  const auto room = devices_.room_c();
  p.drawText(
      QRectF(width() - 640, 12, 610, 36), Qt::AlignVCenter | Qt::AlignRight,
      QStringLiteral("%1 of %2 · %3 · %4 %5%6 · %7")
          .arg(std::min(run->at + 1, n))
          .arg(n)
          .arg(qs(run->title.empty() ? desk_.job().name : run->title))
          .arg(qs(fixed(u.temperature(room.value_or(desk_.job().size.room_c)), room ? 1 : 0)), u.temperature_name(),
               room ? QString() : QStringLiteral(" assumed"), QTime::currentTime().toString(QStringLiteral("HH:mm"))));
  const QRectF area = text_area();
  double y = area.top();
  const bool pictured = view_->isVisible();
  const QString figure = s ? figure_text(*run, *s, u) : QString();
  const double wide = area.width() - (!figure.isEmpty() && !(s && s->target_g) ? 230 : 0);
  p.setPen(pal().ink);
  const int px = !s ? 34 : s->target_g ? 32 : headline().size() > 150 && pictured ? 22 : pictured ? 25 : 30;
  p.setFont(type_face(px, 600));
  const QRectF instruction(area.left(), y, wide, 400);
  const QRectF used = p.boundingRect(instruction, Qt::TextWordWrap, headline());
  p.drawText(instruction, Qt::TextWordWrap, headline());
  if (s && !s->target_g && !figure.isEmpty()) {
    p.setFont(type_face(72, 700));
    p.drawText(QRectF(area.right() - 224, y - 10, 224, 90), Qt::AlignRight | Qt::AlignVCenter, figure);
  }
  y += std::max(used.height(), !figure.isEmpty() && s && !s->target_g ? 76.0 : 0.0) + 8;
  if (s && !s->look_for.empty() && !s->target_g) {
    p.setFont(type_face(19));
    p.setPen(pal().act.darker(pal().dark ? 80 : 110));
    const QRectF box(area.left(), y, area.width(), 80);
    const QString words = QStringLiteral("Look for: ") + qs(s->look_for);
    const double h = p.boundingRect(box, Qt::TextWordWrap, words).height();
    p.drawText(box, Qt::TextWordWrap, words);
    y += h + 6;
  }
  if (s && s->target_g) y = paint_weighing(p, *run, *s, y + 4, area.width());
  if (s && !s->caution.empty()) {
    p.setFont(type_face(18));
    const QRectF box(52, y + 4, s->target_g && area.width() > 700 ? area.width() - 290 : area.width() - 20, 160);
    const double h = p.boundingRect(box, Qt::TextWordWrap, qs(s->caution)).height();
    p.fillRect(QRectF(36, box.top(), 5, h), pal().stop);
    p.setPen(pal().stop.darker(pal().dark ? 80 : 115));
    p.drawText(box, Qt::TextWordWrap, qs(s->caution));
    y += h + 12;
  }
  if (std::abs(picture_top_ - y) > 1) {
    picture_top_ = y;
    place_children();
  }
  paint_side(p, *run, s);
  if (flash_ > 0) {
    p.setFont(type_face(30, 700));
    p.setPen(pal().stop);
    const QRectF strip(0, height() - foot_px - 52, side, 48);
    p.fillRect(strip, pal().caution.lighter(150));
    p.drawText(strip.adjusted(36, 0, -20, 0), Qt::AlignVCenter, flash_words_);
  }
}

}  // namespace palinform::app
