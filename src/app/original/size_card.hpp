#pragma once
/// The chosen size, edited in place: name, kind, limits in any of the usual ways, readings with their spread.
#include <functional>
#include <optional>
#include <QFrame>

#include "shell/stage_page.hpp"

namespace palinform::app {

/// Readings as dots on a strip whose gap is the limits.
class DotStrip : public QWidget {
  Q_OBJECT
 public:
  explicit DotStrip(QWidget* parent = nullptr);
  void show_size(const std::optional<MeasuredSize>& s);
  QSize sizeHint() const override { return {300, 46}; }

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  std::optional<MeasuredSize> size_;
};

class SizeCard : public QFrame {
  Q_OBJECT
 public:
  explicit SizeCard(Desk& desk, QWidget* parent = nullptr);
  /// Hides itself where there is no such size.
  void show_size(const std::string& id);
  void begin_naming();

 signals:
  void removed();
  void mate_wanted();

 private:
  void edit(const std::function<void(MeasuredSize&)>& change, const QString& what);
  Desk& desk_;
  std::string id_, shown_;
  QLineEdit *name_, *readings_, *limits_;
  ChoiceField *kind_, *formed_, *finish_;
  FigureField *nominal_, *lower_, *upper_, *pin_, *resolution_;
  QLabel *told_, *readings_label_, *from_;
  DotStrip* strip_;
  QPushButton* several_;
};

}  // namespace palinform::app
