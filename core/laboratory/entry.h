// What a laboratory types once: customers, the paper of a job, its letterhead, templates, people. Each is a set of
// fields of its kind, read, written and judged by the same rules as a record.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/outcome.h"
#include "core/record/field.h"
#include "core/record/record.h"

namespace fortitor::lab {

/// Kinds of entries. A job's is called by the number of the job, the letterhead by kLetterhead; the others by the name
/// in them.
inline constexpr std::string_view kCustomer = "customer", kJob = "job", kHead = "letterhead", kTemplate = "template",
                                  kPerson = "person", kSheet = "demand-sheet", kChosen = "demand-chosen";
inline constexpr std::string_view kLetterhead = "letterhead";

struct Entry {
  long long id = 0;  ///< in the book; 0: not kept yet
  std::string kind, name;
  Fields fields;  ///< "settings.…"
  std::vector<RecordFault> faults = {};

  std::string text(const std::string& field) const { return fields.text("settings." + field); }
  bool flag(const std::string& field) const { return fields.flag("settings." + field); }
};
Entry entry_of(std::string_view kind, const std::string& name);

/// What can be entered in an entry of a kind.
const Schema& schema(std::string_view kind);
/// "customer" → "Customer".
std::string kind_words(std::string_view kind);

/// `stored`: out of a book; what its rules do not allow is noted.
Outcome<Entry> entry_from_json(std::string_view kind, const std::string& name, std::string_view json,
                               bool stored = false);
std::string entry_to_json(const Entry& entry);
/// A sentence when it cannot be kept: no name, a pattern that would repeat, a template without results, no picture.
Outcome<Done> check(const Entry& entry);

/// Something that a document of the job would lack of the list of ISO/IEC 17025, 7.8.2.
struct Missing {
  std::string words;  ///< "the customer"
  std::string kind;   ///< of the entry that should say it
  std::string path;   ///< and in which field
};
std::vector<Missing> missing_for_document(const Entry& job, const Entry& letterhead);

/// The number that comes next by a pattern such as "{year}-{0000}": one more than the largest of that year among those
/// given out, so that none is left out and none comes twice. Errors: a pattern without a counter or with two; more
/// numbers than the counter has room for only make it longer.
Outcome<std::string> next_number(const std::string& pattern, int year, const std::vector<std::string>& given_out);

}  // namespace fortitor::lab
