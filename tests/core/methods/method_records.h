// Short ways of writing records for the tests of methods.
#pragma once

#include <gtest/gtest.h>

#include <cmath>

#include <string>
#include <vector>

#include "core/bench/records.h"
#include "core/methods/method.h"
#include "core/standin/benches.h"

namespace fortitor {

/// A record of a method with typed fields: {"specimen.width", {"20.1 mm", …}}.
inline TestRecord record_of(const std::string& method,
                            const std::vector<std::pair<std::string, std::vector<std::string>>>& fields) {
  TestRecord r;
  r.method = method;
  r.fields.set("specimen.id", std::string("T-1"));
  for (const auto& [path, typed] : fields) {
    if (typed.size() == 1)
      standin::type_into(r, path, typed[0]);
    else
      standin::type_list(r, path, typed);
  }
  return r;
}

/// Appends a stop: {"force", "250 N"}, {"deflection", ""} — empty is missed.
inline void add_stop(TestRecord& r, const std::vector<std::pair<std::string, std::string>>& readings) {
  const TableSpec& table = *methods::find(r.method)->keyed_table();
  Row row;
  for (const auto& [column, typed] : readings) {
    const FieldSpec& f = table.control && table.control->path == column ? *table.control : *table.column(column);
    row.cells.set(column, typed.empty() ? Reading{} : reading_of(parse_quantity(typed, f.dimension).value()));
  }
  r.run.tables[table.id].push_back(row);
}

/// Types a reading into the cell of a row that is there.
inline void retype(TestRecord& r, size_t row, const std::string& column, const std::string& typed) {
  const TableSpec& table = *methods::find(r.method)->keyed_table();
  const Dimension d = table.column(column)->dimension;
  r.run.tables[table.id].at(row).cells.set(column,
                                           typed.empty() ? Reading{} : reading_of(parse_quantity(typed, d).value()));
}

inline void set_channels(TestRecord& r, const std::vector<Channel>& channels) {
  auto s = std::make_shared<Samples>();
  s->channels = channels;
  r.run.set_samples(s);
}

/// Hz at which a run of the method's stand-in has some thousand rows: a long slow one says nothing more with 150 000.
inline double some_thousand_rows(const Method& m) {
  return m.id == "compression-solid" ? 2 : 50;
}

/// Name of a test that is made for every method: "tension_metal".
inline std::string method_test_name(const testing::TestParamInfo<const Method*>& test) {
  std::string name;
  for (char c : test.param->id) name += c == '-' ? '_' : c;
  return name;
}

inline double value_of(const Evaluation& e, const std::string& key) {
  const ResultValue* r = e.find(key);
  EXPECT_NE(r, nullptr) << key;
  return r == nullptr ? NAN : r->value;
}

}  // namespace fortitor
