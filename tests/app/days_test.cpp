// Days: the real window driven by clicks and keys; asserts what a user would see.
#include "window.hpp"

TEST_CASE("days: the ribbon's step can be pinned and changed, the finish follows, the calendar is written",
          "[app][days]") {
  Open o;
  o.window->go(Stage::days);
  o.settle();
  const auto finish = [&] { return o.desk().plan().fresh(results::days)->schedule.finish; };
  const WallMinute before = finish();
  CHECK(o.window->tally_text().contains("Ready"));
  QTest::mouseClick(o.window->days()->ribbon(), Qt::LeftButton, {}, QPoint(4, 4));
  for (int i = 0; i < 2; ++i) QTest::keyClick(o.window->days()->ribbon(), Qt::Key_Down);
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
