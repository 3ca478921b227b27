#include "split/cast_in_card.hpp"

#include <cmath>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "job/apply.hpp"
#include "mesh/feature.hpp"
#include "shell/desk.hpp"
#include "theme/theme.hpp"

namespace palinform::app {
namespace {

QString words(Insert::Kind k) {
  switch (k) {
    case Insert::Kind::mesh:
      return QStringLiteral("Mesh");
    case Insert::Kind::rod:
      return QStringLiteral("Bar");
    case Insert::Kind::tube:
      return QStringLiteral("Tube, bush");
    case Insert::Kind::plate:
      return QStringLiteral("Plate");
    case Insert::Kind::nut:
      return QStringLiteral("Nut");
  }
  return {};
}

/// The threads that are offered, by words.
std::vector<std::pair<std::string, ThreadChoice>> offered() {
  std::vector<std::pair<std::string, ThreadChoice>> out;
  for (const IsoThread& iso : iso_threads())
    for (const double p : iso.pitches_mm) {
      if (p <= 0) continue;
      ThreadChoice t;
      t.nominal_mm = iso.nominal_mm, t.pitch_mm = p;
      out.push_back({words_of(t), t});
    }
  return out;
}

}  // namespace

CastInCard::CastInCard(Desk& desk, QWidget* parent)
    : PopCard(QStringLiteral("Cast in, and threads"), QStringLiteral("cast-in"), parent), desk_(desk) {
  setFixedWidth(580);
  bar_ = new QPushButton(QStringLiteral("Add a bar"));
  bar_->setObjectName(QStringLiteral("insert-add-bar"));
  nut_ = new QPushButton(QStringLiteral("Add a nut"));
  nut_->setObjectName(QStringLiteral("insert-add-nut"));
  file_ = new QPushButton(QStringLiteral("Add a mesh…"));
  file_->setObjectName(QStringLiteral("insert-add-mesh"));
  connect(bar_, &QPushButton::clicked, this, [this] {
    Insert in;
    in.name = "Bar";
    add(in, QStringLiteral("bar cast in"));
  });
  connect(nut_, &QPushButton::clicked, this, [this] {
    Insert in;
    in.kind = Insert::Kind::nut;
    in.name = "Nut";
    in.across_mm = 7, in.bore_mm = 4, in.long_mm = 3.2;
    in.hold = Insert::Hold::wire;
    add(in, QStringLiteral("nut cast in"));
  });
  connect(file_, &QPushButton::clicked, this, &CastInCard::mesh_wanted);
  auto* row = new QHBoxLayout;
  row->addWidget(bar_);
  row->addWidget(nut_);
  row->addWidget(file_);
  row->addStretch(1);
  col_->addLayout(row);
  hint_ =
      card_words(QStringLiteral("With an insert open, a click on the part puts it there. A click on a stud offers it "
                                "a thread."),
                 "small");
  col_->addWidget(hint_);
}

void CastInCard::add(Insert in, const QString& what) {
  const auto master = desk_.plan().newest(results::master);
  if (!master || desk_.read_only()) return;
  // Where the part is thickest, along that way, half as long: there it lies inside, whatever the part is like.
  const TriMesh& mesh = *master->mesh;
  double thick = 0;
  Vec3 middle = master->measure.centroid_mm;
  for (size_t t = 0; t < mesh.triangles.size(); t += 1 + mesh.triangles.size() / 3000) {
    const Vec3 n = mesh.normal(t), from = mesh.centre(t);
    const auto through = master->rays->first_hit(from, -n, 1e-3);
    if (!through || through->t_mm <= thick) continue;
    // Room beside it too: a long hair's breadth is no place for a bar.
    const Vec3 at = from - n * (0.5 * through->t_mm);
    if (master->rays->closest(at).distance_mm < 0.08 * through->t_mm) continue;
    thick = through->t_mm, middle = at, in.axis = n;
  }
  if (in.kind == Insert::Kind::rod) {
    in.long_mm = std::max(1.0, std::round(0.5 * thick));
    in.across_mm = std::max(0.5, std::round(0.6 * master->rays->closest(middle).distance_mm));
    in.hold = Insert::Hold::wire;
  }
  in.at_mm = middle - in.axis * (0.5 * in.long_mm);
  if (in.kind == Insert::Kind::mesh) in.at_mm = {};
  Job next = desk_.job();
  next.split.inserts.push_back(in);
  open_ = next.split.inserts.size() - 1;
  desk_.edit(next, what);
  refresh();
}

void CastInCard::pick(uint32_t face, const Vec3& at) {
  const auto master = desk_.plan().newest(results::master);
  if (!master || desk_.read_only()) return;
  FaceFit fit = snapped(fit_face(*master->mesh, *master->pairs, face), master->exact);
  stud_.reset();
  if (fit.kind == FaceKind::boss) {
    ThreadChoice t;
    t.stud = true;
    t.at_mm = fit.point_mm, t.axis = fit.direction;
    t.found_mm = fit.diameter_mm, t.deep_mm = fit.depth_mm;
    bool known = false;
    for (const ThreadChoice& k : desk_.job().split.threads) known = known || (k.stud && at_thread(k, t.at_mm));
    if (!known) {
      // It points out of the part: the end with nothing beyond it.
      if (master->rays->first_hit(t.at_mm + t.axis * (0.5 * t.deep_mm + 0.05), t.axis, 0.01)) t.axis = -t.axis;
      stud_ = t;
      shown_.clear();
      refresh();
      return;
    }
  }
  if (!open_ || *open_ >= desk_.job().split.inserts.size()) return;
  Job next = desk_.job();
  Insert& in = next.split.inserts[*open_];
  if (in.kind == Insert::Kind::mesh) return;
  const Vec3 n = master->mesh->normal(face);
  // From the skin inward: a seat's depth outside and the rest within, or just under it where nothing is to stand out.
  in.axis = -n;
  const double out = in.hold == Insert::Hold::seats ? 2 * desk_.shop().rules.split.insert.seat_mm
                                                    : -desk_.shop().rules.split.insert.cover_mm;
  in.at_mm = at + n * out;
  desk_.edit(next, qs(in.name + " placed"));
}

void CastInCard::put_insert(QGridLayout* grid, int& row, size_t k) {
  const Units& u = desk_.units();
  const Insert in = desk_.job().split.inserts[k];
  const auto placed = desk_.plan().fresh(results::inserts);
  const auto* p = placed && k < placed->placed.size() ? &placed->placed[k] : nullptr;
  const bool open = open_ == k;
  const QString name = qs(in.name.empty() ? "Insert " + std::to_string(k + 1) : in.name);
  QString told = name;
  if (in.kind != Insert::Kind::mesh)
    told += QStringLiteral(" · %1 × %2").arg(u.length_text(in.across_mm, 1), u.length_unit_text(in.long_mm, 1));
  auto* head = new QPushButton((open ? QStringLiteral("▾ ") : QStringLiteral("▸ ")) + told);
  head->setProperty("kind", "bare");
  head->setStyleSheet(QStringLiteral("text-align: left; padding-left: 0;") +
                      (open ? QStringLiteral(" font-weight: 600;") : QString()));
  head->setObjectName(QStringLiteral("insert-%1-row").arg(k + 1));
  connect(head, &QPushButton::clicked, this, [this, k, open, at = in.at_mm] {
    open_ = open ? std::nullopt : std::optional(k);
    shown_.clear();
    emit pointed(at);
    refresh();
  });
  grid->addWidget(head, row, 0, 1, 2);
  grid->addWidget(
      card_words(!p           ? QStringLiteral("working")
                 : p->refused ? QStringLiteral("cannot lie so")
                 : p->how.gap_mm
                     ? QStringLiteral("%1 ml · %2 of resin over it")
                           .arg(qs(significant(p->how.inside_mm3 * 1e-3, 2)), u.length_unit_text(*p->how.gap_mm, 1))
                     : QStringLiteral("%1 ml").arg(qs(significant(p->how.inside_mm3 * 1e-3, 2))),
                 "small"),
      row++, 2, Qt::AlignRight | Qt::AlignVCenter);
  if (p && p->refused) grid->addWidget(card_words(qs(p->refused->what + ". " + p->refused->remedy)), row++, 0, 1, 3);
  if (!open) return;
  const auto change = [this, k](const QString& what, auto set) {
    Job next = desk_.job();
    if (k >= next.split.inserts.size()) return;
    set(next.split.inserts[k]);
    desk_.edit(next, what, QStringLiteral("insert-figure"));
  };
  auto* line = new QHBoxLayout;
  line->setSpacing(10);
  if (in.kind != Insert::Kind::mesh) {
    auto* kind = new Chips;
    const Insert::Kind kinds[] = {Insert::Kind::rod, Insert::Kind::tube, Insert::Kind::plate, Insert::Kind::nut};
    for (const Insert::Kind one : kinds)
      kind->add(words(one), QStringLiteral("insert-%1-%2").arg(k + 1).arg(qs(std::string(name_of(one)))));
    for (int i = 0; i < 4; ++i)
      if (kinds[i] == in.kind) kind->set_current(i);
    connect(kind, &Chips::chosen, this, [change, kinds](int to) {
      change(QStringLiteral("kind of insert"), [&](Insert& x) {
        const bool named =
            x.name.empty() || x.name == "Bar" || x.name == "Nut" || x.name == "Bush" || x.name == "Plate";
        x.kind = kinds[to];
        if (named) x.name = to == 0 ? "Bar" : to == 1 ? "Bush" : to == 2 ? "Plate" : "Nut";
        if (!x.bored() && x.hold == Insert::Hold::pin) x.hold = Insert::Hold::wire;
      });
    });
    line->addWidget(kind);
  }
  line->addStretch(1);
  auto* gone = new QPushButton(QStringLiteral("Leave it out"));
  gone->setProperty("kind", "bare");
  gone->setObjectName(QStringLiteral("insert-%1-drop").arg(k + 1));
  connect(gone, &QPushButton::clicked, this, [this, k] {
    open_.reset();
    if (auto next = edited(desk_.job(), edits::DropInsert{k})) desk_.edit(*next, QStringLiteral("insert left out"));
  });
  line->addWidget(gone);
  grid->addLayout(line, row++, 0, 1, 3);

  line = new QHBoxLayout;
  auto* hold = new Chips;
  std::vector<std::pair<Insert::Hold, const char*>> holds{{Insert::Hold::seats, "In sockets"},
                                                          {Insert::Hold::wire, "From wire"}};
  if (in.bored()) holds.insert(holds.begin() + 1, {Insert::Hold::pin, "On a pin"});
  for (size_t i = 0; i < holds.size(); ++i) {
    hold->add(QLatin1String(holds[i].second),
              QStringLiteral("insert-%1-hold-%2").arg(k + 1).arg(qs(std::string(name_of(holds[i].first)))));
    if (holds[i].first == in.hold) hold->set_current(static_cast<int>(i));
  }
  connect(hold, &Chips::chosen, this, [change, holds](int to) {
    change(QStringLiteral("how it is held"), [&](Insert& x) { x.hold = holds[static_cast<size_t>(to)].first; });
  });
  line->addWidget(hold);
  line->addStretch(1);
  grid->addLayout(line, row++, 0, 1, 3);

  line = new QHBoxLayout;
  line->setSpacing(8);
  const auto number = [&](const char* field, const QString& label, double value, double low, double high, auto set) {
    auto* f = new FigureField(label, QStringLiteral("insert-%1-%2").arg(k + 1).arg(QLatin1String(field)), 78);
    f->show_value(u.length(value), u.inch ? 4 : 2, u.length_name());
    f->set_range(u.length(low), u.length(high));
    connect(f, &FigureField::entered, this, [this, change, label, set](double v) {
      const double mm = desk_.units().mm(v);
      change(label, [&](Insert& x) { set(x, mm); });
    });
    line->addWidget(f);
  };
  if (in.kind != Insert::Kind::mesh) {
    number("across", in.kind == Insert::Kind::plate ? QStringLiteral("Thick") : QStringLiteral("Across"), in.across_mm,
           0.1, 1000, [](Insert& x, double mm) { x.across_mm = mm; });
    if (in.kind == Insert::Kind::plate)
      number("wide", QStringLiteral("Wide"), in.wide_mm, 0.1, 2000, [](Insert& x, double mm) { x.wide_mm = mm; });
    if (in.kind == Insert::Kind::tube || in.kind == Insert::Kind::nut)
      number("bore", QStringLiteral("Bore"), in.bore_mm, 0, 1000, [](Insert& x, double mm) { x.bore_mm = mm; });
    number("long", QStringLiteral("Long"), in.long_mm, 0.1, 5000, [](Insert& x, double mm) { x.long_mm = mm; });
  }
  auto* density = new FigureField(QStringLiteral("Density"), QStringLiteral("insert-%1-density").arg(k + 1), 84);
  density->show_value(in.density_g_cm3, 2, QStringLiteral("g/cm³"));
  density->set_range(0.01, 25);
  connect(density, &FigureField::entered, this, [change](double v) {
    change(QStringLiteral("density of the insert"), [&](Insert& x) { x.density_g_cm3 = v; });
  });
  line->addWidget(density);
  line->addStretch(1);
  grid->addLayout(line, row++, 0, 1, 3);

  line = new QHBoxLayout;
  line->setSpacing(8);
  for (int a = 0; a < 3; ++a)
    number(a == 0   ? "x"
           : a == 1 ? "y"
                    : "z",
           in.kind == Insert::Kind::mesh ? QStringLiteral("Moved %1").arg(QLatin1Char(static_cast<char>('x' + a)))
                                         : QStringLiteral("From %1").arg(QLatin1Char(static_cast<char>('x' + a))),
           in.at_mm[a], -1e4, 1e4, [a](Insert& x, double mm) { x.at_mm[a] = mm; });
  if (in.kind != Insert::Kind::mesh) {
    auto* way = new Chips;
    const Vec3 ways[6] = {{1, 0, 0}, {-1, 0, 0}, {0, 1, 0}, {0, -1, 0}, {0, 0, 1}, {0, 0, -1}};
    for (int i = 0; i < 6; ++i) {
      auto* b = way->add(qs(axis_name(ways[i])), QStringLiteral("insert-%1-way-%2").arg(k + 1).arg(i));
      b->setMinimumWidth(34);
      if (length(unit(in.axis) - ways[i]) < 1e-3) way->set_current(i);
    }
    connect(way, &Chips::chosen, this, [change, ways](int to) {
      change(QStringLiteral("way of the insert"), [&](Insert& x) {
        // About its middle, so that it stays where it was.
        const Vec3 middle = x.at_mm + unit(x.axis) * (0.5 * x.long_mm);
        x.axis = ways[to];
        x.at_mm = middle - x.axis * (0.5 * x.long_mm);
      });
    });
    line->addWidget(way, 0, Qt::AlignBottom);
  }
  line->addStretch(1);
  grid->addLayout(line, row++, 0, 1, 3);
}

void CastInCard::put_thread(QGridLayout* grid, int& row, const ThreadChoice& at, std::optional<size_t> said) {
  const Units& u = desk_.units();
  const QString id = said ? QStringLiteral("thread-%1").arg(*said + 1) : QStringLiteral("no-thread-%1").arg(row);
  auto* what = card_words(QStringLiteral("<b>%1</b> Ø%2, %3 %4")
                              .arg(at.stud ? QStringLiteral("Stud") : QStringLiteral("Bore"),
                                   u.length_unit_text(at.found_mm, 2), u.length_unit_text(at.deep_mm, 1),
                                   at.stud ? QStringLiteral("long") : QStringLiteral("deep")));
  what->setTextFormat(Qt::RichText);
  grid->addWidget(what, row, 0, Qt::AlignVCenter);
  auto* size = new QComboBox;
  size->setObjectName(id + QStringLiteral("-size"));
  size->setAccessibleName(QStringLiteral("Thread"));
  size->addItem(QStringLiteral("no thread"));
  const auto all = offered();
  const IsoThread like = thread_like(at.found_mm, at.stud);
  // What fits the bore or stud stands first.
  std::vector<size_t> order;
  for (const bool fits : {true, false})
    for (size_t i = 0; i < all.size(); ++i) {
      const ThreadChoice& t = all[i].second;
      const bool near = like.nominal_mm > 0 && t.nominal_mm == like.nominal_mm && t.pitch_mm == like.pitches_mm[0];
      if (near == fits) order.push_back(i);
    }
  for (const size_t i : order) {
    const ThreadChoice& t = all[i].second;
    const bool near = like.nominal_mm > 0 && t.nominal_mm == like.nominal_mm && t.pitch_mm == like.pitches_mm[0];
    size->addItem(qs(all[i].first) + (near ? QStringLiteral("  ·  fits") : QString()), static_cast<int>(i));
    if (said && t.nominal_mm == at.nominal_mm && t.pitch_mm == at.pitch_mm) size->setCurrentIndex(size->count() - 1);
  }
  if (said && size->currentIndex() == 0) {
    size->addItem(qs(words_of(at)), -1);
    size->setCurrentIndex(size->count() - 1);
  }
  connect(size, &QComboBox::activated, this, [this, size, all, at, said](int to) {
    Job next = desk_.job();
    if (to == 0) {
      if (said)
        if (auto done = edited(next, edits::MakeThread{*said, ""})) desk_.edit(*done, QStringLiteral("no thread"));
      return;
    }
    const int j = size->itemData(to).toInt();
    if (j < 0 || j >= static_cast<int>(all.size())) return;
    ThreadChoice t = at;
    t.nominal_mm = all[static_cast<size_t>(j)].second.nominal_mm,
    t.pitch_mm = all[static_cast<size_t>(j)].second.pitch_mm;
    if (said)
      next.split.threads[*said] = t;
    else
      next.split.threads.push_back(t);
    const size_t index = said.value_or(next.split.threads.size() - 1);
    const ThreadRules& rules = desk_.shop().rules.split.thread;
    if (auto done =
            edited(next, edits::MakeThread{index, std::string(name_of(t.how)), rules.bush_wall_mm, rules.engage_share}))
      next = *std::move(done);
    stud_.reset();
    desk_.edit(next, qs("thread " + words_of(t)));
  });
  grid->addWidget(size, row, 1);
  auto* show = new QPushButton(QStringLiteral("Show"));
  show->setProperty("kind", "bare");
  connect(show, &QPushButton::clicked, this, [this, p = at.at_mm] { emit pointed(p); });
  grid->addWidget(show, row++, 2, Qt::AlignRight);
  if (!said) return;
  auto* how = new Chips;
  using How = ThreadChoice::How;
  const std::pair<How, const char*> ways[] = {{How::cut, at.stud ? "Die afterwards" : "Tap afterwards"},
                                              {How::insert, at.stud ? "Screw cast in" : "Bush cast in"},
                                              {How::hard, at.stud ? "Hard sleeve" : "Hard screw"},
                                              {How::rubber, "In rubber"}};
  for (int i = 0; i < 4; ++i) {
    how->add(QLatin1String(ways[i].second), id + QLatin1Char('-') + qs(std::string(name_of(ways[i].first))));
    if (ways[i].first == at.how) how->set_current(i);
  }
  connect(how, &Chips::chosen, this, [this, ways0 = std::vector(std::begin(ways), std::end(ways)), said](int to) {
    const ThreadRules& rules = desk_.shop().rules.split.thread;
    if (auto next =
            edited(desk_.job(), edits::MakeThread{*said, std::string(name_of(ways0[static_cast<size_t>(to)].first)),
                                                  rules.bush_wall_mm, rules.engage_share}))
      desk_.edit(*next, QStringLiteral("how the thread is made"));
  });
  grid->addWidget(how, row++, 0, 1, 3, Qt::AlignLeft);
  const QString core = at.stud ? QStringLiteral("Blank %1 before the die.")
                                     .arg(u.length_unit_text(die_blank_mm(at.nominal_mm, at.pitch_mm), 2))
                               : QStringLiteral("Core %1, crests at %2.")
                                     .arg(u.length_unit_text(tap_core_mm(at.nominal_mm, at.pitch_mm), 2),
                                          u.length_unit_text(minor_bore_mm(at.nominal_mm, at.pitch_mm), 2));
  grid->addWidget(card_words(QStringLiteral("Pitch %1. ").arg(u.length_unit_text(at.pitch_mm, 2)) + core, "small"),
                  row++, 0, 1, 3);
}

void CastInCard::refresh() {
  const auto bores = desk_.plan().newest(results::bores);
  const std::string key = node_mark(desk_.plan(), results::bores) + node_mark(desk_.plan(), results::inserts) +
                          (desk_.units().inch ? "i" : "m") + hash_of(desk_.job().split.inserts).hex() +
                          hash_of(desk_.job().split.threads).hex() + (open_ ? std::to_string(*open_) : "-") +
                          (stud_ ? "s" : "");
  for (QPushButton* b : {bar_, nut_, file_}) b->setEnabled(!desk_.read_only());
  if (key == shown_) return;
  shown_ = key;
  body_ = renewed(body_);
  auto* grid = new QGridLayout(body_);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setHorizontalSpacing(12);
  int row = 0;
  const SplitSetup& s = desk_.job().split;
  if (s.inserts.empty())
    grid->addWidget(card_words(QStringLiteral("Nothing is cast in: no core, no nut, no bush.")), row++, 0, 1, 3);
  for (size_t k = 0; k < s.inserts.size(); ++k) put_insert(grid, row, k);
  // With an insert's figures open the threads fold, so that the card stays on the page.
  if (open_ && !stud_ && !s.threads.empty()) {
    QStringList said;
    for (const ThreadChoice& t : s.threads) said << qs(words_of(t));
    auto* unfold = new QPushButton(QStringLiteral("▸ Threads: %1").arg(said.join(QStringLiteral(", "))));
    unfold->setProperty("kind", "bare");
    unfold->setStyleSheet(QStringLiteral("text-align: left; padding-left: 0;"));
    connect(unfold, &QPushButton::clicked, this, [this] {
      open_.reset();
      refresh();
    });
    grid->addWidget(unfold, row++, 0, 1, 3);
  }
  for (size_t k = 0; !open_ && k < s.threads.size(); ++k) put_thread(grid, row, s.threads[k], k);
  if (stud_) put_thread(grid, row, *stud_, std::nullopt);
  for (size_t i = 0; bores && !open_ && i < std::min<size_t>(6, bores->bores.size()); ++i) {
    const Bore& b = bores->bores[i];
    ThreadChoice t;
    t.at_mm = b.centroid_mm, t.axis = b.axis, t.found_mm = b.diameter_mm, t.deep_mm = b.depth_mm;
    bool known = false;
    for (const ThreadChoice& k : s.threads) known = known || (!k.stud && at_thread(k, t.at_mm));
    if (!known) put_thread(grid, row, t, std::nullopt);
  }
  grid->setColumnStretch(0, 1);
  fit(body_);
}

}  // namespace palinform::app
