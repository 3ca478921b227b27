#pragma once
/// Original: the part with its sizes called out on it; a size is added by clicking two faces or a bore.
#include <optional>

#include "original/draw_card.hpp"
#include "original/measure_between.hpp"
#include "original/originals_card.hpp"
#include "original/part_cards.hpp"
#include "original/size_card.hpp"
#include "original/trace_view.hpp"
#include "shell/stage_page.hpp"
#include "view3d/part_view.hpp"

namespace palinform::app {

class OriginalPage : public StagePage {
  Q_OBJECT
 public:
  OriginalPage(Desk& desk, QWidget* parent = nullptr);
  void refresh() override;
  void point_at(const Finding& f) override;
  bool settled() const override;
  void select(const std::string& size_id);
  const std::string& selected() const { return selected_; }
  PartView* view() const { return view_; }
  /// Begins adding a size, as the chip does.
  void begin_adding(bool on);
  /// A caliper reading of the chosen size.
  void take_reading(double mm);
  /// A click on the canvas, in its coordinates.
  void canvas_clicked(double x, double y);
  /// How the next size is measured.
  void measure_by(Measuring m);
  /// Opens the picture to trace on, or shuts it.
  void trace(bool on);
  TraceView* tracing() const { return trace_; }
  DrawCard* draw_card() const { return draw_; }

 protected:
  void dragEnterEvent(QDragEnterEvent*) override;
  void dropEvent(QDropEvent*) override;
  void paintEvent(QPaintEvent*) override;
  void resizeEvent(QResizeEvent*) override;

 private:
  void draw_callouts(QPainter& p);
  void add_size(Proposal p);
  void size_clicked(double x, double y);
  void face_clicked(ClickMeans what, double x, double y);
  void open_dialog();
  void lay_out();
  void show_card(PopCard* card, QPushButton* chip);
  void show_scene();
  void make_room();
  /// A measure of the drawn body in hand, to be typed where it stands on the picture.
  void type_measure(const std::string& label, const RectPx& at);
  PopCard* side() const;  ///< the card open at the side, if one is
  bool side_open() const { return side() != nullptr; }
  bool shows_master() const { return master_->isVisible(); }
  const Slot<OriginalResult>& shown_slot() const { return shows_master() ? results::prepared : results::original; }

  PartView* view_;
  QPushButton *open_, *add_, *draw_chip_, *faces_chip_, *master_chip_, *duties_, *more_;
  Chips* measuring_;
  QLabel *hint_, *empty_, *mended_;
  SizeCard* card_;
  FacesCard* faces_;
  MasterCard* master_;
  DrawCard* draw_;
  TraceView* trace_;
  QLineEdit* typed_;
  BareCard* bare_;
  MateCard* mate_;
  OriginalsCard* originals_;
  FitsCard* fits_;
  std::vector<std::pair<PopCard*, QPushButton*>> cards_;  ///< all of those, with the chip that opens it or none
  std::string selected_, shown_scene_, typing_;
  QMargins margins_;
  bool adding_ = false;
  std::optional<Clicked> first_;
  struct Label {
    std::string id;
    RectPx rect;
  };
  std::vector<Label> labels_;
};

}  // namespace palinform::app
