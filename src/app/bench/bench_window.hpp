#pragma once
/// The bench's full screen, to be worked from with gloves on.
#include <optional>

#include "bench/run.hpp"
#include "shell/stage_page.hpp"

class QTimer;
class QLineEdit;
class QPushButton;

namespace palinform::app {

class DeviceHub;

/// One step in huge type: what to do, the scale against its target, running clocks, pot life, what comes next.
class BenchWindow : public QWidget {
  Q_OBJECT
 public:
  BenchWindow(Desk& desk, DeviceHub& devices);
  /// What the scale reads or the person typed; none when neither.
  std::optional<double> scale_g() const { return scale_; }
  void type_scale(double g);
  QPushButton* done() const { return done_; }
  QPushButton* back() const { return back_; }
  QPushButton* note() const { return note_; }
  QLineEdit* note_line() const { return note_line_; }
  QString headline() const;
  bool flashing() const { return flash_ > 0; }

 protected:
  void paintEvent(QPaintEvent*) override;
  void resizeEvent(QResizeEvent*) override;
  void keyPressEvent(QKeyEvent*) override;

 private:
  void refresh();
  void tick();
  void go_on();
  void ask_note();
  void keep_note(bool wrong);
  /// Too much is in the cup: what the next part then goes to.
  QString mended_by(const BenchRun& run) const;
  Desk& desk_;
  DeviceHub& devices_;
  QPushButton *back_, *note_, *done_, *leave_, *keep_, *wrong_;
  QLineEdit *note_line_, *typed_;
  QTimer* timer_;
  std::optional<double> scale_;
  bool stable_ = false, from_device_ = false;
  bool typed_holds_ = false;  ///< what a person typed stands until it is used
  QString why_lost_;          ///< why the scale's last reading holds no longer
  int flash_ = 0;
  QString flash_words_;
};

}  // namespace palinform::app
