#pragma once
/// The look: two palettes of one family, the type scale, and small drawing helpers every stage uses.
#include <QColor>
#include <QFont>
#include <QIcon>
#include <QPainter>
#include <QString>

#include "picture/scene.hpp"

namespace palinform::app {

struct Palette {
  QColor ground, slip, panel, ink, quiet, rule;  ///< paper, strand, raised card, text, lesser text, hairlines
  QColor act, stop, caution, note;               ///< verdigris, madder, ochre, woad
  QColor on_act;                                 ///< text on `act`
  QColor part, part_cut, side_a, side_b, rubber_a, rubber_b, locked;
  bool dark = false;
};

const Palette& chalk();
const Palette& dusk();
/// The palette in force.
const Palette& pal();
void set_dusk(bool on);

/// Pixel sizes: 12 small, 14 text, 16 strong, 22 large; weight 400, 600 or 700.
QFont type_face(int px, int weight = 400);
int text_width(const QFont& f, const QString& s);

/// Style sheet for the standard widgets, in the palette in force.
QString style_sheet();

Rgb rgb(const QColor& c);
/// From `a` at 0 to `b` at 1.
QColor mixed(const QColor& a, const QColor& b, double share);
/// Fills with the diagonal hatch or dots that mark a meaning besides its colour.
void fill_pattern(QPainter& p, const QRectF& r, const QColor& colour, Qt::BrushStyle style);
/// The program's own mark: a coin parted by a wave.
void draw_mark(QPainter& p, const QRectF& r);
QIcon program_icon();

}  // namespace palinform::app
