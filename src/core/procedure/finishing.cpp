// What is done to castings: trimmed, finished, looked at and measured.
#include "base/text.hpp"
#include "procedure/blocks.hpp"

namespace palinform::blocks {

void finish_castings(Writing& w, int pulls) {
  const ProcedureFacts& f = w.f;
  const bool test = w.casting == 1;
  const double n = test ? f.a_pull : f.copies - f.a_pull;
  const std::string which = test ? "the test casting" : pulls * f.a_pull > 1 ? "the castings" : "the casting";
  std::string what;
  const auto also = [&](const std::string& s) { what += (what.empty() ? "" : ", ") + s; };
  if (has_gate(f)) also(channels_words(f));
  if (f.form == Form::strip) also(f.struts > 0 ? "nubs and struts at the well" : "the nubs at the well");
  if (closes(f) && f.form != Form::cup_core && (f.line_mm > 0 || f.form == Form::squeeze)) also("flash along the line");
  if (f.form == Form::open || (f.form == Form::putty && f.one_sided)) also("the edge of the open face");
  if (f.form == Form::cup_core) also("the mouth and the seam of the cup");
  ProcedureStep& trim = w.add(Act::trim, Block::finish, "trim", "Trim " + which,
                              (what.empty() ? "Clean it up" : "Cut off " + what) +
                                  (f.resin_is_rubber ? " with a sharp blade." : "; sand it flush. Fill voids."),
                              std::max(1.0, w.t.trim_min * n));
  trim.may_split = true;
  trim.picture = StepPicture::scars;
  trim.cautions.push_back(f.resin_is_rubber ? "Knives slip in rubber: cut away from hands."
                                            : "Dust of resin needs a mask; wet is better than dry.");
  std::string finish;
  const auto next = [&](const std::string& s) { finish += (finish.empty() ? "" : " ") + s; };
  if (f.plugs > 0) next("Drill " + counted(f.plugs, "bore", "bores") + " at the dimple.");
  for (const std::string& s : f.finishing) next(s + ".");
  if (f.resin_cure.tacky) next("Wash off what stayed tacky.");
  if (!f.later.empty()) next("Degrease it before " + f.later + ".");
  if (!finish.empty()) {
    ProcedureStep& s =
        w.add(Act::finish, Block::finish, "finish", "Finish " + which, finish,
              w.t.finish_min * n * std::max<double>(1, f.plugs + static_cast<double>(f.finishing.size())));
    s.may_split = true;
    s.picture = StepPicture::scars;
    s.cautions.push_back("Goggles; what is drilled is held in a vice, not in the hand.");
  }
}

void check_castings(Writing& w, int pulls) {
  const ProcedureFacts& f = w.f;
  const bool test = w.casting == 1;
  const double n = test ? f.a_pull : f.copies - f.a_pull;
  const bool one = test ? f.a_pull == 1 : pulls * f.a_pull == 1;
  ProcedureStep& s = w.add(Act::check, Block::check, "check",
                           test  ? "Check the test casting"
                           : one ? "Check the casting"
                                 : "Check the castings",
                           "Look for voids, pinholes, short places, flash, a step at the line, tacky or soft places, "
                           "warp; does it fit its mate? " +
                               (f.sizes > 0 ? "Measure " + counted(f.sizes, "size", "sizes") +
                                                  " as the original was measured; type the readings in Check."
                                            : std::string("Note what is seen in Check.")),
                           std::max(1.0, w.t.check_min * n));
  s.may_split = true;
  s.picture = StepPicture::casting;
  if (test) s.why = "Whatever is wrong with it would be wrong with all of them. Change one thing at a time.";
}

}  // namespace palinform::blocks
