#include "sheet_pdf.hpp"

#include <algorithm>
#include <cstring>
#include <filesystem>
#include <QBuffer>
#include <QFontDatabase>
#include <QFontMetricsF>
#include <QHash>
#include <QPainter>
#include <QPdfWriter>

#include "base/text.hpp"
#include "mesh/save.hpp"

static void load_resource() { Q_INIT_RESOURCE(fonts); }

namespace palinform {
namespace {

const QColor ink(0x26, 0x28, 0x2B), quiet(0x6B, 0x67, 0x5E), rule(0xC9, 0xC2, 0xB2), madder(0xA6, 0x3D, 0x40);

/// Walks down the pages; all lengths in points (1/72 inch).
class Page {
 public:
  Page(QPdfWriter& writer, QPainter& painter, const Sheet& sheet) : writer_(writer), p_(painter), sheet_(sheet) {
    const qreal scale = writer.resolution() / 72.0;
    p_.scale(scale, scale);
    width_ = writer.width() / scale;
    height_ = writer.height() / scale;
    head();
  }
  QFont font(qreal size, int weight = QFont::Normal) const {
    QFont f(QStringLiteral("Palinform Text"));
    f.setPointSizeF(size * 72.0 / writer_.resolution());  // the painter is scaled, so a point is a unit
    f.setPixelSize(qMax(1, qRound(size)));
    f.setWeight(static_cast<QFont::Weight>(weight));
    return f;
  }
  void need(qreal h) {
    if (y_ + h > height_ - 22) next();
  }
  /// Text in a column; gives its height, draws unless `dry`.
  qreal text(const QString& s, qreal x, qreal w, qreal size, const QColor& colour = ink, int weight = QFont::Normal,
             bool dry = false) {
    p_.setFont(font(size, weight));
    p_.setPen(colour);
    const QRectF box(x, y_, w, 4000);
    const QRectF used = p_.boundingRect(box, Qt::TextWordWrap | Qt::AlignLeft | Qt::AlignTop, s);
    if (!dry) p_.drawText(QRectF(x, y_, w, used.height() + 1), Qt::TextWordWrap | Qt::AlignLeft | Qt::AlignTop, s);
    return used.height();
  }
  void heading(const QString& s) {
    need(40);
    y_ += 8;
    y_ += text(s, 0, width_, 11, ink, QFont::DemiBold) + 2;
    line();
    y_ += 3;
  }
  void line() {
    p_.setPen(QPen(rule, 0.6));
    p_.drawLine(QPointF(0, y_), QPointF(width_, y_));
  }
  void paragraph(const QString& s, const QColor& colour = ink, qreal size = 8.5) {
    const qreal h = text(s, 0, width_, size, colour, QFont::Normal, true);
    need(h + 4);
    text(s, 0, width_, size, colour);
    y_ += h + 3;
  }
  void table(const SheetTable& t) {
    heading(QString::fromStdString(t.heading));
    const size_t n = t.columns.size();
    // Natural widths, then the room left over shared out; a column too wide for the page wraps.
    std::vector<qreal> w(n, 20);
    const QFontMetricsF metric(font(8.5)), bold(font(8, QFont::DemiBold));
    for (size_t c = 0; c < n; ++c) {
      w[c] = std::max(w[c], bold.horizontalAdvance(QString::fromStdString(t.columns[c])) + 8);
      for (const auto& r : t.rows)
        w[c] = std::max(w[c], std::min(metric.horizontalAdvance(QString::fromStdString(r[c])) + 10, width_ * 0.55));
    }
    qreal total = 0;
    for (const qreal v : w) total += v;
    for (qreal& v : w) v *= width_ / total;
    const auto row = [&](const std::vector<std::string>& cells, qreal size, const QColor& colour, int weight) {
      qreal h = 0, x = 0;
      for (size_t c = 0; c < n; x += w[c++])
        h = std::max(h, text(QString::fromStdString(cells[c]), x, w[c] - 6, size, colour, weight, true));
      need(h + 5);
      x = 0;
      for (size_t c = 0; c < n; x += w[c++]) text(QString::fromStdString(cells[c]), x, w[c] - 6, size, colour, weight);
      y_ += h + 3;
      line();
      y_ += 2;
    };
    if (std::any_of(t.columns.begin(), t.columns.end(), [](const std::string& c) { return !c.empty(); }))
      row(t.columns, 8, quiet, QFont::DemiBold);
    for (const auto& r : t.rows) row(r, 8.5, ink, QFont::Normal);
    if (!t.note.empty()) paragraph(QString::fromStdString(t.note), quiet, 8);
  }
  /// Numbered lines with a box to tick, in two columns of equal height where a page takes them.
  void ticks(const std::vector<std::string>& lines) {
    const qreal gap = 12, w = (width_ - gap) / 2, size = 8;
    std::vector<qreal> high;
    qreal total = 0;
    for (const std::string& s : lines) {
      high.push_back(std::max<qreal>(text(QString::fromStdString(s), 0, w - 26, size, ink, QFont::Normal, true), 10) +
                     3);
      total += high.back();
    }
    need(30);
    qreal top = y_, lowest = y_;
    int column = 0;
    const auto bottom = [&] { return std::min(height_ - 22, top + std::max<qreal>(0.5 * total + 14, 40)); };
    qreal left = total;
    for (size_t i = 0; i < lines.size(); ++i) {
      if (y_ + high[i] > bottom() && y_ > top) {
        lowest = std::max(lowest, y_);
        if (++column > 1) {
          next();
          column = 0;
          top = lowest = y_;
          total = left;
        }
        y_ = top;
      }
      const qreal x = column * (w + gap);
      p_.setPen(QPen(ink, 0.8));
      p_.drawRect(QRectF(x, y_ + 1, 8, 8));
      text(QString::number(i + 1), x + 11, 14, size, quiet);
      text(QString::fromStdString(lines[i]), x + 26, w - 26, size);
      y_ += high[i];
      left -= high[i];
    }
    y_ = std::max(lowest, y_) + 2;
  }
  /// A new page.
  void next() {
    writer_.newPage();
    ++page_;
    y_ = 0;
    head();
  }
  int pages() const { return page_; }
  void boxes(const std::vector<std::string>& labels) {
    heading(QStringLiteral("To fill in by hand"));
    constexpr size_t across = 3;
    const qreal gap = 8, w = (width_ - gap * (across - 1)) / across, h = 28;
    for (size_t i = 0; i < labels.size(); i += across) {
      need(h + 6);
      for (size_t k = 0; k < across && i + k < labels.size(); ++k) {
        const qreal x = static_cast<qreal>(k) * (w + gap);
        p_.setPen(QPen(quiet, 0.7));
        p_.drawRect(QRectF(x, y_, w, h));
        p_.setFont(font(7.5));
        p_.setPen(quiet);
        p_.drawText(QPointF(x + 4, y_ + 10), QString::fromStdString(labels[i + k]));
      }
      y_ += h + 6;
    }
  }
  void picture() {
    if (sheet_.scene.bodies.empty()) return;
    const qreal h = 96;
    need(h + 4);
    Camera c;
    c.width_px = 1400;
    c.height_px = static_cast<int>(1400 * h / width_);
    c.look_from(-60, 35);
    c.fit(sheet_.scene.box_mm(), 0.05);
    const QImage image = to_image(render(sheet_.scene, c, 12));
    p_.drawImage(QRectF(0, y_, width_, h), image);
    y_ += h;
    text(QStringLiteral("Plain: side a. Dotted: side b. Hatched: locks. Parallel projection."), 0, width_, 7.5, quiet);
    y_ += 12;
  }

 private:
  void head() {
    if (page_ == 1) {
      y_ += text(QString::fromStdString(sheet_.title), 0, width_ * 0.7, 18, ink, QFont::Bold) + 1;
      y_ += text(QString::fromStdString(sheet_.subtitle), 0, width_, 9.5, quiet) + 4;
    } else {
      y_ += text(QString::fromStdString(sheet_.title) + QStringLiteral(" · page ") + QString::number(page_), 0, width_,
                 9, quiet) +
            4;
    }
    line();
    y_ += 5;
    for (const std::string& s : sheet_.stops) {  // on every page, so that no loose sheet hides it
      const QString stop = QStringLiteral("STOP  ") + QString::fromStdString(s);
      const qreal h = text(stop, 12, width_ - 24, 9, madder, QFont::DemiBold, true) + 8;
      p_.setPen(QPen(madder, 1.2));
      p_.drawRect(QRectF(0, y_, width_, h));
      y_ += 4;
      text(stop, 12, width_ - 24, 9, madder, QFont::DemiBold);
      y_ += h;
    }
  }
  QPdfWriter& writer_;
  QPainter& p_;
  const Sheet& sheet_;
  qreal width_ = 0, height_ = 0, y_ = 0;
  int page_ = 1;
};

/// The writer stamps the time of day; a fixed stamp keeps equal sheets equal in bytes.
void without_time(QByteArray& bytes) {
  for (qsizetype at = bytes.indexOf("(D:"); at >= 0; at = bytes.indexOf("(D:", at + 3)) {
    const qsizetype end = bytes.indexOf(')', at);
    if (end < 0 || end - at > 40) continue;
    for (qsizetype i = at + 3; i < end; ++i)
      if (bytes[i] >= '0' && bytes[i] <= '9') bytes[i] = '0';
  }
}

QPen pen_for(Pen p) {
  QColor c = ink;
  if (p == Pen::edge || p == Pen::hidden || p == Pen::measure || p == Pen::centre) c = quiet;
  if (p == Pen::line) c = QColor(0x1F, 0x7A, 0x72);
  if (p == Pen::side_a) c = QColor(0x33, 0x50, 0x8A);
  if (p == Pen::side_b) c = QColor(0xC5, 0x8B, 0x1B);
  QPen pen(c, width_mm(p), Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin);
  if (p == Pen::hidden) pen.setDashPattern({4, 4});
  if (p == Pen::centre) pen.setDashPattern({16, 4, 4, 4});
  return pen;
}

void draw(QPainter& p, const Drawing& d, qreal page_height_mm) {
  const auto at = [&](const Point2& q) { return QPointF(q.x, page_height_mm - q.y); };
  p.setBrush(Qt::NoBrush);
  for (const Stroke& s : d.strokes) {
    QPolygonF line;
    for (const Point2& q : s.points) line << at(q);
    p.setPen(pen_for(s.pen));
    s.closed ? p.drawPolygon(line) : p.drawPolyline(line);
  }
  for (const Round& r : d.rounds) {
    p.setPen(pen_for(r.pen));
    p.drawEllipse(at(r.centre), r.radius_mm, r.radius_mm);
  }
  p.setPen(ink);
  for (const Label& l : d.labels) {
    // Fonts are laid out large and scaled down: a font of 3 px would be set unevenly.
    QFont f(QStringLiteral("Palinform Text"));
    f.setPixelSize(100);
    const QString words = QString::fromStdString(l.text);
    const qreal scale = l.height_mm * 1.35 / 100, wide = QFontMetricsF(f).horizontalAdvance(words) * scale;
    p.save();
    p.translate(at(l.at));
    p.translate(l.align < 0 ? 0 : l.align == 0 ? -0.5 * wide : -wide, 0);
    p.scale(scale, scale);
    p.setFont(f);
    p.drawText(QPointF(0, 0), words);
    p.restore();
  }
}

}  // namespace

Status write_drawings(const std::vector<Drawing>& drawings, const std::string& path) {
  const auto ends = [&](const char* e) { return lower_ascii(path).ends_with(e); };
  if (drawings.empty()) return Error{"there is nothing to draw", base_name(path), ""};
  if (ends(".svg") || ends(".dxf")) {
    if (drawings.size() > 1)
      return Error{"one file of this kind holds one drawing", base_name(path), "Write a PDF for several."};
    return write_file(path, ends(".svg") ? to_svg(drawings[0]) : to_dxf(drawings[0]));
  }
  if (!ends(".pdf")) return Error{"drawings are written as .pdf, .svg or .dxf", base_name(path), "Change the ending."};
  QHashSeed::setDeterministicGlobalSeed();
  load_fonts();
  QByteArray bytes;
  {
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    QPdfWriter writer(&buffer);
    writer.setResolution(600);
    writer.setTitle(QString::fromStdString(drawings[0].title));
    writer.setCreator(QStringLiteral("Palinform"));
    QPainter painter;
    for (size_t i = 0; i < drawings.size(); ++i) {
      const Drawing& d = drawings[i];
      const bool wide = d.width_mm > d.height_mm;
      const QSizeF page(qMax(d.width_mm, wide ? 297.0 : 210.0), qMax(d.height_mm, wide ? 210.0 : 297.0));
      writer.setPageSize(QPageSize(page, QPageSize::Millimeter, QString(), QPageSize::ExactMatch));
      writer.setPageMargins(QMarginsF(0, 0, 0, 0), QPageLayout::Millimeter);
      if (i == 0)
        painter.begin(&writer);
      else
        writer.newPage();
      painter.resetTransform();
      const qreal dots = writer.resolution() / 25.4;
      painter.scale(dots, dots);
      painter.translate(0.5 * (page.width() - d.width_mm), -0.5 * (page.height() - d.height_mm));
      draw(painter, d, page.height());
    }
    painter.end();
  }
  without_time(bytes);
  return write_file(path, std::string_view(bytes.constData(), static_cast<size_t>(bytes.size())));
}

Result<std::vector<std::string>> write_build_files(const Build& build, const std::string& dir) {
  std::error_code ec;
  std::filesystem::create_directories(dir, ec);
  if (ec) return Error{"the folder cannot be made", dir, "Check the path and its permissions."};
  std::vector<std::string> out;
  const auto path = [&](const std::string& name) { return (std::filesystem::path(dir) / name).string(); };
  for (const BuiltMesh& m : build.meshes) {
    out.push_back(path(m.name + ".stl"));
    if (auto ok = save_mesh(m.mesh, out.back()); !ok) return ok.error();
  }
  for (const BuiltDrawing& d : build.drawings)
    for (const char* end : {".dxf", ".svg", ".pdf"}) {
      out.push_back(path(d.name + end));
      if (auto ok = write_drawings({d.drawing}, out.back()); !ok) return ok.error();
    }
  return out;
}

QString load_fonts() {
  static const QString family = [] {
    load_resource();
    QString name;
    for (const char* style : {"Regular", "SemiBold", "Bold"}) {
      const int id =
          QFontDatabase::addApplicationFont(QStringLiteral(":/fonts/PalinformText-%1.otf").arg(QLatin1String(style)));
      if (id >= 0) name = QFontDatabase::applicationFontFamilies(id).value(0);
    }
    return name;
  }();
  return family;
}

QImage to_image(const Picture& p) {
  QImage image(p.width_px, p.height_px, QImage::Format_RGB32);
  for (int y = 0; y < p.height_px; ++y)
    std::memcpy(image.scanLine(y), p.argb.data() + static_cast<size_t>(y) * static_cast<size_t>(p.width_px),
                static_cast<size_t>(p.width_px) * 4);
  return image;
}

Result<SheetPages> write_sheet_pdf(const Sheet& sheet, const std::string& path, Paper paper) {
  QHashSeed::setDeterministicGlobalSeed();  // the writer orders its fonts by hash
  load_fonts();
  QByteArray bytes;
  SheetPages pages;
  {
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    QPdfWriter writer(&buffer);
    writer.setPageSize(QPageSize(paper == Paper::a4 ? QPageSize::A4 : QPageSize::Letter));
    writer.setPageMargins(QMarginsF(16, 14, 16, 14), QPageLayout::Millimeter);
    writer.setResolution(300);
    writer.setTitle(QString::fromStdString(sheet.title));
    writer.setCreator(QStringLiteral("Palinform"));
    QPainter painter(&writer);
    Page page(writer, painter, sheet);
    page.picture();
    for (const SheetTable& t : sheet.tables) page.table(t);
    if (!sheet.steps.empty()) {
      page.heading(QStringLiteral("Steps"));
      page.ticks(sheet.steps);
    }
    if (!sheet.cautions.empty()) {
      page.heading(QStringLiteral("Cautions"));
      for (const std::string& c : sheet.cautions) page.paragraph(QString::fromStdString(c));
      page.paragraph(
          QStringLiteral("Read the data sheets, follow local codes, and ask a licensed person where one is required."),
          quiet);
    }
    if (!sheet.boxes.empty()) page.boxes(sheet.boxes);
    pages.bench = page.pages();
    if (!sheet.record.empty()) page.next();
    for (const SheetTable& t : sheet.record) page.table(t);
    pages.all = page.pages();
  }
  without_time(bytes);
  if (auto ok = write_file(path, std::string_view(bytes.constData(), static_cast<size_t>(bytes.size()))); !ok)
    return ok.error();
  return pages;
}

}  // namespace palinform
