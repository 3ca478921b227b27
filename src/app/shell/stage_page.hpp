#pragma once
/// What every stage's page has in common, and the small inputs they are built from.
#include <functional>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QWidget>
#include <vector>

#include "overview/overview.hpp"

class QHBoxLayout;
class QScrollArea;

namespace palinform::app {

class Desk;

class StagePage : public QWidget {
  Q_OBJECT
 public:
  StagePage(Desk& desk, QWidget* parent);
  /// Reads the desk again. Called on every change while the page is on show, and when it comes on show.
  virtual void refresh() = 0;
  /// Shows the place a finding speaks of.
  virtual void point_at(const Finding&) {}
  /// True once the picture is as good as it gets (for screenshots).
  virtual bool settled() const { return true; }

 protected:
  void showEvent(QShowEvent*) override;
  Desk& desk_;
};

/// A row of chips of which one is down; `wraps`: in as many rows as the width asks for.
class Chips : public QWidget {
  Q_OBJECT
 public:
  explicit Chips(QWidget* parent = nullptr, bool wraps = false);
  QPushButton* add(const QString& words, const QString& name);
  void clear();
  void set_current(int i);
  int current() const;
  int count() const { return static_cast<int>(buttons_.size()); }
  QPushButton* at(int i) const { return buttons_[static_cast<size_t>(i)]; }

 signals:
  void chosen(int i);

 private:
  QLayout* row_;
  std::vector<QPushButton*> buttons_;
};

QPushButton* chip(const QString& words, const QString& name, bool checkable = false);
/// Shows a remark of the page itself: quiet text on the canvas.
QLabel* remark(const QString& words = {});

/// A labelled figure with its unit. Takes what is typed only when it is a number in range; otherwise the field is
/// marked and a tool tip says why, and nothing is changed.
class FigureField : public QWidget {
  Q_OBJECT
 public:
  FigureField(const QString& label, const QString& name, int width = 92, QWidget* parent = nullptr);
  void show_value(std::optional<double> v, int digits, const QString& unit);
  void set_range(double low, double high) { low_ = low, high_ = high; }
  /// An empty field means "none" instead of a fault.
  void allow_empty(const QString& placeholder);
  QLineEdit* edit() const { return edit_; }

 signals:
  void entered(double v);
  void emptied();

 private:
  void commit();
  QLabel* label_;
  QLineEdit* edit_;
  QString words_, shown_;
  double low_ = -1e12, high_ = 1e12;
  bool empty_ok_ = false;
};

/// A labelled list to choose from, by id.
class ChoiceField : public QWidget {
  Q_OBJECT
 public:
  ChoiceField(const QString& label, const QString& name, int width, QWidget* parent = nullptr);
  void set_items(const std::vector<std::pair<std::string, QString>>& items);
  void show_current(const std::string& id);
  QComboBox* box() const { return box_; }

 signals:
  void chosen(const std::string& id);

 private:
  QComboBox* box_;
};

/// A line to type into with its label above it, put into `row` (width 0: it takes the room left); its fault mark goes
/// when it is typed in again.
QLineEdit* add_line(QHBoxLayout* row, const QString& label, const QString& name, int width);

/// `inside` in an area that scrolls up and down only, without a frame.
QScrollArea* scrolled(QWidget* inside);

void mark_fault(QLineEdit* edit, const QString& why);
void clear_fault(QLineEdit* edit);

}  // namespace palinform::app
