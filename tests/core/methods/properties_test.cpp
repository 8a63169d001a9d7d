// What holds of every method whatever was done to a record: nothing falls, every number is one, every sentence can be
// read, and what cannot matter (the unit a size was typed in, the order of keys and of channels) changes nothing.
#include <algorithm>
#include <cmath>

#include "core/bench/records.h"
#include "core/record/json.h"
#include "core/record/rules.h"
#include "tests/core/methods/made.h"
#include "tests/core/methods/spoilt.h"

namespace fortitor::properties_test {
namespace {

// Of each method and way of spoiling; three thousand a way over all methods. A sanitizer sees as much in fewer.
#ifdef __SANITIZE_ADDRESS__
constexpr uint64_t kRecords = 40;
#else
constexpr uint64_t kRecords = 150;
#endif

class Properties : public testing::TestWithParam<const Method*> {
 protected:
  const Method& method() const { return *GetParam(); }
  const standin::Bench& bench() const { return *standin::find_bench(method().standin); }
  std::vector<TestRecord> pieces() const {
    std::vector<TestRecord> out;
    for (size_t i = 0; i < std::max<size_t>(1, bench().pieces.size()); ++i)
      out.push_back(made_short(method(), bench().pieces.empty() ? "" : bench().pieces[i].value, 300 + i, "", 20));
    for (const Choice& fault : bench().faults)
      out.push_back(made_short(method(), bench().pieces.empty() ? "" : bench().pieces[0].value, 400 + out.size(),
                               fault.value, 20));
    return out;
  }
};

// No "nan" and no "inf" as a word of its own.
bool readable(const std::string& sentence) {
  for (const char* word : {"nan", "inf", "-nan", "-inf"})
    for (size_t at = sentence.find(word); at != std::string::npos; at = sentence.find(word, at + 1)) {
      const size_t end = at + std::string(word).size();
      const bool starts = at == 0 || !std::isalpha(static_cast<unsigned char>(sentence[at - 1]));
      if (starts && (end == sentence.size() || !std::isalpha(static_cast<unsigned char>(sentence[end])))) return false;
    }
  return true;
}

// A finding of a reading names the column it stands in.
bool is_column(const Method& m, const std::string& key) {
  return std::any_of(m.tables.begin(), m.tables.end(), [&](const TableSpec& t) { return t.column(key) != nullptr; });
}

void expect_sound(const Method& m, const Evaluation& e, const std::string& which) {
  EXPECT_EQ(e.finding("evaluation-failed"), nullptr) << which;
  for (const ResultValue& r : e.results) {
    const std::string where = which + ", " + r.spec.key;
    EXPECT_TRUE(m.result(r.spec.key).has_value()) << where << " is no result of the method";
    EXPECT_FALSE(r.spec.name.empty()) << where;
    if (!r.is_text()) {
      EXPECT_TRUE(std::isfinite(r.value)) << where;
    }
    EXPECT_TRUE(std::isfinite(r.standard_uncertainty) && r.standard_uncertainty >= 0)
        << where << " u " << r.standard_uncertainty;
    EXPECT_TRUE(readable(reported(r, {}, UnitSet::si).text())) << where << " " << reported(r, {}, UnitSet::si).text();
    for (const Step& s : r.how)
      EXPECT_TRUE(readable(s.expression) && readable(s.with)) << where << ": " << s.expression << " | " << s.with;
    for (const BudgetTerm& t : r.budget)
      EXPECT_TRUE(std::isfinite(t.contribution) && t.contribution >= 0) << where << ": " << t.input;
  }
  for (const Finding& f : e.findings) {
    EXPECT_FALSE(f.message.empty()) << which << ", " << f.code;
    EXPECT_TRUE(readable(f.message)) << which << ": " << f.message;
    if (!f.result_key.empty()) {
      EXPECT_TRUE(m.result(f.result_key).has_value() || is_column(m, f.result_key))
          << which << ", " << f.code << " bears on " << f.result_key;
    }
    for (const auto& [name, value] : f.evidence)
      EXPECT_FALSE(std::isinf(value)) << which << ", " << f.code << ": " << name;
  }
  for (const Figure& f : e.figures)
    for (const Panel& p : f.panels) {
      for (const Trace& t : p.traces) EXPECT_EQ(t.x.size(), t.y.size()) << which << ", " << f.id << ": " << t.label;
      for (const Mark& mark : p.marks) EXPECT_TRUE(readable(mark.label)) << which << ", " << f.id << ": " << mark.label;
    }
}

TEST_P(Properties, ASpoiltRecordIsJudgedInNumbersAndSentences) {
  const std::vector<TestRecord> all = pieces();
  for (uint64_t seed = 1; seed <= kRecords; ++seed) {
    Chance chance(seed);
    TestRecord r = all[seed % all.size()];
    for (size_t i = chance.below(5); i > 0; --i) spoil_field(r, method(), chance);
    if (chance.below(2) == 0) spoil_rows(r, chance);
    if (chance.below(3) == 0) shake_rows(r, chance);
    for (size_t i = chance.below(3); i > 0; --i) spoil_samples(r, chance);
    if (chance.below(2) == 0) spoil_limits(r, methods::evaluate(r, {.uncertainty = false}), chance);
    expect_sound(method(), methods::evaluate(r, {.uncertainty = seed % 5 == 0}),
                 method().id + " " + std::to_string(seed));
    if (HasFailure()) return;  // one is enough to look at
  }
}

TEST_P(Properties, AnyPartMayBeMissing) {
  const TestRecord whole = pieces().front();
  for (const char* part : {"specimen.", "equipment.", "conditions.", "settings.", "run.", ""}) {
    TestRecord r = whole;
    for (const auto& [path, value] : whole.fields.all())
      if (path.starts_with(part) && path != "specimen.id") r.fields.erase(path);
    expect_sound(method(), methods::evaluate(r), method().id + " without " + part);
    r.run = {};
    expect_sound(method(), methods::evaluate(r), method().id + " without a run and " + part);
  }
}

// The same value to the last digits that a unit leaves of it.
void expect_same(const Evaluation& a, const Evaluation& b, const std::string& which) {
  ASSERT_EQ(a.results.size(), b.results.size()) << which;
  for (size_t i = 0; i < a.results.size(); ++i) {
    const ResultValue &x = a.results[i], &y = b.results[i];
    ASSERT_EQ(x.spec.key, y.spec.key) << which;
    if (x.is_text() || y.is_text()) continue;
    EXPECT_NEAR(x.value, y.value, 1e-9 * std::abs(x.value)) << which << ", " << x.spec.key;
    EXPECT_NEAR(x.standard_uncertainty, y.standard_uncertainty,
                1e-6 * std::abs(x.standard_uncertainty) + 1e-9 * std::abs(x.value))
        << which << ", U of " << x.spec.key;
    for (size_t k = 0; k < std::min(x.budget.size(), y.budget.size()); ++k)
      EXPECT_NEAR(x.budget[k].contribution, y.budget[k].contribution,
                  1e-5 * x.standard_uncertainty + 1e-9 * std::abs(x.value))
          << which << ", " << x.spec.key << ": " << x.budget[k].input << " beside " << y.budget[k].input;
    EXPECT_EQ(x.verdict, y.verdict) << which << ", " << x.spec.key;
  }
  ASSERT_EQ(a.findings.size(), b.findings.size()) << which;
  for (size_t i = 0; i < a.findings.size(); ++i) EXPECT_EQ(a.findings[i].code, b.findings[i].code) << which;
}

// Typed in the units of the other half of the world, known as closely as before.
TEST_P(Properties, TheUnitOfAnEntryChangesNothing) {
  for (const TestRecord& whole : pieces()) {
    TestRecord other = whole;
    const auto in_other_unit = [](Reading& r, Dimension d) {
      if (!r.value) return;
      const Unit& unit = display_unit(d, UnitSet::us, *r.value);
      const auto read =
          parse_quantity(plain_number((*r.value - unit.offset) / unit.factor, 15) + " " + std::string(unit.symbol), d);
      ASSERT_TRUE(read) << unit.symbol;
      r.value = read->value;
    };
    for (const auto& [path, value] : whole.fields.all()) {
      const FieldSpec* f = method().field(path);
      if (f == nullptr || f->dimension == Dimension::none) continue;
      if (const auto* one = std::get_if<Reading>(&value)) {
        Reading r = *one;
        in_other_unit(r, f->dimension);
        other.fields.set(path, r);
      }
      if (const auto* list = std::get_if<Readings>(&value)) {
        Readings r = *list;
        for (Reading& each : r) in_other_unit(each, f->dimension);
        other.fields.set(path, r);
      }
    }
    expect_same(methods::evaluate(whole), methods::evaluate(other), method().id);
    if (HasFailure()) return;
  }
}

// Keys of a JSON object have no order, and neither have the channels of a run.
TEST_P(Properties, TheOrderOfChannelsChangesNothing) {
  for (const TestRecord& whole : pieces()) {
    TestRecord other = whole;
    bool turned = false;
    for (Segment& s : other.run.segments) {
      if (!s.samples || s.samples->channels.size() < 3) continue;
      Samples samples = *s.samples;
      std::reverse(samples.channels.begin() + 1, samples.channels.end());
      s.samples = std::make_shared<Samples>(std::move(samples));
      turned = true;
    }
    if (!turned) continue;
    expect_same(methods::evaluate(whole, {.uncertainty = false}), methods::evaluate(other, {.uncertainty = false}),
                method().id);
    if (HasFailure()) return;
  }
}

// Written and read again, a record says what it said.
TEST_P(Properties, WrittenAndReadAgainChangesNothing) {
  const std::vector<TestRecord> all = pieces();
  uint64_t read = 0;
  for (uint64_t seed = 1; seed <= kRecords / 3; ++seed) {
    Chance chance(7000 + seed);
    TestRecord r = all[seed % all.size()];
    if (chance.below(2) == 0) spoil_rows(r, chance);
    const auto back = record_from_json(write_record(r, method()));
    if (!back) continue;  // a value that the rules refuse: rules_test
    ++read;
    expect_same(methods::evaluate(r, {.uncertainty = false}), methods::evaluate(*back, {.uncertainty = false}),
                method().id + " " + std::to_string(seed));
    if (HasFailure()) return;
  }
  EXPECT_GT(read, kRecords / 10) << "most can be read";
}

INSTANTIATE_TEST_SUITE_P(OfEveryMethod, Properties, testing::ValuesIn(methods::all().begin(), methods::all().end()),
                         method_test_name);

}  // namespace
}  // namespace fortitor::properties_test
