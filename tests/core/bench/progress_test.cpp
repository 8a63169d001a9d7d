// What the stages still want, and what the program says while it waits.
#include "core/bench/progress.h"

#include "tests/core/methods/method_records.h"

namespace fortitor::progress_test {
namespace {

TEST(Progress, ASignedPieceKeepsNothingOpen) {
  for (const Method* m : methods::all()) {
    const TestRecord r = standin::find_bench(m->standin)->simulate({});
    const Evaluation e = methods::evaluate(r, {.uncertainty = false});
    const Progress p = progress_of(*m, r, &e, true);
    EXPECT_EQ(p[size_t(Stage::run)].state, StageProgress::State::done) << m->id;
    EXPECT_EQ(p[size_t(Stage::after)].state, StageProgress::State::done)
        << m->id << ": " << (p[size_t(Stage::after)].missing.empty() ? "" : p[size_t(Stage::after)].missing[0]);
  }
}

// Nothing shared speaks of one kind of test.
TEST(Progress, BeforeTheRunEveryMethodSpeaksItsOwnWords) {
  for (const Method* m : methods::all()) {
    EXPECT_FALSE(m->wording.run_first.empty()) << m->id;
    EXPECT_FALSE(m->wording.growing.empty()) << m->id;
    EXPECT_FALSE(m->wording.after_run.empty()) << m->id;
    TestRecord r;
    r.method = m->id;
    const Progress p = progress_of(*m, r, nullptr, false);
    for (const std::string& line : p[size_t(Stage::after)].missing) {
      if (m->id.find("tension-metal") == 0) continue;
      EXPECT_EQ(line.find("halves"), std::string::npos) << m->id << ": " << line;
    }
  }
}

TEST(Progress, AnOpenRunIsOnlyBegun) {
  TestRecord r = record_of("flexure-beam", {});
  add_stop(r, {{"force", "0 N"}, {"deflection", "0.00 mm"}});
  r.run.open = true;
  const Progress p = progress_of(*methods::find("flexure-beam"), r, nullptr, false);
  EXPECT_EQ(p[size_t(Stage::run)].state, StageProgress::State::begun);
  EXPECT_EQ(p[size_t(Stage::evaluate)].state, StageProgress::State::open);
  EXPECT_EQ(progress_code(p).size(), size_t(kStageCount));
  EXPECT_EQ(next_stage("2221000"), Stage::run);
  EXPECT_EQ(next_stage("2222222"), Stage::sign_off);
}

}  // namespace
}  // namespace fortitor::progress_test
