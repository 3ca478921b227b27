#include "mix/meeting_view.hpp"

#include <QDate>
#include <QHBoxLayout>
#include <QMouseEvent>
#include <QPainter>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "shell/desk.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

namespace {

constexpr int names_w = 216, heads_h = 96;

QChar letter_of(Does d) {
  constexpr char letters[] = {'W', 'G', 'B', 'L', 'P'};  // wet, grows, bubbles, life, peels
  return QLatin1Char(letters[static_cast<size_t>(d)]);
}

std::string_view short_words(Does d) {
  constexpr std::array words{"stays wet", "grows in", "bubbles", "wears it", "peels"};
  return words[static_cast<size_t>(d)];
}

}  // namespace

MeetingSquare::MeetingSquare(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  setMinimumHeight(300);
  setAccessibleName(QStringLiteral("What meets what"));
}

void MeetingSquare::refresh() {
  const auto r = desk_.plan().fresh(results::meetings);
  if (r.value != r_) row_ = col_ = -1;
  r_ = r.value;
  update();
}

QRect MeetingSquare::cell(int row, int col) const {
  const int n = r_ ? static_cast<int>(r_->parties.size()) : 0;
  const int side = n ? std::clamp(std::min((width() - names_w - 120) / n, (height() - heads_h - 8) / n), 26, 92) : 40;
  return QRect(names_w + col * side, heads_h + row * side, side, side);
}

QRect MeetingSquare::crossing(const std::string& a, const std::string& b) const {
  if (!r_) return {};
  int row = -1, col = -1;
  for (size_t i = 0; i < r_->parties.size(); ++i) {
    if (r_->parties[i].id == a) row = static_cast<int>(i);
    if (r_->parties[i].id == b) col = static_cast<int>(i);
  }
  if (row < 0 || col < 0) return {};
  return cell(std::max(row, col), std::min(row, col));
}

void MeetingSquare::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.setFont(type_face(14));
  if (!r_ || r_->parties.empty()) {
    p.setPen(pal().quiet);
    p.drawText(rect(), Qt::AlignCenter,
               QStringLiteral("Choose rubber, casting material and what the master is made of;\n"
                              "what stops or sticks to what stands here then."));
    return;
  }
  const int n = static_cast<int>(r_->parties.size());
  for (int i = 0; i < n; ++i) {
    const QRect first = cell(i, 0), own = cell(i, i);
    p.setPen(pal().ink);
    p.setFont(type_face(14, i == row_ || i == col_ ? 600 : 400));
    p.drawText(QRect(0, first.top(), names_w - 10, first.height()),
               Qt::AlignVCenter | Qt::AlignRight | Qt::TextWordWrap, qs(r_->parties[static_cast<size_t>(i)].name));
    // Above its column, along the slope.
    if (i + 1 < n) {
      p.save();
      p.translate(own.center().x(), cell(i + 1, i).top() - 8);
      p.rotate(-32);
      p.setFont(type_face(12));
      p.setPen(pal().quiet);
      p.drawText(QRectF(0, -14, 190, 16), Qt::AlignVCenter, qs(r_->parties[static_cast<size_t>(i)].name));
      p.restore();
    }
    for (int k = 0; k < i; ++k) {
      const QRectF c = QRectF(cell(i, k)).adjusted(2, 2, -2, -2);
      p.setPen(QPen(pal().rule, 1));
      p.setBrush(pal().panel);
      p.drawRect(c);
      p.setPen(Qt::NoPen);
      p.setBrush(pal().rule);
      p.drawEllipse(c.center(), 2.5, 2.5);
    }
  }
  for (const Met& m : r_->met) {
    const QRectF c =
        QRectF(cell(static_cast<int>(std::max(m.a, m.b)), static_cast<int>(std::min(m.a, m.b)))).adjusted(3, 3, -3, -3);
    const bool settled = !m.settled.empty();
    const Severity how = m.hardened ? Severity::stop : m.rule->severity;
    const QColor colour = how == Severity::stop ? pal().stop : how == Severity::caution ? pal().caution : pal().note;
    if (settled) {
      p.fillRect(c, pal().ground);
      p.setBrush(Qt::NoBrush);
      p.setPen(QPen(pal().act, 2));
      p.drawRect(c);
    } else {
      fill_pattern(p, c, colour,
                   how == Severity::stop      ? Qt::NoBrush
                   : how == Severity::caution ? Qt::BDiagPattern
                                              : Qt::Dense6Pattern);
      const QRectF plate(c.center().x() - 10, c.center().y() - 10, 20, 20);
      p.fillRect(plate, pal().ground);
    }
    p.setPen(settled ? pal().act : pal().ink);
    p.setFont(type_face(14, 700));
    p.drawText(c, Qt::AlignCenter, settled ? QStringLiteral("✓") : QString(letter_of(m.rule->does)));
    if (c.height() >= 58) {
      // Room to say it.
      const QRectF words(c.left(), c.bottom() - 19, c.width(), 17);
      p.fillRect(words, pal().ground);
      p.setFont(type_face(12));
      p.drawText(words, Qt::AlignCenter,
                 settled ? QStringLiteral("settled") : qs(std::string(short_words(m.rule->does))));
    }
  }
  if (row_ >= 0) {
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(pal().ink, 2.4));
    p.drawRect(QRectF(cell(row_, col_)).adjusted(1, 1, -1, -1));
  }
}

void MeetingSquare::mousePressEvent(QMouseEvent* e) {
  if (!r_) return;
  const int n = static_cast<int>(r_->parties.size());
  for (int i = 0; i < n; ++i)
    for (int k = 0; k < i; ++k) {
      if (!cell(i, k).contains(e->pos())) continue;
      row_ = i, col_ = k;
      const Party &a = r_->parties[static_cast<size_t>(k)], &b = r_->parties[static_cast<size_t>(i)];
      words_ = QStringLiteral("<b>%1 and %2</b>: ").arg(qs(a.name).toHtmlEscaped(), qs(b.name).toHtmlEscaped());
      bool any = false;
      for (const Met& m : r_->met) {
        if (std::max(m.a, m.b) != static_cast<size_t>(i) || std::min(m.a, m.b) != static_cast<size_t>(k)) continue;
        any = true;
        words_ += QStringLiteral("%1. %2 %3 ")
                      .arg(qs(std::string(words_of(m.rule->does))), qs(m.rule->why).toHtmlEscaped(),
                           qs(m.rule->remedy).toHtmlEscaped());
        if (!m.settled.empty()) words_ += QStringLiteral("<b>Settled: %1.</b> ").arg(qs(m.settled).toHtmlEscaped());
        if (m.hardened) words_ += QStringLiteral("<b>The patch test stayed wet.</b> ");
      }
      if (!any) words_ += QStringLiteral("nothing is known against it.");
      update();
      emit told(words_);
      return;
    }
}

MeetingView::MeetingView(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  auto* col = new QVBoxLayout(this);
  col->setContentsMargins(0, 0, 0, 0);
  col->setSpacing(8);
  auto* row = new QHBoxLayout;
  row->setSpacing(10);
  clay_ = new ChoiceField(QStringLiteral("Clay"), QStringLiteral("contact-clay"), 150);
  clay_->set_items({{"unsaid", QStringLiteral("not said")},
                    {"sulphur-free", QStringLiteral("without sulphur")},
                    {"sulphur", QStringLiteral("with sulphur")},
                    {"water", QStringLiteral("water clay")}});
  gloves_ = new ChoiceField(QStringLiteral("Gloves"), QStringLiteral("contact-gloves"), 104);
  gloves_->set_items({{"unsaid", QStringLiteral("not said")},
                      {"nitrile", QStringLiteral("nitrile")},
                      {"vinyl", QStringLiteral("vinyl")},
                      {"latex", QStringLiteral("latex")}});
  stick_ = new ChoiceField(QStringLiteral("Stirred with"), QStringLiteral("contact-stick"), 104);
  stick_->set_items(
      {{"unsaid", QStringLiteral("not said")}, {"metal", QStringLiteral("metal")}, {"wood", QStringLiteral("wood")}});
  row->addWidget(clay_);
  row->addWidget(gloves_);
  row->addWidget(stick_);
  released_ = chip(QStringLiteral("Released"), QStringLiteral("contact-released"), true);
  barrier_ = chip(QStringLiteral("Barrier film"), QStringLiteral("contact-barrier"), true);
  sealed_ = chip(QStringLiteral("Dry and sealed"), QStringLiteral("contact-sealed"), true);
  for (QPushButton* b : {released_, barrier_, sealed_}) row->addWidget(b, 0, Qt::AlignBottom);
  row->addStretch(1);
  col->addLayout(row);
  square_ = new MeetingSquare(desk_, this);
  col->addWidget(square_, 1);
  told_ = remark();
  told_->setTextFormat(Qt::RichText);
  told_->setMinimumHeight(40);
  col->addWidget(told_);
  auto* tests = new QHBoxLayout;
  tests->setSpacing(8);
  lot_ = new ChoiceField(QStringLiteral("Tests made with lot"), QStringLiteral("trial-lot"), 220);
  tests->addWidget(lot_);
  const char* words[2] = {"Patch cured", "Patch stayed wet"};
  const char* cups[2] = {"Cup cured", "Cup stayed wet"};
  for (int i = 0; i < 2; ++i) {
    patch_[i] = chip(QString::fromLatin1(words[i]), i ? QStringLiteral("patch-wet") : QStringLiteral("patch-cured"));
    tests->addWidget(patch_[i], 0, Qt::AlignBottom);
    connect(patch_[i], &QPushButton::clicked, this, [this, i] { keep_trial(TrialKind::patch, i == 0); });
  }
  for (int i = 0; i < 2; ++i) {
    cup_[i] = chip(QString::fromLatin1(cups[i]), i ? QStringLiteral("cup-wet") : QStringLiteral("cup-cured"));
    tests->addWidget(cup_[i], 0, Qt::AlignBottom);
    connect(cup_[i], &QPushButton::clicked, this, [this, i] { keep_trial(TrialKind::cup, i == 0); });
  }
  tests->addStretch(1);
  col->addLayout(tests);

  connect(square_, &MeetingSquare::told, this, [this](const QString& told) { told_->setText(told); });
  const auto contact = [this](ChoiceField* field, const char* what) {
    connect(field, &ChoiceField::chosen, this, [this, what](const std::string& value) {
      desk_.apply({"", edits::SetContact{what, value}}, QString::fromLatin1(what));
    });
  };
  contact(clay_, "clay"), contact(gloves_, "gloves"), contact(stick_, "stick");
  const auto flag = [this](QPushButton* b, const char* what) {
    connect(b, &QPushButton::clicked, this, [this, what](bool on) {
      desk_.apply({"", edits::SetContact{what, on ? "yes" : "no"}}, QString::fromLatin1(what));
    });
  };
  flag(released_, "released"), flag(barrier_, "barrier"), flag(sealed_, "sealed");
}

void MeetingView::keep_trial(TrialKind kind, bool cured) {
  Trial t;
  t.lot_id = lot_->box()->currentData().toString().toLongLong();
  t.kind = kind;
  if (kind == TrialKind::patch)
    t.surface = desk_.job().size.generations > 1 ? "own-casting" : desk_.job().original.finish.master_material;
  t.cured = cured;
  t.on = QDate::currentDate().toString(Qt::ISODate).toStdString();
  if (desk_.keep_trial(t))
    emit desk_.message(kind == TrialKind::patch ? QStringLiteral("The patch test is kept with its lot and surface.")
                                                : QStringLiteral("The test cup is kept with its lot."),
                       false);
}

void MeetingView::refresh() {
  const Contacts& c = desk_.job().original.finish.contacts;
  clay_->show_current(std::string(name_of(c.clay)));
  gloves_->show_current(std::string(name_of(c.gloves)));
  stick_->show_current(std::string(name_of(c.stick)));
  released_->setChecked(c.released);
  barrier_->setChecked(c.barrier);
  sealed_->setChecked(c.sealed);
  std::vector<std::pair<std::string, QString>> lots;
  for (const Lot& l : desk_.books().lots)
    if (l.material_id == desk_.job().mix.silicone_id && l.left_g > 0)
      lots.emplace_back(std::to_string(l.id), qs(l.label));
  const bool any = !lots.empty() && !desk_.read_only();
  if (lots.empty()) lots.emplace_back("0", QStringLiteral("no lot of this rubber"));
  lot_->set_items(lots);
  const bool surface = desk_.job().size.generations > 1 || !desk_.job().original.finish.master_material.empty();
  for (int i = 0; i < 2; ++i) patch_[i]->setEnabled(any && surface), cup_[i]->setEnabled(any);
  square_->refresh();
  if (square_->words().isEmpty())
    told_->setText(
        QStringLiteral("W stays wet · G grows together · B bubbles · L costs life of the mould · P does not hold. "
                       "A tick: settled. Choose a crossing to read why and what to do."));
}

}  // namespace palinform::app
