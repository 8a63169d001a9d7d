// Records that once ended the program, and jolts of every kind at every place: whatever comes out is said, nothing
// falls.
#include <filesystem>
#include <limits>

#include "tests/c_text.h"
#include "tests/core/methods/method_records.h"

namespace fortitor::jolted_test {
namespace {

void expect_sound(const Evaluation& e, const std::string& where) {
  for (const ResultValue& r : e.results) {
    if (r.is_text()) continue;
    EXPECT_TRUE(std::isfinite(r.value)) << where << " " << r.spec.key;
    EXPECT_TRUE(std::isfinite(r.standard_uncertainty) && r.standard_uncertainty >= 0) << where << " " << r.spec.key;
  }
  EXPECT_EQ(e.finding("evaluation-failed"), nullptr) << where;
}

TEST(Jolted, RecordsThatOnceEndedTheProgram) {
  size_t seen = 0;
  for (const auto& entry : std::filesystem::directory_iterator(FORTITOR_TEST_DATA "/review/book")) {
    if (entry.path().extension() != ".json") continue;
    const auto record = load_record(entry.path().string());
    ASSERT_TRUE(record) << record.error().message;
    expect_sound(methods::evaluate(*record), entry.path().filename().string());
    ++seen;
  }
  EXPECT_EQ(seen, 4u);
}

class JoltedMethod : public testing::TestWithParam<const Method*> {
 protected:
  TestRecord coarse(uint64_t seed) const {
    standin::SimulateOptions o;
    o.method = GetParam()->id;
    o.seed = seed;
    o.sampling = 10;
    TestRecord r = standin::find_bench(GetParam()->standin)->simulate(o);
    r.method = GetParam()->id;
    return r;
  }
};

TEST_P(JoltedMethod, OneSampleAnywhereIsNoEnd) {
  const TestRecord whole = coarse(3);
  const SamplesPtr samples = whole.run.samples();
  if (!samples) return;  // keyed by hand: misread_test
  const double jolts[] = {std::numeric_limits<double>::quiet_NaN(), 0, 1e9, -1e9, 1e-300};
  const size_t n = samples->size();
  for (const Channel& c : samples->channels)
    for (size_t k = 0; k < 14; ++k) {
      const size_t at = std::min(n - 1, k == 13 ? n - 1 : n * k / 13);
      for (double jolt : jolts)
        for (size_t width : {size_t(1), size_t(7)}) {
          auto own = std::make_shared<Samples>(*samples);
          auto& v = own->column(c.name).values;
          for (size_t i = at; i < std::min(n, at + width); ++i) v[i] = jolt;
          TestRecord r = whole;
          r.run.set_samples(own);
          expect_sound(methods::evaluate(r, {.uncertainty = width == 1}),
                       c.name + " " + c_number(jolt) + " at " + std::to_string(at));
        }
    }
}

TEST_P(JoltedMethod, ARunCutAnywhereIsNoEnd) {
  const TestRecord whole = coarse(4);
  const SamplesPtr samples = whole.run.samples();
  if (!samples) return;
  const size_t n = samples->size();
  for (size_t k = 0; k < 60; ++k) {
    const size_t from = k % 3 == 2 ? n * k / 120 : 0, to = k % 3 == 1 ? n * k / 60 : std::min(n, from + 1 + n * k / 60);
    if (to <= from) continue;
    auto own = std::make_shared<Samples>(*samples);
    for (Channel& c : own->channels) c.values = {c.values.begin() + long(from), c.values.begin() + long(to)};
    TestRecord r = whole;
    r.run.set_samples(own);
    expect_sound(methods::evaluate(r), std::to_string(from) + " to " + std::to_string(to));
  }
}

INSTANTIATE_TEST_SUITE_P(OfEveryMethod, JoltedMethod, testing::ValuesIn(methods::all().begin(), methods::all().end()),
                         method_test_name);

}  // namespace
}  // namespace fortitor::jolted_test
