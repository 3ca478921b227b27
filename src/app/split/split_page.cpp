#include "split/split_page.hpp"

#include <cmath>
#include <QFileDialog>
#include <QPainter>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "sheet_pdf.hpp"
#include "shell/desk.hpp"
#include "split/clay_guide.hpp"
#include "stages/openings.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

namespace {
const Vec3 axes[6] = {{0, 0, 1}, {0, 0, -1}, {0, 1, 0}, {0, -1, 0}, {1, 0, 0}, {-1, 0, 0}};
}

SplitPage::SplitPage(Desk& desk, QWidget* parent) : StagePage(desk, parent) {
  view_ = new PartView(this);
  view_->set_margins(QMargins(30, 100, 200, 120));
  view_->set_overlay([this](QPainter& p) { draw_over(p); });
  pulls_ = new Chips(this);
  pulls_->add(QStringLiteral("Search"), QStringLiteral("pull-search"));
  for (const Vec3& a : axes)
    pulls_->add(QStringLiteral("Pull %1").arg(qs(axis_name(a))), QStringLiteral("pull-%1").arg(qs(axis_name(a))));
  brush_ = new Chips(this);
  brush_->add(QStringLiteral("Look"), QStringLiteral("brush-none"));
  brush_->add(QStringLiteral("Keep clear"), QStringLiteral("brush-clear"));
  brush_->add(QStringLiteral("To side a"), QStringLiteral("brush-a"));
  brush_->add(QStringLiteral("To side b"), QStringLiteral("brush-b"));
  brush_->add(QStringLiteral("Line here"), QStringLiteral("brush-line"));
  brush_->set_current(0);
  wipe_ = new QPushButton(QStringLiteral("Wipe marks"), this);
  wipe_->setProperty("kind", "bare");
  wipe_->setObjectName(QStringLiteral("brush-wipe"));
  hint_ = remark();
  hint_->setParent(this);
  rose_ = new PullRose(this);
  connect(view_, &PartView::stroked, this, &SplitPage::stroke);
  connect(brush_, &Chips::chosen, this, [this](int i) {
    view_->setCursor(i > 0 ? Qt::CrossCursor : Qt::ArrowCursor);
    view_->set_brush(i > 0);
    hint_->setText(i == 0 ? QString()
                          : QStringLiteral("Paint on the part, the line follows; the right button turns the part."));
  });
  connect(wipe_, &QPushButton::clicked, this, [this] {
    Job next = desk_.job();
    next.split.marks = {};
    desk_.edit(next, QStringLiteral("marks wiped"));
  });
  connect(rose_, &PullRose::picked, this, [this](const Vec3& pull, bool dragging) {
    const auto master = desk_.plan().fresh(results::master);
    if (dragging && master && master->mesh->triangles.size() > 150'000) return show_coarse(pull);
    Job next = desk_.job();
    const auto search = desk_.plan().fresh(results::search);
    if (search && !dragging && pull == search->best.pull)
      next.split.pull.reset();
    else
      next.split.pull = pull;
    desk_.edit(next, QStringLiteral("pull picked"), QStringLiteral("pull-drag"));
  });
  side_ = new QWidget(this);
  auto* col = new QVBoxLayout(side_);
  col->setContentsMargins(0, 0, 0, 0);
  col->setSpacing(6);
  weights_ = new WeightsCard(desk, this);
  ways_ = new WaysCard(desk, this);
  holes_ = new HolesCard(desk, this);
  witness_ = new WitnessCard(desk, this);
  cast_in_ = new CastInCard(desk, this);
  cards_ = {weights_, ways_, holes_, cast_in_, witness_};
  const auto button = [&](const QString& text, const QString& name) {
    auto* b = new QPushButton(text);
    b->setObjectName(name);
    col->addWidget(b);
    return b;
  };
  connect(button(QStringLiteral("Weigh the search"), QStringLiteral("open-weights")), &QPushButton::clicked, this,
          [this] { open_card(weights_, false); });
  connect(button(QStringLiteral("Where it will show"), QStringLiteral("open-witness")), &QPushButton::clicked, this,
          [this] { open_card(witness_, false); });
  connect(button(QStringLiteral("Openings and holes"), QStringLiteral("open-holes")), &QPushButton::clicked, this,
          [this] { open_card(holes_, false); });
  connect(button(QStringLiteral("Cast in, threads"), QStringLiteral("open-cast-in")), &QPushButton::clicked, this,
          [this] { open_card(cast_in_, false); });
  connect(button(QStringLiteral("Ways to split"), QStringLiteral("open-ways")), &QPushButton::clicked, this,
          [this] { open_card(ways_, true); });
  const QString sheet = QStringLiteral("Sheet (*.pdf)"), drawing = QStringLiteral("Drawing (*.svg)"),
                cut = QStringLiteral("Cutter's drawing (*.dxf)");
  const auto asks = [this](const QString& title, const QString& ending, const QStringList& kinds,
                           void (SplitPage::*write)(const QString&)) {
    return [this, title, ending, kinds, write] {
      const QString path =
          QFileDialog::getSaveFileName(this, title, qs(desk_.job().name) + ending, kinds.join(QStringLiteral(";;")));
      if (!path.isEmpty()) (this->*write)(path);
    };
  };
  connect(button(QStringLiteral("Clay-bed sheet…"), QStringLiteral("clay-sheet")), &QPushButton::clicked, this,
          asks(QStringLiteral("Clay-bed sheet at true scale"), QStringLiteral(" clay bed.pdf"), {sheet, drawing, cut},
               &SplitPage::write_clay_sheet));
  connect(holes_, &HolesCard::pin_sheet_wanted, this,
          asks(QStringLiteral("Drawing of the pins"), QStringLiteral(" pins.pdf"), {sheet, drawing, cut},
               &SplitPage::write_pin_sheet));
  connect(holes_, &HolesCard::plate_sheet_wanted, this,
          asks(QStringLiteral("Drawing of the plates"), QStringLiteral(" plates.dxf"), {cut, sheet, drawing},
               &SplitPage::write_plate_sheet));
  connect(view_, &PartView::clicked, this, &SplitPage::click_opening);
  const auto point = [this](const Vec3& at) {
    pointed_ = at;
    view_->update();
  };
  connect(holes_, &HolesCard::pointed, this, point);
  connect(cast_in_, &CastInCard::pointed, this, point);
  connect(cast_in_, &CastInCard::mesh_wanted, this, [this] {
    const QString path = QFileDialog::getOpenFileName(this, QStringLiteral("A mesh to cast in"), {},
                                                      QStringLiteral("Meshes (*.stl *.obj *.ply *.3mf *.step *.stp)"));
    if (!path.isEmpty()) desk_.cast_in_mesh(path);
  });
  connect(witness_, &WitnessCard::pointed, this, point);
  told_ = new QLabel(this);
  told_->setTextFormat(Qt::RichText);
  told_->setAttribute(Qt::WA_TransparentForMouseEvents);
  profile_ = new LineProfile(this);
  empty_ = remark();
  empty_->setParent(this);
  empty_->setAlignment(Qt::AlignCenter);
  mend_ = new QPushButton(QStringLiteral("Mend the mesh"), this);
  mend_->setObjectName(QStringLiteral("split-mend"));
  connect(mend_, &QPushButton::clicked, this, [this] { desk_.repair_mesh(); });
  connect(pulls_, &Chips::chosen, this, [this](int i) {
    Job next = desk_.job();
    if (i == 0)
      next.split.pull.reset();
    else
      next.split.pull = axes[i - 1];
    desk_.edit(next, i == 0 ? QStringLiteral("pull searched") : QStringLiteral("pull ") + qs(axis_name(axes[i - 1])));
  });
}

void SplitPage::stroke(double x, double y, bool begins) {
  const int kind = brush_->current();
  const auto master = desk_.plan().fresh(results::master);
  if (kind <= 0 || !master) return;
  if (begins) ++stroke_, last_spot_.reset();
  const auto hit = pick(view_->picture(), view_->camera(), master->mesh.get(), x, y);
  if (!hit || hit->triangle == Picture::cut_face) return;
  const Vec3 size = master->measure.box_mm.size();
  const SplitMarks::Spot spot{hit->point_mm, std::max(0.035 * std::max({size.x, size.y, size.z}), 0.5)};
  if (last_spot_ && length(*last_spot_ - spot.point_mm) < 0.7 * spot.radius_mm) return;
  last_spot_ = spot.point_mm;
  Job next = desk_.job();
  SplitMarks& m = next.split.marks;
  (kind == 1 ? m.keep_clear : kind == 2 ? m.to_a : kind == 3 ? m.to_b : m.line).push_back(spot);
  desk_.edit(next, QStringLiteral("mark on the part"), QStringLiteral("stroke-%1").arg(stroke_));
}

void SplitPage::open_card(PopCard* card, bool wide) {
  card->toggle_at(wide ? QPoint(width() - 12, 54) : QPoint(width() - 220, 96), cards_);
}

void SplitPage::show_coarse(const Vec3& pull) {
  const auto master = desk_.plan().fresh(results::master);
  if (!master || view_->scene().bodies.empty()) return;
  auto paint = std::make_shared<std::vector<uint8_t>>(master->mesh->triangles.size());
  for (size_t t = 0; t < paint->size(); ++t) (*paint)[t] = dot(master->mesh->area_vector(t), pull) < 0;
  Scene scene = view_->scene();
  scene.bodies[0].face_paint = paint;
  view_->move_scene(std::move(scene));
  rose_->show_search(desk_.plan().newest(results::search), unit(pull));
  told_->setText(QStringLiteral("<b>Sides by facing alone</b> while you drag; let go for the line."));
  shown_.clear();
}

void SplitPage::write_clay_sheet(const QString& path) {
  const auto master = desk_.plan().fresh(results::master);
  const auto split = desk_.plan().fresh(results::split);
  if (!master || !split) return;
  desk_.write_in_background(QStringLiteral("drawing the clay-bed sheet"), path,
                            [master, split, path = path.toStdString(), name = desk_.job().name](const Progress&) {
                              return write_drawings(
                                  {clay_guide(*master->mesh, *master->pairs, *master->rays, split->split, name).sheet},
                                  path);
                            });
}

void SplitPage::write_plate_sheet(const QString& path) {
  const auto master = desk_.plan().fresh(results::master);
  const auto openings = desk_.plan().fresh(results::openings);
  if (!master || !openings) return;
  desk_.write_in_background(
      QStringLiteral("drawing the plates"), path,
      [master, openings, said = desk_.job().split.openings, path = path.toStdString(), name = desk_.job().name](
          const Progress&) { return write_drawings(plate_drawings(*master, openings->found, said, name), path); });
}

void SplitPage::click_opening(double x, double y) {
  const auto master = desk_.plan().fresh(results::master);
  const auto openings = desk_.plan().fresh(results::openings);
  if (!master || !openings) return;
  const auto hit = pick(view_->picture(), view_->camera(), master->mesh.get(), x, y);
  if (!hit || hit->triangle == Picture::cut_face) return;
  if (cast_in_->isVisible()) {
    // What is cast in may lie before the part; a place on it is none of the part's.
    const SurfacePoint on = master->rays->closest(hit->point_mm);
    if (on.distance_mm < 0.05) cast_in_->pick(on.triangle, on.point_mm);
    return;
  }
  const auto opening = opening_at(openings->found, hit->point_mm);
  if (!opening) {
    if (!holes_->pick_pocket(hit->triangle)) return;
    pointed_ = hit->point_mm;
    if (!holes_->isVisible()) open_card(holes_, false);
    return view_->update();
  }
  pointed_ = openings->found.openings[*opening].at_mm();
  holes_->pick(*opening);
  if (!holes_->isVisible()) open_card(holes_, false);
  view_->update();
}

void SplitPage::write_pin_sheet(const QString& path) {
  const auto pins = desk_.plan().fresh(results::pins);
  if (!pins || pins->pins.empty()) return;
  desk_.write_in_background(QStringLiteral("drawing the pins"), path,
                            [pins, path = path.toStdString(), name = desk_.job().name](const Progress&) {
                              std::vector<Drawing> sheets;
                              for (const PinPlan& p : pins->pins) sheets.push_back(pin_drawing(p, name));
                              return write_drawings(sheets, path);
                            });
}

void SplitPage::refresh() {
  const Job& job = desk_.job();
  const auto original = desk_.plan().fresh(results::master);
  const auto split = desk_.plan().newest(results::split);
  const SlotState slot = desk_.plan().state(results::split);
  rose_->show_search(desk_.plan().newest(results::search), split ? split->split.pull : Vec3{0, 0, 1});
  wipe_->setVisible(!job.split.marks.empty());
  int now = job.split.pull ? -1 : 0;
  for (int i = 0; i < 6; ++i)  // none of the chips where the rose picked another
    if (job.split.pull && length(*job.split.pull - axes[i]) < 1e-9) now = i + 1;
  pulls_->set_current(now);
  const bool fits = original && split && split->face_paint->size() == original->mesh->triangles.size();
  view_->setVisible(fits);
  profile_->setVisible(fits);
  told_->setVisible(fits);
  rose_->setVisible(fits);
  brush_->setVisible(fits);
  hint_->setVisible(fits);
  side_->setVisible(fits);
  // A card stays while what it changed is worked out.
  if (!fits && !desk_.plan().newest(results::master))
    for (PopCard* c : cards_) c->hide();
  for (PopCard* c : cards_)
    if (c->isVisible()) c->refresh();
  empty_->setVisible(!fits);
  const SlotState search = desk_.plan().state(results::search);
  const auto whole = desk_.plan().fresh(results::original);
  mend_->setVisible(!fits && whole && whole->pairs->open_edges + whole->pairs->non_manifold_edges > 0);
  empty_->setText(search.state == Freshness::running ? QStringLiteral("Searching the half-globe for the best pull…")
                  : slot.state == Freshness::running ? QStringLiteral("Looking for the best pull…")
                  : slot.state == Freshness::failed
                      ? qs(slot.error.text())
                      : QStringLiteral("Open the master's mesh in Original; the split starts from its shape."));
  if (fits) {
    const auto pieces = desk_.plan().fresh(results::pieces);
    const std::string key = job.original.shape_key() + slot.key.hex() +
                            (pieces && pieces->given ? desk_.plan().state(results::pieces).key.hex() : "") +
                            (job.split.inserts.empty() ? "" : node_mark(desk_.plan(), results::inserts)) +
                            (job.split.pockets.empty() ? "" : node_mark(desk_.plan(), results::pins)) +
                            pal().ground.name().toStdString() + (slot.state == Freshness::fresh ? "f" : "s");
    if (key != shown_) {
      const bool other = shown_.substr(0, 32) != job.original.shape_key();
      shown_ = key;
      Scene scene;
      Body b;
      b.shape = original->shape;
      b.face_paint = split->face_paint;
      // What pieces of their own and slides form.
      const auto pins = desk_.plan().fresh(results::pins);
      if ((pieces && pieces->given > 0) || (pins && !pins->pockets.empty())) {
        auto paint = std::make_shared<std::vector<uint8_t>>(*split->face_paint);
        const auto own = [&](const std::vector<uint32_t>& faces) {
          for (const uint32_t t : faces)
            if (t < paint->size()) (*paint)[t] = 3;
        };
        for (size_t k = 0; pieces && k < pieces->given; ++k) own(pieces->plan.pieces[k].triangles);
        if (pins)
          for (const SlidPocket& p : pins->pockets) own(p.faces.triangles);
        b.face_paint = paint;
      }
      b.paints = {{rgb(pal().side_a), rgb(pal().note), Pattern::plain},
                  {rgb(pal().side_b), rgb(pal().caution), Pattern::dots},
                  {rgb(pal().locked), rgb(pal().stop), Pattern::hatch},
                  {rgb(pal().panel), rgb(pal().act), Pattern::hatch}};
      // What is cast in shows through the part.
      const auto inserts = desk_.plan().newest(results::inserts);
      const bool any = inserts && !job.split.inserts.empty();
      if (any) b.opacity = 0.55;
      scene.bodies.push_back(std::move(b));
      for (size_t k = 0; any && k < inserts->placed.size(); ++k) {
        if (!inserts->placed[k].shape) continue;
        Body metal;
        metal.shape = inserts->placed[k].shape;
        metal.colour = rgb(mixed(pal().quiet, pal().ink, 0.35));
        scene.bodies.push_back(std::move(metal));
      }
      scene.ground = rgb(pal().ground);
      view_->set_scene(std::move(scene), other);
    }
    const Units& u = desk_.units();
    const Split& s = split->split;
    const QString locks = s.locked_area_mm2 < 1
                              ? QStringLiteral("nothing locks")
                              : QStringLiteral("%1 mm² locks, hatched").arg(qs(significant(s.locked_area_mm2, 3)));
    QString shows;
    if (const auto w = desk_.plan().fresh(results::witness)) {
      double mm = 0;
      for (const WitnessPlace& p : w->places) mm += p.length_mm;
      shows = mm < 0.5 ? QStringLiteral(" · leaves no witness")
                       : QStringLiteral(" · %1 of it will show").arg(u.length_unit_text(mm, 0));
    }
    told_->setText(QStringLiteral("<b>Line</b> %1 in %2 · pull %3 · %4 · steepest %5°%6")
                       .arg(u.length_unit_text(s.line_mm, 0),
                            qs(counted(static_cast<long long>(s.loops.size()), "loop", "loops")), qs(axis_name(s.pull)),
                            locks, qs(fixed(s.steepest_deg, 0)), shows));
    profile_->show_line(s.loops.empty() ? std::vector<Vec3>{} : s.loops.front().points_mm, s.pull, u);
  } else {
    shown_.clear();
  }
  lay_out();
  view_->update();
}

void SplitPage::point_at(const Finding& f) {
  pointed_ = f.where.point_mm;
  view_->update();
}

void SplitPage::lay_out() {
  view_->setGeometry(rect());
  pulls_->adjustSize();
  pulls_->move(16, 14);
  brush_->adjustSize();
  brush_->move(16, 54);
  wipe_->adjustSize();
  wipe_->move(brush_->x() + brush_->width() + 8, 54);
  hint_->setGeometry(18, 90, std::max(60, width() - 250), 22);
  rose_->move(width() - rose_->width() - 14, 54);
  side_->adjustSize();
  side_->setGeometry(rose_->x(), rose_->y() + rose_->height() + 10, rose_->width(), side_->sizeHint().height());
  told_->setGeometry(20, height() - 112, width() - 40, 22);
  profile_->setGeometry(16, height() - 90, width() - 32, 80);
  empty_->setGeometry(60, height() / 2 - 40, width() - 120, 80);
  mend_->adjustSize();
  mend_->move((width() - mend_->width()) / 2, height() / 2 + 46);
}
void SplitPage::resizeEvent(QResizeEvent*) { lay_out(); }

void SplitPage::draw_over(QPainter& p) {
  const auto split = desk_.plan().newest(results::split);
  if (!split) return;
  const Split& s = split->split;
  for (const PartingLoop& l : s.loops)
    draw_polyline(p, *view_, l.points_mm, QPen(pal().act, l.outer ? 3.6 : 2.6), true);
  std::vector<Tag> tags;
  const Units& u = desk_.units();
  // Side names stand at the ends of the pull, over the part's middle.
  const Box3 box = view_->scene().box_mm();
  const Vec3 end = s.pull * (0.5 * std::abs(dot(box.size(), s.pull)));
  tags.push_back({box.centre() + end, QStringLiteral("Side a · lifts this way"), pal().note});
  tags.push_back({box.centre() - end, QStringLiteral("Side b · dotted"), pal().caution});
  if (const auto found = desk_.plan().newest(results::undercuts)) {
    int told = 0;
    for (const Undercut& k : found->undercuts) {
      if (++told > 4) break;
      const QString what = k.sealed()   ? QStringLiteral("Sealed in")
                           : k.tunnel() ? QStringLiteral("Passage")
                           : k.flexes   ? QStringLiteral("Flexes out")
                                        : QStringLiteral("Locks");
      tags.push_back({k.centroid_mm,
                      QStringLiteral("%1 · %2 deep, mouth %3")
                          .arg(what, u.length_unit_text(k.reach_mm, 1), u.length_unit_text(k.mouth_mm, 1)),
                      k.flexes ? pal().caution : pal().stop});
    }
  }
  if (const auto pieces = desk_.plan().fresh(results::pieces))
    for (size_t k = 0; k < pieces->given; ++k) {
      const ExtraPiece& e = pieces->plan.pieces[k];
      const Vec3 tip = e.centroid_mm + e.pull * (0.35 * length(box.size()));
      draw_polyline(p, *view_, {e.centroid_mm, tip}, QPen(pal().act, 2.4, Qt::DashLine));
      tags.push_back({tip,
                      QStringLiteral("Piece %1 · draws along %2")
                          .arg(QChar(static_cast<char16_t>('c' + k)))
                          .arg(qs(axis_name(e.pull))),
                      pal().act});
    }
  // Pins as they stand in the mould: both edges of the rod and its ends, from the foot to the grip.
  if (const auto pins = desk_.plan().fresh(results::pins))
    for (const PinPlan& k : pins->pins) {
      if (!k.outline_mm.empty()) {  // a slide: its outline at both ends, an edge between
        const Vec3 a = any_perpendicular(k.draw), b = cross(k.draw, a), tip = k.foot_mm + k.draw * k.length_mm();
        std::vector<Vec3> low, high;
        for (const Point2& q : k.outline_mm)
          low.push_back(k.foot_mm + a * q.x + b * q.y), high.push_back(tip + a * q.x + b * q.y);
        draw_polyline(p, *view_, low, QPen(pal().ink, 2), true);
        draw_polyline(p, *view_, high, QPen(pal().ink, 2), true);
        for (size_t i = 0; i < low.size(); i += std::max<size_t>(1, low.size() / 4))
          draw_polyline(p, *view_, {low[i], high[i]}, QPen(pal().ink, 2));
        tags.push_back(
            {tip,
             QStringLiteral("%1 · %2 × %3")
                 .arg(qs(k.name), u.length_unit_text(k.across_mm().x, 1), u.length_unit_text(k.across_mm().y, 1)),
             pal().ink});
        continue;
      }
      const Vec3 grip = k.foot_mm + k.draw * k.length_mm();
      const Vec3 side =
          unit(cross(k.draw, view_->camera().toward_viewer()), any_perpendicular(k.draw)) * (0.5 * k.diameter_mm);
      draw_polyline(p, *view_, {k.foot_mm + side, grip + side, grip - side, k.foot_mm - side}, QPen(pal().ink, 2),
                    true);
      tags.push_back({grip,
                      QStringLiteral("%1 · Ø%2 × %3")
                          .arg(qs(k.name), u.length_unit_text(k.diameter_mm, 2), u.length_unit_text(k.length_mm(), 0)),
                      pal().ink});
    }
  // Openings by what becomes of them: their outline where they are narrowest, or where rubber meets.
  const auto openings = desk_.plan().newest(results::openings);
  for (size_t k = 0; openings && k < openings->found.openings.size(); ++k) {
    const Opening& o = openings->found.openings[k];
    const OpeningChoice* c = choice_for(openings->found, k, desk_.job().split.openings);
    draw_polyline(p, *view_, o.outline_mm, QPen(c ? pal().note : pal().ink, 1.6, c ? Qt::SolidLine : Qt::DotLine),
                  true);
    if (!c || c->kind == OpeningChoice::Kind::slide) continue;  // a slide stands there itself
    if (c->kind == OpeningChoice::Kind::slit) {
      // The blade's way, and the rubber it goes through.
      const SlitCut cut = slit_of(o, *c);
      draw_polyline(p, *view_, cut.outline_mm, QPen(pal().stop, 1.2, Qt::DashLine), true);
      draw_polyline(p, *view_, cut.line_mm, QPen(pal().stop, 2.6), false);
    }
    tags.push_back(
        {o.at_mm(), QStringLiteral("%1 · %2").arg(qs(o.name), qs(std::string(words_of(c->kind)))), pal().note});
  }
  // What is cast in, and threads.
  const auto inserts = desk_.plan().newest(results::inserts);
  for (size_t k = 0; inserts && k < inserts->placed.size() && k < desk_.job().split.inserts.size(); ++k) {
    const Insert& in = desk_.job().split.inserts[k];
    const Vec3 far_end = in.at_mm + unit(in.axis) * (in.kind == Insert::Kind::mesh ? 0 : in.long_mm);
    tags.push_back(
        {far_end,
         QStringLiteral("%1 · %2").arg(qs(in.name), inserts->placed[k].refused ? QStringLiteral("cannot lie so")
                                                                               : qs(std::string(words_of(in.hold)))),
         inserts->placed[k].refused ? pal().stop : pal().ink});
  }
  for (const ThreadChoice& t : desk_.job().split.threads) {
    const QString how = t.how == ThreadChoice::How::cut      ? QStringLiteral("cut afterwards")
                        : t.how == ThreadChoice::How::insert ? QStringLiteral("cast in")
                        : t.how == ThreadChoice::How::hard   ? QStringLiteral("unscrewed")
                                                             : QStringLiteral("in rubber");
    tags.push_back(
        {t.at_mm + unit(t.axis) * (0.5 * t.deep_mm), QStringLiteral("%1 · %2").arg(qs(words_of(t)), how), pal().note});
  }
  for (const PartingLoop& l : s.loops) {
    if (l.outer || l.points_mm.empty() || l.length_mm < 2) continue;
    const auto in = openings ? opening_at(openings->found, l.points_mm.front()) : std::nullopt;
    if (in && choice_for(openings->found, *in, desk_.job().split.openings)) continue;  // told by its opening
    tags.push_back(
        {l.points_mm.front(), QStringLiteral("Shut-off · %1").arg(u.length_unit_text(l.length_mm, 0)), pal().quiet});
  }
  draw_tags(p, *view_, tags, QRectF(12, 96, width() - 232.0, height() - 226.0));
  // Marks as small signs on the part: never by colour alone.
  const SplitMarks& m = desk_.job().split.marks;
  const auto signs = [&](const std::vector<SplitMarks::Spot>& list, const QString& sign, const QColor& c) {
    p.setFont(type_face(12, 600));
    for (const SplitMarks::Spot& spot : list) {
      const auto q = view_->camera().project(spot.point_mm);
      p.setPen(QPen(c, 2));
      p.setBrush(pal().panel);
      p.drawEllipse(QPointF(q.x, q.y), 9, 9);
      p.setPen(c);
      p.drawText(QRectF(q.x - 9, q.y - 9, 18, 18), Qt::AlignCenter, sign);
    }
  };
  signs(m.keep_clear, QStringLiteral("×"), pal().stop);
  signs(m.to_a, QStringLiteral("a"), pal().note);
  signs(m.to_b, QStringLiteral("b"), pal().caution);
  signs(m.line, QStringLiteral("–"), pal().act);
  if (pointed_) {
    const auto q = view_->camera().project(*pointed_);
    p.setPen(QPen(pal().stop, 2.5));
    p.setBrush(Qt::NoBrush);
    p.drawEllipse(QPointF(q.x, q.y), 16, 16);
    p.drawEllipse(QPointF(q.x, q.y), 20, 20);
  }
}

}  // namespace palinform::app
