// palinform [WORKSHOP.sqlite] [--job ID] [--stage N] [--shots DIR] [--time-start]
#include <algorithm>
#include <cstdio>
#include <QApplication>
#include <QCommandLineParser>
#include <QElapsedTimer>
#include <QMessageBox>
#include <QTimer>
#include <string_view>

#include "ledger/workshop.hpp"
#include "shell/desk.hpp"
#include "shell/main_window.hpp"
#include "shell/shots.hpp"

int main(int argc, char** argv) {
  using namespace palinform;
  QElapsedTimer since_start;
  since_start.start();
  // Pictures of the demo show the demo's own days.
  for (int i = 1; i < argc; ++i)
    if (std::string_view(argv[i]) == "--shots" && qEnvironmentVariableIsEmpty("PALINFORM_NOW"))
      qputenv("PALINFORM_NOW", "2026-11-27T09:30");
  QApplication qt(argc, argv);
  QApplication::setApplicationName(QStringLiteral("palinform"));
  QApplication::setOrganizationName(QStringLiteral("palinform"));
  QApplication::setApplicationVersion(QStringLiteral("0.1.0"));
  QApplication::setDesktopFileName(QStringLiteral("org.palinform.Palinform"));
  QCommandLineParser args;
  args.setApplicationDescription(QStringLiteral("Plans silicone moulds and the parts cast from them."));
  args.addHelpOption();
  args.addVersionOption();
  args.addPositionalArgument(QStringLiteral("workshop"),
                             QStringLiteral("The workshop file; the usual one when left out."));
  const QCommandLineOption job(QStringLiteral("job"), QStringLiteral("Open this job."), QStringLiteral("id"));
  const QCommandLineOption stage(QStringLiteral("stage"), QStringLiteral("Begin at this stage, 1 to 10."),
                                 QStringLiteral("n"));
  const QCommandLineOption shots(QStringLiteral("shots"),
                                 QStringLiteral("Write a picture of each main view into DIR and end."),
                                 QStringLiteral("dir"));
  const QCommandLineOption timing(QStringLiteral("time-start"),
                                  QStringLiteral("Print the milliseconds until the window is painted, and end."));
  args.addOptions({job, stage, shots, timing});
  args.process(qt);
  const QString named = args.positionalArguments().value(0);
  auto workshop = Workshop::open(named.isEmpty() ? default_workshop_path() : named.toStdString());
  if (!workshop) {
    std::fprintf(stderr, "palinform: %s\n", workshop.error().text().c_str());
    if (!args.isSet(shots))
      QMessageBox::critical(nullptr, QStringLiteral("Palinform"), QString::fromStdString(workshop.error().text()));
    return 1;
  }
  app::MainWindow window(std::make_unique<app::Desk>(*std::move(workshop), starting_shop()));
  app::Desk& desk = window.desk();
  const auto rows = desk.workshop().jobs();
  std::string id = args.value(job).toStdString();
  if (id.empty() && rows && !rows->empty()) id = rows->front().id;  // the one last worked on
  const std::string interrupted = desk.interrupted_opening();
  if (!id.empty() && id == interrupted && !args.isSet(job)) {
    // It went wrong once by itself: this time a person decides.
    QString name;
    for (const JobRow& r : rows ? *rows : std::vector<JobRow>{})
      if (r.id == id) name = QString::fromStdString(r.name);
    emit desk.message(
        QStringLiteral("While \"%1\" was being opened the program ended without a word, so it was not "
                       "opened again by itself. Choose it from the list to try once more, or another job.")
            .arg(name),
        true);
  } else if (!id.empty())
    desk.open_job(id);
  else if (!desk.read_only())
    desk.new_job();
  if (const int n = args.value(stage).toInt(); n >= 1 && n <= stage_count) window.go(static_cast<Stage>(n - 1));
  desk.watch_shop(true);
  // With more than one job the shop is what one wants to see first.
  const auto open_jobs = rows ? std::count_if(rows->begin(), rows->end(), [](const JobRow& r) { return r.open(); }) : 0;
  if (open_jobs > 1 && !args.isSet(job) && !args.isSet(stage) && !args.isSet(shots)) window.show_wall(true);
  window.show();
  if (args.isSet(timing)) {
    QTimer::singleShot(0, &window, [&] {
      window.repaint();
      std::printf("%lld\n", since_start.elapsed());
      QApplication::quit();
    });
  }
  if (args.isSet(shots)) {
    QTimer::singleShot(0, &window, [&] { QApplication::exit(app::take_shots(window, args.value(shots))); });
  }
  return QApplication::exec();
}
