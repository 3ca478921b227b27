// The shop's own materials and rules, and what meets what: the real window driven by clicks and keys.
#include "ledger/rules_view.hpp"
#include "ledger/shelf_view.hpp"
#include "mix/meeting_view.hpp"
#include "window.hpp"

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
  INFO(shelf->marks()->editor()->text().toStdString()
       << " visible " << shelf->marks()->editor()->isVisible() << " focus " << shelf->marks()->editor()->hasFocus()
       << " " << o.window->message_text().toStdString());
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
