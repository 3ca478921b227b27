// palin apart: the other side of core/foreign. No command for people: the program starts it for files from elsewhere.
#include <sys/resource.h>

#include <cstdlib>
#include <cstring>
#include <new>

#include "commands.hpp"
#include "foreign/apart.hpp"

namespace palinform::cli {

std::optional<int> run_apart(int argc, char** argv) {
  if (argc != 9 || std::strcmp(argv[1], "apart") != 0) return std::nullopt;
  const auto bound = [](int what, const char* to) {
    rlimit limit{};
    ::getrlimit(static_cast<__rlimit_resource>(what), &limit);
    limit.rlim_cur = std::min<rlim_t>(limit.rlim_max, std::strtoull(to, nullptr, 10));
    ::setrlimit(static_cast<__rlimit_resource>(what), &limit);
  };
#ifndef __SANITIZE_ADDRESS__  // which lays claim to more addresses than there is memory in the world
  bound(RLIMIT_AS, argv[6]);
#endif
  bound(RLIMIT_FSIZE, argv[7]);
  bound(RLIMIT_CORE, "0");
  // By processor time twice the clock's seconds: two cores. The caller stops it by the clock.
  bound(RLIMIT_CPU, std::to_string(2 * std::strtoul(argv[8], nullptr, 10)).c_str());
  try {
    return work_apart(argv[2], argv[3], argv[4], argv[5]);
  } catch (const std::bad_alloc&) { return 3; } catch (...) {
    return 1;
  }
}

}  // namespace palinform::cli
