#pragma once
/// `palin` as a process, for the tests of the command line.
#include <sys/wait.h>
#include <unistd.h>

#include <chrono>
#include <csignal>
#include <cstdio>
#include <cstdlib>
#include <nlohmann/json.hpp>
#include <string>
#include <thread>

#include "mesh/save.hpp"
#include "shapes.hpp"

struct Ran {
  int code = -1;
  std::string out, err;
  nlohmann::json json() const { return nlohmann::json::parse(out); }
};

inline Ran palin(const std::string& args) {
  shapes::TempDir dir;
  Ran r;
  const std::string command = std::string(PALIN) + " " + args + " >" + (dir / "out") + " 2>" + (dir / "err");
  const int status = std::system(command.c_str());
  r.code = WIFEXITED(status) ? WEXITSTATUS(status) : 128;
  r.out = *palinform::read_file(dir / "out");
  r.err = *palinform::read_file(dir / "err");
  return r;
}

/// The same with a rough look: for what does not hang on fine figures.
inline Ran rough_palin(const std::string& args) { return palin("--rough " + args); }

/// The same, interrupted (Ctrl+C) after 0.7 s; on a machine so slow that it had not even begun by then, again and
/// later. The code is 128 where it did not end by itself.
inline Ran interrupted_palin(const char* command, const std::string& file) {
  shapes::TempDir dir;
  Ran r;
  for (const int after_ms : {700, 2000, 5000}) {
    const pid_t child = ::fork();
    if (child == 0) {
      if (!std::freopen((dir / "out").c_str(), "w", stdout) || !std::freopen("/dev/null", "w", stderr)) ::_exit(9);
      ::execl(PALIN, PALIN, command, file.c_str(), static_cast<char*>(nullptr));
      ::_exit(127);
    }
    std::this_thread::sleep_for(std::chrono::milliseconds(after_ms));
    ::kill(child, SIGINT);
    int status = 0;
    ::waitpid(child, &status, 0);
    r = {WIFEXITED(status) ? WEXITSTATUS(status) : 128, *palinform::read_file(dir / "out"), ""};
    if (WIFEXITED(status)) break;
  }
  return r;
}
