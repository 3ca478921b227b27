#pragma once
/// Runs the test cases of this program as the command line says.
int run_catch(int argc, char** argv);
