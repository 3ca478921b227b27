#pragma once
/// What the window works on: the workshop, the job in hand with its undo, the Planner. Widgets read it and ask it for
/// edits; it saves each one and says when something changed.
#include <memory>
#include <QImage>
#include <QObject>
#include <QString>

#include "bench/run.hpp"
#include "job/history.hpp"
#include "ledger/bench_books.hpp"
#include "ledger/open_jobs.hpp"
#include "ledger/workshop.hpp"
#include "mesh/load.hpp"
#include "overview/bench_screens.hpp"
#include "overview/overview.hpp"
#include "shell/units.hpp"
#include "solid/mend.hpp"
#include "stages/materials.hpp"

class QTimer;

namespace palinform::app {

class Desk : public QObject {
  Q_OBJECT
 public:
  /// `store` keeps what was worked out; null: one of the Desk's own. `study`: how closely jobs are looked at.
  Desk(std::unique_ptr<Workshop> workshop, const Shop& shop, std::shared_ptr<ResultStore> store = nullptr,
       const Study& study = {}, QObject* parent = nullptr);
  ~Desk() override;

  const Job& job() const { return history_->now(); }
  bool has_job() const { return has_job_; }
  const Planner& plan() const { return *planner_; }
  const Shop& shop() const { return shop_; }
  const Catalogue& catalogue() const { return shop_.shelf; }
  /// With the figures the job is planned with.
  std::optional<Silicone> rubber() const { return planned_rubber(job().mix, shop_); }
  std::optional<Resin> resin() const { return planned_resin(job().mix, shop_); }
  Workshop& workshop() { return *workshop_; }
  bool read_only() const { return workshop_->read_only(); }
  const Units& units() const { return units_; }
  void set_units(const Units& u);

  /// Takes `job` as the new present. Bad figures are refused with a message and change nothing. With `merge` a run of
  /// edits (a drag) is one undo step, saved when it ends.
  bool edit(const Job& job, const QString& what, const QString& merge = {});
  /// While something is dragged the mould is worked out on a coarser grid; let go, all is worked out as ever.
  void take_in_hand(bool on);
  void undo();
  void redo();
  bool can_undo() const { return history_->can_undo(); }
  bool can_redo() const { return history_->can_redo(); }
  QString undo_text() const { return QString::fromStdString(history_->undo_text()); }
  /// "kept 14:02", "reading only", "not kept: …".
  QString saved_state() const { return saved_; }
  /// Once more, where the last edits are not in the workshop: the disk may have room again.
  void try_to_keep();
  /// The last edits are not in the workshop: whoever closes loses them.
  /// The workshop's file was moved, replaced or removed while it is open.
  bool workshop_lost() const { return !workshop_->in_place(); }
  /// All of the workshop into a new file, and on in that one.
  bool save_workshop_elsewhere(const QString& path);
  bool not_kept() const { return has_job_ && saved_.startsWith(QLatin1String("not kept")); }

  void open_job(const std::string& id);
  /// The job that was being opened when the program last ended without an end: opening it again by itself could end the
  /// same way. Empty: none.
  std::string interrupted_opening() const;
  void new_job();
  void import_job(const QString& path);
  /// Both write in the background and say when it is done.
  void export_job(const QString& path);
  void write_sheet(const QString& path, bool letter);
  void write_calendar(const QString& path);
  /// A run's tape on paper: plan beside what was done.
  void write_tape(const BenchRun& run, const QString& path);
  /// Reads a mesh in the background and makes it the job's master.
  void open_mesh(const QString& path, std::optional<LengthUnit> unit = std::nullopt);
  /// Reads a mesh in the background and adds it as a further part of the job, in hand.
  void add_part(const QString& path);
  void repair_mesh();
  /// The part drawn so; a run of edits with one `merge` is one undo step.
  bool draw(const Drawn& drawn, const QString& what, const QString& merge = {});
  /// A picture to trace the part on, kept with the job as a copy no larger than 3000 pixels.
  void trace_picture(const QString& path);
  QImage traced_picture();
  /// Reads a mesh in the background and casts it in, where it lies.
  void cast_in_mesh(const QString& path);
  /// Reads the scan of another original of the part's kind and takes every size it shows as a reading of it.
  void scan_original(const QString& path);
  /// Reads a casting's scan in the background and keeps it beside that casting.
  void scan_casting(const QString& path, int number);
  /// The scan that was read last, as it lies in its file, while it is not laid on the original yet; null: another one.
  std::shared_ptr<const Shape> scan_outline_of(const std::string& hash) const {
    return hash == outlined_ ? outline_ : nullptr;
  }
  /// A photograph as a scaled copy in the workshop; nothing, and told, where it cannot be.
  std::optional<int64_t> keep_photo(const QString& path, const std::string& booking);
  /// Reads another mesh and joins it to the master as a step.
  void join_mesh(const QString& path);
  /// Writes the prepared, scaled master as STL or 3MF.
  void write_master(const QString& path);
  /// Runs `write` in the background and says how it went.
  void write_in_background(const QString& what, const QString& path, std::function<Status(const Progress&)> write);
  /// The same for what has findings of its own: they are told with it.
  void build_in_background(const QString& what, const QString& path,
                           std::function<Result<std::vector<Finding>>(const Progress&)> write);
  /// Sizes from and to a table (CSV). Read sizes are added after those there are.
  void read_sizes(const QString& path);
  void write_sizes(const QString& path);
  /// Keeps what this job's castings taught in the workshop, and uses it here.
  void adopt_learned(const QString& reason);
  /// The workshop's own figure for a pair of materials, if castings taught one.
  std::optional<LearnedShrink> learned_for(const std::string& silicone_id, const std::string& resin_id);
  /// Reads the present mesh as if its file had been in `unit`.
  void rescale_mesh(LengthUnit unit);

  void apply(const Remedy& remedy, const QString& what);
  void accept(const Finding& finding, const QString& reason);
  void cancel(Stage stage);
  void retry(Stage stage);

  /// The bench run of the job in hand; none before it is begun. Each call is kept at once.
  const std::optional<BenchRun>& run() const { return run_; }
  /// Puts a run that goes on away and begins another.
  bool begin_bench(const BenchBeginning& beginning = {});
  void bench_next(std::optional<double> scale_g, std::optional<double> room_c = std::nullopt);
  void bench_back();
  void bench_note(const QString& note, bool went_wrong);
  /// What was booked at an earlier screen failed, as is seen now.
  void bench_failed(int screen, const QString& why);
  /// What scale and gauge say while the screen is in hand.
  void bench_scale(double g);
  void bench_gauge(double kpa);
  /// The lot that the next pour's material is taken from, scanned or typed; false, and told, where there is none.
  bool bench_lot(const QString& code);
  /// A photograph beside the step in hand, as a scaled copy.
  bool bench_photo(const QString& path);
  QImage bench_picture(int64_t photo);
  /// The empty cup weighed so much: the shop's cup of that name keeps it.
  void remember_cup(double empty_g);
  void end_bench();
  /// Runs that were put away, oldest first.
  std::vector<BenchRun> done_runs();
  /// The runs of all jobs, this one's first, by the job's name.
  std::vector<std::pair<std::string, BenchRun>> all_runs() const;
  /// Labels of clocks that have just ended, in whatever job.
  std::vector<std::string> ring();
  /// The job's moulds in the books.
  std::vector<MouldRecord> moulds();
  /// How the shop works, for all jobs.
  const OwnWays& habits() const { return shop_.habits; }
  bool keep_habits(const OwnWays& habits);
  /// Books in the workshop changed: lots, moulds, pours.
  void books_changed();
  /// Keeps a material as its next version; jobs go on with the figures they have. False, and told, where it cannot be.
  bool keep_material(const Material& m);
  bool retire_material(const std::string& id);
  /// The shop's rules of thumb: everything is worked out anew with them.
  bool keep_rules(const Rules& rules);
  const Equipment& equipment() const { return books_.equipment; }
  bool keep_equipment(const Equipment& equipment);
  /// A patch or cup test onto its lot.
  bool keep_trial(const Trial& trial);
  const Books& books() const { return books_; }
  /// Asks the window to open a bottle of the shelf.
  void show_bottle(const std::string& id) { emit bottle_wanted(QString::fromStdString(id)); }
  /// Materials of a file (JSON or CSV) onto the shelf; what stands there under the same id gets a new version.
  void read_shelf(const QString& path);
  void write_shelf(const QString& path);
  /// What all jobs together lack, as CSV: plans each of them in the background.
  void write_shopping(const QString& path);

  /// Looks, in the background, for other jobs whose next casting could come out of the same batch as this one's.
  void look_for_others();
  /// What was found; nothing before anybody looked, or since another job was opened.
  const std::optional<std::vector<CavityShare>>& others_to_cast() const;
  /// One batch with them, but for those of the ids given; nothing before anybody looked.
  std::optional<Result<SharedBatch>> shared_batch(const std::vector<std::string>& without) const;

  /// While it is watched, all open jobs are planned together in the background whenever one of them changes, and the
  /// job in hand is laid round the others.
  void watch_shop(bool on);
  bool watches_shop() const { return watching_; }
  /// As it was last worked out; null before that.
  std::shared_ptr<const OpenShop> shop_now() const { return shop_now_; }
  struct ShopWork {
    bool running = false;
    double progress = 0;
  };
  const ShopWork& shop_work() const { return shop_work_; }
  /// Soon, once nothing else changes for a moment.
  void look_at_shop();
  /// A small picture of a part, by its mesh's hash; null while there is none.
  QImage part_picture(const std::string& mesh) const;
  /// The wall clock: minutes, and the seconds it is ahead of 1970's. PALINFORM_NOW sets it, for pictures.
  static WallMinute wall_now();
  /// The next working morning at eight: when a new job begins.
  static std::string next_morning();
  static int64_t zone_s();
  /// One job among all, whether it is in hand or not.
  void close_job(const std::string& id, bool closed);
  void promise(const std::string& id, const QString& day);
  /// A new job planned like that one: its castings, days and answers do not come along.
  void copy_job(const std::string& id);
  /// All open jobs' hands as a calendar; the list of a day on paper.
  void write_shop_calendar(const QString& path);
  void write_day_list(const QString& path, WallMinute day);
  /// The books' sums as a workbook, or a folder of CSV tables.
  void write_reports(const QString& path);
  /// Everything of the job in one zip, for a museum or a client.
  void write_job_file(const QString& path);
  /// Takes the job back to how it stood after that edit.
  void back_to(int64_t edit_id);
  /// Whoever works at this machine: stands beside every edit.
  QString who() const;
  void set_who(const QString& name);

  /// From now on nothing is kept, until it is said whether what was tried stays.
  void begin_trial();
  void end_trial(bool keep);
  bool trying() const { return trial_.has_value(); }

  /// Background work that is no analysis: reading or mending a mesh.
  struct Errand {
    bool running = false;
    QString what;
    double progress = 0;
  };
  const Errand& errand() const { return errand_; }
  std::array<StageState, stage_count> stages() const;

 signals:
  void changed();  ///< job, results or state: read everything again
  void message(const QString& text, bool fault);
  void bottle_wanted(const QString& id);
  void unit_question(double extent, LengthUnit used, LengthUnit guess);
  void shop_changed();  ///< the shop as a whole, or how far it is worked out

 private:
  void work_out_shop();
  void take_shop(std::shared_ptr<const OpenShop> shop);
  void lay_round_others();
  void stop_shop_work();
  void edit_other(const std::string& id, const QString& what, const std::function<void(Job&)>& change);
  void keep(const QString& what);
  void mark_opening(const std::string& id);
  void replan();
  /// What the workshop's books say now: read when they may have changed, never at every edit.
  void read_books();
  void replace_job(Job job);
  std::function<void()> say_written(const Status& ok, const QString& path);
  /// A mesh just read and kept in the workshop.
  struct MeshRead {
    MeshRef ref;
    double extent = 0;  ///< the largest, in the file's own unit
    std::optional<LengthUnit> unit_guess;
    std::string question;  ///< in words; empty: none
    std::shared_ptr<const Shape> outline = {};
    std::string name() const { return ref.file.substr(0, ref.file.rfind('.')); }
  };
  /// Reads a mesh in the background for the job and part in hand; `then` on the window's thread.
  void read_mesh(const QString& path, std::optional<LengthUnit> unit, std::function<void(const MeshRead&)> then,
                 bool outlined = false);
  std::string outlined_;
  std::shared_ptr<const Shape> outline_;
  /// What its file left open.
  void ask_about(const MeshRead& read);
  /// Runs `work` on a thread of its own, then what it gives on this one. `for_job`: what it gives belongs to the job
  /// and mesh in hand now, and is dropped, and told, where another stands there by then.
  void run_errand(const QString& what, std::function<std::function<void()>(const Progress&)> work,
                  bool for_job = false);

  void keep_run();
  void begin_planner();
  void shelf_changed();
  /// Materials that a job brings along and this shelf has not.
  void take_materials(const Job& job);
  void go_on_in(std::unique_ptr<Workshop> workshop);
  void take_press(const Result<Pressed>& pressed);
  void put_away();
  /// The runs of other jobs, as the workshop has them.
  void read_runs();

  std::unique_ptr<Workshop> workshop_;
  std::optional<BenchRun> run_;
  WallSecond gauge_kept_ = 0;
  std::vector<std::pair<std::string, BenchRun>> others_;  ///< runs of other jobs, by the job's name
  Shop shop_;
  const Study study_;
  bool in_hand_ = false;
  std::unique_ptr<History> history_;
  std::shared_ptr<ResultStore> store_;
  std::unique_ptr<Planner> planner_;
  Books books_;
  std::optional<std::vector<CavityShare>> to_cast_;  ///< what look_for_others() found for the job in hand
  std::string to_cast_for_;
  MixSetup to_cast_with_;  ///< the casting material and what was in it then
  Units units_;
  QString saved_, pending_;
  bool has_job_ = false, opening_ = false;
  QTimer* settle_ = nullptr;
  Errand errand_;
  std::shared_ptr<Progress> errand_progress_;
  std::thread errand_thread_, copy_thread_;
  // The shop as a whole.
  bool watching_ = false, shop_again_ = false;
  QTimer *shop_soon_ = nullptr, *shop_tick_ = nullptr;
  std::shared_ptr<const OpenShop> shop_now_;
  std::string shop_key_;  ///< of the job in hand, when the shop was last worked out
  ShopWork shop_work_;
  std::shared_ptr<Progress> shop_progress_;
  std::thread shop_thread_;
  std::shared_ptr<ResultStore> shop_store_;
  std::map<std::string, QImage> part_pictures_;
  std::optional<Job> trial_;  ///< how the job stood when trying began
};

}  // namespace palinform::app
