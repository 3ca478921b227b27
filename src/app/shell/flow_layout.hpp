#pragma once
/// Buttons side by side, wrapped into rows as the width allows.
#include <QLayout>

namespace palinform::app {

class FlowLayout : public QLayout {
 public:
  explicit FlowLayout(QWidget* parent = nullptr, int gap = 6) : QLayout(parent), gap_(gap) {
    setContentsMargins(0, 0, 0, 0);
  }
  ~FlowLayout() override {
    while (QLayoutItem* i = takeAt(0)) delete i;
  }
  void addItem(QLayoutItem* item) override { items_.append(item); }
  int count() const override { return static_cast<int>(items_.size()); }
  QLayoutItem* itemAt(int i) const override { return items_.value(i); }
  QLayoutItem* takeAt(int i) override { return i >= 0 && i < items_.size() ? items_.takeAt(i) : nullptr; }
  Qt::Orientations expandingDirections() const override { return {}; }
  bool hasHeightForWidth() const override { return true; }
  int heightForWidth(int w) const override { return place(QRect(0, 0, w, 0), false); }
  QSize sizeHint() const override { return minimumSize(); }
  QSize minimumSize() const override {
    int h = 0;  // any width will do: a button wider than the row is squeezed, never pushes the row out
    for (const QLayoutItem* i : items_) h = qMax(h, i->sizeHint().height());
    return {60, h};
  }
  void setGeometry(const QRect& r) override {
    QLayout::setGeometry(r);
    place(r, true);
  }

 private:
  int place(const QRect& r, bool apply) const {
    int x = r.x(), y = r.y(), row = 0;
    for (QLayoutItem* i : items_) {
      const QSize s = i->sizeHint();
      if (x > r.x() && x + s.width() > r.right() + 1) {
        x = r.x();
        y += row + gap_;
        row = 0;
      }
      if (apply) i->setGeometry(QRect(QPoint(x, y), QSize(qMin(s.width(), r.width()), s.height())));
      x += s.width() + gap_;
      row = qMax(row, s.height());
    }
    return y + row - r.y();
  }
  QList<QLayoutItem*> items_;
  int gap_;
};

}  // namespace palinform::app
