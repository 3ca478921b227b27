#include "base/drawing.hpp"

#include <cmath>

#include "base/text.hpp"

namespace palinform {
namespace {

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
std::string escaped(const std::string& text) {
  std::string out;
  for (const char c : text) out += c == '<' ? "&lt;" : c == '>' ? "&gt;" : c == '&' ? "&amp;" : std::string(1, c);
  return out;
}

}  // namespace

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
  for (int k = 0; k < count_of<Pen>(); ++k) {
    const Pen pen = static_cast<Pen>(k);
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

}  // namespace palinform
