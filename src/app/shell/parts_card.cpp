#include "shell/parts_card.hpp"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QTimer>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "job/parts.hpp"
#include "shell/desk.hpp"
#include "theme/theme.hpp"

namespace palinform::app {
namespace {

QString short_name(const std::string& name) {
  const QString all = qs(name);
  return all.size() > 16 ? all.left(15) + QStringLiteral("…") : all;
}

void take_in_hand(Desk& desk, int place) {
  const Job& job = desk.job();
  for (size_t k = 0; k < job.parts.size(); ++k)
    if (place_of(job, k) == static_cast<size_t>(place)) {
      desk.edit(with_part_in_hand(job, k), QStringLiteral("another part in hand"));
      return;
    }
}

}  // namespace

PartChips::PartChips(Desk& desk, const QString& name, size_t most, bool wraps, QWidget* parent)
    : Chips(parent, wraps), desk_(desk), name_(name), most_(most) {
  setAccessibleName(QStringLiteral("Part in hand"));
  connect(this, &Chips::chosen, this, [this](int i) { take_in_hand(desk_, i); });
}

void PartChips::refresh() {
  const Job& job = desk_.job();
  const std::vector<std::string> names = part_names(job);
  const bool any = desk_.has_job() && names.size() > 1 && names.size() <= most_;
  setVisible(any);
  if (!any) return;
  if (names != shown_) {
    shown_ = names;
    clear();
    for (size_t k = 0; k < names.size(); ++k)
      add(short_name(names[k]), QStringLiteral("%1-%2").arg(name_).arg(k + 1))->setToolTip(qs(names[k]));
  }
  set_current(job.part_at);
}

PartsCard::PartsCard(Desk& desk, QWidget* parent)
    : PopCard(QStringLiteral("Parts cast from one mould"), QStringLiteral("parts"), parent), desk_(desk) {
  setFixedWidth(560);
  told_ = card_words({});
  col_->addWidget(told_);
  which_ = new PartChips(desk_, QStringLiteral("card-part"), most_further_parts + 1, true);
  col_->addWidget(which_);
  auto* row = new QHBoxLayout;
  name_ = add_line(row, QStringLiteral("Name of this part"), QStringLiteral("part-name"), 200);
  copies_ = new FigureField(QStringLiteral("Wanted"), QStringLiteral("part-copies"), 90);
  copies_->set_range(1, 100'000);
  masters_ = new FigureField(QStringLiteral("In one mould"), QStringLiteral("part-masters"), 90);
  masters_->set_range(1, 24);
  row->addWidget(copies_);
  row->addWidget(masters_);
  row->addStretch(1);
  col_->addLayout(row);
  connect(name_, &QLineEdit::editingFinished, this, [this] {
    Job next = desk_.job();
    const std::string name = trim(name_->text().toStdString());
    if (name == next.part_name) return;
    next.part_name = name;
    desk_.edit(next, QStringLiteral("part's name"));
  });
  connect(copies_, &FigureField::entered, this, [this](double v) {
    Job next = desk_.job();
    next.copies = static_cast<int>(v);
    desk_.edit(next, QStringLiteral("castings"));
  });
  connect(masters_, &FigureField::entered, this, [this](double v) {
    Job next = desk_.job();
    next.mould.masters = static_cast<int>(v);
    desk_.edit(next, QStringLiteral("masters in one box"));
  });
  row = new QHBoxLayout;
  add_ = new QPushButton(QStringLiteral("Add from a mesh file…"));
  add_->setObjectName(QStringLiteral("part-add"));
  hand_ = new QPushButton(QStringLiteral("Add its other hand"));
  hand_->setObjectName(QStringLiteral("part-hand"));
  hand_->setToolTip(QStringLiteral("The mirror image of this part, with the same sizes"));
  out_ = new QPushButton(QStringLiteral("Take this part out"));
  out_->setObjectName(QStringLiteral("part-out"));
  for (QPushButton* b : {add_, hand_, out_}) row->addWidget(b);
  row->addStretch(1);
  col_->addLayout(row);
  connect(add_, &QPushButton::clicked, this, [this] {
    const QString path = QFileDialog::getOpenFileName(this, QStringLiteral("Add a part"), {},
                                                      QStringLiteral("Meshes (*.stl *.obj *.ply *.3mf *.step *.stp)"));
    if (!path.isEmpty()) desk_.add_part(path);
  });
  const auto change = [this](const Result<Job>& next, const QString& what) {
    if (next)
      desk_.edit(*next, what);
    else
      emit desk_.message(qs(next.error().text()), true);
  };
  connect(hand_, &QPushButton::clicked, this,
          [this, change] { change(with_other_hand(desk_.job()), QStringLiteral("other hand added")); });
  connect(out_, &QPushButton::clicked, this,
          [this, change] { change(without_part(desk_.job()), QStringLiteral("part taken out")); });
}

void PartsCard::refresh() {
  const Job& job = desk_.job();
  const bool several = !job.parts.empty();
  told_->setText(
      !several ? QStringLiteral("This job has one part. Left and right hand, or mates, can stand in one box, each with "
                                "its own sizes, split, gate and number.")
      : parts_on_bar(job)
          ? QStringLiteral(
                "They hang from one bar over one well, each the way up that traps least. Every room shows the "
                "part in hand; rubber, resin, days and bench are of all of them.")
      : parts_together(job)
          ? QStringLiteral(
                "They stand in one box, each with its own cavity. Every room shows the part in hand; rubber, "
                "resin, days and bench are of all of them.")
          : QStringLiteral("%1 takes the part in hand alone: nothing is reckoned for the others. A two-part block or a "
                           "squeeze mould takes all of them.")
                .arg(qs(std::string(words_of(job.mould.planned_form())))));
  which_->refresh();
  if (!name_->hasFocus()) name_->setText(qs(job.part_name));
  name_->setPlaceholderText(qs(name_in_hand(job)));
  name_->setEnabled(several);
  copies_->show_value(job.copies, 0, {});
  masters_->show_value(job.mould.masters, 0, {});
  hand_->setEnabled(job.original.has_shape());
  add_->setEnabled(job.original.has_shape());
  out_->setEnabled(several);
  // Words and chips wrap, so that its height follows from its width; chips just made are laid out a moment later.
  const auto fit = [this] {
    layout()->activate();
    resize(width(), layout()->totalHeightForWidth(width()));
  };
  fit();
  QTimer::singleShot(0, this, fit);
}

}  // namespace palinform::app
