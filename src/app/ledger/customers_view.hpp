#pragma once
/// Whom the shop works for: each with their jobs, how these stand, and how they are reached.
#include "ledger/really_taken.hpp"
#include "shell/stage_page.hpp"

class QListWidget;
class QPlainTextEdit;

namespace palinform::app {

class Desk;

class CustomersView : public QWidget {
  Q_OBJECT
 public:
  explicit CustomersView(Desk& desk, QWidget* parent = nullptr);
  void refresh();

 private:
  void show_chosen();
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
};

}  // namespace palinform::app
