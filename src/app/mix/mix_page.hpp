#pragma once
/// Mix: the cup drawn to scale with its fill lines, the scale's three readings to be read from two metres, the pot-life
/// bar with stirring, vacuum and pour laid into it.
#include "shell/stage_page.hpp"

namespace palinform::app {

class CupView;
class ColourView;
class MeetingView;
class TogetherView;

class MixPage : public StagePage {
  Q_OBJECT
 public:
  MixPage(Desk& desk, QWidget* parent = nullptr);
  void refresh() override;
  void point_at(const Finding& f) override;
  CupView* cup() const { return cup_; }
  void choose_pour(int i);
  bool resin_in_view() const;
  MeetingView* meeting() const { return meeting_; }  ///< null before it was looked at
  ColourView* colour() const { return colour_; }     ///< null before it was looked at
  /// 0: what to weigh; 1: what meets what; 2: colour, what is stirred in, left-overs; 3: one batch for several jobs.
  void show_view(int i);
  /// Opens the bottle of the pour in view, on the shelf.
  void show_bottle();

 private:
  Chips *pours_, *views_;
  CupView* cup_;
  MeetingView* meeting_ = nullptr;
  ColourView* colour_ = nullptr;
  TogetherView* together_ = nullptr;
  int views_at_ = 0;
  QPushButton* bottle_;
  ChoiceField* division_;
  FigureField *waste_, *tare_, *cup_ml_, *copies_;
  ChoiceField *air_, *own_cup_;
  QLabel *empty_, *cautions_;
  QWidget* fields_;
  int pour_ = 0;
  QStringList shown_pours_;
  int filled_ = 0;  ///< turns that the first filling has had
};

}  // namespace palinform::app
