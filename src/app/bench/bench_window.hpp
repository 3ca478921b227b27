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
class PartView;
struct StepShow;

/// One step in huge type: what to do, its picture, the scale against its target, running clocks, pot life, what comes
/// next. Space, a pedal or 1 is Done; 2 Back, 3 Note, 4 Photograph, 0 leaves.
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
  QLineEdit* lot_line() const { return lot_; }
  PartView* picture() const { return view_; }
  QString headline() const;
  /// Everything on the screen, to be read out.
  QString read_out() const;
  /// Why Done asks to be pressed again; empty: it does not.
  QString asking() const { return ask_; }
  bool flashing() const { return flash_ > 0; }
  /// Clocks have ended: flashes with their words.
  void flash(const QString& words);
  bool settled() const;

 protected:
  void paintEvent(QPaintEvent*) override;
  void resizeEvent(QResizeEvent*) override;
  bool event(QEvent*) override;
  void keyPressEvent(QKeyEvent*) override;
  void dragEnterEvent(QDragEnterEvent*) override;
  void dropEvent(QDropEvent*) override;

 private:
  const BenchScreen* screen() const;
  void refresh();
  void show_picture();
  void fill_view();
  void place_children();
  void tick();
  void go_on();
  void go_back();
  void ask_note();
  void ask_photo();
  void keep_note(bool wrong);
  /// Too much is in the cup: what the next part then goes to.
  QString mended_by(const BenchRun& run) const;
  QString scale_words(const BenchRun& run, const BenchScreen& s) const;
  // bench_paint.cpp
  double paint_weighing(QPainter& p, const BenchRun& run, const BenchScreen& s, double y, double wide);
  double paint_pot_life(QPainter& p, const BenchRun& run, const BenchScreen* s, QRectF at);
  void paint_side(QPainter& p, const BenchRun& run, const BenchScreen* s);
  QRectF text_area() const;
  Desk& desk_;
  DeviceHub& devices_;
  QPushButton *back_, *note_, *photo_, *done_, *leave_, *keep_, *wrong_;
  QLineEdit *note_line_, *typed_, *lot_;
  PartView* view_;
  QTimer* timer_;
  std::optional<double> scale_;
  bool stable_ = false, from_device_ = false;
  bool typed_holds_ = false;  ///< what a person typed stands until it is used
  QString why_lost_;          ///< why the scale's last reading holds no longer
  QString ask_;
  int flash_ = 0;
  int act_rung_ = -1;  ///< the screen whose minutes have rung
  QString flash_words_;
  std::string shown_;  ///< the step whose picture is on show
  std::shared_ptr<const StepShow> show_;
  double picture_top_ = 0;
};

}  // namespace palinform::app
