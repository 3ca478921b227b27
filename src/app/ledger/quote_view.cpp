#include "ledger/quote_view.hpp"

#include <QDate>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QPainter>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "ledger/signature_pad.hpp"
#include "sheet_pdf.hpp"
#include "shell/desk.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

QuotePicture::QuotePicture(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  setAccessibleName(QStringLiteral("The quote's lines and prices"));
  setMinimumHeight(300);
}

void QuotePicture::show_quote(const Quote& q, const std::vector<std::pair<QString, std::pair<double, double>>>& real,
                              const std::vector<DoneAlike>& alike) {
  quote_ = q;
  real_ = real;
  alike_ = alike;
  update();
}

void QuotePicture::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const Units& u = desk_.units();
  const double half = width() * 0.56, name_w = 190, price_w = 122;
  double most = 1e-9;
  for (const QuoteLine& l : quote_.lines) most = std::max(most, l.cost);
  double y = 4;
  const auto title = [&](double x, double w, const QString& words) {
    p.setFont(type_face(14, 700));
    p.setPen(pal().ink);
    p.drawText(QRectF(x, y, w, 22), Qt::AlignVCenter, words);
  };
  title(0, half, QStringLiteral("What it costs us"));
  y += 26;
  for (const QuoteLine& l : quote_.lines) {
    const bool heavy = l.what == quote_.moves_most;
    p.setFont(type_face(13, heavy ? 700 : 400));
    p.setPen(pal().ink);
    const QRectF words(0, y, name_w, 34);
    p.drawText(words, Qt::AlignVCenter | Qt::TextWordWrap, qs(l.what));
    const double room = half - name_w - price_w - 16;
    const QRectF bar(name_w + 6, y + 8, std::max(2.0, room * l.cost / most), 18);
    p.fillRect(bar, heavy ? pal().act : pal().rubber_a);
    p.setPen(QPen(pal().ink, 1));
    p.setBrush(Qt::NoBrush);
    p.drawRect(bar);
    p.drawText(QRectF(half - price_w, y, price_w - 8, 34), Qt::AlignVCenter | Qt::AlignRight, u.money_text(l.cost, 2));
    y += 36;
  }
  y += 4;
  p.setPen(QPen(pal().rule, 1));
  p.drawLine(QPointF(0, y), QPointF(half - 8, y));
  y += 6;
  const auto sum = [&](const QString& what, double v, bool strong) {
    p.setFont(type_face(strong ? 16 : 13, strong ? 700 : 400));
    p.setPen(pal().ink);
    p.drawText(QRectF(0, y, half - price_w, 24), Qt::AlignVCenter, what);
    p.drawText(QRectF(half - 170, y, 162, 24), Qt::AlignVCenter | Qt::AlignRight, u.money_text(v, 2));
    y += strong ? 28 : 22;
  };
  sum(QStringLiteral("Together, %1 h by hand").arg(qs(fixed(quote_.hours, 1))), quote_.cost, false);
  sum(QStringLiteral("Margin"), quote_.margin, false);
  sum(QStringLiteral("Asked for %1").arg(qs(counted(quote_.copies, "copy", "copies"))), quote_.total, true);
  // What jobs of the kind have taken before: whoever quotes by hope sees it.
  if (!alike_.empty()) {
    y += 6;
    title(0, half, QStringLiteral("The last of its kind really took"));
    y += 24;
    for (const DoneAlike& a : alike_) {
      p.setFont(type_face(13));
      p.setPen(pal().ink);
      QString words = QStringLiteral("%1: %2 h, materials %3")
                          .arg(qs(a.name), qs(fixed(a.real.hours, 1)), u.money_text(a.real.materials, 2));
      if (a.castings > 0) words += QStringLiteral(", ") + qs(counted(a.castings, "casting", "castings"));
      if (a.offered_hours > 0) words += QStringLiteral(" (offered with %1 h)").arg(qs(fixed(a.offered_hours, 1)));
      p.drawText(QRectF(0, y, half - 8, 34), Qt::AlignVCenter | Qt::TextWordWrap, words);
      y += 34;
    }
  }
  // Beside it: the price by number, and afterwards what it really took.
  const double x = half + 24, w = width() - x;
  y = 4;
  title(x, w, QStringLiteral("By number"));
  y += 26;
  p.setFont(type_face(12));
  p.setPen(pal().quiet);
  const double column[] = {x, x + 0.2 * w, x + 0.42 * w, x + 0.72 * w};
  const QString sign = u.money.isEmpty() ? QStringLiteral("money") : u.money;
  const QString heads[] = {QStringLiteral("Copies"), QStringLiteral("Moulds"), QStringLiteral("In all, ") + sign,
                           QStringLiteral("Each, ") + sign};
  for (int k = 0; k < 4; ++k) p.drawText(QRectF(column[k], y, 0.3 * w, 18), Qt::AlignVCenter, heads[k]);
  y += 20;
  for (const QuotedPrice& q : quote_.per_copy) {
    const bool own = q.copies == quote_.copies;
    p.setFont(type_face(13, own ? 700 : 400));
    p.setPen(pal().ink);
    const QString cells[] = {QString::number(q.copies), QString::number(q.moulds), qs(grouped(q.total, 2)),
                             qs(grouped(q.per_copy, 2))};
    for (int k = 0; k < 4; ++k) p.drawText(QRectF(column[k], y, 0.28 * w, 22), Qt::AlignVCenter, cells[k]);
    y += 22;
  }
  p.setFont(type_face(13));
  p.drawText(QRectF(x, y + 4, w, 22), Qt::AlignVCenter,
             QStringLiteral("The mould only: %1").arg(u.money_text(quote_.mould_only, 2)));
  p.drawText(QRectF(x, y + 26, w, 22), Qt::AlignVCenter,
             QStringLiteral("Castings only, each: %1").arg(u.money_text(quote_.castings_only_per_copy, 2)));
  y += 58;
  if (real_.empty()) return;
  title(x, w, QStringLiteral("Offered and real"));
  y += 26;
  for (const auto& [what, both] : real_) {
    p.setFont(type_face(13));
    p.setPen(pal().ink);
    p.drawText(QRectF(x, y, w, 20), Qt::AlignVCenter, what);
    y += 20;
    const double top = std::max({both.first, both.second, 1e-9});
    const auto bar = [&](double v, const QColor& c, const QString& words) {
      const QRectF b(x, y, std::max(2.0, (w - 120) * v / top), 12);
      p.fillRect(b, c);
      p.setPen(pal().ink);
      p.setFont(type_face(12));
      p.drawText(QRectF(b.right() + 6, y - 4, 118, 20), Qt::AlignVCenter, words);
      y += 16;
    };
    const bool hours = what.contains(QStringLiteral("hours"));
    const auto words = [&](double v) { return hours ? qs(fixed(v, 1)) + QStringLiteral(" h") : u.money_text(v, 2); };
    bar(both.first, pal().rule.darker(115), QStringLiteral("offered ") + words(both.first));
    bar(both.second, both.second > 1.1 * both.first ? pal().stop : pal().act,
        QStringLiteral("real ") + words(both.second));
    y += 6;
  }
}

QuoteView::QuoteView(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  auto* col = new QVBoxLayout(this);
  col->setContentsMargins(0, 0, 0, 0);
  col->setSpacing(8);
  auto* row = new QHBoxLayout;
  row->setSpacing(10);
  const auto field = [&](const char* words, const char* name, double low, double high, double DaysRules::*member) {
    auto* f = new FigureField(QString::fromLatin1(words), QString::fromLatin1(name), 84);
    f->set_range(low, high);
    connect(f, &FigureField::entered, this, [this, member](double v) { set_rule(member, v); });
    row->addWidget(f);
    return f;
  };
  hour_ = field("An hour", "quote-hour", 0, 1e5, &DaysRules::hand_price_per_h);
  margin_ = field("Margin", "quote-margin", 0, 1000, &DaysRules::margin_pct);
  scrap_ = field("Goes wrong", "quote-scrap", 0, 90, &DaysRules::scrap_pct);
  days_ = field("Good for", "quote-days", 1, 3650, &DaysRules::quote_valid_days);
  row->addStretch(1);
  write_ = chip(QStringLiteral("Quote as PDF…"), QStringLiteral("quote-write"));
  take_ = chip(QStringLiteral("It is taken…"), QStringLiteral("quote-taken"));
  row->addWidget(write_, 0, Qt::AlignBottom);
  row->addWidget(take_, 0, Qt::AlignBottom);
  connect(write_, &QPushButton::clicked, this, &QuoteView::write);
  connect(take_, &QPushButton::clicked, this, &QuoteView::take);
  col->addLayout(row);
  told_ = remark();
  told_->setObjectName(QStringLiteral("quote-told"));
  told_->setWordWrap(true);
  col->addWidget(told_);
  picture_ = new QuotePicture(desk_, this);
  col->addWidget(picture_, 1);
  empty_ = remark();
  empty_->setAlignment(Qt::AlignCenter);
  col->addWidget(empty_, 1);
  // The owner's original, while it is here.
  auto* piece = new QHBoxLayout;
  piece->setSpacing(8);
  came_ = add_line(piece, QStringLiteral("The original came on"), QStringLiteral("piece-came"), 104);
  condition_ = add_line(piece, QStringLiteral("Its condition then"), QStringLiteral("piece-condition"), 0);
  went_ = add_line(piece, QStringLiteral("went back on"), QStringLiteral("piece-went"), 104);
  then_ = add_line(piece, QStringLiteral("and its condition then"), QStringLiteral("piece-then"), 0);
  for (QLineEdit* e : {came_, went_}) e->setPlaceholderText(QStringLiteral("no day"));
  receipt_ = chip(QStringLiteral("Receipt…"), QStringLiteral("piece-receipt"));
  piece->addWidget(receipt_, 0, Qt::AlignBottom);
  sign_ = chip(QStringLiteral("Owner signs…"), QStringLiteral("piece-sign"));
  piece->addWidget(sign_, 0, Qt::AlignBottom);
  connect(sign_, &QPushButton::clicked, this, [this] {
    const OwnersPiece& piece_now = desk_.job().piece;
    const bool back = !piece_now.went_on.empty();
    const std::string& condition = back ? piece_now.condition_then : piece_now.condition;
    const auto written =
        ask_signature((back ? QStringLiteral("I have got my original back on %1, in this condition: %2")
                            : QStringLiteral("I have left my original here on %1, in this condition: %2"))
                          .arg(qs(back ? piece_now.went_on : piece_now.came_on),
                               condition.empty() ? QStringLiteral("not described") : qs(condition)),
                      this);
    if (!written) return;
    Job next = desk_.job();
    (back ? next.piece.signed_back : next.piece.signed_in) = *written;
    desk_.edit(next, back ? QStringLiteral("the owner signed for the return") : QStringLiteral("the owner signed"));
  });
  col->addLayout(piece);
  const auto day = [this](QLineEdit* e, std::string OwnersPiece::*member, const QString& what) {
    connect(e, &QLineEdit::editingFinished, this, [this, e, member, what] {
      const QString s = e->text().trimmed();
      if (!s.isEmpty() && !QDate::fromString(s, Qt::ISODate).isValid())
        return mark_fault(e, QStringLiteral("Write a day like 2026-12-18."));
      clear_fault(e);
      set_piece(member, s, what);
    });
  };
  day(came_, &OwnersPiece::came_on, QStringLiteral("the original came"));
  day(went_, &OwnersPiece::went_on, QStringLiteral("the original went back"));
  connect(condition_, &QLineEdit::editingFinished, this, [this] {
    set_piece(&OwnersPiece::condition, condition_->text().trimmed(), QStringLiteral("condition of the original"));
  });
  connect(then_, &QLineEdit::editingFinished, this, [this] {
    set_piece(&OwnersPiece::condition_then, then_->text().trimmed(), QStringLiteral("condition given back"));
  });
  connect(receipt_, &QPushButton::clicked, this, [this] {
    QString path = QFileDialog::getSaveFileName(this, QStringLiteral("Receipt as PDF"),
                                                qs(desk_.job().name) + QStringLiteral(", receipt.pdf"),
                                                QStringLiteral("Pages (*.pdf)"));
    if (path.isEmpty()) return;
    if (!path.endsWith(QStringLiteral(".pdf"))) path += QStringLiteral(".pdf");
    const Job& j = desk_.job();
    const auto ok = write_drawings({receipt_page(j.piece, j.name, j.client, terms().today)}, path.toStdString());
    emit desk_.message(ok ? QStringLiteral("Written: ") + path : qs(ok.error().text()), !ok);
  });
}

void QuoteView::set_piece(std::string OwnersPiece::*member, const QString& text, const QString& what) {
  if (!desk_.has_job() || desk_.job().piece.*member == text.toStdString()) return;
  Job next = desk_.job();
  next.piece.*member = text.toStdString();
  desk_.edit(next, what);
}

QuoteTerms QuoteView::terms() const {
  const DaysRules& r = desk_.shop().rules.days;
  return {r.hand_price_per_h, r.margin_pct, r.scrap_pct, static_cast<int>(r.quote_valid_days),
          QDate::currentDate().toString(Qt::ISODate).toStdString()};
}

std::optional<Quote> QuoteView::quote() const {
  const auto mix = desk_.plan().fresh(results::mix);
  const auto work = desk_.plan().fresh(results::procedure);
  const auto forms = desk_.plan().fresh(results::forms);
  if (!mix || !work || !forms) return std::nullopt;
  auto q = quote_of(*mix, *work, *forms, desk_.job().copies, terms());
  return q ? std::optional(*std::move(q)) : std::nullopt;
}

void QuoteView::set_rule(double DaysRules::*member, double v) {
  Rules rules = desk_.shop().rules;
  if (rules.days.*member == v) return;
  rules.days.*member = v;
  desk_.keep_rules(rules);
}

void QuoteView::write() {
  const auto q = quote();
  if (!q) return;
  QString path = QFileDialog::getSaveFileName(this, QStringLiteral("Quote as PDF"),
                                              qs(desk_.job().name) + QStringLiteral(", quote.pdf"),
                                              QStringLiteral("Pages (*.pdf)"));
  if (path.isEmpty()) return;
  if (!path.endsWith(QStringLiteral(".pdf"))) path += QStringLiteral(".pdf");
  const auto resin = desk_.resin();
  const QString money = desk_.units().money.isEmpty() ? QStringLiteral("money") : desk_.units().money;
  const auto ok = write_drawings(
      {quote_page(*q, desk_.job().name, desk_.job().client, resin ? resin->name : "", terms(), money.toStdString())},
      path.toStdString());
  emit desk_.message(ok ? QStringLiteral("Written: ") + path : qs(ok.error().text()), !ok);
  if (!ok) return;
  Job next = desk_.job();
  double materials = 0;
  const auto mix = desk_.plan().fresh(results::mix);
  if (mix) materials = (mix->rubber_cost + mix->jacket_cost) * next.days.moulds + mix->resin_cost;
  next.quote = {terms().today, "", q->copies, q->total, q->cost, materials, q->hours};
  desk_.edit(next, QStringLiteral("quote sent"));
}

void QuoteView::take() {
  if (!desk_.has_job()) return;
  const auto days = desk_.plan().fresh(results::days);
  const QString by = days ? qs(wall_text(days->schedule.finish)).left(10) : QString();
  bool ok = false;
  const QString day =
      QInputDialog::getText(
          this, QStringLiteral("It is taken"),
          QStringLiteral("Promised for (as planned it is ready %1)").arg(by.isEmpty() ? QStringLiteral("–") : by),
          QLineEdit::Normal, qs(desk_.job().days.promised).isEmpty() ? by : qs(desk_.job().days.promised), &ok)
          .trimmed();
  if (!ok) return;
  if (!day.isEmpty() && !QDate::fromString(day, Qt::ISODate).isValid()) {
    emit desk_.message(QStringLiteral("\"%1\" is no day: write 2026-12-18.").arg(day), true);
    return;
  }
  Job next = desk_.job();
  if (next.quote.sent_on.empty())
    if (const auto q = quote()) next.quote = {terms().today, "", q->copies, q->total, q->cost, 0, q->hours};
  next.quote.taken_on = terms().today;
  next.days.promised = day.toStdString();
  desk_.edit(next, QStringLiteral("quote taken, promised for ") + day);
}

void QuoteView::refresh() {
  const Job& job = desk_.job();
  for (const auto& [e, member] :
       {std::pair{came_, &OwnersPiece::came_on}, std::pair{condition_, &OwnersPiece::condition},
        std::pair{went_, &OwnersPiece::went_on}, std::pair{then_, &OwnersPiece::condition_then}}) {
    if (!e->hasFocus()) e->setText(qs(job.piece.*member)), e->setCursorPosition(0);
    e->setEnabled(desk_.has_job() && !desk_.read_only());
  }
  receipt_->setEnabled(!job.piece.came_on.empty());
  sign_->setEnabled(!job.piece.came_on.empty() && !desk_.read_only());
  const bool is_signed = !(job.piece.went_on.empty() ? job.piece.signed_in : job.piece.signed_back).empty();
  sign_->setText(is_signed ? QStringLiteral("Signed ✓") : QStringLiteral("Owner signs…"));
  const DaysRules& rules = desk_.shop().rules.days;
  const QString money = desk_.units().money.isEmpty() ? QStringLiteral("money") : desk_.units().money;
  hour_->show_value(rules.hand_price_per_h, 2, money);
  margin_->show_value(rules.margin_pct, 0, QStringLiteral("%"));
  scrap_->show_value(rules.scrap_pct, 0, QStringLiteral("%"));
  days_->show_value(rules.quote_valid_days, 0, QStringLiteral("days"));
  const auto q = quote();
  picture_->setVisible(q.has_value());
  empty_->setVisible(!q);
  write_->setEnabled(q.has_value());
  take_->setEnabled(q.has_value() && !desk_.read_only());
  take_->setText(job.quote.taken_on.empty() ? QStringLiteral("It is taken…") : QStringLiteral("Another promise…"));
  empty_->setText(
      QStringLiteral("The price follows from the steps: it needs a shape, a rubber and a casting material."));
  if (!q) {
    told_->clear();
    return;
  }
  QString told = QStringLiteral("A tenth more or less of \"%1\" moves the price most.").arg(qs(q->moves_most));
  if (!job.quote.sent_on.empty())
    told += QStringLiteral(" Offered on %1: %2 for %3.")
                .arg(qs(job.quote.sent_on), desk_.units().money_text(job.quote.total, 2),
                     qs(counted(job.quote.copies, "copy", "copies")));
  if (!job.quote.taken_on.empty()) told += QStringLiteral(" Taken on %1.").arg(qs(job.quote.taken_on));
  told_->setText(told);
  std::vector<std::pair<QString, std::pair<double, double>>> real;
  if (!job.quote.sent_on.empty()) {
    const auto taken = really_taken(desk_.workshop(), desk_.shop(), job.id);
    const double used = taken ? taken->materials : 0, hours = taken ? taken->hours : 0;
    if (used > 0 && job.quote.materials > 0) real.push_back({QStringLiteral("Materials"), {job.quote.materials, used}});
    if (hours > 0) real.push_back({QStringLiteral("Hands, hours"), {job.quote.hours, hours}});
  }
  const std::string kind = job.id + " " + kind_of_moulds(job);
  if (kind != alike_for_) {
    alike_for_ = kind;
    auto alike = last_of_kind(desk_.workshop(), desk_.shop(), kind_of_moulds(job), job.id);
    alike_ = alike ? *std::move(alike) : std::vector<DoneAlike>{};
  }
  picture_->show_quote(*q, real, alike_);
}

}  // namespace palinform::app
