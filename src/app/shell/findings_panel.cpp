#include "shell/findings_panel.hpp"

#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QPainter>
#include <QPushButton>
#include <QTimer>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "shell/desk.hpp"
#include "shell/flow_layout.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

FindingCard::FindingCard(const OpenFinding& finding, Desk& desk, QWidget* parent)
    : QWidget(parent), finding_(finding), desk_(desk) {
  const Finding& f = finding_.finding;
  setFocusPolicy(Qt::TabFocus);
  setObjectName(QStringLiteral("finding-") + qs(f.key()));
  const QString weight = f.severity == Severity::stop      ? QStringLiteral("Stop")
                         : f.severity == Severity::caution ? QStringLiteral("Caution")
                                                           : QStringLiteral("Note");
  setAccessibleName(weight + QStringLiteral(": ") + qs(f.what));
  setAccessibleDescription(qs(f.why));
  column_ = new QVBoxLayout(this);
  column_->setContentsMargins(18, 6, 4, 8);
  setStyleSheet(
      QStringLiteral("QPushButton { font-size: 13px; padding: 0 10px; } QPushButton:focus { padding: 0 9px; }"));
  column_->setSpacing(4);
  auto* what = new QLabel(qs(f.what));
  what->setProperty("role", "head");
  what->setWordWrap(true);
  auto* why = new QLabel(qs(f.why));
  why->setWordWrap(true);
  why->setStyleSheet(QStringLiteral("font-size: 13px;"));
  column_->addWidget(what);
  column_->addWidget(why);
  if (finding_.answer) {
    auto* answer = new QLabel(QStringLiteral("Answered: ") + qs(finding_.answer->reason));
    answer->setWordWrap(true);
    answer->setProperty("role", "quiet");
    column_->addWidget(answer);
    return;
  }
  auto* row = new QWidget;
  auto* buttons = new FlowLayout(row);
  bool first = true;
  for (const Remedy& r : f.remedies) {
    auto* b = new QPushButton(qs(r.label));
    b->setToolTip(qs(r.label));
    b->setObjectName(QStringLiteral("remedy-") + qs(std::string(r.code())));
    if (first) b->setProperty("kind", "main");
    first = false;
    connect(b, &QPushButton::clicked, this, [this, r] {
      const QString what_done = qs(r.label);
      desk_.apply(r, what_done);
    });
    buttons->addWidget(b);
  }
  if (f.answerable && f.severity != Severity::note) {
    auto* b = new QPushButton(f.needs_written ? QStringLiteral("Answer in writing…") : QStringLiteral("Accept…"));
    b->setObjectName(QStringLiteral("accept"));
    connect(b, &QPushButton::clicked, this, [this] { ask_reason({}); });
    buttons->addWidget(b);
  }
  if (buttons->count())
    column_->addWidget(row);
  else
    delete row;
}

void FindingCard::ask_reason(const QString& words) {
  if (reason_) return;
  reason_ = new QWidget(this);
  auto* col = new QVBoxLayout(reason_);
  col->setContentsMargins(0, 2, 0, 0);
  auto* line = new QLineEdit(words);
  line->setObjectName(QStringLiteral("reason"));
  line->setPlaceholderText(finding_.finding.needs_written ? QStringLiteral("Who decided, and why it is safe")
                                                          : QStringLiteral("Reason, if you like"));
  line->setAccessibleName(QStringLiteral("Reason"));
  auto* ok = new QPushButton(QStringLiteral("Keep this answer"));
  ok->setObjectName(QStringLiteral("keep-answer"));
  const auto keep = [this, line] { desk_.accept(finding_.finding, line->text()); };
  connect(ok, &QPushButton::clicked, this, keep);
  connect(line, &QLineEdit::returnPressed, this, keep);
  col->addWidget(line);
  col->addWidget(ok, 0, Qt::AlignLeft);
  column_->addWidget(reason_);
  line->setFocus();
}

namespace {
/// The weight along the left edge, by colour and by pattern.
void weight_mark(QPainter& p, Severity s, bool answered, int height) {
  const QColor c = answered                 ? pal().rule
                   : s == Severity::stop    ? pal().stop
                   : s == Severity::caution ? pal().caution
                                            : pal().note;
  if (s == Severity::note) {
    p.setPen(Qt::NoPen);
    p.setBrush(c);
    for (qreal y = 9; y < height - 6; y += 8) p.drawEllipse(QPointF(7, y), 2, 2);
  } else {
    p.fillRect(QRectF(4.5, 6, s == Severity::stop ? 3 : 5, height - 12), c);
    if (s == Severity::stop) p.fillRect(QRectF(9.5, 6, 3, height - 12), c);
  }
}
}  // namespace

FoldedStage::FoldedStage(Stage stage, const std::vector<const OpenFinding*>& findings, bool open, QWidget* parent)
    : QAbstractButton(parent), open_(open), answered_(true) {
  int to_answer = 0, noted = 0, done = 0;
  const OpenFinding* first = nullptr;
  for (const OpenFinding* f : findings) {
    if (f->answer) {
      ++done;
      continue;
    }
    if (!first) first = f;
    answered_ = false;
    worst_ = std::max(worst_, f->finding.severity);
    (f->finding.severity == Severity::note ? noted : to_answer) += 1;
  }
  QStringList counts;
  if (to_answer) counts << QStringLiteral("%1 to answer").arg(to_answer);
  if (noted) counts << QStringLiteral("%1 noted").arg(noted);
  if (done) counts << QStringLiteral("%1 answered").arg(done);
  const std::string name(name_of(stage));
  head_ = QString::fromStdString(name) + QStringLiteral(" · ") + counts.join(QStringLiteral(", "));
  what_ = QString::fromStdString((first ? first : findings.front())->finding.what);
  setObjectName(QStringLiteral("folded-") + QString::fromStdString(lower_ascii(name)));
  setAccessibleName(head_ + QStringLiteral(": ") + what_);
  setToolTip(what_);
  setCursor(Qt::PointingHandCursor);
  setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

void FoldedStage::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  if (underMouse() || isDown()) p.fillRect(rect(), pal().panel);
  weight_mark(p, worst_, answered_, height());
  p.setFont(type_face(13, 600));
  p.setPen(answered_ ? pal().quiet : pal().ink);
  p.drawText(QRectF(20, 4, width() - 44, 18), Qt::AlignVCenter,
             p.fontMetrics().elidedText(head_, Qt::ElideRight, width() - 44));
  p.setFont(type_face(12));
  p.setPen(pal().quiet);
  p.drawText(QRectF(20, 22, width() - 28, 18), Qt::AlignVCenter,
             p.fontMetrics().elidedText(what_, Qt::ElideRight, width() - 28));
  p.setPen(QPen(pal().quiet, 1.6));
  const QPointF tip(width() - 14, open_ ? 15 : 13);
  const double d = 4;
  if (open_)
    p.drawPolyline(QPolygonF{{tip.x() - d, tip.y() - d + 2}, {tip.x(), tip.y() + 2}, {tip.x() + d, tip.y() - d + 2}});
  else
    p.drawPolyline(QPolygonF{{tip.x() - 2, tip.y() - d}, {tip.x() + 2, tip.y()}, {tip.x() - 2, tip.y() + d}});
  if (hasFocus()) {
    p.setPen(QPen(pal().act, 2));
    p.setBrush(Qt::NoBrush);
    p.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 6, 6);
  }
}

void FindingCard::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  weight_mark(p, finding_.finding.severity, finding_.answer.has_value(), height());
  if (hasFocus()) {
    p.setPen(QPen(pal().act, 2));
    p.setBrush(Qt::NoBrush);
    p.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 6, 6);
  }
}
void FindingCard::mousePressEvent(QMouseEvent*) { emit pointed(finding_); }
void FindingCard::focusInEvent(QFocusEvent* e) {
  update();
  QWidget::focusInEvent(e);
}
void FindingCard::keyPressEvent(QKeyEvent* e) {
  if (e->key() == Qt::Key_Return || e->key() == Qt::Key_Enter || e->key() == Qt::Key_Space)
    emit pointed(finding_);
  else
    QWidget::keyPressEvent(e);
}

FindingsPanel::FindingsPanel(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  setFixedWidth(300);
  setAccessibleName(QStringLiteral("Findings"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(10, 12, 0, 0);
  column->setSpacing(8);
  head_ = new QLabel;
  head_->setProperty("role", "head");
  head_->setStyleSheet(QStringLiteral("font-size: 13px; font-weight: 600; color: %1;").arg(pal().quiet.name()));
  column->addWidget(head_);
  scroll_ = new QScrollArea;
  scroll_->setFrameShape(QFrame::NoFrame);
  scroll_->setWidgetResizable(true);
  scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  scroll_->setFocusPolicy(Qt::NoFocus);
  column->addWidget(scroll_, 1);
  calm_ = new QTimer(this);
  calm_->setSingleShot(true);
  calm_->setInterval(100);
  connect(calm_, &QTimer::timeout, this, [this] {
    if (!calm_->property("again").toBool()) return;
    calm_->setProperty("again", false);
    refresh();
  });
  connect(&desk_, &Desk::changed, this, [this] {
    if (calm_->isActive())
      calm_->setProperty("again", true);
    else {
      calm_->start();
      refresh();
    }
  });
  refresh();
}

void FindingsPanel::refresh() {
  head_->setStyleSheet(QStringLiteral("font-size: 13px; font-weight: 600; color: %1;").arg(pal().quiet.name()));
  auto findings = desk_.has_job() ? findings_of(desk_.job(), desk_.plan()) : std::vector<OpenFinding>{};
  // What is in view comes first, the other stages in working order; within each by weight, answered ones last.
  std::stable_sort(findings.begin(), findings.end(), [this](const OpenFinding& a, const OpenFinding& b) {
    if ((a.stage == stage_) != (b.stage == stage_)) return a.stage == stage_;
    return a.stage < b.stage;
  });
  std::vector<std::pair<std::string, std::string>> now{
      {desk_.has_job() ? desk_.job().id : "", std::string(name_of(stage_))}};
  for (const Stage s : unfolded_) now.front().second += std::string(name_of(s));
  for (const OpenFinding& f : findings) {
    std::string labels = f.finding.why + (f.answer ? f.answer->reason : "");
    for (const Remedy& r : f.finding.remedies) labels += r.label;
    now.emplace_back(f.finding.key(), std::move(labels));
  }
  if (now == shown_ && scroll_->widget()) return;  // an open answer field must not vanish under the typing
  shown_ = std::move(now);
  int open = 0, noted = 0;
  for (const OpenFinding& f : findings) {
    if (f.answer) continue;
    (f.finding.severity == Severity::note ? noted : open) += 1;
  }
  QString head = open == 0 ? QStringLiteral("Nothing to answer") : QStringLiteral("%1 to answer").arg(open);
  if (noted) head += QStringLiteral(", %1 noted").arg(noted);
  head_->setText(desk_.has_job() ? head : QString());
  auto* inside = new QWidget;
  auto* column = new QVBoxLayout(inside);
  column->setContentsMargins(0, 0, 8, 12);
  column->setSpacing(6);
  const Finding* last = nullptr;
  for (size_t at = 0; at < findings.size();) {
    const Stage s = findings[at].stage;
    std::vector<const OpenFinding*> here;
    for (; at < findings.size() && findings[at].stage == s; ++at) here.push_back(&findings[at]);
    last = &here.back()->finding;
    if (s != stage_) {
      const bool unfolded = unfolded_.contains(s);
      auto* line = new FoldedStage(s, here, unfolded, inside);
      connect(line, &QAbstractButton::clicked, this, [this, s, unfolded] {
        if (unfolded)
          unfolded_.erase(s);
        else
          unfolded_.insert(s);
        refresh();
      });
      column->addWidget(line);
      if (!unfolded) continue;
    }
    for (const OpenFinding* f : here) {
      auto* card = new FindingCard(*f, desk_, inside);
      connect(card, &FindingCard::pointed, this, &FindingsPanel::pointed);
      column->addWidget(card);
    }
  }
  if (!last && desk_.has_job()) {
    auto* calm = new QLabel(QStringLiteral("What needs your judgement will stand here, weightiest first."));
    calm->setWordWrap(true);
    calm->setProperty("role", "quiet");
    column->addWidget(calm);
  }
  column->addStretch(1);
  if (QWidget* old = scroll_->takeWidget()) old->deleteLater();  // one of its buttons may be what called us
  scroll_->setWidget(inside);
}

void FindingsPanel::set_stage(Stage s) {
  if (s == stage_) return;
  stage_ = s;
  unfolded_.clear();
  refresh();
}
void FindingsPanel::unfold(Stage s) {
  if (s == stage_ || !unfolded_.insert(s).second) return;
  refresh();
}

void FindingsPanel::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.fillRect(rect(), pal().ground);
  p.setPen(pal().rule);
  p.drawLine(0, 0, 0, height());
}

}  // namespace palinform::app
