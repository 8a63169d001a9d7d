// Two entries at a time: every one left out or another with every other one left out or another. What a default, a choice or a
// limit says only beside another is said in no single change. All that is told is summed up, one line for each first entry.
#include <sstream>

#include "tests/core/methods/kept_text.h"
#include "tests/core/methods/made.h"
#include "tests/core/methods/short_text.h"

namespace fortitor::varied_pairs_test {
namespace {

struct Change {
  std::string path;
  std::optional<FieldValue> value;  ///< none: left out
  bool choice = false;
  std::string word;
};

std::vector<Change> changes(const Method& m, const TestRecord& r) {
  std::vector<Change> out;
  for (const auto& [path, value] : r.fields.all()) {
    if (path.starts_with("equipment.standin") || path == "specimen.id") continue;
    out.push_back({path, std::nullopt, false, "none"});
    if (const auto* one = std::get_if<Reading>(&value))
      for (double factor : {0.31, 3.7}) out.push_back({path, times(*one, factor), false, num(factor)});
    if (const auto* number = std::get_if<double>(&value)) out.push_back({path, 3 * *number, false, "tripled"});
    if (const auto* flag = std::get_if<bool>(&value)) out.push_back({path, !*flag, true, *flag ? "off" : "on"});
  }
  for (const FieldSpec& f : m.fields)
    for (const Choice& c : f.choices)
      if (f.kind == FieldKind::choice && !f.path.starts_with("equipment.standin") && r.fields.text(f.path) != c.value)
        out.push_back({f.path, FieldValue(c.value), true, c.value});
  return out;
}

void make(Fields& fields, const Change& c) {
  if (c.value)
    fields.set(c.path, *c.value);
  else
    fields.erase(c.path);
}

class KeptNumbersVariedPairs : public testing::TestWithParam<const Method*> {
 protected:
  template <typename Say>
  void pairs(bool choices_alone, const TestRecord& whole, const Say& say) {
    const std::vector<Change> all = changes(*GetParam(), whole);
    for (const Change& a : all) {
      if (choices_alone && !a.choice) continue;
      Told told;
      for (const Change& b : all) {
        if (a.path == b.path || (choices_alone && b.value && !b.choice)) continue;
        TestRecord r = whole;
        make(r.fields, a);
        make(r.fields, b);
        say(r, told);
      }
      out_ << a.path << " " << a.word << ": " << told.text(8) << "\n";
    }
  }
  TestRecord whole() const {
    const Method& m = *GetParam();
    const standin::Bench& bench = *standin::find_bench(m.standin);
    return made_short(m, bench.pieces.empty() ? "" : bench.pieces.front().value, 27);
  }
  std::ostringstream out_;
};

TEST_P(KeptNumbersVariedPairs, OfWhatIsPlanned) {
  const Method& m = *GetParam();
  TestRecord r = whole();
  r.run = {};
  pairs(false, r, [&](const TestRecord& changed, Told& told) {
    const Plan plan = m.plan(changed);
    told.add(plan);
    for (const Advice& a : plan.advice) told.add(a.value);
    if (plan.expected) told.add(plan.expected->low), told.add(plan.expected->likely), told.add(plan.expected->high);
    told.add(plan.yield.value_or(0));
  });
  hold_kept("pairs-planned-" + m.id, out_.str());
}

TEST_P(KeptNumbersVariedPairs, OfChoices) {
  pairs(true, whole(), [&](const TestRecord& changed, Told& told) {
    const Evaluation e = methods::evaluate(changed, {.uncertainty = false});
    told.add(e);
    for (const ResultValue& r : e.results)
      if (!r.is_text()) told.add(r.value);
  });
  hold_kept("pairs-" + GetParam()->id, out_.str());
}

INSTANTIATE_TEST_SUITE_P(OfEveryMethod, KeptNumbersVariedPairs, testing::ValuesIn(methods::all().begin(), methods::all().end()), method_test_name);

}  // namespace
}  // namespace fortitor::varied_pairs_test
