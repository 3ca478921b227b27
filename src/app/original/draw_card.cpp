#include "original/draw_card.hpp"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QMenu>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "shell/desk.hpp"
#include "theme/theme.hpp"

namespace palinform::app {
namespace {

constexpr int wide_px = 392;

struct Entry {
  BodyShape shape;
  const char* words;
};
constexpr Entry put_on[] = {{BodyShape::plate, "Plate"},
                            {BodyShape::bar, "Bar"},
                            {BodyShape::disc, "Disc, boss or rod"},
                            {BodyShape::tube, "Tube"},
                            {BodyShape::ring, "Ring of round section"},
                            {BodyShape::dome, "Dome"},
                            {BodyShape::cone, "Cone"},
                            {BodyShape::shell, "Shell: a box or cup with a wall"},
                            {BodyShape::angle, "L-section"},
                            {BodyShape::channel, "U-section"},
                            {BodyShape::turned, "Turned body, by its profile"},
                            {BodyShape::outline, "Outline, by its points"}};
constexpr Entry cut_away[] = {{BodyShape::disc, "Bore"},     {BodyShape::slot, "Slot"},
                              {BodyShape::plate, "Pocket"},  {BodyShape::cone, "Cone, countersink"},
                              {BodyShape::turned, "Turned"}, {BodyShape::outline, "Outline"}};

/// "60 × 40 × 6": the measures above nought.
QString in_short(const DrawnBody& b, const Units& u) {
  QStringList out;
  for (const MeasureLine& l : measure_lines(b))
    if (l.key != "corner" && l.key != "edge")
      out << (l.key == "diameter" ? QStringLiteral("Ø") : QString()) + u.length_text(l.mm, u.inch ? 3 : 2);
  return out.join(QStringLiteral(" × "));
}

std::string new_body_id(const Drawn& d) {
  for (int n = 1;; ++n) {
    const std::string id = "b" + std::to_string(n);
    if (std::none_of(d.bodies.begin(), d.bodies.end(), [&](const DrawnBody& b) { return b.id == id; })) return id;
  }
}

}  // namespace

DrawCard::DrawCard(Desk& desk, QWidget* parent)
    : PopCard(QStringLiteral("Drawn from measures"), QStringLiteral("draw"), parent), desk_(desk) {
  setFixedWidth(wide_px + 30);
  auto* row = new QHBoxLayout;
  row->setSpacing(6);
  add_ = chip(QStringLiteral("Put on"), QStringLiteral("draw-add"));
  cut_ = chip(QStringLiteral("Cut away"), QStringLiteral("draw-cut"));
  trace_ = chip(QStringLiteral("Trace a picture…"), QStringLiteral("draw-trace"));
  for (const bool cut : {false, true}) {
    auto* menu = new QMenu(this);
    const auto fill = [&](const Entry& e) {
      auto* a = menu->addAction(QString::fromUtf8(e.words));
      a->setObjectName((cut ? QStringLiteral("draw-cut-") : QStringLiteral("draw-add-")) +
                       qs(std::string(name_of(e.shape))));
      connect(a, &QAction::triggered, this, [this, cut, shape = e.shape] { add(shape, cut); });
    };
    if (cut)
      for (const Entry& e : cut_away) fill(e);
    else
      for (const Entry& e : put_on) fill(e);
    (cut ? cut_ : add_)->setMenu(menu);
  }
  connect(trace_, &QPushButton::clicked, this, &DrawCard::trace_wanted);
  for (QPushButton* b : {add_, cut_, trace_}) row->addWidget(b);
  row->addStretch(1);
  col_->addLayout(row);
  list_ = new QVBoxLayout;
  list_->setSpacing(2);
  col_->addLayout(list_);
  editor_ = new QVBoxLayout;
  col_->addLayout(editor_);
  u_ = new FigureField(QStringLiteral("A measure is good to ±"), QStringLiteral("draw-u"), 130);
  u_->set_range(0, 100);
  col_->addWidget(u_);
  connect(u_, &FigureField::entered, this, [this](double v) {
    Drawn next = desk_.job().original.drawn;
    next.u_mm = desk_.units().mm(v);
    desk_.draw(next, QStringLiteral("how good the measures are"));
  });
  told_ = remark();
  told_->setObjectName(QStringLiteral("draw-told"));
  told_->setFixedWidth(wide_px);
  col_->addWidget(told_);
}

const DrawnBody* DrawCard::body() const {
  for (const DrawnBody& b : desk_.job().original.drawn.bodies)
    if (b.id == chosen_) return &b;
  return nullptr;
}

void DrawCard::choose(const std::string& id) {
  if (chosen_ == id) return;
  chosen_ = id;
  refresh();
  emit chosen_changed();
}

void DrawCard::add(BodyShape shape, bool cut) {
  Drawn next = desk_.job().original.drawn;
  DrawnBody b = begun(shape);
  b.id = new_body_id(next);
  b.cut = cut;
  if (cut && shape == BodyShape::disc) b.name = "Bore", b.diameter_mm = 6;
  if (cut && shape == BodyShape::plate) b.name = "Pocket", b.length_mm = 20, b.width_mm = 12, b.height_mm = 3;
  // What is added lands where it can be seen: on top of what there is, or through it from above.
  if (!next.bodies.empty()) {
    Box3 box;
    for (const DrawnBody& o : next.bodies)
      if (const auto m = o.cut ? Result<BodyMesh>(Error{}) : body_mesh(o, 0.1))
        for (const Vec3& p : m->mesh.points) box.add(p);
    b.at_mm = {box.centre().x, box.centre().y, box.max.z};
    if (cut) {
      b.at_mm.z = shape == BodyShape::disc ? box.min.z - 1 : box.max.z - b.height_mm;
      if (shape == BodyShape::disc) b.height_mm = box.size().z + 2;
    }
  } else if (shape == BodyShape::bar || shape == BodyShape::angle || shape == BodyShape::channel) {
    b.axis = {1, 0, 0};  // lying
    b.at_mm = {-b.height_mm / 2, 0, shape == BodyShape::bar ? b.width_mm / 2 : 0};
  }
  next.bodies.push_back(b);
  if (desk_.draw(next, qs(name_of(b)) + (cut ? QStringLiteral(" cut away") : QStringLiteral(" put on")))) choose(b.id);
}

void DrawCard::change(const std::function<void(DrawnBody&)>& how, const QString& what) {
  Drawn next = desk_.job().original.drawn;
  for (DrawnBody& b : next.bodies)
    if (b.id == chosen_) how(b);
  desk_.draw(next, what);
}

bool DrawCard::set_measure(const std::string& id, const std::string& key, double mm) {
  Drawn next = desk_.job().original.drawn;
  for (DrawnBody& b : next.bodies) {
    if (b.id != id) continue;
    for (const BodyMeasure& m : measures_of(b.shape))
      if (m.key == key) {
        b.*m.value = mm;
        if (auto ok = check_body(b); !ok) {
          told_->setText(qs(ok.error().text()));
          return false;
        }
        return desk_.draw(next, qs(name_of(b)) + QStringLiteral(": ") + qs(lower_ascii(m.words)));
      }
  }
  return false;
}

void DrawCard::move_body(int by) {
  Drawn next = desk_.job().original.drawn;
  for (size_t i = 0; i < next.bodies.size(); ++i)
    if (next.bodies[i].id == chosen_) {
      const auto to = static_cast<std::ptrdiff_t>(i) + by;
      if (to < 0 || to >= static_cast<std::ptrdiff_t>(next.bodies.size())) return;
      std::swap(next.bodies[i], next.bodies[static_cast<size_t>(to)]);
      desk_.draw(next, QStringLiteral("order of the bodies"));
      return;
    }
}

void DrawCard::build_list() {
  while (QLayoutItem* item = list_->takeAt(0)) {
    if (item->widget()) retire(item->widget());
    delete item;
  }
  const Drawn& d = desk_.job().original.drawn;
  int number = 0;
  if (d.tracing.complete()) list_->addWidget(new QLabel(QStringLiteral("Traced on %1").arg(qs(d.tracing.file))));
  for (const DrawnBody& b : d.bodies) {
    auto* row = new QWidget;
    auto* line = new QHBoxLayout(row);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(4);
    auto* pick = new QPushButton(
        QStringLiteral("%1 %2 · %3")
            .arg(b.cut ? QStringLiteral("−") : QStringLiteral("+"), qs(name_of(b)), in_short(b, desk_.units())));
    pick->setProperty("kind", "bare");
    pick->setCheckable(true);
    pick->setChecked(b.id == chosen_);
    pick->setObjectName(QStringLiteral("draw-body-%1").arg(number++));
    pick->setStyleSheet(b.id == chosen_
                            ? QStringLiteral("text-align:left; font-weight:600; color:%1").arg(pal().act.name())
                            : QStringLiteral("text-align:left"));
    line->addWidget(pick, 1);
    connect(pick, &QPushButton::clicked, this, [this, id = b.id] { choose(id); });
    list_->addWidget(row);
    row->show();
  }
}

void DrawCard::read_points() {
  const DrawnBody* b = body();
  if (!b || !points_) return;
  DrawnBody next = *b;
  next.profile.clear(), next.outline.clear();
  int number = 0;
  for (const QString& line : points_->toPlainText().split(QLatin1Char('\n'), Qt::SkipEmptyParts)) {
    ++number;
    std::vector<double> v;
    bool clear = true;
    for (const QString& word : line.split(QRegularExpression(QStringLiteral("[\\s;]+")), Qt::SkipEmptyParts)) {
      const auto n = parse_number(word.toStdString());
      clear = clear && n;
      v.push_back(n.value_or(0));
    }
    if (!clear || v.size() < 2 || v.size() > 3) {
      told_->setText(QStringLiteral("Line %1: two numbers are wanted, and the rounding as a third.").arg(number));
      return;
    }
    const Units& u = desk_.units();
    const double x = u.mm(v[0]), y = u.mm(v[1]), round = v.size() > 2 ? u.mm(v[2]) : 0;
    if (b->shape == BodyShape::turned)
      next.profile.push_back({x, y, round});
    else
      next.outline.push_back({x, y, NodeKind::corner, round});
  }
  if (auto ok = check_body(next); !ok) {
    told_->setText(qs(ok.error().text()));
    return;
  }
  if (next == *b) return;
  change([&](DrawnBody& o) { o = next; }, qs(name_of(next)) + QStringLiteral(": points"));
}

void DrawCard::build_editor() {
  if (editor_body_) {
    editor_->removeWidget(editor_body_);
    retire(editor_body_);
  }
  editor_body_ = nullptr, turn_ = nullptr, way_ = nullptr, points_ = nullptr;
  figures_.clear(), place_ = {};
  const DrawnBody* b = body();
  if (!b) return;
  editor_body_ = new QWidget;
  editor_body_->setFixedWidth(wide_px);
  auto* col = new QVBoxLayout(editor_body_);
  col->setContentsMargins(0, 0, 0, 0);
  auto* fields = new QWidget;
  auto* grid = new QGridLayout(fields);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setSpacing(8);
  int at = 0;
  for (const BodyMeasure& m : measures_of(b->shape)) {
    auto* f = new FigureField(qs(std::string(m.words)), QStringLiteral("draw-") + qs(std::string(m.key)), 90);
    f->set_range(0, 1e4);
    grid->addWidget(f, at / 4, at % 4);
    ++at;
    figures_.emplace_back(f, &m);
    connect(f, &FigureField::entered, this, [this, key = std::string(m.key)](double v) {
      if (!set_measure(chosen_, key, desk_.units().mm(v))) show_figures();
    });
  }
  if (!figures_.empty()) col->addWidget(fields);
  if (b->shape == BodyShape::turned || b->shape == BodyShape::outline) {
    col->addWidget(card_words(
        b->shape == BodyShape::turned
            ? QStringLiteral("Profile, a point a line: from the axis out, from the foot up, and the rounding there")
            : QStringLiteral("Once round, a corner a line: x, y, and the rounding there"),
        "small"));
    points_ = new QPlainTextEdit;
    points_->setObjectName(QStringLiteral("draw-points"));
    points_->setFixedHeight(132);
    col->addWidget(points_);
    auto* take = chip(QStringLiteral("Take these points"), QStringLiteral("draw-points-take"));
    connect(take, &QPushButton::clicked, this, &DrawCard::read_points);
    col->addWidget(take, 0, Qt::AlignLeft);
  }
  auto* where = new QHBoxLayout;
  where->setSpacing(8);
  constexpr const char* names[] = {"Foot's middle x", "y", "z"};
  for (int k = 0; k < 3; ++k) {
    auto* f = new FigureField(QString::fromLatin1(names[k]), QStringLiteral("draw-at-") + QLatin1Char("xyz"[k]),
                              k ? 76 : 104);
    f->set_range(-1e4, 1e4);
    where->addWidget(f);
    place_[static_cast<size_t>(k)] = f;
    connect(f, &FigureField::entered, this, [this, k](double v) {
      change([&](DrawnBody& o) { o.at_mm[k] = desk_.units().mm(v); }, QStringLiteral("place of a body"));
    });
  }
  turn_ = new FigureField(QStringLiteral("Turned by"), QStringLiteral("draw-turn"), 80);
  turn_->set_range(-360, 360);
  connect(turn_, &FigureField::entered, this,
          [this](double v) { change([&](DrawnBody& o) { o.turn_deg = v; }, QStringLiteral("turn of a body")); });
  where->addWidget(turn_);
  where->addStretch(1);
  col->addLayout(where);
  way_ = new Chips;
  constexpr const char* ways[] = {"rises up", "down", "along x", "along y"};
  for (int k = 0; k < 4; ++k) way_->add(QString::fromLatin1(ways[k]), QStringLiteral("draw-way-%1").arg(k));
  connect(way_, &Chips::chosen, this, [this](int i) {
    const Vec3 axes[] = {{0, 0, 1}, {0, 0, -1}, {1, 0, 0}, {0, 1, 0}};
    change([&](DrawnBody& o) { o.axis = axes[i]; }, QStringLiteral("way a body lies"));
  });
  col->addWidget(way_);
  auto* order = new QHBoxLayout;
  const auto small = [&](const QString& words, const QString& name, auto&& act) {
    auto* button = new QPushButton(words);
    button->setProperty("kind", "bare");
    button->setObjectName(name);
    order->addWidget(button);
    connect(button, &QPushButton::clicked, this, act);
  };
  small(QStringLiteral("Earlier"), QStringLiteral("draw-earlier"), [this] { move_body(-1); });
  small(QStringLiteral("Later"), QStringLiteral("draw-later"), [this] { move_body(1); });
  small(QStringLiteral("Take it out"), QStringLiteral("draw-remove"), [this] {
    Drawn next = desk_.job().original.drawn;
    std::erase_if(next.bodies, [&](const DrawnBody& o) { return o.id == chosen_; });
    desk_.draw(next, QStringLiteral("body taken out"));
  });
  order->addStretch(1);
  col->addLayout(order);
  editor_->addWidget(editor_body_);
  editor_body_->show();
}

void DrawCard::show_figures() {
  const DrawnBody* b = body();
  if (!b) return;
  const Units& u = desk_.units();
  const int digits = u.inch ? 4 : 2;
  for (const auto& [field, m] : figures_) field->show_value(u.length(b->*(m->value)), digits, u.length_name());
  for (int k = 0; k < 3; ++k)
    if (place_[static_cast<size_t>(k)])
      place_[static_cast<size_t>(k)]->show_value(u.length(b->at_mm[k]), digits, u.length_name());
  if (turn_) turn_->show_value(b->turn_deg, 1, QStringLiteral("°"));
  if (way_) {
    const Vec3 axes[] = {{0, 0, 1}, {0, 0, -1}, {1, 0, 0}, {0, 1, 0}};
    int at = -1;
    for (int k = 0; k < 4; ++k)
      if (length(b->axis - axes[k]) < 1e-9) at = k;
    way_->set_current(at);
  }
  if (points_ && !points_->hasFocus()) {
    QStringList lines;
    const auto line = [&](double x, double y, double round) {
      lines << u.length_text(x, digits) + QStringLiteral("  ") + u.length_text(y, digits) +
                   (round > 0 ? QStringLiteral("  ") + u.length_text(round, digits) : QString());
    };
    for (const ProfilePoint& p : b->profile) line(p.r_mm, p.z_mm, p.fillet_mm);
    for (const PathNode& p : b->outline) line(p.x, p.y, p.fillet_mm);
    const QString text = lines.join(QLatin1Char('\n'));
    if (points_->toPlainText() != text) points_->setPlainText(text);
  }
}

void DrawCard::refresh() {
  const Job& job = desk_.job();
  const Drawn& d = job.original.drawn;
  if (!chosen_.empty() && !body()) chosen_.clear();
  if (chosen_.empty() && !d.bodies.empty()) chosen_ = d.bodies.back().id;
  const DrawnBody* b = body();
  Hasher h;
  h.add(d).add(desk_.units().inch).add(chosen_);
  if (const std::string listed = h.done().hex(); listed != listed_) listed_ = listed, build_list();
  const std::string shown = b ? b->id + std::string(name_of(b->shape)) : std::string("none");
  if (shown != shown_) shown_ = shown, build_editor();
  show_figures();
  const Units& u = desk_.units();
  u_->show_value(u.length(d.u_mm), u.inch ? 4 : 2, u.length_name());
  for (QPushButton* button : {add_, cut_, trace_}) button->setEnabled(!desk_.read_only());
  cut_->setEnabled(!desk_.read_only() && d.complete());
  const SlotState slot = desk_.plan().state(results::original);
  const auto part = desk_.plan().fresh(results::original);
  if (!job.original.mesh.hash.empty())
    told_->setText(
        QStringLiteral("This job has a mesh, %1. The first body put on takes its place; undo brings it back.")
            .arg(qs(job.original.mesh.file)));
  else if (!d.complete())
    told_->setText(
        QStringLiteral("Nothing is drawn yet. Put a body on: its numbers come next, here or on the picture."));
  else if (slot.state == Freshness::failed)
    told_->setText(qs(slot.error.text()));
  else if (part)
    told_->setText(
        QStringLiteral("%1 ± %2 ml. Sizes of the part come with its measures.")
            .arg(qs(fixed(part->measure.volume_mm3 * 1e-3, 2)), qs(significant(part->u_volume_mm3 * 1e-3, 2))));
  else
    told_->setText(QStringLiteral("Working…"));
  layout()->activate();
  adjustSize();
}

}  // namespace palinform::app
