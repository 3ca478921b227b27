#include "mould/mould_page.hpp"

#include <algorithm>
#include <cmath>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QPainter>
#include <QSlider>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "mould/form_card.hpp"
#include "mould/mould_fields.hpp"
#include "sheet_pdf.hpp"
#include "shell/desk.hpp"
#include "stages/building.hpp"
#include "stages/flowing.hpp"
#include "stages/openings.hpp"
#include "stages/other_parts.hpp"
#include "stages/wall.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

namespace {

constexpr std::pair<KeyKind, const char*> key_chips[] = {{KeyKind::studs, "Studs"},
                                                         {KeyKind::bars, "Bars"},
                                                         {KeyKind::bed, "Bevelled bed"},
                                                         {KeyKind::rim, "Stepped rim"},
                                                         {KeyKind::pins, "Pins"}};

}  // namespace

MouldPage::MouldPage(Desk& desk, QWidget* parent) : StagePage(desk, parent) {
  view_ = new PartView(this);
  view_->set_margins(QMargins(30, 118, 220, 70));
  view_->set_overlay([this](QPainter& p) { draw_over(p); });
  {
    Camera c;
    c.look_from(-62, 24);
    view_->set_camera(c);
  }
  controls_ = new QWidget(this);
  auto* row = new QHBoxLayout(controls_);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(16);
  wall_ = new FigureField(QStringLiteral("Rubber around the part"), QStringLiteral("wall"), 140);
  wall_->set_range(0.02, 500);
  wall_->allow_empty(QStringLiteral("by the rule"));
  master_ = new FigureField(QStringLiteral("Master weighs"), QStringLiteral("master-mass"), 100);
  master_->set_range(0, 1e6);
  master_->allow_empty(QStringLiteral("unknown"));
  row->addWidget(wall_);
  row->addWidget(master_);
  const auto slider = [&](const QString& words, const QString& name, QSlider*& into) {
    auto* box = new QWidget;
    auto* col = new QVBoxLayout(box);
    col->setContentsMargins(0, 0, 0, 0);
    col->setSpacing(2);
    auto* l = new QLabel(words);
    l->setProperty("role", "small");
    into = new QSlider(Qt::Horizontal);
    into->setObjectName(name);
    into->setAccessibleName(words);
    into->setMinimumSize(110, 32);
    l->setBuddy(into);
    col->addWidget(l);
    col->addWidget(into);
    row->addWidget(box, 1);
  };
  slider(QStringLiteral("Thinner or thicker"), QStringLiteral("wall-slide"), wall_slide_);
  wall_slide_->setRange(3, 60);
  slider(QStringLiteral("Open the mould"), QStringLiteral("mould-open"), open_);
  slider(QStringLiteral("Cut away from the front"), QStringLiteral("mould-cut"), cut_);
  open_->setRange(0, 100);
  open_->setValue(0);
  cut_->setRange(0, 100);
  cut_->setValue(50);
  mode_ = new Chips(this);
  mode_->add(QStringLiteral("Halves"), QStringLiteral("mould-halves"));
  mode_->add(QStringLiteral("Parting board"), QStringLiteral("mould-board"));
  mode_->set_current(0);
  keys_ = new Chips(this);
  for (const auto& [kind, name] : key_chips)
    keys_->add(QLatin1String(name), QStringLiteral("keys-") + qs(std::string(name_of(kind))));
  move_keys_ = chip(QStringLiteral("Move keys"), QStringLiteral("keys-move"), true);
  move_keys_->setParent(this);
  side_ = new QWidget(this);
  auto* side = new QVBoxLayout(side_);
  side->setContentsMargins(0, 0, 0, 0);
  side->setSpacing(6);
  forms_ = new FormsCard(desk, this);
  box_ = new BoxCard(desk, this);
  own_ = new FormCard(desk, this);
  const auto button = [&](const QString& text, const QString& name) {
    auto* b = new QPushButton(text);
    b->setObjectName(name);
    side->addWidget(b);
    return b;
  };
  connect(button(QStringLiteral("Forms compared"), QStringLiteral("open-forms")), &QPushButton::clicked, this,
          [this] { open_card(forms_); });
  connect(button(QStringLiteral("Box and cutting"), QStringLiteral("open-box")), &QPushButton::clicked, this,
          [this] { open_card(box_); });
  connect(button(QStringLiteral("This form's own"), QStringLiteral("open-form-own")), &QPushButton::clicked, this,
          [this] { open_card(own_); });
  connect(button(QStringLiteral("Files to build…"), QStringLiteral("build-files")), &QPushButton::clicked, this,
          [this] {
            const QString dir =
                QFileDialog::getExistingDirectory(this, QStringLiteral("Folder for what is printed and cut"));
            if (!dir.isEmpty()) write_build(dir);
          });
  connect(box_, &BoxCard::panels_wanted, this, [this] {
    const QString path = QFileDialog::getSaveFileName(
        this, QStringLiteral("Cut list"), qs(desk_.job().name) + QStringLiteral(" panels.dxf"),
        QStringLiteral("Cutter's drawing (*.dxf);;Drawing (*.svg);;Sheet (*.pdf)"));
    if (!path.isEmpty()) write_panels(path);
  });
  connect(mode_, &Chips::chosen, this, [this](int i) { show_board(i == 1); });
  connect(keys_, &Chips::chosen, this, [this](int i) {
    Job next = desk_.job();
    next.mould.keys = name_of(key_chips[i].first);
    next.mould.key_places.clear();
    desk_.edit(next, QStringLiteral("keys"));
  });
  connect(move_keys_, &QPushButton::toggled, this, [this](bool on) {
    view_->set_brush(on);
    view_->setCursor(on ? Qt::OpenHandCursor : Qt::ArrowCursor);
    if (on) show_board(true);
  });
  connect(view_, &PartView::stroked, this, &MouldPage::drag_key);
  told_ = new QLabel(this);
  told_->setTextFormat(Qt::RichText);
  told_->setAttribute(Qt::WA_TransparentForMouseEvents);
  curve_a_ = new FillCurve(this);
  curve_b_ = new FillCurve(this);
  empty_ = remark();
  empty_->setParent(this);
  empty_->setAlignment(Qt::AlignCenter);
  for (QSlider* s : {open_, cut_})
    connect(s, &QSlider::valueChanged, this, [this] {
      if (view_->isVisible()) view_->move_scene(make_scene());
    });
  bind_measure(desk_, wall_, &Job::mould, &MouldSetup::wall_mm, QStringLiteral("wall"));
  connect(wall_slide_, &QSlider::sliderPressed, this, [this] { desk_.take_in_hand(true); });
  connect(wall_slide_, &QSlider::sliderReleased, this, [this] { desk_.take_in_hand(false); });
  connect(wall_slide_, &QSlider::valueChanged, this, [this](int mm) {
    Job next = desk_.job();
    next.mould.wall_mm = mm;
    desk_.edit(next, QStringLiteral("wall"), QStringLiteral("wall-drag"));
  });
  connect(master_, &FigureField::entered, this, [this](double v) {
    Job next = desk_.job();
    next.mould.master_g = desk_.units().grams(v);
    desk_.edit(next, QStringLiteral("master weighed"));
  });
  connect(master_, &FigureField::emptied, this, [this] {
    Job next = desk_.job();
    next.mould.master_g.reset();
    desk_.edit(next, QStringLiteral("master not weighed"));
  });
}

bool MouldPage::board_on() const { return mode_->current() == 1; }

void MouldPage::show_board(bool on) {
  mode_->set_current(on ? 1 : 0);
  if (!on) move_keys_->setChecked(false);
  shown_.clear();
  refresh();
}

void MouldPage::open_card(PopCard* card) { card->toggle_at(QPoint(width() - 12, 66), {forms_, box_, own_}); }

void MouldPage::drag_key(double x, double y, bool begins) {
  const auto keys = desk_.plan().newest(results::keys);
  const auto r = desk_.plan().fresh(results::mould);
  if (!keys || !r || keys->plan.keys.empty()) return;
  const Mould& m = r->block();
  if (begins) {
    ++drag_;
    std::vector<Vec3> places;
    for (const Key& k : keys->plan.keys) places.push_back(m.frame.direction_back(k.at_mm));
    const auto nearest = nearest_handle(*view_, x, y, places);
    held_ = nearest ? static_cast<int>(*nearest) : -1;
    return;
  }
  if (held_ < 0 || static_cast<size_t>(held_) >= keys->plan.keys.size()) return;
  // Where the sight line meets the level of the key.
  const Vec3 at = keys->plan.keys[static_cast<size_t>(held_)].at_mm;
  const Vec3 from = view_->camera().unproject(x, y, 0), sight = view_->camera().toward_viewer();
  const double along = dot(sight, m.frame.rows[2]);
  if (std::abs(along) < 0.05) return;
  const Vec3 p = from + sight * ((at.z - dot(from, m.frame.rows[2])) / along);
  const Vec3 q = m.frame.direction(p);
  if (q.x < m.inner_mm.min.x || q.x > m.inner_mm.max.x || q.y < m.inner_mm.min.y || q.y > m.inner_mm.max.y) return;
  Job next = desk_.job();
  next.mould.key_places.clear();
  for (const Key& k : keys->plan.keys) next.mould.key_places.push_back(m.frame.direction_back(k.at_mm));
  next.mould.key_places[static_cast<size_t>(held_)] = p;
  desk_.edit(next, QStringLiteral("key moved"), QStringLiteral("key-%1").arg(drag_));
}

void MouldPage::write_build(const QString& dir) {
  const auto master = desk_.plan().fresh(results::master);
  const auto split = desk_.plan().fresh(results::split);
  const auto r = desk_.plan().fresh(results::mould);
  const auto forms = desk_.plan().fresh(results::forms);
  const auto keys = desk_.plan().fresh(results::keys);
  const auto bores = desk_.plan().fresh(results::bores);
  const auto pins = desk_.plan().fresh(results::pins);
  if (!master || !split || !r || !forms || !bores) return;
  const Job& job = desk_.job();
  BuildOrder order = build_order(job, desk_.shop(), *forms, pins.get(), desk_.plan().fresh(results::channels).get(),
                                 desk_.plan().fresh(results::pieces).get(), desk_.plan().fresh(results::inserts).get());
  add_film_gaps(order.parts.sockets, *master, desk_.plan().fresh(results::openings).get(), job.split.openings,
                split->split.pull, in_halves(order.form), order.voxel_mm);
  const MouldOptions how = r->how;
  const auto channels = desk_.plan().fresh(results::channels);
  const auto others = channels ? desk_.plan().fresh(results::other_parts) : Fresh<OtherPartsResult>{};
  const Vec3 up = channels ? channels->up : Vec3{};
  desk_.build_in_background(
      QStringLiteral("building board and halves"), dir,
      [master, split, r, forms, keys, bores, order, how, name = job.name, others = others.value, up, flow = job.flow,
       path = dir.toStdString()](const Progress& progress) -> Result<std::vector<Finding>> {
        const MasterSet* set = r->set.get();
        BuildOrder whole = order;
        whole.parts = all_in_box(order.parts, others.get(), *r, up, flow);
        const auto built = build_files(set ? *set->mesh : *master->mesh, set ? *set->rays : *master->rays,
                                       set ? set->split : split->split, how, keys ? keys->plan : KeyPlan{},
                                       bores->bores, forms->box, whole, name, progress);
        if (!built) return built.error();
        const auto files = write_build_files(*built, path);
        if (!files) return files.error();
        return built->findings;
      });
}

void MouldPage::write_panels(const QString& path) {
  const auto forms = desk_.plan().fresh(results::forms);
  if (!forms || forms->box.panels.empty()) return;
  BoxPlan box = forms->box;
  const auto pins = desk_.plan().fresh(results::pins);
  const auto channels = desk_.plan().fresh(results::channels);
  if (const auto r = desk_.plan().fresh(results::mould); r && forms->halved() && (pins || r->set)) {
    const auto others = desk_.plan().fresh(results::other_parts);
    const HalvesParts parts = all_in_box({pins ? pins->pins : std::vector<PinPlan>{}, {}, {}}, others.value.get(), *r,
                                         channels ? channels->up : Vec3{}, desk_.job().flow);
    box = with_pin_holes(std::move(box), r->block(), parts.pins);
  }
  desk_.write_in_background(QStringLiteral("drawing the cut list"), path,
                            [box = std::move(box), name = desk_.job().name, to = path.toStdString()](const Progress&) {
                              return write_drawings({panel_drawing(box, name)}, to);
                            });
}

void MouldPage::refresh() {
  const Job& job = desk_.job();
  const Units& u = desk_.units();
  const auto r = desk_.plan().newest(results::mould);
  const auto original = desk_.plan().fresh(results::master);
  const SlotState slot = desk_.plan().state(results::mould), split = desk_.plan().state(results::split);
  const bool fits = r && original && slot.state != Freshness::absent;
  const auto forms = desk_.plan().newest(results::forms);
  const bool halved = fits && forms && forms->halved();
  for (QWidget* w : {static_cast<QWidget*>(mode_), static_cast<QWidget*>(keys_), static_cast<QWidget*>(move_keys_)})
    w->setVisible(halved);
  side_->setVisible(fits);
  if (!fits) forms_->hide(), box_->hide(), own_->hide();
  if (forms_->isVisible()) forms_->refresh();
  if (box_->isVisible()) box_->refresh();
  if (own_->isVisible()) own_->refresh();
  const auto chosen = std::find_if(std::begin(key_chips), std::end(key_chips),
                                   [&](const auto& chip) { return name_of(chip.first) == job.mould.keys; });
  keys_->set_current(static_cast<int>(chosen == std::end(key_chips) ? 0 : chosen - std::begin(key_chips)));
  for (QWidget* w : {static_cast<QWidget*>(view_), static_cast<QWidget*>(controls_), static_cast<QWidget*>(told_),
                     static_cast<QWidget*>(curve_a_), static_cast<QWidget*>(curve_b_)})
    w->setVisible(fits);
  empty_->setVisible(!fits);
  empty_->setText(
      slot.state == Freshness::running || split.state == Freshness::running ? QStringLiteral("Working out the box…")
      : slot.state == Freshness::failed
          ? qs(slot.error.text())
          : QStringLiteral("The box follows from the split: open a mesh in Original, or draw the part there."));
  // Only what is poured in a box has a wall.
  const bool boxed = in_a_box(job.mould.planned_form());
  wall_->setVisible(fits && boxed);
  wall_slide_->parentWidget()->setVisible(fits && boxed);
  if (fits) {
    const Mould& m = r->block();
    wall_->show_value(r->wall_by_rule && !job.mould.wall_mm ? std::nullopt : std::optional(u.length(m.wall_mm)),
                      u.inch ? 3 : 1, u.length_name());
    {
      const QSignalBlocker quiet(wall_slide_);
      if (!wall_slide_->isSliderDown()) wall_slide_->setValue(qRound(m.wall_mm));
    }
    wall_->edit()->setPlaceholderText(
        (r->wall_learnt_from > 0 ? QStringLiteral("%1 as learnt") : QStringLiteral("%1 by the rule"))
            .arg(u.length_text(r->wall_rule_mm, 1)));
    wall_->setToolTip(
        r->wall_learnt_from > 0
            ? QStringLiteral("%1 of the shop's own moulds lived with so thin a wall").arg(r->wall_learnt_from)
            : QString());
    master_->show_value(job.mould.master_g ? std::optional(u.mass(*job.mould.master_g)) : std::nullopt, u.ounce ? 2 : 1,
                        u.mass_name());
    const SlotState board = desk_.plan().state(results::board);
    const std::string key = job.original.shape_key() + slot.key.hex() + pal().ground.name().toStdString() +
                            (slot.state == Freshness::fresh ? "f" : "s") + board.key.hex() +
                            (board.state == Freshness::fresh ? "f" : "s") + (board_on() ? "b" : "h") + job.mould.form +
                            desk_.plan().state(results::solids).key.hex() +
                            (forms && forms->brushed ? desk_.plan().state(results::forms).key.hex() : "") +
                            (desk_.plan().state(results::solids).state == Freshness::fresh ? "f" : "s");
    if (key != shown_) {
      const bool other = shown_.substr(0, 32) != job.original.shape_key();
      shown_ = key;
      view_->set_scene(make_scene(), other);
    }
    const auto sil = desk_.rubber();
    const double density = sil ? sil->density_g_cm3 : 1.1;
    const Vec3 in = m.inner_mm.size();
    QString box = QStringLiteral("<b>Box inside</b> %1 × %2 × %3 %4")
                      .arg(u.length_text(in.x, 0), u.length_text(in.y, 0), u.length_text(in.z, 0), u.length_name());
    const bool brushed = forms && forms->brushed;
    if (brushed)
      box += QStringLiteral(" · half %1 brushed, %2 ml of backing over it")
                 .arg(qs(forms->brushed->side), qs(grouped(forms->plan().hard_mm3 * 1e-3)));
    box += QStringLiteral(" · rubber %1 ±%2 ml")
               .arg(qs(grouped((brushed ? forms->plan().rubber_mm3 : m.rubber_mm3) * 1e-3, 0)),
                    qs(significant(std::max({m.volume_error_mm3 * 1e-3, r->u_part_mm3 * 1e-3, 0.1}), 1)));
    if (m.hold_down_n)
      box += *m.hold_down_n > 0.05 ? QStringLiteral(" · hold down with %1 N").arg(qs(significant(*m.hold_down_n, 2)))
                                   : QStringLiteral(" · the master sinks");
    if (!sil) box += QStringLiteral(" · masses at 1.10 g/cm³ until a rubber is chosen");
    const auto built = desk_.plan().newest(results::board);
    if (halved && board_on() && built)
      box = QStringLiteral("<b>Board</b> %1 × %2 × %3 %4%5 · %6 ml, prints in about %7 h · clear of the master by %8")
                .arg(u.length_text(built->extent_mm.x, 0), u.length_text(built->extent_mm.y, 0),
                     u.length_text(built->extent_mm.z, 0), u.length_name(),
                     built->tiles > 1 ? QStringLiteral(" in %1 tiles").arg(built->tiles) : QString(),
                     qs(fixed(built->volume_mm3 * 1e-3, 0)), qs(significant(built->print_h, 2)),
                     u.length_unit_text(built->clearance_mm, 2));
    else if (forms && !forms->halved())
      box = QStringLiteral("<b>%1</b> · %2%3 · %4")
                .arg(qs(std::string(words_of(forms->form))),
                     forms->plan().rubber_mm3 > 0
                         ? QStringLiteral("%1 of rubber in %2")
                               .arg(u.mass_text(forms->plan().rubber_mm3 * 1e-3 * density, 0),
                                    qs(counted(static_cast<long long>(forms->plan().pours.size()), "pour", "pours")))
                         : QStringLiteral("printed, %1 ml").arg(qs(fixed(forms->plan().hard_mm3 * 1e-3, 0))),
                     forms->plan().castings_a_pull > 1
                         ? QStringLiteral(", %1 castings a pull").arg(forms->plan().castings_a_pull)
                         : QString(),
                     qs(forms->plan().reasons.empty() ? "" : forms->plan().reasons.front()));
    told_->setText(box);
    if (forms && !forms->halved()) {
      const auto& pours = forms->plan().pours;
      curve_a_->setVisible(!pours.empty() && pours[0].curve.size() > 1);
      if (!pours.empty()) curve_a_->show_pour(pours[0], density, u, true);
      curve_b_->setVisible(false);
    } else if (m.pours.size() == 2) {
      // What is brushed fills no vessel.
      curve_a_->setVisible(!forms || !forms->brushes(true));
      curve_b_->setVisible(!forms || !forms->brushes(false));
      curve_a_->show_pour(m.pours[0], density, u, true);
      curve_b_->show_pour(m.pours[1], density, u, false);
    }
  } else {
    shown_.clear();
  }
  lay_out();
  view_->update();
}

void MouldPage::lay_out() {
  view_->setGeometry(rect());
  controls_->setGeometry(16, 10, width() - 32, controls_->sizeHint().height());
  mode_->adjustSize();
  mode_->move(16, 68);
  keys_->adjustSize();
  keys_->move(mode_->x() + mode_->width() + 14, 68);
  move_keys_->adjustSize();
  move_keys_->move(keys_->x() + keys_->width() + 6, 68);
  curve_a_->setGeometry(width() - 206, 112, 190, 140);
  curve_b_->setGeometry(width() - 206, 260, 190, 140);
  side_->adjustSize();
  side_->setGeometry(width() - 206,
                     curve_b_->isVisible()   ? 410
                     : curve_a_->isVisible() ? 262
                                             : 112,
                     190, side_->sizeHint().height());
  told_->setGeometry(20, height() - 34, width() - 40, 22);
  empty_->setGeometry(60, height() / 2 - 40, width() - 120, 80);
}
void MouldPage::resizeEvent(QResizeEvent*) { lay_out(); }

}  // namespace palinform::app
