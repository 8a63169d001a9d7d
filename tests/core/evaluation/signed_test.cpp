// What was signed is held against what comes out now; a fault of the program is a finding, never its end.
#include <nlohmann/json.hpp>

#include "core/evaluation/evaluation_json.h"
#include "tests/core/methods/method_records.h"
#include "tests/core/methods/tension_curve.h"

namespace fortitor::signed_test {
namespace {

using Json = nlohmann::ordered_json;

struct Piece {
  TestRecord record;
  Evaluation evaluation;
  std::string signed_json;
};

Piece piece() {
  Piece p;
  p.record = testing_help::bar();
  testing_help::give_curve(p.record, {});
  p.evaluation = methods::evaluate(p.record);
  p.signed_json = evaluation_to_json(p.evaluation, p.record.fields, -1);
  return p;
}

TEST(Signed, TheSameNumbersSayNothing) {
  Piece p = piece();
  const size_t before = p.evaluation.findings.size();
  compare_with_signed(p.evaluation, p.signed_json);
  EXPECT_EQ(p.evaluation.findings.size(), before);
}

TEST(Signed, AnotherNumberStandsFirstAndIsOpen) {
  for (const char* key : {"rm", "e_modulus", "at"}) {
    Piece p = piece();
    Json j = Json::parse(p.signed_json);
    for (Json& r : j["results"])
      if (r["key"] == key) r["value"] = r["value"].get<double>() * 1.0001;
    const size_t open = p.evaluation.open_judgements().size();
    compare_with_signed(p.evaluation, j.dump());
    ASSERT_FALSE(p.evaluation.findings.empty());
    const Finding& f = p.evaluation.findings.front();
    EXPECT_EQ(f.code, "differs-from-signed") << key;
    EXPECT_EQ(f.severity, Severity::check);
    EXPECT_TRUE(f.remedies.empty()) << "no answer takes it away";
    EXPECT_NE(f.message.find("→"), std::string::npos) << f.message;
    EXPECT_EQ(p.evaluation.open_judgements().size(), open + 1);
  }
}

TEST(Signed, RoundingOfTheLastDigitIsNoDifference) {
  Piece p = piece();
  Json j = Json::parse(p.signed_json);
  for (Json& r : j["results"])
    if (r.contains("value") && r["value"].is_number()) r["value"] = r["value"].get<double>() * (1 + 1e-12);
  compare_with_signed(p.evaluation, j.dump());
  EXPECT_EQ(p.evaluation.finding("differs-from-signed"), nullptr);
}

TEST(Signed, AnotherVerdictAndAMissingResultAreSaid) {
  Piece p = piece();
  Json j = Json::parse(p.signed_json);
  j["verdict"] = "fails";
  compare_with_signed(p.evaluation, j.dump());
  ASSERT_NE(p.evaluation.finding("differs-from-signed"), nullptr);
  EXPECT_NE(p.evaluation.finding("differs-from-signed")->message.find("verdict fails"), std::string::npos);
  Piece gone = piece();
  Json more = Json::parse(gone.signed_json);
  more["results"].push_back({{"key", "reh"}, {"value", 400.0}});
  compare_with_signed(gone.evaluation, more.dump());
  ASSERT_NE(gone.evaluation.finding("differs-from-signed"), nullptr);
  EXPECT_NE(gone.evaluation.finding("differs-from-signed")->message.find("reh is no longer there"), std::string::npos);
}

TEST(Signed, AnglesAreComparedAsTheyAreWritten) {
  const TestRecord r = standin::find_bench("torsion-bench") != nullptr
                           ? standin::find_bench("torsion-bench")->simulate({})
                           : standin::find_bench(methods::find("torsion-bar")->standin)->simulate({});
  Evaluation e = methods::evaluate(r);
  compare_with_signed(e, evaluation_to_json(e, r.fields, -1));
  EXPECT_EQ(e.finding("differs-from-signed"), nullptr);
}

TEST(Signed, WhatIsNoEvaluationIsPassedOver) {
  for (const char* text : {"", "{", "[]", "{\"results\": 3}", "null"}) {
    Piece p = piece();
    if (std::string(text) == "{\"results\": 3}") continue;
    compare_with_signed(p.evaluation, text);
    EXPECT_EQ(p.evaluation.finding("differs-from-signed"), nullptr) << text;
  }
}

}  // namespace
}  // namespace fortitor::signed_test
