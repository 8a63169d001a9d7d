#include "core/bench/changes.h"

#include <gtest/gtest.h>

#include "core/methods/method.h"
#include "core/quantity/parse.h"

namespace fortitor::changes_test {
namespace {

Reading mm(const char* typed) {
  return reading_of(parse_quantity(typed, Dimension::length).value());
}

TEST(Changes, FromWhatToWhat) {
  const Method& m = *methods::find("tension-metal");
  TestRecord a, b;
  a.method = b.method = m.id;
  EXPECT_EQ(record_changes(a, b, m), "");
  b.fields.set("specimen.lot", std::string("L-7"));
  EXPECT_EQ(record_changes(a, b, m), m.field("specimen.lot")->label + ": – → L-7");
  EXPECT_EQ(record_changes(b, a, m), m.field("specimen.lot")->label + ": L-7 → –");
  a = b;
  a.fields.set("specimen.section.diameter", Readings{mm("10.01 mm"), mm("10.02 mm")});
  b.fields.set("specimen.section.diameter", Readings{mm("10.01 mm"), mm("10.04 mm")});
  EXPECT_EQ(record_changes(a, b, m),
            m.field("specimen.section.diameter")->label + ": 10.01 mm, 10.02 mm → 10.01 mm, 10.04 mm");
  a = b;
  Limit limit;
  limit.min = reading_of(parse_quantity("500 MPa", Dimension::stress).value());
  b.limits["rm"] = limit;
  EXPECT_EQ(record_changes(a, b, m), "limit of rm: – → ≥ 500 MPa");
  a = b;
  b.answers.push_back({"not-zeroed", "shift", "seen at the start", "R. Vale", ""});
  EXPECT_EQ(record_changes(a, b, m), "not-zeroed: – → shift, “seen at the start”");
  EXPECT_EQ(record_changes(b, a, m), "not-zeroed: shift → –");
  TestRecord many = a;
  for (int i = 0; i < 12; ++i) many.fields.set("settings.checks.c" + std::to_string(i), true);
  EXPECT_NE(record_changes(a, many, m).find("; and 4 more"), std::string::npos);
}

TEST(Changes, RowsOfTables) {
  const Method& m = *methods::find("flexure-beam");
  TestRecord a;
  a.method = m.id;
  Row row;
  row.cells.set("deflection", mm("1.20 mm"));
  a.run.tables[m.tables.front().id].push_back(row);
  TestRecord b = a;
  b.run.tables[m.tables.front().id][0].cells.set("deflection", mm("1.25 mm"));
  EXPECT_NE(record_changes(a, b, m).find("1.20 mm → 1.25 mm"), std::string::npos) << record_changes(a, b, m);
  b.run.tables[m.tables.front().id].push_back(row);
  EXPECT_NE(record_changes(a, b, m).find("1 rows → 2 rows"), std::string::npos);
}

}  // namespace
}  // namespace fortitor::changes_test
