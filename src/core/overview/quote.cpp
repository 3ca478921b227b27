#include "overview/quote.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"
#include "base/wall_time.hpp"

namespace palinform {
namespace {

/// What a job of any number of copies is reckoned from.
struct Unit {
  double rubber = 0;                             // of one mould
  double resin = 0;                              // of one pull
  double master_h = 0, mould_h = 0, pull_h = 0;  // hands: once, a mould, a pull
  int a_pull = 1, life = 1;
};

struct Parts {
  int pulls = 1, moulds = 1;
  double rubber = 0, resin = 0, scrap = 0, master = 0, mould = 0, casting = 0;
  double sum() const { return rubber + resin + scrap + master + mould + casting; }
};

Parts parts_for(const Unit& u, int copies, const QuoteTerms& t) {
  Parts p;
  const double good = std::max(0.05, 1 - t.scrap_pct / 100);
  const int wanted = (copies + u.a_pull - 1) / u.a_pull;
  p.pulls = static_cast<int>(std::ceil(wanted / good - 1e-9));
  p.moulds = std::max(1, (p.pulls + u.life - 1) / u.life);
  p.rubber = p.moulds * u.rubber;
  p.master = u.master_h * t.hand_price_per_h;
  p.mould = p.moulds * u.mould_h * t.hand_price_per_h;
  p.resin = wanted * u.resin;
  p.casting = wanted * u.pull_h * t.hand_price_per_h;
  // What goes wrong, on the average: also where it is less than one casting.
  p.scrap = (wanted / good - wanted) * (u.resin + u.pull_h * t.hand_price_per_h);
  return p;
}

}  // namespace

Result<Quote> quote_of(const MixResult& mix, const ProcedureResult& work, const FormsResult& forms, int copies,
                       const QuoteTerms& t) {
  if (work.procedure.steps.empty())
    return Error{"the job is not planned as far as its steps", "quote", "Choose materials and a form first."};
  Unit u;
  const int moulds = std::max(1, work.facts.moulds), pulls = std::max(1, mix.pulls);
  u.rubber = mix.rubber_cost + mix.jacket_cost;
  u.resin = mix.resin_cost / pulls;
  u.a_pull = std::max(1, mix.castings_a_pull);
  u.life = std::max(1, forms.plan().pulls);
  int last_casting = 0;
  double castings_min = 0;
  for (const ProcedureStep& s : work.procedure.steps) {
    if (!s.skipped.empty()) continue;
    last_casting = std::max(last_casting, s.casting);
    (s.casting > 0 ? castings_min : s.mould > 0 || s.block > Block::prepare ? u.mould_h : u.master_h) += s.hands_min;
  }
  u.master_h /= 60;
  u.mould_h /= 60 * moulds;
  u.pull_h = castings_min / 60 / std::max(1, last_casting);

  Quote q;
  q.copies = std::max(1, copies);
  q.mould_life_pulls = u.life;
  const Parts own = parts_for(u, q.copies, t);
  q.moulds = own.moulds;
  q.cost = own.sum();
  const std::string of_moulds = counted(own.moulds, "mould", "moulds");
  for (const auto& [what, cost] :
       {std::pair{"Master made ready, " + fixed(u.master_h, 1) + " h", own.master},
        std::pair{"Hands on " + of_moulds + ", " + fixed(u.mould_h * own.moulds, 1) + " h", own.mould},
        std::pair{"Rubber of " + of_moulds, own.rubber},
        std::pair{"Hands on " + counted(q.copies, "casting", "castings") + ", " +
                      fixed(own.casting / std::max(1e-9, t.hand_price_per_h), 1) + " h",
                  own.casting},
        std::pair{std::string("Casting material"), own.resin},
        std::pair{"Castings that go wrong, " + significant(t.scrap_pct, 2) + " %", own.scrap}})
    if (cost > 0) q.lines.push_back({what, cost, q.cost > 0 ? cost / q.cost : 0});
  std::stable_sort(q.lines.begin(), q.lines.end(),
                   [](const QuoteLine& a, const QuoteLine& b) { return a.cost > b.cost; });
  if (!q.lines.empty()) q.moves_most = q.lines.front().what;
  const double with_margin = 1 + t.margin_pct / 100;
  q.margin = q.cost * t.margin_pct / 100;
  q.total = q.cost + q.margin;
  q.hours = u.master_h + own.moulds * u.mould_h + own.casting / std::max(1e-9, t.hand_price_per_h);
  q.mould_only = (u.rubber + (u.master_h + u.mould_h) * t.hand_price_per_h) * with_margin;
  q.castings_only_per_copy = (own.resin + own.casting + own.scrap) / q.copies * with_margin;
  std::vector<int> numbers{1, 2, 5, 10, 20, q.copies};
  std::sort(numbers.begin(), numbers.end());
  numbers.erase(std::unique(numbers.begin(), numbers.end()), numbers.end());
  for (const int n : numbers) {
    const Parts p = parts_for(u, n, t);
    q.per_copy.push_back({n, p.moulds, p.pulls, p.sum(), p.sum() * with_margin, p.sum() * with_margin / n});
  }
  return q;
}

Drawing quote_page(const Quote& q, const std::string& job, const std::string& client, const std::string& made_of,
                   const QuoteTerms& t, const std::string& money) {
  Drawing d;
  d.title = "Quote · " + job;
  d.width_mm = 210, d.height_mm = 297;
  const auto text = [&](double x, double y, const std::string& s, double size, int side = -1) {
    d.labels.push_back({{x, y}, s, size, side});
  };
  const auto price = [&](double v) { return grouped(v, 2) + " " + money; };
  double y = 268;
  text(22, y, "Quote", 9);
  text(188, y, t.today, 3.6, 1);
  y -= 14;
  text(22, y, job, 5);
  y -= 7;
  if (!client.empty()) text(22, y, "For " + client, 3.8), y -= 6;
  y -= 8;
  text(22, y, counted(q.copies, "copy", "copies") + (made_of.empty() ? "" : " in " + made_of) + ",", 3.6);
  y -= 5.5;
  text(22, y, "cast from a silicone mould taken off the original or its master.", 3.6);
  y -= 14;
  text(22, y, "All together", 4.2);
  text(188, y, price(q.total), 5.2, 1);
  y -= 7;
  text(22, y, "A copy", 3.8);
  text(188, y, price(q.total / q.copies), 3.8, 1);
  y -= 12;
  d.strokes.push_back({Pen::measure, {{22, y + 6}, {188, y + 6}}, false});
  text(22, y, "What other numbers would be", 3.8);
  y -= 8;
  for (const QuotedPrice& p : q.per_copy) {
    text(26, y, counted(p.copies, "copy", "copies"), 3.6);
    text(110, y, price(p.per_copy) + " each", 3.6, 1);
    text(188, y, price(p.total), 3.6, 1);
    y -= 6;
  }
  y -= 6;
  d.strokes.push_back({Pen::measure, {{22, y + 6}, {188, y + 6}}, false});
  text(22, y, "The mould alone, handed on with its sheet", 3.6);
  text(188, y, price(q.mould_only), 3.6, 1);
  y -= 6;
  text(22, y, "Further castings from it, each", 3.6);
  text(188, y, price(q.castings_only_per_copy), 3.6, 1);
  y -= 14;
  std::string until;
  if (const auto day = parse_wall_time(t.today + "T00:00"))
    until = wall_text(*day + t.valid_days * day_min).substr(0, 10);
  text(22, y, "A mould of this kind usually gives about " + std::to_string(q.mould_life_pulls) + " pulls.", 3.2);
  y -= 5.5;
  text(22, y, "Your original stays yours and goes back to you.", 3.2);
  y -= 5.5;
  text(22, y,
       until.empty() ? "This quote holds for " + std::to_string(t.valid_days) + " days."
                     : "This quote holds until " + until + ".",
       3.2);
  y -= 5.5;
  text(22, y, "Parts on which somebody's safety depends are made only after a written agreement.", 3.2);
  d.strokes.push_back({Pen::measure, {{22, 40}, {95, 40}}, false});
  d.strokes.push_back({Pen::measure, {{115, 40}, {188, 40}}, false});
  text(22, 35, "Workshop, day", 3);
  text(115, 35, "Agreed, day", 3);
  return d;
}

Drawing receipt_page(const OwnersPiece& piece, const std::string& job, const std::string& client,
                     const std::string& today) {
  Drawing d;
  const bool back = !piece.went_on.empty();
  d.title = (back ? "Given back · " : "Received · ") + job;
  d.width_mm = 210, d.height_mm = 297;
  const auto text = [&](double x, double y, const std::string& s, double size, int side = -1) {
    d.labels.push_back({{x, y}, s, size, side});
  };
  double y = 268;
  text(22, y, back ? "Given back" : "Received", 9);
  text(188, y, today, 3.6, 1);
  y -= 14;
  text(22, y, job, 5);
  y -= 7;
  if (!client.empty()) text(22, y, "Property of " + client, 3.8), y -= 10;
  // Words in lines of the page's width, broken at blanks.
  const auto block = [&](const std::string& head, const std::string& words) {
    text(22, y, head, 4.2);
    y -= 7;
    std::string line;
    const auto put = [&] {
      if (!line.empty()) text(26, y, line, 3.4), y -= 5.4;
      line.clear();
    };
    for (size_t at = 0; at < words.size();) {
      const size_t end = std::min(words.find_first_of(" \n", at), words.size());
      const std::string word = words.substr(at, end - at);
      if (line.size() + word.size() > 84) put();
      line += (line.empty() ? "" : " ") + word;
      if (end < words.size() && words[end] == '\n') put();
      at = end + 1;
    }
    put();
    y -= 5;
  };
  block("Came on " + (piece.came_on.empty() ? std::string("–") : piece.came_on) + ", its condition then",
        piece.condition.empty() ? "not described" : piece.condition);
  if (back)
    block("Went back on " + piece.went_on + ", its condition then",
          piece.condition_then.empty() ? "not described" : piece.condition_then);
  for (const auto& [x, who] : {std::pair{22.0, "For the workshop, day"}, {112.0, "For the owner, day"}}) {
    d.strokes.push_back({Pen::measure, {{x, 52}, {x + 76, 52}}, false});
    text(x, 46, who, 3);
  }
  const OwnersPiece::Signature& by = back ? piece.signed_back : piece.signed_in;
  constexpr double left = 112, wide = 76, top = 76;
  for (const auto& line : by) {
    Stroke s{Pen::measure, {}, false};
    for (const auto& at : line) s.points.push_back({left + wide * at[0], top - wide * at[1]});
    d.strokes.push_back(std::move(s));
  }
  return d;
}

}  // namespace palinform
