// Catch's own code, compiled once for every test program.
#define CATCH_CONFIG_RUNNER
#include <catch2/catch.hpp>

#include "run_catch.hpp"

int run_catch(int argc, char** argv) { return Catch::Session().run(argc, argv); }
