#include "original/originals_card.hpp"

#include <QFileDialog>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "check/tolerance_interval.hpp"
#include "job/other_originals.hpp"
#include "shell/desk.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

OriginalsCard::OriginalsCard(Desk& desk, QWidget* parent)
    : PopCard(QStringLiteral("Other originals of its kind"), QStringLiteral("originals"), parent), desk_(desk) {
  setFixedWidth(560);
  auto* line = new QHBoxLayout;
  auto* add = new QPushButton(QStringLiteral("Add one, read by hand"));
  add->setObjectName(QStringLiteral("originals-add"));
  auto* scan = new QPushButton(QStringLiteral("From its scan…"));
  scan->setObjectName(QStringLiteral("originals-scan"));
  line->addWidget(add);
  line->addWidget(scan);
  line->addStretch(1);
  col_->addLayout(line);
  connect(add, &QPushButton::clicked, this,
          [this] { desk_.edit(with_other_original(desk_.job(), {}), QStringLiteral("another original")); });
  connect(scan, &QPushButton::clicked, this, [this] {
    const QString path = QFileDialog::getOpenFileName(this, QStringLiteral("Scan of another original"), {},
                                                      QStringLiteral("Meshes (*.stl *.obj *.ply *.3mf *.step *.stp)"));
    if (!path.isEmpty()) desk_.scan_original(path);
  });
}

void OriginalsCard::refresh() {
  const OriginalPart& part = desk_.job().original;
  const std::string key = hash_of(part.others).hex() + hash_of(part.sizes).hex() + (desk_.units().inch ? "i" : "m");
  if (key == shown_) return;
  shown_ = key;
  body_ = renewed(body_);
  auto* grid = new QGridLayout(body_);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setHorizontalSpacing(12);
  int row = 0;
  grid->addWidget(
      card_words(QStringLiteral("Where several have survived, their spread says what the copy must hold. Read each "
                                "size on every one, three times where readings scatter; three originals at least."),
                 "small"),
      row++, 0, 1, 3);
  const std::vector<std::string> names = names_of_originals(part);
  for (size_t k = 0; k < names.size(); ++k) {
    size_t read = 0;
    for (const MeasuredSize& s : part.sizes)
      read += k == 0 ? !s.readings_mm.empty()
                     : k - 1 < s.further_originals_mm.size() && !s.further_originals_mm[k - 1].empty();
    const QString of = QStringLiteral("%1 of %2 sizes read").arg(read).arg(part.sizes.size());
    if (k == 0) {
      grid->addWidget(card_words(QStringLiteral("<b>1</b> %1").arg(qs(names[k]))), row, 0);
      grid->addWidget(card_words(of, "small"), row++, 1);
      continue;
    }
    const OtherOriginal other = k - 1 < part.others.size() ? part.others[k - 1] : OtherOriginal{};
    auto* name = new QLineEdit(qs(other.name));
    name->setObjectName(QStringLiteral("original-%1-name").arg(k + 1));
    name->setPlaceholderText(qs(names[k]));
    name->setAccessibleName(QStringLiteral("Name of original %1").arg(k + 1));
    name->setMaxLength(80);
    auto* note = new QLineEdit(qs(other.note));
    note->setObjectName(QStringLiteral("original-%1-note").arg(k + 1));
    note->setPlaceholderText(QStringLiteral("how it is: worn, chipped"));
    note->setAccessibleName(QStringLiteral("How original %1 is").arg(k + 1));
    note->setMaxLength(2000);
    const auto keeps = [this, at = k - 1](QLineEdit* field, std::string OtherOriginal::*member, const QString& what) {
      connect(field, &QLineEdit::editingFinished, this, [this, field, member, what, at] {
        if (!field->isModified()) return;
        Job next = desk_.job();
        if (next.original.others.size() <= at) next.original.others.resize(at + 1);
        next.original.others[at].*member = field->text().trimmed().toStdString();
        desk_.edit(next, what);
      });
    };
    keeps(name, &OtherOriginal::name, QStringLiteral("name of an original"));
    keeps(note, &OtherOriginal::note, QStringLiteral("how an original is"));
    grid->addWidget(name, row, 0);
    grid->addWidget(note, row + 1, 0);
    const QString scan = other.scan_file.empty() ? QString() : QStringLiteral(", scan ") + qs(other.scan_file);
    grid->addWidget(card_words(of + scan, "small"), row, 1);
    if (read == 0)
      grid->addWidget(card_words(QStringLiteral("its readings go behind a stroke in each size"), "small"), row + 1, 1,
                      1, 2);
    auto* drop = new QPushButton(QStringLiteral("Take out"));
    drop->setProperty("kind", "bare");
    drop->setObjectName(QStringLiteral("original-%1-drop").arg(k + 1));
    connect(drop, &QPushButton::clicked, this, [this, at = k - 1] {
      desk_.edit(without_other_original(desk_.job(), at), QStringLiteral("an original taken out"));
    });
    grid->addWidget(drop, row, 2);
    row += 2;
  }
  // What the spread says, size by size.
  const Units& u = desk_.units();
  bool any = false;
  for (const MeasuredSize& s : part.sizes) {
    const auto spread = spread_of_originals(s);
    if (!spread) continue;
    const bool angle = s.kind == SizeKind::angle;
    const auto mm = [&](double v, int digits) {
      return angle ? qs(fixed(v, digits)) + QStringLiteral("°") : u.length_unit_text(v, digits);
    };
    any = true;
    QString told = QStringLiteral("<b>%1</b> %2 originals, mean %3, spread %4")
                       .arg(qs(s.name))
                       .arg(spread->interval.n)
                       .arg(mm(spread->interval.mean_mm, 3), mm(spread->interval.spread_mm, 3));
    told += spread->resolved
                ? QStringLiteral("; of it measuring %1. Limits %2 to %3.")
                      .arg(mm(spread->repeat_mm, 3), mm(spread->interval.lower_mm, 3), mm(spread->interval.upper_mm, 3))
                : QStringLiteral(": no more than measuring scatters (%1). Read each one more often.")
                      .arg(mm(spread->repeat_mm, 3));
    auto* text = card_words(told, "small");
    text->setTextFormat(Qt::RichText);
    text->setObjectName(QStringLiteral("spread-%1").arg(qs(s.id)));
    grid->addWidget(text, row++, 0, 1, 3);
  }
  if (any) {
    auto* take = new QPushButton(QStringLiteral("Take these limits"));
    take->setObjectName(QStringLiteral("originals-take"));
    take->setToolTip(QStringLiteral("95 % of all that were ever made lie within them, with 95 % confidence"));
    connect(take, &QPushButton::clicked, this, [this] {
      Job next = desk_.job();
      for (MeasuredSize& s : next.original.sizes)
        if (const auto spread = spread_of_originals(s); spread && spread->resolved) take_limits(s, *spread);
      desk_.edit(next, QStringLiteral("limits from several originals"));
    });
    grid->addWidget(take, row++, 0, Qt::AlignLeft);
  }
  grid->setColumnStretch(1, 1);
  fit(body_);
}

}  // namespace palinform::app
