// Values of a record document: quantities, fields, rows. Used by the readers of core/record only.
#pragma once

#include <optional>

#include "core/json/json.h"
#include "core/record/json.h"

namespace fortitor::record_json {

using Failure = std::optional<InputError>;

inline InputError at(const std::string& path, const std::string& what) {
  return {path + ": " + what, {}};
}
inline std::string joined(const std::string& path, const std::string& key) {
  return path.empty() ? key : path + "." + key;
}

/// What becomes of an entry that breaks a rule. A document that comes in is refused with it; out of what is stored
/// already it is noted, and kept as far as it can be read.
struct Faults {
  std::vector<RecordFault>* list = nullptr;  ///< null: refused
  Failure take(InputError e, bool kept) const {
    if (list == nullptr) return e;
    list->push_back({std::move(e.message), kept});
    return std::nullopt;
  }
};

/// "12.02 mm", {"value": 12.02, "unit": "mm"}, or a bare number where no unit is needed; null is missed.
Outcome<Reading> read_quantity(const Json& j, Dimension d, const std::string& path);
/// The same for a field, which may count divisions.
Outcome<Reading> read_one(const Json& j, const FieldSpec& spec, const std::string& path, const Faults& faults);
Outcome<FieldValue> read_field(const Json& j, const FieldSpec& spec, const std::string& path, const Faults& faults);
Failure read_text(const Json& j, const std::string& path, std::string& out);
/// Walks an object along the schema's field paths; whatever is not on one of them is refused.
Failure read_fields(const Json& j, const std::string& path, const Schema& schema, Fields& out, const Faults& faults);
Failure read_run(const Json& j, const Schema& schema, TestRecord& record, const Faults& faults);

}  // namespace fortitor::record_json
