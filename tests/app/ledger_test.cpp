// Ledger: the real window driven by clicks and keys; asserts what a user would see.
#include "window.hpp"

namespace tests_app_ledger {

TEST_CASE("ledger: a bottle is put on the shelf, found by search, and short or old lots are told in Mix",
          "[app][ledger]") {
  Open o;
  o.window->go(Stage::ledger);
  o.settle();
  CHECK(o.window->ledger()->rows() > 10);
  o.find<QLineEdit>("lot-label")->setText("NEW-1");
  o.find<QLineEdit>("lot-grams")->setText("500");
  o.find<QLineEdit>("lot-opened")->setText("soon");
  o.click(o.find<QPushButton>("lot-add"));
  CHECK(o.find<QLineEdit>("lot-opened")->property("fault").toBool());
  CHECK(o.desk().workshop().lots()->size() == 4);
  o.find<QLineEdit>("lot-opened")->setText("2026-11-25");
  o.click(o.find<QPushButton>("lot-add"));
  o.settle();
  REQUIRE(o.desk().workshop().lots()->size() == 5);
  CHECK(o.desk().workshop().lots()->front().label == "NEW-1");
  auto* search = o.find<QLineEdit>("ledger-search");
  search->setText("gelled");
  CHECK(o.window->ledger()->rows() == 1);
  search->setText("no such thing anywhere");
  CHECK(o.window->ledger()->rows() == 0);
  // The ornament's resin is out of date.
  o.desk().open_job("5a17e0d4b2c94f6e8a1bb2c3d4e5f602");
  o.settle();
  CHECK(o.card("lot-out-of-date"));
  CHECK(o.window->strand()->button(Stage::mix)->state().knot == Knot::needs_answer);
}

}  // namespace tests_app_ledger
