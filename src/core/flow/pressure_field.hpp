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
  /// of the wet ones, a first guess. False when it does not settle to 1e-4 of the drive in 2,000 rounds. May be called
  /// from several threads at once.
  bool solve(std::vector<double>& value) const;

 private:
  struct System;
  const FillNetwork& net_;
  std::vector<uint8_t> even_;   ///< of each cell: i + j + k of its cube is even
  std::vector<uint32_t> blob_;  ///< of each cell: the block of cells it is averaged with on the upper level
  uint32_t blobs_ = 0;
  std::unique_ptr<System> system_;
};

}  // namespace palinform
