#pragma once
/// A test that ends by a signal says where: the stack of the thread that met it, on standard error.
#include <execinfo.h>
#include <unistd.h>
#include <csignal>
#include <cstdlib>

namespace tests {

inline void say_where_it_ends() {
  // Room of its own: the stack may be what has run out.
  static char room[1 << 16];
  stack_t other{};
  other.ss_sp = room, other.ss_size = sizeof room;
  sigaltstack(&other, nullptr);
  struct sigaction act {};
  act.sa_flags = SA_ONSTACK | SA_RESETHAND;
  act.sa_handler = [](int signal) {
    void* frames[64];
    const int n = backtrace(frames, 64);
    backtrace_symbols_fd(frames, n, STDERR_FILENO);
    raise(signal);
  };
  void* first[1];
  backtrace(first, 1);  // loads what it needs now, not in the handler
  for (const int signal : {SIGSEGV, SIGBUS, SIGFPE, SIGILL, SIGABRT}) sigaction(signal, &act, nullptr);
}

}  // namespace tests
