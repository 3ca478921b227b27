// Catch's own code, compiled once for every test program.
#define CATCH_CONFIG_RUNNER
#include <catch2/catch.hpp>

#include "run_catch.hpp"
#include "say_where.hpp"

int run_catch(int argc, char** argv) {
  tests::say_where_it_ends();
  return Catch::Session().run(argc, argv);
}
