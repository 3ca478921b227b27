#pragma once
/// The frame: top line, strand, canvas, findings, tally.
#include <array>
#include <memory>
#include <QMainWindow>

#include "overview/overview.hpp"

class QStackedWidget;
class QLabel;
class QPushButton;
class QMenu;

namespace palinform::app {

class Desk;
class Strand;
class FindingsPanel;
class StagePage;
class OriginalPage;
class SizePage;
class SplitPage;
class MouldPage;
class FlowPage;
class MixPage;
class DaysPage;
class BenchPage;
class LedgerPage;
class DeviceHub;
class CheckPage;
class PartChips;
class PartsCard;
class WallPage;

class MainWindow : public QMainWindow {
  Q_OBJECT
 public:
  explicit MainWindow(std::unique_ptr<Desk> desk);
  ~MainWindow() override;

  Desk& desk() const { return *desk_; }
  void go(Stage s);
  Stage stage() const { return stage_; }
  StagePage* page(Stage s) const { return pages_[static_cast<size_t>(s)]; }
  OriginalPage* original() const { return original_; }
  CheckPage* check() const { return check_; }
  MixPage* mix() const { return mix_; }
  DaysPage* days() const { return days_; }
  BenchPage* bench() const { return bench_; }
  LedgerPage* ledger() const { return ledger_; }
  DeviceHub* devices() const { return devices_; }
  MouldPage* mould() const { return mould_; }
  FlowPage* flow() const { return flow_; }
  SplitPage* split() const { return split_; }
  /// The whole shop in front of everything, or the job again.
  void show_wall(bool on);
  WallPage* wall() const { return wall_; }
  FindingsPanel* findings() const { return findings_; }
  Strand* strand() const { return strand_; }
  void fold_findings(bool fold);
  void set_dusk_theme(bool on);
  /// The tally as one line of text, as it stands on the screen.
  QString tally_text() const;
  QString message_text() const;

 protected:
  void closeEvent(QCloseEvent*) override;

 private:
  void build_menus();
  void refresh();
  void show_message(const QString& text, bool fault);
  void fill_jobs_menu();
  void ask_elsewhere();
  void export_sheet();

  std::unique_ptr<Desk> desk_;
  Strand* strand_;
  FindingsPanel* findings_;
  QStackedWidget* stack_;
  std::array<StagePage*, stage_count> pages_{};
  OriginalPage* original_;
  SizePage* size_;
  SplitPage* split_;
  MouldPage* mould_;
  FlowPage* flow_;
  MixPage* mix_;
  DaysPage* days_;
  BenchPage* bench_;
  CheckPage* check_;
  LedgerPage* ledger_;
  DeviceHub* devices_;
  WallPage* wall_;
  bool folded_ = false;  ///< the findings, while the wall is on show
  QPushButton *wall_button_, *name_, *units_, *undo_, *redo_, *fold_, *parts_, *keep_tried_, *drop_tried_;
  PartChips* part_chips_;
  PartsCard* parts_card_;
  QLabel *client_, *saved_;
  QWidget* message_bar_;
  QLabel* message_;
  QPushButton* elsewhere_;
  QWidget* tally_;
  std::array<QLabel*, 6> tally_items_{};
  QMenu *jobs_menu_, *units_menu_;
  QAction *undo_action_, *redo_action_, *dusk_action_;
  Stage stage_ = Stage::original;
  bool close_anyway_ = false;  ///< asked, and the answer was to lose what is not kept
};

}  // namespace palinform::app
