#pragma once
/// The open judgement calls, weightiest first, each with its reason and its ways out as buttons.
#include <QAbstractButton>
#include <QScrollArea>
#include <QWidget>
#include <set>

#include "overview/overview.hpp"

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
  /// This stage's cards stand open; every other stage is one line until it is unfolded.
  void set_stage(Stage s);
  void unfold(Stage s);

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
  std::set<Stage> unfolded_;                                ///< besides the one in view
  std::vector<std::pair<std::string, std::string>> shown_;  ///< what the cards were built from
};

/// What another stage has to say, in one line: mark of the weightiest, name, count, the worst. A press unfolds it.
class FoldedStage : public QAbstractButton {
  Q_OBJECT
 public:
  FoldedStage(Stage stage, const std::vector<const OpenFinding*>& findings, bool open, QWidget* parent);
  QSize sizeHint() const override { return {260, 44}; }

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  Severity worst_ = Severity::note;
  bool open_, answered_;
  QString head_, what_;
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
