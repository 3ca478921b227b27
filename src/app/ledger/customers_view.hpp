#pragma once
/// Whom the shop works for: each with their jobs, how these stand, and how they are reached.
#include "ledger/really_taken.hpp"
#include "shell/stage_page.hpp"

class QListWidget;
class QPlainTextEdit;
class QTimer;

namespace palinform::app {

class Desk;

class CustomersView : public QWidget {
  Q_OBJECT
 public:
  explicit CustomersView(Desk& desk, QWidget* parent = nullptr);
  void refresh();

 private:
  void show_chosen();
  void fill_next();  ///< what the next of their jobs says of offers and the original
  void say_head();
  void keep();
  const CustomerJobs* chosen() const;
  Desk& desk_;
  std::vector<CustomerJobs> all_;
  QListWidget *names_, *jobs_;
  QLabel *head_, *empty_;
  QLineEdit* reach_;
  QPlainTextEdit* note_;
  QWidget* side_;
  std::string shown_;
  QTimer* filling_;
  int filled_ = 0;  ///< rows of `jobs_` that are
  double offered_ = 0, taken_ = 0;
};

}  // namespace palinform::app
