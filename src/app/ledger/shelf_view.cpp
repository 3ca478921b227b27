#include "ledger/shelf_view.hpp"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QMenu>
#include <QScrollArea>
#include <QStackedWidget>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "shell/desk.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

namespace {

QString capital(std::string_view words) {
  QString s = QString::fromUtf8(words.data(), static_cast<int>(words.size()));
  if (!s.isEmpty()) s[0] = s[0].toUpper();
  return s;
}

}  // namespace

ShelfView::ShelfView(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  auto* col = new QVBoxLayout(this);
  col->setContentsMargins(0, 0, 0, 0);
  col->setSpacing(8);
  stack_ = new QStackedWidget;
  col->addWidget(stack_, 1);

  auto* shelf = new QWidget;
  auto* sc = new QVBoxLayout(shelf);
  sc->setContentsMargins(0, 0, 0, 0);
  auto* row = new QHBoxLayout;
  find_ = new QLineEdit;
  find_->setObjectName(QStringLiteral("shelf-find"));
  find_->setPlaceholderText(QStringLiteral("find a bottle by name, kind or family"));
  find_->setAccessibleName(QStringLiteral("Find a bottle"));
  find_->setClearButtonEnabled(true);
  row->addWidget(find_, 1);
  new_ = chip(QStringLiteral("New bottle"), QStringLiteral("bottle-new"));
  auto* menu = new QMenu(new_);
  MaterialKind last = MaterialKind::sealer;
  QMenu* sub = nullptr;
  for (const Family& f : families()) {
    if (!sub || f.kind != last) sub = menu->addMenu(capital(words_of(f.kind)));
    last = f.kind;
    sub->addAction(qs(f.name), this, [this, id = f.id] { add_of_family(id); });
  }
  auto* nothing = menu->addMenu(QStringLiteral("Nothing is known of it"));
  for (size_t k = 0; k < names<MaterialKind>.size(); ++k) {
    const auto kind = static_cast<MaterialKind>(k);
    nothing->addAction(capital(words_of(kind)), this, [this, kind] { add_from_nothing(kind); });
  }
  new_->setMenu(menu);
  row->addWidget(new_);
  auto* read = chip(QStringLiteral("Read a file…"), QStringLiteral("shelf-read"));
  row->addWidget(read);
  auto* write = chip(QStringLiteral("Write a file…"), QStringLiteral("shelf-write"));
  row->addWidget(write);
  sc->addLayout(row);
  bottles_ = new BottlesView;
  sc->addWidget(scrolled(bottles_), 1);
  auto* legend =
      remark(QStringLiteral("The level shows what the lots hold. Hatched on a label: the share of its figures that "
                            "is a guess of its family."));
  sc->addWidget(legend);
  stack_->addWidget(shelf);

  auto* bottle = new QWidget;
  auto* bc = new QVBoxLayout(bottle);
  bc->setContentsMargins(0, 0, 0, 0);
  bc->setSpacing(8);
  auto* head = new QHBoxLayout;
  head->setSpacing(10);
  auto* back = chip(QStringLiteral("← The shelf"), QStringLiteral("bottle-back"));
  head->addWidget(back, 0, Qt::AlignBottom);
  name_ = add_line(head, QStringLiteral("Name"), QStringLiteral("bottle-name"), 300);
  ratio_ = add_line(head, QStringLiteral("A to B, as its sheet says"), QStringLiteral("bottle-ratio"), 190);
  head->addStretch(1);
  copy_ = chip(QStringLiteral("Copy"), QStringLiteral("bottle-copy"));
  head->addWidget(copy_, 0, Qt::AlignBottom);
  retire_ = chip(QStringLiteral("Retire"), QStringLiteral("bottle-retire"));
  head->addWidget(retire_, 0, Qt::AlignBottom);
  bc->addLayout(head);
  kind_ = remark();
  bc->addWidget(kind_);
  marks_ = new MarksView;
  bc->addWidget(scrolled(marks_), 1);
  bc->addWidget(remark(QStringLiteral(
      "Disc: from the sheet. Ring: measured here. Hatched square: a guess of the family. Band and notch: where the "
      "family "
      "usually lies. Click a figure to write it, drag its mark, click its source to turn it; an empty figure is "
      "guessed again.")));
  stack_->addWidget(bottle);

  connect(find_, &QLineEdit::textChanged, this, [this] { refresh(); });
  connect(bottles_, &BottlesView::opened, this, [this](const QString& id) { open(id.toStdString()); });
  connect(back, &QPushButton::clicked, this, [this] { open({}); });
  connect(read, &QPushButton::clicked, this, [this] {
    const QString path = QFileDialog::getOpenFileName(this, QStringLiteral("Read materials"), {},
                                                      QStringLiteral("Materials (*.json *.csv)"));
    if (!path.isEmpty()) desk_.read_shelf(path);
  });
  connect(write, &QPushButton::clicked, this, [this] {
    const QString path =
        QFileDialog::getSaveFileName(this, QStringLiteral("Write the shelf"), QStringLiteral("shelf.json"),
                                     QStringLiteral("Materials (*.json *.csv)"));
    if (!path.isEmpty()) desk_.write_shelf(path);
  });
  connect(name_, &QLineEdit::editingFinished, this, [this] {
    const Material* m = shown();
    if (!m || qs(m->name) == name_->text().trimmed()) return;
    Material next = *m;
    next.name = name_->text().trimmed().toStdString();
    keep(Result<Material>(std::move(next)));
  });
  connect(ratio_, &QLineEdit::editingFinished, this, [this] {
    const Material* m = shown();
    if (!m || !cures(m->kind) || qs(ratio_words(m->mixing)) == ratio_->text().trimmed()) return;
    const auto next = with_ratio(*m, ratio_->text().toStdString());
    if (!next) return mark_fault(ratio_, qs(next.error().text()));
    keep(next);
  });
  const auto source_for = [](const Material& m, const std::string& key) {
    const auto at = m.figures.find(key);
    return at != m.figures.end() && at->second.source == FigureSource::measured ? FigureSource::measured
                                                                                : FigureSource::sheet;
  };
  connect(marks_, &MarksView::written, this, [this, source_for](const QString& key, double v) {
    if (const Material* m = shown()) keep(with_figure(*m, key.toStdString(), v, source_for(*m, key.toStdString())));
  });
  connect(marks_, &MarksView::dragged, this, [this](const QString& key, double v) {
    // By eye: still a guess, though the shop's own.
    if (const Material* m = shown()) keep(with_figure(*m, key.toStdString(), v, FigureSource::guess));
  });
  connect(marks_, &MarksView::struck_out, this, [this](const QString& key) {
    if (const Material* m = shown()) keep(without_figure(*m, key.toStdString()));
  });
  connect(marks_, &MarksView::source_turned, this, [this](const QString& key) {
    const Material* m = shown();
    const auto at = m ? m->figures.find(key.toStdString()) : decltype(m->figures.end()){};
    if (!m || at == m->figures.end()) return;
    const auto turned = static_cast<FigureSource>((static_cast<int>(at->second.source) + 1) % 3);
    keep(with_figure(*m, key.toStdString(), at->second.value, turned));
  });
  connect(copy_, &QPushButton::clicked, this, [this] {
    const Material* m = shown();
    if (!m || draft_) return;
    const std::string name = m->name + " (copy)";
    const Material copy = copy_of(*m, new_material_id(desk_.shop().bottles, name), name);
    if (desk_.keep_material(copy)) open(copy.id);
  });
  connect(retire_, &QPushButton::clicked, this, [this] {
    const Material* m = shown();
    if (!m || draft_) return;
    if (m->retired) {
      Material again = *m;
      again.retired = false;
      keep(Result<Material>(std::move(again)));
    } else if (desk_.retire_material(m->id)) {
      refresh();
    }
  });
}

const Material* ShelfView::shown() const { return draft_ ? &*draft_ : desk_.shop().bottle(opened_); }

bool ShelfView::keep(const Result<Material>& changed) {
  if (!changed) {
    emit desk_.message(qs(changed.error().text()), true);
    refresh();
    return false;
  }
  if (draft_) {
    draft_ = *changed;
    if (!check_material(*draft_)) {  // its ratio is still missing
      refresh();
      return false;
    }
  }
  const Material kept = *changed;
  if (!desk_.keep_material(kept)) {
    refresh();
    return false;
  }
  draft_.reset();
  opened_ = kept.id;
  refresh();
  return true;
}

void ShelfView::add_of_family(const std::string& family_id) {
  const Family* f = family(family_id);
  if (!f) return;
  const std::string name = f->name + ", own";
  const Material m = from_family(*f, new_material_id(desk_.shop().bottles, name), name);
  if (!desk_.keep_material(m)) return;
  open(m.id);
  name_->setFocus();
  name_->selectAll();
}

void ShelfView::add_from_nothing(MaterialKind kind) {
  const std::string name = std::string(words_of(kind)) + ", own";
  const Material m = from_nothing(kind, new_material_id(desk_.shop().bottles, name), name);
  if (check_material(m)) {
    if (desk_.keep_material(m)) open(m.id);
    return;
  }
  open({});
  draft_ = m;
  opened_ = m.id;
  refresh();
  ratio_->setFocus();
  emit desk_.message(QStringLiteral("Write its ratio as on the sheet: then it stands on the shelf."), false);
}

void ShelfView::open(const std::string& id) {
  draft_.reset();
  opened_ = desk_.shop().bottle(id) ? id : std::string();
  if (!opened_.empty()) bottles_->select(opened_);
  marks_->select(-1);
  refresh();
  if (opened_.empty()) bottles_->setFocus();
}

void ShelfView::fill_head() {
  const Material* m = shown();
  if (!m) return;
  if (!name_->hasFocus() || name_->text().trimmed().isEmpty()) name_->setText(qs(m->name));
  const bool two = cures(m->kind);
  ratio_->setEnabled(two && !desk_.read_only());
  if (!ratio_->hasFocus()) ratio_->setText(!two || !(m->mixing.a > 0) ? QString() : qs(ratio_words(m->mixing)));
  ratio_->setPlaceholderText(two ? QStringLiteral("100 : 10 by weight") : QStringLiteral("no ratio"));
  name_->setEnabled(!desk_.read_only());
  const Family* f = family(m->family);
  const auto guessed = guesses(*m).size();
  QString words = capital(words_of(m->kind));
  words +=
      f ? QStringLiteral(" · family: ") + qs(f->name) : QStringLiteral(" · of no family: what is missing stays open");
  words += QStringLiteral(" · %1 of %2 figures are guesses").arg(guessed).arg(m->figures.size());
  if (m->version > 1) words += QStringLiteral(" · version %1").arg(m->version);
  if (!m->moisture_part.empty())
    words += QStringLiteral(" · part %1 hates moisture and goes last").arg(qs(m->moisture_part));
  if (m->retired) words += QStringLiteral(" · retired");
  if (draft_) words += QStringLiteral(" · not on the shelf yet");
  for (const std::string& h : m->hazards)
    if (const auto at = desk_.catalogue().hazards.find(h); at != desk_.catalogue().hazards.end())
      words += QStringLiteral("<br><b><font color='%1'>Caution</font></b> ").arg(pal().stop.name()) +
               qs(at->second).toHtmlEscaped();
  kind_->setTextFormat(Qt::RichText);
  kind_->setText(words);
  copy_->setEnabled(!draft_ && !desk_.read_only());
  retire_->setEnabled(!draft_ && !desk_.read_only());
  retire_->setText(m->retired ? QStringLiteral("Bring it back") : QStringLiteral("Retire"));
  marks_->show_lines(figure_lines(*m), !desk_.read_only());
}

void ShelfView::refresh() {
  const QString want = find_->text().trimmed().toLower();
  std::vector<Material> all = desk_.shop().bottles;
  if (!want.isEmpty())
    std::erase_if(all, [&](const Material& m) {
      const Family* f = family(m.family);
      const QString words =
          (qs(m.name) + QLatin1Char(' ') + capital(words_of(m.kind)) + QLatin1Char(' ') + (f ? qs(f->name) : QString()))
              .toLower();
      return !words.contains(want);
    });
  bottles_->show_shelf(std::move(all), desk_.books().lots);
  bottles_->select(opened_);
  new_->setEnabled(!desk_.read_only());
  stack_->setCurrentIndex(shown() ? 1 : 0);
  fill_head();
}

}  // namespace palinform::app
