#include <gtest/gtest.h>

#include "core/methods/hardness_brinell/hardness_brinell.h"
#include "core/methods/hardness_brinell/model.h"
#include "core/methods/hardness_rockwell/hardness_rockwell.h"
#include "tests/core/methods/hardness_records.h"

namespace fortitor::rockwell_brinell_test {
namespace {

using standin::type_into;
using standin::type_list;

TEST(Rockwell, EveryScaleReadsDepthsByItsOwnNumbers) {
  for (const RockwellScale& s : rockwell_scales()) {
    TestRecord r = rockwell_record(std::string(s.id), {});
    for (int i = 0; i < 3; ++i) add_indent(r, {{"depth", "0.06 mm"}});
    const Evaluation e = methods::evaluate(r);
    EXPECT_NEAR(value_of(e, "hr"), s.n - 0.06 / s.s, 1e-9) << s.id;
    EXPECT_NEAR(value_of(e, "depth"), 0.06, 1e-12) << s.id;
    EXPECT_NEAR(value_of(e, "min_thickness"), s.diamond() ? 0.6 : 0.9, 1e-9) << s.id;
    EXPECT_EQ(e.find("designation")->text, significant(s.n - 0.06 / s.s, 3) + " " + s.written());
  }
}

TEST(Rockwell, ABallScaleIsWrittenWithItsBall) {
  TestRecord r = rockwell_record("B", {88, 88, 88});
  EXPECT_EQ(methods::evaluate(r).find("designation")->text, "88.0 HRBW");
  r.fields.set("specimen.indenter", std::string("steel"));
  EXPECT_EQ(methods::evaluate(r).find("designation")->text, "88.0 HRBS");
  EXPECT_EQ(find_rockwell("HRBW"), find_rockwell("B"));
  EXPECT_EQ(find_rockwell("15TW"), find_rockwell("15T"));
  EXPECT_EQ(find_rockwell("15W")->symbol(), "HR15W") << "a scale of its own";
  EXPECT_EQ(find_rockwell("CW"), nullptr);
}

TEST(Rockwell, AConversionThatIsNotMadeSaysWhy) {
  auto refused = [](const char* scale, double hr, const char* family, const char* to) {
    TestRecord r = rockwell_record(scale, {hr, hr, hr});
    r.fields.set("specimen.family", std::string(family));
    r.fields.set("settings.convert_to", std::string(to));
    const Evaluation e = methods::evaluate(r);
    const Finding* f = e.finding("conversion-refused");
    EXPECT_EQ(f == nullptr && std::string(to) != "none", e.find("converted") != nullptr);
    return f == nullptr ? std::string() : f->message;
  };
  EXPECT_EQ(refused("C", 45, "carbon steel", "HV"), "");
  EXPECT_NE(refused("C", 45, "austenitic stainless steel", "HV"), "");
  EXPECT_NE(refused("C", 45, "aluminium alloy", "HV").find("aluminium alloy"), std::string::npos);
  EXPECT_NE(refused("C", 10, "carbon steel", "HV").find("outside"), std::string::npos);
  EXPECT_NE(refused("E", 80, "carbon steel", "HV").find("not among"), std::string::npos);
  EXPECT_EQ(refused("C", 10, "carbon steel", "none"), "");
}

TEST(Rockwell, MeanScatterAndRangeAreThoseOfTheReadings) {
  const Evaluation e = methods::evaluate(rockwell_record("C", {60, 61, 62, 63}));
  EXPECT_NEAR(value_of(e, "hr"), 61.5, 1e-12);
  EXPECT_NEAR(value_of(e, "hr_sd"), std::sqrt(5.0 / 3), 1e-12);
  EXPECT_NEAR(value_of(e, "hr_range"), 3, 1e-12);
  EXPECT_EQ(e.find("block_error"), nullptr) << "no block was read";
  EXPECT_GT(e.find("hr")->expanded(), 0);
}

TEST(Rockwell, TheFirstReadingAfterAChangeIsSetAsideAndMayBeTakenBack) {
  TestRecord r = rockwell_record("C", {50, 60, 61, 62});
  EXPECT_EQ(methods::evaluate(r).finding("first-reading-aside"), nullptr);
  r.fields.set("run.new_indenter", true);
  Evaluation e = methods::evaluate(r);
  EXPECT_NEAR(value_of(e, "hr"), 61, 1e-12);
  ASSERT_NE(e.finding("first-reading-aside"), nullptr);
  EXPECT_EQ(e.finding("first-reading-kept"), nullptr);
  for (const auto& [path, typed] : e.finding("first-reading-aside")->remedies.front().settings)
    type_into(r, path, typed);
  e = methods::evaluate(r);
  EXPECT_NEAR(value_of(e, "hr"), 58.25, 1e-12);
  EXPECT_NE(e.finding("first-reading-kept"), nullptr);
  // A first place that was missed did not seat anything: the next one does.
  r = rockwell_record("C", {});
  add_indent(r, {{"hr", ""}});
  for (const char* hr : {"50", "60", "62"}) add_indent(r, {{"hr", hr}});
  r.fields.set("run.new_indenter", true);
  EXPECT_NEAR(value_of(methods::evaluate(r), "hr"), 61, 1e-12);
}

TEST(Rockwell, TheBlockJudgesTheMachineAndCorrectsNothing) {
  TestRecord r = rockwell_record("C", {60, 61, 62});
  type_into(r, "specimen.block.certified", "62");
  type_into(r, "specimen.block.tolerance", "1");
  type_list(r, "specimen.block.readings", {"63", "63.2", "62.8"});
  Evaluation e = methods::evaluate(r);
  EXPECT_NEAR(value_of(e, "block_error"), 1, 1e-12);
  EXPECT_NEAR(value_of(e, "block_repeatability"), 0.4, 1e-12);
  EXPECT_EQ(e.finding("block-off"), nullptr) << "exactly its tolerance is still in order";
  EXPECT_NEAR(value_of(e, "hr"), 61, 1e-12);
  type_list(r, "specimen.block.after", {"64.0", "64.2", "64.4"});
  e = methods::evaluate(r);
  ASSERT_NE(e.finding("block-off"), nullptr) << "it went off during the work";
  EXPECT_NE(e.finding("block-off")->message.find("after"), std::string::npos);
  type_list(r, "specimen.block.readings", {"63.1", "63.2", "62.8"});
  EXPECT_NE(methods::evaluate(r).finding("block-off"), nullptr);
  EXPECT_NEAR(value_of(methods::evaluate(r), "hr"), 61, 1e-12) << "never corrected by it";
}

TEST(Rockwell, EachScaleSaysWhereItIsNotTrustedAndWhatIsBetter) {
  const auto better = [](const char* scale, double hr) {
    const auto b = better_rockwell(*find_rockwell(scale), hr);
    return b ? b->scale : std::string("-");
  };
  EXPECT_EQ(better("C", 20), "-");
  EXPECT_EQ(better("C", 19.99), "B");
  EXPECT_EQ(better("B", 100), "-");
  EXPECT_EQ(better("B", 100.01), "C");
  EXPECT_EQ(better("B", 9.9), "F");
  EXPECT_EQ(better("F", 59.9), "E");
  EXPECT_EQ(better("30T", 28), "15T");
  EXPECT_EQ(better("30N", 41), "30T");
  EXPECT_EQ(better("45N", 78), "30N");
  EXPECT_EQ(better("A", 96), "") << "nothing is harder";
  EXPECT_EQ(better("M", 5), "-") << "nothing is stated of it";
  for (const RockwellScale& s : rockwell_scales())
    for (double hr : {s.low - 1, s.high + 1}) {
      const auto b = better_rockwell(s, hr);
      if (b && !b->scale.empty()) {
        EXPECT_NE(find_rockwell(b->scale), nullptr) << s.id;
      }
    }
  EXPECT_NE(methods::evaluate(rockwell_record("C", {19, 18, 19})).finding("scale-unsuited"), nullptr);
  EXPECT_EQ(methods::evaluate(rockwell_record("C", {21, 20, 22})).finding("scale-unsuited"), nullptr);
}

TEST(Rockwell, AThinCaseWantsLessForce) {
  TestRecord r = rockwell_record("C", {60, 60, 60});  // 0.08 mm deep: it wants 0.8 mm
  type_into(r, "specimen.case_depth", "0.79 mm");
  const Evaluation e = methods::evaluate(r);
  ASSERT_NE(e.finding("scale-unsuited"), nullptr);
  EXPECT_NE(e.finding("scale-unsuited")->message.find("15N"), std::string::npos);
  type_into(r, "specimen.case_depth", "0.81 mm");
  EXPECT_EQ(methods::evaluate(r).finding("scale-unsuited"), nullptr);
}

TEST(Rockwell, TooThinTooCloseTooFewAndImpossible) {
  TestRecord r = rockwell_record("C", {60, 60, 60});
  type_into(r, "specimen.thickness", "0.8 mm");
  EXPECT_EQ(methods::evaluate(r).finding("too-thin"), nullptr);
  type_into(r, "specimen.thickness", "0.79 mm");
  EXPECT_NE(methods::evaluate(r).finding("too-thin"), nullptr);
  EXPECT_EQ(methods::evaluate(r).finding("few-indents"), nullptr);
  EXPECT_NE(methods::evaluate(rockwell_record("C", {60, 60})).finding("few-indents"), nullptr);
  EXPECT_NE(methods::evaluate(rockwell_record("C", {101, 102, 101})).finding("reading-impossible"), nullptr);
  r = rockwell_record("C", {});
  add_indent(r, {{"hr", "60"}, {"x", "2 mm"}, {"y", "2 mm"}});
  add_indent(r, {{"hr", "60"}, {"x", "2.3 mm"}, {"y", "2 mm"}});
  add_indent(r, {{"hr", "60"}, {"x", "5 mm"}, {"y", "2 mm"}});
  EXPECT_NE(methods::evaluate(r).finding("too-close"), nullptr) << "a print of 0.36 mm wants 1.07 mm";
}

TEST(Rockwell, AConvexPieceIsCorrectedByWhatIsEnteredAndNeverInSilence) {
  TestRecord r = rockwell_record("C", {58, 59, 60});
  type_into(r, "specimen.diameter_convex", "12 mm");
  Evaluation e = methods::evaluate(r);
  EXPECT_NEAR(value_of(e, "hr"), 59, 1e-12);
  ASSERT_NE(e.finding("convex"), nullptr);
  EXPECT_EQ(e.finding("convex")->severity, Severity::check);
  type_into(r, "specimen.convex_correction", "1.5");
  e = methods::evaluate(r);
  EXPECT_NEAR(value_of(e, "hr"), 60.5, 1e-12);
  ASSERT_NE(e.finding("convex"), nullptr);
  EXPECT_EQ(e.finding("convex")->severity, Severity::note);
  type_into(r, "specimen.diameter_convex", "12.3456 mm");
  type_into(r, "specimen.convex_correction", "1.23456");
  EXPECT_NE(methods::evaluate(r).finding("convex")->message.find("12.3 mm diameter; corrected by 1.23 as entered"),
            std::string::npos)
      << methods::evaluate(r).finding("convex")->message;
}

TEST(Rockwell, PlatesAreChosenByTheForceTheyAdd) {
  const double kgf = 9.80665;
  EXPECT_EQ(plates_for(150 * kgf, 60 * kgf, {40 * kgf, 50 * kgf}), (std::vector<size_t>{0, 1}));
  EXPECT_EQ(plates_for(100 * kgf, 60 * kgf, {40 * kgf, 50 * kgf}), (std::vector<size_t>{0}));
  EXPECT_EQ(plates_for(60 * kgf, 60 * kgf, {40 * kgf, 50 * kgf}), (std::vector<size_t>{}));
  EXPECT_EQ(plates_for(140 * kgf, 60 * kgf, {40 * kgf, 50 * kgf}), std::nullopt);
  TestRecord r = rockwell_record("B", {});
  type_into(r, "equipment.hardness_machine.base_force", "60 kgf");
  type_list(r, "equipment.hardness_machine.plates", {"40 kgf", "50 kgf"});
  type_into(r, "equipment.hardness_machine.ring_ball", "red");
  const Plan plan = methods::find(r.method)->plan(r);
  ASSERT_FALSE(plan.warnings.empty());
  EXPECT_NE(plan.warnings.front().find("hang 40.0 kgf, take off 50.0 kgf"), std::string::npos) << plan.warnings.front();
  EXPECT_NE(plan.warnings.front().find("red ring"), std::string::npos);
  type_into(r, "specimen.scale", "L");
  type_list(r, "equipment.hardness_machine.plates", {"35 kgf"});
  type_into(r, "equipment.hardness_machine.base_force", "50 kgf");
  EXPECT_FALSE(methods::find(r.method)->plan(r).blocking.empty()) << "no choice of plates makes 60 kgf";
}

TEST(Rockwell, PlainListsAndRowsAreReadAndWrittenAlike) {
  const std::string text = R"({"fortitor":"record/1","method":"hardness-rockwell","specimen":{"id":"R","scale":"C"},
    "run":{"readings":[61,{"hr":"62","state":"set aside","note":"chip under it"},63,null]}})";
  const auto r = record_from_json(text);
  ASSERT_TRUE(r) << r.error().message;
  EXPECT_NEAR(value_of(methods::evaluate(*r), "hr"), 62, 1e-12);
  const auto again = record_from_json(record_to_json(*r));
  ASSERT_TRUE(again) << again.error().message;
  EXPECT_EQ(again->run.tables.at("readings"), r->run.tables.at("readings"));
  const auto depths =
      record_from_json(R"({"fortitor":"record/1","method":"hardness-rockwell","specimen":{"id":"R","scale":"C"},
    "run":{"depths":["0.08 mm","0.081 mm"],"new_indenter":false}})");
  ASSERT_TRUE(depths);
  EXPECT_NE(record_to_json(*depths).find("\"depths\""), std::string::npos);
  for (const char* bad : {R"("readings":[60],"depths":["0.08 mm"])", R"("depths":["-0.08 kg"])", R"("readings":["a"])",
                          R"("readings":7)"})
    EXPECT_FALSE(record_from_json(
        std::string(R"({"fortitor":"record/1","method":"hardness-rockwell","specimen":{"id":"R"},"run":{)") + bad +
        "}}"))
        << bad;
}

TestRecord brinell_record(const std::string& family, const std::string& ball, const std::string& force, double d) {
  TestRecord r = record_of("hardness-brinell", {{"specimen.material", {"piece"}},
                                                {"specimen.family", {family}},
                                                {"specimen.ball", {ball}},
                                                {"specimen.force", {force}}});
  for (int i = 0; i < 3; ++i) add_indent(r, {{"d", plain_number(d, 8) + " mm;" + plain_number(d, 8) + " mm"}});
  return r;
}

TEST(Brinell, PublishedFigures) {
  const double f = 3000 * 9.80665;
  EXPECT_NEAR(brinell_hardness(f, 10, 4), 229, 0.5);
  EXPECT_NEAR(brinell_hardness(f, 10, 3), 415, 0.5);
  EXPECT_NEAR(brinell_hardness(f, 10, 5), 143, 0.5);
  for (double d : {0.0, -1.0, 10.0, 11.0}) EXPECT_TRUE(std::isnan(brinell_hardness(f, 10, d))) << d;
  // A print of next to nothing keeps its figures.
  EXPECT_NEAR(brinell_hardness(f, 10, 1e-4) / (0.102 * f / (M_PI * 1e-8 / 4)), 1, 1e-8);
}

TEST(Brinell, EachIndentHasItsOwnHardnessAndTheResultIsTheirMean) {
  TestRecord r = brinell_record("carbon steel", "10 mm", "3000 kgf", 4);
  add_indent(r, {{"d", "4.4 mm;4.2 mm"}});
  const double f = 3000 * 9.80665;
  const Evaluation e = methods::evaluate(r);
  EXPECT_NEAR(value_of(e, "hb"), (3 * brinell_hardness(f, 10, 4) + brinell_hardness(f, 10, 4.3)) / 4, 1e-9);
  EXPECT_EQ(e.find("designation")->text, significant(value_of(e, "hb"), 3) + " HBW 10/3000");
  type_into(r, "specimen.dwell", "30 s");
  EXPECT_EQ(methods::evaluate(r).find("designation")->text, significant(value_of(e, "hb"), 3) + " HBW 10/3000/30");
  type_into(r, "settings.hardness_unit", "mpa");
  EXPECT_NEAR(value_of(methods::evaluate(r), "hb_mpa"), value_of(e, "hb") * 9.80665, 1e-9);
}

TEST(Brinell, APrintOutsideItsSizeNamesWhatWouldDo) {
  for (const auto& [d, found] : {std::pair{2.39, true}, {2.41, false}, {5.99, false}, {6.01, true}}) {
    const Evaluation e = methods::evaluate(brinell_record("carbon steel", "10 mm", "3000 kgf", d));
    EXPECT_EQ(e.finding("indent-size") != nullptr, found) << d;
  }
  const Evaluation e = methods::evaluate(brinell_record("copper", "10 mm", "3000 kgf", 6.3));
  ASSERT_NE(e.finding("indent-size"), nullptr);
  EXPECT_NE(e.finding("indent-size")->message.find("1000 kgf on a ball of 10 mm"), std::string::npos)
      << e.finding("indent-size")->message;
}

TEST(Brinell, OfSeveralPrintsTheOneFarthestOutsideIsSaid) {
  for (const auto& [first, second, worst] :
       {std::tuple{"6.5 mm;6.5 mm", "9 mm;9 mm", "0.9"}, std::tuple{"9 mm;9 mm", "6.5 mm;6.5 mm", "0.9"},
        std::tuple{"2.3 mm;2.3 mm", "6.1 mm;6.1 mm", "0.61"}, std::tuple{"1.5 mm;1.5 mm", "6.4 mm;6.4 mm", "0.15"}}) {
    TestRecord r = brinell_record("carbon steel", "10 mm", "3000 kgf", 4);
    add_indent(r, {{"d", first}});
    add_indent(r, {{"d", second}});
    const Evaluation e = methods::evaluate(r);
    const Finding* f = e.finding("indent-size");
    ASSERT_NE(f, nullptr) << first << " " << second;
    if (std::string(worst) != "0.61") {
      EXPECT_NE(f->message.find(std::string(" is ") + worst), std::string::npos) << f->message;
    } else {  // both are a hundredth outside: either may be said
      EXPECT_TRUE(f->message.find("0.23") != std::string::npos || f->message.find("0.61") != std::string::npos);
    }
  }
}

TEST(Brinell, TheIndexGoesWithTheMaterial) {
  using V = std::vector<double>;
  EXPECT_EQ(brinell_indices("carbon steel", 200), V{30});
  EXPECT_EQ(brinell_indices("nickel alloy", 100), V{30});
  EXPECT_EQ(brinell_indices("titanium alloy", 300), V{30});
  EXPECT_EQ(brinell_indices("cast iron", 139.9), V{10});
  EXPECT_EQ(brinell_indices("cast iron", 140), V{30});
  EXPECT_EQ(brinell_indices("brass", 34.9), V{5});
  EXPECT_EQ(brinell_indices("bronze", 35), V{10});
  EXPECT_EQ(brinell_indices("copper", 200), V{10});
  EXPECT_EQ(brinell_indices("copper", 200.1), V{30});
  EXPECT_EQ(brinell_indices("aluminium alloy", 34.9), V{2.5});
  EXPECT_EQ(brinell_indices("aluminium alloy", 80), (V{5, 10, 15}));
  EXPECT_EQ(brinell_indices("magnesium alloy", 80.1), (V{10, 15}));
  EXPECT_EQ(brinell_indices("lead", 5), V{1});
  // Before it is known how hard it is.
  EXPECT_EQ(brinell_indices("aluminium alloy", NAN), (V{5, 10, 15}));
  EXPECT_EQ(brinell_indices("copper", NAN), V{10});
  EXPECT_EQ(brinell_indices("cast iron", NAN), V{30});
  EXPECT_TRUE(brinell_indices("ceramic", 900).empty());
  EXPECT_TRUE(brinell_indices("zinc alloy", 60).empty()) << "nothing is stated of it";
  EXPECT_EQ(methods::evaluate(brinell_record("carbon steel", "10 mm", "3000 kgf", 4)).finding("index-unsuited"),
            nullptr);
  const Evaluation e = methods::evaluate(brinell_record("carbon steel", "10 mm", "1000 kgf", 2.6));
  ASSERT_NE(e.finding("index-unsuited"), nullptr);
}

TEST(Brinell, ThicknessIsEightDepths) {
  TestRecord r = brinell_record("carbon steel", "10 mm", "3000 kgf", 4);
  const double h = (10 - std::sqrt(84.0)) / 2;
  EXPECT_NEAR(value_of(methods::evaluate(r), "depth"), h, 1e-9);
  type_into(r, "specimen.thickness", plain_number(8 * h + 0.01, 6) + " mm");
  EXPECT_EQ(methods::evaluate(r).finding("too-thin"), nullptr);
  type_into(r, "specimen.thickness", plain_number(8 * h - 0.01, 6) + " mm");
  EXPECT_NE(methods::evaluate(r).finding("too-thin"), nullptr);
}

TEST(Brinell, ASteelBallIsForOldRecordsAndVoidAbove350) {
  TestRecord r = brinell_record("carbon steel", "10 mm", "3000 kgf", 4);
  type_into(r, "specimen.indenter", "steel");
  Evaluation e = methods::evaluate(r);
  ASSERT_NE(e.finding("steel-ball"), nullptr);
  EXPECT_EQ(e.finding("steel-ball")->severity, Severity::note);
  EXPECT_NE(e.find("designation")->text.find("HBS"), std::string::npos);
  r = brinell_record("carbon steel", "10 mm", "3000 kgf", 3);
  type_into(r, "specimen.indenter", "steel");
  e = methods::evaluate(r);
  EXPECT_EQ(e.finding("steel-ball")->severity, Severity::void_test);
  EXPECT_EQ(e.verdict, Verdict::void_test);
}

TEST(Brinell, ADiameterThatIsNoneIsBadInputWithItsPlace) {
  for (const char* d : {"\"0 mm\"", "\"-2 mm\"", "[\"2 mm\", \"0 mm\"]", "\"2 kg\"", "2.0"}) {
    const auto r =
        record_from_json(std::string(R"({"fortitor":"record/1","method":"hardness-brinell","specimen":{"id":"B"},
      "run":{"indents":[{"d":)") +
                         d + "}]}}");
    ASSERT_FALSE(r) << d;
    EXPECT_EQ(r.error().message.rfind("run.indents[0].d", 0), 0u) << r.error().message;
  }
}

TEST(Brinell, TwoDiametersOfOnePrintAgree) {
  auto oval = [](const char* d) {
    TestRecord r = brinell_record("carbon steel", "10 mm", "3000 kgf", 4);
    add_indent(r, {{"d", d}});
    return methods::evaluate(r).finding("print-oval") != nullptr;
  };
  EXPECT_FALSE(oval("4.00;4.06"));
  EXPECT_FALSE(oval("4.05;3.95"));
  EXPECT_TRUE(oval("4.0;4.4"));
  EXPECT_TRUE(oval("4.4;4.0"));
}

TEST(Rockwell, ABlockFarFromTheWorkIsSaidAndItsErrorNotScaled) {
  auto with = [](double hr) {
    TestRecord r = rockwell_record("C", {hr, hr, hr});
    type_into(r, "specimen.block.certified", "60");
    type_into(r, "specimen.block.tolerance", "1");
    type_list(r, "specimen.block.readings", {"60.2", "60.0", "60.1"});
    return methods::evaluate(r);
  };
  EXPECT_EQ(with(58).finding("block-far"), nullptr);
  const Evaluation far = with(30);
  EXPECT_NE(far.finding("block-far"), nullptr);
  EXPECT_NEAR(far.find("hr")->standard_uncertainty, with(60).find("hr")->standard_uncertainty, 1e-9)
      << "points of a scale are no share of it";
}

TEST(Rockwell, ScatterAndRangeHaveTheirOwnUncertainty) {
  const Evaluation e = methods::evaluate(rockwell_record("C", {60, 61, 62, 63, 61}));
  // 95 % of samples of five have σ below s·√(4/0.7107): s ± U reaches there, and a little on for reading whole points.
  const double of_s = value_of(e, "hr_sd") * (std::sqrt(4 / 0.710723) - 1), read = 2 * 0.5 / std::sqrt(3.0);
  EXPECT_NEAR(e.find("hr_sd")->expanded(), std::hypot(of_s, read), 1e-4);
  EXPECT_GT(e.find("hr_range")->expanded(), 0);
}

}  // namespace
}  // namespace fortitor::rockwell_brinell_test
