#pragma once
/// What meets what in this job: a square of everything that touches, each crossing marked by how it goes; what is used
/// at the bench and what lies between is told here, and patch and cup tests are entered.
#include "shell/stage_page.hpp"

namespace palinform::app {

/// The square itself.
class MeetingSquare : public QWidget {
  Q_OBJECT
 public:
  MeetingSquare(Desk& desk, QWidget* parent);
  void refresh();
  /// The crossing of two parties by their ids, for tests; empty where they are not there.
  QRect crossing(const std::string& a, const std::string& b) const;
  QString words() const { return words_; }

 signals:
  void told(const QString& words);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent*) override;

 private:
  QRect cell(int row, int col) const;
  Desk& desk_;
  std::shared_ptr<const MeetingsResult> r_;
  int row_ = -1, col_ = -1;
  QString words_;
};

class MeetingView : public QWidget {
  Q_OBJECT
 public:
  MeetingView(Desk& desk, QWidget* parent);
  void refresh();
  MeetingSquare* square() const { return square_; }

 private:
  void keep_trial(TrialKind kind, bool cured);
  Desk& desk_;
  MeetingSquare* square_;
  ChoiceField *clay_, *gloves_, *stick_, *lot_;
  QPushButton *released_, *barrier_, *sealed_, *patch_[2], *cup_[2];
  QLabel* told_;
};

}  // namespace palinform::app
