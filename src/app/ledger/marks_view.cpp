#include "ledger/marks_view.hpp"

#include <cmath>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include "base/text.hpp"
#include "shell/stage_page.hpp"
#include "shell/units.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

namespace {
constexpr int row_h = 32, words_w = 236, figure_w = 152, source_w = 84;
/// Keeps its Return and Escape to itself: what is beneath would open it again.
class FigureEditor : public QLineEdit {
 public:
  using QLineEdit::QLineEdit;

 protected:
  void keyPressEvent(QKeyEvent* e) override {
    QLineEdit::keyPressEvent(e);
    if (e->key() == Qt::Key_Escape) hide();
    if (e->key() == Qt::Key_Return || e->key() == Qt::Key_Enter || e->key() == Qt::Key_Escape) e->accept();
  }
};

}  // namespace

MarksView::MarksView(QWidget* parent) : QWidget(parent) {
  setAccessibleName(QStringLiteral("Figures on their ranges"));
  setFocusPolicy(Qt::StrongFocus);
  setMouseTracking(true);
  editor_ = new FigureEditor(this);
  editor_->setObjectName(QStringLiteral("figure-editor"));
  editor_->setAccessibleName(QStringLiteral("Figure"));
  editor_->hide();
  connect(editor_, &QLineEdit::returnPressed, this, &MarksView::commit);
  connect(editor_, &QLineEdit::editingFinished, this, [this] {
    if (!editor_->hasFocus()) editor_->hide();
  });
}

QSize MarksView::sizeHint() const { return {640, static_cast<int>(lines_.size()) * row_h + 8}; }

void MarksView::show_lines(std::vector<FigureLine> lines, bool may_change) {
  const auto key_of = [&](int i) {
    return i >= 0 && i < static_cast<int>(lines_.size()) ? lines_[static_cast<size_t>(i)].key : std::string();
  };
  const std::string was = key_of(selected_), being_written = key_of(written_);
  lines_ = std::move(lines);
  may_change_ = may_change;
  selected_ = written_ = dragging_ = -1;
  for (size_t i = 0; i < lines_.size(); ++i) {
    if (lines_[i].key == was) selected_ = static_cast<int>(i);
    if (lines_[i].key == being_written) written_ = static_cast<int>(i);
  }
  // Results may come in at any moment: what is being typed stays.
  if (written_ >= 0 && editor_->isVisible())
    editor_->setGeometry(figure_rect(written_));
  else
    editor_->hide();
  setMinimumHeight(sizeHint().height());
  update();
}

QRectF MarksView::scale_rect(int i) const {
  const int left = words_w + 12, right = width() - figure_w - source_w - 20;
  return QRectF(left, i * row_h + 4, std::max(80, right - left), row_h - 8);
}
QRect MarksView::figure_rect(int i) const {
  return QRect(width() - figure_w - source_w, i * row_h + 2, figure_w - 8, row_h - 4);
}
QPointF MarksView::mark_at(int i) const {
  const FigureLine& l = lines_[static_cast<size_t>(i)];
  const QRectF r = scale_rect(i);
  return {r.left() + r.width() * l.place(shown_value(i)), r.center().y()};
}
double MarksView::shown_value(int i) const {
  const FigureLine& l = lines_[static_cast<size_t>(i)];
  if (i == dragging_) return drag_value_;
  return l.figure ? l.figure->value : l.range ? l.range->usual : l.low;
}

void MarksView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  for (int i = 0; i < static_cast<int>(lines_.size()); ++i) {
    const FigureLine& l = lines_[static_cast<size_t>(i)];
    const QRectF row(0, i * row_h, width(), row_h), r = scale_rect(i);
    if (i == selected_) p.fillRect(row, pal().slip);
    p.setFont(type_face(14, i == selected_ ? 600 : 400));
    p.setPen(pal().ink);
    p.drawText(QRectF(8, row.top(), words_w, row_h), Qt::AlignVCenter, qs(l.words));
    // The scale, the usual range on it, the usual value as a notch.
    const double y = r.center().y();
    p.setPen(QPen(pal().rule, 1.4));
    p.drawLine(QPointF(r.left(), y), QPointF(r.right(), y));
    const auto x = [&](double v) { return r.left() + r.width() * l.place(v); };
    if (l.range) {
      const QRectF band(x(l.range->low), y - 6, std::max(2.0, x(l.range->high) - x(l.range->low)), 12);
      p.fillRect(band, pal().dark ? pal().rule : pal().slip.darker(108));
      p.setPen(QPen(pal().quiet, 1.4));
      p.drawLine(QPointF(x(l.range->usual), y - 6), QPointF(x(l.range->usual), y + 6));
    }
    p.setFont(type_face(14, 600));
    const QRect figure = figure_rect(i);
    if (!l.figure) {
      p.setPen(pal().quiet);
      p.setFont(type_face(13));
      p.drawText(figure, Qt::AlignVCenter | Qt::AlignRight, QStringLiteral("not known"));
      continue;
    }
    const double v = shown_value(i);
    const QPointF at = mark_at(i);
    const FigureSource source = l.figure->source;
    p.setPen(QPen(pal().ink, 1.8));
    if (source == FigureSource::guess) {
      const QRectF mark(at.x() - 6.5, at.y() - 6.5, 13, 13);
      p.fillRect(mark, pal().ground);
      fill_pattern(p, mark, pal().quiet, Qt::BDiagPattern);
      p.setBrush(Qt::NoBrush);
      p.drawRect(mark);
    } else {
      p.setBrush(source == FigureSource::sheet ? pal().act : pal().ground);
      p.drawEllipse(at, 7, 7);
      if (source == FigureSource::measured) {
        p.setBrush(pal().act);
        p.setPen(Qt::NoPen);
        p.drawEllipse(at, 3, 3);
      }
    }
    p.setPen(source == FigureSource::guess ? pal().quiet : pal().ink);
    p.drawText(figure, Qt::AlignVCenter | Qt::AlignRight,
               qs(std::abs(v) >= 10'000          ? grouped(v)
                  : std::abs(v) < 0.01 && v != 0 ? shortest(v, 7)
                                                 : shortest(v, 4)) +
                   (l.unit.empty() ? QString() : QLatin1Char(' ') + qs(l.unit)));
    p.setFont(type_face(12));
    p.setPen(pal().quiet);
    const char* words[3] = {"guess", "sheet", "measured"};
    p.drawText(QRectF(width() - source_w + 2, row.top(), source_w - 8, row_h), Qt::AlignVCenter,
               QString::fromLatin1(words[static_cast<size_t>(source)]));
  }
  if (hasFocus() && selected_ >= 0) {
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(pal().act, 2));
    p.drawRect(QRectF(1, selected_ * row_h + 1, width() - 2, row_h - 2));
  }
}

void MarksView::select(int line) {
  selected_ = std::clamp(line, -1, static_cast<int>(lines_.size()) - 1);
  if (selected_ >= 0) {
    const FigureLine& l = lines_[static_cast<size_t>(selected_)];
    setAccessibleDescription(
        qs(l.words) + QStringLiteral(", ") +
        (l.figure ? qs(shortest(l.figure->value, 5)) + QLatin1Char(' ') + qs(l.unit) : QStringLiteral("not known")));
  }
  update();
  emit chosen(selected_);
}

void MarksView::write(int line) {
  if (!may_change_ || line < 0 || line >= static_cast<int>(lines_.size())) return;
  written_ = line;
  const FigureLine& l = lines_[static_cast<size_t>(line)];
  clear_fault(editor_);
  editor_->setGeometry(figure_rect(line));
  editor_->setText(l.figure ? qs(shortest(l.figure->value, 6)) : QString());
  editor_->setPlaceholderText(qs(l.unit));
  editor_->selectAll();
  editor_->show();
  editor_->setFocus();
}

void MarksView::commit() {
  if (written_ < 0 || written_ >= static_cast<int>(lines_.size())) return;
  const QString key = qs(lines_[static_cast<size_t>(written_)].key);
  const QString text = editor_->text().trimmed();
  if (text.isEmpty()) {
    editor_->hide();
    setFocus();
    emit struck_out(key);
    return;
  }
  const auto v = parse_number(text.toStdString());
  if (const auto two = two_readings(text.toStdString()))
    return mark_fault(editor_, QStringLiteral("This can be %1 or %2. Type the one you mean without the comma.")
                                   .arg(qs(shortest(two->first, 6)), qs(shortest(two->second, 6))));
  if (!v) return mark_fault(editor_, QStringLiteral("Write a number."));
  editor_->hide();
  setFocus();
  emit written(key, *v);
}

void MarksView::mousePressEvent(QMouseEvent* e) {
  const int i = static_cast<int>(e->position().y()) / row_h;
  if (i < 0 || i >= static_cast<int>(lines_.size())) return;
  select(i);
  if (figure_rect(i).contains(e->pos())) return write(i);
  if (!may_change_) return;
  if (e->position().x() > width() - source_w && lines_[static_cast<size_t>(i)].figure)
    return emit source_turned(qs(lines_[static_cast<size_t>(i)].key));
  if (lines_[static_cast<size_t>(i)].figure && std::abs(e->position().x() - mark_at(i).x()) < 14) {
    dragging_ = i;
    drag_value_ = lines_[static_cast<size_t>(i)].figure->value;
  }
}
void MarksView::mouseMoveEvent(QMouseEvent* e) {
  if (dragging_ < 0) return;
  const QRectF r = scale_rect(dragging_);
  drag_value_ = lines_[static_cast<size_t>(dragging_)].value_at((e->position().x() - r.left()) / r.width());
  update();
}
void MarksView::mouseReleaseEvent(QMouseEvent*) {
  if (dragging_ < 0) return;
  const FigureLine l = lines_[static_cast<size_t>(dragging_)];
  dragging_ = -1;
  update();
  if (l.figure && drag_value_ != l.figure->value) emit dragged(qs(l.key), drag_value_);
}

void MarksView::keyPressEvent(QKeyEvent* e) {
  const int n = static_cast<int>(lines_.size());
  if (e->key() == Qt::Key_Down && n)
    select(std::min(n - 1, selected_ + 1));
  else if (e->key() == Qt::Key_Up && n)
    select(std::max(0, selected_ - 1));
  else if ((e->key() == Qt::Key_Return || e->key() == Qt::Key_Enter || e->key() == Qt::Key_Space) && selected_ >= 0)
    write(selected_);
  else if (e->key() == Qt::Key_Delete && selected_ >= 0 && may_change_)
    emit struck_out(qs(lines_[static_cast<size_t>(selected_)].key));
  else
    QWidget::keyPressEvent(e);
}

}  // namespace palinform::app
