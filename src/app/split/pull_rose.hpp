#pragma once
/// The pull rose: the half-globe of pull directions drawn flat, shaded by score; a click or a drag picks one.
#include <QImage>
#include <QWidget>

#include "split/pull_search.hpp"

namespace palinform::app {

class PullRose : public QWidget {
  Q_OBJECT
 public:
  explicit PullRose(QWidget* parent = nullptr);
  /// `search` may be null (still searching). `now`: the pull in use.
  void show_search(std::shared_ptr<const PullSearch> search, const Vec3& now);
  /// Direction under a place of the widget; nothing outside the globe. Equal areas: a place's share of the disc is the
  /// direction's share of the globe.
  std::optional<Vec3> direction_at(const QPointF& p) const;
  QPointF place_of(const Vec3& d) const;

 signals:
  void picked(const palinform::Vec3& pull, bool dragging);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void mouseMoveEvent(QMouseEvent*) override;
  void mouseReleaseEvent(QMouseEvent*) override;
  void keyPressEvent(QKeyEvent*) override;

 private:
  QRectF disc() const;
  void shade();
  void pick(const QPointF& p, bool dragging);
  std::shared_ptr<const PullSearch> search_;
  Vec3 now_{0, 0, 1};
  QImage shading_;
  QString words_;
};

}  // namespace palinform::app
