#pragma once
/// What a job costs and what is asked for it, from its own plan (M29): materials, hands, moulds by their lives,
/// castings that go wrong, margin.
#include <string>
#include <vector>

#include "base/drawing.hpp"
#include "job/setup.hpp"
#include "rules/rules.hpp"
#include "stages/results.hpp"

namespace palinform {

struct QuoteTerms {
  double hand_price_per_h = 40;
  double margin_pct = 25;
  double scrap_pct = 5;  ///< of castings that go wrong
  int valid_days = 30;
  std::string today;  ///< ISO date
};

struct QuoteLine {
  std::string what;  ///< "Rubber, 1 mould"
  double cost = 0;
  double share = 0;  ///< of all of them
};

struct QuotedPrice {
  int copies = 1;
  int moulds = 1, pulls = 1;
  double cost = 0, total = 0, per_copy = 0;  ///< total and per copy with the margin
};

struct Quote {
  std::vector<QuoteLine> lines;  ///< for the job's own number of copies, without the margin; dearest first
  double cost = 0, margin = 0, total = 0;
  int copies = 1, moulds = 1;
  int mould_life_pulls = 1;                           ///< as the form and the rubber's sheet say
  std::vector<QuotedPrice> per_copy;                  ///< 1, 2, 5, 10, 20 and the job's own
  double mould_only = 0, castings_only_per_copy = 0;  ///< with the margin
  std::string moves_most;                             ///< the line that a tenth more or less of moves the price most
  double hours = 0;
};

/// Refused where the job is not planned as far as its steps.
Result<Quote> quote_of(const MixResult& mix, const ProcedureResult& work, const FormsResult& forms, int copies,
                       const QuoteTerms& terms);

/// One A4 page in the customer's words. `money`: the sign.
Drawing quote_page(const Quote& q, const std::string& job, const std::string& client, const std::string& made_of,
                   const QuoteTerms& terms, const std::string& money);

/// A receipt for the owner's original: condition when it came, or when it goes back, with lines to sign. One A4 page.
Drawing receipt_page(const OwnersPiece& piece, const std::string& job, const std::string& client,
                     const std::string& today);

}  // namespace palinform
