#pragma once
/// Every edit of the job in hand: when, who, what; any of them looked at in the whole window and brought back.
#include <QWidget>

class QListWidget;
class QLabel;
class QPushButton;

namespace palinform::app {

class Desk;

class HistoryView : public QWidget {
  Q_OBJECT
 public:
  /// Asks for the name that stands beside edits.
  static void ask_who(Desk& desk, QWidget* parent);
  explicit HistoryView(Desk& desk, QWidget* parent = nullptr);
  void refresh();

 private:
  void look();
  Desk& desk_;
  QListWidget* list_;
  QLabel* told_;
  QPushButton *look_, *who_;
};

}  // namespace palinform::app
