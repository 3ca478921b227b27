#pragma once
/// The open judgement calls, weightiest first, each with its reason and its ways out as buttons.
#include <QScrollArea>
#include <QWidget>

#include "job/overview.hpp"

class QVBoxLayout;
class QLabel;
class QTimer;

namespace palinform::app {

class Desk;

class FindingsPanel : public QWidget {
  Q_OBJECT
 public:
  explicit FindingsPanel(Desk& desk, QWidget* parent = nullptr);
  void refresh();
  /// Cards of this stage come first; the rest follow under "elsewhere".
  void set_stage(Stage s);

 signals:
  /// A card was chosen: show its place.
  void pointed(const OpenFinding& finding);

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  Desk& desk_;
  Stage stage_ = Stage::original;
  QTimer* calm_;  ///< a drag changes every figure many times a second: cards are rebuilt at most ten times
  QLabel* head_;
  QScrollArea* scroll_;
  std::vector<std::pair<std::string, std::string>> shown_;  ///< what the cards were built from
};

/// One card. Its left edge tells the weight by colour and by pattern: solid double bar stop, solid caution, dotted
/// note.
class FindingCard : public QWidget {
  Q_OBJECT
 public:
  FindingCard(const OpenFinding& finding, Desk& desk, QWidget* parent);
  const OpenFinding& finding() const { return finding_; }

 signals:
  void pointed(const OpenFinding& finding);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void keyPressEvent(QKeyEvent*) override;
  void focusInEvent(QFocusEvent*) override;

 private:
  void ask_reason(const QString& first_words);
  OpenFinding finding_;
  Desk& desk_;
  QVBoxLayout* column_;
  QWidget* reason_ = nullptr;
};

}  // namespace palinform::app
