#pragma once
// For job/json.cpp: job documents of schemas 1 to 5, brought to the present shape before they are read.
#include "base/json_fields.hpp"

namespace palinform::json {

/// `j` as schema 6 has it. Up to 5 the stages' fields lay side by side in one object.
Given from_older_schema(const Given& j);

}  // namespace palinform::json
