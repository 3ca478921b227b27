#include "shell/stage_page.hpp"

#include <QScrollArea>

#include <QHBoxLayout>
#include <QPainter>
#include <QStyle>
#include <QToolTip>
#include <QVBoxLayout>
#include <QWheelEvent>

#include "base/text.hpp"
#include "shell/desk.hpp"
#include "shell/flow_layout.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

StagePage::StagePage(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  setObjectName(QStringLiteral("page"));
  connect(&desk_, &Desk::changed, this, [this] {
    if (isVisible()) refresh();
  });
}
void StagePage::showEvent(QShowEvent* e) {
  QWidget::showEvent(e);
  refresh();
}

QPushButton* chip(const QString& words, const QString& name, bool checkable) {
  auto* b = new QPushButton(words);
  b->setProperty("kind", "chip");
  b->setObjectName(name);
  b->setCheckable(checkable);
  b->setCursor(Qt::PointingHandCursor);
  return b;
}

QLabel* remark(const QString& words) {
  auto* l = new QLabel(words);
  l->setProperty("role", "quiet");
  l->setWordWrap(true);
  return l;
}

Chips::Chips(QWidget* parent, bool wraps) : QWidget(parent) {
  if (wraps)
    row_ = new FlowLayout(this);
  else
    row_ = new QHBoxLayout(this);
  row_->setContentsMargins(0, 0, 0, 0);
  row_->setSpacing(8);
}
QPushButton* Chips::add(const QString& words, const QString& name) {
  auto* b = chip(words, name, true);
  const int i = count();
  connect(b, &QPushButton::clicked, this, [this, i] {
    set_current(i);
    emit chosen(i);
  });
  row_->addWidget(b);
  buttons_.push_back(b);
  return b;
}
void Chips::clear() {
  for (QPushButton* b : buttons_) {
    row_->removeWidget(b);
    b->hide();
    b->deleteLater();
  }
  buttons_.clear();
}
void Chips::set_current(int i) {
  for (int k = 0; k < count(); ++k) at(k)->setChecked(k == i);
}
int Chips::current() const {
  for (int k = 0; k < count(); ++k)
    if (at(k)->isChecked()) return k;
  return -1;
}

QScrollArea* scrolled(QWidget* inside) {
  auto* s = new QScrollArea;
  s->setWidget(inside);
  s->setWidgetResizable(true);
  s->setFrameShape(QFrame::NoFrame);
  s->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  return s;
}

void mark_fault(QLineEdit* edit, const QString& why) {
  edit->setProperty("fault", true);
  edit->setToolTip(why);
  edit->setAccessibleDescription(why);
  edit->style()->unpolish(edit);
  edit->style()->polish(edit);
  if (edit->isVisible()) QToolTip::showText(edit->mapToGlobal(QPoint(0, edit->height())), why, edit);
}
void clear_fault(QLineEdit* edit) {
  if (!edit->property("fault").toBool()) return;
  edit->setProperty("fault", false);
  edit->setToolTip({});
  edit->setAccessibleDescription({});
  edit->style()->unpolish(edit);
  edit->style()->polish(edit);
}

QLineEdit* add_line(QHBoxLayout* row, const QString& label, const QString& name, int width) {
  auto* col = new QVBoxLayout;
  col->setSpacing(2);
  auto* l = new QLabel(label);
  l->setProperty("role", "small");
  auto* e = new QLineEdit;
  e->setObjectName(name);
  e->setAccessibleName(label);
  if (width > 0) e->setFixedWidth(width);
  l->setBuddy(e);
  col->addWidget(l);
  col->addWidget(e);
  row->addLayout(col, width > 0 ? 0 : 1);
  QObject::connect(e, &QLineEdit::textEdited, e, [e] { clear_fault(e); });
  return e;
}

FigureField::FigureField(const QString& label, const QString& name, int width, QWidget* parent)
    : QWidget(parent), label_(new QLabel(label)), edit_(new QLineEdit), words_(label) {
  auto* col = new QVBoxLayout(this);
  col->setContentsMargins(0, 0, 0, 0);
  col->setSpacing(2);
  label_->setProperty("role", "small");
  label_->setBuddy(edit_);
  edit_->setObjectName(name);
  edit_->setFixedWidth(width);
  edit_->setAccessibleName(label);
  col->addWidget(label_);
  col->addWidget(edit_);
  connect(edit_, &QLineEdit::editingFinished, this, &FigureField::commit);
  connect(edit_, &QLineEdit::textEdited, this, [this] { clear_fault(edit_); });
}
void FigureField::allow_empty(const QString& placeholder) {
  empty_ok_ = true;
  edit_->setPlaceholderText(placeholder);
}
void FigureField::show_value(std::optional<double> v, int digits, const QString& unit) {
  label_->setText(unit.isEmpty() ? words_ : words_ + QStringLiteral(", ") + unit);
  const QString s = v ? qs(fixed(*v, digits)) : QString();
  if (edit_->hasFocus() && edit_->isModified()) return;  // not while it is being typed
  shown_ = s;
  if (edit_->text() != s) edit_->setText(s);
  edit_->setModified(false);
  clear_fault(edit_);
}
void FigureField::commit() {
  if (edit_->text() == shown_) return;
  edit_->setModified(false);
  if (edit_->text().trimmed().isEmpty() && empty_ok_) {
    shown_.clear();
    emit emptied();
    return;
  }
  const auto v = parse_number(edit_->text().toStdString());
  if (const auto two = two_readings(edit_->text().toStdString()))
    return mark_fault(edit_, QStringLiteral("This can be %1 or %2. Type the one you mean without the comma.")
                                 .arg(qs(shortest(two->first, 6)), qs(shortest(two->second))));
  if (!v) return mark_fault(edit_, QStringLiteral("This is no number. Type digits, such as 12.5."));
  if (*v < low_ || *v > high_)
    return mark_fault(
        edit_, QStringLiteral("It must be from %1 to %2.").arg(qs(significant(low_, 4)), qs(significant(high_, 4))));
  clear_fault(edit_);
  shown_ = edit_->text();
  emit entered(*v);
}

namespace {
/// A list box whose arrow is drawn, since a style sheet can only put an image there.
class ArrowBox : public QComboBox {
 protected:
  void paintEvent(QPaintEvent* e) override {
    QComboBox::paintEvent(e);
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(pal().quiet, 1.8, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    const QPointF c(width() - 14, height() / 2.0 + 1);
    p.drawPolyline(QPolygonF() << c + QPointF(-4, -2) << c + QPointF(0, 2) << c + QPointF(4, -2));
  }
  void wheelEvent(QWheelEvent* e) override { e->ignore(); }  // scrolling a page must not change a material
};
}  // namespace

ChoiceField::ChoiceField(const QString& label, const QString& name, int width, QWidget* parent)
    : QWidget(parent), box_(new ArrowBox) {
  auto* col = new QVBoxLayout(this);
  col->setContentsMargins(0, 0, 0, 0);
  col->setSpacing(2);
  auto* l = new QLabel(label);
  l->setProperty("role", "small");
  l->setBuddy(box_);
  box_->setObjectName(name);
  box_->setFixedWidth(width);
  box_->setAccessibleName(label);
  box_->setFocusPolicy(Qt::StrongFocus);
  box_->setMaxVisibleItems(14);
  col->addWidget(l);
  col->addWidget(box_);
  connect(box_, &QComboBox::activated, this,
          [this](int) { emit chosen(box_->currentData().toString().toStdString()); });
}
void ChoiceField::set_items(const std::vector<std::pair<std::string, QString>>& items) {
  bool same = box_->count() == static_cast<int>(items.size());
  for (int i = 0; same && i < box_->count(); ++i) {
    const auto& [id, words] = items[static_cast<size_t>(i)];
    same = box_->itemData(i).toString() == qs(id) && box_->itemText(i) == words;
  }
  if (same) return;
  const QSignalBlocker quiet(box_);
  box_->clear();
  for (const auto& [id, words] : items) box_->addItem(words, qs(id));
}
void ChoiceField::show_current(const std::string& id) {
  const int i = box_->findData(qs(id));
  if (i != box_->currentIndex()) box_->setCurrentIndex(i);
}

}  // namespace palinform::app
