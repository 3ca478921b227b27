#include "original/size_card.hpp"

#include <cmath>
#include <QHBoxLayout>
#include <QPainter>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "check/tolerance_interval.hpp"
#include "job/other_originals.hpp"
#include "original/fits.hpp"
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
    case SizeKind::radius:
      return "radius";
    case SizeKind::angle:
      return "angle";
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
  const QString unit = qs(std::string(unit_of(s.kind)));
  const QString words = QStringLiteral("%1 ±%2 %3: ").arg(qs(fixed(m.mean_mm, 3)), qs(fixed(2 * m.u_mm, 3)), unit) +
                        (m.type_a ? QStringLiteral("spread %1, instrument %2")
                                        .arg(qs(fixed(m.u_spread_mm, 3)), qs(fixed(m.u_instrument_mm, 3)))
                                  : QStringLiteral("one reading, no spread"));
  p.setPen(pal().quiet);
  p.drawText(QRectF(0, mid + 13, width(), 16), Qt::AlignCenter, words);
}

SizeCard::SizeCard(Desk& desk, QWidget* parent) : QFrame(parent), desk_(desk) {
  setObjectName(QStringLiteral("card"));
  auto* col = new QVBoxLayout(this);
  col->setContentsMargins(14, 8, 14, 8);
  col->setSpacing(6);
  auto* top = new QHBoxLayout;
  top->setSpacing(10);
  name_ = add_line(top, QStringLiteral("Size"), QStringLiteral("size-name"), 0);
  name_->setAccessibleName(QStringLiteral("Name of the size"));
  kind_ = new ChoiceField(QStringLiteral("Kind"), QStringLiteral("size-kind"), 130);
  std::vector<std::pair<std::string, QString>> kinds, ways, finishes;
  for (int k = 0; k < count_of<SizeKind>(); ++k) {
    const auto kind = static_cast<SizeKind>(k);
    kinds.emplace_back(std::string(name_of(kind)), QString::fromLatin1(kind_words(kind)));
  }
  for (const auto f : {FormedBy::rubber, FormedBy::pin, FormedBy::across_line, FormedBy::open_face})
    ways.emplace_back(std::string(name_of(f)), QString::fromLatin1(formed_words(f)));
  finishes = {{"none", QStringLiteral("nothing")},
              {"ream", QStringLiteral("ream or file out")},
              {"skim", QStringLiteral("skim")},
              {"shim", QStringLiteral("shim")}};
  kind_->set_items(kinds);
  formed_ = new ChoiceField(QStringLiteral("Formed by"), QStringLiteral("size-formed"), 126);
  formed_->set_items(ways);
  finish_ = new ChoiceField(QStringLiteral("Afterwards"), QStringLiteral("size-finish"), 132);
  finish_->set_items(finishes);
  pin_ = new FigureField(QStringLiteral("Pin"), QStringLiteral("size-pin"), 84);
  nominal_ = new FigureField(QStringLiteral("Nominal"), QStringLiteral("size-nominal"), 92);
  lower_ = new FigureField(QStringLiteral("From"), QStringLiteral("size-lower"), 92);
  upper_ = new FigureField(QStringLiteral("To"), QStringLiteral("size-upper"), 92);
  resolution_ = new FigureField(QStringLiteral("Reads to"), QStringLiteral("size-resolution"), 78);
  top->addWidget(kind_);
  top->addWidget(formed_);
  top->addWidget(pin_);
  top->addWidget(finish_);
  col->addLayout(top);

  auto* middle = new QHBoxLayout;
  middle->setSpacing(10);
  middle->addWidget(nominal_);
  limits_ = add_line(middle, QStringLiteral("Limits, or a class"), QStringLiteral("size-limits"), 120);
  limits_->setPlaceholderText(QStringLiteral("±0.1  H7  m"));
  limits_->setToolTip(
      QStringLiteral("±0.1, or +0.1 0, or 7.9..8.1, or a class of ISO 286 (H7, g6), or f, m, c, v of ISO 2768"));
  middle->addWidget(lower_);
  middle->addWidget(upper_);
  auto* mate = chip(QStringLiteral("From its mate…"), QStringLiteral("size-mate"));
  middle->addWidget(mate, 0, Qt::AlignBottom);
  several_ = chip(QString(), QStringLiteral("size-several"));
  middle->addWidget(several_, 0, Qt::AlignBottom);
  connect(several_, &QPushButton::clicked, this, [this] {
    const MeasuredSize* s = desk_.job().original.size(id_);
    const auto spread = s ? spread_of_originals(*s) : std::nullopt;
    if (!spread || !spread->resolved) return;
    edit([&](MeasuredSize& m) { take_limits(m, *spread); }, QStringLiteral("limits from several originals"));
  });
  from_ = new QLabel;
  from_->setObjectName(QStringLiteral("limits-from"));
  from_->setProperty("role", "small");
  from_->setWordWrap(true);
  middle->addWidget(from_, 1, Qt::AlignBottom);
  col->addLayout(middle);

  auto* bottom = new QHBoxLayout;
  bottom->setSpacing(12);
  readings_ = new QLineEdit;
  readings_->setObjectName(QStringLiteral("size-readings"));
  readings_->setAccessibleName(QStringLiteral("Readings of the original"));
  readings_->setPlaceholderText(QStringLiteral("type what the calipers say: 25.02 25.01 25.03"));
  auto* reading_col = new QVBoxLayout;
  reading_col->setSpacing(2);
  readings_label_ = new QLabel;
  readings_label_->setObjectName(QStringLiteral("readings-label"));
  readings_label_->setProperty("role", "small");
  readings_label_->setBuddy(readings_);
  reading_col->addWidget(readings_label_);
  reading_col->addWidget(readings_);
  bottom->addLayout(reading_col, 4);
  bottom->addWidget(resolution_);
  strip_ = new DotStrip;
  bottom->addWidget(strip_, 6);
  auto* remove = new QPushButton(QStringLiteral("Remove"));
  remove->setProperty("kind", "bare");
  remove->setObjectName(QStringLiteral("size-remove"));
  bottom->addWidget(remove, 0, Qt::AlignBottom);
  col->addLayout(bottom);

  connect(name_, &QLineEdit::editingFinished, this, [this] {
    if (const auto* s = desk_.job().original.size(id_);
        s && qs(s->name) != name_->text() && !name_->text().trimmed().isEmpty())
      edit([&](MeasuredSize& m) { m.name = name_->text().trimmed().toStdString(); }, QStringLiteral("size named"));
  });
  connect(kind_, &ChoiceField::chosen, this, [this](const std::string& id) {
    edit([&](MeasuredSize& m) { m.kind = *named<SizeKind>(id); }, QStringLiteral("kind of size"));
  });
  connect(formed_, &ChoiceField::chosen, this, [this](const std::string& id) {
    edit(
        [&](MeasuredSize& m) {
          m.formed = *named<FormedBy>(id);
          if (m.formed == FormedBy::pin && !m.pin_mm) m.pin_mm = 0.5 * (m.lower_mm + m.upper_mm);
        },
        QStringLiteral("what forms the size"));
  });
  connect(finish_, &ChoiceField::chosen, this, [this](const std::string& id) {
    edit([&](MeasuredSize& m) { m.finish = *named<Finishing>(id); }, QStringLiteral("what is done afterwards"));
  });
  const auto figure = [this](FigureField* f, double MeasuredSize::*member, const QString& what) {
    connect(f, &FigureField::entered, this, [this, member, what](double v) {
      edit(
          [&](MeasuredSize& m) {
            m.*member = m.kind == SizeKind::angle ? v : desk_.units().mm(v);
            if (member == &MeasuredSize::lower_mm || member == &MeasuredSize::upper_mm) {
              m.limits_guessed = false;
              m.limits_from.clear();
            }
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
    edit([&](MeasuredSize& m) { m.pin_mm = desk_.units().mm(v); }, QStringLiteral("pin size"));
  });
  connect(limits_, &QLineEdit::editingFinished, this, [this] {
    const MeasuredSize* s = desk_.job().original.size(id_);
    if (!s || !limits_->isModified() || limits_->text().trimmed().isEmpty()) return;
    const double unit = s->kind == SizeKind::angle ? 1 : desk_.units().mm(1);
    // Written in the units on show; classes are of the size in millimetres.
    const LimitsOf of = s->kind == SizeKind::radius  ? LimitsOf::radius
                        : s->kind == SizeKind::angle ? LimitsOf::angle
                                                     : LimitsOf::length;
    const double leg = std::max(1.0, length(s->to_mm - s->from_mm));
    auto read = read_limits(limits_->text().toStdString(), s->nominal_mm, of, leg);
    if (read && read->source.empty() && unit != 1) {
      read = read_limits(limits_->text().toStdString(), s->nominal_mm / unit, of, leg);
      if (read) read->limits.lower_mm *= unit, read->limits.upper_mm *= unit;
    }
    if (!read) return mark_fault(limits_, qs(read.error().text()));
    limits_->setModified(false);
    edit(
        [&](MeasuredSize& m) {
          m.lower_mm = read->limits.lower_mm;
          m.upper_mm = read->limits.upper_mm;
          m.limits_from = read->source;
          m.limits_guessed = false;
        },
        QStringLiteral("limits"));
  });
  connect(readings_, &QLineEdit::textEdited, this, [this] { clear_fault(readings_); });
  connect(readings_, &QLineEdit::editingFinished, this, [this] {
    const MeasuredSize* s = desk_.job().original.size(id_);
    if (!s || !readings_->isModified()) return;
    readings_->setModified(false);
    MeasuredSize probe = *s;
    probe.readings_mm.clear();
    probe.further_originals_mm.clear();
    const QStringList originals = readings_->text().split(QLatin1Char('/'));
    for (int k = 0; k < originals.size(); ++k) {
      const auto values = parse_numbers(originals[k].toStdString());
      if (!values)
        return mark_fault(readings_, QStringLiteral("Numbers only, with spaces between: 25.02 25.01; a stroke before "
                                                    "the next original."));
      std::vector<double> mm;
      for (const double v : *values) mm.push_back(s->kind == SizeKind::angle ? v : desk_.units().mm(v));
      if (k == 0)
        probe.readings_mm = std::move(mm);
      else
        probe.further_originals_mm.push_back(std::move(mm));
    }
    if (const auto ok = check_size(probe); !ok) return mark_fault(readings_, qs(ok.error().text()));
    edit(
        [&](MeasuredSize& m) {
          m.readings_mm = probe.readings_mm;
          m.further_originals_mm = probe.further_originals_mm;
        },
        QStringLiteral("readings"));
  });
  connect(mate, &QPushButton::clicked, this, &SizeCard::mate_wanted);
  connect(remove, &QPushButton::clicked, this, [this] {
    Job next = desk_.job();
    std::erase_if(next.original.sizes, [&](const MeasuredSize& s) { return s.id == id_; });
    desk_.edit(next, QStringLiteral("size removed"));
    emit removed();
  });
}

void SizeCard::edit(const std::function<void(MeasuredSize&)>& change, const QString& what) {
  Job next = desk_.job();
  for (MeasuredSize& s : next.original.sizes)
    if (s.id == id_) change(s);
  desk_.edit(next, what);
}

void SizeCard::begin_naming() {
  name_->setFocus();
  name_->selectAll();
}

void SizeCard::show_size(const std::string& id) {
  id_ = id;
  const MeasuredSize* s = desk_.job().original.size(id);
  setVisible(s != nullptr);
  if (!s) return;
  const Units& u = desk_.units();
  if (shown_ != id) {
    for (QLineEdit* e : findChildren<QLineEdit*>()) e->setModified(false), clear_fault(e);
    limits_->clear();
    shown_ = id;
  }
  if (!name_->isModified() || !name_->hasFocus()) name_->setText(qs(s->name));
  kind_->show_current(std::string(name_of(s->kind)));
  formed_->show_current(std::string(name_of(s->formed)));
  finish_->show_current(std::string(name_of(s->finish)));
  const bool angle = s->kind == SizeKind::angle;
  const int d = u.inch && !angle ? 4 : 3;
  const auto in = [&](double v) { return angle ? v : u.length(v); };
  const QString unit = angle ? QStringLiteral("°") : u.length_name();
  pin_->setVisible(s->formed == FormedBy::pin);
  pin_->show_value(s->pin_mm ? std::optional(in(*s->pin_mm)) : std::nullopt, d, unit);
  nominal_->show_value(in(s->nominal_mm), d, unit);
  lower_->show_value(in(s->lower_mm), d, unit);
  upper_->show_value(in(s->upper_mm), d, unit);
  resolution_->show_value(in(s->resolution_mm), d, unit);
  readings_label_->setText(QStringLiteral("Readings of the original, ") + unit);
  if (!limits_->isModified()) limits_->clear();
  QStringList told;
  if (s->limits_guessed)
    told << QStringLiteral("Limits are a guess.");
  else if (!s->limits_from.empty())
    told << QStringLiteral("Limits: %1.").arg(qs(s->limits_from));
  if (s->fit_rms_mm)
    told << (*s->fit_rms_mm > 0 ? QStringLiteral("The mesh fits to ±%1 mm.").arg(qs(significant(*s->fit_rms_mm, 1)))
                                : QStringLiteral("Exact in its file."));
  if (s->depth_mm) told << QStringLiteral("%1 deep.").arg(u.length_unit_text(*s->depth_mm, 1));
  from_->setText(told.join(QLatin1Char(' ')));
  if (!readings_->isModified()) {
    QStringList list;
    for (const double r : s->readings_mm) list << qs(fixed(in(r), u.inch && !angle ? 4 : 2));
    for (const auto& other : s->further_originals_mm) {
      list << QStringLiteral("/");
      for (const double r : other) list << qs(fixed(in(r), u.inch && !angle ? 4 : 2));
    }
    readings_->setText(list.join(QLatin1Char(' ')));
    readings_->setModified(false);
  }
  const auto several = spread_of_originals(*s);
  several_->setVisible(several.has_value());
  several_->setEnabled(several && several->resolved);
  if (several)
    several_->setText(
        several->resolved
            ? QStringLiteral("Limits from %1 originals: %2 to %3")
                  .arg(several->interval.n)
                  .arg(qs(fixed(in(several->interval.lower_mm), d)), qs(fixed(in(several->interval.upper_mm), d)))
            : QStringLiteral("%1 originals differ no more than measuring scatters").arg(several->interval.n));
  const std::vector<std::string> names = names_of_originals(desk_.job().original);
  QString who = QStringLiteral(
      "Of several surviving originals: this one first, then the others after a stroke each: "
      "25.02 25.01 / 25.05 / 24.98 24.97");
  for (size_t k = 0; k < names.size() && names.size() > 1; ++k)
    who += QStringLiteral("\n%1 %2").arg(k + 1).arg(qs(names[k]));
  readings_->setToolTip(who);
  strip_->show_size(*s);
}

}  // namespace palinform::app
