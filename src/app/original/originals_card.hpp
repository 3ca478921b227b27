#pragma once
/// Card laid over the original: other surviving originals of its kind, and what their spread says of every size.
#include "shell/fits_card.hpp"

namespace palinform::app {

class OriginalsCard : public PopCard {
  Q_OBJECT
 public:
  OriginalsCard(Desk& desk, QWidget* parent);
  void refresh() override;

 private:
  Desk& desk_;
  QWidget* body_ = nullptr;
  std::string shown_;
};

}  // namespace palinform::app
