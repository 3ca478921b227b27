#include "pty.hpp"

#include <fcntl.h>
#include <poll.h>
#include <stdlib.h>
#include <termios.h>
#include <unistd.h>

#include <cstdio>

namespace palinform {

Pty open_pty() {
  Pty p;
  p.fd = ::posix_openpt(O_RDWR | O_NOCTTY | O_CLOEXEC);
  char name[128];
  if (p.fd < 0 || ::grantpt(p.fd) != 0 || ::unlockpt(p.fd) != 0 || ::ptsname_r(p.fd, name, sizeof name) != 0) return {};
  p.path = name;
  // Held open once, so that the line keeps its settings and no reader means silence, not an error.
  const int other = ::open(name, O_RDWR | O_NOCTTY | O_CLOEXEC);
  termios t{};
  if (other >= 0 && ::tcgetattr(other, &t) == 0) {
    ::cfmakeraw(&t);
    ::cfsetspeed(&t, B9600);
    ::tcsetattr(other, TCSANOW, &t);
  }
  ::fcntl(p.fd, F_SETFL, ::fcntl(p.fd, F_GETFL) | O_NONBLOCK);
  return p;
}

Pty announced_pty() {
  Pty p = open_pty();
  if (p.fd < 0) {
    std::fprintf(stderr, "no pseudo-terminal can be had\n");
    return p;
  }
  std::printf("%s\n", p.path.c_str());
  std::fflush(stdout);
  return p;
}

bool read_line(int fd, std::string& buffer, std::string& line, int wait_ms, bool& got) {
  got = false;
  const auto take = [&] {
    const size_t end = buffer.find('\n');
    if (end == std::string::npos) return false;
    line = buffer.substr(0, end);
    buffer.erase(0, end + 1);
    if (line.ends_with('\r')) line.pop_back();
    return got = true;
  };
  if (take()) return true;
  pollfd p{fd, POLLIN, 0};
  if (::poll(&p, 1, wait_ms) <= 0) return true;
  char block[256];
  const ssize_t n = ::read(fd, block, sizeof block);
  if (n == 0) return false;
  if (n > 0) buffer.append(block, static_cast<size_t>(n));
  take();
  return true;
}

}  // namespace palinform
