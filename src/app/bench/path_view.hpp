#pragma once
/// The steps of the run, or of the plan, as paths from left to right: what is behind is solid, what is in hand large.
#include <QWidget>

namespace palinform::app {

class Desk;

class PathView : public QWidget {
  Q_OBJECT
 public:
  explicit PathView(Desk& desk, QWidget* parent = nullptr);
  /// Columns that this width takes, and the height they need.
  void lay_out();

 signals:
  /// A step of the plan was clicked: its id.
  void step_chosen(const QString& id);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void resizeEvent(QResizeEvent*) override;

 private:
  struct Stop {
    QString title;
    std::string id;
    int first = 0, last = 0;  ///< screens of the run
  };
  std::vector<Stop> stops() const;
  Desk& desk_;
};

}  // namespace palinform::app
