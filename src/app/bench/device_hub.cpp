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
  connect(&scale_, &PortReader::reading, this, [this](const DeviceReading& r) {
    if (r.kind == DeviceReading::Kind::calipers) return;
    age_.restart();
    if (r.kind == DeviceReading::Kind::over_range)
      return lose_scale(QStringLiteral("The scale is over its range: take something off the pan."));
    const bool same = scale_now_ && r.stable && scale_now_->stable &&
                      std::abs(r.value - scale_now_->value) <= std::max(0.25, 1e-3 * std::abs(r.value));
    alike_ = same ? alike_ + 1 : r.stable ? 1 : 0;
    scale_now_ = r;
    emit scale_read(r.value, r.stable);
  });
  watch_.setInterval(250);
  connect(&watch_, &QTimer::timeout, this, [this] {
    constexpr qint64 stale_ms = 1000;
    if (scale_now_ && age_.elapsed() > stale_ms)
      lose_scale(QStringLiteral("The scale says nothing any more: type what it reads."));
  });
  watch_.start();
  connect(&calipers_, &PortReader::reading, this, [this](const DeviceReading& r) {
    if (r.kind == DeviceReading::Kind::calipers) emit calipers_read(r.value);
  });
  for (PortReader* p : {&scale_, &calipers_})
    connect(p, &PortReader::lost, this, [this](const QString& why) {
      lose_scale(why);
      emit told(why, true);
    });
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
  scale_.close();
  calipers_.close();
  for (QProcess* p : {&scale_sim_, &calipers_sim_}) {
    p->disconnect(this);
    if (p->state() != QProcess::NotRunning) p->closeWriteChannel();
  }
  for (QProcess* p : {&scale_sim_, &calipers_sim_}) {
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
    lose_scale(QStringLiteral("The device %1 has ended: type the readings.").arg(program));
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
}
void DeviceHub::kill_simulated() {
  scale_sim_.kill();
  calipers_sim_.kill();
}
bool DeviceHub::listening() const { return scale_.is_open() && calipers_.is_open(); }
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
