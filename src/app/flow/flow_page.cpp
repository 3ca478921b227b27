#include "flow/flow_page.hpp"

#include <cmath>
#include <numbers>
#include <QHBoxLayout>
#include <QPainter>
#include <QSlider>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "shell/desk.hpp"
#include "stages/flowing.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

FlowPage::FlowPage(Desk& desk, QWidget* parent) : StagePage(desk, parent) {
  view_ = new PartView(this);
  view_->set_margins(QMargins(50, 190, 50, 190));
  view_->set_overlay([this](QPainter& p) { draw_over(p); });
  Camera c;
  c.look_from(-70, 14);
  view_->set_camera(c);
  connect(view_, &PartView::clicked, this, &FlowPage::canvas_clicked);
  connect(view_, &PartView::stroked, this, &FlowPage::drag);

  const auto bar = [this](int spacing, QHBoxLayout*& row) {
    auto* w = new QWidget(this);
    row = new QHBoxLayout(w);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(spacing);
    return w;
  };
  const auto field = [](QHBoxLayout* row, const char* words, const char* name, int width, double low, double high) {
    auto* f = new FigureField(QString::fromLatin1(words), QString::fromLatin1(name), width);
    f->set_range(low, high);
    row->addWidget(f);
    return f;
  };
  const auto on_entry = [this](FigureField* f, auto set, const char* what) {
    connect(f, &FigureField::entered, this,
            [this, set, what](double v) { edit([&](FlowSetup& s) { set(s, v); }, QString::fromLatin1(what)); });
  };

  // How it stands and by what it fills.
  QHBoxLayout* row = nullptr;
  stand_ = bar(12, row);
  const auto slider = [&](QHBoxLayout* to, const QString& name, int high, QLabel*& words, QSlider*& into) {
    auto* col = new QVBoxLayout;
    col->setSpacing(2);
    words = new QLabel;
    words->setProperty("role", "small");
    into = new QSlider(Qt::Horizontal);
    into->setObjectName(name);
    into->setRange(0, high);
    into->setMinimumSize(110, 32);
    words->setBuddy(into);
    col->addWidget(words);
    col->addWidget(into);
    to->addLayout(col, 1);
  };
  slider(row, QStringLiteral("tilt"), 90, tilt_words_, tilt_);
  slider(row, QStringLiteral("azimuth"), 359, azimuth_words_, azimuth_);
  tilt_->setAccessibleName(QStringLiteral("Tilt, degrees"));
  azimuth_->setAccessibleName(QStringLiteral("Tilted toward, degrees"));
  over_ = chip(QStringLiteral("Side a up"), QStringLiteral("turn-over"));
  row->addWidget(over_, 0, Qt::AlignBottom);
  aids_ = new Chips;
  aids_->add(QStringLiteral("Gravity"), QStringLiteral("aid-gravity"));
  aids_->add(QStringLiteral("Pot"), QStringLiteral("aid-pressure"));
  aids_->add(QStringLiteral("Vacuum"), QStringLiteral("aid-vacuum"));
  aids_->add(QStringLiteral("Vacuum, then pot"), QStringLiteral("aid-both"));
  row->addWidget(aids_, 0, Qt::AlignBottom);
  connect(aids_, &Chips::chosen, this, [this](int i) {
    edit([&](FlowSetup& f) { f.aid = static_cast<FillAid>(i); }, QStringLiteral("filling aid"));
  });
  connect(tilt_, &QSlider::valueChanged, this, [this](int v) {
    edit([&](FlowSetup& f) { f.tilt_deg = v; }, QStringLiteral("tilt"), QStringLiteral("tilt-drag"));
  });
  connect(azimuth_, &QSlider::valueChanged, this, [this](int v) {
    edit([&](FlowSetup& f) { f.azimuth_deg = v; }, QStringLiteral("turn of the tilt"), QStringLiteral("azimuth-drag"));
  });
  connect(over_, &QPushButton::clicked, this,
          [this] { edit([](FlowSetup& f) { f.turned_over = !f.turned_over; }, QStringLiteral("mould turned over")); });

  // The plan, what it may not touch, and the channels' measures.
  plan_row_ = bar(8, row);
  take_ = new QPushButton(QStringLiteral("Take the plan"));
  take_->setObjectName(QStringLiteral("take-plan"));
  take_->setProperty("role", "primary");
  row->addWidget(take_, 0, Qt::AlignBottom);
  connect(take_, &QPushButton::clicked, this, &FlowPage::take_plan);
  keep_gate_ = chip(QStringLiteral("Keep the gate"), QStringLiteral("keep-gate"), true);
  keep_vents_ = chip(QStringLiteral("Keep the vents"), QStringLiteral("keep-vents"), true);
  row->addWidget(keep_gate_, 0, Qt::AlignBottom);
  row->addWidget(keep_vents_, 0, Qt::AlignBottom);
  connect(keep_gate_, &QPushButton::clicked, this,
          [this](bool on) { edit([on](FlowSetup& f) { f.keep_gate = on; }, QStringLiteral("gate kept")); });
  connect(keep_vents_, &QPushButton::clicked, this,
          [this](bool on) { edit([on](FlowSetup& f) { f.keep_vents = on; }, QStringLiteral("vents kept")); });
  most_tilt_ = field(row, "Tilt at most", "most-tilt", 76, 0, 90);
  most_vents_ = field(row, "Vents at most", "most-vents", 76, 0, 40);
  row->addStretch(1);
  sprue_ = field(row, "Sprue", "sprue", 70, 1, 40);
  head_ = field(row, "Head", "head", 70, 0, 1000);
  pressure_ = field(row, "Pot", "pot-kpa", 84, 0, 1000);
  vacuum_ = field(row, "Vacuum, abs.", "vacuum-kpa", 84, 0.01, 101);
  altitude_ = field(row, "Altitude", "altitude", 76, -400, 5000);
  on_entry(
      most_tilt_, [](FlowSetup& f, double v) { f.max_tilt_deg = v; }, "greatest tilt");
  on_entry(
      most_vents_, [](FlowSetup& f, double v) { f.max_vents = qRound(v); }, "most vents");
  on_entry(
      sprue_, [](FlowSetup& f, double v) { f.sprue_mm = v; }, "sprue");
  on_entry(
      head_, [](FlowSetup& f, double v) { f.head_mm = v; }, "head");
  on_entry(
      pressure_, [](FlowSetup& f, double v) { f.pressure_kpa = v; }, "pot pressure");
  on_entry(
      vacuum_, [](FlowSetup& f, double v) { f.vacuum_kpa = v; }, "vacuum");
  on_entry(
      altitude_, [](FlowSetup& f, double v) { f.altitude_m = v; }, "altitude");

  // What a click on the part does.
  tools_ = bar(8, row);
  const std::tuple<const char*, const char*, Tool> names[] = {{"Set the gate", "tool-gate", Tool::gate},
                                                              {"Add a vent", "tool-vent", Tool::vent},
                                                              {"No vent here", "tool-no-vent", Tool::no_vent},
                                                              {"Move", "tool-move", Tool::move},
                                                              {"Take one away", "tool-take", Tool::take_away}};
  for (const auto& [words, name, tool] : names) {
    auto* b = chip(QString::fromLatin1(words), QString::fromLatin1(name), true);
    connect(b, &QPushButton::clicked, this, [this, t = tool](bool on) { choose(on ? t : Tool::none); });
    row->addWidget(b);
    tool_.push_back(b);
  }
  rubber_ = chip(QStringLiteral("Air in the rubber"), QStringLiteral("rubber-air"), true);
  row->addStretch(1);
  row->addWidget(rubber_);
  connect(rubber_, &QPushButton::toggled, this, [this] { refresh(); });

  fill_words_ = new QLabel(this);
  fill_words_->setTextFormat(Qt::RichText);
  fill_words_->setWordWrap(true);
  fill_words_->setAlignment(Qt::AlignLeft | Qt::AlignBottom);
  filled_ = new QSlider(Qt::Horizontal, this);
  filled_->setObjectName(QStringLiteral("filled"));
  filled_->setAccessibleName(QStringLiteral("Time since the pour began"));
  filled_->setRange(0, 100);
  filled_->setValue(100);
  connect(filled_, &QSlider::valueChanged, this, [this] { refresh(); });
  map_ = new TiltMap(this);
  connect(map_, &TiltMap::picked, this, [this](double tilt, double azimuth) {
    edit([&](FlowSetup& f) { f.tilt_deg = tilt, f.azimuth_deg = azimuth; }, QStringLiteral("tilt"),
         QStringLiteral("tilt-drag"));
  });
  squeeze_ = new SqueezeBar(desk_, this);
  closing_ = new ClosingView(this);
  connect(closing_, &ClosingView::heaped, this, [this](double u, double v) {
    const auto shut = desk_.plan().newest(results::closing);
    const auto original = desk_.plan().fresh(results::master);
    if (!shut || !original) return;
    const Vec3 low = original->measure.box_mm.centre();
    const double w = shut->grid.frame.direction(low).z;
    edit([at = shut->grid.frame.direction_back({u, v, w})](FlowSetup& s) { s.squeeze.heap = at; },
         QStringLiteral("resin heaped"));
  });
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

void FlowPage::take_plan() {
  const auto best = desk_.plan().fresh(results::air_plan);
  if (!best) return;
  // The same edit as the finding's remedy.
  const QString what = QStringLiteral("stand, gate and vents as planned");
  desk_.apply({what.toStdString(), stand_so(best->plan)}, what);
}

void FlowPage::choose(Tool t) {
  now_ = t;
  for (size_t i = 0; i < tool_.size(); ++i) tool_[i]->setChecked(static_cast<int>(t) == static_cast<int>(i) + 1);
  view_->set_brush(t == Tool::move);
  view_->setCursor(t == Tool::none ? Qt::ArrowCursor : t == Tool::move ? Qt::OpenHandCursor : Qt::CrossCursor);
  hint_->setText(t == Tool::gate   ? QStringLiteral("Click the part where the resin is to come in.")
                 : t == Tool::vent ? QStringLiteral("Click the part where air is to get out.")
                 : t == Tool::no_vent
                     ? QStringLiteral("Click where the plan must put no vent; click again to allow it.")
                 : t == Tool::move      ? QStringLiteral("Drag the gate or a vent over the part.")
                 : t == Tool::take_away ? QStringLiteral("Click a vent or the gate.")
                                        : QString());
}

std::optional<Vec3> FlowPage::on_part(double x, double y) const {
  const auto hit = pick(view_->picture(), view_->camera(), nullptr, x, y);
  if (!hit || hit->body != 0) return std::nullopt;
  return place_.point_back(hit->point_mm);
}

void FlowPage::drag(double x, double y, bool begins) {
  const FlowSetup& f = desk_.job().flow;
  if (begins) {
    held_ = -2;
    ++drag_;
    std::vector<Vec3> places;
    if (f.gate) places.push_back(shown(*f.gate));
    for (const Vec3& v : f.vents) places.push_back(shown(v));
    if (const auto k = nearest_handle(*view_, x, y, places)) held_ = static_cast<int>(*k) - (f.gate ? 1 : 0);
    return;
  }
  if (held_ == -2) return;
  const auto at = on_part(x, y);
  if (!at) return;
  edit(
      [&](FlowSetup& s) {
        if (held_ == -1)
          s.gate = *at;
        else if (held_ < static_cast<int>(s.vents.size()))
          s.vents[static_cast<size_t>(held_)] = *at;
      },
      held_ == -1 ? QStringLiteral("gate moved") : QStringLiteral("vent moved"),
      QStringLiteral("channel-drag-%1").arg(drag_));
}

void FlowPage::canvas_clicked(double x, double y) {
  if (now_ == Tool::none || now_ == Tool::move) return;
  const FlowSetup& f = desk_.job().flow;
  const auto near = [&](const Vec3& p) {
    const auto q = view_->camera().project(shown(p));
    return std::hypot(q.x - x, q.y - y) < 14;
  };
  const auto without = [](std::vector<Vec3> list, size_t i) {
    list.erase(list.begin() + static_cast<std::ptrdiff_t>(i));
    return list;
  };
  if (now_ == Tool::take_away) {
    for (size_t i = 0; i < f.vents.size(); ++i)
      if (near(f.vents[i]))
        return edit([&](FlowSetup& s) { s.vents = without(s.vents, i); }, QStringLiteral("vent taken away"));
    if (f.gate && near(*f.gate)) edit([](FlowSetup& s) { s.gate.reset(); }, QStringLiteral("gate taken away"));
    return;
  }
  if (now_ == Tool::no_vent)
    for (size_t i = 0; i < f.no_vents.size(); ++i)
      if (near(f.no_vents[i]))
        return edit([&](FlowSetup& s) { s.no_vents = without(s.no_vents, i); }, QStringLiteral("vent allowed again"));
  const auto at = on_part(x, y);
  if (!at) return;
  if (now_ == Tool::gate)
    edit([&](FlowSetup& s) { s.gate = *at; }, QStringLiteral("gate set"));
  else if (now_ == Tool::vent)
    edit([&](FlowSetup& s) { s.vents.push_back(*at); }, QStringLiteral("vent added"));
  else
    edit([&](FlowSetup& s) { s.no_vents.push_back(*at); }, QStringLiteral("no vent there"));
}

bool FlowPage::settled() const { return !view_->isVisible() || view_->passes() >= PartView::settled_passes; }

std::optional<double> FlowPage::shown_min() const {
  if (filled_->value() >= filled_->maximum()) return std::nullopt;
  const auto fill = desk_.plan().newest(results::filling);
  if (!fill || fill->reached_min.empty()) return std::nullopt;
  double last = 0;
  for (const double t : fill->time.at_min)
    if (std::isfinite(t)) last = t;
  return last * filled_->value() / filled_->maximum();
}

void FlowPage::refresh() {
  const Job& job = desk_.job();
  const auto original = desk_.plan().fresh(results::master);
  const auto split = desk_.plan().fresh(results::split);
  const auto flow = desk_.plan().newest(results::flow);
  const auto best = desk_.plan().fresh(results::air_plan);
  const auto advice = desk_.plan().fresh(results::air_advice);
  const auto channels = desk_.plan().newest(results::channels);
  const auto fill = desk_.plan().newest(results::filling);
  const bool fits = original && split;
  const FillWay way = flow ? flow->way : FillWay::sprue;
  const bool sprued = fits && way == FillWay::sprue;
  const bool squeeze = fits && squeezed();
  const bool timed = squeeze || (sprued && fill && !fill->stages.empty());
  const auto show = [](bool on, std::initializer_list<QWidget*> widgets) {
    for (QWidget* w : widgets) w->setVisible(on);
  };
  show(fits, {view_, tools_, told_, fill_words_});
  show(fits && !squeeze, {stand_, plan_row_});
  show(squeeze, {squeeze_, closing_});
  // Only what stands on a wedge and is fed by a gate has these.
  show(sprued, {tilt_, azimuth_, tilt_words_, azimuth_words_, over_, hint_, wedge_, map_, take_, keep_gate_,
                keep_vents_, most_tilt_, most_vents_, sprue_, head_});
  for (QPushButton* b : tool_) b->setVisible(sprued);
  filled_->setVisible(timed);
  empty_->setVisible(!fits);
  const SlotState slot = desk_.plan().state(results::split);
  empty_->setText(
      slot.state == Freshness::failed
          ? qs(slot.error.text())
          : QStringLiteral("Where the air goes follows from the part and its split: open a mesh in Original."));
  if (!fits) {
    shown_.clear();
    return lay_out();
  }
  lay_out();  // before the picture is fitted to its place
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
  pressure_->setVisible(by_pot(f.aid));
  vacuum_->setVisible(by_chamber(f.aid));
  altitude_->setVisible(f.aid != FillAid::gravity);
  if (f.aid != FillAid::gravity) head_->hide();
  pressure_->show_value(f.pressure_kpa, 0, QStringLiteral("kPa"));
  vacuum_->show_value(f.vacuum_kpa, 1, QStringLiteral("kPa"));
  altitude_->show_value(f.altitude_m, 0, QStringLiteral("m"));
  most_tilt_->show_value(f.max_tilt_deg, 0, QStringLiteral("°"));
  most_vents_->show_value(f.max_vents, 0, QString());
  sprue_->show_value(f.sprue_mm, 1, QStringLiteral("mm"));
  head_->show_value(f.head_mm, 0, QStringLiteral("mm"));
  keep_gate_->setChecked(f.keep_gate);
  keep_vents_->setChecked(f.keep_vents);
  keep_gate_->setEnabled(f.gate.has_value() || f.keep_gate);
  keep_vents_->setEnabled(!f.vents.empty() || f.keep_vents);
  take_->setEnabled(best && !(advice && advice->taken));
  take_->setText(!best                     ? QStringLiteral("Planning…")
                 : advice && advice->taken ? QStringLiteral("Stands as planned")
                                           : QStringLiteral("Take the plan"));
  map_->show_plan(best ? &best->plan : nullptr, f.turned_over, f.tilt_deg, f.azimuth_deg);
  wedge_->show_tilt(f.tilt_deg, channels ? channels->wedge_run_mm : 0, channels ? channels->wedge_rise_mm : 0);

  // The part is shown as it stands: base side up first, then tilted about a level axis so that `up` points up.
  const Vec3 level = flow ? flow->level_up : split->split.pull;
  const bool rubber = rubber_->isChecked();
  const Vec3 base = f.turned_over && !rubber ? -level : level;
  const Transform frame = frame_along(base);
  const double t = rubber || squeeze ? 0 : f.tilt_deg * std::numbers::pi / 180,
               a = f.azimuth_deg * std::numbers::pi / 180;
  const Transform lean = Transform::turn({std::sin(a), -std::cos(a), 0}, t);
  Transform place;
  for (int i = 0; i < 3; ++i)
    place.rows[static_cast<size_t>(i)] = frame.direction_back(lean.direction_back([&] {
      Vec3 e;
      e[i] = 1;
      return e;
    }()));
  place_ = place;
  const auto now = shown_min();
  const std::string key =
      job.original.shape_key() +
      hash_of(f.turned_over, f.tilt_deg, f.azimuth_deg, base, rubber, now.has_value(), now.value_or(0),
              now ? desk_.plan().state(results::filling).key : Hash128{},
              squeeze ? desk_.plan().state(results::closing).key : Hash128{}, squeeze ? filled_->value() : 0)
          .hex() +
      pal().ground.name().toStdString();
  if (key != shown_) {
    const bool other = shown_.substr(0, 32) != job.original.shape_key();
    const bool moved = !other && !shown_.empty();
    shown_ = key;
    show_scene(other, moved);
  }
  QString words = QStringLiteral("Working…");
  if (rubber) {
    const auto air = desk_.plan().newest(results::rubber_air);
    words = QStringLiteral("This form's rubber is not poured round the master.");
    if (air) {
      QStringList each;
      for (const auto& p : air->pours)
        each << (p.pockets.empty() ? QStringLiteral("pour %1 keeps no air").arg(qs(p.name))
                                   : QStringLiteral("<b>pour %1 keeps %2 mm³</b> under the master")
                                         .arg(qs(p.name), qs(significant(p.trapped_mm3, 2))));
      words = each.join(QStringLiteral(" · "));
      if (air->better_over == true)
        words += QStringLiteral(" · stood the other way up %1 mm³").arg(qs(significant(air->other_mm3, 2)));
    }
  } else if (flow) {
    const bool stale = !desk_.plan().fresh(results::flow);
    const bool seen =
        std::any_of(flow->pockets.begin(), flow->pockets.end(), [](const PocketSeen& s) { return s.visible; });
    words = flow->pockets.empty() ? QStringLiteral("<b>No air stays</b>")
            : !seen               ? QStringLiteral("<b>No bubble one would see</b> · %1 mm³ in films")
                          .arg(qs(grouped(flow->trapped_mm3, flow->trapped_mm3 < 10 ? 1 : 0)))
                    : QStringLiteral("<b>%1 mm³ of air</b> in %2")
                          .arg(qs(grouped(flow->trapped_mm3, flow->trapped_mm3 < 10 ? 1 : 0)),
                               qs(counted(static_cast<long long>(flow->pockets.size()), "pocket", "pockets")));
    if (f.aid != FillAid::gravity)
      words += QStringLiteral(" · %1 mm³ after the %2")
                   .arg(qs(significant(flow->left_mm3, 2)), qs(std::string(words_of(f.aid))));
    words += (squeeze ? QStringLiteral(" · columns of %1 mm · seen from %2 mm³ up (rule of thumb)")
                      : QStringLiteral(" · cells of %1 mm · seen from %2 mm³ up (rule of thumb)"))
                 .arg(qs(fixed(flow->voxel_mm, 2)), qs(significant(flow->visible_mm3, 2)));
    if (stale) words += QStringLiteral(" · working…");
  }
  told_->setText(words);
  QString time;
  if (way == FillWay::open_face)
    time = QStringLiteral("<b>Open face:</b> air leaves through the open back; cover plate on from one side");
  else if (way == FillWay::well)
    time = QStringLiteral("<b>Strip:</b> resin goes in by the nubs from the well, under vacuum");
  else if (!f.gate)
    time = QStringLiteral("Filling time follows from a gate");
  else if (!desk_.resin())
    time = QStringLiteral("Filling time follows from a resin");
  else if (fill && !fill->stages.empty()) {
    const auto clock = [](double min) {
      return min < 1 ? QStringLiteral("%1 s").arg(qs(fixed(60 * min, min < 0.1 ? 1 : 0)))
                     : QStringLiteral("%1 min %2 s")
                           .arg(static_cast<int>(min))
                           .arg(static_cast<int>(std::fmod(min, 1) * 60));
    };
    const double share = static_cast<double>(filled_->value()) / filled_->maximum();
    if (fill->time.full_min)
      time = share < 1 ? QStringLiteral("<b>Filling %1</b> of %2")
                             .arg(clock(share * *fill->time.full_min), clock(*fill->time.full_min))
                       : QStringLiteral("<b>Full in %1</b>").arg(clock(*fill->time.full_min));
    else
      time = QStringLiteral("<b>Gels at %1 % full</b>").arg(qs(fixed(100 * fill->time.filled_share, 0)));
    time += QStringLiteral("<br>pot life left %1 at %2 °C")
                .arg(clock(std::max(0.0, fill->left_min)), qs(fixed(job.size.room_c, 0)));
    if (!fill->levers.empty() && fill->levers.front().full_min)
      time += QStringLiteral("<br>%1: %2").arg(qs(fill->levers.front().what), clock(*fill->levers.front().full_min));
  } else
    time = QStringLiteral("Working out the filling…");
  fill_words_->setText(time);
  if (squeeze) refresh_squeeze();
  lay_out();
  view_->update();
}

void FlowPage::point_at(const Finding& f) {
  if (rubber_->isChecked() != (f.code == "rubber-air")) rubber_->setChecked(f.code == "rubber-air");
  pointed_ = f.where.point_mm;
  view_->update();
}

void FlowPage::lay_out() {
  const bool squeeze = closing_->isVisible();
  view_->setGeometry(squeeze ? rect().adjusted(0, 0, -364, 0) : rect());
  stand_->setGeometry(16, 10, width() - 32, 54);
  plan_row_->setGeometry(16, 68, width() - 32, 54);
  tools_->setGeometry(16, 130, width() - 32, 34);
  hint_->setGeometry(20, 168, width() - 40, 22);
  told_->setGeometry(20, height() - 30, width() - 40, 22);
  map_->setGeometry(18, height() - 168, 212, 130);
  squeeze_->setGeometry(16, 10, width() - 32, 98);
  closing_->setGeometry(width() - 356, 172, 340, std::clamp(height() - 172 - 44, 200, 340));
  const int left = map_->isVisible() ? 250 : 20, wide = width() - 20 - (squeeze ? 376 : 236) - left;
  fill_words_->setGeometry(left, height() - (filled_->isVisible() ? 138 : 100), wide, 64);
  filled_->setGeometry(left, height() - 72, std::max(120, wide), 32);
  wedge_->setGeometry(width() - 226, height() - 126, 210, 88);
  empty_->setGeometry(60, height() / 2 - 40, width() - 120, 80);
}
void FlowPage::resizeEvent(QResizeEvent*) { lay_out(); }

}  // namespace palinform::app
