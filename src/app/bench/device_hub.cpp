#include "bench/device_hub.hpp"

#include <QCoreApplication>
#include <QDialog>
#include <QDir>
#include <QFile>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "shell/stage_page.hpp"

namespace palinform::app {

DeviceHub::DeviceHub(QObject* parent) : QObject(parent) {
  connect(&scale_, &PortReader::reading, this, [this](const DeviceReading& r) {
    if (r.kind == DeviceReading::Kind::calipers) return;
    scale_now_ = r;
    if (r.kind == DeviceReading::Kind::scale) emit scale_read(r.value, r.stable);
  });
  connect(&calipers_, &PortReader::reading, this, [this](const DeviceReading& r) {
    if (r.kind == DeviceReading::Kind::calipers) emit calipers_read(r.value);
  });
  for (PortReader* p : {&scale_, &calipers_})
    connect(p, &PortReader::lost, this, [this](const QString& why) {
      scale_now_.reset();
      emit told(why, true);
    });
}

DeviceHub::~DeviceHub() {
  scale_.close();
  calipers_.close();
  for (QProcess* p : {&scale_sim_, &calipers_sim_}) {
    if (p->state() == QProcess::NotRunning) continue;
    p->closeWriteChannel();
    if (!p->waitForFinished(500)) p->kill();
    p->waitForFinished(500);
  }
}

bool DeviceHub::start(QProcess& process, const QString& program, PortReader& reader) {
  if (process.state() == QProcess::Running) return reader.is_open();
  const QString path = QCoreApplication::applicationDirPath() + QLatin1Char('/') + program;
  process.start(path, {});
  if (!process.waitForStarted(2000) || !process.waitForReadyRead(2000)) {
    emit told(QStringLiteral("The simulated device %1 cannot be started.").arg(program), true);
    return false;
  }
  if (reader.open(QString::fromUtf8(process.readLine()).trimmed())) return true;
  emit told(reader.error(), true);
  return false;
}

bool DeviceHub::start_simulated() {
  const bool a = start(scale_sim_, QStringLiteral("sim_scale"), scale_),
             b = start(calipers_sim_, QStringLiteral("sim_calipers"), calipers_);
  return a && b;
}
void DeviceHub::load_scale(double g) { scale_sim_.write(QStringLiteral("load %1\n").arg(g, 0, 'f', 2).toUtf8()); }
void DeviceHub::pour(double g_per_s) { scale_sim_.write(QStringLiteral("pour %1\n").arg(g_per_s, 0, 'f', 2).toUtf8()); }
void DeviceHub::press_calipers(double mm) {
  calipers_sim_.write(QStringLiteral("jaws %1\npress\n").arg(mm, 0, 'f', 4).toUtf8());
}

void DeviceHub::show_simulated(QWidget* parent) {
  if (!start_simulated()) return;
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
