#include "shell/fits_card.hpp"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QPainter>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "shell/desk.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

namespace {

QString micron(double mm) {
  const double um = mm * 1000;
  return (um > 0   ? QStringLiteral("+")
          : um < 0 ? QStringLiteral("−")
                   : QString()) +
         qs(fixed(std::abs(um), std::abs(um) < 100 && um != std::round(um) ? 1 : 0));
}

}  // namespace

PopCard::PopCard(const QString& head, const QString& name, QWidget* parent)
    : QFrame(parent), col_(new QVBoxLayout(this)) {
  setObjectName(QStringLiteral("card"));
  setProperty("pop", name);
  setFocusPolicy(Qt::StrongFocus);
  col_->setContentsMargins(14, 8, 14, 12);
  col_->setSpacing(8);
  auto* row = new QHBoxLayout;
  auto* title = new QLabel(head);
  title->setFont(type_face(15, 600));
  auto* close = new QPushButton(QStringLiteral("Close"));
  close->setProperty("kind", "bare");
  close->setObjectName(name + QStringLiteral("-close"));
  row->addWidget(title, 1);
  row->addWidget(close);
  col_->addLayout(row);
  connect(close, &QPushButton::clicked, this, [this] {
    hide();
    emit closed();
  });
  hide();
}
void PopCard::show_at(const QPoint& top_right) {
  adjustSize();
  move(std::max(8, top_right.x() - width()), top_right.y());
  show();
  raise();
}
void PopCard::toggle_at(const QPoint& top_right, const std::vector<PopCard*>& others) {
  for (PopCard* c : others)
    if (c != this) c->hide();
  if (isVisible()) return hide();
  refresh();
  show_at(top_right);
  setFocus();
}
QWidget* PopCard::renewed(QWidget* body) {
  retire(body);
  auto* fresh = new QWidget;
  col_->insertWidget(1, fresh, 1);
  return fresh;
}

void PopCard::fit(QWidget* body) {
  if (!isVisible()) return;
  body->show();
  adjustSize();
}

void PopCard::retire(QWidget* body) {
  if (!body) return;
  col_->removeWidget(body);
  body->hide();
  for (QWidget* w : body->findChildren<QWidget*>()) w->setObjectName(QString());
  body->deleteLater();
}
QLabel* card_words(const QString& text, const char* role) {
  auto* l = new QLabel(text);
  l->setWordWrap(true);
  if (role) l->setProperty("role", role);
  return l;
}
void PopCard::keyPressEvent(QKeyEvent* e) {
  if (e->key() != Qt::Key_Escape) return QFrame::keyPressEvent(e);
  hide();
  emit closed();
}

FitPicture::FitPicture(QWidget* parent) : QWidget(parent) {
  setFixedSize(340, 170);
  setAccessibleName(QStringLiteral("Zones of hole and shaft"));
}
void FitPicture::show_fit(const std::optional<Fit>& f) {
  fit_ = f;
  update();
}
void FitPicture::paintEvent(QPaintEvent*) {
  if (!fit_) return;
  const Fit& f = *fit_;
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const double low = std::min({f.hole.lower_mm, f.shaft.lower_mm, f.nominal_mm}) - f.nominal_mm,
               high = std::max({f.hole.upper_mm, f.shaft.upper_mm, f.nominal_mm}) - f.nominal_mm;
  const double room = 0.12 * (high - low);
  const auto y = [&](double v) { return 12 + (height() - 24) * (high + room - v) / (high - low + 2 * room); };
  p.setPen(QPen(pal().rule.darker(115), 1, Qt::DashLine));
  p.drawLine(QPointF(0, y(0)), QPointF(width(), y(0)));
  p.setFont(type_face(12));
  p.setPen(pal().quiet);
  p.drawText(QRectF(0, y(0) - 17, 70, 16), Qt::AlignLeft, qs(significant(f.nominal_mm, 5)) + QStringLiteral(" mm"));
  const auto zone = [&](double x, const Limits& l, const QColor& c, Qt::BrushStyle pattern, const QString& words) {
    const QRectF r(x, y(l.upper_mm - f.nominal_mm), 86,
                   std::max(2.0, y(l.lower_mm - f.nominal_mm) - y(l.upper_mm - f.nominal_mm)));
    QColor fill = c;
    fill.setAlphaF(0.25f);
    p.fillRect(r, fill);
    p.fillRect(r, QBrush(c, pattern));
    p.setPen(QPen(c, 1.6));
    p.setBrush(Qt::NoBrush);
    p.drawRect(r);
    p.setPen(pal().ink);
    p.setFont(type_face(13, 600));
    QRectF label(x, r.center().y() - 10, 86, 20);
    QColor back = pal().panel;
    p.fillRect(QRectF(label.center().x() - 22, label.y() + 1, 44, 18), back);
    p.drawText(label, Qt::AlignCenter, words);
    p.setFont(type_face(12));
    p.setPen(pal().quiet);
    p.drawText(QRectF(x + 90, r.top() - 8, 50, 16), Qt::AlignLeft | Qt::AlignVCenter,
               micron(l.upper_mm - f.nominal_mm));
    p.drawText(QRectF(x + 90, r.bottom() - 8, 50, 16), Qt::AlignLeft | Qt::AlignVCenter,
               micron(l.lower_mm - f.nominal_mm));
  };
  zone(70, f.hole, pal().note, Qt::BDiagPattern, qs(f.hole_class.text()));
  zone(210, f.shaft, pal().caution, Qt::Dense6Pattern, qs(f.shaft_class.text()));
}

FitsCard::FitsCard(QWidget* parent) : PopCard(QStringLiteral("Fits"), QStringLiteral("fits"), parent) {
  auto* row = new QHBoxLayout;
  edit_ = add_line(row, QStringLiteral("Hole and shaft"), QStringLiteral("fit-text"), 160);
  edit_->setText(QStringLiteral("25H7/g6"));
  row->addStretch(1);
  col_->addLayout(row);
  picture_ = new FitPicture;
  col_->addWidget(picture_);
  told_ = new QLabel;
  told_->setObjectName(QStringLiteral("fit-told"));
  told_->setWordWrap(true);
  told_->setFixedWidth(340);
  col_->addWidget(told_);
  connect(edit_, &QLineEdit::textChanged, this, &FitsCard::work_out);
  work_out();
}
void FitsCard::work_out() {
  const auto f = read_fit(edit_->text().toStdString());
  picture_->show_fit(f ? std::optional(*f) : std::nullopt);
  if (!f) {
    told_->setText(qs(f.error().text()));
    return;
  }
  const auto limits = [](const Limits& l) {
    return qs(fixed(l.lower_mm, 4)) + QStringLiteral(" to ") + qs(fixed(l.upper_mm, 4)) + QStringLiteral(" mm");
  };
  told_->setText(
      QStringLiteral("Hole %1\nShaft %2\nClearance %3 to %4 µm: %5. Zones in µm from the nominal (ISO 286-1).")
          .arg(limits(f->hole), limits(f->shaft), micron(f->clearance_min_mm), micron(f->clearance_max_mm),
               QString::fromUtf8(f->nature().data(), static_cast<qsizetype>(f->nature().size()))));
}

MateCard::MateCard(Desk& desk, QWidget* parent)
    : PopCard(QStringLiteral("Limits from the mate"), QStringLiteral("mate"), parent), desk_(desk) {
  auto* row = new QHBoxLayout;
  mate_ = add_line(row, QStringLiteral("The mate measures, or is of class"), QStringLiteral("mate-size"), 240);
  mate_->setPlaceholderText(QStringLiteral("7.98   7.98..8.00   8h6"));
  row->addStretch(1);
  col_->addLayout(row);
  wish_ = new Chips;
  wish_->add(QStringLiteral("slides"), QStringLiteral("wish-slides"));
  wish_->add(QStringLiteral("turns"), QStringLiteral("wish-turns"));
  wish_->add(QStringLiteral("presses"), QStringLiteral("wish-presses"));
  wish_->add(QStringLiteral("snaps"), QStringLiteral("wish-snaps"));
  wish_->set_current(0);
  col_->addWidget(wish_);
  told_ = new QLabel;
  told_->setObjectName(QStringLiteral("mate-told"));
  told_->setWordWrap(true);
  told_->setFixedWidth(330);
  told_->setMinimumHeight(54);
  told_->setAlignment(Qt::AlignTop);
  col_->addWidget(told_);
  use_ = new QPushButton(QStringLiteral("Use these limits"));
  use_->setObjectName(QStringLiteral("mate-use"));
  use_->setProperty("kind", "main");
  col_->addWidget(use_, 0, Qt::AlignLeft);
  connect(mate_, &QLineEdit::textChanged, this, &MateCard::work_out);
  connect(wish_, &Chips::chosen, this, &MateCard::work_out);
  connect(use_, &QPushButton::clicked, this, [this] {
    if (!found_) return;
    Job next = desk_.job();
    for (MeasuredSize& s : next.original.sizes)
      if (s.id == id_) {
        s.lower_mm = found_->limits.lower_mm;
        s.upper_mm = found_->limits.upper_mm;
        s.limits_from = found_->how;
        s.limits_guessed = false;
      }
    if (desk_.edit(next, QStringLiteral("limits from the mate"))) hide();
  });
}
void MateCard::for_size(const std::string& id) {
  id_ = id;
  mate_->clear();
  mate_->setFocus();
  work_out();
}
void MateCard::work_out() {
  found_.reset();
  use_->setEnabled(false);
  const MeasuredSize* s = desk_.job().original.size(id_);
  if (!s) return;
  const bool hole = s->kind == SizeKind::bore || s->kind == SizeKind::slot;
  const std::string text = trim(mate_->text().toStdString());
  if (text.empty()) {
    told_->setText(QStringLiteral("Type what the part that goes %1 measures, then what it must do there.")
                       .arg(hole ? QStringLiteral("in") : QStringLiteral("round it")));
    return;
  }
  Result<Limits> mate = [&]() -> Result<Limits> {
    if (const auto v = parse_number(text)) return Limits{*v, *v};
    if (text.find_first_of("abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ") != std::string::npos) {
      const auto c = classed_size(text);
      if (!c) return c.error();
      return c->limits;
    }
    const auto r = read_limits(text, s->nominal_mm);
    if (!r) return r.error();
    return r->limits;
  }();
  const FitRules& rules = desk_.shop().rules.size.fits;
  const auto wish = static_cast<FitWish>(std::max(0, wish_->current()));
  auto found = mate ? limits_for_mate(*mate, hole, wish, rules) : Result<LimitsForMate>(mate.error());
  if (!found) {
    told_->setText(qs(found.error().text()));
    return;
  }
  found_ = *found;
  use_->setEnabled(!desk_.read_only());
  const bool grips = found->clearance_max_mm <= 0;
  told_->setText(
      QStringLiteral("%1 mm to %2 mm keep a %3 of %4 to %5 mm whatever the mate measures. Rule of thumb: %6.")
          .arg(qs(fixed(found->limits.lower_mm, 3)), qs(fixed(found->limits.upper_mm, 3)),
               grips ? QStringLiteral("grip") : QStringLiteral("clearance"),
               qs(fixed(grips ? -found->clearance_max_mm : found->clearance_min_mm, 3)),
               qs(fixed(grips ? -found->clearance_min_mm : found->clearance_max_mm, 3)),
               wish == FitWish::snaps
                   ? QStringLiteral("a snap grips by %1–%2 % of its size")
                         .arg(qs(fixed(rules.snap_grip_min_pct, 1)), qs(fixed(rules.snap_grip_max_pct, 1)))
                   : qs(std::string(name_of(wish))) + QStringLiteral(" as ") +
                         qs(wish == FitWish::slides  ? rules.slides
                            : wish == FitWish::turns ? rules.turns
                                                     : rules.presses)));
}

}  // namespace palinform::app
