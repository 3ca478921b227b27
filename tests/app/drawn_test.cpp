// An original without a scan, in the real window: drawn from measures, traced on a photograph, known by its volume
// only.
#include "app/window.hpp"

#include <QPainter>
#include <QPainterPath>
#include <QPlainTextEdit>

namespace tests_app_drawn {

namespace {

/// For looking at, where PALINFORM_LOOK names a folder.
void look(Open& o, const char* name) {
  if (const char* dir = std::getenv("PALINFORM_LOOK"))
    o.window->grab().save(QString::fromUtf8(dir) + "/" + name + ".png");
}

/// A knob of 40 mm with a flat 15 mm off its middle and a hole of 8 mm, on a sheet of 120 × 80 mm, seen aslant.
QTransform photograph(const QString& path) {
  QImage image(1400, 1000, QImage::Format_RGB32);
  image.fill(QColor(96, 92, 88));
  QPainter p(&image);
  p.setRenderHint(QPainter::Antialiasing);
  QTransform t;
  const QPolygonF flat({{-60, -40}, {60, -40}, {60, 40}, {-60, 40}}),
      seen({{330, 230}, {1080, 235}, {1190, 770}, {215, 760}});
  REQUIRE(QTransform::quadToQuad(flat, seen, t));
  p.setTransform(t);
  p.setPen(Qt::NoPen);
  p.setBrush(QColor(232, 230, 224));
  p.drawPolygon(flat);
  QPainterPath knob, off, hole;
  knob.addEllipse(QPointF(0, 0), 20, 20);
  off.addRect(15, -30, 30, 60);
  hole.addEllipse(QPointF(0, 0), 4, 4);
  p.setBrush(QColor(58, 52, 50));
  p.drawPath(knob.subtracted(off).subtracted(hole));
  p.end();
  REQUIRE(image.save(path));
  return t;
}

}  // namespace

TEST_CASE("a part is drawn from measures, and all of the plan follows", "[app][original]") {
  Open o(false);
  o.desk().new_job();
  o.window->go(Stage::original);
  o.settle();
  look(o, "drawn-empty");
  auto* page = o.window->original();
  o.click(o.find<QPushButton>("draw-chip"));
  o.settle();
  o.find<QAction>("draw-add-plate")->trigger();
  REQUIRE(o.desk().job().original.drawn.bodies.size() == 1);
  o.type_into(o.find<QLineEdit>("draw-length"), "70");
  o.type_into(o.find<QLineEdit>("draw-corner"), "6");
  o.find<QAction>("draw-add-disc")->trigger();
  o.type_into(o.find<QLineEdit>("draw-diameter"), "18");
  o.type_into(o.find<QLineEdit>("draw-thickness"), "9");
  o.find<QAction>("draw-cut-disc")->trigger();
  o.settle_picture();
  look(o, "drawn");
  const Job& job = o.desk().job();
  REQUIRE(job.original.drawn.bodies.size() == 3);
  const auto part = o.desk().plan().fresh(results::original);
  REQUIRE(part);
  CHECK(part->measure.box_mm.size().x == Approx(70));
  CHECK(part->measure.box_mm.size().z == Approx(15));
  // Sizes came with the measures and follow them.
  const auto named = [&](const std::string& id) { return o.desk().job().original.size(id); };
  REQUIRE(named("b1.length"));
  CHECK(named("b1.length")->nominal_mm == 70);
  REQUIRE(named("b3.diameter"));
  CHECK(named("b3.diameter")->kind == SizeKind::bore);
  // On the picture: a press on a number, another typed in its place.
  page->select({});
  o.click(o.find<QPushButton>("draw-body-0"));
  o.settle_picture();
  look(o, "drawn-measures");
  bool typed = false;
  auto* edit = page->findChild<QLineEdit*>("measure-typed");
  REQUIRE(edit);
  for (int y = 60; y < page->height() && !typed; y += 12)
    for (int x = 10; x < page->width() - 440 && !typed; x += 24) {
      page->canvas_clicked(x, y);
      typed = edit->isVisible() && edit->text() == "70.00";
    }
  REQUIRE(typed);
  edit->setText("64");
  QTest::keyClick(edit, Qt::Key_Return);
  o.settle();
  CHECK(o.desk().job().original.drawn.bodies[0].length_mm == 64);
  CHECK(named("b1.length")->nominal_mm == 64);
  CHECK_FALSE(edit->isVisible());
  // What cannot be is told where it was typed, and changes nothing.
  o.type_into(o.find<QLineEdit>("draw-corner"), "50");
  CHECK(o.desk().job().original.drawn.bodies[0].corner_mm == 6);
  o.desk().undo();
  CHECK(named("b1.length")->nominal_mm == 70);
  // The stages work on it as on any mesh.
  Job next = o.desk().job();
  next.mix.silicone_id = "add-40-translucent", next.mix.resin_id = "pu-tough-black";
  o.desk().edit(next, "materials");
  o.settle();
  for (const auto fresh : {o.desk().plan().state(results::split).state, o.desk().plan().state(results::mould).state,
                           o.desk().plan().state(results::flow).state, o.desk().plan().state(results::mix).state,
                           o.desk().plan().state(results::days).state})
    CHECK(fresh == Freshness::fresh);
  CHECK(o.card("drawn-guess"));
  CHECK(o.desk().plan().fresh(results::mix)->u_resin_g > 0);
  // A turned body by its profile, typed as lines.
  o.window->go(Stage::original);
  o.find<QAction>("draw-add-turned")->trigger();
  o.find<QPlainTextEdit>("draw-points")->setPlainText("0 0\n12 0 1\n12 5\n5 9 2\n5 16\n0 16");
  o.click(o.find<QPushButton>("draw-points-take"));
  CHECK(o.desk().job().original.drawn.bodies.back().profile.size() == 6);
  look(o, "drawn-turned");
  o.click(o.find<QPushButton>("draw-remove"));
  CHECK(o.desk().job().original.drawn.bodies.size() == 3);
}

TEST_CASE("a knob is traced on a photograph taken aslant, and kept with the job", "[app][original]") {
  Open o(false);
  o.desk().new_job();
  o.window->go(Stage::original);
  o.settle();
  const QString file = QString::fromStdString(o.dir / "knob.png");
  const QTransform seen = photograph(file);
  auto* page = o.window->original();
  page->trace(true);
  o.desk().trace_picture(file);
  o.settle_picture();
  TraceView* t = page->tracing();
  REQUIRE(t->ready());
  look(o, "traced-begun");
  const auto at = [&](double x, double y, double off) {
    const QPointF px = seen.map(QPointF(x, y));
    const QPointF on = t->on_screen({px.x(), px.y()});
    QTest::mouseClick(t, Qt::LeftButton, {}, QPoint(qRound(on.x() + off), qRound(on.y() - off)));
  };
  o.click(o.find<QPushButton>("trace-rectangle"));
  for (const auto& [x, y] : {std::pair{-60.0, -40.0}, {60.0, -40.0}, {60.0, 40.0}, {-60.0, 40.0}}) at(x, y, 2);
  o.type_into(o.find<QLineEdit>("trace-wide"), "120");
  o.type_into(o.find<QLineEdit>("trace-deep"), "80");
  o.click(o.find<QPushButton>("trace-outline"));
  const double half = std::sqrt(400 - 225.0);
  at(15, -half, 1);
  at(15, half, -1);
  o.click(o.find<QPushButton>("trace-arc"));
  at(-20, 0, 1);
  QTest::keyClick(t, Qt::Key_Return);
  o.settle();
  REQUIRE(o.desk().job().original.drawn.tracing.loops.size() == 1);
  o.type_into(o.find<QLineEdit>("trace-mm-0"), "10");
  o.click(o.find<QPushButton>("trace-hole"));
  at(4, 0, 1);
  at(0, 4, 1);
  at(-3.4, -2.1, 1);
  QTest::keyClick(t, Qt::Key_Return);
  o.settle_picture();
  look(o, "traced");
  const auto part = o.desk().plan().fresh(results::original);
  REQUIRE(part);
  const double sector = std::acos(0.75), area = M_PI * 400 - (400 * sector - 15 * half) - M_PI * 16;
  CHECK(part->measure.volume_mm3 == Approx(area * 10).epsilon(0.005));
  CHECK(part->measure.box_mm.size().x == Approx(35).epsilon(0.005));
  CHECK(o.find<QLabel>("trace-told")->text().contains("leaned"));
  o.click(o.find<QPushButton>("trace-done"));
  o.settle_picture();
  look(o, "traced-part");
  CHECK(o.card("drawn-guess"));
  // Handed on with its picture, and opened again.
  const std::string handed = o.dir / "knob.palinform";
  o.desk().export_job(QString::fromStdString(handed));
  o.settle();
  const std::string first = o.desk().job().id;
  o.desk().import_job(QString::fromStdString(handed));
  o.settle();
  CHECK(o.desk().job().id != first);
  CHECK_FALSE(o.desk().traced_picture().isNull());
}

TEST_CASE("by its volume alone: a stand-in, marked as one, and figures with their ±", "[app][original]") {
  Open o(false);
  o.desk().new_job();
  o.window->go(Stage::original);
  o.settle();
  Finding bare;
  bare.code = "bare";
  o.window->original()->point_at(bare);
  o.type_into(o.find<QLineEdit>("bare-length"), "58");
  o.type_into(o.find<QLineEdit>("bare-width"), "50");
  o.type_into(o.find<QLineEdit>("bare-height"), "16");
  o.type_into(o.find<QLineEdit>("bare-water"), "30");
  Job next = o.desk().job();
  next.mix.silicone_id = "con-25-white", next.mix.resin_id = "pu-flex-40";
  o.desk().edit(next, "materials");
  o.settle();
  const auto part = o.desk().plan().fresh(results::original);
  REQUIRE(part);
  CHECK(part->from == PartFrom::volume);
  CHECK(part->measure.volume_mm3 == Approx(30'000).epsilon(1e-4));
  CHECK(o.desk().plan().fresh(results::mix));
  CHECK(o.desk().plan().fresh(results::flow));
  CHECK(o.window->strand()->button(Stage::mix)->state().figure.find("±") != std::string::npos);
  CHECK(o.card("bare"));
  o.settle_picture();
  look(o, "stood-in");
  // Any form is reckoned on it, or refused by name.
  next = o.desk().job();
  next.mould.form = "skin";
  o.desk().edit(next, "form");
  o.settle();
  REQUIRE(o.desk().plan().fresh(results::forms));
  CHECK(o.desk().plan().fresh(results::forms)->form == Form::skin);
  o.type_into(o.find<QLineEdit>("bare-water"), "80");
  o.settle();
  CHECK(o.card("bare-wrong"));
}

}  // namespace tests_app_drawn
