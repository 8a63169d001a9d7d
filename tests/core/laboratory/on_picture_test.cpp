#include "core/laboratory/on_picture.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "core/record/json.h"
#include "core/section/section.h"
#include "tests/core/methods/method_records.h"

namespace fortitor::lab::on_picture_test {
namespace {

TEST(OnPicture, AScaleNeedsALengthAndTwoMarks) {
  EXPECT_TRUE(scale_of(800, "10 mm", UnitSet::si));
  EXPECT_DOUBLE_EQ(scale_of(254, "1 in", UnitSet::si)->pixels_per_mm(), 10);
  EXPECT_FALSE(scale_of(3, "10 mm", UnitSet::si));
  EXPECT_FALSE(scale_of(800, "0 mm", UnitSet::si));
  EXPECT_FALSE(scale_of(800, "10 kN", UnitSet::si));
  EXPECT_FALSE(scale_of(NAN, "10 mm", UnitSet::si));
}

// Marks set a thousand times with the pointing of a hand: 95 of 100 truths lie within 2 u.
TEST(OnPicture, ItsUncertaintyHoldsWhatMarksDo) {
  std::mt19937 random(5);
  std::normal_distribution<double> slip(0, kPointing);
  std::uniform_real_distribution<double> off(-0.05, 0.05);
  int within = 0;
  constexpr int kAll = 4000;
  for (int i = 0; i < kAll; ++i) {
    const double per_mm = 40, truth = 7.3;
    // The known length is 10.0 mm as typed, and somewhere within its last digit in truth.
    const double scale_px = (10.0 + off(random)) * per_mm + slip(random) - slip(random);
    const double px = truth * per_mm + slip(random) - slip(random);
    const auto s = scale_of(scale_px, "10.0 mm", UnitSet::si);
    ASSERT_TRUE(s);
    const PictureLength l = length_on(*s, px);
    within += std::abs(l.value - truth) <= 2 * l.standard;
  }
  EXPECT_NEAR(double(within) / kAll, 0.955, 0.015);
}

TEST(OnPicture, AReadingSaysNoMoreThanIsKnown) {
  const auto fine = scale_of(4000, "50.00 mm", UnitSet::si), coarse = scale_of(100, "50 mm", UnitSet::si);
  EXPECT_EQ(reading_on(*fine, 800).typed, "10.00 mm");
  EXPECT_EQ(reading_on(*coarse, 20).typed, "10 mm");
  EXPECT_GT(reading_on(*coarse, 20).resolution, reading_on(*fine, 800).resolution);
}

// What is known of a distance goes with it: through the record, and into the budget of what rests on it.
TEST(OnPicture, TheUncertaintyOfADistanceReachesTheResult) {
  const auto scale = scale_of(200, "10 mm", UnitSet::si);
  ASSERT_TRUE(scale);
  const Reading r = reading_on(*scale, 400);  // 20 mm
  EXPECT_DOUBLE_EQ(r.standard, length_on(*scale, 400).standard);
  TestRecord record =
      record_of("compression-after-impact", {{"specimen.thickness", {"4.01 mm", "4.02 mm", "4.00 mm"}}});
  record.fields.set("specimen.width", Readings{r, r, r});
  const auto again = record_from_json(record_to_json(record));
  ASSERT_TRUE(again) << again.error().message;
  const Readings kept = again->fields.readings("specimen.width");
  ASSERT_EQ(kept.size(), 3u);
  EXPECT_EQ(kept[0].typed, r.typed);
  EXPECT_NEAR(kept[0].standard, r.standard, 1e-12);
  std::vector<UncertainInput> inputs;
  Section section;
  section.dims = {dimension_of(again->fields, "specimen.width", "w", "width")};
  section_inputs(section, 0.01, inputs);
  double square = 0;
  for (const UncertainInput& i : inputs) square += i.standard * i.standard;
  EXPECT_GE(std::sqrt(square), r.standard) << "three readings on one scale are no better than the scale";
  // Bad input is refused with its path.
  std::string bad = record_to_json(record);
  bad.replace(bad.find("\"uncertainty\":"), 14, "\"uncertainly\":");
  const auto refused = record_from_json(bad);
  ASSERT_FALSE(refused);
  EXPECT_NE(refused.error().message.find("uncertainly"), std::string::npos);
}

}  // namespace
}  // namespace fortitor::lab::on_picture_test
