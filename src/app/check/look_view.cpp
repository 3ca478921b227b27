#include "check/look_view.hpp"

#include <cmath>
#include <QDir>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QMimeData>
#include <QPainter>
#include <QScrollArea>
#include <QScrollBar>
#include <QTemporaryFile>
#include <QUrl>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "check/photo_sheet.hpp"
#include "job/apply.hpp"
#include "shell/desk.hpp"
#include "shell/fits_card.hpp"
#include "shell/flow_layout.hpp"
#include "stages/judging.hpp"
#include "theme/theme.hpp"

namespace palinform::app {
namespace {

constexpr int side_width = 420;

QString words(std::string_view s) { return QString::fromUtf8(s.data(), static_cast<qsizetype>(s.size())); }

/// A cause as a bar as long as it is likely.
class CauseBar : public QWidget {
 public:
  CauseBar(const CauseFound& c, bool first) : p_(c.p), words_(words(words_of(c.cause))), first_(first) {
    setFixedHeight(26);
    setAccessibleName(QStringLiteral("%1, %2 per cent").arg(words_).arg(qRound(100 * p_)));
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const QRectF bar(0, 3, width() - 52.0, 20);
    p.fillRect(bar, pal().slip);
    p.fillRect(QRectF(bar.x(), bar.y(), bar.width() * p_, bar.height()),
               mixed(pal().slip, first_ ? pal().caution : pal().quiet, first_ ? 0.55 : 0.4));
    p.setPen(pal().ink);
    p.setFont(type_face(13, first_ ? 600 : 400));
    p.drawText(bar.adjusted(8, 0, -4, 0), Qt::AlignVCenter | Qt::AlignLeft, words_);
    p.drawText(QRectF(width() - 48.0, 3, 48, 20), Qt::AlignVCenter | Qt::AlignRight,
               QStringLiteral("%1 %").arg(qRound(100 * p_)));
  }

 private:
  double p_;
  QString words_;
  bool first_;
};

}  // namespace

LookView::LookView(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  view_ = new PartView(this);
  view_->set_margins(QMargins(24, 40, 24, 40));
  view_->set_overlay([this](QPainter& p) { draw_over(p); });
  connect(view_, &PartView::clicked, this, &LookView::click);
  side_ = new QScrollArea(this);
  side_->setObjectName(QStringLiteral("look-side"));
  side_->setFrameShape(QFrame::NoFrame);
  side_->setWidgetResizable(true);
  side_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  setAcceptDrops(true);
  hint_ = remark();
  hint_->setParent(this);
  hint_->setAttribute(Qt::WA_TransparentForMouseEvents);
}

void LookView::resizeEvent(QResizeEvent*) {
  const int side = std::min(side_width, width() / 2);
  const bool first = view_->width() < 200 || view_->height() < 200;
  view_->setGeometry(0, 0, width() - side - 12, height());
  if (first) view_->fit();  // it was fitted to no size yet
  side_->setGeometry(width() - side, 0, side, height());
  hint_->setGeometry(8, height() - 26, width() - side - 28, 22);
}

const Casting* LookView::casting() const {
  const auto& all = desk_.job().check.castings;
  return casting_ >= 0 && casting_ < static_cast<int>(all.size()) ? &all[static_cast<size_t>(casting_)] : nullptr;
}

void LookView::change(const QString& what, const std::function<void(Casting&)>& set, const QString& merge) {
  if (!casting()) return;
  Job next = desk_.job();
  Casting& c = next.check.castings[static_cast<size_t>(casting_)];
  set(c);
  c.looked_at = true;
  desk_.edit(next, what, merge);
}

void LookView::take(size_t fault, const Change& made) {
  const Casting* c = casting();
  if (!c) return;
  Job next = desk_.job();
  if (made.edit)
    if (auto done = edited(next, *made.edit)) next = *std::move(done);
  next.check.changes.push_back(
      {c->number, c->faults[fault].fault, std::string(name_of(made.cause)), made.what, made.to_do});
  desk_.edit(next, qs(made.what));
}

void LookView::click(double x, double y) {
  const auto original = desk_.plan().fresh(results::original);
  const Casting* c = casting();
  if (!original || !c || fault_ >= c->faults.size() || desk_.read_only()) return;
  const auto hit = pick(view_->picture(), view_->camera(), original->mesh.get(), x, y);
  if (!hit || hit->triangle == Picture::cut_face) return;
  const auto flow = desk_.plan().fresh(results::flow);
  const auto near = flow ? near_pocket(*flow, hit->point_mm) : std::nullopt;
  change(QStringLiteral("place of a fault"), [&](Casting& k) {
    FaultSeen& f = k.faults[fault_];
    f.at_mm = hit->point_mm;
    f.pocket_distance_mm = near ? std::optional(near->mm) : flow ? std::optional(1e3) : std::nullopt;
    f.pocket_mm3 = near ? std::optional(near->pocket->pocket.volume_mm3) : std::nullopt;
  });
}

void LookView::show_casting(int index) {
  if (index != casting_) fault_ = 0, pointed_.reset();
  casting_ = index;
  const Casting* c = casting();
  if (!c) return;
  const auto original = desk_.plan().fresh(results::original);
  view_->setVisible(original != nullptr);
  if (original) {
    const std::string key = desk_.plan().state(results::original).key.hex() + pal().ground.name().toStdString();
    if (key != scene_) {
      const bool other = scene_.substr(0, 32) != key.substr(0, 32);
      scene_ = key;
      Scene scene;
      Body b;
      b.shape = original->shape;
      b.colour = rgb(pal().part);
      scene.bodies.push_back(std::move(b));
      scene.ground = rgb(pal().ground);
      view_->set_scene(std::move(scene), other);
    }
  }
  const std::string key = std::to_string(casting_) + hash_of(*c).hex() + hash_of(desk_.job().check.changes).hex() +
                          node_mark(desk_.plan(), results::whys) + std::to_string(fault_) + (record_open_ ? "r" : "") +
                          (desk_.units().inch ? "i" : "m") + pal().ground.name().toStdString();
  if (key != shown_) {
    shown_ = key;
    rebuild();
  }
  hint_->setText(
      c->faults.empty() ? QStringLiteral("Faint: the line, gate, vents, and where air was foreseen.")
      : fault_ < c->faults.size() && !c->faults[fault_].at_mm
          ? QStringLiteral("Click the part where the %1 is.").arg(words(words_of(c->faults[fault_].fault)).toLower())
          : QString());
  view_->update();
}

void LookView::rebuild() {
  const Casting& c = *casting();
  const int at = side_->verticalScrollBar() ? side_->verticalScrollBar()->value() : 0;
  auto* inside = new QWidget;
  auto* col = new QVBoxLayout(inside);
  col->setContentsMargins(0, 0, 8, 8);
  col->setSpacing(7);
  const bool writes = !desk_.read_only();

  // What was changed before this one, and whether it helped.
  for (const ChangeMade& m : desk_.job().check.changes) {
    if (m.after >= c.number) continue;
    bool next = true;  // the first casting after it tells
    for (const Casting& k : desk_.job().check.castings) next = next && !(k.number > m.after && k.number < c.number);
    if (!next) continue;
    const auto did = helped(m, {c});
    auto* told = card_words(QStringLiteral("<b>Changed since no. %1</b> for the %2: %3. %4 <b>%5</b>")
                                .arg(m.after)
                                .arg(words(words_of(m.fault)).toLower(), qs(m.what), qs(m.to_do),
                                     !did   ? QStringLiteral("Tick what is seen, or that all is good.")
                                     : *did ? QStringLiteral("It helped.")
                                            : QStringLiteral("It did not help.")));
    told->setTextFormat(Qt::RichText);
    told->setObjectName(QStringLiteral("change-told"));
    col->addWidget(told);
  }

  auto* head = card_words(QStringLiteral("What is seen"));
  head->setProperty("role", "strong");
  col->addWidget(head);
  auto* ticks = new QWidget;
  auto* flow = new FlowLayout(ticks, 5);
  for (size_t k = 0; k < names<Fault>.size(); ++k) {
    const auto f = static_cast<Fault>(k);
    const bool on = std::any_of(c.faults.begin(), c.faults.end(), [&](const FaultSeen& s) { return s.fault == f; });
    auto* b = chip(words(words_of(f)), QStringLiteral("fault-%1").arg(words(name_of(f))), true);
    b->setChecked(on);
    b->setEnabled(writes);
    connect(b, &QPushButton::clicked, this, [this, f](bool now) {
      if (now) {
        FaultSeen seen;
        seen.fault = f;
        fault_ = casting()->faults.size();
        change(words(words_of(f)) + QStringLiteral(" seen"), [&](Casting& x) { x.faults.push_back(seen); });
      } else {
        fault_ = 0;
        change(words(words_of(f)) + QStringLiteral(" not seen"),
               [&](Casting& x) { std::erase_if(x.faults, [&](const FaultSeen& s) { return s.fault == f; }); });
      }
    });
    flow->addWidget(b);
  }
  auto* none = chip(QStringLiteral("Nothing: all good"), QStringLiteral("fault-none"), true);
  none->setChecked(c.faults.empty() && c.looked_at);
  none->setEnabled(writes);
  connect(none, &QPushButton::clicked, this, [this] {
    change(QStringLiteral("nothing amiss"), [](Casting& k) {
      k.faults.clear();
      if (k.worth == Worth::unsaid) k.worth = Worth::good;
    });
  });
  flow->addWidget(none);
  col->addWidget(ticks);

  auto* worth_row = new QHBoxLayout;
  worth_row->setSpacing(5);
  auto* worth = new Chips;
  for (size_t k = 1; k < names<Worth>.size(); ++k)
    worth->add(k == 1   ? QStringLiteral("Good")
               : k == 2 ? QStringLiteral("Repair")
               : k == 3 ? QStringLiteral("For tests")
                        : QStringLiteral("Scrap"),
               QStringLiteral("worth-%1").arg(words(names<Worth>[k])));
  worth->set_current(static_cast<int>(c.worth) - 1);
  worth->setEnabled(writes);
  connect(worth, &Chips::chosen, this, [this](int i) {
    change(QStringLiteral("worth of a casting"), [i](Casting& k) { k.worth = static_cast<Worth>(i + 1); });
  });
  worth_row->addWidget(worth);
  worth_row->addStretch(1);
  col->addLayout(worth_row);
  if (c.worth == Worth::repaired) {
    auto* repair_row = new QHBoxLayout;
    repair_row->setSpacing(8);
    auto* minutes = new FigureField(QStringLiteral("Repair"), QStringLiteral("repair-min"), 84);
    minutes->show_value(c.repair_min, 0, QStringLiteral("min"));
    minutes->set_range(0, 10'000);
    connect(minutes, &FigureField::entered, this,
            [this](double v) { change(QStringLiteral("minutes of repair"), [v](Casting& k) { k.repair_min = v; }); });
    repair_row->addWidget(minutes);
    repair_row->addStretch(1);
    col->addLayout(repair_row);
  }
  auto* mate_row = new QHBoxLayout;
  mate_row->setSpacing(8);
  mate_row->addWidget(card_words(QStringLiteral("On its mate"), "small"));
  auto* mate = new Chips;
  for (const char* w : {"Untried", "Fits", "Tight", "Loose"})
    mate->add(QLatin1String(w), QStringLiteral("mate-%1").arg(QLatin1String(w).toString().toLower()));
  mate->set_current(static_cast<int>(c.mate));
  mate->setEnabled(writes);
  connect(mate, &Chips::chosen, this, [this](int i) {
    change(QStringLiteral("fit on its mate"), [i](Casting& k) { k.mate = static_cast<Mate>(i); });
  });
  mate_row->addWidget(mate);
  mate_row->addStretch(1);
  col->addLayout(mate_row);

  for (size_t k = 0; k < c.faults.size(); ++k) put_fault(col, k);
  put_photos(col);
  put_record(col);
  col->addStretch(1);
  if (QWidget* old = side_->takeWidget()) {
    old->setParent(nullptr);
    old->deleteLater();
  }
  side_->setWidget(inside);
  inside->show();
  side_->verticalScrollBar()->setValue(at);
}

void LookView::put_fault(QVBoxLayout* col, size_t k) {
  const Casting& c = *casting();
  const FaultSeen& seen = c.faults[k];
  const Units& u = desk_.units();
  const bool open = k == fault_, writes = !desk_.read_only();
  auto* line = new QHBoxLayout;
  auto* head = new QPushButton((open ? QStringLiteral("▾ ") : QStringLiteral("▸ ")) + words(words_of(seen.fault)) +
                               (seen.at_mm ? QString() : QStringLiteral(" · no place yet")));
  head->setProperty("kind", "bare");
  head->setStyleSheet(QStringLiteral("text-align: left; padding-left: 0; font-weight: 600;"));
  head->setObjectName(QStringLiteral("fault-%1-row").arg(k));
  connect(head, &QPushButton::clicked, this, [this, k] {
    fault_ = k;
    show_casting(casting_);
  });
  line->addWidget(head, 1);
  if (open) {
    auto* across = new FigureField(QStringLiteral("Across"), QStringLiteral("fault-%1-size").arg(k), 92);
    across->show_value(seen.size_mm > 0 ? std::optional(u.length(seen.size_mm)) : std::nullopt, u.inch ? 3 : 1,
                       u.length_name());
    across->allow_empty(QStringLiteral("across"));
    across->set_range(0, u.length(2000));
    across->edit()->setAccessibleName(QStringLiteral("How large, across"));
    connect(across, &FigureField::entered, this, [this, k](double v) {
      const double mm = desk_.units().mm(v);
      change(QStringLiteral("size of a fault"), [&](Casting& x) { x.faults[k].size_mm = mm; });
    });
    line->addWidget(across);
  }
  col->addLayout(line);
  if (!open) return;
  const auto whys = desk_.plan().newest(results::whys);
  const Why* why = nullptr;
  if (whys)
    for (const auto& of : whys->castings)
      if (of.number == c.number && k < of.whys.size() && of.whys[k].fault == seen.fault) why = &of.whys[k];
  if (!why) return;
  for (size_t i = 0; i < std::min<size_t>(3, why->causes.size()); ++i) {
    const CauseFound& cause = why->causes[i];
    auto* row = new QHBoxLayout;
    row->setSpacing(6);
    row->addWidget(new CauseBar(cause, i == 0), 1);
    const bool this_one = seen.confirmed && seen.cause == name_of(cause.cause);
    auto* was = new QPushButton(this_one ? QStringLiteral("It was this ✓") : QStringLiteral("It was this"));
    was->setProperty("kind", "bare");
    was->setObjectName(QStringLiteral("fault-%1-was-%2").arg(k).arg(words(name_of(cause.cause))));
    was->setToolTip(
        QStringLiteral("The shop learns: next time this cause counts for more. Ledger, Shop shows the counts."));
    was->setEnabled(writes && !seen.confirmed);
    connect(was, &QPushButton::clicked, this, [this, k, what = cause.cause, fault = seen.fault] {
      change(QStringLiteral("cause confirmed"),
             [&](Casting& x) { x.faults[k].confirmed = true, x.faults[k].cause = std::string(name_of(what)); });
      Equipment shop = desk_.equipment();
      const auto at = std::find_if(shop.causes.begin(), shop.causes.end(),
                                   [&](const ConfirmedCause& e) { return e.fault == fault && e.cause == what; });
      if (at == shop.causes.end())
        shop.causes.push_back({fault, what, 1});
      else
        ++at->times;
      desk_.keep_equipment(shop);
    });
    row->addWidget(was);
    col->addLayout(row);
    QString said;
    for (const std::string& s : cause.speaks_for) said += QStringLiteral("+ ") + qs(s) + QLatin1Char('\n');
    for (const std::string& s : cause.speaks_against) said += QStringLiteral("− ") + qs(s) + QLatin1Char('\n');
    if (!said.isEmpty()) col->addWidget(card_words(said.trimmed(), "small"));
  }
  if (!why->unknown.empty()) {
    QStringList list;
    for (size_t i = 0; i < std::min<size_t>(3, why->unknown.size()); ++i) list << qs(why->unknown[i]);
    col->addWidget(card_words(
        QStringLiteral("Not known, and it would decide: %1.").arg(list.join(QStringLiteral("; "))), "small"));
  }
  if (why->change) {
    const Change change_now = *why->change;
    const auto& made = desk_.job().check.changes;
    const bool taken = std::any_of(made.begin(), made.end(), [&](const ChangeMade& m) {
      return m.after == c.number && m.fault == seen.fault && m.what == change_now.what;
    });
    auto* row = new QHBoxLayout;
    auto* button =
        new QPushButton(taken ? QStringLiteral("Changed: %1").arg(qs(change_now.what)) : qs(change_now.what));
    button->setObjectName(QStringLiteral("fault-%1-change").arg(k));
    if (!taken) button->setProperty("role", "primary");
    button->setEnabled(writes && !taken);
    connect(button, &QPushButton::clicked, this, [this, k, change_now] { take(k, change_now); });
    row->addWidget(button);
    row->addWidget(card_words(qs(change_now.to_do), "small"), 1);
    col->addLayout(row);
  }
}

void LookView::take_photo(const QString& path) {
  if (!casting()) return;
  if (const auto id = desk_.keep_photo(path, casting()->booking))
    change(QStringLiteral("photograph of a casting"), [&](Casting& k) { k.photos.push_back(*id); });
}

void LookView::dragEnterEvent(QDragEnterEvent* e) {
  if (e->mimeData()->hasUrls() && casting() && !desk_.read_only()) e->acceptProposedAction();
}

void LookView::dropEvent(QDropEvent* e) {
  for (const QUrl& url : e->mimeData()->urls())
    if (url.isLocalFile()) take_photo(url.toLocalFile());
}

void LookView::put_photos(QVBoxLayout* col) {
  const Casting& c = *casting();
  auto* row = new QHBoxLayout;
  auto* add = new QPushButton(QStringLiteral("Photograph…"));
  add->setObjectName(QStringLiteral("casting-photo"));
  add->setEnabled(!desk_.read_only());
  connect(add, &QPushButton::clicked, this, [this] {
    const QString path = QFileDialog::getOpenFileName(this, QStringLiteral("A photograph of the casting"), {},
                                                      QStringLiteral("Photographs (*.png *.jpg *.jpeg)"));
    if (!path.isEmpty()) take_photo(path);
  });
  add->setToolTip(QStringLiteral("Or drop the file anywhere on this page"));
  row->addWidget(add);
  for (size_t k = 0; k < std::min<size_t>(4, c.photos.size()); ++k) {
    auto* picture = new QPushButton;
    picture->setObjectName(QStringLiteral("photo-%1").arg(k));
    picture->setProperty("kind", "bare");
    picture->setToolTip(QStringLiteral("Look at it large, and mark what is seen"));
    picture->setAccessibleName(QStringLiteral("Photograph %1").arg(k + 1));
    picture->setIcon(QPixmap::fromImage(
        desk_.bench_picture(c.photos[k]).scaled(76, 56, Qt::KeepAspectRatio, Qt::SmoothTransformation)));
    picture->setIconSize(QSize(76, 56));
    picture->setFixedHeight(60);
    connect(picture, &QPushButton::clicked, this, [this, id = c.photos[k]] {
      auto* sheet = new PhotoSheet(desk_.bench_picture(id), desk_.read_only(), this);
      sheet->setAttribute(Qt::WA_DeleteOnClose);
      connect(sheet, &PhotoSheet::marked, this, [this, id](const QImage& image) {
        QTemporaryFile file(QDir::temp().filePath(QStringLiteral("marked-XXXXXX.png")));
        if (!file.open() || !image.save(&file, "PNG")) return;
        file.close();
        // The photograph itself stays in the workshop; the casting shows the marked one.
        if (const auto made = desk_.keep_photo(file.fileName(), casting()->booking))
          change(QStringLiteral("mark on a photograph"),
                 [&](Casting& x) { std::replace(x.photos.begin(), x.photos.end(), id, *made); });
      });
      sheet->open();
    });
    row->addWidget(picture);
  }
  row->addStretch(1);
  col->addLayout(row);
}

void LookView::put_record(QVBoxLayout* col) {
  const Casting& c = *casting();
  auto* head = new QPushButton((record_open_ ? QStringLiteral("▾ ") : QStringLiteral("▸ ")) +
                               QStringLiteral("How it came about"));
  head->setProperty("kind", "bare");
  head->setObjectName(QStringLiteral("record-row"));
  head->setStyleSheet(QStringLiteral("text-align: left; padding-left: 0;"));
  connect(head, &QPushButton::clicked, this, [this] {
    record_open_ = !record_open_;
    show_casting(casting_);
  });
  col->addWidget(head);
  if (!record_open_) return;
  auto* grid = new QGridLayout;
  grid->setHorizontalSpacing(10);
  int n = 0;
  const auto figure = [&](const char* name, const QString& label, std::optional<double> CastRecord::*field, int digits,
                          const QString& unit, double low, double high) {
    auto* f = new FigureField(label, QStringLiteral("record-%1").arg(QLatin1String(name)), 120);
    f->allow_empty(QStringLiteral("not known"));
    f->show_value(c.record.*field, digits, unit);
    f->set_range(low, high);
    f->edit()->setReadOnly(desk_.read_only());
    connect(f, &FigureField::entered, this, [this, field](double v) {
      change(QStringLiteral("how it came about"), [&](Casting& k) { k.record.*field = v; });
    });
    connect(f, &FigureField::emptied, this, [this, field] {
      change(QStringLiteral("how it came about"), [&](Casting& k) { (k.record.*field).reset(); });
    });
    grid->addWidget(f, n / 3, n % 3);
    ++n;
  };
  figure("ratio", QStringLiteral("B off by"), &CastRecord::ratio_off_pct, 1, QStringLiteral("%"), -100, 1000);
  figure("room", QStringLiteral("Room, °C"), &CastRecord::room_c, 0, QString(), -40, 200);
  figure("filled", QStringLiteral("B to filled"), &CastRecord::minutes_b_to_filled, 1, QStringLiteral("min"), 0, 1e5);
  figure("demould", QStringLiteral("Out after"), &CastRecord::demould_h, 1, QStringLiteral("h"), 0, 1e5);
  figure("pressure", QStringLiteral("Pot reached"), &CastRecord::pressure_kpa, 0, QStringLiteral("kPa"), 0, 5000);
  figure("tilt", QStringLiteral("Tilt used"), &CastRecord::tilt_deg, 0, QStringLiteral("°"), -360, 360);
  figure("lot", QStringLiteral("Lot past date"), &CastRecord::lot_days_past, 0, QStringLiteral("days"), -1e5, 1e5);
  figure("opened", QStringLiteral("Bottle open"), &CastRecord::opened_days, 0, QStringLiteral("days"), 0, 1e5);
  figure("clamp", QStringLiteral("Held with"), &CastRecord::clamp_n, 0, QStringLiteral("N"), 0, 1e6);
  col->addLayout(grid);
  auto* row = new QHBoxLayout;
  const auto yes_no = [&](const char* name, const QString& label, std::optional<bool> CastRecord::*field) {
    auto* b = chip(label + (!(c.record.*field)   ? QStringLiteral(": ?")
                            : *(c.record.*field) ? QStringLiteral(": yes")
                                                 : QStringLiteral(": no")),
                   QStringLiteral("record-%1").arg(QLatin1String(name)));
    b->setEnabled(!desk_.read_only());
    connect(b, &QPushButton::clicked, this, [this, field] {
      change(QStringLiteral("how it came about"), [&](Casting& k) {
        auto& v = k.record.*field;
        v = !v ? std::optional(true) : *v ? std::optional(false) : std::nullopt;
      });
    });
    row->addWidget(b);
  };
  yes_no("degassed", QStringLiteral("Resin degassed"), &CastRecord::degassed);
  yes_no("rubber-degassed", QStringLiteral("Rubber degassed"), &CastRecord::rubber_degassed);
  yes_no("patch", QStringLiteral("Patch cured"), &CastRecord::patch_cured);
  row->addStretch(1);
  col->addLayout(row);
}

void LookView::draw_over(QPainter& p) {
  const Casting* c = casting();
  if (!c) return;
  p.setRenderHint(QPainter::Antialiasing);
  // Faintly what was planned and foreseen, so that a fault can be seen against it.
  QColor faint = pal().note;
  faint.setAlphaF(0.55f);
  if (const auto split = desk_.plan().newest(results::split))
    for (const PartingLoop& l : split->split.loops) draw_polyline(p, *view_, l.points_mm, QPen(faint, 1.4), true);
  const auto ring = [&](const Vec3& at, double r, const QPen& pen) {
    const auto q = view_->camera().project(at);
    p.setPen(pen);
    p.setBrush(Qt::NoBrush);
    p.drawEllipse(QPointF(q.x, q.y), r, r);
    return QPointF(q.x, q.y);
  };
  std::vector<Tag> tags;
  const FlowSetup& flow_setup = desk_.job().flow;
  if (flow_setup.gate) ring(*flow_setup.gate, 7, QPen(faint, 2));
  for (const Vec3& v : flow_setup.vents) ring(v, 4, QPen(faint, 1.6));
  if (flow_setup.gate) tags.push_back({*flow_setup.gate, QStringLiteral("Gate"), faint});
  if (const auto flow = desk_.plan().newest(results::flow)) {
    int told = 0;
    for (const PocketSeen& k : flow->pockets) {
      if (!k.visible) continue;
      ring(k.pocket.apex_mm, 10, QPen(faint, 1.6, Qt::DashLine));
      if (++told <= 2)
        tags.push_back({k.pocket.apex_mm,
                        QStringLiteral("Air foreseen, %1 mm³").arg(qs(significant(k.pocket.volume_mm3, 2))), faint});
    }
  }
  for (size_t k = 0; k < c->faults.size(); ++k) {
    const FaultSeen& f = c->faults[k];
    if (!f.at_mm) continue;
    const double px = f.size_mm > 0 ? 0.5 * f.size_mm / view_->camera().mm_per_px : 0;
    const QPointF at = ring(*f.at_mm, std::max(8.0, px), QPen(pal().stop, k == fault_ ? 3.4 : 2.2));
    p.drawLine(at - QPointF(5, 5), at + QPointF(5, 5));
    p.drawLine(at - QPointF(5, -5), at + QPointF(5, -5));
    tags.push_back(
        {*f.at_mm,
         words(words_of(f.fault)) +
             (f.size_mm > 0 ? QStringLiteral(" · %1").arg(desk_.units().length_unit_text(f.size_mm, 1)) : QString()),
         pal().stop});
  }
  if (pointed_) ring(*pointed_, 18, QPen(pal().stop, 2.5));
  draw_tags(p, *view_, tags, QRectF(10, 8, view_->width() - 20.0, view_->height() - 40.0));
}

}  // namespace palinform::app
