#include "bench/device_hub.hpp"

#include <cmath>

#include <QCoreApplication>
#include <QDialog>
#include <QDir>
#include <QFile>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QLabel>
#include <QPushButton>
#include <QTimer>
#include <QVBoxLayout>

#include "shell/stage_page.hpp"

namespace palinform::app {

DeviceHub::DeviceHub(QObject* parent) : QObject(parent) {
  for (PortReader* p : {&scale_, &calipers_, &gauge_, &room_}) {
    connect(p, &PortReader::reading, this, &DeviceHub::take);
    connect(p, &PortReader::lost, this, [this, p](const QString& why) {
      if (p == &scale_) lose_scale(why);
      emit told(why, true);
    });
  }
  watch_.setInterval(250);
  connect(&watch_, &QTimer::timeout, this, &DeviceHub::look_for_silence);
  watch_.start();
}

void DeviceHub::take(const DeviceReading& r) {
  switch (r.kind) {
    case DeviceReading::Kind::calipers:
      emit calipers_read(r.value);
      return;
    case DeviceReading::Kind::pot:
    case DeviceReading::Kind::vacuum:
      gauge_age_.restart();
      gauge_now_ = Gauge{r.value, r.kind == DeviceReading::Kind::vacuum};
      emit gauge_read(r.value, gauge_now_->absolute);
      return;
    case DeviceReading::Kind::room:
      room_age_.restart();
      room_now_ = r.value;
      emit room_read(r.value);
      return;
    case DeviceReading::Kind::over_range:
      age_.restart();
      return lose_scale(QStringLiteral("The scale is over its range: take something off the pan."));
    case DeviceReading::Kind::scale:
      break;
  }
  age_.restart();
  const bool same = scale_now_ && r.stable && scale_now_->stable &&
                    std::abs(r.value - scale_now_->value) <= std::max(0.25, 1e-3 * std::abs(r.value));
  alike_ = same ? alike_ + 1 : r.stable ? 1 : 0;
  scale_now_ = r;
  emit scale_read(r.value, r.stable);
}

void DeviceHub::look_for_silence() {
  constexpr qint64 scale_ms = 1000, gauge_ms = 3000, room_ms = 60'000;
  if (scale_now_ && age_.elapsed() > scale_ms)
    lose_scale(QStringLiteral("The scale says nothing any more: type what it reads."));
  if (gauge_now_ && gauge_age_.elapsed() > gauge_ms) {
    gauge_now_.reset();
    emit gauge_lost();
  }
  if (room_now_ && room_age_.elapsed() > room_ms) room_now_.reset();
}

void DeviceHub::lose_scale(const QString& why) {
  alike_ = 0;
  scale_now_.reset();
  emit scale_lost(why);
}
std::optional<double> DeviceHub::settled_g() const {
  return scale_now_ && scale_now_->stable && alike_ >= 2 ? std::optional(scale_now_->value) : std::nullopt;
}

DeviceHub::~DeviceHub() {
  for (PortReader* r : {&scale_, &calipers_, &gauge_, &room_}) r->close();
  for (QProcess* p : {&scale_sim_, &calipers_sim_, &gauge_sim_, &room_sim_}) {
    p->disconnect(this);
    if (p->state() != QProcess::NotRunning) p->closeWriteChannel();
  }
  for (QProcess* p : {&scale_sim_, &calipers_sim_, &gauge_sim_, &room_sim_}) {
    if (p->state() == QProcess::NotRunning) continue;
    if (!p->waitForFinished(300)) p->kill();
    p->waitForFinished(200);
  }
}

void DeviceHub::start(QProcess& process, const QString& program, PortReader& reader) {
  if (process.state() != QProcess::NotRunning) return;
  process.disconnect(this);
  const auto failed = [this, program] {
    emit told(QStringLiteral("The simulated device %1 cannot be started.").arg(program), true);
  };
  // Its first line names the port it talks on.
  connect(&process, &QProcess::readyReadStandardOutput, this, [this, &process, &reader] {
    if (reader.is_open() || !process.canReadLine()) return;
    if (!reader.open(QString::fromUtf8(process.readLine()).trimmed())) emit told(reader.error(), true);
  });
  connect(&process, &QProcess::errorOccurred, this, failed);
  connect(&process, &QProcess::finished, this, [this, program, &reader] {
    reader.close();
    if (&reader == &scale_) lose_scale(QStringLiteral("The device %1 has ended: type the readings.").arg(program));
    emit told(QStringLiteral("The simulated device %1 has ended. Readings can be typed.").arg(program), true);
  });
  process.start(QCoreApplication::applicationDirPath() + QLatin1Char('/') + program, {});
  QTimer::singleShot(4000, &process, [&reader, failed] {
    if (!reader.is_open()) failed();
  });
}

void DeviceHub::start_simulated() {
  start(scale_sim_, QStringLiteral("sim_scale"), scale_);
  start(calipers_sim_, QStringLiteral("sim_calipers"), calipers_);
  start(gauge_sim_, QStringLiteral("sim_gauge"), gauge_);
  start(room_sim_, QStringLiteral("sim_room"), room_);
}
void DeviceHub::kill_simulated() {
  scale_sim_.kill();
  calipers_sim_.kill();
  gauge_sim_.kill();
  room_sim_.kill();
}
void DeviceHub::drive_gauge(double kpa, bool absolute) {
  gauge_sim_.write(QStringLiteral("%1 %2\n")
                       .arg(absolute ? QStringLiteral("vacuum") : QStringLiteral("pot"))
                       .arg(kpa, 0, 'f', 1)
                       .toUtf8());
}
void DeviceHub::warm_room(double c) { room_sim_.write(QStringLiteral("room %1\n").arg(c, 0, 'f', 1).toUtf8()); }
bool DeviceHub::listening() const {
  return scale_.is_open() && calipers_.is_open() && gauge_.is_open() && room_.is_open();
}
void DeviceHub::load_scale(double g) { scale_sim_.write(QStringLiteral("load %1\n").arg(g, 0, 'f', 2).toUtf8()); }
void DeviceHub::pour(double g_per_s) { scale_sim_.write(QStringLiteral("pour %1\n").arg(g_per_s, 0, 'f', 2).toUtf8()); }
void DeviceHub::press_calipers(double mm) {
  calipers_sim_.write(QStringLiteral("jaws %1\npress\n").arg(mm, 0, 'f', 4).toUtf8());
}

void DeviceHub::show_simulated(QWidget* parent) {
  start_simulated();
  auto* d = new QDialog(parent);
  d->setAttribute(Qt::WA_DeleteOnClose);
  d->setWindowTitle(QStringLiteral("Simulated devices"));
  auto* col = new QVBoxLayout(d);
  auto* now = new QLabel(QStringLiteral("scale …"));
  now->setProperty("role", "title");
  connect(this, &DeviceHub::scale_read, now, [now](double g, bool stable) {
    now->setText(QStringLiteral("scale %1 g%2").arg(g, 0, 'f', 1).arg(stable ? QString() : QStringLiteral(" …")));
  });
  col->addWidget(now);
  auto* load = new FigureField(QStringLiteral("On the pan, g"), QStringLiteral("sim-load"), 160);
  connect(load, &FigureField::entered, this, [this](double v) {
    pour(0);
    load_scale(v);
  });
  col->addWidget(load);
  auto* row = new QHBoxLayout;
  const std::pair<const char*, double> speeds[] = {{"Pour slowly", 2}, {"Pour", 15}, {"Stop", 0}};
  for (const auto& [words, speed] : speeds) {
    auto* b = new QPushButton(QString::fromLatin1(words));
    connect(b, &QPushButton::clicked, this, [this, speed = speed] { pour(speed); });
    row->addWidget(b);
  }
  col->addLayout(row);
  auto* jaws = new FigureField(QStringLiteral("Calipers close on, mm; Enter presses"), QStringLiteral("sim-jaws"), 160);
  connect(jaws, &FigureField::entered, this, &DeviceHub::press_calipers);
  col->addWidget(jaws);
  auto* pot = new FigureField(QStringLiteral("Pot goes to, kPa"), QStringLiteral("sim-pot"), 160);
  connect(pot, &FigureField::entered, this, [this](double v) { drive_gauge(v, false); });
  col->addWidget(pot);
  auto* vacuum = new FigureField(QStringLiteral("Chamber goes to, kPa absolute"), QStringLiteral("sim-vacuum"), 160);
  connect(vacuum, &FigureField::entered, this, [this](double v) { drive_gauge(v, true); });
  col->addWidget(vacuum);
  auto* room = new FigureField(QStringLiteral("Room, °C"), QStringLiteral("sim-room"), 160);
  connect(room, &FigureField::entered, this, &DeviceHub::warm_room);
  col->addWidget(room);
  d->show();
}

void DeviceHub::ask_port(QWidget* parent) {
  bool ok = false;
  const QString path = QInputDialog::getText(parent, QStringLiteral("Scale at a port"),
                                             QStringLiteral("Device file, for instance /dev/ttyUSB0"),
                                             QLineEdit::Normal, QStringLiteral("/dev/ttyUSB0"), &ok);
  if (!ok || path.trimmed().isEmpty()) return;
  if (scale_.open(path.trimmed()))
    emit told(QStringLiteral("Listening to the scale at ") + path, false);
  else
    emit told(scale_.error(), true);
}

}  // namespace palinform::app
