// Calipers that are not there: sim_calipers [--seed 1]
// Prints the path of its serial line. Lines on standard input: "jaws 25.02" (mm) opens them, "press" sends the reading
// with a little scatter, "quit" ends it.
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
  std::normal_distribution<double> scatter(0, 0.005);
  double jaws = 0;
  std::string buffer, text;
  bool got = false;
  while (read_line(STDIN_FILENO, buffer, text, 1000, got)) {
    if (!got) continue;
    if (text == "quit") return 0;
    if (text.starts_with("jaws "))
      if (const auto v = parse_number(text.substr(5))) jaws = *v;
    if (text == "press") {
      const std::string out = calipers_line(jaws + scatter(random));
      if (::write(line.fd, out.data(), out.size()) < 0) continue;
    }
  }
  return 0;
}
