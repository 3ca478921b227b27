#pragma once
// For job/json.cpp: job documents of schemas 1 to 7, brought to the present shape before they are read.
#include "base/json_fields.hpp"

namespace palinform::json {

/// `j` as schema 6 has it. Up to 5 the stages' fields lay side by side in one object.
Given from_older_schema(const Given& j);
/// In place: in 6 rubber and casting lost their air one way, or not at all.
void from_schema_6(Given& j);
/// In place: in 7 the steps whose times a person changed were called otherwise.
void from_schema_7(Given& j);

}  // namespace palinform::json
