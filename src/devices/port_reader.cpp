#include "port_reader.hpp"

namespace palinform {

PortReader::PortReader(QObject* parent) : QObject(parent) {
  connect(&port_, &QSerialPort::readyRead, this, &PortReader::read);
  connect(&port_, &QSerialPort::errorOccurred, this, [this](QSerialPort::SerialPortError e) {
    if (e != QSerialPort::ResourceError && e != QSerialPort::PermissionError) return;
    error_ = QStringLiteral("The device at %1 is gone. Plug it in again, or type the readings by hand.")
                 .arg(port_.portName());
    port_.close();
    emit lost(error_);
  });
}

bool PortReader::open(const QString& path) {
  port_.close();
  buffer_.clear();
  empty_ = 0;
  port_.setPortName(path);
  port_.setBaudRate(QSerialPort::Baud9600);
  if (port_.open(QIODevice::ReadWrite)) {
    error_.clear();
    return true;
  }
  error_ = QStringLiteral("The device at %1 cannot be opened: %2. Readings can be typed by hand.")
               .arg(path, port_.errorString());
  return false;
}
void PortReader::close() { port_.close(); }
void PortReader::tare() {
  if (port_.isOpen()) port_.write("T\r\n");
}

void PortReader::read() {
  const QByteArray came = port_.readAll();
  // The other end of a line that is gone says "readable" for ever and gives nothing: that would burn a core.
  empty_ = came.isEmpty() ? empty_ + 1 : 0;
  if (empty_ > 100) {
    error_ = QStringLiteral("The device at %1 says nothing any more. Plug it in again, or type the readings by hand.")
                 .arg(port_.portName());
    port_.close();
    emit lost(error_);
    return;
  }
  buffer_ += came;
  if (buffer_.size() > 4096) buffer_ = buffer_.right(512);  // noise without line ends
  for (qsizetype end = buffer_.indexOf('\n'); end >= 0; end = buffer_.indexOf('\n')) {
    const QByteArray line = buffer_.left(end);
    buffer_.remove(0, end + 1);
    if (const auto r = parse_device_line(std::string_view(line.constData(), static_cast<size_t>(line.size()))))
      emit reading(*r);
  }
}

}  // namespace palinform
