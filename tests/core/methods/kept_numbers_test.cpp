// What is said of every piece and fault of the stand-ins, of every file among the tests and of a series of each method
// is kept as text beside the tests: a change of core that moves any of it is printed by its meaning, meant or not.
// After a meant change write them anew with
//   FORTITOR_KEEP=1 build/release/bin/core_tests --gtest_filter='*KeptNumbers*'
// read the diff, and say in the commit why each line moved. That they are right is for the other tests to show.
#include <cstdlib>
#include <filesystem>

#include "core/series/series.h"
#include "tests/core/methods/kept_text.h"
#include "tests/core/methods/method_records.h"

namespace fortitor::kept_numbers_test {
namespace {

class KeptNumbers : public testing::TestWithParam<const Method*> {
 protected:
  const Method& method() const { return *GetParam(); }
  const standin::Bench& bench() const { return *standin::find_bench(method().standin); }
  TestRecord made(const std::string& piece, uint64_t seed, const std::string& fault = "") const {
    standin::SimulateOptions o;
    o.method = method().id;
    o.piece = piece;
    o.seed = seed;
    o.sampling = some_thousand_rows(method());
    if (!fault.empty()) o.faults.insert(fault);
    TestRecord r = bench().simulate(o);
    r.method = method().id;
    return r;
  }
  std::vector<std::string> pieces() const {
    std::vector<std::string> out;
    for (const Choice& c : bench().pieces) out.push_back(c.value);
    if (out.empty()) out.push_back("");
    return out;
  }
};

TEST_P(KeptNumbers, OfEveryPieceAndEveryFault) {
  std::string now;
  uint64_t seed = 11;
  for (const std::string& piece : pieces()) now += "== " + piece + "\n" + kept_text(made(piece, seed++));
  for (const Choice& fault : bench().faults)
    now += "== " + pieces()[0] + " with " + fault.value + "\n" + kept_text(made(pieces()[0], seed++, fault.value));
  hold_kept(method().id, now);
}

TEST_P(KeptNumbers, OfEverySeries) {
  std::vector<TestRecord> records;
  for (uint64_t seed = 40; seed < 47; ++seed) records.push_back(made(pieces()[0], seed));
  std::vector<Evaluation> evaluations;
  for (const TestRecord& r : records) evaluations.push_back(methods::evaluate(r));
  std::vector<SeriesPiece> judged;
  for (size_t i = 0; i < records.size(); ++i) judged.push_back({&records[i], &evaluations[i]});
  std::string now;
  for (const std::string& key : method().limit_keys) {
    TestRecord settings;
    settings.method = method().id;
    settings.fields.set("settings.result", key);
    now += "== " + key + "\n" + kept_text(series_evaluate(method(), judged, settings));
  }
  hold_kept(method().id + "-series", now);
}

INSTANTIATE_TEST_SUITE_P(OfEveryMethod, KeptNumbers, testing::ValuesIn(methods::all().begin(), methods::all().end()),
                         method_test_name);

TEST(KeptNumbersOfFiles, OfEveryRecordAmongTheTests) {
  namespace fs = std::filesystem;
  const std::vector<std::string> files = record_files();
  ASSERT_GT(files.size(), 20u);
  std::string now;
  for (const std::string& file : files) {
    now += "== " + fs::relative(file, FORTITOR_TEST_DATA).string() + "\n";
    const auto record = load_record(file);
    now += record ? kept_text(*record)
                  : "refused: " + record.error().message.substr(record.error().message.find(':') + 1) + "\n";
  }
  hold_kept("files", now);
}

TEST(KeptText, SeesWhatMovedAndForgivesTheLastPlace) {
  EXPECT_EQ(differences("a 1.23450e+02 b\n", "a 1.23451e+02 b\n"), "");
  EXPECT_NE(differences("a 1.23450e+02 b\n", "a 1.23453e+02 b\n"), "");
  EXPECT_NE(differences("5 samples\n", "6 samples\n"), "");
  EXPECT_NE(differences("== x\nlow\n", "== x\nhigh\n"), "");
  EXPECT_EQ(differences("at 10.1, 4.0\n", "at 10.2, 4.0\n"), "");
  EXPECT_NE(differences("step 0.001\n", "step 0.0015\n"), "");
  EXPECT_NE(differences("12.3 mm\n", "12.34 mm\n"), "") << "another number of digits";
  EXPECT_EQ(differences("10 mm\n", "9.99 mm\n"), "");
}

TEST(KeptText, SaysEveryDifferenceByItsMeaning) {
  const std::string was =
      "== bar\nrm R_m = 5.27000e+02 U 4.00000e+00 as 527 MPa none\nre R_e = 3.1e+02 U 2e+00 as 310\n! check slip e: it "
      "slips at 3 s\n";
  EXPECT_EQ(differences(was,
                        "== bar\nrm R_m = 5.29000e+02 U 4.00000e+00 as 529 MPa none\n! note drift : it drifts\n! check "
                        "slip e: it slips at 4 s\n"),
            "bar: result rm (0.5 of U)\n    from rm R_m = 5.27000e+02 U 4.00000e+00 as 527 MPa none\n    to   rm R_m = "
            "5.29000e+02 U 4.00000e+00 as 529 MPa none\n"
            "bar: gone: re R_e = 3.1e+02 U 2e+00 as 310\n"
            "bar: finding slip\n    from ! check slip e: it slips at 3 s\n    to   ! check slip e: it slips at 4 s\n"
            "bar: new: ! note drift : it drifts\n");
}

}  // namespace
}  // namespace fortitor::kept_numbers_test
