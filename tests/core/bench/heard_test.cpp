// Readings over a wire: marked, written, read again, and kept beside what is typed over them.
#include "core/bench/heard.h"

#include <gtest/gtest.h>

#include "core/methods/method.h"
#include "core/record/json.h"
#include "core/record/rules.h"

namespace fortitor::heard_test {
namespace {

Readings readings(std::initializer_list<const char*> typed) {
  Readings out;
  for (const char* t : typed) out.push_back(reading_of(*parse_quantity(t, Dimension::length)));
  return out;
}

constexpr const char* kPath = "specimen.section.diameter";

TestRecord with(const Readings& r) {
  TestRecord out;
  out.method = "tension-metal";
  out.fields.set("specimen.section.shape", std::string("round"));
  out.fields.set(kPath, FieldValue(r));
  return out;
}

const Schema* schemas(const std::string& id) {
  return methods::find(id);
}

TEST(Heard, AReadingCarriesItsSourceThroughTheRecord) {
  const TestRecord before = with(readings({"10.01 mm"}));
  TestRecord after = with(readings({"10.01 mm", "10.03 mm"}));
  mark_heard(before, after, "CAL-1, 2026-11-26T10:05:33");
  Readings now = after.fields.readings(kPath);
  EXPECT_EQ(now[0].source, "") << "the first was typed";
  EXPECT_EQ(now[1].source, "CAL-1, 2026-11-26T10:05:33");
  const std::string json = write_record(after, *methods::find("tension-metal"), -1);
  EXPECT_NE(json.find(R"("source":"CAL-1, 2026-11-26T10:05:33")"), std::string::npos) << json;
  const auto back = read_record(json, schemas);
  ASSERT_TRUE(back) << back.error().message;
  EXPECT_EQ(back->fields.readings(kPath), now);
  EXPECT_TRUE(faults_of(after, *methods::find("tension-metal")).empty());
}

TEST(Heard, WhatIsTypedOverItKeepsBoth) {
  TestRecord heard = with(readings({"10.03 mm", "10.02 mm"}));
  mark_heard(with({}), heard, "CAL-1, 10:05");
  TestRecord typed = with(readings({"10.30 mm", "10.02 mm"}));  // the whole list is typed anew
  mark_heard(heard, typed, "");
  Readings now = typed.fields.readings(kPath);
  EXPECT_EQ(now[0].typed, "10.30 mm");
  EXPECT_EQ(now[0].heard, "10.03 mm");
  EXPECT_EQ(now[0].source, "CAL-1, 10:05");
  EXPECT_EQ(now[1].source, "CAL-1, 10:05") << "this one stands as it was heard";
  EXPECT_EQ(now[1].heard, "");
  TestRecord again = with(readings({"10.31 mm", "10.02 mm"}));
  mark_heard(typed, again, "");
  EXPECT_EQ(again.fields.readings(kPath)[0].heard, "10.03 mm") << "what was heard first stays";
  TestRecord back = with(readings({"10.03 mm", "10.02 mm"}));
  mark_heard(again, back, "");
  EXPECT_EQ(back.fields.readings(kPath)[0].heard, "");
  const auto read = read_record(write_record(typed, *methods::find("tension-metal"), -1), schemas);
  ASSERT_TRUE(read);
  EXPECT_EQ(read->fields.readings(kPath), now);
}

TEST(Heard, OddOnesAreRefused) {
  for (const char* wrong :
       {R"({"typed":"10 mm"})", R"({"typed":10,"source":"C"})", R"({"typed":"10 kg","source":"C"})",
        R"({"typed":{"typed":"10 mm","source":"C"},"source":"C"})", R"({"typed":"10 mm","source":"C","from":"x"})"}) {
    const std::string json =
        R"({"fortitor":"record/1","method":"tension-metal","specimen":{"id":"B-1","section":{"diameter":[)" +
        std::string(wrong) + "]}}}";
    EXPECT_FALSE(read_record(json, schemas)) << wrong;
  }
}

TEST(Heard, RowsToo) {
  TestRecord before, after;
  before.method = after.method = "flexure-beam";
  Row row;
  row.cells.set("deflection", FieldValue(reading_of(*parse_quantity("0.12 mm", Dimension::length))));
  after.run.tables["stops"] = {row};
  mark_heard(before, after, "DIAL-2, 10:05");
  EXPECT_EQ(after.run.tables["stops"][0].reading("deflection")->source, "DIAL-2, 10:05");
}

}  // namespace
}  // namespace fortitor::heard_test
