// Flow of a squeeze mould: how far it stands open, and what is said of it.
#include <QSlider>

#include "base/text.hpp"
#include "flow/flow_page.hpp"
#include "shell/desk.hpp"
#include "stages/closing.hpp"
#include "stages/flowing.hpp"

namespace palinform::app {

bool FlowPage::squeezed() const { return fill_way(desk_.job().mould.form) == FillWay::squeeze; }

std::optional<double> FlowPage::shown_gap() const {
  const auto c = desk_.plan().newest(results::closing);
  if (!c || filled_->value() >= filled_->maximum()) return std::nullopt;
  return c->closing.first_touch_mm * (1 - static_cast<double>(filled_->value()) / filled_->maximum());
}

void FlowPage::refresh_squeeze() {
  const auto c = desk_.plan().newest(results::closing);
  squeeze_->refresh(c.get());
  const Units& u = desk_.units();
  closing_->show_closing(c, shown_gap(), u.length_name(), u.length(1));
  if (!c) return fill_words_->setText(QStringLiteral("Closing it…"));
  const std::string end = set_down_words(c->how.hinge_deg);
  const auto gap = shown_gap();
  QString words = gap ? QStringLiteral("<b>%1 open</b>").arg(u.length_unit_text(*gap, 1))
                      : QStringLiteral("<b>%1 under %2</b>")
                            .arg(end.empty() ? QStringLiteral("Closed level") : qs("Closed, " + end + " first"),
                                 u.mass_text(1e3 * c->weight_kg, 0));
  words += QStringLiteral("<br>%1 ml poured, %2 ml run out")
               .arg(qs(fixed(1e-3 * c->how.resin_mm3, 1)), qs(fixed(1e-3 * c->closing.ran_over_mm3, 1)));
  if (c->closing.short_mm3 > 5)
    words += QStringLiteral("<br><b>%1 mm³ lack</b>").arg(qs(significant(c->closing.short_mm3, 2)));
  fill_words_->setText(words);
}

}  // namespace palinform::app
