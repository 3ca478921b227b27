#include "shell/shots.hpp"

#include <cstdio>
#include <QApplication>
#include <QDir>
#include <QElapsedTimer>
#include <QPainter>
#include <QPainterPath>
#include <QPixmap>
#include <QProcess>
#include <QSlider>
#include <QThread>

#include "bench/bench_page.hpp"
#include "check/check_page.hpp"
#include "days/days_page.hpp"
#include "flow/flow_page.hpp"
#include "ledger/ledger_page.hpp"
#include "ledger/shelf_view.hpp"
#include "mix/mix_page.hpp"
#include "mould/mould_page.hpp"
#include "original/original_page.hpp"
#include "shell/desk.hpp"
#include "shell/main_window.hpp"
#include "shell/stage_page.hpp"
#include "split/split_page.hpp"
#include "wall/wall_page.hpp"

namespace palinform::app {
namespace {

/// A flanged knob: plate, turned body, bores.
Drawn drawn_example() {
  Drawn d;
  DrawnBody plate = begun(BodyShape::plate), knob = begun(BodyShape::turned), bore = begun(BodyShape::disc),
            slot = begun(BodyShape::slot);
  plate.id = "b1", plate.name = "Flange", plate.length_mm = 72, plate.width_mm = 38, plate.height_mm = 5,
  plate.corner_mm = 8, plate.edge_mm = 1;
  knob.id = "b2", knob.name = "Knob", knob.at_mm = {0, 0, 4};
  bore.id = "b3", bore.name = "Bore", bore.cut = true, bore.diameter_mm = 5, bore.height_mm = 9,
  bore.at_mm = {28, 0, -2};
  slot.id = "b4", slot.name = "Slot", slot.length_mm = 10, slot.width_mm = 5, slot.height_mm = 9,
  slot.at_mm = {-27, 0, -2};
  d.bodies = {plate, knob, bore, slot};
  return d;
}

/// Where the made-up photograph shows a place of the sheet, mm from its middle.
QTransform seen_aslant() {
  QTransform t;
  QTransform::quadToQuad(QPolygonF({{-60, -40}, {60, -40}, {60, 40}, {-60, 40}}),
                         QPolygonF({{270, 165}, {1120, 170}, {1190, 770}, {205, 760}}), t);
  return t;
}

/// A knob with a flat and a bore, on a sheet of 120 × 80 mm.
QImage trace_example() {
  QImage image(1400, 1000, QImage::Format_RGB32);
  image.fill(QColor(104, 96, 86));
  QPainter p(&image);
  p.setRenderHint(QPainter::Antialiasing);
  p.setTransform(seen_aslant());
  p.setPen(Qt::NoPen);
  p.setBrush(QColor(236, 233, 224));
  p.drawRect(QRectF(-60, -40, 120, 80));
  QPainterPath knob, off, hole;
  knob.addEllipse(QPointF(0, 0), 26, 26);
  off.addRect(19, -40, 30, 80);
  hole.addEllipse(QPointF(0, 0), 5, 5);
  p.setBrush(QColor(70, 58, 50));
  p.drawPath(knob.subtracted(off).subtracted(hole));
  return image;
}

void trace_loops(Tracing& t) {
  const QTransform seen = seen_aslant();
  const auto px = [&](double x, double y, NodeKind kind) {
    const QPointF q = seen.map(QPointF(x, y));
    return PathNode{q.x(), q.y(), kind, 0};
  };
  t.scale.way = PhotoScale::Way::rectangle;
  t.scale.wide_mm = 120, t.scale.deep_mm = 80;
  size_t k = 0;
  for (const QPointF c : {QPointF(-60, -40), QPointF(60, -40), QPointF(60, 40), QPointF(-60, 40)}) {
    const QPointF q = seen.map(c);
    t.scale.corners[k++] = {q.x(), q.y()};
  }
  const double half = std::sqrt(26.0 * 26 - 19 * 19);
  t.loops = {
      {TracedLoop::Means::outline,
       {px(19, -half, NodeKind::corner), px(19, half, NodeKind::corner), px(-26, 0, NodeKind::arc)},
       12,
       1},
      {TracedLoop::Means::hole, {px(5, 0, NodeKind::arc), px(0, 5, NodeKind::arc), px(-4, -3, NodeKind::arc)}, 0, 0}};
}

}  // namespace

int take_shots(MainWindow& w, const QString& dir) {
  QDir().mkpath(dir);
  w.resize(1280, 800);
  bool ok = true;
  const auto wait = [&] {
    QElapsedTimer t;
    t.start();
    while (t.elapsed() < 20'000) {
      QApplication::processEvents(QEventLoop::AllEvents, 20);
      if (!w.desk().plan().busy() && !w.desk().errand().running && w.page(w.stage())->settled() && t.elapsed() > 150)
        break;
      QThread::msleep(5);
    }
  };
  const auto shot = [&](const char* name) {
    wait();
    const QString path = dir + QLatin1Char('/') + QLatin1String(name) + QStringLiteral(".png");
    if (!w.grab().save(path)) ok = false;
    std::printf("%s\n", path.toUtf8().constData());
  };
  // The shop as a whole: worked out once, which takes its time.
  {
    QElapsedTimer t;
    t.start();
    while (t.elapsed() < 400'000) {
      QApplication::processEvents(QEventLoop::AllEvents, 20);
      const auto shop = w.desk().shop_now();
      if (shop && shop->planned && !w.desk().shop_work().running && !w.desk().plan().busy()) break;
      QThread::msleep(5);
    }
    w.show_wall(true);
    shot("wall");
    w.show_wall(false);
    w.go(Stage::ledger);
    w.ledger()->show_view(4);
    shot("ledger-quote");
    if (qEnvironmentVariableIsSet("PALINFORM_LOOK")) {
      w.ledger()->show_view(5);
      shot("zz-history");
      w.ledger()->show_view(6);
      shot("zz-customers");
      w.ledger()->show_view(0);
      if (auto* shelf = w.findChild<LotsView*>()) {
        shelf->choose_first_mould();
        w.ledger()->refresh();
      }
      shot("zz-books");
      w.ledger()->show_view(3);
      shot("zz-shop");
      w.go(Stage::days);
      shot("zz-days");
      w.days()->show_scope(1);
      shot("zz-week");
      w.days()->show_scope(0);
      w.wall()->search()->setText(QStringLiteral("tide"));
      w.show_wall(true);
      shot("zz-find");
      w.wall()->search()->clear();
      w.set_dusk_theme(true);
      w.resize(1920, 1080);
      shot("zz-wall-wide");
      w.set_dusk_theme(false);
      w.resize(1280, 800);
      w.show_wall(false);
    }
    w.ledger()->show_view(0);
  }
  const char* names[stage_count] = {"original", "size", "split", "mould", "flow",
                                    "mix",      "days", "bench", "check", "ledger"};
  wait();
  for (int i = 0; i < stage_count; ++i) {
    w.go(static_cast<Stage>(i));
    // Bench's window is shot below, and Split with a part that has openings.
    if (static_cast<Stage>(i) != Stage::bench && static_cast<Stage>(i) != Stage::split) shot(names[i]);
  }
  // The mirrored latch: its master, and materials by need; the collar without a mesh.
  const std::string bracket = w.desk().job().id;
  const auto open = [&](const char* name) {
    if (const auto rows = w.desk().workshop().jobs())
      for (const JobRow& r : *rows)
        if (r.name == name) w.desk().open_job(r.id);
    wait();
  };
  const auto press = [&](const char* name) {
    if (auto* b = w.findChild<QPushButton*>(QLatin1String(name))) b->click();
    wait();
  };
  w.go(Stage::original);
  open("Drum latch, left hand");
  w.go(Stage::size);
  // The first set of ornaments: its castings by pull, and the scan of one.
  open("Corner ornament, first set");
  w.go(Stage::check);
  wait();
  press("check-pulls");
  shot("check-pulls");
  press("casting-4");
  press("check-scan");
  if (auto* page = w.findChild<CheckPage*>()) page->scan()->view()->look(30, 55);
  shot("check-scan");
  press("check-look");
  // No scan: a knob bracket drawn from its measures, and the lid's outline followed on a photograph made for it.
  w.desk().new_job();
  w.go(Stage::original);
  wait();
  w.desk().draw(drawn_example(), QStringLiteral("drawn"));
  wait();
  w.original()->draw_card()->choose("b1");
  press("draw-chip");
  w.desk().new_job();
  wait();
  if (const QString photo = dir + QStringLiteral("/../.traced.png"); trace_example().save(photo)) {
    w.desk().trace_picture(photo);
    wait();
    QFile::remove(photo);
    Drawn traced = w.desk().job().original.drawn;
    trace_loops(traced.tracing);
    w.desk().draw(traced, QStringLiteral("traced"));
    w.original()->trace(true);
    shot("original-traced");
    w.original()->trace(false);
  }
  w.desk().open_job(bracket);
  w.go(Stage::split);
  wait();
  open("Timer housing");
  w.go(Stage::split);
  wait();
  if (auto* page = w.findChild<SplitPage*>()) page->view()->look(38, 42);
  shot("split");
  w.desk().open_job(bracket);
  w.go(Stage::mould);
  wait();
  w.set_dusk_theme(true);
  w.ledger()->show_view(1);
  w.ledger()->shelf()->open(w.desk().job().mix.silicone_id);
  w.go(Stage::ledger);
  shot("bottle-dusk");
  w.set_dusk_theme(false);
  w.ledger()->shelf()->open({});
  w.ledger()->show_view(0);
  w.go(Stage::mix);
  {
    // As a bench without care would have it.
    Job careless = w.desk().job();
    careless.original.finish.master_material = "printed-photopolymer";
    careless.original.finish.contacts.clay = Clay::sulphur;
    careless.original.finish.contacts.gloves = Gloves::latex;
    careless.original.finish.contacts.stick = Stick::wood;
    w.desk().edit(careless, QStringLiteral("contacts"));
    w.mix()->show_view(1);
    wait();
    w.desk().undo();
    // Coloured and filled, with a casting to match.
    Job coloured = w.desk().job();
    if (const auto recipes = w.desk().workshop().recipes(); recipes && !recipes->empty())
      coloured.mix.colour = recipes->front();
    for (const Material& m : w.desk().shop().bottles)
      if (m.kind == MaterialKind::filler && coloured.mix.resin_adds.empty())
        coloured.mix.resin_adds = {{m.id, m.name, Additive::filler, 0.3, m.figure("density_g_cm3").value_or(4),
                                    m.figure("share_most_pct").value_or(0) / 100}};
    if (!coloured.check.castings.empty() && coloured.mix.colour)
      coloured.check.castings.back().colour = coloured.mix.colour->tints;
    w.desk().edit(coloured, QStringLiteral("colour"));
    w.mix()->show_view(2);
    shot("mix-colour");
    w.mix()->show_view(0);
    w.desk().undo();
  }
  // The bench: B poured onto A, with two thirds of it in the cup.
  const auto bench_shot = [&](const char* job, Act act, bool second, const char* name) {
    open(job);
    w.go(Stage::bench);
    wait();
    w.bench()->start(false);
    BenchWindow* bench = w.bench()->window();
    if (!bench || !w.desk().run()) return;
    bench->resize(1280, 800);
    const auto at = [&]() -> const BenchScreen& {
      return w.desk().run()->screens[static_cast<size_t>(w.desk().run()->at)];
    };
    for (int i = 0; i < 400 && !(at().act == act && (!second || at().ratio_to_last > 0)); ++i) {
      if (w.desk().run()->at + 1 >= static_cast<int>(w.desk().run()->screens.size())) break;
      w.desk().bench_next(at().target_g);
    }
    if (at().target_g) bench->type_scale(at().from_g.value_or(0) + 0.8 * (*at().target_g - at().from_g.value_or(0)));
    QElapsedTimer t;
    t.start();
    while (t.elapsed() < 15'000 && (!bench->settled() || t.elapsed() < 400))
      QApplication::processEvents(QEventLoop::AllEvents, 20);
    const QString path = dir + QLatin1Char('/') + QLatin1String(name) + QStringLiteral(".png");
    if (!bench->grab().save(path)) ok = false;
    std::printf("%s\n", path.toUtf8().constData());
    bench->close();
  };
  bench_shot("Pen-arm bracket", Act::weigh, true, "bench-window");
  // The bracket's run with something of everything on its tape.
  w.desk().bench_next(w.desk().run()->screens[static_cast<size_t>(w.desk().run()->at)].target_g.value_or(0) + 0.9);
  w.desk().bench_note(QStringLiteral("the cup stood near the stove"), false);
  for (int i = 0; i < 8; ++i)
    w.desk().bench_next(w.desk().run()->screens[static_cast<size_t>(w.desk().run()->at)].target_g);
  w.bench()->show_view(1);
  shot("bench-tape");
  w.bench()->show_view(0);
  open("Pen-arm bracket");
  w.desk().end_bench();
  // The sheet's first page, as it comes out of the printer.
  const QString pdf = QDir::temp().filePath(QStringLiteral("palinform-sheet.pdf"));
  w.desk().write_sheet(pdf, false);
  wait();
  QProcess pages;
  pages.start(
      QStringLiteral("pdftoppm"),
      {QStringLiteral("-png"), QStringLiteral("-r"), QStringLiteral("80"), QStringLiteral("-f"), QStringLiteral("1"),
       QStringLiteral("-l"), QStringLiteral("1"), QStringLiteral("-singlefile"), pdf, dir + QStringLiteral("/sheet")});
  if (!pages.waitForFinished(20'000) || pages.exitCode() != 0) ok = false;
  return ok ? 0 : 1;
}

}  // namespace palinform::app
