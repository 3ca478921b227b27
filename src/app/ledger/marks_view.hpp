#pragma once
/// Figures as marks, each on its own scale: the usual range as a band, the figure as a disc (told), a ring (measured)
/// or a hatched square (guessed). A click on a figure writes it, a drag of its mark moves it.
#include <functional>
#include <QLineEdit>
#include <QWidget>

#include "shelf/figure_lines.hpp"

namespace palinform::app {

class MarksView : public QWidget {
  Q_OBJECT
 public:
  explicit MarksView(QWidget* parent = nullptr);
  /// `words` stands over the lines when there are none.
  void show_lines(std::vector<FigureLine> lines, bool may_change);
  const std::vector<FigureLine>& lines() const { return lines_; }
  QLineEdit* editor() const { return editor_; }
  /// Where the figure of a line is written, for tests and whoever points at it.
  QRect figure_rect(int line) const;
  QPointF mark_at(int line) const;
  void select(int line);
  int selected() const { return selected_; }
  QSize sizeHint() const override;

 signals:
  void written(const QString& key, double value);
  void struck_out(const QString& key);
  void dragged(const QString& key, double value);
  void source_turned(const QString& key);
  void chosen(int line);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void mouseMoveEvent(QMouseEvent*) override;
  void mouseReleaseEvent(QMouseEvent*) override;
  void keyPressEvent(QKeyEvent*) override;

 private:
  void write(int line);
  void commit();
  QRectF scale_rect(int line) const;
  double shown_value(int line) const;
  std::vector<FigureLine> lines_;
  QLineEdit* editor_;
  int selected_ = -1, dragging_ = -1, written_ = -1;
  double drag_value_ = 0;
  bool may_change_ = false;
};

}  // namespace palinform::app
