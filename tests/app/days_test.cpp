// Days: the real window driven by clicks and keys; asserts what a user would see.
#include "window.hpp"

namespace tests_app_days {

TEST_CASE("days: the ribbon's step can be pinned and changed, the finish follows, the calendar is written",
          "[app][days]") {
  Open o;
  o.window->go(Stage::days);
  o.settle();
  const auto finish = [&] { return o.desk().plan().fresh(results::days)->schedule.finish; };
  const WallMinute before = finish();
  CHECK(o.window->tally_text().contains("Ready"));
  QTest::mouseClick(o.window->days()->ribbon(), Qt::LeftButton, {}, QPoint(4, 4));
  for (int i = 0; i < 20 && o.window->days()->ribbon()->selected() != "box"; ++i)
    QTest::keyClick(o.window->days()->ribbon(), Qt::Key_Down);
  CHECK(o.window->days()->ribbon()->selected() == "box");
  o.type_into(o.find<QLineEdit>("step-pin"), "2026-12-03 09:00");
  o.settle();
  CHECK(finish() > before);
  CHECK(o.desk().job().days.changes.at("box").pinned == parse_wall_time("2026-12-03T09:00"));
  o.type_into(o.find<QLineEdit>("step-pin"), "tomorrow");
  CHECK(o.find<QLineEdit>("step-pin")->property("fault").toBool());
  o.click(o.find<QPushButton>("step-reset"));
  o.settle();
  CHECK(finish() == before);
  o.type_into(o.find<QLineEdit>("days-moulds"), "2");
  o.settle();
  CHECK(o.desk().job().days.moulds == 2);
  shapes::TempDir files;
  o.desk().write_calendar(QString::fromStdString(files / "run.ics"));
  o.settle();
  CHECK(read_file(files / "run.ics")->starts_with("BEGIN:VCALENDAR"));
}

TEST_CASE("days: a step is left out with a reason, one of our own comes in, a habit is kept; what cannot be is refused",
          "[app][days]") {
  Open o;
  o.window->go(Stage::days);
  o.settle();
  const auto choose = [&](const std::string& id) {
    o.window->days()->ribbon()->select(id);
    o.window->days()->refresh();
  };
  const auto answer = [&](const QString& words) {  // into the dialog that the next click opens
    QTimer::singleShot(150, [words] {
      QWidget* d = QApplication::activeModalWidget();
      REQUIRE(d);
      if (auto* named = d->findChild<QLineEdit*>("own-name"))
        named->setText(words);
      else
        d->findChild<QLineEdit*>()->setText(words);
      for (QAbstractButton* b : d->findChildren<QAbstractButton*>())
        if (b->text().contains("OK")) b->click();
    });
  };
  const auto has = [&](const std::string& id) {
    const auto days = o.desk().plan().fresh(results::days);
    return std::any_of(days->steps.begin(), days->steps.end(), [&](const Step& s) { return s.id == id; });
  };
  REQUIRE(has("rest"));
  const WallMinute before = o.desk().plan().fresh(results::days)->schedule.finish;
  choose("rest");
  answer("one pull is enough");
  o.click(o.find<QPushButton>("step-out"));
  o.settle();
  CHECK_FALSE(has("rest"));
  CHECK(o.desk().plan().fresh(results::days)->schedule.finish < before);
  CHECK(o.find<QPushButton>("step-again")->text().contains("one pull is enough"));
  o.click(o.find<QPushButton>("step-again"));  // done after all …
  o.settle();
  CHECK(has("rest"));
  choose("rest");
  answer("one pull is enough");  // … and left out again
  o.click(o.find<QPushButton>("step-out"));
  o.settle();
  CHECK_FALSE(has("rest"));
  // The second half would stick to the first.
  choose("release");
  answer("no time");
  o.click(o.find<QPushButton>("step-out"));
  o.settle();
  CHECK(has("release"));
  CHECK_FALSE(o.desk().job().days.changes.contains("release"));
  choose("prepare");
  answer("Photograph it");
  o.click(o.find<QPushButton>("step-add"));
  o.settle();
  CHECK(has("own-1"));
  // Kept as the habit it holds for another job as well; undo does not touch the shop's ways.
  choose("own-1");
  o.click(o.find<QPushButton>("step-habit"));
  o.settle();
  CHECK(o.desk().habits().steps.size() == 1);
  CHECK(has("habit-1"));
  o.desk().open_job("5a17e0d4b2c94f6e8a1bb2c3d4e5f602");
  o.settle();
  CHECK(has("habit-1"));
  // A job that ends with its mould has no castings in its days.
  Job mould = o.desk().job();
  mould.days.ends = Ends::mould;
  o.desk().edit(mould, "mould only");
  o.settle();
  CHECK(has("hand-on"));
  CHECK_FALSE(has("demould-1"));
  // No screen speaks of a casting then; and with the master alone there is nothing to mix.
  for (const Ends ends : {Ends::mould, Ends::castings, Ends::master}) {
    Job other = o.desk().job();
    other.days.ends = ends;
    o.desk().edit(other, "ends otherwise");
    for (const Stage stage : {Stage::flow, Stage::mix, Stage::days, Stage::bench}) {
      o.window->go(stage);
      o.settle();
    }
    const auto mix = o.desk().plan().fresh(results::mix);
    REQUIRE(mix);
    const bool cast = std::any_of(mix->pours.begin(), mix->pours.end(), [](const PourMix& p) { return p.is_resin; });
    CHECK(cast == (ends == Ends::castings));
    CHECK((mix->rubber_g > 0) == (ends == Ends::mould));
  }
  o.desk().edit(mould, "mould only");
  o.settle();
  CHECK(o.window->tally_text().contains("Rubber"));
}

}  // namespace tests_app_days
