#include "core/record/json.h"
#include "core/bench/records.h"

#include <gtest/gtest.h>

#include <cmath>

namespace fortitor::json_test {
namespace {

constexpr const char* kRecord = R"({
  "fortitor": "record/1", "method": "tension-metal", "job": "TC-031", "series": "Hanger bolts, line 2",
  "operator": "R. Vale", "tested_at": "2026-11-24T10:12:00+01:00",
  "specimen": {"id": "HB-03", "material": "S355J2", "family": "carbon steel",
    "section": {"shape": "round", "diameter": ["10.02 mm", null, {"value": 10.03, "unit": "mm"}]},
    "gauge_length": "50 mm", "extensometer_length": "50 mm", "parallel_length": "60 mm",
    "after": {"gauge_length": "61.75 mm", "diameter": ["6.24 mm", "6.26 mm"], "break_to_mark": "22 mm", "fracture": "cup-and-cone"}},
  "conditions": {"temperature": "22 °C", "humidity": "48 %"},
  "equipment": {"load_cell": {"capacity": "100 kN", "class": "1"}, "extensometer": {"class": "0.5"}},
  "settings": {"modulus": {"school": "auto"}, "offset": ["0.2 %"], "rounding": "iso", "decision": "simple"},
  "limits": {"reh": {"min": "355 MPa"}, "rm": {"min": "490 MPa", "max": "630 MPa"}, "a": {"min": "22 %"}},
  "events": [{"at": "12.4 s", "kind": "extensometer-removed"}],
  "run": {"channels": {"time": {"unit": "s", "values": [0, 1, null]}, "force": {"unit": "kN", "values": [0, 1.5, 2]}}}
})";

std::string error_of(const std::string& text) {
  const auto r = record_from_json(text);
  EXPECT_FALSE(r) << text;
  return r ? "" : r.error().message;
}

std::string with(const std::string& body) {
  return R"({"fortitor": "record/1", "method": "tension-metal", )" + body + "}";
}

TEST(Json, ReadsTheDocumentOfTheFormat) {
  const auto r = record_from_json(kRecord);
  ASSERT_TRUE(r) << r.error().message;
  EXPECT_EQ(r->specimen_id(), "HB-03");
  const auto d = r->fields.readings("specimen.section.diameter");
  ASSERT_EQ(d.size(), 3u);
  EXPECT_TRUE(d[1].missed());
  EXPECT_DOUBLE_EQ(*d[2].value, 10.03);
  EXPECT_DOUBLE_EQ(*r->limits.at("a").min->value, 0.22);
  EXPECT_DOUBLE_EQ(r->events[0].at, 12.4);
  EXPECT_DOUBLE_EQ(r->run.samples()->find("force")->values[1], 1500);
  EXPECT_TRUE(std::isnan(r->run.samples()->find("time")->values[2]));
}

TEST(Json, WritesWhatItReadsBack) {
  auto r = record_from_json(kRecord);
  ASSERT_TRUE(r);
  r->answers.push_back({"not-zeroed", "keep", "true preload", "R. Vale", "2026-11-24T10:20:00Z"});
  const auto again = record_from_json(record_to_json(*r));
  ASSERT_TRUE(again) << again.error().message;
  EXPECT_EQ(again->fields, r->fields);
  EXPECT_EQ(again->limits, r->limits);
  EXPECT_EQ(again->events, r->events);
  EXPECT_EQ(again->answers, r->answers);
  ASSERT_EQ(again->run.samples()->channels.size(), 2u);
  EXPECT_EQ(again->run.samples()->find("force")->values, r->run.samples()->find("force")->values);
}

TEST(Json, UnknownKeysAreRefusedWithTheirPath) {
  EXPECT_EQ(error_of(with(R"("specimen": {"sectoin": {}})")), "specimen.sectoin: unknown");
  EXPECT_EQ(error_of(with(R"("specimen": {"section": {"shape": "round", "daimeter": []}})")),
            "specimen.section.daimeter: unknown");
  EXPECT_EQ(error_of(with(R"("sepcimen": {})")), "sepcimen: unknown");
  EXPECT_EQ(error_of(with(R"("limits": {"rmm": {"min": "3 MPa"}})")), "limits.rmm: unknown result of tension-metal");
  EXPECT_EQ(error_of(with(R"("limits": {"rm": {"mim": "3 MPa"}})")), "limits.rm.mim: unknown");
  EXPECT_EQ(error_of(with(R"("run": {"chanels": {}})")), "run.chanels: unknown");
  EXPECT_EQ(error_of(with(R"("run": {"channels": {"force": {"unit": "N", "value": []}}})")),
            "run.channels.force.value: unknown");
  EXPECT_EQ(error_of(with(R"("events": [{"at": "1 s", "kind": "hold", "who": "x"}])")), "events[0].who: unknown");
}

TEST(Json, WrongValuesAreRefusedWithTheirPath) {
  EXPECT_NE(error_of(with(R"("specimen": {"gauge_length": 50})"))
                .find("specimen.gauge_length: expected a length with its unit"),
            std::string::npos);
  EXPECT_NE(error_of(with(R"("specimen": {"gauge_length": "50 kN"})")).find("here a length is wanted"),
            std::string::npos);
  EXPECT_NE(
      error_of(with(R"("specimen": {"section": {"diameter": ["10 mm", "x"]}})")).find("specimen.section.diameter[1]"),
      std::string::npos);
  EXPECT_NE(error_of(with(R"("specimen": {"section": {"shape": "oval"}})")).find("none of round, flat"),
            std::string::npos);
  EXPECT_NE(error_of(with(R"("run": {"channels": {"force": {"unit": "N", "values": [1, "a"]}}})")).find("values[1]"),
            std::string::npos);
  EXPECT_NE(
      error_of(
          with(
              R"("run": {"channels": {"time": {"unit": "s", "values": [1, 2]}, "force": {"unit": "N", "values": [1]}}})"))
          .find("2 values"),
      std::string::npos);
}

TEST(Json, BrokenDocumentsNameThePlace) {
  EXPECT_EQ(error_of("{\n  \"fortitor\": \"record/1\",,\n}"), "line 2, column 26: this is not JSON.");
  EXPECT_NE(error_of("[]").find("object"), std::string::npos);
  EXPECT_NE(error_of("{}").find("fortitor: missing"), std::string::npos);
  EXPECT_NE(error_of(R"({"fortitor": "record/9", "method": "x"})").find("record/9"), std::string::npos);
  const std::string forty(40, 'v');  // of a long one its beginning
  EXPECT_NE(error_of("{\"fortitor\": \"" + forty + "vvv\"}").find("“" + forty + "”"), std::string::npos);
  EXPECT_NE(error_of(R"({"fortitor": "record/1", "method": "alchemy"})").find("“alchemy” is unknown"),
            std::string::npos);
}

}  // namespace
}  // namespace fortitor::json_test
