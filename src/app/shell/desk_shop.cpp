// Desk: the shop as a whole. All open jobs are planned together on a thread of their own, at the lowest rank; the job
// in hand is laid round what the others take.
#include <sys/resource.h>
#include <sys/syscall.h>
#include <unistd.h>
#include <atomic>
#include <QDate>
#include <QDateTime>
#include <QDir>
#include <QFile>
#include <QSettings>
#include <QTimer>

#include "base/text.hpp"
#include "bench/done_steps.hpp"
#include "drawn/solid.hpp"
#include "ledger/job_file.hpp"
#include "ledger/reports.hpp"
#include "mesh/save.hpp"
#include "overview/day_list.hpp"
#include "overview/first_article.hpp"
#include "overview/sheet.hpp"
#include "picture/render.hpp"
#include "sheet_pdf.hpp"
#include "shell/desk.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

namespace {

constexpr int soon_ms = 1200, tick_ms = 5 * 60 * 1000;
constexpr int picture_wide_px = 168, picture_high_px = 120;

QImage small_picture(const TriMesh& mesh, const Rgb& colour, const Progress& progress) {
  const auto shape = make_shape(mesh);
  if (!shape) return {};
  Scene scene;
  Body body;
  body.shape = *shape;
  body.colour = colour;
  scene.bodies.push_back(body);
  Camera camera;
  camera.width_px = picture_wide_px, camera.height_px = picture_high_px;
  camera.look_from(-60, 35);
  camera.fit(scene.box_mm(), 0.06);
  const Picture picture = render(scene, camera, 4, progress);
  QImage image = to_image(picture).convertToFormat(QImage::Format_ARGB32);
  // The wall shows through where there is no part.
  for (int y = 0; y < picture.height_px; ++y)
    for (int x = 0; x < picture.width_px; ++x)
      if (picture.body[static_cast<size_t>(y * picture.width_px + x)] < 0) image.setPixel(x, y, 0);
  return image;
}

}  // namespace

WallMinute Desk::wall_now() {
  if (const auto set = parse_wall_time(qgetenv("PALINFORM_NOW").toStdString())) return *set;
  return wall_minute(QDateTime::currentSecsSinceEpoch(), zone_s());
}

int64_t Desk::zone_s() { return QDateTime::currentDateTime().offsetFromUtc(); }

void Desk::watch_shop(bool on) {
  if (watching_ == on) return;
  watching_ = on;
  if (!shop_soon_) {
    shop_soon_ = new QTimer(this);
    shop_soon_->setSingleShot(true);
    shop_soon_->setInterval(soon_ms);
    connect(shop_soon_, &QTimer::timeout, this, &Desk::work_out_shop);
    shop_tick_ = new QTimer(this);
    shop_tick_->setInterval(tick_ms);
    connect(shop_tick_, &QTimer::timeout, this, &Desk::look_at_shop);
  }
  if (on) {
    shop_tick_->start();
    lay_round_others();
    look_at_shop();
  } else {
    shop_tick_->stop();
    shop_soon_->stop();
    stop_shop_work();
  }
}

void Desk::look_at_shop() {
  if (watching_) shop_soon_->start();
}

void Desk::stop_shop_work() {
  if (shop_progress_) shop_progress_->cancel();
  if (shop_thread_.joinable()) shop_thread_.join();
  shop_work_ = {};
}

void Desk::work_out_shop() {
  if (!watching_) return;
  // The job in hand goes before: what is worked out for it need not be worked out twice.
  if (planner_->busy() || in_hand_) return shop_soon_->start();
  if (shop_work_.running) {
    shop_again_ = true;
    return;
  }
  if (shop_thread_.joinable()) shop_thread_.join();
  if (!shop_store_) shop_store_ = std::make_shared<ResultStore>(size_t{256} << 20);
  OpenShopAsked asked;
  asked.now = wall_now(), asked.zone_s = zone_s();
  asked.today = books_.today.empty() ? QDate::currentDate().toString(Qt::ISODate).toStdString() : books_.today;
  asked.store = shop_store_, asked.study = study_;
  if (has_job_) asked.in_hand = card_of(job(), *planner_, shop_);
  asked.so_far = [this](const OpenShop& so_far) {
    QMetaObject::invokeMethod(
        this, [this, shop = std::make_shared<OpenShop>(so_far)] { take_shop(shop); }, Qt::QueuedConnection);
  };
  if (has_job_) shop_key_ = asked.in_hand->key;
  shop_progress_ = std::make_shared<Progress>([this, told = std::make_shared<std::atomic<int>>(-1)](double share) {
    const int percent = static_cast<int>(100 * share);
    if (told->exchange(percent) == percent) return;
    QMetaObject::invokeMethod(
        this,
        [this, share] {
          shop_work_.progress = share;
          emit shop_changed();
        },
        Qt::QueuedConnection);
  });
  shop_work_ = {true, 0};
  shop_again_ = false;
  std::vector<std::string> have;
  for (const auto& [hash, image] : part_pictures_) have.push_back(hash);
  shop_thread_ = std::thread(
      [this, w = workshop_.get(), shop = shop_, asked, progress = *shop_progress_, have, colour = rgb(pal().part)] {
        // Whoever works at the bench comes first: this thread and those it starts run at a lower rank.
        ::setpriority(PRIO_PROCESS, static_cast<id_t>(::syscall(SYS_gettid)), 12);
        auto open = open_shop(*w, shop, asked, progress);
        std::map<std::string, QImage> pictures;
        if (open)
          for (const OpenJobNow& j : open->jobs) {
            if (j.mesh.empty() || pictures.contains(j.mesh) ||
                std::find(have.begin(), have.end(), j.mesh) != have.end() || progress.cancelled())
              continue;
            if (j.drawn) {
              if (const auto solid = draw_solid(*j.drawn, progress))
                pictures[j.mesh] = small_picture(solid->mesh, colour, progress);
            } else if (const auto mesh = w->mesh(j.mesh)) {
              pictures[j.mesh] = small_picture(**mesh, colour, progress);
            }
          }
        QMetaObject::invokeMethod(
            this,
            [this, open = std::move(open), pictures = std::move(pictures)]() mutable {
              shop_work_.running = false;
              for (auto& [hash, image] : pictures) part_pictures_[hash] = std::move(image);
              if (open)
                take_shop(std::make_shared<OpenShop>(*std::move(open)));
              else if (!open.error().cancelled)
                emit message(qs(open.error().text()), true);
              if (std::exchange(shop_again_, false)) look_at_shop();
              emit shop_changed();
            },
            Qt::QueuedConnection);
      });
  emit shop_changed();
}

void Desk::take_shop(std::shared_ptr<const OpenShop> shop) {
  if (!watching_) return;
  // What comes in on the way has no plan yet: the last one stays until the new one is there.
  if (!shop->planned && shop_now_ && shop_now_->planned) {
    auto next = std::make_shared<OpenShop>(*shop_now_);
    for (OpenJobNow& j : next->jobs)
      for (const OpenJobNow& n : shop->jobs)
        if (n.id == j.id) j.card = n.card, j.card_there = n.card_there, j.refused = n.refused;
    shop_now_ = next;
  } else {
    shop_now_ = std::move(shop);
    lay_round_others();
    replan();
  }
  emit shop_changed();
  emit changed();
}

void Desk::lay_round_others() {
  ShopTime others;
  others.people = books_.equipment.people;
  others.holidays = holidays_of(books_.equipment);
  others.places = places_of(books_.equipment);
  Begun begun;
  if (watching_) {
    begun.now = wall_now();
    if (shop_now_ && has_job_) {
      size_t mine = shop_now_->shop.jobs.size();
      for (size_t j = 0; j < shop_now_->shop.jobs.size(); ++j)
        if (shop_now_->shop.jobs[j].id == job().id) mine = j;
      others = taken_by_others(shop_now_->shop, shop_now_->plan, mine);
    }
    if (const auto work = has_job_ ? planner_->newest(results::procedure) : nullptr) {
      const std::vector<Step> steps = timed_steps(work->procedure);
      if (run_) begun.done = done_steps(*run_, steps, zone_s());
      if (begun.done.empty()) {
        int standing = 0;
        for (const MouldRecord& m : moulds()) standing += m.retired_on.empty();
        begun.done = done_by_books(steps, step_kinds(work->procedure), standing,
                                   static_cast<int>(job().check.castings.size()), job().copies, begun.now);
      }
    }
  }
  books_.others = std::move(others);
  books_.begun = std::move(begun);
}

QImage Desk::part_picture(const std::string& mesh) const {
  const auto it = part_pictures_.find(mesh);
  return it == part_pictures_.end() ? QImage() : it->second;
}

void Desk::edit_other(const std::string& id, const QString& what, const std::function<void(Job&)>& change) {
  if (has_job_ && job().id == id) {
    Job next = job();
    change(next);
    edit(next, what);
    return;
  }
  auto other = workshop_->load_job(id);
  if (other) {
    change(*other);
    if (const auto ok = workshop_->save_job(*other, what.toStdString()); !ok)
      return void(emit message(qs(ok.error().text()), true));
  } else {
    return void(emit message(qs(other.error().text()), true));
  }
  look_at_shop();
  emit changed();
}

void Desk::close_job(const std::string& id, bool closed) {
  edit_other(id, closed ? QStringLiteral("job closed") : QStringLiteral("job opened again"), [&](Job& j) {
    j.closed_on = closed ? QDate::currentDate().toString(Qt::ISODate).toStdString() : std::string();
  });
}

void Desk::promise(const std::string& id, const QString& day) {
  edit_other(id, day.isEmpty() ? QStringLiteral("promise taken back") : QStringLiteral("promised for ") + day,
             [&](Job& j) { j.days.promised = day.toStdString(); });
}

void Desk::copy_job(const std::string& id) {
  if (read_only()) return;
  auto pattern = workshop_->load_job(id);
  if (!pattern) return void(emit message(qs(pattern.error().text()), true));
  Job next = *std::move(pattern);
  next.id = new_id();
  next.name += ", again";
  next.check.castings.clear();
  next.answers.clear();  // whoever answered then has not looked at this one
  for (JobPart& p : next.parts) p.laid.answers.clear();
  next.set_aside.clear();
  next.days.start = next_morning();
  next.days.promised.clear();
  for (auto& [step, change] : next.days.changes) change.pinned.reset();
  next.closed_on.clear();
  replace_job(std::move(next));
  keep(QStringLiteral("begun after a pattern"));
  emit changed();
}

void Desk::write_shop_calendar(const QString& path) {
  if (!shop_now_) return;
  run_errand(QStringLiteral("writing the calendar"), [this, path, shop = shop_now_](const Progress&) {
    std::vector<CalendarPart> parts;
    for (size_t j = 0; j < shop->shop.jobs.size(); ++j)
      if (shop->plan.jobs[j].refused.empty())
        parts.push_back(
            {shop->shop.jobs[j].id, shop->shop.jobs[j].name, &shop->shop.jobs[j].steps, &shop->plan.jobs[j].schedule});
    return say_written(write_file(path.toStdString(), calendar_text(parts)), path);
  });
}

void Desk::write_day_list(const QString& path, WallMinute day) {
  if (!shop_now_) return;
  run_errand(QStringLiteral("writing the day's list"), [this, path, day, shop = shop_now_](const Progress&) {
    return say_written(
        write_drawings(day_list(shop->jobs, shop->shop, shop->plan, shop->wall, day), path.toStdString()), path);
  });
}

void Desk::write_reports(const QString& path) {
  run_errand(QStringLiteral("adding up the books"),
             [this, path, shop = shop_](const Progress&) -> std::function<void()> {
               const auto r = reports_of(*workshop_, shop);
               if (!r) return [this, e = r.error()] { emit message(qs(e.text()), true); };
               if (path.endsWith(QLatin1String(".xlsx")))
                 return say_written(write_workbook(r->all(), path.toStdString()), path);
               QDir().mkpath(path);
               for (const Table& t : r->all())
                 if (const auto ok = write_file(path.toStdString() + "/" + t.title + ".csv", table_csv(t)); !ok)
                   return say_written(ok, path);
               return say_written({}, path);
             });
}

void Desk::write_job_file(const QString& path) {
  if (!has_job_) return;
  std::vector<std::vector<Drawing>> articles;
  const auto check = plan().fresh(results::check);
  const auto whys = plan().fresh(results::whys);
  for (size_t i = 0; i < job().check.castings.size(); ++i) {
    const auto made = resin();
    const auto scan = scan_of(plan(), job().check.castings[i].number);
    articles.push_back(first_article_pages(
        first_article(job(), i, check.get(), whys.get(), scan.get(), made ? made->name : std::string()),
        {units_.inch, units_.ounce, units_.fahrenheit}));
  }
  run_errand(QStringLiteral("writing the job's file"),
             [this, path, id = job().id, articles, castings = job().check.castings,
              sheet = make_sheet(job(), plan(), shop_)](const Progress&) -> std::function<void()> {
               std::map<std::string, std::string> pdfs;
               const QString part = path + QStringLiteral(".page.pdf");
               const auto take = [&](const std::string& name, const Status& ok) {
                 if (ok)
                   if (auto bytes = read_file(part.toStdString())) pdfs[name] = *std::move(bytes);
                 QFile::remove(part);
               };
               const auto pages = write_sheet_pdf(sheet, part.toStdString());
               take("sheet.pdf", pages ? Status() : Status(pages.error()));
               for (size_t i = 0; i < articles.size(); ++i)
                 take("casting-" + std::to_string(castings[i].number) + ".pdf",
                      write_drawings(articles[i], part.toStdString()));
               const auto bytes = job_file(*workshop_, id, pdfs);
               return say_written(bytes ? write_file(path.toStdString(), *bytes) : Status(bytes.error()), path);
             });
}

void Desk::back_to(int64_t edit_id) {
  const auto then = workshop_->job_after(edit_id);
  if (!then) return void(emit message(qs(then.error().text()), true));
  edit(*then, QStringLiteral("brought back from the history"));
}

QString Desk::who() const { return QSettings().value(QStringLiteral("who")).toString(); }
void Desk::set_who(const QString& name) {
  QSettings().setValue(QStringLiteral("who"), name.trimmed().left(80));
  workshop_->set_who(who().toStdString());
  emit changed();
}

void Desk::begin_trial() {
  if (!has_job_ || trial_ || read_only()) return;
  if (settle_->isActive()) keep(pending_);
  trial_ = job();
  saved_ = QStringLiteral("only tried");
  emit changed();
}

void Desk::end_trial(bool keep_it) {
  if (!trial_) return;
  const Job before = *std::exchange(trial_, std::nullopt);
  settle_->stop();
  if (keep_it) {
    keep(QStringLiteral("tried and kept"));
  } else {
    history_ = std::make_unique<History>(before);
    replan();
    saved_ = QStringLiteral("as before");
  }
  emit changed();
}

}  // namespace palinform::app
