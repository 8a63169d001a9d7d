// Every field, channel, column and row of a sound record taken away, made nothing, turned round; every small number of
// rows and samples: what is then said is kept as text, so that no guard against what is missing goes unseen.
#include <algorithm>
#include <cmath>
#include <functional>
#include <set>
#include <sstream>

#include "core/quantity/plain.h"
#include "tests/core/methods/kept_text.h"
#include "tests/core/methods/made.h"
#include "tests/core/methods/short_text.h"

namespace fortitor::varied_fields_test {
namespace {

class KeptNumbersVariedParts : public testing::TestWithParam<const Method*> {
 protected:
  void SetUp() override {
    const Method& m = *GetParam();
    const standin::Bench& bench = *standin::find_bench(m.standin);
    whole_ = made_short(m, bench.pieces.empty() ? "" : bench.pieces.back().value, 21);
  }
  void say(const std::string& what, const TestRecord& r) {
    out_ << "== " << what << "\n" << short_text(*GetParam(), r, methods::evaluate(r, {.uncertainty = false}));
  }
  void say(const std::string& what, const std::function<void(TestRecord&)>& change) {
    TestRecord r = whole_;
    change(r);
    say(what, r);
  }
  // What stands in a round ratio to another entry of that dimension: half the thickness, a tenth of the capacity.
  std::vector<double> ratios_to(Dimension d) const {
    std::vector<double> out;
    std::set<double> entries;
    for (const auto& [path, value] : whole_.fields.all()) {
      const FieldSpec* f = GetParam()->field(path);
      const auto* one = std::get_if<Reading>(&value);
      if (f != nullptr && f->dimension == d && d != Dimension::none && one != nullptr && one->value && *one->value > 0) entries.insert(*one->value);
    }
    for (double e : entries)
      for (double ratio : {0.05, 0.1, 0.2, 0.25, 0.5, 0.8, 1.0, 1.25, 1.5, 2.0, 3.0, 5.0, 10.0}) out.push_back(ratio * e);
    return out;
  }
  TestRecord whole_;
  std::ostringstream out_;
};

// Some samples from end to end; one alone from the middle.
void thin(Samples& s, size_t wanted) {
  const size_t n = s.size();
  for (Channel& c : s.channels) {
    std::vector<double> few;
    for (size_t i = 0; i < wanted; ++i) few.push_back(c.values[wanted == 1 ? n / 2 : i * (n - 1) / (wanted - 1)]);
    c.values = few;
  }
}

TEST_P(KeptNumbersVariedParts, OfFields) {
  for (const auto& [path, value] : whole_.fields.all()) {
    if (path.starts_with("equipment.standin") || path == "specimen.id") continue;
    say("without " + path, [&](TestRecord& r) { r.fields.erase(path); });
    for (double factor : {0.0, -1.0}) {
      const std::string what = path + (factor == 0 ? " nought" : " turned round");
      if (const auto* one = std::get_if<Reading>(&value)) say(what, [&](TestRecord& r) { r.fields.set(path, times(*one, factor)); });
      if (const auto* number = std::get_if<double>(&value)) say(what, [&](TestRecord& r) { r.fields.set(path, *number * factor); });
      if (const auto* list = std::get_if<Readings>(&value)) {
        Readings all;
        for (const Reading& x : *list) all.push_back(times(x, factor));
        say(what, [&](TestRecord& r) { r.fields.set(path, all); });
        if (factor == 0 && !list->empty()) {
          say("one of " + path, [&](TestRecord& r) { r.fields.set(path, Readings{list->front()}); });
          say("missed " + path, [&](TestRecord& r) { r.fields.set(path, Readings(list->size())); });
        }
      }
    }
    if (const auto* flag = std::get_if<bool>(&value)) say("the other " + path, [&](TestRecord& r) { r.fields.set(path, !*flag); });
  }
  for (const FieldSpec& f : GetParam()->fields)
    for (const Choice& c : f.choices)
      if (f.kind == FieldKind::choice && !f.path.starts_with("equipment.standin") && whole_.fields.text(f.path) != c.value)
        say(f.path + " as " + c.value, [&](TestRecord& r) { r.fields.set(f.path, c.value); });
  hold_kept("parts-" + GetParam()->id, out_.str());
}

// Entries are round, and a digit too few or too many in a word of theirs goes unseen: every number off by a little, with
// every piece and every fault.
TEST_P(KeptNumbersVariedParts, AtUnroundValues) {
  constexpr double kOff = 1.00271828;
  const auto unround = [](Fields& fields) {
    const auto all = fields.all();
    for (const auto& [path, value] : all) {
      if (path.starts_with("equipment.standin")) continue;
      if (const auto* one = std::get_if<Reading>(&value)) fields.set(path, times(*one, kOff));
      if (const auto* number = std::get_if<double>(&value); number != nullptr && *number != std::round(*number)) fields.set(path, *number * kOff);
      if (const auto* list = std::get_if<Readings>(&value)) {
        Readings many;
        for (const Reading& x : *list) many.push_back(times(x, kOff + 0.0001 * double(many.size())));
        fields.set(path, many);
      }
    }
  };
  const Method& m = *GetParam();
  const standin::Bench& bench = *standin::find_bench(m.standin);
  const auto say_of = [&](const std::string& piece, const std::string& fault) {
    TestRecord r = made_short(m, piece, 23, fault);
    unround(r.fields);
    for (auto& [id, rows] : r.run.tables)
      for (Row& row : rows) unround(row.cells);
    say(piece + " " + fault, r);
  };
  const std::string first = bench.pieces.empty() ? "" : bench.pieces.front().value;
  if (bench.pieces.empty()) say_of("", "");
  for (const Choice& piece : bench.pieces) say_of(piece.value, "");
  for (const Choice& fault : bench.faults) say_of(first, fault.value);
  // And every entry that a piece of the stand-in does not have, a small one and a large one.
  for (const FieldSpec& f : m.fields) {
    const bool quantity = f.kind == FieldKind::quantity || f.kind == FieldKind::readings;
    if ((!quantity && f.kind != FieldKind::number) || f.path.starts_with("equipment.standin") || whole_.fields.has(f.path)) continue;
    const Unit& unit = bare_unit(f, UnitSet::si);
    for (double v : {0.0123456789, 1.23456789, 33.3456789}) {
      TestRecord r = whole_;
      const Reading typed{"unround", v * unit.factor + unit.offset, 0};
      if (f.kind == FieldKind::number)
        r.fields.set(f.path, v);
      else if (f.kind == FieldKind::readings)
        r.fields.set(f.path, Readings(size_t(std::max(1, f.wanted)), typed));
      else
        r.fields.set(f.path, typed);
      say(f.path + " " + num(v), r);
    }
  }
  hold_kept("unround-" + m.id, out_.str());
}

// Limits are round: every size, time and temperature in turn at every round value, so that each limit is met exactly.
TEST_P(KeptNumbersVariedParts, AtRoundValues) {
  for (const FieldSpec& f : GetParam()->fields) {
    const bool list = f.kind == FieldKind::texts && f.dimension != Dimension::none;
    const bool quantity = f.kind == FieldKind::quantity || f.kind == FieldKind::readings || list;
    if ((!quantity && f.kind != FieldKind::number) || f.path.starts_with("equipment.standin")) continue;
    const Unit& unit = bare_unit(f, UnitSet::si);
    out_ << f.path;
    std::vector<double> values = ratios_to(f.dimension);
    for (double v : {0.01, 0.02, 0.05, 0.1, 0.2, 0.25, 0.3, 0.5, 0.6, 1.0, 2.0, 2.5, 3.0, 4.0, 5.0, 6.0, 8.0, 10.0, 12.0, 15.0, 20.0, 23.0, 24.0, 25.0, 30.0, 40.0, 50.0, 60.0, 80.0, 100.0, 150.0, 200.0, 300.0, 500.0, 1000.0})
      values.push_back(v * unit.factor + unit.offset);
    for (double v : values) {
      Reading typed;
      typed.typed = "round";
      typed.value = v;
      TestRecord r = whole_;
      if (list)
        r.fields.set(f.path, Readings{typed, times(typed, 1.7)});
      else if (f.kind == FieldKind::readings)
        r.fields.set(f.path, Readings(size_t(std::max(1, f.wanted)), typed));
      else if (f.kind == FieldKind::quantity)
        r.fields.set(f.path, typed);
      else
        r.fields.set(f.path, (v - unit.offset) / unit.factor);
      out_ << " " << shortest_text(methods::evaluate(r, {.uncertainty = false}));
    }
    out_ << "\n";
  }
  hold_kept("round-" + GetParam()->id, out_.str());
}

// The same of the readings of every column, all rows at once and the second alone.
TEST_P(KeptNumbersVariedParts, AtRoundValuesOfRows) {
  for (const auto& [id, all] : whole_.run.tables) {
    const TableSpec& table = *GetParam()->table(id);
    std::vector<FieldSpec> columns = table.columns;
    if (table.control) columns.push_back(*table.control);
    for (const FieldSpec& f : columns) {
      if (f.kind != FieldKind::quantity || all.size() < 2) continue;
      const Unit& unit = bare_unit(f, UnitSet::si);
      std::vector<double> values = ratios_to(f.dimension);
      for (double v : {0.0, 0.1, 0.25, 0.5, 1.0, 2.0, 3.0, 5.0, 10.0, 20.0, 25.0, 50.0, 100.0, 200.0, 500.0, 1000.0}) values.push_back(v * unit.factor + unit.offset);
      out_ << id << " " << f.path;
      for (double v : values)
        for (bool alone : {false, true}) {
          TestRecord r = whole_;
          Rows& rows = r.run.tables[id];
          for (size_t i = 0; i < rows.size(); ++i)
            if (!alone || i == 1) rows[i].cells.set(f.path, Reading{"round", v, 0.01 * unit.factor});
          out_ << " " << shortest_text(methods::evaluate(r, {.uncertainty = false}));
        }
      out_ << "\n";
    }
  }
  hold_kept("round-rows-" + GetParam()->id, out_.str());
}

TEST_P(KeptNumbersVariedParts, OfRuns) {
  for (size_t s = 0; s < whole_.run.segments.size(); ++s) {
    const SamplesPtr samples = whole_.run.segments[s].samples;
    if (!samples) continue;
    const auto with = [&](const std::string& what, const std::function<void(Samples&)>& change) {
      Samples changed = *samples;
      change(changed);
      say(std::to_string(s) + ": " + what, [&](TestRecord& r) { r.run.segments[s].samples = std::make_shared<Samples>(std::move(changed)); });
    };
    const size_t n = samples->size();
    for (size_t c = 0; c < samples->channels.size(); ++c) {
      const std::string& name = samples->channels[c].name;
      const auto each = [&](const std::string& what, const std::function<double(double, size_t)>& f) {
        with(name + " " + what, [&](Samples& x) {
          for (size_t i = 0; i < n; ++i) x.channels[c].values[i] = f(x.channels[c].values[i], i);
        });
      };
      with("without " + name, [&](Samples& x) { x.channels.erase(x.channels.begin() + long(c)); });
      each("missing", [](double, size_t) { return NAN; });
      each("nought", [](double, size_t) { return 0.0; });
      each("held", [&](double, size_t) { return samples->channels[c].values[n / 2]; });
      each("turned round", [](double v, size_t) { return -v; });
      each("gone by halves", [&](double v, size_t i) { return i < n / 2 ? v : NAN; });
      each("every third missing", [](double v, size_t i) { return i % 3 == 0 ? NAN : v; });
    }
    for (size_t wanted = 1; wanted <= 100 && wanted < n; wanted += wanted < 40 ? 1 : 10) {
      with("thinned to " + std::to_string(wanted), [&](Samples& x) {
        thin(x, wanted);
      });
      with("the first " + std::to_string(wanted), [&](Samples& x) {
        for (Channel& channel : x.channels) channel.values.resize(wanted);
      });
    }
    for (size_t wanted : {1u, 2u, 3u, 4u, 5u, 12u, 50u})
      for (const char* kept : {"strain", "extension", "crosshead", "displacement", ""}) {
        if (wanted >= n) break;
        with("time, force and " + std::string(kept) + " thinned to " + std::to_string(wanted), [&](Samples& x) {
          std::erase_if(x.channels, [&](const Channel& c) { return c.name != "time" && c.name != "force" && c.name != kept; });
          thin(x, wanted);
        });
      }
    say("without segment " + std::to_string(s), [&](TestRecord& r) { r.run.segments.erase(r.run.segments.begin() + long(s)); });
  }
  hold_kept("runs-" + GetParam()->id, out_.str());
}

TEST_P(KeptNumbersVariedParts, OfRows) {
  for (const auto& [id, all] : whole_.run.tables) {
    const auto with = [&](const std::string& what, const std::function<void(Rows&)>& change) {
      say(id + " " + what, [&, table = id](TestRecord& r) { change(r.run.tables[table]); });
    };
    for (size_t n = 12; n < std::min<size_t>(all.size(), 60); ++n) with("with " + std::to_string(n), [&](Rows& rows) { rows.resize(n); });
    for (size_t n = 0; n < std::min<size_t>(all.size(), 12); ++n) {
      with("with " + std::to_string(n), [&](Rows& rows) { rows.resize(n); });
      with("doubting " + std::to_string(n), [&](Rows& rows) { rows[n].state = Row::State::doubtful; });
      with("setting aside " + std::to_string(n), [&](Rows& rows) { rows[n].state = Row::State::set_aside; });
      with("twice " + std::to_string(n), [&](Rows& rows) { rows.insert(rows.begin() + long(n), rows[n]); });
      const Fields cells = all[n].cells;
      for (const auto& [path, value] : cells.all()) {
        with("without " + path + " " + std::to_string(n), [&](Rows& rows) { rows[n].cells.erase(path); });
        if (const auto* one = std::get_if<Reading>(&value))
          for (double factor : {0.0, -1.0, 1.03})
            with(path + " " + std::to_string(n) + " times " + plain::fixed(factor, 6), [&](Rows& rows) { rows[n].cells.set(path, times(*one, factor)); });
        if (const auto* flag = std::get_if<bool>(&value)) with("other " + path + " " + std::to_string(n), [&](Rows& rows) { rows[n].cells.set(path, !*flag); });
      }
    }
    const Fields first = all.empty() ? Fields() : all.front().cells;
    for (const auto& [path, value] : first.all()) {
      with("without any " + path, [&](Rows& rows) {
        for (Row& row : rows) row.cells.erase(path);
      });
      with("all the same " + path, [&](Rows& rows) {
        for (Row& row : rows) row.cells.set(path, value);
      });
    }
    with("all aside", [](Rows& rows) {
      for (Row& row : rows) row.state = Row::State::set_aside;
    });
  }
  hold_kept("rows-" + GetParam()->id, out_.str());
}

INSTANTIATE_TEST_SUITE_P(OfEveryMethod, KeptNumbersVariedParts, testing::ValuesIn(methods::all().begin(), methods::all().end()), method_test_name);

}  // namespace
}  // namespace fortitor::varied_fields_test
