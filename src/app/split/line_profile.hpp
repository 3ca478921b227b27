#pragma once
/// The parting line unrolled.
#include <QWidget>
#include <vector>

#include "base/vec.hpp"

namespace palinform::app {

/// Height of the line along its length: the longest loop unrolled.
class LineProfile : public QWidget {
  Q_OBJECT
 public:
  explicit LineProfile(QWidget* parent = nullptr);
  void show_line(const std::vector<Vec3>& loop, const Vec3& pull, const class Units& units);
  QSize sizeHint() const override { return {400, 74}; }

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  std::vector<std::pair<double, double>> points_;
  QString words_;
};

}  // namespace palinform::app
