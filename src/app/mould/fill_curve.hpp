#pragma once
/// A pour as a curve of height against mass.
#include <QWidget>

#include "mould/box.hpp"

namespace palinform::app {

/// Height against poured mass for one pour, with its fill line.
class FillCurve : public QWidget {
  Q_OBJECT
 public:
  explicit FillCurve(QWidget* parent = nullptr);
  void show_pour(const RubberPour& pour, double density_g_cm3, const class Units& units, bool side_a);
  QSize sizeHint() const override { return {190, 96}; }

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  RubberPour pour_;
  QString head_, low_;
  bool a_ = true;
};

}  // namespace palinform::app
