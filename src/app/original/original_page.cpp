#include "original/original_page.hpp"

#include <QDragEnterEvent>
#include <QFileDialog>
#include <QFrame>
#include <QHBoxLayout>
#include <QMenu>
#include <QMimeData>
#include <QPainter>
#include <QPainterPath>
#include <QUrl>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "shell/desk.hpp"
#include "theme/theme.hpp"

namespace palinform::app {
namespace {

const char* kind_words(SizeKind k) {
  switch (k) {
    case SizeKind::bore:
      return "bore";
    case SizeKind::slot:
      return "slot";
    case SizeKind::centre:
      return "centre distance";
    case SizeKind::step:
      return "step";
    case SizeKind::thickness:
      return "thickness";
    default:
      return "outer";
  }
}
const char* formed_words(FormedBy f) {
  switch (f) {
    case FormedBy::pin:
      return "a hard pin";
    case FormedBy::across_line:
      return "across the line";
    case FormedBy::open_face:
      return "open face";
    default:
      return "rubber";
  }
}

QString limits_in(const MeasuredSize& s, const Units& u) {
  if (!u.inch) return qs(limits_text(s));
  return (s.kind == SizeKind::bore ? QStringLiteral("Ø") : QString()) + u.length_text(s.lower_mm, 3) +
         QStringLiteral("–") + u.length_text(s.upper_mm, 3);
}

}  // namespace

DotStrip::DotStrip(QWidget* parent) : QWidget(parent) {
  setMinimumHeight(44);
  setAccessibleName(QStringLiteral("Readings against the limits"));
}
void DotStrip::show_size(const std::optional<MeasuredSize>& s) {
  size_ = s;
  update();
}
void DotStrip::paintEvent(QPaintEvent*) {
  if (!size_) return;
  const MeasuredSize& s = *size_;
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  double low = s.lower_mm, high = s.upper_mm;
  for (const double r : s.readings_mm) low = std::min(low, r), high = std::max(high, r);
  const double room = std::max(0.35 * (high - low), 0.01), from = low - room, to = high + room;
  const auto x = [&](double v) { return 4 + (width() - 8) * (v - from) / (to - from); };
  const qreal mid = 20;
  p.setPen(Qt::NoPen);
  p.setBrush(pal().slip);
  p.drawRect(QRectF(4, mid - 11, x(s.lower_mm) - 4, 22));
  p.drawRect(QRectF(x(s.upper_mm), mid - 11, width() - 4 - x(s.upper_mm), 22));
  p.setPen(QPen(pal().ink, 3));
  for (const double wall : {s.lower_mm, s.upper_mm}) p.drawLine(QPointF(x(wall), mid - 14), QPointF(x(wall), mid + 14));
  p.setFont(type_face(12));
  if (s.readings_mm.empty()) {
    p.setPen(pal().quiet);
    p.drawText(rect(), Qt::AlignCenter, QStringLiteral("no readings yet"));
    return;
  }
  std::map<int, int> stack;
  for (const double r : s.readings_mm) {
    const int at = qRound(x(r) / 6);
    const bool in = r >= s.lower_mm && r <= s.upper_mm;
    p.setPen(QPen(in ? pal().act : pal().stop, 1.5));
    p.setBrush(in ? pal().act : Qt::NoBrush);
    p.drawEllipse(QPointF(x(r), mid + 5 - 8 * stack[at]++), 3.6, 3.6);
  }
  const ReadingMean m = mean_of_readings(s.readings_mm, s.resolution_mm, s.instrument_u_mm);
  p.setPen(pal().quiet);
  p.drawText(QRectF(0, mid + 13, width(), 16), Qt::AlignCenter,
             QStringLiteral("mean %1 ±%2 mm, %3")
                 .arg(qs(fixed(m.mean_mm, 3)), qs(fixed(2 * m.u_mm, 3)),
                      qs(counted(static_cast<long long>(m.n), "reading", "readings"))));
}

OriginalPage::OriginalPage(Desk& desk, QWidget* parent) : StagePage(desk, parent) {
  setAcceptDrops(true);
  view_ = new PartView(this);
  view_->set_overlay([this](QPainter& p) { draw_callouts(p); });
  connect(view_, &PartView::clicked, this, &OriginalPage::canvas_clicked);
  open_ = chip(QStringLiteral("Open mesh…"), QStringLiteral("open-mesh"));
  add_ = chip(QStringLiteral("Add a size"), QStringLiteral("add-size"), true);
  duties_ = chip(QStringLiteral("What does it do?"), QStringLiteral("duties"));
  hint_ = remark();
  for (QWidget* w : {static_cast<QWidget*>(open_), static_cast<QWidget*>(add_), static_cast<QWidget*>(duties_),
                     static_cast<QWidget*>(hint_)})
    w->setParent(this);
  empty_ = new QLabel(this);
  empty_->setAlignment(Qt::AlignCenter);
  empty_->setWordWrap(true);
  empty_->setText(QStringLiteral(
      "Drop the master's mesh here, or choose Open mesh.\nSTL, OBJ, PLY or 3MF, up to 5 million triangles."));
  empty_->setProperty("role", "quiet");
  connect(open_, &QPushButton::clicked, this, &OriginalPage::open_dialog);
  connect(add_, &QPushButton::toggled, this, &OriginalPage::begin_adding);
  auto* menu = new QMenu(duties_);
  for (int i = 0; i < duty_count; ++i) {
    const Duty d = static_cast<Duty>(i);
    auto* a = menu->addAction(QString::fromUtf8(words_of(d).data(), static_cast<qsizetype>(words_of(d).size())));
    a->setCheckable(true);
    connect(a, &QAction::triggered, this, [this, d](bool on) {
      Job next = desk_.job();
      std::erase(next.duties, d);
      if (on) next.duties.push_back(d);
      std::sort(next.duties.begin(), next.duties.end());
      desk_.edit(next, QStringLiteral("what the part does"));
    });
  }
  connect(menu, &QMenu::aboutToShow, this, [this, menu] {
    for (int i = 0; i < duty_count; ++i) {
      const auto& d = desk_.job().duties;
      menu->actions()[i]->setChecked(std::find(d.begin(), d.end(), static_cast<Duty>(i)) != d.end());
    }
  });
  duties_->setMenu(menu);

  card_ = new QFrame(this);
  card_->setObjectName(QStringLiteral("card"));
  auto* col = new QVBoxLayout(card_);
  col->setContentsMargins(14, 8, 14, 10);
  col->setSpacing(8);
  auto* top = new QHBoxLayout;
  top->setSpacing(10);
  name_ = new QLineEdit;
  name_->setObjectName(QStringLiteral("size-name"));
  name_->setAccessibleName(QStringLiteral("Name of the size"));
  auto* name_col = new QVBoxLayout;
  name_col->setSpacing(2);
  auto* name_label = new QLabel(QStringLiteral("Size"));
  name_label->setProperty("role", "small");
  name_label->setBuddy(name_);
  name_col->addWidget(name_label);
  name_col->addWidget(name_);
  top->addLayout(name_col, 1);
  kind_ = new ChoiceField(QStringLiteral("Kind"), QStringLiteral("size-kind"), 130);
  std::vector<std::pair<std::string, QString>> kinds, ways;
  for (const auto k :
       {SizeKind::outer, SizeKind::bore, SizeKind::slot, SizeKind::centre, SizeKind::step, SizeKind::thickness})
    kinds.emplace_back(std::string(name_of(k)), QString::fromLatin1(kind_words(k)));
  for (const auto f : {FormedBy::rubber, FormedBy::pin, FormedBy::across_line, FormedBy::open_face})
    ways.emplace_back(std::string(name_of(f)), QString::fromLatin1(formed_words(f)));
  kind_->set_items(kinds);
  formed_ = new ChoiceField(QStringLiteral("Formed by"), QStringLiteral("size-formed"), 126);
  formed_->set_items(ways);
  pin_ = new FigureField(QStringLiteral("Pin"), QStringLiteral("size-pin"), 84);
  nominal_ = new FigureField(QStringLiteral("Nominal"), QStringLiteral("size-nominal"), 92);
  lower_ = new FigureField(QStringLiteral("From"), QStringLiteral("size-lower"), 92);
  upper_ = new FigureField(QStringLiteral("To"), QStringLiteral("size-upper"), 92);
  resolution_ = new FigureField(QStringLiteral("Reads to"), QStringLiteral("size-resolution"), 78);
  remove_ = new QPushButton(QStringLiteral("Remove"));
  remove_->setProperty("kind", "bare");
  remove_->setObjectName(QStringLiteral("size-remove"));
  top->addWidget(kind_);
  top->addWidget(formed_);
  top->addWidget(pin_);
  top->addWidget(nominal_);
  top->addWidget(lower_);
  top->addWidget(upper_);
  col->addLayout(top);
  auto* bottom = new QHBoxLayout;
  bottom->setSpacing(12);
  readings_ = new QLineEdit;
  readings_->setObjectName(QStringLiteral("size-readings"));
  readings_->setAccessibleName(QStringLiteral("Readings of the original"));
  readings_->setPlaceholderText(QStringLiteral("type what the calipers say: 25.02 25.01 25.03"));
  auto* reading_col = new QVBoxLayout;
  reading_col->setSpacing(2);
  auto* reading_label = new QLabel(QStringLiteral("Readings of the original"));
  reading_label->setObjectName(QStringLiteral("readings-label"));
  reading_label->setProperty("role", "small");
  reading_label->setBuddy(readings_);
  reading_col->addWidget(reading_label);
  reading_col->addWidget(readings_);
  bottom->addLayout(reading_col, 5);
  bottom->addWidget(resolution_);
  strip_ = new DotStrip;
  bottom->addWidget(strip_, 5);
  bottom->addWidget(remove_, 0, Qt::AlignBottom);
  col->addLayout(bottom);

  connect(name_, &QLineEdit::editingFinished, this, [this] {
    if (const auto* s = desk_.job().size(selected_);
        s && qs(s->name) != name_->text() && !name_->text().trimmed().isEmpty())
      edit_selected([&](MeasuredSize& m) { m.name = name_->text().trimmed().toStdString(); },
                    QStringLiteral("size named"));
  });
  connect(kind_, &ChoiceField::chosen, this, [this](const std::string& id) {
    edit_selected([&](MeasuredSize& m) { m.kind = *size_kind(id); }, QStringLiteral("kind of size"));
  });
  connect(formed_, &ChoiceField::chosen, this, [this](const std::string& id) {
    edit_selected(
        [&](MeasuredSize& m) {
          m.formed = *formed_by(id);
          if (m.formed == FormedBy::pin && !m.pin_mm) m.pin_mm = 0.5 * (m.lower_mm + m.upper_mm);
        },
        QStringLiteral("what forms the size"));
  });
  const auto figure = [this](FigureField* f, double MeasuredSize::*member, const QString& what) {
    connect(f, &FigureField::entered, this, [this, member, what](double v) {
      edit_selected(
          [&](MeasuredSize& m) {
            m.*member = desk_.units().mm(v);
            if (member == &MeasuredSize::lower_mm || member == &MeasuredSize::upper_mm) m.limits_guessed = false;
          },
          what);
    });
  };
  figure(nominal_, &MeasuredSize::nominal_mm, QStringLiteral("nominal size"));
  figure(lower_, &MeasuredSize::lower_mm, QStringLiteral("lower limit"));
  figure(upper_, &MeasuredSize::upper_mm, QStringLiteral("upper limit"));
  figure(resolution_, &MeasuredSize::resolution_mm, QStringLiteral("calipers"));
  nominal_->set_range(1e-4, 1e5);
  connect(pin_, &FigureField::entered, this, [this](double v) {
    edit_selected([&](MeasuredSize& m) { m.pin_mm = desk_.units().mm(v); }, QStringLiteral("pin size"));
  });
  connect(readings_, &QLineEdit::textEdited, this, [this] { clear_fault(readings_); });
  connect(readings_, &QLineEdit::editingFinished, this, [this] {
    const MeasuredSize* s = desk_.job().size(selected_);
    if (!s || !readings_->isModified()) return;
    readings_->setModified(false);
    const auto values = parse_numbers(readings_->text().toStdString());
    if (!values) return mark_fault(readings_, QStringLiteral("Numbers only, with spaces between: 25.02 25.01"));
    MeasuredSize probe = *s;
    probe.readings_mm.clear();
    for (const double v : *values) probe.readings_mm.push_back(desk_.units().mm(v));
    if (const auto ok = check_size(probe); !ok) return mark_fault(readings_, qs(ok.error().text()));
    edit_selected([&](MeasuredSize& m) { m.readings_mm = probe.readings_mm; }, QStringLiteral("readings"));
  });
  connect(remove_, &QPushButton::clicked, this, [this] {
    Job next = desk_.job();
    std::erase_if(next.sizes, [&](const MeasuredSize& s) { return s.id == selected_; });
    selected_.clear();
    desk_.edit(next, QStringLiteral("size removed"));
  });
}

void OriginalPage::open_dialog() {
  const QString path = QFileDialog::getOpenFileName(this, QStringLiteral("Open the master's mesh"), {},
                                                    QStringLiteral("Meshes (*.stl *.obj *.ply *.3mf);;All files (*)"));
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
  else
    desk_.open_mesh(path);
}

void OriginalPage::edit_selected(const std::function<void(MeasuredSize&)>& change, const QString& what) {
  Job next = desk_.job();
  for (MeasuredSize& s : next.sizes)
    if (s.id == selected_) change(s);
  desk_.edit(next, what);
}

void OriginalPage::add_size(MeasuredSize s) {
  Job next = desk_.job();
  s.id = next.new_size_id();
  if (s.name.empty()) s.name = "Size " + std::to_string(next.sizes.size() + 1);
  guess_limits(s);
  next.sizes.push_back(s);
  selected_ = s.id;
  if (desk_.edit(next, QStringLiteral("size added"))) {
    add_->setChecked(false);
    name_->setFocus();
    name_->selectAll();
  }
}

void OriginalPage::begin_adding(bool on) {
  adding_ = on;
  if (add_->isChecked() != on) add_->setChecked(on);
  first_.reset();
  hint_->setText(on ? QStringLiteral("Click a bore, or the first of two faces.") : QString());
  view_->setCursor(on ? Qt::CrossCursor : Qt::ArrowCursor);
  view_->update();
  lay_out();
}

void OriginalPage::canvas_clicked(double x, double y) {
  if (!adding_) {
    for (const Label& l : labels_)
      if (x >= l.rect.x && x <= l.rect.x + l.rect.w && y >= l.rect.y && y <= l.rect.y + l.rect.h) return select(l.id);
    return select({});
  }
  const auto original = desk_.plan().fresh<OriginalResult>("original");
  if (!original) return;
  const auto hit = pick(view_->picture(), view_->camera(), original->mesh.get(), x, y);
  if (!hit || hit->triangle == Picture::cut_face) return;
  const FaceFit face = fit_face(*original->mesh, *original->pairs, hit->triangle);
  const Vec3 at = hit->point_mm;
  const auto round3 = [](double v) { return std::round(v * 1000) / 1000; };
  if (!first_ && (face.kind == FaceKind::bore || face.kind == FaceKind::boss)) {
    MeasuredSize s;
    s.kind = face.kind == FaceKind::bore ? SizeKind::bore : SizeKind::outer;
    s.name = face.kind == FaceKind::bore ? "Bore" : "Boss";
    s.nominal_mm = round3(face.diameter_mm);
    // Across the end of the cylinder that is nearer to the click, square to the view's depth as far as may be.
    const double along = dot(at - face.point_mm, face.direction);
    const Vec3 centre = face.point_mm + face.direction * (along > 0 ? 0.5 : -0.5) * face.depth_mm;
    Vec3 across = view_->camera().right - face.direction * dot(view_->camera().right, face.direction);
    across = unit(across, any_perpendicular(face.direction));
    s.from_mm = centre - across * (0.5 * face.diameter_mm);
    s.to_mm = centre + across * (0.5 * face.diameter_mm);
    return add_size(std::move(s));
  }
  if (!first_) {
    first_ = face;
    first_point_ = at;
    hint_->setText(QStringLiteral("Now the second face. Esc to stop."));
    view_->update();
    lay_out();
    return;
  }
  MeasuredSize s;
  const bool flat = first_->kind == FaceKind::plane && face.kind == FaceKind::plane;
  if (flat && std::abs(dot(first_->direction, face.direction)) > 0.996) {
    // Square to the faces, drawn through the first click.
    const double d = dot(face.point_mm - first_point_, first_->direction);
    s.from_mm = first_point_;
    s.to_mm = first_point_ + first_->direction * d;
    const bool outward = dot(first_->direction, face.direction) < 0;
    s.kind = !outward ? SizeKind::step : d < 0 ? SizeKind::outer : SizeKind::slot;
    s.nominal_mm = round3(std::abs(d));
  } else {
    s.from_mm = first_point_;
    s.to_mm = at;
    s.nominal_mm = round3(length(at - first_point_));
  }
  if (s.nominal_mm < 1e-3) {
    hint_->setText(QStringLiteral("Both clicks are on one face. Choose another for the second."));
    return;
  }
  add_size(std::move(s));
}

void OriginalPage::take_reading(double mm) {
  if (!desk_.job().size(selected_)) return;
  edit_selected([&](MeasuredSize& m) { m.readings_mm.push_back(mm); }, QStringLiteral("reading from the calipers"));
}

void OriginalPage::select(const std::string& id) {
  selected_ = id;
  show_size_card();
  view_->update();
}

void OriginalPage::point_at(const Finding& f) {
  if (!f.where.size.empty()) select(f.where.size);
}

bool OriginalPage::settled() const {
  return desk_.job().mesh.hash.empty() || view_->passes() >= PartView::settled_passes;
}

void OriginalPage::refresh() {
  const Job& job = desk_.job();
  const auto original = desk_.plan().fresh<OriginalResult>("original");
  const bool has_mesh = original != nullptr;
  view_->setVisible(has_mesh);
  empty_->setVisible(!has_mesh && !desk_.errand().running && job.mesh.hash.empty());
  add_->setEnabled(has_mesh && !desk_.read_only());
  open_->setText(job.mesh.hash.empty() ? QStringLiteral("Open mesh…") : QStringLiteral("Another mesh…"));
  duties_->setText(job.duties.empty() ? QStringLiteral("What does it do?")
                                      : QStringLiteral("Does: ") +
                                            qs(counted(static_cast<long long>(job.duties.size()), "duty", "duties")));
  if (has_mesh && shown_mesh_ != job.mesh.hash + pal().ground.name().toStdString()) {
    const bool other = shown_mesh_.substr(0, 32) != job.mesh.hash;
    shown_mesh_ = job.mesh.hash + pal().ground.name().toStdString();
    Scene scene;
    Body b;
    b.shape = original->shape;
    b.colour = rgb(pal().part);
    scene.bodies.push_back(std::move(b));
    scene.ground = rgb(pal().ground);
    view_->set_margins(QMargins(60, 60, 60, 150));
    view_->set_scene(std::move(scene), other);
  }
  if (!has_mesh) shown_mesh_.clear();
  if (!job.size(selected_))
    selected_ = job.sizes.empty() ? "" : selected_.empty() && shown_size_.empty() ? job.sizes.front().id : "";
  show_size_card();
  lay_out();
  view_->update();
}

void OriginalPage::show_size_card() {
  const MeasuredSize* s = desk_.job().size(selected_);
  card_->setVisible(s != nullptr);
  if (!s) return;
  const Units& u = desk_.units();
  if (shown_size_ != s->id) {
    for (QLineEdit* e : card_->findChildren<QLineEdit*>()) e->setModified(false), clear_fault(e);
    shown_size_ = s->id;
  }
  if (!name_->isModified() || !name_->hasFocus()) name_->setText(qs(s->name));
  kind_->show_current(std::string(name_of(s->kind)));
  formed_->show_current(std::string(name_of(s->formed)));
  const int d = u.inch ? 4 : 3;
  pin_->setVisible(s->formed == FormedBy::pin);
  pin_->show_value(s->pin_mm ? std::optional(u.length(*s->pin_mm)) : std::nullopt, d, u.length_name());
  nominal_->show_value(u.length(s->nominal_mm), d, u.length_name());
  lower_->show_value(u.length(s->lower_mm), d, u.length_name());
  upper_->show_value(u.length(s->upper_mm), d, u.length_name());
  resolution_->show_value(u.length(s->resolution_mm), d, u.length_name());
  card_->findChild<QLabel*>(QStringLiteral("readings-label"))
      ->setText(QStringLiteral("Readings of the original, ") + u.length_name());
  if (!readings_->isModified()) {
    QStringList list;
    for (const double r : s->readings_mm) list << qs(fixed(u.length(r), u.inch ? 4 : 2));
    readings_->setText(list.join(QLatin1Char(' ')));
    readings_->setModified(false);
  }
  strip_->show_size(*s);
}

void OriginalPage::lay_out() {
  view_->setGeometry(rect());
  int x = 16;
  for (QPushButton* b : {open_, add_, duties_}) {
    b->adjustSize();
    b->move(x, 14);
    x += b->width() + 8;
  }
  hint_->setGeometry(x + 6, 14, std::max(60, width() - x - 20), 34);
  empty_->setGeometry(60, height() / 2 - 60, width() - 120, 120);
  const int h = card_->sizeHint().height();
  card_->setGeometry(16, height() - h - 14, width() - 32, h);
}
void OriginalPage::resizeEvent(QResizeEvent*) { lay_out(); }

void OriginalPage::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.fillRect(rect(), pal().ground);
  if (!empty_->isVisible()) return;
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(pal().rule.darker(110), 1.6, Qt::DashLine));
  p.drawRoundedRect(QRectF(empty_->geometry()).adjusted(0, -50, 0, 30), 14, 14);
  draw_mark(p, QRectF(width() / 2.0 - 26, empty_->y() - 34, 52, 52));
}

void OriginalPage::draw_callouts(QPainter& p) {
  labels_.clear();
  const Job& job = desk_.job();
  const Units& u = desk_.units();
  if (first_ && adding_) {
    const auto q = view_->camera().project(first_point_);
    p.setPen(QPen(pal().act, 2));
    p.setBrush(pal().ground);
    p.drawEllipse(QPointF(q.x, q.y), 6, 6);
  }
  std::vector<LabelWish> wishes;
  // Labels keep off the part itself, so that it stays in sight.
  std::vector<RectPx> keep_out = covered_cells(view_->picture(), view_->camera());
  const QFont strong = type_face(13, 600), plain = type_face(12);
  std::vector<QString> heads, seconds;
  for (const MeasuredSize& s : job.sizes) {
    heads.push_back(qs(s.name));
    seconds.push_back(limits_in(s, u) + QLatin1Char(' ') + u.length_name() +
                      (s.limits_guessed ? QStringLiteral(" · guess") : QString()));
    const auto a = view_->camera().project(s.from_mm), b = view_->camera().project(s.to_mm);
    wishes.push_back({{(a.x + b.x) / 2, (a.y + b.y) / 2},
                      std::max(text_width(strong, heads.back()), text_width(plain, seconds.back())) + 16.0,
                      38.0});
    for (int k = 0; k <= 10; ++k) {
      const double t = k / 10.0;
      keep_out.push_back({a.x + (b.x - a.x) * t - 4, a.y + (b.y - a.y) * t - 4, 8, 8});
    }
  }
  const Box3 box = view_->scene().box_mm();
  const auto mid = view_->camera().project(box.centre());
  const double bottom = card_->isVisible() ? card_->y() - 10 : height() - 10;
  const auto placed = place_labels(wishes, {10, 58, width() - 20.0, bottom - 58}, keep_out, {mid.x, mid.y});
  for (size_t i = 0; i < job.sizes.size(); ++i) {
    const MeasuredSize& s = job.sizes[i];
    const bool chosen = s.id == selected_;
    const QColor c = chosen ? pal().act : pal().ink;
    draw_polyline(p, *view_, {s.from_mm, s.to_mm}, QPen(c, chosen ? 2.6 : 1.5));
    const auto a = view_->camera().project(s.from_mm), b = view_->camera().project(s.to_mm);
    const QPointF pa(a.x, a.y), pb(b.x, b.y);
    const double len = std::hypot(b.x - a.x, b.y - a.y);
    const QPointF tick = len > 1 ? QPointF(-(b.y - a.y), b.x - a.x) / len * (chosen ? 7 : 5) : QPointF(4, 0);
    p.setPen(QPen(c, chosen ? 2.6 : 1.5));
    for (const QPointF& e : {pa, pb}) p.drawLine(e - tick, e + tick);
    const RectPx& r = placed[i].rect;
    const QRectF rect(r.x, r.y, r.w, r.h);
    const QPointF anchor = (pa + pb) / 2, near(std::clamp(anchor.x(), rect.left(), rect.right()),
                                               std::clamp(anchor.y(), rect.top(), rect.bottom()));
    p.setPen(QPen(c, 1));
    p.drawLine(near, anchor);
    p.setBrush(c);
    p.setPen(Qt::NoPen);
    p.drawEllipse(anchor, 2.4, 2.4);
    QColor back = pal().panel;
    back.setAlphaF(0.94f);
    p.setBrush(back);
    p.setPen(QPen(chosen ? pal().act : pal().rule, chosen ? 2 : 1));
    p.drawRoundedRect(rect, 7, 7);
    p.setPen(c);
    p.setFont(strong);
    p.drawText(rect.adjusted(8, 2, -4, -18), Qt::AlignVCenter | Qt::AlignLeft, heads[i]);
    p.setPen(pal().quiet);
    p.setFont(plain);
    p.drawText(rect.adjusted(8, 18, -4, -2), Qt::AlignVCenter | Qt::AlignLeft, seconds[i]);
    labels_.push_back({s.id, r});
  }
}

}  // namespace palinform::app
