#include "shell/strand.hpp"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QVBoxLayout>

#include "shell/desk.hpp"
#include "shell/knot.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

StageButton::StageButton(Stage stage, QWidget* parent) : QAbstractButton(parent), stage_(stage) {
  setFocusPolicy(Qt::StrongFocus);
  setCheckable(true);
  setAutoExclusive(true);
  setMinimumHeight(58);
  setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Preferred);
  setCursor(Qt::PointingHandCursor);
  setText(QString::fromUtf8(name_of(stage).data(), static_cast<qsizetype>(name_of(stage).size())));
  setToolTip(QStringLiteral("%1 · key %2").arg(text()).arg((static_cast<int>(stage) + 1) % 10));
}

void StageButton::show_state(const StageState& s) {
  if (s.knot == Knot::moving && !timer_) timer_ = startTimer(80);
  if (s.knot != Knot::moving && timer_) {
    killTimer(timer_);
    timer_ = 0;
  }
  state_ = s;
  setAccessibleName(text() + QStringLiteral(", ") + QLatin1String(state_word(s.knot)) + QStringLiteral(", ") +
                    qs(s.figure));
  update();
}

void StageButton::timerEvent(QTimerEvent*) {
  turn_ = (turn_ + 24) % 360;
  update();
}

void StageButton::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  if (isChecked())
    p.fillRect(rect(), pal().ground);
  else if (underMouse()) {
    QColor c = pal().ground;
    c.setAlphaF(0.4f);
    p.fillRect(rect(), c);
  }
  p.setPen(QPen(pal().rule.darker(pal().dark ? 80 : 120), 3));
  p.drawLine(QPointF(27.5, stage_ == Stage::original ? height() / 2.0 - 14 : 0),
             QPointF(27.5, static_cast<int>(stage_) == stage_count - 1 ? height() / 2.0 + 14 : height()));
  draw_knot(p, QPointF(27.5, height() / 2.0), state_.knot, 8.5, state_.progress, turn_);
  p.setFont(type_face(14, 600));
  p.setPen(isChecked() ? pal().act : pal().ink);
  p.drawText(QRectF(50, height() / 2.0 - 20, width() - 52, 20), Qt::AlignVCenter, text());
  const bool moving = state_.knot == Knot::moving;
  p.setFont(type_face(13));
  p.setPen(pal().quiet);
  const QRectF figure(50, height() / 2.0, width() - 52 - (moving ? 30 : 0), moving ? 32 : 20);
  QString s = qs(state_.figure);
  p.drawText(figure, Qt::TextWordWrap | (moving ? Qt::AlignTop : Qt::AlignVCenter), s);
  if (moving) {
    const QRectF x = stop_cross();
    p.setPen(QPen(pal().stop, 2));
    p.drawLine(x.center() - QPointF(5, 5), x.center() + QPointF(5, 5));
    p.drawLine(x.center() - QPointF(5, -5), x.center() + QPointF(5, -5));
  }
  if (hasFocus()) {
    p.setPen(QPen(pal().act, 2));
    p.setBrush(Qt::NoBrush);
    p.drawRoundedRect(QRectF(rect()).adjusted(3, 3, -3, -3), 6, 6);
  }
}

void StageButton::mousePressEvent(QMouseEvent* e) {
  if (state_.knot == Knot::moving && stop_cross().contains(e->position())) {
    emit stop_asked();
    return;
  }
  QAbstractButton::mousePressEvent(e);
}
void StageButton::keyPressEvent(QKeyEvent* e) {
  if (state_.knot == Knot::moving && (e->key() == Qt::Key_Delete || e->key() == Qt::Key_Escape)) {
    emit stop_asked();
    return;
  }
  QAbstractButton::keyPressEvent(e);
}

Strand::Strand(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  setFixedWidth(176);
  setAccessibleName(QStringLiteral("Stages"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 8, 0, 8);
  column->setSpacing(0);
  for (int i = 0; i < stage_count; ++i) {
    const Stage s = static_cast<Stage>(i);
    auto* b = new StageButton(s, this);
    connect(b, &QAbstractButton::clicked, this, [this, s] {
      choose(s);
      emit stage_chosen(s);
    });
    connect(b, &StageButton::stop_asked, this, [this, s] { desk_.cancel(s); });
    column->addWidget(b);
    buttons_.push_back(b);
  }
  column->addStretch(1);
  choose(Stage::original);
  connect(&desk_, &Desk::changed, this, &Strand::refresh);
  refresh();
}

void Strand::choose(Stage s) {
  chosen_ = s;
  buttons_[static_cast<size_t>(s)]->setChecked(true);
}

void Strand::refresh() {
  const auto states = desk_.stages();
  for (size_t i = 0; i < buttons_.size(); ++i) buttons_[i]->show_state(states[i]);
}

void Strand::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.fillRect(rect(), pal().slip);
}

}  // namespace palinform::app
