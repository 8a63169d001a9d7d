// The day plan from pieces, Kit and hours: what becomes a task, on which lane, and how it is written down.
#include "core/bench/agenda.h"

#include <gtest/gtest.h>

#include <nlohmann/json.hpp>

#include "core/quantity/parse.h"

namespace fortitor::agenda::agenda_test {
namespace {

Piece piece(long long id, const char* code, const char* method, const char* stages, const char* due = "") {
  Piece p;
  p.specimen = id;
  p.job = "TC-031";
  p.series = "Tension";
  p.code = code;
  p.due = due;
  p.stages = stages;
  p.method = methods::find(method);
  p.record.method = method;
  return p;
}

kit::Item item(const char* kind, const char* name, const char* due = "") {
  kit::Item i;
  i.kind = kind;
  i.fields.set(i.path("id"), std::string(name));
  if (*due != '\0') i.fields.set(i.path("due"), std::string(due));
  return i;
}

Input input(std::vector<Piece> pieces) {
  Input in;
  in.from = "2026-11-26";  // a Thursday
  in.hours.people = {{"R. Vale"}};
  in.pieces = std::move(pieces);
  return in;
}

const day::Bar* bar(const Agenda& a, const char* code, const char* step) {
  for (const day::Bar& b : a.layout.bars)
    if (a.entries[b.task].code == code && a.entries[b.task].step == step) return &b;
  return nullptr;
}

TEST(Agenda, WhatAPieceStillWants) {
  const Agenda a = plan(input({piece(1, "A", "tension-metal", "0000000"), piece(2, "B", "tension-metal", "2220000"),
                               piece(3, "C", "tension-metal", "2222000"), piece(4, "D", "tension-metal", "2222210"),
                               piece(5, "E", "tension-metal", "2222220")}));
  EXPECT_TRUE(day::faults(a.problem, a.layout).empty());
  EXPECT_TRUE(a.layout.unmet.empty());
  std::string all;
  for (const day::Task& t : a.problem.tasks) all += t.title + "; ";
  EXPECT_EQ(all,
            "A: prepare and measure; A: run; A: measure, judge and sign; B: run; B: measure, judge and sign; C: "
            "measure, judge and sign; D: judge and sign; E: sign off; ");
  EXPECT_EQ(a.when(0), "2026-11-26T00:00");
  EXPECT_EQ(a.when(a.layout.bars.front().start), "2026-11-26T08:00");
  EXPECT_EQ(a.entries[a.layout.of(7)->task].stage, Stage::sign_off);
  // The frame is one, though the Kit does not say which.
  const day::Bar *run_a = bar(a, "A", "run"), *run_b = bar(a, "B", "run");
  ASSERT_TRUE(run_a && run_b);
  ASSERT_EQ(run_a->resources.size(), 1u);
  EXPECT_EQ(run_a->resources, run_b->resources);
}

// How long a run takes: what a machine does alone by its own time, else what the book has seen, else what the record
// asks for.
TEST(Agenda, ARunTakesWhatItsTestTakes) {
  const auto with = [](const char* method, std::initializer_list<std::pair<const char*, const char*>> typed) {
    Piece p = piece(1, "A", method, "2220000");
    for (const auto& [path, text] : typed)
      p.record.fields.set(path,
                          FieldValue(reading_of(*parse_quantity(text, methods::find(method)->field(path)->dimension))));
    return p;
  };
  // 10⁷ cycles at 20 Hz are 500,000 s, 5.8 days of the rig; of a person no more than what a start takes.
  Piece rig = with("fatigue-constant", {{"settings.frequency", "20 Hz"}});
  rig.record.fields.set("settings.plan.runout", 1e7);
  const Lasting alone = run_lasting(*rig.method, rig.record, {9, 12});
  EXPECT_EQ(alone.machine, 8334);
  EXPECT_EQ(alone.person, rig.method->minutes.run);
  const Agenda a = plan(input({rig}));
  const day::Bar* run = bar(a, "A", "run");
  ASSERT_NE(run, nullptr);
  EXPECT_EQ(run->end - run->start, 8334) << "over nights and the weekend";
  EXPECT_EQ(a.problem.tasks[run->task].attended, rig.method->minutes.run);
  EXPECT_TRUE(day::faults(a.problem, a.layout).empty());
  EXPECT_NE(a.entries[run->task].lasts.find("5.8 d: at most 10000000 cycles at 20 Hz"), std::string::npos)
      << a.entries[run->task].lasts;
  // 60 mm at 0.9 mm/min to 0.2 %, then at 24 mm/min to 30 %: 8 s and 44.7 s, and 4 min of hands.
  const Piece bar_of_steel = with("tension-metal", {{"specimen.parallel_length", "60 mm"},
                                                    {"settings.speed.elastic", "0.9 mm/min"},
                                                    {"settings.speed.plastic", "24 mm/min"}});
  EXPECT_EQ(run_lasting(*bar_of_steel.method, bar_of_steel.record, {}).machine, 4 + 1);
  EXPECT_EQ(run_lasting(*bar_of_steel.method, bar_of_steel.record, {8.2, 2}).machine, 4 + 1) << "two runs say nothing";
  EXPECT_EQ(run_lasting(*bar_of_steel.method, bar_of_steel.record, {8.2, 3}).machine, 4 + 9);
  // Nothing asked for: as usual.
  EXPECT_EQ(run_lasting(*methods::find("tension-metal"), TestRecord{}, {}).machine,
            methods::find("tension-metal")->minutes.run);
  // Nonsense makes no plan of a thousand years.
  Piece slow = with("fatigue-constant", {{"settings.frequency", "20 Hz"}});
  slow.record.fields.set("settings.plan.runout", 1e300);
  EXPECT_EQ(run_lasting(*slow.method, slow.record, {}).machine, slow.method->minutes.run);
}

TEST(Agenda, ATypedLengthHoldsAndIsKept) {
  Input in = input({piece(1, "A", "tension-metal", "0000000")});
  in.pins = {{1, "run", "", 95}, {1, "after", "2026-11-26T14:00", 7}};
  const auto again = pins_from_json(pins_to_json(in.pins));
  ASSERT_TRUE(again);
  ASSERT_EQ(again->size(), 2u);
  EXPECT_EQ((*again)[0].minutes, 95);
  EXPECT_EQ((*again)[1].at, "2026-11-26T14:00");
  in.pins = *again;
  const Agenda a = plan(in);
  const day::Bar *run = bar(a, "A", "run"), *after = bar(a, "A", "after");
  ASSERT_TRUE(run && after);
  EXPECT_EQ(run->end - run->start, 95);
  EXPECT_EQ(a.entries[run->task].lasts, "95 min, as typed");
  EXPECT_FALSE(a.problem.tasks[run->task].pinned);
  EXPECT_EQ(after->start, 14 * 60);
  EXPECT_EQ(after->end - after->start, 7);
  const auto odd = pins_from_json(R"([{"specimen":1,"step":"run","at":"","minutes":-5}])");
  EXPECT_EQ((*odd)[0].minutes, 0);
}

TEST(Agenda, MachinesOfTheRecordAndTheirCalibration) {
  Input in = input({piece(1, "A", "tension-metal", "2220000")});
  in.items = {item("frame", "Frame 100 kN"), item("frame", "Frame 5 kN"), item("load_cell", "LC-50", "2026-11-25")};
  // None chosen: any frame will do.
  EXPECT_EQ(plan(in).problem.tasks[0].needs[0].size(), 2u);
  in.pieces[0].record.fields.set("equipment.frame.id", std::string("Frame 5 kN"));
  Agenda a = plan(in);
  ASSERT_EQ(a.problem.tasks[0].needs.size(), 1u);
  EXPECT_EQ(a.problem.resources[bar(a, "A", "run")->resources[0]].name, "Frame 5 kN");
  // A cell whose calibration has ended: said, with its successors.
  in.pieces[0].record.fields.set("equipment.load_cell.id", std::string("LC-50"));
  a = plan(in);
  EXPECT_EQ(bar(a, "A", "run"), nullptr);
  ASSERT_EQ(a.layout.unmet.size(), 2u);
  EXPECT_EQ(a.layout.unmet[0].why, "A: run: LC-50 must not be used: its calibration ended 25 Nov.");
  // Its last day still counts.
  in.items[2] = item("load_cell", "LC-50", "2026-11-26");
  a = plan(in);
  ASSERT_NE(bar(a, "A", "run"), nullptr);
  EXPECT_EQ(a.day_of(bar(a, "A", "run")->start), "2026-11-26");
  in.items[2].fields.set("equipment.load_cell.held", std::string("dropped"));
  EXPECT_EQ(plan(in).layout.unmet[0].why, "A: run: LC-50 must not be used: held: dropped.");
  in.items[2] = item("load_cell", "LC-50");
  in.items[2].fields.set("settings.who", std::string("M. Holm; S. Ray"));
  EXPECT_EQ(plan(in).layout.unmet[0].why, "A: run: nobody who is there may use LC-50.");
  in.hours.people.push_back({"S. Ray", 14 * 60, 18 * 60});
  a = plan(in);
  EXPECT_EQ(a.when(bar(a, "A", "run")->start), "2026-11-26T14:00");
  EXPECT_EQ(a.problem.resources[*bar(a, "A", "run")->person].name, "S. Ray");
}

TEST(Agenda, CuresAndTimers) {
  Piece p = piece(1, "FS-01", "flatwise-tension", "2220000");
  p.record.fields.set("specimen.cure.stated", reading_of(parse_quantity("24 h", Dimension::time).value()));
  Agenda a = plan(input({p}));
  const day::Bar *wait = bar(a, "FS-01", "wait"), *run = bar(a, "FS-01", "run");
  ASSERT_TRUE(wait && run);
  EXPECT_EQ(wait->end - wait->start, 24 * 60);
  EXPECT_GE(run->start, wait->end);
  EXPECT_FALSE(wait->person);
  // One that runs already: the run waits for its end.
  p.timer = "Cure";
  p.timer_ends = "2026-11-26T13:20";
  a = plan(input({p}));
  EXPECT_EQ(bar(a, "FS-01", "wait"), nullptr);
  EXPECT_EQ(a.when(bar(a, "FS-01", "run")->start), "2026-11-26T13:20");
  // Elapsed, or answered for: no wait.
  p.timer.clear();
  p.timer_ends.clear();
  p.record.fields.set("specimen.cure.elapsed", reading_of(parse_quantity("25 h", Dimension::time).value()));
  EXPECT_EQ(bar(plan(input({p})), "FS-01", "wait"), nullptr);
  p.record.fields.erase("specimen.cure.elapsed");
  p.record.answers.push_back({"cure-short", "accept", "trial", "R. Vale", ""});
  EXPECT_EQ(bar(plan(input({p})), "FS-01", "wait"), nullptr);
  p.on_rig = true;
  EXPECT_TRUE(plan(input({p})).problem.tasks.empty()) << "it runs by itself";
}

TEST(Agenda, NowDueAndPins) {
  Input in = input({piece(1, "A", "tension-metal", "2220000", "2026-11-26")});
  in.now = "2026-11-26T14:18";
  Agenda a = plan(in);
  EXPECT_EQ(a.when(bar(a, "A", "run")->start), "2026-11-26T14:20");
  EXPECT_EQ(a.layout.lateness, 0);
  in.pins = {{1, "run", "2026-11-26T15:40"}, {2, "run", "2026-11-26T15:40"}};
  a = plan(in);
  EXPECT_EQ(a.when(bar(a, "A", "run")->start), "2026-11-26T15:40");
  in.pins = {{1, "run", "2026-11-26T09:00"}};
  EXPECT_EQ(plan(in).when(bar(plan(in), "A", "run")->start), "2026-11-26T14:20") << "a pin that lies behind is history";
  in.pins = {{1, "run", "nonsense"}};
  EXPECT_NE(bar(plan(in), "A", "run"), nullptr);
  in.pins.clear();
  in.pieces[0].due = "2026-11-25";
  a = plan(in);
  EXPECT_GT(a.layout.lateness, 0);
  EXPECT_NE(a.layout.unmet[0].why.find("after it is due"), std::string::npos);
  // Friday evening goes on on Monday.
  in = input({piece(1, "A", "tension-metal", "2220000")});
  in.from = "2026-11-27";
  in.now = "2026-11-27T16:25";
  a = plan(in);
  EXPECT_EQ(a.when(bar(a, "A", "run")->start), "2026-11-30T08:00");
  in.from = "2026-12-31";
  in.now = "2026-12-31T16:30";
  EXPECT_EQ(plan(in).when(plan(in).layout.bars[0].start), "2027-01-01T08:00");
}

TEST(Agenda, HoursAndPinsAsTheBookKeepsThem) {
  Hours h;
  h.people = {{"R. Vale", 7 * 60, 15 * 60}, {"M. Holm"}};
  h.days = "123456";
  const auto back = hours_from_json(hours_to_json(h));
  ASSERT_TRUE(back);
  EXPECT_EQ(back->people[0].from, 7 * 60);
  EXPECT_EQ(back->people[1].to, 16 * 60 + 30);
  EXPECT_EQ(back->breaks.size(), 1u);
  EXPECT_EQ(back->days, "123456");
  for (const char* bad :
       {"", "[]", "{}", R"({"people": []})", R"({"people": [{"name": ""}]})",
        R"({"people": [{"name": "A"}, {"name": "A"}]})",
        R"({"people": [{"name": "A", "from": "16:00", "to": "8:00"}]})", R"({"people": [{"name": "A"}], "days": "8"})",
        R"({"people": [{"name": "A"}], "days": ""})", R"({"people": [{"name": "A"}], "breaks": [["13:00", "12:00"]]})"})
    EXPECT_FALSE(hours_from_json(bad)) << bad;
  const auto pins = pins_from_json(pins_to_json({{7, "run", "2026-11-26T10:00"}}));
  ASSERT_TRUE(pins);
  EXPECT_EQ((*pins)[0].specimen, 7);
  EXPECT_EQ((*pins)[0].at, "2026-11-26T10:00");
  EXPECT_FALSE(pins_from_json("{"));
  for (const auto& [typed, minutes] :
       {std::pair{"8", 480}, {"8:05", 485}, {" 16.30 ", 990}, {"24:00", 1440}, {"0:00", 0}})
    EXPECT_EQ(parse_clock(typed), minutes) << typed;
  for (const char* bad : {"", "x", "25", "24:01", "8:5", "8:60", "8:00x", "108", ":30", "-1"})
    EXPECT_FALSE(parse_clock(bad)) << bad;
  EXPECT_EQ(clock_words(485), "08:05");
}

TEST(Agenda, JsonTextAndCalendar) {
  Input in =
      input({piece(1, "A,1", "tension-metal", "2220000", "2026-11-26"), piece(2, "B", "tension-metal", "2222220")});
  in.items = {item(
      "frame",
      "Frame 100 kN; with a name so long that its line must be folded, several times: ääääääääääääääääääääääääääääää")};
  const Agenda a = plan(in);
  const auto j = nlohmann::json::parse(to_json(a));
  EXPECT_EQ(j["fortitor"], "plan/1");
  ASSERT_EQ(j["bars"].size(), a.layout.bars.size());
  for (const auto& b : j["bars"]) EXPECT_LT(b["start"].get<std::string>(), b["end"].get<std::string>());
  EXPECT_EQ(j["lateness_minutes"], 0);
  for (const auto& b : j["bars"]) EXPECT_EQ(b["due"].is_null(), b["specimen"] == "B");
  Input late = in;
  late.pieces[0].due = "2026-11-20";
  const auto behind = nlohmann::json::parse(to_json(plan(late)));
  for (const auto& b : behind["bars"]) {
    if (b["specimen"] == "A,1") {
      EXPECT_EQ(b["due"], "2026-11-20") << "a day that has passed stays what it was";
    }
  }
  const std::string ics = to_ics(a, "20261125T142000Z");
  EXPECT_EQ(ics.rfind("BEGIN:VCALENDAR\r\n", 0), 0u);
  EXPECT_NE(ics.find("UID:1-run@fortitor\r\n"), std::string::npos);
  EXPECT_NE(ics.find("DTSTART:20261126T08"), std::string::npos);
  EXPECT_NE(ics.find("SUMMARY:A\\,1: run\r\n"), std::string::npos);
  // No line longer than 75 octets, none cut within a character.
  size_t events = 0;
  for (size_t at = 0; at < ics.size();) {
    const size_t end = ics.find("\r\n", at);
    ASSERT_NE(end, std::string::npos);
    EXPECT_LE(end - at, 75u);
    EXPECT_NE(static_cast<unsigned char>(ics[at]) & 0xC0, 0x80);
    if (ics[at] == ' ') {
      EXPECT_NE(static_cast<unsigned char>(ics[at + 1]) & 0xC0, 0x80);
    }
    events += ics.compare(at, 12, "BEGIN:VEVENT") == 0;
    at = end + 2;
  }
  EXPECT_EQ(events, a.layout.bars.size());
  const std::string text = to_text(a);
  EXPECT_NE(text.find("26 Nov 2026\n"), std::string::npos) << text;
  EXPECT_NE(text.find("A,1: run  [Frame 100 kN"), std::string::npos);
  EXPECT_EQ(to_text(plan(input({}))), "Nothing waits.\n");
}

}  // namespace
}  // namespace fortitor::agenda::agenda_test
