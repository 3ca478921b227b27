#pragma once
/// Zip archives in memory (libzip): path → content. Written with a fixed date, so equal content gives equal bytes.
#include <map>
#include <string>
#include <string_view>

#include "base/result.hpp"

namespace palinform {

using ZipContent = std::map<std::string, std::string>;

/// Reads every entry. Refuses what is no zip, damaged, or unpacks to more than `most_bytes`.
Result<ZipContent> unzip(std::string_view bytes, const std::string& name, size_t most_bytes = 4'000'000'000);
Result<std::string> make_zip(const ZipContent& content);

}  // namespace palinform
