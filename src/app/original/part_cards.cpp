#include "original/part_cards.hpp"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "shell/desk.hpp"
#include "stages/preparation.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

namespace {

QLabel* small_head(const QString& words) {
  auto* l = new QLabel(words);
  l->setProperty("role", "small");
  return l;
}

}  // namespace

FacesCard::FacesCard(Desk& desk, QWidget* parent)
    : PopCard(QStringLiteral("Faces and finish"), QStringLiteral("faces"), parent), desk_(desk) {
  col_->addWidget(
      small_head(QStringLiteral("Mark a face: choose what it is, then click it; click it again to unmark")));
  kind_ = new Chips;
  kind_->add(QStringLiteral("Show face"), QStringLiteral("mark-show"));
  kind_->add(QStringLiteral("Hidden, flat"), QStringLiteral("mark-hidden"));
  kind_->add(QStringLiteral("Keep clear"), QStringLiteral("mark-keep"));
  kind_->set_current(0);
  col_->addWidget(kind_);
  marks_ = new QLabel;
  marks_->setObjectName(QStringLiteral("marks-told"));
  marks_->setProperty("role", "quiet");
  col_->addWidget(marks_);
  col_->addWidget(small_head(QStringLiteral("Surface of the casting")));
  surface_ = new Chips;
  for (const auto& [words, name] :
       {std::pair{"plain", "surface-plain"}, {"gloss", "surface-gloss"}, {"texture", "surface-texture"}})
    surface_->add(QString::fromLatin1(words), QString::fromLatin1(name));
  col_->addWidget(surface_);
  col_->addWidget(small_head(QStringLiteral("Later it will be")));
  later_ = new Chips;
  for (const auto& [words, name] :
       {std::pair{"left as it is", "later-nothing"}, {"painted", "later-paint"}, {"glued", "later-glue"}})
    later_->add(QString::fromLatin1(words), QString::fromLatin1(name));
  col_->addWidget(later_);
  material_ = new ChoiceField(QStringLiteral("What the rubber will touch"), QStringLiteral("master-material"), 250);
  std::vector<std::pair<std::string, QString>> items{{"", QStringLiteral("not said")}};
  for (const MasterMaterial& m : desk_.catalogue().masters) items.emplace_back(m.id, qs(m.name));
  material_->set_items(items);
  col_->addWidget(material_);
  told_ = remark();
  told_->setFixedWidth(350);
  told_->setObjectName(QStringLiteral("seal-told"));
  col_->addWidget(told_);
  connect(kind_, &Chips::chosen, this, &FacesCard::click_changed);
  connect(surface_, &Chips::chosen, this, [this](int i) {
    Job next = desk_.job();
    next.original.finish.surface = static_cast<Gloss>(i + 1);
    desk_.edit(next, QStringLiteral("surface"));
  });
  connect(later_, &Chips::chosen, this, [this](int i) {
    Job next = desk_.job();
    next.original.finish.later = static_cast<Later>(i + 1);
    desk_.edit(next, QStringLiteral("paint or glue"));
  });
  connect(material_, &ChoiceField::chosen, this, [this](const std::string& id) {
    Job next = desk_.job();
    next.original.finish.master_material = id;
    desk_.edit(next, QStringLiteral("what the rubber touches"));
  });
}
ClickMeans FacesCard::click() const {
  const int k = kind_->current();
  return k == 1 ? ClickMeans::mark_hidden : k == 2 ? ClickMeans::mark_keep_clear : ClickMeans::mark_show;
}
void FacesCard::refresh() {
  const Job& job = desk_.job();
  surface_->set_current(static_cast<int>(job.original.finish.surface) - 1);
  later_->set_current(static_cast<int>(job.original.finish.later) - 1);
  material_->show_current(job.original.finish.master_material);
  int n[3] = {0, 0, 0};
  for (const FaceMark& m : job.original.marks) ++n[static_cast<int>(m.kind)];
  marks_->setText(
      job.original.marks.empty()
          ? QStringLiteral("No face is marked yet.")
          : QStringLiteral("%1 show, %2 hidden, %3 to keep clear of the line.").arg(n[0]).arg(n[1]).arg(n[2]));
  const MasterMaterial* m = desk_.catalogue().master(job.original.finish.master_material);
  told_->setText(m ? QStringLiteral("%1. Wait %2. %3")
                         .arg(qs(m->seal),
                              m->wait_h >= 48 ? QStringLiteral("%1 days").arg(qs(fixed(m->wait_h / 24, 0)))
                                              : QStringLiteral("%1 h").arg(qs(significant(m->wait_h, 2))),
                              qs(m->why))
                   : QStringLiteral("Sealing, waiting and whether the silicone cures depend on it."));
  adjustSize();
}

MasterCard::MasterCard(Desk& desk, QWidget* parent)
    : PopCard(QStringLiteral("The master, made from the original"), QStringLiteral("master"), parent), desk_(desk) {
  steps_ = new QVBoxLayout;
  steps_->setSpacing(2);
  col_->addLayout(steps_);
  auto* mirror = new QHBoxLayout;
  mirror->setSpacing(6);
  mirror->addWidget(small_head(QStringLiteral("Other hand, mirrored across")));
  for (int axis = 0; axis < 3; ++axis) {
    auto* b = chip(QString(QLatin1Char("xyz"[axis])), QStringLiteral("mirror-") + QLatin1Char("xyz"[axis]));
    b->setFixedWidth(44);
    b->setAccessibleName(QStringLiteral("Mirror across ") + QLatin1Char("xyz"[axis]));
    mirror->addWidget(b);
    connect(b, &QPushButton::clicked, this, [this, axis] {
      MasterStep s;
      s.axis = axis;
      add_step(s, QStringLiteral("master mirrored"));
    });
  }
  mirror->addStretch(1);
  col_->addLayout(mirror);
  auto* clicks = new QHBoxLayout;
  clicks->setSpacing(8);
  stock_ = chip(QStringLiteral("Stock on a flat face"), QStringLiteral("step-stock"), true);
  clicks->addWidget(stock_, 0, Qt::AlignBottom);
  stock_mm_ = add_line(clicks, QStringLiteral("mm thick"), QStringLiteral("stock-mm"), 62);
  stock_mm_->setText(QStringLiteral("0.8"));
  clicks->addStretch(1);
  col_->addLayout(clicks);
  auto* plugs = new QHBoxLayout;
  plugs->setSpacing(8);
  plug_ = chip(QStringLiteral("Plug a bore"), QStringLiteral("step-plug"), true);
  plugs->addWidget(plug_, 0, Qt::AlignBottom);
  dimple_mm_ = add_line(plugs, QStringLiteral("dimple, mm"), QStringLiteral("dimple-mm"), 62);
  dimple_mm_->setPlaceholderText(QStringLiteral("¼ bore"));
  auto* join = chip(QStringLiteral("Join the other half…"), QStringLiteral("step-join"));
  plugs->addWidget(join, 0, Qt::AlignBottom);
  plugs->addStretch(1);
  col_->addLayout(plugs);
  told_ = new QLabel;
  told_->setObjectName(QStringLiteral("master-told"));
  told_->setWordWrap(true);
  told_->setFixedWidth(380);
  col_->addWidget(told_);
  advice_ = remark();
  advice_->setObjectName(QStringLiteral("print-advice"));
  advice_->setFixedWidth(380);
  col_->addWidget(advice_);
  write_ = new QPushButton(QStringLiteral("Write the master's file…"));
  write_->setObjectName(QStringLiteral("write-master"));
  write_->setProperty("kind", "main");
  col_->addWidget(write_, 0, Qt::AlignLeft);
  connect(stock_, &QPushButton::toggled, this, [this](bool on) {
    if (on) plug_->setChecked(false);
    emit click_changed();
  });
  connect(plug_, &QPushButton::toggled, this, [this](bool on) {
    if (on) stock_->setChecked(false);
    emit click_changed();
  });
  for (QLineEdit* e : {stock_mm_, dimple_mm_})
    connect(e, &QLineEdit::editingFinished, this, [e] {
      if (!e->text().trimmed().isEmpty() && !parse_number(e->text().toStdString()))
        mark_fault(e, QStringLiteral("A number of millimetres, such as 0.8"));
    });
  connect(join, &QPushButton::clicked, this, [this] {
    const QString path =
        QFileDialog::getOpenFileName(this, QStringLiteral("The other half, in the same place"), {},
                                     QStringLiteral("Meshes (*.stl *.obj *.ply *.3mf *.step *.stp);;All files (*)"));
    if (!path.isEmpty()) desk_.join_mesh(path);
  });
  connect(write_, &QPushButton::clicked, this, [this] {
    const QString path =
        QFileDialog::getSaveFileName(this, QStringLiteral("Write the master's file"), QStringLiteral("master.3mf"),
                                     QStringLiteral("3MF (*.3mf);;STL (*.stl)"));
    if (!path.isEmpty()) desk_.write_master(path);
  });
}
ClickMeans MasterCard::click() const {
  return stock_->isChecked() ? ClickMeans::stock : plug_->isChecked() ? ClickMeans::plug : ClickMeans::nothing;
}
double MasterCard::stock_mm() const { return parse_number(stock_mm_->text().toStdString()).value_or(0.8); }
double MasterCard::dimple_mm() const { return parse_number(dimple_mm_->text().toStdString()).value_or(0); }
void MasterCard::end_clicking() {
  stock_->setChecked(false);
  plug_->setChecked(false);
}
void MasterCard::add_step(const MasterStep& s, const QString& what) {
  Job next = desk_.job();
  next.original.master_steps.push_back(s);
  desk_.edit(next, what);
}
void MasterCard::refresh() {
  const Job& job = desk_.job();
  std::vector<std::string> words;
  for (const MasterStep& s : job.original.master_steps) words.push_back(words_of(s));
  if (words != shown_) {
    shown_ = words;
    while (QLayoutItem* item = steps_->takeAt(0)) {
      if (item->widget()) item->widget()->hide(), item->widget()->deleteLater();
      delete item;
    }
    for (size_t i = 0; i < words.size(); ++i) {
      auto* row = new QWidget;
      auto* line = new QHBoxLayout(row);
      line->setContentsMargins(0, 0, 0, 0);
      line->addWidget(new QLabel(QStringLiteral("%1. %2").arg(i + 1).arg(qs(words[i]))), 1);
      auto* drop = new QPushButton(QStringLiteral("Take back"));
      drop->setProperty("kind", "bare");
      drop->setObjectName(QStringLiteral("step-drop-%1").arg(i));
      line->addWidget(drop);
      connect(drop, &QPushButton::clicked, this, [this, i] {
        Job next = desk_.job();
        if (i < next.original.master_steps.size())
          next.original.master_steps.erase(next.original.master_steps.begin() + static_cast<std::ptrdiff_t>(i));
        desk_.edit(next, QStringLiteral("step taken back"));
      });
      steps_->addWidget(row);
    }
    if (words.empty()) steps_->addWidget(small_head(QStringLiteral("No steps: the master is the original's shape.")));
  }
  const SlotState slot = desk_.plan().state(results::prepared);
  const auto master = desk_.plan().fresh(results::master);
  const auto original = desk_.plan().fresh(results::original);
  write_->setEnabled(master != nullptr);
  if (slot.state == Freshness::failed) {
    told_->setText(qs(slot.error.text()));
    advice_->clear();
  } else if (master && original) {
    const auto print = desk_.plan().fresh(results::print);
    const double volume = print ? print->volume_mm3 : master->measure.volume_mm3;
    told_->setText(QStringLiteral("Volume %1 ml, original %2 ml.")
                       .arg(qs(fixed(volume * 1e-3, 2)), qs(fixed(original->measure.volume_mm3 * 1e-3, 2))));
    QStringList lines;
    if (print)
      for (const std::string& a : print->advice) lines << qs(a);
    advice_->setText(lines.join(QLatin1Char(' ')));
  } else {
    told_->setText(QStringLiteral("Working…"));
    advice_->clear();
  }
  adjustSize();
}

BareCard::BareCard(Desk& desk, QWidget* parent)
    : PopCard(QStringLiteral("By volume: a stand-in"), QStringLiteral("bare"), parent), desk_(desk) {
  auto* row = new QHBoxLayout;
  row->setSpacing(10);
  length_ = new FigureField(QStringLiteral("Length"), QStringLiteral("bare-length"), 96);
  width_ = new FigureField(QStringLiteral("Width"), QStringLiteral("bare-width"), 96);
  height_ = new FigureField(QStringLiteral("Height"), QStringLiteral("bare-height"), 96);
  for (FigureField* f : {length_, width_, height_}) row->addWidget(f);
  row->addStretch(1);
  col_->addLayout(row);
  auto* second = new QHBoxLayout;
  second->setSpacing(10);
  water_ = new FigureField(QStringLiteral("Water it displaces"), QStringLiteral("bare-water"), 120);
  mass_ = new FigureField(QStringLiteral("or it weighs"), QStringLiteral("bare-mass"), 96);
  density_ = new FigureField(QStringLiteral("of density"), QStringLiteral("bare-density"), 110);
  for (FigureField* f : {water_, mass_}) f->allow_empty(QStringLiteral("unknown"));
  for (FigureField* f : {water_, mass_, density_}) second->addWidget(f);
  second->addStretch(1);
  col_->addLayout(second);
  like_ = new Chips;
  like_->add(QStringLiteral("As its volume says"), QStringLiteral("bare-by-volume"));
  like_->add(QStringLiteral("Full and rounded"), QStringLiteral("bare-rounded"));
  like_->add(QStringLiteral("Hollow, with a wall"), QStringLiteral("bare-shell"));
  col_->addWidget(like_);
  connect(like_, &Chips::chosen, this, [this](int i) {
    Job next = desk_.job();
    next.original.bare.like = static_cast<StandIn>(i);
    desk_.edit(next, QStringLiteral("what stands in for the part"));
  });
  told_ = remark();
  told_->setObjectName(QStringLiteral("bare-told"));
  told_->setFixedWidth(370);
  col_->addWidget(told_);
  const auto edit = [this](const std::function<void(BareOriginal&)>& change, const QString& what) {
    Job next = desk_.job();
    change(next.original.bare);
    desk_.edit(next, what);
  };
  for (const auto& [field, k] : {std::pair{length_, 0}, {width_, 1}, {height_, 2}}) {
    field->set_range(0, 1e5);
    connect(field, &FigureField::entered, this, [this, edit, axis = k](double v) {
      edit([&](BareOriginal& b) { b.extent_mm[axis] = desk_.units().mm(v); }, QStringLiteral("measures"));
    });
  }
  water_->set_range(0, 1e6);
  mass_->set_range(0, 1e6);
  density_->set_range(0.05, 25);
  connect(water_, &FigureField::entered, this,
          [edit](double v) { edit([&](BareOriginal& b) { b.displaced_ml = v; }, QStringLiteral("displaced water")); });
  connect(water_, &FigureField::emptied, this,
          [edit] { edit([](BareOriginal& b) { b.displaced_ml.reset(); }, QStringLiteral("displaced water")); });
  connect(mass_, &FigureField::entered, this, [this, edit](double v) {
    edit([&](BareOriginal& b) { b.weighed_g = desk_.units().grams(v); }, QStringLiteral("weight"));
  });
  connect(mass_, &FigureField::emptied, this,
          [edit] { edit([](BareOriginal& b) { b.weighed_g.reset(); }, QStringLiteral("weight")); });
  connect(density_, &FigureField::entered, this,
          [edit](double v) { edit([&](BareOriginal& b) { b.density_g_cm3 = v; }, QStringLiteral("density")); });
}
void BareCard::refresh() {
  const BareOriginal& b = desk_.job().original.bare;
  const Units& u = desk_.units();
  for (const auto& [field, v] : {std::pair{length_, b.extent_mm.x}, {width_, b.extent_mm.y}, {height_, b.extent_mm.z}})
    field->show_value(v > 0 ? std::optional(u.length(v)) : std::nullopt, u.inch ? 3 : 2, u.length_name());
  water_->show_value(b.displaced_ml, 1, QStringLiteral("ml"));
  mass_->show_value(b.weighed_g ? std::optional(u.mass(*b.weighed_g)) : std::nullopt, 1, u.mass_name());
  density_->show_value(b.density_g_cm3, 2, QStringLiteral("g/cm³"));
  like_->set_current(static_cast<int>(b.like));
  if (b.complete()) {
    const auto v = bare_volume_mm3(b);
    told_->setText(v ? QStringLiteral("%1 ± %2 ml in a box of %3 ml. A body of that box and volume stands for the part "
                                      "at every stage: masses hold, "
                                      "shape and line are its own.")
                           .arg(qs(fixed(*v * 1e-3, 1)), qs(significant(bare_volume_u_mm3(b) * 1e-3, 1)),
                                qs(fixed(b.extent_mm.x * b.extent_mm.y * b.extent_mm.z * 1e-3, 1)))
                     : qs(v.error().text()));
  } else {
    told_->setText(QStringLiteral("Give the box it fits in, and its volume: dip it in a measuring cup, or weigh it."));
  }
  adjustSize();
}

}  // namespace palinform::app
