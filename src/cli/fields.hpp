#pragma once
// Reading of the JSON files that commands take.
#include "base/result.hpp"
#include "base/text.hpp"
#include "commands.hpp"
#include "mesh/save.hpp"

namespace palinform::cli {

/// Reads fields of an input file; the first fault is kept, with the field's name.
class Fields {
 public:
  Fields(const Json& j, std::string where, Error& fault) : j_(j), where_(std::move(where)), fault_(fault) {}
  double number(const char* key, std::optional<double> otherwise = std::nullopt) {
    if (!j_.is_object() || !j_.contains(key) || j_[key].is_null()) {
      if (!otherwise) note(std::string("\"") + key + "\" is missing");
      return otherwise.value_or(0);
    }
    if (!j_[key].is_number()) return note(std::string("\"") + key + "\" should be a number"), 0;
    return j_[key].get<double>();
  }
  /// The same, within a range; outside it is refused with field and range.
  double number_in(const char* key, double low, double high, std::optional<double> otherwise = std::nullopt) {
    const double v = number(key, otherwise);
    if (!(v >= low && v <= high))
      note(std::string("\"") + key + "\" should lie between " + shortest(low) + " and " + shortest(high));
    return v;
  }
  std::optional<double> maybe(const char* key) {
    return j_.is_object() && j_.contains(key) && !j_[key].is_null() ? std::optional(number(key)) : std::nullopt;
  }
  std::string text(const char* key, const std::string& otherwise) {
    if (!j_.is_object() || !j_.contains(key)) return otherwise;
    if (!j_[key].is_string()) return note(std::string("\"") + key + "\" should be text"), "";
    return j_[key].get<std::string>();
  }
  void note(std::string what) {
    if (fault_.what.empty()) fault_ = {std::move(what), where_, "Correct the file; cli.md lists the fields."};
  }

 private:
  const Json& j_;
  std::string where_;
  Error& fault_;
};

inline Result<Json> read_json(const std::string& file) {
  const auto bytes = read_file(file);
  if (!bytes) return bytes.error();
  Json j = Json::parse(*bytes, nullptr, false);
  if (j.is_discarded() || !j.is_object())
    return Error{"it does not read as a JSON object", base_name(file), "Check brackets and commas."};
  return j;
}

}  // namespace palinform::cli
