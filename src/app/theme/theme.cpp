#include "theme/theme.hpp"

#include <QApplication>
#include <QIcon>
#include <QPainterPath>
#include <QPixmap>

#include "sheet_pdf.hpp"

namespace palinform::app {

namespace {
bool dark_now = false;
}

const Palette& chalk() {
  static const Palette p = [] {
    Palette c;
    c.ground = QColor(0xF6F3EC), c.slip = QColor(0xE9E3D6), c.panel = QColor(0xFCFAF5), c.ink = QColor(0x26282B),
    c.quiet = QColor(0x625E55), c.rule = QColor(0xD5CDBC);
    c.act = QColor(0x1F7A72), c.stop = QColor(0xA63D40), c.caution = QColor(0xC58B1B), c.note = QColor(0x33508A),
    c.on_act = QColor(0xFFFFFF);
    c.part = QColor(0xDED6C6), c.part_cut = QColor(0xB3A68D), c.side_a = QColor(0xC9CEDB), c.side_b = QColor(0xE6D2A4),
    c.rubber_a = QColor(0x7F93BE), c.rubber_b = QColor(0xD3A851), c.locked = QColor(0xE0BDBA);
    return c;
  }();
  return p;
}
const Palette& dusk() {
  static const Palette p = [] {
    Palette c;
    c.ground = QColor(0x23252A), c.slip = QColor(0x2D3036), c.panel = QColor(0x30333A), c.ink = QColor(0xEDE8DC),
    c.quiet = QColor(0xB3AD9F), c.rule = QColor(0x474A52);
    c.act = QColor(0x4FB3A8), c.stop = QColor(0xDB7D7F), c.caution = QColor(0xDDAA4A), c.note = QColor(0x8FA8DC),
    c.on_act = QColor(0x15201F);
    c.part = QColor(0xCFC7B7), c.part_cut = QColor(0x8D826D), c.side_a = QColor(0xA9B3CE), c.side_b = QColor(0xD9C08A),
    c.rubber_a = QColor(0x6D84B8), c.rubber_b = QColor(0xBE953F), c.locked = QColor(0xC79592);
    c.dark = true;
    return c;
  }();
  return p;
}
const Palette& pal() { return dark_now ? dusk() : chalk(); }
void set_dusk(bool on) { dark_now = on; }

QFont type_face(int px, int weight) {
  static const QString family = load_fonts();
  QFont f(family.isEmpty() ? QStringLiteral("sans-serif") : family);
  f.setPixelSize(px);
  f.setWeight(weight >= 700 ? QFont::Bold : weight >= 600 ? QFont::DemiBold : QFont::Normal);
  f.setHintingPreference(QFont::PreferNoHinting);
  return f;
}
int text_width(const QFont& f, const QString& s) { return QFontMetrics(f).horizontalAdvance(s); }

QString style_sheet() {
  load_fonts();  // before the first widget is polished, or it would keep a stand-in
  const Palette& c = pal();
  QString s = QStringLiteral(R"(
* { font-family: "Palinform Text"; font-size: 14px; color: @ink; }
QMainWindow, QDialog, QWidget#page, QScrollArea, QScrollArea > QWidget > QWidget { background: @ground; }
QToolTip { background: @panel; color: @ink; border: 1px solid @rule; padding: 4px; }
QMenuBar { background: @ground; padding: 2px 8px; } QMenuBar::item { padding: 4px 9px; background: transparent; }
QMenuBar::item:selected { background: @slip; border-radius: 4px; }
QMenu { background: @panel; border: 1px solid @rule; padding: 4px; } QMenu::item { padding: 6px 26px 6px 14px; } QMenu::item:selected { background: @slip; }
QMenu::separator { height: 1px; background: @rule; margin: 4px 8px; } QMenu::item:disabled { color: @quiet; }
QPushButton { background: transparent; border: 1px solid @act; border-radius: 16px; padding: 0 13px; min-height: 30px; color: @act; }
QPushButton:hover { background: @slip; } QPushButton:focus { border: 2px solid @act; padding: 0 12px; }
QPushButton:disabled { color: @quiet; border-color: @rule; }
QPushButton::menu-indicator { image: none; width: 0; height: 0; }
QPushButton[kind="main"] { background: @act; color: @on_act; font-weight: 600; } QPushButton[kind="main"]:focus { border: 2px solid @ink; }
QPushButton[kind="chip"] { border-color: @rule; background: @panel; color: @ink; } QPushButton[kind="chip"]:checked { border: 2px solid @ink; font-weight: 600; padding: 0 12px; }
QPushButton[kind="chip"]:disabled { color: @quiet; background: @ground; }
QPushButton[kind="chip"]:focus { border: 2px solid @act; padding: 0 12px; }
QPushButton[kind="bare"] { border: 1px solid transparent; border-radius: 6px; color: @quiet; padding: 0 7px; } QPushButton[kind="bare"]:hover { color: @ink; background: @slip; }
QPushButton[kind="bare"]:focus { border: 2px solid @act; padding: 0 6px; } QPushButton[kind="bare"]:disabled { color: @rule; border-color: transparent; }
QLineEdit, QComboBox, QDoubleSpinBox, QSpinBox, QPlainTextEdit { background: @panel; border: 1px solid @rule; border-radius: 6px; padding: 0 8px; min-height: 30px; selection-background-color: @act; selection-color: @on_act; }
QLineEdit:focus, QComboBox:focus, QDoubleSpinBox:focus, QSpinBox:focus, QPlainTextEdit:focus { border: 2px solid @act; padding: 0 7px; }
QLineEdit[fault="true"] { border: 2px solid @stop; padding: 0 7px; }
QComboBox::drop-down { border: 0; width: 22px; } QComboBox::down-arrow { image: none; width: 0; height: 0; }
QComboBox QAbstractItemView { background: @panel; border: 1px solid @rule; selection-background-color: @slip; selection-color: @ink; padding: 2px; outline: 0; }
QComboBox QAbstractItemView::item { min-height: 30px; }
QDoubleSpinBox::up-button, QDoubleSpinBox::down-button, QSpinBox::up-button, QSpinBox::down-button { width: 0; }
QCheckBox { spacing: 8px; min-height: 30px; } QCheckBox::indicator { width: 16px; height: 16px; border: 1px solid @quiet; border-radius: 4px; background: @panel; }
QCheckBox::indicator:checked { background: @act; border-color: @act; } QCheckBox:focus { color: @act; }
QScrollBar:vertical { background: transparent; width: 10px; } QScrollBar::handle:vertical { background: @rule; border-radius: 5px; min-height: 30px; }
QScrollBar:horizontal { background: transparent; height: 10px; } QScrollBar::handle:horizontal { background: @rule; border-radius: 5px; min-width: 30px; }
QScrollBar::add-line, QScrollBar::sub-line { height: 0; width: 0; } QScrollBar::add-page, QScrollBar::sub-page { background: transparent; }
QLabel[role="quiet"] { color: @quiet; font-size: 13px; } QLabel[role="small"] { color: @quiet; font-size: 12px; } QLabel[role="head"] { font-weight: 600; }
QLabel[role="title"] { font-size: 16px; font-weight: 700; }
QFrame#panel { background: @ground; border: 1px solid @rule; border-radius: 8px; }
QFrame#card { background: @panel; border: 1px solid @rule; border-radius: 10px; }
QSlider::groove:horizontal { height: 4px; background: @rule; border-radius: 2px; } QSlider::sub-page:horizontal { background: @act; border-radius: 2px; }
QSlider::handle:horizontal { width: 20px; height: 20px; margin: -8px 0; border-radius: 10px; background: @panel; border: 3px solid @act; } QSlider::handle:horizontal:focus { background: @act; }
QListWidget { background: @panel; border: 1px solid @rule; border-radius: 8px; outline: 0; } QListWidget::item { min-height: 34px; padding: 2px 10px; } QListWidget::item:selected { background: @slip; color: @ink; }
)");
  const std::pair<const char*, QColor> names[] = {{"@ink", c.ink},       {"@ground", c.ground}, {"@panel", c.panel},
                                                  {"@slip", c.slip},     {"@quiet", c.quiet},   {"@rule", c.rule},
                                                  {"@on_act", c.on_act}, {"@act", c.act},       {"@stop", c.stop}};
  for (const auto& [name, colour] : names) s.replace(QLatin1String(name), colour.name());
  return s;
}

QColor mixed(const QColor& a, const QColor& b, double share) {
  const auto at = [&](float x, float y) { return static_cast<float>(x * (1 - share) + y * share); };
  return QColor::fromRgbF(at(a.redF(), b.redF()), at(a.greenF(), b.greenF()), at(a.blueF(), b.blueF()));
}
Rgb rgb(const QColor& c) { return Rgb::hex(c.rgb() & 0xffffffu); }

void fill_pattern(QPainter& p, const QRectF& r, const QColor& colour, Qt::BrushStyle style) {
  p.fillRect(r, colour);
  QColor line = pal().ground;
  line.setAlphaF(0.55f);
  p.fillRect(r, QBrush(line, style));
}

void draw_mark(QPainter& p, const QRectF& r) {
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  const qreal w = r.width() * 0.085;
  p.setBrush(Qt::NoBrush);
  const QRectF ring = r.adjusted(w, w, -w, -w);
  p.setPen(QPen(pal().ink, w, Qt::SolidLine, Qt::FlatCap));
  p.drawArc(ring, 25 * 16, 130 * 16);
  p.drawArc(ring, 205 * 16, 130 * 16);
  QPainterPath wave;
  wave.moveTo(r.left(), r.center().y());
  wave.cubicTo(r.left() + r.width() * 0.33, r.center().y() - r.height() * 0.32, r.left() + r.width() * 0.66,
               r.center().y() + r.height() * 0.32, r.right(), r.center().y());
  p.setPen(QPen(pal().act, w * 1.15, Qt::SolidLine, Qt::RoundCap));
  p.drawPath(wave);
  p.restore();
}

QIcon program_icon() {
  QPixmap pix(128, 128);
  pix.fill(Qt::transparent);
  QPainter p(&pix);
  draw_mark(p, QRectF(8, 8, 112, 112));
  return QIcon(pix);
}

}  // namespace palinform::app
