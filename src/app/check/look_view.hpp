#pragma once
/// Check, looking: the casting with what is seen on it, over what Flow foresaw; beside it the causes and one change.
#include "shell/stage_page.hpp"
#include "view3d/part_view.hpp"

class QScrollArea;
class QVBoxLayout;

namespace palinform::app {

class LookView : public QWidget {
  Q_OBJECT
 public:
  LookView(Desk& desk, QWidget* parent = nullptr);
  /// Shows that casting, an index among the job's; none: −1.
  void show_casting(int index);
  PartView* view() const { return view_; }
  /// A click on the part: the fault in hand is there.
  void click(double x, double y);
  void point_at(const std::optional<Vec3>& at) { pointed_ = at, view_->update(); }

 protected:
  void resizeEvent(QResizeEvent*) override;
  void dragEnterEvent(QDragEnterEvent*) override;
  void dropEvent(QDropEvent*) override;

 private:
  void take_photo(const QString& path);
  void draw_over(QPainter& p);
  void rebuild();
  void put_fault(QVBoxLayout* col, size_t k);
  void put_record(QVBoxLayout* col);
  void put_photos(QVBoxLayout* col);
  /// Changes the casting on show.
  void change(const QString& what, const std::function<void(Casting&)>& set, const QString& merge = {});
  void take(size_t fault, const Change& change);
  const Casting* casting() const;
  Desk& desk_;
  PartView* view_;
  QScrollArea* side_;
  QLabel* hint_;
  int casting_ = -1;
  size_t fault_ = 0;  ///< in hand
  bool record_open_ = false;
  std::optional<Vec3> pointed_;
  std::string shown_, scene_;
};

}  // namespace palinform::app
