#pragma once
/// Pop-over cards of Split: weights of the search, ways to make the split, where the line shows.
#include "mould/way_sketch.hpp"
#include "shell/fits_card.hpp"
#include "split/ways.hpp"

class QGridLayout;
class QSlider;

namespace palinform::app {

class WeightsCard : public PopCard {
  Q_OBJECT
 public:
  WeightsCard(Desk& desk, QWidget* parent);
  void refresh() override;

 private:
  Desk& desk_;
  std::vector<QSlider*> sliders_;
  std::vector<QLabel*> figures_;
};

/// A whole way in section, to scale: the part, its rubber, where the mould parts.
class WayPicture : public QWidget {
  Q_OBJECT
 public:
  explicit WayPicture(const WaySketch& sketch, const QString& words, QWidget* parent = nullptr);

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  WaySketch sketch_;
};

/// The best three whole ways side by side as pictures, chosen by a press; the rest in a line each.
class WaysCard : public PopCard {
  Q_OBJECT
 public:
  WaysCard(Desk& desk, QWidget* parent);
  void refresh() override;

 private:
  Desk& desk_;
  QWidget* body_ = nullptr;
  std::string shown_;
};

class WitnessCard : public PopCard {
  Q_OBJECT
 public:
  WitnessCard(Desk& desk, QWidget* parent);
  void refresh() override;

 signals:
  void pointed(const palinform::Vec3& at);

 private:
  Desk& desk_;
  QWidget* body_ = nullptr;
  std::string shown_;
};

}  // namespace palinform::app
