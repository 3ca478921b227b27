#pragma once
// For the sweeps of this room only: regions of cells that grow and join. A cell keeps the number of the region it was
// first put in; joining happens between regions, of which there are few, so that the tables that are searched stay in
// the nearest cache. A region without a vent is a list of its cells, so that its volume can be counted exactly when it
// is cut off; lists join in constant time.
#include <cstdint>
#include <vector>

#include "base/wide_vector.hpp"

namespace palinform {

struct Regions {
  static constexpr uint32_t none = 0xFFFFFFFFu;
  struct Region {
    uint32_t parent = 0, size = 0, head = none, tail = none;
    uint32_t apex = 0;
    bool vented = false;
    int64_t joined = INT64_MAX;  ///< level of the last join, where the sweep keeps it
  };
  WideVector<uint32_t> of;    ///< region each cell was put in; none: not taken yet
  WideVector<uint32_t> next;  ///< the lists; apart, since every neighbour is asked for `of`
  WideVector<Region> all;

  void clear(size_t cells) {
    of.assign(cells, none);
    next.resize(cells);
    all.clear();
  }
  bool taken(uint32_t c) const { return of[c] != none; }
  uint32_t root_of(uint32_t region) {
    while (all[region].parent != region) region = all[region].parent = all[all[region].parent].parent;
    return region;
  }
  uint32_t root(uint32_t c) { return root_of(of[c]); }
  /// A new region of one cell, its apex.
  uint32_t begin(uint32_t c) {
    const auto r = static_cast<uint32_t>(all.size());
    all.push_back({r, 1, c, c, c, false, INT64_MAX});
    of[c] = r;
    next[c] = none;
    return r;
  }
  void add(uint32_t root, uint32_t c) {
    Region& r = all[root];
    of[c] = root;
    ++r.size;
    if (r.vented) return;
    next[c] = none;
    next[r.tail] = c;
    r.tail = c;
  }
  /// Joins two roots; the larger stays root (of equals the first). What lists hold counts only between ventless ones.
  uint32_t join(uint32_t a, uint32_t b) {
    if (all[b].size > all[a].size) {
      const uint32_t t = a;
      a = b, b = t;
    }
    all[b].parent = a;
    next[all[a].tail] = all[b].head;
    all[a].tail = all[b].tail;
    all[a].size += all[b].size;
    return a;
  }
};

}  // namespace palinform
