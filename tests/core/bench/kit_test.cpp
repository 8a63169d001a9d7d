// The Kit: what an item is on a day, and how it comes into a record.
#include "core/bench/kit.h"

#include "core/bench/kit_checks.h"
#include "core/quantity/parse.h"
#include "core/record/json.h"
#include "tests/core/methods/method_records.h"

namespace fortitor::kit_test {
namespace {

using kit::Item;
using kit::State;

Item item_of(const std::string& kind, const std::vector<std::pair<std::string, std::string>>& typed) {
  Item item;
  item.kind = kind;
  const Schema schema = kit::schema(kind);
  for (const auto& [name, text] : typed) {
    const FieldSpec* f = schema.field(item.path(name));
    if (f == nullptr) {
      ADD_FAILURE() << kind << " has no " << name;
      continue;
    }
    if (f->kind == FieldKind::quantity)
      item.fields.set(f->path, reading_of(parse_quantity(text, f->dimension).value()));
    else
      item.fields.set(f->path, text);
  }
  return item;
}

Item cell(const std::string& due = "2026-11-28") {
  return item_of("load_cell",
                 {{"id", "LC-50"}, {"capacity", "50 kN"}, {"class", "1"}, {"serial", "40417"}, {"due", due}});
}

TEST(Kit, WhatCarriesWhatIsExpectedIsNamed) {
  const Method& m = *methods::find("tension-metal");
  const auto cell = [](const char* name, const char* capacity, const char* due = "") {
    kit::Item i;
    i.kind = "load_cell";
    i.fields.set(i.path("id"), std::string(name));
    i.fields.set(i.path("capacity"), FieldValue(reading_of(*parse_quantity(capacity, Dimension::force))));
    if (*due != '\0') i.fields.set(i.path("due"), std::string(due));
    return i;
  };
  std::vector<kit::Item> items = {cell("LC-100", "100 kN"), cell("LC-50", "50 kN"), cell("LC-5", "5 kN"),
                                  cell("LC-60", "60 kN", "2026-11-01"), cell("LC-70", "70 kN")};
  items[4].fields.set(items[4].path("held"), std::string("dropped"));
  const auto names = [&](double low, double high) {
    std::string out;
    for (const kit::Item* i : kit::that_carry(items, *m.slot("load_cell"),
                                              {Dimension::force, low, (low + high) / 2, high, ""}, "2026-11-26"))
      out += i->name() + " ";
    return out;
  };
  EXPECT_EQ(names(30e3, 45e3), "LC-50 LC-100 ");  // 45 kN is 90 % of 50 kN
  EXPECT_EQ(names(30e3, 45.1e3), "LC-100 ");
  EXPECT_EQ(names(400, 4e3), "");  // 8 % of 5 kN
  EXPECT_EQ(names(500, 4.5e3), "LC-5 ");
}

TEST(Kit, WhoMayUseAnItemIsAsked) {
  const Method& m = *methods::find("tension-metal");
  kit::Item cell;
  cell.kind = "load_cell";
  cell.fields.set(cell.path("id"), std::string("LC-50"));
  cell.fields.set("settings.who", std::string("R. Vale; M. Orr"));
  TestRecord r;
  r.method = m.id;
  EXPECT_FALSE(kit::not_for(r, m, {cell}, "B. Tarn")) << "it is not used";
  kit::fill(r, m, cell);
  EXPECT_FALSE(kit::not_for(r, m, {cell}, "M. Orr"));
  const auto why = kit::not_for(r, m, {cell}, "B. Tarn");
  ASSERT_TRUE(why);
  EXPECT_NE(why->find("LC-50 is for R. Vale and M. Orr alone, not for B. Tarn"), std::string::npos) << *why;
  EXPECT_TRUE(kit::not_for(r, m, {cell}, "")) << "nobody is nobody of them";
}

// Every kind of the Kit has its place in some method, and what is over is said of it.
TEST(Kit, EveryKindIsUsedAndItsCalibrationJudged) {
  for (const EquipmentSlot& kind : kit::kinds()) {
    size_t used = 0;
    for (const Method* m : methods::all()) {
      if (m->slot(kind.id) == nullptr) continue;
      ++used;
      if (kind.papers.empty()) continue;
      kit::Item item;
      item.kind = kind.id;
      item.fields.set(item.path("id"), std::string("X-1"));
      item.fields.set(item.path("due"), std::string("2026-11-01"));
      TestRecord r;
      r.method = m->id;
      r.tested_at = "2026-11-26T10:00:00";
      kit::fill(r, *m, item);
      const Evaluation e = methods::evaluate(r, {});
      const Finding* f = e.finding("calibration-expired");
      ASSERT_NE(f, nullptr) << m->id << " " << kind.id;
      EXPECT_NE(f->message.find("X-1"), std::string::npos) << f->message;
    }
    EXPECT_GT(used, 0u) << kind.id;
  }
}

// What records read on a block or a free swing is a check of it.
TEST(Kit, RecordsBringTheirChecks) {
  TestRecord r;
  r.method = "hardness-rockwell";
  r.tested_at = "2026-11-26T10:00:00";
  r.operator_name = "R. Vale";
  r.fields.set("specimen.id", std::string("H-1"));
  EXPECT_FALSE(kit::check_in(r, "reference_block"));
  Readings block;
  for (const char* typed : {"63.0", "63.4", "missed"}) {
    Reading one;
    one.typed = typed;
    if (const auto q = parse_quantity(typed, Dimension::none)) one.value = q->value;
    block.push_back(one);
  }
  r.fields.set("specimen.block.readings", FieldValue(block));
  const auto check = kit::check_in(r, "reference_block");
  ASSERT_TRUE(check);
  EXPECT_EQ(check->value, "63.20");
  EXPECT_EQ(check->by, "R. Vale");
  EXPECT_EQ(check->note, "read for H-1");
  EXPECT_FALSE(kit::check_in(r, "load_cell"));
  r.fields.set("run.free_swing.beta", FieldValue(reading_of(*parse_quantity("139.2°", Dimension::angle))));
  const auto swing = kit::check_in(r, "hammer");
  ASSERT_TRUE(swing);
  EXPECT_TRUE(kit::fits(*swing, {})) << swing->value;
  r.tested_at.clear();
  EXPECT_FALSE(kit::check_in(r, "hammer"));
}

TEST(Kit, AnItemIsDueAsItsDayComesNear) {
  const Item lc = cell("2026-11-28");
  EXPECT_EQ(kit::state_on(lc, "2026-10-29"), State::ready);  // 30 days left
  EXPECT_EQ(kit::state_on(lc, "2026-10-30"), State::soon);   // 29
  EXPECT_EQ(kit::state_on(lc, "2026-11-28"), State::soon);   // the last day counts
  EXPECT_EQ(kit::state_on(lc, "2026-11-29"), State::overdue);
  EXPECT_EQ(kit::state_words(lc, "2026-11-28"), "due today");
  EXPECT_EQ(kit::state_words(lc, "2026-11-27"), "1 day left");
  EXPECT_EQ(kit::state_words(lc, "2026-11-30"), "overdue since 28 Nov");
  EXPECT_EQ(kit::state_words(lc, "2026-01-30"), "due 28 Nov");
  Item held = lc;
  held.fields.set(held.path("held"), std::string("dropped"));
  EXPECT_EQ(kit::state_on(held, "2026-12-24"), State::held);
  EXPECT_EQ(kit::state_words(held, "2026-12-24"), "held: dropped");
  held.set_retired(true);
  EXPECT_EQ(kit::state_on(held, "2026-12-24"), State::retired);
  held.set_retired(false);
  EXPECT_FALSE(held.retired());
  EXPECT_EQ(kit::state_words(item_of("grips", {{"id", "W"}}), "2026-11-25"), "no calibration date");
}

TEST(Kit, TheIntervalGivesTheDueDayUnlessItIsTyped) {
  Item lc = cell("");
  lc.fields.erase(lc.path("due"));
  EXPECT_EQ(lc.due(), "");
  lc.fields.set(lc.path("calibrated"), std::string("2026-02-28"));
  EXPECT_EQ(lc.due(), "") << "an interval is wanted too";
  lc.fields.set("settings.interval", 12.0);
  EXPECT_EQ(lc.due(), "2027-02-28");
  lc.fields.set(lc.path("due"), std::string("2026-08-31"));
  EXPECT_EQ(lc.due(), "2026-08-31");
}

TEST(Kit, RefusesWhatIsNoItem) {
  EXPECT_TRUE(kit::check(cell()));
  Item nameless = cell();
  nameless.fields.erase(nameless.path("id"));
  EXPECT_FALSE(kit::check(nameless));
  Item odd = cell();
  odd.kind = "hammer-of-dawn";
  EXPECT_FALSE(kit::check(odd));
  Item late = cell("2026-01-01");
  late.fields.set(late.path("calibrated"), std::string("2026-01-02"));
  EXPECT_NE(kit::check(late).error().message.find("before it was calibrated"), std::string::npos);
  late.fields.set(late.path("calibrated"), std::string("2026-01-01"));
  EXPECT_TRUE(kit::check(late));
  EXPECT_FALSE(kit::check(kit::bench_of("empty")));
  Item bench = kit::bench_of("Frame 50 kN");
  bench.set_of_kind("load_cell", "LC-50");
  EXPECT_TRUE(kit::check(bench));
}

TEST(Kit, EveryKindIsWrittenAndReadBack) {
  ASSERT_GE(kit::kinds().size(), 8u);
  for (const EquipmentSlot& slot : kit::kinds()) {
    Item item;
    item.kind = slot.id;
    for (const FieldSpec& f : kit::schema(slot.id).fields) {
      if (f.kind == FieldKind::text) item.fields.set(f.path, "words of " + f.label);
      if (f.kind == FieldKind::date) item.fields.set(f.path, std::string("2026-11-28"));
      if (f.kind == FieldKind::choice) item.fields.set(f.path, f.choices.back().value);
      if (f.kind == FieldKind::number) item.fields.set(f.path, 12.0);
      if (f.kind == FieldKind::flag) item.fields.set(f.path, true);
      if (f.kind == FieldKind::quantity)
        item.fields.set(f.path,
                        reading_of(parse_quantity(typed_value(5, f.dimension, UnitSet::si), f.dimension).value()));
    }
    const auto back = kit::from_json(slot.id, kit::to_json(item));
    ASSERT_TRUE(back) << slot.id << ": " << back.error().message;
    EXPECT_EQ(back->fields, item.fields) << slot.id;
    EXPECT_FALSE(kit::rating_words(item, UnitSet::us).empty() && slot.fields.size() > 1) << slot.id;
  }
  EXPECT_FALSE(kit::from_json(
      "load_cell",
      R"({"fortitor": "record/1", "method": "kit/load_cell", "equipment": {"load_cell": {"due": "soon"}}})"));
  EXPECT_FALSE(kit::from_json("load_cell", R"({"fortitor": "record/1", "method": "kit/grips"})"));
  EXPECT_FALSE(kit::from_json("bench", "{"));
}

TEST(Kit, ShowsRatingsAsTyped) {
  EXPECT_EQ(kit::rating_words(cell(), UnitSet::si), "50 kN · class 1");
  EXPECT_NE(kit::rating_words(cell(), UnitSet::us).find("kip"), std::string::npos)
      << kit::rating_words(cell(), UnitSet::us);
}

TEST(Kit, AnItemTakesThePlaceOfWhatWasInItsSlot) {
  const Method& m = *methods::find("tension-metal");
  TestRecord r =
      record_of("tension-metal", {{"equipment.load_cell.capacity", {"10 kN"}}, {"equipment.grips.id", {"W-1"}}});
  r.fields.set("equipment.load_cell.held", std::string("an old reason"));
  Item lc = cell();
  lc.fields.set("settings.interval", 12.0);
  lc.fields.set("settings.who", std::string("R. Vale"));
  kit::fill(r, m, lc);
  EXPECT_EQ(*r.fields.number("equipment.load_cell.capacity"), 50e3);
  EXPECT_EQ(r.fields.text("equipment.load_cell.serial"), "40417");
  EXPECT_EQ(r.fields.text("equipment.load_cell.due"), "2026-11-28");
  EXPECT_FALSE(r.fields.has("equipment.load_cell.held")) << "that was of the other cell";
  EXPECT_FALSE(r.fields.has("settings.who"));
  EXPECT_EQ(r.fields.text("equipment.grips.id"), "W-1");
  EXPECT_TRUE(kit::agrees(r, m, lc));
  ASSERT_NE(kit::used_in(r, "load_cell", {lc}), nullptr);
  standin::type_into(r, "equipment.load_cell.capacity", "40 kN");
  EXPECT_FALSE(kit::agrees(r, m, lc));
  // A torque cell has no place in a tension test.
  const TestRecord before = r;
  kit::fill(r, m, item_of("torque_cell", {{"id", "T"}, {"capacity", "5 N·m"}}));
  EXPECT_EQ(r.fields, before.fields);
  // The record is read back as written: a piece of the Kit is in the record format.
  EXPECT_EQ(record_from_json(record_to_json(r))->fields, r.fields);
}

// Calibrated anew, or dropped since: the next piece is judged by what the Kit says now.
TEST(Kit, PapersAreRenewedAndRatingsAreNot) {
  const Method& m = *methods::find("tension-metal");
  TestRecord r = record_of("tension-metal", {{"equipment.grips.id", {"W-1"}}});
  Item lc = cell("2026-11-28");
  kit::fill(r, m, lc);
  EXPECT_FALSE(kit::renew_papers(r, m, {lc})) << "nothing new";
  standin::type_into(r, "equipment.load_cell.capacity", "40 kN");
  lc.fields.set(lc.path("due"), std::string("2027-11-28"));
  lc.fields.set(lc.path("held"), std::string("dropped"));
  lc.fields.erase(lc.path("serial"));
  EXPECT_TRUE(kit::renew_papers(r, m, {lc}));
  EXPECT_EQ(r.fields.text("equipment.load_cell.due"), "2027-11-28");
  EXPECT_EQ(r.fields.text("equipment.load_cell.held"), "dropped");
  EXPECT_FALSE(r.fields.has("equipment.load_cell.serial"));
  EXPECT_EQ(*r.fields.number("equipment.load_cell.capacity"), 40e3) << "typed over by a person";
  EXPECT_EQ(r.fields.text("equipment.grips.id"), "W-1") << "not in the Kit: nothing is known of it";
}

TEST(Kit, AnIntervalIsAtLeastAMonth) {
  Item lc = cell();
  for (double months : {0.0, 0.5, -12.0, 1201.0}) {
    lc.fields.set("settings.interval", months);
    EXPECT_FALSE(kit::check(lc)) << months;
  }
  for (double months : {1.0, 12.0, 1200.0}) {
    lc.fields.set("settings.interval", months);
    EXPECT_TRUE(kit::check(lc)) << months;
  }
}

TEST(Kit, ABenchFillsEverySlotItKnows) {
  const Method& m = *methods::find("tension-metal");
  const Item lc = cell(), w = item_of("grips", {{"id", "W-2"}, {"capacity", "60 kN"}});
  Item old = item_of("extensometer", {{"id", "EX-1"}, {"class", "1"}});
  old.set_retired(true);
  Item bench = kit::bench_of("B");
  bench.set_of_kind("load_cell", "LC-50");
  bench.set_of_kind("grips", "W-2");
  bench.set_of_kind("extensometer", "EX-1");
  bench.set_of_kind("torque_cell", "T-9");
  TestRecord r = record_of("tension-metal", {{"equipment.frame.id", {"mine"}}});
  kit::fill(r, m, bench, {lc, w, old});
  EXPECT_EQ(*r.fields.number("equipment.load_cell.capacity"), 50e3);
  EXPECT_EQ(*r.fields.number("equipment.grips.capacity"), 60e3);
  EXPECT_EQ(r.fields.text("equipment.frame.id"), "mine");
  EXPECT_FALSE(r.fields.has("equipment.extensometer.id")) << "retired";
  EXPECT_TRUE(kit::fits(bench, m));
  EXPECT_TRUE(bench.holds(lc));
  EXPECT_FALSE(bench.holds(item_of("load_cell", {{"id", "LC-5"}})));
  Item torque = kit::bench_of("T");
  torque.set_of_kind("torque_cell", "T-9");
  EXPECT_FALSE(kit::fits(torque, m));
}

TEST(Calibration, IsFoundFromTheDayAfterItEnds) {
  const Method& m = *methods::find("tension-metal");
  TestRecord r = standin::find_bench(m.standin)->simulate({});
  kit::fill(r, m, cell("2026-11-24"));
  auto finding = [&](const std::string& tested, const std::string& today = {}) {
    r.tested_at = tested;
    const Evaluation e = methods::evaluate(r, {.uncertainty = false, .today = today});
    const Finding* f = e.finding("calibration-expired");
    return f == nullptr ? std::string() : f->message;
  };
  EXPECT_EQ(finding("2026-11-24T23:59:00+01:00"), "");
  EXPECT_NE(finding("2026-11-25T00:01:00+01:00").find("1 day before the test"), std::string::npos);
  EXPECT_NE(finding("2026-12-24").find("30 days before the test"), std::string::npos);
  EXPECT_EQ(finding("", "2027-01-01"), "") << "it was run, but nobody knows when: the day of looking is not that day";
  r.run = fortitor::Run{};
  for (const FieldSpec& f : m.fields)
    if (f.path.rfind("run.", 0) == 0) r.fields.erase(f.path);
  r.events.clear();
  EXPECT_EQ(finding("", "2026-11-24"), "");
  EXPECT_NE(finding("", "2026-11-26").find("2 days ago"), std::string::npos);
  EXPECT_EQ(finding(""), "");
}

TEST(Calibration, AHeldItemIsFoundForEveryMethodAndSlot) {
  for (const Method* m : methods::all())
    for (const EquipmentSlot& s : m->equipment) {
      if (s.papers.empty()) continue;
      TestRecord r = standin::find_bench(m->standin)->simulate({});
      EXPECT_EQ(methods::evaluate(r, {.uncertainty = false}).finding("calibration-expired"), nullptr) << m->id;
      r.fields.set("equipment." + s.id + ".held", std::string("dropped"));
      const Evaluation e = methods::evaluate(r, {.uncertainty = false});
      const Finding* f = e.finding("calibration-expired");
      ASSERT_NE(f, nullptr) << m->id << " " << s.id;
      EXPECT_EQ(f->severity, Severity::check);
      EXPECT_NE(f->message.find("dropped"), std::string::npos);
      r.answers.push_back({"calibration-expired", "accept", "checked against the master", "R. Vale", ""});
      const Evaluation answered = methods::evaluate(r, {.uncertainty = false});
      for (const Finding* open : answered.open_judgements()) EXPECT_NE(open->code, "calibration-expired");
    }
}

}  // namespace
}  // namespace fortitor::kit_test
