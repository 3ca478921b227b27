#pragma once
/// One batch for several jobs: those of the shop that cast in the same material, how many of them come out of one cup
/// inside its pot life, and the pours laid into it.
#include "mix/shared_batch.hpp"
#include "shell/stage_page.hpp"

namespace palinform::app {

/// The pot life as a bar: stirring, vacuum, one pour after the other, what is left.
class SharedPicture : public QWidget {
  Q_OBJECT
 public:
  SharedPicture(Desk& desk, QWidget* parent);
  void show_batch(std::optional<SharedBatch> batch);

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  Desk& desk_;
  std::optional<SharedBatch> batch_;
};

class TogetherView : public QWidget {
  Q_OBJECT
 public:
  TogetherView(Desk& desk, QWidget* parent);
  void refresh();

 private:
  Desk& desk_;
  QPushButton *look_, *begin_;
  QLabel* told_;
  QWidget* rows_;
  SharedPicture* picture_;
  std::vector<std::string> left_out_;  ///< ids that the person took out
  std::string shown_;
};

}  // namespace palinform::app
