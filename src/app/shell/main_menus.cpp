// The window's menus.
#include <QFileDialog>
#include <QInputDialog>
#include <QMenu>
#include <QMenuBar>
#include <QPushButton>
#include <QSettings>
#include <QStackedWidget>

#include "base/text.hpp"
#include "bench/bench_page.hpp"
#include "bench/device_hub.hpp"
#include "check/check_page.hpp"
#include "days/days_page.hpp"
#include "flow/flow_page.hpp"
#include "ledger/history_view.hpp"
#include "ledger/ledger_page.hpp"
#include "mix/mix_page.hpp"
#include "mould/mould_page.hpp"
#include "original/original_page.hpp"
#include "shell/desk.hpp"
#include "shell/findings_panel.hpp"
#include "shell/main_window.hpp"
#include "shell/strand.hpp"
#include "size/size_page.hpp"
#include "split/split_page.hpp"
#include "theme/theme.hpp"
#include "wall/wall_page.hpp"

namespace palinform::app {

void MainWindow::build_menus() {
  auto* file = menuBar()->addMenu(QStringLiteral("&File"));
  file->addAction(QStringLiteral("New job"), QKeySequence::New, desk_.get(), &Desk::new_job);
  file->addAction(QStringLiteral("Open mesh…"), QKeySequence::Open, this, [this] {
    go(Stage::original);
    findChild<QPushButton*>(QStringLiteral("open-mesh"))->click();
  });
  file->addAction(QStringLiteral("Bring in a job…"), this, [this] {
    const QString path = QFileDialog::getOpenFileName(this, QStringLiteral("Bring in a job"), {},
                                                      QStringLiteral("Jobs (*.palinform *.json)"));
    if (!path.isEmpty()) desk_->import_job(path);
  });
  file->addAction(QStringLiteral("Hand on this job…"), QKeySequence::SaveAs, this, [this] {
    if (!desk_->has_job()) return;
    QString path = QFileDialog::getSaveFileName(this, QStringLiteral("Hand on this job"),
                                                qs(desk_->job().name) + QStringLiteral(".palinform"),
                                                QStringLiteral("Jobs (*.palinform)"));
    if (path.isEmpty()) return;
    if (!path.endsWith(QStringLiteral(".palinform"))) path += QStringLiteral(".palinform");
    desk_->export_job(path);
  });
  file->addAction(QStringLiteral("Save the workshop elsewhere…"), this, &MainWindow::ask_elsewhere);
  file->addAction(QStringLiteral("Everything of this job, for a museum or a client…"), this, [this] {
    if (!desk_->has_job()) return;
    QString path = QFileDialog::getSaveFileName(this, QStringLiteral("Everything of this job"),
                                                qs(desk_->job().name) + QStringLiteral(".zip"),
                                                QStringLiteral("Archives (*.zip)"));
    if (path.isEmpty()) return;
    if (!path.endsWith(QStringLiteral(".zip"))) path += QStringLiteral(".zip");
    desk_->write_job_file(path);
  });
  file->addSeparator();
  file->addAction(QStringLiteral("Job sheet as PDF…"), QKeySequence::Print, this, &MainWindow::export_sheet);
  file->addSeparator();
  file->addAction(QStringLiteral("Quit"), QKeySequence::Quit, this, &QWidget::close);
  auto* edit = menuBar()->addMenu(QStringLiteral("&Edit"));
  undo_action_ = edit->addAction(QStringLiteral("Undo"), QKeySequence::Undo, desk_.get(), &Desk::undo);
  redo_action_ = edit->addAction(QStringLiteral("Redo"), QKeySequence::Redo, desk_.get(), &Desk::redo);
  edit->addSeparator();
  edit->addAction(QStringLiteral("Who works here…"), this, [this] { HistoryView::ask_who(*desk_, this); });
  auto* view = menuBar()->addMenu(QStringLiteral("&View"));
  view->addAction(QStringLiteral("The wall\tW"), this, [this] { show_wall(wall_->isHidden()); });
  dusk_action_ = view->addAction(QStringLiteral("Dusk (dark)"), this, [this] {
    QSettings().setValue(QStringLiteral("dusk"), dusk_action_->isChecked());
    set_dusk_theme(dusk_action_->isChecked());
  });
  dusk_action_->setCheckable(true);
  view->addAction(QStringLiteral("Fold the findings away"), QKeySequence(Qt::Key_F9), this,
                  [this] { fold_findings(findings_->isVisible()); });
  view->addSeparator();
  const auto look = [this, view](const QString& words, double azimuth, double elevation) {
    view->addAction(words, this, [this, azimuth, elevation] {
      for (PartView* v : stack_->currentWidget()->findChildren<PartView*>()) v->look(azimuth, elevation);
    });
  };
  look(QStringLiteral("From a corner"), -60, 35);
  look(QStringLiteral("From the front"), -90, 0);
  look(QStringLiteral("From the right"), 0, 0);
  look(QStringLiteral("From behind"), 90, 0);
  look(QStringLiteral("From the left"), 180, 0);
  look(QStringLiteral("From above"), -90, 90);
  look(QStringLiteral("From below"), -90, -90);
  view->addAction(QStringLiteral("Show all"), this, [this] {
    for (PartView* v : stack_->currentWidget()->findChildren<PartView*>()) v->fit();
  });
  auto* devices = menuBar()->addMenu(QStringLiteral("&Devices"));
  devices->addAction(QStringLiteral("Simulated devices…"), this, [this] { devices_->show_simulated(this); });
  devices->addAction(QStringLiteral("Scale at a port…"), this, [this] { devices_->ask_port(this); });
  connect(devices_, &DeviceHub::told, this, &MainWindow::show_message);
  connect(devices_, &DeviceHub::calipers_read, this, [this](double mm) {
    if (stage_ == Stage::check)
      check_->take_reading(mm);
    else if (stage_ == Stage::original)
      original_->take_reading(mm);
  });
  auto* stage = menuBar()->addMenu(QStringLiteral("&Stage"));
  for (int i = 0; i < stage_count; ++i)
    stage->addAction(
        QStringLiteral("%1\t%2").arg(QString::fromUtf8(name_of(static_cast<Stage>(i)).data())).arg((i + 1) % 10), this,
        [this, i] { go(static_cast<Stage>(i)); });

  jobs_menu_ = new QMenu(name_);
  name_->setMenu(jobs_menu_);
  connect(jobs_menu_, &QMenu::aboutToShow, this, &MainWindow::fill_jobs_menu);
  units_menu_ = new QMenu(units_);
  units_->setMenu(units_menu_);
  const auto unit = [this](const QString& words, bool Units::*member) {
    auto* a = units_menu_->addAction(words);
    a->setCheckable(true);
    connect(units_menu_, &QMenu::aboutToShow, a, [this, a, member] { a->setChecked(desk_->units().*member); });
    connect(a, &QAction::triggered, this, [this, member](bool on) {
      Units u = desk_->units();
      u.*member = on;
      desk_->set_units(u);
    });
  };
  unit(QStringLiteral("inches instead of millimetres"), &Units::inch);
  unit(QStringLiteral("ounces instead of grams"), &Units::ounce);
  unit(QStringLiteral("°F instead of °C"), &Units::fahrenheit);
  connect(units_menu_->addAction(QStringLiteral("Sign for money …")), &QAction::triggered, this, [this] {
    Units u = desk_->units();
    bool ok = false;
    const QString sign = QInputDialog::getText(this, QStringLiteral("Money"),
                                               QStringLiteral("The shop's sign for money, for instance € or kr"),
                                               QLineEdit::Normal, u.money, &ok);
    if (!ok) return;
    u.money = sign.trimmed().left(6);
    desk_->set_units(u);
  });
}

void MainWindow::fill_jobs_menu() {
  jobs_menu_->clear();
  const auto rows = desk_->workshop().jobs();
  if (rows) {
    // A menu is for a few; the wall finds the rest.
    constexpr int most = 24;
    int shown = 0, left = 0;
    for (const JobRow& r : *rows) {
      if (!r.open() && !(desk_->has_job() && r.id == desk_->job().id)) {
        ++left;
        continue;
      }
      if (++shown > most) {
        ++left;
        continue;
      }
      QString words = qs(r.name);
      if (!r.client.empty()) words += QStringLiteral(" · ") + qs(r.client);
      if (r.castings) words += QStringLiteral(" · ") + qs(counted(r.castings, "casting", "castings"));
      auto* a = jobs_menu_->addAction(words, this, [this, id = r.id] { desk_->open_job(id); });
      a->setCheckable(true);
      a->setChecked(desk_->has_job() && r.id == desk_->job().id);
    }
    const QString more = left ? QStringLiteral("%1 more or closed: find them on the wall …").arg(left) : QString();
    if (!more.isEmpty())
      jobs_menu_->addAction(more, this, [this] {
        show_wall(true);
        wall_->search()->setFocus();
      });
  }
  jobs_menu_->addSeparator();
  jobs_menu_->addAction(QStringLiteral("New job"), desk_.get(), &Desk::new_job);
  if (!desk_->has_job()) return;
  jobs_menu_->addAction(QStringLiteral("Rename this job…"), this, [this] {
    bool ok = false;
    const QString name = QInputDialog::getText(this, QStringLiteral("Rename"), QStringLiteral("Name of the job"),
                                               QLineEdit::Normal, qs(desk_->job().name), &ok)
                             .trimmed();
    if (!ok || name.isEmpty()) return;
    Job next = desk_->job();
    next.name = name.toStdString();
    desk_->edit(next, QStringLiteral("job renamed"));
  });
  jobs_menu_->addAction(QStringLiteral("For whom…"), this, [this] {
    bool ok = false;
    const QString name = QInputDialog::getText(this, QStringLiteral("For whom"), QStringLiteral("Who the job is for"),
                                               QLineEdit::Normal, qs(desk_->job().client), &ok)
                             .trimmed();
    if (!ok) return;
    Job next = desk_->job();
    next.client = name.toStdString();
    desk_->edit(next, QStringLiteral("client named"));
  });
}

void MainWindow::export_sheet() {
  if (!desk_->has_job()) return;
  QString filter;
  QString path = QFileDialog::getSaveFileName(this, QStringLiteral("Job sheet as PDF"),
                                              qs(desk_->job().name) + QStringLiteral(".pdf"),
                                              QStringLiteral("A4 (*.pdf);;Letter (*.pdf)"), &filter);
  if (path.isEmpty()) return;
  if (!path.endsWith(QStringLiteral(".pdf"))) path += QStringLiteral(".pdf");
  desk_->write_sheet(path, filter.startsWith(QStringLiteral("Letter")));
}

}  // namespace palinform::app
