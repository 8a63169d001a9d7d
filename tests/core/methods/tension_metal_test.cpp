#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "core/methods/tension_metal/model.h"
#include "core/standin/tension_bench.h"
#include "tests/core/methods/tension_curve.h"

namespace fortitor::tension_metal_test {
namespace {

using namespace testing_help;

Evaluation evaluated(
    const CurveShape& s, const std::function<void(TestRecord&)>& also = [](TestRecord&) {}) {
  TestRecord r = bar();
  give_curve(r, s);
  also(r);
  return methods::evaluate(r);
}

TEST(TensionMetal, ClosedFormOfALinearHardeningBar) {
  const CurveShape s;
  const Evaluation e = evaluated(s, [](TestRecord& r) {
    r.fields.set("settings.offset", Readings{reading_of(parse_quantity("0.2 %", Dimension::elongation).value()),
                                             reading_of(parse_quantity("1 %", Dimension::elongation).value())});
  });
  EXPECT_NEAR(value(e, "area"), 100, 1e-9);
  EXPECT_NEAR(value(e, "proportional_length"), 56.5, 1e-9);
  EXPECT_NEAR(value(e, "e_modulus"), 200e3, 20);
  EXPECT_NEAR(value(e, "rp02"), offset_stress(s, 0.002), 0.01);
  EXPECT_NEAR(value(e, "rp1"), offset_stress(s, 0.01), 0.02);
  EXPECT_NEAR(value(e, "rt05"), stress_of(s, 0.005), 0.05);
  const double rm = stress_of(s, 0.20);
  EXPECT_NEAR(value(e, "rm"), rm, 1e-6);
  EXPECT_NEAR(value(e, "fm"), rm * 100, 1e-4);
  EXPECT_NEAR(value(e, "at"), 0.20, 1e-6);
  EXPECT_NEAR(value(e, "a_ext"), 0.20 - rm / 200e3, 1e-6);
  EXPECT_NEAR(value(e, "yield_ratio"), value(e, "rp02") / rm, 1e-9);
  EXPECT_EQ(e.find("yielding")->text, "continuous");
  // Work to the break: triangle and the trapezoidal rule.
  const double knee = 300 / 200e3;
  EXPECT_NEAR(value(e, "toughness"), 0.5 * 300 * knee + 0.5 * (300 + rm) * (0.20 - knee), 0.01);
  EXPECT_FALSE(e.find("rm")->censored);
  EXPECT_EQ(e.finding("slip"), nullptr);
}

TEST(TensionMetal, ToeIsTakenOffEveryStrain) {
  CurveShape s;
  s.toe = 0.0004;
  const Evaluation e = evaluated(s);
  EXPECT_NEAR(value(e, "toe_shift"), 0.0004, 1e-7);
  EXPECT_NEAR(value(e, "rp02"), offset_stress(s, 0.002), 0.02);
  EXPECT_NEAR(value(e, "at"), 0.20 - 0.0004, 1e-6);
  EXPECT_EQ(e.finding("toe-large"), nullptr);
  s.toe = 0.0008;
  EXPECT_NE(evaluated(s).finding("toe-large"), nullptr);
}

TEST(TensionMetal, OffsetOfTheLoadIsShiftedOrKept) {
  CurveShape s;
  s.zero = 500;
  const Evaluation shifted = evaluated(s);
  ASSERT_NE(shifted.finding("not-zeroed"), nullptr);
  EXPECT_NEAR(shifted.finding("not-zeroed")->evidence.at("offset"), 500, 1e-6);
  EXPECT_NEAR(value(shifted, "rm"), stress_of(s, 0.2), 1e-6);
  const Evaluation kept = evaluated(s, [](TestRecord& r) { r.fields.set("settings.zero", std::string("keep")); });
  EXPECT_NEAR(value(kept, "rm"), stress_of(s, 0.2) + 5, 1e-6);
  s.zero = 2000;  // 5 % of the yield force is 1500 N
  EXPECT_NE(evaluated(s).finding("grip-preload"), nullptr);
  s.zero = 50;  // under 0.2 % of the maximum
  EXPECT_EQ(evaluated(s).finding("not-zeroed"), nullptr);
}

TEST(TensionMetal, RunThatStopsEarlyIsALowerBound) {
  CurveShape s;
  s.breaks = false;
  const Evaluation e = evaluated(
      s, [](TestRecord& r) { r.limits["rm"].min = reading_of(parse_quantity("600 MPa", Dimension::stress).value()); });
  ASSERT_TRUE(e.find("rm")->censored);
  EXPECT_TRUE(e.find("rm")->censored->above);
  EXPECT_EQ(reported(*e.find("rm"), {}, UnitSet::si).number.substr(0, 4), "≥ ");
  EXPECT_EQ(e.find("rm")->verdict, Verdict::open);
  EXPECT_TRUE(std::isnan(value(e, "at")));
  const Evaluation cleared = evaluated(
      s, [](TestRecord& r) { r.limits["rm"].min = reading_of(parse_quantity("400 MPa", Dimension::stress).value()); });
  EXPECT_EQ(cleared.verdict, Verdict::meets);
}

TEST(TensionMetal, ExtensometerComesOffAndCrossheadGoesOn) {
  const CurveShape s;
  TestRecord r = bar();
  give_curve(r, s);
  auto samples = std::make_shared<Samples>(*r.run.samples());
  const double at = 60;  // s
  double frozen = 0;
  for (size_t i = 0; i < samples->size(); ++i) {
    auto& ext = samples->column("extension").values[i];
    if (samples->column("time").values[i] <= at)
      frozen = ext;
    else
      ext = frozen;
  }
  r.run.set_samples(samples);
  r.events = {{at, "extensometer-removed", ""}};
  const Evaluation e = methods::evaluate(r);
  // The stretch of the frame is known from where both were read, and taken off the crosshead.
  EXPECT_NEAR(value(e, "at"), 0.20, 1e-4);
  EXPECT_GT(e.find("at")->expanded(), 0);
  EXPECT_NE(e.find("at")->source.find("crosshead"), std::string::npos);
  EXPECT_EQ(e.finding("extensometer-at-break"), nullptr);
  EXPECT_NE(evaluated(s).finding("extensometer-at-break"), nullptr);
}

TEST(TensionMetal, CrossheadIsCorrectedForTheFrame) {
  const CurveShape s;
  auto crosshead_only = [](TestRecord& r) {
    auto copy = std::make_shared<Samples>(*r.run.samples());
    std::erase_if(copy->channels, [](const Channel& c) { return c.name == "extension"; });
    r.run.set_samples(copy);
  };
  const Evaluation raw = evaluated(s, crosshead_only);
  EXPECT_NE(raw.finding("modulus-from-crosshead"), nullptr);
  EXPECT_LT(value(raw, "e_modulus"), 150e3);
  const Evaluation corrected = evaluated(s, [&](TestRecord& r) {
    crosshead_only(r);
    put(r, "equipment.frame.stiffness", "40 kN/mm", Dimension::stiffness);
  });
  EXPECT_EQ(corrected.finding("modulus-from-crosshead"), nullptr);
  EXPECT_NEAR(value(corrected, "e_modulus"), 200e3, 100);
}

TEST(TensionMetal, ModulusSchools) {
  const CurveShape s;
  auto by = [&](const char* school, const char* from, const char* to) {
    return evaluated(s, [&](TestRecord& r) {
      r.fields.set("settings.modulus.school", std::string(school));
      put(r, "settings.modulus.from", from, Dimension::stress);
      put(r, "settings.modulus.to", to, Dimension::stress);
      put(r, "settings.modulus.at", "150 MPa", Dimension::stress);
    });
  };
  for (const char* school : {"line", "chord", "secant", "tangent"})
    EXPECT_NEAR(value(by(school, "50 MPa", "200 MPa"), "e_modulus"), 200e3, 50) << school;
  EXPECT_NEAR(value(by("line", "50 MPa", "200 MPa"), "modulus_to"), 200, 2.1);
  // A window beyond the curve cannot be used; the automatic one stands in and is marked.
  EXPECT_NE(by("line", "900 MPa", "950 MPa").finding("modulus-fit-poor"), nullptr);
}

TEST(TensionMetal, ReadingsOfTheHalves) {
  const Evaluation e = evaluated({}, [](TestRecord& r) {
    put(r, "specimen.after.gauge_length", "61.75 mm", Dimension::length);
    put(r, "specimen.after.break_to_mark", "9 mm", Dimension::length);
    r.fields.set("specimen.after.width", Readings{reading_of(parse_quantity("15.0 mm", Dimension::length).value())});
    r.fields.set("specimen.after.thickness", Readings{reading_of(parse_quantity("3.0 mm", Dimension::length).value())});
  });
  EXPECT_NEAR(value(e, "a"), 11.75 / 50, 1e-12);
  EXPECT_NEAR(value(e, "z"), 0.55, 1e-9);
  EXPECT_NE(e.finding("break-outside-middle"), nullptr);
  // Carbon steel, exponent 0.4, to 5.65√100 = 56.5 mm.
  EXPECT_NEAR(value(e, "a_equiv"), 0.235 * std::pow(50 / 56.5, 0.4), 1e-12);
}

TEST(TensionMetal, RatioMethodEvenAndOdd) {
  auto with = [&](double between, bool second) {
    return evaluated({}, [&](TestRecord& r) {
      r.fields.set("settings.elongation.method", std::string("ratio"));
      r.fields.set("specimen.after.divisions.count", 10.0);
      r.fields.set("specimen.after.divisions.between", between);
      put(r, "specimen.after.divisions.xy", "30 mm", Dimension::length);
      put(r, "specimen.after.divisions.yz", "15 mm", Dimension::length);
      if (second) put(r, "specimen.after.divisions.yz2", "16 mm", Dimension::length);
    });
  };
  EXPECT_NEAR(value(with(6, false), "a"), (30 + 2 * 15 - 50) / 50.0, 1e-12);
  EXPECT_NEAR(value(with(5, true), "a"), (30 + 15 + 16 - 50) / 50.0, 1e-12);
  EXPECT_NE(with(5, false).finding("ratio-incomplete"), nullptr);
}

// σ = K ε_pⁿ exactly: the fit must give back n and K.
TEST(TensionMetal, HardeningExponentOfAPowerLaw) {
  const double k = 700, n = 0.2, modulus = 200e3;
  TestRecord r = bar();
  auto s = std::make_shared<Samples>();
  s->channels = {{"time", {}}, {"force", {}}, {"extension", {}}};
  auto add = [&](double e, double stress) {
    s->channels[0].values.push_back(0.02 * double(s->channels[0].values.size()));
    s->channels[1].values.push_back(stress * 100);
    s->channels[2].values.push_back(e * 50);
  };
  for (int i = 0; i < 100; ++i) add(0, 0);
  const double first = std::pow(200 / k, 1 / n);
  for (int i = 1; i <= 300; ++i) add(200.0 * i / 300 / modulus, 200.0 * i / 300);
  for (int i = 1; i <= 4000; ++i) {
    const double p = first + (0.19 - first) * std::pow(i / 4000.0, 2), sigma = k * std::pow(p, n);
    const double e = std::expm1(p + sigma / modulus);
    add(e, sigma / (1 + e));
  }
  for (int i = 1; i <= 400; ++i)
    add(s->channels[2].values.back() / 50 + 1e-5, s->channels[1].values.back() / 100 - 0.05);
  for (int i = 0; i < 4; ++i) add(s->channels[2].values.back() / 50, 0);
  r.run.set_samples(s);
  const Evaluation e = methods::evaluate(r);
  EXPECT_NEAR(value(e, "n_value"), n, 0.001);
  EXPECT_NEAR(value(e, "k_strength"), k, 2);
}

TEST(TensionMetal, CellTooSmallVoidsAndTooLargeWarns) {
  const Evaluation over =
      evaluated({}, [](TestRecord& r) { put(r, "equipment.load_cell.capacity", "20 kN", Dimension::force); });
  ASSERT_NE(over.finding("cell-over"), nullptr);
  EXPECT_EQ(over.verdict, Verdict::void_test);
  const Evaluation low =
      evaluated({}, [](TestRecord& r) { put(r, "equipment.load_cell.capacity", "2 MN", Dimension::force); });
  EXPECT_NE(low.finding("cell-low"), nullptr);
}

TEST(TensionMetal, FindingsOfReadings) {
  const Evaluation spread = evaluated({}, [](TestRecord& r) {
    r.fields.set("specimen.section.width",
                 Readings{reading_of(parse_quantity("20.3 mm", Dimension::length).value()),
                          reading_of(parse_quantity("20.0 mm", Dimension::length).value()), Reading{}});
  });
  EXPECT_NE(spread.finding("dimension-spread"), nullptr);
  const Evaluation single = evaluated({}, [](TestRecord& r) {
    r.fields.set("specimen.section.width", Readings{reading_of(parse_quantity("20.02 mm", Dimension::length).value())});
  });
  EXPECT_NE(single.finding("dimension-nominal"), nullptr);
  const Reading nominal = reading_of(parse_quantity("20 mm", Dimension::length).value());
  const Evaluation typed = evaluated({}, [&](TestRecord& r) {
    r.fields.set("specimen.section.width", Readings{nominal, nominal, nominal});
  });
  EXPECT_NE(typed.finding("dimension-nominal"), nullptr);
  EXPECT_EQ(evaluated({}).finding("dimension-nominal"), nullptr);
}

TEST(TensionMetal, RatesAgainstThePlan) {
  const Evaluation e = evaluated({}, [](TestRecord& r) { r.fields.set("settings.rate_plan", std::string("B")); });
  // 0.01 strain in 2000 samples of 20 ms: 2.5e-4 1/s, 50 MPa/s.
  EXPECT_NEAR(value(e, "stress_rate"), 50, 0.5);
  EXPECT_NEAR(value(e, "strain_rate"), 2.5e-4, 5e-6);
  EXPECT_EQ(evaluated({}).finding("rate-outside-plan"), nullptr);
  CurveShape fast;
  fast.samples = 500;
  EXPECT_NE(evaluated(fast, [](TestRecord& r) { r.fields.set("settings.rate_plan", std::string("A2")); })
                .finding("rate-outside-plan"),
            nullptr);
}

TEST(TensionMetal, ConflictsAreNamed) {
  const Evaluation look = evaluated({}, [](TestRecord& r) {
    put(r, "specimen.after.gauge_length", "60 mm", Dimension::length);
    r.fields.set("specimen.after.width", Readings{reading_of(parse_quantity("12.0 mm", Dimension::length).value())});
    r.fields.set("specimen.after.thickness", Readings{reading_of(parse_quantity("3.0 mm", Dimension::length).value())});
    r.fields.set("specimen.after.fracture", std::string("flat"));
  });
  EXPECT_NE(look.finding("ductility-conflict"), nullptr);
  const Evaluation order =
      evaluated({}, [](TestRecord& r) { put(r, "specimen.after.gauge_length", "53 mm", Dimension::length); });
  EXPECT_NE(order.finding("order-violated"), nullptr);
  const Evaluation family =
      evaluated({}, [](TestRecord& r) { r.fields.set("specimen.family", std::string("aluminium alloy")); });
  EXPECT_NE(family.finding("modulus-unlikely"), nullptr);
}

TEST(TensionMetal, AwkwardRunsDoNotFall) {
  for (const auto& values : std::vector<std::vector<double>>{
           {}, {1}, {1, 1}, {0, 0, 0, 0}, {5, 5, 5, 5, 5}, {NAN, NAN, NAN}, {0, 1e300, -1e300}}) {
    TestRecord r = bar();
    auto s = std::make_shared<Samples>();
    s->channels = {{"time", {}}, {"force", values}, {"extension", values}};
    for (size_t i = 0; i < values.size(); ++i) s->channels[0].values.push_back(double(i));
    r.run.set_samples(s);
    const Evaluation e = methods::evaluate(r);
    for (const ResultValue& x : e.results)
      if (!x.is_text()) {
        EXPECT_TRUE(std::isfinite(x.value)) << x.spec.key;
      }
  }
  TestRecord empty;
  empty.method = "tension-metal";
  EXPECT_EQ(methods::evaluate(empty).verdict, Verdict::none);
}

TEST(TensionMetal, EveryResultHasItsHow) {
  const Evaluation e = evaluated({}, [](TestRecord& r) {
    put(r, "specimen.after.gauge_length", "59.9 mm", Dimension::length);
    r.fields.set("specimen.after.width", Readings{reading_of(parse_quantity("15.0 mm", Dimension::length).value())});
    r.fields.set("specimen.after.thickness", Readings{reading_of(parse_quantity("3.0 mm", Dimension::length).value())});
  });
  EXPECT_GT(e.results.size(), 20u);
  for (const ResultValue& r : e.results) {
    ASSERT_FALSE(r.how.empty()) << r.spec.key;
    if (!r.is_text()) {
      EXPECT_NEAR(r.how.back().value, r.value, 1e-9 * std::abs(r.value)) << r.spec.key;
    }
  }
}

TEST(TensionMetal, KeysOfOffsets) {
  EXPECT_EQ(tension::offset_key(0.002), "rp02");
  EXPECT_EQ(tension::offset_key(0.001), "rp01");
  EXPECT_EQ(tension::offset_key(0.01), "rp1");
  EXPECT_EQ(tension::offset_key(0.0015), "rp015");
  for (double o : {0.0001, 0.0005, 0.002, 0.005, 0.01, 0.02})
    EXPECT_NEAR(*tension::offset_of_key(tension::offset_key(o)), o, 1e-12);
  EXPECT_FALSE(tension::offset_of_key("rm"));
  EXPECT_FALSE(tension::offset_of_key("rpx"));
}

// The largest of many noisy forces stands above the curve; the top of the curve itself does not.
TEST(TensionMetal, TheTopWithoutTheNoiseOfTheForce) {
  for (double noise : {0.0, 0.002, 0.01}) {
    TestRecord r = bar();
    CurveShape s;
    s.hardening = 800;
    give_curve(r, s);
    auto own = std::make_shared<Samples>(*r.run.samples());
    std::mt19937_64 random(5);
    std::normal_distribution<double> z;
    auto& force = own->column("force").values;
    // The last third is bent over to a round top: 440 MPa at its middle on 100 mm².
    const size_t n = force.size(), from = n / 2;
    for (size_t i = from; i < n; ++i)
      if (force[i] > 1000) {
        const double u = double(i - from) / double(n - from) - 0.5;
        force[i] = 44000 * (1 - 0.2 * u * u);
      }
    for (double& f : force) f += 44000 * noise * z(random);
    r.run.set_samples(own);
    const Evaluation e = methods::evaluate(r);
    ASSERT_NE(e.find("rm_top"), nullptr);
    EXPECT_NEAR(value(e, "rm_top"), 440, std::max(0.1, 440 * noise * 0.15)) << noise;
    if (noise >= 0.01) {
      EXPECT_GT(value(e, "rm"), 450);
    }
    EXPECT_GT(e.find("rm_top")->standard_uncertainty, 0);
  }
}

}  // namespace
}  // namespace fortitor::tension_metal_test
