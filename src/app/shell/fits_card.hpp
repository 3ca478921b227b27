#pragma once
/// Pop-over cards about fits: the calculator, and limits for a size from its mate.
#include <QFrame>

#include "original/fits.hpp"
#include "shell/stage_page.hpp"

class QVBoxLayout;

namespace palinform::app {

/// A card laid over the page, with a head and a way to close it (button or Esc).
class PopCard : public QFrame {
  Q_OBJECT
 public:
  PopCard(const QString& head, const QString& name, QWidget* parent);
  /// Shows itself with its top right corner there, in the parent's coordinates.
  void show_at(const QPoint& top_right);
  /// Opens freshly read with its top right corner there, or shuts where it is open; the others shut.
  void toggle_at(const QPoint& top_right, const std::vector<PopCard*>& others);
  /// Reads the desk again; called while the card is open.
  virtual void refresh() {}

 signals:
  void closed();

 protected:
  void keyPressEvent(QKeyEvent*) override;
  /// Takes a body that is to be made anew out of the card: gone at once for whoever looks by name, deleted later, since
  /// one of its own buttons may have asked for it.
  void retire(QWidget* body);
  /// An empty body under the head, in place of the one before.
  QWidget* renewed(QWidget* body);
  /// As large as its body wants, now that it is filled. A body made while the card is open counts only once shown.
  void fit(QWidget* body);
  QVBoxLayout* col_;
};

/// Wrapped words on a card; `role` as the theme knows it ("small").
QLabel* card_words(const QString& text, const char* role = nullptr);

/// A node's key and whether its result is fresh: a stale result shown under a new key must be shown again.
template <class T>
std::string node_mark(const Planner& plan, const Slot<T>& slot) {
  const SlotState s = plan.state(slot);
  return s.key.hex() + (s.state == Freshness::fresh ? "f" : "s") + (plan.newest(slot) ? "v" : "-");
}

/// Both tolerance zones over the nominal line.
class FitPicture : public QWidget {
  Q_OBJECT
 public:
  explicit FitPicture(QWidget* parent = nullptr);
  void show_fit(const std::optional<Fit>& f);

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  std::optional<Fit> fit_;
};

class FitsCard : public PopCard {
  Q_OBJECT
 public:
  explicit FitsCard(QWidget* parent);

 private:
  void work_out();
  QLineEdit* edit_;
  FitPicture* picture_;
  QLabel* told_;
};

class MateCard : public PopCard {
  Q_OBJECT
 public:
  MateCard(Desk& desk, QWidget* parent);
  void for_size(const std::string& id);

 private:
  void work_out();
  Desk& desk_;
  std::string id_;
  QLineEdit* mate_;
  Chips* wish_;
  QLabel* told_;
  QPushButton* use_;
  std::optional<LimitsForMate> found_;
};

}  // namespace palinform::app
