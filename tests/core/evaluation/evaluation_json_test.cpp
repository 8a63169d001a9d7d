#include "core/evaluation/evaluation_json.h"

#include <gtest/gtest.h>

#include <nlohmann/json.hpp>

#include "tests/core/methods/tension_curve.h"

namespace fortitor::evaluation_json_test {
namespace {

nlohmann::json document(const TestRecord& r) {
  return nlohmann::json::parse(evaluation_to_json(methods::evaluate(r), r.fields));
}

const nlohmann::json& result(const nlohmann::json& j, const std::string& key) {
  for (const auto& r : j["results"])
    if (r["key"] == key) return r;
  static const nlohmann::json none;
  return none;
}

TEST(EvaluationJson, HasEveryMemberOfTheFormat) {
  TestRecord r = testing_help::bar();
  testing_help::give_curve(r, {});
  r.limits["rp02"].min = reading_of(parse_quantity("295 MPa", Dimension::stress).value());
  const auto j = document(r);
  EXPECT_EQ(j["fortitor"], "evaluation/1");
  EXPECT_EQ(j["method"], "tension-metal");
  EXPECT_EQ(j["specimen"], "T-1");
  const auto& rp = result(j, "rp02");
  for (const char* member : {"key", "symbol", "name", "value", "unit", "expanded_uncertainty", "k", "dof", "censored",
                             "reported", "limit", "verdict", "near", "probability", "how"})
    EXPECT_TRUE(rp.contains(member)) << member;
  EXPECT_EQ(rp["unit"], "MPa");
  EXPECT_EQ(j["rule"], "simple");
  EXPECT_EQ(j["compared"], "absolute");
  EXPECT_GE(rp["k"].get<double>(), 2);
  EXPECT_LT(rp["k"].get<double>(), 2.1);
  EXPECT_TRUE(rp["censored"].is_null());
  EXPECT_DOUBLE_EQ(rp["limit"]["min"].get<double>(), 295);
  for (const char* member : {"expression", "with", "value", "unit"})
    EXPECT_TRUE(rp["how"][0].contains(member)) << member;
  for (const auto& f : j["findings"])
    for (const char* member : {"code", "severity", "message", "remedies"}) EXPECT_TRUE(f.contains(member)) << member;
}

TEST(EvaluationJson, WordsAndRatios) {
  TestRecord r = testing_help::bar();
  testing_help::give_curve(r, {});
  const auto j = document(r);
  EXPECT_EQ(result(j, "yielding")["text"], "continuous");
  EXPECT_FALSE(result(j, "yielding").contains("value"));
  EXPECT_EQ(result(j, "agt")["unit"], "ratio");
  EXPECT_LT(result(j, "at")["value"].get<double>(), 1);
  EXPECT_EQ(result(j, "e_modulus")["unit"], "MPa");
}

TEST(EvaluationJson, CensoredAboveAndNamesThatAreNotUtf8) {
  TestRecord r = testing_help::bar();
  testing_help::CurveShape s;
  s.breaks = false;
  testing_help::give_curve(r, s);
  r.fields.set("specimen.id", std::string("\xFF\xFE"));
  const auto j = document(r);
  EXPECT_EQ(result(j, "rm")["censored"], "above");
  EXPECT_TRUE(result(j, "rp02")["censored"].is_null());
}

}  // namespace
}  // namespace fortitor::evaluation_json_test
