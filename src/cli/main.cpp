// palin: the core without a screen. One JSON object on stdout, messages on stderr; exit 0 done, 1 refused, 2 wrong
// usage, 130 stopped.
#include <csignal>
#include <cstdio>

#include "commands.hpp"
#include "shop.hpp"

namespace {
std::atomic<const palinform::Progress*> running{nullptr};
void stop(int) {
  if (auto* p = running.load()) p->cancel();
}
}  // namespace

int main(int argc, char** argv) {
  using namespace palinform;
  if (const auto apart = cli::run_apart(argc, argv)) return *apart;
  CLI::App app{"Palinform without a screen: moulds planned from the command line", "palin"};
  app.require_subcommand(1);
  bool show_progress = false;
  app.add_flag("--progress", show_progress, "A progress line on stderr");
  app.add_flag("--rough", cli::rough_look(), "A rough look in a quarter of the time; figures differ by a few per cent");
  app.add_option("--workshop", cli::workshop_file(), "workshop.sqlite whose materials, rules and shop count");
  app.fallthrough();
  cli::Command run;
  cli::add_mesh(app, run);
  cli::add_solid(app, run);
  cli::add_split(app, run);
  cli::add_mould(app, run);
  cli::add_flow(app, run);
  cli::add_days(app, run);
  cli::add_mix(app, run);
  cli::add_size(app, run);
  cli::add_fit(app, run);
  cli::add_learn(app, run);
  cli::add_judge(app, run);
  cli::add_compare(app, run);
  cli::add_why(app, run);
  cli::add_books(app, run);
  cli::add_job(app, run);
  cli::add_sheet(app, run, argc, argv);
  cli::add_quote(app, run, argc, argv);
  cli::add_shelf(app, run);
  cli::add_demo(app, run);
  try {
    app.parse(argc, argv);
  } catch (const CLI::ParseError& e) {
    const int code = app.exit(e, std::cout, std::cerr);
    return code == 0 ? 0 : cli::outside_range() ? 1 : 2;
  }
  const Progress progress(show_progress ? in_hundredths([](double f) { std::fprintf(stderr, "\r%3.0f %%", 100 * f); })
                                        : nullptr);
  running = &progress;
  std::signal(SIGINT, stop);
  // Whatever a library throws is told, never the end of the program.
  const cli::Answer answer = [&]() -> cli::Answer {
    try {
      return run(progress);
    } catch (const std::bad_alloc&) {
      return Error{"there is not enough memory for it", "palin", "Use a coarser voxel, or a smaller file."};
    } catch (const std::exception& e) { return Error{std::string("it could not be done: ") + e.what(), "palin", ""}; }
  }();
  running = nullptr;
  if (show_progress) std::fputc('\n', stderr);
  if (!answer) {
    // Words from a file may hold anything: nothing raw goes to a terminal.
    std::string text = answer.error().text();
    for (char& c : text)
      if (static_cast<unsigned char>(c) < 32 || c == 127) c = '?';
    std::fprintf(stderr, "palin: %s\n", text.c_str());
    return answer.error().cancelled ? 130 : 1;
  }
  std::puts(answer->dump(1, ' ', false, cli::Json::error_handler_t::replace).c_str());
  return 0;
}
