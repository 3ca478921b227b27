#pragma once
/// A whole job for a museum or a client: what it is, how it was made, what came of it, as open data; its README.txt
/// says what is where.
#include <map>

#include "ledger/workshop.hpp"

namespace palinform {

/// A zip: README.txt, job.json, sizes.csv, castings.csv, readings.csv, faults.csv, pours.csv, lots.csv, moulds.csv,
/// history.csv, runs/*.json, photos/*.jpg, meshes/*.ply, and what is given as `besides` (the sheets as PDF, by name).
/// Refused where job or mesh cannot be read.
Result<std::string> job_file(Workshop& workshop, const std::string& job_id,
                             const std::map<std::string, std::string>& besides = {});

}  // namespace palinform
