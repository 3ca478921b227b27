// Bench: the real window driven by clicks and keys; asserts what a user would see.
#include "window.hpp"

namespace tests_app_bench {

TEST_CASE("from an empty workshop to a judged casting", "[app][bench]") {
  Open o(false);
  o.desk().new_job();
  shapes::TempDir files;
  REQUIRE(save_mesh(shapes::bored_box({30, 20, 6}, 4, 2, 96), files / "plate.stl"));
  o.window->go(Stage::original);
  o.desk().open_mesh(QString::fromStdString(files / "plate.stl"));
  o.settle_picture();
  CHECK(o.desk().job().name == "plate");
  CHECK(o.window->strand()->button(Stage::original)->state().knot == Knot::settled);

  // A bore by one click into it, seen from above.
  PartView* view = o.window->original()->view();
  view->look(-90, 90);
  o.settle_picture();
  o.click(o.find<QPushButton>("add-size"));
  const auto wall = view->camera().project({0, 3.9, 5.9});
  view->look(-90, 60);
  o.settle_picture();
  bool added = false;
  for (double z = 5.5; z > -5 && !added; z -= 0.5) {
    const auto q = view->camera().project({0, 4, z});
    QTest::mouseClick(view, Qt::LeftButton, {}, QPoint(qRound(q.x), qRound(q.y)));
    o.settle();
    added = !o.desk().job().original.sizes.empty() && o.desk().job().original.sizes[0].kind == SizeKind::bore;
    if (!added && !o.desk().job().original.sizes.empty()) {
      o.desk().undo();
      o.window->original()->begin_adding(true);
    }
  }
  (void)wall;
  REQUIRE(added);
  CHECK(o.desk().job().original.sizes[0].nominal_mm == Approx(8).margin(0.02));
  CHECK(o.desk().job().original.sizes[0].limits_guessed);

  // Two faces: the plate's length, from a corner view both ways round.
  o.window->original()->begin_adding(true);
  view->look(-60, 35);
  o.settle_picture();
  const auto click_at = [&](const Vec3& p) {
    const auto q = view->camera().project(p);
    QTest::mouseClick(view, Qt::LeftButton, {}, QPoint(qRound(q.x), qRound(q.y)));
    QTest::qWait(20);
  };
  click_at({10, -20, 0});
  view->look(60, 35);
  o.settle_picture();
  click_at({10, 20, 0});
  o.settle();
  REQUIRE(o.desk().job().original.sizes.size() == 2);
  CHECK(o.desk().job().original.sizes[1].nominal_mm == Approx(40).margin(1e-3));
  CHECK(o.desk().job().original.sizes[1].kind == SizeKind::outer);

  // Readings typed, one slip refused and nothing lost.
  auto* readings = o.find<QLineEdit>("size-readings");
  o.type_into(readings, "40.02 40.01");
  CHECK(o.desk().job().original.sizes[1].readings_mm == std::vector<double>{40.02, 40.01});
  // A slip of the unit is asked about beside the part, and set right by a click.
  o.type_into(readings, "40.02 1.575");
  CHECK_FALSE(readings->property("fault").toBool());
  o.settle();
  FindingCard* doubt = o.card("reading-doubt");
  REQUIRE(doubt);
  CHECK(o.card_texts().contains("inches"));
  o.click(doubt->findChildren<QPushButton*>("remedy-reading").front());
  o.settle();
  CHECK(o.desk().job().original.sizes[1].readings_mm[1] == Approx(40.005));
  CHECK_FALSE(o.card("reading-doubt"));
  o.type_into(readings, "forty");
  CHECK(readings->property("fault").toBool());
  o.type_into(readings, "40.02 40.01");

  // Materials.
  o.window->go(Stage::size);
  auto* silicone = o.find<QComboBox>("silicone");
  const auto choose = [](QComboBox* box,
                         const QString& words) {  // down the list by keys, as the popup's rows are named
    box->setFocus();
    const int want = box->findText(words);
    REQUIRE(want > 0);
    while (box->currentIndex() < want) QTest::keyClick(box, Qt::Key_Down);
  };
  choose(silicone, "Addition 30, soft blue");
  auto* resin = o.find<QComboBox>("resin");
  choose(resin, "Rigid polyurethane, slow");
  o.settle();
  CHECK(o.desk().job().mix.silicone_id == "add-30-blue");
  CHECK(o.desk().job().mix.resin_id == "pu-rigid-slow");
  CHECK(o.desk().plan().fresh(results::size)->predictions.size() == 2);
  CHECK(o.window->tally_text().contains("Rubber"));
  CHECK_FALSE(o.window->tally_text().startsWith(QString::fromUtf8("Rubber –")));

  o.window->go(Stage::split);
  o.settle_picture();
  CHECK(std::abs(o.desk().plan().fresh(results::split)->split.pull.z) == 1);
  o.window->go(Stage::mould);
  o.settle_picture();
  o.window->go(Stage::mix);
  o.settle();
  CHECK(o.window->mix()->cup()->readings().size() == 3);

  // The casting: new, measured, judged.
  o.window->go(Stage::check);
  o.click(o.find<QPushButton>("new-casting"));
  o.settle();
  CHECK(o.window->strand()->button(Stage::check)->state().figure == "no. 1 not measured");
  o.click(o.find<QPushButton>("check-sizes"));
  o.type_into(o.window->check()->strip("s2")->readings(), "39.98 39.99");
  o.type_into(o.window->check()->strip("s1")->readings(), "8.01");
  o.settle();
  CHECK(o.window->strand()->button(Stage::check)->state().figure == "no. 1 conforms");
  o.type_into(o.window->check()->strip("s1")->readings(), "7.80");
  o.settle();
  CHECK(o.window->strand()->button(Stage::check)->state().figure == "no. 1 fails");
  CHECK(o.card_texts().contains("out of its limits"));

  // Closed and opened again: all of it is there.
  const Job before = o.desk().job();
  o.start(before.id);
  CHECK(o.desk().job() == before);
  CHECK(o.window->strand()->button(Stage::check)->state().figure == "no. 1 fails");
}

TEST_CASE("bench: a whole run with the simulated scale, killed in the middle, to a casting judged and booked",
          "[app][bench]") {
  Open o;
  const std::string id = o.desk().job().id;
  o.window->go(Stage::bench);
  o.settle();
  o.window->devices()->start_simulated();
  REQUIRE(QTest::qWaitFor([&] { return o.window->devices()->listening(); }, 5000));
  o.window->bench()->start(false);
  BenchWindow* bench = o.window->bench()->window();
  REQUIRE(bench);
  const auto at = [&] { return o.desk().run()->screens[static_cast<size_t>(o.desk().run()->at)]; };
  int weighed = 0;
  bool broken_off = false;
  const size_t castings = o.desk().job().check.castings.size();
  const size_t pours = o.desk().workshop().pours(id)->size();
  for (int guard = 0; guard < 200 && !finished(*o.desk().run()); ++guard) {
    if (at().target_g && weighed < 5) {
      // Poured until the scale, by itself, reads the target.
      o.window->devices()->load_scale(*at().target_g);
      REQUIRE(QTest::qWaitFor(
          [&] {
            const auto g = o.window->devices()->settled_g();
            return g && bench->scale_g() && std::abs(*g - *at().target_g) < 0.35;
          },
          6000));
      ++weighed;
    }
    if (at().step_id == "pour-a") {
      QTest::keyClick(bench, Qt::Key_N);
      QTest::keyClicks(bench->note_line(), "a little thick");
      QTest::keyClick(bench->note_line(), Qt::Key_Return);
    }
    QTest::keyClick(bench, Qt::Key_Space);
    if (!finished(*o.desk().run()) && at().step_id == "turn" && !broken_off) {
      // As after a kill: another window on what is in the file, the clock gone on by wall time.
      const BenchRun before = *o.desk().run();
      o.start(id);
      REQUIRE(o.desk().run());
      CHECK(*o.desk().run() == before);
      o.window->devices()->start_simulated();
      REQUIRE(QTest::qWaitFor([&] { return o.window->devices()->listening(); }, 5000));
      o.window->bench()->start(false);
      bench = o.window->bench()->window();
      broken_off = true;
    }
  }
  CHECK(finished(*o.desk().run()));
  CHECK(broken_off);
  CHECK(weighed == 5);
  // What really happened is beside the plan.
  int with_mass = 0;
  bool noted = false;
  for (const ScreenRecord& r : o.desk().run()->records)
    with_mass += r.scale_g.has_value(), noted |= r.note == "a little thick";
  CHECK(with_mass >= 5);
  CHECK(noted);
  // Booked: two rubber pours and two castings, drawn from their lots; a mould made and pulled twice; castings to be
  // judged.
  const auto booked = *o.desk().workshop().pours(id);
  CHECK(booked.size() == pours + 4);
  for (size_t i = 0; i < 4; ++i) CHECK(booked[i].lot_id != 0);
  const auto moulds = *o.desk().workshop().moulds(id);
  REQUIRE(moulds.size() == 2);
  CHECK(moulds[0].pulls + moulds[1].pulls == 3);
  CHECK(o.desk().job().check.castings.size() == castings + 2);
  bench->close();
  // The casting measured with the simulated calipers.
  o.window->go(Stage::check);
  o.settle();
  o.click(o.find<QPushButton>("check-sizes"));
  o.window->check()->strip("s2")->readings()->setFocus();
  o.window->devices()->press_calipers(8.008);
  REQUIRE(QTest::qWaitFor([&] { return !o.window->check()->strip("s2")->readings()->text().isEmpty(); }, 3000));
  o.settle();
  CHECK(o.desk().job().check.castings.back().readings.size() == 1);
  CHECK(o.desk().job().check.castings.back().readings[0].values_mm[0] == Approx(8.008).margin(0.03));
}

TEST_CASE("bench: a clock that ends flashes and rings once; going wrong is marked; back goes back", "[app][bench]") {
  Open o;
  o.window->go(Stage::bench);
  o.settle();
  o.window->bench()->start(false);
  BenchWindow* bench = o.window->bench()->window();
  QTest::keyClick(bench, Qt::Key_Space);
  QTest::keyClick(bench, Qt::Key_Space);  // the sealer dries from here on
  REQUIRE(o.desk().run()->clocks.size() == 1);
  BenchRun run = *o.desk().run();
  run.clocks[0].ends = run.clocks[0].started;  // as if the hours had gone by while the program was closed
  const std::string id = o.desk().job().id;
  REQUIRE(o.desk().workshop().save_run(id, run_to_json(run)));
  o.start(id);
  o.window->bench()->start(false);
  bench = o.window->bench()->window();
  REQUIRE(QTest::qWaitFor([&] { return bench->flashing(); }, 10'000));
  CHECK(o.desk().run()->clocks[0].rung);
  CHECK(o.desk().ring().empty());
  o.click(bench->note());
  QTest::keyClicks(bench->note_line(), "clay tore");
  o.click(bench->findChild<QPushButton*>("bench-wrong"));
  CHECK(o.desk().run()->records.back().went_wrong);
  const int at = o.desk().run()->at;
  o.click(bench->back());
  CHECK(o.desk().run()->at == at - 1);
  bench->close();
}

TEST_CASE("bench: a scale that dies is noticed within a second, nothing of it is booked, and typing goes on",
          "[app][bench]") {
  Open o;
  o.window->go(Stage::bench);
  o.settle();
  DeviceHub* hub = o.window->devices();
  hub->start_simulated();
  REQUIRE(QTest::qWaitFor([&] { return hub->listening(); }, 5000));
  o.window->bench()->start(false);
  BenchWindow* bench = o.window->bench()->window();
  const auto at = [&] { return o.desk().run()->screens[static_cast<size_t>(o.desk().run()->at)]; };
  for (int guard = 0; guard < 60 && !at().target_g; ++guard) QTest::keyClick(bench, Qt::Key_Space);
  REQUIRE(at().target_g);
  hub->load_scale(250);
  REQUIRE(QTest::qWaitFor([&] { return hub->settled_g() && std::abs(*hub->settled_g() - 250) < 1; }, 6000));
  CHECK(bench->findChild<QLineEdit*>("bench-typed")->isVisible());  // typing is always possible
  // Over its range: the reading goes at once.
  hub->load_scale(5000);
  REQUIRE(QTest::qWaitFor([&] { return !hub->scale(); }, 3000));
  CHECK_FALSE(bench->scale_g());
  hub->load_scale(250);
  REQUIRE(QTest::qWaitFor([&] { return hub->settled_g().has_value(); }, 6000));
  // The process is shot.
  hub->kill_simulated();
  REQUIRE(QTest::qWaitFor([&] { return !hub->scale(); }, 3000));
  CHECK_FALSE(bench->scale_g());
  const int screen = o.desk().run()->at;
  QTest::keyClick(bench, Qt::Key_Space);
  for (const ScreenRecord& r : o.desk().run()->records)
    if (r.screen == screen) CHECK_FALSE(r.scale_g);
  // The next weighing by hand.
  for (int guard = 0; guard < 60 && !at().target_g; ++guard) QTest::keyClick(bench, Qt::Key_Space);
  REQUIRE(at().target_g);
  const int by_hand = o.desk().run()->at;
  o.type_into(bench->findChild<QLineEdit*>("bench-typed"), QString::number(*at().target_g));
  bench->setFocus();
  QTest::keyClick(bench, Qt::Key_Space);
  for (const ScreenRecord& r : o.desk().run()->records)
    if (r.screen == by_hand) CHECK(r.scale_g);
}

TEST_CASE("bench: Back takes back what Done booked, by a counter-entry, and Done books it again", "[app][bench]") {
  Open o;
  const std::string id = o.desk().job().id;
  o.window->go(Stage::bench);
  o.settle();
  o.window->bench()->start(false);
  BenchWindow* bench = o.window->bench()->window();
  const auto at = [&] { return o.desk().run()->screens[static_cast<size_t>(o.desk().run()->at)]; };
  const auto lot_left = [&](const std::string& material) {
    double g = 0;
    for (const Lot& l : *o.desk().workshop().lots())
      if (l.material_id == material) g += l.left_g;
    return g;
  };
  const size_t castings = o.desk().job().check.castings.size();
  bool poured = false, demoulded = false;
  for (int guard = 0; guard < 200 && !finished(*o.desk().run()) && !(poured && demoulded); ++guard) {
    const BenchScreen s = at();
    const bool pours = !s.material_id.empty() && !poured, out = s.demoulds && !demoulded;
    const double before = pours ? lot_left(s.material_id) : 0;
    QTest::keyClick(bench, Qt::Key_Space);
    if (pours) {
      poured = true;
      const size_t entries = o.desk().workshop().pours(id)->size();
      CHECK(lot_left(s.material_id) == Approx(before - s.poured_g));
      QTest::keyClick(bench, Qt::Key_PageUp);
      CHECK(lot_left(s.material_id) == Approx(before));
      CHECK(o.desk().workshop().pours(id)->size() == entries + 1);
      QTest::keyClick(bench, Qt::Key_Space);
      CHECK(lot_left(s.material_id) == Approx(before - s.poured_g));
    }
    if (out) {
      demoulded = true;
      CHECK(o.desk().job().check.castings.size() == castings + 1);
      QTest::keyClick(bench, Qt::Key_PageUp);
      CHECK(o.desk().job().check.castings.size() == castings);
      QTest::keyClick(bench, Qt::Key_Space);
      CHECK(o.desk().job().check.castings.size() == castings + 1);
      CHECK(o.desk().workshop().load_job(id)->check.castings.size() == castings + 1);
    }
  }
  CHECK(poured);
  CHECK(demoulded);
}

TEST_CASE("bench: seven grams over is told at once, Done asks, the lot is scanned, the step is read out",
          "[app][bench]") {
  Open o;
  o.window->go(Stage::bench);
  o.settle();
  o.window->bench()->start(false);
  BenchWindow* bench = o.window->bench()->window();
  const auto at = [&] { return o.desk().run()->screens[static_cast<size_t>(o.desk().run()->at)]; };
  for (int guard = 0; guard < 60 && !(at().target_g && at().part == "A"); ++guard) QTest::keyClick(bench, Qt::Key_1);
  REQUIRE(at().part == "A");
  const double target = *at().target_g,
               ratio = o.desk().run()->screens[static_cast<size_t>(o.desk().run()->at) + 1].ratio_to_last;
  // Which lot: as its label is scanned, once.
  REQUIRE(bench->lot_line()->isVisible());
  o.type_into(bench->lot_line(), "no-such-lot");
  CHECK(bench->lot_line()->property("fault").toBool());
  o.type_into(bench->lot_line(), "t40-118");
  CHECK(o.desk().run()->lots.size() == 1);
  CHECK(bench->lot_line()->placeholderText().contains("T40-118"));
  bench->setFocus();
  bench->type_scale(target + 7);
  CHECK(bench->read_out().contains("7.0 g too much"));
  CHECK(bench->read_out().contains("the next goes to"));
  const int screen = o.desk().run()->at;
  QTest::keyClick(bench, Qt::Key_Space);
  CHECK(o.desk().run()->at == screen);  // it asks
  CHECK_FALSE(bench->asking().isEmpty());
  CHECK(bench->done()->text().contains("once more"));
  QTest::keyClick(bench, Qt::Key_Space);
  CHECK(o.desk().run()->at == screen + 1);
  CHECK(*at().target_g ==
        Approx(target + 7 + ratio * (target + 7 - *o.desk().run()->screens[static_cast<size_t>(screen)].from_g))
            .margin(0.06));
  CHECK(bench->headline().contains("A is 7.0 g over: pour B to"));
  CHECK(bench->accessibleName().contains("Weigh rubber a"));
  CHECK(bench->accessibleDescription().contains("pour B to"));
  QTest::keyClick(bench, Qt::Key_2);  // back
  CHECK(o.desk().run()->at == screen);
  QTest::keyClick(bench, Qt::Key_0);
  CHECK_FALSE(bench->isVisible());
}

TEST_CASE("bench: every step shows its picture, cast from the job; the gauge's curve is kept", "[app][bench]") {
  Open o;
  o.window->go(Stage::bench);
  o.settle();
  o.window->bench()->start(false);
  BenchWindow* bench = o.window->bench()->window();
  bench->resize(1280, 800);
  const auto at = [&] { return o.desk().run()->screens[static_cast<size_t>(o.desk().run()->at)]; };
  int pictures = 0, others = 0;
  std::set<StepPicture> kinds;
  DeviceHub* hub = o.window->devices();
  hub->start_simulated();
  REQUIRE(QTest::qWaitFor([&] { return hub->listening(); }, 5000));
  hub->drive_gauge(4, true);
  bool gauged = false;
  for (int guard = 0; guard < 120 && !finished(*o.desk().run()); ++guard) {
    const BenchScreen s = at();
    INFO(s.title << ": " << name_of(s.picture));
    if (s.picture == StepPicture::none || s.picture == StepPicture::cup) {
      CHECK_FALSE(bench->picture()->isVisible());
      ++others;
    } else {
      REQUIRE(bench->picture()->isVisible());
      CHECK_FALSE(bench->picture()->scene().bodies.empty());
      CHECK(bench->picture()->height() >= 120);
      ++pictures;
      kinds.insert(s.picture);
    }
    if (s.act == Act::degas && !gauged) {
      REQUIRE(QTest::qWaitFor([&] { return hub->gauge() && hub->gauge()->absolute && hub->gauge()->kpa < 60; }, 8000));
      gauged = true;
    }
    o.desk().bench_next(s.target_g);
  }
  CHECK(pictures > 15);
  CHECK(kinds.contains(StepPicture::bed));
  CHECK(kinds.contains(StepPicture::boxed));
  CHECK(kinds.contains(StepPicture::tilted));
  CHECK(kinds.contains(StepPicture::opened));
  CHECK(kinds.contains(StepPicture::scars));
  REQUIRE(gauged);
  bool kept = false;
  for (const ScreenRecord& r : o.desk().run()->records) kept |= !r.gauge_kpa.empty();
  CHECK(kept);
  // Its tape: a line a screen; put away it is still there.
  bench->close();
  o.window->bench()->show_view(1);
  CHECK(o.window->bench()->tape()->lines().size() == o.desk().run()->records.size());
  o.click(o.find<QPushButton>("bench-end"));
  CHECK_FALSE(o.desk().run());
  REQUIRE(o.desk().done_runs().size() == 1);
  o.window->bench()->show_view(1);
  CHECK(o.window->bench()->tape()->lines().size() > 20);
  shapes::TempDir files;
  o.desk().write_tape(o.desk().done_runs().front(), QString::fromStdString(files / "tape.pdf"));
  o.settle();
  CHECK(read_file(files / "tape.pdf")->starts_with("%PDF"));
}

TEST_CASE("bench: one more casting, a top-up, a run of another job beside it, a photograph", "[app][bench]") {
  Open o;
  o.window->go(Stage::bench);
  o.settle();
  BenchBeginning more;
  more.at = BeginAt::one_more;
  more.mould_id = o.desk().moulds().front().id;
  const int pulls = o.desk().moulds().front().pulls;
  o.window->bench()->begin(more, false);
  REQUIRE(o.desk().run());
  CHECK(o.desk().run()->title == "One more casting");
  const size_t castings = o.desk().job().check.castings.size();
  shapes::TempDir files;
  QImage photo(2400, 1200, QImage::Format_RGB32);
  photo.fill(Qt::darkGreen);
  REQUIRE(photo.save(QString::fromStdString(files / "p.png")));
  CHECK(o.desk().bench_photo(QString::fromStdString(files / "p.png")));
  CHECK_FALSE(o.desk().bench_photo(QString::fromStdString(files / "none.png")));
  while (!finished(*o.desk().run()))
    o.desk().bench_next(o.desk().run()->screens[static_cast<size_t>(o.desk().run()->at)].target_g);
  CHECK(o.desk().job().check.castings.size() == castings + 1);
  CHECK(o.desk().moulds().front().pulls == pulls + 1);
  int64_t id = 0;
  for (const ScreenRecord& r : o.desk().run()->records)
    if (!r.photos.empty()) id = r.photos.front();
  REQUIRE(id > 0);
  CHECK(o.desk().bench_picture(id).width() == 1600);  // a scaled copy
  // A top-up is a pour of its own, and no casting.
  const size_t pours = o.desk().workshop().pours(o.desk().job().id)->size();
  BenchBeginning top;
  top.at = BeginAt::top_up;
  top.g = 12;
  o.window->bench()->begin(top, false);
  while (!finished(*o.desk().run()))
    o.desk().bench_next(o.desk().run()->screens[static_cast<size_t>(o.desk().run()->at)].target_g);
  CHECK(o.desk().workshop().pours(o.desk().job().id)->size() == pours + 1);
  CHECK(o.desk().workshop().pours(o.desk().job().id)->front().mass_g == Approx(12.6).margin(2.5));
  CHECK(o.desk().job().check.castings.size() == castings + 1);
  // Another job's run goes on beside this one: both are listed, and its clock rings here.
  o.desk().open_job("5a17e0d4b2c94f6e8a1bb2c3d4e5f602");
  o.settle();
  REQUIRE(o.desk().begin_bench());
  CHECK(o.desk().all_runs().size() == 2);
  BenchRun other = *run_from_json(*o.desk().workshop().run_document("5a17e0d4b2c94f6e8a1bb2c3d4e5f601"));
  REQUIRE_FALSE(other.clocks.empty());
  other.clocks.back().ends = 1, other.clocks.back().rung = false;
  REQUIRE(o.desk().workshop().save_run(other.job_id, run_to_json(other)));
  o.start("5a17e0d4b2c94f6e8a1bb2c3d4e5f602");
  bool rang = false;
  for (const std::string& label : o.desk().ring()) rang |= label.starts_with("Pen-arm bracket: ");
  CHECK((rang || run_from_json(*o.desk().workshop().run_document(other.job_id))->clocks.back().rung));
}

}  // namespace tests_app_bench
