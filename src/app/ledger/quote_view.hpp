#pragma once
/// What the job costs and what is asked for it: its lines by weight, the price by number, which line moves it most; the
/// page for the customer; once it is taken the promised day, and what it really took beside what was offered.
#include "ledger/really_taken.hpp"
#include "overview/quote.hpp"
#include "shell/stage_page.hpp"

namespace palinform::app {

class Desk;

/// Lines as bars, prices by number beside them.
class QuotePicture : public QWidget {
  Q_OBJECT
 public:
  QuotePicture(Desk& desk, QWidget* parent);
  void show_quote(const Quote& q, const std::vector<std::pair<QString, std::pair<double, double>>>& real,
                  const std::vector<DoneAlike>& alike);

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  Desk& desk_;
  Quote quote_;
  std::vector<std::pair<QString, std::pair<double, double>>> real_;  ///< what, offered, real
  std::vector<DoneAlike> alike_;                                     ///< the last jobs of the kind
};

class QuoteView : public QWidget {
  Q_OBJECT
 public:
  explicit QuoteView(Desk& desk, QWidget* parent = nullptr);
  void refresh();

 private:
  QuoteTerms terms() const;
  std::optional<Quote> quote() const;
  void write();
  void take();
  void set_rule(double DaysRules::*member, double v);
  Desk& desk_;
  FigureField *hour_, *margin_, *scrap_, *days_;
  QPushButton *write_, *take_;
  QLabel *told_, *empty_;
  void set_piece(std::string OwnersPiece::*member, const QString& text, const QString& what);
  QuotePicture* picture_;
  QLineEdit *came_, *condition_, *went_, *then_;
  QPushButton *receipt_, *sign_;
  std::string alike_for_;  ///< what `alike_` was looked up for
  std::vector<DoneAlike> alike_;
};

}  // namespace palinform::app
