#pragma once
/// Flow of a squeeze mould: how much is poured over, where it is heaped, which end comes down first; and the closing
/// seen from above, the front drawn as lines of the gap at which resin has come so far.
#include "shell/stage_page.hpp"

namespace palinform {
struct ClosingResult;
}

namespace palinform::app {

/// From above over the half that holds the resin.
class ClosingView : public QWidget {
  Q_OBJECT
 public:
  explicit ClosingView(QWidget* parent = nullptr);
  /// `gap_mm`: how far the halves are apart now; none: shut.
  void show_closing(std::shared_ptr<const ClosingResult> closing, std::optional<double> gap_mm, const QString& unit,
                    double per_mm);
  /// Where a place of the grid, u and v, is drawn.
  QPointF place_of(double u_mm, double v_mm) const;

 signals:
  void heaped(double u_mm, double v_mm);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent*) override;

 private:
  QRectF field() const;
  std::shared_ptr<const ClosingResult> closing_;
  std::optional<double> gap_mm_;
  QString unit_;
  double per_mm_ = 1;
};

class SqueezeBar : public QWidget {
  Q_OBJECT
 public:
  SqueezeBar(Desk& desk, QWidget* parent);
  void refresh(const ClosingResult* closing);

 private:
  Desk& desk_;
  FigureField *over_, *heap_;
  Chips* ends_;
  QPushButton *brushed_, *below_, *planned_;
};

}  // namespace palinform::app
