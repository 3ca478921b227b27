#pragma once
/// Threads that work behind a person's back give way to the one that listens to him.

namespace palinform {

/// The calling thread, and the helpers it shares its loops with (TBB), yield to threads of usual priority. Linux only;
/// elsewhere nothing happens.
void work_in_background();

}  // namespace palinform
