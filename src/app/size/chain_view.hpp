#pragma once
/// For each size a ladder from the master to the casting, against the gap its limits leave.
#include <QColor>
#include <QWidget>
#include <string>
#include <utility>

#include "size/chain.hpp"

namespace palinform::app {

class Desk;

/// Colour and pattern of a step, so that neither speaks alone; and its word.
std::pair<QColor, Qt::BrushStyle> step_look(ChainStep::Kind k);
QString step_word(ChainStep::Kind k);

class ChainView : public QWidget {
  Q_OBJECT
 public:
  ChainView(Desk& desk, QWidget* parent);
  QSize sizeHint() const override { return {700, 480}; }
  int row_height() const { return row_; }
  void mark(const std::string& size_id);

 protected:
  void paintEvent(QPaintEvent*) override;
  /// Over a row: each contribution with its value and uncertainty.
  bool event(QEvent*) override;

 private:
  Desk& desk_;
  std::string marked_;
  int row_ = 70;
};

}  // namespace palinform::app
