#include "ledger/history_view.hpp"

#include <QHBoxLayout>
#include <QInputDialog>
#include <QListWidget>
#include <QVBoxLayout>

#include "shell/desk.hpp"
#include "shell/stage_page.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

void HistoryView::ask_who(Desk& desk, QWidget* parent) {
  bool ok = false;
  const QString name =
      QInputDialog::getText(parent, QStringLiteral("Who works here"),
                            QStringLiteral("The name that stands beside every edit made at this machine"),
                            QLineEdit::Normal, desk.who(), &ok);
  if (ok) desk.set_who(name);
}

HistoryView::HistoryView(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  auto* col = new QVBoxLayout(this);
  col->setContentsMargins(0, 0, 0, 0);
  col->setSpacing(8);
  auto* row = new QHBoxLayout;
  told_ = remark();
  told_->setWordWrap(true);
  row->addWidget(told_, 1);
  who_ = chip(QString(), QStringLiteral("history-who"));
  connect(who_, &QPushButton::clicked, this, [this] { ask_who(desk_, this); });
  row->addWidget(who_);
  look_ = chip(QStringLiteral("Look at the job as it was then"), QStringLiteral("history-look"));
  connect(look_, &QPushButton::clicked, this, &HistoryView::look);
  row->addWidget(look_);
  col->addLayout(row);
  list_ = new QListWidget;
  list_->setObjectName(QStringLiteral("history-list"));
  list_->setAccessibleName(QStringLiteral("Edits of this job"));
  list_->setWordWrap(true);
  list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  connect(list_, &QListWidget::currentRowChanged, this, [this] {
    const auto* item = list_->currentItem();
    look_->setEnabled(item && item->data(Qt::UserRole).toLongLong() > 0 && !desk_.trying());
  });
  connect(list_, &QListWidget::itemActivated, this, [this] { look(); });
  col->addWidget(list_, 1);
}

void HistoryView::look() {
  const auto* item = list_->currentItem();
  const qint64 edit = item ? item->data(Qt::UserRole).toLongLong() : 0;
  if (edit <= 0 || desk_.trying()) return;
  desk_.begin_trial();
  if (!desk_.trying()) return;
  desk_.back_to(edit);
  emit desk_.message(QStringLiteral("This is the job as it was %1. Go through the stages; nothing of it is kept until "
                                    "you press \"Keep it\" above.")
                         .arg(item->text().left(16)),
                     false);
}

void HistoryView::refresh() {
  const QString who = desk_.who();
  who_->setText(who.isEmpty() ? QStringLiteral("Who works here …") : QStringLiteral("Here works %1 …").arg(who));
  if (!desk_.has_job()) {
    list_->clear();
    told_->setText(QStringLiteral("Open a job: every edit of it stands here, for ever."));
    look_->setEnabled(false);
    return;
  }
  const auto rows = desk_.workshop().edit_rows(desk_.job().id);
  if (!rows) {
    told_->setText(qs(rows.error().text()));
    return;
  }
  told_->setText(desk_.trying()
                     ? QStringLiteral("An older state is on show. \"Keep it\" or \"Put it back\" stand above.")
                     : QStringLiteral("Every edit of %1, the newest first. Castings are records: they stay, whatever "
                                      "state of the plan comes back.")
                           .arg(qs(desk_.job().name)));
  if (static_cast<size_t>(list_->count()) != rows->size() ||
      (!rows->empty() && list_->item(0)->data(Qt::UserRole + 1).toLongLong() != rows->back().id)) {
    list_->clear();
    for (auto e = rows->rbegin(); e != rows->rend(); ++e) {
      QString at = qs(e->at);
      at.replace(QLatin1Char('T'), QLatin1Char(' '));
      auto* item = new QListWidgetItem(
          QStringLiteral("%1   %2%3%4")
              .arg(at.left(16), e->who.empty() ? QString() : qs(e->who) + QStringLiteral(": "), qs(e->what),
                   e->kept ? QString() : QStringLiteral("   (only told: the state is not kept)")));
      item->setData(Qt::UserRole, e->kept ? static_cast<qlonglong>(e->id) : 0);
      item->setData(Qt::UserRole + 1, static_cast<qlonglong>(e->id));
      list_->addItem(item);
    }
    if (list_->count() > 0) list_->setCurrentRow(0);
  }
  const auto* item = list_->currentItem();
  look_->setEnabled(item && item->data(Qt::UserRole).toLongLong() > 0 && !desk_.trying() && !desk_.read_only());
}

}  // namespace palinform::app
