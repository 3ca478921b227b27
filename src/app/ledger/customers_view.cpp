#include "ledger/customers_view.hpp"

#include <QHBoxLayout>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QTimer>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "shell/desk.hpp"
#include "theme/theme.hpp"

namespace palinform::app {
namespace {

/// A note is kept when somebody goes on to something else.
class NoteEdit : public QPlainTextEdit {
 public:
  explicit NoteEdit(std::function<void()> left) : left_(std::move(left)) {}

 protected:
  void focusOutEvent(QFocusEvent* e) override {
    QPlainTextEdit::focusOutEvent(e);
    left_();
  }

 private:
  std::function<void()> left_;
};

QString job_words(const JobRow& row, const Units& units, const Job* job) {
  QString s = qs(row.name) + QStringLiteral(" · ") + qs(counted(row.copies, "copy", "copies"));
  if (row.castings > 0)
    s += QStringLiteral(", ") + qs(counted(row.castings, "casting", "castings")) + QStringLiteral(" made");
  if (job && !job->quote.sent_on.empty())
    s += QStringLiteral(" · offered %1 on %2%3")
             .arg(units.money_text(job->quote.total, 2), qs(job->quote.sent_on),
                  job->quote.taken_on.empty() ? QString() : QStringLiteral(", taken"));
  if (!row.promised.empty() && row.open()) s += QStringLiteral(" · promised for ") + qs(row.promised);
  if (job && !job->piece.came_on.empty())
    s += job->piece.went_on.empty() ? QStringLiteral(" · the original is here since ") + qs(job->piece.came_on)
                                    : QStringLiteral(" · the original went back on ") + qs(job->piece.went_on);
  if (!row.open()) s += QStringLiteral(" · closed on ") + qs(row.closed_on);
  return s;
}

}  // namespace

CustomersView::CustomersView(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(14);
  names_ = new QListWidget;
  names_->setObjectName(QStringLiteral("customers-list"));
  names_->setAccessibleName(QStringLiteral("Customers"));
  names_->setFixedWidth(270);
  names_->setWordWrap(true);
  names_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  row->addWidget(names_);
  side_ = new QWidget;
  auto* col = new QVBoxLayout(side_);
  col->setContentsMargins(0, 0, 0, 0);
  col->setSpacing(8);
  head_ = new QLabel;
  head_->setObjectName(QStringLiteral("customers-head"));
  head_->setTextFormat(Qt::RichText);
  head_->setWordWrap(true);
  col->addWidget(head_);
  auto* reach_row = new QHBoxLayout;
  reach_ = add_line(reach_row, QStringLiteral("Reached at"), QStringLiteral("customers-reach"), 0);
  reach_->setPlaceholderText(QStringLiteral("address, telephone"));
  col->addLayout(reach_row);
  connect(reach_, &QLineEdit::editingFinished, this, &CustomersView::keep);
  note_ = new NoteEdit([this] { keep(); });
  note_->setObjectName(QStringLiteral("customers-note"));
  note_->setAccessibleName(QStringLiteral("Note on the customer"));
  note_->setPlaceholderText(QStringLiteral("What is good to know: how they pay, what they look at first, who fetches"));
  note_->setFixedHeight(84);
  col->addWidget(note_);
  jobs_ = new QListWidget;
  jobs_->setObjectName(QStringLiteral("customers-jobs"));
  jobs_->setAccessibleName(QStringLiteral("Their jobs; Enter opens one"));
  jobs_->setWordWrap(true);
  jobs_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  col->addWidget(jobs_, 1);
  row->addWidget(side_, 1);
  empty_ = remark(QStringLiteral("No job says whom it is for. Jobs, \"For whom…\" writes it on one."));
  empty_->setAlignment(Qt::AlignCenter);
  row->addWidget(empty_, 1);
  // A job a turn: whoever has had forty of them made holds up nothing.
  filling_ = new QTimer(this);
  connect(filling_, &QTimer::timeout, this, &CustomersView::fill_next);
  connect(names_, &QListWidget::currentRowChanged, this, &CustomersView::show_chosen);
  connect(jobs_, &QListWidget::itemActivated, this,
          [this](QListWidgetItem* item) { desk_.open_job(item->data(Qt::UserRole).toString().toStdString()); });
}

const CustomerJobs* CustomersView::chosen() const {
  const int i = names_->currentRow();
  return i >= 0 && i < static_cast<int>(all_.size()) ? &all_[static_cast<size_t>(i)] : nullptr;
}

void CustomersView::keep() {
  const CustomerJobs* c = chosen();
  if (!c || desk_.read_only()) return;
  Customer next = c->customer;
  next.reach = reach_->text().trimmed().toStdString();
  next.note = note_->toPlainText().trimmed().toStdString();
  if (next.reach == c->customer.reach && next.note == c->customer.note) return;
  if (const auto ok = desk_.workshop().keep_customer(next); !ok) {
    emit desk_.message(qs(ok.error().text()), true);
    return;
  }
  all_[static_cast<size_t>(names_->currentRow())].customer = next;
}

void CustomersView::refresh() {
  auto all = customers_with_jobs(desk_.workshop());
  if (!all) return;
  const std::string mine = lower_ascii(desk_.has_job() ? desk_.job().client : std::string());
  std::string key;
  for (const CustomerJobs& c : *all) {
    key += c.customer.name + "|";
    for (const JobRow& r : c.jobs) key += r.id + r.changed_at + ";";
  }
  names_->setVisible(!all->empty());
  side_->setVisible(!all->empty());
  empty_->setVisible(all->empty());
  if (key == shown_) return;
  shown_ = key;
  const std::string before = chosen() ? chosen()->customer.name : std::string();
  all_ = *std::move(all);
  names_->blockSignals(true);
  names_->clear();
  int at = 0;
  for (size_t i = 0; i < all_.size(); ++i) {
    const CustomerJobs& c = all_[i];
    names_->addItem(qs(c.customer.name) + QStringLiteral("\n") +
                    qs(counted(static_cast<long long>(c.jobs.size()), "job", "jobs")) +
                    (c.open > 0 ? QStringLiteral(", %1 open").arg(c.open) : QString()));
    if (before.empty() ? lower_ascii(c.customer.name) == mine : c.customer.name == before) at = static_cast<int>(i);
  }
  names_->setCurrentRow(all_.empty() ? -1 : at);
  names_->blockSignals(false);
  show_chosen();
}

void CustomersView::show_chosen() {
  const CustomerJobs* c = chosen();
  jobs_->clear();
  filling_->stop();
  filled_ = 0, offered_ = taken_ = 0;
  if (!c) return;
  for (const JobRow& row : c->jobs) {
    auto* item = new QListWidgetItem(job_words(row, desk_.units(), nullptr));
    item->setData(Qt::UserRole, qs(row.id));
    jobs_->addItem(item);
  }
  filling_->start(0);
  say_head();
  if (!reach_->hasFocus()) reach_->setText(qs(c->customer.reach)), reach_->setCursorPosition(0);
  if (!note_->hasFocus()) note_->setPlainText(qs(c->customer.note));
  reach_->setReadOnly(desk_.read_only());
  note_->setReadOnly(desk_.read_only());
}

void CustomersView::fill_next() {
  const CustomerJobs* c = chosen();
  if (!c || filled_ >= static_cast<int>(c->jobs.size()) || filled_ >= jobs_->count()) {
    filling_->stop();
    return;
  }
  const JobRow& row = c->jobs[static_cast<size_t>(filled_)];
  if (const auto job = desk_.workshop().load_job(row.id)) {
    jobs_->item(filled_)->setText(job_words(row, desk_.units(), &*job));
    if (!job->quote.sent_on.empty()) {
      offered_ += job->quote.total;
      if (!job->quote.taken_on.empty()) taken_ += job->quote.total;
      say_head();
    }
  }
  ++filled_;
}

void CustomersView::say_head() {
  const CustomerJobs* c = chosen();
  if (!c) return;
  QString words = QStringLiteral("<b>%1</b> · ").arg(qs(c->customer.name).toHtmlEscaped()) +
                  qs(counted(static_cast<long long>(c->jobs.size()), "job", "jobs"));
  if (offered_ > 0)
    words += QStringLiteral(" · offered %1 in all, of it taken %2")
                 .arg(desk_.units().money_text(offered_, 2), desk_.units().money_text(taken_, 2));
  head_->setText(words);
}

}  // namespace palinform::app
