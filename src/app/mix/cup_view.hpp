#pragma once
/// The cup drawn to scale with its fill lines, the scale's readings to be read from two metres, and the pot life: one
/// bar for one cup, a row for each of several.
#include "shell/stage_page.hpp"

namespace palinform::app {

class CupView : public QWidget {
  Q_OBJECT
 public:
  CupView(Desk& desk, QWidget* parent);
  void show_pour(int i);
  /// The three scale readings as shown, for tests and readers.
  const QStringList& readings() const { return readings_; }

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  void paint_pot_life(QPainter& p, const PourMix& m) const;
  void paint_cups(QPainter& p, const PourMix& m) const;
  Desk& desk_;
  int pour_ = 0;
  QStringList readings_;
};

}  // namespace palinform::app
