#pragma once
/// What must hold for every procedure, whatever the job: said as one sentence for each thing that does not. The
/// program's own lists have none; a person's change is refused where it would make one.
#include "procedure/procedure.hpp"

namespace palinform {

/// Empty where the list can be done as it stands:
/// - ids are told apart; a step waits only for steps before it; a window ends no earlier than it begins;
/// - what is put in was not in, what is taken out was; at the end nothing stays in;
/// - every cup is weighed, then stirred or kneaded, then poured, brushed, pressed or laid, with nothing else between
/// but
///   degassing and standing, and each pour of the facts is there, with its mass, for every mould or casting;
/// - nothing is poured round a master that is not in, nor opened, turned or demoulded before what was poured is cured;
/// - halves that are rubber on rubber are released in between;
/// - no step is left out that a later one needs.
std::vector<std::string> faults_of(const Procedure& p, const ProcedureFacts& f);

/// Words for parts of a mould that this job lacks, as whole words in lower case: no step may say them.
std::vector<std::string> words_it_lacks(const ProcedureFacts& f);
/// The first such word in the step's texts; empty: none.
std::string lacking_word(const ProcedureStep& s, const std::vector<std::string>& words);

}  // namespace palinform
