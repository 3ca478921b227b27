#pragma once
/// One reader a format, behind load.hpp. Each gives raw points and triangles in file units.
#include <string>
#include <string_view>

#include "base/progress.hpp"
#include "base/result.hpp"
#include "mesh/load.hpp"

namespace palinform::readers {

struct Raw {
  TriMesh mesh;
  std::string format;
  std::optional<LengthUnit> unit;
  std::vector<ExactFace> exact;
  std::optional<double> deflection_mm;
  bool welded = false;  ///< its points are looked at and merged already
};

Result<Raw> stl(std::string_view bytes, const std::string& name, const Progress& progress);
Result<Raw> obj(std::string_view bytes, const std::string& name, const Progress& progress);
Result<Raw> ply(std::string_view bytes, const std::string& name, const Progress& progress);
Result<Raw> threemf(std::string_view bytes, const std::string& name, const Progress& progress);
Result<Raw> step(std::string_view bytes, const std::string& name, const Progress& progress);

Error too_many(const std::string& name, size_t triangles);
inline Error fault(const std::string& name, std::string what, std::string remedy = "Export it again from its source.") {
  return {std::move(what), name, std::move(remedy)};
}

/// Walks text line by line and word by word; numbers by from_chars, so no locale.
class Words {
 public:
  explicit Words(std::string_view text) : text_(text) {}
  /// Next line without its end; false at the end of the text.
  bool next_line(std::string_view& line);
  size_t line_number() const { return line_; }
  size_t position() const { return at_; }

  static std::string_view take(std::string_view& line);     ///< next word, empty when there is none
  static bool number(std::string_view& line, double& out);  ///< next word as a number
  static bool integer(std::string_view& line, long long& out);

 private:
  std::string_view text_;
  size_t at_ = 0, line_ = 0;
};

/// Can a coordinate be worked with: finite, and within a thousand kilometres.
bool usable(const Vec3& point);
/// Told of the point of that number, from nought.
Error no_number(const std::string& name, size_t point);

/// Merges points with exactly equal coordinates, keeping first occurrences in order.
void weld_equal(TriMesh& mesh);

}  // namespace palinform::readers
