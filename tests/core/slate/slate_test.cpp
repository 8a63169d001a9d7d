// The calculators: every example works, numbers by hand and against the methods, lines as people type them.
#include "core/slate/slate.h"

#include <gtest/gtest.h>

#include <cmath>

namespace fortitor::slate::slate_test {
namespace {

std::vector<Line> answer(const char* typed) {
  const auto line = read_line(typed);
  EXPECT_TRUE(line) << typed;
  if (!line) return {};
  const auto lines = work(*line->calculator, line->inputs);
  EXPECT_TRUE(lines) << typed << ": " << (lines ? "" : lines.error().message);
  return lines ? *lines : std::vector<Line>{};
}

double value(const char* typed, size_t line = 0) {
  const auto lines = answer(typed);
  return line < lines.size() ? lines[line].step.value : NAN;
}

std::string why(const char* typed) {
  const auto line = read_line(typed);
  if (!line) return "no line";
  const auto lines = work(*line->calculator, line->inputs);
  return lines ? "" : lines.error().message;
}

TEST(Slate, EveryExampleWorksAndShowsItsNumbers) {
  EXPECT_GE(calculators().size(), 18u);
  for (const Calculator& c : calculators()) {
    const auto line = read_line(c.example);
    ASSERT_TRUE(line) << c.example;
    EXPECT_EQ(line->calculator->id, c.id) << c.example;
    for (const Input& i : c.inputs) {
      EXPECT_TRUE(i.optional || !i.choices.empty() || line->inputs.count(i.key) == 1) << c.id << " " << i.key;
    }
    const auto lines = work(c, line->inputs);
    ASSERT_TRUE(lines) << c.example << ": " << lines.error().message;
    ASSERT_FALSE(lines->empty());
    EXPECT_FALSE(lines->front().step.expression.empty());
    EXPECT_FALSE(lines->front().step.with.empty());
    EXPECT_FALSE(value_words(lines->front(), UnitSet::si).empty());
    for (const UnitSet set : {UnitSet::us, UnitSet::kgf}) EXPECT_FALSE(value_words(lines->front(), set).empty());
    for (const std::string& n : c.names) EXPECT_TRUE(read_line(n)) << n;
  }
}

TEST(Slate, AsPeopleTypeThem) {
  EXPECT_NEAR(value("hv 0.5kgf 43.2um"), 0.1891 * 0.5 * 9.80665 / (0.0432 * 0.0432), 1e-6);
  EXPECT_NEAR(value("HV 0.5 kgf 43.2 µm"), value("hv 0.5kgf 43.2um"), 1e-12);
  EXPECT_NEAR(value("hv 43.2um 0.5kgf"), value("hv 0.5kgf 43.2um"), 1e-12) << "units tell which is which";
  EXPECT_NEAR(value("snatch 2000 kg 1.2 m/s 20 mm"), 72000, 1e-6);
  EXPECT_NEAR(value("snatch 2000 kg 1.2 m/s 20 mm", 1), 144000, 1e-6);
  EXPECT_EQ(answer("2 5/8 in to mm")[0].text, "66.675 mm");
  EXPECT_EQ(answer("convert 2 5/8 in to mm")[0].text, "66.675 mm");
  EXPECT_EQ(answer("100 in·lbf to N·m")[0].text, "11.2984829 N·m");
  EXPECT_EQ(answer("3 t to kN")[0].text, "29.41995 kN");
  EXPECT_EQ(answer("20 °C to °F")[0].text, "68 °F");
  EXPECT_NEAR(value("45 HRC to HV"), 446, 8);
  EXPECT_NEAR(value("stress 28.9 kN 10 mm"), 28900 / (M_PI * 25), 1e-9);
}

TEST(Slate, ByHand) {
  EXPECT_NEAR(value("stress 1 kN 100 mm²"), 10, 1e-12);
  EXPECT_NEAR(value("strain 0.05 mm 50 mm"), 1e-3, 1e-15);
  EXPECT_EQ(value_words(answer("strain 0.05 mm 50 mm")[1], UnitSet::si), "1000 µε");
  EXPECT_NEAR(value("round 10 mm"), M_PI * 25, 1e-9);
  EXPECT_NEAR(value("round 10 mm 8 mm", 3), M_PI * (1e4 - 4096) / 32, 1e-9);
  EXPECT_NEAR(value("flat 20 mm 5 mm", 1), 20 * 125 / 12.0, 1e-9);
  EXPECT_NEAR(value("force 560 MPa 10 mm"), 560 * M_PI * 25, 1e-6);
  EXPECT_NEAR(value("force 560 MPa 10 mm", 1), 1e5, 1e-6) << "50 kN ends at 45 kN of 50.6";
  EXPECT_NEAR(value("gauge length 10 mm"), 5.65 * std::sqrt(M_PI * 25), 1e-9);
  EXPECT_NEAR(value("elongation 25 % 50 mm 80 mm"), 0.25 * std::pow(0.625, 0.4), 1e-12);
  EXPECT_NEAR(value("elongation 25 % 50 mm 80 mm austenitic"), 0.25 * std::pow(0.625, 0.127), 1e-12);
  EXPECT_NEAR(value("beam 2 kN 700 mm 40 mm 50 mm"), 0.25 * 2000 * 700 / (40 * 2500 / 6.0), 1e-9);
  EXPECT_NEAR(value("beam 2 kN 700 mm 40 mm 50 mm 12 GPa", 2), 2000 * 343e6 / (48 * 12000 * (40 * 125000 / 12.0)),
              1e-9);
  EXPECT_NEAR(value("beam 2 kN 700 mm 40 mm 50 mm 12 GPa third-point", 2),
              23.0 / 1296 * 2000 * 343e6 / (12000 * (40 * 125000 / 12.0)), 1e-9);
  EXPECT_NEAR(value("torsion 120 N·m 25 mm 300 mm 80 GPa"), 16 * 120000 / (M_PI * 15625), 1e-9);
  EXPECT_NEAR(value("torsion 120 N·m 25 mm 300 mm 80 GPa", 1), 120000 * 300 / (80000 * M_PI * 390625 / 32), 1e-12);
  EXPECT_NEAR(value("hb 3000kgf 10mm 4.2mm"), 207, 1);
  EXPECT_NEAR(value("hk 0.2kgf 80um"), 0.2 / (0.07028 * 0.0064), 0.5);
  EXPECT_NEAR(value("hb force 10mm 150 steel"), 30 * 100 / 0.102, 1e-6);
  EXPECT_EQ(answer("scale 450 1.2mm")[0].name, "HRC");
  EXPECT_TRUE(answer("scale 450 1.2mm")[0].text.ends_with("suits"));
  EXPECT_TRUE(answer("scale 450 0.6mm").back().text.ends_with("too thin"));
  EXPECT_FALSE(answer("scale 450 0.6mm")[0].name == "HRC") << "a lighter scale first";
  EXPECT_EQ(why("scale 5 1 mm"), "No Rockwell scale is trusted at this hardness.");
  EXPECT_NEAR(value("strength 180 HB"), 621, 0.5);
  EXPECT_NEAR(value("strength 180 HV"), 180 * 9.80665 / 3, 1e-9);
  EXPECT_NEAR(value("drop 5.5 kg 30 J"), 30 / (5.5 * 9.80665) * 1e3, 1e-6);
  EXPECT_NEAR(value("drop 5.5 kg 30 J", 1), std::sqrt(2 * 30 / 5.5) * 1e3, 1e-6);
  EXPECT_NEAR(value("drop 5.5 kg 1 m"), 5.5 * 9.80665, 1e-9);
  EXPECT_NEAR(value("pendulum 20 kg 750 mm 150° 80°"),
              20 * 9.80665 * 0.75 * (std::cos(80 * M_PI / 180) - std::cos(150 * M_PI / 180)), 1e-9);
  // A free swing that rises to 148° loses what both half swings share.
  const double moment = 20 * 9.80665 * 0.75, rad = M_PI / 180,
               loss = moment * (std::cos(148 * rad) - std::cos(150 * rad));
  EXPECT_NEAR(value("pendulum 20 kg 750 mm 150° 80° 148°"),
              moment * (std::cos(80 * rad) - std::cos(150 * rad)) - loss * 230 / 298, 1e-9);
  EXPECT_NE(why("pendulum 20 kg 750 mm 150° 80° 155°"), "");
  EXPECT_NEAR(value("speed 0.00025 1/s 60 mm"), 0.015, 1e-12);
  EXPECT_NEAR(value("life 71 MPa 71 MPa"), 2e6, 1);
  EXPECT_TRUE(std::isinf(value("life 20 MPa 71 MPa")));
  EXPECT_EQ(value_words(answer("life 20 MPa 71 MPa")[0], UnitSet::si), "without end");
  EXPECT_EQ(answer("pieces 1 1")[0].text, "7");
}

TEST(Slate, WhatCannotBeReadIsSaidInASentence) {
  EXPECT_EQ(why("hv 0.5kgf"), "Mean diagonal is wanted, such as 43.2 µm.");
  EXPECT_NE(why("hb 3000kgf 10mm 12mm").find("less than the ball"), std::string::npos);
  EXPECT_NE(why("round 10 mm 12 mm").find("less than the diameter"), std::string::npos);
  EXPECT_NE(why("round 12 mm 12 mm").find("less than the diameter"), std::string::npos);
  EXPECT_NE(why("2 mm to parsec").find("no unit “parsec”"), std::string::npos);
  EXPECT_NE(why("2 mm to kg"), "");
  EXPECT_NE(why("stress 1 kN"), "");
  EXPECT_NE(why("snatch 2000 kg 1.2 m/s").find("distance or a stiffness"), std::string::npos);
  EXPECT_NE(why("pendulum 20 kg 750 mm 80° 150°").find("no more than the fall"), std::string::npos);
  EXPECT_NE(why("45 HRC to HXX"), "");
  EXPECT_NE(why("200 HRC to HV"), "");
  for (const char* none : {"", "   ", "HB-03", "TC-031", "tension", "5", "to mm", "now"})
    EXPECT_FALSE(read_line(none)) << none;
  const auto zero = work(*find("hv"), {{"force", "0 N"}, {"d", "43 µm"}});
  EXPECT_NE(zero.error().message.find("more than nothing"), std::string::npos);
  EXPECT_FALSE(work(*find("hv"), {{"force", "-5 N"}, {"d", "43 µm"}}));
  EXPECT_FALSE(work(*find("elongation"), {{"a", "25 %"}, {"from", "50 mm"}, {"to", "80 mm"}, {"steel", "wood"}}));
}

}  // namespace
}  // namespace fortitor::slate::slate_test
