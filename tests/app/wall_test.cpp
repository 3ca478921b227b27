// The wall: every open job on it, found, opened, promised, copied and closed from it; the days of all of them; what is
// tried and not kept; the history and the quote.
#include <QDragEnterEvent>
#include <QDropEvent>
#include <QInputDialog>
#include <QListWidget>
#include <QMimeData>

#include "app/window.hpp"
#include "base/zip.hpp"
#include "check/look_view.hpp"
#include "check/photo_sheet.hpp"
#include "days/moulds_curve.hpp"
#include "ledger/gauge_sheet.hpp"
#include "ledger/quote_view.hpp"
#include "overview/day_list.hpp"
#include "wall/wall_page.hpp"

namespace tests_app_wall {

namespace {

/// Answers the next text question.
void answer_next(const QString& text) {
  QTimer::singleShot(200, qApp, [text] {
    for (QWidget* w : QApplication::topLevelWidgets())
      if (auto* d = qobject_cast<QInputDialog*>(w); d && d->isVisible()) {
        d->setTextValue(text);
        d->accept();
      }
  });
}

/// A workshop with three jobs by their measures, quick to plan.
struct ThreeJobs : Open {
  std::vector<std::string> ids;
  ThreeJobs() : Open(false) {
    auto& desk_ = desk();
    for (const char* name : {"Latch", "Collar", "Pointer"}) {
      desk_.new_job();
      Job j = desk_.job();
      j.name = name;
      j.client = name == std::string("Collar") ? "garden works" : "museum";
      DrawnBody plate = begun(BodyShape::plate);
      plate.id = "b1", plate.length_mm = 40, plate.width_mm = 24, plate.height_mm = 6;
      Drawn d;
      d.bodies = {plate};
      REQUIRE(desk_.edit(j, QStringLiteral("named")));
      REQUIRE(desk_.draw(d, QStringLiteral("drawn")));
      ids.push_back(j.id);
      settle();
    }
  }
  /// Until the shop is worked out.
  void settle_shop() {
    REQUIRE(QTest::qWaitFor(
        [&] {
          const auto shop = desk().shop_now();
          return shop && shop->planned && !desk().shop_work().running && !desk().plan().busy();
        },
        200'000));
    QTest::qWait(50);
  }
};

}  // namespace

TEST_CASE("the wall shows every open job, its plan and lists; a job is opened, promised, copied and closed from it",
          "[wall]") {
  qputenv("PALINFORM_NOW", "2026-11-27T09:30");
  ThreeJobs s;
  s.desk().watch_shop(true);
  QTest::keyClick(s.window.get(), Qt::Key_W);
  WallPage* wall = s.window->wall();
  REQUIRE(wall->isVisible());
  CHECK_FALSE(s.window->strand()->isVisible());
  s.settle_shop();
  const auto shop = s.desk().shop_now();
  REQUIRE(shop->jobs.size() == 3);
  CHECK(shop->shop.jobs.size() == 3);
  for (const OpenJobNow& j : shop->jobs) {
    CHECK(j.card_there);
    CHECK(j.card.planned);
    CHECK_FALSE(s.desk().part_picture(j.mesh).isNull());
  }
  const QString hands = s.find<QLabel>(QStringLiteral("wall-hands"))->text();
  CHECK(hands.contains(QStringLiteral("Latch")));
  CHECK(s.find<QLabel>(QStringLiteral("wall-promised"))->text().contains(QStringLiteral("Nothing is promised")));
  CHECK(s.find<QLabel>(QStringLiteral("wall-told"))->text().contains(QStringLiteral("All ready")));

  // Left and right choose, Enter opens.
  wall->cords()->setFocus();
  QTest::keyClick(wall->cords(), Qt::Key_Right);
  const std::string second = shop->jobs[1].id;
  QTest::keyClick(wall->cords(), Qt::Key_Return);
  CHECK_FALSE(wall->isVisible());
  CHECK(s.desk().job().id == second);
  s.settle();

  // A promise that is kept, and one that cannot be.
  s.window->show_wall(true);
  s.desk().promise(second, QStringLiteral("2027-02-01"));
  s.desk().promise(s.ids[0], QStringLiteral("2026-11-28"));
  s.settle_shop();
  REQUIRE(QTest::qWaitFor([&] { return s.desk().shop_now()->wall.promises.size() == 2; }, 60'000));
  s.settle_shop();
  REQUIRE(QTest::qWaitFor([&] { return s.desk().shop_now()->wall.promises[0].state == PromiseState::late; }, 60'000));
  CHECK(s.desk().shop_now()->wall.promises[1].state == PromiseState::kept);
  CHECK(s.find<QLabel>(QStringLiteral("wall-promised"))->text().contains(QStringLiteral("late")));

  // Found by customer; Enter opens the first.
  s.type_into(wall->search(), QString());
  wall->search()->setFocus();
  QTest::keyClicks(wall->search(), QStringLiteral("garden"));
  QTest::qWait(30);
  CHECK(s.find<QPushButton>(QStringLiteral("found-") + QString::fromStdString(s.ids[1]))->isVisible());
  CHECK_FALSE(wall->findChild<QPushButton*>(QStringLiteral("found-") + QString::fromStdString(s.ids[0])));
  QTest::keyClick(wall->search(), Qt::Key_Return);
  CHECK(s.desk().job().id == s.ids[1]);

  // Closed: off the wall, found among the closed ones, open again.
  s.window->show_wall(true);
  s.desk().close_job(s.ids[2], true);
  REQUIRE(QTest::qWaitFor([&] { return s.desk().shop_now()->jobs.size() == 2; }, 60'000));
  s.click(s.find<QPushButton>(QStringLiteral("wall-closed")));
  s.click(s.find<QPushButton>(QStringLiteral("reopen-") + QString::fromStdString(s.ids[2])));
  s.click(s.find<QPushButton>(QStringLiteral("wall-closed")));
  REQUIRE(QTest::qWaitFor([&] { return s.desk().shop_now()->jobs.size() == 3; }, 60'000));

  // After a pattern: another name, no promise, no castings.
  s.desk().copy_job(s.ids[0]);
  CHECK(s.desk().job().name == "Latch, again");
  CHECK(s.desk().job().days.promised.empty());
  CHECK(s.desk().job().id != s.ids[0]);
  CHECK(s.desk().job().original.drawn == s.desk().workshop().load_job(s.ids[0])->original.drawn);
  qunsetenv("PALINFORM_NOW");
}

TEST_CASE("Days: laid round the other jobs, a promise told with what would keep it, all jobs on one ribbon", "[wall]") {
  qputenv("PALINFORM_NOW", "2026-11-27T09:30");
  ThreeJobs s;
  s.desk().watch_shop(true);
  s.settle_shop();
  s.window->go(Stage::days);
  s.settle();
  REQUIRE(QTest::qWaitFor(
      [&] {
        const auto r = s.desk().plan().fresh(results::days);
        return r && r->among_others;
      },
      60'000));
  CHECK(s.find<QLabel>(QStringLiteral("days-among"))->text().contains(QStringLiteral("other open jobs")));
  const auto days = s.desk().plan().fresh(results::days);
  // Its own hands and the others' never overlap: one person.
  for (const Placed& p : days->schedule.placed)
    for (const auto& [a, b] : p.hands)
      for (const auto& [c, d] : s.desk().books().others.hands) CHECK((b <= c || d <= a));

  s.type_into(s.find<QLineEdit>(QStringLiteral("days-promised")), QStringLiteral("2026-11-28"));
  s.settle();
  FindingCard* card = s.card(QStringLiteral("promise"));
  REQUIRE(card);
  CHECK(s.card_texts().contains(QStringLiteral("Promised for Sat 2026-11-28")));
  s.type_into(s.find<QLineEdit>(QStringLiteral("days-promised")), QStringLiteral("2026-31-31"));
  CHECK(s.desk().job().days.promised == "2026-11-28");

  s.click(s.find<QPushButton>(QStringLiteral("days-all")));
  CHECK(s.find<ShopRibbon>(QStringLiteral("shop-ribbon"))->days() >= 1);
  CHECK_FALSE(s.window->days()->ribbon()->isVisible());
  s.click(s.find<QPushButton>(QStringLiteral("days-this")));
  CHECK(s.window->days()->ribbon()->isVisible());
  qunsetenv("PALINFORM_NOW");
}

TEST_CASE("what is only tried is not kept: put back it is as before, kept it stays", "[wall]") {
  ThreeJobs s;
  const std::string id = s.desk().job().id;
  s.window->go(Stage::days);
  s.settle();
  s.click(s.find<QPushButton>(QStringLiteral("days-try")));
  CHECK(s.desk().trying());
  Job next = s.desk().job();
  next.copies = 7;
  s.desk().edit(next, QStringLiteral("copies"));
  CHECK(s.desk().job().copies == 7);
  CHECK(s.desk().workshop().load_job(id)->copies == 1);
  CHECK(s.find<QLabel>(QStringLiteral("saved"))->text().contains(QStringLiteral("only tried")));
  s.click(s.find<QPushButton>(QStringLiteral("drop-tried")));
  CHECK(s.desk().job().copies == 1);
  s.click(s.find<QPushButton>(QStringLiteral("days-try")));
  next = s.desk().job();
  next.copies = 3;
  s.desk().edit(next, QStringLiteral("copies"));
  s.click(s.find<QPushButton>(QStringLiteral("keep-tried")));
  CHECK(s.desk().workshop().load_job(id)->copies == 3);
  // Another job is opened while one is tried: nothing of it is kept.
  s.click(s.find<QPushButton>(QStringLiteral("days-try")));
  next = s.desk().job();
  next.copies = 9;
  s.desk().edit(next, QStringLiteral("copies"));
  s.desk().open_job(s.ids[0]);
  CHECK(s.desk().workshop().load_job(id)->copies == 3);
}

TEST_CASE("a step is dragged to another hour; where it cannot be it says why and stays", "[wall]") {
  ThreeJobs s;
  s.window->go(Stage::days);
  s.settle();
  const auto before = s.desk().plan().fresh(results::days);
  REQUIRE(before);
  RibbonView* ribbon = s.window->days()->ribbon();
  const Placed& first = before->schedule.placed[0];
  const double wide = ribbon->width() - 78 - 8.0;
  const auto place = [&](WallMinute t) {
    const int64_t day = day_number(t) - before->schedule.start / day_min;
    return QPoint(78 + static_cast<int>(wide * static_cast<double>(t - day_number(t) * day_min) / day_min) + 2,
                  static_cast<int>(day) * 74 + 16);
  };
  const auto drag = [&](const QPoint& from, const QPoint& to) {
    QTest::mousePress(ribbon, Qt::LeftButton, {}, from);
    QTest::mouseMove(ribbon, (from + to) / 2);
    QTest::mouseMove(ribbon, to);
    QTest::mouseRelease(ribbon, Qt::LeftButton, {}, to);
    s.settle();
  };
  // Two hours later.
  drag(place(first.start), place(first.start + 120));
  const std::string id = before->steps[first.step].id;
  REQUIRE(s.desk().job().days.changes.contains(id));
  const WallMinute pinned = *s.desk().job().days.changes.at(id).pinned;
  CHECK(std::abs(static_cast<double>(pinned - (first.start + 120))) <= 15);
  CHECK(s.desk().plan().fresh(results::days)->schedule.placed[0].start == pinned);
  // By night: refused, with the reason.
  drag(place(pinned), place(day_number(pinned) * day_min + 22 * 60));
  CHECK(s.window->message_text().contains(QStringLiteral("shut")));
  CHECK(*s.desk().job().days.changes.at(id).pinned == pinned);
}

TEST_CASE("the history: who and what, an older state looked at in the whole window and brought back", "[wall]") {
  ThreeJobs s;
  s.desk().set_who(QStringLiteral("Ines"));
  Job next = s.desk().job();
  next.copies = 4;
  s.desk().edit(next, QStringLiteral("four copies"));
  next.copies = 6;
  s.desk().edit(next, QStringLiteral("six copies"));
  s.window->go(Stage::ledger);
  s.click(s.find<QPushButton>(QStringLiteral("ledger-history")));
  auto* list = s.find<QListWidget>(QStringLiteral("history-list"));
  REQUIRE(list->count() >= 4);
  CHECK(list->item(0)->text().contains(QStringLiteral("Ines: six copies")));
  list->setCurrentRow(1);
  s.click(s.find<QPushButton>(QStringLiteral("history-look")));
  CHECK(s.desk().trying());
  CHECK(s.desk().job().copies == 4);
  CHECK(s.desk().workshop().load_job(next.id)->copies == 6);
  s.click(s.find<QPushButton>(QStringLiteral("drop-tried")));
  CHECK(s.desk().job().copies == 6);
  list->setCurrentRow(1);
  s.click(s.find<QPushButton>(QStringLiteral("history-look")));
  s.click(s.find<QPushButton>(QStringLiteral("keep-tried")));
  CHECK(s.desk().workshop().load_job(next.id)->copies == 4);
  s.desk().set_who(QString());
}

TEST_CASE("customers with their jobs, a note that is kept, and the owner's signature", "[wall]") {
  ThreeJobs s;
  s.window->go(Stage::ledger);
  s.click(s.find<QPushButton>(QStringLiteral("ledger-customers")));
  auto* names = s.find<QListWidget>(QStringLiteral("customers-list"));
  auto* jobs = s.find<QListWidget>(QStringLiteral("customers-jobs"));
  REQUIRE(names->count() == 2);
  for (int k = 0; k < 2; ++k) {
    names->setCurrentRow(k);
    const bool museum = names->item(k)->text().startsWith(QStringLiteral("museum"));
    CHECK(jobs->count() == (museum ? 2 : 1));
    if (museum) s.type_into(s.find<QLineEdit>(QStringLiteral("customers-reach")), QStringLiteral("Quay 3"));
  }
  bool kept = false;
  for (const Customer& c : *s.desk().workshop().customers()) kept |= c.name == "museum" && c.reach == "Quay 3";
  CHECK(kept);
  // Enter on a job opens it.
  const QString other = jobs->item(0)->data(Qt::UserRole).toString();
  emit jobs->itemActivated(jobs->item(0));
  s.settle();
  CHECK(s.desk().job().id == other.toStdString());

  // Signed only where something was written.
  s.click(s.find<QPushButton>(QStringLiteral("ledger-quote")));
  s.settle();
  CHECK_FALSE(s.find<QPushButton>(QStringLiteral("piece-sign"))->isEnabled());
  s.type_into(s.find<QLineEdit>(QStringLiteral("piece-came")), QStringLiteral("2026-11-18"));
  REQUIRE(s.find<QPushButton>(QStringLiteral("piece-sign"))->isEnabled());
  const auto sign = [](bool write) {
    QTimer::singleShot(200, qApp, [write] {
      for (QWidget* w : QApplication::topLevelWidgets()) {
        auto* pad = w->isVisible() ? w->findChild<QWidget*>(QStringLiteral("signature-pad")) : nullptr;
        if (!pad) continue;
        if (write) {
          QTest::mousePress(pad, Qt::LeftButton, {}, QPoint(100, 90));
          QTest::mouseMove(pad, QPoint(200, 60));
          QTest::mouseRelease(pad, Qt::LeftButton, {}, QPoint(200, 60));
        }
        QTest::mouseClick(w->findChild<QPushButton*>(QStringLiteral("signature-done")), Qt::LeftButton);
        return;  // the window has the pad as well, in its dialogue
      }
    });
  };
  sign(false);
  s.click(s.find<QPushButton>(QStringLiteral("piece-sign")));
  CHECK(s.desk().job().piece.signed_in.empty());
  sign(true);
  s.click(s.find<QPushButton>(QStringLiteral("piece-sign")));
  REQUIRE(s.desk().job().piece.signed_in.size() == 1);
  CHECK(s.desk().job().piece.signed_in[0][0][0] == Approx(100.0 / 608).margin(0.01));
  CHECK(s.find<QPushButton>(QStringLiteral("piece-sign"))->text().startsWith(QStringLiteral("Signed")));
}

TEST_CASE("further moulds from the first casting, by a press on their card", "[wall]") {
  ThreeJobs s;
  Job many = s.desk().job();
  many.copies = 6;
  s.desk().edit(many, QStringLiteral("six copies"));
  s.window->go(Stage::days);
  s.settle();
  auto* curve = s.window->findChild<MouldsCurve*>();
  REQUIRE(curve);
  const auto days = s.desk().plan().fresh(results::days);
  REQUIRE(days);
  int copied = -1;
  for (size_t k = 0; k < days->by_moulds.size(); ++k)
    if (days->by_moulds[k].from_casting) copied = static_cast<int>(k);
  REQUIRE(copied >= 0);
  const int n = static_cast<int>(days->by_moulds.size());
  QTest::mouseClick(curve, Qt::LeftButton, {}, QPoint((2 * copied + 1) * curve->width() / (2 * n), 30));
  s.settle();
  CHECK(s.desk().job().days.copies_its_casting(Form::two_part));
  CHECK(s.desk().job().days.moulds == 2);
  const auto now = s.desk().plan().fresh(results::days);
  REQUIRE(now);
  CHECK(std::any_of(now->steps.begin(), now->steps.end(), [](const Step& t) { return t.id == "casting-master"; }));
  CHECK(now->schedule.finish == days->by_moulds[static_cast<size_t>(copied)].finish);
}

TEST_CASE("the quote: price, margin, taken with a promised day; everything of the job in one file", "[wall]") {
  ThreeJobs s;
  s.window->go(Stage::ledger);
  s.click(s.find<QPushButton>(QStringLiteral("ledger-quote")));
  s.settle();
  CHECK(s.find<QLabel>(QStringLiteral("quote-told"))->text().contains(QStringLiteral("moves the price most")));
  s.type_into(s.find<QLineEdit>(QStringLiteral("quote-margin")), QStringLiteral("50"));
  s.settle();
  CHECK(s.desk().shop().rules.days.margin_pct == 50);
  answer_next(QStringLiteral("2026-12-18"));
  s.click(s.find<QPushButton>(QStringLiteral("quote-taken")));
  s.settle();
  CHECK(s.desk().job().days.promised == "2026-12-18");
  CHECK(s.desk().job().quote.total > 0);
  CHECK(s.desk().job().quote.total == Approx(1.5 * s.desk().job().quote.cost).epsilon(0.01));
  CHECK_FALSE(s.desk().job().quote.taken_on.empty());

  // The owner's original: what is typed is kept, no day is told.
  s.type_into(s.find<QLineEdit>(QStringLiteral("piece-came")), QStringLiteral("2026-11-18"));
  s.type_into(s.find<QLineEdit>(QStringLiteral("piece-condition")), QStringLiteral("cracked at the lug"));
  CHECK(s.desk().job().piece.came_on == "2026-11-18");
  CHECK(s.desk().job().piece.condition == "cracked at the lug");
  s.type_into(s.find<QLineEdit>(QStringLiteral("piece-went")), QStringLiteral("soon"));
  CHECK(s.desk().job().piece.went_on.empty());
  const Drawing page = receipt_page(s.desk().job().piece, "Latch", "museum", "2026-11-27");
  CHECK(std::any_of(page.labels.begin(), page.labels.end(),
                    [](const Label& l) { return l.text.find("cracked at the lug") != std::string::npos; }));

  const QString zip = QString::fromStdString(s.dir / "job.zip");
  s.desk().write_job_file(zip);
  s.settle();
  const auto files = unzip(*read_file(zip.toStdString()), "job");
  REQUIRE(files);
  CHECK(files->contains("sheet.pdf"));
  CHECK(files->at("sheet.pdf").starts_with("%PDF"));
  CHECK(files->contains("README.txt"));
  const QString book = QString::fromStdString(s.dir / "reports.xlsx");
  s.desk().write_reports(book);
  s.settle();
  CHECK(read_file(book.toStdString())->size() > 2000);
}

TEST_CASE("the gauge study: thirty readings, what comes out is kept and new sizes take it", "[wall]") {
  ThreeJobs s;
  s.window->go(Stage::ledger);
  s.click(s.find<QPushButton>(QStringLiteral("ledger-shop")));
  s.click(s.find<QPushButton>(QStringLiteral("gauge-study")));
  QTest::qWait(50);
  auto* sheet = s.window->findChild<GaugeSheet*>();
  REQUIRE(sheet);
  const auto type = [&](int i, int j, int r, const QString& text) {
    auto* e = sheet->findChild<QLineEdit*>(QStringLiteral("gauge-%1-%2-%3").arg(i).arg(j).arg(r));
    REQUIRE(e);
    e->setFocus();
    e->selectAll();
    QTest::keyClicks(e, text);
  };
  for (int i = 0; i < 3; ++i)
    for (int j = 0; j < 5; ++j)
      for (int r = 0; r < 2; ++r) type(i, j, r, QString::number(10 + j + 0.01 * i + (r ? 0.02 : 0.0), 'f', 2));
  REQUIRE(sheet->study());
  const double u = sheet->study()->u_mm;
  CHECK(u > 0.005);
  CHECK(sheet->findChild<QLabel*>(QStringLiteral("gauge-told"))->text().contains(QStringLiteral("u = ")));
  type(0, 0, 0, QStringLiteral("ten"));
  CHECK_FALSE(sheet->study());
  CHECK_FALSE(sheet->findChild<QPushButton*>(QStringLiteral("gauge-keep"))->isEnabled());
  type(0, 0, 0, QStringLiteral("10.00"));
  s.click(sheet->findChild<QPushButton*>(QStringLiteral("gauge-keep")));
  REQUIRE(s.desk().equipment().gauges.size() == 1);
  CHECK(s.desk().equipment().gauges[0].u_mm == Approx(u));
  CHECK_FALSE(s.desk().equipment().gauges[0].studied_on.empty());
}

TEST_CASE("several originals: readings after a stroke, limits from their spread by a press", "[wall]") {
  ThreeJobs s;
  Job next = s.desk().job();
  MeasuredSize size;
  size.id = "s1", size.name = "Long", size.nominal_mm = 40, size.lower_mm = 39.9, size.upper_mm = 40.1;
  size.from_mm = {-20, 0, 0}, size.to_mm = {20, 0, 0};
  next.original.sizes = {size};
  REQUIRE(s.desk().edit(next, QStringLiteral("size")));
  s.window->go(Stage::original);
  s.settle();
  s.window->original()->select("s1");
  auto* readings = s.find<QLineEdit>(QStringLiteral("size-readings"));
  s.type_into(readings, QStringLiteral("40.02 40.01 / 39.98 / 40.05 40.05 / 39.95"));
  const MeasuredSize& read = s.desk().job().original.sizes[0];
  REQUIRE(read.further_originals_mm.size() == 3);
  CHECK(read.readings_mm.size() == 2);
  auto* several = s.find<QPushButton>(QStringLiteral("size-several"));
  REQUIRE(several->isVisible());
  CHECK(several->text().contains(QStringLiteral("4 originals")));
  s.click(several);
  const MeasuredSize& set = s.desk().job().original.sizes[0];
  CHECK(set.limits_from.find("4 originals") != std::string::npos);
  CHECK(set.upper_mm - set.lower_mm > 0.3);
  s.type_into(readings, QStringLiteral("40.02 / / 39.9"));
  CHECK(s.desk().job().original.sizes[0].further_originals_mm.size() == 3);
}

TEST_CASE("a photograph of a casting is dropped in, ringed, and kept with its ring", "[wall]") {
  ThreeJobs s;
  Job next = s.desk().job();
  next.check.castings = {{1, "2026-11-26", "", {}}};
  REQUIRE(s.desk().edit(next, QStringLiteral("casting")));
  s.window->go(Stage::check);
  s.settle();
  s.click(s.find<QPushButton>(QStringLiteral("check-look")));
  const QString file = QString::fromStdString(s.dir / "shot.png");
  QImage image(400, 300, QImage::Format_RGB32);
  image.fill(Qt::gray);
  REQUIRE(image.save(file));
  auto* look = s.window->findChild<LookView*>();
  REQUIRE(look);
  QMimeData data;
  data.setUrls({QUrl::fromLocalFile(file)});
  QDragEnterEvent enter(QPoint(40, 40), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
  QApplication::sendEvent(look, &enter);
  CHECK(enter.isAccepted());
  QDropEvent drop(QPointF(40, 40), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
  QApplication::sendEvent(look, &drop);
  s.settle();
  REQUIRE(s.desk().job().check.castings[0].photos.size() == 1);
  const int64_t plain = s.desk().job().check.castings[0].photos[0];
  s.click(s.find<QPushButton>(QStringLiteral("photo-0")));
  QTest::qWait(80);
  auto* sheet = s.window->findChild<PhotoSheet*>();
  REQUIRE(sheet);
  PhotoCanvas* canvas = sheet->canvas();
  const QPoint mid(canvas->width() / 2, canvas->height() / 2);
  QTest::mousePress(canvas, Qt::LeftButton, {}, mid - QPoint(60, 40));
  QTest::mouseMove(canvas, mid);
  QTest::mouseMove(canvas, mid + QPoint(60, 40));
  QTest::mouseRelease(canvas, Qt::LeftButton, {}, mid + QPoint(60, 40));
  REQUIRE(canvas->rings().size() == 1);
  s.click(sheet->findChild<QPushButton*>(QStringLiteral("rings-keep")));
  s.settle();
  const int64_t ringed = s.desk().job().check.castings[0].photos[0];
  CHECK(ringed != plain);
  CHECK_FALSE(s.desk().bench_picture(plain).isNull());  // the photograph itself stays
  const QImage kept = s.desk().bench_picture(ringed);
  REQUIRE_FALSE(kept.isNull());
  int red = 0;
  for (int y = 0; y < kept.height(); ++y)
    for (int x = 0; x < kept.width(); ++x) {
      const QColor c = kept.pixelColor(x, y);
      red += c.red() > c.green() + 60;
    }
  CHECK(red > 100);
}

}  // namespace tests_app_wall
