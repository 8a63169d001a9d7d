#include "core/reference/hardness.h"

#include <gtest/gtest.h>

#include <cmath>
#include <fstream>
#include <set>
#include <sstream>

#include "tests/c_text.h"

namespace fortitor::hardness_test {
namespace {

TEST(Hardness, EveryRowOfTheTableIsGivenBack) {
  std::ifstream in(FORTITOR_SOURCE_DIR "/data/reference/hardness-conversion.csv");
  std::string line;
  std::getline(in, line);
  size_t seen = 0;
  while (std::getline(in, line)) {
    if (!line.empty() && line.back() == '\r') line.pop_back();
    std::vector<std::string> cells;
    std::stringstream s(line);
    for (std::string c; std::getline(s, c, ',');) cells.push_back(c);
    cells.resize(9);
    const auto& scales = converted_scales();
    for (size_t a = 0; a < 9; ++a)
      for (size_t b = 0; b < 9; ++b) {
        // One value of a coarse scale stands in both parts of the table.
        if (cells[a].empty() || cells[b].empty()) continue;
        if (c_strtod(cells[2].c_str(), nullptr) < 245 && c_strtod(cells[2].c_str(), nullptr) > 225) continue;
        const auto v = convert_hardness(c_strtod(cells[a].c_str(), nullptr), scales[a], scales[b]);
        ASSERT_TRUE(v) << cells[a] << " " << scales[a] << " to " << scales[b] << ": " << v.error().message;
        EXPECT_DOUBLE_EQ(*v, c_strtod(cells[b].c_str(), nullptr)) << line;
        ++seen;
      }
  }
  EXPECT_GT(seen, 3000u);
}

TEST(Hardness, BetweenRowsItIsLinear) {
  EXPECT_NEAR(*convert_hardness(45.5, "HRC", "HV"), 452, 1e-9);  // 446 and 458
  EXPECT_NEAR(*convert_hardness(452, "HV", "HRC"), 45.5, 1e-9);
  EXPECT_NEAR(*convert_hardness(85.5, "HRB", "HBW"), 167, 1e-9);  // 165 and 169
  EXPECT_NEAR(*convert_hardness(240, "HV", "HRB"), 100, 1e-9);
  EXPECT_NEAR(*convert_hardness(50, "hrc", "30n"), 68.5, 1e-9) << "names as people type them";
}

TEST(Hardness, OutsideTheTableItIsRefusedWithTheRange) {
  for (const auto& [value, from, to] : {std::tuple{19.0, "HRC", "HV"},
                                        {69.0, "HRC", "HV"},
                                        {101.0, "HRB", "HV"},
                                        {66.0, "HRC", "HBW"},
                                        {90.0, "HRB", "HRC"},
                                        {NAN, "HV", "HRC"}}) {
    const auto v = convert_hardness(value, from, to);
    EXPECT_FALSE(v) << value << from << to;
  }
  const auto v = convert_hardness(66, "HRC", "HBW");
  EXPECT_NE(v.error().message.find("20 to 65"), std::string::npos) << v.error().message;
  EXPECT_FALSE(convert_hardness(50, "HRX", "HV"));
  EXPECT_FALSE(convert_hardness(50, "HRE", "HV")) << "a scale without a column";
}

TEST(Hardness, ThereAndBackIsTheSame) {
  for (const std::string& scale : converted_scales())
    for (double hv = 130; hv < 900; hv += 7) {
      const auto there = convert_hardness(hv, "HV", scale);
      if (!there || (hv > 220 && hv < 245)) continue;
      // Two rows may share a value on a coarse scale; only what is told apart comes back.
      const auto back = convert_hardness(*there, scale, "HV");
      ASSERT_TRUE(back) << hv << " " << scale;
      EXPECT_NEAR(*back, hv, 6) << scale;
    }
}

TEST(Hardness, AllScalesOfTheSpecification) {
  std::set<std::string> ids;
  for (const RockwellScale& s : rockwell_scales()) ids.insert(std::string(s.id));
  EXPECT_EQ(ids.size(), 30u);
  const RockwellScale* c = find_rockwell("hrc");
  ASSERT_NE(c, nullptr);
  EXPECT_TRUE(c->diamond());
  EXPECT_EQ(c->total, 150);
  EXPECT_EQ(find_rockwell("B")->ball, 1.5875);
  EXPECT_EQ(find_rockwell("45T")->s, 0.001);
  EXPECT_EQ(find_rockwell("HR15X")->ball, 6.35);
  EXPECT_EQ(find_rockwell("Q"), nullptr);
}

TEST(Hardness, StrengthIsAnEstimateForOrdinarySteelsOnly) {
  EXPECT_NEAR(strength_of_brinell(200), 690, 1e-9);
  EXPECT_NEAR(strength_of_vickers(300), 980.665, 1e-9);
  EXPECT_TRUE(strength_can_be_estimated("carbon steel"));
  EXPECT_TRUE(strength_can_be_estimated("alloy steel"));
  for (const char* f : {"austenitic stainless steel", "cast iron", "aluminium alloy", "", "brass"})
    EXPECT_FALSE(strength_can_be_estimated(f)) << f;
}

}  // namespace
}  // namespace fortitor::hardness_test
