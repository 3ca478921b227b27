#pragma once
// For this room only: a finding of a kind put to the others, to be given its place and remedies.
#include <string>
#include <utility>
#include <vector>

#include "base/finding.hpp"

namespace palinform {

inline Finding& tell(std::vector<Finding>& to, std::string code, Severity severity, std::string what, std::string why) {
  to.push_back({std::move(code), severity, {}, std::move(what), std::move(why), {}});
  return to.back();
}

}  // namespace palinform
