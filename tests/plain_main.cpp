#include "run_catch.hpp"

int main(int argc, char** argv) { return run_catch(argc, argv); }
