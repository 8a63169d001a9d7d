// Every figure of every method at the sizes, scales and units in which it is shown and printed, kept as text: a space that
// no longer grows with the words, ticks that run into one another, a panel that has lost its room.
#include <sstream>

#include "tests/core/methods/kept_text.h"
#include "tests/core/methods/made.h"
#include "tests/core/methods/short_text.h"

namespace fortitor::kept_layouts_test {
namespace {

class KeptNumbersLayouts : public testing::TestWithParam<const Method*> {};

TEST_P(KeptNumbersLayouts, OfEveryFigure) {
  const Method& m = *GetParam();
  const standin::Bench& bench = *standin::find_bench(m.standin);
  const TestRecord r = made_short(m, bench.pieces.empty() ? "" : bench.pieces.front().value, 31);
  const Evaluation e = methods::evaluate(r, {.uncertainty = false});
  struct Size {
    double width, height, scale;
  };
  std::ostringstream out;
  for (const Size size : {Size{1000, 560, 1}, {520, 300, 1.3}, {900, 700, 2}, {320, 200, 1}, {180, 420, 1.25}, {640, 90, 1}, {1700, 1100, 1.6}})
    for (UnitSet set : {UnitSet::si, UnitSet::us}) {
      out << "== " << size.width << " by " << size.height << " at " << size.scale << (set == UnitSet::us ? " us" : "") << "\n";
      for (const Figure& f : e.figures)
        for (int way = 0; way < 3; ++way) {
          figure::Options options;
          options.width = size.width;
          options.height = size.height;
          options.text_scale = size.scale;
          options.set = set;
          if (way == 1) options.handles = true, options.held = 0;
          if (way == 2) options.cursor = 37, options.highlight = m.limit_keys.empty() ? "" : m.limit_keys.front();
          out << int(figure::arrangement(f, options)) << figure_text(f, options);
        }
    }
  hold_kept("layouts-" + m.id, out.str());
}

INSTANTIATE_TEST_SUITE_P(OfEveryMethod, KeptNumbersLayouts, testing::ValuesIn(methods::all().begin(), methods::all().end()), method_test_name);

}  // namespace
}  // namespace fortitor::kept_layouts_test
