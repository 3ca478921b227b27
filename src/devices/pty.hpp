#pragma once
/// A pseudo-terminal for a simulated device: one end for the program, the other's path for a reader.
#include <string>

namespace palinform {

struct Pty {
  int fd = -1;
  std::string path;
};
/// Raw, no echo; fd is −1 when none can be had.
Pty open_pty();
/// The same for a simulated device: prints its path as the program's first line; says on stderr where none can be had.
Pty announced_pty();
/// A line from `fd` if one is complete within `wait_ms`; `buffer` keeps what is left over. False at end of file.
bool read_line(int fd, std::string& buffer, std::string& line, int wait_ms, bool& got);

}  // namespace palinform
