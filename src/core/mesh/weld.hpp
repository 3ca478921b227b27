#pragma once
/// Points with exactly equal coordinates made one, as the reader of a file needs it where each face brings its own.
#include <cstdint>
#include <cstring>
#include <vector>

#include "base/vec.hpp"

namespace palinform {

/// The points that `point_at(i)`, 0 ≤ i < n, gives, each once, in the order of their first occurrence; `number[i]` says
/// which of them i is. −0 is 0. Nothing may be no number: it would equal nothing, itself neither. O(n), an open table
/// on the coordinates' bits, its places fetched a block ahead: the time goes into waiting for memory.
template <class PointAt> std::vector<Vec3> weld(size_t n, PointAt&& point_at, uint32_t* number) {
  constexpr uint32_t none = 0xFFFFFFFFu;
  constexpr size_t block = 64;
  size_t slots = 1024;
  while (slots < n / 2) slots *= 2;
  std::vector<uint32_t> table(slots, none);
  std::vector<uint64_t> hashes;  // of the points kept, for the table as it grows
  std::vector<Vec3> kept;
  kept.reserve(n / 5 + 16), hashes.reserve(n / 5 + 16);
  const auto hash_of_point = [](const Vec3& p) {
    uint64_t bits[3];
    std::memcpy(bits, &p, sizeof bits);
    uint64_t h =
        bits[0] * 0x9E3779B97F4A7C15ull ^ (bits[1] * 0xC2B2AE3D27D4EB4Full << 1) ^ bits[2] * 0x165667B19E3779F9ull;
    h ^= h >> 29;
    h *= 0xBF58476D1CE4E5B9ull;
    return h ^ h >> 32;
  };
  Vec3 points[block];
  uint64_t hash[block];
  for (size_t from = 0; from < n; from += block) {
    const size_t count = std::min(block, n - from);
    // At most every second place is taken, so that a search is short.
    while (2 * (kept.size() + count) > slots) {
      slots *= 2;
      table.assign(slots, none);
      for (uint32_t i = 0; i < kept.size(); ++i) {
        size_t slot = hashes[i] & (slots - 1);
        while (table[slot] != none) slot = (slot + 1) & (slots - 1);
        table[slot] = i;
      }
    }
    for (size_t i = 0; i < count; ++i) {
      Vec3 p = point_at(from + i);
      for (int k = 0; k < 3; ++k)
        if (p[k] == 0) p[k] = 0;
      points[i] = p;
      hash[i] = hash_of_point(p);
      __builtin_prefetch(&table[hash[i] & (slots - 1)]);
    }
    for (size_t i = 0; i < count; ++i) {
      size_t slot = hash[i] & (slots - 1);
      while (table[slot] != none && !(kept[table[slot]] == points[i])) slot = (slot + 1) & (slots - 1);
      if (table[slot] == none) {
        table[slot] = static_cast<uint32_t>(kept.size());
        kept.push_back(points[i]), hashes.push_back(hash[i]);
      }
      number[from + i] = table[slot];
    }
  }
  return kept;
}

}  // namespace palinform
