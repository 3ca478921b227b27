#pragma once
/// A photograph as large as it goes, on which what is seen is ringed by dragging.
#include <QDialog>
#include <QImage>
#include <vector>

class QPushButton;

namespace palinform::app {

class PhotoCanvas : public QWidget {
  Q_OBJECT
 public:
  PhotoCanvas(const QImage& photo, bool read_only, QWidget* parent);
  /// Rings, in pixels of the photograph.
  const std::vector<QRectF>& rings() const { return rings_; }
  void take_back();
  QImage with_rings() const;

 signals:
  void changed();

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void mouseMoveEvent(QMouseEvent*) override;
  void mouseReleaseEvent(QMouseEvent*) override;

 private:
  QRectF place() const;
  QPointF on_photo(const QPointF& p) const;
  QImage photo_;
  bool read_only_;
  std::vector<QRectF> rings_;
  std::optional<QPointF> from_, to_;
};

class PhotoSheet : public QDialog {
  Q_OBJECT
 public:
  PhotoSheet(const QImage& photo, bool read_only, QWidget* parent);
  PhotoCanvas* canvas() const { return canvas_; }

 signals:
  /// The photograph with its rings.
  void marked(const QImage& image);

 private:
  PhotoCanvas* canvas_;
  QPushButton *keep_, *back_;
};

}  // namespace palinform::app
