// to_dxf: see drawing.hpp.
#include <dl_dxf.h>
#include <unistd.h>

#include <filesystem>
#include <fstream>
#include <memory>
#include <sstream>

#include "base/drawing.hpp"

namespace palinform {
namespace {

int dxf_colour(Pen p) {  // the old index colours
  switch (p) {
    case Pen::line:
      return 3;
    case Pen::side_a:
      return 5;
    case Pen::side_b:
      return 2;
    case Pen::edge:
    case Pen::hidden:
    case Pen::measure:
      return 8;
    default:
      return 7;
  }
}

/// R12 knows Latin letters only; what a drawing may hold beyond them is spelt out.
std::string plain(const std::string& text) {
  std::string out;
  for (size_t i = 0; i < text.size();) {
    const auto rest = std::string_view(text).substr(i);
    const auto swap = [&](std::string_view from, std::string_view to) {
      if (rest.substr(0, from.size()) != from) return false;
      out += to;
      i += from.size();
      return true;
    };
    if (swap("Ø", "%%c") || swap("°", "%%d") || swap("±", "%%p") || swap("−", "-") || swap("×", "x") ||
        swap("·", "-") || swap("½", "1/2") || swap("–", "-"))
      continue;
    if (static_cast<unsigned char>(text[i]) < 0x80) out += text[i];
    ++i;
  }
  return out;
}

/// A file name of one's own that is gone at the end.
struct TemporaryFile {
  std::string path = (std::filesystem::temp_directory_path() / "palinform-dxf-XXXXXX").string();
  TemporaryFile() {
    const int fd = ::mkstemp(path.data());
    if (fd >= 0) ::close(fd);
  }
  ~TemporaryFile() {
    std::error_code ec;
    std::filesystem::remove(path, ec);
  }
};

}  // namespace

std::string to_dxf(const Drawing& d) {
  const TemporaryFile file;
  DL_Dxf dxf;
  const std::unique_ptr<DL_WriterA> w(dxf.out(file.path.c_str(), DL_Codes::AC1009));
  if (!w) return {};
  dxf.writeHeader(*w);
  w->dxfString(9, "$INSUNITS");
  w->dxfInt(70, 4);  // millimetres
  w->dxfString(9, "$EXTMIN");
  w->dxfReal(10, 0), w->dxfReal(20, 0);
  w->dxfString(9, "$EXTMAX");
  w->dxfReal(10, d.width_mm), w->dxfReal(20, d.height_mm);
  w->sectionEnd();
  w->sectionTables();
  w->tableLinetypes(1);
  dxf.writeLinetype(*w, DL_LinetypeData("CONTINUOUS", "Continuous", 0, 0, 0.0));
  w->tableEnd();
  w->tableLayers(count_of<Pen>() + 1);
  const auto layer = [&](const std::string& name, int colour) {
    dxf.writeLayer(*w, DL_LayerData(name, 0), DL_Attributes("", colour, -1, "CONTINUOUS", 1.0));
  };
  for (int k = 0; k < count_of<Pen>(); ++k)
    layer(std::string(name_of(static_cast<Pen>(k))), dxf_colour(static_cast<Pen>(k)));
  layer("text", 7);
  w->tableEnd();
  w->sectionEnd();
  w->sectionEntities();
  const auto on = [](const std::string& name) { return DL_Attributes(name, 256, -1, "BYLAYER", 1.0); };
  for (const Stroke& s : d.strokes) {
    if (s.points.size() < 2) continue;
    const DL_Attributes at = on(std::string(name_of(s.pen)));
    dxf.writePolyline(*w, DL_PolylineData(static_cast<int>(s.points.size()), 0, 0, s.closed ? 1 : 0), at);
    for (const Point2& p : s.points) dxf.writeVertex(*w, DL_VertexData(p.x, p.y, 0, 0));
    dxf.writePolylineEnd(*w);
  }
  for (const Round& r : d.rounds)
    dxf.writeCircle(*w, DL_CircleData(r.centre.x, r.centre.y, 0, r.radius_mm), on(std::string(name_of(r.pen))));
  for (const Label& l : d.labels)
    dxf.writeText(*w,
                  DL_TextData(l.at.x, l.at.y, 0, l.at.x, l.at.y, 0, l.height_mm, 1.0, 0,
                              l.align < 0    ? 0
                              : l.align == 0 ? 1
                                             : 2,
                              0, plain(l.text), "STANDARD", 0),
                  on("text"));
  w->sectionEnd();
  w->dxfEOF();
  w->close();
  std::ifstream in(file.path, std::ios::binary);
  std::stringstream bytes;
  bytes << in.rdbuf();
  return bytes.str();
}

}  // namespace palinform
