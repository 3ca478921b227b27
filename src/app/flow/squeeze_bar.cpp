#include "flow/squeeze_bar.hpp"

#include <cmath>
#include <QHBoxLayout>
#include <QMouseEvent>
#include <QPainter>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "flow/sweep.hpp"
#include "shell/desk.hpp"
#include "stages/closing.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

ClosingView::ClosingView(QWidget* parent) : QWidget(parent) {
  setObjectName(QStringLiteral("closing"));
  setAccessibleName(QStringLiteral("The closing seen from above; a click heaps the resin there"));
  setCursor(Qt::CrossCursor);
}

void ClosingView::show_closing(std::shared_ptr<const ClosingResult> c, std::optional<double> gap, const QString& unit,
                               double per_mm) {
  closing_ = std::move(c);
  gap_mm_ = gap;
  unit_ = unit;
  per_mm_ = per_mm;
  update();
}

QRectF ClosingView::field() const {
  if (!closing_) return {};
  const ClosingGrid& g = closing_->grid;
  const QRectF room(10, 24, width() - 20.0, height() - 46.0);
  const double k = std::min(room.width() / g.nu, room.height() / g.nv);
  const QSizeF size(k * g.nu, k * g.nv);
  return {room.left() + 0.5 * (room.width() - size.width()), room.top() + 0.5 * (room.height() - size.height()),
          size.width(), size.height()};
}

QPointF ClosingView::place_of(double u, double v) const {
  if (!closing_) return {};
  const ClosingGrid& g = closing_->grid;
  const QRectF f = field();
  return {f.left() + f.width() * (u - g.u0_mm) / (g.nu * g.pitch_mm),
          f.bottom() - f.height() * (v - g.v0_mm) / (g.nv * g.pitch_mm)};
}

void ClosingView::mousePressEvent(QMouseEvent* e) {
  if (!closing_) return;
  const ClosingGrid& g = closing_->grid;
  const QRectF f = field();
  if (!f.contains(e->position())) return;
  emit heaped(g.u0_mm + (e->position().x() - f.left()) / f.width() * g.nu * g.pitch_mm,
              g.v0_mm + (f.bottom() - e->position().y()) / f.height() * g.nv * g.pitch_mm);
}

void ClosingView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(Qt::NoPen);
  p.setBrush(pal().panel);
  p.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 8, 8);
  p.setFont(type_face(13, 600));
  p.setPen(pal().ink);
  if (!closing_) {
    p.drawText(rect(), Qt::AlignCenter, QStringLiteral("Closing it…"));
    return;
  }
  const ClosingResult& r = *closing_;
  const ClosingGrid& g = r.grid;
  const QRectF f = field();
  // Bands of the gap at which resin came: light where it stood from the start, darker the later.
  const double open = std::max(r.closing.first_touch_mm, 1e-3);
  QImage img(g.nu, g.nv, QImage::Format_ARGB32);
  const QColor dry = pal().slip, land = pal().ground;
  for (int j = 0; j < g.nv; ++j)
    for (int i = 0; i < g.nu; ++i) {
      const size_t c = static_cast<size_t>(j) * static_cast<size_t>(g.nu) + static_cast<size_t>(i);
      const auto at = static_cast<double>(r.closing.reached_mm[c]);
      const bool here = std::isfinite(at) && (!gap_mm_ || at >= *gap_mm_ - 1e-9);
      QColor q = g.part[c] ? dry : land;
      if (here) {
        const double late = std::floor(6 * std::clamp(1 - at / open, 0.0, 0.999)) / 5;
        q = mixed(pal().ground, pal().act, g.part[c] ? 0.3 + 0.55 * late : 0.14);
      } else if (!gap_mm_ && g.part[c]) {
        q = (i + j) % 4 == 0 ? pal().stop : pal().panel;
      }
      img.setPixelColor(i, g.nv - 1 - j, q);
    }
  p.drawImage(f, img);
  // The part's outline, and the box.
  p.setPen(QPen(pal().ink, 1.2));
  const double cell = f.width() / g.nu;
  for (int j = 0; j < g.nv; ++j)
    for (int i = 0; i < g.nu; ++i) {
      const size_t c = static_cast<size_t>(j) * static_cast<size_t>(g.nu) + static_cast<size_t>(i);
      const double x = f.left() + i * cell, y = f.bottom() - (j + 1) * cell;
      if (i + 1 < g.nu && g.part[c] != g.part[c + 1]) p.drawLine(QPointF(x + cell, y), QPointF(x + cell, y + cell));
      if (j + 1 < g.nv && g.part[c] != g.part[c + static_cast<size_t>(g.nu)])
        p.drawLine(QPointF(x, y), QPointF(x + cell, y));
    }
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(pal().ink, 1.6));
  p.drawRect(f);
  // The end that comes down first.
  if (r.how.hinge_deg) {
    p.setPen(QPen(pal().ink, 6, Qt::SolidLine, Qt::FlatCap));
    switch (static_cast<int>(std::lround(*r.how.hinge_deg / 90)) % 4) {
      case 0:
        p.drawLine(f.topRight(), f.bottomRight());
        break;
      case 1:
        p.drawLine(f.topLeft(), f.topRight());
        break;
      case 2:
        p.drawLine(f.topLeft(), f.bottomLeft());
        break;
      default:
        p.drawLine(f.bottomLeft(), f.bottomRight());
    }
  }
  const QPointF heap = place_of(r.how.heap_mm.x, r.how.heap_mm.y);
  p.setPen(QPen(pal().ink, 2));
  p.drawLine(heap - QPointF(7, 0), heap + QPointF(7, 0));
  p.drawLine(heap - QPointF(0, 7), heap + QPointF(0, 7));
  p.setFont(type_face(12, 600));
  int told = 0;
  for (const ClosingPocket& k : r.closing.pockets) {
    if (k.volume_mm3 < 0.2 || ++told > 6) break;
    const Vec3 at = g.frame.direction(k.apex_mm);
    const QPointF q = place_of(at.x, at.y);
    const double d = std::clamp(0.5 * k.wide_mm * cell / g.pitch_mm, 4.0, 60.0);
    if (told <= 3) {
      const QString words = QStringLiteral("air %1 mm³").arg(qs(significant(k.volume_mm3, 2)));
      const double wide = text_width(type_face(12, 600), words) + 12;
      const QRectF tag(std::clamp(q.x() - 0.5 * wide, 2.0, width() - wide - 2), q.y() - 9, wide, 18);
      p.setBrush(pal().panel);
      p.setPen(QPen(pal().stop, 1.4));
      p.drawRoundedRect(tag, 4, 4);
      p.drawText(tag, Qt::AlignCenter, words);
    } else {
      p.setBrush(Qt::NoBrush);
      p.setPen(QPen(pal().stop, 2));
      p.drawEllipse(q, d, d);
    }
  }
  p.setFont(type_face(12, 600));
  p.setPen(pal().ink);
  p.drawText(
      QRectF(10, 4, width() - 20.0, 18), Qt::AlignVCenter,
      gap_mm_ ? QStringLiteral("From above, %1 %2 open").arg(qs(fixed(*gap_mm_ * per_mm_, per_mm_ < 1 ? 2 : 1)), unit_)
              : QStringLiteral("From above, shut"));
  p.setFont(type_face(12));
  p.setPen(pal().quiet);
  p.drawText(QRectF(10, height() - 21.0, width() - 20.0, 18), Qt::AlignVCenter,
             r.how.hinge_deg ? QStringLiteral("+ heap · thick side comes down first · darker: reached later")
                             : QStringLiteral("+ heap · comes down level · darker: reached later"));
}

SqueezeBar::SqueezeBar(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  auto* col = new QVBoxLayout(this);
  col->setContentsMargins(0, 0, 0, 0);
  col->setSpacing(8);
  auto* row = new QHBoxLayout;
  row->setSpacing(12);
  over_ = new FigureField(QStringLiteral("Poured over"), QStringLiteral("squeeze-over"), 84);
  over_->set_range(0, 200);
  over_->allow_empty({});
  heap_ = new FigureField(QStringLiteral("Heap stands"), QStringLiteral("squeeze-heap"), 84);
  heap_->set_range(0.1, 100);
  heap_->allow_empty({});
  ends_ = new Chips;
  ends_->add(QStringLiteral("As planned"), QStringLiteral("down-planned"));
  ends_->add(QStringLiteral("Level"), QStringLiteral("down-level"));
  ends_->add(QStringLiteral("Right first"), QStringLiteral("down-right"));
  ends_->add(QStringLiteral("Back"), QStringLiteral("down-back"));
  ends_->add(QStringLiteral("Left"), QStringLiteral("down-left"));
  ends_->add(QStringLiteral("Front"), QStringLiteral("down-front"));
  brushed_ = chip(QStringLiteral("Details brushed"), QStringLiteral("squeeze-brushed"), true);
  below_ = chip(QStringLiteral("Side b below"), QStringLiteral("squeeze-below"));
  planned_ = chip(QStringLiteral("Heap as planned"), QStringLiteral("squeeze-planned"));
  row->addWidget(over_);
  row->addWidget(heap_);
  row->addStretch(1);
  row->addWidget(brushed_, 0, Qt::AlignBottom);
  row->addWidget(below_, 0, Qt::AlignBottom);
  row->addWidget(planned_, 0, Qt::AlignBottom);
  col->addLayout(row);
  auto* down = new QHBoxLayout;
  down->setSpacing(10);
  auto* words = new QLabel(QStringLiteral("Set down"));
  words->setProperty("role", "quiet");
  down->addWidget(words);
  down->addWidget(ends_);
  down->addStretch(1);
  col->addLayout(down);
  const auto edit = [this](auto change, const char* what) {
    Job next = desk_.job();
    change(next.flow);
    desk_.edit(next, QString::fromLatin1(what));
  };
  connect(over_, &FigureField::entered, this,
          [edit](double v) { edit([v](FlowSetup& f) { f.squeeze.over_pct = v; }, "resin poured over"); });
  connect(over_, &FigureField::emptied, this,
          [edit] { edit([](FlowSetup& f) { f.squeeze.over_pct.reset(); }, "resin poured over"); });
  connect(heap_, &FigureField::entered, this, [this, edit](double v) {
    edit([mm = desk_.units().mm(v)](FlowSetup& f) { f.squeeze.heap_mm = mm; }, "height of the heap");
  });
  connect(heap_, &FigureField::emptied, this,
          [edit] { edit([](FlowSetup& f) { f.squeeze.heap_mm.reset(); }, "height of the heap"); });
  connect(ends_, &Chips::chosen, this, [edit](int i) {
    edit([i](FlowSetup& f) { f.squeeze.down = static_cast<SetDown>(i); }, "end that comes down first");
  });
  connect(brushed_, &QPushButton::clicked, this,
          [edit](bool on) { edit([on](FlowSetup& f) { f.squeeze.brushed = on; }, "details brushed"); });
  connect(below_, &QPushButton::clicked, this,
          [edit] { edit([](FlowSetup& f) { f.turned_over = !f.turned_over; }, "mould turned over"); });
  connect(planned_, &QPushButton::clicked, this,
          [edit] { edit([](FlowSetup& f) { f.squeeze.heap.reset(); }, "heap as planned"); });
}

void SqueezeBar::refresh(const ClosingResult* c) {
  const SqueezeSetup& s = desk_.job().flow.squeeze;
  const Units& u = desk_.units();
  over_->show_value(s.over_pct, 0, QStringLiteral("%"));
  heap_->show_value(s.heap_mm ? std::optional(u.length(*s.heap_mm)) : std::nullopt, u.inch ? 2 : 1, u.length_name());
  if (c) {
    over_->edit()->setPlaceholderText(QStringLiteral("%1 %").arg(qs(fixed(c->over_pct, 0))));
    heap_->edit()->setPlaceholderText(u.length_unit_text(c->how.heap_high_mm, 1));
  }
  ends_->set_current(static_cast<int>(s.down));
  brushed_->setChecked(s.brushed);
  below_->setText(desk_.job().flow.turned_over ? QStringLiteral("Side a below") : QStringLiteral("Side b below"));
  planned_->setEnabled(s.heap.has_value());
}

}  // namespace palinform::app
