// Limits of the judgements of a tension test: a piece just this side of each and one just beyond it.
#include <gtest/gtest.h>

#include <algorithm>

#include "core/bench/records.h"
#include "core/methods/tension_metal/model.h"
#include "tests/c_text.h"
#include "tests/core/methods/tension_curve.h"

namespace fortitor::tension_limits_test {
namespace {

using namespace testing_help;
using Change = std::function<void(TestRecord&)>;

Evaluation of(
    const CurveShape& s, const Change& also = [](TestRecord&) {}) {
  TestRecord r = bar();
  give_curve(r, s);
  also(r);
  return methods::evaluate(r, {.uncertainty = false});
}

bool has(const Evaluation& e, const char* code) {
  return e.finding(code) != nullptr;
}

Change family(const char* name) {
  return [name](TestRecord& r) { r.fields.set("specimen.family", std::string(name)); };
}

// 1.2 % stood under the name of 12 %, and 2.5 % made the evaluation fail.
TEST(TensionLimits, AnOffsetStandsUnderItsOwnName) {
  CurveShape s;
  s.fracture_strain = 0.9;
  const auto with = [&](const std::vector<const char*>& typed) {
    return of(s, [&](TestRecord& r) {
      Readings all;
      for (const char* t : typed) all.push_back(reading_of(parse_quantity(t, Dimension::elongation).value()));
      r.fields.set("settings.offset", all);
    });
  };
  for (const auto& [typed, key, symbol, offset] : {std::tuple{"1.2 %", "rp12", "R_p1.2", 0.012},
                                                   {"2.5 %", "rp25", "R_p2.5", 0.025},
                                                   {"0.05 %", "rp005", "R_p0.05", 0.0005},
                                                   {"9.9 %", "rp99", "R_p9.9", 0.099},
                                                   {"1 %", "rp1", "R_p1", 0.01},
                                                   {"0.0001 %", "rp00001", "R_p0.0001", 1e-6}}) {
    const Evaluation e = with({typed});
    const ResultValue* r = e.find(key);
    ASSERT_NE(r, nullptr) << typed;
    EXPECT_EQ(r->spec.symbol, symbol);
    EXPECT_NEAR(r->value, offset_stress(s, offset), 0.3) << typed;
    EXPECT_EQ(e.finding("offset-not-taken"), nullptr) << typed;
    const auto line = std::find_if(r->how.begin(), r->how.end(),
                                   [](const Step& step) { return step.expression.starts_with("R = E·(ε − ε₀ − "); });
    ASSERT_NE(line, r->how.end());
    EXPECT_NE(line->expression.find(std::string("− ") + typed + ")"), std::string::npos) << line->expression;
  }
  for (const char* none : {"10 %", "12 %", "25 %", "150 %", "0.00001 %"}) {
    const Evaluation e = with({"0.2 %", none});
    ASSERT_NE(e.finding("offset-not-taken"), nullptr) << none;
    EXPECT_NE(e.finding("offset-not-taken")->message.find(std::string("an offset of ") + none), std::string::npos)
        << e.finding("offset-not-taken")->message;
    EXPECT_EQ(e.results.size(), with({"0.2 %"}).results.size()) << none;
  }
  for (const char* none : {"rp10", "rp120", "rp", "rp0", "rm", "rp1x", "rp0000001"})
    EXPECT_EQ(tension::offset_of_key(none), std::nullopt) << none;
  const Evaluation twice = with({"0.2 %", "0.2 %", "1 %"});
  EXPECT_EQ(std::count_if(twice.results.begin(), twice.results.end(),
                          [](const ResultValue& r) { return r.spec.key == "rp02"; }),
            1);
}

// ε = σ/E + cσ² read by a line over the five samples on either side: the middle of it lies cΔ² times ten higher.
TEST(TensionLimits, ASecantIsReadOverElevenSamples) {
  auto secant = [](double step, const char* at) {
    TestRecord r = bar();
    auto s = std::make_shared<Samples>();
    s->channels = {{"time", {}}, {"force", {}}, {"extension", {}}};
    auto add = [&](double stress, double strain) {
      s->channels[0].values.push_back(0.1 * double(s->channels[0].values.size()));
      s->channels[1].values.push_back(stress * 100);
      s->channels[2].values.push_back(strain * 50);
    };
    for (int i = 0; i < 20; ++i) add(0, 0);
    const auto strain = [](double stress) { return stress / 200e3 + 2e-9 * stress * stress; };
    for (double stress = step; stress < 400.5; stress += step) add(stress, strain(stress));
    for (int i = 1; i < 200; ++i) add(400 + 0.05 * i, strain(400) + 0.0005 * i);
    r.run.set_samples(s);
    r.fields.set("settings.modulus.school", std::string("secant"));
    put(r, "settings.modulus.at", at, Dimension::stress);
    return methods::evaluate(r, {.uncertainty = false}).find("e_modulus")->value;
  };
  EXPECT_NEAR(secant(10, "200 MPa"), 200 / (200 / 200e3 + 2e-9 * (200.0 * 200 + 10 * 10 * 10)), 1e-6);
}

TEST(TensionLimits, TheModulusOfTheFamilyGivesTenPerCent) {
  // Carbon steel: 200 to 216 GPa and a tenth either way.
  for (const auto& [modulus, odd] : {std::pair{177e3, true}, {183e3, false}, {235e3, false}, {240e3, true}}) {
    CurveShape s;
    s.modulus = modulus;
    EXPECT_EQ(has(of(s), "modulus-unlikely"), odd) << modulus;
  }
}

TEST(TensionLimits, AToeOfHalfAThousandthIsSeating) {
  for (const auto& [toe, odd] : {std::pair{0.00045, false}, {0.00056, true}}) {
    CurveShape s;
    s.toe = toe;
    const Evaluation e = of(s);
    EXPECT_EQ(has(e, "toe-large"), odd) << toe;
    EXPECT_NEAR(value(e, "toe_shift"), toe, 0.03 * toe);
  }
  // Read from the crosshead, ten times as much is: slack and grips are in it.
  for (const auto& [toe, odd] : {std::pair{0.0035, false}, {0.0065, true}}) {
    CurveShape s;
    s.toe = toe;
    const Evaluation e = of(s, [](TestRecord& r) {
      auto own = std::make_shared<Samples>(*r.run.samples());
      std::erase_if(own->channels, [](const Channel& c) { return c.name == "extension"; });
      r.run.set_samples(own);
    });
    EXPECT_EQ(has(e, "toe-large"), odd) << toe;
    EXPECT_TRUE(has(e, "modulus-from-crosshead"));
  }
}

TEST(TensionLimits, APreloadOfATwentiethOfTheYieldForceIsTheGrips) {
  // Yield at 300 MPa on 100 mm²: 30 kN, a twentieth is 1500 N.
  for (const auto& [zero, odd] : {std::pair{1380.0, false}, {1620.0, true}, {-1620.0, true}}) {
    CurveShape s;
    s.zero = zero;
    const Evaluation e = of(s);
    EXPECT_EQ(has(e, "grip-preload"), odd) << zero;
    EXPECT_TRUE(has(e, "not-zeroed")) << zero;
  }
}

TEST(TensionLimits, ALoadThatMattersBeforeTheStart) {
  // take_zero shifts and says so beyond 0.2 % of the largest force (46 kN here, so 92 N).
  for (const auto& [zero, odd] : {std::pair{70.0, false}, {120.0, true}}) {
    CurveShape s;
    s.zero = zero;
    EXPECT_EQ(has(of(s), "not-zeroed"), odd) << zero;
  }
}

TEST(TensionLimits, TheCellIsUsedFromFivePerCentToItsEnd) {
  const double top = 0.1 * (300 + 800 * (0.2 - 0.0015));  // kN
  auto with = [&](double capacity) {
    return of({}, [&](TestRecord& r) {
      r.fields.set("equipment.load_cell.capacity",
                   reading_of(parse_quantity(c_number(capacity) + " kN", Dimension::force).value()));
    });
  };
  EXPECT_TRUE(has(with(top * 0.995), "cell-over"));
  EXPECT_EQ(with(top * 0.995).verdict, Verdict::void_test);
  EXPECT_FALSE(has(with(top * 1.005), "cell-over"));
  EXPECT_FALSE(has(with(top * 19.8), "cell-low"));
  EXPECT_TRUE(has(with(top * 20.2), "cell-low"));
}

TEST(TensionLimits, RatesOfTheStandardGiveAFifth) {
  // 0.01 strain in 2000 samples of 20 ms is 2.5e-4 1/s, the middle of A2's range at yield.
  auto sped = [](double factor, const char* plan) {
    return of({}, [&](TestRecord& r) {
      auto own = std::make_shared<Samples>(*r.run.samples());
      for (double& t : own->column("time").values) t /= factor;
      r.run.set_samples(own);
      r.fields.set("settings.rate_plan", std::string(plan));
    });
  };
  auto named = [](const Evaluation& e, const char* key) {
    return std::any_of(e.findings.begin(), e.findings.end(),
                       [&](const Finding& f) { return f.code == "rate-outside-plan" && f.result_key == key; });
  };
  EXPECT_FALSE(named(sped(0.82, "A2"), "strain_rate"));
  EXPECT_TRUE(named(sped(0.77, "A2"), "strain_rate"));
  EXPECT_FALSE(named(sped(1.18, "A2"), "strain_rate"));
  EXPECT_TRUE(named(sped(1.23, "A2"), "strain_rate"));
  // B: 6 to 60 MPa/s on a metal of 150 GPa and more; 50 MPa/s here.
  EXPECT_FALSE(named(sped(1.18, "B"), "stress_rate"));
  EXPECT_TRUE(named(sped(1.22, "B"), "stress_rate"));
  EXPECT_FALSE(named(sped(0.122, "B"), "stress_rate"));
  EXPECT_TRUE(named(sped(0.118, "B"), "stress_rate"));
  // The strain before R_m runs at 0.19 per 2000 samples: 4.75e-3 1/s where 6.7e-3 is wanted.
  EXPECT_TRUE(named(sped(1.0, "A2"), "strain_rate_rm"));
  EXPECT_FALSE(named(sped(1.16, "A2"), "strain_rate_rm"));
  EXPECT_FALSE(named(sped(1.68, "A2"), "strain_rate_rm"));
  EXPECT_TRUE(named(sped(1.72, "A2"), "strain_rate_rm"));
}

TEST(TensionLimits, EveryPartOfATestHasItsOwnRange) {
  // A bar that yields along a plateau; only its clock is changed.
  auto named = [](double factor, const char* plan, const char* key) {
    TestRecord r = load_record(FORTITOR_TEST_DATA "/tension-luders/record.json").value();
    auto own = std::make_shared<Samples>(*r.run.samples());
    for (double& t : own->column("time").values) t /= factor;
    r.run.set_samples(own);
    for (Event& event : r.events) event.at /= factor;
    r.fields.set("settings.rate_plan", std::string(plan));
    const Evaluation e = methods::evaluate(r, {.uncertainty = false});
    const ResultValue* rate = e.find(key);
    return std::pair{
        std::any_of(e.findings.begin(), e.findings.end(),
                    [&](const Finding& f) { return f.code == "rate-outside-plan" && f.result_key == key; }),
        rate != nullptr ? rate->value : NAN};
  };
  const double own = named(1, "A2", "strain_rate").second, late = named(1, "A2", "strain_rate_rm").second;
  const double stress = named(1, "A2", "stress_rate").second;
  struct Case {
    const char *plan, *key;
    double rate;
    bool odd;
  };
  for (const Case& c : std::initializer_list<Case>{{"A2", "strain_rate", 0.00025, false},
                                                   {"A2", "strain_rate", 0.0005, true},
                                                   {"A2", "strain_rate", 0.002, false},
                                                   {"A2", "strain_rate", 0.0026, true},
                                                   {"A2", "strain_rate_rm", 0.00025, false},
                                                   {"A2", "strain_rate_rm", 0.002, false},
                                                   {"A2", "strain_rate_rm", 0.0067, false},
                                                   {"A2", "strain_rate_rm", 0.004, true},
                                                   {"B", "strain_rate", 0.001, false},
                                                   {"B", "strain_rate", 0.003, true},
                                                   {"B", "strain_rate_rm", 0.0079, false},
                                                   {"B", "strain_rate_rm", 0.0081, true},
                                                   {"E8-A", "stress_rate", 11, false},
                                                   {"E8-A", "stress_rate", 12, true},
                                                   {"E8-A", "stress_rate", 1.1, true},
                                                   {"E8-B", "strain_rate", 0.015 / 60, false},
                                                   {"E8-B", "strain_rate", 0.022 / 60, true},
                                                   {"E8-C", "strain_rate_rm", 0.4 / 60, false},
                                                   {"E8-C", "strain_rate_rm", 0.6 / 60, true}}) {
    const double base = std::string(c.key) == "strain_rate" ? own : std::string(c.key) == "stress_rate" ? stress : late;
    EXPECT_EQ(named(c.rate / base, c.plan, c.key).first, c.odd) << c.plan << " " << c.key << " " << c.rate;
  }
}

TEST(TensionLimits, ASoftMetalIsLoadedSlower) {
  // Aluminium: 2 to 20 MPa/s. 70 GPa at 2.5e-4 1/s is 17.5 MPa/s.
  CurveShape s;
  s.modulus = 70e3;
  for (const auto& [factor, odd] : {std::pair{1.0, false}, {1.2, true}, {0.12, false}, {0.11, true}}) {
    const Evaluation e = of(s, [&](TestRecord& r) {
      auto own = std::make_shared<Samples>(*r.run.samples());
      for (double& t : own->column("time").values) t /= factor;
      r.run.set_samples(own);
      r.fields.set("settings.rate_plan", std::string("B"));
      family("aluminium alloy")(r);
    });
    const auto named = std::any_of(e.findings.begin(), e.findings.end(), [](const Finding& f) {
      return f.code == "rate-outside-plan" && f.result_key == "stress_rate";
    });
    EXPECT_EQ(named, odd) << factor;
  }
}

Change halves(const char* gauge, const char* width = "", const char* thickness = "", const char* look = "") {
  return [=](TestRecord& r) {
    put(r, "specimen.after.gauge_length", gauge, Dimension::length);
    put(r, "specimen.after.break_to_mark", "25 mm", Dimension::length);
    if (*width != 0) put(r, "specimen.after.width", width, Dimension::length);
    if (*thickness != 0) put(r, "specimen.after.thickness", thickness, Dimension::length);
    if (*look != 0) r.fields.set("specimen.after.fracture", std::string(look));
  };
}

TEST(TensionLimits, LookAndNumbersOfTheFractureContradictOneAnother) {
  // Z = 1 − (19 · 4.75)/100 = 9.75 % and A = 4 %: brittle; a cup-and-cone is not.
  CurveShape brittle;
  brittle.fracture_strain = 0.03;
  EXPECT_TRUE(has(of(brittle, halves("52.0 mm", "19 mm", "4.75 mm", "cup-and-cone")), "ductility-conflict"));
  EXPECT_TRUE(has(of(brittle, halves("52.0 mm", "19 mm", "4.75 mm", "star")), "ductility-conflict"));
  EXPECT_FALSE(has(of(brittle, halves("52.0 mm", "19 mm", "4.70 mm", "cup-and-cone")), "ductility-conflict"));
  EXPECT_FALSE(has(of(brittle, halves("52.6 mm", "19 mm", "4.75 mm", "cup-and-cone")), "ductility-conflict"))
      << "A of 5.2 % is not brittle";
  EXPECT_FALSE(has(of(brittle, halves("52.0 mm", "19 mm", "4.75 mm", "flat")), "ductility-conflict"));
  // Z = 1 − 14.8 · 4/100 = 40.8 %: a flat fracture does not neck so.
  EXPECT_TRUE(has(of({}, halves("62 mm", "14.8 mm", "4.0 mm", "flat")), "ductility-conflict"));
  EXPECT_FALSE(has(of({}, halves("62 mm", "15.2 mm", "4.0 mm", "flat")), "ductility-conflict"));
  EXPECT_FALSE(has(of({}, halves("62 mm", "14.8 mm", "4.0 mm", "other")), "ductility-conflict"));
}

TEST(TensionLimits, AnElongationBelowTheUniformOneIsMisread) {
  const double ag = value(of({}, halves("62 mm")), "ag");
  ASSERT_NEAR(ag, 0.2 - (300 + 800 * 0.1985) / 200e3, 1e-3);
  auto at = [&](double a) {
    char text[32];
    c_snprintf(text, sizeof text, "%.2f mm", 50 * (1 + a));
    return has(of({}, halves(text)), "order-violated");
  };
  EXPECT_TRUE(at(ag - 0.007));
  EXPECT_FALSE(at(ag - 0.003));
  EXPECT_FALSE(at(ag + 0.05));
}

TEST(TensionLimits, TheNeckIsNeverWiderThanUniformStrainLeavesIt) {
  const double ag = value(of({}, halves("62 mm")), "ag"), least = ag / (1 + ag);
  auto at = [&](double z) {
    char text[32];
    c_snprintf(text, sizeof text, "%.3f mm", 5 * (1 - z));
    return has(of({}, halves("62 mm", "20 mm", text)), "order-violated");
  };
  EXPECT_TRUE(at(least - 0.014));
  EXPECT_FALSE(at(least - 0.006));
}

TEST(TensionLimits, AnAreaIsUnlikelyByItselfOrByTheStrengthItMakes) {
  // Carbon steel: R_m between half of its least and 1.6 times its most.
  for (const auto& [yield, odd] : {std::pair{300.0, false}, {1000.0, false}, {1900.0, true}}) {
    CurveShape s;
    s.yield = yield;
    EXPECT_EQ(has(of(s), "area-unlikely"), odd) << yield;
  }
  CurveShape weak;
  weak.yield = 60;
  weak.hardening = 100;
  EXPECT_TRUE(has(of(weak), "area-unlikely"));
  weak.breaks = false;
  EXPECT_FALSE(has(of(weak), "area-unlikely")) << "a run that was stopped says nothing of the strength";
}

TEST(TensionLimits, ConversionsOfElongationKeepToTheStandard) {
  auto converted = [](const char* material, double yield) {
    CurveShape s;
    s.yield = yield;
    return of(s, [&](TestRecord& r) {
      halves("62 mm")(r);
      r.fields.set("specimen.material", std::string(material));
      put(r, "settings.elongation.convert_to", "80 mm", Dimension::length);
    });
  };
  const Evaluation plain = converted("S355", 300);
  EXPECT_NEAR(value(plain, "a_equiv"), 0.24 * std::pow(50.0 / 80, 0.4), 1e-9);
  EXPECT_FALSE(has(plain, "conversion-unsuited"));
  for (const char* material : {"S355 cold drawn", "42CrMo4 +QT", "quenched", "hardened", "C45 +C bright"}) {
    const Evaluation e = converted(material, 300);
    EXPECT_TRUE(has(e, "conversion-unsuited")) << material;
    EXPECT_EQ(e.find("a_equiv"), nullptr) << material;
  }
  // 300 to 700 MPa: R_m is 159 MPa above yield here.
  EXPECT_FALSE(has(converted("S355", 535), "conversion-unsuited"));
  EXPECT_TRUE(has(converted("S355", 548), "conversion-unsuited"));
  EXPECT_NE(converted("S355", 548).find("a_equiv"), nullptr) << "an estimate, and it says so";
}

TEST(TensionLimits, AnAusteniticSteelHasItsOwnExponentAndRange) {
  auto converted = [](double yield) {
    CurveShape s;
    s.yield = yield;
    return of(s, [&](TestRecord& r) {
      halves("62 mm")(r);
      family("austenitic stainless steel")(r);
      put(r, "settings.elongation.convert_to", "80 mm", Dimension::length);
    });
  };
  EXPECT_NEAR(value(converted(400), "a_equiv"), 0.24 * std::pow(50.0 / 80, 0.127), 1e-9);
  EXPECT_FALSE(has(converted(585), "conversion-unsuited"));
  EXPECT_TRUE(has(converted(598), "conversion-unsuited"));
  EXPECT_FALSE(has(converted(297), "conversion-unsuited"));
  EXPECT_TRUE(has(converted(285), "conversion-unsuited"));
}

TEST(TensionLimits, AnExtensometerThatStayedOnIsANote) {
  EXPECT_TRUE(has(of({}), "extensometer-at-break"));
  EXPECT_EQ(of({}).finding("extensometer-at-break")->severity, Severity::note);
  CurveShape s;
  s.breaks = false;
  EXPECT_FALSE(has(of(s), "extensometer-at-break"));
}

}  // namespace
}  // namespace fortitor::tension_limits_test
