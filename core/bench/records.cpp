#include "core/bench/records.h"

#include <stdexcept>

#include "core/methods/method.h"
#include "core/record/json.h"
#include "core/record/rules.h"

namespace fortitor {
namespace {

const Schema* schema_of(const std::string& method) {
  return methods::find(method);
}

const Schema& known(const TestRecord& record) {
  const Schema* schema = schema_of(record.method);
  if (schema == nullptr) throw std::logic_error("no method " + record.method);
  return *schema;
}

}  // namespace

Outcome<TestRecord> record_from_json(std::string_view text) {
  return read_record(text, schema_of);
}

Outcome<TestRecord> stored_record_from_json(std::string_view text) {
  return read_stored_record(text, schema_of);
}

Outcome<std::string> record_to_store(const TestRecord& record) {
  if (const auto fault = new_fault(faults_of(record, known(record)), record.faults))
    return InputError{fault->message + ". It is not kept.", {}};
  return record_to_json(record, -1);
}

std::string record_to_json(const TestRecord& record, int indent) {
  return write_record(record, known(record), indent);
}

Outcome<TestRecord> load_record(const std::string& path) {
  return read_record_file(path, schema_of);
}

Outcome<Done> load_runs(TestRecord& record, const std::string& folder) {
  return load_run_files(record, folder, known(record));
}

}  // namespace fortitor
