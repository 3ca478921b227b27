#pragma once
/// The devices at the bench: a scale and calipers on serial ports, or simulated ones started as programs of their own.
#include <optional>
#include <QObject>
#include <QProcess>

#include "port_reader.hpp"

namespace palinform::app {

class DeviceHub : public QObject {
  Q_OBJECT
 public:
  explicit DeviceHub(QObject* parent = nullptr);
  ~DeviceHub() override;
  /// Starts both simulated devices and listens to them; false when they cannot be started.
  bool start_simulated();
  bool simulated() const { return scale_sim_.state() == QProcess::Running; }
  /// What the simulated scale carries, and what the calipers close on; a press sends the reading.
  void load_scale(double grams);
  void pour(double grams_per_s);
  void press_calipers(double mm);
  void show_simulated(QWidget* parent);
  void ask_port(QWidget* parent);
  std::optional<DeviceReading> scale() const { return scale_now_; }
  PortReader& scale_reader() { return scale_; }

 signals:
  void scale_read(double grams, bool stable);
  void calipers_read(double mm);
  void told(const QString& words, bool fault);

 private:
  bool start(QProcess& process, const QString& program, PortReader& reader);
  QProcess scale_sim_, calipers_sim_;
  PortReader scale_, calipers_;
  std::optional<DeviceReading> scale_now_;
};

}  // namespace palinform::app
