// A careful person on a sound machine raises no check. A break near a mark is no fault of the person: the piece chose.
#include "tests/core/methods/method_records.h"

namespace fortitor::clean_test {
namespace {

class Clean : public testing::TestWithParam<const Method*> {};

TEST_P(Clean, RunsOfTheStandInRaiseNoCheck) {
  const Method& m = *GetParam();
  const standin::Bench* bench = standin::find_bench(m.standin);
  ASSERT_NE(bench, nullptr);
  constexpr int seeds = 25;
  for (int seed = 1; seed <= seeds; ++seed)
    for (size_t p = 0; p < std::max<size_t>(1, bench->pieces.size()); ++p) {
      if (seed > 6 && p > 0) break;  // every kind of piece a few times, the first of them often
      standin::SimulateOptions o;
      o.method = m.id;
      o.seed = uint64_t(seed);
      if (!bench->pieces.empty()) o.piece = bench->pieces[p].value;
      TestRecord r = bench->simulate(o);
      r.method = m.id;
      const Evaluation e = methods::evaluate(r, {.uncertainty = false});
      for (const Finding& f : e.findings) {
        if (f.severity == Severity::note || f.code == "break-outside-middle") continue;
        // Pieces that are there to show what they are named for, and cells that the person would have changed.
        const bool shown = o.piece.find("at-grip") != std::string::npos ||
                           o.piece.find("block-bond") != std::string::npos ||
                           o.piece.find("cross-grain") != std::string::npos;
        if (shown || f.code == "cell-low") continue;
        ADD_FAILURE() << m.id << " " << o.piece << " seed " << seed << ": " << f.code << ": " << f.message;
      }
      EXPECT_FALSE(e.results.empty());
    }
}

INSTANTIATE_TEST_SUITE_P(OfEveryMethod, Clean, testing::ValuesIn(methods::all().begin(), methods::all().end()),
                         method_test_name);

}  // namespace
}  // namespace fortitor::clean_test
