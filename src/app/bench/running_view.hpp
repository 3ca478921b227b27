#pragma once
/// All runs at the bench, of whatever job: where each is, and what rings next, soonest first.
#include <QWidget>

namespace palinform::app {

class Desk;

class RunningView : public QWidget {
  Q_OBJECT
 public:
  explicit RunningView(Desk& desk, QWidget* parent = nullptr);
  void lay_out();

 signals:
  void job_chosen(const QString& id);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent*) override;

 private:
  Desk& desk_;
  std::vector<std::pair<QRectF, std::string>> rows_;
};

}  // namespace palinform::app
