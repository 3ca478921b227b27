#pragma once
/// `palin`'s commands: each takes its options and gives one JSON object, or an Error.
#include <CLI/CLI.hpp>
#include <functional>
#include <nlohmann/json.hpp>
#include <optional>
#include <string>

#include "base/progress.hpp"
#include "base/result.hpp"
#include "base/vec.hpp"

namespace palinform::cli {

using Json = nlohmann::ordered_json;
using Answer = Result<Json>;
using Command = std::function<Answer(const Progress&)>;

inline Json json_of(const Vec3& v) { return Json::array({v.x, v.y, v.z}); }
Result<Vec3> parse_vector(const std::string& text, const std::string& option);

/// What every number on the command line is checked by: a whole token, finite, in its range; else refused with both. A
/// number outside its range is an input refused (1), what is no number is wrong usage (2).
CLI::Validator within(double low, double high);
/// Was a number refused because it lay outside its range?
bool& outside_range();

/// Each adds its subcommand and sets `run` when it was called.
void add_mesh(CLI::App& app, Command& run);
void add_solid(CLI::App& app, Command& run);
void add_split(CLI::App& app, Command& run);
void add_mould(CLI::App& app, Command& run);
void add_flow(CLI::App& app, Command& run);
void add_days(CLI::App& app, Command& run);
void add_mix(CLI::App& app, Command& run);
void add_size(CLI::App& app, Command& run);
void add_fit(CLI::App& app, Command& run);
void add_learn(CLI::App& app, Command& run);
void add_judge(CLI::App& app, Command& run);
void add_compare(CLI::App& app, Command& run);
void add_why(CLI::App& app, Command& run);
void add_books(CLI::App& app, Command& run);
void add_job(CLI::App& app, Command& run);
void add_sheet(CLI::App& app, Command& run, int& argc, char** argv);
void add_quote(CLI::App& app, Command& run, int& argc, char** argv);
void add_shelf(CLI::App& app, Command& run);
void add_demo(CLI::App& app, Command& run);

/// The exit code where this process was started to read or mend apart (core/foreign); nothing else.
std::optional<int> run_apart(int argc, char** argv);

/// Milliseconds since construction, for `elapsed_ms`.
class Stopwatch {
 public:
  double ms() const {
    return std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start_).count();
  }

 private:
  std::chrono::steady_clock::time_point start_ = std::chrono::steady_clock::now();
};

}  // namespace palinform::cli
