// A scale that is not there: sim_scale [--division 0.1] [--range 3000] [--seed 1]
// Prints the path of its serial line, then speaks the protocol of protocol.hpp ten times a second. Its pan is loaded by
// lines on standard input: "load 256.0" (g, at once), "pour 1.5" (g a second, 0 stops); "silent", "garbage" and
// "speak" do what broken scales do; "quit". End of input ends it.
#include <unistd.h>
#include <cmath>
#include <cstdlib>
#include <cstring>
#include <random>

#include "base/text.hpp"
#include "protocol.hpp"
#include "pty.hpp"

int main(int argc, char** argv) {
  using namespace palinform;
  double division = 0.1, range = 3000;
  unsigned seed = 1;
  for (int i = 1; i + 1 < argc; i += 2) {
    if (!std::strcmp(argv[i], "--division")) division = std::atof(argv[i + 1]);
    if (!std::strcmp(argv[i], "--range")) range = std::atof(argv[i + 1]);
    if (!std::strcmp(argv[i], "--seed")) seed = static_cast<unsigned>(std::atoi(argv[i + 1]));
  }
  const Pty line = announced_pty();
  if (line.fd < 0) return 1;
  std::mt19937 random(seed);
  std::normal_distribution<double> noise(0, 0.25 * division);
  const int decimals = division < 0.05 ? 2 : division < 0.5 ? 1 : 0;
  double pan = 0, shown = 0, tare = 0, pouring = 0, drift = 0;
  std::string from_person, from_reader, text;
  bool got = false, silent = false, garbage = false;
  for (long tick = 0;; ++tick) {
    if (!read_line(STDIN_FILENO, from_person, text, 100, got)) return 0;
    if (got) {
      const size_t space = text.find(' ');
      const double value = space == std::string::npos ? 0 : parse_number(text.substr(space + 1)).value_or(0);
      if (text == "quit") return 0;
      if (text.starts_with("load ")) pan = value;
      if (text.starts_with("pour ")) pouring = value;
      if (text == "silent") silent = true;
      if (text == "garbage") garbage = true;
      if (text == "speak") silent = garbage = false;
    }
    read_line(line.fd, from_reader, text, 0, got);
    if (got && (text == "T" || text == "Z")) tare = pan + drift;
    pan += 0.1 * pouring;
    drift += 0.0005 * division;  // a warm scale creeps
    const double before = shown;
    shown += 0.45 * (pan + drift - tare - shown);  // the pan swings in
    const bool stable = std::abs(shown - before) < 0.5 * division;
    if (silent) continue;
    if (garbage) {
      const char noise_on_line[] = "S  8#\x02.1 q\r\nS 684";
      if (::write(line.fd, noise_on_line, sizeof noise_on_line - 1) < 0) continue;
      continue;
    }
    if (pan > range) {
      if (::write(line.fd, "E\r\n", 3) < 0) continue;
      continue;
    }
    const std::string out = scale_line(std::round((shown + noise(random)) / division) * division, stable, decimals);
    if (::write(line.fd, out.data(), out.size()) < 0) continue;  // nobody reads: the line is full, which is no fault
  }
}
