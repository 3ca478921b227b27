#include "wall/wall_page.hpp"

#include <QDate>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QLabel>
#include <QMenu>
#include <QScrollArea>
#include <QTimer>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "overview/day_list.hpp"
#include "shell/desk.hpp"
#include "theme/theme.hpp"
#include "wall/day_words.hpp"

namespace palinform::app {

namespace {

constexpr size_t most_found = 60;

/// "14:20" of today, else "Fri 14:20".
QString hour_words(WallMinute t, WallMinute now) {
  return day_number(t) == day_number(now) ? qs(wall_text(t)).mid(11) : qs(short_text(t));
}

}  // namespace

WallPage::WallPage(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  setObjectName(QStringLiteral("page"));
  auto* col = new QVBoxLayout(this);
  col->setContentsMargins(16, 10, 16, 8);
  col->setSpacing(6);
  auto* head = new QHBoxLayout;
  head->setSpacing(8);
  search_ = new QLineEdit;
  search_->setObjectName(QStringLiteral("wall-search"));
  search_->setPlaceholderText(QStringLiteral("Find a job: name, customer, material, part"));
  search_->setAccessibleName(QStringLiteral("Find a job"));
  search_->setClearButtonEnabled(true);
  search_->setFixedWidth(330);
  connect(search_, &QLineEdit::textChanged, this, &WallPage::show_found);
  connect(search_, &QLineEdit::returnPressed, this, [this] {
    if (auto* first = found_->findChild<QPushButton*>()) first->click();
  });
  head->addWidget(search_);
  closed_ = chip(QStringLiteral("Closed ones too"), QStringLiteral("wall-closed"), true);
  connect(closed_, &QPushButton::toggled, this, &WallPage::show_found);
  head->addWidget(closed_);
  auto* begin = chip(QStringLiteral("New job"), QStringLiteral("wall-new"));
  connect(begin, &QPushButton::clicked, this, [this] {
    desk_.new_job();
    emit opened();
  });
  head->addWidget(begin);
  told_ = remark();
  told_->setObjectName(QStringLiteral("wall-told"));
  head->addWidget(told_, 1);
  calendar_ = chip(QStringLiteral("Calendar file…"), QStringLiteral("wall-calendar"));
  connect(calendar_, &QPushButton::clicked, this, [this] {
    const QString path = QFileDialog::getSaveFileName(this, QStringLiteral("Calendar of all jobs"),
                                                      QStringLiteral("shop.ics"), QStringLiteral("Calendars (*.ics)"));
    if (!path.isEmpty()) desk_.write_shop_calendar(path);
  });
  head->addWidget(calendar_);
  paper_ = chip(QStringLiteral("The day on paper…"), QStringLiteral("wall-paper"));
  connect(paper_, &QPushButton::clicked, this, [this] {
    const WallMinute day = ribbon_->first();
    const QString path = QFileDialog::getSaveFileName(this, QStringLiteral("The day on paper"),
                                                      qs(wall_text(day)).left(10) + QStringLiteral(".pdf"),
                                                      QStringLiteral("Pages (*.pdf)"));
    if (!path.isEmpty()) desk_.write_day_list(path, day);
  });
  head->addWidget(paper_);
  reports_ = chip(QStringLiteral("Reports…"), QStringLiteral("wall-reports"));
  connect(reports_, &QPushButton::clicked, this, [this] {
    const QString path =
        QFileDialog::getSaveFileName(this, QStringLiteral("What the books add up to"), QStringLiteral("reports.xlsx"),
                                     QStringLiteral("Workbooks (*.xlsx);;A folder of CSV tables (*)"));
    if (!path.isEmpty()) desk_.write_reports(path);
  });
  head->addWidget(reports_);
  col->addLayout(head);

  now_ = new QWidget;
  auto* nc = new QVBoxLayout(now_);
  nc->setContentsMargins(0, 0, 0, 0);
  nc->setSpacing(6);
  cords_ = new CordsView(desk_);
  connect(cords_, &CordsView::opened, this, &WallPage::open);
  connect(cords_, &CordsView::acts_wanted, this, &WallPage::acts);
  cords_scroll_ = new QScrollArea;
  cords_scroll_->setFrameShape(QFrame::NoFrame);
  cords_scroll_->setWidgetResizable(true);
  cords_scroll_->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  cords_scroll_->setWidget(cords_);
  nc->addWidget(cords_scroll_);
  auto* days = new QHBoxLayout;
  days->setSpacing(8);
  span_ = new Chips;
  span_->add(QStringLiteral("Day"), QStringLiteral("wall-day"));
  span_->add(QStringLiteral("Two"), QStringLiteral("wall-two"));
  span_->add(QStringLiteral("Week"), QStringLiteral("wall-week"));
  span_->set_current(1);
  ribbon_ = new ShopRibbon(desk_);
  connect(span_, &Chips::chosen, this, [this](int i) {
    ribbon_->show_days(Desk::wall_now(), i == 0 ? 1 : i == 1 ? 2 : 7);
  });
  ribbon_->show_days(Desk::wall_now(), 2);
  connect(ribbon_, &ShopRibbon::opened, this, &WallPage::open);
  auto* spans = new QVBoxLayout;
  spans->addWidget(span_, 0, Qt::AlignTop);
  nc->addLayout(days);
  days->addWidget(ribbon_, 1);
  auto* row = new QHBoxLayout;
  row->setSpacing(14);
  const char* names[] = {"Needs hands", "Curing", "Short on the shelf", "Promised"};
  const char* keys[] = {"wall-hands", "wall-cures", "wall-short", "wall-promised"};
  for (size_t i = 0; i < lists_.size(); ++i) {
    auto* part = new QVBoxLayout;
    part->setSpacing(2);
    auto* title_row = new QHBoxLayout;
    auto* title = new QLabel(QString::fromLatin1(names[i]));
    title->setFont(type_face(14, 700));
    title_row->addWidget(title);
    if (i == 0) {
      title_row->addStretch(1);
      title_row->addWidget(span_);
    }
    part->addLayout(title_row);
    lists_[i] = new QLabel;
    lists_[i]->setObjectName(QString::fromLatin1(keys[i]));
    lists_[i]->setTextFormat(Qt::RichText);
    lists_[i]->setWordWrap(true);
    lists_[i]->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    lists_[i]->setTextInteractionFlags(Qt::LinksAccessibleByMouse | Qt::LinksAccessibleByKeyboard);
    connect(lists_[i], &QLabel::linkActivated, this, &WallPage::open);
    auto* area = scrolled(lists_[i]);
    area->setMinimumHeight(150);
    part->addWidget(area, 1);
    row->addLayout(part, i == 0 ? 4 : 3);
  }
  nc->addLayout(row, 1);
  col->addWidget(now_, 1);

  found_ = new QWidget;
  new QVBoxLayout(found_);
  found_scroll_ = scrolled(found_);
  found_scroll_->hide();
  col->addWidget(found_scroll_, 1);
  connect(&desk_, &Desk::shop_changed, this, [this] {
    if (isVisible()) refresh();
  });
}

void WallPage::showEvent(QShowEvent* e) {
  QWidget::showEvent(e);
  desk_.look_at_shop();
  refresh();
  cords_->setFocus();
}

void WallPage::open(const QString& id) {
  search_->clear();
  if (!desk_.has_job() || desk_.job().id != id.toStdString()) desk_.open_job(id.toStdString());
  emit opened();
}

void WallPage::ask_promise(const std::string& id, const QString& name) {
  bool ok = false;
  const QString day =
      QInputDialog::getText(this, QStringLiteral("Promised for"),
                            QStringLiteral("%1 is promised for (year-month-day, empty: nothing is promised)").arg(name),
                            QLineEdit::Normal, QDate::currentDate().addDays(14).toString(Qt::ISODate), &ok)
          .trimmed();
  if (!ok) return;
  if (!day.isEmpty() && !QDate::fromString(day, Qt::ISODate).isValid()) {
    emit desk_.message(QStringLiteral("\"%1\" is no day: write 2026-12-18.").arg(day), true);
    return;
  }
  desk_.promise(id, day);
}

void WallPage::acts(int j, const QPoint& at) {
  const auto shop = desk_.shop_now();
  if (!shop || j < 0 || static_cast<size_t>(j) >= shop->jobs.size()) return;
  const OpenJobNow& job = shop->jobs[static_cast<size_t>(j)];
  auto* menu = new QMenu(this);
  menu->setObjectName(QStringLiteral("wall-acts"));
  menu->setAttribute(Qt::WA_DeleteOnClose);
  menu->addAction(QStringLiteral("Open it"), this, [this, id = qs(job.id)] { open(id); });
  if (!desk_.read_only()) {
    menu->addAction(QStringLiteral("Promised for …"), this,
                    [this, id = job.id, name = qs(job.name)] { ask_promise(id, name); });
    menu->addAction(QStringLiteral("A new job after this pattern"), this, [this, id = job.id] {
      desk_.copy_job(id);
      emit opened();
    });
    menu->addAction(QStringLiteral("Close it: done with"), this, [this, id = job.id] { desk_.close_job(id, true); });
  }
  menu->popup(at);
}

void WallPage::show_found() {
  const QString words = search_->text().trimmed();
  const bool looking = !words.isEmpty() || closed_->isChecked();
  now_->setVisible(!looking);
  found_scroll_->setVisible(looking);
  auto* col = static_cast<QVBoxLayout*>(found_->layout());
  while (QLayoutItem* item = col->takeAt(0)) {
    if (item->widget()) item->widget()->deleteLater();
    delete item;
  }
  if (!looking) return refresh();
  const auto rows = desk_.workshop().jobs();
  size_t found = 0;
  if (rows)
    for (const JobRow& r : *rows) {
      if ((!r.open() && !closed_->isChecked()) || !found_by(r, words.toStdString())) continue;
      if (++found > most_found) continue;
      QString text = qs(r.name);
      if (!r.client.empty()) text += QStringLiteral("  ·  for ") + qs(r.client);
      text += QStringLiteral("  ·  %1 of %2 cast").arg(r.castings).arg(r.copies);
      if (!r.promised.empty()) text += QStringLiteral("  ·  promised for ") + qs(r.promised);
      text += r.open() ? QStringLiteral("  ·  worked on ") + qs(r.changed_at).left(10)
                       : QStringLiteral("  ·  closed ") + qs(r.closed_on);
      auto* line = new QWidget;
      auto* lr = new QHBoxLayout(line);
      lr->setContentsMargins(0, 0, 0, 0);
      auto* b = new QPushButton(text);
      b->setProperty("kind", "chip");
      b->setObjectName(QStringLiteral("found-") + qs(r.id));
      b->setStyleSheet(QStringLiteral("text-align: left; padding-left: 12px;"));
      b->setMinimumHeight(44);
      const auto shop = desk_.shop_now();
      if (shop)
        for (const OpenJobNow& j : shop->jobs)
          if (j.id == r.id && !desk_.part_picture(j.mesh).isNull()) {
            b->setIcon(QPixmap::fromImage(desk_.part_picture(j.mesh)));
            b->setIconSize(QSize(50, 36));
          }
      connect(b, &QPushButton::clicked, this, [this, id = qs(r.id)] { open(id); });
      lr->addWidget(b, 1);
      if (!r.open()) {
        auto* again = chip(QStringLiteral("Open again"), QStringLiteral("reopen-") + qs(r.id));
        connect(again, &QPushButton::clicked, this, [this, id = r.id] {
          desk_.close_job(id, false);
          QTimer::singleShot(0, this, &WallPage::show_found);
        });
        lr->addWidget(again);
      }
      col->addWidget(line);
    }
  told_->setText(found == 0
                     ? QStringLiteral("No job answers to that.")
                     : qs(counted(static_cast<long long>(found), "job", "jobs")) +
                           (found > most_found ? QStringLiteral(", the last %1 shown").arg(most_found) : QString()));
  col->addStretch(1);
}

void WallPage::refresh() {
  const auto shop = desk_.shop_now();
  for (QPushButton* b : {calendar_, paper_}) b->setEnabled(shop && shop->planned && !shop->shop.jobs.empty());
  if (found_scroll_->isVisible()) return;
  cords_->setMinimumWidth(cords_->wanted_width());
  cords_scroll_->setFixedHeight(cords_->height() + (cords_->wanted_width() > cords_scroll_->width() ? 14 : 0));
  cords_->update();
  ribbon_->update();
  const Desk::ShopWork& work = desk_.shop_work();
  QString told;
  if (work.running && (!shop || !shop->planned)) {
    told = QStringLiteral("Working the jobs out, %1 % …").arg(qs(fixed(100 * work.progress, 0)));
  } else if (shop && shop->planned && !shop->shop.jobs.empty()) {
    told =
        QStringLiteral("All ready %1, %2").arg(day_words(shop->plan.finish), qs(wall_text(shop->plan.finish)).mid(11));
    told += shop->plan.proven ? QStringLiteral(" · no plan is better")
                              : QStringLiteral(" · at most %1 h could be gained").arg(qs(fixed(shop->plan.gap_h, 0)));
  }
  told_->setText(told);
  if (!shop) {
    for (QLabel* l : lists_) l->clear();
    return;
  }
  const QString quiet = pal().quiet.name(), ink = pal().ink.name();
  const auto row = [&](const QString& left, size_t job, const QString& text, const QString& colour = {}) {
    const OpenJobNow& j = shop->jobs[job];
    return QStringLiteral(
               "<tr><td style='padding:2px 10px 2px 0; white-space:nowrap'><font color='%1'>%2</font></td><td "
               "style='padding:2px 0'><a href='%3' style='color:%4; text-decoration:none'><b>%5</b> %6</a></td></tr>")
        .arg(quiet, left.toHtmlEscaped(), qs(j.id), colour.isEmpty() ? ink : colour, qs(job_letter(job)),
             text.toHtmlEscaped());
  };
  const auto table = [](const QString& rows, const QString& none) {
    return rows.isEmpty() ? none : QStringLiteral("<table>%1</table>").arg(rows);
  };
  const QString wait =
      shop->planned ? QString() : QStringLiteral("<font color='%1'>being worked out …</font>").arg(quiet);
  QString rows;
  for (const WallHands& h : shop->wall.hands)
    rows +=
        row(h.in_hand ? QStringLiteral("now") : hour_words(h.from, shop->now), h.job,
            qs(shop->jobs[h.job].name) + QStringLiteral(": ") + qs(h.step) +
                (h.more ? QStringLiteral(" and %1").arg(qs(counted(h.more, "more step", "more steps"))) : QString()) +
                (h.in_hand ? QString() : QStringLiteral(", %1 min").arg(h.to - h.from)),
            h.in_hand ? pal().act.name() : QString());
  lists_[0]->setText(
      table(rows, !wait.isEmpty() ? wait : QStringLiteral("<font color='%1'>Nothing.</font>").arg(quiet)));
  rows.clear();
  for (const WallCure& c : shop->wall.cures)
    rows += row(hour_words(c.ends, shop->now), c.job, qs(shop->jobs[c.job].name) + QStringLiteral(": ") + qs(c.what));
  lists_[1]->setText(
      table(rows, QStringLiteral("<font color='%1'>No clock is running at the bench.</font>").arg(quiet)));
  rows.clear();
  for (const ShoppingLine& l : shop->wall.lacking) {
    QString names;
    for (const std::string& n : l.jobs) names += (names.isEmpty() ? QString() : QStringLiteral(", ")) + qs(n);
    rows += QStringLiteral(
                "<tr><td style='padding:2px 10px 2px 0; white-space:nowrap'><font color='%1'>%2</font></td><td "
                "style='padding:2px 0'>%3%4<br><font color='%1'>for %5</font></td></tr>")
                .arg(quiet, desk_.units().mass_text(l.short_g, 0), qs(l.name).toHtmlEscaped(),
                     l.packs.of.empty() ? QString() : QStringLiteral(": buy ") + qs(l.packs.words()),
                     names.toHtmlEscaped());
  }
  lists_[2]->setText(
      table(rows, !wait.isEmpty() ? wait : QStringLiteral("<font color='%1'>Nothing is short.</font>").arg(quiet)));
  rows.clear();
  for (const WallPromise& p : shop->wall.promises) {
    const bool late = p.state == PromiseState::late;
    QString text = qs(shop->jobs[p.job].name);
    if (p.state == PromiseState::done)
      text += QStringLiteral(", all are cast");
    else if (p.finish)
      text += QStringLiteral(", ready ") + day_words(*p.finish);
    if (!p.why.empty()) text += QStringLiteral(", ") + qs(p.why);
    rows += row(day_words(p.due - 1), p.job, text, late ? pal().stop.name() : QString());
  }
  lists_[3]->setText(
      table(rows, QStringLiteral("<font color='%1'>Nothing is promised. A job's ⋮ takes the day.</font>").arg(quiet)));
}

}  // namespace palinform::app
