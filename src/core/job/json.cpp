// The job's document: job_to_json, job_from_json.
#include <algorithm>

#include "job/job.hpp"
#include "job/older_schemas.hpp"

namespace palinform {

using json::Bad;
using json::Json;

namespace {
/// How deep brackets lie in one another, texts left out: a parser that recurses must not be asked for more than it has
/// stack.
int deepest_nesting(std::string_view text) {
  int deep = 0, most = 0;
  bool quoted = false;
  for (size_t i = 0; i < text.size(); ++i) {
    const char c = text[i];
    if (quoted) {
      if (c == '\\')
        ++i;
      else if (c == '"')
        quoted = false;
    } else if (c == '"') {
      quoted = true;
    } else if (c == '{' || c == '[') {
      most = std::max(most, ++deep);
    } else if (c == '}' || c == ']') {
      --deep;
    }
  }
  return most;
}
}  // namespace

std::string job_to_json(const Job& job, bool with_castings) {
  Json j{{"schema", job_schema}};
  j.update(json::write(job));
  if (!with_castings) j["check"].erase("castings");
  return j.dump(1, ' ', false, Json::error_handler_t::replace);
}

Result<Job> job_from_json(std::string_view source, const std::string& name) {
  const auto refuse = [&](std::string what, std::string remedy) {
    return Error{std::move(what), name, std::move(remedy)};
  };
  const Error none = refuse("this does not read as a Palinform job", "Choose a .palinform file or its job.json.");
  if (source.size() > most_job_bytes) return refuse("the job's document is larger than 64 MB", "It is no job.");
  if (deepest_nesting(source) > 64) return none;
  json::Given j;
  try {
    j = json::Given::parse(source);
  } catch (const nlohmann::json::parse_error& e) {
    const auto upto = source.substr(0, std::min<size_t>(e.byte, source.size()));
    const auto line = 1 + std::count(upto.begin(), upto.end(), '\n');
    return refuse("this does not read as a Palinform job: line " + std::to_string(line) + " is no JSON",
                  "Choose a .palinform file or its job.json.");
  } catch (const nlohmann::json::exception&) {
    return refuse("a number in it is larger than any number can be", "Correct it in the file.");
  }
  if (!j.is_object() || !j.contains("schema") || !j["schema"].is_number()) return none;
  const double schema = j["schema"].get<double>();
  if (!(schema >= 1) || schema != std::floor(schema)) return none;
  if (schema > job_schema)
    return refuse("the job was written by a newer Palinform (schema " + fixed(schema, 0) + ")",
                  "Open it with that version; nothing was changed.");
  try {
    if (schema < 6) j = json::from_older_schema(j);
    if (schema < 7) json::from_schema_6(j);
    if (schema < 8) json::from_schema_7(j);
    Job job;
    job.name = "Unnamed job";
    json::read(j, job, "");
    if (job.id.empty()) job.id = new_id();
    for (size_t i = 0; i < job.original.sizes.size(); ++i)
      if (job.original.sizes[i].id.empty()) job.original.sizes[i].id = "s" + std::to_string(i + 1);
    if (auto ok = check_job(job); !ok) return refuse(ok.error().text(), "Correct it in the file.");
    return job;
  } catch (const Bad& b) {
    return refuse("\"" + b.path + "\": " + b.what, "Correct it in the file.");
  } catch (const nlohmann::json::exception&) {
    return refuse("a field of the job has the wrong type", "Correct it in the file.");
  }
}

}  // namespace palinform
