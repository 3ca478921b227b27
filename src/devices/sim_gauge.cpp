// A gauge that is not there: sim_gauge [--seed 1]
// Prints the path of its serial line, then speaks the protocol of protocol.hpp twice a second. Lines on standard input:
// "pot 300" (kPa over the air's) and "vacuum 4" (kPa absolute) say where it goes to, with the lag of a compressor or a
// pump; "silent", "garbage" and "speak" do what broken gauges do; "quit" ends it.
#include <unistd.h>
#include <cstdlib>
#include <cstring>
#include <random>

#include "base/text.hpp"
#include "protocol.hpp"
#include "pty.hpp"

int main(int argc, char** argv) {
  using namespace palinform;
  const unsigned seed = argc > 2 && !std::strcmp(argv[1], "--seed") ? static_cast<unsigned>(std::atoi(argv[2])) : 1;
  const Pty line = announced_pty();
  if (line.fd < 0) return 1;
  std::mt19937 random(seed);
  std::normal_distribution<double> noise(0, 0.4);
  double now = 0, to = 0;
  bool absolute = false, silent = false, garbage = false, got = false;
  std::string buffer, text;
  while (read_line(STDIN_FILENO, buffer, text, 500, got)) {
    if (got) {
      const size_t space = text.find(' ');
      const double value = space == std::string::npos ? 0 : parse_number(text.substr(space + 1)).value_or(0);
      if (text == "quit") return 0;
      if (text.starts_with("pot ")) {
        if (absolute) now = 0;
        absolute = false, to = value;
      }
      if (text.starts_with("vacuum ")) {
        if (!absolute) now = 101;
        absolute = true, to = value;
      }
      if (text == "silent") silent = true;
      if (text == "garbage") garbage = true;
      if (text == "speak") silent = garbage = false;
    }
    now += 0.25 * (to - now);
    if (silent) continue;
    const double shown = now + noise(random);
    const std::string out =
        garbage ? std::string("G \x01 9#kPa\r\n") : gauge_line(absolute ? std::max(0.1, shown) : shown, absolute);
    if (::write(line.fd, out.data(), out.size()) < 0) continue;  // nobody reads: the line is full, which is no fault
  }
  return 0;
}
