#pragma once
// For filling only: potentials in the filled part of a network, by conjugate gradients over two levels.
#include <cstdint>
#include <memory>
#include <vector>

#include "flow/network.hpp"

namespace palinform {

/// What a cell is while the field is worked out.
enum class CellRole : uint8_t {
  dry,   ///< takes no part
  wet,   ///< its potential is sought
  held,  ///< its potential is given
};

class PressureField {
 public:
  explicit PressureField(const FillNetwork& network);
  ~PressureField();
  /// Fixes which cells take part. Every wet cell must be joined to a held one. False where the sums cannot be set up.
  bool prepare(const std::vector<CellRole>& role);
  /// Potentials of the wet cells, so that what flows in flows out of each; `value` holds those of the held cells and,
  /// of the wet ones, a first guess. False when it does not settle to 1e-4 of the drive in 2,000 rounds.
  bool solve(std::vector<double>& value) const;
  /// Two such fields over the same cells for little more than the price of one.
  bool solve(std::vector<double>& first, std::vector<double>& second) const;

 private:
  struct System;
  void number(const std::vector<CellRole>& role);
  /// From a cell to another. Single precision, as the network states it: what does not fit the cache costs most here.
  struct Way {
    uint32_t to;
    float conduct_mm3;
  };
  const FillNetwork& net_;
  std::vector<Way> ways_;       ///< by FillNetwork::start, each cell's in the order of the cells they lead to
  std::vector<uint32_t> blob_;  ///< of each cell: the block of cells it is averaged with on the upper level
  uint32_t blobs_ = 0;
  std::vector<uint8_t> wet_;  ///< cells that have a row in `system_`
  std::unique_ptr<System> system_;
};

}  // namespace palinform
