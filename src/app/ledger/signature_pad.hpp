#pragma once
/// A line to sign on with pen, finger or mouse.
#include <QDialog>

#include "job/setup.hpp"

namespace palinform::app {

/// What was written on a pad 76 mm wide; nothing where it was put away or left empty. `words` stand over it.
std::optional<OwnersPiece::Signature> ask_signature(const QString& words, QWidget* parent);

class SignaturePad : public QWidget {
  Q_OBJECT
 public:
  explicit SignaturePad(QWidget* parent = nullptr);
  const OwnersPiece::Signature& written() const { return lines_; }
  void clear();

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void mouseMoveEvent(QMouseEvent*) override;

 private:
  void add(const QPointF& at);
  OwnersPiece::Signature lines_;
};

}  // namespace palinform::app
