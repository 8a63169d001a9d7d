// Proof load against closed forms: springs that seat, yield and break; rules with units; jerks; judgements.
#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "core/methods/proof_load/model.h"
#include "tests/core/methods/method_records.h"

namespace fortitor::proof_load_test {
namespace {

using standin::type_into;

struct Piece {
  double stiffness = 8000, stays = 0.06, breaks = 50e3, bends_at = 30e3;  ///< N/mm, mm after the first cycle, N, N
  double noise = 0;                                                       ///< mm
  double later = 1;  ///< stiffness of later cycles against the first
};

SamplesPtr run(const std::vector<double>& force, const std::vector<double>& travel) {
  auto s = std::make_shared<Samples>();
  s->channels = {{"force", force}, {"displacement", travel}};
  return s;
}

// Up along the spring to the proof load, a hold that loses 1 %, and back to what stays.
SamplesPtr cycle(const Piece& p, double proof, double from, double stays, double k, uint64_t seed) {
  std::mt19937_64 random(seed);
  std::normal_distribution<double> n;
  std::vector<double> f, x;
  for (int i = 0; i <= 200; ++i) f.push_back(proof * i / 200), x.push_back(from + f.back() / k);
  for (int i = 1; i <= 40; ++i) f.push_back(proof * (1 - 0.01 * i / 40)), x.push_back(from + proof / k);
  for (int i = 1; i <= 200; ++i) f.push_back(0.99 * proof * (1 - i / 200.0)), x.push_back(from + stays + f.back() / k);
  for (double& v : x) v += p.noise * n(random);
  return run(f, x);
}

TestRecord tested(const Piece& p = {}, const std::vector<std::string>& grades = {"free", "free"},
                  double stop = HUGE_VAL) {
  TestRecord r =
      record_of("proof-load",
                {{"specimen.rated", {"10 kN"}}, {"specimen.proof", {"20 kN"}}, {"specimen.fixture_limit", {"100 kN"}}});
  r.fields.set("specimen.function", kept_words(grades));
  for (int i = 0; i < 2; ++i) {
    Segment s;
    s.name = "cycles";
    s.samples = cycle(p, 20e3, i == 0 ? 0 : p.stays, i == 0 ? p.stays : 0.1 * p.stays,
                      p.stiffness * (i == 0 ? 1 : p.later), uint64_t(i) + 1);
    r.run.segments.push_back(s);
  }
  std::vector<double> f, x;
  for (int i = 0; i <= 600; ++i) {
    const double force = p.breaks * i / 600;
    if (force > stop) break;
    f.push_back(force);
    x.push_back(1.1 * p.stays + force / (p.stiffness * p.later) +
                (force > p.bends_at ? std::pow((force - p.bends_at) / 5e3, 2) : 0));
  }
  if (std::isinf(stop))
    for (int i = 0; i < 3; ++i) f.push_back(100), x.push_back(x.back());
  Segment d;
  d.name = "destruction";
  d.samples = run(f, x);
  r.run.segments.push_back(d);
  if (std::isfinite(stop)) r.fields.set("run.censored", true);
  return r;
}

TEST(Proof, CyclesDestructionAndTheLine) {
  const Piece p;
  const Evaluation e = methods::evaluate(tested());
  EXPECT_NEAR(value_of(e, "force_max"), 50e3, 1e-6);
  EXPECT_NEAR(value_of(e, "design_factor"), 5, 1e-9);
  EXPECT_FALSE(e.find("force_max")->censored);
  EXPECT_NEAR(value_of(e, "stiffness_1"), p.stiffness, 1e-3);
  EXPECT_NEAR(value_of(e, "stiffness_2"), p.stiffness, 1e-3);
  EXPECT_NEAR(value_of(e, "set_1"), p.stays, 1e-3);
  EXPECT_NEAR(value_of(e, "set_2"), 0.1 * p.stays, 1e-3);
  EXPECT_NEAR(value_of(e, "held_1"), 0.99 * 20e3, 30);
  // The loop: the unloading runs 1 % lower and shifted by what stays.
  EXPECT_NEAR(value_of(e, "loop_1"), (0.5 * 20e3 * 20e3 / 8000 - 0.5 * 19.8e3 * 19.8e3 / 8000 + 0) / 1e3,
              0.02 + 20 * p.stays);
  // 5 % beyond the line: ((F − 30)/5)² = 0.05·(F − 1)/8, F in kN.
  double low = 30, high = 50;
  for (int i = 0; i < 60; ++i) {
    const double m = 0.5 * (low + high);
    (std::pow((m - 30) / 5, 2) < 0.05 * (m - 1) / 8 ? low : high) = m;
  }
  EXPECT_NEAR(value_of(e, "elastic_limit_force"), low * 1e3, 60);
  EXPECT_NEAR(value_of(e, "function_limit"), 20e3, 1e-6);
  EXPECT_EQ(e.finding("stiffness-departure"), nullptr);
  ASSERT_FALSE(e.figures.empty());
  EXPECT_EQ(e.figures[0].panels.size(), 2u);
}

TEST(Proof, TheFirstThreeOfManyCyclesStandInFront) {
  TestRecord r = tested();
  const Segment cycle = r.run.segments.front();
  for (int i = 0; i < 3; ++i) r.run.segments.insert(r.run.segments.begin(), cycle);
  const Evaluation e = methods::evaluate(r);
  for (int i = 1; i <= 5; ++i) {
    const std::string n = std::to_string(i);
    for (const std::string& key : {"stiffness_" + n, "set_" + n}) {
      ASSERT_NE(e.find(key), nullptr) << key;
      EXPECT_EQ(e.find(key)->spec.headline, i <= 3) << key;
    }
    for (const std::string& key : {"loop_" + n, "held_" + n}) {
      ASSERT_NE(e.find(key), nullptr) << key;
      EXPECT_EQ(e.find(key)->spec.printed, i <= 3) << key;
    }
  }
  EXPECT_EQ(e.find("stiffness_6"), nullptr);
}

TEST(Proof, StoppedBeforeItBrokeIsABound) {
  TestRecord r = tested({}, {"free", "free", "by tool"}, 42e3);
  type_into(r, "specimen.rule.text", "order 12: 6 × rated");
  Evaluation e = methods::evaluate(r);
  ASSERT_TRUE(e.find("force_max")->censored && e.find("design_factor")->censored);
  EXPECT_TRUE(e.find("force_max")->censored->above);
  EXPECT_NE(e.finding("censored"), nullptr);
  EXPECT_EQ(e.find("meets_rule")->text.substr(0, 4), "open");
  EXPECT_NEAR(value_of(e, "function_limit_tool"), 42e3, 100);
  type_into(r, "specimen.rule.text", "order 12: 4 × rated");
  EXPECT_EQ(methods::evaluate(r).find("meets_rule")->text, "meets") << "at least so much is enough";
  // Without the flag: a run that ends at its top did not break either.
  r.fields.erase("run.censored");
  EXPECT_TRUE(methods::evaluate(r).find("force_max")->censored);
}

TEST(Proof, OneContinuousRunIsTheSame) {
  standin::SimulateOptions o;
  o.seed = 3;
  const TestRecord r = standin::proof_bench().simulate(o);
  const Evaluation e = methods::evaluate(r);
  EXPECT_NEAR(value_of(e, "stiffness_2"), 8200, 500);
  EXPECT_GT(value_of(e, "set_1"), 4 * value_of(e, "set_2"));
  EXPECT_NEAR(value_of(e, "force_max"), 53e3, 7e3);
  EXPECT_EQ(e.find("stiffness_3"), nullptr);
  EXPECT_EQ(e.finding("function-lost"), nullptr);
  const auto back = record_from_json(record_to_json(r));
  ASSERT_TRUE(back) << back.error().message;
  EXPECT_EQ(words_of(back->fields.text("specimen.function")).size(),
            words_of(r.fields.text("specimen.function")).size());
}

TEST(Proof, RulesWithUnits) {
  auto rule = [](const char* text) { return proof::rule_of(text, 10e3, 20e3); };
  EXPECT_NEAR(rule("6 × rated").required, 60e3, 1e-9);
  EXPECT_NEAR(rule("line order 12, 2024: 5 * rated").required, 50e3, 1e-9);
  EXPECT_EQ(rule("line order 12, 2024: 5 * rated").steps[0].source, "line order 12, 2024");
  EXPECT_NEAR(rule("2 × 850 kg × g").required, 2 * 850 * 9.80665, 1e-6);
  EXPECT_NEAR(rule("2 x 850 kg x g").required, 2 * 850 * 9.80665, 1e-6);
  EXPECT_NEAR(rule("2 × (850 kg + 1.2 t) × g").required, 2 * 2050 * 9.80665, 1e-6);
  for (const char* with : {"2 × 850 kg × g", "g × 850 kg", "2 × g × 850 kg"})
    EXPECT_NE(rule(with).steps.back().with.find("g = 9.80665 m/s²"), std::string::npos)
        << with << ": " << rule(with).steps.back().with;
  EXPECT_EQ(rule("500 kgf × 2").steps.back().with.find("g ="), std::string::npos);
  EXPECT_NEAR(rule("1.25 × proof + 3 kN").required, 28e3, 1e-9);
  EXPECT_NEAR(rule("120 kN / 4").required, 30e3, 1e-9);
  EXPECT_NEAR(rule("4500 lbf").required, 4500 * 4.4482216152605, 1e-6);
  EXPECT_NEAR(rule("500 kgf × 2").required, 500 * 9.80665 * 2, 1e-6);
  for (const char* wrong : {"2 × 850 kg", "6 ×", "6", "rated × rated", "850 kg + 3 kN", "(2 × rated", "6 × wished", "",
                            "2 × 850 kg × h", "-3 × rated"})
    EXPECT_FALSE(rule(wrong).problem.empty()) << wrong;
  EXPECT_NE(rule("2 × 850 kg").problem.find("× g"), std::string::npos);
  EXPECT_NE(proof::rule_of("6 × rated", 0, 20e3).problem.find("rated load is not entered"), std::string::npos);
}

TEST(Proof, RuleFindings) {
  TestRecord r = tested();
  type_into(r, "specimen.rule.text", "about five times");
  EXPECT_NE(methods::evaluate(r).finding("rule-unclear"), nullptr);
  type_into(r, "specimen.rule.required", "40 kN");
  EXPECT_EQ(methods::evaluate(r).finding("rule-unclear"), nullptr) << "the load is entered";
  EXPECT_NEAR(value_of(methods::evaluate(r), "required"), 40e3, 1e-9);
  type_into(r, "specimen.rule.text", "2 × 850 kg × g");
  type_into(r, "specimen.rule.required", "1.667 kN");  // a slip by ten
  ASSERT_NE(methods::evaluate(r).finding("rule-arithmetic"), nullptr);
  EXPECT_NE(methods::evaluate(r).finding("rule-arithmetic")->message.find("factor of 10.0"), std::string::npos);
  type_into(r, "specimen.rule.required", "16.67 kN");
  EXPECT_EQ(methods::evaluate(r).finding("rule-arithmetic"), nullptr);
  type_into(r, "specimen.rule.text", "6 × rated");
  r.fields.erase("specimen.rule.required");
  EXPECT_EQ(methods::evaluate(r).find("meets_rule")->text, "fails");
}

TEST(Proof, JerkByHand) {
  const proof::Snatch s = proof::snatch_of(2000, 1200, 20, NAN);
  EXPECT_NEAR(s.mean, 72e3, 1e-6) << "2000 kg at 1.2 m/s in 20 mm";
  EXPECT_NEAR(s.peak, 144e3, 1e-6);
  EXPECT_NEAR(proof::snatch_of(2000, 1200, 0, 8000).peak, 1.2 * std::sqrt(8e6 * 2000), 1e-6);
  EXPECT_TRUE(std::isnan(proof::snatch_of(0, 1200, 20, 1).mean));
}

TEST(Proof, JudgementsOnBothSides) {
  Piece p;
  p.later = 0.91;
  EXPECT_EQ(methods::evaluate(tested(p)).finding("stiffness-departure"), nullptr);
  p.later = 0.89;
  EXPECT_NE(methods::evaluate(tested(p)).finding("stiffness-departure"), nullptr);
  EXPECT_NE(methods::evaluate(tested({}, {"free", "by tool"})).finding("function-lost"), nullptr);
  EXPECT_NE(methods::evaluate(tested({}, {"free", "stuck"})).finding("function-lost")->message.find("not at all"),
            std::string::npos);
  EXPECT_EQ(methods::evaluate(tested({}, {"free", "free"})).finding("function-unchecked"), nullptr);
  EXPECT_NE(methods::evaluate(tested({}, {"free"})).finding("function-unchecked"), nullptr);
  TestRecord r = tested();
  type_into(r, "specimen.fixture_limit", "49 kN");
  EXPECT_NE(methods::evaluate(r).finding("fixture-over"), nullptr);
  type_into(r, "specimen.fixture_limit", "50 kN");
  EXPECT_EQ(methods::evaluate(r).finding("fixture-over"), nullptr);
  type_into(r, "specimen.proof", "20.3 kN");
  EXPECT_EQ(methods::evaluate(r).finding("proof-not-reached"), nullptr);
  type_into(r, "specimen.proof", "20.5 kN");
  EXPECT_NE(methods::evaluate(r).finding("proof-not-reached"), nullptr);
  // A second cycle that leaves more behind than the first.
  r = tested();
  r.run.segments[1].samples = cycle({}, 20e3, 0.06, 0.12, 8000, 3);
  EXPECT_NE(methods::evaluate(r).finding("set-grows"), nullptr);
  EXPECT_EQ(methods::evaluate(tested()).finding("set-grows"), nullptr);
}

TEST(Proof, StartIsRefusedAboveTheFixture) {
  TestRecord r = record_of("proof-load", {{"specimen.proof", {"20 kN"}}, {"specimen.fixture_limit", {"60 kN"}}});
  auto blocked = [&](const char* words) {
    for (const std::string& s : methods::find("proof-load")->plan(r).blocking)
      if (s.find(words) != std::string::npos) return true;
    return false;
  };
  EXPECT_FALSE(blocked("above the fixture"));
  type_into(r, "settings.planned_max", "70 kN");
  EXPECT_TRUE(blocked("above the fixture"));
  type_into(r, "settings.planned_max", "60 kN");
  EXPECT_FALSE(blocked("above the fixture"));
  type_into(r, "settings.stop.force", "65 kN");
  EXPECT_TRUE(blocked("would stop at"));
  r.fields.erase("specimen.fixture_limit");
  EXPECT_TRUE(blocked("limit of the fixture"));
}

}  // namespace
}  // namespace fortitor::proof_load_test
