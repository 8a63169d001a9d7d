#include "core/section/section.h"

#include <gtest/gtest.h>

#include <numbers>

namespace fortitor::section_test {
namespace {

Fields with(const std::string& shape, const std::map<std::string, std::pair<std::string, Dimension>>& values) {
  Fields f;
  f.set("specimen.section.shape", shape);
  for (const auto& [name, v] : values)
    f.set("specimen.section." + name, Readings{reading_of(parse_quantity(v.first, v.second).value())});
  return f;
}

constexpr Dimension L = Dimension::length;

TEST(Section, AreasInClosedForm) {
  using std::numbers::pi;
  EXPECT_NEAR(section_of(with("round", {{"diameter", {"10 mm", L}}})).area, 25 * pi, 1e-9);
  EXPECT_NEAR(section_of(with("flat", {{"width", {"20 mm", L}}, {"thickness", {"5 mm", L}}})).area, 100, 1e-9);
  EXPECT_NEAR(section_of(with("tube", {{"outer", {"30 mm", L}}, {"inner", {"20 mm", L}}})).area, 125 * pi, 1e-9);
  EXPECT_NEAR(section_of(with("tube", {{"outer", {"30 mm", L}}, {"wall", {"5 mm", L}}})).area, 125 * pi, 1e-9);
  EXPECT_NEAR(section_of(with("by-mass", {{"mass", {"785 g", Dimension::mass}},
                                          {"length", {"1 m", L}},
                                          {"density", {"7850 kg/m3", Dimension::density}}}))
                  .area,
              100, 1e-9);
}

TEST(Section, RoundSizesAreWholeMillimetresOrSixteenthsOfAnInch) {
  auto round = [](const char* typed) {
    return dimension_of(with("round", {{"diameter", {typed, L}}}), "specimen.section.diameter", "d", "diameter")
        .round_sizes;
  };
  for (const char* typed : {"10 mm", "12.0 mm", "0.5 in", "0.0625 in", "3/16 in", "1.4375 in"})
    EXPECT_TRUE(round(typed)) << typed;
  for (const char* typed : {"10.5 mm", "12.7 mm", "0.51 in", "0.03125 in", "0.03937 in"})
    EXPECT_FALSE(round(typed)) << typed;
}

TEST(Section, SaysWhatIsMissing) {
  EXPECT_EQ(section_of({}).missing, "The diameter is not measured yet.");
  EXPECT_EQ(section_of(with("flat", {{"width", {"20 mm", L}}})).missing, "The thickness is not measured yet.");
  EXPECT_NE(section_of(with("tube", {{"outer", {"30 mm", L}}, {"wall", {"16 mm", L}}})).missing, "");
  EXPECT_EQ(section_of(with("tube", {{"outer", {"30 mm", L}}, {"wall", {"16 mm", L}}})).area, 0);
}

TEST(Section, MissedReadingsDoNotCount) {
  Fields f;
  f.set("specimen.section.diameter", Readings{reading_of(parse_quantity("10.0 mm", L).value()), Reading{},
                                              reading_of(parse_quantity("10.2 mm", L).value())});
  const Dim d = section_of(f).dims[0];
  EXPECT_DOUBLE_EQ(d.mean, 10.1);
  EXPECT_EQ(d.missed, 1u);
  EXPECT_EQ(d.values.size(), 2u);
}

}  // namespace
}  // namespace fortitor::section_test
