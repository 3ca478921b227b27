#include "base/background.hpp"

#include <sys/resource.h>
#include <sys/syscall.h>
#include <tbb/task_scheduler_observer.h>
#include <unistd.h>

namespace palinform {
namespace {

// On Linux a thread has a nice value of its own.
void lower_this_thread() {
  constexpr int lower = 10;
  ::setpriority(PRIO_PROCESS, static_cast<id_t>(::syscall(SYS_gettid)), lower);
}

/// Helpers are lowered when they first join in; whoever called keeps its own priority.
class Helpers : public tbb::task_scheduler_observer {
 public:
  Helpers() { observe(true); }
  void on_scheduler_entry(bool is_worker) override {
    thread_local bool lowered = false;
    if (!is_worker || lowered) return;
    lowered = true;
    lower_this_thread();
  }
};

}  // namespace

void work_in_background() {
  static Helpers helpers;
  lower_this_thread();
}

}  // namespace palinform
