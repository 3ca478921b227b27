#pragma once
/// The devices at the bench: scale, calipers, gauge and thermometer on serial ports, or simulated ones started as
/// programs of their own. Each may come and go at any time; whatever is read goes to the step that wants it.
#include <optional>
#include <QElapsedTimer>
#include <QObject>
#include <QProcess>
#include <QTimer>

#include "port_reader.hpp"

namespace palinform::app {

class DeviceHub : public QObject {
  Q_OBJECT
 public:
  explicit DeviceHub(QObject* parent = nullptr);
  ~DeviceHub() override;
  /// Starts the simulated devices, without waiting; they are listened to as soon as they say where. What cannot be
  /// started is told.
  void start_simulated();
  /// Ends them at once, as a pulled plug does.
  void kill_simulated();
  /// All of them are listened to.
  bool listening() const;
  bool simulated() const { return scale_sim_.state() == QProcess::Running; }
  /// What the simulated scale carries, and what the calipers close on; a press sends the reading.
  void load_scale(double grams);
  void pour(double grams_per_s);
  void press_calipers(double mm);
  /// Where the simulated gauge goes to, and how warm the simulated room is.
  void drive_gauge(double kpa, bool absolute);
  void warm_room(double celsius);
  void show_simulated(QWidget* parent);
  void ask_port(QWidget* parent);
  /// The present reading; none when the last is older than a second, when the pan is over its range, or when there is
  /// no scale.
  std::optional<DeviceReading> scale() const { return scale_now_; }
  /// Present, still, and read twice alike: what may be booked.
  std::optional<double> settled_g() const;
  /// Over the air's pressure, of the pot; absolute, of the chamber. None when older than three seconds.
  struct Gauge {
    double kpa = 0;
    bool absolute = false;
  };
  std::optional<Gauge> gauge() const { return gauge_now_; }
  /// None when older than a minute.
  std::optional<double> room_c() const { return room_now_; }
  PortReader& scale_reader() { return scale_; }

 signals:
  void scale_read(double grams, bool stable);
  /// The scale is over its range, silent for a second, or gone: its last reading holds no longer.
  void scale_lost(const QString& why);
  void calipers_read(double mm);
  void gauge_read(double kpa, bool absolute);
  void gauge_lost();
  void room_read(double celsius);
  void told(const QString& words, bool fault);

 private:
  void start(QProcess& process, const QString& program, PortReader& reader);
  void take(const DeviceReading& r);
  void look_for_silence();
  QProcess scale_sim_, calipers_sim_, gauge_sim_, room_sim_;
  PortReader scale_, calipers_, gauge_, room_;
  void lose_scale(const QString& why);
  std::optional<DeviceReading> scale_now_;
  int alike_ = 0;  ///< stable readings in a row that differ by less than 0.25 g or a thousandth
  std::optional<Gauge> gauge_now_;
  std::optional<double> room_now_;
  QElapsedTimer age_, gauge_age_, room_age_;
  QTimer watch_;
};

}  // namespace palinform::app
