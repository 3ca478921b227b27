#include "base/hash.hpp"

#include <xxhash.h>

#include <bit>
#include <cstdio>
#include <new>

namespace palinform {

static_assert(std::endian::native == std::endian::little, "hashes are defined on little-endian bytes");

std::string Hash128::hex() const {
  char text[33];
  std::snprintf(text, sizeof text, "%016llx%016llx", static_cast<unsigned long long>(high),
                static_cast<unsigned long long>(low));
  return text;
}

std::optional<Hash128> Hash128::from_hex(std::string_view text) {
  if (text.size() != 32) return std::nullopt;
  uint64_t half[2] = {0, 0};
  for (size_t i = 0; i < 32; ++i) {
    const char c = text[i];
    const int digit = c >= '0' && c <= '9' ? c - '0' : c >= 'a' && c <= 'f' ? c - 'a' + 10 : -1;
    if (digit < 0) return std::nullopt;
    half[i / 16] = half[i / 16] << 4 | static_cast<uint64_t>(digit);
  }
  return Hash128{half[0], half[1]};
}

Hasher::Hasher() : state_(XXH3_createState()) {
  if (!state_) throw std::bad_alloc();
  XXH3_128bits_reset(static_cast<XXH3_state_t*>(state_));
}
Hasher::~Hasher() { XXH3_freeState(static_cast<XXH3_state_t*>(state_)); }
void Hasher::bytes(const void* data, size_t size) {
  if (size) XXH3_128bits_update(static_cast<XXH3_state_t*>(state_), data, size);
}
Hash128 Hasher::done() const {
  const XXH128_hash_t h = XXH3_128bits_digest(static_cast<XXH3_state_t*>(state_));
  return {h.high64, h.low64};
}

}  // namespace palinform
