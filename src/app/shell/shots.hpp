#pragma once
/// Pictures of every main view, for docs/screenshots.
#include <QString>

namespace palinform::app {

class MainWindow;
/// Walks through the stages at 1280×800 and writes a PNG of each into `dir`. Gives 0, or 1 when one could not be
/// written.
int take_shots(MainWindow& window, const QString& dir);

}  // namespace palinform::app
