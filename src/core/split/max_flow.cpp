#include "split/max_flow.hpp"

#include <algorithm>
#include <deque>
#include <limits>

namespace palinform {
namespace {

// Boykov and Kolmogorov, "An experimental comparison of min-cut/max-flow algorithms", PAMI 2004. Tree S hangs from the
// source (side a), tree T from the sink (side b); each node knows the arc to its parent.
class Flow {
 public:
  Flow(const EdgePairs& pairs, const CutProblem& p) : pairs_(pairs) {
    const size_t n = p.cost_a.size();
    tip_.resize(n);
    parent_.assign(n, none);
    tree_.assign(n, 0);
    stamp_.assign(n, 0);
    far_.assign(n, 0);
    queued_.assign(n, false);
    left_.assign(p.seam.begin(), p.seam.end());
    for (size_t i = 0; i < n; ++i) {
      // What is cut for label b is the arc from the source: its capacity is b's price.
      const double to_a = p.cost_b[i], to_b = p.cost_a[i];
      flow_ += std::min(to_a, to_b);
      tip_[i] = to_a - to_b;
      if (tip_[i] != 0) {
        tree_[i] = tip_[i] > 0 ? source : sink;
        parent_[i] = terminal;
        far_[i] = 1;
        enqueue(static_cast<uint32_t>(i));
      }
    }
  }

  bool run(const Progress& progress) {
    uint32_t current = no_node;
    for (size_t step = 0;; ++step) {
      if (step % 4096 == 0 && progress.cancelled()) return false;
      uint32_t i = current;
      if (i == no_node || tree_[i] == 0) {
        i = next_active();
        if (i == no_node) return true;
      }
      const uint32_t meeting = grow(i);
      ++time_;
      if (meeting == none) {
        current = no_node;
        continue;
      }
      current = i;
      augment(meeting);
      adopt();
    }
  }

  double flow() const { return flow_; }
  /// Free nodes may go either way at the same price: to a.
  uint8_t label(size_t i) const { return tree_[i] == sink ? 1 : 0; }

 private:
  static constexpr uint32_t none = 0xFFFFFFFFu, terminal = 0xFFFFFFFEu, orphan = 0xFFFFFFFDu, no_node = 0xFFFFFFFFu;
  static constexpr uint8_t source = 1, sink = 2;

  uint32_t head(uint32_t arc) const { return pairs_.twin[arc] / 3; }
  bool usable(uint32_t arc) const { return pairs_.paired(arc); }
  uint32_t sister(uint32_t arc) const { return pairs_.twin[arc]; }

  void enqueue(uint32_t i) {
    if (queued_[i]) return;
    queued_[i] = true;
    active_.push_back(i);
  }
  uint32_t next_active() {
    while (!active_.empty()) {
      const uint32_t i = active_.front();
      active_.pop_front();
      queued_[i] = false;
      if (tree_[i] != 0) return i;
    }
    return no_node;
  }

  /// Grows the tree of i; gives an arc from tree S to tree T when they meet.
  uint32_t grow(uint32_t i) {
    for (uint32_t h = 3 * i; h < 3 * i + 3; ++h) {
      if (!usable(h)) continue;
      // From the source's tree flow goes out along h, into the sink's tree it comes in along the sister.
      const double room = tree_[i] == source ? left_[h] : left_[sister(h)];
      if (!(room > eps)) continue;
      const uint32_t j = head(h);
      if (tree_[j] == 0) {
        tree_[j] = tree_[i];
        parent_[j] = sister(h);
        stamp_[j] = stamp_[i];
        far_[j] = far_[i] + 1;
        enqueue(j);
      } else if (tree_[j] != tree_[i]) {
        enqueue(i);
        return tree_[i] == source ? h : sister(h);
      } else if (stamp_[j] <= stamp_[i] && far_[j] > far_[i] + 1) {
        parent_[j] = sister(h);  // a shorter way to the root
        stamp_[j] = stamp_[i];
        far_[j] = far_[i] + 1;
      }
    }
    return none;
  }

  void augment(uint32_t middle) {
    double bottleneck = left_[middle];
    uint32_t i = middle / 3;
    while (parent_[i] != terminal) bottleneck = std::min(bottleneck, left_[sister(parent_[i])]), i = head(parent_[i]);
    bottleneck = std::min(bottleneck, tip_[i]);
    i = head(middle);
    while (parent_[i] != terminal) bottleneck = std::min(bottleneck, left_[parent_[i]]), i = head(parent_[i]);
    bottleneck = std::min(bottleneck, -tip_[i]);

    left_[middle] -= bottleneck;
    left_[sister(middle)] += bottleneck;
    i = middle / 3;
    while (parent_[i] != terminal) {
      const uint32_t up = parent_[i];
      left_[up] += bottleneck;
      left_[sister(up)] -= bottleneck;
      const uint32_t next = head(up);
      if (!(left_[sister(up)] > eps)) make_orphan(i);
      i = next;
    }
    tip_[i] -= bottleneck;
    if (!(tip_[i] > eps)) tip_[i] = 0, make_orphan(i);
    i = head(middle);
    while (parent_[i] != terminal) {
      const uint32_t up = parent_[i];
      left_[sister(up)] += bottleneck;
      left_[up] -= bottleneck;
      const uint32_t next = head(up);
      if (!(left_[up] > eps)) make_orphan(i);
      i = next;
    }
    tip_[i] += bottleneck;
    if (!(tip_[i] < -eps)) tip_[i] = 0, make_orphan(i);
    flow_ += bottleneck;
  }

  void make_orphan(uint32_t i) {
    parent_[i] = orphan;
    orphans_.push_front(i);
  }

  void adopt() {
    while (!orphans_.empty()) {
      const uint32_t i = orphans_.front();
      orphans_.pop_front();
      const uint8_t t = tree_[i];
      uint32_t best = none, best_far = std::numeric_limits<uint32_t>::max();
      for (uint32_t h = 3 * i; h < 3 * i + 3; ++h) {
        if (!usable(h)) continue;
        const double room = t == source ? left_[sister(h)] : left_[h];
        uint32_t j = head(h);
        if (!(room > eps) || tree_[j] != t || parent_[j] == none) continue;
        // Does j still hang from the root?
        uint32_t steps = 0;
        bool rooted = false;
        for (uint32_t k = j;;) {
          if (stamp_[k] == time_) {
            steps += far_[k];
            rooted = true;
            break;
          }
          const uint32_t up = parent_[k];
          ++steps;
          if (up == terminal) {
            stamp_[k] = time_;
            far_[k] = 1;
            rooted = true;
            break;
          }
          if (up == orphan || up == none) break;
          k = head(up);
        }
        if (!rooted) continue;
        if (steps < best_far) best = h, best_far = steps;
        for (uint32_t k = j; stamp_[k] != time_; k = head(parent_[k])) stamp_[k] = time_, far_[k] = steps--;
      }
      if (best != none) {
        parent_[i] = best;
        stamp_[i] = time_;
        far_[i] = best_far + 1;
        continue;
      }
      for (uint32_t h = 3 * i; h < 3 * i + 3; ++h) {
        if (!usable(h)) continue;
        const uint32_t j = head(h);
        if (tree_[j] != t) continue;
        const double room = t == source ? left_[sister(h)] : left_[h];
        if (room > eps) enqueue(j);
        const uint32_t up = parent_[j];
        if (up != terminal && up != orphan && up != none && head(up) == i) {
          parent_[j] = orphan;
          orphans_.push_back(j);
        }
      }
      tree_[i] = 0;
      parent_[i] = none;
    }
  }

  static constexpr double eps = 1e-9;
  const EdgePairs& pairs_;
  std::vector<double> left_, tip_;  ///< residual capacity of arcs; to the source (> 0) or the sink (< 0)
  std::vector<uint32_t> parent_;    ///< arc from the node toward its parent
  std::vector<uint8_t> tree_;
  std::vector<uint64_t> stamp_;
  std::vector<uint32_t> far_;
  std::vector<bool> queued_;
  std::deque<uint32_t> active_, orphans_;
  uint64_t time_ = 0;
  double flow_ = 0;
};

}  // namespace

Result<CutSolution> cheapest_cut(const EdgePairs& pairs, const CutProblem& p, const Progress& progress) {
  Flow f(pairs, p);
  if (!f.run(progress)) return Error::stopped();
  CutSolution out;
  out.price = f.flow();
  out.label.resize(p.cost_a.size());
  for (size_t i = 0; i < out.label.size(); ++i) out.label[i] = f.label(i);
  return out;
}

}  // namespace palinform
