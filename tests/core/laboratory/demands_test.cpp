// Demand sheets: read, refused, put to records, and held against pieces whose values are known.
#include "core/laboratory/demands.h"

#include <gtest/gtest.h>

#include <random>

#include "core/laboratory/entry.h"

namespace fortitor::lab::demands_test {
namespace {

Reading typed(const std::string& text, double value) {
  Reading r;
  r.typed = text;
  r.value = value;
  return r;
}

// A piece whose one result is known: nothing is measured here.
struct Piece {
  TestRecord record;
  std::optional<Evaluation> evaluation;
};
Piece piece(double rm, bool tested = true) {
  Piece p;
  p.record.method = "tension-metal";
  if (!tested) return p;
  p.evaluation.emplace();
  p.evaluation->method = "tension-metal";
  ResultValue r;
  r.spec = *methods::find("tension-metal")->result("rm");
  r.value = rm;
  p.evaluation->results.push_back(r);
  return p;
}
std::vector<DemandPiece> as_pieces(const std::vector<Piece>& all) {
  std::vector<DemandPiece> out;
  for (size_t i = 0; i < all.size(); ++i)
    out.push_back({static_cast<long long>(i + 1), "P-" + std::to_string(i + 1), &all[i].record,
                   all[i].evaluation ? &*all[i].evaluation : nullptr});
  return out;
}
DemandSheet sheet_of(SetRule rule, int pieces, double min = 500) {
  DemandSheet s;
  s.name = "bar";
  DemandRow row;
  row.method = "tension-metal";
  row.key = "rm";
  row.limit.min = typed(std::to_string(int(min)) + " MPa", min);
  row.rule = rule;
  row.pieces = pieces;
  s.rows.push_back(row);
  return s;
}

TEST(Demands, ShippedSheetsAreReadAndNameTheirStandard) {
  const auto& all = shipped_demands();
  ASSERT_GE(all.size(), 12u);
  for (const DemandSheet& s : all) {
    EXPECT_TRUE(check(s)) << s.name;
    EXPECT_FALSE(s.source.empty()) << s.name;
    EXPECT_FALSE(s.edition.empty()) << s.name;
  }
}

TEST(Demands, JsonAndCsvGiveBackWhatWasWritten) {
  const auto json = demands_from_json(demands_to_json(shipped_demands()));
  ASSERT_TRUE(json) << json.error().message;
  EXPECT_EQ(demands_to_json(*json), demands_to_json(shipped_demands()));
  const auto csv = demands_from_csv(demands_to_csv(shipped_demands()));
  ASSERT_TRUE(csv) << csv.error().message;
  EXPECT_EQ(demands_to_json(*csv), demands_to_json(shipped_demands()));
}

TEST(Demands, WhatIsWrongIsSaidWithItsPlace) {
  const auto why = [](const std::string& rows) {
    const auto read =
        demands_from_json(R"({"fortitor": "demands/1", "sheets": [{"name": "x", "rows": [)" + rows + "]}]}");
    return read ? std::string() : read.error().message;
  };
  const std::string row = R"({"method": "tension-metal", "key": "rm", )";
  EXPECT_EQ(why(row + R"("min": "500 MPa"})"), "");
  EXPECT_NE(why(row + R"("min": "500 mm"})").find("sheets[0].rows[0].min"), std::string::npos);
  EXPECT_NE(why(row + R"("least": 1})").find("rows[0].least: unknown"), std::string::npos);
  EXPECT_NE(why(R"({"method": "tension-metal", "key": "rmm"})").find("no result"), std::string::npos);
  EXPECT_NE(why(R"({"method": "pulling", "key": "rm"})").find("unknown"), std::string::npos);
  EXPECT_NE(why(row + R"("min": "600 MPa", "max": "500 MPa"})").find("holds for nothing"), std::string::npos);
  EXPECT_NE(why(row + R"("pieces": 0})").find("from 1 to 1000"), std::string::npos);
  EXPECT_NE(why(row + R"("rule": "some"})").find("rule"), std::string::npos);
  EXPECT_NE(why(row + R"("min": "500 MPa"}, )" + row + R"("min": "510 MPa"})").find("demands twice"),
            std::string::npos);
  EXPECT_NE(why("").find("demands nothing"), std::string::npos);
}

TEST(Demands, ThicknessDirectionAndTemperatureSayWhichRowSpeaks) {
  const auto& all = shipped_demands();
  const auto s355 = std::find_if(all.begin(), all.end(), [](const auto& s) { return s.name == "S355J2"; });
  ASSERT_NE(s355, all.end());
  TestRecord r;
  r.method = "tension-metal";
  DemandSheet sheet = *s355;
  const Applied without = apply(sheet, r);
  EXPECT_TRUE(without.set.empty());
  EXPECT_FALSE(without.left.empty());
  for (const auto& [thickness, reh] : {std::pair(16.0, 355.0), {16.01, 345.0}, {40.0, 345.0}}) {
    r.fields.set("specimen.product_thickness", typed("t", thickness));
    apply(sheet, r);
    ASSERT_TRUE(r.limits.count("reh"));
    EXPECT_EQ(*r.limits["reh"].min->value, reh) << thickness;
    EXPECT_EQ(*r.limits["rm"].min->value, 470);
    EXPECT_EQ(r.fields.text("settings.demand"), "S355J2 · EN 10025-2:2019");
  }
  r.fields.set("specimen.product_thickness", typed("t", 41));
  EXPECT_TRUE(apply(sheet, r).set.empty());
  EXPECT_TRUE(r.limits.empty());
  TestRecord blow;
  blow.method = "impact-pendulum";
  apply(sheet, blow);
  EXPECT_EQ(*blow.limits["energy"].min->value, 27);
  EXPECT_EQ(blow.fields.number("specimen.temperature"), -20);
  blow.fields.set("specimen.temperature", typed("0 °C", 0));
  EXPECT_TRUE(apply(sheet, blow).set.empty());
  sheet.direction = "longitudinal";
  r.fields.set("specimen.product_thickness", typed("t", 10));
  r.fields.set("specimen.direction", std::string("transverse"));
  EXPECT_TRUE(apply(sheet, r).set.empty());
}

// EN 10021: every piece; the mean with one below and none below 70 %; two for each that failed.
TEST(Completeness, SetsOfKnownValues) {
  const auto set = [](SetRule rule, int wanted, const std::vector<double>& values) {
    std::vector<Piece> all;
    for (double v : values) all.push_back(piece(v, v > 0));
    return completeness(sheet_of(rule, wanted), as_pieces(all)).lines.at(0);
  };
  using C = CellState;
  EXPECT_EQ(set(SetRule::every, 2, {510, 520}).set, C::meets);
  EXPECT_EQ(set(SetRule::every, 2, {510}).set, C::waiting);
  EXPECT_EQ(set(SetRule::every, 2, {510}).still_to_make(), 1);
  EXPECT_EQ(set(SetRule::every, 2, {510, 0}).set, C::waiting);
  EXPECT_EQ(set(SetRule::every, 2, {510, 0}).still_to_make(), 0);
  EXPECT_EQ(set(SetRule::every, 2, {510, 499}).set, C::fails);
  EXPECT_EQ(set(SetRule::mean_of_three, 3, {490, 510, 505}).set, C::meets);
  EXPECT_EQ(set(SetRule::mean_of_three, 3, {490, 495, 560}).set, C::fails);  // two below
  EXPECT_EQ(set(SetRule::mean_of_three, 3, {349, 700, 700}).set, C::fails);  // one below 70 %
  EXPECT_EQ(set(SetRule::mean_of_three, 3, {351, 700, 700}).set, C::meets);
  EXPECT_EQ(set(SetRule::mean_of_three, 3, {480, 505, 506}).set, C::fails);  // the mean
  const auto open = set(SetRule::retest, 2, {510, 490});
  EXPECT_TRUE(open.retest_open);
  EXPECT_EQ(open.set, C::open);
  EXPECT_EQ(open.wanted, 4);
  EXPECT_EQ(set(SetRule::retest, 2, {510, 490, 511}).still_to_make(), 1);
  EXPECT_EQ(set(SetRule::retest, 2, {510, 490, 511, 512}).set, C::meets);
  EXPECT_EQ(set(SetRule::retest, 2, {510, 490, 511, 498}).set, C::fails);
}

// Hundreds of sets by a model of its own: counts what a person would count.
TEST(Completeness, AgreesWithCountingByHand) {
  std::mt19937 random(7);
  for (int round = 0; round < 500; ++round) {
    const int wanted = 1 + int(random() % 4), n = int(random() % 7);
    std::vector<Piece> all;
    int tested = 0, met = 0, failed = 0;
    for (int i = 0; i < n; ++i) {
      const bool run = random() % 4 != 0;
      const double v = 450 + double(random() % 100);
      all.push_back(piece(v, run));
      tested += run;
      met += run && v >= 500;
      failed += run && v < 500;
    }
    const auto line = completeness(sheet_of(SetRule::every, wanted), as_pieces(all)).lines.at(0);
    EXPECT_EQ(line.cut, n);
    EXPECT_EQ(line.tested, tested);
    EXPECT_EQ(line.met, met);
    EXPECT_EQ(line.failed, failed);
    EXPECT_EQ(line.still_to_make(), std::max(0, wanted - n));
    EXPECT_EQ(line.set, failed > 0 ? CellState::fails : tested >= wanted ? CellState::meets : CellState::waiting);
  }
}

TEST(Completeness, AVoidTestIsMadeAgain) {
  std::vector<Piece> all = {piece(510), piece(520)};
  all[1].evaluation->verdict = Verdict::void_test;
  const auto line = completeness(sheet_of(SetRule::every, 2), as_pieces(all)).lines.at(0);
  EXPECT_EQ(line.cells[1], CellState::void_test);
  EXPECT_EQ(line.tested, 1);
  EXPECT_EQ(line.still_to_make(), 1);
}

TEST(Demands, ALaterEditionSaysWhatIsOther) {
  DemandSheet was = sheet_of(SetRule::every, 2), now = was;
  EXPECT_TRUE(differences(was, now).empty());
  now.rows[0].limit.min = typed("520 MPa", 520);
  ASSERT_EQ(differences(was, now).size(), 1u);
  EXPECT_NE(differences(was, now)[0].find("is now"), std::string::npos);
  now = was;
  now.rows[0].pieces = 3;
  EXPECT_NE(differences(was, now).at(0).find("another way"), std::string::npos);
}

TEST(DocumentNumbers, FollowOneAnotherWithoutGaps) {
  const std::string pattern = "{year}-{0000}";
  EXPECT_EQ(*next_number(pattern, 2026, {}), "2026-0001");
  EXPECT_EQ(*next_number(pattern, 2026, {"2025-0099", "2026-0001", "2026-0002"}), "2026-0003");
  EXPECT_EQ(*next_number(pattern, 2027, {"2026-0002"}), "2027-0001");
  EXPECT_EQ(*next_number(pattern, 2026, {"2026-9999"}), "2026-10000");
  EXPECT_EQ(*next_number("TL {000}/{year}", 2026, {"TL 007/2026"}), "TL 008/2026");
  std::vector<std::string> given;
  for (int i = 1; i <= 300; ++i) {
    given.push_back(*next_number("{year}/{00}", 2026, given));
    EXPECT_EQ(given.back(), "2026/" + std::string(i < 10 ? "0" : "") + std::to_string(i));
  }
}

TEST(DocumentNumbers, APatternThatWouldRepeatIsRefused) {
  for (const char* pattern : {"{year}", "TC", "{0000}{0000}", "{year}{0000}", "{0000}2026", "{abc}", "{year}-{0000"}) {
    const auto made = next_number(pattern, 2026, {});
    EXPECT_FALSE(made) << pattern;
  }
}

}  // namespace
}  // namespace fortitor::lab::demands_test
