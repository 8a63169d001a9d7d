// Every rule by which pieces are judged is seen on a piece of the demo: what stands in the book, evaluated anew.
#include <gtest/gtest.h>

#include <QTemporaryDir>
#include <map>

#include "core/methods/method.h"
#include "tests/app/demo_book_copy.h"

namespace fortitor::demo_rules_test {
namespace {

std::map<std::string, Evaluation> anchor_pins() {
  QTemporaryDir folder;
  const QString path = folder.filePath("demo.fortitor");
  EXPECT_EQ(copy_demo_book(path), "");
  auto book = Book::open(path.toStdString(), "R. Vale", test_clock());
  std::map<std::string, Evaluation> out;
  for (const JobRow& job : (*book)->jobs()) {
    if (job.code != "TC-046") continue;
    for (const SeriesRow& series : (*book)->series(job.id))
      for (const SpecimenRow& s : (*book)->specimens(series.id)) {
        const auto record = (*book)->record(s.id);
        EXPECT_TRUE(record) << s.code;
        if (record) out[s.code] = methods::evaluate(*record);
      }
  }
  return out;
}

TEST(DemoRules, EachIsSeenOnAPiece) {
  auto pins = anchor_pins();
  ASSERT_EQ(pins.size(), 15u);
  // One strength, one limit inside its U, four rules.
  for (const auto& [code, rule, verdict] : {std::tuple{"AP-01", "simple", Verdict::meets},
                                            {"AP-02", "guarded-acceptance", Verdict::fails},
                                            {"AP-03", "guarded-rejection", Verdict::meets},
                                            {"AP-04", "four", Verdict::conditional_pass}}) {
    const ResultValue* rm = pins[code].find("rm");
    EXPECT_EQ(rm->value, pins["AP-01"].find("rm")->value) << code;
    EXPECT_EQ(rm->verdict, verdict) << code;
    EXPECT_TRUE(rm->near) << code;
    EXPECT_GT(rm->probability, 0.7) << code;
    EXPECT_LT(rm->probability, 0.95) << code;
  }
  const std::map<std::string, std::string> said = {{"AP-05", "rounding-decides"}, {"AP-06", "rate-outside-plan"},
                                                   {"AP-07", "grip-preload"},     {"AP-11", "sub-size-limit"},
                                                   {"AP-12", "retest-open"},      {"AP-22", "conversion-refused"},
                                                   {"AP-32", "prestress-large"},  {"AP-41", "below-limit"}};
  for (const auto& [code, finding] : said) EXPECT_NE(pins[code].finding(finding), nullptr) << code << ", " << finding;
  // Zeroed with one grip open: what came when the second one closed is force, and is kept.
  EXPECT_NE(pins["AP-07"].finding("not-zeroed")->message.find("is kept"), std::string::npos);
  EXPECT_EQ(pins["AP-11"].verdict, Verdict::meets) << "20.2 J for a bar of 7.5 mm, not 27";
  // Struck again: the first set of the piece before fails alike, the six of this one meet.
  EXPECT_EQ(pins["AP-12"].verdict, Verdict::fails);
  EXPECT_EQ(pins["AP-13"].verdict, Verdict::meets);
  EXPECT_NE(pins["AP-21"].find("designation")->text.find("HRBW"), std::string::npos);
  EXPECT_EQ(pins["AP-22"].find("converted"), nullptr);
  // Without a toe taken off the strain begins at the prestress.
  EXPECT_NE(pins["AP-31"].find("eps_y")->value, pins["AP-32"].find("eps_y")->value);
  // Three blows do not get k = 2.
  EXPECT_GT(pins["AP-12"].find("energy")->coverage_factor(), 3);
}

}  // namespace
}  // namespace fortitor::demo_rules_test
