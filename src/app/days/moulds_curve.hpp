#pragma once
/// How soon it would be done with more moulds.
#include <QWidget>

namespace palinform::app {

class Desk;

/// Finish against number of moulds, with what each costs.
class MouldsCurve : public QWidget {
  Q_OBJECT
 public:
  MouldsCurve(Desk& desk, QWidget* parent);

 signals:
  /// `from_casting`: those after the first are taken from the first casting.
  void chosen(int moulds, bool from_casting);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  bool event(QEvent*) override;

 private:
  Desk& desk_;
};

}  // namespace palinform::app
