#pragma once
/// Zip archives in memory (libzip): path → content. Written with a fixed date, so equal content gives equal bytes.
#include <functional>
#include <map>
#include <string>
#include <string_view>

#include "base/result.hpp"

namespace palinform {

using ZipContent = std::map<std::string, std::string>;

/// How much of which entries is unpacked: the rest is never read.
struct ZipLimits {
  /// Bytes an entry of this path may unpack to; 0: it is passed over.
  std::function<size_t(std::string_view path)> entry = [](std::string_view) { return size_t{4'000'000'000}; };
  size_t all_bytes = 4'000'000'000;
  size_t entries = 10'000;  ///< in the archive's list
};
/// Reads the entries wanted. Refuses what is no zip, damaged (checksums are checked), or over a limit, before anything
/// is unpacked.
Result<ZipContent> unzip(std::string_view bytes, const std::string& name, const ZipLimits& limits = {});
Result<std::string> make_zip(const ZipContent& content);

}  // namespace palinform
