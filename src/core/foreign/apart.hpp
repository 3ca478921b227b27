#pragma once
/// Files from elsewhere are read and mended in a process of its own: `palin apart`, started from beside this program.
/// It may take so much memory and time and no more, is killed at once on a cancel, and where it crashes the file is
/// refused, never this program.
#include <optional>
#include <string>

#include "mesh/load.hpp"
#include "solid/mend.hpp"

namespace palinform {

struct ApartLimits {
  size_t memory_bytes = size_t{6} << 30;
  double seconds = 120;                 ///< by the clock
  size_t file_bytes = size_t{2} << 30;  ///< what it may write
  std::string helper;                   ///< path of `palin`; empty: beside this program
};

/// For mending, which takes longer than reading: ten minutes.
inline ApartLimits mending_limits() {
  ApartLimits l;
  l.seconds = 600;
  return l;
}

/// load_mesh() in a process of its own.
Result<LoadedMesh> load_mesh_apart(const std::string& path, std::optional<LengthUnit> unit = std::nullopt,
                                   const Progress& progress = Progress::none(), const ApartLimits& limits = {});
/// mend() in a process of its own, told as it goes.
Result<Mended> mend_apart(const TriMesh& mesh, const MendOptions& options = {},
                          const Progress& progress = Progress::none(), ApartLimits limits = mending_limits());

/// The other side: what `palin apart WHAT IN OUT` does. Gives the exit code: 0 done or refused in words, both in OUT.
int work_apart(const std::string& what, const std::string& in, const std::string& out, const std::string& options);

}  // namespace palinform
