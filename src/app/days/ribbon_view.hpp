#pragma once
/// Days and nights one below the other, with what is done when.
#include <optional>
#include <QWidget>
#include <string>
#include <vector>

#include "days/try_pin.hpp"

namespace palinform::app {

class Desk;

class RibbonView : public QWidget {
  Q_OBJECT
 public:
  RibbonView(Desk& desk, QWidget* parent);
  void select(const std::string& step_id);
  const std::string& selected() const { return selected_; }
  int wanted_height() const;

 signals:
  void chosen(const std::string& step_id);
  /// A step was dragged to that day and hour; `tried` says whether it holds there.
  void dropped(const std::string& step_id, WallMinute at, const PinTry& tried);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void mouseMoveEvent(QMouseEvent*) override;
  void mouseReleaseEvent(QMouseEvent*) override;
  void keyPressEvent(QKeyEvent*) override;

 private:
  void try_at(const QPointF& p);
  void paint_drag(QPainter& p) const;
  struct Drag {
    std::string step;
    QPointF from;
    bool moved = false;
    WallMinute at = 0;
    std::optional<PinTry> tried;
    QString refused;
  };
  std::optional<Drag> drag_;
  Desk& desk_;
  std::string selected_;
  std::vector<std::pair<QRectF, std::string>> blocks_;
};

}  // namespace palinform::app
