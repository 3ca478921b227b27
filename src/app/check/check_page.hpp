#pragma once
/// Check: what is seen on a casting and why; each size as a strip, the reading with its uncertainty against the limits
/// and the guard band; sizes and faults by pull; its scan on the original.
#include <map>

#include "check/look_view.hpp"
#include "check/run_view.hpp"
#include "check/scan_view.hpp"
#include "shell/stage_page.hpp"

class QVBoxLayout;
class QScrollArea;

namespace palinform::app {

class CheckStrip : public QWidget {
  Q_OBJECT
 public:
  CheckStrip(Desk& desk, std::string size_id, QWidget* parent);
  void show_judgement(const MeasuredSize& s, const Judgement& j, const std::vector<double>& values, bool guard,
                      bool marked);
  QLineEdit* readings() const { return readings_; }
  const std::string& size_id() const { return size_id_; }

 signals:
  void entered(const std::vector<double>& values_mm);

 protected:
  void paintEvent(QPaintEvent*) override;
  void resizeEvent(QResizeEvent*) override;

 private:
  Desk& desk_;
  std::string size_id_;
  MeasuredSize size_;
  Judgement judgement_;
  bool guard_ = true, marked_ = false;
  QLineEdit* readings_;
};

class CheckPage : public StagePage {
  Q_OBJECT
 public:
  CheckPage(Desk& desk, QWidget* parent = nullptr);
  void refresh() override;
  void point_at(const Finding& f) override;
  void begin_casting();
  /// A caliper reading goes to the field in focus, else to the first size not measured.
  void take_reading(double mm);
  CheckStrip* strip(const std::string& size_id) const;
  enum class View { look, sizes, pulls, scan };
  void show_view(View v);
  View view() const { return view_; }
  LookView* look() const { return look_; }
  RunView* by_pull() const { return pulls_; }
  ScanView* scan() const { return scan_; }
  bool settled() const override;
  /// The first-article sheet of the casting on show, in the background: .pdf or .xlsx.
  void write_first_article(const QString& path);

 private:
  void rebuild(const std::string& signature);
  Chips *castings_, *rules_, *views_;
  QPushButton *add_, *remove_, *sheet_;
  QLabel *told_, *empty_;
  QLineEdit* note_;
  QScrollArea* scroll_;
  LookView* look_;
  RunView* pulls_;
  ScanView* scan_;
  View view_ = View::look;
  QWidget* head_;
  CheckStrip* in_round_ = nullptr;  ///< that the round put the cursor in
  std::vector<CheckStrip*> strips_;
  std::string shown_, marked_;
  int casting_ = -1;
};

}  // namespace palinform::app
