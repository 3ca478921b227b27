#pragma once
/// Rubber that is made in one go round the part: poured whole and cut, open-faced, or pressed on as putty.
#include <optional>

#include "mould/forms.hpp"
#include "mould/halves.hpp"

namespace palinform {

/// In the part's own frame. Cut: a block with wall all round; open: standing on the hidden flat face, open there, where
/// `flat_normal` is its outward normal; putty: the part grown. Other forms are refused. `masters`: in one box, of the
/// first two. `sockets`: of inserts, at each master.
Result<TriMesh> rubber_whole(const TriMesh& mesh, const Mould& two_part, Form form,
                             const std::optional<Vec3>& flat_normal, const FormRates& rates, double voxel_mm,
                             const Progress& progress = Progress::none(), int masters = 1,
                             const std::vector<Socket>& sockets = {});

}  // namespace palinform
