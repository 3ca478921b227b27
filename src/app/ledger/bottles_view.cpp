#include "ledger/bottles_view.hpp"

#include <algorithm>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>

#include "base/text.hpp"
#include "shell/units.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

namespace {

constexpr int cell_w = 118, cell_h = 156, vessel_h = 74;

enum class Vessel { bottle, tub, sack, can, jar };
Vessel vessel_of(MaterialKind k) {
  switch (k) {
    case MaterialKind::putty:
    case MaterialKind::jacket_paste:
      return Vessel::tub;
    case MaterialKind::plaster:
    case MaterialKind::filler:
      return Vessel::sack;
    case MaterialKind::release:
    case MaterialKind::barrier:
    case MaterialKind::sealer:
    case MaterialKind::thinner:
      return Vessel::can;
    case MaterialKind::pigment:
    case MaterialKind::thickener:
      return Vessel::jar;
    default:
      return Vessel::bottle;
  }
}

QPainterPath outline(Vessel v, const QRectF& r) {
  QPainterPath p;
  const double w = r.width(), h = r.height(), x = r.left(), y = r.top();
  switch (v) {
    case Vessel::bottle:
      p.addRoundedRect(QRectF(x + 0.18 * w, y + 0.24 * h, 0.64 * w, 0.76 * h), 7, 7);
      p.addRect(QRectF(x + 0.38 * w, y + 0.08 * h, 0.24 * w, 0.17 * h));
      break;
    case Vessel::tub: {
      QPolygonF q;
      q << QPointF(x + 0.06 * w, y + 0.4 * h) << QPointF(x + 0.94 * w, y + 0.4 * h) << QPointF(x + 0.86 * w, y + h)
        << QPointF(x + 0.14 * w, y + h);
      p.addPolygon(q);
      p.closeSubpath();
      p.addRect(QRectF(x + 0.02 * w, y + 0.3 * h, 0.96 * w, 0.1 * h));
      break;
    }
    case Vessel::sack:
      p.moveTo(x + 0.16 * w, y + 0.28 * h);
      p.cubicTo(x, y + 0.5 * h, x + 0.02 * w, y + 0.9 * h, x + 0.12 * w, y + h);
      p.lineTo(x + 0.88 * w, y + h);
      p.cubicTo(x + 0.98 * w, y + 0.9 * h, x + w, y + 0.5 * h, x + 0.84 * w, y + 0.28 * h);
      p.closeSubpath();
      p.addRect(QRectF(x + 0.26 * w, y + 0.16 * h, 0.48 * w, 0.1 * h));
      break;
    case Vessel::can:
      p.addRoundedRect(QRectF(x + 0.26 * w, y + 0.22 * h, 0.48 * w, 0.78 * h), 5, 5);
      p.addRect(QRectF(x + 0.36 * w, y + 0.08 * h, 0.28 * w, 0.12 * h));
      break;
    case Vessel::jar:
      p.addRoundedRect(QRectF(x + 0.24 * w, y + 0.5 * h, 0.52 * w, 0.5 * h), 6, 6);
      p.addRect(QRectF(x + 0.22 * w, y + 0.4 * h, 0.56 * w, 0.1 * h));
      break;
  }
  return p;
}

}  // namespace

BottlesView::BottlesView(QWidget* parent) : QWidget(parent) {
  setAccessibleName(QStringLiteral("The shelf"));
  setFocusPolicy(Qt::StrongFocus);
}

void BottlesView::show_shelf(std::vector<Material> bottles, const std::vector<Lot>& lots) {
  bottles_ = std::move(bottles);
  // What is in use first, kind by kind; retired bottles stand at the end.
  std::stable_sort(bottles_.begin(), bottles_.end(), [](const Material& a, const Material& b) {
    return a.retired != b.retired ? b.retired : a.kind < b.kind;
  });
  stands_.assign(bottles_.size(), {});
  for (size_t i = 0; i < bottles_.size(); ++i) {
    double start = 0, left = 0;
    for (const Lot& l : lots)
      if (l.material_id == bottles_[i].id) start += l.start_g, left += l.left_g;
    if (start > 0) stands_[i].left_share = left / start;
    stands_[i].first_of_kind =
        i == 0 || bottles_[i].kind != bottles_[i - 1].kind || bottles_[i].retired != bottles_[i - 1].retired;
  }
  lay_out();
  update();
}

void BottlesView::lay_out() {
  const int across = std::max(1, (width() - 8) / cell_w), wide = std::max(cell_w, (width() - 8) / across);
  for (size_t i = 0; i < stands_.size(); ++i) {
    const int n = static_cast<int>(i);
    stands_[i].cell = QRect(4 + n % across * wide, n / across * cell_h, wide, cell_h);
  }
  const int rows = (count() + across - 1) / across;
  setMinimumHeight(std::max(1, rows) * cell_h + 8);
}
void BottlesView::resizeEvent(QResizeEvent*) { lay_out(); }

QRect BottlesView::place(const std::string& id) const {
  for (size_t i = 0; i < bottles_.size(); ++i)
    if (bottles_[i].id == id) return stands_[i].cell;
  return {};
}
void BottlesView::select(const std::string& id) {
  selected_ = id;
  update();
}
void BottlesView::open(size_t i) {
  select(bottles_[i].id);
  setAccessibleDescription(qs(bottles_[i].name));
  emit opened(qs(bottles_[i].id));
}

void BottlesView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  int plank = -1;
  for (const Stand& s : stands_)
    if (const int y = s.cell.top() + vessel_h + 20; y != plank) {
      plank = y;
      p.fillRect(QRectF(0, y, width(), 6), pal().rule.darker(pal().dark ? 90 : 118));
      p.fillRect(QRectF(0, y + 6, width(), 3), pal().slip);
    }
  for (size_t i = 0; i < bottles_.size(); ++i) {
    const Material& m = bottles_[i];
    const Stand& s = stands_[i];
    const QRectF body(s.cell.center().x() - 30, s.cell.top() + 20, 60, vessel_h);
    if (s.first_of_kind) {
      p.setFont(type_face(12, 600));
      p.setPen(pal().quiet);
      p.drawText(QRectF(s.cell.left() + 4, s.cell.top(), cell_w + 40, 18), Qt::AlignVCenter,
                 m.retired ? QStringLiteral("retired") : qs(std::string(words_of(m.kind))));
    }
    const QPainterPath shape = outline(vessel_of(m.kind), body);
    const bool chosen = m.id == selected_;
    p.setPen(Qt::NoPen);
    p.setBrush(pal().panel);
    p.drawPath(shape);
    p.save();
    p.setClipPath(shape);
    if (s.left_share >= 0) {
      QRectF level = body;
      level.setTop(body.bottom() - 0.72 * body.height() * std::clamp(s.left_share, 0.0, 1.0));
      const bool rubber = m.kind <= MaterialKind::putty;
      fill_pattern(p, level, rubber ? pal().rubber_a : pal().rubber_b, rubber ? Qt::NoBrush : Qt::Dense6Pattern);
    }
    // The label, and on it how much of what is known is a guess.
    const QRectF label(body.left(), body.top() + 0.56 * body.height(), body.width(), 0.26 * body.height());
    const QColor own(qs(m.label_a));
    p.fillRect(label, own.isValid() && !m.label_a.empty() ? own : pal().ground);
    if (!m.figures.empty()) {
      QRectF guessed = label;
      guessed.setWidth(label.width() * static_cast<double>(guesses(m).size()) / static_cast<double>(m.figures.size()));
      fill_pattern(p, guessed, pal().quiet, Qt::BDiagPattern);
    }
    p.restore();
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(chosen ? pal().act : m.retired ? pal().rule : pal().ink, chosen ? 3 : 1.5));
    p.drawPath(shape);
    p.setFont(type_face(12, chosen ? 600 : 400));
    p.setPen(m.retired ? pal().quiet : pal().ink);
    p.drawText(QRectF(s.cell.left() + 3, s.cell.top() + vessel_h + 32, s.cell.width() - 6, 46),
               Qt::AlignHCenter | Qt::AlignTop | Qt::TextWordWrap, qs(m.name));
  }
}

void BottlesView::mousePressEvent(QMouseEvent* e) {
  for (size_t i = 0; i < stands_.size(); ++i)
    if (stands_[i].cell.contains(e->pos())) return open(i);
}

void BottlesView::keyPressEvent(QKeyEvent* e) {
  if (bottles_.empty()) return QWidget::keyPressEvent(e);
  const auto at = std::find_if(bottles_.begin(), bottles_.end(), [&](const Material& m) { return m.id == selected_; });
  const int n = at == bottles_.end() ? -1 : static_cast<int>(at - bottles_.begin());
  const int across = std::max(1, (width() - 8) / cell_w);
  int to = n;
  switch (e->key()) {
    case Qt::Key_Right:
      to = n + 1;
      break;
    case Qt::Key_Left:
      to = n - 1;
      break;
    case Qt::Key_Down:
      to = n + across;
      break;
    case Qt::Key_Up:
      to = n - across;
      break;
    default:
      return QWidget::keyPressEvent(e);
  }
  open(static_cast<size_t>(std::clamp(to, 0, count() - 1)));
}

}  // namespace palinform::app
