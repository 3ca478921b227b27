#include "original/original_page.hpp"

#include <QDragEnterEvent>
#include <QFileDialog>
#include <QMenu>
#include <QMimeData>
#include <QPainter>

#include "base/text.hpp"
#include "job/parts.hpp"
#include "mesh/smooth_face.hpp"
#include "shell/desk.hpp"
#include "stages/preparation.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

OriginalPage::OriginalPage(Desk& desk, QWidget* parent) : StagePage(desk, parent) {
  setAcceptDrops(true);
  view_ = new PartView(this);
  view_->set_overlay([this](QPainter& p) { draw_callouts(p); });
  connect(view_, &PartView::clicked, this, &OriginalPage::canvas_clicked);
  open_ = chip(QStringLiteral("Open mesh…"), QStringLiteral("open-mesh"));
  add_ = chip(QStringLiteral("Add a size"), QStringLiteral("add-size"), true);
  draw_chip_ = chip(QStringLiteral("Draw it"), QStringLiteral("draw-chip"), true);
  faces_chip_ = chip(QStringLiteral("Faces, finish"), QStringLiteral("faces-chip"), true);
  master_chip_ = chip(QStringLiteral("The master"), QStringLiteral("master-chip"), true);
  duties_ = chip(QStringLiteral("What does it do?"), QStringLiteral("duties"));
  more_ = chip(QStringLiteral("More"), QStringLiteral("original-more"));
  measuring_ = new Chips(this);
  measuring_->add(QStringLiteral("Two faces"), QStringLiteral("measure-faces"));
  measuring_->add(QStringLiteral("Bore or boss"), QStringLiteral("measure-round"));
  measuring_->add(QStringLiteral("Two axes"), QStringLiteral("measure-axes"));
  measuring_->add(QStringLiteral("Edge radius"), QStringLiteral("measure-edge-radius"));
  measuring_->add(QStringLiteral("Wall"), QStringLiteral("measure-wall"));
  measuring_->set_current(0);
  measuring_->hide();
  connect(measuring_, &Chips::chosen, this, [this](int i) { measure_by(static_cast<Measuring>(i)); });
  hint_ = remark();
  for (QWidget* w :
       std::initializer_list<QWidget*>{open_, draw_chip_, add_, faces_chip_, master_chip_, duties_, more_, hint_})
    w->setParent(this);
  mended_ = remark();
  mended_->setParent(this);
  mended_->setObjectName(QStringLiteral("mended"));
  empty_ = new QLabel(this);
  empty_->setAlignment(Qt::AlignCenter);
  empty_->setWordWrap(true);
  empty_->setText(QStringLiteral(
      "Drop the part's mesh here, or choose Open mesh.\nSTL, OBJ, PLY, 3MF or STEP, up to 5 million triangles.\n"
      "No scan? Draw it: from its measures, or traced on a picture.\nOnly its box and weight are known? More → By "
      "volume."));
  empty_->setProperty("role", "quiet");
  connect(open_, &QPushButton::clicked, this, &OriginalPage::open_dialog);
  connect(add_, &QPushButton::toggled, this, &OriginalPage::begin_adding);
  auto* menu = new QMenu(duties_);
  for (int i = 0; i < count_of<Duty>(); ++i) {
    const Duty d = static_cast<Duty>(i);
    auto* a = menu->addAction(QString::fromUtf8(words_of(d).data(), static_cast<qsizetype>(words_of(d).size())));
    a->setCheckable(true);
    connect(a, &QAction::triggered, this, [this, d](bool on) {
      Job next = desk_.job();
      std::erase(next.original.duties, d);
      if (on) next.original.duties.push_back(d);
      std::sort(next.original.duties.begin(), next.original.duties.end());
      desk_.edit(next, QStringLiteral("what the part does"));
    });
  }
  connect(menu, &QMenu::aboutToShow, this, [this, menu] {
    for (int i = 0; i < count_of<Duty>(); ++i) {
      const auto& d = desk_.job().original.duties;
      menu->actions()[i]->setChecked(std::find(d.begin(), d.end(), static_cast<Duty>(i)) != d.end());
    }
  });
  duties_->setMenu(menu);

  auto* more = new QMenu(more_);
  const auto entry = [&](const QString& words, const QString& name, auto&& act) {
    auto* a = more->addAction(words);
    a->setObjectName(name);
    connect(a, &QAction::triggered, this, act);
  };
  entry(QStringLiteral("Sizes from a table (CSV)…"), QStringLiteral("sizes-in"), [this] {
    const QString path = QFileDialog::getOpenFileName(this, QStringLiteral("Sizes from a table"), {},
                                                      QStringLiteral("Tables (*.csv *.txt *.tsv);;All files (*)"));
    if (!path.isEmpty()) desk_.read_sizes(path);
  });
  entry(QStringLiteral("Sizes to a table (CSV)…"), QStringLiteral("sizes-out"), [this] {
    const QString path = QFileDialog::getSaveFileName(this, QStringLiteral("Sizes to a table"),
                                                      QStringLiteral("sizes.csv"), QStringLiteral("Tables (*.csv)"));
    if (!path.isEmpty()) desk_.write_sizes(path);
  });
  more->addSeparator();
  entry(QStringLiteral("By volume: a stand-in of its box and weight…"), QStringLiteral("bare-open"),
        [this] { show_card(bare_, nullptr); });
  entry(QStringLiteral("Fits…"), QStringLiteral("fits-open"), [this] { show_card(fits_, nullptr); });
  entry(QStringLiteral("Other originals of its kind…"), QStringLiteral("originals-open"),
        [this] { show_card(originals_, nullptr); });
  more_->setMenu(more);

  card_ = new SizeCard(desk_, this);
  connect(card_, &SizeCard::removed, this, [this] { select({}); });
  faces_ = new FacesCard(desk_, this);
  master_ = new MasterCard(desk_, this);
  bare_ = new BareCard(desk_, this);
  mate_ = new MateCard(desk_, this);
  originals_ = new OriginalsCard(desk_, this);
  draw_ = new DrawCard(desk_, this);
  trace_ = new TraceView(desk_, this);
  typed_ = new QLineEdit(this);
  typed_->setObjectName(QStringLiteral("measure-typed"));
  typed_->hide();
  connect(typed_, &QLineEdit::editingFinished, this, [this] {
    if (typing_.empty()) return;
    const std::string label = std::exchange(typing_, {});
    typed_->hide();
    const size_t dot = label.find('.');
    if (const auto v = parse_number(typed_->text().toStdString()); v && *v > 0)
      draw_->set_measure(label.substr(0, dot), label.substr(dot + 1), desk_.units().mm(*v));
    else
      hint_->setText(QStringLiteral("\"%1\" is no length above nought.").arg(typed_->text())), lay_out();
  });
  connect(draw_, &DrawCard::chosen_changed, this, [this] {
    typing_.clear(), typed_->hide();
    lay_out();
    view_->update();
  });
  connect(draw_, &DrawCard::trace_wanted, this, [this] { trace(true); });
  connect(trace_, &TraceView::closed, this, [this] { trace(false); });
  connect(draw_chip_, &QPushButton::toggled, this, [this](bool on) {
    on ? show_card(draw_, draw_chip_) : draw_->hide();
    refresh();
  });
  connect(draw_, &PopCard::closed, this, [this] { draw_chip_->setChecked(false); });
  connect(view_, &PartView::camera_changed, this, [this] { typing_.clear(), typed_->hide(); });
  fits_ = new FitsCard(this);
  cards_ = {{faces_, faces_chip_}, {master_, master_chip_}, {draw_, draw_chip_}, {bare_, nullptr},
            {mate_, nullptr},      {originals_, nullptr},   {fits_, nullptr}};
  connect(card_, &SizeCard::mate_wanted, this, [this] {
    show_card(mate_, nullptr);
    mate_->for_size(selected_);
  });
  connect(faces_chip_, &QPushButton::toggled, this, [this](bool on) {
    on ? show_card(faces_, faces_chip_) : faces_->hide();
    refresh();
  });
  connect(master_chip_, &QPushButton::toggled, this, [this](bool on) {
    on ? show_card(master_, master_chip_) : master_->hide();
    if (!on) master_->end_clicking();
    refresh();
  });
  connect(faces_, &PopCard::closed, this, [this] { faces_chip_->setChecked(false); });
  connect(master_, &PopCard::closed, this, [this] { master_chip_->setChecked(false); });
  connect(faces_, &FacesCard::click_changed, this, &OriginalPage::lay_out);
  connect(master_, &MasterCard::click_changed, this, &OriginalPage::lay_out);
}

void OriginalPage::show_card(PopCard* card, QPushButton* its_chip) {
  begin_adding(false);
  for (const auto& [other, other_chip] : cards_)
    if (other != card) {
      other->hide();
      if (other_chip && other_chip != its_chip) other_chip->setChecked(false);
    }
  card->refresh();
  card->show_at(QPoint(width() - 14, 58));
  refresh();
}

void OriginalPage::open_dialog() {
  const QString path =
      QFileDialog::getOpenFileName(this, QStringLiteral("Open the master's mesh"), {},
                                   QStringLiteral("Meshes (*.stl *.obj *.ply *.3mf *.step *.stp);;All files (*)"));
  if (!path.isEmpty()) desk_.open_mesh(path);
}

void OriginalPage::dragEnterEvent(QDragEnterEvent* e) {
  if (e->mimeData()->hasUrls()) e->acceptProposedAction();
}
void OriginalPage::dropEvent(QDropEvent* e) {
  const auto urls = e->mimeData()->urls();
  if (urls.isEmpty() || !urls[0].isLocalFile()) return;
  const QString path = urls[0].toLocalFile();
  if (path.endsWith(QStringLiteral(".palinform")))
    desk_.import_job(path);
  else if (path.endsWith(QStringLiteral(".csv")))
    desk_.read_sizes(path);
  else
    desk_.open_mesh(path);
}

void OriginalPage::add_size(Proposal p) {
  Job next = desk_.job();
  MeasuredSize s = std::move(p.size);
  s.id = new_size_id(next);
  const auto taken = [&](const std::string& name) {
    return std::any_of(next.original.sizes.begin(), next.original.sizes.end(),
                       [&](const MeasuredSize& o) { return o.name == name; });
  };
  if (s.name.empty()) s.name = "Size";
  const std::string name = s.name;
  for (int i = 2; taken(s.name); ++i) s.name = name + " " + std::to_string(i);
  guess_limits(s);
  // The shop's own calipers, as they were studied.
  if (const auto& gauges = desk_.equipment().gauges; !gauges.empty() && s.kind != SizeKind::angle)
    s.resolution_mm = gauges.front().resolution_mm, s.instrument_u_mm = gauges.front().u_mm;
  next.original.sizes.push_back(s);
  selected_ = s.id;
  if (desk_.edit(next, QStringLiteral("size added"))) {
    add_->setChecked(false);
    hint_->setText(qs(p.words));
    card_->begin_naming();
    lay_out();
  }
}

void OriginalPage::measure_by(Measuring m) {
  measuring_->set_current(static_cast<int>(m));
  first_.reset();
  constexpr const char* words[count_of<Measuring>()] = {
      "Click the first of two faces: parallel ones give a distance, inclined ones their angle.",
      "Click the wall of a bore or boss.", "Click the wall of the first of two bores or bosses.",
      "Click the rounded edge.", "Click where the wall's thickness matters."};
  hint_->setText(QString::fromUtf8(words[static_cast<int>(m)]));
  view_->update();
  lay_out();
}

void OriginalPage::begin_adding(bool on) {
  if (on && !desk_.job().original.has_shape()) {  // nothing to click on: the size is typed
    add_->setChecked(false);
    Proposal p;
    p.size.nominal_mm = 10;
    p.words = "typed by hand";
    return add_size(std::move(p));
  }
  adding_ = on;
  if (add_->isChecked() != on) add_->setChecked(on);
  first_.reset();
  if (on) {
    for (const auto& [card, its_chip] : cards_) its_chip ? its_chip->setChecked(false) : card->hide();
    measure_by(static_cast<Measuring>(std::max(0, measuring_->current())));
  } else {
    hint_->clear();
  }
  measuring_->setVisible(on);
  view_->setCursor(on ? Qt::CrossCursor : Qt::ArrowCursor);
  view_->update();
  lay_out();
}

void OriginalPage::canvas_clicked(double x, double y) {
  if (adding_) return size_clicked(x, y);
  const ClickMeans what = faces_->isVisible()    ? faces_->click()
                          : master_->isVisible() ? master_->click()
                                                 : ClickMeans::nothing;
  if (what != ClickMeans::nothing) return face_clicked(what, x, y);
  for (const Label& l : labels_)
    if (x >= l.rect.x && x <= l.rect.x + l.rect.w && y >= l.rect.y && y <= l.rect.y + l.rect.h)
      return draw_->isVisible() ? type_measure(l.id, l.rect) : select(l.id);
  if (draw_->isVisible()) return;
  select({});
}

void OriginalPage::size_clicked(double x, double y) {
  const auto original = desk_.plan().fresh(results::original);
  if (!original) return;
  const auto hit = pick(view_->picture(), view_->camera(), original->mesh.get(), x, y);
  if (!hit || hit->triangle == Picture::cut_face) return;
  const auto by = static_cast<Measuring>(std::max(0, measuring_->current()));
  const Clicked now{snapped(fit_face(*original->mesh, *original->pairs, hit->triangle), original->exact),
                    hit->point_mm};
  const bool round = now.face.kind == FaceKind::bore || now.face.kind == FaceKind::boss;
  Result<Proposal> p = [&]() -> Result<Proposal> {
    // A bore clicked first, whatever the way chosen between faces and bores, can only mean itself.
    if (by == Measuring::round || (by == Measuring::faces && !first_ && round))
      return propose_round(now, view_->camera().right);
    if (by == Measuring::edge_radius) return propose_edge_radius(now, view_->camera().right);
    if (by == Measuring::wall) return propose_wall(*original->mesh, *original->rays, now.at_mm);
    if (!first_) {
      if (by == Measuring::axes && !round) return propose_axes(now, now);  // its refusal says why
      first_ = now;
      hint_->setText(by == Measuring::axes ? QStringLiteral("Now the second bore or boss. Esc to stop.")
                                           : QStringLiteral("Now the second face. Esc to stop."));
      view_->update();
      lay_out();
      return Error::stopped();
    }
    return by == Measuring::axes ? propose_axes(*first_, now) : propose_faces(*first_, now);
  }();
  if (p) return add_size(*std::move(p));
  if (p.error().cancelled) return;
  hint_->setText(qs(p.error().text()));
  lay_out();
}

void OriginalPage::face_clicked(ClickMeans what, double x, double y) {
  const bool on_master = what == ClickMeans::stock || what == ClickMeans::plug;
  const auto part = desk_.plan().fresh(on_master ? results::prepared : results::original);
  if (!part) return;
  const auto hit = pick(view_->picture(), view_->camera(), part->mesh.get(), x, y);
  if (!hit || hit->triangle == Picture::cut_face) return;
  Job next = desk_.job();
  const FaceFit face = fit_face(*part->mesh, *part->pairs, hit->triangle);
  if (on_master) {
    MasterStep s;
    s.point_mm = hit->point_mm;
    if (what == ClickMeans::stock) {
      if (face.kind != FaceKind::plane)
        return hint_->setText(QStringLiteral("This face is not flat. Stock goes on a flat one."));
      s.kind = MasterStep::Kind::stock;
      s.mm = master_->stock_mm();
    } else {
      if (face.kind != FaceKind::bore)
        return hint_->setText(QStringLiteral("This is no bore. Click the wall inside one."));
      s.kind = MasterStep::Kind::plug;
      s.mm = master_->dimple_mm() > 0 ? master_->dimple_mm() : std::round(face.diameter_mm / 4 * 10) / 10;
    }
    next.original.master_steps.push_back(s);
    master_->end_clicking();
    desk_.edit(next, QStringLiteral("master: ") + qs(words_of(s)));
    return;
  }
  const auto kind = what == ClickMeans::mark_hidden       ? FaceMark::Kind::hidden
                    : what == ClickMeans::mark_keep_clear ? FaceMark::Kind::keep_clear
                                                          : FaceMark::Kind::show;
  if (kind == FaceMark::Kind::hidden && face.kind != FaceKind::plane)
    return hint_->setText(QStringLiteral("The hidden face must be flat: the mould would lie open there."));
  // A second click on a marked face takes the mark away; another kind of mark replaces it.
  const std::vector<uint32_t> patch =
      kind == FaceMark::Kind::show ? smooth_face(*part->mesh, *part->pairs, hit->triangle) : face.triangles;
  bool same = false;
  std::erase_if(next.original.marks, [&](const FaceMark& m) {
    const uint32_t t = part->rays->closest(m.point_mm).triangle;
    const bool here = std::binary_search(patch.begin(), patch.end(), t);
    same = same || (here && m.kind == kind);
    return here;
  });
  if (!same) next.original.marks.push_back({kind, hit->point_mm});
  desk_.edit(next, same ? QStringLiteral("face unmarked") : QStringLiteral("face marked"));
}

void OriginalPage::take_reading(double mm) {
  Job next = desk_.job();
  for (MeasuredSize& s : next.original.sizes)
    if (s.id == selected_) s.readings_mm.push_back(mm);
  desk_.edit(next, QStringLiteral("reading from the calipers"));
}

void OriginalPage::select(const std::string& id) {
  selected_ = id;
  card_->show_size(side_open() ? std::string() : selected_);
  lay_out();
  view_->update();
}

void OriginalPage::point_at(const Finding& f) {
  if (f.code == "mirror") return master_chip_->setChecked(true);
  if (f.code == "finish-later" || f.code == "master-material" || f.code == "inhibition" || f.code == "bonds" ||
      f.code == "finish-release")
    return faces_chip_->setChecked(true);
  if (f.code.starts_with("bare")) return show_card(bare_, nullptr);
  if (f.code.starts_with("traced")) return trace(true);
  if (f.code.starts_with("drawn")) return draw_chip_->setChecked(true);
  if (!f.where.size.empty()) {
    faces_chip_->setChecked(false);
    master_chip_->setChecked(false);
    select(f.where.size);
  }
}

bool OriginalPage::settled() const {
  if (trace_->isVisible()) return trace_->ready() || desk_.job().original.drawn.tracing.picture.empty();
  return !view_->isVisible() || view_->passes() >= PartView::settled_passes;
}

PopCard* OriginalPage::side() const {
  for (PopCard* c : {static_cast<PopCard*>(faces_), static_cast<PopCard*>(master_), static_cast<PopCard*>(draw_),
                     static_cast<PopCard*>(bare_)})
    if (c->isVisible()) return c;
  return nullptr;
}

void OriginalPage::trace(bool on) {
  typing_.clear(), typed_->hide();
  trace_->setVisible(on);
  if (on) {
    trace_->raise();
    trace_->setGeometry(rect());
    trace_->refresh();
    trace_->setFocus();
  }
  refresh();
}

void OriginalPage::type_measure(const std::string& label, const RectPx& at) {
  const size_t dot = label.find('.');
  const Units& u = desk_.units();
  for (const DrawnBody& b : desk_.job().original.drawn.bodies)
    for (const MeasureLine& l : measure_lines(b))
      if (b.id == label.substr(0, dot) && l.key == label.substr(dot + 1)) {
        typing_ = label;
        typed_->setText(u.length_text(l.mm, u.inch ? 4 : 2));
        typed_->setGeometry(static_cast<int>(at.x), static_cast<int>(at.y) + 4, std::max(90, static_cast<int>(at.w)),
                            30);
        typed_->show();
        typed_->raise();
        typed_->setFocus();
        typed_->selectAll();
      }
}

void OriginalPage::make_room() {
  const PopCard* open = side();
  const QMargins m =
      open ? QMargins(draw_->isVisible() ? 76 : 24, 60, open->width() + (draw_->isVisible() ? 86 : 34), 40)
           : QMargins(60, 60, 60, 190);
  view_->set_margins(m);
  if (m == margins_) return;
  margins_ = m;
  if (!view_->scene().bodies.empty()) view_->fit();
}

void OriginalPage::refresh() {
  const Job& job = desk_.job();
  const auto original = desk_.plan().fresh(results::original);
  const bool has_mesh = desk_.plan().newest(results::original) != nullptr;
  const PartFrom from = job.original.from();
  view_->setVisible(has_mesh && from != PartFrom::nothing && !trace_->isVisible());
  empty_->setVisible(!desk_.errand().running && from == PartFrom::nothing && !trace_->isVisible());
  add_->setEnabled(!desk_.read_only() && desk_.has_job());
  master_chip_->setEnabled(has_mesh && from != PartFrom::nothing);
  draw_chip_->setText(from == PartFrom::drawn ? QStringLiteral("Drawing") : QStringLiteral("Draw it"));
  open_->setText(job.original.mesh.hash.empty() ? QStringLiteral("Open mesh…") : QStringLiteral("Another mesh…"));
  duties_->setText(job.original.duties.empty()
                       ? QStringLiteral("What does it do?")
                       : QStringLiteral("Does: ") +
                             qs(counted(static_cast<long long>(job.original.duties.size()), "duty", "duties")));
  master_chip_->setText(
      job.original.master_steps.empty()
          ? QStringLiteral("The master")
          : QStringLiteral("Master: ") +
                qs(counted(static_cast<long long>(job.original.master_steps.size()), "step", "steps")));
  QStringList told;
  if (!job.original.mesh.mended.empty()) told << qs(job.original.mesh.mended);
  if (job.original.mesh.deflection_mm)
    told << QStringLiteral("STEP, triangles within %1 mm of its faces; bores and planes are taken as stated.")
                .arg(qs(significant(*job.original.mesh.deflection_mm, 2)));
  if (job.original.mesh.triangles > 300'000)
    told << QStringLiteral(
                "%1 triangles: picture, sizes and volumes use all of them; the split samples each face once.")
                .arg(qs(grouped(static_cast<double>(job.original.mesh.triangles))));
  if (original && from == PartFrom::drawn)
    told << QStringLiteral("Not scanned: %1. A measure across it is good to ± %2, its volume to ± %3 ml.")
                .arg(job.original.drawn.tracing.complete()
                         ? QStringLiteral("traced on ") + qs(job.original.drawn.tracing.file)
                         : QStringLiteral("drawn from measures"),
                     desk_.units().length_unit_text(original->u_mm, desk_.units().inch ? 4 : 2),
                     qs(significant(original->u_volume_mm3 * 1e-3, 2)));
  if (original && from == PartFrom::volume)
    told << QStringLiteral(
                "A stand-in of the part's box and volume, %1 ± %2 ml: masses hold, shape and line are not the part's.")
                .arg(qs(fixed(original->measure.volume_mm3 * 1e-3, 1)),
                     qs(significant(original->u_volume_mm3 * 1e-3, 1)));
  if (const SlotState slot = desk_.plan().state(results::original);
      slot.state == Freshness::failed && from != PartFrom::mesh)
    told << qs(slot.error.text());
  mended_->setText(told.join(QLatin1Char(' ')));
  mended_->setVisible(!told.isEmpty() && !adding_ && !side_open() && !trace_->isVisible());
  if (!has_mesh) shown_scene_.clear();
  if (!job.original.size(selected_)) selected_ = job.original.sizes.empty() ? "" : job.original.sizes.front().id;
  for (const auto& [card, its_chip] : cards_)
    if (card->isVisible()) card->refresh();
  if (trace_->isVisible()) trace_->refresh();
  show_scene();
  card_->show_size(side_open() ? std::string() : selected_);
  lay_out();
  view_->update();
}

void OriginalPage::lay_out() {
  view_->setGeometry(rect());
  trace_->setGeometry(rect());
  make_room();
  int x = 16;
  for (QPushButton* b : {open_, draw_chip_, add_, faces_chip_, master_chip_, duties_, more_}) {
    b->adjustSize();
    b->move(x, 14);
    x += b->width() + 8;
  }
  measuring_->adjustSize();
  measuring_->move(16, 54);
  const ClickMeans what = faces_->isVisible()    ? faces_->click()
                          : master_->isVisible() ? master_->click()
                                                 : ClickMeans::nothing;
  view_->setCursor(adding_ || what != ClickMeans::nothing ? Qt::CrossCursor : Qt::ArrowCursor);
  const int free = (side() ? side()->x() : width()) - 36;
  hint_->setGeometry(18, adding_ ? 90 : 50, std::max(60, free), 34);
  mended_->setGeometry(18, 50, std::max(60, free), 44);
  if (!hint_->text().isEmpty()) mended_->hide();
  empty_->setGeometry(60, height() / 2 - 60, width() - 120, 120);
  const int h = card_->sizeHint().height();
  card_->setGeometry(16, height() - h - 14, width() - 32, h);
  for (const auto& [c, its_chip] : cards_)
    if (c->isVisible() && !trace_->isVisible()) c->move(std::max(8, width() - 14 - c->width()), 58), c->raise();
}
void OriginalPage::resizeEvent(QResizeEvent*) {
  lay_out();
  if (trace_->isVisible()) trace_->raise();
}

}  // namespace palinform::app
