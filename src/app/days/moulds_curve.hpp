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
  void chosen(int moulds);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent*) override;

 private:
  Desk& desk_;
};

}  // namespace palinform::app
