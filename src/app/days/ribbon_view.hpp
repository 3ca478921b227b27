#pragma once
/// Days and nights one below the other, with what is done when.
#include <QWidget>
#include <string>
#include <vector>

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

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void keyPressEvent(QKeyEvent*) override;

 private:
  Desk& desk_;
  std::string selected_;
  std::vector<std::pair<QRectF, std::string>> blocks_;
};

}  // namespace palinform::app
