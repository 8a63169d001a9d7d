#include "core/methods/support/recording.h"

#include <algorithm>
#include <cmath>

#include "core/methods/support/fields.h"
#include "core/methods/support/ledger.h"

namespace fortitor {
namespace {

// One number throughout; nothing where fewer than `least` are there.
std::optional<double> one_number(const std::vector<double>& v, size_t least) {
  std::optional<double> first;
  size_t n = 0;
  for (double x : v) {
    if (!std::isfinite(x)) continue;
    if (!first) first = x;
    if (x != *first) return std::nullopt;
    ++n;
  }
  return n >= least ? first : std::nullopt;
}

constexpr size_t kRows = 3, kAlive = 5;

// A column of force that was empty left every result out and no finding said why; one of noughts made R_m 0 MPa.
void judge_samples(Evaluation& e, const Segment& segment, const Schema& schema, std::string& dead) {
  const SegmentSpec* named = nullptr;
  for (const SegmentSpec& s : schema.segments)
    if (s.id == segment.name) named = &s;
  const auto& channels = named != nullptr ? named->channels : schema.channels;
  const Samples& samples = *segment.samples;
  std::vector<const Channel*> needed;
  const ChannelSpec* load = nullptr;
  std::string names;
  for (const ChannelSpec& c : channels) {
    const Channel* column = samples.find(c.name);
    const bool carries = c.required && (c.dimension == Dimension::force || c.dimension == Dimension::torque);
    if (!carries && !(c.dimension == Dimension::time && column != nullptr)) continue;
    if (carries) load = &c;
    needed.push_back(column);
    names += (names.empty() ? "" : " and ") + c.label;
  }
  if (load == nullptr) return;
  const bool whole = std::find(needed.begin(), needed.end(), nullptr) == needed.end();
  size_t usable = 0;
  for (size_t i = 0; whole && i < samples.size() && usable < kRows; ++i)
    usable += std::all_of(needed.begin(), needed.end(), [i](const Channel* c) { return std::isfinite(c->values[i]); });
  const std::string rows = std::to_string(samples.size()) + " rows",
                    of = named != nullptr ? named->label + ": of " : "Of ";
  if (usable < kRows) {
    ledger::raise(e, "samples-unusable", Severity::check,
                  of + rows +
                      (usable == 0   ? " none holds"
                       : usable == 1 ? " one holds"
                                     : " two hold") +
                      " a number for " + names +
                      ", and three are wanted: nothing is computed of them. Look at the columns of the file, and bring "
                      "it in again.",
                  {{"rows", double(samples.size())}, {"usable", double(usable)}});
    return;
  }
  if (const auto still = one_number(samples.find(load->name)->values, kAlive)) {
    ledger::raise(e, "samples-unusable", Severity::check,
                  of + rows + " all read a " + load->label + " of " + ledger::si(*still, load->dimension, 3) +
                      ": nothing was loaded, or the channel was not connected. What is computed of them says nothing.",
                  {{"rows", double(samples.size())}, {"value", *still}});
    return;
  }
  for (const ChannelSpec& c : channels) {
    const Channel* column = samples.find(c.name);
    if (column == nullptr || &c == load || c.dimension == Dimension::time) continue;
    if (const auto still = one_number(column->values, kAlive))
      dead += (dead.empty() ? "" : ", ") + c.label + " at " + ledger::si(*still, c.dimension, 3);
  }
}

void judge_stops(const Rows& rows, const TableSpec& table, std::string& dead) {
  auto column = [&](const std::string& name) {
    std::vector<double> v;
    for (const Row& row : rows)
      if (row.used()) v.push_back(row.number(name).value_or(NAN));
    return v;
  };
  auto look = [&](const FieldSpec& f) {
    const auto still = one_number(column(f.path), kAlive);
    if (still) dead += (dead.empty() ? "" : ", ") + f.label + " at " + ledger::si(*still, f.dimension, 3);
    return still.has_value();
  };
  if (look(*table.control)) return;  // nothing else can be expected to move
  for (const FieldSpec& f : table.columns)
    if (f.kind == FieldKind::quantity) look(f);
}

}  // namespace

void recording_findings(Evaluation& e, const TestRecord& record, const Schema& schema) {
  std::string dead;
  for (const Segment& segment : record.run.segments)
    if (segment.samples && !record.run.open && !e.finding("samples-unusable")) judge_samples(e, segment, schema, dead);
  for (const TableSpec& table : schema.tables)
    if (table.stepped()) judge_stops(record.run.rows(table.id), table, dead);
  if (!dead.empty())
    ledger::raise(e, "channel-dead", Severity::check,
                  "The same number throughout: " + dead +
                      ". A gauge, its wire or the channel is dead, or one reading was taken over again and again; what "
                      "rests on it says nothing.");
}

namespace {

constexpr const char* kSpikes = "settings.spikes";

}  // namespace

TestRecord without_spikes(const TestRecord& record, std::vector<Spike>& found) {
  TestRecord out = record;
  const bool keep = record.fields.text(kSpikes) == "keep";
  for (Segment& s : out.run.segments) {
    if (!s.samples) continue;
    const std::vector<Spike> here = spikes_of(*s.samples);
    if (!keep) s.samples = without_spikes(s.samples, here);
    found.insert(found.end(), here.begin(), here.end());
  }
  return out;
}

void spike_findings(Evaluation& e, const TestRecord& record, const Schema& schema, const std::vector<Spike>& found) {
  if (found.empty()) return;
  constexpr size_t kNamed = 3;
  const bool keep = record.fields.text(kSpikes) == "keep";
  std::string list;
  for (size_t i = 0; i < std::min(found.size(), kNamed); ++i) {
    const Spike& s = found[i];
    const ChannelSpec* c = schema.channel(s.channel);
    const Dimension d = c == nullptr ? Dimension::none : c->dimension;
    list += (list.empty() ? "" : "; ") + std::string("at ") + ledger::si(s.at, Dimension::time, 4) + " the " +
            (c == nullptr ? s.channel : c->label) + " reads " + ledger::si(s.read, d, 4) +
            " where its neighbours make " + ledger::si(s.beside, d, 4);
  }
  if (found.size() > kNamed) list += "; and " + std::to_string(found.size() - kNamed) + " more";
  const std::string message =
      "Readings stand alone, far off a course that goes on behind them as before: " + list + ". " +
      (keep ? "They are kept, as chosen." : "They are kept out: the line between their neighbours is used.");
  for (Finding& f : e.findings)
    if (f.code == "channel-jump") {  // one answer for all that jumps
      f.message = message + " " + f.message;
      return;
    }
  const Spike& first = found.front();
  std::vector<Remedy> remedies;
  if (keep)
    remedies = {{"out", "Keep them out", {{kSpikes, "out"}}}, {"accept", "They are real, with a reason", {}, true}};
  else
    remedies = {{"keep", "Keep them in", {{kSpikes, "keep"}}}, {"accept", "Rightly kept out, with a reason", {}, true}};
  ledger::raise(e, "channel-jump", Severity::check, message,
                {{"time", first.at}, {"read", first.read}, {"beside", first.beside}}, remedies);
}

FieldSpec spike_choice() {
  return fields::choice(kSpikes, Stage::evaluate, {"out", "keep"}, true);
}

}  // namespace fortitor
