// The real window, offscreen unless a display is named; settings and data in a folder of their own.
#include <QApplication>
#include <QStandardPaths>

#include "run_catch.hpp"
#include "shapes.hpp"
#include "view3d/part_view.hpp"

int main(int argc, char** argv) {
  shapes::TempDir home;
  qputenv("HOME", home.str().c_str());
  qputenv("XDG_CONFIG_HOME", (home / "config").c_str());
  qputenv("XDG_DATA_HOME", (home / "data").c_str());
  if (qEnvironmentVariableIsEmpty("DISPLAY")) qputenv("QT_QPA_PLATFORM", "offscreen");
  QApplication app(argc, argv);
  QApplication::setOrganizationName("palinform");
  QApplication::setApplicationName("palinform-test");
  // One pass can be pointed at and compared; what more of them add is looked at in a test of its own, or by a person.
  if (qEnvironmentVariableIsEmpty("PALINFORM_LOOK")) palinform::app::PartView::settled_passes = 1;
  return run_catch(argc, argv);
}
