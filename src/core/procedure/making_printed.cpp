// Making a mould: printed cup and core.
#include <algorithm>

#include "base/text.hpp"
#include "procedure/making.hpp"

namespace palinform::blocks {

void cup_and_core_mould(Writing& w) {
  const ProcedureFacts& f = w.f;
  ProcedureStep& s =
      w.add(Act::print, Block::bed, "print", "Print cup and core" + w.of_mould(),
            "Print cup and core" + (f.print_h > 0 ? ", about " + significant(f.print_h, 2) + " h" : std::string()) +
                (f.print_ml > 0 ? " and " + fixed(f.print_ml, 0) + " ml" : std::string()) +
                "; supports off, washed and cured as the printer's sheet says.",
            w.t.print_min, f.print_h > 0 ? 60 * f.print_h : w.t.print_wait_min);
  s.picture = StepPicture::board;
  s.look_for = "the core slides on its guide without force";
  ProcedureStep& seal =
      w.add(Act::seal, Block::bed, "seal-print", "Seal the print" + w.of_mould(),
            "Two thin coats on every face that rubber touches; let each dry.", w.t.seal_min, w.t.seal_wait_min);
  seal.why = "Printed resin stops many rubbers from curing, and layers hold them.";
  seal.cautions.push_back("Sealers and release sprays are solvents: fresh air, no flame.");
  ProcedureStep& r = w.add(Act::release, Block::release, "release", "Release cup and core" + w.of_mould(),
                           "A thin film of release on cup and core.", w.t.release_min, w.t.release_wait_min);
  r.cautions.push_back(solvents);
  r.look_for = "a thin even film";
}

}  // namespace palinform::blocks
