#include "ledger/ledger_page.hpp"

#include <QDate>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QListWidget>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QStackedWidget>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "ledger/booked.hpp"
#include "ledger/customers_view.hpp"
#include "ledger/history_view.hpp"
#include "ledger/quote_view.hpp"
#include "ledger/rules_view.hpp"
#include "ledger/shelf_view.hpp"
#include "ledger/shop_view.hpp"
#include "mesh/save.hpp"
#include "shell/desk.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

namespace {

std::string today() { return QDate::currentDate().toString(Qt::ISODate).toStdString(); }
QString material_name(const Desk& desk, const std::string& id) {
  const Material* m = desk.shop().bottle(id);
  return m ? qs(m->name) : qs(id);
}

}  // namespace

LotsView::LotsView(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  setFixedHeight(250);
  setAccessibleName(QStringLiteral("Shelves of lots and moulds"));
}
void LotsView::show_books(std::vector<Lot> lots, std::vector<MouldRecord> moulds,
                          std::shared_ptr<const MouldLives> lives, std::vector<MouldCare> cares) {
  lots_ = std::move(lots);
  moulds_ = std::move(moulds);
  lives_ = std::move(lives);
  cares_ = std::move(cares);
  update();
}

void LotsView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  blocks_.clear();
  const auto plank = [&](double y) {
    p.fillRect(QRectF(0, y, width(), 6), pal().rule.darker(pal().dark ? 90 : 118));
    p.fillRect(QRectF(0, y + 6, width(), 3), pal().slip);
  };
  plank(122);
  plank(232);
  p.setFont(type_face(13));
  if (lots_.empty()) {
    p.setPen(pal().quiet);
    p.drawText(QRectF(0, 40, width(), 60), Qt::AlignCenter,
               QStringLiteral("No bottles on the shelf yet. Put one there below: each pour then draws from it."));
  }
  double x = 12;
  for (const Lot& l : lots_) {
    if (x + 150 > width()) break;
    const bool old = !l.expires_on.empty() && l.expires_on < today();
    const QRectF body(x, 34, 46, 88);
    p.setBrush(pal().panel);
    p.setPen(QPen(pal().ink, 1.6));
    p.drawRect(QRectF(x + 14, 22, 18, 12));
    p.drawRoundedRect(body, 6, 6);
    const double share = l.start_g > 0 ? std::clamp(l.left_g / l.start_g, 0.0, 1.0) : 0;
    const Material* m = desk_.shop().bottle(l.material_id);
    const bool rubber = m && m->kind <= MaterialKind::putty;
    QRectF level = body.adjusted(3, 3, -3, -3);
    level.setTop(level.bottom() - level.height() * share);
    fill_pattern(p, level, rubber ? pal().rubber_a : pal().rubber_b, rubber ? Qt::NoBrush : Qt::Dense6Pattern);
    p.setPen(pal().ink);
    p.setFont(type_face(12, 600));
    p.drawText(QRectF(x + 52, 32, 118, 18), Qt::AlignVCenter, qs(l.label));
    p.setFont(type_face(12));
    p.setPen(pal().quiet);
    p.drawText(QRectF(x + 52, 50, 118, 34), Qt::TextWordWrap, material_name(desk_, l.material_id));
    p.drawText(QRectF(x + 52, 84, 118, 18), Qt::AlignVCenter,
               desk_.units().mass_text(l.left_g, 0) + QStringLiteral(" left"));
    if (!l.expires_on.empty()) {
      p.setPen(old ? pal().stop : pal().quiet);
      p.drawText(
          QRectF(x + 52, 101, 122, 18), Qt::AlignVCenter,
          (old ? QStringLiteral("out of date ") : QStringLiteral("till ")) + qs(l.expires_on).left(old ? 7 : 10));
    }
    x += 178;
  }
  x = 12;
  if (moulds_.empty()) {
    p.setPen(pal().quiet);
    p.setFont(type_face(13));
    p.drawText(QRectF(0, 150, width(), 60), Qt::AlignCenter,
               QStringLiteral("No moulds yet. The bench puts one here when it is opened."));
  }
  for (const MouldRecord& m : moulds_) {
    if (x + 150 > width()) break;
    const QRectF block(x, 168, 74, 64);
    const bool retired = !m.retired_on.empty();
    fill_pattern(p, QRectF(block.x(), block.y(), 74, 32), retired ? pal().rule : pal().rubber_a, Qt::NoBrush);
    fill_pattern(p, QRectF(block.x(), block.y() + 32, 74, 32), retired ? pal().rule : pal().rubber_b,
                 Qt::Dense6Pattern);
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(m.id == mould_ ? pal().act : pal().ink, m.id == mould_ ? 3 : 1.4));
    p.drawRect(block);
    p.setPen(Qt::NoPen);
    p.setBrush(pal().ink);
    for (int k = 0; k < std::min(m.pulls, 24); ++k)
      p.drawEllipse(QPointF(x + 8 + (k % 8) * 8.4, 176 + k / 8 * 9.0), 2.6, 2.6);
    p.setPen(pal().ink);
    p.setFont(type_face(12, 600));
    QString name = qs(m.name);
    for (const MouldCare& c : cares_)
      if (c.id == std::to_string(m.id)) {
        if (c.generation > 1) name += QStringLiteral(" (generation %1)").arg(c.generation);
        if (!c.place.empty()) name = qs(c.place) + QStringLiteral(": ") + name;
      }
    p.drawText(QRectF(x + 80, 166, 134, 34), Qt::TextWordWrap, name);
    p.setFont(type_face(12));
    p.setPen(retired ? pal().stop : pal().quiet);
    // What is still to come of it, as the shop's own moulds of the kind tell.
    const auto to_come = [&](const MouldRecord& of) {
      if (!lives_) return QString();
      for (const MouldLife& l : lives_->moulds)
        if (l.mould.id == of.id && l.mould.retired_on.empty())
          return l.advice.empty()
                     ? QStringLiteral(", about %1 to come%2")
                           .arg(qs(fixed(l.to_come, 0)),
                                lives_->kinds[l.kind].law.by_sheet ? QStringLiteral(" (a guess)") : QString())
                     : QStringLiteral(": ") + qs(l.advice);
      return QString();
    };
    p.drawText(QRectF(x + 80, 200, 134, 48), Qt::TextWordWrap,
               qs(counted(m.pulls, "pull", "pulls")) +
                   (retired ? QStringLiteral(", retired: ") + qs(m.retired_why) : to_come(m)));
    blocks_.emplace_back(block.adjusted(0, 0, 130, 0), m.id);
    x += 222;
  }
}
void LotsView::mousePressEvent(QMouseEvent* e) {
  for (const auto& [r, id] : blocks_)
    if (r.contains(e->position())) {
      mould_ = mould_ == id ? 0 : id;
      emit mould_chosen(mould_);
      update();
      return;
    }
}

LedgerPage::LedgerPage(Desk& desk, QWidget* parent) : StagePage(desk, parent) {
  auto* page = new QVBoxLayout(this);
  page->setContentsMargins(16, 12, 16, 10);
  page->setSpacing(8);
  views_ = new Chips;
  views_->add(QStringLiteral("Books"), QStringLiteral("ledger-books"));
  views_->add(QStringLiteral("Shelf"), QStringLiteral("ledger-shelf"));
  views_->add(QStringLiteral("Rules of thumb"), QStringLiteral("ledger-rules"));
  views_->add(QStringLiteral("The shop"), QStringLiteral("ledger-shop"));
  views_->add(QStringLiteral("Quote"), QStringLiteral("ledger-quote"));
  views_->add(QStringLiteral("History"), QStringLiteral("ledger-history"));
  views_->add(QStringLiteral("Customers"), QStringLiteral("ledger-customers"));
  views_->set_current(0);
  page->addWidget(views_);
  stack_ = new QStackedWidget;
  page->addWidget(stack_, 1);
  auto* books = new QWidget;
  stack_->addWidget(books);
  shelf_ = new ShelfView(desk_, this);
  stack_->addWidget(shelf_);
  rules_ = new RulesView(desk_, this);
  stack_->addWidget(rules_);
  shop_ = new ShopView(desk_, this);
  stack_->addWidget(shop_);
  quote_ = new QuoteView(desk_, this);
  stack_->addWidget(quote_);
  history_ = new HistoryView(desk_, this);
  stack_->addWidget(history_);
  customers_ = new CustomersView(desk_, this);
  stack_->addWidget(customers_);
  auto* col = new QVBoxLayout(books);
  col->setContentsMargins(0, 0, 0, 0);
  col->setSpacing(8);
  auto* top = new QHBoxLayout;
  search_ = new QLineEdit;
  search_->setObjectName(QStringLiteral("ledger-search"));
  search_->setPlaceholderText(QStringLiteral("search lots, moulds, pours, castings, edits"));
  search_->setAccessibleName(QStringLiteral("Search the ledger"));
  search_->setClearButtonEnabled(true);
  top->addWidget(search_, 1);
  retire_ = chip(QStringLiteral("Retire the mould…"), QStringLiteral("retire"));
  top->addWidget(retire_);
  auto* csv = chip(QStringLiteral("Write CSV"), QStringLiteral("ledger-csv"));
  auto* menu = new QMenu(csv);
  const char* names[3] = {"Lots", "Moulds", "Pours"};
  for (int i = 0; i < 3; ++i)
    menu->addAction(QString::fromLatin1(names[i]) + QStringLiteral("…"), this, [this, i] { export_csv(i); });
  menu->addAction(QStringLiteral("Shopping list of all jobs…"), this, [this] {
    const QString path = QFileDialog::getSaveFileName(this, QStringLiteral("Write the shopping list"),
                                                      QStringLiteral("shopping.csv"), QStringLiteral("CSV (*.csv)"));
    if (!path.isEmpty()) desk_.write_shopping(path);
  });
  csv->setMenu(menu);
  top->addWidget(csv);
  col->addLayout(top);
  lots_ = new LotsView(desk_, this);
  col->addWidget(lots_);
  mould_row_ = new QWidget;
  auto* care = new QHBoxLayout(mould_row_);
  care->setContentsMargins(0, 0, 0, 0);
  care->setSpacing(8);
  place_ = add_line(care, QStringLiteral("The mould lies"), QStringLiteral("mould-place"), 150);
  place_->setPlaceholderText(QStringLiteral("shelf 2, left"));
  mended_ = chip(QStringLiteral("Mended…"), QStringLiteral("mould-mended"));
  care->addWidget(mended_, 0, Qt::AlignBottom);
  care_told_ = remark();
  care_told_->setWordWrap(true);
  care_told_->setObjectName(QStringLiteral("mould-care"));
  care->addWidget(care_told_, 1, Qt::AlignBottom);
  col->addWidget(mould_row_);
  connect(place_, &QLineEdit::editingFinished, this, [this] {
    if (lots_->selected_mould() == 0) return;
    MouldCare c = care_of_chosen();
    c.place = place_->text().trimmed().toStdString();
    keep_care(c);
  });
  connect(mended_, &QPushButton::clicked, this, [this] {
    bool ok = false;
    const QString what = QInputDialog::getText(this, QStringLiteral("Mended"),
                                               QStringLiteral("What was mended, and how: torn lip, glued with sealant"),
                                               QLineEdit::Normal, {}, &ok)
                             .trimmed();
    if (!ok || what.isEmpty()) return;
    MouldCare c = care_of_chosen();
    c.mended.push_back(today() + " " + what.toStdString());
    keep_care(c);
  });
  auto* row = new QHBoxLayout;
  row->setSpacing(8);
  material_ = new ChoiceField(QStringLiteral("New bottle"), QStringLiteral("lot-material"), 202);
  row->addWidget(material_);
  label_ = add_line(row, QStringLiteral("Lot"), QStringLiteral("lot-label"), 90);
  grams_ = new FigureField(QStringLiteral("Holds"), QStringLiteral("lot-grams"), 84);
  grams_->set_range(0.1, 1e6);
  row->addWidget(grams_);
  opened_ = add_line(row, QStringLiteral("Opened on"), QStringLiteral("lot-opened"), 102);
  expires_ = add_line(row, QStringLiteral("Good until"), QStringLiteral("lot-expires"), 102);
  opened_->setPlaceholderText(QStringLiteral("no date"));
  expires_->setPlaceholderText(QStringLiteral("no date"));
  add_ = new QPushButton(QStringLiteral("Put it on the shelf"));
  add_->setObjectName(QStringLiteral("lot-add"));
  row->addWidget(add_, 0, Qt::AlignBottom);
  row->addStretch(1);
  col->addLayout(row);
  list_ = new QListWidget;
  list_->setObjectName(QStringLiteral("ledger-list"));
  list_->setWordWrap(true);
  list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  list_->setAccessibleName(QStringLiteral("Pours, castings and edits"));
  col->addWidget(list_, 1);
  cost_ = new QLabel;
  cost_->setTextFormat(Qt::RichText);
  cost_->setWordWrap(true);
  col->addWidget(cost_);
  connect(views_, &Chips::chosen, this, &LedgerPage::show_view);
  connect(search_, &QLineEdit::textChanged, this, [this] {
    shown_.clear();
    refresh();
  });
  connect(add_, &QPushButton::clicked, this, &LedgerPage::add_lot);
  connect(lots_, &LotsView::mould_chosen, this, [this] { refresh(); });
  connect(retire_, &QPushButton::clicked, this, [this] {
    bool ok = false;
    const QString why =
        QInputDialog::getText(this, QStringLiteral("Retire the mould"),
                              QStringLiteral("Why: torn at the bore, worn line, …"), QLineEdit::Normal, {}, &ok)
            .trimmed();
    if (!ok || why.isEmpty()) return;
    const auto moulds = desk_.workshop().moulds();
    if (!moulds) return;
    for (MouldRecord m : *moulds)
      if (m.id == lots_->selected_mould()) {
        m.retired_on = today();
        m.retired_why = why.toStdString();
        if (const auto saved = desk_.workshop().save_mould(m); !saved)
          emit desk_.message(qs(saved.error().text()), true);
      }
    shown_.clear();
    desk_.books_changed();
  });
}

MouldCare LedgerPage::care_of_chosen(const std::vector<MouldCare>& all) const {
  MouldCare out;
  out.id = std::to_string(lots_->selected_mould());
  for (const MouldCare& c : all)
    if (c.id == out.id) out = c;
  return out;
}
MouldCare LedgerPage::care_of_chosen() const {
  const auto all = desk_.workshop().mould_cares();
  return care_of_chosen(all ? *all : std::vector<MouldCare>{});
}

void LedgerPage::keep_care(const MouldCare& care) {
  if (care == care_of_chosen()) return;
  if (const auto ok = desk_.workshop().keep_mould_care(care); !ok) emit desk_.message(qs(ok.error().text()), true);
  refresh();
}

void LedgerPage::add_lot() {
  const auto date = [](QLineEdit* e, std::string& into) {
    const QString s = e->text().trimmed();
    if (!s.isEmpty() && !QDate::fromString(s, Qt::ISODate).isValid()) {
      mark_fault(e, QStringLiteral("Write a date like 2026-11-25."));
      return false;
    }
    into = s.toStdString();
    return true;
  };
  Lot l;
  l.material_id = material_->box()->currentData().toString().toStdString();
  l.label = label_->text().trimmed().toStdString();
  if (l.label.empty()) return mark_fault(label_, QStringLiteral("Copy the lot number from the bottle."));
  const auto grams = parse_number(grams_->edit()->text().toStdString());
  if (!grams || *grams <= 0) return mark_fault(grams_->edit(), QStringLiteral("How much is in it?"));
  l.start_g = l.left_g = desk_.units().grams(*grams);
  if (!date(opened_, l.opened_on) || !date(expires_, l.expires_on)) return;
  if (const auto saved = desk_.workshop().save_lot(l); !saved) {
    emit desk_.message(qs(saved.error().text()), true);
    return;
  }
  label_->clear();
  shown_.clear();
  desk_.books_changed();
}

void LedgerPage::export_csv(int what) {
  const char* names[3] = {"lots.csv", "moulds.csv", "pours.csv"};
  const QString path = QFileDialog::getSaveFileName(this, QStringLiteral("Write CSV"), QString::fromLatin1(names[what]),
                                                    QStringLiteral("CSV (*.csv)"));
  if (path.isEmpty()) return;
  std::string text;
  if (what == 0) {
    if (const auto r = desk_.workshop().lots()) text = lots_csv(*r);
  } else if (what == 1) {
    if (const auto r = desk_.workshop().moulds()) text = moulds_csv(*r);
  } else if (const auto r = desk_.workshop().pours()) {
    text = pours_csv(*r);
  }
  const auto ok = write_file(path.toStdString(), text);
  emit desk_.message(ok ? QStringLiteral("Written: ") + path : qs(ok.error().text()), !ok);
}

int LedgerPage::rows() const { return list_->count(); }

void LedgerPage::show_view(int i) {
  views_->set_current(i);
  stack_->setCurrentIndex(i);
  refresh();
}

void LedgerPage::refresh() {
  if (stack_->currentIndex() == 1) return shelf_->refresh();
  if (stack_->currentIndex() == 2) return rules_->refresh();
  if (stack_->currentIndex() == 3) return shop_->refresh();
  if (stack_->currentIndex() == 4) return quote_->refresh();
  if (stack_->currentIndex() == 5) return history_->refresh();
  if (stack_->currentIndex() == 6) return customers_->refresh();
  refresh_books();
}

void LedgerPage::refresh_books() {
  std::vector<std::pair<std::string, QString>> items;
  for (const Material& m : desk_.shop().bottles)
    if (!m.retired) items.emplace_back(m.id, qs(m.name));
  material_->set_items(items);
  auto lots = desk_.workshop().lots();
  auto moulds = desk_.workshop().moulds();
  const auto pours = desk_.workshop().pours();
  const auto edits = desk_.workshop().history(300);
  if (!lots || !moulds || !pours || !edits) return;
  // How long they last is worked out again only when a mould has changed.
  std::string key = desk_.shop().key.hex();
  for (const MouldRecord& m : *moulds) key += std::to_string(m.id) + ":" + std::to_string(m.pulls) + m.retired_on + ";";
  if (key != lives_for_) {
    lives_for_ = key;
    auto lives = mould_lives(desk_.workshop(), desk_.shop());
    lives_ = lives ? std::make_shared<const MouldLives>(*std::move(lives)) : nullptr;
  }
  const QString want = search_->text().trimmed().toLower();
  const auto hit = [&](const QString& s) { return want.isEmpty() || s.toLower().contains(want); };
  std::erase_if(
      *lots, [&](const Lot& l) { return !hit(qs(l.label) + QLatin1Char(' ') + material_name(desk_, l.material_id)); });
  std::erase_if(*moulds, [&](const MouldRecord& m) { return !hit(qs(m.name) + QLatin1Char(' ') + qs(m.retired_why)); });
  retire_->setVisible(lots_->selected_mould() != 0);
  add_->setEnabled(!desk_.read_only());
  grams_->show_value(parse_number(grams_->edit()->text().toStdString()), 0, desk_.units().mass_name());
  double used = 0;
  for (const PourRecord& p : *pours)
    if (p.job_id == desk_.job().id) used += cost_of(p, desk_.shop());
  const auto days = desk_.plan().fresh(results::days);
  cost_->setText(QStringLiteral("<b>%1</b>: materials booked %2%3 · prices of the shelf")
                     .arg(qs(desk_.job().name).toHtmlEscaped(), desk_.units().money_text(used, 2),
                          days ? QStringLiteral(", hand time planned %1 (%2 h at a guessed rate), together <b>%3</b>")
                                     .arg(desk_.units().money_text(days->hand_cost, 2),
                                          qs(fixed(days->schedule.hands_min / 60, 1)),
                                          desk_.units().money_text(used + days->hand_cost, 2))
                               : QString()));
  QStringList rows;
  for (const PourRecord& p : *pours) {
    QString line = QStringLiteral("%1   %2 · %3, %4 of %5")
                       .arg(qs(p.at).left(16).replace(QLatin1Char('T'), QLatin1Char(' ')), qs(p.job_name), qs(p.what),
                            desk_.units().mass_text(p.mass_g, 0), material_name(desk_, p.material_id));
    if (p.failed) line += QStringLiteral(" · went wrong");
    if (!p.note.empty()) line += QStringLiteral(" · ") + qs(p.note);
    if (hit(line)) rows << line;
  }
  const auto check = desk_.plan().fresh(results::check);
  for (size_t i = 0; i < desk_.job().check.castings.size(); ++i) {
    const Casting& c = desk_.job().check.castings[i];
    QString line = QStringLiteral("%1         %2 · casting %3").arg(qs(c.made_on), qs(desk_.job().name)).arg(c.number);
    if (check && i < check->castings.size())
      line += QStringLiteral(" · ") + (check->castings[i].measured
                                           ? QString::fromStdString(std::string(name_of(check->castings[i].overall)))
                                           : QStringLiteral("not measured"));
    if (!c.note.empty()) line += QStringLiteral(" · ") + qs(c.note);
    if (hit(line)) rows << line;
  }
  for (const auto& e : *edits) {
    const QString line = QStringLiteral("%1   %2 · edit: %3")
                             .arg(qs(e[0]).left(16).replace(QLatin1Char('T'), QLatin1Char(' ')), qs(e[1]), qs(e[2]));
    if (hit(line)) rows << line;
  }
  const std::string listed = rows.join(QLatin1Char('\n')).toStdString();
  if (listed != shown_ || list_->count() != rows.size()) {
    shown_ = listed;
    list_->clear();
    list_->addItems(rows);
  }
  auto kept = desk_.workshop().mould_cares();
  std::vector<MouldCare> cares = kept ? *std::move(kept) : std::vector<MouldCare>{};
  mould_row_->setVisible(lots_->selected_mould() != 0);
  if (lots_->selected_mould() != 0) {
    const MouldCare c = care_of_chosen(cares);
    if (!place_->hasFocus()) place_->setText(qs(c.place)), place_->setCursorPosition(0);
    QStringList told;
    if (c.generation > 1) told << QStringLiteral("taken from %1, generation %2").arg(qs(c.parent)).arg(c.generation);
    for (const std::string& m : c.mended) told << QStringLiteral("mended ") + qs(m);
    care_told_->setText(told.join(QStringLiteral(" · ")));
    place_->setReadOnly(desk_.read_only());
    mended_->setEnabled(!desk_.read_only());
  }
  lots_->show_books(*std::move(lots), *std::move(moulds), lives_, std::move(cares));
}

}  // namespace palinform::app
