#pragma once
/// Pop-over card of Split: cores and inserts that are cast in, and threads on bores and studs.
#include <optional>

#include "cast_in/insert.hpp"
#include "cast_in/thread.hpp"
#include "shell/fits_card.hpp"

class QGridLayout;

namespace palinform::app {

class CastInCard : public PopCard {
  Q_OBJECT
 public:
  CastInCard(Desk& desk, QWidget* parent);
  void refresh() override;
  /// A place of the part was clicked: a bore or a stud there may take a thread; else the insert in hand goes there.
  void pick(uint32_t face, const Vec3& at_mm);
  /// The insert whose figures are open.
  std::optional<size_t> in_hand() const { return open_; }

 signals:
  void pointed(const palinform::Vec3& at);
  void mesh_wanted();

 private:
  void put_insert(QGridLayout* grid, int& row, size_t k);
  void put_thread(QGridLayout* grid, int& row, const ThreadChoice& at, std::optional<size_t> said);
  void add(Insert insert, const QString& what);
  Desk& desk_;
  QWidget* body_ = nullptr;
  QPushButton *bar_, *nut_, *file_;
  QLabel* hint_;
  std::string shown_;
  std::optional<size_t> open_;
  std::optional<ThreadChoice> stud_;  ///< clicked, and without a thread yet
};

}  // namespace palinform::app
