#include "base/drawing.hpp"

#include <cmath>

#include "base/text.hpp"

namespace palinform {
namespace {

constexpr Pen pens[] = {Pen::outline, Pen::edge,    Pen::hidden, Pen::line,
                        Pen::centre,  Pen::measure, Pen::side_a, Pen::side_b};

const char* dashes(Pen p) {
  switch (p) {
    case Pen::hidden:
      return "1.2 0.9";
    case Pen::centre:
      return "4 0.8 0.8 0.8";
    default:
      return nullptr;
  }
}
const char* colour(Pen p) {
  switch (p) {
    case Pen::line:
      return "#1F7A72";
    case Pen::side_a:
      return "#33508A";
    case Pen::side_b:
      return "#C58B1B";
    case Pen::edge:
    case Pen::measure:
    case Pen::hidden:
      return "#6B6C6A";
    default:
      return "#26282B";
  }
}
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

std::string escaped(const std::string& text) {
  std::string out;
  for (const char c : text) out += c == '<' ? "&lt;" : c == '>' ? "&gt;" : c == '&' ? "&amp;" : std::string(1, c);
  return out;
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

}  // namespace

std::string_view name_of(Pen p) {
  switch (p) {
    case Pen::outline:
      return "outline";
    case Pen::edge:
      return "edge";
    case Pen::hidden:
      return "hidden";
    case Pen::line:
      return "parting-line";
    case Pen::centre:
      return "centre";
    case Pen::measure:
      return "measure";
    case Pen::side_a:
      return "side-a";
    case Pen::side_b:
      return "side-b";
  }
  return "";
}
double width_mm(Pen p) {
  switch (p) {
    case Pen::outline:
      return 0.5;
    case Pen::line:
      return 0.8;
    case Pen::side_a:
    case Pen::side_b:
      return 0.35;
    case Pen::edge:
      return 0.25;
    default:
      return 0.18;
  }
}

void Drawing::measure(Point2 a, Point2 b, double off, const std::string& text) {
  const double dx = b.x - a.x, dy = b.y - a.y, len = std::hypot(dx, dy);
  if (len < 1e-9) return;
  const Point2 n{-dy / len, dx / len}, e{dx / len, dy / len};
  const Point2 p{a.x + n.x * off, a.y + n.y * off}, q{b.x + n.x * off, b.y + n.y * off};
  line(Pen::measure, a, {p.x + n.x * std::copysign(1.0, off), p.y + n.y * std::copysign(1.0, off)});
  line(Pen::measure, b, {q.x + n.x * std::copysign(1.0, off), q.y + n.y * std::copysign(1.0, off)});
  line(Pen::measure, p, q);
  for (const auto& [end, way] : {std::pair{p, 1.0}, {q, -1.0}}) {  // short slanting ticks
    line(Pen::measure, {end.x - 0.9 * (e.x + n.x) * way, end.y - 0.9 * (e.y + n.y) * way},
         {end.x + 0.9 * (e.x + n.x) * way, end.y + 0.9 * (e.y + n.y) * way});
  }
  const bool upright = std::abs(dx) < std::abs(dy);
  labels.push_back({{0.5 * (p.x + q.x) + (upright ? (n.x * off > 0 ? 1.0 : -1.0) : 0.0),
                     0.5 * (p.y + q.y) + (upright ? -1.0 : (off * n.y > 0 ? 1.0 : -3.6))},
                    text,
                    2.8,
                    upright ? (n.x * off > 0 ? -1 : 1) : 0});
}

void Drawing::place(const Drawing& o, Point2 at) {
  for (Stroke s : o.strokes) {
    for (Point2& p : s.points) p.x += at.x, p.y += at.y;
    strokes.push_back(std::move(s));
  }
  for (Round r : o.rounds) r.centre.x += at.x, r.centre.y += at.y, rounds.push_back(r);
  for (Label l : o.labels) l.at.x += at.x, l.at.y += at.y, labels.push_back(std::move(l));
}

std::string to_svg(const Drawing& d) {
  const auto x = [](double v) { return fixed(v, 3); };
  const auto y = [&](double v) { return fixed(d.height_mm - v, 3); };
  std::string out = "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"" + x(d.width_mm) + "mm\" height=\"" +
                    x(d.height_mm) + "mm\" viewBox=\"0 0 " + x(d.width_mm) + " " + x(d.height_mm) + "\">\n<title>" +
                    escaped(d.title) + "</title>\n";
  const auto style = [&](Pen p) {
    std::string s = " fill=\"none\" stroke=\"" + std::string(colour(p)) + "\" stroke-width=\"" + fixed(width_mm(p), 2) +
                    "\" stroke-linecap=\"round\" stroke-linejoin=\"round\"";
    if (const char* dash = dashes(p)) s += " stroke-dasharray=\"" + std::string(dash) + "\"";
    return s;
  };
  for (const Pen pen : pens) {
    std::string body;
    for (const Stroke& s : d.strokes) {
      if (s.pen != pen || s.points.size() < 2) continue;
      body += "<path d=\"";
      for (size_t i = 0; i < s.points.size(); ++i) body += (i ? "L" : "M") + x(s.points[i].x) + " " + y(s.points[i].y);
      body += s.closed ? "Z\"/>\n" : "\"/>\n";
    }
    for (const Round& r : d.rounds)
      if (r.pen == pen)
        body += "<circle cx=\"" + x(r.centre.x) + "\" cy=\"" + y(r.centre.y) + "\" r=\"" + x(r.radius_mm) + "\"/>\n";
    if (!body.empty()) out += "<g id=\"" + std::string(name_of(pen)) + "\"" + style(pen) + ">\n" + body + "</g>\n";
  }
  for (const Label& l : d.labels)
    out += "<text x=\"" + x(l.at.x) + "\" y=\"" + y(l.at.y) + "\" font-family=\"Inter, sans-serif\" font-size=\"" +
           fixed(l.height_mm * 1.35, 2) + "\" fill=\"#26282B\" text-anchor=\"" +
           (l.align < 0    ? "start"
            : l.align == 0 ? "middle"
                           : "end") +
           "\">" + escaped(l.text) + "</text>\n";
  return out + "</svg>\n";
}

std::string to_dxf(const Drawing& d) {
  std::string out;
  const auto put = [&](int code, const std::string& value) { out += std::to_string(code) + "\n" + value + "\n"; };
  const auto number = [&](int code, double v) { put(code, fixed(v, 6)); };
  put(0, "SECTION"), put(2, "HEADER");
  put(9, "$ACADVER"), put(1, "AC1009");
  put(9, "$INSUNITS"), put(70, "4");  // millimetres
  put(9, "$EXTMIN"), number(10, 0), number(20, 0);
  put(9, "$EXTMAX"), number(10, d.width_mm), number(20, d.height_mm);
  put(0, "ENDSEC");
  put(0, "SECTION"), put(2, "TABLES");
  put(0, "TABLE"), put(2, "LAYER"), put(70, std::to_string(std::size(pens) + 1));
  for (const Pen p : pens) {
    put(0, "LAYER"), put(2, std::string(name_of(p))), put(70, "0");
    put(62, std::to_string(dxf_colour(p))), put(6, "CONTINUOUS");
  }
  put(0, "LAYER"), put(2, "text"), put(70, "0"), put(62, "7"), put(6, "CONTINUOUS");
  put(0, "ENDTAB"), put(0, "ENDSEC");
  put(0, "SECTION"), put(2, "ENTITIES");
  for (const Stroke& s : d.strokes) {
    if (s.points.size() < 2) continue;
    const std::string layer(name_of(s.pen));
    put(0, "POLYLINE"), put(8, layer), put(66, "1");
    number(10, 0), number(20, 0), number(30, 0);
    put(70, s.closed ? "1" : "0");
    for (const Point2& p : s.points) put(0, "VERTEX"), put(8, layer), number(10, p.x), number(20, p.y), number(30, 0);
    put(0, "SEQEND"), put(8, layer);
  }
  for (const Round& r : d.rounds)
    put(0, "CIRCLE"), put(8, std::string(name_of(r.pen))), number(10, r.centre.x), number(20, r.centre.y),
        number(30, 0), number(40, r.radius_mm);
  for (const Label& l : d.labels) {
    put(0, "TEXT"), put(8, "text"), number(10, l.at.x), number(20, l.at.y), number(30, 0), number(40, l.height_mm);
    put(1, plain(l.text)), put(72, l.align < 0 ? "0" : l.align == 0 ? "1" : "2");
    number(11, l.at.x), number(21, l.at.y), number(31, 0);
  }
  put(0, "ENDSEC"), put(0, "EOF");
  return out;
}

}  // namespace palinform
