#pragma once
/// Listens to a device on a serial port and hands on its readings.
#include <QObject>
#include <QSerialPort>

#include "protocol.hpp"

namespace palinform {

class PortReader : public QObject {
  Q_OBJECT
 public:
  explicit PortReader(QObject* parent = nullptr);
  /// Opens the port at 9600 8N1; false with error() in words when it cannot.
  bool open(const QString& path);
  void close();
  bool is_open() const { return port_.isOpen(); }
  QString error() const { return error_; }
  void tare();

 signals:
  void reading(const palinform::DeviceReading& r);
  void lost(const QString& why);

 private:
  void read();
  QSerialPort port_;
  QByteArray buffer_;
  int empty_ = 0;  ///< times the line was readable and gave nothing
  QString error_;
};

}  // namespace palinform
