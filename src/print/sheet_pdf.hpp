#pragma once
/// The job sheet on paper. Needs a QGuiApplication (any platform, offscreen too).
#include <QImage>
#include <string>

#include "base/drawing.hpp"
#include "base/result.hpp"
#include "overview/sheet.hpp"
#include "picture/render.hpp"
#include "stages/building.hpp"

namespace palinform {

enum class Paper { a4, letter };

/// How many pages lie at the bench, and how many there are with the record.
struct SheetPages {
  int bench = 0, all = 0;
};
/// Lays the sheet out and writes a PDF: first what lies at the bench, then the record on pages of its own. The same
/// sheet gives the same bytes.
Result<SheetPages> write_sheet_pdf(const Sheet& sheet, const std::string& path, Paper paper = Paper::a4);

/// Writes drawings at true scale, a page each; a page is as large as its drawing, at least A4. Files by the ending:
/// .pdf, .svg, .dxf (the last two take one drawing).
Status write_drawings(const std::vector<Drawing>& drawings, const std::string& path);

/// Writes every solid as STL and every drawing as DXF, SVG and PDF into a folder, made where it is missing; gives the
/// paths.
Result<std::vector<std::string>> write_build_files(const Build& build, const std::string& dir);

/// Loads the program's own font family into the application; gives its name, or an empty string when it cannot.
QString load_fonts();

/// A picture's pixels as an image that owns them.
QImage to_image(const Picture& picture);

}  // namespace palinform
