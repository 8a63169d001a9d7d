// Sixty weeks drawn at random (pieces at all stages, due days, timers, pins, machines out of calibration, part-time
// people), planned, held against the rules of a plan, and kept as text. And the words and numbers of every unit.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <set>
#include <sstream>

#include "core/bench/agenda.h"
#include "core/quantity/format.h"
#include "core/quantity/parse.h"
#include "core/slate/slate.h"
#include "tests/c_text.h"
#include "tests/core/methods/chance.h"
#include "tests/core/methods/kept_text.h"

namespace fortitor::agenda::varied_agenda_test {
namespace {

Input week(Chance& chance) {
  Input in;
  in.from = "2026-11-" + std::to_string(20 + chance.below(8));
  if (chance.below(2) == 0) in.now = in.from + "T1" + std::to_string(chance.below(6)) + ":" + std::to_string(10 + chance.below(45));
  in.days = int(2 + chance.below(9));
  in.hours.people = {{"R. Vale"}};
  if (chance.below(2) == 0) in.hours.people.push_back({"M. Stenn", int(60 * (7 + chance.below(4))), int(60 * (13 + chance.below(5)))});
  if (chance.below(3) == 0) in.hours.breaks.clear();
  if (chance.below(4) == 0) in.hours.days = "1234567";
  const std::vector<std::string> ids = {"tension-metal", "flatwise-tension", "hardness-vickers", "impact-pendulum", "fatigue-constant", "density"};
  const std::vector<std::string> stages = {"0000000", "2000000", "2200000", "2220000", "2222000", "2222200", "2222210"};
  for (size_t i = 0, n = 1 + chance.below(9); i < n; ++i) {
    Piece p;
    p.specimen = (long long)(i + 1);
    p.job = "TC-0" + std::to_string(30 + chance.below(3));
    p.series = "S" + std::to_string(chance.below(2));
    p.code = "P-" + std::to_string(i + 1);
    if (chance.below(3) > 0) p.due = days_after(in.from, int(chance.below(8)) - 1);
    p.method = methods::find(chance.of(ids));
    p.record.method = p.method->id;
    p.stages = chance.of(stages);
    for (const TimerSpec& t : p.method->timers)
      if (chance.below(2) == 0) {
        p.record.fields.set(t.stated_path, reading_of(parse_quantity(std::to_string(1 + chance.below(30)) + " h", Dimension::time).value()));
        if (chance.below(2) == 0) p.timer = t.name, p.timer_ends = days_after(in.from, int(chance.below(3))) + "T1" + std::to_string(chance.below(10)) + ":00";
      }
    p.on_rig = p.method->id == "fatigue-constant" && chance.below(3) == 0;
    if (chance.below(5) == 0) in.pins.push_back({p.specimen, chance.below(2) == 0 ? "run" : "after", days_after(in.from, int(chance.below(4))) + "T" + std::to_string(10 + chance.below(6)) + ":30"});
    in.pieces.push_back(std::move(p));
  }
  for (const char* kind : {"frame", "load_cell", "pendulum", "tester"}) {
    if (chance.below(2) == 0) continue;
    kit::Item i;
    i.kind = kind;
    i.fields.set(i.path("id"), std::string(kind) + " 1");
    if (chance.below(2) == 0) i.fields.set(i.path("due"), days_after(in.from, int(chance.below(6)) - 2));
    if (chance.below(8) == 0) i.fields.set(i.path("held"), std::string("cracked"));
    in.items.push_back(i);
  }
  return in;
}

TEST(KeptNumbersVariedPlan, SixtyWeeks) {
  std::ostringstream out;
  for (uint64_t seed = 1; seed <= 60; ++seed) {
    Chance chance(seed);
    const Agenda a = plan(week(chance));
    for (const std::string& fault : day::faults(a.problem, a.layout)) ADD_FAILURE() << "week " << seed << ": " << fault;
    out << "== " << seed << "\n" << to_text(a);
    for (const day::Bar& b : a.layout.bars) {
      out << "  " << a.problem.tasks[b.task].title << " " << a.when(b.start) << " to " << a.when(b.end) << " late " << b.late;
      for (size_t r : b.resources) out << " " << a.problem.resources[r].name;
      out << "\n";
    }
    for (const day::Unmet& u : a.layout.unmet) out << "  not " << a.problem.tasks[u.task].title << ": " << u.why << "\n";
  }
  hold_kept("varied-plan", out.str());
}

// Every bar of a sound layout pushed to each edge that it must not cross, and one minute to either side of it.
TEST(KeptNumbersVariedPlan, BarsPushedToTheirEdges) {
  std::ostringstream out;
  for (uint64_t seed = 1; seed <= 14; ++seed) {
    Chance chance(seed);
    const Agenda a = plan(week(chance));
    const day::Problem& p = a.problem;
    out << "== " << seed << "\n";
    const auto say = [&](const std::string& what, const day::Layout& l) {
      out << what << ":";
      for (const std::string& f : day::faults(p, l)) out << " " << f << ";";
      out << "\n";
    };
    for (size_t i = 0; i < a.layout.bars.size(); ++i) {
      const day::Bar& b = a.layout.bars[i];
      const day::Task& t = p.tasks[b.task];
      std::set<int> edges = {0, t.earliest, p.horizon - t.minutes};
      for (size_t r : b.resources) {
        if (p.resources[r].ends < p.horizon) edges.insert(p.resources[r].ends - t.minutes);
        for (size_t k = 0; k < std::min<size_t>(2, p.resources[r].closed.size()); ++k) edges.insert({p.resources[r].closed[k].from - t.minutes, p.resources[r].closed[k].to});
      }
      if (b.person)
        for (size_t k = 0; k < std::min<size_t>(2, p.resources[*b.person].closed.size()); ++k) edges.insert({p.resources[*b.person].closed[k].from - t.attended, p.resources[*b.person].closed[k].to});
      for (const day::Bar& o : a.layout.bars)
        if (&o != &b && edges.size() < 16) edges.insert({o.start - t.minutes, o.end});
      for (int edge : edges)
        for (int start : {edge - 1, edge, edge + 1}) {
          day::Layout l = a.layout;
          l.bars[i].start = start;
          l.bars[i].end = start + t.minutes;
          say(t.title + " at " + std::to_string(start), l);
        }
      day::Layout l = a.layout;
      ++l.bars[i].end;
      say(t.title + " a minute longer", l);
      l = a.layout;
      if (l.bars[i].person) l.bars[i].person.reset(), say(t.title + " by nobody", l);
      l = a.layout;
      l.bars[i].resources.clear();
      say(t.title + " on nothing", l);
      l.bars[i].resources.assign(t.needs.size(), 0);
      say(t.title + " on the first there is", l);
      l.bars.push_back(a.layout.bars[i]);
      say(t.title + " twice", l);
    }
  }
  hold_kept("varied-bars", out.str());
}

TEST(KeptNumbersVariedWords, NumbersInEveryUnit) {
  std::ostringstream out;
  Chance chance(5);
  for (const Unit& unit : all_units()) {
    out << unit.symbol << " " << internal_symbol(unit.dimension) << ":";
    for (int i = 0; i < 12; ++i) {
      const double v = (chance.below(4) == 0 ? -1 : 1) * std::pow(10, -7 + 14 * chance.share());
      const int figures = 1 + int(chance.below(6));
      const std::string typed = significant(v, figures) + " " + std::string(unit.symbol);
      const auto q = parse_quantity(typed, unit.dimension);
      out << " | " << typed << " = ";
      if (q) out << plain_number(q->value, 6) << " ± " << plain_number(q->resolution, 3) << " " << format_value(q->value, unit.dimension, UnitSet::us, figures) << " " << typed_value(q->value, unit.dimension, UnitSet::si, figures);
      else out << q.error().message;
      const Printed p = printed(v, unit.dimension, RoundingClass(chance.below(5)), RoundingSchool(chance.below(3)), UnitSet(chance.below(3)));
      out << " " << p.text() << " " << plain_number(round_to_step(v, 0.05 * std::pow(10, double(chance.below(4))), chance.below(2) == 0), 7);
    }
    out << "\n";
  }
  hold_kept("varied-words", out.str());
}

// Every unit into the next of its dimension, with the words of how.
TEST(KeptNumbersVariedWords, UnitsIntoOneAnother) {
  std::ostringstream out;
  const std::vector<slate::Calculator>& all = slate::calculators();
  const auto convert = std::find_if(all.begin(), all.end(), [](const slate::Calculator& c) { return c.id == "convert"; });
  ASSERT_NE(convert, all.end());
  std::map<Dimension, const Unit*> last;
  for (const Unit& unit : all_units()) {
    if (const Unit* other = last[unit.dimension])
      for (const auto& [from, to] : {std::pair{other, &unit}, {&unit, other}}) {
        out << from->symbol << " to " << to->symbol << ":";
        const auto lines = slate::work(*convert, {{"text", "7.3 " + std::string(from->symbol)}, {"unit", std::string(to->symbol)}});
        if (!lines) out << " no: " << lines.error().message;
        if (lines)
          for (const slate::Line& l : *lines) out << " | " << l.step.expression << " | " << l.step.with << " | " << slate::value_words(l, UnitSet::si);
        out << "\n";
      }
    last[unit.dimension] = &unit;
  }
  hold_kept("varied-conversions", out.str());
}

// What is typed into one line: names, numbers with and without signs and units, keys, words, in any order.
TEST(KeptNumbersVariedWords, LinesOfTheSlate) {
  std::vector<std::string> words = {"-2", "+3", "-.5", ".5", "-", "+", "-x", "5", "2 5/8", "5/8", "1/", "/8", "30 mm", "2 in", "12kN", "kN", "mm", "to MPa", "in", "w", "d=", "d 3", "flat", "round", "-5 °C", "1e3", "1e", "350 MPa", "x"};
  for (const slate::Calculator& c : slate::calculators()) {
    for (const std::string& n : c.names) words.push_back(n);
    for (const slate::Input& i : c.inputs) words.push_back(i.key);
  }
  std::ostringstream out;
  for (uint64_t seed = 1; seed <= 600; ++seed) {
    Chance chance(seed + 60);
    const slate::Calculator& c = chance.of(slate::calculators());
    std::string line = chance.below(3) == 0 ? chance.of(words) : chance.below(2) == 0 ? c.example : c.names.front();
    for (size_t i = chance.below(5); i > 0; --i) line += (chance.below(5) == 0 ? "; " : " ") + chance.of(words);
    out << "“" << line << "”";
    if (const auto read = slate::read_line(line)) {
      out << " " << read->calculator->id;
      for (const auto& [key, typed] : read->inputs) out << " | " << key << " " << typed;
    }
    out << "\n";
  }
  hold_kept("varied-lines-typed", out.str());
}

// Every calculator with its example stretched and shrunk.
TEST(KeptNumbersVariedWords, EveryCalculatorStretched) {
  std::ostringstream out;
  Chance chance(9);
  for (const slate::Calculator& c : slate::calculators()) {
    const auto line = slate::read_line(c.example);
    ASSERT_TRUE(line) << c.example;
    for (int i = 0; i < 12; ++i) {
      auto inputs = line->inputs;
      for (auto& [key, typed] : inputs) {
        char* end = nullptr;
        const double v = c_strtod(typed.c_str(), &end);
        if (end != typed.c_str() && chance.below(2) == 0) typed = plain_number(v * std::pow(10, -1 + 2 * chance.share()), 3) + std::string(end);
      }
      const auto lines = slate::work(c, inputs);
      out << c.id << ":";
      for (const auto& [key, typed] : inputs) out << " " << key << " " << typed;
      if (!lines) {
        out << " no: " << lines.error().message << "\n";
        continue;
      }
      for (const slate::Line& l : *lines) out << " | " << l.name << " " << slate::value_words(l, UnitSet::si);
      out << "\n";
    }
  }
  // One input nothing, below nothing, gone, or as large as another.
  for (const slate::Calculator& c : slate::calculators()) {
    const auto line = slate::read_line(c.example);
    const auto say = [&](const std::string& what, const std::map<std::string, std::string>& inputs) {
      const auto lines = slate::work(c, inputs);
      out << c.id << " " << what << ":";
      if (!lines) out << " no: " << lines.error().message;
      if (lines)
        for (const slate::Line& l : *lines) out << " | " << l.name << " " << slate::value_words(l, UnitSet::si);
      out << "\n";
    };
    for (const auto& [key, typed] : line->inputs) {
      auto inputs = line->inputs;
      inputs.erase(key);
      say("without " + key, inputs);
      char* end = nullptr;
      const double v = c_strtod(typed.c_str(), &end);
      if (end == typed.c_str()) continue;
      for (const std::string& other : {"0" + std::string(end), plain_number(-v, 6) + std::string(end), std::string("1e9") + end}) {
        inputs[key] = other;
        say(key + " " + other, inputs);
      }
      for (const auto& [second, same] : line->inputs) {
        if (second == key) continue;
        inputs = line->inputs;
        inputs[key] = same;
        say(key + " as " + second, inputs);
      }
    }
    for (const slate::Input& i : c.inputs)
      for (const auto& [second, same] : line->inputs) {
        if (line->inputs.count(i.key) != 0 || !i.choices.empty()) continue;
        auto inputs = line->inputs;  // an input that the example does without
        inputs[i.key] = same;
        say(i.key + " as " + second, inputs);
        inputs[i.key] = i.hint;
        say(i.key + " " + i.hint, inputs);
      }
    for (const slate::Input& i : c.inputs)
      for (const std::string& choice : i.choices) {
        auto inputs = line->inputs;
        inputs[i.key] = choice;
        say(i.key + " " + choice, inputs);
      }
  }
  hold_kept("varied-slate", out.str());
}

}  // namespace
}  // namespace fortitor::agenda::varied_agenda_test
