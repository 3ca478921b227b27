#include "flow/flow_page.hpp"

#include <cmath>
#include <numbers>
#include <QHBoxLayout>
#include <QPainter>
#include <QPainterPath>
#include <QSlider>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "shell/desk.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

WedgeView::WedgeView(QWidget* parent) : QWidget(parent) { setAttribute(Qt::WA_TransparentForMouseEvents); }
void WedgeView::show_tilt(double tilt_deg) {
  tilt_deg_ = tilt_deg;
  setAccessibleName(QStringLiteral("Wedge of %1 degrees").arg(tilt_deg));
  update();
}
void WedgeView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.setFont(type_face(13));
  p.setPen(pal().quiet);
  const double rise = 100 * std::tan(tilt_deg_ * std::numbers::pi / 180);
  p.drawText(QRectF(0, height() - 20, width(), 18), Qt::AlignRight | Qt::AlignVCenter,
             tilt_deg_ < 0.5 ? QStringLiteral("stands level")
                             : QStringLiteral("wedge %1°: raise one end %2 mm for each 100 mm")
                                   .arg(qs(fixed(tilt_deg_, 1)), qs(fixed(rise, 0))));
  if (tilt_deg_ < 0.5) return;
  const double room = height() - 26,
               run = std::min(width() - 10.0, room / std::tan(tilt_deg_ * std::numbers::pi / 180));
  const double up = run * std::tan(tilt_deg_ * std::numbers::pi / 180);
  QPolygonF w;
  w << QPointF(width() - 4, height() - 24) << QPointF(width() - 4 - run, height() - 24)
    << QPointF(width() - 4 - run, height() - 24 - up);
  p.setBrush(pal().slip);
  p.setPen(QPen(pal().rule.darker(115), 1.6));
  p.drawPolygon(w);
}

FlowPage::FlowPage(Desk& desk, QWidget* parent) : StagePage(desk, parent) {
  view_ = new PartView(this);
  view_->set_margins(QMargins(40, 130, 40, 130));
  view_->set_overlay([this](QPainter& p) { draw_over(p); });
  Camera c;
  c.look_from(-70, 14);
  view_->set_camera(c);
  connect(view_, &PartView::clicked, this, &FlowPage::canvas_clicked);

  tools_ = new QWidget(this);
  auto* row = new QHBoxLayout(tools_);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(8);
  const std::pair<const char*, const char*> names[] = {
      {"Set the gate", "tool-gate"}, {"Add a vent", "tool-vent"}, {"Take one away", "tool-take"}};
  for (int i = 0; i < 3; ++i) {
    auto* b = chip(QString::fromLatin1(names[i].first), QString::fromLatin1(names[i].second), true);
    connect(b, &QPushButton::clicked, this, [this, i](bool on) { choose(on ? static_cast<Tool>(i + 1) : Tool::none); });
    row->addWidget(b);
    tool_.push_back(b);
  }
  row->addStretch(1);
  aids_ = new Chips;
  aids_->add(QStringLiteral("By gravity"), QStringLiteral("aid-gravity"));
  aids_->add(QStringLiteral("Pressure pot"), QStringLiteral("aid-pressure"));
  aids_->add(QStringLiteral("Vacuum"), QStringLiteral("aid-vacuum"));
  row->addWidget(aids_);
  connect(aids_, &Chips::chosen, this, [this](int i) {
    edit([&](FlowSetup& f) { f.aid = static_cast<FillAid>(i); }, QStringLiteral("filling aid"));
  });

  stand_ = new QWidget(this);
  auto* sr = new QHBoxLayout(stand_);
  sr->setContentsMargins(0, 0, 0, 0);
  sr->setSpacing(14);
  const auto slider = [&](const QString& name, int high, QLabel*& words, QSlider*& into) {
    auto* col = new QVBoxLayout;
    col->setSpacing(2);
    words = new QLabel;
    words->setProperty("role", "small");
    into = new QSlider(Qt::Horizontal);
    into->setObjectName(name);
    into->setRange(0, high);
    into->setMinimumSize(130, 32);
    words->setBuddy(into);
    col->addWidget(words);
    col->addWidget(into);
    sr->addLayout(col, 1);
  };
  slider(QStringLiteral("tilt"), 90, tilt_words_, tilt_);
  slider(QStringLiteral("azimuth"), 359, azimuth_words_, azimuth_);
  tilt_->setAccessibleName(QStringLiteral("Tilt, degrees"));
  azimuth_->setAccessibleName(QStringLiteral("Tilted toward, degrees"));
  over_ = chip(QStringLiteral("Side a up"), QStringLiteral("turn-over"));
  sr->addWidget(over_, 0, Qt::AlignBottom);
  pressure_ = new FigureField(QStringLiteral("Pot"), QStringLiteral("pot-kpa"), 84);
  pressure_->set_range(0, 1000);
  vacuum_ = new FigureField(QStringLiteral("Vacuum, absolute"), QStringLiteral("vacuum-kpa"), 104);
  vacuum_->set_range(0.01, 101);
  altitude_ = new FigureField(QStringLiteral("Altitude"), QStringLiteral("altitude"), 84);
  altitude_->set_range(-400, 5000);
  sr->addWidget(pressure_);
  sr->addWidget(vacuum_);
  sr->addWidget(altitude_);
  connect(tilt_, &QSlider::valueChanged, this, [this](int v) {
    edit([&](FlowSetup& f) { f.tilt_deg = v; }, QStringLiteral("tilt"), QStringLiteral("tilt-drag"));
  });
  connect(azimuth_, &QSlider::valueChanged, this, [this](int v) {
    edit([&](FlowSetup& f) { f.azimuth_deg = v; }, QStringLiteral("turn of the tilt"), QStringLiteral("azimuth-drag"));
  });
  connect(over_, &QPushButton::clicked, this,
          [this] { edit([](FlowSetup& f) { f.turned_over = !f.turned_over; }, QStringLiteral("mould turned over")); });
  connect(pressure_, &FigureField::entered, this,
          [this](double v) { edit([&](FlowSetup& f) { f.pressure_kpa = v; }, QStringLiteral("pot pressure")); });
  connect(vacuum_, &FigureField::entered, this,
          [this](double v) { edit([&](FlowSetup& f) { f.vacuum_kpa = v; }, QStringLiteral("vacuum")); });
  connect(altitude_, &FigureField::entered, this,
          [this](double v) { edit([&](FlowSetup& f) { f.altitude_m = v; }, QStringLiteral("altitude")); });

  hint_ = remark();
  hint_->setParent(this);
  told_ = new QLabel(this);
  told_->setTextFormat(Qt::RichText);
  told_->setAttribute(Qt::WA_TransparentForMouseEvents);
  wedge_ = new WedgeView(this);
  empty_ = remark();
  empty_->setParent(this);
  empty_->setAlignment(Qt::AlignCenter);
}

void FlowPage::edit(const std::function<void(FlowSetup&)>& change, const QString& what, const QString& merge) {
  Job next = desk_.job();
  change(next.flow);
  desk_.edit(next, what, merge);
}

void FlowPage::choose(Tool t) {
  now_ = t;
  for (size_t i = 0; i < tool_.size(); ++i) tool_[i]->setChecked(static_cast<int>(t) == static_cast<int>(i) + 1);
  view_->setCursor(t == Tool::none ? Qt::ArrowCursor : Qt::CrossCursor);
  hint_->setText(t == Tool::gate        ? QStringLiteral("Click the part where the resin is to come in.")
                 : t == Tool::vent      ? QStringLiteral("Click the part where air is to get out.")
                 : t == Tool::take_away ? QStringLiteral("Click a vent or the gate.")
                                        : QString());
}

void FlowPage::canvas_clicked(double x, double y) {
  if (now_ == Tool::none) return;
  if (now_ == Tool::take_away) {
    const FlowSetup& f = desk_.job().flow;
    const auto near = [&](const Vec3& p) {
      const auto q = view_->camera().project(shown(p));
      return std::hypot(q.x - x, q.y - y) < 14;
    };
    for (size_t i = 0; i < f.vents.size(); ++i)
      if (near(f.vents[i]))
        return edit([&](FlowSetup& s) { s.vents.erase(s.vents.begin() + static_cast<std::ptrdiff_t>(i)); },
                    QStringLiteral("vent taken away"));
    if (f.gate && near(*f.gate)) edit([](FlowSetup& s) { s.gate.reset(); }, QStringLiteral("gate taken away"));
    return;
  }
  const auto hit = pick(view_->picture(), view_->camera(), nullptr, x, y);
  if (!hit || hit->body != 0) return;
  const Vec3 at = place_.point_back(hit->point_mm);
  if (now_ == Tool::gate)
    edit([&](FlowSetup& f) { f.gate = at; }, QStringLiteral("gate set"));
  else
    edit([&](FlowSetup& f) { f.vents.push_back(at); }, QStringLiteral("vent added"));
}

bool FlowPage::settled() const { return !view_->isVisible() || view_->passes() >= PartView::settled_passes; }

void FlowPage::refresh() {
  const Job& job = desk_.job();
  const auto original = desk_.plan().fresh<OriginalResult>("master");
  const auto split = desk_.plan().fresh<SplitResult>("split");
  const auto flow = desk_.plan().value<FlowResult>("flow");
  const bool fits = original && split;
  for (QWidget* w : {static_cast<QWidget*>(view_), tools_, stand_, static_cast<QWidget*>(told_),
                     static_cast<QWidget*>(hint_), static_cast<QWidget*>(wedge_)})
    w->setVisible(fits);
  empty_->setVisible(!fits);
  const SlotView slot = desk_.plan().slot("split");
  empty_->setText(
      slot.state == Freshness::failed
          ? qs(slot.error.text())
          : QStringLiteral("Where the air goes follows from the part and its split: open a mesh in Original."));
  if (!fits) {
    shown_.clear();
    return lay_out();
  }
  const FlowSetup& f = job.flow;
  aids_->set_current(static_cast<int>(f.aid));
  {
    const QSignalBlocker a(tilt_), b(azimuth_);
    tilt_->setValue(qRound(f.tilt_deg));
    azimuth_->setValue(qRound(f.azimuth_deg));
  }
  tilt_words_->setText(QStringLiteral("Tilt %1°").arg(qs(fixed(f.tilt_deg, 0))));
  azimuth_words_->setText(QStringLiteral("toward %1°").arg(qs(fixed(f.azimuth_deg, 0))));
  over_->setText(f.turned_over ? QStringLiteral("Side b up") : QStringLiteral("Side a up"));
  pressure_->setVisible(f.aid == FillAid::pressure);
  vacuum_->setVisible(f.aid == FillAid::vacuum);
  altitude_->setVisible(f.aid != FillAid::gravity);
  pressure_->show_value(f.pressure_kpa, 0, QStringLiteral("kPa"));
  vacuum_->show_value(f.vacuum_kpa, 1, QStringLiteral("kPa"));
  altitude_->show_value(f.altitude_m, 0, QStringLiteral("m"));
  wedge_->show_tilt(f.tilt_deg);

  // The part is shown as it stands: base side up first, then tilted about a level axis so that `up` points up.
  const Vec3 base = f.turned_over ? -split->split.pull : split->split.pull;
  const Transform frame = frame_along(base);
  const double t = f.tilt_deg * std::numbers::pi / 180, a = f.azimuth_deg * std::numbers::pi / 180;
  const Transform lean = Transform::turn({std::sin(a), -std::cos(a), 0}, t);
  Transform place;
  for (int i = 0; i < 3; ++i)
    place.rows[static_cast<size_t>(i)] = frame.direction_back(lean.direction_back([&] {
      Vec3 e;
      e[i] = 1;
      return e;
    }()));
  place_ = place;
  const std::string key =
      job.mesh.hash + hash_of(f.turned_over, f.tilt_deg, f.azimuth_deg, base).hex() + pal().ground.name().toStdString();
  if (key != shown_) {
    const bool other = shown_.substr(0, 32) != job.mesh.hash;
    const bool moved = !other && !shown_.empty();
    shown_ = key;
    Scene scene;
    Body b;
    b.shape = original->shape;
    b.colour = rgb(pal().side_b);
    b.place = place_;
    scene.bodies.push_back(std::move(b));
    scene.ground = rgb(pal().ground);
    if (moved)
      view_->move_scene(std::move(scene));
    else
      view_->set_scene(std::move(scene), other);
  }
  QString words = QStringLiteral("Working…");
  if (flow) {
    const bool stale = !desk_.plan().fresh<FlowResult>("flow");
    words = flow->pockets.empty()
                ? QStringLiteral("<b>No air stays</b>")
                : QStringLiteral("<b>%1 mm³ of air</b> in %2")
                      .arg(qs(grouped(flow->trapped_mm3, flow->trapped_mm3 < 10 ? 1 : 0)),
                           qs(counted(static_cast<long long>(flow->pockets.size()), "pocket", "pockets")));
    if (f.aid != FillAid::gravity)
      words += QStringLiteral(" · %1 mm³ after the %2")
                   .arg(qs(significant(flow->left_mm3, 2)),
                        f.aid == FillAid::pressure ? QStringLiteral("pot") : QStringLiteral("vacuum"));
    words += QStringLiteral(" · cells of %1 mm · seen from %2 mm³ up (rule of thumb)")
                 .arg(qs(fixed(flow->voxel_mm, 2)), qs(significant(flow->visible_mm3, 2)));
    if (stale) words += QStringLiteral(" · working…");
  }
  told_->setText(words);
  lay_out();
  view_->update();
}

void FlowPage::point_at(const Finding& f) {
  pointed_ = f.where.point_mm;
  view_->update();
}

void FlowPage::lay_out() {
  view_->setGeometry(rect());
  tools_->setGeometry(16, 14, width() - 32, 34);
  stand_->setGeometry(16, 58, width() - 32, stand_->sizeHint().height());
  hint_->setGeometry(20, 118, width() - 40, 22);
  told_->setGeometry(20, height() - 34, width() - 40, 22);
  wedge_->setGeometry(width() - 396, height() - 124, 380, 84);
  empty_->setGeometry(60, height() / 2 - 40, width() - 120, 80);
}
void FlowPage::resizeEvent(QResizeEvent*) { lay_out(); }

void FlowPage::draw_over(QPainter& p) {
  const auto flow = desk_.plan().value<FlowResult>("flow");
  const FlowSetup& f = desk_.job().flow;
  const Box3 box = view_->scene().box_mm();
  const double px = 1 / view_->camera().mm_per_px;
  std::vector<Tag> tags;
  // Channels stand upright: from the wall to a little above the highest place of the part.
  const auto channel = [&](const Vec3& at, const QString& name, double width_px) {
    const Vec3 foot = shown(at);
    const Vec3 head{foot.x, foot.y, box.max.z + 0.10 * box.size().z + 6};
    draw_polyline(p, *view_, {foot, head}, QPen(pal().act, width_px));
    const auto q = view_->camera().project(foot);
    p.setPen(QPen(pal().ink, 1.4));
    p.setBrush(pal().act);
    p.drawEllipse(QPointF(q.x, q.y), 5, 5);
    tags.push_back({head, name, pal().act});
  };
  for (size_t i = 0; i < f.vents.size(); ++i) channel(f.vents[i], QStringLiteral("vent %1").arg(i + 1), 5);
  if (f.gate) channel(*f.gate, QStringLiteral("gate"), 10);
  if (flow) {
    int told = 0;
    for (const PocketSeen& s : flow->pockets) {
      if (!s.visible) continue;
      if (++told > 8) break;
      // A region without any way out is the whole mould, not a bubble.
      const Vec3 at = shown(s.pocket.apex_mm);
      const auto q = view_->camera().project(at);
      const double d = std::max(9.0, ball_diameter_mm(s.pocket.volume_mm3) * px);
      const double r = s.pocket.saddle_mm ? 0.5 * std::min(d, 120.0) : 16;
      QColor fill = pal().panel;
      fill.setAlphaF(0.9f);
      p.setBrush(fill);
      p.setPen(QPen(s.visible ? pal().stop : pal().quiet, 2.4,
                    point_visible(at, view_->camera(), view_->picture(), view_->slack_mm() + 2 * flow->voxel_mm)
                        ? Qt::SolidLine
                        : Qt::DashLine));
      p.drawEllipse(QPointF(q.x, q.y), r, r * 0.72);
      p.setPen(QPen(pal().quiet, 1));
      p.setBrush(Qt::NoBrush);
      p.drawArc(QRectF(q.x - r * 0.6, q.y - r * 0.5, r * 0.7, r * 0.5), 90 * 16, 90 * 16);
      QString words = s.pocket.saddle_mm ? QStringLiteral("%1 mm³ · Ø%2")
                                               .arg(qs(significant(s.pocket.volume_mm3, 2)),
                                                    qs(fixed(ball_diameter_mm(s.pocket.volume_mm3), 1)))
                                         : QStringLiteral("no way out for the air");
      if (f.aid != FillAid::gravity) words += QStringLiteral(" → %1 mm³").arg(qs(significant(s.after_mm3, 2)));
      if (told <= 5) tags.push_back({at, words, s.visible ? pal().stop : pal().quiet});
    }
  }
  draw_tags(p, *view_, tags, QRectF(12, 140, width() - 24.0, height() - 270.0));
  if (pointed_) {
    const auto q = view_->camera().project(shown(*pointed_));
    p.setPen(QPen(pal().stop, 2.5));
    p.setBrush(Qt::NoBrush);
    p.drawEllipse(QPointF(q.x, q.y), 22, 22);
  }
}

}  // namespace palinform::app
