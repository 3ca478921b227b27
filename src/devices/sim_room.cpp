// A room thermometer that is not there: sim_room
// Prints the path of its serial line, then a reading a second. "room 21.4" on standard input says how warm it is;
// "quit" ends it.
#include <unistd.h>

#include "base/text.hpp"
#include "protocol.hpp"
#include "pty.hpp"

int main() {
  using namespace palinform;
  const Pty line = announced_pty();
  if (line.fd < 0) return 1;
  double room = 21, shown = 21;
  bool got = false;
  std::string buffer, text;
  while (read_line(STDIN_FILENO, buffer, text, 1000, got)) {
    if (got && text == "quit") return 0;
    if (got && text.starts_with("room "))
      if (const auto v = parse_number(text.substr(5))) room = *v;
    shown += 0.5 * (room - shown);
    const std::string out = room_line(shown);
    if (::write(line.fd, out.data(), out.size()) < 0) continue;
  }
  return 0;
}
