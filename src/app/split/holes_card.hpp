#pragma once
/// Pop-over card of Split: what passes through the part or into it, what becomes of each, and thin rubber.
#include <optional>

#include "shell/fits_card.hpp"
#include "split/openings.hpp"

class QGridLayout;

namespace palinform::app {

class HolesCard : public PopCard {
  Q_OBJECT
 public:
  HolesCard(Desk& desk, QWidget* parent);
  void refresh() override;
  /// Marks an opening's row, as it was clicked on the part.
  void pick(size_t opening);
  /// The same of the pocket that a face of the master belongs to; false where it belongs to none.
  bool pick_pocket(uint32_t triangle);

 signals:
  void pointed(const palinform::Vec3& at);
  void pin_sheet_wanted();
  void plate_sheet_wanted();

 private:
  /// What an opening is, how it may be dealt with, and the figures of how it is.
  void put_opening(QGridLayout* grid, int& row, const Openings& all, size_t k);
  /// A row's first line, to be pressed open: what it is, and what is said of it.
  QPushButton* put_head(QGridLayout* grid, int& row, bool open, const QString& name, const QString& told,
                        const QString& said);
  /// Pockets that a slide forms, then places that lock and neither opening nor bore are.
  void put_pockets(QGridLayout* grid, int& row);
  Desk& desk_;
  QWidget* body_ = nullptr;
  QPushButton *sheet_, *plates_;
  std::string shown_;
  std::optional<size_t> picked_;
  std::string pocket_;  ///< picked: "slide-1", "locks-2"
};

}  // namespace palinform::app
