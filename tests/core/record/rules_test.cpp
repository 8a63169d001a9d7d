// One set of rules for values: what is refused when it comes in is refused when it is kept, and shown where it is
// stored.
#include "core/record/rules.h"

#include <gtest/gtest.h>

#include <cmath>

#include "core/bench/records.h"
#include "core/evaluation/evaluation_json.h"
#include "core/methods/method.h"
#include "core/record/json.h"
#include "core/standin/benches.h"
#include "core/standin/tension_bench.h"

namespace fortitor::rules_test {
namespace {

Reading typed(const char* text, Dimension d) {
  return reading_of(parse_quantity(text, d).value());
}

TestRecord piece_of(const std::string& method) {
  standin::SimulateOptions options;
  options.method = method;
  options.seed = 2;
  return standin::find_bench(methods::find(method)->standin)->simulate(options);
}

TestRecord bar() {
  return standin::simulate_tension({.seed = 4});
}

TEST(Rules, WhatAStandInMakesBreaksNone) {
  for (const Method* m : methods::all()) {
    const TestRecord r = piece_of(m->id);
    for (const RecordFault& f : faults_of(r, *m)) ADD_FAILURE() << m->id << ": " << f.message;
    EXPECT_TRUE(record_to_store(r)) << m->id;
  }
}

TEST(Rules, EveryKindOfSlipIsNamed) {
  struct Slip {
    std::string path;
    std::function<void(TestRecord&)> make;
  };
  const std::vector<Slip> slips = {
      {"limits.rm",
       [](TestRecord& r) {
         r.limits["rm"] = {typed("490 MPa", Dimension::stress), typed("63 MPa", Dimension::stress)};
       }},
      {"specimen.gauge_length",
       [](TestRecord& r) { r.fields.set("specimen.gauge_length", typed("0 mm", Dimension::length)); }},
      {"specimen.gauge_length",
       [](TestRecord& r) { r.fields.set("specimen.gauge_length", typed("-50 mm", Dimension::length)); }},
      {"specimen.section.diameter[1]",
       [](TestRecord& r) {
         r.fields.set("specimen.section.diameter",
                      Readings{typed("10 mm", Dimension::length), typed("-10 mm", Dimension::length)});
       }},
      {"specimen.section.shape",
       [](TestRecord& r) { r.fields.set("specimen.section.shape", std::string("triangular")); }},
      {"equipment.load_cell.due", [](TestRecord& r) { r.fields.set("equipment.load_cell.due", std::string("soon")); }},
      {"specimen.invented", [](TestRecord& r) { r.fields.set("specimen.invented", std::string("x")); }},
      {"limits.hardness",
       [](TestRecord& r) {
         r.limits["hardness"] = {typed("490 MPa", Dimension::stress), {}};
       }},
      // A text that a reader understands otherwise: typed under US units, 1,250 is 1250.
      {"specimen.gauge_length",
       [](TestRecord& r) {
         r.fields.set("specimen.gauge_length", Reading{"1,250 mm", 1250.0, 1.0});
       }},
      {"specimen.gauge_length",
       [](TestRecord& r) {
         r.fields.set("specimen.gauge_length", Reading{"50 mm", 51.0, 1.0});
       }},
      {"settings.speed.elastic",
       [](TestRecord& r) { r.fields.set("settings.speed.elastic", typed("-1 mm/min", Dimension::speed)); }},
  };
  const TestRecord sound = bar();
  const Method& m = *methods::find(sound.method);
  ASSERT_TRUE(faults_of(sound, m).empty());
  for (const Slip& slip : slips) {
    TestRecord r = sound;
    slip.make(r);
    const auto faults = faults_of(r, m);
    ASSERT_EQ(faults.size(), 1u) << slip.path << (faults.empty() ? "" : ": " + faults[0].message);
    EXPECT_EQ(faults[0].path(), slip.path);
    EXPECT_FALSE(record_to_store(r)) << slip.path << " would be stored and not read again";
    r.faults = faults;
    EXPECT_TRUE(record_to_store(r)) << "one that is known already may wait to be mended";
  }
}

TEST(Rules, AStoredSlipIsShownAndComputesNothing) {
  TestRecord r = bar();
  r.limits["rm"] = {typed("490 MPa", Dimension::stress), typed("63 MPa", Dimension::stress)};
  r.fields.set("specimen.section.diameter",
               Readings{typed("10 mm", Dimension::length), typed("-10 mm", Dimension::length)});
  const std::string text = record_to_json(r, -1);
  EXPECT_FALSE(record_from_json(text)) << "a document that comes in is refused";
  const auto opened = stored_record_from_json(text);
  ASSERT_TRUE(opened) << opened.error().message;
  ASSERT_EQ(opened->faults.size(), 2u);
  EXPECT_EQ(opened->fields.readings("specimen.section.diameter")[1].typed, "-10 mm")
      << "what was typed is still there to be seen";
  const Evaluation e = methods::evaluate(*opened);
  EXPECT_EQ(
      std::count_if(e.findings.begin(), e.findings.end(), [](const Finding& f) { return f.code == "entry-refused"; }),
      2);
  EXPECT_FALSE(e.open_judgements().empty()) << "it cannot be signed like this";
  const ResultValue* rm = e.find("rm");
  ASSERT_NE(rm, nullptr);
  EXPECT_EQ(rm->verdict, Verdict::none) << "a limit that contradicts itself judges nothing";
  TestRecord one = bar();
  one.fields.set("specimen.section.diameter", Readings{typed("10 mm", Dimension::length)});
  EXPECT_NEAR(rm->value, methods::evaluate(one).find("rm")->value, 1e-9) << "the other diameter counts alone";
  // Mended, nothing is left of it.
  TestRecord mended = *opened;
  mended.limits["rm"] = {typed("490 MPa", Dimension::stress), typed("630 MPa", Dimension::stress)};
  mended.fields.set("specimen.section.diameter",
                    Readings{typed("10 mm", Dimension::length), typed("10 mm", Dimension::length)});
  EXPECT_TRUE(faults_of(mended, *methods::find(mended.method)).empty());
}

TEST(Rules, WhatCannotBeTakenOverIsNamedToo) {
  std::string text = record_to_json(bar(), -1);
  const size_t at = text.find("\"specimen\":{");
  ASSERT_NE(at, std::string::npos);
  text.insert(at + 12, "\"sectoin\":\"round\",");
  const auto opened = stored_record_from_json(text);
  ASSERT_TRUE(opened);
  ASSERT_EQ(opened->faults.size(), 1u);
  EXPECT_FALSE(opened->faults[0].kept);
  EXPECT_EQ(opened->faults[0].path(), "specimen.sectoin");
  EXPECT_FALSE(stored_record_from_json("{\"fortitor\": \"record/1\"")) << "no document at all is an error";
}

TEST(Rules, RowsKeepTheirPlaces) {
  TestRecord r = piece_of("density");
  const std::string table = methods::find("density")->tables.front().id;
  ASSERT_GE(r.run.rows(table).size(), 2u);
  const std::string column = methods::find("density")->tables.front().columns.front().path;
  r.run.tables[table][1].cells.set(column, typed("-1 g", Dimension::mass));
  const auto faults = faults_of(r, *methods::find("density"));
  ASSERT_EQ(faults.size(), 1u);
  EXPECT_EQ(faults[0].path(), "run." + table + "[1]." + column);
  const TestRecord left = without_faults(r, faults);
  EXPECT_EQ(left.run.rows(table).size(), r.run.rows(table).size());
  EXPECT_FALSE(left.run.rows(table)[1].has(column));
  EXPECT_TRUE(left.run.rows(table)[0].has(column));
}

// Such a cell has no size: it would be left out of the mean without a word.
TEST(Rules, ALengthBesideACountOfDivisionsIsNamed) {
  Reading count = reading_of(parse_quantity("212", Dimension::none).value());
  count.counted = true;
  const Reading length = typed("0.25 mm", Dimension::length);
  int columns = 0;
  for (const Method* m : methods::all())
    for (const TableSpec& t : m->tables)
      for (const FieldSpec& c : t.columns) {
        if (c.division_path.empty() || c.kind != FieldKind::readings) continue;
        TestRecord r = piece_of(m->id);
        if (r.run.rows(t.id).empty()) continue;
        ++columns;
        for (const Readings& both : {Readings{count, length}, Readings{length, count}}) {
          r.run.tables[t.id][0].cells.set(c.path, both);
          const auto faults = faults_of(r, *m);
          ASSERT_EQ(faults.size(), 1u) << m->id << " " << c.path;
          EXPECT_EQ(faults[0].message,
                    "run." + t.id + "[0]." + c.path + ": a length beside a count of divisions makes no size");
          TestRecord stored = r;
          stored.faults = faults;
          const Evaluation e = methods::evaluate(stored);
          EXPECT_NE(e.finding("entry-refused"), nullptr) << m->id << " " << c.path;
        }
        r.run.tables[t.id][0].cells.set(c.path, Readings{count, Reading{}});
        EXPECT_TRUE(faults_of(r, *m).empty()) << m->id << ": a missed reading is an answer";
      }
  EXPECT_GE(columns, 4);
}

TEST(Rules, ATextIsMadeReadable) {
  const auto us = parse_quantity("1,250 in", Dimension::length, {UnitSet::us, nullptr});
  if (us) {
    const Reading kept = readable(reading_of(*us), Dimension::length);
    const auto back = parse_quantity(kept.typed, Dimension::length);
    ASSERT_TRUE(back) << kept.typed;
    EXPECT_NEAR(back->value, us->value, 1e-9 * us->value);
  }
  const Reading plain = readable(Reading{"1,250", 1250.0, 1.0}, Dimension::none);
  EXPECT_NEAR(parse_quantity(plain.typed, Dimension::none).value().value, 1250, 1e-9) << plain.typed;
  EXPECT_EQ(readable(typed("10.02 mm", Dimension::length), Dimension::length).typed, "10.02 mm")
      << "as typed where it can be";
}

TEST(Rules, BracketsInARuleHaveAnEnd) {
  TestRecord r = piece_of("proof-load");
  for (const size_t n : {size_t(3), size_t(50), size_t(51), size_t(10000), size_t(200000)}) {
    r.fields.set("specimen.rule.text", std::string(n, '(') + "2 × rated" + std::string(n, ')'));
    const Evaluation e = methods::evaluate(r);
    EXPECT_EQ(e.finding("evaluation-failed"), nullptr) << n;
  }
}

}  // namespace
}  // namespace fortitor::rules_test
