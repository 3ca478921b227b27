#include "original/trace_view.hpp"

#include <QDragEnterEvent>
#include <QFileDialog>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QMimeData>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "shell/desk.hpp"
#include "shell/fits_card.hpp"
#include "theme/theme.hpp"

namespace palinform::app {
namespace {

constexpr int side_px = 250, top_px = 104;
constexpr double finger_px = 9;

QString words_of(TracedLoop::Means m) {
  switch (m) {
    case TracedLoop::Means::outline:
      return QStringLiteral("Outline");
    case TracedLoop::Means::hole:
      return QStringLiteral("Hole");
    case TracedLoop::Means::raised:
      return QStringLiteral("Raised step");
    case TracedLoop::Means::sunk:
      return QStringLiteral("Sunk step");
  }
  return {};
}

}  // namespace

TraceView::TraceView(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  setObjectName(QStringLiteral("trace"));
  setMouseTracking(true);
  setFocusPolicy(Qt::StrongFocus);
  setAcceptDrops(true);
  bar_ = new QWidget(this);
  auto* row = new QHBoxLayout(bar_);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(8);
  open_ = chip(QStringLiteral("Open picture…"), QStringLiteral("trace-open"));
  way_ = new Chips;
  way_->add(QStringLiteral("Scanner's dots"), QStringLiteral("trace-dots"));
  way_->add(QStringLiteral("A distance"), QStringLiteral("trace-distance"));
  way_->add(QStringLiteral("A rectangle"), QStringLiteral("trace-rectangle"));
  dpi_ = new FigureField(QStringLiteral("Dots an inch"), QStringLiteral("trace-dpi"), 92);
  distance_ = new FigureField(QStringLiteral("It measures"), QStringLiteral("trace-length"), 92);
  wide_ = new FigureField(QStringLiteral("1st to 2nd corner"), QStringLiteral("trace-wide"), 112);
  deep_ = new FigureField(QStringLiteral("2nd to 3rd"), QStringLiteral("trace-deep"), 92);
  height_ = new FigureField(QStringLiteral("Face over ruler"), QStringLiteral("trace-height"), 104);
  camera_ = new FigureField(QStringLiteral("Camera off by"), QStringLiteral("trace-camera"), 104);
  dpi_->set_range(10, 1e4);
  for (FigureField* f : {distance_, wide_, deep_}) f->set_range(0.1, 1e4);
  height_->set_range(-500, 500);
  camera_->set_range(0, 1e5);
  camera_->allow_empty(QStringLiteral("unknown"));
  done_ = chip(QStringLiteral("Back to the part"), QStringLiteral("trace-done"));
  row->addWidget(open_);
  row->addWidget(way_);
  row->addStretch(1);
  row->addWidget(done_);
  second_ = new QWidget(this);
  auto* loops = new QHBoxLayout(second_);
  loops->setContentsMargins(0, 0, 0, 0);
  loops->setSpacing(8);
  means_ = new Chips;
  for (int i = 0; i < count_of<TracedLoop::Means>(); ++i)
    means_->add(words_of(static_cast<TracedLoop::Means>(i)),
                QStringLiteral("trace-") + qs(std::string(name_of(static_cast<TracedLoop::Means>(i)))));
  kind_ = new Chips;
  kind_->add(QStringLiteral("Corner"), QStringLiteral("trace-corner"));
  kind_->add(QStringLiteral("On an arc"), QStringLiteral("trace-arc"));
  kind_->add(QStringLiteral("Smooth"), QStringLiteral("trace-smooth"));
  kind_->set_current(0);
  snap_ = chip(QStringLiteral("Snap to edges"), QStringLiteral("trace-snap"), true);
  snap_->setChecked(true);
  loops->addWidget(means_);
  loops->addSpacing(12);
  loops->addWidget(kind_);
  loops->addWidget(snap_);
  loops->addStretch(1);
  side_ = new QWidget(this);
  auto* side = new QVBoxLayout(side_);
  side->setContentsMargins(0, 0, 0, 0);
  auto* scale = new QGridLayout;
  scale->setSpacing(8);
  int at = 0;
  for (FigureField* f : {dpi_, distance_, wide_, deep_, height_, camera_}) {
    const bool pair = f == wide_ || f == deep_ || f == height_ || f == camera_;
    if (!pair) {
      scale->addWidget(f, 0, 0);
      continue;
    }
    scale->addWidget(f, 1 + at / 2, at % 2);
    ++at;
  }
  side->addLayout(scale);
  side->addSpacing(8);
  loops_ = new QVBoxLayout;
  side->addLayout(loops_);
  side->addStretch(1);
  told_ = new QLabel(this);
  told_->setWordWrap(true);
  told_->setObjectName(QStringLiteral("trace-told"));

  connect(open_, &QPushButton::clicked, this, [this] {
    const QString path = QFileDialog::getOpenFileName(this, QStringLiteral("Open a picture of the part"), {},
                                                      QStringLiteral("Pictures (*.png *.jpg *.jpeg);;All files (*)"));
    if (!path.isEmpty()) desk_.trace_picture(path);
  });
  connect(done_, &QPushButton::clicked, this, [this] {
    take_tool(Tool::none);
    emit closed();
  });
  connect(way_, &Chips::chosen, this, [this](int i) {
    Tracing t = tracing();
    t.scale.way = static_cast<PhotoScale::Way>(i + 1);
    edit(t, QStringLiteral("how the picture is scaled"));
    take_tool(i == 1 ? Tool::ends : i == 2 ? Tool::corners : Tool::none);
  });
  connect(means_, &Chips::chosen, this, [this](int i) { take_tool(Tool::loop, static_cast<TracedLoop::Means>(i)); });
  const auto figure = [this](FigureField* f, auto&& set, const QString& what) {
    connect(f, &FigureField::entered, this, [this, set, what](double v) {
      Tracing t = tracing();
      set(t.scale, v);
      edit(t, what);
    });
  };
  figure(
      dpi_, [](PhotoScale& s, double v) { s.dpi = v; }, QStringLiteral("dots of the picture"));
  figure(
      distance_, [this](PhotoScale& s, double v) { s.distance_mm = desk_.units().mm(v); },
      QStringLiteral("measured distance"));
  figure(
      wide_, [this](PhotoScale& s, double v) { s.wide_mm = desk_.units().mm(v); }, QStringLiteral("rectangle"));
  figure(
      deep_, [this](PhotoScale& s, double v) { s.deep_mm = desk_.units().mm(v); }, QStringLiteral("rectangle"));
  figure(
      height_, [this](PhotoScale& s, double v) { s.off_plane_mm = desk_.units().mm(v); },
      QStringLiteral("height over the ruler"));
  figure(
      camera_, [this](PhotoScale& s, double v) { s.camera_mm = desk_.units().mm(v); }, QStringLiteral("camera"));
  connect(camera_, &FigureField::emptied, this, [this] {
    Tracing t = tracing();
    t.scale.camera_mm = 0;
    edit(t, QStringLiteral("camera"));
  });
  hide();
}

TraceView::~TraceView() {
  if (loader_.joinable()) loader_.join();
}

const Tracing& TraceView::tracing() const { return desk_.job().original.drawn.tracing; }

void TraceView::edit(const Tracing& t, const QString& what, const QString& merge) {
  Drawn next = desk_.job().original.drawn;
  next.tracing = t;
  desk_.draw(next, what, merge);
}

double TraceView::reach_px() const { return 10 / std::max(0.05, zoom_); }

QPointF TraceView::on_screen(const Pixel& p) const { return shift_ + QPointF(p.x, p.y) * zoom_; }
Pixel TraceView::in_picture(const QPointF& p) const {
  return {(p.x() - shift_.x()) / zoom_, (p.y() - shift_.y()) / zoom_};
}

void TraceView::load() {
  const std::string hash = tracing().picture;
  if (hash == loaded_) return;
  loaded_ = hash;
  image_ = {};
  grey_ = {};
  if (hash.empty()) return;
  if (loader_.joinable()) loader_.join();
  // A photograph takes a while to unpack: not on this thread.
  loader_ = std::thread([this, hash] {
    const QImage image = desk_.traced_picture();
    GreyPicture g;
    if (!image.isNull()) {
      const QImage grey = image.convertToFormat(QImage::Format_Grayscale8);
      g.width = grey.width(), g.height = grey.height();
      for (int j = 0; j < g.height; ++j)
        g.grey.insert(g.grey.end(), grey.constScanLine(j), grey.constScanLine(j) + g.width);
    }
    QMetaObject::invokeMethod(
        this,
        [this, hash, image, g = std::move(g)]() mutable {
          if (hash != loaded_) return;
          image_ = image.convertToFormat(QImage::Format_RGB32);
          grey_ = std::move(g);
          fit();
          refresh();
        },
        Qt::QueuedConnection);
  });
}

void TraceView::fit() {
  if (image_.isNull()) return;
  const double w = std::max(50, width() - side_px - 40), h = std::max(50, height() - top_px - 70);
  zoom_ = std::min(w / image_.width(), h / image_.height());
  shift_ = {20 + (w - image_.width() * zoom_) / 2, top_px + (h - image_.height() * zoom_) / 2};
}

void TraceView::take_tool(Tool tool, TracedLoop::Means means) {
  tool_ = tool;
  drawing_ = {};
  drawing_.means = means;
  next_place_ = 0;
  if (tool != Tool::loop) means_->set_current(-1);
  setCursor(tool == Tool::none ? Qt::ArrowCursor : Qt::CrossCursor);
  refresh();
  setFocus();
}

std::optional<TraceView::Handle> TraceView::handle_at(const QPointF& p) const {
  const Tracing& t = tracing();
  const auto near = [&](const Pixel& q) {
    const QPointF d = on_screen(q) - p;
    return std::hypot(d.x(), d.y()) <= finger_px;
  };
  if (t.scale.way == PhotoScale::Way::distance)
    for (size_t i = 0; i < 2; ++i)
      if (near(t.scale.ends[i])) return Handle{-1, i};
  if (t.scale.way == PhotoScale::Way::rectangle)
    for (size_t i = 0; i < 4; ++i)
      if (near(t.scale.corners[i])) return Handle{-1, i};
  for (size_t l = 0; l < t.loops.size(); ++l)
    for (size_t i = 0; i < t.loops[l].path.size(); ++i)
      if (near({t.loops[l].path[i].x, t.loops[l].path[i].y})) return Handle{static_cast<int>(l), i};
  return std::nullopt;
}

void TraceView::set_place(Tracing& t, const Handle& h, const Pixel& p) const {
  if (h.loop >= 0) {
    PathNode& n = t.loops[static_cast<size_t>(h.loop)].path[h.at];
    n.x = p.x, n.y = p.y;
  } else if (t.scale.way == PhotoScale::Way::distance) {
    t.scale.ends[h.at] = p;
  } else {
    t.scale.corners[h.at] = p;
  }
}

void TraceView::click(double x, double y) {
  if (image_.isNull() || desk_.read_only()) return;
  Pixel p = in_picture({x, y});
  if (p.x < 0 || p.y < 0 || p.x > image_.width() || p.y > image_.height()) return;
  const bool snap = snap_->isChecked();
  switch (tool_) {
    case Tool::none:
      return;
    case Tool::ends: {
      Tracing t = tracing();
      t.scale.ends[next_place_] = p;
      edit(t, QStringLiteral("measured distance"));
      next_place_ = (next_place_ + 1) % 2;
      if (next_place_ == 0) {
        take_tool(Tool::none);
        distance_->edit()->setFocus();
      }
      return;
    }
    case Tool::corners: {
      Tracing t = tracing();
      t.scale.corners[next_place_] = p;
      const bool last = ++next_place_ == 4;
      if (last && snap) {
        // The sheet's own edges put its corners right.
        TracedLoop sheet;
        for (const Pixel& c : t.scale.corners) sheet.path.push_back({c.x, c.y, NodeKind::corner, 0});
        sheet = sharpened(sheet, grey_, reach_px());
        for (size_t i = 0; i < 4; ++i) t.scale.corners[i] = {sheet.path[i].x, sheet.path[i].y};
      }
      edit(t, QStringLiteral("corners of the rectangle"));
      if (last) {
        take_tool(Tool::none);
        wide_->edit()->setFocus();
      }
      return;
    }
    case Tool::loop: {
      if (drawing_.path.size() >= 3) {
        const QPointF first = on_screen({drawing_.path[0].x, drawing_.path[0].y});
        if (std::hypot(first.x() - x, first.y() - y) <= finger_px) return close_loop();
      }
      if (snap)
        if (const auto e = snapped_to_edge(grey_, p, reach_px())) p = *e;
      drawing_.path.push_back({p.x, p.y, static_cast<NodeKind>(std::max(0, kind_->current())), 0});
      refresh();
      return;
    }
  }
}

void TraceView::close_loop() {
  if (tool_ != Tool::loop || drawing_.path.size() < 3) return;
  Tracing t = tracing();
  const auto map = photo_map(t.scale);
  TracedLoop loop = snap_->isChecked() ? sharpened(drawing_, grey_, reach_px(), map ? &*map : nullptr) : drawing_;
  t.loops.push_back(loop);
  const auto means = drawing_.means;
  take_tool(Tool::none);
  edit(t, words_of(means) + QStringLiteral(" traced"));
  // What it needs next is its height.
  if (means != TracedLoop::Means::hole)
    if (auto* f = findChild<QLineEdit*>(QStringLiteral("trace-mm-%1").arg(t.loops.size() - 1)))
      f->setFocus(), f->selectAll();
}

void TraceView::mousePressEvent(QMouseEvent* e) {
  press_ = last_ = e->position();
  panning_ = e->button() != Qt::LeftButton;
  dragged_.reset();
  if (e->button() == Qt::LeftButton && tool_ == Tool::none && !desk_.read_only() && (dragged_ = handle_at(press_)))
    draft_ = tracing();
}

void TraceView::mouseMoveEvent(QMouseEvent* e) {
  pointer_ = e->position();
  const QPointF by = e->position() - last_;
  last_ = e->position();
  if (e->buttons() == Qt::NoButton) {
    if (tool_ != Tool::none) update();
    return;
  }
  if (dragged_) {
    set_place(draft_, *dragged_, in_picture(e->position()));
    update();
    return;
  }
  const QPointF far = e->position() - press_;
  if (panning_ || std::hypot(far.x(), far.y()) > 4) {
    panning_ = true;
    shift_ += by;
    update();
  }
}

void TraceView::mouseReleaseEvent(QMouseEvent* e) {
  if (dragged_) {
    const QPointF far = e->position() - press_;
    if (std::hypot(far.x(), far.y()) > 2) {
      Pixel p = in_picture(e->position());
      if (snap_->isChecked() && dragged_->loop >= 0)
        if (const auto at = snapped_to_edge(grey_, p, reach_px() / 2)) p = *at;
      set_place(draft_, *dragged_, p);
      edit(draft_, QStringLiteral("point moved"));
    }
    dragged_.reset();
    update();
    return;
  }
  if (!panning_ && e->button() == Qt::LeftButton) click(e->position().x(), e->position().y());
  panning_ = false;
}

void TraceView::wheelEvent(QWheelEvent* e) {
  const double by = std::pow(1.0015, e->angleDelta().y());
  const double next = std::clamp(zoom_ * by, 0.02, 40.0);
  shift_ = e->position() - (e->position() - shift_) * (next / zoom_);
  zoom_ = next;
  update();
}

void TraceView::keyPressEvent(QKeyEvent* e) {
  if (e->key() == Qt::Key_Escape) {
    if (tool_ != Tool::none) return take_tool(Tool::none);
    emit closed();
    return;
  }
  if (e->key() == Qt::Key_Backspace && tool_ == Tool::loop && !drawing_.path.empty()) {
    drawing_.path.pop_back();
    return refresh();
  }
  if ((e->key() == Qt::Key_Return || e->key() == Qt::Key_Enter) && tool_ == Tool::loop) return close_loop();
  QWidget::keyPressEvent(e);
}

void TraceView::dragEnterEvent(QDragEnterEvent* e) {
  if (e->mimeData()->hasUrls()) e->acceptProposedAction();
}
void TraceView::dropEvent(QDropEvent* e) {
  const auto urls = e->mimeData()->urls();
  if (!urls.isEmpty() && urls[0].isLocalFile()) desk_.trace_picture(urls[0].toLocalFile());
}

void TraceView::build_loops() {
  const Tracing& t = tracing();
  Hasher h;
  h.add(t.loops.size()).add(desk_.units().inch);
  for (const TracedLoop& l : t.loops) h.add(l.means);
  const std::string listed = h.done().hex();
  if (listed != listed_) {
    listed_ = listed;
    if (loops_body_)
      loops_->removeWidget(loops_body_), loops_body_->hide(), loops_body_->setParent(nullptr),
          loops_body_->deleteLater();
    loops_body_ = new QWidget;
    auto* col = new QVBoxLayout(loops_body_);
    col->setContentsMargins(0, 0, 0, 0);
    for (size_t i = 0; i < t.loops.size(); ++i) {
      const TracedLoop& l = t.loops[i];
      auto* head = new QHBoxLayout;
      head->addWidget(new QLabel(QStringLiteral("%1. %2").arg(i + 1).arg(words_of(l.means))), 1);
      auto* drop = new QPushButton(QStringLiteral("Take out"));
      drop->setProperty("kind", "bare");
      drop->setObjectName(QStringLiteral("trace-drop-%1").arg(i));
      head->addWidget(drop);
      connect(drop, &QPushButton::clicked, this, [this, i] {
        Tracing next = tracing();
        if (i < next.loops.size()) next.loops.erase(next.loops.begin() + static_cast<std::ptrdiff_t>(i));
        edit(next, QStringLiteral("loop taken out"));
      });
      col->addLayout(head);
      if (l.means == TracedLoop::Means::hole) continue;
      auto* row = new QHBoxLayout;
      const bool outline = l.means == TracedLoop::Means::outline;
      auto* mm = new FigureField(outline                                ? QStringLiteral("Thickness")
                                 : l.means == TracedLoop::Means::raised ? QStringLiteral("Stands over it")
                                                                        : QStringLiteral("Lies in it"),
                                 QStringLiteral("trace-mm-%1").arg(i), 104);
      mm->set_range(0, 5000);
      mm->allow_empty(QStringLiteral("measure it"));
      row->addWidget(mm);
      connect(mm, &FigureField::entered, this, [this, i](double v) {
        Tracing next = tracing();
        if (i < next.loops.size()) next.loops[i].mm = desk_.units().mm(v);
        edit(next, QStringLiteral("height of what is traced"));
      });
      if (outline) {
        auto* edge = new FigureField(QStringLiteral("Edges rounded"), QStringLiteral("trace-edge-%1").arg(i), 104);
        edge->set_range(0, 1000);
        row->addWidget(edge);
        connect(edge, &FigureField::entered, this, [this, i](double v) {
          Tracing next = tracing();
          if (i < next.loops.size()) next.loops[i].edge_mm = desk_.units().mm(v);
          edit(next, QStringLiteral("edges of what is traced"));
        });
      }
      row->addStretch(1);
      col->addLayout(row);
    }
    loops_->addWidget(loops_body_);
    loops_body_->show();
  }
  const Units& u = desk_.units();
  for (size_t i = 0; i < t.loops.size(); ++i) {
    for (auto* f : loops_body_->findChildren<FigureField*>()) {
      const QString name = f->edit()->objectName();
      if (name == QStringLiteral("trace-mm-%1").arg(i))
        f->show_value(t.loops[i].mm > 0 ? std::optional(u.length(t.loops[i].mm)) : std::nullopt, u.inch ? 4 : 2,
                      u.length_name());
      if (name == QStringLiteral("trace-edge-%1").arg(i))
        f->show_value(u.length(t.loops[i].edge_mm), u.inch ? 4 : 2, u.length_name());
    }
  }
}

QString TraceView::says() const {
  const Tracing& t = tracing();
  const Units& u = desk_.units();
  if (t.picture.empty())
    return QStringLiteral(
        "Open or drop a picture of the part: a flat-bed scan, or a photograph from straight above and far off, with a "
        "ruler or a "
        "sheet of paper beside it at the height of the face that is traced.");
  if (image_.isNull()) return QStringLiteral("Reading the picture…");
  if (tool_ == Tool::ends)
    return next_place_ == 0 ? QStringLiteral("Click one end of a distance you have measured.")
                            : QStringLiteral("Now its other end.");
  if (tool_ == Tool::corners)
    return QStringLiteral("Click corner %1 of 4 of a rectangle whose sides you know, once round.").arg(next_place_ + 1);
  if (tool_ == Tool::loop)
    return drawing_.path.empty()
               ? QStringLiteral(
                     "%1: click point by point round it. On an arc: its ends as corners, one point between; a circle: "
                     "three points, all on an arc.")
                     .arg(words_of(drawing_.means))
               : QStringLiteral("%1 %2. Click the first again, or press Enter, to close it; Backspace takes one back.")
                     .arg(qs(counted(static_cast<long long>(drawing_.path.size()), "point", "points")),
                          drawing_.path.size() < 3 ? QStringLiteral("so far") : QStringLiteral("make a loop"));
  const auto map = photo_map(t.scale);
  if (!map) return qs(map.error().text());
  QStringList out;
  out << QStringLiteral("%1 a pixel")
             .arg(u.length_unit_text(map->mm_per_px({t.width_px / 2.0, t.height_px / 2.0}), u.inch ? 5 : 3));
  if (t.scale.way == PhotoScale::Way::rectangle)
    out << QStringLiteral("the camera leaned by about %1°, taken out").arg(qs(fixed(map->slant_deg, 0)));
  if (map->parallax != 1)
    out << QStringLiteral("lengths × %1 for the face's height%2")
               .arg(qs(fixed(map->parallax, 3)),
                    map->parallax_guessed ? QStringLiteral(", with the camera guessed at 400 mm") : QString());
  out << QStringLiteral("a length is good to ± %1 %").arg(qs(significant(100 * map->u_scale, 2)));
  if (t.complete()) {
    const auto bodies = traced_bodies(t);
    if (!bodies) return qs(bodies.error().text());
    out << QStringLiteral("across the part ± %1").arg(u.length_unit_text(bodies->u_mm, u.inch ? 4 : 2));
    if (const SlotState s = desk_.plan().state(results::original); s.state == Freshness::failed)
      return qs(s.error.text());
  } else if (t.loops.empty()) {
    out << QStringLiteral("now trace the outline");
  } else {
    out << QStringLiteral("the outline's thickness is missing");
  }
  return out.join(QStringLiteral(" · "));
}

void TraceView::refresh() {
  load();
  const Tracing& t = tracing();
  const PhotoScale& s = t.scale;
  const Units& u = desk_.units();
  const bool there = !t.picture.empty();
  way_->set_current(static_cast<int>(s.way) - 1);
  way_->setVisible(there);
  second_->setVisible(there && s.way != PhotoScale::Way::none);
  const int digits = u.inch ? 4 : 2;
  dpi_->setVisible(there && s.way == PhotoScale::Way::dots);
  distance_->setVisible(there && s.way == PhotoScale::Way::distance);
  for (FigureField* f : {wide_, deep_}) f->setVisible(there && s.way == PhotoScale::Way::rectangle);
  for (FigureField* f : {height_, camera_})
    f->setVisible(there && (s.way == PhotoScale::Way::distance || s.way == PhotoScale::Way::rectangle));
  dpi_->show_value(s.dpi, 1, QStringLiteral("dpi"));
  const auto some = [&](double mm) { return mm > 0 ? std::optional(u.length(mm)) : std::nullopt; };
  distance_->show_value(some(s.distance_mm), digits, u.length_name());
  wide_->show_value(some(s.wide_mm), digits, u.length_name());
  deep_->show_value(some(s.deep_mm), digits, u.length_name());
  height_->show_value(u.length(s.off_plane_mm), digits, u.length_name());
  camera_->show_value(some(s.camera_mm), 0, u.length_name());
  open_->setText(there ? QStringLiteral("Another picture…") : QStringLiteral("Open picture…"));
  build_loops();
  side_->setVisible(there && s.way != PhotoScale::Way::none);
  told_->setText(says());
  lay_out();
  update();
}

void TraceView::lay_out() {
  bar_->setGeometry(16, 8, width() - 32, 48);
  second_->setGeometry(16, 60, width() - 32, 34);
  side_->setGeometry(width() - side_px - 14, top_px, side_px, std::max(60, height() - top_px - 70));
  told_->setGeometry(18, height() - 54, width() - 36, 44);
}

void TraceView::resizeEvent(QResizeEvent*) {
  fit();
  lay_out();
}

void TraceView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.fillRect(rect(), pal().ground);
  if (image_.isNull()) {
    p.setPen(QPen(pal().rule.darker(110), 1.6, Qt::DashLine));
    p.drawRoundedRect(QRectF(20, top_px, width() - 40, height() - top_px - 70), 14, 14);
    return;
  }
  p.setRenderHint(QPainter::Antialiasing);
  p.setRenderHint(QPainter::SmoothPixmapTransform);
  p.save();
  p.setClipRect(QRectF(0, top_px - 6, width(), height() - top_px - 56));
  p.drawImage(QRectF(shift_, QSizeF(image_.width() * zoom_, image_.height() * zoom_)), image_);
  const Tracing& t = dragged_ ? draft_ : tracing();
  const auto spot = [&](const Pixel& at, const QColor& c, bool square) {
    const QPointF q = on_screen(at);
    p.setPen(QPen(c, 2));
    QColor in = pal().panel;
    in.setAlphaF(0.8f);
    p.setBrush(in);
    square ? p.drawRect(QRectF(q.x() - 4.5, q.y() - 4.5, 9, 9)) : p.drawEllipse(q, 4.5, 4.5);
  };
  const auto line = [&](const Pixel& a, const Pixel& b, const QPen& pen) {
    p.setPen(QPen(pal().panel, pen.widthF() + 2.5));
    p.drawLine(on_screen(a), on_screen(b));
    p.setPen(pen);
    p.drawLine(on_screen(a), on_screen(b));
  };
  if (t.scale.way == PhotoScale::Way::distance && !(t.scale.ends[0] == t.scale.ends[1])) {
    line(t.scale.ends[0], t.scale.ends[1], QPen(pal().note, 2, Qt::DashLine));
    for (const Pixel& e : t.scale.ends) spot(e, pal().note, true);
  }
  if (t.scale.way == PhotoScale::Way::rectangle) {
    const size_t set = tool_ == Tool::corners ? next_place_ : 4;
    const bool known = set < 4 || !(t.scale.corners[0] == t.scale.corners[2]);
    for (size_t i = 0; known && i + 1 < set + (set == 4); ++i)
      line(t.scale.corners[i], t.scale.corners[(i + 1) % 4], QPen(pal().note, 1.8, Qt::DashLine));
    for (size_t i = 0; known && i < set; ++i) {
      spot(t.scale.corners[i], pal().note, true);
      p.setFont(type_face(13, 600));
      const QPointF q = on_screen(t.scale.corners[i]) + QPointF(8, -8);
      p.setPen(QPen(pal().panel, 4));
      p.drawText(q, QString::number(i + 1));
      p.setPen(pal().note);
      p.drawText(q, QString::number(i + 1));
    }
  }
  const auto draw_loop = [&](const TracedLoop& l, bool open) {
    const QColor c = l.means == TracedLoop::Means::outline  ? pal().act
                     : l.means == TracedLoop::Means::hole   ? pal().stop
                     : l.means == TracedLoop::Means::raised ? pal().caution
                                                            : pal().note;
    QPainterPath path;
    bool whole = false;
    if (!open || l.path.size() >= 3) {
      // A circle seen aslant is none on the picture: drawn on the part, and put back. Without a scale pixels do, turned
      // over, since they run down.
      const auto map = photo_map(t.scale);
      Path up = l.path;
      for (PathNode& n : up) {
        const Point2 q = map ? map->mm({n.x, n.y}) : Point2{n.x, -n.y};
        n.x = q.x, n.y = q.y;
      }
      if (const auto points = flattened(up, map ? 0.3 * map->mm_per_px({l.path[0].x, l.path[0].y}) : 0.3)) {
        whole = true;
        for (size_t i = 0; i <= points->size(); ++i) {
          const Point2& q = (*points)[i % points->size()];
          const QPointF at = on_screen(map ? map->px(q) : Pixel{q.x, -q.y});
          i ? path.lineTo(at) : path.moveTo(at);
        }
      }
    }
    if (!whole)
      for (size_t i = 0; i < l.path.size(); ++i) {
        const QPointF at = on_screen({l.path[i].x, l.path[i].y});
        i ? path.lineTo(at) : path.moveTo(at);
      }
    QColor fill = c;
    fill.setAlphaF(open ? 0.0f : 0.16f);
    p.setBrush(fill);
    p.setPen(QPen(pal().panel, 4));
    p.drawPath(path);
    p.setPen(QPen(c, 2, open ? Qt::DashLine : Qt::SolidLine));
    p.drawPath(path);
    for (const PathNode& n : l.path) spot({n.x, n.y}, c, n.kind == NodeKind::corner);
  };
  for (const TracedLoop& l : t.loops) draw_loop(l, false);
  if (tool_ == Tool::loop && !drawing_.path.empty()) {
    draw_loop(drawing_, true);
    p.setPen(QPen(pal().act, 1.4, Qt::DotLine));
    p.drawLine(on_screen({drawing_.path.back().x, drawing_.path.back().y}), pointer_);
  }
  p.restore();
}

}  // namespace palinform::app
