#include "check/check_page.hpp"

#include <QDate>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QPainter>
#include <QScrollArea>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "overview/first_article.hpp"
#include "sheet_pdf.hpp"
#include "shell/desk.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

CheckStrip::CheckStrip(Desk& desk, std::string size_id, QWidget* parent)
    : QWidget(parent), desk_(desk), size_id_(std::move(size_id)) {
  setFixedHeight(72);
  readings_ = new QLineEdit(this);
  readings_->setObjectName(QStringLiteral("reading-") + qs(size_id_));
  readings_->setPlaceholderText(QStringLiteral("readings"));
  connect(readings_, &QLineEdit::textEdited, this, [this] { clear_fault(readings_); });
  connect(readings_, &QLineEdit::editingFinished, this, [this] {
    if (!readings_->isModified()) return;
    readings_->setModified(false);
    const auto values = parse_numbers(readings_->text().toStdString());
    if (!values) return mark_fault(readings_, QStringLiteral("Numbers only, with spaces between: 25.02 25.01"));
    MeasuredSize probe = size_;
    probe.readings_mm.clear();
    for (const double v : *values) probe.readings_mm.push_back(desk_.units().mm(v));
    if (const auto ok = check_size(probe); !ok) return mark_fault(readings_, qs(ok.error().text()));
    emit entered(probe.readings_mm);
  });
}

void CheckStrip::show_judgement(const MeasuredSize& s, const Judgement& j, const std::vector<double>& values,
                                bool guard, bool marked) {
  size_ = s;
  judgement_ = j;
  guard_ = guard;
  marked_ = marked;
  const Units& u = desk_.units();
  readings_->setAccessibleName(QStringLiteral("Readings of %1, %2").arg(qs(s.name), u.length_name()));
  if (!readings_->isModified()) {
    QStringList list;
    for (const double v : values) list << qs(fixed(u.length(v), u.inch ? 4 : 2));
    readings_->setText(list.join(QLatin1Char(' ')));
    readings_->setModified(false);
    clear_fault(readings_);
  }
  readings_->setReadOnly(desk_.read_only());
  update();
}

void CheckStrip::resizeEvent(QResizeEvent*) { readings_->setGeometry(166, 18, 166, 34); }

void CheckStrip::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const Units& u = desk_.units();
  if (marked_) {
    p.fillRect(rect().adjusted(0, 2, 0, -2), pal().panel);
    p.fillRect(QRectF(0, 2, 3, height() - 4), pal().act);
  }
  p.setPen(pal().ink);
  p.setFont(type_face(14, 600));
  p.drawText(QRectF(12, 14, 150, 20), Qt::AlignVCenter, qs(size_.name));
  p.setFont(type_face(13));
  p.setPen(pal().quiet);
  p.drawText(QRectF(12, 36, 150, 18), Qt::AlignVCenter,
             u.inch ? u.length_text(size_.lower_mm, 3) + QStringLiteral("–") + u.length_text(size_.upper_mm, 3)
                    : qs(limits_text(size_)) + QStringLiteral(" mm"));

  const qreal left = 348, right = width() - 150, mid = (left + right) / 2, gap = (right - left) * 0.30,
              y = height() / 2.0;
  const double centre = 0.5 * (size_.lower_mm + size_.upper_mm),
               half = std::max(0.5 * (size_.upper_mm - size_.lower_mm), 1e-6);
  const auto x = [&](double mm) { return mid + std::clamp((mm - centre) / half, -1.62, 1.62) * gap; };
  const qreal wl = x(size_.lower_mm), wr = x(size_.upper_mm);
  p.fillRect(QRectF(left, y - 16, wl - left, 32), pal().slip);
  p.fillRect(QRectF(wr, y - 16, right - wr, 32), pal().slip);
  const bool measured = judgement_.reading.n > 0;
  if (measured && guard_) {  // the guard band inside each wall: where the calipers cannot tell
    const double g = std::min(judgement_.expanded_mm, half);
    QColor band = pal().quiet;
    band.setAlphaF(0.45f);
    for (const QRectF& r : {QRectF(wl, y - 16, x(size_.lower_mm + g) - wl, 32),
                            QRectF(x(size_.upper_mm - g), y - 16, wr - x(size_.upper_mm - g), 32)})
      p.fillRect(r, QBrush(band, Qt::FDiagPattern));
  }
  p.setPen(QPen(pal().ink, 3));
  p.drawLine(QPointF(wl, y - 22), QPointF(wl, y + 22));
  p.drawLine(QPointF(wr, y - 22), QPointF(wr, y + 22));
  if (!measured) {
    p.setPen(pal().quiet);
    p.drawText(QRectF(wl, y - 10, wr - wl, 20), Qt::AlignCenter, QStringLiteral("not measured"));
    return;
  }
  const Conformity v = judgement_.verdict;
  const QColor c = v == Conformity::conforms ? pal().act : v == Conformity::fails ? pal().stop : pal().caution;
  const double m = judgement_.reading.mean_mm, e = judgement_.expanded_mm;
  p.setPen(QPen(c, 6, Qt::SolidLine, Qt::FlatCap));
  p.drawLine(QPointF(x(m - e), y), QPointF(std::max(x(m + e), x(m - e) + 3), y));
  p.setPen(QPen(pal().ink, 2));
  p.setBrush(c);
  const QPointF at(x(m), y);
  if (v == Conformity::conforms) {
    p.drawEllipse(at, 7, 7);
  } else if (v == Conformity::fails) {
    p.drawRect(QRectF(at.x() - 7, at.y() - 7, 14, 14));
    p.drawLine(at - QPointF(4, 4), at + QPointF(4, 4));
    p.drawLine(at - QPointF(4, -4), at + QPointF(4, -4));
  } else {
    p.drawPolygon(QPolygonF() << at + QPointF(0, -9) << at + QPointF(9, 0) << at + QPointF(0, 9)
                              << at + QPointF(-9, 0));
  }
  const bool off = std::abs(m - centre) > 1.62 * half;
  if (off) {
    p.setPen(pal().stop);
    p.setFont(type_face(12));
    p.drawText(QRectF(left, y + 17, right - left, 16), m < centre ? Qt::AlignLeft : Qt::AlignRight,
               m < centre ? QStringLiteral("◂ off the strip") : QStringLiteral("off the strip ▸"));
  }
  p.setPen(pal().ink);
  p.setFont(type_face(14, 600));
  p.drawText(QRectF(right + 8, 10, 138, 20), Qt::AlignVCenter | Qt::AlignRight, u.length_unit_text(m, 3));
  p.setFont(type_face(13));
  p.setPen(pal().quiet);
  p.drawText(QRectF(right + 8, 28, 138, 18), Qt::AlignVCenter | Qt::AlignRight,
             QStringLiteral("±%1").arg(u.length_text(e, 3)) +
                 (judgement_.reading.type_a ? QString() : QStringLiteral(" · one reading")));
  p.setPen(v == Conformity::conforms ? pal().act : c.darker(pal().dark ? 90 : 130));
  p.setFont(type_face(13, 600));
  p.drawText(QRectF(right + 8, 46, 138, 18), Qt::AlignVCenter | Qt::AlignRight,
             v == Conformity::conforms ? QStringLiteral("conforms")
             : v == Conformity::fails
                 ? QStringLiteral("fails by %1")
                       .arg(u.length_text(m < size_.lower_mm ? size_.lower_mm - m : m - size_.upper_mm, 3))
                 : QStringLiteral("undecided"));
}

CheckPage::CheckPage(Desk& desk, QWidget* parent) : StagePage(desk, parent) {
  auto* col = new QVBoxLayout(this);
  col->setContentsMargins(16, 14, 16, 10);
  col->setSpacing(8);
  head_ = new QWidget;
  auto* top = new QHBoxLayout(head_);
  top->setContentsMargins(0, 0, 0, 0);
  top->setSpacing(8);
  castings_ = new Chips;
  add_ = chip(QStringLiteral("New casting"), QStringLiteral("new-casting"));
  rules_ = new Chips;
  rules_->add(QStringLiteral("Guard band"), QStringLiteral("rule-guard"))
      ->setToolTip(
          QStringLiteral("Conforms only where the calipers' uncertainty fits inside the limits (ISO 14253-1)"));
  rules_->add(QStringLiteral("Plain limits"), QStringLiteral("rule-plain"));
  top->addWidget(castings_);
  top->addWidget(add_);
  top->addStretch(1);
  views_ = new Chips;
  views_->add(QStringLiteral("Look"), QStringLiteral("check-look"));
  views_->add(QStringLiteral("Sizes"), QStringLiteral("check-sizes"));
  views_->add(QStringLiteral("By pull"), QStringLiteral("check-pulls"));
  views_->add(QStringLiteral("Scan"), QStringLiteral("check-scan"));
  top->addWidget(views_);
  col->addWidget(head_);
  auto* line = new QHBoxLayout;
  told_ = new QLabel;
  told_->setTextFormat(Qt::RichText);
  note_ = new QLineEdit;
  note_->setObjectName(QStringLiteral("casting-note"));
  note_->setPlaceholderText(QStringLiteral("note on this casting"));
  note_->setAccessibleName(QStringLiteral("Note on this casting"));
  remove_ = new QPushButton(QStringLiteral("Remove"));
  remove_->setProperty("kind", "bare");
  line->addWidget(told_);
  line->addWidget(note_, 1);
  line->addWidget(rules_);
  sheet_ = new QPushButton(QStringLiteral("Sheet…"));
  sheet_->setProperty("kind", "bare");
  sheet_->setObjectName(QStringLiteral("first-article"));
  sheet_->setToolTip(QStringLiteral("First-article sheet: sizes, verdicts, what is seen, lines to sign"));
  line->addWidget(sheet_);
  line->addWidget(remove_);
  col->addLayout(line);
  scroll_ = new QScrollArea;
  scroll_->setFrameShape(QFrame::NoFrame);
  scroll_->setWidgetResizable(true);
  scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  col->addWidget(scroll_, 1);
  look_ = new LookView(desk);
  pulls_ = new RunView(desk);
  scan_ = new ScanView(desk);
  for (QWidget* w : std::initializer_list<QWidget*>{look_, pulls_, scan_}) col->addWidget(w, 1);
  empty_ = remark();
  empty_->setAlignment(Qt::AlignCenter);
  col->addWidget(empty_, 1);

  connect(add_, &QPushButton::clicked, this, &CheckPage::begin_casting);
  connect(sheet_, &QPushButton::clicked, this, [this] {
    const QString path = QFileDialog::getSaveFileName(this, QStringLiteral("First-article sheet"),
                                                      qs(desk_.job().name) + QStringLiteral(" first article.pdf"),
                                                      QStringLiteral("Sheet (*.pdf);;Workbook (*.xlsx)"));
    if (!path.isEmpty()) write_first_article(path);
  });
  connect(views_, &Chips::chosen, this, [this](int i) { show_view(static_cast<View>(i)); });
  connect(castings_, &Chips::chosen, this, [this](int i) {
    casting_ = i;
    refresh();
  });
  connect(rules_, &Chips::chosen, this, [this](int i) {
    Job next = desk_.job();
    next.check.rule = i == 0 ? DecisionRule::guard : DecisionRule::plain;
    desk_.edit(next, QStringLiteral("decision rule"));
  });
  connect(note_, &QLineEdit::editingFinished, this, [this] {
    Job next = desk_.job();
    if (casting_ < 0 || casting_ >= static_cast<int>(next.check.castings.size())) return;
    next.check.castings[static_cast<size_t>(casting_)].note = note_->text().trimmed().toStdString();
    desk_.edit(next, QStringLiteral("note on a casting"));
  });
  connect(remove_, &QPushButton::clicked, this, [this] {
    Job next = desk_.job();
    if (casting_ < 0 || casting_ >= static_cast<int>(next.check.castings.size())) return;
    next.check.castings.erase(next.check.castings.begin() + casting_);
    casting_ = -1;
    desk_.edit(next, QStringLiteral("casting removed"));
  });
}

void CheckPage::show_view(View v) {
  view_ = v;
  refresh();
}

void CheckPage::write_first_article(const QString& path) {
  const Job& job = desk_.job();
  if (casting_ < 0 || casting_ >= static_cast<int>(job.check.castings.size())) return;
  const auto check = desk_.plan().fresh(results::check);
  const auto whys = desk_.plan().fresh(results::whys);
  const auto scan = scan_of(desk_.plan(), job.check.castings[static_cast<size_t>(casting_)].number);
  const auto resin = desk_.resin();
  FirstArticle a = first_article(job, static_cast<size_t>(casting_), check.get(), whys.get(), scan.get(),
                                 resin ? resin->name : std::string());
  desk_.write_in_background(QStringLiteral("first-article sheet"), path,
                            [a = std::move(a), path = path.toStdString(), shown = desk_.shop().shown](const Progress&) {
                              return path.ends_with(".xlsx") ? write_first_article_xlsx(a, path)
                                                             : write_drawings(first_article_pages(a, shown), path);
                            });
}

bool CheckPage::settled() const {
  if (look_->isVisible()) return look_->view()->passes() >= PartView::settled_passes;
  if (scan_->isVisible() && scan_->view()->isVisible()) return scan_->view()->passes() >= PartView::settled_passes;
  return true;
}

void CheckPage::begin_casting() {
  Job next = desk_.job();
  Casting c;
  for (const Casting& k : next.check.castings) c.number = std::max(c.number, k.number + 1);
  c.made_on = QDate::currentDate().toString(Qt::ISODate).toStdString();
  next.check.castings.push_back(c);
  casting_ = static_cast<int>(next.check.castings.size()) - 1;
  if (desk_.edit(next, QStringLiteral("casting begun")) && view_ == View::sizes && !strips_.empty())
    strips_.front()->readings()->setFocus();
}

void CheckPage::take_reading(double mm) {
  if (!desk_.job().original.sizes.empty()) show_view(View::sizes);
  // The shop's round: each size so many times, one after the other; a field that somebody put the cursor in goes
  // before.
  const auto wanted = static_cast<qsizetype>(desk_.shop().rules.check.readings_a_size);
  const auto taken = [](CheckStrip* s) {
    return s->readings()->text().split(QLatin1Char(' '), Qt::SkipEmptyParts).size();
  };
  CheckStrip* into = nullptr;
  for (CheckStrip* s : strips_)
    if (window()->focusWidget() == s->readings() && !(in_round_ == s && taken(s) >= wanted)) into = s;
  for (CheckStrip* s : strips_)
    if (!into && taken(s) < wanted) into = s;
  if (!into) return;
  if (wanted > 1) {
    in_round_ = into;
    into->readings()->setFocus();
  }
  const Units& u = desk_.units();
  QString text = into->readings()->text().trimmed();
  if (!text.isEmpty()) text += QLatin1Char(' ');
  into->readings()->setText(text + qs(fixed(u.length(mm), u.inch ? 4 : 2)));
  into->readings()->setModified(true);
  emit into->readings()->editingFinished();
}

CheckStrip* CheckPage::strip(const std::string& id) const {
  for (CheckStrip* s : strips_)
    if (s->size_id() == id) return s;
  return nullptr;
}

void CheckPage::rebuild(const std::string& signature) {
  shown_ = signature;
  strips_.clear();
  in_round_ = nullptr;
  auto* inside = new QWidget;
  auto* col = new QVBoxLayout(inside);
  col->setContentsMargins(0, 0, 8, 0);
  col->setSpacing(0);
  for (const MeasuredSize& s : desk_.job().original.sizes) {
    auto* strip = new CheckStrip(desk_, s.id, inside);
    connect(strip, &CheckStrip::entered, this, [this, id = s.id](const std::vector<double>& values) {
      Job next = desk_.job();
      if (casting_ < 0 || casting_ >= static_cast<int>(next.check.castings.size())) return;
      Casting& c = next.check.castings[static_cast<size_t>(casting_)];
      std::erase_if(c.readings, [&](const CastReading& r) { return r.size_id == id; });
      if (!values.empty()) c.readings.push_back({id, values});
      desk_.edit(next, QStringLiteral("readings of casting %1").arg(c.number));
    });
    col->addWidget(strip);
    strips_.push_back(strip);
  }
  col->addStretch(1);
  if (QWidget* old = scroll_->takeWidget()) old->deleteLater();
  scroll_->setWidget(inside);
}

void CheckPage::refresh() {
  const Job& job = desk_.job();
  const int n = static_cast<int>(job.check.castings.size());
  if (casting_ < 0 || casting_ >= n) casting_ = n - 1;
  if (castings_->count() != n) {
    castings_->clear();
    for (int i = 0; i < n; ++i) castings_->add({}, QStringLiteral("casting-%1").arg(i));
  }
  for (int i = 0; i < n; ++i) {
    // Of many only their numbers, and of very many the last ones and the one on show.
    const int number = job.check.castings[static_cast<size_t>(i)].number;
    castings_->at(i)->setText(n > 3 ? QString::number(number) : QStringLiteral("No. %1").arg(number));
    castings_->at(i)->setAccessibleName(QStringLiteral("Casting %1").arg(number));
    castings_->at(i)->setVisible(i >= n - 7 || i == casting_);
  }
  castings_->set_current(casting_);
  castings_->setVisible(n > 0);
  rules_->set_current(job.check.rule == DecisionRule::guard ? 0 : 1);
  add_->setEnabled(desk_.has_job() && !desk_.read_only());
  const auto r = desk_.plan().fresh(results::check);
  const bool any = casting_ >= 0, sized = any && r && casting_ < static_cast<int>(r->castings.size());
  views_->set_current(static_cast<int>(view_));
  views_->setVisible(any);
  scroll_->setVisible(sized && view_ == View::sizes);
  rules_->setVisible(sized && view_ == View::sizes);
  look_->setVisible(any && view_ == View::look);
  pulls_->setVisible(any && view_ == View::pulls);
  scan_->setVisible(any && view_ == View::scan);
  note_->setVisible(any);
  remove_->setVisible(any);
  sheet_->setVisible(any);
  told_->setVisible(any);
  empty_->setVisible(!any || (view_ == View::sizes && !sized));
  empty_->setText(
      any ? QStringLiteral("No sizes are asked of this part. Add them in Original to judge castings by them; "
                           "what is seen is ticked under Look.")
          : QStringLiteral("No casting yet. When the first one is out of the mould, choose New casting, tick "
                           "what is seen and type what the calipers read."));
  if (!any) return;
  if (look_->isVisible()) look_->show_casting(casting_);
  if (pulls_->isVisible()) pulls_->refresh();
  if (scan_->isVisible()) scan_->show_casting(casting_);
  const Casting& shown = job.check.castings[static_cast<size_t>(casting_)];
  if (!note_->isModified() || !note_->hasFocus()) note_->setText(qs(shown.note)), note_->setCursorPosition(0);
  const QString worth =
      shown.worth == Worth::unsaid
          ? QString()
          : QStringLiteral(" · ") +
                QString::fromUtf8(words_of(shown.worth).data(), static_cast<qsizetype>(words_of(shown.worth).size()));
  if (!sized) {
    told_->setText(QStringLiteral("<b>Casting %1</b> of %2%3").arg(shown.number).arg(qs(shown.made_on), worth));
    return;
  }
  std::string signature;
  for (const MeasuredSize& s : job.original.sizes) signature += s.id + ",";
  if (signature != shown_) rebuild(signature);
  const Casting& c = job.check.castings[static_cast<size_t>(casting_)];
  const CheckedCasting& k = r->castings[static_cast<size_t>(casting_)];
  for (size_t i = 0; i < strips_.size(); ++i) {
    std::vector<double> values;
    for (const CastReading& reading : c.readings)
      if (reading.size_id == job.original.sizes[i].id) values = reading.values_mm;
    strips_[i]->show_judgement(job.original.sizes[i], k.sizes[i].judgement, values,
                               job.check.rule == DecisionRule::guard, job.original.sizes[i].id == marked_);
  }
  const QColor colour = k.overall == Conformity::conforms ? pal().act
                        : k.overall == Conformity::fails  ? pal().stop
                                                          : pal().caution;
  told_->setText(QStringLiteral("<b>Casting %1</b> of %2 · <b><font color='%3'>%4</font></b> · %5 of %6 measured")
                     .arg(c.number)
                     .arg(qs(c.made_on))
                     .arg(colour.darker(pal().dark ? 90 : 120).name(),
                          k.measured == 0 ? QStringLiteral("not measured")
                                          : QString::fromUtf8(name_of(k.overall).data(),
                                                              static_cast<qsizetype>(name_of(k.overall).size())))
                     .arg(k.measured)
                     .arg(job.original.sizes.size()) +
                 worth);
}

void CheckPage::point_at(const Finding& f) {
  marked_ = f.where.size;
  // What speaks of a size is shown by its strip, of a scan on it, of a fault on the part.
  view_ = !marked_.empty() ? View::sizes : f.code.starts_with("scan-") ? View::scan : View::look;
  refresh();
  look_->point_at(f.where.point_mm);
  scan_->point_at(f.where.point_mm);
  if (auto* s = strip(marked_)) scroll_->ensureWidgetVisible(s);
}

}  // namespace palinform::app
