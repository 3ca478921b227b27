#pragma once
// What --workshop names: its materials, rules and shop stand in for those the program starts with.
#include <memory>
#include <string>

#include "base/result.hpp"
#include "nodes/nodes.hpp"

namespace palinform::cli {

/// --rough: look roughly, in a quarter of the time.
bool& rough_look();
/// The file that --workshop names; empty: none.
std::string& workshop_file();

/// The shop of that workshop, read once; the one built in where none is named. Refused where there is no such file.
Result<std::shared_ptr<const Shop>> shop_asked();
/// Its books, as far as a job reads them; empty without a workshop.
Result<Books> books_asked();

}  // namespace palinform::cli
