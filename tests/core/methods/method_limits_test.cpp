// Limits of the judgements of the other methods: a piece just this side of each and one just beyond it.
#include <algorithm>
#include <numbers>

#include "core/methods/guard.h"
#include "tests/c_text.h"
#include "tests/core/methods/method_records.h"

namespace fortitor::method_limits_test {
namespace {

bool has(const Evaluation& e, const char* code) {
  return e.finding(code) != nullptr;
}
bool has(const TestRecord& r, const char* code) {
  return has(methods::evaluate(r, {.uncertainty = false}), code);
}
std::string typed(double v, const char* unit, int decimals = 4) {
  char text[48];
  c_snprintf(text, sizeof text, "%.*f %s", decimals, v, unit);
  return text;
}
std::vector<std::string> thrice(double v, const char* unit, double spread = 0.01) {
  return {typed(v - spread, unit), typed(v, unit), typed(v + spread, unit)};
}

// --- Bending ---------------------------------------------------------------------------------------------------------

TestRecord beam(double span, double width, double depth, double modulus, const char* moisture = "12 %") {
  TestRecord r = record_of("flexure-beam", {{"specimen.width", thrice(width, "mm")},
                                            {"specimen.depth", thrice(depth, "mm")},
                                            {"specimen.span", {typed(span, "mm", 1)}},
                                            {"specimen.species", {"ash"}},
                                            {"specimen.moisture", {moisture}}});
  const double inertia = width * std::pow(depth, 3) / 12, k = 48 * modulus * inertia / std::pow(span, 3);
  for (int i = 0; i <= 10; ++i)
    add_stop(r, {{"force", std::to_string(100 * i) + " N"}, {"deflection", typed(100 * i / k, "mm", 3)}});
  return r;
}

TEST(BeamLimits, FourteenDepthsOfSpanKeepShearSmall) {
  EXPECT_TRUE(has(beam(13.9 * 30, 40, 30, 12e3), "span-depth-low"));
  EXPECT_FALSE(has(beam(14.1 * 30, 40, 30, 12e3), "span-depth-low"));
}

TEST(BeamLimits, WidthBeyondDepthOnEdgeIsExchanged) {
  for (const auto& [width, odd] : {std::pair{30.1, true}, {29.9, false}}) {
    TestRecord r = beam(700, width, 30, 12e3);
    EXPECT_FALSE(has(r, "orientation")) << "nothing said how it lay";
    standin::type_into(r, "specimen.placed", "on-edge");
    EXPECT_EQ(has(r, "orientation"), odd) << width;
  }
}

TEST(BeamLimits, ASpeciesIsComparedWithinTwoDeviationsAndUnusualBeyond) {
  const double usual = value_of(methods::evaluate(beam(700, 40, 30, 12e3)), "moe") /
                       value_of(methods::evaluate(beam(700, 40, 30, 12e3)), "moe_ratio");
  for (const auto& [z, odd] : {std::pair{-2.05, true}, {-1.95, false}, {0.0, false}, {1.95, false}, {2.05, true}}) {
    const Evaluation e = methods::evaluate(beam(700, 40, 30, usual * (1 + 0.22 * z)), {.uncertainty = false});
    const auto of_modulus = std::find_if(e.findings.begin(), e.findings.end(), [](const Finding& f) {
      return (f.code == "species-unusual" || f.code == "species-compared") && f.result_key == "moe_ratio";
    });
    ASSERT_NE(of_modulus, e.findings.end()) << z;
    const Finding* f = &*of_modulus;
    EXPECT_EQ(f->code == "species-unusual", odd) << z;
    EXPECT_NEAR(f->evidence.at("deviations"), z, 0.02);
    EXPECT_EQ(f->severity, odd ? Severity::check : Severity::note);
  }
}

TEST(BeamLimits, FourLoadedStopsUpToTheLimitAreWanted) {
  for (const auto& [straight, odd] : {std::pair{3, true}, {4, false}}) {
    TestRecord r = beam(700, 40, 30, 12e3);
    Rows& rows = r.run.tables["stations"];
    const double each = *rows[1].number("deflection");
    for (int i = straight + 1; i <= 10; ++i)
      retype(r, size_t(i), "deflection", typed(each * (i + 0.5 * (i - straight) * (i - straight)), "mm", 3));
    EXPECT_EQ(has(r, "stations-few"), odd) << straight;
  }
}

TEST(BeamLimits, ALineThatMissesZeroIsSaidOnlyWithoutAZeroReading) {
  for (const auto& [slack, with_zero, odd] : {std::tuple{0.6, false, true}, {0.02, false, false}, {0.6, true, false}}) {
    TestRecord r = beam(700, 40, 30, 12e3);
    Rows& rows = r.run.tables["stations"];
    if (!with_zero) rows.erase(rows.begin());
    for (size_t i = with_zero ? 1 : 0; i < rows.size(); ++i)
      retype(r, i, "deflection", typed(*rows[i].number("deflection") + slack, "mm", 3));
    EXPECT_EQ(has(r, "zero-point-missing"), odd) << slack << with_zero;
  }
}

// --- Torsion ---------------------------------------------------------------------------------------------------------

TestRecord shaft(double g_gauge, double g_twist, double yield_at = 1e9, const char* family = "carbon steel") {
  TestRecord r = record_of("torsion-bar", {{"specimen.diameter", thrice(10, "mm")},
                                           {"specimen.length", {"200 mm"}},
                                           {"specimen.gauges", {"1"}},
                                           {"specimen.family", {family}}});
  const double j = std::numbers::pi * 1e4 / 32;
  for (int i = 0; i <= 12; ++i) {
    const double theta = i * 0.5 * std::numbers::pi / 180, linear = g_twist * theta / 200;
    const double torque = j * (linear < yield_at ? linear : yield_at + 0.1 * (linear - yield_at));
    add_stop(r, {{"angle", typed(0.5 * i, "deg", 1)},
                 {"torque", typed(torque / 1000, "N·m", 4)},
                 {"strain_45", typed(0.5 * 5 * linear / g_gauge * 1e6, "µε", 1)}});
  }
  return r;
}

TEST(ShaftLimits, AnAngleReadAtTheChucksLosesFifteenPerCent) {
  EXPECT_FALSE(has(shaft(80e3, 80e3 * 0.87), "angle-includes-chuck"));
  EXPECT_TRUE(has(shaft(80e3, 80e3 * 0.83), "angle-includes-chuck"));
  EXPECT_FALSE(has(shaft(80e3, 80e3 * 1.13), "angle-includes-chuck"));
  EXPECT_TRUE(has(shaft(80e3, 80e3 * 1.17), "angle-includes-chuck"));
}

TEST(ShaftLimits, GFollowsFromEAndNuOfTheFamily) {
  // Carbon steel: 200 to 216 GPa, ν 0.29, a tenth either way: 69.8 to 92.1 GPa.
  for (const auto& [g, odd] : {std::pair{69.2e3, true}, {70.4e3, false}, {91.5e3, false}, {92.8e3, true}})
    EXPECT_EQ(has(shaft(g, g), "modulus-unlikely"), odd) << g;
}

TEST(ShaftLimits, FourLoadedStopsBelowYieldAreWanted) {
  // 0.5° a stop is τ/r of 80e3·0.00873/200 = 3.49 MPa/mm.
  EXPECT_TRUE(has(shaft(80e3, 80e3, 3.49 * 3.4), "steps-coarse"));
  EXPECT_FALSE(has(shaft(80e3, 80e3, 3.49 * 6.4), "steps-coarse"));
}

TEST(ShaftLimits, WhereItBrokeAndThatItDidNot) {
  TestRecord r = shaft(80e3, 80e3);
  EXPECT_TRUE(has(r, "censored"));
  EXPECT_FALSE(has(r, "break-at-chuck"));
  standin::type_into(r, "specimen.after.fracture", "at-chuck");
  EXPECT_TRUE(has(r, "break-at-chuck"));
}

// --- Strain gauges ---------------------------------------------------------------------------------------------------

TestRecord strip(double nu, double modulus, const char* family = "titanium alloy") {
  TestRecord r = record_of("poisson-gauge", {{"specimen.family", {family}},
                                             {"specimen.section.shape", {"flat"}},
                                             {"specimen.section.width", thrice(25, "mm")},
                                             {"specimen.section.thickness", thrice(4, "mm")}});
  for (int i = 0; i <= 8; ++i) {
    const double strain = 2000.0 * i / (100 * modulus) * 1e6;
    add_stop(r, {{"force", std::to_string(2 * i) + " kN"},
                 {"strain_long", typed(strain, "µε", 1)},
                 {"strain_lat", typed(-nu * strain, "µε", 1)}});
  }
  return r;
}

TEST(StripLimits, AnIsotropicRatioLiesBelowOneHalf) {
  EXPECT_FALSE(has(strip(0.49, 114e3), "nu-unlikely"));
  EXPECT_TRUE(has(strip(0.52, 114e3), "nu-unlikely"));
  EXPECT_FALSE(has(strip(0.02, 114e3), "nu-unlikely"));
  EXPECT_TRUE(has(strip(-0.02, 114e3), "nu-unlikely"));
  EXPECT_TRUE(has(strip(-0.02, 114e3), "sign-odd"));
  EXPECT_FALSE(has(strip(0.52, 20e3, "carbon laminate"), "nu-unlikely")) << "a laminate may";
}

TEST(StripLimits, TheLateralChannelIsTheSmallerOne) {
  EXPECT_FALSE(has(strip(0.99, 114e3), "channels-swapped"));
  EXPECT_TRUE(has(strip(1.01, 114e3), "channels-swapped"));
}

TEST(StripLimits, AChannelComesBackToItsZero) {
  // The largest longitudinal strain is 1403.5 µε: 2 % of it is 28 µε.
  for (const auto& [drift, odd] : {std::pair{27, false}, {30, true}, {-30, true}}) {
    TestRecord r = strip(0.33, 114e3);
    standin::type_into(r, "run.unload.strain_long", c_number(drift) + " µε");
    standin::type_into(r, "run.unload.strain_lat", "0 µε");
    EXPECT_EQ(has(r, "drift"), odd) << drift;
    EXPECT_FALSE(has(r, "zero-not-read"));
  }
}

TEST(StripLimits, TheModulusOfTheFamily) {
  const Evaluation e = methods::evaluate(strip(0.33, 114e3));
  EXPECT_FALSE(has(e, "modulus-unlikely"));
  EXPECT_TRUE(has(strip(0.33, 90e3), "modulus-unlikely"));
  EXPECT_TRUE(has(strip(0.33, 140e3), "modulus-unlikely"));
}

// --- Pulled and pressed ----------------------------------------------------------------------------------------------

TestRecord simulated(const char* method, uint64_t seed = 3) {
  standin::SimulateOptions o;
  o.seed = seed;
  TestRecord r = standin::find_bench(methods::find(method)->standin)->simulate(o);
  r.method = method;
  return r;
}

TEST(PulledLimits, ConditionsBelongToAPlastic) {
  TestRecord r = simulated("tension-plastic");
  EXPECT_FALSE(has(r, "conditions-missing"));
  for (const char* path : {"conditions.temperature", "conditions.humidity", "conditions.hours"}) {
    TestRecord without = r;
    without.fields.erase(path);
    EXPECT_TRUE(has(without, "conditions-missing")) << path;
  }
}

TEST(PulledLimits, SuspectsOfAShellAreNoted) {
  TestRecord r = simulated("crush-shell");
  for (const FieldSpec& f : methods::find("crush-shell")->fields)
    if (f.path.starts_with("specimen.suspects.")) r.fields.erase(f.path);
  EXPECT_FALSE(has(r, "suspects"));
  standin::type_into(r, "specimen.suspects.dent", "true");
  const Evaluation e = methods::evaluate(r);
  ASSERT_TRUE(has(e, "suspects"));
  EXPECT_EQ(e.finding("suspects")->severity, Severity::note);
}

TestRecord block(double width, double depth, double thickness) {
  return record_of("flatwise-tension", {{"specimen.width", thrice(width, "mm", 0.02)},
                                        {"specimen.depth", thrice(depth, "mm", 0.02)},
                                        {"specimen.thickness", thrice(thickness, "mm", 0.02)}});
}

TEST(PulledLimits, TheAreaOfABlockLiesInItsPlane) {
  EXPECT_FALSE(has(block(50, 50, 20), "area-plane"));
  EXPECT_TRUE(has(block(50, 20.3, 20), "area-plane")) << "the depth is the thickness";
  EXPECT_TRUE(has(block(20.3, 50, 20), "area-plane")) << "the width is";
  EXPECT_FALSE(has(block(50, 20.5, 20), "area-plane"));
  EXPECT_TRUE(has(block(50, 19.5, 20), "area-plane")) << "thicker than deep";
  EXPECT_FALSE(has(block(20, 20, 20), "area-plane")) << "a cube may be one";
}

TEST(PulledLimits, SharesOfAFailureMakeAWhole) {
  for (const auto& [bond, odd] : {std::pair{"20.4 %", false}, {"20.6 %", true}, {"19.4 %", true}, {"19.6 %", false}}) {
    TestRecord r = block(50, 50, 20);
    standin::type_into(r, "specimen.failure.core", "80 %");
    standin::type_into(r, "specimen.failure.bond", bond);
    EXPECT_EQ(has(r, "failure-sum"), odd) << bond;
  }
  EXPECT_FALSE(has(block(50, 50, 20), "failure-sum")) << "nothing entered yet";
}

TEST(PulledLimits, ACureIsShortBelowItsTime) {
  for (const auto& [hours, odd] : {std::pair{"23.9 h", true}, {"24 h", false}}) {
    TestRecord r = block(50, 50, 20);
    standin::type_into(r, "specimen.cure.stated", "24 h");
    standin::type_into(r, "specimen.cure.elapsed", hours);
    EXPECT_EQ(has(r, "cure-short"), odd) << hours;
  }
}

TEST(PulledLimits, ACylinderTwiceAsHighAsWideStandsUpright) {
  for (const auto& [height, odd] : {std::pair{40.3, false}, {40.5, true}}) {
    TestRecord r = record_of("compression-solid", {{"specimen.section.shape", {"round"}},
                                                   {"specimen.section.diameter", thrice(20, "mm")},
                                                   {"specimen.height", {typed(height, "mm", 2)}}});
    EXPECT_EQ(has(r, "buckling-risk"), odd) << height;
  }
}

TestRecord composite(double bending) {
  TestRecord r = record_of("tension-composite", {{"specimen.section.shape", {"flat"}},
                                                 {"specimen.section.width", thrice(25, "mm")},
                                                 {"specimen.section.thickness", thrice(2, "mm")}});
  Channel time{"time", {}}, force{"force", {}}, front{"strain_front", {}}, back{"strain_back", {}};
  for (int i = 0; i < 1000; ++i) {
    const double e = i < 20 ? 0 : 0.012 * (i - 20) / 980;
    time.values.push_back(0.05 * i);
    force.values.push_back(60e3 * e * 50);
    front.values.push_back(e * (1 + bending));
    back.values.push_back(e * (1 - bending));
  }
  for (int i = 0; i < 6; ++i) {
    time.values.push_back(time.values.back() + 0.05);
    force.values.push_back(1);
    front.values.push_back(front.values.back());
    back.values.push_back(back.values.back());
  }
  set_channels(r, {time, force, front, back});
  return r;
}

TEST(PulledLimits, ATenthOfBendingIsUsual) {
  EXPECT_FALSE(has(composite(0.098), "bending-high"));
  EXPECT_TRUE(has(composite(0.103), "bending-high"));
  EXPECT_TRUE(has(composite(-0.103), "bending-high")) << "either way";
}

// --- The guard -------------------------------------------------------------------------------------------------------

TEST(Guard, AFaultOfAMethodBecomesAFinding) {
  Method faulty = *methods::find("density");
  faulty.evaluate = [](const TestRecord&, const EvaluateOptions&) -> Evaluation { throw std::out_of_range("row 7"); };
  TestRecord r = record_of("density", {});
  r.limits["density"].min = reading_of(parse_quantity("2700 kg/m³", Dimension::density).value());
  const Evaluation e = methods::guarded(faulty, r, {});
  ASSERT_EQ(e.findings.size(), 1u);
  const Finding& f = e.findings.front();
  EXPECT_EQ(f.code, "evaluation-failed");
  EXPECT_EQ(f.severity, Severity::void_test);
  EXPECT_NE(f.message.find("row 7"), std::string::npos);
  EXPECT_NE(f.message.find("The record is kept"), std::string::npos);
  EXPECT_TRUE(e.results.empty());
  EXPECT_EQ(e.verdict, Verdict::void_test);
  EXPECT_EQ(e.specimen, "T-1") << "it still says whose it is";
}

}  // namespace
}  // namespace fortitor::method_limits_test
