// The shop's own materials and rules, and what meets what: the real window driven by clicks and keys.
#include "ledger/rules_view.hpp"
#include "ledger/shelf_view.hpp"
#include "mix/meeting_view.hpp"
#include "window.hpp"

namespace tests_app_shelf {

namespace {

void write_figure(Open& o, MarksView* marks, const std::string& key, const QString& text) {
  int at = -1;
  for (size_t i = 0; i < marks->lines().size(); ++i)
    if (marks->lines()[i].key == key) at = static_cast<int>(i);
  REQUIRE(at >= 0);
  QTest::mouseClick(marks, Qt::LeftButton, {}, marks->figure_rect(at).center());
  REQUIRE(marks->editor()->isVisible());
  o.type_into(marks->editor(), text);
}

}  // namespace

TEST_CASE("shelf: a bottle is opened by a key from Mix, a figure changed, and the job asks before it takes it",
          "[app][ledger]") {
  Open o;
  o.window->go(Stage::mix);
  o.settle();
  const double pot_life = o.desk().plan().fresh(results::mix)->pours[0].batches.pot_life_min;
  QTest::keyClick(o.window.get(), Qt::Key_B);
  CHECK(o.window->stage() == Stage::ledger);
  ShelfView* shelf = o.window->ledger()->shelf();
  const std::string id = o.desk().job().mix.silicone_id;
  CHECK(shelf->opened() == id);
  REQUIRE(shelf->marks()->isVisible());
  const double sheet = o.desk().shop().bottle(id)->times[0].pot_life_min;
  write_figure(o, shelf->marks(), "times.0.pot_life_min", QString::number(sheet / 2));
  o.settle();
  CHECK_FALSE(shelf->marks()->editor()->isVisible());  // written and closed
  CHECK(o.desk().shop().bottle(id)->times[0].pot_life_min == sheet / 2);
  CHECK(o.desk().shop().bottle(id)->version == 2);
  // The job goes on with what it was planned with, and says so.
  CHECK(o.desk().plan().fresh(results::mix)->pours[0].batches.pot_life_min == pot_life);
  o.window->go(Stage::mix);
  FindingCard* card = o.card("shelf-changed");
  REQUIRE(card);
  CHECK(o.card_texts().contains("pot life"));
  for (QPushButton* b : card->findChildren<QPushButton*>())
    if (b->text() == "Take the new figures") {
      o.click(b);
      break;
    }
  o.settle();
  CHECK(o.desk().plan().fresh(results::mix)->pours[0].batches.pot_life_min == Approx(pot_life / 2));
  CHECK_FALSE(o.card("shelf-changed"));
  o.desk().undo();
  o.settle();
  CHECK(o.desk().plan().fresh(results::mix)->pours[0].batches.pot_life_min == pot_life);
  // What cannot be is told and changes nothing.
  o.window->go(Stage::ledger);
  write_figure(o, shelf->marks(), "shore_a", "4000");
  CHECK(o.window->message_text().contains("hardness"));
  CHECK(o.desk().shop().bottle(id)->version == 2);
  write_figure(o, shelf->marks(), "shore_a", "soft");
  CHECK(shelf->marks()->editor()->property("fault").toBool());
}

TEST_CASE("shelf: a new user enters his own tin rubber, copies it, retires it", "[app][ledger]") {
  Open o;
  o.window->go(Stage::ledger);
  o.click(o.find<QPushButton>("ledger-shelf"));
  ShelfView* shelf = o.window->ledger()->shelf();
  REQUIRE(shelf->bottles()->isVisible());
  const int before = shelf->bottles()->count();
  shelf->add_of_family("condensation-catalyst-range");
  REQUIRE_FALSE(shelf->opened().empty());
  const std::string first = shelf->opened();
  o.type_into(o.find<QLineEdit>("bottle-name"), "Grey tin of the harbour");
  o.type_into(o.find<QLineEdit>("bottle-ratio"), "3 %");
  const Material* m = o.desk().shop().bottle(first);
  REQUIRE(m);
  CHECK(m->name == "Grey tin of the harbour");
  CHECK(m->mixing.by == MixBy::percent);
  CHECK(m->mixing.percent == 3);
  o.type_into(o.find<QLineEdit>("bottle-ratio"), "lots");
  CHECK(o.find<QLineEdit>("bottle-ratio")->property("fault").toBool());
  // A mark is dragged: by eye, so it stays a guess.
  MarksView* marks = shelf->marks();
  int at = 0;
  while (marks->lines()[static_cast<size_t>(at)].key != "shore_a") ++at;
  const QPoint from = marks->mark_at(at).toPoint();
  QTest::mousePress(marks, Qt::LeftButton, {}, from);
  QTest::mouseMove(marks, from + QPoint(30, 0));
  QTest::mouseRelease(marks, Qt::LeftButton, {}, from + QPoint(30, 0));
  m = o.desk().shop().bottle(first);
  CHECK(*m->figure("shore_a") > *family("condensation-catalyst-range")->usual.figure("shore_a"));
  CHECK(m->figures.at("shore_a").source == FigureSource::guess);
  o.click(o.find<QPushButton>("bottle-copy"));
  CHECK(shelf->opened() != first);
  CHECK(o.desk().shop().bottle(shelf->opened())->name == "Grey tin of the harbour (copy)");
  o.click(o.find<QPushButton>("bottle-retire"));
  CHECK(o.desk().shop().bottle(shelf->opened())->retired);
  CHECK_FALSE(o.desk().catalogue().silicone(shelf->opened()));
  o.click(o.find<QPushButton>("bottle-back"));
  CHECK(shelf->bottles()->count() == before + 2);
  o.find<QLineEdit>("shelf-find")->setText("harbour");
  CHECK(shelf->bottles()->count() == 2);
  o.find<QLineEdit>("shelf-find")->clear();
  // By the mouse and by the arrows.
  QTest::mouseClick(shelf->bottles(), Qt::LeftButton, {}, shelf->bottles()->place(first).center());
  CHECK(shelf->opened() == first);
  o.click(o.find<QPushButton>("bottle-back"));
  QTest::keyClick(shelf->bottles(), Qt::Key_Right);
  CHECK(shelf->opened() != first);
  // It is offered in Size at once.
  o.window->go(Stage::size);
  o.settle();
  CHECK(o.find<QComboBox>("silicone")->findData(QString::fromStdString(first)) >= 0);
}

TEST_CASE("shelf: of a bottle from nothing its ratio is asked, and only then it is kept", "[app][ledger]") {
  Open o;
  o.window->go(Stage::ledger);
  o.window->ledger()->show_view(1);
  ShelfView* shelf = o.window->ledger()->shelf();
  const size_t before = o.desk().shop().bottles.size();
  shelf->add_from_nothing(MaterialKind::casting_resin);
  CHECK(o.window->message_text().contains("ratio"));
  CHECK(o.desk().shop().bottles.size() == before);
  o.type_into(o.find<QLineEdit>("bottle-ratio"), "100 : 45");
  REQUIRE(o.desk().shop().bottles.size() == before + 1);
  const std::string id = shelf->opened();
  CHECK_FALSE(o.desk().catalogue().resin(id));  // nobody knows how long it stays workable
  write_figure(o, shelf->marks(), "times.0.pot_life_min", "12");
  CHECK(o.desk().catalogue().resin(id));
  CHECK(guesses(*o.desk().shop().bottle(id)).empty());
}

TEST_CASE("rules: a changed rule changes the plan, and goes back to its default", "[app][ledger]") {
  Open o;
  const double need = o.desk().plan().fresh(results::mix)->pours[0].need_g;
  o.window->go(Stage::ledger);
  o.click(o.find<QPushButton>("ledger-rules"));
  RulesView* rules = o.window->ledger()->rules();
  o.click(o.find<QPushButton>("rules-mix"));
  write_figure(o, rules->marks(), "mix.cup_loss_pct", "30");
  o.settle();
  CHECK(o.desk().plan().fresh(results::mix)->pours[0].need_g > 1.2 * need);
  CHECK(rules->to_default()->isEnabled());
  o.click(rules->to_default());
  o.settle();
  CHECK(o.desk().plan().fresh(results::mix)->pours[0].need_g == Approx(need));
  write_figure(o, rules->marks(), "mix.cup_loss_pct", "3000");
  CHECK(o.window->message_text().contains("cup loss"));
}

TEST_CASE("meets: what is worn and what was tried settle the finding or harden it", "[app][ledger]") {
  Open o;
  Job next = o.desk().job();
  next.original.finish.master_material = "printed-photopolymer";
  next.original.finish.contacts = {};
  REQUIRE(o.desk().edit(next, "surface"));
  o.window->go(Stage::mix);
  o.settle();
  o.click(o.find<QPushButton>("mix-meets"));
  MeetingView* view = o.window->mix()->meeting();
  REQUIRE(view->isVisible());
  // The demo's lot was tried on this surface and cured.
  CHECK_FALSE(o.card("inhibition/photopolymer"));
  const QRect crossing = view->square()->crossing("rubber", "master");
  REQUIRE_FALSE(crossing.isEmpty());
  QTest::mouseClick(view->square(), Qt::LeftButton, {}, crossing.center());
  CHECK(view->square()->words().contains("Settled"));
  o.click(o.find<QPushButton>("patch-wet"));
  o.settle();
  FindingCard* hard = o.card("inhibition/photopolymer");
  REQUIRE(hard);
  CHECK(hard->finding().finding.severity == Severity::stop);
  CHECK_FALSE(hard->finding().finding.answerable);
  auto* gloves = o.find<QComboBox>("contact-gloves");
  gloves->setCurrentIndex(gloves->findData("latex"));
  emit gloves->activated(gloves->currentIndex());
  o.settle();
  CHECK(o.card("inhibition/sulphur-gloves"));
  emit gloves->activated((gloves->setCurrentIndex(gloves->findData("nitrile")), gloves->currentIndex()));
  o.settle();
  CHECK_FALSE(o.card("inhibition/sulphur-gloves"));
  // The first half is told until it is released.
  CHECK(o.card("bonds/first-half"));
  o.click(o.find<QPushButton>("contact-released"));
  o.settle();
  CHECK_FALSE(o.card("bonds/first-half"));
}

TEST_CASE("the shop: what it owns is written in lines, and a new job begins with what is usual", "[app][ledger]") {
  Open o;
  o.window->go(Stage::ledger);
  o.click(o.find<QPushButton>("ledger-shop"));
  auto* drills = o.find<QLineEdit>("shop-drills");
  REQUIRE(drills->isVisible());
  o.type_into(drills, "1.2, 2.4 mm");
  CHECK(o.desk().equipment().drills_mm == std::vector<double>{1.2, 2.4});
  o.type_into(drills, "large ones");
  CHECK(drills->property("fault").toBool());
  CHECK(o.desk().equipment().drills_mm == std::vector<double>{1.2, 2.4});
  auto* cup = o.find<QComboBox>("usual-cup");
  cup->setCurrentIndex(cup->findData("Tumbler 500 ml"));
  emit cup->activated(cup->currentIndex());
  o.desk().new_job();
  CHECK(o.desk().job().mix.cup_name == "Tumbler 500 ml");
  CHECK(o.desk().job().mix.cup_ml == 500);
  CHECK(o.desk().job().mix.cup_tare_g == Approx(9.4));
  CHECK(o.desk().job().mix.people == 2);
}

TEST_CASE("colour: a recipe is made, cast in, and goes into the cup before A", "[app][ledger]") {
  Open o;
  const auto casting = [&] { return o.desk().plan().fresh(results::mix)->pours.back(); };
  const PourMix plain = casting();
  o.window->go(Stage::mix);
  o.settle();
  o.click(o.find<QPushButton>("mix-colour"));
  o.find<QLineEdit>("colour-name")->setText("Signal");
  o.find<QLineEdit>("colour-share")->setText("1");
  o.click(o.find<QPushButton>("colour-put"));
  REQUIRE(o.desk().workshop().recipes()->size() == 2);
  o.click(o.find<QPushButton>("colour-use"));
  o.settle();
  REQUIRE(o.desk().job().mix.colour);
  CHECK(o.desk().job().mix.colour->name == "Signal");
  const PourMix tinted = casting();
  REQUIRE(tinted.tints.size() == 1);
  CHECK(tinted.weighing.readings_g[2] ==
        Approx(tinted.weighing.readings_g[0] + tinted.weighing.total_g + tinted.tints[0].g));
  CHECK(tinted.tints[0].g == Approx(0.01 * (tinted.weighing.total_g + tinted.tints[0].g)));
  CHECK(tinted.weighing.total_g <= plain.weighing.total_g);
  // More than the sheet allows is a stop that says so.
  o.find<QLineEdit>("colour-share")->setText("9");
  o.click(o.find<QPushButton>("colour-put"));
  o.settle();
  CHECK(o.card("colour-refused"));
  o.desk().undo();
  o.settle();
  CHECK_FALSE(o.card("colour-refused"));
  // What was tried is kept with what was in it.
  o.find<QLineEdit>("colour-verdict")->setText("right");
  o.click(o.find<QPushButton>("colour-trial"));
  CHECK(o.desk().workshop().recipes()->back().trials.size() == 1);
  // What is left goes into the standing moulds, and is booked.
  const size_t pours = o.desk().workshop().pours()->size();
  o.type_into(o.find<QLineEdit>("left-over"), "60");
  o.click(o.find<QPushButton>("left-over-pour"));
  CHECK(o.desk().workshop().pours()->size() == pours + 2);
}

TEST_CASE("filler is stirred in from the shelf, a trial gets its picture, the next is cast the same", "[app][ledger]") {
  Open o;
  o.window->go(Stage::mix);
  o.settle();
  const PourMix plain = o.desk().plan().fresh(results::mix)->pours.back();
  o.click(o.find<QPushButton>("mix-colour"));
  auto* what = o.find<QComboBox>("add-material");
  const int powder = what->findText(QStringLiteral("owder"), Qt::MatchContains);
  REQUIRE(powder >= 0);
  what->setCurrentIndex(powder);
  const std::string id = what->currentData().toString().toStdString();
  o.find<QLineEdit>("add-share")->setText("30");
  o.click(o.find<QPushButton>("add-put"));
  o.settle();
  REQUIRE(o.desk().job().mix.resin_adds.size() == 1);
  const PourMix filled = o.desk().plan().fresh(results::mix)->pours.back();
  REQUIRE(filled.adds.size() == 1);
  CHECK(filled.adds[0].material_id == id);
  CHECK(filled.viscosity_mpa_s > plain.viscosity_mpa_s);
  CHECK(o.find<QLabel>("added")->text().contains(QStringLiteral("30 %")));
  // More than its sheet allows is refused, and nothing changes.
  o.find<QLineEdit>("add-share")->setText("75");
  o.click(o.find<QPushButton>("add-put"));
  CHECK(o.desk().job().mix.resin_adds[0].share == Approx(0.3));
  // Nought takes it out again.
  o.find<QLineEdit>("add-share")->setText("0");
  o.click(o.find<QPushButton>("add-put"));
  o.settle();
  CHECK(o.desk().job().mix.resin_adds.empty());
  // A picture beside the trial.
  shapes::TempDir files;
  QImage chip(640, 480, QImage::Format_RGB32);
  chip.fill(Qt::darkRed);
  REQUIRE(chip.save(QString::fromStdString(files / "chip.png")));
  CHECK_FALSE(o.window->mix()->colour()->take_picture(QString::fromStdString(files / "none.png")));
  CHECK(o.window->mix()->colour()->take_picture(QString::fromStdString(files / "chip.png")));
  o.find<QLineEdit>("colour-verdict")->setText("a shade too red");
  o.click(o.find<QPushButton>("colour-trial"));
  const ColourTrial trial = o.desk().workshop().recipes()->front().trials.back();
  QImage kept;
  REQUIRE(kept.loadFromData(QByteArray::fromBase64(QByteArray::fromStdString(trial.picture_png))));
  CHECK(kept.width() == 128);
  // The same as a casting: what really went into its cup.
  Job job = o.desk().job();
  REQUIRE_FALSE(job.check.castings.empty());
  job.check.castings.back().colour = {{"pigment-paste", "Pigment paste", 0.0123}};
  REQUIRE(o.desk().edit(job, "as it came out"));
  o.settle();
  auto* same = o.find<QComboBox>("colour-same");
  REQUIRE(same->isVisible());
  same->setCurrentIndex(1);
  emit same->activated(1);
  o.settle();
  REQUIRE(o.desk().job().mix.colour);
  CHECK(o.desk().job().mix.colour->tints[0].share == Approx(0.0123));
  CHECK(o.desk().job().mix.colour->name.find("As casting") == 0);
}

TEST_CASE("several jobs: those that cast in the same are found, chosen, and stand at the bench as one batch",
          "[app][ledger]") {
  Open o;
  // Another open job in the same material, with a mould that stands.
  Job other = o.desk().job();
  other.id = "a-second-job", other.name = "Second bracket", other.check.castings.clear(), other.copies = 2;
  REQUIRE(o.desk().workshop().save_job(other, "copied"));
  REQUIRE(o.desk().workshop().save_mould({0, other.id, "", "its mould", "2026-11-20", 0, "", ""}));
  o.window->go(Stage::mix);
  o.settle();
  o.click(o.find<QPushButton>("mix-together"));
  o.click(o.find<QPushButton>("together-look"));
  o.settle();
  auto* row = o.find<QPushButton>("together-a-second-job");
  CHECK(row->isChecked());
  REQUIRE(o.find<QPushButton>("together-begin")->isVisible());
  row->click();
  CHECK_FALSE(o.find<QPushButton>("together-begin")->isVisible());
  row->click();
  o.click(o.find<QPushButton>("together-begin"));
  REQUIRE(o.desk().run());
  CHECK(o.desk().run()->title == "One batch for 2 jobs");
  const size_t castings = o.desk().job().check.castings.size();
  while (!finished(*o.desk().run()))
    o.desk().bench_next(o.desk().run()->screens[static_cast<size_t>(o.desk().run()->at)].target_g);
  CHECK(o.desk().job().check.castings.size() == castings + 1);
  CHECK(o.desk().workshop().load_job("a-second-job")->check.castings.size() == 1);
  CHECK(o.desk().workshop().moulds("a-second-job")->front().pulls == 1);
}

TEST_CASE("air: each material has its own way to lose it, and the pot refuses bubbles only", "[app][ledger]") {
  Open o;
  o.window->go(Stage::mix);
  o.settle();
  auto* air = o.find<QComboBox>("air-by");
  const auto choose = [&](const char* by) {
    air->setCurrentIndex(air->findData(by));
    emit air->activated(air->currentIndex());
    o.settle();
  };
  choose("none");
  CHECK(o.desk().job().mix.rubber_air == AirBy::none);
  CHECK(o.desk().job().mix.resin_air != AirBy::none);
  CHECK(o.desk().plan().fresh(results::mix)->pours[0].degas_min == 0);
  choose("self-clearing");
  CHECK(o.card("not-self-clearing"));
  choose("vacuum");
  CHECK_FALSE(o.card("not-self-clearing"));
  CHECK(o.desk().plan().fresh(results::mix)->pours[0].degas_min > 0);
  // A cup of the shop's own: what stays in it is a film over its wall.
  auto* cup = o.find<QComboBox>("own-cup");
  cup->setCurrentIndex(cup->findData("Beaker 1 l"));
  emit cup->activated(cup->currentIndex());
  o.settle();
  CHECK(o.desk().job().mix.cup_tare_g == Approx(46.2));
  CHECK(o.desk().plan().fresh(results::mix)->pours[0].loss_g_per_cup > 0.5);
}

TEST_CASE("peroxide: where it cannot be measured, no figure of it is on the screen", "[app][ledger]") {
  Open o;
  Job next = o.desk().job();
  next.mix.resin_id = "polyester";
  next.mix.scale_division_g = 1;
  REQUIRE(o.desk().edit(next, "polyester"));
  o.window->go(Stage::mix);
  o.settle();
  const auto r = o.desk().plan().fresh(results::mix);
  REQUIRE(r->pours.back().no_figures);
  o.window->mix()->choose_pour(static_cast<int>(r->pours.size()) - 1);
  for (const QString& s : o.window->mix()->cup()->readings()) CHECK(s == "no figure");
  FindingCard* f = o.card("dose-unsafe/casting");
  REQUIRE(f);
  CHECK_FALSE(f->finding().finding.answerable);
  for (const Remedy& way : f->finding().finding.remedies)
    if (std::holds_alternative<edits::SetWaste>(way.edit)) CHECK(way.label.find(" g") == std::string::npos);
}

}  // namespace tests_app_shelf
