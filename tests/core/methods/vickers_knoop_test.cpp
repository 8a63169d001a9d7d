#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <random>

#include "core/methods/hardness_vickers/hardness_vickers.h"
#include "core/methods/hardness_vickers/model.h"
#include "tests/core/methods/hardness_records.h"

namespace fortitor::vickers_knoop_test {
namespace {

using standin::type_into;

TEST(Vickers, PublishedFigures) {
  EXPECT_NEAR(vickers::hv_of(30 * 9.80665, 0.3), 618, 0.5);
  EXPECT_NEAR(vickers::hv_of(10 * 9.80665, 0.2), 464, 0.5);
}

TEST(Vickers, DrumReadingsAndLengthsGiveTheSame) {
  TestRecord drum = record_of(
      "hardness-vickers",
      {{"specimen.family", {"alloy steel"}}, {"specimen.force", {"0.5 kgf"}}, {"specimen.division", {"0.25 µm"}}});
  add_indent(drum, {{"d1", "118;292.5"}, {"d2", "2:18;5:42.5"}});
  TestRecord length = vickers_record("0.5 kgf", {{1, 0.043625}});
  const Evaluation a = methods::evaluate(drum), b = methods::evaluate(length);
  EXPECT_NEAR(value_of(a, "hv"), value_of(b, "hv"), 1e-6);
  EXPECT_NEAR(value_of(a, "hv"), 0.1891 * 4.903325 / (0.043625 * 0.043625), 1e-6);
  EXPECT_NEAR(value_of(a, "division_effect"), 2 * value_of(a, "hv") / 0.043625 * 0.00025, 1e-6);
  EXPECT_EQ(b.find("division_effect"), nullptr);
  EXPECT_EQ(a.find("designation")->text, "487 HV 0.5");
  drum.fields.erase("specimen.division");
  const Evaluation none = methods::evaluate(drum);
  EXPECT_EQ(none.find("hv"), nullptr);
  EXPECT_NE(none.finding("division-missing"), nullptr);
  EXPECT_EQ(a.finding("division-missing"), nullptr);
}

TEST(Vickers, OneIndentHasItsUncertaintyToo) {
  const Evaluation one = methods::evaluate(vickers_record("0.3 kgf", {{0, 0.03}}));
  ASSERT_NE(one.find("hv"), nullptr);
  EXPECT_GT(one.find("hv")->expanded(), 0);
}

TEST(Vickers, DesignationSaysADwellThatIsNotUsual) {
  TestRecord r = vickers_record("0.3 kgf", {{0, 0.03}});
  for (const auto& [dwell, tail] : {std::pair{"10 s", ""}, {"15 s", ""}, {"9 s", "/9"}, {"20 s", "/20"}}) {
    type_into(r, "specimen.dwell", dwell);
    EXPECT_EQ(methods::evaluate(r).find("designation")->text, "618 HV 0.3" + std::string(tail));
  }
}

TEST(Vickers, TiltedAboveFivePerCent) {
  TestRecord r = vickers_record("1 kgf", {});
  add_indent(r, {{"d1", "0.100 mm"}, {"d2", "0.105 mm"}});
  EXPECT_EQ(methods::evaluate(r).finding("tilted"), nullptr) << "4.9 %";
  add_indent(r, {{"d1", "0.1052 mm"}, {"d2", "0.100 mm"}});
  const Evaluation e = methods::evaluate(r);
  ASSERT_NE(e.finding("tilted"), nullptr);
  EXPECT_NE(e.finding("tilted")->message.find("indent 2"), std::string::npos);
  EXPECT_NEAR(value_of(e, "diagonal_asymmetry"), 0.0052 / 0.1026, 1e-9);
  r.run.tables["indents"][1].state = Row::State::set_aside;
  EXPECT_EQ(methods::evaluate(r).finding("tilted"), nullptr);
}

TEST(Vickers, SpacingByMaterialAndSchool) {
  auto crowded = [](const char* family, const char* school, double apart) {
    TestRecord r = vickers_record("1 kgf", {{2, 0.1}, {2 + apart, 0.1}, {9, 0.1}});
    type_into(r, "specimen.family", family);
    if (*school != 0) type_into(r, "settings.spacing", school);
    return methods::evaluate(r, {.uncertainty = false}).finding("too-close") != nullptr;
  };
  EXPECT_FALSE(crowded("alloy steel", "", 0.3));
  EXPECT_TRUE(crowded("alloy steel", "", 0.299));
  for (const char* family : {"titanium alloy", "coating", "sintered steel", "leaded steel", "platinum"})
    EXPECT_FALSE(crowded(family, "", 0.3)) << family << " holds a light metal's letters and is none";
  EXPECT_TRUE(crowded("tin", "", 0.3));
  EXPECT_TRUE(crowded("lead alloy", "", 0.3));
  EXPECT_TRUE(crowded("aluminium alloy", "", 0.599));
  EXPECT_FALSE(crowded("aluminium alloy", "", 0.6));
  EXPECT_FALSE(crowded("alloy steel", "staggered", 0.25));
  EXPECT_TRUE(crowded("alloy steel", "staggered", 0.249));
}

TEST(Vickers, EdgeOfFaceAndOfTraverse) {
  TestRecord r = vickers_record("1 kgf", {{0.249, 0.1}});
  EXPECT_EQ(methods::evaluate(r).finding("too-close"), nullptr) << "no edge is known";
  type_into(r, "specimen.traverse.limit", "100");
  EXPECT_NE(methods::evaluate(r).finding("too-close"), nullptr);
  r = vickers_record("1 kgf", {{0.25, 0.1}});
  type_into(r, "specimen.traverse.limit", "100");
  EXPECT_EQ(methods::evaluate(r).finding("too-close"), nullptr);
  r = vickers_record("1 kgf", {{5, 0.1}});
  for (const auto& [path, typed] : {std::pair{"specimen.face.shape", "rectangle"},
                                    {"specimen.face.width", "10 mm"},
                                    {"specimen.face.height", "6 mm"}})
    type_into(r, path, typed);
  EXPECT_NE(methods::evaluate(r).finding("too-close"), nullptr) << "y = 0 lies on the edge";
}

TEST(Vickers, TheOutlineOfADiscIsRoundAndClosed) {
  TestRecord r = vickers_record("1 kgf", {{5, 0.1}, {6, 0.1}, {7, 0.1}});
  for (const auto& [path, typed] : {std::pair{"specimen.face.shape", "disc"}, {"specimen.face.diameter", "12 mm"}})
    type_into(r, path, typed);
  const Evaluation e = methods::evaluate(r);
  size_t outlines = 0;
  for (const Figure& f : e.figures)
    for (const Panel& p : f.panels)
      for (const Trace& t : p.traces) {
        if (t.x.size() < 50) continue;
        ++outlines;
        EXPECT_NEAR(t.x.front(), t.x.back(), 1e-9);
        EXPECT_NEAR(t.y.front(), t.y.back(), 1e-9);
        for (size_t i = 0; i < t.x.size(); ++i) EXPECT_NEAR(std::hypot(t.x[i] - 6, t.y[i] - 6), 6, 1e-9);
      }
  EXPECT_EQ(outlines, 1u);
}

TEST(Vickers, ThicknessIsOneAndAHalfDiagonals) {
  TestRecord r = vickers_record("1 kgf", {{1, 0.1}, {2, 0.12}});
  type_into(r, "specimen.thickness", "0.18 mm");
  EXPECT_EQ(methods::evaluate(r).finding("too-thin"), nullptr);
  type_into(r, "specimen.thickness", "0.179 mm");
  EXPECT_NE(methods::evaluate(r).finding("too-thin"), nullptr);
}

TEST(Vickers, CaseDepthLiesOnTheLineBetweenNeighbours) {
  const TestRecord r = traverse_record({{0.9, 420}, {0.1, 740}, {0.3, 720}, {0.5, 650}, {0.7, 530}, {1.1, 400}});
  const Evaluation e = methods::evaluate(r);
  EXPECT_NEAR(value_of(e, "case_depth"), 0.5 + 0.2 * 100 / 120, 1e-6) << "rows in any order";
  EXPECT_EQ(e.find("case_depth")->censored, std::nullopt);
  EXPECT_EQ(e.find("hv"), nullptr) << "a mean over case and core says nothing";
  EXPECT_NEAR(value_of(e, "hv_surface"), 740, 1e-4);
  EXPECT_NEAR(value_of(e, "hv_core"), 400, 1e-4);
}

TEST(Vickers, TheLimitIsSaidToFourFigures) {
  for (const auto& course : {std::vector<std::pair<double, double>>{{0.1, 740}, {0.3, 720}, {0.5, 700}},
                             {{0.1, 540}, {0.3, 420}, {0.5, 400}}}) {
    TestRecord r = traverse_record(course);
    type_into(r, "specimen.traverse.limit", "550.123");
    const Evaluation e = methods::evaluate(r);
    ASSERT_NE(e.finding("limit-not-reached"), nullptr);
    EXPECT_NE(e.finding("limit-not-reached")->message.find(" 550.1 HV"), std::string::npos)
        << e.finding("limit-not-reached")->message;
  }
}

TEST(Vickers, ACaseThatIsNotCrossedIsABound) {
  Evaluation e = methods::evaluate(traverse_record({{0.1, 740}, {0.3, 720}, {0.5, 700}}));
  ASSERT_TRUE(e.find("case_depth")->censored);
  EXPECT_TRUE(e.find("case_depth")->censored->above);
  EXPECT_NEAR(value_of(e, "case_depth"), 0.5, 1e-12);
  EXPECT_NE(e.finding("limit-not-reached"), nullptr);
  e = methods::evaluate(traverse_record({{0.1, 540}, {0.3, 420}}));
  ASSERT_TRUE(e.find("case_depth")->censored);
  EXPECT_FALSE(e.find("case_depth")->censored->above);
  EXPECT_NEAR(e.find("case_depth")->censored->to, 0.1, 1e-12);
  // Exactly the limit is still the case.
  e = methods::evaluate(traverse_record({{0.1, 700}, {0.3, 550}, {0.5, 400}}));
  EXPECT_NEAR(value_of(e, "case_depth"), 0.3, 1e-6);
}

TEST(Vickers, TheTrueDepthLiesWithinItsUncertainty) {
  std::mt19937_64 random(3);
  std::normal_distribution<double> n;
  int held = 0;
  constexpr int kTimes = 200;
  for (int t = 0; t < kTimes; ++t) {
    std::vector<std::pair<double, double>> course;
    // A course with a known crossing: 385 + 360/(1 + e^((x − c)/0.13)) = 550 at c + 0.13·ln(360/165 − 1).
    const double c = 0.7 + 0.1 * double(t % 7) / 7, truth = c + 0.13 * std::log(360 / 165.0 - 1);
    for (int i = 0; i < 14; ++i) {
      const double x = 0.1 + 0.1 * i;
      course.emplace_back(x, (385 + 360 / (1 + std::exp((x - c) / 0.13))) * (1 + 0.012 * n(random)));
    }
    const Evaluation e = methods::evaluate(traverse_record(course));
    const ResultValue* r = e.find("case_depth");
    ASSERT_NE(r, nullptr);
    held += std::abs(r->value - truth) <= r->expanded();
    EXPECT_LT(r->expanded(), 0.15) << "wide enough is not good enough";
  }
  EXPECT_GE(held, 0.93 * kTimes);
}

TEST(Vickers, AReadingOnAScratchIsCalledOutAndACourseIsNot) {
  std::mt19937_64 random(9);
  std::normal_distribution<double> n;
  int false_calls = 0, found = 0;
  constexpr int kTimes = 100;
  for (int t = 0; t < kTimes; ++t) {
    std::vector<std::pair<double, double>> course;
    for (int i = 0; i < 14; ++i) {
      const double x = 0.1 + 0.1 * i;
      course.emplace_back(x, (385 + 360 / (1 + std::exp((x - 0.75) / 0.13))) * (1 + 0.012 * n(random)));
    }
    // While the work goes on the course ends at every indent once.
    for (size_t upto = 5; upto <= course.size(); ++upto)
      false_calls +=
          methods::evaluate(traverse_record({course.begin(), course.begin() + long(upto)}), {.uncertainty = false})
              .finding("re-read") != nullptr;
    course[10].second *= 0.72;
    found += methods::evaluate(traverse_record(course), {.uncertainty = false}).finding("re-read") != nullptr;
  }
  EXPECT_LE(false_calls, kTimes / 10) << "of ten looks at each of a hundred traverses";
  EXPECT_GE(found, 90);
}

TEST(Vickers, TheReadingIsBlamedAndNotItsNeighbour) {
  const Evaluation e = methods::evaluate(
      traverse_record({{0.15, 750}, {0.25, 745}, {0.35, 735}, {0.45, 715}, {0.55, 680}, {0.65, 612}, {0.75, 189}}));
  ASSERT_NE(e.finding("re-read"), nullptr);
  EXPECT_EQ(e.finding("re-read")->evidence.at("station"), 6) << "the newest, while the stage has not moved";
  const double expected = e.finding("re-read")->evidence.at("expected"),
               read = e.finding("re-read")->evidence.at("read");
  EXPECT_NE(e.finding("re-read")->message.find("lies " + significant(expected - read, 3) + " below"),
            std::string::npos);
  EXPECT_NE(e.finding("re-read")->message.find("about " + significant(expected, 3) + ":"), std::string::npos);
}

TEST(Vickers, EveryMisreadOneOfALongTraverseIsFound) {
  std::vector<std::pair<double, double>> course;
  for (int i = 0; i < 40; ++i) {
    const double x = 0.1 + 0.05 * i;
    course.emplace_back(x, 385 + 360 / (1 + std::exp((x - 1) / 0.13)));
  }
  const std::vector<size_t> wrong = {3, 14, 26, 36};
  for (size_t i : wrong) course[i].second *= 0.75;
  std::vector<size_t> found;
  for (const Finding& f : methods::evaluate(traverse_record(course), {.uncertainty = false}).findings)
    if (f.code == "re-read") found.push_back(size_t(f.evidence.at("station")));
  std::sort(found.begin(), found.end());
  EXPECT_EQ(found, wrong);
}

TEST(Vickers, ASharpBendUnderFewIndentsIsNoFault) {
  for (const auto& course : std::vector<std::vector<double>>{{771, 736, 581, 421, 398, 398, 390, 391, 386, 395, 392},
                                                             {741, 681, 484, 395, 378, 378, 373, 378, 380, 379, 375},
                                                             {714, 659, 532, 439, 402, 392, 401, 395, 396, 399, 395}}) {
    std::vector<std::pair<double, double>> stops;
    for (size_t i = 0; i < course.size(); ++i) stops.emplace_back(0.15 + 0.2 * double(i), course[i]);
    EXPECT_EQ(methods::evaluate(traverse_record(stops)).finding("re-read"), nullptr) << course[2];
  }
}

TEST(Vickers, AnIndentIsSetAsideByItsRemedy) {
  std::vector<std::pair<double, double>> course;
  for (int i = 0; i < 10; ++i) course.emplace_back(0.1 + 0.1 * i, 740 - 4.0 * i * i);
  course[5].second -= 150;
  TestRecord r = traverse_record(course);
  const Evaluation e = methods::evaluate(r);
  ASSERT_NE(e.finding("re-read"), nullptr);
  EXPECT_EQ(e.finding("re-read")->evidence.at("station"), 5);
  for (const auto& [path, typed] : e.finding("re-read")->remedies.front().settings)
    EXPECT_TRUE(mark_row(r, path, typed));
  EXPECT_EQ(r.run.tables["indents"][5].state, Row::State::set_aside);
  EXPECT_EQ(methods::evaluate(r).finding("re-read"), nullptr);
}

TEST(Vickers, ACurvedSurfaceIsProposedAFactorAndNeverCorrectedInSilence) {
  // The flat is the limit of every curved surface; outward reads low on the flat's terms, inward high.
  EXPECT_NEAR(curved_vickers_factor(0.1, 1e6, true, true), 1, 1e-4);
  double before = 1;
  for (double ratio : {0.01, 0.03, 0.06, 0.1}) {
    const double sphere = curved_vickers_factor(ratio, 1, true, true);
    EXPECT_LT(sphere, before);
    before = sphere;
    EXPECT_GT(curved_vickers_factor(ratio, 1, true, false), 1);
    const double cylinder = curved_vickers_factor(ratio, 1, false, true);
    EXPECT_GT(cylinder, sphere) << "a cylinder curves one way only";
    EXPECT_LT(cylinder, 1);
  }
  EXPECT_TRUE(std::isnan(curved_vickers_factor(0.5, 1, true, true)));
  EXPECT_TRUE(std::isnan(curved_vickers_factor(0, 1, true, true)));
  TestRecord r = vickers_record("1 kgf", {{1, 0.1}, {2, 0.1}, {3, 0.1}});
  type_into(r, "specimen.curvature.shape", "sphere");
  type_into(r, "specimen.curvature.diameter", "2 mm");
  Evaluation e = methods::evaluate(r);
  const double flat = value_of(e, "hv");
  ASSERT_NE(e.finding("convex"), nullptr);
  for (const auto& [path, typed] : e.finding("convex")->remedies.front().settings) type_into(r, path, typed);
  e = methods::evaluate(r);
  EXPECT_EQ(e.finding("convex"), nullptr);
  EXPECT_NEAR(value_of(e, "hv") / flat, curved_vickers_factor(0.1, 2, true, true), 1e-4);
}

TEST(Vickers, ConvertedAndEstimatedOnlyWhereItHolds) {
  TestRecord r = vickers_record("10 kgf", {{1, 0.2}, {2, 0.2}, {3, 0.2}});
  Evaluation e = methods::evaluate(r);
  EXPECT_EQ(e.find("converted"), nullptr) << "only when it is asked for";
  EXPECT_NEAR(value_of(e, "rm_estimate"), value_of(e, "hv") * 9.80665 / 3, 1e-9);
  EXPECT_GT(e.find("rm_estimate")->expanded(), 0.1 * value_of(e, "rm_estimate"));
  type_into(r, "settings.convert_to", "HRC");
  EXPECT_NEAR(value_of(methods::evaluate(r), "converted"), 46 + (value_of(e, "hv") - 458) / 13, 1e-9);
  type_into(r, "specimen.family", "austenitic stainless steel");
  e = methods::evaluate(r);
  EXPECT_EQ(e.find("converted"), nullptr);
  EXPECT_EQ(e.find("rm_estimate"), nullptr);
}

TEST(Vickers, TwoReadersAreComparedIndentByIndent) {
  TestRecord r = record_of(
      "hardness-vickers",
      {{"specimen.family", {"alloy steel"}}, {"specimen.force", {"1 kgf"}}, {"specimen.division", {"0.5 µm"}}});
  const double f = 9.80665;
  auto hv = [&](double divisions) { return vickers::hv_of(f, divisions * 0.0005); };
  for (const auto& [first, second] : {std::pair{100, 101}, {102, 103}, {99, 100}, {101, 102}})
    add_indent(r, {{"d1", "10;" + std::to_string(10 + first)},
                   {"d2", "10;" + std::to_string(10 + first)},
                   {"second_d1", "10;" + std::to_string(10 + second)},
                   {"second_d2", "10;" + std::to_string(10 + second)}});
  add_indent(r, {{"d1", "10;110"}, {"d2", "10;110"}});  // by one reader only
  const double d[] = {hv(101) - hv(100), hv(103) - hv(102), hv(100) - hv(99), hv(102) - hv(101)};
  const double mean = (d[0] + d[1] + d[2] + d[3]) / 4;
  double sum = 0;
  for (double x : d) sum += (x - mean) * (x - mean);
  Evaluation e = methods::evaluate(r);
  EXPECT_NEAR(value_of(e, "reader_bias"), mean, 1e-9);
  EXPECT_NEAR(value_of(e, "reader_scatter"), std::sqrt(sum / 3), 1e-9);
  EXPECT_NEAR(value_of(e, "hv"), (2 * hv(100) + hv(102) + hv(99) + hv(101)) / 5, 1e-9)
      << "the first reader's is the result";
  EXPECT_NE(e.finding("readers-differ"), nullptr);
  r.run.tables["indents"].resize(2);
  EXPECT_EQ(methods::evaluate(r).finding("readers-differ"), nullptr) << "two say nothing";
}

TEST(Knoop, LongDiagonalAndItsHalves) {
  TestRecord r =
      record_of("hardness-knoop",
                {{"specimen.family", {"ceramic"}}, {"specimen.force", {"0.1 kgf"}}, {"specimen.division", {"0.2 µm"}}});
  add_indent(r, {{"d1", "100;400"}, {"middle", "251"}});
  Evaluation e = methods::evaluate(r);
  EXPECT_NEAR(value_of(e, "hk"), 0.1 / (0.07028 * 0.06 * 0.06), 1e-9);
  EXPECT_NEAR(value_of(e, "diagonal"), 0.06, 1e-12);
  EXPECT_EQ(e.finding("tilted"), nullptr);
  TestRecord near = r;
  add_indent(near, {{"d1", "100;400"}, {"middle", "257"}});  // 157 and 143: 9 %
  EXPECT_EQ(methods::evaluate(near).finding("tilted"), nullptr);
  add_indent(r, {{"d1", "100;400"}, {"middle", "258"}});  // 158 and 142: 10.1 %
  e = methods::evaluate(r);
  ASSERT_NE(e.finding("tilted"), nullptr);
  EXPECT_NE(e.finding("tilted")->message.find("indent 2"), std::string::npos);
}

TEST(EveryHardness, RoomOfTheNextIndentIsSaid) {
  TestRecord r = vickers_record("0.5 kgf", {{0.1, 0.0436}, {0.2, 0.0436}});
  type_into(r, "specimen.traverse.limit", "550");
  type_into(r, "specimen.thickness", "8 mm");
  const auto room = methods::find(r.method)->clearances(r, 1);
  ASSERT_EQ(room.size(), 3u);
  EXPECT_NEAR(room[0].has, 0.1, 1e-12);
  EXPECT_NEAR(room[0].needs, 0.1308, 1e-12);
  EXPECT_FALSE(room[0].holds());
  EXPECT_TRUE(room[1].holds());
  EXPECT_TRUE(room[2].holds());
}

TEST(EveryHardness, NoRecordThatIsHalfThereGivesANumberOrFalls) {
  for (const char* id : {"hardness-rockwell", "hardness-brinell", "hardness-vickers", "hardness-knoop"}) {
    TestRecord r;
    r.method = id;
    EXPECT_TRUE(methods::evaluate(r).results.empty()) << id;
    EXPECT_EQ(methods::evaluate(r).finding("evaluation-failed"), nullptr);
    r.run.tables[methods::find(id)->keyed_table()->id].emplace_back();
    EXPECT_TRUE(methods::evaluate(r).results.empty()) << id;
    EXPECT_EQ(methods::evaluate(r).finding("evaluation-failed"), nullptr);
  }
}

}  // namespace
}  // namespace fortitor::vickers_knoop_test
