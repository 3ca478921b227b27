#pragma once
// For the sweeps of this room only: joined regions of cells, each a list, so that its volume can be counted exactly
// when it is cut off. Lists join in constant time; the larger region keeps its root.
#include <cstdint>
#include <vector>

namespace palinform {

struct Regions {
  static constexpr uint32_t none = 0xFFFFFFFFu;
  std::vector<uint32_t> parent, next, tail, size, apex;
  std::vector<uint8_t> vented;

  void clear(size_t n) {
    parent.assign(n, none);
    next.resize(n), tail.resize(n), size.resize(n), apex.resize(n);
    vented.resize(n);
  }
  bool taken(uint32_t c) const { return parent[c] != none; }
  uint32_t root(uint32_t c) {
    while (parent[c] != c) c = parent[c] = parent[parent[c]];
    return c;
  }
  void begin(uint32_t c) {
    parent[c] = tail[c] = apex[c] = c;
    next[c] = none;
    size[c] = 1;
    vented[c] = 0;
  }
  /// Joins two roots; the larger stays root (of equals the first).
  uint32_t join(uint32_t a, uint32_t b) {
    if (size[b] > size[a]) {
      const uint32_t t = a;
      a = b, b = t;
    }
    parent[b] = a;
    next[tail[a]] = b;
    tail[a] = tail[b];
    size[a] += size[b];
    return a;
  }
};

}  // namespace palinform
