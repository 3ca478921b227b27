#pragma once
/// Check, by pull: a size of the mould's castings against its limits with scatter, drift and signals; under it which
/// faults were seen on which casting.
#include <QWidget>

#include "check/run_chart.hpp"
#include "shell/stage_page.hpp"

namespace palinform::app {

class RunView : public QWidget {
  Q_OBJECT
 public:
  explicit RunView(Desk& desk, QWidget* parent = nullptr);
  void refresh();
  /// The chart on show; nothing where no size is measured.
  const std::optional<RunChart>& chart() const { return chart_; }

 protected:
  void paintEvent(QPaintEvent*) override;
  void resizeEvent(QResizeEvent*) override;

 private:
  Desk& desk_;
  Chips* sizes_;
  QLabel* told_;
  int size_ = 0;
  /// One mould's castings, by its own pulls.
  struct OfMould {
    int mould = 1;
    std::vector<RunPoint> points;
  };
  std::vector<OfMould> moulds_;   ///< the newest last
  std::vector<RunPoint> points_;  ///< the newest mould's
  std::optional<RunChart> chart_;
};

}  // namespace palinform::app
