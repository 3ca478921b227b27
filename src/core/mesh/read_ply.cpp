#include <bit>
#include <cstring>

#include "base/text.hpp"
#include "mesh/readers.hpp"

namespace palinform::readers {
namespace {

enum class Kind { i8, u8, i16, u16, i32, u32, f32, f64, none };

Kind kind_of(std::string_view w) {
  if (w == "char" || w == "int8") return Kind::i8;
  if (w == "uchar" || w == "uint8") return Kind::u8;
  if (w == "short" || w == "int16") return Kind::i16;
  if (w == "ushort" || w == "uint16") return Kind::u16;
  if (w == "int" || w == "int32") return Kind::i32;
  if (w == "uint" || w == "uint32") return Kind::u32;
  if (w == "float" || w == "float32") return Kind::f32;
  if (w == "double" || w == "float64") return Kind::f64;
  return Kind::none;
}

struct Property {
  std::string name;
  Kind kind = Kind::none, count_kind = Kind::none;  // count_kind set: a list
};
struct Element {
  std::string name;
  size_t count = 0;
  std::vector<Property> properties;
};

/// Hands out values one after the other from a text or a binary body.
class Body {
 public:
  Body(std::string_view bytes, bool text, bool swap) : bytes_(bytes), text_(text), swap_(swap) {}
  bool value(Kind kind, double& out) {
    if (text_) {
      while (at_ < bytes_.size() && static_cast<unsigned char>(bytes_[at_]) <= ' ') ++at_;
      size_t end = at_;
      while (end < bytes_.size() && static_cast<unsigned char>(bytes_[end]) > ' ') ++end;
      std::string_view word = bytes_.substr(at_, end - at_);
      at_ = end;
      return Words::number(word, out);
    }
    switch (kind) {
      case Kind::i8:
        return raw<int8_t>(out);
      case Kind::u8:
        return raw<uint8_t>(out);
      case Kind::i16:
        return raw<int16_t>(out);
      case Kind::u16:
        return raw<uint16_t>(out);
      case Kind::i32:
        return raw<int32_t>(out);
      case Kind::u32:
        return raw<uint32_t>(out);
      case Kind::f32:
        return raw<float>(out);
      case Kind::f64:
        return raw<double>(out);
      default:
        return false;
    }
  }

 private:
  template <class T>
  bool raw(double& out) {
    if (at_ + sizeof(T) > bytes_.size()) return false;
    unsigned char b[sizeof(T)];
    std::memcpy(b, bytes_.data() + at_, sizeof(T));
    if (swap_)
      for (size_t i = 0; i < sizeof(T) / 2; ++i) std::swap(b[i], b[sizeof(T) - 1 - i]);
    T v;
    std::memcpy(&v, b, sizeof(T));
    at_ += sizeof(T);
    out = static_cast<double>(v);
    return true;
  }
  std::string_view bytes_;
  size_t at_ = 0;
  bool text_, swap_;
};

}  // namespace

Result<Raw> ply(std::string_view bytes, const std::string& name, const Progress& progress) {
  if (!bytes.starts_with("ply")) return fault(name, "this does not read as a PLY file: it does not begin with \"ply\"");
  Words words(bytes);
  std::string_view line;
  std::vector<Element> elements;
  size_t announced = 0;
  std::string format;
  bool header_ended = false;
  while (!header_ended && words.next_line(line)) {
    const std::string at = "header line " + std::to_string(words.line_number());
    const std::string_view word = Words::take(line);
    if (word == "format") {
      format = Words::take(line);
    } else if (word == "element") {
      Element e;
      e.name = Words::take(line);
      long long n = -1;
      if (!Words::integer(line, n) || n < 0) return fault(name, at + " gives no count");
      // The body cannot hold more items than bytes, so a wild count is caught before memory is asked for.
      if (static_cast<unsigned long long>(n) > bytes.size())
        return fault(
            name, "the file is cut short: it announces " + grouped(static_cast<double>(n)) + " of \"" + e.name + "\"");
      e.count = static_cast<size_t>(n);
      announced += e.count;
      if (announced > bytes.size())
        return fault(name, "the file is cut short: it announces more elements than it has bytes");
      if (e.name == "face" && e.count > most_triangles) return too_many(name, e.count);
      elements.push_back(std::move(e));
    } else if (word == "property") {
      if (elements.empty()) return fault(name, at + " stands before any element");
      Property p;
      std::string_view type = Words::take(line);
      if (type == "list") {
        p.count_kind = kind_of(Words::take(line));
        type = Words::take(line);
        if (p.count_kind == Kind::none) return fault(name, at + " has a type PLY does not know");
      }
      p.kind = kind_of(type);
      if (p.kind == Kind::none) return fault(name, at + " has a type PLY does not know");
      p.name = Words::take(line);
      elements.back().properties.push_back(std::move(p));
    } else if (word == "end_header") {
      header_ended = true;
    }
  }
  if (!header_ended) return fault(name, "the file is cut short: its header has no end");
  const bool text = format == "ascii", big = format == "binary_big_endian";
  if (!text && !big && format != "binary_little_endian")
    return fault(name, "its PLY format \"" + format + "\" is unknown");

  Raw raw;
  raw.format = text ? "PLY, text" : "PLY, binary";
  Body body(bytes.substr(words.position() > bytes.size() ? bytes.size() : words.position()), text,
            big != (std::endian::native == std::endian::big));
  std::vector<uint32_t> face;
  double v = 0;
  size_t vertices = 0;
  for (const Element& e : elements) {
    for (size_t i = 0; i < e.count; ++i) {
      if (i % 65536 == 0) {
        if (progress.cancelled()) return Error::stopped();
        progress.report(0.1 + 0.5 * static_cast<double>(i) / static_cast<double>(e.count));
      }
      const auto cut = [&] {
        return fault(name, "the file is cut short or damaged at \"" + e.name + "\" " +
                               grouped(static_cast<double>(i + 1)) + " of " + grouped(static_cast<double>(e.count)));
      };
      Vec3 point;
      for (const Property& p : e.properties) {
        if (p.count_kind == Kind::none) {
          if (!body.value(p.kind, v)) return cut();
          if (p.name == "x") point.x = v;
          if (p.name == "y") point.y = v;
          if (p.name == "z") point.z = v;
          continue;
        }
        if (!body.value(p.count_kind, v) || !(v >= 0) || v > 1e6) return cut();
        const size_t corners = static_cast<size_t>(v);
        face.clear();
        for (size_t k = 0; k < corners; ++k) {
          if (!body.value(p.kind, v)) return cut();
          if (e.name == "face" && (p.name == "vertex_indices" || p.name == "vertex_index")) {
            if (!(v >= 0) || v >= static_cast<double>(vertices))
              return fault(name, "face " + grouped(static_cast<double>(i + 1)) + " names a point that is not there");
            face.push_back(static_cast<uint32_t>(v));
          }
        }
        for (size_t k = 2; k < face.size(); ++k) raw.mesh.triangles.push_back({face[0], face[k - 1], face[k]});
        if (raw.mesh.triangles.size() > most_triangles) return too_many(name, raw.mesh.triangles.size());
      }
      if (e.name == "vertex") {
        raw.mesh.points.push_back(point);
        ++vertices;
      }
    }
  }
  return raw;
}

}  // namespace palinform::readers
